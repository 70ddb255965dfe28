"""What reference pictures hold: from a stored scene exactly, from any other picture by inversion (analysis by synthesis)."""

"""Live pictures of boards: processes forked from one that has everything loaded, each following one board."""

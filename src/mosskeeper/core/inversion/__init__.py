"""Inversion: analysis by synthesis of the scene that explains a picture."""

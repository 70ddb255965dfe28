"""Mending: inpainting, outpainting and image-to-image by editing the scene that explains a picture, and drawing it anew."""

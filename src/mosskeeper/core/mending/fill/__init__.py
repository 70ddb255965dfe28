"""Pixels that nothing explains: patch-based inpainting, extension (outpainting), joining along the least difference."""

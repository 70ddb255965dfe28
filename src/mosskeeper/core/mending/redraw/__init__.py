"""Taking from the drawing of a changed scene what is asked for: compositing, colour transfer, faces, denoise strength."""

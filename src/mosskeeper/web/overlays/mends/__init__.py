"""The mends overlay: what is chosen on the picture, what should stand there, and the stack of what was mended."""

from mosskeeper.web.overlays.overlay import Overlay

OVERLAY = Overlay("mends", 4, lambda _, mends: mends)

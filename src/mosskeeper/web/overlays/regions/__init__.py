"""The regions overlay: who stands where, drawn on the picture, worded and ordered, and told before anything runs."""

from mosskeeper.web.overlays.overlay import Overlay

OVERLAY = Overlay("regions", 3, lambda recipe, _: len(recipe.regions))

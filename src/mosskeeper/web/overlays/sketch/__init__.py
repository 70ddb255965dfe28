"""The sketch overlay: a board roughed out on the picture, followed live."""

from mosskeeper.web.overlays.overlay import Overlay

OVERLAY = Overlay("sketch", 2, lambda recipe, _: sum(cue.role == "sketch" for cue in recipe.cues))

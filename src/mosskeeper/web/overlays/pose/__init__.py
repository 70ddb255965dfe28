"""The pose overlay: a skeleton on the picture, its hands, and the book of poses."""

from mosskeeper.web.overlays.overlay import Overlay

OVERLAY = Overlay("pose", 1, lambda recipe, _: sum(cue.role == "pose" for cue in recipe.cues))

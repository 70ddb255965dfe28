"""All objects by name."""

from __future__ import annotations

from dataclasses import replace

from mosskeeper.core.illustrator.objects import beasts, birds, furniture, outdoors
from mosskeeper.core.illustrator.objects.drawn_object import DrawnObject

_AT_HOME = ("dog", "mouse", "rabbit", "pumpkin", "bicycle")
_OUTSIDE = {name: replace(one, outdoors=name not in _AT_HOME) for name, one in (beasts.OBJECTS | outdoors.OBJECTS).items()}
OBJECTS: dict[str, DrawnObject] = {**_OUTSIDE, **birds.OBJECTS, **furniture.OBJECTS}

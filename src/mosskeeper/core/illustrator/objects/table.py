"""All objects by name."""

from __future__ import annotations

from mosskeeper.core.illustrator.objects import beasts, birds, furniture, outdoors
from mosskeeper.core.illustrator.objects.drawn_object import DrawnObject

OBJECTS: dict[str, DrawnObject] = {**beasts.OBJECTS, **birds.OBJECTS, **furniture.OBJECTS, **outdoors.OBJECTS}

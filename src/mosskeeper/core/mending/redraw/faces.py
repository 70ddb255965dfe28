"""Putting an anchor's face on somebody in a picture.

Geometry, skin, eyes, freckles, marks and age are the anchor's; head, expression, light and hat stay.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import SKIN_PARTS, Part, Person
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.illustrator.vocabulary.people import CHILDREN
from mosskeeper.core.inversion.invert import Inverted
from mosskeeper.core.mending.masks import F32, Mask, dilated
from mosskeeper.core.mending.redraw.cut_out import part_of_picture
from mosskeeper.core.mending.redraw.foreign import changed_foreign
from mosskeeper.core.mending.redraw.mend import Mended, Opening, taken
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.reading.classes import PARTS
from mosskeeper.core.traits import OF_PERSON

U8 = NDArray[np.uint8]
_OF_FACE = tuple(trait.field for trait in OF_PERSON if trait.of_face)
_OF_HAIR = ("hair", "hair_colour", "hair_size")
Change = Callable[[Person], Person]  # somebody with another's face
_HANDS_KEPT = "the hands keep the skin that they have: they are not read surely"
_LIKE = 17.0  # Lab units from the face's skin within which skin is carried along
_ABOUT, _ABOUT_HAIR = 5, 25  # px of the mask about what changes: hair throws a shadow
_LIGHTER = (0.25, 4.0)
_WHOLLY = 0.6  # of a place that is redrawn, from which it shows the new face alone
_NEAR_SKIN = 0.3  # of a head's radius, by which skin may lie elsewhere than it is drawn
_HANDS_TONED = 0.4  # of the hands as they are drawn, which have to be found in the picture, or it is told
_SEEN = 0.02  # of a change, from which the picture is another there


def _lighter(picture: U8, face: Mask, made: Mended, n: int) -> NDArray[np.float64]:
    """(3,): the factor from the picture's skin to that of the face that was put there, within what light can do."""
    put = (made.after.figures == n + 1) & (made.after.labels == Part.FACE) & (made.redrawn > _WHOLLY)
    if not face.any() or not put.any():
        return np.ones(3)
    lighter = (np.median(made.picture[put], 0) + 4) / (np.median(picture[face], 0) + 4)
    return np.asarray(np.clip(lighter, *_LIGHTER))


def face_of(anchor: Person, hair: bool = False) -> Change:
    """Gives somebody the anchor's face, and its hair where asked; children keep their bodies."""

    def change(person: Person) -> Person:
        changes = {name: getattr(anchor, name) for name in _OF_FACE}
        if hair:
            changes |= {name: getattr(anchor, name) for name in _OF_HAIR}
        elif anchor.facial_hair != "none":  # a beard has the colour of its hair
            changes["hair_colour"] = anchor.hair_colour
        if (person.subject in CHILDREN) == (anchor.subject in CHILDREN):
            changes["subject"] = anchor.subject
        return replace(person, **changes)

    return change


def _changed(scene: Scene, n: int, change: Change) -> tuple[Scene, bool]:
    """The scene with somebody else's face on figure `n`, and whether the hair is another."""
    before = scene.description.figures[n]
    after = change(before)
    return scene.with_person(n, after), any(getattr(before, name) != getattr(after, name) for name in _OF_HAIR)


def put_face(picture: U8, explained: LayeredScenes, n: int, change: Change) -> Mended:
    """A face put on figure `n` of an own take (H, W, 3): the whole figure's skin goes with it."""
    changed = [_changed(one.scene, n, change) for one in explained.layers]
    scenes, hair = [scene for scene, _ in changed], any(other for _, other in changed)
    before, after = explained.drawn(), LayeredScenes.of(scenes, explained.shares()).drawn()
    parts = [*SKIN_PARTS, Part.FACIAL_HAIR, Part.ACCESSORY, *((Part.HAIR,) if hair else ())]
    there = dilated(
        np.any([(d.figures == n + 1) & np.isin(d.labels, parts) for d in (before, after)], axis=0), _ABOUT_HAIR if hair else _ABOUT
    )
    return taken(picture, explained, before, after, scenes, there, (), Opening(2.0))


def put_face_foreign(picture: U8, inverted: Inverted, n: int, change: Change) -> Mended:
    """On a picture that was not drawn here (H, W, 3): the face is drawn on the pose that was read, hair that is another takes the
    place of the old one, and its skin is carried to hands and neck. Hats stay as the picture has them.
    """
    changed, index = inverted.scene.with_person(n, change(inverted.scene.description.figures[n])), PARTS.index
    before = draw_scene(inverted.scene, with_albedo=True)
    skin = part_of_picture(picture, inverted, before, np.array([index("face"), index("neck"), index("bare limbs")]), n)
    drawn = (before.figures == n + 1) & np.isin(before.labels, SKIN_PARTS)
    skin &= np.isin(before.figures, (0, n + 1)) & dilated(drawn, 2 * round(_NEAR_SKIN * before.shown[n].head[2]) + 1)
    hatted = inverted.scene.description.figures[n].headwear != "none"
    hat = dilated((inverted.parts == index("headwear")) & hatted, 3)
    made = changed_foreign(picture, inverted, before, changed, ~hat, (), Opening(1.0))
    toned, soft = _in_tone(picture, skin, skin & (inverted.parts == index("face")), made, n)
    hands = (before.figures == n + 1) & (before.labels == Part.HAND)
    told = (_HANDS_KEPT,) if hands.any() and (soft[hands] > 0.5).mean() < _HANDS_TONED else ()
    rest = soft * (1 - made.redrawn)
    out = made.picture + (toned.astype(np.float32) - picture) * rest[..., None]
    redrawn = np.maximum(made.redrawn, rest)
    opened = redrawn > _SEEN
    image = np.where(opened[..., None], np.clip(out + 0.5, 0, 255).astype(np.uint8), picture)
    return replace(made, picture=image, mask=opened, redrawn=redrawn, says=told)


def _in_tone(picture: U8, skin: Mask, face: Mask, made: Mended, n: int) -> tuple[U8, F32]:
    """The picture with its figure's skin in the tone of the face that was put on, in the picture's own light; and (H, W) 0…1 where that is."""
    base, lab = picture.astype(np.float32), rgb_to_lab(picture.astype(np.float32) / np.float32(255))
    now = np.median(lab[face], axis=0) if face.any() else np.zeros(3, np.float32)
    like = (skin & (np.linalg.norm((lab - now) * (0.25, 1, 1), axis=2) < _LIKE)).astype(np.uint8)
    closed = cv2.morphologyEx(like, cv2.MORPH_CLOSE, np.ones((5, 5), np.uint8))
    soft = np.asarray(cv2.GaussianBlur(closed.astype(np.float32), (0, 0), 1.2), np.float32)
    ratio = _lighter(picture, face, made, n)
    toned = base + (np.clip(base * ratio, 0, 255) - base) * soft[..., None]
    return np.clip(toned + 0.5, 0, 255).astype(np.uint8), soft

"""Putting an anchor's face on somebody in a picture.

Geometry, skin, eyes, freckles, marks and age are the anchor's; head, expression, light and hat stay.
"""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import SKIN_PARTS, Part, Person
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.illustrator.vocabulary.people import CHILDREN
from mosskeeper.core.inversion.invert import Inverted
from mosskeeper.core.mending.masks import Mask, dilated
from mosskeeper.core.mending.redraw.cut_out import part_of_picture
from mosskeeper.core.mending.redraw.face_matte import face_matte
from mosskeeper.core.mending.redraw.foreign import within
from mosskeeper.core.mending.redraw.light import carried_on
from mosskeeper.core.mending.redraw.mend import Mended, Opening, taken
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.reading.classes import PARTS
from mosskeeper.core.traits import OF_PERSON

U8 = NDArray[np.uint8]
_OF_FACE = tuple(trait.field for trait in OF_PERSON if trait.of_face)
_OF_HAIR = ("hair", "hair_colour")
_SAYS = ("face",)
_LIKE = 17.0  # Lab units from the face's skin within which skin is carried along
_ABOUT, _ABOUT_HAIR = 5, 25  # px of the mask about what changes: hair throws a shadow
_LIGHTER = (0.25, 4.0)
_BRIGHTER = 0.8  # most that the picture's light changes the drawn face, as a logarithm


def _lighter(picture: U8, face: Mask, after: Drawing, n: int) -> NDArray[np.float64]:
    """(3,): the factor from the picture's skin to that of the face as it is drawn there, within what light can do."""
    drawn = (after.figures == n + 1) & np.isin(after.labels, (Part.FACE, Part.NECK))
    if not face.any() or not drawn.any():
        return np.ones(3)
    lighter = (np.median(after.image[drawn], 0) + 4) / (np.median(picture[face], 0) + 4)
    return np.asarray(np.clip(lighter, *_LIGHTER))


def face_on(scene: Scene, n: int, anchor: Person, hair: bool = False) -> Scene:
    """The scene with the anchor's face on figure `n`, and its hair where asked; children keep their bodies."""
    person = scene.description.figures[n]
    changes = {name: getattr(anchor, name) for name in _OF_FACE}
    if hair:
        changes |= {name: getattr(anchor, name) for name in _OF_HAIR}
    elif anchor.facial_hair != "none":  # a beard has the colour of its hair
        changes["hair_colour"] = anchor.hair_colour
    if (person.subject in CHILDREN) == (anchor.subject in CHILDREN):
        changes["subject"] = anchor.subject
    return scene.with_person(n, replace(person, **changes))


def put_face(picture: U8, explained: LayeredScenes, n: int, anchor: Person, hair: bool = False) -> Mended:
    """A face put on figure `n` of an own take (H, W, 3): the whole figure's skin goes with it."""
    scenes = [face_on(one.scene, n, anchor, hair) for one in explained.layers]
    before, after = explained.drawn(), LayeredScenes.of(scenes, explained.shares()).drawn()
    parts = [*SKIN_PARTS, Part.FACIAL_HAIR, Part.ACCESSORY, *((Part.HAIR,) if hair else ())]
    there = dilated(
        np.any([(d.figures == n + 1) & np.isin(d.labels, parts) for d in (before, after)], axis=0), _ABOUT_HAIR if hair else _ABOUT
    )
    return taken(picture, explained, before, after, scenes, there, _SAYS, Opening(2.0))


def put_face_foreign(picture: U8, inverted: Inverted, anchor: Person, hair: bool = False, n: int = 0) -> Mended:
    """On a foreign picture: the face is drawn on the pose that was read, laid on the landmarks, and its skin carried to hands and neck."""
    changed, index = face_on(inverted.scene, n, anchor, hair), PARTS.index
    before, after = draw_scene(inverted.scene, with_albedo=True), draw_scene(changed, with_albedo=True)
    over = np.isin(inverted.parts, [index("headwear"), *(() if hair else (index("hair"),))])
    matte = face_matte(after, inverted, True, n) * (1 - cv2.GaussianBlur(over.astype(np.float32), (0, 0), 1.2))
    if hair:
        matte = np.maximum(matte, ((after.labels == Part.HAIR) & (after.figures == n + 1)).astype(np.float32))
    matte = np.clip(matte, 0, 1)
    skin = part_of_picture(picture, inverted, before, np.array([index("face"), index("neck"), index("bare limbs")]), n)
    face_there = skin & (inverted.parts == index("face"))
    base, lab = picture.astype(np.float32), rgb_to_lab(picture.astype(np.float32) / np.float32(255))
    now = np.median(lab[face_there], axis=0) if face_there.any() else np.zeros(3, np.float32)
    like = (skin & (np.linalg.norm((lab - now) * (0.25, 1, 1), axis=2) < _LIKE)).astype(np.uint8)
    closed = cv2.morphologyEx(like, cv2.MORPH_CLOSE, np.ones((5, 5), np.uint8))
    soft = cv2.GaussianBlur(closed.astype(np.float32), (0, 0), 1.2)
    ratio = _lighter(picture, face_there, after, n)
    base = np.asarray(base + (np.clip(base * ratio, 0, 255) - base) * soft[..., None], np.float32)
    tones, inner = after.image.astype(np.float32), (matte > 0.6) & np.isin(after.labels, (Part.FACE, Part.NECK)) & face_there
    if inner.sum() > 30:  # the drawn face takes the light that lies on the picture's own
        lit = cv2.GaussianBlur(np.log((base + 12) / (tones + 12)), (0, 0), 0.06 * before.shown[n].head[2])
        field = cv2.GaussianBlur(carried_on(np.where(inner[..., None], lit, 0), inner), (0, 0), 0.5 * before.shown[n].head[2])
        tones = np.asarray((tones + 12) * np.exp(np.clip(field, -_BRIGHTER, _BRIGHTER)) - 12, np.float32)
    out = base * (1 - matte[..., None]) + tones * matte[..., None]
    opened = (matte > 0.02) | (soft > 0.02)
    return within(picture, out, opened, np.maximum(matte, soft), changed, _SAYS, before, after, Opening(1.0))

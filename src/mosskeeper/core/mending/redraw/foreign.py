"""Mending pictures that were not drawn here: only the parts that differ are taken from the drawing of their scene.

What the old parts covered shows the drawing where that knows skin or cloth, and the place, filled from its own patches,
where it does not.
"""

from __future__ import annotations

from dataclasses import fields, replace
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Part, Person
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.inversion.invert import Inverted
from mosskeeper.core.mending.ask.changed_scene import Leeway, Somebody, asked
from mosskeeper.core.mending.fill.patch_fill import fill
from mosskeeper.core.mending.masks import F32, Mask, depth_in, dilated
from mosskeeper.core.mending.redraw.colour_transfer import carried
from mosskeeper.core.mending.redraw.cut_out import FIRST_OF_FIGURE, part_of_picture
from mosskeeper.core.mending.redraw.differences import replaced
from mosskeeper.core.mending.redraw.face_matte import face_matte
from mosskeeper.core.mending.redraw.mend import Mended, Opening
from mosskeeper.core.mending.redraw.strength import redrawn
from mosskeeper.core.pictures.colour import lab_to_rgb, rgb_to_lab
from mosskeeper.core.reading.classes import PART_OF, PARTS
from mosskeeper.core.scenes.interpolation import Way, at_strength, way
from mosskeeper.core.traits import TRAITS

U8 = NDArray[np.uint8]
_NOTHING = ("none", "nothing", "nobody", False, ())
# What of a figure a field of its description is seen in.
_SEEN_IN = {name: tuple(Part[part] for part in trait.shows_in) for trait in TRAITS if trait.shows_in for name in trait.fields}
_FACIAL = {trait.field for trait in TRAITS if trait.facial} | {"lids", "look"}
_WHOLE_FACE = {"face", "skin", "subject"}
_COLOURS, _SHAPES = {"colour_a", "colour_b", "hair_colour"}, {"hair", "outfit"}
_FILLED_FROM = 141  # px about a hole from which it is filled
_LEAN = (0.12, 2e-4)
DRAWN_FROM = 0.5  # strength from which a foreign picture is wholly drawn
_MENDED = ("glasses", "facial_hair", "headwear", "hair")


def mend_foreign(
    picture: U8,
    inverted: Inverted,
    mask: Mask,
    words: str,
    negative: str,
    somebody: Somebody,
    opening: Opening = Opening(),
    strength: float = 1.0,
    leeway: Leeway | None = None,
) -> Mended:
    """The picture (H, W, 3) with what words ask where the mask (H, W) is open; outside it, or its grown outline, bit for bit.

    No words at all fill what the mask covers from the picture's own place.
    """
    before = draw_scene(inverted.scene, with_albedo=True)
    told = asked(inverted.scene, before, mask, words, negative, somebody, leeway)
    nothing_said = not (words.strip() or negative.strip() or (leeway is not None and leeway.says))
    if told.scene.absent != inverted.scene.absent or (nothing_said and told.scene.description == inverted.scene.description):
        return _filled(picture, inverted, before, mask, opening)
    says = told.says
    if told.air:
        says = (*says, "place, time, weather and light of a picture that was not drawn here stay as they are")
    last = at_strength(inverted.scene, told.scene, strength)
    return changed_foreign(picture, inverted, before, last, mask, says, opening)


def strengthened_foreign(picture: U8, inverted: Inverted, last: Scene, strength: float) -> tuple[U8, Drawing, Scene]:
    """A foreign picture on its way to another scene on its composition: the picture, its drawing and its scene.

    It is never mixed with the drawing of its scene, which is not quite it: below a half it is mended, name after name; from a
    half on everything is drawn, in tones that go over from the picture's to the drawing's.
    """
    path = way(inverted.scene, last)
    if strength < DRAWN_FROM:
        before = draw_scene(inverted.scene, with_albedo=True)
        scene = _begun(path, strength / DRAWN_FROM)
        made = changed_foreign(picture, inverted, before, scene, np.ones(picture.shape[:2], bool))
        return made.picture, made.after, scene
    return redrawn(picture, LayeredScenes.of([inverted.scene]), last, strength)


def _begun(path: Way, share: float) -> Scene:
    """The first scene with a share of the names gone over that can be mended by themselves."""
    person, last = path.first.description.figures[0], path.last.description.figures[0]
    steps = [("expression",), *(names for n, names in path.steps if n == 0 and names[0] in _MENDED)]
    done = [name for names in steps[: int(np.ceil(share * len(steps)))] for name in names]
    if "hair" in done:
        done.append("hair_colour")
    return path.first.with_person(0, replace(person, **{name: getattr(last, name) for name in done}))


def changed_foreign(
    picture: U8, inverted: Inverted, before: Drawing, last: Scene, mask: Mask, says: tuple[str, ...] = (), opening: Opening = Opening()
) -> Mended:
    """A foreign picture, changed as its scene was."""
    scene, after = inverted.scene, draw_scene(last, with_albedo=True)
    pairs = [tuple(_hatted(p) for p in pair) for pair in zip(scene.description.figures, last.description.figures, strict=False)]
    stances = zip(scene.postures, last.postures, strict=False)
    moved = [k for k, (was, now) in enumerate(stances) if not np.allclose(was.joints, now.joints)]
    differ = [{f.name for f in fields(Person) if getattr(was, f.name) != getattr(now, f.name)} for was, now in pairs]
    n = next((k for k, names in enumerate(differ) if names), moved[0] if moved else 0)  # one figure is changed at a time
    person, changed = pairs[n][0], differ[n]
    parts = {p for name in changed for p in _SEEN_IN.get(name, ())}
    had = {p for name in changed if getattr(person, name) not in _NOTHING for p in _SEEN_IN.get(name, ())}
    if n in moved and len(last.postures) == len(scene.postures):  # all of it is seen elsewhere
        parts = had = {part for part in Part if part >= Part.HAIR}
    elif _COLOURS & changed and not (_SHAPES | _FACIAL) & changed:
        return _recoloured(picture, inverted, (before, after), last, says, mask, parts, opening, n)
    new = np.isin(after.labels, list(parts)) & (after.figures == n + 1) & (replaced(before, after) > 0.3)
    if last.things != scene.things or len(last.postures) > len(scene.postures):
        new |= (after.figures > len(scene.postures)) | ((after.labels == Part.SEAT) & (before.labels != Part.SEAT))
    old = np.zeros(mask.shape, bool)
    if had:
        old = dilated(part_of_picture(picture, inverted, before, np.unique(PART_OF[list(had)]), n), 5) & ~new
    if "glasses" in changed and "worn" not in changed:  # belts and bags are accessories, too
        y, x = np.mgrid[: mask.shape[0], : mask.shape[1]]
        head = before.shown[n].head
        elsewhere = np.hypot(x - head[0], y - head[1]) >= head[2]
        old &= ~(elsewhere & ((inverted.parts == PARTS.index("accessory")) | (changed == {"glasses"})))
        new &= ~(elsewhere & (after.labels == Part.ACCESSORY))
    matte = (new | (old & (after.labels >= Part.HAIR))).astype(np.float32)
    if changed & _FACIAL:
        matte = np.maximum(matte, face_matte(after, inverted, bool(changed & _WHOLE_FACE), n))
        if {"hair", "skin"} <= changed:  # a brow that the old hair hid is seen now
            bared = np.isin(after.labels, (Part.FACE, Part.BROW)) & (after.figures == n + 1) & (inverted.parts == PARTS.index("hair"))
            matte = np.maximum(matte, cv2.GaussianBlur(dilated(bared, 3).astype(np.float32), (0, 0), 1.0))
    # also under the soft border of what comes
    hole = old & dilated(old & (after.labels < Part.HAIR) & (matte < 0.5) & (mask | opening.grown), 7)
    base = _cleared(picture, hole, dilated((inverted.parts >= FIRST_OF_FIGURE) | old, 9)) if hole.any() else picture
    widened = cv2.GaussianBlur(cv2.dilate(matte, np.ones((2, 2), np.uint8)), (0, 0), 0.9)
    soft = np.asarray(np.clip(widened, 0, 1), np.float32)
    tones = carried(picture, before, after, soft, (PART_OF[before.labels] == inverted.parts) & (soft < 0.05) & ~hole)
    out = base * (1 - soft[..., None]) + tones * soft[..., None]
    same = (before.labels == after.labels) & (before.figures == n + 1) & (soft < 0.3) & ~hole  # takes the shadow of what is new
    shadow = np.clip(after.image.astype(np.float32) - before.image, -80, 0) * same[..., None]
    out = out + cv2.GaussianBlur(shadow, (0, 0), 1.0) * 0.8
    return within(picture, out, mask, np.maximum(soft, hole), last, says, before, after, opening)


def _hatted(person: Person) -> Person:
    """A person whose hat has its colours said."""
    return replace(person, headwear_colours=person.headwear_colours or (person.colour_a, person.colour_b))


def within(
    picture: U8,
    out: NDArray[Any],
    mask: Mask,
    redrawn: NDArray[Any],
    scene: Scene,
    says: tuple[str, ...],
    before: Drawing,
    after: Drawing,
    opening: Opening,
) -> Mended:
    """What a mask, or its grown outline, opens of a changed picture."""
    opened = mask | dilated(redrawn > 0.05, 7) if opening.grown else mask
    amount = np.clip(depth_in(opened) / max(opening.feather, 1e-6), 0, 1)
    mixed = np.clip(picture + (np.asarray(out, np.float32) - picture) * amount[..., None] + 0.5, 0, 255).astype(np.uint8)
    fits = float(redrawn[mask].sum() / max(float(redrawn.sum()), 1.0))
    made = np.where(opened[..., None], mixed, picture)
    return Mended(made, LayeredScenes.of([scene]), opened, says, before, after, np.asarray(redrawn, np.float32), fits)


def _filled(picture: U8, inverted: Inverted, before: Drawing, mask: Mask, opening: Opening) -> Mended:
    """What the mask covers, gone: filled from the place about it, from no figure where some place is left."""
    figures = dilated(inverted.parts >= FIRST_OF_FIGURE, 9)
    covers_figure = (mask & (inverted.parts >= FIRST_OF_FIGURE)).sum() > 0.5 * mask.sum()
    out = _cleared(picture, mask, figures if covers_figure else np.zeros_like(figures))
    says = ("what the mask covers was filled from the rest of the picture",)
    plain = Opening(feather=0.0)
    return within(
        picture, out, mask, mask.astype(np.float32), inverted.scene, says, before, before, plain if opening.feather < 1 else opening
    )


def _cleared(picture: U8, hole: Mask, figure: Mask) -> U8:
    """The picture with a hole filled from what lies about it and is no figure; from anything where nothing else is left."""
    ys, xs = np.nonzero(dilated(hole, _FILLED_FROM))
    box = np.s_[ys.min() : ys.max() + 1, xs.min() : xs.max() + 1]
    out = picture.copy()
    here, gap = np.ascontiguousarray(picture[box]), np.ascontiguousarray(hole[box])
    try:
        out[box] = fill(here, gap, 0, _LEAN, np.ascontiguousarray(~figure[box]))
    except ValueError:
        out[box] = cv2.inpaint(here, gap.astype(np.uint8), 5, cv2.INPAINT_TELEA)
    return out


def _recoloured(
    picture: U8,
    inverted: Inverted,
    drawings: tuple[Drawing, Drawing],
    last: Scene,
    says: tuple[str, ...],
    mask: Mask,
    parts: set[Part],
    opening: Opening,
    n: int,
) -> Mended:
    """Another colour for what is there: the picture keeps its own light, folds and grain."""
    before, after = drawings
    assert before.albedo is not None and after.albedo is not None
    where = (cv2.absdiff(before.albedo, after.albedo).max(2) > 3) & (before.figures == n + 1) & np.isin(before.labels, list(parts))
    group = part_of_picture(picture, inverted, before, np.unique(PART_OF[list(parts)]), n)
    lab, there = rgb_to_lab(picture.astype(np.float32) / np.float32(255)), where & group
    if not where.any() or not group.any():
        nothing = np.zeros(mask.shape, np.float32)
        return within(picture, picture.astype(np.float32), mask, nothing, last, says, before, after, Opening(opening.feather))
    now = np.median(lab[there if there.sum() > 20 else group], axis=0)
    like = group & (np.linalg.norm((lab - now) * (0.4, 1, 1), axis=2) < 26)  # cloth of that colour, wherever it lies in the picture
    closed = cv2.morphologyEx(like.astype(np.uint8), cv2.MORPH_CLOSE, np.ones((5, 5), np.uint8))
    soft = cv2.GaussianBlur(closed.astype(np.float32), (0, 0), 1.0)
    was, wanted = (rgb_to_lab(np.asarray(np.median(one.image[where], axis=0) / 255, np.float32)) for one in (before, after))
    new, out = now + (wanted - was), lab.copy()
    out[..., 0] = new[0] + (lab[..., 0] - now[0]) * np.clip(new[0] / max(float(now[0]), 5), 0.6, 1.5)
    out[..., 1:] = new[1:] + (lab[..., 1:] - now[1:]) * 0.6
    mixed: F32 = np.asarray(picture + (lab_to_rgb(out) * 255 - picture) * soft[..., None], np.float32)
    return within(picture, mixed, mask, soft, last, says, before, after, opening)

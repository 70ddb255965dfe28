"""Scenes, mends of own takes and of foreign pictures, strength, extension: what was asked is there, what was not asked stays."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from functools import cache
from statistics import median

import cv2
import numpy as np
from numpy.typing import NDArray

from bench.report import Row, median_seconds, row
from mosskeeper.commands.mend_sheets import KINDS, MendCase, where
from mosskeeper.core.diffusion.result import TakeResult
from mosskeeper.core.illustrator.description import Part
from mosskeeper.core.illustrator.draw import draw_scene, kept
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.inversion.invert import Inverted, invert
from mosskeeper.core.mending.fill.extension import extended, extended_take
from mosskeeper.core.mending.fill.joining import Piece, join
from mosskeeper.core.mending.masks import dilated, eroded
from mosskeeper.core.mending.redraw.foreign import mend_foreign
from mosskeeper.core.mending.redraw.mend import Mended, Opening, mend
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.reading.classes import PART_OF, PARTS
from mosskeeper.core.reading.reader import read
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.scenes.interpolation import at_strength, on_composition, way
from mosskeeper.core.takes.described_person import somebody
from mosskeeper.core.takes.take import make_take

_WORDS = (
    "half figure",
    "full figure",
    "portrait",
    "half figure, at night",
    "full figure, in rain",
)  # of persons who were not used in building
_ASKED = {  # kind → the part that shows it, and how that is told
    "hat on": Part.HEADWEAR,
    "hair": Part.HAIR,
    "glasses": Part.ACCESSORY,
    "expression": Part.MOUTH,
    "in the hand": Part.PROP,
}
_HEAD_STAYS = ("hat on", "glasses", "coat", "colour", "in the hand", "put down", "sky", "weather", "eyes")


@cache
def held_out(n: int) -> TakeResult:
    return make_take(Recipe(words=_WORDS[n % len(_WORDS)], width=512, height=640), 7000 + n)


def scenes_of(take: TakeResult) -> LayeredScenes:
    assert take.explained is not None
    return take.explained


def scenes(seeds: int) -> list[Row]:
    same = []
    for n in range(5 * seeds):
        take = make_take(Recipe(words=_WORDS[n % len(_WORDS)], width=256, height=320, steps=6), 8000 + n)
        again = LayeredScenes.from_json(json.loads(json.dumps(scenes_of(take).to_json())))
        same.append(np.array_equal(again.drawn().image, take.image))
    return [row(f"own takes drawn again from their stored scene to the byte, of {len(same)}", float(np.mean(same)), "share", ">= 1")]


def own(seeds: int) -> list[Row]:
    there: dict[str, list[bool]] = {}
    moved, outside, seams, grown_seams, back = [], [], [], [], []
    for n in range(seeds):
        take = held_out(n)
        for kind in KINDS:
            made = _own(take, kind)
            if made is None:
                continue
            there.setdefault(kind.name, []).append(_asked_is_there(made, kind))
            outside.append(float((made.picture != take.image).any(2)[~made.mask].mean()) if not made.mask.all() else 0.0)
            if kind.name in _HEAD_STAYS and not _same_head(made):
                moved.append(kind.name)
            ratio = _border(take.image, made)
            (grown_seams if kind.grown else seams).append(ratio)
            if kind.name == "hat on":
                off = mend(made.picture, made.explained, made.mask, "", "hat", somebody)
                back.append(float((np.abs(off.picture.astype(int) - take.image) > 2).any(2).mean()))
    share = np.mean([np.mean(values) for values in there.values()])
    worst = min(there, key=lambda name: np.mean(there[name]))
    return [
        row(f"mends of own takes, {len(there)} kinds: what is asked is there", float(share), "share", ">= 0.95"),
        row(f"the same, the worst kind ({worst})", float(np.mean(there[worst])), "share"),
        row("heads that moved where nobody asked", float(len(moved)), "", "<= 0"),
        row("pixels changed outside the opened mask", max(outside), "share", "<= 0"),
        row("hat on, hat off again: pixels off by more than 2 levels", max(back), "share", "<= 0.01"),
        row("gradient across the mask's border over the picture's own: median", median([*seams, *grown_seams]), "×", "<= 1.05"),
        row("the same, worst of the grown", max(grown_seams), "×", "<= 1.2"),
    ]


def _own(take: TakeResult, kind: MendCase) -> Mended | None:
    """One kind of mend; None where the take has nothing to which it applies."""
    assert take.drawing is not None
    mask = where(kind.where, take.drawing)
    hooded = kind.name == "hat on" and (take.drawing.labels == Part.HEADWEAR).sum() == 0 and _hood(take)
    d = scenes_of(take).scene.description
    already = {
        "glasses": d.glasses,
        "hat on": d.headwear == "hat",
        "expression": d.expression == "laughing",
        "weather": d.weather == "snow",
    }
    if already.get(kind.name) or (kind.name == "sky" and d.time == "night"):
        return None
    if hooded or not mask.any() or (kind.name in ("sky", "weather") and _indoors(take)) or (kind.name == "eyes" and _eyes_hidden(take)):
        return None
    return mend(take.image, scenes_of(take), mask, kind.words, kind.negative, somebody, Opening(grown=kind.grown))


def _hood(take: TakeResult) -> bool:
    from mosskeeper.core.illustrator.vocabulary.outfits import has_hood

    assert take.description is not None
    return has_hood(take.description.outfit)


def _indoors(take: TakeResult) -> bool:
    from mosskeeper.core.illustrator.places import PLACES

    assert take.description is not None
    return not PLACES[take.description.place].outdoors


def _eyes_hidden(take: TakeResult) -> bool:
    assert take.drawing is not None
    return "left pupil" not in take.drawing.landmarks or "right pupil" not in take.drawing.landmarks


def _asked_is_there(made: Mended, kind: MendCase) -> bool:
    """By the exact maps of the drawing from which was taken, and by pixels that changed."""
    after, d = made.after, made.explained.scene.description
    if kind.name == "person removed":
        gone = next(iter(made.explained.scene.absent), None)
        return gone is not None and not (after.figures == gone + 1).any()
    if kind.name == "put down":
        number = len(made.explained.scene.postures) + 1
        return bool(((after.figures > number) & made.mask).sum() > 150)
    if kind.name == "sky":
        return d.time == "night" and float(np.abs(made.picture.astype(int) - made.before.image)[made.mask].mean()) > 6
    if kind.name == "weather":
        return d.weather == "snow"
    if kind.name == "eyes":
        return d.look == (-1.0, 0.0) and _changed(made) > 0.0005
    if kind.name == "coat":
        return d.outfit == "travelling coat" and _changed(made) > 0.02
    if kind.name == "colour":
        seen = np.isin(after.labels, (Part.TOP, Part.SLEEVE, Part.OUTER, Part.BOTTOM)) & (after.figures == 1) & made.mask
        red, green, blue = made.picture[seen].mean(0) if seen.any() else (0, 0, 0)
        return bool(red > 1.2 * max(green, blue))
    part = _ASKED[kind.name]
    return bool(((after.labels == part) & made.mask).sum() > 40 and _changed(made) > 0.0005)


def _changed(made: Mended) -> float:
    return float((made.redrawn > 0.5).mean())


def _same_head(made: Mended) -> bool:
    """The head's box, by eyes and ears, within 3 %."""
    a, b = (d.shown[0].joints[[0, 14, 15, 16, 17]] for d in (made.before, made.after))
    return bool(np.abs(a - b).max() <= 0.03 * 2 * made.before.head[2])


def _border(picture: NDArray[np.uint8], made: Mended) -> float:
    """Gradient across the mask's border over what source and new drawing have there; 1: no seam."""
    ring = dilated(made.mask, 5) & ~eroded(made.mask, 5)
    ring[:3], ring[-3:], ring[:, :3], ring[:, -3:] = False, False, False, False
    if not ring.any():
        return 1.0

    def steep(x: NDArray[np.uint8]) -> float:
        grey = cv2.cvtColor(x, cv2.COLOR_RGB2GRAY).astype(np.float32)
        return float(np.hypot(cv2.Sobel(grey, cv2.CV_32F, 1, 0), cv2.Sobel(grey, cv2.CV_32F, 0, 1))[ring].mean())

    return steep(made.picture) / max((steep(picture) + steep(made.after.image)) / 2, 1e-6)


_INVERTED, _SEEN = 20, 200  # pictures at least: a share of five says little; px of hair from which it can be named


@cache
def inverted(n: int) -> Inverted | None:
    take = held_out(n)
    return invert(take.image, read(take.image))


def foreign(seeds: int) -> list[Row]:
    """Own takes, inverted as if nobody knew their scenes, against the exact maps of their drawings."""
    figure, parts, far, hair, outfit, found = [], [], [], [], [], 0
    there: list[bool] = []
    outside: list[float] = []
    pictures = max(seeds, _INVERTED)
    for n in range(pictures):
        take, scene = held_out(n), inverted(n)
        if scene is None:
            continue
        found += 1
        d = draw_scene(scene.scene, with_albedo=True)
        assert take.drawing is not None and take.description is not None
        a, b = d.figures == 1, take.drawing.figures == 1
        figure.append(_iou(a, b))
        shared = list(_shared(take.drawing, d))
        parts.append(float(np.mean([_iou(x, y) for x, y in shared])))
        lab = [rgb_to_lab(p.astype(np.float32) / np.float32(255)) for p in (take.image, d.image)]
        far += [float(np.linalg.norm(np.median(lab[0][x], 0) - np.median(lab[1][y], 0))) for x, y in shared if y.any()]
        if ((take.drawing.labels == Part.HAIR) & b).sum() > _SEEN:
            hair.append(scene.scene.description.hair == take.description.hair)
        outfit.append(scene.scene.description.outfit == take.description.outfit)
        for kind in KINDS[:6] if n < seeds else ():
            if kind.name == "hat on" and _hood(take):
                continue
            mask = where(kind.where, d)
            made = mend_foreign(take.image, scene, mask, kind.words, kind.negative, somebody, Opening(grown=True))
            outside.append(float((made.picture != take.image).any(2)[~made.mask].mean()) if not made.mask.all() else 0.0)
            there.append(_asked_is_there(made, kind))
    return [
        row(f"foreign pictures that are explained at all, of {pictures}", found / pictures, "share"),
        row("foreign pictures inverted: the figure", median(figure), "IoU", ">= 0.85"),
        row("their parts", median(parts), "IoU", ">= 0.6"),
        row("colours of parts", median(far), "ΔE", "<= 5"),
        row(f"hair named right, of {len(hair)} that are not under a hood or scarf", float(np.mean(hair)), "share", ">= 0.7"),
        row("outfit named right", float(np.mean(outfit)), "share", ">= 0.88"),
        row("mends of foreign pictures: what is asked is there", float(np.mean(there)), "share", ">= 0.85"),
        row("pixels of foreign pictures changed outside the opened mask", max(outside), "share", "<= 0"),
    ]


def _iou(a: NDArray[np.bool_], b: NDArray[np.bool_]) -> float:
    return float((a & b).sum() / max(float((a | b).sum()), 1.0))


def _shared(truth: Drawing, made: Drawing) -> Iterator[tuple[NDArray[np.bool_], NDArray[np.bool_]]]:
    groups, figure = PART_OF[truth.labels], truth.figures == 1
    for k in np.unique(groups[figure]):
        there = (groups == k) & figure
        if there.sum() > 400:
            yield there, (PART_OF[made.labels] == k) & (made.figures == 1)


def strengths(seeds: int) -> list[Row]:
    rises, steps, double = [], [], []
    for n in range(max(4, seeds // 2)):
        first, other = scenes_of(held_out(n)).scene, held_out(n + 40).description
        assert other is not None
        last = on_composition(first, other)
        drawings = [draw_scene(at_strength(first, last, k / 10)).image.astype(np.float32) for k in range(11)]
        far = np.array([np.abs(d - drawings[0]).mean() for d in drawings])
        rises.append(float(np.diff(far).min() / far[-1]))
        steps.append(float(np.diff(far).max() / far[-1]))
        double.append(max(_double(drawings[0], d, drawings[-1]) for d in drawings[1:-1]))
    return [
        row("strength between scenes: smallest rise of ten", min(rises), "share", "> 0"),
        row("largest step of ten", max(steps), "share", "<= 0.18"),
        row("lines of both pictures at once, at any strength", max(double), "share", "<= 0.005"),
    ]


def _double(first: NDArray[np.float32], between: NDArray[np.float32], last: NDArray[np.float32]) -> float:
    """Share of pixels that are a mixture of both pictures where these differ, and neither's own: a double exposure.

    On such a pixel the three colours lie on one line, well inside it, and so do those about it.
    """
    way, here = last - first, between - first
    length = np.linalg.norm(way, axis=2)
    t = (way * here).sum(2) / np.maximum(length**2, 1e-6)
    off = np.linalg.norm(here - way * t[..., None], axis=2)
    mixed = (length > 60) & (t > 0.25) & (t < 0.75) & (off < 6)
    fine = np.abs(between - cv2.GaussianBlur(between, (0, 0), 3)).max(2) > 12  # lines, not colours that go over
    return float((cv2.erode((mixed & fine).astype(np.uint8), np.ones((2, 2), np.uint8)) > 0).mean())


def larger(seeds: int) -> list[Row]:
    strangers, repeats = 0, 0
    for n in range(2 * seeds):
        take, scene = held_out(n % seeds), inverted(n % seeds)
        wider = (128, 0, 128, 0)
        if n < seeds:
            made, own_figure = extended_take(take.image, scenes_of(take), wider), scenes_of(take).scene
        else:
            figures = None if scene is None else scene.parts >= PARTS.index("hair")
            made = extended(take.image, wider, figures, None if scene is None else scene.scene)
            own_figure = scenes_of(take).scene
        new = np.ones(made.shape[:2], bool)
        new[:, 128 : 128 + take.image.shape[1]] = False
        goes_on = dilated(draw_scene(own_figure, wider=wider).figures > 0, 31)
        parts = cv2.resize(read(made).parts, (made.shape[1], made.shape[0]), interpolation=cv2.INTER_NEAREST)
        heads = np.isin(parts, (PARTS.index("hair"), PARTS.index("face"))) & new & ~goes_on
        strangers += int((cv2.erode(heads.astype(np.uint8), np.ones((17, 17), np.uint8)) > 0).any())
        repeats += _repeated(made, take.image)
    return [
        row(f"extensions by half: faces or hair told in the new part, of {2 * seeds}", float(strangers), "", "<= 0"),
        row("patches of 48 px found twice", float(repeats), "", "<= 0"),
    ]


def _repeated(made: NDArray[np.uint8], picture: NDArray[np.uint8]) -> int:
    """How many rough patches of 48 px of the new part stand in the picture, too."""
    grey, own = (cv2.cvtColor(p, cv2.COLOR_RGB2GRAY) for p in (made, picture))
    found = 0
    for x in (16, 64, made.shape[1] - 112, made.shape[1] - 64):
        for y in range(8, made.shape[0] - 56, 48):
            patch = grey[y : y + 48, x : x + 48]
            if cv2.Laplacian(patch, cv2.CV_32F).std() > 14:
                found += int(cv2.matchTemplate(own, patch, cv2.TM_CCOEFF_NORMED).max() > 0.97)
    return found


def times(_: int) -> list[Row]:
    cv2.setNumThreads(1)
    take, scene = held_out(0), inverted(0)
    assert scene is not None and take.drawing is not None and take.description is not None
    reading, hat = read(take.image), where("hat", take.drawing)
    figures, explained = scene.parts >= PARTS.index("hair"), scenes_of(take)
    other = held_out(41).description
    assert other is not None
    last, wider = on_composition(explained.scene, other), (102, 0, 102, 0)
    fresh = iter(range(10**6))

    def words() -> str:
        return ("a straw hat", "round glasses", "laughing", "black curls")[next(fresh) % 4]

    opening = Opening(grown=True)

    def cold(work: Callable[[], object]) -> float:
        """Seconds of a first time: nothing was drawn before."""

        def fresh() -> None:
            kept.clear()
            work()

        return median_seconds(fresh)

    return [
        row("a mend, own", cold(lambda: mend(take.image, explained, hat, words(), "", somebody, opening)), "s", "<= 1.0"),
        row("a mend, foreign", cold(lambda: mend_foreign(take.image, scene, hat, words(), "", somebody, opening)), "s", "<= 2.0"),
        row("an inversion", cold(lambda: invert(take.image, reading)), "s", "<= 1.5"),
        row("an extension by 40 %, own", cold(lambda: extended_take(take.image, explained, wider)), "s", "<= 0.7"),
        row("an extension by 40 %, foreign", cold(lambda: extended(take.image, wider, figures, scene.scene)), "s", "<= 1.2"),
        row("a join", cold(lambda: join(Piece(take.image, explained), Piece(held_out(1).image), 96)), "s", "<= 1.0"),
        row("a strength, its way known", cold(lambda: draw_scene(at_strength(explained.scene, last, 0.5))), "s", "<= 0.7"),
        row("the way to another picture measured, once a run", cold(way(explained.scene, last).response), "s"),
    ]

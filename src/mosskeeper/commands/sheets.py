"""`./moss sheets`: contact sheets of everything the illustrator can draw, to be looked at."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, fields, replace
from itertools import cycle, product
from pathlib import Path
from typing import Any

import cv2
import numpy as np

from mosskeeper.core.illustrator.camera import FRAMINGS, beside, shifts
from mosskeeper.core.illustrator.companions import COMPANIONS
from mosskeeper.core.illustrator.description import TINTED, Description, Face, Layout, Person, Standing
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.illustrator.hair import STYLES
from mosskeeper.core.illustrator.headwear import HEADWEAR
from mosskeeper.core.illustrator.objects.held import HELD
from mosskeeper.core.illustrator.objects.table import OBJECTS
from mosskeeper.core.illustrator.places import NAMED as NAMED_PLACES
from mosskeeper.core.illustrator.places import PLAIN_BACKDROP
from mosskeeper.core.illustrator.places import USUAL as USUAL_PLACES
from mosskeeper.core.illustrator.props import USUAL as USUAL_PROPS
from mosskeeper.core.illustrator.skeleton import ANGLES, GAZES, joints
from mosskeeper.core.illustrator.vocabulary.colours import CLOTH, EYE_COLOURS, HAIR_COLOURS, SKINS
from mosskeeper.core.illustrator.vocabulary.finishes import FINISHES
from mosskeeper.core.illustrator.vocabulary.light import MOODS, TIMES, WEATHERS
from mosskeeper.core.illustrator.vocabulary.outfits import GARMENTS, OUTFITS, PATTERNS, USUAL_COLOURS
from mosskeeper.core.illustrator.vocabulary.people import BUILDS, EXPRESSIONS, FIGURES, SUBJECTS, body_of
from mosskeeper.core.illustrator.vocabulary.poses import POSES
from mosskeeper.core.pictures.resample import fitted
from mosskeeper.core.traits import WORN

_PLAIN = Description(place="fern house", time="noon")
_VIVID = (0.90, 0.10, 0.45)  # no usual colour of anything


@dataclass(frozen=True, slots=True)
class ContactSheet:
    """One contact sheet: what its cells show, row by row, and their shape."""

    cells: Callable[[], Iterator[Description]]
    columns: int
    size: tuple[int, int] = (384, 480)  # px at which a cell is drawn; it is then made to fit


def _dressed(base: Description, outfit: str, **more: object) -> Description:
    a, b = (tuple(map(float, CLOTH[name])) for name in USUAL_COLOURS[outfit])
    return replace(base, outfit=outfit, colour_a=a, colour_b=b, **more)  # type: ignore[arg-type]


def _full(pose: str = "standing") -> Layout:
    return Layout(pose, "full")


def _bust(pose: str = "facing") -> Layout:
    return Layout(pose, "bust")


def _stranger(i: int) -> Description:
    """The `i`-th of a row of people who share as little as possible."""
    return replace(
        _PLAIN,
        subject=list(SUBJECTS)[i % 6],
        skin=list(SKINS)[i % len(SKINS)],
        hair=list(STYLES)[i * 3 % len(STYLES)],
        hair_colour=list(HAIR_COLOURS)[i % len(HAIR_COLOURS)],
        eyes=list(EYE_COLOURS)[i % len(EYE_COLOURS)],
        face=Face.sampled(np.random.default_rng(100 + i)),
        freckles=i % 3 == 0,
        layout=_bust(),
    )


def outfits() -> Iterator[Description]:
    subjects, poses, patterns = cycle(SUBJECTS), cycle(("standing", "walking", "hands on hips")), cycle(PATTERNS)
    for outfit in OUTFITS:
        yield _dressed(_PLAIN, outfit, subject=next(subjects), pattern=next(patterns), layout=_full(next(poses)))


def worn() -> Iterator[Description]:
    """Every outfit in every pose."""
    for outfit, pose in product(OUTFITS, POSES):
        yield _dressed(_PLAIN, outfit, layout=_full(pose))


def hair() -> Iterator[Description]:
    colours, eyes, skins = cycle(HAIR_COLOURS), cycle(EYE_COLOURS), cycle(SKINS)
    for style in STYLES:
        yield replace(_PLAIN, hair=style, hair_colour=next(colours), eyes=next(eyes), skin=next(skins), layout=_bust())
    for wear, style in zip([w for w in HEADWEAR if w != "none"], cycle(("curls", "cropped", "braid")), strict=False):
        yield replace(_PLAIN, headwear=wear, hair=style, layout=_bust())


def heads() -> Iterator[Description]:
    """Every hair style and head covering from in front, three-quarter, and in profile, level and tilted."""
    ways = (Layout(view="front"), Layout(view="three-quarter"), *(Layout(view="profile", gaze=gaze) for gaze in GAZES))
    colours = cycle(HAIR_COLOURS)
    for style in STYLES:
        base = replace(_PLAIN, hair=style, hair_colour=next(colours))
        yield from (replace(base, layout=replace(way, pose="facing", framing="bust")) for way in ways)
    for wear in HEADWEAR:
        yield from (replace(_PLAIN, headwear=wear, hair="bob", layout=replace(way, pose="facing", framing="bust")) for way in ways)


def people() -> Iterator[Description]:
    for subject, build in product(SUBJECTS, BUILDS):
        yield replace(_PLAIN, subject=subject, build=build, hair="bob" if "man" not in subject else "cropped", layout=_full("facing"))


def natural() -> Iterator[Description]:
    """Strangers as natural figures: heads from in front, three-quarter, in profile and looking up, then whole in several poses."""
    ways = (Layout(view="front"), Layout(view="three-quarter"), Layout(view="profile"), Layout(view="three-quarter", gaze="up", facing=-1))
    poses_in_turn = cycle(("standing", "walking", "hands on hips", "waving", "sitting", "reaching"))
    outfits_in_turn = cycle(OUTFITS)
    for i in range(6):
        who = replace(_stranger(i), figure="natural")
        yield from (replace(who, layout=replace(way, pose="facing", framing="bust")) for way in ways)
        yield from (_dressed(who, next(outfits_in_turn), layout=_full(next(poses_in_turn))) for _ in range(2))


def figures() -> Iterator[Description]:
    """The same people as storybook, natural and small figures."""
    for figure in FIGURES:
        yield from (_dressed(replace(_stranger(i), figure=figure), outfit, layout=_full()) for i, outfit in enumerate(tuple(OUTFITS)[:8]))


def identities() -> Iterator[Description]:
    """Strangers, each in several moods, views, lights and finishes."""
    ways: tuple[dict[str, Any], ...] = (
        {},
        {"expression": "laughing"},
        {"expression": "angry", "view": "three-quarter"},
        {"view": "profile"},
        {"gaze": "up", "light": "moonlight"},
        {"view": "three-quarter", "finish": ("woodcut print",)},
    )
    for i in range(8):
        stranger = _stranger(i)
        for way in ways:
            turned = {key: way[key] for key in ("view", "gaze") if key in way}
            rest = {key: value for key, value in way.items() if key not in turned}
            yield replace(stranger, layout=replace(stranger.layout, **turned), **rest)  # type: ignore[arg-type]


def expressions() -> Iterator[Description]:
    for subject, view in product(("woman", "old man"), ("front", "profile")):
        for expression in (*EXPRESSIONS, "joyful+surprised"):
            hair_style = "bun" if subject == "woman" else "receding"
            yield replace(_PLAIN, subject=subject, hair=hair_style, expression=expression, layout=Layout("facing", "bust", view=view))


def poses() -> Iterator[Description]:
    for pose in POSES:
        yield replace(_PLAIN, layout=_full(pose))


def props() -> Iterator[Description]:
    """Every prop that somebody may hold by chance, in the hand that suits it, in the left, in the right and in both."""
    for prop, hand in product((p for p in USUAL_PROPS if p != "nothing"), ("free", "left", "right", "both")):
        yield replace(_PLAIN, prop=prop, layout=Layout("standing", "half", hand=hand))


def held_by_name() -> Iterator[Description]:
    """Every thing that somebody holds only where words name it."""
    for prop, pose in zip(HELD, cycle(("standing", "presenting", "carrying")), strict=False):
        yield replace(_PLAIN, prop=prop, layout=Layout(pose, "half"))


def objects() -> Iterator[Description]:
    """Every thing and animal that stands by itself, beside somebody."""
    for name in OBJECTS:
        yield replace(_PLAIN, place=PLAIN_BACKDROP, things=(Standing(name),), layout=Layout("standing", "full", shift=-0.2, zoom=0.84))


def named_places() -> Iterator[Description]:
    """Every place that only words choose, by day and by night."""
    for place, time in product(NAMED_PLACES, ("noon", "night")):
        yield _dressed(_PLAIN, "travelling coat", place=place, time=time, layout=Layout("standing", "full", shift=-0.25))


def accessories() -> Iterator[Description]:
    for item, outfit in product(WORN, ("tunic", "travelling coat")):
        yield _dressed(_PLAIN, outfit, worn=(item,), hair="bun", layout=Layout("standing", "half"))


def tints() -> Iterator[Description]:
    """Things in a colour of their own, one after the other, over an outfit that has them."""
    of = {garment: outfit for outfit, garments in GARMENTS.items() for garment in garments} | {"lining": "night cloak"}
    for thing in TINTED:
        outfit = of.get(thing, "tunic")
        worn = (thing,) if thing in WORN else ()
        one = _dressed(
            _PLAIN, outfit, worn=worn, headwear="hat" if thing == "hat" else "none", prop="umbrella" if thing == "prop" else "nothing"
        )
        yield replace(one, tints=((thing, _VIVID),), layout=_bust() if thing in ("lips", "earrings", "necklace") else _full())
    for name in ("sky", "background", "companion"):
        place = PLAIN_BACKDROP if name == "background" else "roof garden"
        yield replace(_PLAIN, place=place, companion="cat" if name == "companion" else "nobody", tones=((name, _VIVID),), layout=_full())


def places() -> Iterator[Description]:
    for place, time in product(USUAL_PLACES, TIMES):
        yield _dressed(_PLAIN, "travelling coat", place=place, time=time, layout=_full())


def light() -> Iterator[Description]:
    for mood in MOODS:
        yield replace(_PLAIN, light=mood, place="library stair", layout=Layout("standing", "half"))
    for weather in WEATHERS:
        yield _dressed(_PLAIN, "night cloak", weather=weather, place="roof garden", hair="long wavy", layout=_full("walking"))


def cameras() -> Iterator[Description]:
    for framing, angle in product(FRAMINGS, ANGLES):
        yield replace(_PLAIN, place="canal market", layout=Layout("walking", framing, angle=angle))
    for framing, side in product(FRAMINGS, ("left", "centre", "right")):
        yield replace(_PLAIN, place="festival bridge", layout=Layout("walking", framing, shift=beside(side, framing)))


def company() -> Iterator[Description]:
    for companion in COMPANIONS:
        yield replace(_PLAIN, companion=companion, place="moss well", layout=_full("walking"))
    clothes, ways = list(OUTFITS), ("standing", "waving", "hands on hips")
    for number, start in product((2, 3), (0, 2, 4, 6)):
        group = []
        for i, shift in enumerate(shifts(number)):
            layout = Layout(ways[i], "full", -1 if i else 1, shift, depth=0.3 * (i == 1))
            group.append(_dressed(_stranger(start + i), clothes[start + 3 * i], layout=layout))
        yield replace(group[0], others=tuple(map(_alone, group[1:])), place="festival bridge")


def _alone(description: Description) -> Person:
    """The first figure of a picture without the picture."""
    return Person(**{f.name: getattr(description, f.name) for f in fields(Person)})


def skeletons() -> Iterator[Description]:
    """Skeletons as a reader of poses would give them: 18 joints anywhere, limbs in front or behind."""
    rng, body = np.random.default_rng(7), body_of("woman", "average")
    for pose in list(POSES)[:14]:
        moved = joints(body, POSES[pose]) + rng.normal(0, 0.22, (18, 2))
        yield replace(_PLAIN, layout=Layout(framing="full", skeleton=tuple((float(x), float(y)) for x, y in moved)))


def finishes() -> Iterator[Description]:
    for finish in FINISHES:
        yield _dressed(
            _PLAIN,
            "festival coat",
            finish=(finish,),
            hair="braid",
            hair_colour="copper",
            place="canal market",
            layout=Layout("reaching", "half"),
        )
    for finish in FINISHES:
        yield _dressed(_PLAIN, "garden dress", finish=(finish,), subject="girl", place="roof garden", layout=_full("walking"))


SHEETS = {
    "objects": ContactSheet(objects, 11, (256, 320)),
    "held": ContactSheet(held_by_name, 11, (256, 320)),
    "named-places": ContactSheet(named_places, 10, (256, 320)),
    "outfits": ContactSheet(outfits, 6),
    "worn": ContactSheet(worn, 21, (192, 240)),
    "hair": ContactSheet(hair, 7),
    "heads": ContactSheet(heads, 10),
    "people": ContactSheet(people, 10),
    "natural": ContactSheet(natural, 6, (320, 400)),
    "figures": ContactSheet(figures, 8),
    "identities": ContactSheet(identities, 6, (384, 384)),
    "expressions": ContactSheet(expressions, 12),
    "poses": ContactSheet(poses, 7),
    "props": ContactSheet(props, 12),
    "accessories": ContactSheet(accessories, 6),
    "tints": ContactSheet(tints, 8),
    "places": ContactSheet(places, 10),
    "light": ContactSheet(light, 6),
    "cameras": ContactSheet(cameras, 6),
    "company": ContactSheet(company, 4, (512, 448)),
    "skeletons": ContactSheet(skeletons, 7),
    "finishes": ContactSheet(finishes, 5),
}


def make_sheets(out: Path, names: list[str], width: int) -> Iterator[Path]:
    """Draws the named sheets as JPEG and yields the path of each."""
    out.mkdir(parents=True, exist_ok=True)
    for name in names:
        sheet = SHEETS[name]
        columns = sheet.columns
        cell = (width // columns, width // columns * sheet.size[1] // sheet.size[0])
        cells = [fitted(draw(description, sheet.size).image, cell) for description in sheet.cells()]
        while len(cells) % columns:
            cells.append(np.full_like(cells[0], 245))
        rows = [np.hstack(cells[i : i + columns]) for i in range(0, len(cells), columns)]
        path = out / f"{name}.jpg"
        cv2.imwrite(str(path), np.vstack(rows)[:, :, ::-1], [cv2.IMWRITE_JPEG_QUALITY, 82])
        yield path

"""`./moss sheets`: contact sheets of everything the illustrator can draw, to be looked at."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from itertools import cycle
from pathlib import Path

import cv2
import numpy as np

from mosskeeper.core.illustrator.description import Description, Face, Layout
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.illustrator.hair import STYLES
from mosskeeper.core.illustrator.headwear import HEADWEAR
from mosskeeper.core.illustrator.places import PLACES
from mosskeeper.core.illustrator.props import PROPS
from mosskeeper.core.illustrator.vocabulary.colours import CLOTH, EYE_COLOURS, HAIR_COLOURS, SKINS
from mosskeeper.core.illustrator.vocabulary.finishes import FINISHES
from mosskeeper.core.illustrator.vocabulary.light import MOODS, TIMES, WEATHERS
from mosskeeper.core.illustrator.vocabulary.outfits import OUTFITS, PATTERNS, USUAL_COLOURS
from mosskeeper.core.illustrator.vocabulary.people import BUILDS, EXPRESSIONS, SUBJECTS
from mosskeeper.core.illustrator.vocabulary.poses import POSES

_PLAIN = Description(place="fern house", time="noon")


def _dressed(base: Description, outfit: str, **more: object) -> Description:
    a, b = (tuple(map(float, CLOTH[name])) for name in USUAL_COLOURS[outfit])
    return replace(base, outfit=outfit, colour_a=a, colour_b=b, **more)  # type: ignore[arg-type]


def _full(pose: str = "standing") -> Layout:
    return Layout(pose, "full")


def _bust(pose: str = "facing") -> Layout:
    return Layout(pose, "bust")


def outfits() -> Iterator[Description]:
    subjects, poses, patterns = cycle(SUBJECTS), cycle(("standing", "walking", "hands on hips")), cycle(PATTERNS)
    for outfit in OUTFITS:
        yield _dressed(_PLAIN, outfit, subject=next(subjects), pattern=next(patterns), layout=_full(next(poses)))


def hair() -> Iterator[Description]:
    colours, eyes, skins = cycle(HAIR_COLOURS), cycle(EYE_COLOURS), cycle(SKINS)
    for style in STYLES:
        yield replace(_PLAIN, hair=style, hair_colour=next(colours), eyes=next(eyes), skin=next(skins), layout=_bust())
    for wear, style in zip([w for w in HEADWEAR if w != "none"], ("curls", "cropped", "braid"), strict=True):
        yield replace(_PLAIN, headwear=wear, hair=style, layout=_bust())


def people() -> Iterator[Description]:
    for subject in SUBJECTS:
        for build in BUILDS:
            yield replace(_PLAIN, subject=subject, build=build, hair="bob" if "man" not in subject else "cropped", layout=_full("facing"))


def identities() -> Iterator[Description]:
    for i, (skin, style, colour) in enumerate(zip(SKINS, STYLES, HAIR_COLOURS, strict=False)):
        face = Face.sampled(np.random.default_rng(100 + i))
        for expression in ("calm", "laughing", "angry", "surprised"):
            yield replace(
                _PLAIN, skin=skin, hair=style, hair_colour=colour, face=face, expression=expression, freckles=i % 3 == 0, layout=_bust()
            )


def expressions() -> Iterator[Description]:
    for subject in ("woman", "old man"):
        for expression in EXPRESSIONS:
            yield replace(_PLAIN, subject=subject, hair="bun" if subject == "woman" else "receding", expression=expression, layout=_bust())


def poses() -> Iterator[Description]:
    for pose in POSES:
        yield replace(_PLAIN, layout=_full(pose))


def props() -> Iterator[Description]:
    for prop in PROPS:
        yield replace(_PLAIN, prop=prop, layout=_full("presenting"))


def places() -> Iterator[Description]:
    for place in PLACES:
        for time in TIMES:
            yield _dressed(_PLAIN, "travelling coat", place=place, time=time, layout=_full())


def light() -> Iterator[Description]:
    for mood in MOODS:
        yield replace(_PLAIN, light=mood, place="library stair", layout=Layout("standing", "half"))
    for weather in WEATHERS:
        yield replace(_PLAIN, weather=weather, place="roof garden", layout=Layout("standing", "half"))


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
    "outfits": (outfits, 6), "hair": (hair, 7), "people": (people, 5), "identities": (identities, 8), "expressions": (expressions, 11),
    "poses": (poses, 7), "props": (props, 6), "places": (places, 10), "light": (light, 6), "finishes": (finishes, 5),
}  # fmt: skip


def make_sheets(out: Path, names: list[str], width: int) -> Iterator[Path]:
    """Draws the named sheets (all without a name) as JPEG and yields the path of each."""
    out.mkdir(parents=True, exist_ok=True)
    for name in names or list(SHEETS):
        describe, columns = SHEETS[name]
        cells = []
        for description in describe():
            image = draw(description, (384, 480)).image
            cell_width = width // columns
            cells.append(cv2.resize(image, (cell_width, cell_width * 5 // 4), interpolation=cv2.INTER_AREA))
        while len(cells) % columns:
            cells.append(np.full_like(cells[0], 245))
        rows = [np.hstack(cells[i : i + columns]) for i in range(0, len(cells), columns)]
        path = out / f"{name}.jpg"
        cv2.imwrite(str(path), np.vstack(rows)[:, :, ::-1], [cv2.IMWRITE_JPEG_QUALITY, 82])
        yield path

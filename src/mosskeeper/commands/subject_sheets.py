"""`./moss sheets subject`: a row a person, the reference at the left, then the takes of six fresh scenes that it was given to by the face."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from mosskeeper.commands.mend_sheets import sheet
from mosskeeper.commands.subject_people import SCENES, people, portrait
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import scene_of
from mosskeeper.core.reading.reading import measured
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.references.of_scene import contents_of_scenes
from mosskeeper.core.takes.take import make_take

_ROWS = 8  # people on one sheet
_NAME = "a" * 64


def make(out: Path, width: int) -> Iterator[Path]:
    """Draws the sheets into a folder and yields their paths."""
    out.mkdir(parents=True, exist_ok=True)
    rows = []
    for n in range(len(people())):
        rows.append(_row(n))
        if len(rows) == _ROWS:
            path = out / f"subject-{n // _ROWS + 1}.png"
            Image.fromarray(sheet(rows, width)).save(path)
            rows = []
            yield path


def _row(n: int) -> list[NDArray[np.uint8]]:
    """Person `n`: the bust that is the reference, and the takes."""
    scene = scene_of(portrait(people()[n], n), (512, 640))
    picture = draw_scene(scene).image
    reading = replace(measured(picture), contents=contents_of_scenes(LayeredScenes.of([scene])))
    cue = Cue(id="1", role="face", picture=_NAME, weight=0.8)
    recipes = (Recipe(words=words, styles=styles, width=384, height=480, cues=[cue]) for words, styles in SCENES)
    return [picture, *(make_take(r, 1000 * n + k, {_NAME: picture}, readings={_NAME: reading}).image for k, r in enumerate(recipes))]

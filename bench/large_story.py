"""A story far larger than the demo: a library of 5,000 pictures, a board of 300 cells, a sweep of 60."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from sqlalchemy import select
from sqlalchemy.orm import Session

from mosskeeper.core.continuity.likeness import LENGTH
from mosskeeper.core.pictures.resample import fitted
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.sweep import Dial
from mosskeeper.studio import cast, library, measures, pictures, runs, shots, stories, takes, working
from mosskeeper.studio.models import Anchor, Entry, Outfit, StoryScene, Take

LIBRARY, SCENES, OUTFITS, CELLS = 5000, 15, 20, 60
_SEEN = 200  # distinct pictures
_WORDS = ("moss", "roof", "lantern", "rain", "kite", "market", "stair", "fern", "coat", "letter")


def make(session: Session) -> dict[str, str]:
    """Makes it and gives the address of each page that is measured, by what it shows."""
    rng = np.random.default_rng(8)
    demo_takes = session.scalars(select(Take).order_by(Take.id)).all()
    sources = [pictures.pixels(session, take.picture_sha256) for take in demo_takes[:20]]
    story = stories.create(session, "A Large Story")
    names = [pictures.store(session, _varied(sources[n % len(sources)], rng), f"study {n}", "upload").sha256 for n in range(_SEEN)]
    _library(session, story.id, names, rng)
    _board(session, story.id, names)
    run_id = _sweep(session, names)
    entry = session.scalars(select(Entry).where(Entry.story_id == story.id).limit(1)).one()
    at = f"/library?story={story.id}"
    return {
        f"library of {LIBRARY}": at,
        f"library of {LIBRARY}, by words": f"{at}&words=moss+roof",
        f"library of {LIBRARY}, by colour": f"{at}&colour=%23b87333",
        f"library of {LIBRARY}, by likeness": f"{at}&like={entry.picture_sha256}",
        f"board of {SCENES * OUTFITS} cells": f"/stories/{story.id}",
        f"sweep of {CELLS} cells": f"/sweeps/{run_id}",
    }


def _varied(image: NDArray[np.uint8], rng: np.random.Generator) -> NDArray[np.uint8]:
    shifted = np.roll(image, int(rng.integers(-40, 40)), axis=1).astype(np.int16) + rng.integers(-30, 30, 3)
    return fitted(np.clip(shifted, 0, 255).astype(np.uint8), (256, 320))


def _library(session: Session, story_id: int, names: list[str], rng: np.random.Generator) -> None:
    for n in range(LIBRARY):
        words = " ".join(rng.choice(_WORDS, 6))
        palette = (
            np.concatenate([rng.uniform([20, -30, -30], [90, 40, 50], (10, 3)), np.full((10, 1), 0.1)], 1).astype(np.float16).tobytes()
        )
        vector = rng.normal(size=LENGTH)
        session.add(
            Entry(
                picture_sha256=names[n % len(names)],
                story_id=story_id,
                kind="upload",
                name=f"study {n}",
                words=words,
                palette=palette,
                likeness=(vector / np.linalg.norm(vector)).astype(np.float16).tobytes(),
                likeness_version=library.version(),
            )
        )
    session.flush()


def _board(session: Session, story_id: int, names: list[str]) -> None:
    character = cast.add_character(session, story_id, "Ada Reed", "girl, short curls")
    session.add(Anchor(character_id=character.id, picture_sha256=names[0], lead=True))
    scenes = [StoryScene(story_id=story_id, name=f"Scene {n}", words="in the fern house") for n in range(SCENES)]
    outfits = [Outfit(character_id=character.id, name=f"outfit {n}", words="a red tunic") for n in range(OUTFITS)]
    session.add_all([*scenes, *outfits])
    session.flush()
    recipe = Recipe(words="a girl", width=256, height=320, count=1)
    for k, (scene, outfit) in enumerate((s, o) for s in scenes for o in outfits):
        shot = shots.create(session, story_id, f"Shot {k}", scene.id, character.id, outfit.id, recipe)
        run = runs.create(session, shot, recipe)
        take = Take(shot_id=shot.id, run_id=run.id, place=0, number=1, seed=run.seeds[0], picture_sha256=names[k % len(names)], seconds=1.0)
        session.add(take)
        session.flush()
        takes.keep(session, take.id)
        working.end(session, run, "done")


def _sweep(session: Session, names: list[str]) -> int:
    shot = shots.create(session, 1, "A large sweep", None, 1)
    recipe = Recipe(words="a girl", width=256, height=320, cues=[Cue(picture=names[0], name="anchor")])
    dials = [
        Dial(name="cue-0-weight", values=tuple(n / 9 for n in range(10))),
        Dial(name="guidance", values=(2.0, 4.0, 6.0, 8.0, 10.0, 12.0)),
    ]
    run = runs.create(session, shot, recipe, dials)
    for place, seed in enumerate(run.seeds):
        take = working.store_take(session, run.id, place, seed, pictures.pixels(session, names[place]), 1.0)
        measures.of_take(session, take)
        library.look(session, library.of_take(session, take.id))
    working.end(session, run, "done")
    return run.id

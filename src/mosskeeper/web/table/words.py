"""Words for a shot: variations, fresh ones, and those that a picture suggests."""

from __future__ import annotations

import numpy as np
from fastapi import APIRouter
from fastapi.responses import Response
from sqlalchemy.orm import Session

from mosskeeper.core.cue_sheet import soloed
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.reading.measures import named_palette
from mosskeeper.core.words.compose import fresh_prompt, variations
from mosskeeper.core.words.describe import DescribedWords, describe
from mosskeeper.queue.app import submit
from mosskeeper.studio import pictures, readings, shots
from mosskeeper.web.deps import Db, Id, Look, Queue, Sha, Text
from mosskeeper.web.render import fragment, part, parts
from mosskeeper.web.table import view as table

router = APIRouter()
_OFFERED = 4


@router.get("/shots/{shot_id}/words/variations")
def varied(db: Look, shot_id: Id) -> Response:
    """The words on the table, varied in one or two things each."""
    words = shots.draft(shots.find(db, shot_id)).words
    offers = [DescribedWords("variation", text) for text in variations(words, _OFFERED, np.random.default_rng())]
    return _offered(shot_id, offers)


@router.get("/shots/{shot_id}/words/fresh")
def fresh(db: Look, shot_id: Id) -> Response:
    shots.find(db, shot_id)
    rng = np.random.default_rng()
    return _offered(shot_id, [DescribedWords("fresh", fresh_prompt(rng)) for _ in range(_OFFERED)])


@router.get("/shots/{shot_id}/words/from/{sha256}")
def from_picture(db: Look, shot_id: Id, sha256: Sha) -> Response:
    """Four descriptions of a picture."""
    return _offered(shot_id, _described(db, sha256), sha256)


def _described(db: Session, sha256: str) -> list[DescribedWords]:
    pictures.find(db, sha256)
    reading = readings.known(db, sha256)
    if reading is None:
        raise ArtistError("This picture is still being read. Try again in a moment.", "words")
    return describe(reading.attributes, [colour.name for colour in named_palette(reading.palette)])


def _offered(shot_id: int, offers: list[DescribedWords], sha256: str = "") -> Response:
    return parts(part("word-offers", fragment("table/word_offers.html", {"shot_id": shot_id, "offers": offers, "picture": sha256})))


@router.post("/shots/{shot_id}/words/run-all")
def run_all(db: Db, queue: Queue, shot_id: Id, picture: Text) -> Response:
    """Runs all descriptions of a picture, one take each, in place of the words on the table, which stay."""
    shot = shots.find(db, shot_id)
    recipe = soloed(shots.draft(shot)).model_copy(update={"count": 1, "given": ""})
    for words in _described(db, picture):
        submit(db, queue, shot, recipe.model_copy(update={"words": words.words}))
    return parts(part("word-offers", ""), *table.run_parts(table.gather(db, shot_id)))

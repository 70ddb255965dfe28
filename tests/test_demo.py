"""The demo story, thrown away and made anew."""

import numpy as np
import pytest
from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.pictures.decode import encode_png
from mosskeeper.core.recipe import Recipe
from mosskeeper.demo import build
from mosskeeper.studio import library, presets, stories
from mosskeeper.studio.library import SearchQuery
from mosskeeper.studio.models import Character, Story, Take

pytestmark = pytest.mark.process


def test_the_demo_is_made_anew_and_what_an_artist_brought_in_stays(
    make_session: sessionmaker[Session], database_url: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(build, "SHOTS", ())
    monkeypatch.setattr(build, "CAST", build.CAST[:1])
    build.make(database_url, lambda _: None)
    with make_session.begin() as session:
        story = session.scalars(select(Story)).one()
        first = session.scalars(select(Take.picture_sha256).order_by(Take.id)).all()
        other = stories.create(session, "Mine").id
        library.upload(session, [("study.png", encode_png(np.full((40, 40, 3), 90, np.uint8)))], story.id)
        presets.save(session, "Misty", Recipe(words="x"), session.scalars(select(Character.id)).one())
    build.reset(database_url, lambda _: None)
    with make_session() as session:
        assert session.get(Story, other) is not None
        assert session.scalars(select(Take.picture_sha256).order_by(Take.id)).all() == first  # fixed seeds: the same pictures
        assert [entry.name for entry in library.search(session, SearchQuery(studio=True)).entries] == ["study"]
        assert library.search(session, SearchQuery(kind="take")).total == len(first)

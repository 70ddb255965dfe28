"""What begins from a picture: runs that start from it, variations, people cut out of it; live pictures found again."""

import httpx
import numpy as np
import pytest
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.recipe import Recipe
from mosskeeper.studio import beginnings, drafts, maps, pictures, runs, seen_live, shots, working
from mosskeeper.studio.models import Shot
from tests.conftest import SMALL, lay_out

Sessions = sessionmaker[Session]


@pytest.fixture
def shot(make_session: Sessions) -> Shot:
    with make_session.begin() as session:
        return lay_out(session)


def stored(make_session: Sessions, size: tuple[int, int] = (256, 320), tone: int = 90) -> str:
    with make_session.begin() as session:
        return pictures.store(session, np.full((size[1], size[0], 3), tone, np.uint8), "a picture", "upload").sha256


def recipe(make_session: Sessions, shot: Shot) -> Recipe:
    with make_session() as session:
        return drafts.of_shot(shots.find(session, shot.id))


def test_runs_begin_from_a_picture_in_its_shape_and_from_noise_again(client: httpx.Client, make_session: Sessions, shot: Shot) -> None:
    name = stored(make_session, (384, 256))
    assert client.post(f"/shots/{shot.id}/begin/{name}").json() == {"to": f"/shots/{shot.id}"}
    begun = recipe(make_session, shot)
    assert begun.source is not None
    assert (begun.source.picture, begun.source.strength, begun.width, begun.height) == (name, beginnings.STRENGTH, 384, 256)
    assert 'name="source-strength"' in client.get(f"/shots/{shot.id}").text
    client.post(f"/shots/{shot.id}/draft", data={"source-strength": "0.75", "was-source-strength": "0.5"})
    changed = recipe(make_session, shot).source
    assert changed is not None
    assert changed.strength == 0.75
    client.post(f"/shots/{shot.id}/draft", data={"source-strength": "7", "was-source-strength": "0.75"})
    assert recipe(make_session, shot).source == changed
    assert client.post(f"/shots/{shot.id}/begin-anew").headers["hx-refresh"] == "true"
    assert recipe(make_session, shot).source is None
    assert "begins-from" not in client.get(f"/shots/{shot.id}").text


def test_variations_of_a_take_are_of_what_made_it_and_leave_the_table(client: httpx.Client, make_session: Sessions, shot: Shot) -> None:
    with make_session.begin() as session:
        run = runs.create(session, shots.find(session, shot.id), SMALL.model_copy(update={"words": "an old man", "count": 1}))
        working.begin(session, run.id, "test")
        working.store_take(session, run.id, 0, 5, np.full((320, 256, 3), 33, np.uint8), 1.0)
        working.end(session, run, "done")
        name = run.takes[0].picture_sha256
    before = recipe(make_session, shot)
    assert "on their way" in client.post(f"/shots/{shot.id}/begin/{name}/vary?amount=0.5").json()["says"]
    with make_session() as session:
        newest = runs.current(session, shot.id)
        assert newest is not None
        made = runs.recipe_of_place(newest, 0)
    assert made.words == "an old man"
    assert made.source is not None
    assert (made.source.picture, made.source.strength) == (name, 0.5)
    assert recipe(make_session, shot) == before


@pytest.mark.parametrize("path", ["/shots/{shot}/begin/{none}", "/shots/{shot}/begin/{none}/vary", "/shots/999/begin/{name}"])
def test_what_is_not_there_begins_nothing(client: httpx.Client, make_session: Sessions, shot: Shot, path: str) -> None:
    name = stored(make_session)
    assert client.post(path.format(shot=shot.id, none="0" * 64, name=name)).status_code == 404


def test_two_that_begin_at_once_leave_one_source(make_session: Sessions, shot: Shot) -> None:
    one, other = stored(make_session, tone=10), stored(make_session, tone=200)
    with make_session.begin() as first:
        beginnings.begin_from(first, shot.id, one)
    with make_session.begin() as second:
        beginnings.begin_from(second, shot.id, other)
    source = recipe(make_session, shot).source
    assert source is not None
    assert source.picture == other
    with make_session.begin() as session:
        drafts.walk(session, shot.id, -1)
    back = recipe(make_session, shot).source
    assert back is not None
    assert back.picture == one


def test_a_cut_out_is_asked_for_made_by_a_worker_and_taken(client: httpx.Client, make_session: Sessions) -> None:
    name = stored(make_session)
    assert client.get(f"/pictures/{name}/cut-out.png").status_code == 404
    assert client.post(f"/pictures/{name}/cut-out").status_code == 202
    with make_session.begin() as session:
        maps.make(session, maps.of_picture("cut-out", name))
    refused = client.post(f"/pictures/{name}/cut-out")
    assert refused.status_code == 422
    assert "Nobody was found" in refused.json()["problem"]


def test_the_last_hundred_live_pictures_are_found_with_their_boards(client: httpx.Client, make_session: Sessions, shot: Shot) -> None:
    with make_session.begin() as session:
        drafts.edit(session, shot.id, lambda now: now.model_copy(update={"words": "as it was seen"}))
        seen_live.note(session, shot.id, 7, b"first")
        seen_live.note(session, shot.id, 7, b"the same board again")
        drafts.edit(session, shot.id, lambda now: now.model_copy(update={"words": "later"}), alone=True)
        for seed in range(seen_live.MOST - 1):
            seen_live.note(session, shot.id, seed, b"more")
    with make_session() as session:
        seen = seen_live.of_shot(session, shot.id)
    assert len(seen) == seen_live.MOST
    assert client.get(f"/shots/{shot.id}/seen-live").text.count("/back") == seen_live.MOST
    assert client.get(f"/seen-live/{seen[-1].id}.jpg").content == b"the same board again"
    back = client.post(f"/seen-live/{seen[-1].id}/back", follow_redirects=False)
    assert back.headers["location"] == f"/shots/{shot.id}/sketch?seed=7"
    assert recipe(make_session, shot).words == "as it was seen"
    with make_session.begin() as session:
        seen_live.note(session, shot.id, 1, b"one more")
    assert client.get(f"/seen-live/{seen[-1].id}.jpg").status_code == 404

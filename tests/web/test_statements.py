"""No page asks the database once more for each thing it shows."""

from collections.abc import Callable, Iterator

import numpy as np
import pytest
from fastapi.testclient import TestClient
from sqlalchemy import event
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.pictures.decode import encode_png
from mosskeeper.core.sweep import Dial
from mosskeeper.settings import Settings
from mosskeeper.studio import cast, drafts, library, pictures, presets, readings, runs, sheets, shots, stories, takes, working
from mosskeeper.studio.models import Shot
from mosskeeper.web.app import create_app
from tests.conftest import SMALL

Count = Callable[[str], int]


@pytest.fixture
def count(database_url: str) -> Iterator[Count]:
    """How many statements a page takes."""
    from pathlib import Path

    app = create_app(Settings(database_url, Path("unused"), (), 1, 4))
    statements: list[str] = []
    engine = app.state.sessions.kw["bind"]
    event.listen(engine, "before_cursor_execute", lambda _c, _cur, statement, *_: statements.append(statement))
    with TestClient(app, base_url="http://127.0.0.1") as client:

        def counted(address: str) -> int:
            client.get(address)  # what is done once is done
            statements.clear()
            answer = client.get(address)
            assert answer.status_code == 200, (address, answer.text[:300])
            return len(statements)

        yield counted


def picture(n: int) -> np.ndarray:
    image = np.full((40, 32, 3), 90, np.uint8)
    image[0, 0] = (n % 250, n // 250, 7)
    return image


def grown(session: Session, n: int) -> dict[str, str]:
    """A story with n of everything, and the address of each of its pages."""
    story = stories.create(session, f"Of {n}")
    character = cast.add_character(session, story.id, "Ada Reed", "girl")
    made: list[Shot] = []
    for k in range(n):
        outfit = cast.add_outfit(session, character.id, f"outfit {k}")
        scene = cast.add_scene(session, story.id, f"scene {k}", "in the bell tower")
        cast.add_character(session, story.id, f"Other {k}")
        made.append(shots.create(session, story.id, f"Shot {k}", scene.id, character.id, outfit.id, SMALL))
        presets.save(session, f"preset {k}", SMALL, character.id)
    first = made[0]
    for k, shot in enumerate(made):
        run = runs.create(session, shot, SMALL.model_copy(update={"count": 1}))
        take = working.store_take(session, run.id, 0, 5, picture(1000 * n + k), 1.0)
        takes.keep(session, take.id)
        cast.make_anchor(session, take, lead=k == 0)
        working.end(session, run, "done")
        further = runs.create(session, first, SMALL.model_copy(update={"count": 1}))
        working.store_take(session, further.id, 0, 5, picture(1000 * n + 400 + k), 1.0)
        working.end(session, further, "failed" if k % 2 else "done", "So it went.")
        drafts.edit(session, first.id, lambda now, k=k: now.model_copy(update={"steps": 7 + k}))  # type: ignore[misc]
    sweep = runs.create(session, first, SMALL, [Dial(name="guidance", values=tuple(2.0 + 0.1 * k for k in range(n)))])
    for k in range(n):
        working.store_take(session, sweep.id, k, 5, picture(1000 * n + 800 + k), 1.0)
    working.end(session, sweep, "done")
    put = sheets.put_on(
        session, character.id, [pictures.store(session, picture(1000 * n + 900 + k), f"{k}", "upload").sha256 for k in range(n)]
    )
    begun = sheets.begin(session, character.id, "poses", own="\n".join(f"with {k} cats" for k in range(min(n, 20))))
    of_character = [runs.create(session, one.shot, one.recipe, one.dials) for one in (put, begun)]
    for one in of_character:
        for k in range(n if one is of_character[0] else 3):
            working.store_take(session, one.id, k, 5, picture(1000 * n + 940 + k), 1.0)
    return {
        "faces": f"/faces/{of_character[0].id}",
        "sheet": f"/sheets/{of_character[1].id}",
        "board": f"/stories/{story.id}",
        "check": f"/stories/{story.id}/check",
        "running": f"/stories/{story.id}/running",
        "light table": f"/shots/{first.id}",
        "history": f"/shots/{first.id}/history",
        "presets": f"/shots/{first.id}/presets",
        "sweep form": f"/shots/{first.id}/sweep",
        "sweep": f"/sweeps/{sweep.id}",
        "character": f"/characters/{character.id}",
        "library": f"/library?story={story.id}",
        "ledger": f"/stories/{story.id}/ledger",
    }


@pytest.mark.statistics
def test_a_page_of_thirty_takes_as_many_statements_as_one_of_three(make_session: sessionmaker[Session], count: Count) -> None:
    with make_session.begin() as session:
        few, many = grown(session, 3), grown(session, 30)
    taken = {name: (count(few[name]), count(many[name])) for name in few}
    assert {name: pair for name, pair in taken.items() if pair[0] != pair[1]} == {}
    assert max(pair[1] for pair in taken.values()) <= 30, taken


def test_the_shelf_takes_as_many_statements_with_thirty_stories(make_session: sessionmaker[Session], count: Count) -> None:
    with make_session.begin() as session:
        grown(session, 3)
    before = count("/")
    with make_session.begin() as session:
        for n in range(30):
            stories.create(session, f"Story {n}")
    assert count("/") == before


def test_a_sheet_with_many_cues_takes_as_many_statements_as_one_with_two(make_session: sessionmaker[Session], count: Count) -> None:
    with make_session.begin() as session:
        address = grown(session, 3)["light table"]
        shot_id = int(address.rsplit("/", 1)[1])
        names = []
        for k in range(10):
            entry = library.upload(session, [(f"{k}.png", encode_png(picture(5000 + k)))], None)[0][0]
            readings.of_picture(session, entry.picture_sha256)
            names.append(entry.picture_sha256)
        for name in names[:2]:
            shots.add_cue(session, shot_id, name)
    two = count(address)
    with make_session.begin() as session:
        for name in names[2:]:
            shots.add_cue(session, shot_id, name)
    assert count(address) == two


def test_every_foreign_key_has_an_index_and_says_what_a_deletion_does(make_session: sessionmaker[Session]) -> None:
    with make_session() as session:
        keys = (
            session.connection()
            .exec_driver_sql(
                """
            select c.conrelid::regclass::text, a.attname, c.confdeltype,
                   exists (select from pg_index i where i.indrelid = c.conrelid and i.indkey[0] = c.conkey[1] and i.indpred is null)
            from pg_constraint c join pg_attribute a on a.attrelid = c.conrelid and a.attnum = c.conkey[1]
            where c.contype = 'f' and c.conrelid::regclass::text !~ 'procrastinate'
            """
            )
            .all()
        )
    assert len(keys) > 20
    assert [(table, column) for table, column, _, indexed in keys if not indexed] == []
    assert [(table, column) for table, column, action, _ in keys if action == "a"] == []  # no action: nobody thought of it

"""A studio of an earlier release, brought up to date: the tables, the queue's tables, and every recipe in it."""

import subprocess
from pathlib import Path

import httpx
import psycopg
import pytest
from sqlalchemy import select
from sqlalchemy.orm import Session

from mosskeeper import backup
from mosskeeper.backup import BackupError
from mosskeeper.cluster import Cluster, binaries
from mosskeeper.core.recipe import Recipe, read_recipe
from mosskeeper.core.recipe_versions import STEPS, VERSION
from mosskeeper.migrate import upgrade
from mosskeeper.queue import schema
from mosskeeper.queue.app import queue_app, submit
from mosskeeper.studio import drafts, presets, runs, shots, stories, takes
from mosskeeper.studio.database import connect, sessions
from mosskeeper.studio.models import Draft, Preset, Run, Shot, Story, Take
from tests.conftest import Processes, wait_for

DATA = Path(__file__).parent / "data"
OLD = DATA / "studio_0005.dump"  # made by the demo builder of the release before the sixth migration, in small


@pytest.fixture
def empty(cluster: Cluster, request: pytest.FixtureRequest) -> str:
    """A database without any table."""
    return cluster.ensure_database(f"empty_{abs(hash(request.node.nodeid))}")


@pytest.fixture
def old(empty: str) -> str:
    subprocess.run(
        [str(binaries() / "pg_restore"), "--no-owner", "--clean", "--if-exists", "--dbname", empty, str(OLD)],
        check=True,
        capture_output=True,
    )
    upgrade(empty)
    return empty


def test_a_studio_of_an_earlier_release_opens_with_all_that_was_in_it(old: str) -> None:
    engine = connect(old)
    with sessions(engine)() as session:
        story = session.scalars(select(Story)).one()
        board = stories.board(session, story.id)
        assert sum(cell.take is not None for _, cells in board.rows for row in cells for cell in row) >= 1
        shot = session.scalars(select(Shot).order_by(Shot.id.desc()).limit(1)).one()
        table = drafts.of_shot(shot)
        assert (table.words, [cue.id for cue in table.cues], table.guidance) == ("first words", ["0", "1"], 7.0)  # the last edit was undone
        assert all(drafts.can_walk(session, shot))
        assert all(read_recipe(draft.body).version == VERSION for draft in session.scalars(select(Draft)))
        for take in session.scalars(select(Take)):
            assert takes.recipe_of(takes.find(session, take.id)).seed == take.seed
        preset = session.scalars(select(Preset)).one()
        assert presets.applied(preset, Recipe(), True).guidance == 5.0
    engine.dispose()


def test_undo_walks_through_what_an_earlier_release_kept(old: str) -> None:
    engine = connect(old)
    with sessions(engine).begin() as session:
        shot = session.scalars(select(Shot).order_by(Shot.id.desc()).limit(1)).one()
        drafts.walk(session, shot.id, 1)
        assert drafts.of_shot(shot).guidance == 5.0
        for _ in range(3):
            drafts.walk(session, shot.id, -1)
        assert drafts.of_shot(shot).words != "first words"
        assert [bool(way) for way in drafts.can_walk(session, shot)] == [False, True]
    engine.dispose()


@pytest.mark.process
def test_runs_and_sweeps_that_waited_are_made_and_can_be_downloaded(old: str, tmp_path: Path) -> None:
    processes, engine = Processes(old, tmp_path), connect(old)
    try:
        with sessions(engine).begin() as session:
            waiting = list(session.scalars(select(Run.id).where(Run.state == "waiting")))
            shot = session.scalars(select(Shot).order_by(Shot.id.desc()).limit(1)).one()
            again = submit(session, queue_app(old), shot, drafts.of_shot(shot).model_copy(update={"count": 1, "seed": 3})).id
        assert len(waiting) == 2
        processes.worker()
        url = processes.web()

        def state_of(session: Session, run_id: int) -> str:
            return runs.find(session, run_id).state

        def done() -> bool:
            with sessions(engine)() as session:
                return all(state_of(session, run_id) == "done" for run_id in [*waiting, again])

        wait_for(done, 120)
        with sessions(engine)() as session:
            sweep = session.get_one(Run, waiting[1])
            assert [runs.recipe_of_place(sweep, place).cues[1].weight for place in range(2)] == [0.2, 0.9]  # dials name cues as they did
            take = session.scalars(select(Take).where(Take.run_id == sweep.id)).first()
            assert take is not None
            assert httpx.get(f"{url}/takes/{take.id}/download").headers["content-type"] == "image/png"
            assert httpx.get(f"{url}/takes/{take.id}/recipe.json").json()["version"] == VERSION
    finally:
        processes.stop()
        engine.dispose()


def test_every_older_version_of_a_recipe_has_its_step() -> None:
    assert sorted(STEPS) == list(range(1, VERSION))


def test_cues_of_the_first_version_are_known_by_their_place() -> None:
    cue = {"picture": "a" * 64}
    recipe = read_recipe({"version": 1, "words": "x", "cues": [cue, cue], "regions": [{"mask": "b" * 64, "cues": [cue]}]})
    assert [c.id for c in recipe.cues] == ["0", "1"]
    assert recipe.regions[0].cues[0].id == "0"
    assert read_recipe({"words": "x", "cues": [cue]}).cues[0].id == "0"


# -- the queue's own tables ------------------------------------------------------------------------------------


def names(url: str) -> list[str]:
    with psycopg.connect(url) as connection:
        return [name for (name,) in connection.execute("select name from queue_migrations order by name")]


def test_the_queue_s_tables_of_an_older_library_are_brought_up_to_date(empty: str) -> None:
    with psycopg.connect(empty, autocommit=True) as connection:
        connection.execute((DATA / "queue_3.3.0.sql").read_bytes())
        connection.execute("create table queue_migrations (name text primary key, applied_at timestamptz not null default now())")
        for path in schema.migrations():
            if path.name < "03.04":
                connection.execute("insert into queue_migrations (name) values (%s)", (path.name,))
        retry = "select to_regproc('procrastinate_retry_job_v2') is not null"
        assert connection.execute(retry).fetchone() == (False,)
        schema.install(empty)
        assert connection.execute(retry).fetchone() == (True,)
    schema.install(empty)  # harmless
    assert names(empty) == [path.name for path in schema.migrations()]


def test_a_new_database_has_no_migration_to_make_up_for(empty: str) -> None:
    schema.install(empty)
    assert names(empty) == [path.name for path in schema.migrations()]


# -- backups -----------------------------------------------------------------------------------------------------


def test_a_backup_holds_everything_and_opens_in_an_empty_studio(old: str, cluster: Cluster, tmp_path: Path) -> None:
    file, other = tmp_path / "studio.backup", cluster.ensure_database("restored")
    backup.back_up(old, file)
    upgrade(other)  # an empty studio has its tables already
    backup.restore(other, file)
    engines = connect(old), connect(other)
    with sessions(engines[0])() as before, sessions(engines[1])() as after:
        for kind in (Story, Shot, Draft, Run, Take, Preset):
            assert before.scalars(select(kind)).all().__len__() == after.scalars(select(kind)).all().__len__() > 0
        story = after.scalars(select(Story)).one()
        assert stories.board(after, story.id).rows
        shot = after.scalars(select(Shot).order_by(Shot.id)).first()
        assert shot is not None
        assert shots.draft(shot) == shots.draft(before.get_one(Shot, shot.id))
    for engine in engines:
        engine.dispose()


def test_a_backup_is_refused_where_it_would_overwrite_or_is_none(old: str, empty: str, cluster: Cluster, tmp_path: Path) -> None:
    file = tmp_path / "studio.backup"
    backup.back_up(old, file)
    with pytest.raises(BackupError, match="overwrites nothing"):
        backup.back_up(old, file)
    with pytest.raises(BackupError, match="empty one"):
        backup.restore(old, file)
    (tmp_path / "letter.txt").write_text("no backup")
    with pytest.raises(BackupError, match="pg_restore gave up"):
        backup.restore(empty, tmp_path / "letter.txt")
    with pytest.raises(BackupError, match="no file"):
        backup.restore(empty, tmp_path / "nowhere")


def test_a_backup_of_a_newer_version_is_refused_with_what_to_do(old: str, cluster: Cluster, tmp_path: Path) -> None:
    with psycopg.connect(old) as connection:
        connection.execute("update alembic_version set version_num = '0999'")
    file = tmp_path / "newer.backup"
    backup.back_up(old, file)
    with pytest.raises(BackupError, match=r"newer version of Moss Keeper \(data version 0999.*Update Moss Keeper"):
        backup.restore(cluster.ensure_database("refused"), file)

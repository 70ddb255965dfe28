"""A real PostgreSQL for all tests: one private cluster, one template database, one copy for each test that asks."""

from __future__ import annotations

import contextlib
import gc
import itertools
import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import httpx
import pytest
from hypothesis import settings
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.cluster import Cluster, free_port
from mosskeeper.core.recipe import Recipe
from mosskeeper.migrate import upgrade
from mosskeeper.studio import cast, shots, stories
from mosskeeper.studio.database import connect, sessions
from mosskeeper.studio.models import Outfit, Shot, StoryScene

settings.register_profile("moss", deadline=None)  # speed is measured by ./moss bench
settings.load_profile("moss")
_WORKER = os.environ.get("PYTEST_XDIST_WORKER", "alone")
_TEMPLATE = f"template_{_WORKER}"
_names = (f"test_{_WORKER}_{i}" for i in itertools.count())
SMALL = Recipe(words="a girl in a red tunic in the bell tower, full figure", width=256, height=320, steps=6, count=2, seed=5)


_SHARED = pytest.StashKey[Path]()


def _quick_place() -> str:
    """In memory, where there is room: a fresh database a test is many small files."""
    return next((place for place in ("/dev/shm",) if Path(place).is_dir() and shutil.disk_usage(place).free > 2**32), "/var/tmp")


def pytest_configure(config: pytest.Config) -> None:
    """One folder for all parallel workers of a session: the first that needs PostgreSQL starts it there."""
    given = getattr(config, "workerinput", {}).get("shared")
    folder = Path(given or tempfile.mkdtemp(prefix="moss-tests-", dir=_quick_place()))
    folder.chmod(0o755)  # the server may run as another user
    config.stash[_SHARED] = folder


@pytest.hookimpl(optionalhook=True)
def pytest_configure_node(node: Any) -> None:
    node.workerinput["shared"] = str(node.config.stash[_SHARED])


_NEEDS = {"core": "unit", "training": "unit", "studio": "studio", "web": "http", "browser": "browser"}


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Each test is marked by what it needs, which its folder says: nothing but core, a database, HTTP, or Chromium."""
    here = Path(__file__).parent
    for item in items:
        item.add_marker(_NEEDS.get(item.path.relative_to(here).parts[0], "unit"))


def pytest_collection_finish() -> None:
    gc.collect()
    gc.freeze()  # some hundred thousand objects of modules and tests, which the collector would look at again and again


def pytest_unconfigure(config: pytest.Config) -> None:
    if hasattr(config, "workerinput"):
        return
    folder = config.stash[_SHARED]
    if (folder / "postgres").exists():
        Cluster(folder / "postgres", durable=False).stop()
    shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture(scope="session")
def shared(pytestconfig: pytest.Config) -> Path:
    """A folder that all parallel workers of this session share."""
    return pytestconfig.stash[_SHARED]


@pytest.fixture(scope="session")
def cluster(shared: Path) -> Cluster:
    made = Cluster(shared / "postgres", durable=False)
    made.start()
    upgrade(made.ensure_database(_TEMPLATE))
    return made


def fresh_database(cluster: Cluster) -> str:
    return cluster.ensure_database(next(_names), template=_TEMPLATE)


@pytest.fixture
def database_url(cluster: Cluster) -> str:
    return fresh_database(cluster)


@pytest.fixture
def make_session(database_url: str) -> Iterator[sessionmaker[Session]]:
    engine = connect(database_url)
    yield sessions(engine)
    engine.dispose()


@pytest.fixture
def db(make_session: sessionmaker[Session]) -> Iterator[Session]:
    with make_session.begin() as session:
        yield session


def lay_out(session: Session) -> Shot:
    """A story with a character, an outfit, a scene and one shot."""
    story = stories.create(session, "A Story", "About something.")
    character = cast.add_character(session, story.id, "Ada Reed", "girl, brown skin, short curls")
    outfit = Outfit(character_id=character.id, name="tunic", words="red tunic")
    scene = StoryScene(story_id=story.id, name="Bell tower", words="in the bell tower at noon")
    session.add_all([outfit, scene])
    session.flush()
    return shots.create(session, story.id, "First shot", scene.id, character.id, outfit.id, SMALL)


class Processes:
    """Real web servers and workers on a test's database."""

    def __init__(self, database_url: str, folder: Path) -> None:
        self.database_url, self.folder = database_url, folder
        self.started: list[subprocess.Popen[bytes]] = []

    def start(self, *arguments: str, **environment: str) -> subprocess.Popen[bytes]:
        log = (self.folder / f"{arguments[0]}-{len(self.started)}.log").open("wb")
        env = {**os.environ, "MOSS_DATABASE_URL": self.database_url, "MOSS_HEARTBEAT_SECONDS": "1", "MOSS_STALLED_SECONDS": "4"}
        process = subprocess.Popen([sys.executable, "-m", "mosskeeper", *arguments], env=env | environment, stdout=log, stderr=log)
        self.started.append(process)
        return process

    def web(self) -> str:
        port = free_port()
        self.start("web", "--port", str(port))
        url = f"http://127.0.0.1:{port}"

        def answers() -> bool:
            try:
                return httpx.get(f"{url}/static/app.css").status_code == 200
            except httpx.TransportError:
                return False

        wait_for(answers, 180)
        return url

    def worker(self) -> subprocess.Popen[bytes]:
        n = len(self.started)
        process = self.start("worker")
        log = self.folder / f"worker-{n}.log"
        wait_for(lambda: "is ready" in log.read_text(), 240)
        return process

    def last_words(self) -> str:
        """Ends all that still runs so that it says where it was (with PYTHONFAULTHANDLER), and what each said last."""
        told = []
        logs = sorted(self.folder.glob("*.log"), key=lambda path: int(path.stem.split("-")[-1]))
        for log, process in zip(logs, self.started, strict=True):
            ended = process.poll()
            if ended is None:
                process.send_signal(signal.SIGABRT)
                with contextlib.suppress(subprocess.TimeoutExpired):
                    process.wait(20)
            told.append(f"{log.name}, {'running' if ended is None else f'ended by itself: {ended}'}\n{log.read_text()[-6000:]}")
        return "\n\n".join(told)

    def stop(self) -> None:
        for process in self.started:
            process.terminate()
        for process in self.started:
            try:
                process.wait(1)
            except subprocess.TimeoutExpired:
                process.kill()  # nobody waits for what it is still making
                process.wait()


@pytest.fixture
def processes(database_url: str, tmp_path: Path) -> Iterator[Processes]:
    made = Processes(database_url, tmp_path)
    yield made
    made.stop()


def wait_for(condition: Callable[[], object], seconds: float = 120) -> object:
    """Returns what the condition gives as soon as it is true; fails after some seconds."""
    deadline = time.monotonic() + seconds
    while time.monotonic() < deadline:
        value = condition()
        if value:
            return value
        time.sleep(0.05)
    raise AssertionError(f"nothing came within {seconds} s")

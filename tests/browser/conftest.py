"""A real browser on real pages with a real worker, shared by all tests of this folder; a fresh story for each."""

from __future__ import annotations

import os
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from bench.chromium import EXECUTABLE, FLAGS
from playwright.sync_api import Browser, Page, expect, sync_playwright
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.cluster import Cluster
from mosskeeper.studio import cast, runs, takes, working
from mosskeeper.studio.database import connect, sessions
from mosskeeper.studio.models import Shot
from tests.conftest import SMALL, Processes, fresh_database, lay_out

_ONE_RENDERER = ["--renderer-process-limit=1", "--disable-site-isolation-trials"]  # a process for every page costs a second of each test
expect.set_options(timeout=60_000)  # three studios may share two slow cores


@pytest.fixture(scope="session")
def studio(
    cluster: Cluster, tmp_path_factory: pytest.TempPathFactory, request: pytest.FixtureRequest
) -> Iterator[tuple[str, sessionmaker[Session]]]:
    """The address of a running studio, and sessions on its database."""
    database_url = fresh_database(cluster)
    processes = Processes(database_url, tmp_path_factory.mktemp("studio"))
    engine = connect(database_url)
    try:
        processes.worker()
        yield processes.web(), sessions(engine)
    finally:
        engine.dispose()
        if request.session.testsfailed:
            Path(os.environ.get("MOSS_TEST_LOG", f"/tmp/moss-studio-{os.getpid()}.log")).write_text(processes.last_words())
        processes.stop()


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        made = playwright.chromium.launch(executable_path=EXECUTABLE, args=[*FLAGS, *_ONE_RENDERER])
        yield made
        made.close()


@pytest.fixture
def page(browser: Browser, studio: tuple[str, sessionmaker[Session]]) -> Iterator[Page]:
    """A page that fails the test when its scripts do."""
    context = browser.new_context(base_url=studio[0], viewport={"width": 1280, "height": 800}, accept_downloads=True)
    made = context.new_page()
    errors: list[str] = []
    made.on("pageerror", lambda error: errors.append(str(error)))
    answers: list[str] = []
    made.on("response", lambda r: answers.append(f"{r.status} {r.url}") if r.request.method == "POST" else None)
    yield made
    # shown where the test failed
    print(made.evaluate("['#run-state', '[data-clash]', '#save-state', '#notice'].map((id) => document.querySelector(id)?.innerText)"))
    print("\n".join(answers[-12:]))
    context.close()
    assert errors == []


@pytest.fixture
def shot(studio: tuple[str, sessionmaker[Session]]) -> Shot:
    with studio[1].begin() as session:
        return lay_out(session)


@pytest.fixture
def pictures(tmp_path: Path) -> Path:
    return tmp_path


@pytest.fixture
def taken(studio: tuple[str, sessionmaker[Session]]) -> Shot:
    """A shot with three finished takes, plain pictures, the first of them the lead anchor."""
    with studio[1].begin() as session:
        shot = lay_out(session)
        run = runs.create(session, shot, SMALL.model_copy(update={"count": 3, "seed": 40}))
        working.begin(session, run.id, "test")
        for place, seed in enumerate(run.seeds):
            tone = np.full((320, 256, 3), (60 * place + 40, 120, 200 - 50 * place), np.uint8)
            tone[shot.id % 200] = place  # pixels of this test alone
            working.store_take(session, run.id, place, seed, tone, 1.0)
        working.end(session, run, "done")
        cast.make_anchor(session, takes.find(session, run.takes[0].id), lead=True)
        session.refresh(shot)
        return shot

"""`./moss bench kills`: runs under workers that are killed, a database that stops, and web servers that restart.

100 runs of three small takes; at random moments, for ten minutes at the least, a worker gets SIGKILL, PostgreSQL is stopped or
killed and started again, or the web server is restarted. In the end every run must have its takes, each once.
"""

from __future__ import annotations

import os
import random
import signal
import time
import urllib.parse
import urllib.request

from sqlalchemy import func, select
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session, sessionmaker

from bench.report import Row, row
from bench.studio import BenchStudio, bench_studio, ended
from mosskeeper.core.recipe import Recipe
from mosskeeper.studio import cast, shots, stories
from mosskeeper.studio.database import connect, sessions
from mosskeeper.studio.models import Run, Take

RUNS, TAKES = 100, 3
_LEAST_SECONDS = 600
_MOST_SECONDS = 1800
_WORKERS = 2
_RECIPE = Recipe(words="a girl in the fern house", width=256, height=256, steps=8, count=TAKES)


def measure() -> list[Row]:
    with bench_studio(durable=True) as studio:
        engine = connect(studio.url)
        make_session = sessions(engine)
        with make_session.begin() as session:
            story = stories.create(session, "Under fire")
            cast.add_character(session, story.id, "Ada Reed", "girl, brown skin")
            shot_ids = [shots.create(session, story.id, f"Shot {n}", recipe=_RECIPE).id for n in range(10)]
        trouble = _Trouble(studio)
        try:
            seconds = trouble.go(make_session, shot_ids)
            rows = _judged(make_session)
        finally:
            trouble.end()
            engine.dispose()
        return [row("time under fire", seconds, "s", f">= {_LEAST_SECONDS}"), *trouble.told(), *rows]


class _Trouble:
    def __init__(self, studio: BenchStudio) -> None:
        self.studio, self.dice = studio, random.Random(7)
        self.workers = [studio.worker() for _ in range(_WORKERS)]
        self.web = studio.web()
        self.kills = self.stops = self.restarts = self.refused = 0

    def go(self, make_session: sessionmaker[Session], shot_ids: list[int]) -> float:
        """Until all runs are asked for and finished, and the least time is over."""
        began = time.monotonic()
        asked, next_run, next_blow = 0, began, began + 5
        while time.monotonic() - began < _MOST_SECONDS:
            now = time.monotonic()
            if asked < RUNS and now >= next_run:
                asked += self._asks(shot_ids[asked % len(shot_ids)])
                next_run = now + _LEAST_SECONDS / RUNS * 0.9
            if now >= next_blow and now - began < _LEAST_SECONDS:
                self._strikes()
                next_blow = now + self.dice.uniform(2, 9)
            self._tends()
            if asked == RUNS and now - began >= _LEAST_SECONDS and _all_ended(make_session):
                break
            time.sleep(0.2)
        return time.monotonic() - began

    def _asks(self, shot_id: int) -> bool:
        """Asks for a run as a browser does; an answer that did not come is asked for again later."""
        data = urllib.parse.urlencode({"seed": str(self.dice.randrange(2**31))}).encode()
        try:
            request = urllib.request.Request(f"{self.studio.base}/shots/{shot_id}/run", data, {"HX-Request": "true"})
            with urllib.request.urlopen(request, timeout=20) as answer:
                return bool(answer.status == 200)
        except OSError:
            self.refused += 1
            return False

    def _strikes(self) -> None:
        blow = self.dice.random()
        if blow < 0.7:
            self.dice.choice(self.workers).send_signal(signal.SIGKILL)
            self.kills += 1
        elif blow < 0.88:
            self.stops += 1
            if self.dice.random() < 0.5:
                self.studio.cluster.stop()
            else:
                pid = int((self.studio.cluster.data / "postmaster.pid").read_text().splitlines()[0])
                os.kill(pid, signal.SIGKILL)
            time.sleep(self.dice.uniform(0.2, 3))
            self.studio.cluster.start()
        else:
            self.restarts += 1
            ended(self.web)
            self.web = self.studio.web()

    def _tends(self) -> None:
        """What the start command does: brings dead parts back."""
        for n, worker in enumerate(self.workers):
            if worker.poll() is not None:
                self.workers[n] = self.studio.worker()
        if self.web.poll() is not None:
            self.web = self.studio.web()

    def told(self) -> list[Row]:
        return [
            row("workers killed", self.kills, "times"),
            row("PostgreSQL stopped or killed", self.stops, "times"),
            row("web server restarted", self.restarts, "times"),
            row("requests that had to be repeated", self.refused, "times"),
        ]

    def end(self) -> None:
        ended(*self.workers, self.web)


def _all_ended(make_session: sessionmaker[Session]) -> bool:
    try:
        with make_session() as session:
            return session.scalar(select(func.count()).select_from(Run).where(Run.state.in_(("waiting", "running", "stopping")))) == 0
    except DBAPIError:
        return False


def _judged(make_session: sessionmaker[Session]) -> list[Row]:
    with make_session() as session:
        states = dict(session.execute(select(Run.state, func.count()).group_by(Run.state)).all())
        total = sum(states.values())
        per_run = session.execute(
            select(Run.id, func.count(Take.id), func.count(func.distinct(Take.place))).outerjoin(Take).group_by(Run.id)
        ).all()
    lost = sum(max(0, TAKES - places) for _, _, places in per_run)
    doubled = sum(takes - places for _, takes, places in per_run)
    return [
        row("runs asked for", total, "runs", f">= {RUNS}"),
        row("runs finished", states.get("done", 0) / max(total, 1) * 100, "%", ">= 100"),
        row("runs told as failed", states.get("failed", 0), "runs", "<= 0"),
        row("runs held", states.get("held", 0), "runs", "<= 0"),
        row("takes lost", lost, "takes", "<= 0"),
        row("takes doubled", doubled, "takes", "<= 0"),
    ]

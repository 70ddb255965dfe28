"""`./moss bench live`: what watching costs. 50 watchers on three shots that run: how much of a core the web process takes, and
how soon each of them hears of a take.
"""

from __future__ import annotations

import json
import statistics
import threading
import time
import urllib.request
from pathlib import Path

from bench.report import Row, row
from bench.studio import bench_studio, ended, wait_for
from mosskeeper.core.recipe import Recipe
from mosskeeper.studio import shots, stories
from mosskeeper.studio.database import connect, sessions

WATCHERS, SHOTS = 50, 3
_SECONDS = 30.0
_RECIPE = Recipe(words="a girl in the fern house", width=512, height=640, steps=20, count=8)
_TICKS = 100  # of the kernel's clock, a second


def measure() -> list[Row]:
    with bench_studio() as studio:
        engine = connect(studio.url)
        with sessions(engine).begin() as session:
            story = stories.create(session, "Watched")
            shot_ids = [shots.create(session, story.id, f"Shot {n}", recipe=_RECIPE).id for n in range(SHOTS)]
        workers, web = [studio.worker() for _ in range(SHOTS)], studio.web()
        watchers = [_Watcher(studio.base) for _ in range(WATCHERS)]
        try:
            for watcher in watchers:
                watcher.start()
            wait_for(lambda: all(watcher.heard for watcher in watchers))
            for shot_id in shot_ids:
                request = urllib.request.Request(f"{studio.base}/shots/{shot_id}/run", b"", {"HX-Request": "true"})
                urllib.request.urlopen(request, timeout=20).close()
            wait_for(lambda: any(watcher.takes for watcher in watchers), 120)
            stored = _Stored(sessions(engine), watchers)
            before, began = _cpu(web.pid), time.monotonic()
            stored.watch(_SECONDS)
            share = (_cpu(web.pid) - before) / (time.monotonic() - began)
        finally:
            for watcher in watchers:
                watcher.ended = True
            ended(*workers, web)
            engine.dispose()
        lags = [lag for watcher in watchers for lag in watcher.lags(stored.at)]
        return [
            row(f"share of one core for {WATCHERS} watchers of {SHOTS} runs", share * 100, "%", "< 15"),
            row("takes made meanwhile", len(stored.at), "takes"),
            row("takes that a watcher did not hear of", len(stored.at) * WATCHERS - len(lags), "", "<= 0"),
            row("from a stored take to a watcher, median", statistics.median(lags), "s"),
            row("from a stored take to a watcher, the longest", max(lags), "s", "<= 1"),
            row("ticks a second to one watcher", statistics.median(w.ticks for w in watchers) / _SECONDS, "", "<= 4.5"),
        ]


class _Watcher(threading.Thread):
    """Listens to the stream and notes when it heard of each take: (run, how many were made) → time."""

    def __init__(self, base: str) -> None:
        super().__init__(daemon=True)
        self.base, self.ended, self.heard, self.ticks = base, False, False, 0
        self.takes: dict[tuple[int, int], float] = {}

    def run(self) -> None:
        with urllib.request.urlopen(f"{self.base}/live", timeout=120) as stream:
            for line in stream:
                if self.ended:
                    return
                if line.startswith(b"data: "):
                    self.heard = True
                    self.ticks += 1
                    for told in json.loads(line[6:]).get("runs", []):
                        self.takes.setdefault((told["run"], told["made"]), time.time())

    def lags(self, stored: dict[tuple[int, int], float]) -> list[float]:
        """Seconds from each stored take until this watcher heard of it, or of a later one of the same run."""
        out = []
        for (run, made), at in stored.items():
            heard = [when for (own, n), when in self.takes.items() if own == run and n >= made]
            if heard:
                out.append(max(0.0, min(heard) - at))
        return out


class _Stored:
    """When each take was stored, by the database's own clock."""

    def __init__(self, make_session: object, watchers: list[_Watcher]) -> None:
        self._sessions = make_session
        self.at: dict[tuple[int, int], float] = {}

    def watch(self, seconds: float) -> None:
        from sqlalchemy import func, select

        from mosskeeper.studio.models import Take

        began = time.time()
        time.sleep(seconds)
        until = time.time()
        time.sleep(2)
        with self._sessions() as session:  # type: ignore[operator]
            nth = func.row_number().over(partition_by=Take.run_id, order_by=Take.created_at)
            for run, made, at in session.execute(select(Take.run_id, nth, Take.created_at)):
                if began < at.timestamp() < until:
                    self.at[run, made] = at.timestamp()


def _cpu(pid: int) -> float:
    """Seconds of processor time that a process has taken."""
    fields = Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()
    return (int(fields[11]) + int(fields[12])) / _TICKS

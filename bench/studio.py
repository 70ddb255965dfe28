"""A studio of its own for a bench: private cluster, web servers and workers as processes."""

from __future__ import annotations

import contextlib
import os
import shutil
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path

from mosskeeper.cluster import Cluster, free_port
from mosskeeper.migrate import upgrade


def wait_for(condition: Callable[[], object], seconds: float = 60) -> None:
    """Raises SystemExit where a condition does not come true in time."""
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        if condition():
            return
        time.sleep(0.05)
    raise SystemExit(f"what the bench waits for did not come within {seconds:.0f} s")


class BenchStudio:
    def __init__(self, folder: Path, durable: bool) -> None:
        self.folder = folder
        self.cluster = Cluster(folder / "postgres", durable)
        self.cluster.start()
        self.url = self.cluster.ensure_database("moss")
        upgrade(self.url)
        self.port = free_port()
        self._logs = 0

    @property
    def base(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self, *arguments: str, **environment: str) -> subprocess.Popen[bytes]:
        self._logs += 1
        log = (self.folder / f"{self._logs}-{arguments[0]}.log").open("wb")
        env = {**os.environ, "MOSS_DATABASE_URL": self.url, "MOSS_HEARTBEAT_SECONDS": "1", "MOSS_STALLED_SECONDS": "4", **environment}
        return subprocess.Popen([sys.executable, "-m", "mosskeeper", *arguments], env=env, stdout=log, stderr=log)

    def worker(self) -> subprocess.Popen[bytes]:
        return self.start("worker")

    def web(self) -> subprocess.Popen[bytes]:
        server = self.start("web", "--port", str(self.port))
        wait_for(self.answers)
        return server

    def answers(self) -> bool:
        try:
            with urllib.request.urlopen(f"{self.base}/static/leaf.svg", timeout=2) as answer:
                return bool(answer.status == 200)
        except OSError:
            return False


@contextlib.contextmanager
def bench_studio(durable: bool = False) -> Iterator[BenchStudio]:
    """durable : what was committed outlives a killed database, as in a studio that is used."""
    folder = Path(tempfile.mkdtemp(prefix="moss-bench-", dir="/var/tmp"))
    folder.chmod(0o755)
    studio = BenchStudio(folder, durable)
    try:
        yield studio
    finally:
        studio.cluster.stop()
        shutil.rmtree(folder, ignore_errors=True)


def ended(*processes: subprocess.Popen[bytes]) -> None:
    """Ends processes, however they are."""
    for process in processes:
        process.terminate()
    for process in processes:
        try:
            process.wait(15)
        except subprocess.TimeoutExpired:
            process.kill()
            process.wait()

"""Starting the parts of Moss Keeper on one machine, and stopping them in order, the database last."""

from __future__ import annotations

import contextlib
import ctypes
import logging
import os
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from pathlib import Path

from mosskeeper.cluster import Cluster, ClusterError
from mosskeeper.settings import Settings

DEFAULT_PORT = 8420
_PR_SET_PDEATHSIG = 1
_READY_SECONDS = 30
_TENDED_EVERY = 1.0  # seconds
log = logging.getLogger(__name__)


def port_is_free(port: int) -> bool:
    with socket.socket() as s:
        s.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            s.bind(("127.0.0.1", port))
        except OSError:
            return False
        return True


def next_free_port(port: int) -> int:
    return next(p for p in range(port + 1, 65536) if port_is_free(p))


@contextlib.contextmanager
def database(settings: Settings) -> Iterator[str]:
    """The address of the database: the one that is set, or the private cluster, started and stopped here."""
    if settings.database_url:
        yield settings.database_url
        return
    with private_cluster(settings) as cluster:
        yield cluster.ensure_database("moss")


@contextlib.contextmanager
def private_cluster(settings: Settings) -> Iterator[Cluster]:
    """The private cluster, started and stopped here."""
    cluster = Cluster(settings.data / "postgres")
    cluster.start()
    try:
        yield cluster
    finally:
        cluster.stop()


def running_database(settings: Settings) -> str | None:
    """The address of the database that is set, or of the private cluster where it runs."""
    if settings.database_url:
        return settings.database_url
    cluster = Cluster(settings.data / "postgres")
    return cluster.url("moss") if (Path(cluster.data) / "PG_VERSION").exists() and cluster.running() else None


class _Tending:
    """Brings a private cluster back that was killed. Its port stays, so everybody who had a connection finds it again."""

    def __init__(self, settings: Settings) -> None:
        self._cluster = None if settings.database_url else Cluster(settings.data / "postgres")
        self._next = time.monotonic()

    def look(self) -> None:
        if self._cluster is None or time.monotonic() < self._next:
            return
        self._next = time.monotonic() + _TENDED_EVERY
        if self._cluster.gone():
            log.warning("PostgreSQL is gone: starting it again")
            try:
                self._cluster.start()
            except ClusterError as error:
                log.warning("it does not start yet: %s", error)


def serve(settings: Settings, database_url: str, port: int, workers: int, ready: Callable[[], None]) -> int:
    """Runs the web server and workers until SIGINT or SIGTERM, and brings back what of the parts dies; the exit code of what
    failed, or 0.
    """
    stopping = False

    def stop(_signal: int, _frame: object) -> None:
        nonlocal stopping
        stopping = True

    before = {s: signal.signal(s, stop) for s in (signal.SIGINT, signal.SIGTERM)}
    web = _start(database_url, "web", "--port", str(port))
    helpers = [_start(database_url, "worker") for _ in range(workers)]
    tending = _Tending(settings)
    try:
        if _wait_until_ready(port, web, lambda: stopping):
            ready()
        while not stopping and web.poll() is None:
            for i, helper in enumerate(helpers):
                if helper.poll() is not None:  # a worker that died is replaced; its runs are rescued
                    helpers[i] = _start(database_url, "worker")
            tending.look()
            time.sleep(0.3)
    finally:
        failed = 0 if stopping else web.poll() or 0
        for process in (*helpers, web):
            process.terminate()
        for process in (*helpers, web):
            try:
                process.wait(15)
            except subprocess.TimeoutExpired:
                process.kill()
        for s, handler in before.items():
            signal.signal(s, handler)
    return failed


def _start(database_url: str, *arguments: str) -> subprocess.Popen[bytes]:
    return subprocess.Popen(
        [sys.executable, "-m", "mosskeeper", *arguments],
        env={**os.environ, "MOSS_DATABASE_URL": database_url},
        start_new_session=True,  # Ctrl-C reaches only us: we stop the others in order
        preexec_fn=_die_with_parent,
    )


def _die_with_parent() -> None:
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)


def _wait_until_ready(port: int, web: subprocess.Popen[bytes], stopped: Callable[[], bool]) -> bool:
    deadline = time.monotonic() + _READY_SECONDS
    while time.monotonic() < deadline and web.poll() is None and not stopped():
        with contextlib.suppress(OSError), socket.create_connection(("127.0.0.1", port), 0.5):
            return True
        time.sleep(0.05)
    return False

"""Server time of each page on the demo data, over real HTTP on a database of its own."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

from bench.report import Row, median_seconds, row
from mosskeeper import demo
from mosskeeper.cluster import Cluster, free_port
from mosskeeper.migrate import upgrade

PAGES = {"shelf": "/", "story with its board": "/stories/1", "light table": "/shots/7", "compare by swipe": "/shots/7?compare=swipe"}


def measure() -> list[Row]:
    with tempfile.TemporaryDirectory(dir="/var/tmp") as folder:
        Path(folder).chmod(0o755)
        cluster = Cluster(Path(folder) / "postgres", durable=False)
        cluster.start()
        try:
            url = cluster.ensure_database("moss")
            upgrade(url)
            started = time.perf_counter()
            demo.ensure(url, lambda _: None)
            building = time.perf_counter() - started
            return [row("demo data from nothing", building, "s", "<= 120"), *_pages(url)]
        finally:
            cluster.stop()


def _pages(database_url: str) -> list[Row]:
    port = free_port()
    server = subprocess.Popen(
        [sys.executable, "-m", "mosskeeper", "web", "--port", str(port)], env={**os.environ, "MOSS_DATABASE_URL": database_url}
    )
    base = f"http://127.0.0.1:{port}"
    try:
        _wait(base)
        return [
            row(f"page: {name}", median_seconds(lambda p=path: _get(base + p), 15) * 1000, "ms", "<= 60") for name, path in PAGES.items()
        ]
    finally:
        server.terminate()
        server.wait(20)


def _get(address: str) -> bytes:
    with urllib.request.urlopen(address, timeout=20) as answer:
        data: bytes = answer.read()
        return data


def _wait(base: str) -> None:
    for _ in range(200):
        try:
            _get(base + "/")
            return
        except OSError:
            time.sleep(0.1)
    raise SystemExit("the web server did not start")

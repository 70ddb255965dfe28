"""Server time of pages and their time to usable in Chromium: on the demo data, and on a story far larger than it."""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

from playwright.sync_api import sync_playwright
from sqlalchemy.orm import sessionmaker

from bench import large_story
from bench.chromium import EXECUTABLE, FLAGS
from bench.report import Row, median_seconds, row
from mosskeeper import demo
from mosskeeper.cluster import Cluster, free_port
from mosskeeper.migrate import upgrade
from mosskeeper.studio.database import connect

PAGES = {"shelf": "/", "story with its board": "/stories/1", "light table": "/shots/7", "compare by swipe": "/shots/7?compare=swipe"}
_LOADS = 9
_SCROLLED = """async () => {
  const frames = [];
  let last = performance.now();
  while (document.querySelector(".more") || scrollY + innerHeight < document.documentElement.scrollHeight - 5) {
    scrollBy(0, 60);
    await new Promise(requestAnimationFrame);
    frames.push(performance.now() - last);
    last = performance.now();
  }
  return frames.sort((a, b) => a - b)[Math.floor(frames.length * 0.95)];
}"""
_ALL_THERE = """() => new Promise((done) => {
  const inView = (image) => {
    const box = image.getBoundingClientRect();
    return box.width && box.bottom > 0 && box.top < innerHeight && box.right > 0 && box.left < innerWidth;
  };
  const look = () => {
    const there = document.readyState === "complete" && [...document.images].filter(inView).every((i) => i.complete && i.naturalWidth);
    there ? done(performance.now()) : setTimeout(look, 20);
  };
  look();
})"""


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
            engine = connect(url)
            with sessionmaker(engine).begin() as session:
                large = large_story.make(session)
            engine.dispose()
            return [row("demo data from nothing", building, "s", "<= 120"), *_served(url, large)]
        finally:
            cluster.stop()


def _served(database_url: str, large: dict[str, str]) -> list[Row]:
    port = free_port()
    server = subprocess.Popen(
        [sys.executable, "-m", "mosskeeper", "web", "--port", str(port)], env={**os.environ, "MOSS_DATABASE_URL": database_url}
    )
    base = f"http://127.0.0.1:{port}"
    try:
        _wait(base)
        rows = [row(f"page: {name}", _server(base + path), "ms", "<= 60") for name, path in PAGES.items()]
        rows += [row(f"server: {name}", _server(base + path), "ms", "<= 80") for name, path in large.items()]
        return rows + _usable(base, large)
    finally:
        server.terminate()
        server.wait(20)


def _server(address: str) -> float:
    return median_seconds(lambda: _get(address), 15) * 1000


def _usable(base: str, large: dict[str, str]) -> list[Row]:
    """Until the page has loaded and every picture in view is there, in a browser that has seen none of it."""
    rows = []
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=EXECUTABLE, args=FLAGS)
        for name, path in large.items():
            taken = []
            for _ in range(_LOADS):
                page = browser.new_page(viewport={"width": 1280, "height": 800})
                page.goto(base + path)
                taken.append(page.evaluate(_ALL_THERE))
                page.close()
            rows.append(row(f"usable in Chromium: {name}", statistics.median(taken), "ms", "<= 1000"))
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(base + next(iter(large.values())))
        rows.append(row("frames while the library is scrolled to its end, 95 of 100", page.evaluate(_SCROLLED), "ms", "<= 34"))
        browser.close()
    return rows


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

"""`./moss bench live-board`: how soon the picture follows a hand that draws on a board, in Chromium, from pointer-up to the page."""

from __future__ import annotations

import os
import statistics
import time
from pathlib import Path

import numpy as np
from playwright.sync_api import Browser, Page, sync_playwright

from bench.chromium import EXECUTABLE, FLAGS
from bench.report import Row, row
from bench.studio import bench_studio, ended
from mosskeeper.core.recipe import Recipe
from mosskeeper.studio import shots, stories
from mosskeeper.studio.database import connect, sessions

_WORDS = ("a woman in a red coat", "a girl in a dress in the fern house", "an old man with a lantern at night")
_STROKES = 20  # on each of the boards
_WATCH = """() => {
  const picture = document.getElementById("live-picture"), board = document.getElementById("board");
  window.waits = []; window.frames = []; let up = 0, number = 0;
  addEventListener("pointerup", () => { up = performance.now(); number = +(document.getElementById("main").dataset.followed ?? 0); }, true);
  picture.addEventListener("load", () => { if (up && +document.getElementById("main").dataset.followed > number) { waits.push(performance.now() - up); up = 0; } });
  board.addEventListener("pointermove", (e) => { const began = performance.now(); requestAnimationFrame(() => frames.push(performance.now() - began)); });
}"""
_QUIET = "() => ({ waits: window.waits.length, last: +document.getElementById('main').dataset.followed })"


def measure() -> list[Row]:
    with bench_studio() as studio:
        engine = connect(studio.url)
        with sessions(engine).begin() as session:
            story = stories.create(session, "Drawn")
            made = [shots.create(session, story.id, f"Board {n}", recipe=Recipe(words=words, seed=5)).id for n, words in enumerate(_WORDS)]
        engine.dispose()
        web = studio.web()
        try:
            with sync_playwright() as playwright:
                browser = playwright.chromium.launch(executable_path=EXECUTABLE, args=FLAGS)
                first, *again = [_opening(browser, studio.base, shot) for shot in [*made, *made]]
                alone, frames, fast, peak = _alone(browser, studio.base, made)
                both = _both(browser, studio.base, made[:2])
                browser.close()
        finally:
            ended(web)
    return [
        row("live board: opened for the first time, to its live picture", first, "s"),
        row(f"live board: opened again, the same, median of {len(again)}", statistics.median(again), "s"),
        row(f"live board: pointer-up to the new picture, median of {len(alone)}", statistics.median(alone), "ms", "<= 120"),
        row("live board: pointer-up to the new picture, 95th", float(np.percentile(alone, 95)), "ms", "<= 250"),
        row("live board: 30 strokes a second, the newest answered within", fast, "ms", "<= 160"),
        row("live board: strokes drawn under the pen, 95th", float(np.percentile(frames, 95)), "ms", "<= 17"),
        row("live board: memory of the live room", peak, "MiB", "<= 600"),
        row("live board: two boards at once, times one", statistics.median(both) / statistics.median(alone), "times", "<= 2"),
    ]


def _followed(browser: Browser, base: str, shot: int) -> Page:
    """A sketch overlay with its first live picture."""
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    page.goto(f"{base}/shots/{shot}/sketch")
    page.wait_for_selector("main[data-ready]")
    page.wait_for_selector("main[data-followed]", timeout=60_000)
    return page


def _opened(browser: Browser, base: str, shot: int) -> Page:
    page = _followed(browser, base, shot)
    _roughed(page)
    page.evaluate(_WATCH)
    return page


def _opening(browser: Browser, base: str, shot: int) -> float:
    """Seconds from the address to a live picture; the room is left again."""
    began = time.monotonic()
    page = _followed(browser, base, shot)
    taken = time.monotonic() - began
    page.goto(base)  # which leaves the room
    page.close()
    return taken


def _roughed(page: Page) -> None:
    """Ground, sky, somebody: what the strokes are drawn over."""
    for key, pot, a, b in (
        ("4", "sky", (0, 0), (1, 0.62)),
        ("4", "ground", (0, 0.62), (1, 1)),
        ("3", "hair", (0.42, 0.3), (0.58, 0.46)),
        ("3", "skin", (0.45, 0.34), (0.55, 0.46)),
        ("4", "cloth", (0.38, 0.46), (0.62, 0.78)),
    ):
        page.keyboard.press(key)
        page.locator(f"#pots input[value='{pot}']").check(force=True)
        _drag(page, [a, b])
    page.keyboard.press("1")
    time.sleep(1.0)


def _drag(page: Page, points: list[tuple[float, float]], pause: float = 0.0) -> None:
    box = page.locator("#board").bounding_box()
    assert box

    def place(p: tuple[float, float]) -> tuple[float, float]:
        return box["x"] + p[0] * box["width"], box["y"] + p[1] * box["height"]

    page.mouse.move(*place(points[0]))
    page.mouse.down()
    for point in points[1:]:
        page.mouse.move(*place(point))
        if pause:
            time.sleep(pause)
    page.mouse.up()


def _hand(page: Page, k: int) -> None:
    """One stroke of the recorded hand: on the sky, on the ground, on the coat, and between."""
    x, y = ((0.15, 0.15), (0.7, 0.8), (0.44, 0.55), (0.75, 0.3))[k % 4]
    page.locator("#pots input[name=pot]").nth((4, 7, 2, 9)[k % 4]).check(force=True)
    _drag(page, [(x + 0.01 * i, y + 0.02 * np.sin(i + k)) for i in range(8)])


def _alone(browser: Browser, base: str, made: list[int]) -> tuple[list[float], list[float], float, float]:
    waits, frames, fast, peak = [], [], [], 0.0
    for shot in made:
        page = _opened(browser, base, shot)
        for k in range(_STROKES):
            before = int(page.evaluate(_QUIET)["waits"])
            _hand(page, k)
            _until(page, before)
        waits += list(page.evaluate("() => window.waits"))
        fast.append(_fast(page))
        frames += list(page.evaluate("() => window.frames"))
        peak = max(peak, _memory())
        page.close()
        time.sleep(1)
    return waits, frames, statistics.median(fast), peak


def _until(page: Page, before: int) -> None:
    until = time.monotonic() + 5
    while int(page.evaluate(_QUIET)["waits"]) <= before and time.monotonic() < until:
        time.sleep(0.02)


def _fast(page: Page) -> float:
    """Thirty strokes in a second, and how long after the last of them its picture is there."""
    for k in range(30):
        _drag(page, [(0.1 + 0.025 * k, 0.85), (0.12 + 0.025 * k, 0.87)])
        time.sleep(0.01)
    before = len(page.evaluate("() => window.waits"))
    _until(page, before)
    return float(page.evaluate("() => window.waits.at(-1)"))


def _both(browser: Browser, base: str, made: list[int]) -> list[float]:
    pages = [_opened(browser, base, shot) for shot in made]
    for k in range(_STROKES // 2):
        before = [int(p.evaluate(_QUIET)["waits"]) for p in pages]
        for page in pages:
            _hand(page, k)
        for page, n in zip(pages, before, strict=True):
            _until(page, n)
    out: list[float] = []
    for page in pages:
        out += list(page.evaluate("() => window.waits"))
        page.close()
    return out


def _memory() -> float:
    """MiB that the largest live room holds, with what it shares with the others."""
    most = 0.0
    for entry in Path("/proc").iterdir():
        try:
            if entry.name.isdecimal() and b"fork_server" in (entry / "cmdline").read_bytes():
                pages = int((entry / "statm").read_text().split()[1])
                most = max(most, pages * os.sysconf("SC_PAGE_SIZE") / 2**20)
        except OSError:
            continue
    return most

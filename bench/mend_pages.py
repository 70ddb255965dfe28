"""`./moss bench mend-pages`: how soon the mends overlay answers the hand, in Chromium: run, brush at 2048 px, choosing by a press."""

from __future__ import annotations

import statistics
import time
from collections.abc import Iterator
from contextlib import contextmanager

import numpy as np
from playwright.sync_api import Page, sync_playwright

from bench.chromium import EXECUTABLE, FLAGS
from bench.mends import started
from bench.report import Row, row
from bench.studio import BenchStudio, bench_studio, ended
from mosskeeper.core.illustrator.description import Description
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.studio import pictures
from mosskeeper.studio.database import connect, sessions

_LARGE = (1632, 2048)  # px
_STROKES, _PRESSES = 12, 12
_FRAMES = """() => {
  window.frames = [];
  document.getElementById("veil").addEventListener("pointermove", () => { const began = performance.now(); requestAnimationFrame(() => { const made = new MessageChannel(); made.port1.onmessage = () => frames.push(performance.now() - began); made.port2.postMessage(0); }); });
}"""


def measure() -> list[Row]:
    with bench_studio() as studio:
        engine = connect(studio.url)
        with sessions(engine).begin() as session:
            desk = started(session)
            shot, own, foreign = desk.shot.id, desk.own[5], desk.foreign[5]
            large = pictures.store(session, draw(Description(place="kitchen", time="noon"), _LARGE).image, "large", "upload").sha256
        engine.dispose()
        web, worker = studio.web(), studio.worker()
        try:
            of_own, of_foreign = _runs(studio, shot, own, "silver curls", 8), _runs(studio, shot, foreign, "silver hair", 5)
            frames, chosen = _brushed(studio, shot, large), _pressed(studio, shot, own)
        finally:
            ended(web, worker)
    return [
        row("mends: from the press to the first variant on the page, own take, median", statistics.median(of_own), "s", "<= 1.6"),
        row(
            "mends: from the press to the first variant on the page, brought picture, median", statistics.median(of_foreign), "s", "<= 2.8"
        ),
        row(f"mends: brush under the pen at {_LARGE[1]} px, from the move to the drawn frame, 95th", _95th(frames), "ms", "<= 17"),
        row(f"mends: choosing by a press, median of {len(chosen)}", statistics.median(chosen), "ms", "<= 150"),
        row("mends: choosing by a press, 95th", _95th(chosen), "ms", ""),
    ]


def _95th(values: list[float]) -> float:
    return float(np.percentile(values, 95))


@contextmanager
def _page(studio: BenchStudio, shot: int, base: str) -> Iterator[Page]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=EXECUTABLE, args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{studio.base}/shots/{shot}/mends?base={base}")
        page.wait_for_selector("main[data-named]", timeout=120_000)
        yield page
        browser.close()


def _runs(studio: BenchStudio, shot: int, base: str, words: str, times: int) -> list[float]:
    """Seconds from the press of run to the first variant on the page."""
    out = []
    with _page(studio, shot, base) as page:
        for _ in range(times):
            before = page.locator("li.mend").count()
            page.click("#new-mend")
            _until(page, f"document.querySelectorAll('li.mend').length > {before}")
            page.click("#choices [data-key='1 hair']")
            page.fill("#words", words)
            page.fill("#count", "1")
            _until(page, "!document.getElementById('run').disabled && document.getElementById('save-state').textContent === 'saved'")
            started_at = time.perf_counter()
            page.click("#run")
            page.wait_for_selector("[data-variant]", timeout=60_000)
            out.append(time.perf_counter() - started_at)
    return out


def _brushed(studio: BenchStudio, shot: int, base: str) -> list[float]:
    """Milliseconds from a move of the pen to the end of the frame that shows it."""
    with _page(studio, shot, base) as page:
        page.evaluate(_FRAMES)
        box = page.locator("#veil").bounding_box()
        assert box
        for k in range(_STROKES):
            x, y = 0.15 + 0.05 * (k % 6), 0.2 + 0.05 * k
            page.mouse.move(box["x"] + x * box["width"], box["y"] + y * box["height"])
            page.mouse.down()
            with page.expect_response(lambda answer: "/mask" in answer.url):
                for i in range(12):
                    page.mouse.move(box["x"] + (x + 0.03 * i) * box["width"], box["y"] + (y + 0.02 * np.sin(i)) * box["height"])
                page.mouse.up()
        return list(page.evaluate("() => window.frames"))


def _pressed(studio: BenchStudio, shot: int, base: str) -> list[float]:
    """Milliseconds from a press on a name to its mask on the picture."""
    with _page(studio, shot, base) as page:
        page.click("#new-mend")
        page.evaluate("() => document.querySelector('[name=way][value=only]').click()")
        keys: list[str] = page.evaluate("() => [...document.querySelectorAll('#choices [data-key]')].map((one) => one.dataset.key)")
        out = []
        for key in (keys * _PRESSES)[:_PRESSES]:
            ms = page.evaluate(
                """async (key) => {
                  const main = document.getElementById("main"), before = +(main.dataset.veiled ?? 0), began = performance.now();
                  document.querySelector(`#choices [data-key="${key}"]`).click();
                  while (+(main.dataset.veiled ?? 0) === before && performance.now() - began < 10000) await new Promise((done) => setTimeout(done, 1));
                  return performance.now() - began;
                }""",
                key,
            )
            out.append(float(ms))
        return out


def _until(page: Page, condition: str) -> None:
    until = time.monotonic() + 60
    while not page.evaluate(f"() => {condition}"):
        if time.monotonic() > until:
            raise SystemExit(f"the page never came to {condition}")
        time.sleep(0.02)

"""A hasty hand on a slow machine: what was done just before a run is in the run, however late the answers come.

The processor is slowed six times by the DevTools protocol, and every answer to a POST is held back in the page.
"""

import os
import re
from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page, expect
from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.recipe import Recipe
from mosskeeper.studio import boards, pictures, runs
from mosskeeper.studio.models import Run, Shot
from tests.browser.hands import unfolded
from tests.conftest import lay_out

pytestmark = [pytest.mark.browser, pytest.mark.statistics]
Studio = tuple[str, sessionmaker[Session]]
ROUNDS = int(os.environ.get("MOSS_HASTY_ROUNDS", "3"))
SLOWED = 6
_HELD_BACK = """const send = window.fetch;
window.fetch = async (to, options) => {
  const answer = await send(to, options);
  const posts = (options?.method ?? to?.method ?? "GET").toUpperCase() === "POST";
  if (posts) await new Promise((done) => setTimeout(done, %d));
  return answer;
};"""


@pytest.fixture(params=[0, 400, 1500])
def slow(page: Page, request: pytest.FixtureRequest) -> Iterator[Page]:
    page.add_init_script(_HELD_BACK % request.param)
    devtools = page.context.new_cdp_session(page)
    devtools.send("Emulation.setCPUThrottlingRate", {"rate": SLOWED})
    yield page
    devtools.send("Emulation.setCPUThrottlingRate", {"rate": 1})
    devtools.detach()


def at(page: Page, x: float, y: float, of: str) -> tuple[float, float]:
    box = page.locator(of).bounding_box()
    assert box
    return box["x"] + x * box["width"], box["y"] + y * box["height"]


def drawn(page: Page, of: str, *points: tuple[float, float]) -> None:
    page.mouse.move(*at(page, *points[0], of))
    page.mouse.down()
    for point in points[1:]:
        page.mouse.move(*at(page, *point, of), steps=3)
    page.mouse.up()


def ran(page: Page, studio: Studio, shot: Shot, press: Callable[[], None]) -> Recipe:
    """The recipe of the run that a press starts; it is stopped again."""
    with page.expect_response(re.compile(r"/run(\?|$)"), timeout=90_000) as answer:
        press()
    assert answer.value.status == 200
    with studio[1]() as session:
        run = session.scalars(select(Run).where(Run.shot_id == shot.id).order_by(Run.id.desc()).limit(1)).one()
        recipe = runs.recipe_of_place(run, 0)
        number = run.id
    page.request.post(f"/runs/{number}/stop")
    return recipe


def by_keys(page: Page) -> Callable[[], None]:
    return lambda: page.keyboard.press("Control+Enter")


def test_words_then_run(slow: Page, studio: Studio, shot: Shot) -> None:
    for n in range(ROUNDS):
        slow.goto(f"/shots/{shot.id}")
        slow.fill("#words", f"a girl, number {n}")
        assert ran(slow, studio, shot, by_keys(slow)).words == f"a girl, number {n}"


def test_two_files_at_once_then_words_then_run(slow: Page, studio: Studio, tmp_path: Path) -> None:
    files = []
    for name in ("One.png", "Two.png"):
        Image.fromarray(np.random.default_rng(len(name)).integers(0, 255, (40, 50, 3), np.uint8)).save(tmp_path / name)
        files.append(tmp_path / name)
    for n in range(ROUNDS):
        with studio[1].begin() as session:
            fresh = lay_out(session)  # a sheet has room for twelve
        slow.goto(f"/shots/{fresh.id}")
        slow.set_input_files("#cue-file", files)
        slow.fill("#words", f"a boy, number {n}")
        recipe = ran(slow, studio, fresh, by_keys(slow))
        assert (recipe.words, len(recipe.cues)) == (f"a boy, number {n}", 2)


def test_a_window_over_the_edge_then_words_then_run(slow: Page, studio: Studio, shot: Shot) -> None:
    for n in range(ROUNDS):
        with studio[1].begin() as session:
            image = np.full((320, 256, 3), 90 + n, np.uint8)
            base = pictures.store(session, image, f"Grey {n}", "upload").sha256
        slow.goto(f"/shots/{shot.id}/mends?base={base}")
        slow.wait_for_selector("main[data-ready]")
        slow.click("[data-hand=window]")
        drawn(slow, "#veil", (0.8, 0.3), (0.9, 0.6), (1.3, 0.95))
        slow.fill("#words", f"a fox, number {n}")
        recipe = ran(slow, studio, shot, by_keys(slow))
        assert recipe.words == f"a fox, number {n}"
        assert recipe.source is not None and any(recipe.source.wider)


def test_a_stroke_then_run(slow: Page, studio: Studio, shot: Shot) -> None:
    for n in range(ROUNDS):
        slow.goto(f"/shots/{shot.id}/sketch")
        slow.wait_for_selector("main[data-ready]")
        slow.keyboard.press("4")
        drawn(slow, "#board", (0.1, 0.1 + 0.1 * (n % 4)), (0.8, 0.5 + 0.1 * (n % 4)))
        recipe = ran(slow, studio, shot, by_keys(slow))
        with studio[1]() as session:
            pieces = boards.pieces_of(session, recipe, boards.cue_of(recipe)).pieces
        assert len(pieces) == n + 1


def test_a_joint_then_run(slow: Page, studio: Studio, shot: Shot) -> None:
    slow.goto(f"/shots/{shot.id}/pose")
    slow.wait_for_selector("main[data-ready]")
    slow.click("#new-figure")
    before = -1.0
    for _ in range(ROUNDS):
        slow.focus(".chosen [data-joint='4']")
        slow.keyboard.press("ArrowUp")
        recipe = ran(slow, studio, shot, by_keys(slow))
        (cue,) = recipe.cues
        assert cue.skeleton is not None and cue.skeleton[4] is not None
        assert cue.skeleton[4][1] < before or before < 0
        before = cue.skeleton[4][1]


def test_words_of_a_region_then_run(slow: Page, studio: Studio, shot: Shot) -> None:
    slow.goto(f"/shots/{shot.id}/regions")
    slow.wait_for_selector("main[data-ready]")
    unfolded(slow, "[data-layout='two side by side']").click()
    expect(slow.locator(".region-row")).to_have_count(2)
    for n in range(ROUNDS):
        slow.locator(".region-row textarea").nth(1).fill(f"an old man, number {n}")
        recipe = ran(slow, studio, shot, by_keys(slow))
        assert recipe.regions[1].words == f"an old man, number {n}"


def test_a_brush_over_the_picture_then_words_then_run(slow: Page, studio: Studio, shot: Shot) -> None:
    for n in range(ROUNDS):
        with studio[1].begin() as session:
            image = np.full((320, 256, 3), 120 + n, np.uint8)
            base = pictures.store(session, image, f"Plain {n}", "upload").sha256
        slow.goto(f"/shots/{shot.id}/mends?base={base}")
        slow.wait_for_selector("main[data-ready]")
        drawn(slow, "#veil", (0.4, 0.4), (0.6, 0.6))
        slow.fill("#words", f"a kite, number {n}")
        recipe = ran(slow, studio, shot, by_keys(slow))
        assert recipe.words == f"a kite, number {n}"
        assert recipe.source is not None and recipe.source.mask is not None
        with studio[1]() as session:
            assert (pictures.pixels(session, recipe.source.mask) > 128).any()

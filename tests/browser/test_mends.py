"""The mends overlay by mouse, keys and touch: chosen, worded, run, accepted, stacked, carried over, and the same bytes again."""

import re
from functools import cache
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Browser, Page, expect
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.diffusion.result import TakeResult
from mosskeeper.core.takes.take import make_take
from mosskeeper.studio import masks, mends, pictures, runs, takes, working
from mosskeeper.studio.mends import StackState
from mosskeeper.studio.models import Shot
from tests.browser.hands import at, unfolded
from tests.conftest import SMALL, lay_out, wait_for

pytestmark = pytest.mark.browser
Studio = tuple[str, sessionmaker[Session]]


@cache
def drawn() -> list[TakeResult]:
    return [make_take(SMALL.with_seed(seed), seed) for seed in (5, 6)]


@pytest.fixture
def shot(studio: Studio) -> Shot:
    """A shot with two takes that were drawn here."""
    with studio[1].begin() as session:
        shot = lay_out(session)
        run = runs.create(session, shot, SMALL)
        working.begin(session, run.id, "test")
        for place, take in enumerate(drawn()):
            working.store_take(session, run.id, place, run.seeds[place], take.image, 1.0, take.explained)
        working.end(session, run, "done")
        return shot


def first_take(studio: Studio, shot: Shot) -> tuple[int, str]:
    with studio[1]() as session:
        take = takes.of_shot(session, shot.id)[-1]
        return take.id, take.picture_sha256


def opened(page: Page, studio: Studio, shot: Shot) -> str:
    """The overlay on the first take, once what can be chosen there is known; the take's picture."""
    take, base = first_take(studio, shot)
    page.goto(f"/shots/{shot.id}/mends?take={take}")
    page.wait_for_selector("main[data-named]")
    return base


def stands(studio: Studio, shot: Shot, base: str) -> StackState:
    with studio[1]() as session:
        return mends.standing(session, shot.id, base)


def mask(studio: Studio, shot: Shot, base: str) -> np.ndarray:
    with studio[1]() as session:
        found = mends.standing(session, shot.id, base)
        return masks.mask_of(session, found.stack.mends[-1], found.heights[-1].size)


def kept(page: Page, studio: Studio, shot: Shot, base: str) -> None:
    """Waits until what the hand did is kept."""
    wait_for(lambda: stands(studio, shot, base).stack.mends and stands(studio, shot, base).stack.mends[-1].mask is not None)
    wait_for(lambda: page.evaluate("() => !document.getElementById('run').disabled"))


def draw(page: Page, *points: tuple[float, float]) -> None:
    page.mouse.move(*at(page, *points[0], "#veil"))
    page.mouse.down()
    for point in points[1:]:
        page.mouse.move(*at(page, *point, "#veil"), steps=3)
    page.mouse.up()


@pytest.mark.statistics
def test_a_soft_brush_leaves_a_border_that_fades(page: Page, studio: Studio, shot: Shot) -> None:
    base = opened(page, studio, shot)
    unfolded(page, "#brush-edge").fill("0")
    page.fill("#brush-size", "90")
    draw(page, (0.4, 0.5), (0.6, 0.5))
    kept(page, studio, shot, base)
    with studio[1]() as session:
        stack = mends.standing(session, shot.id, base).stack
        levels = pictures.pixels(session, stack.mends[-1].mask or "")[..., 0]
    assert levels.max() > 240 and ((levels > 20) & (levels < 235)).mean() > 0.02


@pytest.mark.statistics
def test_from_a_press_to_a_mended_take_by_mouse(page: Page, studio: Studio, shot: Shot) -> None:
    base = opened(page, studio, shot)
    page.locator("#choices").get_by_text("Ada Reed’s hair").click()
    kept(page, studio, shot, base)
    expect(page.locator("#mend-told")).to_contain_text("Ada Reed’s hair")
    page.fill("#words", "silver hair")
    expect(page.locator("#save-state")).to_have_text("saved")
    page.fill("#count", "2")
    page.locator("#outlines").uncheck(force=True)
    page.click("#run")
    expect(page.locator("[data-variant]")).to_have_count(2)
    page.locator("[data-variant]").nth(1).click()
    expect(page.locator("#shown")).to_have_attribute(
        "src", f"/pictures/{page.locator('[data-variant]').nth(1).get_attribute('data-picture')}.png"
    )
    page.click("#accept")
    expect(page.locator(".variant-row .accepted")).to_have_count(1)
    unfolded(page, "#as-take").click()
    expect(page.locator("#mend-problem")).to_contain_text("This is take 3 now")
    with studio[1]() as session:
        take = takes.of_shot(session, shot.id)[0]
        opens = mask(studio, shot, base)
        made = pictures.pixels(session, take.picture_sha256)
        assert np.array_equal(made[~opens], drawn()[0].image[~opens])
        assert (made != drawn()[0].image).any()


@pytest.mark.statistics
def test_all_by_keys(page: Page, studio: Studio, shot: Shot) -> None:
    base = opened(page, studio, shot)
    page.locator("#choices [data-key='1 head']").focus()
    page.keyboard.press("Enter")
    kept(page, studio, shot, base)
    expect(page.locator(".index-tabs a[href*='/mends'] b")).to_have_text("1")
    page.locator("#words").focus()
    page.keyboard.type("a hat")
    page.keyboard.press("Control+Enter")
    expect(page.locator("[data-variant]")).to_have_count(3)
    page.locator("#veil").focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    expect(page.locator("[data-variant]").nth(1)).to_have_attribute("aria-pressed", "true")
    page.keyboard.down("b")
    expect(page.locator("#shown")).to_have_attribute("src", f"/pictures/{base}.png")
    page.keyboard.up("b")
    page.keyboard.press("k")
    expect(page.locator(".variant-row .accepted")).to_contain_text("2 accepted")
    page.keyboard.press("Control+z")
    expect(page.locator(".variant-row .accepted")).to_have_count(0)
    page.keyboard.press("Control+Shift+z")
    expect(page.locator(".variant-row .accepted")).to_have_count(1)


@pytest.mark.statistics
def test_brush_outline_box_and_frame_open_what_they_are_drawn_round(page: Page, studio: Studio, shot: Shot) -> None:
    base = opened(page, studio, shot)
    draw(page, (0.2, 0.2), (0.4, 0.2), (0.4, 0.3))
    kept(page, studio, shot, base)
    assert mask(studio, shot, base)[64, 80]
    page.locator("[name=way]").select_option("take")
    draw(page, (0.38, 0.28), (0.42, 0.31))
    wait_for(lambda: not mask(studio, shot, base)[int(0.3 * 320), int(0.4 * 256)])
    page.locator("[name=way]").select_option("only")
    page.keyboard.press("3")
    draw(page, (0.25, 0.25), (0.75, 0.5))
    wait_for(lambda: abs(mask(studio, shot, base).mean() - 0.125) < 0.01)
    page.keyboard.press("4")
    draw(page, (0.25, 0.25), (0.75, 0.5))
    wait_for(lambda: abs(mask(studio, shot, base).mean() - 0.875) < 0.01)
    page.keyboard.press("2")
    draw(page, (0.2, 0.2), (0.6, 0.2), (0.6, 0.6), (0.2, 0.6))
    wait_for(lambda: abs(mask(studio, shot, base).mean() - 0.16) < 0.02)
    unfolded(page, page.get_by_role("button", name="turn over", include_hidden=True)).click()
    wait_for(lambda: abs(mask(studio, shot, base).mean() - 0.84) < 0.02)
    unfolded(page, "#clear").click()
    wait_for(lambda: stands(studio, shot, base).stack.mends[-1].mask is None)


@pytest.mark.statistics
def test_a_press_chooses_what_is_there_and_the_next_one_the_wider_part(page: Page, studio: Studio, shot: Shot) -> None:
    base = opened(page, studio, shot)
    page.keyboard.press("6")
    head = drawn()[0].explained.drawn().shown[0].head  # type: ignore[union-attr]
    x, y = at(page, head[0] / 256, (head[1] + 0.1 * head[2]) / 320, "#veil")
    page.mouse.click(x, y)
    kept(page, studio, shot, base)
    narrow = mask(studio, shot, base).sum()
    page.mouse.click(x, y)
    wait_for(lambda: mask(studio, shot, base).sum() > narrow)


@pytest.mark.statistics
def test_touch_brushes_and_a_reload_in_the_middle_loses_nothing(browser: Browser, studio: Studio, shot: Shot) -> None:
    context = browser.new_context(base_url=studio[0], has_touch=True, viewport={"width": 1180, "height": 820})
    page = context.new_page()
    base = opened(page, studio, shot)
    touch = context.new_cdp_session(page)
    for kind, place in (("touchStart", (0.3, 0.3)), ("touchMove", (0.5, 0.35)), ("touchMove", (0.6, 0.4)), ("touchEnd", None)):
        points = [] if place is None else [dict(zip("xy", at(page, *place, "#veil"), strict=True))]
        touch.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": points})
    kept(page, studio, shot, base)
    page.fill("#words", "a lantern")
    expect(page.locator("#save-state")).to_have_text("saved")
    before = mask(studio, shot, base)
    page.reload()
    expect(page.locator("#words")).to_have_value("a lantern")
    assert before.any()
    assert np.array_equal(mask(studio, shot, base), before)
    context.close()


@pytest.mark.statistics
def test_two_tabs_see_one_stack_and_a_mask_is_not_painted_over(page: Page, studio: Studio, shot: Shot) -> None:
    base = opened(page, studio, shot)
    draw(page, (0.2, 0.2), (0.4, 0.2))
    kept(page, studio, shot, base)
    other = page.context.new_page()
    opened(other, studio, shot)
    draw(page, (0.2, 0.6), (0.4, 0.6))
    wait_for(lambda: mask(studio, shot, base)[int(0.6 * 320), 80])
    draw(other, (0.7, 0.8), (0.8, 0.8))
    expect(other.locator("#mend-problem")).to_contain_text("changed in another tab meanwhile")
    assert not mask(studio, shot, base)[int(0.8 * 320), int(0.75 * 256)]
    other.get_by_role("button", name="show that one").click()
    expect(other.locator("#mend-problem")).to_be_empty()
    draw(other, (0.7, 0.8), (0.8, 0.8))
    wait_for(lambda: mask(studio, shot, base)[int(0.8 * 320), int(0.75 * 256)])
    assert mask(studio, shot, base)[int(0.6 * 320), 80]


@pytest.mark.statistics
def test_a_lower_mend_hidden_is_redone_above_and_a_mend_goes_along_to_another_take(
    page: Page, studio: Studio, shot: Shot, tmp_path: Path
) -> None:
    base = opened(page, studio, shot)
    for n, quick in enumerate(("1 hair short", "1 glasses on"), 1):
        page.wait_for_selector(f"#quick [data-key='{quick}']")
        page.click(f"#quick [data-key='{quick}']")
        expect(page.locator("li.mend")).to_have_count(n)
        expect(page.locator("li.mend").last).to_have_class(re.compile(r"\bon\b"))
        expect(page.locator(".variant-row .accepted")).to_have_count(0)
        expect(page.locator("[data-variant]")).to_have_count(3)
        page.locator("[data-variant]").first.click()
        page.click("#accept")
        expect(page.locator(".variant-row .accepted")).to_have_count(1)
    both = stands(studio, shot, base).top
    page.locator("li.mend").first.locator("[data-shown]").click()
    wait_for(lambda: stands(studio, shot, base).top not in (None, both))
    expect(page.locator(".pending")).to_have_count(0)
    page.locator("li.mend").first.locator("[data-shown]").click()
    wait_for(lambda: stands(studio, shot, base).top == both)
    with page.expect_download() as download:
        unfolded(page, page.get_by_text("take along")).click()
    download.value.save_as(tmp_path / "mended.png")
    unfolded(page, "[name=copy-to]")
    page.locator("[name=copy-to]").first.check()
    unfolded(page, "#copy").click()
    expect(page.locator(".mend-copy img")).to_have_count(1)
    with studio[1].begin() as session:
        elsewhere = lay_out(session)
    page.goto(f"/shots/{elsewhere.id}/mends")
    page.set_input_files("#other-file", tmp_path / "mended.png")
    expect(page.locator("li.mend")).to_have_count(2)
    assert stands(studio, elsewhere, base).top == both


@pytest.mark.statistics
def test_a_window_over_the_edge_keeps_what_is_typed_at_once_and_is_moved_by_keys(page: Page, studio: Studio, shot: Shot) -> None:
    base = opened(page, studio, shot)
    page.click("[data-hand=window]")
    draw(page, (0.8, 0.3), (0.9, 0.6), (1.3, 0.95))
    page.fill("#words", "a fox")  # while the mend is only beginning
    wait_for(lambda: [(m.words, m.wider[2] > 0) for m in stands(studio, shot, base).stack.mends] == [("a fox", True)])
    expect(page.locator("#words")).to_have_value("a fox")
    before = stands(studio, shot, base).stack.mends[0]
    assert before.window is not None and before.mask is None
    page.focus("#window-grip")
    page.keyboard.press("ArrowRight")
    wait_for(lambda: stands(studio, shot, base).stack.mends[0].window != before.window)
    page.fill("#count", "1")
    page.locator("#count").blur()
    page.click("#run")
    expect(page.locator("[data-variant]")).to_have_count(1)
    with studio[1]() as session:
        [variant] = mends.variants(session, stands(studio, shot, base).row, before.id)
        made = pictures.find(session, variant.picture_sha256)
        assert made.width > drawn()[0].image.shape[1] and made.height == drawn()[0].image.shape[0]

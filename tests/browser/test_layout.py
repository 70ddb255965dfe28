"""The picture gets the room: how large it is on each page, that it is never squashed, how it is enlarged and moved, what begins from it."""

import io
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Browser, Page, Route, expect
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.recipe import Recipe
from mosskeeper.studio import drafts, runs, shots, takes, working
from mosskeeper.studio.models import Shot
from tests.browser.hands import at, unfolded
from tests.conftest import SMALL, lay_out, wait_for

pytestmark = pytest.mark.browser
Studio = tuple[str, sessionmaker[Session]]
SHAPES = {"1:2": (256, 512), "4:5": (256, 320), "1:1": (320, 320), "3:2": (384, 256), "16:9": (512, 288), "3:1": (768, 256)}
OVERLAYS = ("pose", "sketch", "regions", "mends")


def shot_of(studio: Studio, size: tuple[int, int], cues: int = 0) -> Shot:
    """A shot with a take of a shape, a square drawn in it, and as many references as are asked."""
    with studio[1].begin() as session:
        shot = lay_out(session)
        recipe = SMALL.model_copy(update={"width": size[0], "height": size[1], "count": 1, "seed": 7})
        drafts.edit(session, shot.id, lambda now: now.model_copy(update={"width": size[0], "height": size[1]}))
        run = runs.create(session, shot, recipe)
        working.begin(session, run.id, "test")
        image = np.full((size[1], size[0], 3), (200, 180, 140), np.uint8)
        image[40:140, 40:140] = (40, 60, 90)
        image[0, : 1 + shot.id % 200] = shot.id % 250  # pixels of this test alone
        working.store_take(session, run.id, 0, 7, image, 1.0)
        working.end(session, run, "done")
        name = run.takes[0].picture_sha256
        for k in range(cues):
            cue = shots.new_cue("look", name, f"reference {k}")
            drafts.edit(session, shot.id, lambda now, cue=cue: now.model_copy(update={"cues": [*now.cues, cue]}), alone=True)
        session.refresh(shot)
        return shot


def picture_box(page: Page) -> dict[str, float]:
    return page.evaluate(
        """() => { const r = document.querySelector('.stage .picture .zoomed').getBoundingClientRect();
        return {x: r.x, y: r.y, width: r.width, height: r.height, share: r.width * r.height / (innerWidth * innerHeight)} }"""
    )


@pytest.fixture(scope="module")
def shaped(studio: Studio) -> dict[str, int]:
    return {name: shot_of(studio, size).id for name, size in SHAPES.items()}


@pytest.fixture
def wide(browser: Browser, studio: Studio) -> Iterator[Page]:
    """A page whose window the test chooses."""
    context = browser.new_context(base_url=studio[0], viewport={"width": 1280, "height": 800})
    yield context.new_page()
    context.close()


@pytest.mark.parametrize("name", SHAPES)
def test_no_picture_is_squashed_and_each_has_its_share_of_the_screen(page: Page, shaped: dict[str, int], name: str) -> None:
    w, h = SHAPES[name]
    for overlay in ("", *(f"/{one}" for one in OVERLAYS)):
        page.goto(f"/shots/{shaped[name]}{overlay}")
        page.wait_for_selector(".stage .zoomed img")
        box = picture_box(page)
        assert abs(box["width"] - box["height"] * w / h) <= 1, (overlay, box)  # what is drawn square stays square
        assert box["y"] + box["height"] <= page.evaluate("document.querySelector('.foot').getBoundingClientRect().top"), overlay
        assert box["share"] >= {"4:5": 0.26, "3:2": 0.30}.get(name, 0.1), (overlay, box["share"])


def test_a_widened_canvas_keeps_its_shape(page: Page, shaped: dict[str, int]) -> None:
    page.goto(f"/shots/{shaped['4:5']}/mends")
    page.wait_for_selector("main[data-ready]")
    page.evaluate("document.getElementById('mend-picture').closest('.stage').style.setProperty('--ratio', '512 / 320')")
    box = picture_box(page)
    assert abs(box["width"] - box["height"] * 512 / 320) <= 1


def test_three_cues_are_in_view(page: Page, studio: Studio) -> None:
    shot = shot_of(studio, (256, 320), cues=3)
    page.goto(f"/shots/{shot.id}")
    expect(page.locator("[data-cue]")).to_have_count(3)
    low = page.evaluate("[...document.querySelectorAll('.cue')].map((cue) => cue.getBoundingClientRect().bottom)")
    assert max(low) <= page.evaluate("document.querySelector('.foot').getBoundingClientRect().top")


@pytest.mark.parametrize(("width", "height", "least"), [(1024, 768, 0.2), (1920, 1080, 0.28), (2560, 1440, 0.26)])
def test_other_windows_use_their_room(wide: Page, shaped: dict[str, int], width: int, height: int, least: float) -> None:
    wide.set_viewport_size({"width": width, "height": height})
    for overlay in ("", "/mends", "/sketch"):
        wide.goto(f"/shots/{shaped['4:5']}{overlay}")
        wide.wait_for_selector(".stage .zoomed img")
        assert picture_box(wide)["share"] >= least, overlay
        assert wide.evaluate("document.documentElement.scrollWidth") <= width, overlay


def test_a_narrow_window_keeps_all_acts_reachable(wide: Page, shaped: dict[str, int]) -> None:
    wide.set_viewport_size({"width": 800, "height": 900})
    for overlay in ("", *(f"/{one}" for one in OVERLAYS)):
        wide.goto(f"/shots/{shaped['4:5']}{overlay}")
        wide.wait_for_selector(".stage .zoomed img")
        assert wide.evaluate("document.documentElement.scrollWidth") <= 800, overlay
        wide.locator("#run").scroll_into_view_if_needed()
        expect(wide.locator("#run")).to_be_in_viewport()


def test_the_picture_alone_by_a_key_and_back(page: Page, shaped: dict[str, int]) -> None:
    for overlay in ("", "/sketch", "/mends"):
        page.goto(f"/shots/{shaped['4:5']}{overlay}")
        page.wait_for_selector(".stage .zoomed img")
        if overlay:
            page.wait_for_selector("main[data-ready]")
        page.keyboard.press("f")
        expect(page.locator("#run")).to_be_hidden()
        assert picture_box(page)["height"] > 680
        if overlay:
            expect(page.locator("#hand")).to_be_visible()  # the overlay's tools stay at hand
        page.keyboard.press("Escape")
        expect(page.locator("#run")).to_be_visible()


def test_wheel_and_keys_enlarge_and_space_moves(page: Page, shaped: dict[str, int]) -> None:
    page.goto(f"/shots/{shaped['4:5']}")
    page.wait_for_selector("#hero")
    before = picture_box(page)
    page.mouse.move(before["x"] + 100, before["y"] + 100)
    page.mouse.wheel(0, -300)
    wait_for(lambda: picture_box(page)["width"] > 1.5 * before["width"])
    near = picture_box(page)
    k = near["width"] / before["width"]
    assert near["x"] + 100 * k == pytest.approx(before["x"] + 100, abs=1)  # what is under the pointer stays there
    page.keyboard.down("Space")
    page.mouse.down()
    page.mouse.move(before["x"] + 60, before["y"] + 80, steps=3)
    page.mouse.up()
    page.keyboard.up("Space")
    moved = picture_box(page)
    assert (moved["x"] - near["x"], moved["y"] - near["y"]) == pytest.approx((-40, -20), abs=1)
    page.keyboard.press("0")
    assert picture_box(page)["width"] == pytest.approx(before["width"], abs=1)
    page.keyboard.press("+")
    expect(page.locator(".zoom-bar")).to_be_visible()
    page.get_by_role("button", name="1:1").click()
    assert picture_box(page)["width"] == pytest.approx(before["width"], abs=2) or picture_box(page)["width"] >= 256
    expect(page.locator("[data-zoom-says]")).to_contain_text("%")


def test_what_is_painted_on_an_enlarged_board_lies_where_the_hand_was(page: Page, studio: Studio, shaped: dict[str, int]) -> None:
    page.goto(f"/shots/{shaped['1:1']}/sketch")
    page.wait_for_selector("main[data-ready]")
    box = picture_box(page)
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.wheel(0, -280)
    wait_for(lambda: picture_box(page)["width"] > 1.5 * box["width"])
    page.keyboard.press("4")
    page.mouse.move(*at(page, 0.4, 0.4))
    page.mouse.down()
    page.mouse.move(*at(page, 0.6, 0.6), steps=4)
    page.mouse.up()
    drawn = page.evaluate(
        """() => { const c = document.getElementById('board'), d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data;
        let x0 = 1e9, x1 = 0; for (let k = 3; k < d.length; k += 4) if (d[k]) { const x = (k >> 2) % c.width;
        x0 = Math.min(x0, x); x1 = Math.max(x1, x); } return [x0 / c.width, x1 / c.width] }"""
    )
    assert drawn == pytest.approx([0.4, 0.6], abs=0.02)


def test_the_tabs_carry_the_take_that_is_looked_at(page: Page, taken: Shot, studio: Studio) -> None:
    page.goto(f"/shots/{taken.id}")
    page.locator("#strip li a").nth(2).click()
    expect(page.locator(".stage .caption b")).to_have_text("Take 1")
    page.locator(".index-tabs a", has_text="mends").click()
    with studio[1]() as session:
        first = takes.of_shot(session, taken.id)[-1].picture_sha256
    expect(page.locator("#main")).to_have_attribute("data-base", first)


# -- begin from this picture -----------------------------------------------------------------------------------------


def recipe_of(studio: Studio, shot: Shot) -> Recipe:
    with studio[1]() as session:
        return drafts.of_shot(shots.find(session, shot.id))


def pressed(page: Page, act: str) -> None:
    unfolded(page, page.locator(f".begin [data-{act}]").first).click()


def test_runs_begin_from_a_take_as_far_as_is_said_and_from_noise_again(page: Page, taken: Shot, studio: Studio) -> None:
    page.goto(f"/shots/{taken.id}")
    pressed(page, "from-it")
    expect(page.locator(".begins-from")).to_have_count(1)
    source = recipe_of(studio, taken).source
    assert source is not None
    with studio[1]() as session:
        assert source.picture == takes.of_shot(session, taken.id)[0].picture_sha256
    page.locator("[name=source-strength]").fill("0.8")
    page.locator("[name=source-strength]").press("Tab")
    expect(page.locator("#save-state")).to_have_text("saved")
    changed = recipe_of(studio, taken).source
    assert changed is not None
    assert changed.strength == 0.8
    page.get_by_role("button", name="Start from noise again").click()
    expect(page.locator(".begins-from")).to_have_count(0)
    assert recipe_of(studio, taken).source is None


def test_a_take_is_varied_by_one_press_and_by_keys(page: Page, taken: Shot, studio: Studio) -> None:
    page.goto(f"/shots/{taken.id}")
    page.locator(".begin > summary").focus()
    page.keyboard.press("Enter")
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    expect(page.locator(".begin-says")).to_contain_text("on their way")
    with studio[1]() as session:
        newest = runs.current(session, taken.id)
        assert newest is not None
        begun = runs.recipe_of_place(newest, 0).source
        assert begun is not None
        assert begun.strength == 0.25
    assert recipe_of(studio, taken).source is None  # the table stays as it is


def test_who_is_in_a_take_is_cut_out(page: Page, shot: Shot, studio: Studio) -> None:
    with studio[1].begin() as session:
        drafts.edit(session, shot.id, lambda now: now.model_copy(update={"words": "a woman, bust", "count": 1}))
    page.goto(f"/shots/{shot.id}")
    page.click("#run")
    expect(page.locator("#hero")).to_be_visible()
    with page.expect_download() as download:
        pressed(page, "cut-out")
    rgba = np.asarray(Image.open(io.BytesIO(Path(download.value.path()).read_bytes())))
    assert rgba.shape[2] == 4
    assert 0.05 < (rgba[..., 3] == 255).mean() < 0.9
    assert (rgba[..., 3] == 0).any()


def test_a_picture_without_anybody_says_that_there_is_nothing_to_cut_out(page: Page, taken: Shot) -> None:
    page.goto(f"/shots/{taken.id}")
    pressed(page, "cut-out")
    says = page.locator(".begin-says")
    expect(says).not_to_have_text("")
    wait_for(lambda: (pressed(page, "cut-out"), "Nobody was found" in says.inner_text())[1])


def test_a_mended_picture_becomes_a_reference_and_lends_a_pose_and_words(page: Page, taken: Shot, studio: Studio) -> None:
    page.goto(f"/shots/{taken.id}/mends")
    page.wait_for_selector("main[data-ready]")
    with page.expect_navigation():
        pressed(page, "as-reference")
    expect(page.locator("[data-cue]")).to_have_count(1)
    page.goto(f"/shots/{taken.id}/mends")
    page.wait_for_selector("main[data-ready]")
    with page.expect_navigation():
        pressed(page, "words-of")
    expect(page.locator("#words-panel")).to_be_visible()
    with page.expect_navigation():
        unfolded(page, page.locator(".begin a", has_text="pose from it")).click()
    page.wait_for_selector("main[data-ready]")
    assert page.url.endswith("/pose")
    page.goto(f"/shots/{taken.id}")
    with page.expect_navigation():
        unfolded(page, page.locator(".begin a", has_text="join with another")).click()
    expect(page.locator("#joining [name=join-with]").first).to_be_visible()


def test_what_was_seen_live_is_found_again_with_its_board(page: Page, shot: Shot, studio: Studio) -> None:
    page.goto(f"/shots/{shot.id}/sketch")
    page.wait_for_selector("main[data-ready]")
    page.keyboard.press("4")
    # the board is kept only after the picture that follows it was shown, as when the studio is slow
    held: list[Route] = []
    page.route("**/board?*", lambda route: held.append(route))
    with page.expect_response("**/seen-live?seed=*"):
        before = int(page.locator("main").get_attribute("data-followed") or 0)
        page.mouse.move(*at(page, 0.2, 0.2))
        page.mouse.down()
        page.mouse.move(*at(page, 0.6, 0.7), steps=4)
        page.mouse.up()
        page.wait_for_function("before => +(document.querySelector('main').dataset.followed ?? 0) > before", arg=before)
        wait_for(lambda: (page.evaluate("1"), held)[1])
        held[0].continue_()
        page.unroute("**/board?*")
    painted = recipe_of(studio, shot).cues[0].picture
    unfolded(page, "#clear").click()
    wait_for(lambda: (page.evaluate("1"), recipe_of(studio, shot).cues[0].picture != painted)[1])
    page.locator("#seen-live summary").click()
    expect(page.locator(".seen-row img").last).to_be_visible()
    with page.expect_navigation():
        page.locator(".seen-row button").last.click()
    page.wait_for_selector("main[data-ready]")
    assert recipe_of(studio, shot).cues[0].picture == painted

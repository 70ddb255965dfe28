"""The page of what the reader sees: points dragged, moved by keys, taken back; maps; words."""

import json

import numpy as np
import pytest
from playwright.sync_api import Page, expect
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.illustrator.skeleton import JOINTS
from mosskeeper.studio import pictures, readings
from tests.conftest import wait_for

pytestmark = pytest.mark.browser
Studio = tuple[str, sessionmaker[Session]]
FIGURE = draw(Description(layout=Layout(framing="full")), (256, 320)).image


def stored(studio: Studio, picture: np.ndarray) -> str:
    with studio[1].begin() as session:
        sha256 = pictures.store(session, picture, "a figure", "upload").sha256
        readings.of_picture(session, sha256)
        return sha256


def placed(studio: Studio, sha256: str) -> np.ndarray | None:
    with studio[1]() as session:
        return readings.of_picture(session, sha256).joints if readings.placed_by_hand(session, sha256) else None


def test_a_point_is_dragged_and_kept(page: Page, studio: Studio) -> None:
    sha256 = stored(studio, FIGURE)
    page.goto(f"/pictures/{sha256}/reading")
    joint = page.locator(f"[data-joint='{JOINTS.index('right wrist')}']")
    box, hero = joint.bounding_box(), page.locator(".read-hero").bounding_box()
    assert box is not None and hero is not None
    beside = 11  # px from the middle: a target is at least 24 px wide, however small its point is drawn
    page.mouse.move(box["x"] + box["width"] / 2 + beside, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(hero["x"] + hero["width"] * 0.25 + beside, hero["y"] + hero["height"] * 0.4, steps=4)
    page.mouse.up()
    expect(page.get_by_text("placed by hand")).to_be_visible()
    joints = placed(studio, sha256)
    assert joints is not None
    assert np.allclose(joints[JOINTS.index("right wrist")], (0.25, 0.4), atol=0.01)
    page.get_by_role("button", name="take my points back").click()
    expect(page.get_by_text("placed by hand")).to_have_count(0)
    assert placed(studio, sha256) is None


@pytest.mark.statistics
def test_points_are_moved_and_removed_by_keys(page: Page, studio: Studio) -> None:
    sha256 = stored(studio, FIGURE[::-1].copy())
    with studio[1].begin() as session:
        readings.place(session, sha256, [(0.5, 0.05 + 0.05 * k) for k in range(18)])
    page.goto(f"/pictures/{sha256}/reading")
    nose = page.get_by_role("button", name="nose")
    nose.focus()
    nose.press("Shift+ArrowRight")
    wait_for(lambda: placed(studio, sha256)[0][0] > 0.51)  # type: ignore[index]
    expect(page.locator("[data-joint='0']:focus")).to_have_count(1)
    page.locator("[data-joint='1']").press("Delete")
    expect(page.get_by_text("17 of 18 points")).to_be_visible()


@pytest.mark.statistics
def test_words_are_copied_or_selected_where_the_clipboard_is_shut(page: Page, studio: Studio) -> None:
    page.goto(f"/pictures/{stored(studio, FIGURE[:, 10:].copy())}/reading")
    copy, words = page.locator("[data-copy]").first, page.locator(".written-words").first
    copy.click()
    expect(copy).to_have_text("selected: Ctrl C")
    assert page.evaluate("getSelection().toString()") == words.inner_text()
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    copy.click()
    expect(copy).to_have_text("copied")
    assert page.evaluate("navigator.clipboard.readText()") == words.inner_text()


def test_where_nobody_is_found_points_are_asked_for(page: Page, studio: Studio) -> None:
    sha256 = stored(studio, np.full((200, 160, 3), 140, np.uint8))
    page.goto(f"/pictures/{sha256}/reading")
    expect(page.get_by_text("Nobody was found in it")).to_be_visible()
    expect(page.get_by_text("No joint was read surely")).to_be_visible()
    expect(page.locator(".joint.unsure")).to_have_count(18)


@pytest.mark.statistics
def test_the_maps_take_the_place_of_the_picture(page: Page, studio: Studio) -> None:
    sha256 = stored(studio, FIGURE[:, ::-1].copy())
    page.goto(f"/pictures/{sha256}/reading")
    for kind in ("parts", "depth", "edges", "lines", "tone"):
        page.get_by_role("button", name=kind, exact=True).click()
        expect(page.locator("#read-image")).to_have_attribute("src", f"/pictures/{sha256}/maps/{kind}.png")
        image = page.locator("#read-image")
        wait_for(lambda: image.evaluate("(image) => image.complete && image.naturalWidth === 256"))  # noqa: B023
    page.get_by_role("button", name="joints").click()
    expect(page.locator("#skeleton")).to_be_hidden()


@pytest.mark.statistics
def test_key_points_are_loaded_from_a_file(page: Page, studio: Studio) -> None:
    sha256 = stored(studio, FIGURE[40:].copy())
    page.goto(f"/pictures/{sha256}/reading")
    points = [v for k in range(17) for v in (20 + 10 * k, 30 + 5 * k, 2)]
    page.set_input_files(
        "[name=keypoints]", {"name": "pose.json", "mimeType": "application/json", "buffer": json.dumps([{"keypoints": points}]).encode()}
    )
    expect(page.get_by_text("18 of 18 points, placed by hand")).to_be_visible()
    joints = placed(studio, sha256)
    assert joints is not None and np.allclose(joints[0] * (256, 280), (20, 30), atol=0.5)


@pytest.mark.statistics
def test_depth_is_painted_over_and_taken_back(page: Page, studio: Studio) -> None:
    sha256 = stored(studio, FIGURE[20:].copy())
    page.goto(f"/pictures/{sha256}/reading")
    page.get_by_role("button", name="depth", exact=True).click()
    expect(page.locator("#depth-canvas[data-ready]")).to_be_visible()
    page.fill("#depth-value", "255")
    box = page.locator("#depth-canvas").bounding_box()
    assert box is not None
    y = box["y"] + box["height"] * 0.1
    page.mouse.move(box["x"] + box["width"] * 0.2, y)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] * 0.8, y, steps=5)
    page.mouse.up()
    expect(page.locator("#depth-canvas[data-saved='1']")).to_be_visible()
    with studio[1]() as session:
        depth = readings.of_picture(session, sha256).depth
    assert depth is not None
    h, w = depth.shape
    assert depth[round(h * 0.1), w // 2] < 0.02
    page.reload()
    page.get_by_role("button", name="depth", exact=True).click()
    page.get_by_role("button", name="take my depth back").click()
    expect(page.get_by_text("Its depth is yours")).to_have_count(0)
    with studio[1]() as session:
        assert not readings.depth_by_hand(session, sha256)

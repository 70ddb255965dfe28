"""The overlays by mouse, pen, touch and keys: painted, posed, followed, kept, taken along, and the same bytes again."""

import io
import re
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Browser, Page, Route, expect
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.illustrator.skeleton import AT
from mosskeeper.core.pictures.decode import decode, encode_png
from mosskeeper.core.recipe import Recipe
from mosskeeper.formats.board import BoardDocument, BoardShape
from mosskeeper.formats.png import pictures_of, recipe_of
from mosskeeper.studio import boards, drafts, poses, shots, takes
from mosskeeper.studio import pictures as stored
from mosskeeper.studio.models import Shot
from tests.browser.hands import at, unfolded
from tests.conftest import wait_for

pytestmark = pytest.mark.browser
Studio = tuple[str, sessionmaker[Session]]


def followed(page: Page, after: int = 0) -> int:
    """Waits for a live picture that came after so many."""
    number = "() => +(document.getElementById('main').dataset.followed ?? 0)"
    wait_for(lambda: page.evaluate(number) > after, 120)
    return int(page.evaluate(number))


def board_page(page: Page, shot: Shot) -> None:
    page.goto(f"/shots/{shot.id}/sketch")
    page.wait_for_selector("main[data-ready]")
    followed(page)


def draw(page: Page, *points: tuple[float, float]) -> None:
    page.mouse.move(*at(page, *points[0]))
    page.mouse.down()
    for point in points[1:]:
        page.mouse.move(*at(page, *point), steps=3)
    page.mouse.up()


def pot(page: Page, name: str) -> None:
    page.locator(f"#pots input[value='{name}']").check(force=True)


def pieces(studio: Studio, shot: Shot) -> list[str]:
    with studio[1]() as session:
        recipe = drafts.of_shot(shots.find(session, shot.id))
        return [piece.kind for piece in boards.pieces_of(session, recipe, boards.cue_of(recipe)).pieces]


def kept_board(studio: Studio, shot: Shot) -> np.ndarray:
    """(H, W, 4), the picture that is kept of the board."""
    with studio[1]() as session:
        cue = boards.cue_of(drafts.of_shot(shots.find(session, shot.id)))
        assert cue is not None
        assert cue.picture is not None
        return np.asarray(Image.open(io.BytesIO(stored.png(session, cue.picture))).convert("RGBA"))


def wait_for_pieces(page: Page, studio: Studio, shot: Shot, *kinds: str) -> None:
    wait_for(lambda: (page.evaluate("1"), pieces(studio, shot))[1] == list(kinds))  # the page goes on while it is waited for


def paint_a_scene(page: Page) -> None:
    page.keyboard.press("4")
    pot(page, "sky")
    draw(page, (0, 0), (1, 0.62))
    pot(page, "ground")
    draw(page, (0, 0.62), (1, 1))
    page.keyboard.press("3")
    pot(page, "light")
    draw(page, (0.1, 0.08), (0.24, 0.19))


def test_a_board_becomes_a_stage_and_a_take_and_comes_back_from_its_file(page: Page, shot: Shot, studio: Studio, tmp_path: Path) -> None:
    board_page(page, shot)
    paint_a_scene(page)
    wait_for_pieces(page, studio, shot, "box", "box", "disc")
    expect(page.locator("#told")).to_contain_text("sun, upper left")
    page.keyboard.press("m")
    expect(page.locator("#stages .stage-thumb")).to_have_count(1)
    unfolded(page, "#clear").click()
    wait_for_pieces(page, studio, shot)
    page.reload()
    page.wait_for_selector("main[data-ready]")
    with page.expect_navigation():
        page.click("#stages .stage-thumb")
    page.wait_for_selector("main[data-ready]")
    wait_for_pieces(page, studio, shot, "box", "box", "disc")
    page.click("#make-large")
    expect(page.locator("#run-state [data-run]")).to_have_attribute("data-state", "done")
    expect(page.locator("#overlay-takes img")).to_have_count(1)
    expect(page.locator("#board")).to_be_visible()  # the board stays where it is worked on

    page.goto(f"/shots/{shot.id}")
    page.click("#keep")
    expect(page.locator("#keep")).to_contain_text("kept")
    with page.expect_download() as download:
        unfolded(page, "#download").click()
    file = tmp_path / "take.png"
    download.value.save_as(file)
    data = file.read_bytes()
    recipe = recipe_of(data)
    assert recipe is not None
    assert [cue.role for cue in recipe.cues] == ["sketch"]
    assert set(pictures_of(data)) == {recipe.cues[0].picture}

    page.set_input_files("#cue-file", file)
    page.click("text=Take this recipe over")
    page.wait_for_url(f"**/shots/{shot.id}")
    page.click("#run")
    expect(page.locator("#strip li a")).to_have_count(2)
    with studio[1]() as session:
        a, b = (take.picture_sha256 for take in takes.of_shot(session, shot.id))
        assert a == b


def test_acts_are_undone_one_by_one_across_a_reload(page: Page, shot: Shot, studio: Studio) -> None:
    board_page(page, shot)
    paint_a_scene(page)
    wait_for_pieces(page, studio, shot, "box", "box", "disc")
    expect(page.locator(".index-tabs a[href$='/sketch'] b")).to_have_text("1")
    page.reload()
    page.wait_for_selector("main[data-ready]")
    page.click("#undo")
    wait_for_pieces(page, studio, shot, "box", "box")
    page.click("#redo")
    wait_for_pieces(page, studio, shot, "box", "box", "disc")
    unfolded(page, "#clear").click()
    wait_for_pieces(page, studio, shot)
    page.click("#undo")
    wait_for_pieces(page, studio, shot, "box", "box", "disc")


def test_pen_pressure_makes_strokes_broad_and_its_other_end_rubs_out(page: Page, shot: Shot, studio: Studio) -> None:
    board_page(page, shot)
    page.evaluate(
        """([x0, y0, x1, y1]) => {
          const board = document.getElementById("board");
          const pen = (type, x, y, pressure, buttons) => board.dispatchEvent(new PointerEvent(type, {
            pointerId: 1, pointerType: "pen", clientX: x, clientY: y, pressure, buttons, bubbles: true, cancelable: true, isPrimary: true }));
          board.setPointerCapture = () => {};
          for (const [pressure, y, buttons] of [[0.1, y0, 1], [1, (y0 + y1) / 2, 1], [0.5, y1, 32]]) {
            pen("pointerdown", x0, y, pressure, buttons); pen("pointermove", x1, y, pressure, buttons); pen("pointerup", x1, y, 0, 0);
          }
        }""",
        [*at(page, 0.2, 0.2), *at(page, 0.8, 0.8)],
    )
    wait_for_pieces(page, studio, shot, "stroke", "stroke", "rubbed")
    with studio[1]() as session:
        recipe = drafts.of_shot(shots.find(session, shot.id))
        light, heavy, _ = boards.pieces_of(session, recipe, boards.cue_of(recipe)).pieces
        assert light.points[2] < heavy.points[2] / 2  # type: ignore[union-attr]


def test_a_piece_is_chosen_moved_by_keys_copied_and_taken_off(page: Page, shot: Shot, studio: Studio) -> None:
    board_page(page, shot)
    page.keyboard.press("4")
    draw(page, (0.3, 0.3), (0.6, 0.6))
    page.keyboard.press("8")
    page.mouse.click(*at(page, 0.45, 0.45))
    expect(page.locator("#piece-acts")).to_be_visible()
    page.keyboard.press("Shift+ArrowRight")
    page.click("[data-piece=copy]")
    wait_for_pieces(page, studio, shot, "box", "box")
    page.focus("#board")
    page.keyboard.press("Delete")
    wait_for_pieces(page, studio, shot, "box")


@pytest.mark.statistics
def test_a_picture_is_laid_on_the_board_and_a_shape_said_to_be_something_else(page: Page, shot: Shot, studio: Studio) -> None:
    board_page(page, shot)
    paint_a_scene(page)
    flat = np.full((120, 90, 3), (90, 60, 40), np.uint8)
    page.locator("#board-file").set_input_files({"name": "post.png", "mimeType": "image/png", "buffer": encode_png(flat)})
    wait_for_pieces(page, studio, shot, "box", "box", "disc", "picture")
    h, w = kept_board(studio, shot).shape[:2]
    assert tuple(kept_board(studio, shot)[h // 2, w // 2]) == (90, 60, 40, 255)  # what is kept is what is painted
    choice = page.locator("#told select").filter(has_text="trunk").or_(page.locator("#told select").filter(has_text="thing")).first
    expect(choice).to_be_visible()
    choice.select_option("window")
    expect(page.locator("#told")).to_contain_text("window,")
    with studio[1]() as session:
        cue = boards.cue_of(drafts.of_shot(shots.find(session, shot.id)))
        assert cue is not None
        assert [kind for _, _, kind in cue.named] == ["window"]


def test_where_no_room_is_free_the_picture_follows_after_each_act(page: Page, shot: Shot, studio: Studio) -> None:
    busy = {"problem": "All live rooms are taken."}
    page.route(re.compile(r"/follow\?"), lambda route: route.fulfill(status=503, json=busy))
    page.goto(f"/shots/{shot.id}/sketch")
    page.wait_for_selector("main[data-ready]")
    expect(page.locator("#follow-state")).to_have_text(busy["problem"])
    wait_for(lambda: "follow/queued.png" in (page.get_attribute("#live-picture", "src") or ""))
    before = page.get_attribute("#live-picture", "src")
    page.keyboard.press("4")
    draw(page, (0.1, 0.6), (0.9, 0.95))
    wait_for(lambda: page.get_attribute("#live-picture", "src") != before)
    expect(page.locator("#told")).not_to_contain_text("Paint something")
    drawn = page.get_attribute("#live-picture", "src")
    wait_for(lambda: page.locator("#undo").is_enabled())
    page.click("#undo")
    wait_for(lambda: page.get_attribute("#live-picture", "src") != drawn)


@pytest.mark.statistics
def test_a_place_comes_under_the_board_and_a_piece_becomes_its_background(page: Page, shot: Shot, studio: Studio) -> None:
    board_page(page, shot)
    page.select_option("#place", "kitchen")
    wait_for(lambda: "kitchen" in page.input_value("#words"))
    page.keyboard.press("4")
    draw(page, (0.4, 0.4), (0.6, 0.6))
    draw(page, (0.1, 0.1), (0.3, 0.2))
    wait_for_pieces(page, studio, shot, "box", "box")
    page.keyboard.press("8")
    page.mouse.click(*at(page, 0.2, 0.15))
    page.click("[data-piece='under']")

    def first() -> tuple[float, float]:
        with studio[1]() as session:
            recipe = drafts.of_shot(shots.find(session, shot.id))
            piece = boards.pieces_of(session, recipe, boards.cue_of(recipe)).pieces[0]
            return piece.size  # type: ignore[union-attr,return-value]

    wait_for(lambda: first()[1] >= 639)
    assert first()[0] >= 511


@pytest.mark.statistics
def test_the_dial_and_the_words_move_the_live_picture(page: Page, shot: Shot, studio: Studio) -> None:
    board_page(page, shot)
    paint_a_scene(page)
    wait_for_pieces(page, studio, shot, "box", "box", "disc")
    n = followed(page, 3)
    dial = page.locator("#board-weight")
    dial.focus()
    for _ in range(3):
        page.keyboard.press("ArrowLeft")
    n = followed(page, n)
    page.fill("#words", "a boy in a knitted jumper")
    n = followed(page, n)
    page.select_option("#surface", "felt collage")
    followed(page, n)

    def kept() -> Recipe:
        page.evaluate("1")
        with studio[1]() as session:
            return drafts.of_shot(shots.find(session, shot.id))

    wait_for(lambda: kept().words == "a boy in a knitted jumper")
    wait_for(lambda: kept().cues[0].weight < 0.7 and kept().styles == ["felt collage"])


@pytest.mark.statistics
def test_of_very_many_strokes_the_oldest_are_joined_and_the_board_looks_the_same(page: Page, shot: Shot, studio: Studio) -> None:
    many = [
        {"kind": "stroke", "colour": "303030", "cover": 1, "points": [40 + k % 400, 60 + k // 4, 3, 44 + k % 400, 60 + k // 4, 3]}
        for k in range(1000)
    ]
    with studio[1].begin() as session:
        boards.keep(session, shot.id, np.zeros((640, 512, 4), np.uint8), BoardDocument.model_validate({"pieces": many}), "")
    board_page(page, shot)
    page.keyboard.press("4")
    draw(page, (0.3, 0.8), (0.6, 0.9))
    wait_for(lambda: (page.evaluate("1"), len(pieces(studio, shot)))[1] == 501)
    assert pieces(studio, shot)[0] == "picture"
    page.reload()
    page.wait_for_selector("main[data-ready]")
    assert page.evaluate("() => document.getElementById('board').getContext('2d').getImageData(42, 60, 1, 1).data[3]") > 100


@pytest.mark.statistics
def test_a_second_tab_watches_until_it_takes_the_pen(browser: Browser, shot: Shot, studio: Studio) -> None:
    context = browser.new_context(base_url=studio[0], viewport={"width": 1280, "height": 800})
    first, second = context.new_page(), context.new_page()
    board_page(first, shot)
    second.goto(f"/shots/{shot.id}/sketch")
    expect(second.locator("#board-problem")).to_contain_text("Take the pen")
    first.bring_to_front()
    first.keyboard.press("4")
    draw(first, (0.2, 0.2), (0.7, 0.7))
    wait_for_pieces(first, studio, shot, "box")
    second.bring_to_front()
    wait_for(lambda: second.evaluate("() => document.getElementById('board').getContext('2d').getImageData(200, 300, 1, 1).data[3]") > 0)
    second.click("text=Take the pen")
    expect(first.locator("#board-problem")).to_contain_text("Take the pen")
    context.close()


def pose_page(page: Page, shot: Shot, studio: Studio) -> None:
    page.goto(f"/shots/{shot.id}/pose")
    page.wait_for_selector("main[data-ready]")
    page.click("[data-book='standing']")
    expect(page.locator(".chosen [data-joint='4']")).to_be_visible()
    followed(page)
    wait_for(lambda: (page.evaluate("1"), kept_joints(studio, shot).size)[1])


def kept_joints(studio: Studio, shot: Shot) -> np.ndarray:
    """The first figure's joints in px; none where there is no figure yet."""
    with studio[1]() as session:
        recipe = drafts.of_shot(shots.find(session, shot.id))
        figures = poses.figures_of(session, recipe)
        return figures[0].posed.joints * (recipe.width, recipe.height) if figures else np.zeros((0, 2))


def until_kept(page: Page, studio: Studio, shot: Shot, before: np.ndarray) -> np.ndarray:
    """The joints as kept once they differ from those before."""
    wait_for(lambda: (page.evaluate("1"), np.abs(kept_joints(studio, shot) - before).max() > 0.5)[1])
    return kept_joints(studio, shot)


def bone(p: np.ndarray, a: str, b: str) -> float:
    return float(np.hypot(*(p[AT[a]] - p[AT[b]])))


def test_a_wrist_is_dragged_and_bones_keep_their_lengths(page: Page, shot: Shot, studio: Studio) -> None:
    pose_page(page, shot, studio)
    before = kept_joints(studio, shot)
    wrist = page.locator(".chosen [data-joint='4']").bounding_box()
    assert wrist
    page.mouse.move(wrist["x"] + wrist["width"] / 2 - 11, wrist["y"] + wrist["height"] / 2)  # beside it: targets are 24 px wide
    page.mouse.down()
    page.mouse.move(*at(page, 0.25, 0.25, "#poses"), steps=6)
    page.mouse.up()
    after = until_kept(page, studio, shot, before)
    for a, b in (("right shoulder", "right elbow"), ("right elbow", "right wrist")):
        assert abs(bone(after, a, b) - bone(before, a, b)) < 0.5
    assert after[AT["right wrist"], 1] < before[AT["right wrist"], 1] - 20
    assert np.allclose(after[AT["left ankle"]], before[AT["left ankle"]], atol=0.1)
    page.click("#undo")
    until_kept(page, studio, shot, after)
    assert np.allclose(kept_joints(studio, shot), before, atol=0.1)


def test_hips_go_down_and_feet_stay_by_keys_alone(page: Page, shot: Shot, studio: Studio) -> None:
    pose_page(page, shot, studio)
    before = kept_joints(studio, shot)
    page.focus(".chosen [data-joint='8']")
    for _ in range(8):
        page.keyboard.press("ArrowDown")
    hip = AT["right hip"], 1
    wait_for(lambda: (page.evaluate("1"), kept_joints(studio, shot)[hip] > before[hip] + 4)[1])  # the presses may come as several acts
    after = kept_joints(studio, shot)
    for foot in ("right ankle", "left ankle"):
        assert np.allclose(after[AT[foot]], before[AT[foot]], atol=1.5)
    assert abs(bone(after, "right knee", "right ankle") - bone(before, "right knee", "right ankle")) < 0.5


def test_a_joint_is_dragged_by_touch(browser: Browser, shot: Shot, studio: Studio) -> None:
    context = browser.new_context(base_url=studio[0], viewport={"width": 1280, "height": 800}, has_touch=True)
    page = context.new_page()
    pose_page(page, shot, studio)
    before = kept_joints(studio, shot)
    box = page.locator(".chosen [data-joint='4']").bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    client = context.new_cdp_session(page)
    client.send("Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": [{"x": x, "y": y}]})
    for k in range(1, 6):
        client.send("Input.dispatchTouchEvent", {"type": "touchMove", "touchPoints": [{"x": x - 6 * k, "y": y - 14 * k}]})
    client.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})
    after = until_kept(page, studio, shot, before)
    assert after[AT["right wrist"], 1] < before[AT["right wrist"], 1] - 10
    context.close()


def test_two_people_of_the_book_and_a_pose_of_ones_own(page: Page, shot: Shot, studio: Studio) -> None:
    pose_page(page, shot, studio)
    page.click("[data-book='handing over']")
    expect(page.locator("#poses .figure")).to_have_count(2)
    expect(page.locator(".index-tabs a[href$='/pose'] b")).to_have_text("2")
    expect(page.locator("#pose-told")).to_contain_text("B stands for nobody yet")
    page.click("#add-to-book")
    page.fill("#pose-problem [name=name]", "our meeting")
    page.keyboard.press("Enter")
    expect(page.locator("#book [data-own]")).to_contain_text("our meeting")
    page.click("#book [data-out]")
    expect(page.locator("#book [data-own]")).to_have_count(0)
    page.click("text=bring it back")
    expect(page.locator("#book [data-own]")).to_have_count(1)
    page.fill("#book-find", "two joyful")
    expect(page.locator(".book-pose:visible")).to_have_count(1)


def apart(page: Page, *addresses: str) -> float:
    """How far two pictures are apart on average, of 255."""
    count: float = page.evaluate(
        """async (addresses) => {
          const [a, b] = await Promise.all(addresses.map(async (src) => {
            const image = Object.assign(new Image(), { src });
            await image.decode();
            const canvas = Object.assign(document.createElement("canvas"), { width: 64, height: 80 });
            const pen = canvas.getContext("2d");
            pen.drawImage(image, 0, 0, 64, 80);
            return pen.getImageData(0, 0, 64, 80).data;
          }));
          return a.reduce((sum, value, k) => sum + Math.abs(value - b[k]), 0) / (a.length * 0.75);
        }""",
        addresses,
    )
    return count


@pytest.mark.statistics
def test_the_overlays_picture_is_what_the_take_becomes(page: Page, shot: Shot, studio: Studio) -> None:
    pose_page(page, shot, studio)
    with studio[1].begin() as session:
        drafts.edit(session, shot.id, lambda now: now.model_copy(update={"count": 1}))
    page.reload()
    page.wait_for_selector("main[data-ready]")
    followed(page)
    page.click("#run")
    expect(page.locator("#overlay-takes img")).to_have_count(1)
    with studio[1]() as session:
        take = takes.of_shot(session, shot.id)[0]
        assert [cue.role for cue in takes.recipe_of(take).cues] == ["pose"]
    address = f"/pictures/{take.picture_sha256}.png"
    assert decode(page.request.get(address).body()).rgb_u8.shape == (320, 256, 3)
    live = page.locator("#live-picture").get_attribute("src") or ""
    assert apart(page, live, address) < 8
    expect(page.locator("#poses .figure")).to_have_count(1)  # what lay on the picture still lies there, and is worked on
    before = kept_joints(studio, shot)
    page.click("#mirror-figure")
    until_kept(page, studio, shot, before)


def held_back(page: Page, pattern: str) -> list[Route]:
    """Requests of acts stand still here until each is let on."""
    held: list[Route] = []
    page.route(pattern, lambda route: held.append(route) if route.request.method == "POST" else route.continue_())
    return held


def let_on(page: Page, held: list[Route]) -> None:
    wait_for(lambda: (page.evaluate("1"), held)[1])
    assert page.locator("#run-state [data-run]").count() == 0  # the run waits for what the hand did
    held.pop().continue_()


@pytest.mark.statistics
def test_a_run_takes_the_stroke_that_was_painted_just_before(page: Page, shot: Shot, studio: Studio) -> None:
    board_page(page, shot)
    held = held_back(page, re.compile(r"/board\?cue="))
    page.keyboard.press("4")
    draw(page, (0, 0), (1, 0.62))
    page.keyboard.press("Control+Enter")
    let_on(page, held)
    expect(page.locator("#overlay-takes img")).to_have_count(2)
    with studio[1]() as session:
        assert [[cue.role for cue in takes.recipe_of(take).cues] for take in takes.of_shot(session, shot.id)] == [["sketch"]] * 2


@pytest.mark.statistics
def test_a_way_to_another_page_waits_for_the_stroke_that_was_painted_just_before(page: Page, shot: Shot, studio: Studio) -> None:
    board_page(page, shot)
    held = held_back(page, re.compile(r"/board\?cue="))
    page.keyboard.press("4")
    draw(page, (0, 0), (1, 0.62))
    page.click(".index-tabs a[href$='/pose']")
    let_on(page, held)
    page.wait_for_url("**/pose")
    assert pieces(studio, shot) == ["box"]


@pytest.mark.statistics
def test_a_run_takes_the_nudge_of_a_joint_just_before(page: Page, shot: Shot, studio: Studio) -> None:
    pose_page(page, shot, studio)
    before = kept_joints(studio, shot)
    held = held_back(page, re.compile(r"/poses\?base="))
    page.focus(".chosen [data-joint='4']")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Control+Enter")
    let_on(page, held)
    expect(page.locator("#overlay-takes img")).to_have_count(2)
    with studio[1]() as session:
        recipe = takes.recipe_of(takes.of_shot(session, shot.id)[0])
        joints = poses.figures_of(session, recipe)[0].posed.joints * (recipe.width, recipe.height)
    assert joints[4][1] < before[4][1] - 1


def many(session: Session, shot_id: int, count: int) -> None:
    """Keeps a board of so many small discs."""
    discs = [BoardShape(kind="disc", colour="aa3311", at=(10.0 + k % 40 * 7, 10.0 + k // 40 * 7), size=(5.0, 5.0)) for k in range(count)]
    width, height = boards.size_of(drafts.of_shot(shots.find(session, shot_id)))
    boards.keep(session, shot_id, np.zeros((height, width, 4), np.uint8), BoardDocument(pieces=discs), "")


@pytest.mark.statistics
def test_what_is_painted_while_old_pieces_are_joined_stays(page: Page, shot: Shot, studio: Studio) -> None:
    with studio[1].begin() as session:
        many(session, shot.id, 1000)
    board_page(page, shot)
    held = held_back(page, re.compile("/board/pictures$"))
    page.keyboard.press("4")
    draw(page, (0.1, 0.5), (0.4, 0.7))
    wait_for(lambda: (page.evaluate("1"), held)[1])
    page.keyboard.press("5")
    draw(page, (0.6, 0.5), (0.9, 0.7))
    held[0].continue_()
    wait_for(lambda: (page.evaluate("1"), pieces(studio, shot))[1][0] == "picture")
    assert pieces(studio, shot)[-2:] == ["box", "triangle"]


def closed_too_soon(page: Page, shot: Shot) -> Page:
    """A new page of a browser in which another was closed before it could keep the box that was painted."""
    board_page(page, shot)
    held = held_back(page, re.compile(r"/board\?cue="))
    page.keyboard.press("4")
    draw(page, (0, 0), (1, 0.62))
    wait_for(lambda: (page.evaluate("1"), held)[1])
    page.goto("about:blank")
    page.unroute_all()
    return page


def test_what_a_page_painted_that_was_closed_too_soon_is_painted_again(page: Page, shot: Shot, studio: Studio) -> None:
    closed_too_soon(page, shot)
    assert pieces(studio, shot) == []
    board_page(page, shot)
    wait_for_pieces(page, studio, shot, "box")
    h, w = kept_board(studio, shot).shape[:2]
    assert kept_board(studio, shot)[h // 4, w // 2, 3] == 255


@pytest.mark.statistics
def test_a_browser_that_knows_no_locks_loses_no_stroke_either(page: Page, shot: Shot, studio: Studio) -> None:
    page.add_init_script("Object.defineProperty(navigator, 'locks', { value: undefined })")
    closed_too_soon(page, shot)
    board_page(page, shot)
    wait_for_pieces(page, studio, shot, "box")


def test_the_artist_says_which_board_stays_where_it_was_changed_since(page: Page, shot: Shot, studio: Studio) -> None:
    closed_too_soon(page, shot)
    with studio[1].begin() as session:
        many(session, shot.id, 2)
    board_page(page, shot)
    expect(page.locator("#board-problem")).to_contain_text("was changed in another tab meanwhile")
    assert pieces(studio, shot) == ["disc", "disc"]
    page.click("text=lay mine over it")
    wait_for_pieces(page, studio, shot, "box")
    h, w = kept_board(studio, shot).shape[:2]
    assert kept_board(studio, shot)[h // 4, w // 2, 3] == 255
    expect(page.locator("#board-problem")).to_have_text("")
    page.reload()
    page.wait_for_selector("main[data-ready]")
    expect(page.locator("#board-problem")).to_have_text("")


def test_where_the_studio_does_not_answer_it_is_told(page: Page, shot: Shot, studio: Studio) -> None:
    board_page(page, shot)
    page.route("**/*", lambda route: route.abort())
    page.keyboard.press("m")
    expect(page.locator("#board-problem")).to_contain_text("does not answer")
    page.unroute_all()
    page.goto(f"/shots/{shot.id}/pose")
    page.wait_for_selector("main[data-ready]")
    page.route("**/*", lambda route: route.abort())
    page.click("[data-book='standing']")
    expect(page.locator("#pose-problem")).to_contain_text("does not answer")

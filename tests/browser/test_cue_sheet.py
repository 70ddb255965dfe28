"""The cue sheet, sweeps and comparing, in the browser."""

import re

import numpy as np
import pytest
from playwright.sync_api import Browser, Page, expect
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.pictures.decode import encode_png
from mosskeeper.core.sweep import Dial
from mosskeeper.studio import cast, drafts, runs, shots, takes, working
from mosskeeper.studio.models import Shot
from tests.browser.hands import unfolded
from tests.conftest import SMALL, lay_out, wait_for

pytestmark = pytest.mark.browser
Studio = tuple[str, sessionmaker[Session]]


def flat(n: int) -> np.ndarray:
    image = np.full((320, 256, 3), (50 * n + 30, 110, 210 - 40 * n), np.uint8)
    image[40 : 60 + 10 * n, 30:90] = 255 - 30 * n
    return image


@pytest.fixture
def shot(studio: Studio) -> Shot:
    """A shot with two takes, the first of them the lead anchor, and that anchor on the cue sheet."""
    with studio[1].begin() as session:
        made = lay_out(session)
        run = runs.create(session, made, SMALL)
        working.begin(session, run.id, "test")
        for place, seed in enumerate(run.seeds):
            image = flat(place)
            image[made.id % 200] = place
            working.store_take(session, run.id, place, seed, image, 1.0)
        working.end(session, run, "done")
        cast.make_anchor(session, takes.find(session, run.takes[0].id), lead=True)
        session.refresh(made)
        return made


def with_cue(page: Page, shot: Shot, studio: Studio, times: int = 1) -> None:
    """The table with the lead anchor on its cue sheet as a look, as one adds it there that was not read."""
    with studio[1].begin() as session:
        lead = shots.find(session, shot.id).character.lead  # type: ignore[union-attr]
        for _ in range(times):
            shots.add_cue(session, shot.id, lead.picture_sha256, "Ada Reed, lead anchor")  # type: ignore[union-attr]
    page.goto(f"/shots/{shot.id}")
    expect(page.locator("[data-cue]")).to_have_count(times)


def saved(page: Page) -> None:
    expect(page.locator("#save-state")).to_have_text("saved")


@pytest.mark.statistics
def test_the_role_of_a_cue_is_changed_in_place_and_begins_as_that_role_does(page: Page, shot: Shot, studio: Studio) -> None:
    with_cue(page, shot, studio)
    expect(page.locator("[name$=-weight]")).to_have_value("0.8")
    page.get_by_label("Role of").select_option("place")
    saved(page)
    expect(page.locator("[name$=-weight]")).to_have_value("0.6")
    expect(page.locator("[name$=-end]")).to_have_value("60")
    page.fill("[name$=-weight]", "0.33")
    with page.expect_response("**/draft"):  # its answer brings a new list of roles
        page.locator("[name$=-weight]").press("Tab")
    saved(page)
    with page.expect_response("**/draft"):
        page.get_by_label("Role of").select_option("look")
    saved(page)
    page.reload()
    expect(page.get_by_label("Role of")).to_have_value("look")
    expect(page.locator("[name$=-weight]")).to_have_value("0.33")


@pytest.mark.statistics
@pytest.mark.parametrize("asked", ["cues", "measured"])
def test_an_answer_drawn_before_an_edit_and_come_after_it_takes_nothing_back(page: Page, shot: Shot, studio: Studio, asked: str) -> None:
    with_cue(page, shot, studio)
    with studio[1]() as session:
        address = f"/shots/{shot.id}/{asked}" + (f"?take={takes.of_shot(session, shot.id)[0].id}" if asked == "measured" else "")
    late = page.request.get(address).text()
    page.get_by_label("Role of").select_option("face")
    saved(page)
    weight = page.locator("[name$=-weight]")
    expect(weight).to_have_attribute("value", "0.8")  # the answer has come
    page.route(lambda url: url.endswith(address), lambda route: route.fulfill(body=late, content_type="text/html"))
    page.evaluate("address => htmx.ajax('GET', address, { source: '#main', swap: 'none' })", address)
    expect(page.get_by_label("Role of")).to_have_value("face")
    expect(weight).to_have_value("0.8")
    page.unroute_all()
    page.evaluate("address => htmx.ajax('GET', address, { source: '#main', swap: 'none' })", address)
    expect(weight).to_have_value("0.8")
    page.reload()
    expect(weight).to_have_value("0.8")


def test_what_the_hand_sets_while_an_answer_is_put_in_stays(page: Page, shot: Shot, studio: Studio) -> None:
    with_cue(page, shot, studio)
    begins = ends(studio, shot)
    page.evaluate(
        """() => document.addEventListener("htmx:before:swap", () => {
          document.querySelector("[data-bar]").dispatchEvent(new KeyboardEvent("keydown", { key: "ArrowLeft", bubbles: true, cancelable: true }));
        }, { once: true })"""
    )
    page.focus("[data-bar]")
    page.keyboard.press("ArrowLeft")
    wait_for(lambda: (page.evaluate("1"), ends(studio, shot) == begins - 10)[1])
    expect(page.locator("[name$=-end]")).to_have_value(f"{begins - 10:g}")


def ends(studio: Studio, shot: Shot) -> float:
    with studio[1]() as session:
        return drafts.of_shot(shots.find(session, shot.id)).cues[0].end


def test_a_cue_is_dragged_by_touch(browser: Browser, studio: Studio, shot: Shot) -> None:
    context = browser.new_context(base_url=studio[0], has_touch=True, viewport={"width": 1180, "height": 820})
    page = context.new_page()
    with_cue(page, shot, studio)
    # what comes late moves the sheet: the bar is touched where it stays
    page.evaluate(
        "async () => { await document.fonts.ready; await Promise.all([...document.images].map((one) => one.decode().catch(() => {}))); }"
    )
    page.locator("[data-bar]").scroll_into_view_if_needed()
    box = page.locator("[data-bar]").bounding_box()
    assert box
    touch = context.new_cdp_session(page)
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    touch.send("Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": [{"x": x, "y": y}]})
    for k in (1, 2, 3):
        touch.send("Input.dispatchTouchEvent", {"type": "touchMove", "touchPoints": [{"x": x, "y": y - 3 * k}]})
    touch.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})
    weight = page.locator("[name$=-weight]")
    wait_for(lambda: float(weight.input_value()) == pytest.approx(0.8 + 9 / 21, abs=0.02))  # moves arrive one by one
    saved(page)
    context.close()


def test_solo_and_off_are_seen_at_once_and_survive(page: Page, shot: Shot, studio: Studio) -> None:
    with_cue(page, shot, studio, 2)
    page.get_by_label("Solo").nth(1).check(force=True)
    expect(page.locator("[data-cue]").nth(0)).to_have_class("cue off role-look")
    page.reload()
    expect(page.get_by_label("Solo").nth(1)).to_be_checked()
    expect(page.locator("[data-cue]").nth(1)).to_have_class("cue role-look")


@pytest.mark.statistics
def test_every_edit_is_undone_and_redone_after_a_reload_too(page: Page, shot: Shot, studio: Studio) -> None:
    with_cue(page, shot, studio)
    page.get_by_label("balance references").check()
    saved(page)
    page.reload()
    page.locator("#undo").click()
    expect(page.get_by_label("balance references")).not_to_be_checked()
    page.locator("#undo").click()
    expect(page.locator("[data-cue]")).to_have_count(0)
    page.locator("#redo").click()
    expect(page.locator("[data-cue]")).to_have_count(1)
    page.keyboard.press("Control+Shift+Z")
    expect(page.get_by_label("balance references")).to_be_checked()
    expect(page.locator("#redo")).to_be_disabled()


def test_a_style_is_taken_off_on_the_sheet_and_a_neutral_run_leaves_it_chosen(page: Page, shot: Shot, studio: Studio) -> None:
    page.goto(f"/shots/{shot.id}")
    unfolded(page, page.locator(".styles span").get_by_text("watercolour", exact=True)).click()
    expect(page.locator(".influence-list")).to_contain_text("style watercolour")
    page.locator("#neutral").click()
    expect(page.locator("#run-state")).to_contain_text("take")
    with studio[1]() as session:
        run = runs.of_shot(session, shot.id)[0]
        assert run.recipe.body["styles"] == []
    expect(page.locator("[name=styles][value=watercolour]")).to_be_checked()
    page.get_by_label("Take the style watercolour off").click()
    expect(page.locator(".influence-list")).not_to_contain_text("style")


def test_a_take_is_dragged_onto_the_sheet_and_the_anchor_is_offered_instead(page: Page, shot: Shot) -> None:
    page.goto(f"/shots/{shot.id}")
    page.locator("#strip img").first.drag_to(page.locator(".sheet"))
    expect(page.locator("[data-cue]")).to_have_count(1)
    page.get_by_label("Role of").select_option("look")  # where it was read already, another one was proposed
    expect(page.locator(".cue-notes")).to_contain_text("a subject taken from it drifts")
    page.get_by_role("button", name="Use the anchor instead").click()
    expect(page.locator(".cue-title")).to_have_text("Ada Reed, lead anchor")
    expect(page.locator(".cue-notes")).not_to_contain_text("drifts")


@pytest.mark.statistics
def test_a_sweep_is_priced_and_limited_before_it_runs(page: Page, shot: Shot, studio: Studio) -> None:
    with_cue(page, shot, studio)
    page.locator("#sweep").click()
    price = page.locator("#sweep-price")
    expect(price).to_contain_text("6 takes in one run")
    page.select_option("[name=second]", "guidance")
    expect(price).to_contain_text("36 takes in one run")
    page.fill("[name=first-count]", "20")
    page.fill("[name=second-count]", "20")
    expect(price).to_contain_text("400 cells would cost")
    expect(price).to_contain_text("at most 100")
    page.get_by_role("button", name="Run the sweep").click()
    expect(page).to_have_url(re.compile(r"/sweep\?"))
    page.fill("[name=first-from]", "x")
    expect(price).to_contain_text("A dial needs numbers")


def test_choosing_the_second_dial_keeps_what_was_typed_for_the_first(page: Page, shot: Shot) -> None:
    page.goto(f"/shots/{shot.id}/sweep?first=guidance")
    page.fill("[name=first-from]", "3.5")
    page.fill("[name=first-count]", "2")
    page.get_by_label("Dial down").select_option("steps")
    expect(page.locator("[name=second-from]")).to_have_value("8")
    expect(page.locator("[name=first-from]")).to_have_value("3.5")
    expect(page.locator("[name=first-count]")).to_have_value("2")


def test_the_grid_of_a_sweep_fills_and_a_cell_is_gone_on_from(page: Page, shot: Shot, studio: Studio) -> None:
    with studio[1].begin() as session:
        owner = session.merge(shot)
        run = runs.create(session, owner, SMALL, [Dial(name="guidance", values=(3.0, 9.0))])
        working.begin(session, run.id, "test")
        run_id = run.id
    page.goto(f"/sweeps/{run_id}")
    expect(page.locator(".sweep-cell")).to_have_count(0)
    with studio[1].begin() as session:
        for place in range(2):
            working.store_take(session, run_id, place, 5, flat(place + 2), 1.0)
        working.end(session, runs.find(session, run_id), "done")
    expect(page.locator(".sweep-cell")).to_have_count(2)
    expect(page.locator("#sweep-state")).to_contain_text("2 takes")
    page.get_by_role("button", name="go on from here").last.click()
    expect(page.locator("[name=guidance]")).to_have_value("9")
    expect(page.locator("[name=seed]")).to_have_value("5")
    page.locator("#undo").click()
    expect(page.locator("[name=guidance]")).to_have_value("7")


@pytest.mark.statistics
def test_pictures_are_held_and_compared_by_keys(page: Page, shot: Shot) -> None:
    page.goto(f"/shots/{shot.id}")
    page.keyboard.press("h")
    expect(page.locator("#tray")).to_contain_text("hold another to compare")
    unfolded(page, ".anchor [data-hold]").click()
    page.get_by_role("link", name="compare 2").click()
    expect(page.locator(".pane")).to_have_count(2)
    expect(page.locator(".pane-facts").last).to_contain_text("of pixels differ")
    page.keyboard.press("+")
    zoomed = "[...document.querySelectorAll('.pane-view')].map((v) => v.style.getPropertyValue('--zoom'))"
    assert page.evaluate(zoomed) == ["1.5", "1.5"]
    page.keyboard.press("l")
    page.mouse.move(300, 300)
    expect(page.locator(".lens:visible")).to_have_count(2)
    page.keyboard.press("3")
    expect(page.locator("main")).to_have_attribute("data-way", "blink")
    shown = page.locator(".stacked img:visible")
    before = shown.get_attribute("data-layer")
    page.keyboard.press("ArrowRight")
    expect(shown).not_to_have_attribute("data-layer", before or "")
    page.keyboard.press("4")
    assert page.locator(".pane img").last.evaluate("(image) => image.decode().then(() => image.naturalWidth)") == 256


def test_a_picture_of_any_page_is_held_by_a_key_over_it(page: Page, shot: Shot) -> None:
    page.goto(f"/stories/{shot.story_id}")
    page.locator(".cell img").first.hover()
    page.keyboard.press("h")
    expect(page.locator("#tray img")).to_have_count(1)
    page.goto("/library")
    page.locator("#entries a").nth(1).focus()
    page.keyboard.press("h")
    expect(page.get_by_role("link", name="compare 2")).to_be_visible()
    page.keyboard.press("h")
    expect(page.locator("#tray")).to_contain_text("hold another to compare")


@pytest.mark.statistics
def test_a_reference_is_confined_to_a_part_of_the_picture_and_its_match_is_drawn_on_the_bar(page: Page, shot: Shot, studio: Studio) -> None:
    with_cue(page, shot, studio)
    where = page.get_by_label("Where Ada Reed, lead anchor acts")
    with page.expect_response(lambda answer: answer.url.endswith("/area")):
        where.select_option("left")
    page.reload()
    expect(where).to_have_value("left")
    with studio[1].begin() as session:
        recipe = shots.draft(shots.find(session, shot.id))
        assert recipe.cues[0].area is not None
        run = runs.create(session, shots.find(session, shot.id), recipe.model_copy(update={"count": 1}))
        made = working.store_take(session, run.id, 0, run.seeds[0], flat(0), 1.0)
        working.end(session, run, "done")
    page.goto(f"/shots/{shot.id}?take={made.id}")
    match = page.locator("output.match")
    expect(match).to_have_attribute("title", re.compile("in the part where the cue acts"))
    width = page.locator(".cue-bar .got").evaluate("(gauge) => gauge.style.width")
    assert width == f"{match.text_content()}%"
    with page.expect_response(lambda answer: answer.url.endswith("/area")):
        where.select_option("everywhere")
    page.reload()
    expect(where).to_have_value("")


def test_engines_are_listed_and_a_wrong_address_is_told(page: Page) -> None:
    page.goto("/engines")
    expect(page.locator(".engine-table h2")).to_have_text(["Quick sketcher", "Full illustrator", "Fine illustrator"])
    page.fill("[name=url]", "http://127.0.0.1:9")
    page.get_by_role("button", name="Connect").click()
    expect(page.locator(".problem")).to_contain_text("cannot be reached")
    expect(page.locator("[name=url]")).to_have_value("http://127.0.0.1:9")


@pytest.mark.statistics
def test_switching_the_engine_keeps_every_setting_through_a_reload(page: Page, shot: Shot) -> None:
    page.goto(f"/shots/{shot.id}")
    unfolded(page, "[name=sampler]").select_option("ancestral")
    unfolded(page, page.locator(".styles span").get_by_text("watercolour", exact=True)).click()
    saved(page)
    unfolded(page, "[name=engine]").select_option("sketcher")
    expect(page.locator("#run-facts")).to_contain_text("has no style “watercolour”")
    expect(page.locator("#run-facts")).to_contain_text("has no sampler “ancestral”: it uses euler")
    page.reload()
    unfolded(page, "[name=guidance]").fill("6")
    unfolded(page, "[name=guidance]").press("Tab")
    saved(page)
    unfolded(page, "[name=engine]").select_option("built-in")
    saved(page)
    page.reload()
    expect(page.locator("[name=sampler]")).to_have_value("ancestral")
    expect(page.locator("[name=styles][value=watercolour]")).to_be_checked()


@pytest.mark.statistics
def test_a_new_picture_comes_in_a_role_that_fits_it_and_the_others_are_one_press_away(page: Page, shot: Shot) -> None:
    sticks = np.full((400, 320, 3), 250, np.uint8)
    sticks[60:360, 158:162] = sticks[130:134, 60:260] = shot.id % 60
    page.goto(f"/shots/{shot.id}")
    page.set_input_files("#cue-file", {"name": "sticks.png", "mimeType": "image/png", "buffer": encode_png(sticks)})
    role = page.get_by_label("Role of sticks")
    expect(role).to_have_value("pose")  # once it was read
    seems = page.locator("[data-seems]")
    expect(seems).to_contain_text("It seems to be a figure of sticks: pose.")
    seems.get_by_role("button", name="edges").click()
    expect(role).to_have_value("edges")
    expect(seems).to_be_hidden()
    saved(page)
    page.reload()
    expect(role).to_have_value("edges")
    expect(seems).to_be_hidden()

import re
from pathlib import Path

import cv2
import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page, Route, expect
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.recipe import Recipe
from mosskeeper.formats.png import recipe_of, with_recipe
from mosskeeper.studio import cast, runs, shots, working
from mosskeeper.studio.models import Shot
from tests.browser.hands import unfolded
from tests.conftest import SMALL, lay_out, wait_for

pytestmark = pytest.mark.browser
Studio = tuple[str, sessionmaker[Session]]


def study(folder: Path, name: str = "Dusk study.png") -> Path:
    """A picture of warm colours, as an artist might bring one."""
    image = np.zeros((60, 80, 3), np.uint8)
    image[:25], image[25:45], image[45:] = (230, 150, 90), (150, 80, 110), (60, 40, 80)
    Image.fromarray(cv2.GaussianBlur(image, (0, 0), 3)).save(folder / name)
    return folder / name


def takes(page: Page) -> int:
    return page.locator("#strip li img").count()


def run_and_wait(page: Page, total: int) -> None:
    page.keyboard.press("Control+Enter")
    expect(page.locator("#strip li img")).to_have_count(total)
    expect(page.locator("#run-state progress")).to_have_count(0)


def test_an_artist_walks_the_whole_path(page: Page, shot: Shot, pictures: Path) -> None:
    # the shelf, the story, the shot
    page.goto("/")
    page.get_by_role("link", name="A Story").last.click()
    expect(page.get_by_role("table")).to_contain_text("Bell tower")
    page.locator(f"a.cell[href='/shots/{shot.id}']").click()
    expect(page.get_by_text("No takes yet")).to_be_visible()

    # words, understood word by word
    page.fill("#words", "full figure, joyful, waving, beside a gramophone")
    expect(page.locator("#mirror .w-understood").first).to_have_text("full figure")
    expect(page.locator("#mirror .w-unknown")).to_have_text("gramophone")
    expect(page.locator("#hints")).to_contain_text("gramophone (a thing")
    expect(page.locator("#save-state")).to_have_text("saved")

    # a first run finds the subject, live
    unfolded(page, "[name=count]").fill("2")
    expect(page.locator("#run-count")).to_have_text("2 takes")
    page.locator("#run").click()
    expect(page.locator("figure.live")).to_be_visible()
    expect(page.locator("#run-state")).to_contain_text(re.compile(r"take \d of 2|waiting"))
    expect(page.locator("#strip li img")).to_have_count(2)
    expect(page.locator("#hero")).to_be_visible()
    expect(page.locator("figure.live")).to_have_count(0)

    # a take becomes the anchor
    page.get_by_role("button", name="Make this take the lead anchor").click()
    expect(page.locator(".anchor")).to_contain_text("Lead anchor")

    # a weighted reference
    page.set_input_files("#cue-file", study(pictures))
    expect(page.locator(".cue-title")).to_have_text("Dusk study")
    page.fill("[name$=-weight]", "0.8")
    page.locator("[name$=-weight]").press("Tab")
    expect(page.locator(".cue-bar b")).to_have_text("0.80")
    expect(page.locator("#run-facts")).to_contain_text("sparks")
    run_and_wait(page, 4)

    # compare with the anchor: side by side, then by swipe
    page.keyboard.press("Escape")  # leaves the field
    page.keyboard.press("c")
    expect(page.locator("#stage.compare-side .compared img")).to_be_visible()
    page.keyboard.press("c")
    swipe = page.locator("#swipe")
    expect(swipe).to_be_visible()
    swipe.locator("input").fill("20")
    assert swipe.evaluate("e => e.style.getPropertyValue('--at')") == "20%"
    page.keyboard.press("c")
    expect(page.locator("#hero")).to_be_visible()

    # older and newer takes, keep, take back, put aside
    first = page.locator(".caption b").first.inner_text()
    page.keyboard.press("ArrowLeft")
    expect(page.locator(".caption b").first).not_to_have_text(first)
    page.keyboard.press("k")
    expect(page.locator("#keep")).to_contain_text("kept")
    expect(page.locator("#strip .shown .leaf")).to_have_count(1)
    page.keyboard.press("k")
    expect(page.locator("#keep")).to_contain_text(re.compile(r"^keep\s"))
    page.keyboard.press("k")
    expect(page.locator("#keep")).to_contain_text("kept")

    # download with the recipe inside
    with page.expect_download() as download:
        unfolded(page, "#download").click()
    recipe = recipe_of(Path(download.value.path()).read_bytes())
    assert recipe is not None
    assert "waving" in recipe.words
    assert "Ada Reed" in recipe.given

    # the board shows the kept take
    page.get_by_role("link", name="A Story").click()
    expect(page.locator(f"a.cell.kept[href='/shots/{shot.id}'] img")).to_be_visible()


@pytest.mark.statistics
def test_a_run_is_stopped_by_key_and_keeps_what_is_finished(page: Page, shot: Shot) -> None:
    page.goto(f"/shots/{shot.id}")
    for name, value in (("width", "512"), ("height", "640"), ("steps", "60"), ("count", "8")):
        unfolded(page, f"[name={name}]").fill(value)
    unfolded(page, "[name=count]").press("Tab")
    page.locator("#run").click()
    expect(page.locator("#strip li img").first).to_be_visible(timeout=60_000)
    page.locator("#run").blur()
    page.keyboard.press("Escape")
    expect(page.locator("#run-state")).to_contain_text("Stopped by you")
    assert 1 <= takes(page) < 8


def test_wrong_values_stand_beside_their_field_and_survive_a_reload(page: Page, shot: Shot) -> None:
    page.goto(f"/shots/{shot.id}")
    unfolded(page, "[name=steps]").fill("lots")
    page.fill("#words", "a boy with a book")
    unfolded(page, "[name=guidance]").focus()
    expect(page.locator("#problem-steps")).to_have_text("Steps must be a number.")
    page.reload()
    expect(page.locator("[name=steps]")).to_have_value("lots")
    expect(page.locator("#words")).to_have_value("a boy with a book")
    expect(page.locator("#problem-steps")).to_have_text("Steps must be a number.")
    unfolded(page, "[name=steps]").fill("8")
    unfolded(page, "[name=steps]").press("Tab")
    expect(page.locator("#save-state")).to_have_text("saved")
    expect(page.locator("#problem-steps")).to_have_text("")


@pytest.mark.statistics
def test_two_tabs_that_edit_one_thing_show_both_values_and_lose_none(page: Page, shot: Shot) -> None:
    other = page.context.new_page()
    for tab in (page, other):
        tab.goto(f"/shots/{shot.id}")
    page.fill("#words", "a girl, calm, first")
    expect(page.locator("#save-state")).to_have_text("saved")
    unfolded(other, "[name=steps]").fill("9")
    other.fill("#words", "a girl, calm, second")
    clash = other.locator("[data-clash=words]")
    expect(clash).to_contain_text("a girl, calm, first")
    expect(clash).to_contain_text("a girl, calm, second")
    expect(other.locator("#words")).to_have_value("a girl, calm, second")
    clash.get_by_role("button", name="Keep mine").click()
    expect(other.locator("#save-state")).to_have_text("saved")
    expect(other.locator("[data-clash]")).to_have_count(0)
    page.reload()
    expect(page.locator("#words")).to_have_value("a girl, calm, second")
    expect(page.locator("[name=steps]")).to_have_value("9")
    page.locator("#undo").click()  # what was overwritten is one step back
    expect(page.locator("#words")).to_have_value("a girl, calm, first")


def test_the_other_tab_s_value_can_be_taken(page: Page, shot: Shot) -> None:
    other = page.context.new_page()
    for tab in (page, other):
        tab.goto(f"/shots/{shot.id}")
    unfolded(page, "[name=guidance]").fill("3")
    unfolded(page, "[name=guidance]").press("Tab")
    expect(page.locator("#save-state")).to_have_text("saved")
    unfolded(other, "[name=guidance]").fill("11")
    unfolded(other, "[name=guidance]").press("Tab")
    other.locator("[data-clash=guidance]").get_by_role("button", name="Take theirs").click()
    expect(other.locator("[name=guidance]")).to_have_value("3")
    expect(other.locator("[data-clash]")).to_have_count(0)
    other.reload()
    expect(other.locator("[name=guidance]")).to_have_value("3")


def test_two_tabs_that_edit_different_things_merge_and_see_each_other_s(page: Page, shot: Shot) -> None:
    other = page.context.new_page()
    for tab in (page, other):
        tab.goto(f"/shots/{shot.id}")
    page.fill("#words", "a girl with a kite")
    expect(page.locator("#save-state")).to_have_text("saved")
    unfolded(other, "[name=guidance]").fill("3")
    unfolded(other, "[name=guidance]").press("Tab")
    expect(other.locator("#save-state")).to_have_text("saved")
    expect(other.locator("#words")).to_have_value("a girl with a kite")
    expect(other.locator("[data-clash]")).to_have_count(0)
    page.reload()
    expect(page.locator("#words")).to_have_value("a girl with a kite")
    expect(page.locator("[name=guidance]")).to_have_value("3")


def test_what_is_typed_while_an_answer_is_under_way_stays_and_is_saved(page: Page, shot: Shot) -> None:
    page.goto(f"/shots/{shot.id}")
    held: list[Route] = []
    page.route("**/draft", lambda route: route.continue_() if held else held.append(route))
    with page.expect_request("**/draft"):
        page.fill("#words", "a boy")
    page.fill("#words", "a boy, calm")
    unfolded(page, "[name=steps]").fill("9")
    held[0].continue_()
    unfolded(page, "[name=steps]").press("Tab")
    expect(page.locator("#save-state")).to_have_text("saved")
    expect(page.locator("#words")).to_have_value("a boy, calm")
    wait_for(lambda: page.evaluate("localStorage.length") == 0)
    page.reload()
    expect(page.locator("#words")).to_have_value("a boy, calm")
    expect(page.locator("[name=steps]")).to_have_value("9")


@pytest.mark.statistics
@pytest.mark.parametrize("delay", [0, 100, 400, 1500])
def test_words_typed_and_a_reference_added_at_once_are_both_in_the_run(
    page: Page, shot: Shot, studio: Studio, pictures: Path, delay: int
) -> None:
    """Ten times in a row, however long the save takes."""
    slow_saves(page, delay)
    page.goto(f"/shots/{shot.id}")
    image = study(pictures)
    for n in range(10):
        words = f"a girl, calm, number {n}"
        page.fill("#words", words)
        page.set_input_files("#cue-file", image)
        with page.expect_response("**/run") as answer:
            page.keyboard.press("Control+Enter")
        assert answer.value.status == 200
        with studio[1]() as session:
            run = runs.of_shot(session, shot.id)[0]
            recipe = runs.recipe_of_place(run, 0)
            runs_now = run.id
        assert (recipe.words, len(recipe.cues)) == (words, n + 1)
        page.request.post(f"/runs/{runs_now}/stop")


def slow_saves(page: Page, delay: int) -> None:
    """Every save waits some ms in the page before it goes out."""
    page.add_init_script(
        f"""const send = window.fetch;
        window.fetch = (to, options) => /draft$/.test(String(to)) && {delay}
            ? new Promise((done) => setTimeout(done, {delay})).then(() => send(to, options)) : send(to, options);"""
    )


@pytest.mark.statistics
def test_a_weight_drawn_while_another_tab_takes_a_cue_off_hits_its_own(page: Page, shot: Shot, pictures: Path) -> None:
    page.goto(f"/shots/{shot.id}")
    for name in ("One.png", "Two.png"):
        page.set_input_files("#cue-file", study(pictures, name))
        expect(page.locator(".cue-title").last).to_have_text(name.removesuffix(".png"))
    other = page.context.new_page()
    other.goto(f"/shots/{shot.id}")
    other.get_by_role("button", name="Take One off the sheet").click()
    expect(other.locator("[data-cue]")).to_have_count(1)
    page.locator("[name$=-weight]").nth(1).fill("0.9")
    page.locator("[name$=-weight]").nth(1).press("Tab")
    expect(page.locator("[data-cue]")).to_have_count(1)
    expect(page.locator(".cue-title")).to_have_text("Two")
    expect(page.locator("[name$=-weight]")).to_have_value("0.9")


@pytest.mark.statistics
def test_twelve_tabs_walked_through_five_shots_each_are_all_live(page: Page, studio: Studio) -> None:
    """The browser allows six connections; one stream serves all tabs."""
    with studio[1].begin() as session:
        five = [lay_out(session).id for _ in range(5)]
    tabs = [page, *(page.context.new_page() for _ in range(11))]
    for tab in tabs:
        for shot_id in five:
            tab.goto(f"/shots/{shot_id}", wait_until="domcontentloaded")  # its scripts have run: it listens
    with studio[1].begin() as session:
        run = runs.create(session, shots.find(session, five[-1]), SMALL)
        begun = working.begin(session, run.id, "test")
        assert begun is not None
    for tab in tabs:
        expect(tab.locator("#run-state progress")).to_have_count(1)
    with studio[1].begin() as session:
        working.progress(session, run.id, begun.token, 4, None)
    for tab in tabs:
        expect(tab.locator("#run-state")).to_contain_text("step 4 of 6")
    with studio[1].begin() as session:
        working.finish(session, run.id, begun.token, "stopped")
    for tab in tabs:
        expect(tab.locator("#run-state")).to_contain_text("Stopped by you")


@pytest.mark.statistics
def test_a_press_is_heard_while_scripts_still_load(page: Page, shot: Shot) -> None:
    held: list[Route] = []
    page.route("**/js/keys.js*", lambda route: held.append(route))
    page.goto(f"/shots/{shot.id}", wait_until="commit")
    with page.expect_response(f"**/shots/{shot.id}/run"):
        page.locator("#run").click()
    assert page.evaluate("document.readyState") == "interactive"
    held[0].continue_()
    expect(page.locator("#strip li img")).to_have_count(2)


@pytest.mark.statistics
def test_a_run_that_waits_for_a_save_is_no_conflict_with_it(page: Page, shot: Shot) -> None:
    page.goto(f"/shots/{shot.id}")
    held: list[Route] = []
    page.route("**/draft", lambda route: route.continue_() if held else held.append(route))
    with page.expect_request("**/draft"):
        page.fill("#words", "a boy, calm")
    unfolded(page, "[name=guidance]").fill("5")
    page.keyboard.press("Control+Enter")
    with page.expect_response("**/run") as answer:
        held[0].continue_()
    assert answer.value.status == 200
    expect(page.locator("[data-clash]")).to_have_count(0)
    expect(page.locator("#strip li img")).to_have_count(2)


@pytest.mark.statistics
def test_quick_typing_in_many_fields_is_no_conflict_with_oneself(page: Page, shot: Shot) -> None:
    page.goto(f"/shots/{shot.id}")
    for words in ("a boy", "a boy, calm", "a boy, calm, at dusk"):
        page.fill("#words", words)
        unfolded(page, "[name=guidance]").fill(str(len(words) / 2))
        unfolded(page, "[name=guidance]").press("Tab")
    unfolded(page, page.locator(".styles span").get_by_text("chalk", exact=True)).click()
    page.keyboard.press("Control+Enter")
    expect(page.locator("#strip li img")).to_have_count(2)
    expect(page.locator("[data-clash]")).to_have_count(0)
    page.reload()
    expect(page.locator("#words")).to_have_value("a boy, calm, at dusk")
    expect(page.locator("[name=styles][value=chalk]")).to_be_checked()


def test_a_suggestion_replaces_the_unknown_word(page: Page, shot: Shot) -> None:
    page.goto(f"/shots/{shot.id}")
    page.fill("#words", "a girl with a lantrn")
    page.get_by_role("button", name="lantern").click()
    expect(page.locator("#words")).to_have_value("a girl with a lantern")
    expect(page.locator("#hints")).not_to_contain_text("lantrn")


@pytest.mark.statistics
def test_a_cue_bar_follows_the_mouse_and_the_keys(page: Page, shot: Shot, pictures: Path) -> None:
    page.goto(f"/shots/{shot.id}")
    page.set_input_files("#cue-file", study(pictures))
    page.locator("[data-seems]").get_by_role("button", name="look").or_(page.locator("[data-seems]", has_text=": look")).click()
    expect(page.locator("[data-cue]")).to_have_class(re.compile("role-look"))
    expect(page.locator("#save-state")).to_have_text("saved")
    bar, end = page.locator("[data-bar]"), page.locator("[name$=-end]")
    box, until = bar.bounding_box(), float(end.input_value()) - 50
    assert box
    x, y = box["x"] + box["width"] - 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - box["width"] / 2, y, steps=4)
    page.mouse.up()
    assert abs(float(end.input_value()) - until) <= 2
    bar.focus()
    page.keyboard.press("ArrowUp")
    page.keyboard.press("ArrowUp")
    expect(page.locator("[name$=-weight]")).to_have_value("0.9")
    page.keyboard.press("Shift+ArrowRight")
    expect(page.locator("[name$=-start]")).to_have_value("5")
    expect(page.locator("#save-state")).to_have_text("saved")
    page.reload()
    expect(page.locator("[name$=-weight]")).to_have_value("0.9")
    assert abs(float(end.input_value()) - until) <= 2
    page.get_by_role("button", name="off the sheet").click()
    expect(page.locator("[data-bar]")).to_have_count(0)
    page.get_by_role("button", name="Bring back").click()
    expect(page.locator("[data-bar]")).to_have_count(1)


DROP = """([name, base64, type]) => {
  const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
  const carrier = new DataTransfer();
  carrier.items.add(new File([bytes], name, { type }));
  const event = type === 'paste' ? null : new DragEvent('drop', { dataTransfer: carrier, bubbles: true, cancelable: true });
  document.body.dispatchEvent(event);
}"""


def drop(page: Page, name: str, data: bytes) -> None:
    import base64

    page.evaluate(DROP, [name, base64.b64encode(data).decode(), "image/png"])


def test_a_dropped_picture_becomes_a_cue_and_a_broken_one_is_told(page: Page, shot: Shot, pictures: Path) -> None:
    page.goto(f"/shots/{shot.id}")
    drop(page, "broken.png", b"no picture")
    expect(page.locator("#problem-cues")).to_contain_text("broken: This is not a PNG, JPEG or WebP picture.")
    drop(page, "study.png", study(pictures).read_bytes())
    expect(page.locator(".cue-title")).to_have_text("study")


def test_a_dropped_take_offers_its_recipe_and_restores_it(page: Page, shot: Shot, pictures: Path) -> None:
    page.goto(f"/shots/{shot.id}")
    recipe = Recipe(words="a boy with a book", guidance=4.5, seed=77, width=256, height=320, steps=6, count=1)
    drop(page, "take.png", with_recipe(study(pictures).read_bytes(), recipe, "a take"))
    offer = page.locator(".offer")
    expect(offer).to_contain_text("carries a recipe")
    expect(offer).to_contain_text("a boy with a book")
    offer.get_by_role("button", name="Take this recipe over").click()
    expect(page.locator("#words")).to_have_value("a boy with a book")
    expect(page.locator("[name=seed]")).to_have_value("77")
    expect(page.locator("[name=guidance]")).to_have_value("4.5")


def test_the_cast_of_a_shot_is_changed_on_the_table(page: Page, shot: Shot) -> None:
    page.goto(f"/shots/{shot.id}")
    page.fill("#words", "half figure, proud")
    page.get_by_label("Scene").select_option("no scene")
    expect(page.locator(".given")).not_to_contain_text("bell tower")
    expect(page.locator(".given")).to_contain_text("Ada Reed")
    expect(page.locator("#words")).to_have_value("half figure, proud")


@pytest.mark.statistics
def test_from_a_name_to_the_lead_anchor_in_six_acts_and_into_a_scene_of_ones_own_in_twelve(page: Page, shot: Shot) -> None:
    """Written as a person does it; each line that acts is counted."""
    page.goto(f"/stories/{shot.story_id}")
    acts = 0

    def act(done: object) -> None:
        nonlocal acts
        acts += 1

    act(page.get_by_text("Add a character").click())
    form = page.locator("form[action$='/find']")
    act(form.get_by_label("Name").fill("Marrit"))
    act(form.get_by_label("Traits").fill("young woman, copper hair in a long braid, on the night train"))
    act(page.get_by_role("button", name="Make the first pictures").click())
    expect(page.locator("#hero")).to_be_visible(timeout=90_000)
    act(page.get_by_role("button", name="Make this take the lead anchor").click())
    expect(page.locator(".anchor")).to_contain_text("Lead anchor")
    assert acts <= 6
    act(page.locator(".next-step [name=place]").fill("in the bell tower at dusk"))
    act(page.locator(".next-step [name=dress]").fill("a plum cloak"))
    act(page.get_by_role("button", name="Put them there").click())
    expect(page.locator(".given")).to_contain_text("in a plum cloak, in the bell tower at dusk")
    expect(page.locator(".cue-title")).to_have_text("Marrit, lead anchor")
    expect(page.get_by_label("Role of Marrit, lead anchor")).to_have_value("face")
    act(page.locator("#run").click())
    expect(page.locator("#run-state progress")).to_be_visible()
    assert acts <= 12
    page.keyboard.press("Escape")
    expect(page.locator("#run-state progress")).to_have_count(0)


def test_an_anchor_is_put_into_a_scene_of_the_story_by_one_press(page: Page, shot: Shot, studio: Studio) -> None:
    with studio[1].begin() as session:
        free = shots.create(session, shot.story_id, "", None, shot.character_id)
        run = runs.create(session, free, SMALL.model_copy(update={"count": 1}))
        working.begin(session, run.id, "test")
        take = working.store_take(session, run.id, 0, 5, np.full((320, 256, 3), shot.id % 250, np.uint8), 1.0)
        working.end(session, run, "done")
        cast.make_anchor(session, take, lead=True)
        address = f"/shots/{free.id}"
    page.goto(address)
    page.locator(".next-step").get_by_role("button", name="Bell tower").click()
    expect(page.locator(".cue-title")).to_have_text("Ada Reed, lead anchor")
    expect(page.locator(".given")).to_contain_text("in the bell tower at noon")


def test_a_new_story_begins_in_the_browser(page: Page) -> None:
    page.goto("/")
    page.get_by_label("New story").fill("From the Browser")
    page.get_by_role("button", name="Add story").click()
    expect(page.locator(".crumbs")).to_contain_text("From the Browser")
    page.get_by_role("button", name="New free shot").click()
    expect(page.get_by_text("No takes yet")).to_be_visible()
    page.locator("#run").click()
    expect(page.locator("#problem-words")).to_contain_text("There are no words and no cue")

"""Single acts on the light table and the board, in the browser."""

import re

import pytest
from playwright.sync_api import Page, Route, expect
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.studio import runs, shots, working
from mosskeeper.studio.models import Shot, StoryScene
from tests.browser.hands import unfolded
from tests.conftest import SMALL, wait_for

pytestmark = pytest.mark.browser
Studio = tuple[str, sessionmaker[Session]]


def caption(page: Page) -> str:
    return page.locator(".stage .caption b").inner_text()


def test_takes_are_chosen_in_the_strip_and_have_addresses(page: Page, taken: Shot) -> None:
    page.goto(f"/shots/{taken.id}")
    assert caption(page) == "Take 3"
    page.locator("#strip li a").nth(1).click()
    expect(page.locator(".stage .caption b")).to_have_text("Take 2")
    assert re.search(r"take=\d+", page.url)
    page.reload()
    assert caption(page) == "Take 2"
    page.go_back()
    expect(page.locator(".stage .caption b")).to_have_text("Take 3")


def test_a_take_is_put_aside_and_brought_back(page: Page, taken: Shot) -> None:
    page.goto(f"/shots/{taken.id}")
    unfolded(page, page.locator("button", has_text="put aside")).click()
    expect(page.locator("#strip li")).to_have_count(2)
    page.get_by_role("link", name="show 1 put aside").click()
    expect(page.locator("#strip li")).to_have_count(3)
    page.locator("#strip li a.aside").click()
    expect(page.locator("#strip li a.aside.shown")).to_have_count(1)
    expect(page.locator("#stage button", has_text="bring back")).to_have_count(1)
    unfolded(page, page.locator("button", has_text="bring back")).click()
    expect(page.locator("#strip li a.aside")).to_have_count(0)


def test_a_list_stays_open_when_the_take_in_which_it_stands_is_sent_anew(page: Page, taken: Shot) -> None:
    page.goto(f"/shots/{taken.id}")
    unfolded(page, "#download")
    page.keyboard.press("k")
    expect(page.locator("#stage[data-kept=yes]")).to_have_count(1)
    expect(page.locator("#download")).to_be_visible()
    page.locator("#strip li a").nth(1).click()
    expect(page.locator(".stage .caption b")).to_have_text("Take 2")
    expect(page.locator("#download")).to_be_hidden()


def test_the_kind_of_figures_is_a_phrase_that_another_one_replaces(page: Page, taken: Shot) -> None:
    page.goto(f"/shots/{taken.id}")
    words = page.locator("#words")
    words.fill("a woman in a garden")
    for kind in ("natural", "small"):
        unfolded(page, f"[data-figures='{kind} figures']").click()
        expect(words).to_have_value(f"a woman in a garden, {kind} figures")
        expect(page.locator(".chip", has_text=f"{kind} figures")).to_be_visible()
        expect(page.locator("details.figures[open]")).to_have_count(0)


def test_the_seed_of_a_take_is_used_again(page: Page, taken: Shot) -> None:
    page.goto(f"/shots/{taken.id}")
    unfolded(page, page.locator("button", has_text="the same seed")).click()
    expect(page.locator("[name=seed]")).to_have_value("42")
    expect(page.locator("#save-state")).to_have_text("saved")
    page.reload()
    expect(page.locator("[name=seed]")).to_have_value("42")


def test_a_shape_fills_in_the_size_and_the_price_follows(page: Page, taken: Shot) -> None:
    page.goto(f"/shots/{taken.id}")
    before = page.locator("#run-facts").inner_text()
    unfolded(page, "#shape").select_option("16:9")
    expect(page.locator("[name=width]")).to_have_value("800")
    expect(page.locator("[name=height]")).to_have_value("448")
    expect(page.locator("#run-facts")).not_to_have_text(before)


@pytest.mark.statistics
def test_the_anchor_goes_on_the_cue_sheet_and_a_heavy_weight_is_pointed_out(page: Page, taken: Shot) -> None:
    page.goto(f"/shots/{taken.id}")
    unfolded(page, page.locator("button", has_text="on the cue sheet")).click()
    expect(page.locator("[data-cue]")).to_have_count(1)
    page.get_by_label("Role of").select_option("outfit")
    page.fill("[name$=-weight]", "0.95")
    page.locator("[name$=-weight]").press("Tab")
    expect(page.locator("#save-state")).to_have_text("saved")
    page.reload()
    heavy = page.locator(".cue-notes .warned", has_text="over .85 will copy the clothes whatever the words say of them")
    expect(heavy).to_have_count(1)
    page.get_by_label("Cue 1 acts").uncheck()
    expect(page.locator("#save-state")).to_have_text("saved")
    page.reload()
    expect(page.get_by_label("Cue 1 acts")).not_to_be_checked()
    expect(heavy).to_have_count(0)


def test_a_wrong_weight_is_told_beside_the_cue_sheet(page: Page, taken: Shot) -> None:
    page.goto(f"/shots/{taken.id}")
    unfolded(page, page.locator("button", has_text="on the cue sheet")).click()
    page.fill("[name$=-weight]", "7")
    page.locator("[name$=-weight]").press("Tab")
    expect(page.locator("#problem-cues")).to_have_text("Weight must be at most 1.5.")
    expect(page.locator("[name$=-weight]")).to_have_value("7")


def test_styles_are_mixed_and_saved(page: Page, taken: Shot) -> None:
    page.goto(f"/shots/{taken.id}")
    for style in ("linocut", "chalk"):
        unfolded(page, page.locator(".styles span").get_by_text(style, exact=True)).click()
    expect(page.locator("#save-state")).to_have_text("saved")
    with page.expect_response(re.compile("/draft$")) as _:
        unfolded(page, page.locator(".styles span").get_by_text("chalk", exact=True)).click()
    page.reload()
    expect(page.locator("[value=linocut]")).to_be_checked()
    expect(page.locator("[value=chalk]")).not_to_be_checked()


@pytest.mark.statistics
@pytest.mark.parametrize("left", [False, True], ids=["waiting for the answer", "leaving before it"])
def test_what_is_taken_back_while_it_is_being_saved_stays_taken_back(page: Page, taken: Shot, left: bool) -> None:
    page.goto(f"/shots/{taken.id}")
    held: list[Route] = []
    page.route("**/draft", lambda route: route.continue_() if held else held.append(route))
    with page.expect_request("**/draft"):
        unfolded(page, page.locator(".styles span").get_by_text("chalk", exact=True)).click()
    unfolded(page, page.locator(".styles span").get_by_text("chalk", exact=True)).click()
    expect(page.locator("[value=chalk]")).not_to_be_checked()
    with page.expect_response("**/draft"):
        if left:
            held[0].fetch()  # the studio has it, the page never hears of it
            page.reload()
        else:
            held[0].continue_()
    expect(page.locator("#save-state")).to_have_text("saved")
    expect(page.locator("[value=chalk]")).not_to_be_checked()
    page.reload()
    expect(page.locator("[value=linocut]")).to_be_attached()
    expect(page.locator("[value=chalk]")).not_to_be_checked()


def test_comparing_has_an_address_and_ends(page: Page, taken: Shot) -> None:
    page.goto(f"/shots/{taken.id}?compare=swipe")
    expect(page.locator("#swipe img")).to_have_count(2)
    page.locator("#swipe input").focus()
    page.keyboard.press("ArrowRight")
    assert page.locator("#swipe").evaluate("e => e.style.getPropertyValue('--at')") == "50.5%"
    page.keyboard.press("c")
    expect(page.locator("#hero")).to_be_visible()


def test_everything_on_the_table_is_reached_by_keyboard(page: Page, taken: Shot) -> None:
    page.goto(f"/shots/{taken.id}")
    reached = set()
    for _ in range(150):
        page.keyboard.press("Tab")
        if page.evaluate("document.activeElement.matches('details:not([open]) > summary')"):
            page.keyboard.press("Enter")
        reached.add(page.evaluate("document.activeElement.id || document.activeElement.name || document.activeElement.textContent.trim()"))
    wanted = ("keep", "compare", "download", "words", "negative", "steps", "guidance", "seed", "count", "engine", "run", "cue-file")
    assert set(wanted) <= reached
    assert {"draw it anew with words", "cut out", "use as reference", "mend it"} <= reached


def test_a_list_is_closed_by_escape_and_by_a_press_elsewhere(page: Page, taken: Shot) -> None:
    page.goto(f"/shots/{taken.id}")
    guidance = unfolded(page, "[name=guidance]")
    guidance.press("Escape")
    expect(guidance).to_be_hidden()
    expect(page.locator("[data-setting=guidance] summary")).to_be_focused()
    unfolded(page, guidance)
    page.locator("#words").click()
    expect(guidance).to_be_hidden()


def test_a_setting_says_how_it_stands_and_opens_where_something_is_wrong(page: Page, taken: Shot) -> None:
    page.goto(f"/shots/{taken.id}")
    says = page.locator("[data-setting='steps, sampler'] summary")
    expect(says).to_have_text("6 steps, euler")
    steps = unfolded(page, "[name=steps]")
    steps.fill("900")
    steps.press("Enter")
    page.locator("#words").click()
    expect(page.locator("#problem-steps")).to_be_visible()
    steps.fill("9")
    steps.press("Enter")
    expect(says).to_have_text("9 steps, euler")


def test_a_shot_is_renamed_where_it_is_worked_on(page: Page, taken: Shot) -> None:
    page.goto(f"/shots/{taken.id}")
    page.get_by_text("edit this shot").click()
    page.locator(".anchor .editor [name=name]").fill("Before the storm")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.locator(".crumbs h1")).to_have_text("Before the storm")


def test_what_is_typed_survives_while_the_server_is_away(page: Page, studio: Studio, taken: Shot) -> None:
    page.goto(f"/shots/{taken.id}")
    page.route("**/draft", lambda route: route.abort())
    page.fill("#words", "typed while nothing answers")
    page.locator("#words").blur()
    expect(page.locator("#words")).to_have_value("typed while nothing answers")
    page.unroute("**/draft")
    page.reload()
    expect(page.locator("#words")).to_have_value("typed while nothing answers")

    def stored() -> bool:
        with studio[1]() as session:
            return "typed while nothing answers" in str(shots.find(session, taken.id).draft)

    wait_for(stored)


def test_a_missing_shot_shows_a_page_that_leads_on(page: Page) -> None:
    page.goto("/shots/99999")
    expect(page.get_by_text("This shot does not exist.")).to_be_visible()
    page.get_by_role("link", name="To the shelf of stories").click()
    expect(page.get_by_role("heading", name="Stories")).to_be_visible()


def test_the_board_follows_a_run_live(page: Page, studio: Studio, taken: Shot) -> None:
    page.goto(f"/stories/{taken.story_id}")
    expect(page.locator("html[data-live]")).to_have_count(1)
    expect(page.locator("#running")).to_contain_text("Nothing is running.")
    with studio[1].begin() as session:
        run = runs.create(session, shots.find(session, taken.id), SMALL)
        begun = working.begin(session, run.id, "test")
        assert begun is not None
        working.progress(session, run.id, begun.token, 4, None)
    expect(page.locator("#running")).to_contain_text("step 4 of 12")
    expect(page.locator("#status")).to_contain_text("1 run at work")
    with studio[1].begin() as session:
        working.end(session, runs.find(session, run.id), "done")
    expect(page.locator("#running")).to_contain_text("Nothing is running.")


def test_the_heads_of_a_large_board_stay_in_view(page: Page, studio: Studio, taken: Shot) -> None:
    with studio[1].begin() as session:
        session.add_all([StoryScene(story_id=taken.story_id, name=f"Scene {n}", words="in the kitchen") for n in range(30)])
    page.goto(f"/stories/{taken.story_id}")
    head, last = page.locator(".board thead th").nth(1), page.get_by_role("rowheader", name="Scene 29")
    last.scroll_into_view_if_needed()
    expect(last).to_be_in_viewport()
    expect(head).to_be_in_viewport()


def test_a_new_shot_begins_in_an_empty_cell(page: Page, studio: Studio, taken: Shot) -> None:
    with studio[1].begin() as session:
        session.add(StoryScene(story_id=taken.story_id, name="Kitchen", words="in the kitchen at dawn"))
    page.goto(f"/stories/{taken.story_id}")
    page.get_by_role("button", name="New shot: Ada Reed tunic, Kitchen").click()
    expect(page.locator(".given")).to_contain_text("in the kitchen at dawn")
    expect(page.locator(".anchor")).to_contain_text("Lead anchor")


@pytest.mark.statistics
@pytest.mark.parametrize("width", [1024, 1440, 1920])
def test_nothing_is_cut_off_at_other_widths(page: Page, taken: Shot, width: int) -> None:
    page.set_viewport_size({"width": width, "height": 900})
    for address in ("/", f"/stories/{taken.story_id}", f"/shots/{taken.id}"):
        page.goto(address)
        assert page.evaluate("document.documentElement.scrollWidth") <= width, address
    run = page.locator("#run").bounding_box()
    assert run is not None
    assert run["x"] + run["width"] <= width

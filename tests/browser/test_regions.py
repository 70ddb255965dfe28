"""The regions overlay in Chromium: from a layout to a kept take, by mouse and by keys."""

import pytest
from playwright.sync_api import Page, Route, expect
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.recipe import Region
from mosskeeper.studio import cast, regions, takes
from mosskeeper.studio.models import Shot
from tests.browser.hands import at, unfolded
from tests.conftest import wait_for

pytestmark = pytest.mark.browser
Studio = tuple[str, sessionmaker[Session]]


def of(studio: Studio, shot: Shot) -> list[Region]:
    with studio[1]() as session:
        return regions.of_shot(session, shot.id).regions


def opened(page: Page, shot: Shot) -> None:
    page.goto(f"/shots/{shot.id}/regions")
    page.wait_for_selector("main[data-ready]")


def words(page: Page, n: int, said: str) -> None:
    page.locator(".region-row textarea").nth(n).fill(said)
    page.locator(".region-row textarea").nth(n).blur()


def test_two_of_the_cast_from_a_layout_to_a_kept_take(page: Page, studio: Studio, shot: Shot) -> None:
    with studio[1].begin() as session:
        cast.add_character(session, shot.story_id, "Oda Brask", "old woman, silver curls")
    opened(page, shot)
    unfolded(page, "[data-layout='two side by side']").click()
    expect(page.locator(".region-row")).to_have_count(2)
    expect(page.locator(".index-tabs a[href$='/regions'] b")).to_have_text("2")
    page.locator(".region-more summary").nth(0).click()
    page.locator("[data-cast]").nth(0).select_option(label="Ada Reed")
    wait_for(lambda: of(studio, shot)[0].given.startswith("Ada Reed"))
    page.locator(".region-more summary").nth(1).click()
    page.locator("[data-cast]").nth(1).select_option(label="Oda Brask")
    wait_for(lambda: of(studio, shot)[1].given.startswith("Oda Brask"))
    expect(page.locator(".region-stands")).to_have_count(2)
    page.click(".run-button")
    wait_for(lambda: made(studio, shot))
    page.reload()
    page.wait_for_selector("main[data-ready]")
    page.locator("#influences button").nth(1).click()
    expect(page.locator("#influence-told li").first).to_contain_text("of the picture")
    expect(page.locator("#influence-map")).to_be_visible()
    page.goto(f"/shots/{shot.id}")
    page.keyboard.press("k")
    wait_for(lambda: any(take.kept for take in made(studio, shot)))


def made(studio: Studio, shot: Shot) -> list:  # type: ignore[type-arg]
    with studio[1]() as session:
        return list(takes.of_shot(session, shot.id))


def test_a_region_is_dragged_open_moved_and_its_size_pulled(page: Page, studio: Studio, shot: Shot) -> None:
    opened(page, shot)
    drag(page, (0.1, 0.2), (0.5, 0.9))
    wait_for(lambda: len(of(studio, shot)) == 1)
    words(page, 0, "a girl")
    wait_for(lambda: of(studio, shot)[0].words == "a girl")
    first = of(studio, shot)[0].mask
    drag(page, (0.3, 0.5), (0.5, 0.5))
    wait_for(lambda: of(studio, shot)[0].mask != first)
    second = of(studio, shot)[0].mask
    page.wait_for_selector(f"main[data-ready='{of(studio, shot)[0].id}']")
    grip = page.locator(".region-grip").bounding_box()
    assert grip is not None
    page.mouse.move(grip["x"] + grip["width"] / 2, grip["y"] + grip["height"] / 2)
    page.mouse.down()
    page.mouse.move(grip["x"] + 30, grip["y"] - 30, steps=4)
    page.mouse.up()
    wait_for(lambda: of(studio, shot)[0].mask != second)
    page.click("#undo")
    wait_for(lambda: of(studio, shot)[0].mask == second)


def drag(page: Page, a: tuple[float, float], b: tuple[float, float]) -> None:
    page.mouse.move(*at(page, *a, "#regions"))
    page.mouse.down()
    page.mouse.move(*at(page, *b, "#regions"), steps=4)
    page.mouse.up()


def test_a_layout_is_kept_by_a_name_taken_away_and_brought_back(page: Page, studio: Studio, shot: Shot) -> None:
    opened(page, shot)
    unfolded(page, "#keep-layout").click()
    expect(page.locator("#region-problem")).to_contain_text("no regions on the picture yet")
    unfolded(page, "[data-layout='near and far']").click()
    expect(page.locator(".region-row")).to_have_count(2)
    unfolded(page, "#layout-name").fill("on the quay")
    unfolded(page, "#keep-layout").click()
    own = page.locator("[aria-label='Layout of your own: on the quay']")
    expect(own).to_have_count(1)
    unfolded(page, "[aria-label='Take the layout on the quay away']").click()
    expect(page.locator(".own-layout[hidden]")).to_have_count(1)
    unfolded(page, page.get_by_text("bring it back")).click()
    expect(page.locator(".own-layout[hidden]")).to_have_count(0)


def test_a_border_is_shown_as_it_acts_while_its_dial_is_turned(page: Page, studio: Studio, shot: Shot) -> None:
    opened(page, shot)
    unfolded(page, "[data-layout='left and right half']").click()
    expect(page.locator(".region-row")).to_have_count(2)
    words(page, 0, "at night")
    row = page.locator(".region-row").nth(0)
    row.locator("summary").click()
    dial = row.locator("[data-field=threshold]")
    expect(dial).to_be_visible()

    def faint() -> int:
        count: int = page.evaluate(
            """() => { const [canvas] = [...document.querySelectorAll('.region-patch')].slice(-1);
            const { data } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height);
            let n = 0; for (let k = 3; k < data.length; k += 4) n += data[k] > 8 && data[k] < 40; return n; }"""
        )
        return count

    wait_for(lambda: faint() > 1000)  # it fades
    dial.fill("0.5")
    expect(row.locator("label:has([data-field=threshold]) output")).to_have_text("0.50")
    wait_for(lambda: faint() < 200)
    wait_for(lambda: of(studio, shot)[0].threshold == 0.5)


def test_all_by_keys(page: Page, studio: Studio, shot: Shot) -> None:
    opened(page, shot)
    unfolded(page, "[data-layout='near and far']").focus()
    page.keyboard.press("Enter")
    expect(page.locator(".region-row")).to_have_count(2)
    page.focus(".region-row textarea")
    page.keyboard.type("a girl")
    page.keyboard.press("Tab")
    wait_for(lambda: of(studio, shot)[0].words == "a girl")
    before = [region.mask for region in of(studio, shot)]
    page.focus("#regions")
    page.keyboard.press("ArrowRight")
    wait_for(lambda: of(studio, shot)[0].mask != before[0])
    page.keyboard.press("Enter")
    page.keyboard.press("PageUp")
    wait_for(lambda: (page.evaluate("1"), of(studio, shot)[1].words == "a girl")[1])
    page.keyboard.press("Delete")
    wait_for(lambda: len(of(studio, shot)) == 1)


def test_an_answer_that_comes_late_leaves_the_choice_with_the_artist(page: Page, studio: Studio, shot: Shot) -> None:
    opened(page, shot)
    unfolded(page, "[data-layout='near and far']").click()
    rows = page.locator(".region-row")
    expect(rows).to_have_count(2)
    page.focus(".region-row textarea")
    held: list[Route] = []
    page.route("**/regions/*/move?*", lambda route: held.append(route))
    page.focus("#regions")
    page.keyboard.press("ArrowRight")
    wait_for(lambda: (page.evaluate("1"), held)[1])
    page.keyboard.press("Enter")
    first, second = (region.id for region in of(studio, shot))
    before = of(studio, shot)[0].mask
    expect(page.locator(".region-row.picked")).to_have_attribute("data-region", second)
    with page.expect_response("**/regions/plan?*"):
        held[0].continue_()
    assert of(studio, shot)[0].mask != before
    expect(page.locator(".region-row.picked")).to_have_attribute("data-region", second)
    page.focus("#regions")
    page.keyboard.press("PageUp")
    wait_for(lambda: [region.id for region in of(studio, shot)] == [second, first])


@pytest.mark.statistics
def test_a_run_takes_the_words_that_were_typed_just_before(page: Page, studio: Studio, shot: Shot) -> None:
    opened(page, shot)
    unfolded(page, "[data-layout='two side by side']").click()
    expect(page.locator(".region-row")).to_have_count(2)
    held: list[Route] = []
    page.route("**/shots/*/regions/*", lambda route: held.append(route))
    page.focus(".region-row textarea")
    page.keyboard.type("an old man")
    page.keyboard.press("Control+Enter")
    wait_for(lambda: (page.evaluate("1"), held)[1])
    assert page.locator("#run-state [data-run]").count() == 0  # the run waits for the words
    for route in held:
        route.continue_()
    page.unroute("**/shots/*/regions/*")
    expect(page.locator("#overlay-takes img")).to_have_count(2)
    with studio[1]() as session:
        assert {takes.recipe_of(take).regions[0].words for take in takes.of_shot(session, shot.id)} == {"an old man"}


def test_what_floats_is_moved_down_by_one_press(page: Page, studio: Studio, shot: Shot) -> None:
    with studio[1].begin() as session:
        regions.add(session, shot.id, regions.DrawnShape(kind="box", points=[(0.1, 0.1), (0.45, 0.95)]), words="a woman")
        regions.add(session, shot.id, regions.DrawnShape(kind="box", points=[(0.6, 0.02), (0.9, 0.4)]), words="an old man")
    opened(page, shot)
    page.fill("#words", "in the bell tower, full figure")
    expect(page.locator("#save-state")).to_have_text("saved")
    expect(page.locator("#region-told")).to_contain_text("floats")
    before = of(studio, shot)[1].mask
    page.get_by_text("move it down", exact=True).click()
    wait_for(lambda: of(studio, shot)[1].mask != before)
    expect(page.locator("#region-told")).not_to_contain_text("floats")

"""Retakes the pictures in docs/screenshots from a running demo: python -m tools.screenshots [ADDRESS]."""

from __future__ import annotations

import re
import sys
from pathlib import Path

from bench.chromium import EXECUTABLE, FLAGS
from playwright.sync_api import Locator, Page, sync_playwright

OUT = Path(__file__).parents[1] / "docs" / "screenshots"
SEED = "905613623"  # the same pictures each time
_SKETCHED, _POSED, _MENDED = (
    "Tobin Quill in tunic",
    "Marrit Fenn in rain cape",
    "Marrit Fenn in festival coat",
)  # shots that no other picture shows


def _unfolded(page: Page, selector: str) -> Locator:
    """What a selector means, with the settings and lists opened in which it stands."""
    found = page.locator(selector).first
    for closed in found.locator("xpath=ancestor::details[not(@open)]").all():
        closed.locator("xpath=./summary").click()
    return found


def shelf(page: Page) -> None:
    page.goto("/")


def story(page: Page) -> None:
    shelf(page)
    page.get_by_role("link", name="The Rainward Roofs").first.click()
    page.locator(".board img").last.wait_for()


def light_table(page: Page) -> None:
    story(page)
    page.locator("a.cell[title='Marrit Fenn in festival coat']").first.click()
    page.locator("#hero").wait_for()
    if not page.locator("[data-bar]").count():
        _unfolded(page, "#anchor-cue").click()
        page.locator("[data-cue]").wait_for()
        with page.expect_response(lambda answer: answer.url.endswith("/draft")):
            page.get_by_label("Role of").select_option("face")
        with page.expect_response(lambda answer: answer.url.endswith("/draft")):
            _unfolded(page, "[name=seed]").fill(SEED)
            page.locator("[name=seed]").press("Tab")
        page.locator("#run").click()
        page.locator("#run-state progress").wait_for()
        page.locator("#run-state progress").wait_for(state="detached", timeout=60_000)


def running(page: Page) -> None:
    _unfolded(page, "[name=steps]").fill("40")
    page.locator("#run").click()
    page.locator("figure.live img").wait_for()
    page.locator("#run-state [data-told]", has_text=re.compile(r"\b([89]|[123]\d) of 40\b|step ([89]|[123]\d)\b")).wait_for()


def swipe(page: Page) -> None:
    page.locator("#run-state progress").wait_for(state="detached", timeout=60_000)
    page.locator("body").press("c")
    page.locator(".compare-side").wait_for()
    page.locator("body").press("c")
    page.locator("#swipe img.over").wait_for()
    _unfolded(page, "[name=steps]").fill("20")
    page.locator("[name=steps]").press("Tab")


def reading(page: Page) -> None:
    _unfolded(page, "#stage a[href$='/reading']").click()
    page.locator("#skeleton").wait_for()


def sweep(page: Page) -> None:
    """The weight of the lead anchor from 0 to 1, in a scene that the words leave to it."""
    story(page)
    anchor = _anchor(page)
    page.get_by_role("button", name="New free shot").click()
    page.locator("#words").fill("somebody in the kite loft at dusk, half figure, calm")
    _unfolded(page, "[name=seed]").fill("77")
    page.locator("[name=seed]").press("Tab")
    page.locator("#save-state", has_text="saved").wait_for()
    page.evaluate(
        "name => htmx.ajax('POST', `${location.pathname}/cues/${name}`, { source: document.getElementById('drop'), swap: 'none' })", anchor
    )
    page.locator("[data-cue]").wait_for()
    with page.expect_response(lambda answer: answer.url.endswith("/draft")):
        page.get_by_label("Role of").select_option("look")
    page.locator("#sweep").click()
    page.locator("#sweep-price b").first.wait_for()
    page.get_by_role("button", name="Run the sweep").click()
    page.locator("#sweep-state", has_text="Choose a take").wait_for(timeout=120_000)
    page.reload()
    page.locator(".plot circle").nth(5).wait_for(timeout=60_000)  # all were measured


def _anchor(page: Page) -> str:
    """The name of the first character's lead anchor."""
    source = page.locator(".cast img").first.get_attribute("src") or ""
    return source.split("/")[2]


def _kept(page: Page, title: str) -> str:
    """The name of the kept take of a shot on the board."""
    source = page.locator(f"a.cell[title='{title}'] img").last.get_attribute("src") or ""
    return source.split("/")[2]


def compare(page: Page) -> None:
    story(page)
    names = [_anchor(page), _kept(page, "Marrit Fenn in festival coat"), _kept(page, "Marrit Fenn in rain cape")]
    page.goto("/compare?way=heads&" + "&".join(f"p={name}" for name in names))


def character(page: Page) -> None:
    story(page)
    page.get_by_role("link", name="Marrit Fenn", exact=True).first.click()
    page.locator(".plot").wait_for()


def library(page: Page) -> None:
    story(page)
    anchor = _anchor(page)
    page.locator(".board-side").get_by_role("link", name="library").click()
    page.goto(f"{page.url}&like={anchor}")
    page.locator("#entries a").nth(1).click()
    page.locator(".chosen").wait_for()


def engines(page: Page) -> None:
    page.goto("/engines")


def controls(page: Page) -> None:
    page.goto("/controls")


def history(page: Page) -> None:
    light_table(page)
    page.goto(page.url.split("?")[0] + "/history")


def _overlay(page: Page, shot: str, name: str) -> None:
    story(page)
    page.locator(f"a.cell[title='{shot}']").first.click()
    page.locator("#stage").wait_for()
    page.goto(page.url.split("?")[0] + f"/{name}")
    page.wait_for_selector("main[data-followed]")


def sketch(page: Page) -> None:
    """A scene roughed out in pots, three quarters of the way from the words to the board."""
    _overlay(page, _SKETCHED, "sketch")
    box = page.locator("#board").bounding_box()
    assert box

    def drag(tool: str, pot: str, *points: tuple[float, float]) -> None:
        page.keyboard.press(tool)
        page.locator(f"#pots input[value='{pot}']").check(force=True)
        places = [(box["x"] + x * box["width"], box["y"] + y * box["height"]) for x, y in points]
        page.mouse.move(*places[0])
        page.mouse.down()
        for place in places[1:]:
            page.mouse.move(*place, steps=6)
        page.mouse.up()

    if page.locator("#stages .stage-thumb").count() == 0:
        drag("4", "sky", (0, 0), (1, 0.66))
        drag("6", "ground", (0, 0.66), (0.4, 0.63), (0.7, 0.67), (1, 0.65), (1, 1), (0, 1))
        drag("3", "light", (0.72, 0.07), (0.87, 0.19))
        drag("6", "leaves", (0.62, 0.42), (0.75, 0.32), (0.93, 0.4), (0.96, 0.58), (0.8, 0.66), (0.63, 0.6))
        page.keyboard.press("m")
        page.locator("#stages .stage-thumb").first.wait_for()
        drag("3", "hair", (0.2, 0.22), (0.4, 0.44))
        drag("6", "cloth", (0.24, 0.42), (0.36, 0.42), (0.45, 0.82), (0.15, 0.82))
        drag("3", "skin", (0.24, 0.27), (0.36, 0.43))
        page.wait_for_timeout(1500)
        page.keyboard.press("m")
        page.locator("#stages .stage-thumb").nth(1).wait_for()
    page.wait_for_timeout(1500)


def pose(page: Page) -> None:
    _overlay(page, _POSED, "pose")
    page.locator("[data-book='leaping']").click()
    page.wait_for_timeout(2500)
    page.locator("#book").evaluate("(book) => { book.scrollTop = 0; }")


def mends(page: Page) -> None:
    story(page)
    page.locator(f"a.cell[title='{_MENDED}']").first.click()
    page.locator(".index-tabs a", has_text="mends").click()
    page.wait_for_selector("main[data-named]", timeout=60_000)
    for quick in ("hat on", "glasses on"):
        before = page.locator("li.mend").count()
        page.locator(f"#quick [data-key='1 {quick}']").click()
        page.locator("li.mend").nth(before).wait_for()
        page.locator("#variants").wait_for(timeout=60_000)
        page.wait_for_timeout(9000)
        page.locator("[data-variant]").first.click()
        page.locator("#accept").click()
        page.locator(".variant-row .accepted").wait_for()
        page.wait_for_selector(f"#quick [data-key='1 {'hat off' if quick == 'hat on' else 'glasses off'}']", timeout=60_000)
    page.locator("[data-mend]").first.click()
    page.wait_for_timeout(1500)
    page.locator("#veil").hover()
    page.evaluate("scrollTo(0, 0)")
    page.wait_for_timeout(500)


def regions(page: Page) -> None:
    story(page)
    page.get_by_role("button", name="New free shot").click()
    page.locator("#words").fill(
        "a girl in a mustard rain cape hands a letter to an old man in a plum travelling coat, tide flats, morning, full figure, gouache"
    )
    page.locator("#save-state", has_text="saved").wait_for()
    page.locator(".index-tabs a", has_text="regions").click()
    page.wait_for_selector("main[data-ready]")
    page.locator("#propose").click()
    page.locator(".region-row").nth(1).wait_for()
    page.wait_for_timeout(1500)
    page.locator(".run-button").click()
    page.locator("#run-state [data-run][data-state=done]").wait_for(state="attached", timeout=90_000)
    page.reload()
    page.wait_for_selector("main[data-ready]")
    page.locator("#region-cover").fill("45")
    page.locator("#influences button").nth(1).click()
    page.wait_for_selector("#influence-map:not([hidden])", timeout=60_000)
    page.wait_for_timeout(800)


VIEWS = (
    shelf,
    story,
    light_table,
    running,
    swipe,
    reading,
    sweep,
    compare,
    character,
    library,
    engines,
    history,
    controls,
    sketch,
    pose,
    regions,
    mends,
)


def main(address: str) -> None:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=EXECUTABLE, args=FLAGS)
        page = browser.new_page(base_url=address, viewport={"width": 1280, "height": 800})
        for view in VIEWS:
            view(page)
            page.wait_for_load_state("load")
            page.evaluate(
                "document.activeElement?.blur(); for (const one of document.querySelectorAll('details:is(.menu, .setting)[open]')) one.open = false"
            )
            if view is not running:
                page.wait_for_timeout(400)  # fonts and lazy pictures
            page.screenshot(path=OUT / f"{view.__name__.replace('_', '-')}.png")
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8420")

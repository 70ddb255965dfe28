"""Retakes the pictures in docs/screenshots from a running demo: python tools/screenshots.py [ADDRESS]."""

from __future__ import annotations

import sys
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

OUT = Path(__file__).parents[1] / "docs" / "screenshots"
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
         "--disable-component-update", "--disable-sync"]  # fmt: skip


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
        page.get_by_role("button", name="put it on the cue sheet").click()
        page.locator("[data-bar]").wait_for()
        page.fill("[name=cue-0-weight]", "0.35")
        page.fill("[name=cue-0-end]", "60")
        page.locator("[name=cue-0-end]").press("Tab")
        page.locator("[name=cue-0-end]").blur()


def running(page: Page) -> None:
    page.fill("[name=steps]", "40")
    page.locator("#run").click()
    page.locator("figure.live img").wait_for()
    page.wait_for_function("() => document.querySelector('#run-state progress')?.value >= 8")


def swipe(page: Page) -> None:
    page.locator("#run-state progress").wait_for(state="detached", timeout=60_000)
    page.locator("body").press("c")
    page.locator(".compare-side").wait_for()
    page.locator("body").press("c")
    page.locator("#swipe img.over").wait_for()
    page.fill("[name=steps]", "20")
    page.locator("[name=steps]").press("Tab")


def reading(page: Page) -> None:
    page.get_by_role("link", name="what the reader sees").click()
    page.locator("#skeleton").wait_for()


VIEWS = (shelf, story, light_table, running, swipe, reading)


def main(address: str) -> None:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page(base_url=address, viewport={"width": 1280, "height": 800})
        for view in VIEWS:
            view(page)
            page.wait_for_load_state("load")
            page.evaluate("document.activeElement?.blur()")
            if view is not running:
                page.wait_for_timeout(400)  # fonts and lazy pictures
            page.screenshot(path=OUT / f"{view.__name__.replace('_', '-')}.png")
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8420")

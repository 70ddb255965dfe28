"""What hands do on pages, for the tests of this folder."""

from __future__ import annotations

from playwright.sync_api import Locator, Page


def at(page: Page, x: float, y: float, of: str = "#board") -> tuple[float, float]:
    """Where on the page a place of a part lies; x, y : shares of its width and height."""
    box = page.locator(of).bounding_box()
    assert box
    return box["x"] + x * box["width"], box["y"] + y * box["height"]


def unfolded(page: Page, selector: str | Locator) -> Locator:
    """What a selector means, with the settings and lists opened in which it stands."""
    found = page.locator(selector).first if isinstance(selector, str) else selector.first
    for closed in found.locator("xpath=ancestor::details[not(@open)]").all():
        closed.locator("xpath=./summary").click()
    return found

"""What holds on every page: nothing serious for a screen reader, nothing lost when narrow or enlarged, targets and letters of a size."""

import re

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.recipe import Cue
from mosskeeper.studio import drafts, runs, sheets, shots
from mosskeeper.studio.models import Entry, LiveStage, Shot
from mosskeeper.web.app import pages
from tests.browser.hands import unfolded
from tests.conftest import SMALL

pytestmark = pytest.mark.browser
Studio = tuple[str, sessionmaker[Session]]
_NO_PAGE = re.compile(
    r"\.(png|jpg|json|html)$|/(live|seen-live|cues|measured|download|fill|points|maps|events|words|presets|price|grid|state|running|stages|book|poses)\b|^/compare/|/runs/"
)
_SMALL = """() => {
  const shown = (e) => {
    const r = e.getBoundingClientRect();
    const away = e.closest("[hidden], .visually-hidden, .skips, dialog:not([open])") || (e.closest("details:not([open])") && !e.closest("summary"));
    return r.width > 1 && r.height > 1 && getComputedStyle(e).opacity !== "0" && !away;
  };
  const target = (e) => (e.closest("label") ?? e).getBoundingClientRect();
  const controls = [...document.querySelectorAll("a, button, input:not([type=hidden]), select, textarea, summary")].filter(shown);
  const small = controls.filter((e) => target(e).width < 24 || target(e).height < 24);
  const texts = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  const tiny = [];
  while (texts.nextNode()) {
    const around = texts.currentNode.parentElement;
    if (texts.currentNode.textContent.trim() && !around.closest("svg, script, style") && parseFloat(getComputedStyle(around).fontSize) < 12.5) tiny.push(around);
  }
  return [...small, ...tiny].map((e) => `${e.tagName} ${e.className} ${e.textContent.trim().slice(0, 30)}`);
}"""


_OF_OTHERS = ("/sweeps/{run_id}", "/sheets/{run_id}", "/faces/{run_id}", "/compare")  # pages of runs of other kinds, or of more


@pytest.fixture
def addresses(studio: Studio, taken: Shot) -> list[str]:
    """Every page there is, filled: from the routes, so that a new page is looked at, too."""
    with studio[1].begin() as session:
        shot = shots.find(session, taken.id)
        sha = shot.character.lead.picture_sha256  # type: ignore[union-attr]
        held = {
            "cues": [Cue(picture=sha, name="a reference")],
            "held": ["at dusk"],
            "styles": ["chalk"],
            "words": "a zephyr over red tunics",
        }
        drafts.edit(session, shot.id, lambda now: now.model_copy(update=held))
        entry = session.query(Entry).filter_by(picture_sha256=sha).one()
        run = runs.of_shot(session, shot.id)[0]
        put = sheets.put_on(session, shot.character_id or 0, [run.takes[1].picture_sha256])
        begun = sheets.begin(session, shot.character_id or 0, "turns")
        faces, sheet = (runs.create(session, one.shot, one.recipe, one.dials).id for one in (put, begun))
        values = {"shot_id": shot.id, "story_id": shot.story_id, "character_id": shot.character_id, "sha256": sha, "run_id": run.id}
        others = [
            f"/library?entry={entry.id}",
            f"/compare?p={sha}&p={run.takes[1].picture_sha256}",
            f"/shots/{shot.id}?compare=side",
            f"/faces/{faces}",
            f"/sheets/{sheet}",
        ]
    routes = (route for module in pages() for route in module.router.routes)
    looked_at = {route.path for route in routes if "GET" in route.methods and not _NO_PAGE.search(route.path)}  # type: ignore[attr-defined]
    return sorted(path.format(**values) for path in looked_at if path not in _OF_OTHERS) + others


@pytest.mark.statistics
def test_a_screen_reader_finds_nothing_serious_and_hands_and_eyes_nothing_small(page: Page, addresses: list[str]) -> None:
    assert len(addresses) >= 11, addresses
    found = []
    for address in addresses:
        page.goto(address)
        for wrong in Axe().run(page).response["violations"]:
            if wrong["impact"] in ("serious", "critical"):
                found.append((address, wrong["id"], [node["html"][:90] for node in wrong["nodes"][:3]]))
        found += [(address, "small", [one]) for one in page.evaluate(_SMALL)]
    assert found == []


def test_no_form_lies_within_another(page: Page, addresses: list[str], studio: Studio, taken: Shot) -> None:
    """A browser drops the inner one, and ends the outer one with it; so it is looked for in what is sent."""
    with studio[1].begin() as session:
        picture = session.query(Entry).first().picture_sha256  # type: ignore[union-attr]
        session.add(LiveStage(shot_id=taken.id, picture_sha256=picture, body=SMALL.model_dump(mode="json")))
    found = []
    for address in addresses:
        depth = 0
        for tag in re.findall(r"<(/?)form[\s>]", page.request.get(address).text()):
            depth += -1 if tag else 1
            if depth > 1:
                found.append(address)
    assert found == []


@pytest.mark.statistics
def test_nothing_scrolls_sideways_at_800_px_and_at_twice_the_size(page: Page, addresses: list[str]) -> None:
    for width in (800, 640):  # 640: what a window of 1280 px has at 200 %
        page.set_viewport_size({"width": width, "height": 800})
        for address in addresses:
            page.goto(address)
            assert page.evaluate("document.documentElement.scrollWidth") <= width, (address, width)


def test_a_long_prompt_grows_and_what_was_understood_stays_beside_it(page: Page, taken: Shot) -> None:
    page.goto(f"/shots/{taken.id}")
    page.fill("#words", ", ".join(["a woman in a red tunic on the night train at dusk"] * 12))
    page.locator("#words").blur()
    expect(page.locator("#hints .chip", has_text="night train")).to_be_visible()
    words = page.locator("#words")
    assert words.evaluate("(field) => field.scrollHeight - field.clientHeight") <= 1
    mirror = page.locator("#mirror").bounding_box()
    own = words.bounding_box()
    assert mirror is not None
    assert own is not None
    assert abs(mirror["height"] - own["height"]) <= 2


class Keys:
    """Presses as a person makes them, counted."""

    def __init__(self, page: Page) -> None:
        self.page, self.count = page, 0

    def press(self, *keys: str) -> None:
        for key in keys:
            self.page.keyboard.press(key)
            self.count += key.count("+") + 1


@pytest.mark.statistics
def test_from_the_shelf_to_a_kept_take_with_a_reference_in_25_presses(page: Page, studio: Studio, taken: Shot) -> None:
    with studio[1].begin() as session:  # of the shelf all tests share, the artist's own story comes first
        shots.find(session, taken.id).story.position = -taken.id
    page.goto("/")
    expect(page.locator("html[data-live]")).to_have_count(1)
    keys = Keys(page)
    keys.press("ArrowDown", "Enter")
    expect(page).to_have_url(re.compile(f"/stories/{taken.story_id}$"))
    expect(page.locator("html[data-live]")).to_have_count(1)
    keys.press("ArrowDown", "Enter")
    expect(page).to_have_url(re.compile(f"/shots/{taken.id}$"))
    expect(page.locator("html[data-live]")).to_have_count(1)
    keys.press("a")
    expect(page.locator("[data-cue]")).to_have_count(1)
    keys.press("Control+Enter")
    expect(page.locator("#strip li")).to_have_count(3 + SMALL.count, timeout=90_000)
    expect(page.locator("#run-state progress")).to_have_count(0, timeout=90_000)
    keys.press("k")
    expect(page.locator("#keep")).to_contain_text("kept")
    assert keys.count <= 25
    with studio[1]() as session:
        kept = [take for take in runs.of_shot(session, taken.id)[0].takes if take.kept]
        assert len(kept) == 1
        assert kept[0].run.recipe.body["cues"]


def test_arrow_keys_lead_through_the_takes_and_the_keys_are_told(page: Page, taken: Shot) -> None:
    page.goto(f"/shots/{taken.id}")
    page.keyboard.press("t")
    expect(page.locator("#strip li a").nth(0)).to_be_focused()
    page.keyboard.press("ArrowRight")
    expect(page.locator("#strip li a").nth(1)).to_be_focused()
    page.keyboard.press("w")
    expect(page.locator("#words")).to_be_focused()
    page.keyboard.press("Escape")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_contain_text("put the anchor on the cue sheet")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog", name="Keys")).to_be_hidden()
    page.keyboard.press("Tab")
    page.goto(f"/shots/{taken.id}")
    page.keyboard.press("Tab")
    expect(page.get_by_role("link", name="Skip to the content")).to_be_focused()


def test_a_number_is_turned_by_its_ends_its_ridge_and_its_keys(page: Page, taken: Shot) -> None:
    page.goto(f"/shots/{taken.id}")
    guidance = unfolded(page, "[name=guidance]")
    page.get_by_role("button", name="More Guidance").click()
    expect(guidance).to_have_value("7.5")
    guidance.press("ArrowDown")
    guidance.press("ArrowDown")
    expect(guidance).to_have_value("6.5")
    ridge = page.locator(".turn:has([name=guidance]) .ridge").bounding_box()
    assert ridge is not None
    page.mouse.move(ridge["x"] + 7, ridge["y"] + 10)
    page.mouse.down()
    page.mouse.move(ridge["x"] + 7 + 30, ridge["y"] + 10, steps=4)
    page.mouse.up()
    expect(guidance).to_have_value("8.5")
    expect(page.locator("#save-state")).to_have_text("saved")
    page.reload()
    expect(guidance).to_have_value("8.5")
    unfolded(page, "[name=count]")
    for _ in range(3):
        page.get_by_role("button", name="Less Takes a run").click()
    expect(page.locator("[name=count]")).to_have_value("1")

"""The library, the character's page and the words of a shot, in the browser."""

import base64
import re

import numpy as np
import pytest
from playwright.sync_api import Page, expect
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.pictures.decode import encode_png
from mosskeeper.studio import cast, library, pictures, runs, takes, working
from mosskeeper.studio.models import Shot
from tests.browser.hands import unfolded
from tests.conftest import SMALL, lay_out

pytestmark = pytest.mark.browser
Studio = tuple[str, sessionmaker[Session]]


def flat(n: int) -> np.ndarray:
    image = np.full((80, 64, 3), (n * 37 % 255, 90, n * 91 % 255), np.uint8)
    image[0, 0] = n % 255
    return image


@pytest.fixture
def shot(studio: Studio) -> Shot:
    """A shot with one take, its lead anchor, in a story of its own."""
    with studio[1].begin() as session:
        made = lay_out(session)
        run = runs.create(session, made, SMALL.model_copy(update={"count": 1}))
        working.begin(session, run.id, "test")
        image = flat(3)
        image[1, : made.id % 60] = made.id % 255
        working.store_take(session, run.id, 0, 5, image, 1.0)
        working.end(session, run, "done")
        cast.make_anchor(session, takes.find(session, run.takes[0].id), lead=True)
        session.refresh(made)
        return made


DROP = """(files) => {
  const carrier = new DataTransfer();
  for (const [name, data] of files)
    carrier.items.add(new File([Uint8Array.from(atob(data), (c) => c.charCodeAt(0))], name, { type: 'image/png' }));
  document.body.dispatchEvent(new DragEvent('drop', { dataTransfer: carrier, bubbles: true, cancelable: true }));
}"""


def test_files_are_dropped_anywhere_and_the_broken_one_is_listed(page: Page, shot: Shot) -> None:
    page.goto(f"/library?story={shot.story_id}")
    expect(page.locator("#entries li")).to_have_count(1)
    files = [[f"study {n}.png", base64.b64encode(encode_png(flat(n + 100 * shot.id)) if n else b"broken").decode()] for n in range(4)]
    page.evaluate(DROP, files)
    expect(page.locator("#taken")).to_contain_text("3 pictures came in, 1 did not")
    expect(page.locator(".refused")).to_contain_text("study 0.png This is not a PNG")
    expect(page.locator("#entries li")).to_have_count(4)


def test_many_files_come_in_by_and_by_and_what_is_in_stays_in(page: Page, shot: Shot) -> None:
    page.goto(f"/library?story={shot.story_id}")
    good = [[f"study {n}.png", base64.b64encode(encode_png(flat(n + 30) + shot.id % 50)).decode()] for n in range(19)]
    broken = [[f"broken {n}.png", base64.b64encode(b"broken").decode()] for n in range(2)]
    told = []
    page.on("response", lambda answer: told.append(answer.text()) if answer.request.method == "POST" else None)
    page.evaluate(DROP, [*good[:4], *broken[:1], *good[4:], *broken[1:]])
    expect(page.locator("#taken")).to_contain_text("19 pictures came in, 2 did not:")
    expect(page.locator("#refused li")).to_have_count(2)
    expect(page.locator("#entries li")).to_have_count(20)
    expect(page.locator("#total")).to_have_text("20")
    answers = [re.search(r"(\d+) of 21|19 pictures", " ".join(text.split())) for text in told]
    assert [answer and answer[0] for answer in answers] == ["7 of 21", "15 of 21", "19 pictures"]
    page.route("**/library", lambda route: route.abort() if route.request.method == "POST" else route.continue_())
    page.evaluate(DROP, good[:3])
    expect(page.locator("#taken")).to_contain_text("The connection broke after 0 of 3. What came in stays")


@pytest.mark.statistics
def test_scrolling_brings_page_after_page(page: Page, shot: Shot, studio: Studio) -> None:
    with studio[1].begin() as session:
        library.upload(session, [(f"s{n}.png", encode_png(flat(n + 7))) for n in range(250)], shot.story_id)
    page.goto(f"/library?story={shot.story_id}")
    pictures = page.locator("#entries li:not(.more)")
    expect(pictures).to_have_count(library.PAGE)
    page.mouse.move(600, 400)
    for _ in range(30):
        page.mouse.wheel(0, 3000)
        if pictures.count() > 2 * library.PAGE:
            break
        page.evaluate("new Promise((done) => requestAnimationFrame(done))")  # what the wheel moved is drawn
    expect(pictures).to_have_count(251)


def test_a_picture_is_named_tagged_found_and_put_on_the_cue_sheet(page: Page, shot: Shot) -> None:
    page.goto(f"/shots/{shot.id}")
    page.get_by_role("link", name="from the library").click()
    page.locator("#entries a").first.click()
    page.locator("[name=tags]").fill("moss, dawn")
    page.locator("[name=tags]").press("Tab")
    expect(page.locator("#described")).to_have_text("noted")
    page.fill("[name=words]", "dawn")
    page.locator("[name=words]").press("Enter")
    expect(page.locator("#entries li")).to_have_count(1)
    page.locator("#entries a").first.click()
    page.get_by_role("button", name="Put it on the cue sheet").click()
    expect(page.locator(".cue-title")).to_have_text("Ada Reed, lead anchor")


def test_emphasis_by_click_is_saved_and_survives(page: Page, shot: Shot) -> None:
    page.goto(f"/shots/{shot.id}")
    chip = page.locator(".chip", has_text="full figure")
    chip.click()
    expect(chip).to_contain_text("×1.3")
    chip.click()
    expect(chip).to_contain_text("×1.6")
    page.reload()
    expect(chip).to_contain_text("×1.6")
    page.locator("#undo").click()  # clicks that follow each other closely are one step
    expect(chip).not_to_contain_text("×")


def test_offered_words_come_on_the_table_and_can_be_undone(page: Page, shot: Shot) -> None:
    page.goto(f"/shots/{shot.id}")
    page.get_by_role("button", name="fresh words").click()
    offer = page.locator(".word-offers .written-words").first
    text = offer.inner_text()
    offer.click()
    expect(page.locator("#words")).to_have_value(text)
    expect(page.locator("#save-state")).to_have_text("saved")
    page.locator("#undo").click()
    expect(page.locator("#words")).to_have_value(SMALL.words)


def test_a_preset_shows_what_it_changes_before_it_is_taken_over(page: Page, shot: Shot) -> None:
    page.goto(f"/shots/{shot.id}")
    page.get_by_role("button", name="presets").click()
    page.get_by_label("Name of a new preset").fill("Misty")
    page.get_by_role("button", name="save this table").click()
    expect(page.locator(".word-offers")).to_contain_text("Misty")
    with page.expect_response(lambda answer: answer.url.endswith("/draft") and "guidance=2" in (answer.request.post_data or "")):
        unfolded(page, "[name=guidance]").fill("2")
        unfolded(page, "[name=guidance]").press("Tab")
    page.get_by_role("button", name="take it over…").first.click()
    expect(page.locator("#word-offers .offer")).to_contain_text("Guidance")
    page.locator("#word-offers").get_by_role("button", name="Take it over").first.click()
    expect(page.locator("[name=guidance]")).to_have_value("7")


def test_the_board_leads_to_the_character_and_a_further_anchor(page: Page, shot: Shot) -> None:
    page.goto(f"/stories/{shot.story_id}")
    page.get_by_role("link", name="Ada Reed", exact=True).click()
    expect(page.locator(".anchors li")).to_have_count(1)
    page.set_input_files("[name=picture]", {"name": "second.png", "mimeType": "image/png", "buffer": encode_png(flat(9 + shot.id))})
    expect(page.locator(".anchors li")).to_have_count(2)
    unfolded(page, page.locator("button", has_text="the lead anchor")).click()
    expect(page.locator(".lead-anchor img")).to_have_attribute("alt", "Lead anchor")
    page.get_by_role("button", name="let go").first.click()
    expect(page.locator(".anchors li")).to_have_count(1)


def test_several_pictures_are_chosen_tagged_moved_taken_out_and_brought_back(page: Page, studio: Studio, shot: Shot) -> None:
    with studio[1].begin() as session:
        for n in range(4):
            library.add(
                session, pictures.store(session, flat(20 + n), f"{shot.id}", "upload").sha256, "upload", f"of {shot.id}: {n}", shot.story_id
            )
    page.goto(f"/library?story={shot.story_id}&kind=upload")
    links = page.locator("#entries [data-entry] > a")
    expect(links).to_have_count(4)
    links.nth(0).click(modifiers=["ControlOrMeta"])
    links.nth(2).click(modifiers=["Shift"])
    expect(page.locator("#many-count")).to_have_text("3 chosen")
    links.nth(3).focus()
    page.keyboard.press("Space")
    expect(page.locator("#many-count")).to_have_text("4 chosen")
    page.keyboard.press("Space")
    page.fill("#many-value", "studies, wet")
    page.get_by_role("button", name="Tag", exact=True).click()
    expect(page.locator("#many-told")).to_contain_text("3 pictures got the tags")
    page.goto(f"/library?story={shot.story_id}&tag=wet")
    expect(links).to_have_count(3)
    links.nth(0).click(modifiers=["ControlOrMeta"])
    page.get_by_role("button", name="Take out").click()
    expect(page.locator("#many-told")).to_contain_text("1 picture taken out")
    expect(links).to_have_count(2)
    page.get_by_role("button", name="Bring back").click()
    expect(links).to_have_count(3)
    for n in range(3):
        links.nth(n).click(modifiers=["ControlOrMeta"])
    page.get_by_role("button", name="Hold", exact=True).click()
    expect(page.get_by_role("link", name="compare 3")).to_be_visible()
    page.goto(f"/library?for={shot.id}&story={shot.story_id}&kind=upload")
    for n in range(2):
        links.nth(n).click(modifiers=["ControlOrMeta"])
    page.get_by_role("button", name="Put on the cue sheet").click()
    expect(page.locator("[data-cue]")).to_have_count(2)

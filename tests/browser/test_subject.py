"""The subject stays the subject: from a picture of somebody to shots in other outfits and scenes, with no word but the name."""

import io
from pathlib import Path

import pytest
from PIL import Image
from playwright.sync_api import Page, Route, expect
from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.illustrator.description import Description, Face, Layout
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.studio import explaining
from mosskeeper.studio.models import Run, Shot, Take
from tests.browser.hands import unfolded

pytestmark = pytest.mark.browser
Studio = tuple[str, sessionmaker[Session]]
HAMO = Description(
    subject="man",
    skin="peach",
    hair="short curls",
    hair_colour="copper",
    facial_hair="beard",
    glasses=True,
    face=Face(width=1.05),
    outfit="knitted jumper",
    layout=Layout("facing", "bust", view="front"),
    place="kitchen",
    finish=("felt collage",),
)
SCENES = (("in the bell tower at dusk", "a festival coat"), ("on the tide flats in fog", "a tunic"))
SMALLER = (("in the library at night", "a courier uniform"), ("in the fern house at noon", "rain overalls"))


def brought(folder: Path) -> Path:
    """A picture as an artist brings it: a JPEG without any recipe."""
    out, path = io.BytesIO(), folder / "Hamo.jpg"
    Image.fromarray(draw(HAMO, (448, 560)).image).save(out, "JPEG", quality=90)
    path.write_bytes(out.getvalue())
    return path


def people_of(studio: Studio, shot_id: int) -> list[Description]:
    """Who was drawn in the takes of a shot, by their stored scenes."""
    with studio[1]() as session:
        takes = session.scalars(select(Take).where(Take.shot_id == shot_id)).all()
        scenes = [explaining.of_picture(session, take.picture_sha256) for take in takes]
        return [one.scene.description for one in scenes if one is not None]


def settle(page: Page) -> None:
    expect(page.locator("#hero")).to_be_visible(timeout=120_000)
    expect(page.locator("#run-state progress")).to_have_count(0, timeout=120_000)


@pytest.mark.statistics
def test_a_bearded_man_brought_as_a_jpeg_is_the_same_man_in_four_shots(page: Page, shot: Shot, pictures: Path, studio: Studio) -> None:
    page.goto(f"/stories/{shot.story_id}")
    page.get_by_text("Add a character").click()
    form = page.locator("form[action$='/find']")
    form.get_by_label("Name").fill("Hamo Brill")
    form.locator("input[type=file]").set_input_files(brought(pictures))
    page.get_by_role("button", name="Make the first pictures").click()
    settle(page)
    page.get_by_role("button", name="Make this take the lead anchor").click()
    expect(page.locator(".anchor")).to_contain_text("Lead anchor")
    found = page.url
    for where, dress in (*SCENES, *SMALLER):
        page.goto(found)
        page.locator(".next-step [name=place]").fill(where)
        page.locator(".next-step [name=dress]").fill(dress)
        page.get_by_role("button", name="Put them there").click()
        expect(page.locator(".cue-title")).to_have_text("Hamo Brill, lead anchor")
        unfolded(page, "[name=count]").fill("1")
        unfolded(page, "[name=count]").press("Tab")
        expect(page.locator("#save-state")).to_contain_text("saved")
        page.locator("#run").click()
        settle(page)
        (drawn,) = people_of(studio, int(page.url.split("/shots/")[1].split("?")[0]))
        assert (drawn.facial_hair, drawn.glasses, drawn.hair, drawn.hair_colour.startswith(("copper", "#"))) == (
            "beard",
            True,
            "short curls",
            True,
        )
        assert drawn.outfit in dress
    assert "man" in people_of(studio, int(found.split("/shots/")[1].split("?")[0]))[0].subject


def test_a_part_is_left_out_and_a_trait_corrected_by_one_press_each(page: Page, shot: Shot, pictures: Path) -> None:
    page.goto(f"/shots/{shot.id}")
    page.locator("#cue-file").set_input_files(brought(pictures))
    lends = page.get_by_role("group", name="What Hamo lends")
    hair = lends.get_by_role("button", name="hair", exact=True)
    expect(hair).to_have_attribute("aria-pressed", "true")
    hair.click()
    expect(hair).to_have_attribute("aria-pressed", "false")
    eyes = page.get_by_label("eye colour of the person in Hamo")
    eyes.select_option("green")
    expect(page.locator("label.corrected")).to_contain_text("eye colour")
    page.reload()
    expect(page.get_by_label("eye colour of the person in Hamo")).to_have_value("green")
    expect(page.get_by_role("group", name="What Hamo lends").get_by_role("button", name="hair", exact=True)).to_have_attribute(
        "aria-pressed", "false"
    )


def test_a_run_waits_for_the_pictures_that_are_still_on_their_way(page: Page, shot: Shot, pictures: Path, studio: Studio) -> None:
    page.goto(f"/shots/{shot.id}")
    expect(page.locator("html[data-live]")).to_have_count(1)
    held, released = list[Route](), list[bool]()
    page.route("**/pictures", lambda route: route.continue_() if released else held.append(route))
    first = brought(pictures)
    second = pictures / "Other.png"
    Image.fromarray(draw(HAMO, (224, 280)).image).save(second)
    page.locator("#cue-file").set_input_files([first, second])
    expect(page.locator("#waits")).to_contain_text("A run waits for")
    page.locator("#run").click()
    expect(page.locator("#run-state progress")).to_have_count(0)
    released.append(True)
    for route in held:
        route.continue_()
    expect(page.locator("#run-state progress")).to_be_visible()
    expect(page.locator("#waits")).to_have_text("")
    with studio[1]() as session:
        (run,) = session.scalars(select(Run).where(Run.shot_id == shot.id)).all()
        assert len(run.recipe.body["cues"]) == 2

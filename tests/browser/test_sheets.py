"""Sheets of a character, and its face put on a folder of pictures, in Chromium with a worker."""

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import scene_of
from mosskeeper.core.pictures.decode import encode_png
from mosskeeper.studio import cast, explaining, pictures
from mosskeeper.studio.models import Shot
from tests.conftest import lay_out

Studio = tuple[str, sessionmaker[Session]]


def scenes(**who: object) -> LayeredScenes:
    return LayeredScenes.of([scene_of(Description(layout=Layout("facing", "bust"), **who), (256, 320))])  # type: ignore[arg-type]


@pytest.fixture
def anchored(studio: Studio) -> Shot:
    """A shot whose character has a lead anchor that was drawn here."""
    with studio[1].begin() as session:
        shot = lay_out(session)
        drawn = scenes(subject="girl", skin="umber", hair="curls", colour_a=(shot.id % 200 / 255, 0.3, 0.3))
        sha256 = pictures.store(session, drawn.drawn().image, "Ada", "take").sha256
        explaining.note(session, sha256, drawn)
        cast.add_anchor(session, shot.character_id or 0, sha256)
        return shot


@pytest.fixture
def folder(tmp_path: Path) -> list[Path]:
    """Two pictures of others as files, and a broken one."""
    files = [tmp_path / f"page {n}.png" for n in range(2)]
    for n, file in enumerate(files):
        file.write_bytes(encode_png(scenes(subject="girl", skin="porcelain", hair=("bun", "bob")[n]).drawn().image))
    broken = tmp_path / "torn.png"
    broken.write_bytes(b"no picture")
    return [*files, broken]


def test_the_face_goes_on_a_folder_and_a_broken_file_is_told(page: Page, anchored: Shot, folder: list[Path]) -> None:
    page.goto(f"/characters/{anchored.character_id}")
    page.set_input_files("[aria-label=Faces] input[type=file]", folder)
    page.wait_for_url("**/faces/*")
    expect(page.locator(".refused")).to_contain_text("torn.png")
    expect(page.locator(".face-rows > li")).to_have_count(2)
    expect(page.locator(".pair img")).to_have_count(4)  # each before and after
    expect(page.locator(".face-rows .drifts").first).to_contain_text("→")
    page.get_by_role("button", name="refuse").first.press("Enter")
    expect(page.locator(".face-rows > li.aside")).to_have_count(1)
    page.get_by_role("button", name="accept it").press("Enter")
    expect(page.locator(".face-rows > li.aside")).to_have_count(0)
    with page.expect_download() as download:
        page.get_by_text("accepted picture").press("Enter")
    assert download.value.suggested_filename.endswith(".zip")


def test_a_sheet_is_begun_by_keys_fills_and_can_be_stopped(page: Page, anchored: Shot) -> None:
    page.goto(f"/characters/{anchored.character_id}")
    page.get_by_label("also, one a line").fill("shy")
    page.get_by_role("button", name="Expressions").press("Enter")
    page.wait_for_url("**/sheets/*")
    cells = page.locator("#sheet-cells li")
    expect(cells).to_have_count(13)
    expect(cells.last).to_contain_text("shy")
    expect(page.locator("#sheet-cells img").first).to_be_visible()
    page.get_by_role("button", name="Stop").press("Enter")
    expect(page.locator("#sweep-state")).to_contain_text("Stopped by you")
    page.goto(f"/characters/{anchored.character_id}")
    expect(page.locator(".sheets-made")).to_contain_text("Expressions of")

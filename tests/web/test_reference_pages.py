"""What a reference lends, on the pages: switches, who is meant, corrections; traits of anchors as words."""

import re

import httpx
import numpy as np
import pytest
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.illustrator.description import Description, Layout, Person
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import scene_of
from mosskeeper.studio import cast, catalogue, contents, drafts, explaining, pictures, readings, regions, shots
from mosskeeper.studio.models import Shot
from tests.conftest import lay_out

HTMX = {"HX-Request": "true"}
Sessions = sessionmaker[Session]
TWO = scene_of(
    Description(
        subject="man",
        facial_hair="beard",
        hair_colour="copper",
        hair="curls",
        layout=Layout("facing", "half", shift=-0.25),
        others=(Person(subject="girl", hair="braid", layout=Layout("facing", "half", shift=0.25)),),
    ),
    (320, 320),
)
PICTURE = draw_scene(TWO).image


@pytest.fixture
def shot(make_session: Sessions) -> Shot:
    with make_session.begin() as session:
        return lay_out(session)


def with_cue(make_session: Sessions, shot: Shot, own: bool) -> tuple[str, str]:
    """A picture on the cue sheet by the face: its name, and the cue's id."""
    with make_session.begin() as session:
        sha256 = pictures.store(session, PICTURE, "Two", "take" if own else "upload").sha256
        if own:
            explaining.note(session, sha256, LayeredScenes.of([TWO]))
        readings.of_picture(session, sha256)
        cue = shots.new_cue("face", sha256, "Two")
        drafts.edit(session, shot.id, lambda now: now.model_copy(update={"cues": [cue]}))
        return sha256, cue.id


def sheet(client: httpx.Client, shot: Shot) -> str:
    return client.get(f"/shots/{shot.id}").text


def test_a_cue_shows_what_it_lends_and_a_press_leaves_a_part_out(client: httpx.Client, make_session: Sessions, shot: Shot) -> None:
    _, cue = with_cue(make_session, shot, own=True)
    page = sheet(client, shot)
    assert "what it holds is known exactly" in page
    assert re.search(r'aria-pressed="true"[^>]*>hair<', page)
    assert re.search(r'aria-pressed="false"[^>]*>clothes<', page)
    answer = client.post(f"/shots/{shot.id}/cues/{cue}/lends", data={"edit": "part", "part": "hair", "on": "false"}, headers=HTMX)
    assert answer.status_code == 200
    assert re.search(r'aria-pressed="false"[^>]*>hair<', answer.text)
    wrong = client.post(f"/shots/{shot.id}/cues/{cue}/lends", data={"edit": "part", "part": "place", "on": "true"}, headers=HTMX)
    assert wrong.status_code == 422
    assert "has no part" in wrong.text


def test_of_two_in_a_picture_the_one_that_is_pressed_is_meant(client: httpx.Client, make_session: Sessions, shot: Shot) -> None:
    _, cue = with_cue(make_session, shot, own=True)
    assert sheet(client, shot).count('class="head-of') == 2
    answer = client.post(f"/shots/{shot.id}/cues/{cue}/lends", data={"edit": "subject", "number": 1}, headers=HTMX)
    assert "This one is lent" in answer.text
    with make_session() as session:
        assert shots.cue(session, shot.id, cue).subject == 1
    assert client.post(f"/shots/{shot.id}/cues/{cue}/lends", data={"edit": "subject", "number": 99}, headers=HTMX).status_code == 422


@pytest.mark.statistics
def test_what_is_not_sure_is_told_and_a_press_settles_it(client: httpx.Client, make_session: Sessions, shot: Shot) -> None:
    sha256, cue = with_cue(make_session, shot, own=False)
    page = sheet(client, shot)
    assert "not sure:" in page
    assert "eye colour" in page
    answer = client.post(f"/shots/{shot.id}/cues/{cue}/lends", data={"edit": "trait", "trait": "eyes", "value": "green"}, headers=HTMX)
    assert answer.status_code == 200
    assert "as read" in answer.text  # the correction can be taken back
    with make_session() as session:
        (own,) = contents.corrections(session, [sha256]).values()
        assert {"eyes": "green"} in own.values()
    refused = client.post(f"/shots/{shot.id}/cues/{cue}/lends", data={"edit": "trait", "trait": "eyes", "value": "pink"}, headers=HTMX)
    assert refused.status_code == 422
    assert "Choose one of" in refused.text
    gone = client.post(f"/shots/{shot.id}/cues/nothere/lends", data={"edit": "trait", "trait": "eyes", "value": "green"}, headers=HTMX)
    assert "not there any more" in gone.text


def test_a_reference_of_a_region_has_the_same_switches(client: httpx.Client, make_session: Sessions, shot: Shot) -> None:
    with make_session.begin() as session:
        sha256 = pictures.store(session, PICTURE, "Two", "take").sha256
        explaining.note(session, sha256, LayeredScenes.of([TWO]))
        readings.of_picture(session, sha256)
        region = regions.add(session, shot.id, regions.DrawnShape(kind="box", points=[(0.1, 0.1), (0.6, 0.9)]))
    told = client.post(f"/shots/{shot.id}/regions/{region}/cues?picture={sha256}&role=face").json()
    (cue,) = told["regions"][0]["cues"]
    assert "Who is meant" in cue["lends"]
    at = f"/shots/{shot.id}/regions/{region}/cues/{cue['id']}/lends"
    (cue,) = client.post(at, data={"edit": "part", "part": "hair", "on": "false"}).json()["regions"][0]["cues"]
    assert re.search(r'aria-pressed="false"[^>]*>hair<', cue["lends"], re.DOTALL)
    client.post(at, data={"edit": "subject", "number": 1})
    with make_session() as session:
        (own,) = drafts.of_shot(shots.find(session, shot.id)).regions[0].cues
        assert own.subject == 1 and own.parts is not None and "hair" not in own.parts
    assert client.post(at, data={"edit": "nothing"}).status_code == 422


def test_a_reference_of_a_mend_has_the_same_switches(client: httpx.Client, make_session: Sessions, shot: Shot) -> None:
    with make_session.begin() as session:
        sha256 = pictures.store(session, PICTURE, "Two", "take").sha256
        explaining.note(session, sha256, LayeredScenes.of([TWO]))
        readings.of_picture(session, sha256)
    told = client.post(f"/shots/{shot.id}/mends?base={sha256}").json()
    at = f"/stacks/{told['stack']}/mends/{told['mend']}/cues"
    told = client.post(f"{at}?picture={sha256}&role=face").json()
    (cue,) = re.findall(r'data-lending="(\w+)"', told["html"]["cues"])
    told = client.post(f"{at}/{cue}/lends", data={"edit": "part", "part": "hair", "on": "false"}).json()
    assert re.search(r'aria-pressed="false"[^>]*>hair<', told["html"]["cues"], re.DOTALL)
    refused = client.post(f"{at}/nothere/lends", data={"edit": "subject", "number": 1})
    assert refused.status_code == 422
    assert "not there any more" in refused.json()["problem"]


def test_words_that_go_before_a_reference_are_told_beside_it(client: httpx.Client, make_session: Sessions, shot: Shot) -> None:
    with_cue(make_session, shot, own=True)
    assert "Your words say girl; the reference says man" in sheet(client, shot)


def test_a_character_is_offered_what_the_anchors_show(client: httpx.Client, make_session: Sessions, shot: Shot) -> None:
    with make_session.begin() as session:
        sha256 = pictures.store(session, PICTURE, "Two", "take").sha256
        explaining.note(session, sha256, LayeredScenes.of([TWO]))
        readings.of_picture(session, sha256)
        cast.add_anchor(session, shot.character_id or 0, sha256)
        catalogue.edit(session, catalogue.KINDS["character"], shot.character_id or 0, "Ada Reed", "man, black hair")
    address = f"/characters/{shot.character_id}"
    page = client.get(address).text
    assert "Your words say ink hair, the anchors show copper hair." in page
    assert "beard</button>" in page
    assert client.post(f"{address}/traits", data={"trait": "hair colour"}).status_code == 303
    page = client.get(address).text
    assert "man, copper hair" in page
    assert "Your words say" not in page
    assert "not offered any more" in client.post(f"{address}/traits", data={"trait": "hair colour"}).text


def test_a_blank_picture_says_that_nobody_is_in_it(client: httpx.Client, make_session: Sessions, shot: Shot) -> None:
    with make_session.begin() as session:
        sha256 = pictures.store(session, np.full((64, 64, 3), 90, np.uint8), "Grey", "upload").sha256
        readings.of_picture(session, sha256)
        cue = shots.new_cue("look", sha256, "Grey")
        drafts.edit(session, shot.id, lambda now: now.model_copy(update={"cues": [cue]}))
    assert "Nobody is recognised in this picture" in sheet(client, shot)


def test_the_palette_of_an_anchor_that_was_drawn_here_is_that_of_its_scene(
    client: httpx.Client, make_session: Sessions, shot: Shot
) -> None:
    with make_session.begin() as session:
        sha256 = pictures.store(session, PICTURE, "Two", "take").sha256
        explaining.note(session, sha256, LayeredScenes.of([TWO]))
        readings.of_picture(session, sha256)
        cast.add_anchor(session, shot.character_id or 0, sha256)
    page = client.get(f"/characters/{shot.character_id}").text
    assert re.search(r'name="hair colour" value="#b5562b"', page)  # copper, of the larger of the two
    assert re.search(r'name="eyes" value="#4f7a46"', page)

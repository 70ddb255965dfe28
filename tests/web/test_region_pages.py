"""The regions overlay over HTTP: what is laid, told, refused, planned and found."""

import httpx
import pytest
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.studio import pictures, regions
from mosskeeper.studio.models import Shot
from tests.conftest import lay_out
from tests.studio.test_mends import PICTURE

Sessions = sessionmaker[Session]
PAGE = {"Moss-Page": "page1"}
LEFT = {"kind": "box", "points": [[0.05, 0.1], [0.45, 0.95]]}


@pytest.fixture
def shot(make_session: Sessions) -> Shot:
    with make_session.begin() as session:
        return lay_out(session)


def act(client: httpx.Client, shot: Shot, path: str, json: object = None, **query: object) -> httpx.Response:
    return client.post(f"/shots/{shot.id}/regions{path}", params=query, headers=PAGE, json=json)


def told(client: httpx.Client, shot: Shot, region: str, **fields: str) -> httpx.Response:
    return client.post(f"/shots/{shot.id}/regions/{region}", data=fields, headers=PAGE)


def test_the_overlay_is_a_page_with_its_count_at_the_tab(client: httpx.Client, shot: Shot) -> None:
    assert "<span>regions</span> <b>" not in client.get(f"/shots/{shot.id}/regions").text
    act(client, shot, "", LEFT)
    page = client.get(f"/shots/{shot.id}/regions").text
    assert "<span>regions</span> <b>1</b>" in page and 'data-layout="two side by side"' in page


def test_a_region_is_laid_worded_moved_ordered_and_taken_off(client: httpx.Client, shot: Shot) -> None:
    one = act(client, shot, "", LEFT).json()["chosen"]
    state = told(client, shot, one, words="a girl with a gramophone", strength="0.5").json()
    [region] = state["regions"]
    assert (region["words"], region["strength"], region["letter"]) == ("a girl with a gramophone", 0.5, "A")
    assert region["unknown"] == ["gramophone"]
    other = act(client, shot, f"/{one}/copy").json()["chosen"]
    assert [r["id"] for r in act(client, shot, f"/{other}/order", by=-1).json()["regions"]] == [other, one]
    assert act(client, shot, f"/{one}/move", x0=0.5, y0=0.1, x1=0.9, y1=0.9).status_code == 200
    assert [r["id"] for r in act(client, shot, f"/{other}/off").json()["regions"]] == [one]


def test_bad_input_is_told_and_changes_nothing(client: httpx.Client, shot: Shot) -> None:
    one = act(client, shot, "", LEFT).json()["chosen"]
    before = client.get(f"/shots/{shot.id}/regions.json").json()["regions"]
    for answer in (
        told(client, shot, one, strength="7"),
        told(client, shot, one, overlap="above"),
        told(client, shot, "nobody", words="a girl"),
        act(client, shot, f"/{one}/move", x0=1.5, y0=1.5, x1=1.6, y1=1.6),
        act(client, shot, "/layout", name="seven at once"),
    ):
        assert answer.status_code == 422 and answer.json()["problem"].endswith(".")
    assert client.get(f"/shots/{shot.id}/regions.json").json()["regions"] == before


def test_the_plan_is_told_before_the_run_and_while_a_region_is_dragged(client: httpx.Client, shot: Shot) -> None:
    one = act(client, shot, "/layout", name="two side by side").json()["regions"]
    told(client, shot, one[0]["id"], words="a girl")
    told(client, shot, one[1]["id"], words="an old man")
    plan = act(client, shot, "/plan", {"dragged": None, "view": None}).json()
    assert [p["subject"] for p in plan["people"]] == ["girl", "old man"] and plan["overlaps"] == []
    dragged = {"dragged": {one[1]["id"]: [0.2, 0.1, 0.7, 0.95]}, "view": plan["view"]}
    moved = act(client, shot, "/plan", dragged).json()
    assert moved["view"] == plan["view"] and moved["overlaps"][0]["share"] > 0.3
    assert client.get(f"/shots/{shot.id}/regions.json").json()["regions"][1]["mask"] == one[1]["mask"]


def test_references_act_in_a_region_and_are_weighed_off(client: httpx.Client, make_session: Sessions, shot: Shot) -> None:
    one = act(client, shot, "", LEFT).json()["chosen"]
    with make_session.begin() as session:
        picture = pictures.store(session, PICTURE, "her", "upload").sha256
    [cue] = act(client, shot, f"/{one}/cues", picture=picture, role="face").json()["regions"][0]["cues"]
    assert cue["role"] == "face"
    assert act(client, shot, f"/{one}/cues/{cue['id']}", weight=0).json()["regions"][0]["cues"] == []


def test_what_a_region_did_is_asked_for_of_a_take_that_has_it(client: httpx.Client, shot: Shot) -> None:
    assert client.post("/takes/99/influence/0", headers=PAGE).status_code == 404
    assert client.get("/takes/99/influence/0.json").json() == {}
    assert client.get("/takes/99/influence/0.png").status_code == 404


def test_a_layout_of_ones_own_is_kept_and_taken_away_with_a_way_back(client: httpx.Client, shot: Shot) -> None:
    keep = f"/shots/{shot.id}/layouts"
    assert client.post(keep, data={"name": "quay"}, headers=PAGE).json()["problem"].startswith("There are no regions")
    act(client, shot, "", LEFT)
    one = client.post(keep, data={"name": "quay"}, headers=PAGE).json()["layout"]
    page = f"/shots/{shot.id}/regions"
    assert "Layout of your own: quay" in client.get(page).text
    client.post(f"/layouts/{one}/out", headers=PAGE)
    assert "Layout of your own: quay" not in client.get(page).text
    client.post(f"/layouts/{one}/out", params={"back": True}, headers=PAGE)
    assert "Layout of your own: quay" in client.get(page).text
    assert client.post("/layouts/999/out", headers=PAGE).status_code == 404


def test_undo_walks_over_regions(client: httpx.Client, make_session: Sessions, shot: Shot) -> None:
    act(client, shot, "", LEFT)
    client.post(f"/shots/{shot.id}/undo", headers=PAGE)
    with make_session() as session:
        assert regions.of_shot(session, shot.id).regions == []

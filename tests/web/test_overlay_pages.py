"""The overlays over HTTP: pages, acts, and the live picture in a real room."""

import json
import os
import signal
from urllib.parse import unquote

import httpx
import numpy as np
import pytest
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.pictures.decode import decode, encode_png
from mosskeeper.formats.png import pictures_of, recipe_of
from mosskeeper.studio import drafts, following, library, maps, pictures, readings, shots, stages
from mosskeeper.studio.models import Shot
from tests.conftest import lay_out, wait_for
from tests.processes import rooms_of

Sessions = sessionmaker[Session]
SIZE = (512, 640)
PAGE = {"Moss-Page": "page1"}


@pytest.fixture
def shot(make_session: Sessions) -> Shot:
    with make_session.begin() as session:
        return lay_out(session)


def board(y: int = 380) -> np.ndarray:
    out = np.zeros((SIZE[1], SIZE[0], 4), np.uint8)
    out[:y] = (150, 200, 230, 255)
    out[y:] = (130, 160, 80, 255)
    return out


def keep(
    client: httpx.Client, shot: Shot, painted: np.ndarray, base: str = "", document: str = '{"pieces": []}', **query: str
) -> httpx.Response:
    files = {"picture": ("board.png", encode_png(painted), "image/png")}
    return client.post(f"/shots/{shot.id}/board", params=query | {"base": base}, data={"document": document}, files=files, headers=PAGE)


def follow(
    client: httpx.Client, shot: Shot, painted: np.ndarray, x: int = 0, y: int = 0, page: str = "page1", **query: object
) -> httpx.Response:
    h, w = painted.shape[:2]
    where = {"width": SIZE[0], "height": SIZE[1], "x": x, "y": y, "w": w, "h": h, "seed": 3, **query}
    return client.post(f"/shots/{shot.id}/follow", params=where, content=painted.tobytes(), headers={"Moss-Page": page}, timeout=120)


def test_the_overlays_are_pages_with_an_address(client: httpx.Client, shot: Shot) -> None:
    for path in ("sketch", "pose", "stages", "poses/book", "poses.json", "board.json"):
        assert client.get(f"/shots/{shot.id}/{path}").status_code == 200, path
    assert client.get("/shots/999999/sketch").status_code == 404
    assert 'href="/shots/' in client.get(f"/shots/{shot.id}").text.split('class="index-tabs"')[1][:400]


def test_an_act_is_kept_and_another_tab_is_told(client: httpx.Client, shot: Shot) -> None:
    first = keep(client, shot, board()).json()
    assert first["cue"]
    assert f"cue-{first['cue']}-weight" in first["fields"]
    late = keep(client, shot, board(300))
    assert late.status_code == 409
    assert late.json()["moved"]
    assert keep(client, shot, board(300), over="true").status_code == 200
    undone = client.post(f"/shots/{shot.id}/undo", headers=PAGE)
    assert undone.status_code == 200
    assert client.get(f"/shots/{shot.id}/board.json").json()["picture"] == first["picture"]


def test_a_board_that_cannot_be_kept_is_told_and_changes_nothing(client: httpx.Client, shot: Shot) -> None:
    before = client.get(f"/shots/{shot.id}/board.json").json()
    many = json.dumps({"pieces": [{"kind": "stroke", "colour": "000000", "points": [1, 1, 1]}] * 10_000})
    for answer in (
        keep(client, shot, board()[:100]),
        keep(client, shot, board(), document="{"),
        keep(client, shot, board(), document=many),
        client.post(f"/shots/{shot.id}/board", data={"document": "{}"}, files={"picture": ("x.png", b"nothing", "image/png")}),
    ):
        assert answer.status_code == 422
        assert answer.json()["problem"].endswith(".")
    assert client.get(f"/shots/{shot.id}/board.json").json() == before


@pytest.mark.statistics
def test_a_picture_of_fifty_megapixels_is_told(client: httpx.Client, shot: Shot) -> None:
    large = encode_png(np.zeros((6300, 8000, 3), np.uint8), 1)
    answer = client.post(f"/shots/{shot.id}/board/pictures", files={"picture": ("large.png", large, "image/png")}, timeout=60)
    assert answer.status_code == 422
    assert "megapixels" in answer.json()["problem"]


def test_poses_are_kept_fetched_and_taken_along(client: httpx.Client, shot: Shot) -> None:
    figures = client.post(f"/shots/{shot.id}/poses/fit", json={"wanted": {"book": "leaping"}}).json()["figures"]
    base = client.get(f"/shots/{shot.id}/poses.json").json()["base"]
    kept = client.post(f"/shots/{shot.id}/poses", params={"base": base}, json=figures).json()
    assert [f["figure"] for f in kept["figures"]] == [0]
    assert client.post(f"/shots/{shot.id}/poses", params={"base": base}, json=figures).status_code == 409
    taken = client.get(f"/shots/{shot.id}/poses.coco.json").text
    again = client.post(f"/shots/{shot.id}/poses/fit", json={"wanted": {"keypoints": taken}}).json()["figures"]
    assert len(again) == 1
    crowd = json.dumps([json.loads(taken)["annotations"][0]] * 30)
    assert len(client.post(f"/shots/{shot.id}/poses/fit", json={"wanted": {"keypoints": crowd}}).json()["figures"]) == 4
    for broken in ("{", "[]", '[{"keypoints": [1, 2]}]'):
        answer = client.post(f"/shots/{shot.id}/poses/fit", json={"wanted": {"keypoints": broken}})
        assert answer.status_code == 422
        assert answer.json()["problem"].endswith(".")


def test_pictures_of_the_library_lend_their_poses(client: httpx.Client, shot: Shot, make_session: Sessions) -> None:
    at = f"/shots/{shot.id}/poses/library"
    assert "Nothing of this" in client.get(at, params={"find": "lantern"}).text
    with make_session.begin() as session:
        sha256 = pictures.store(session, np.full((64, 64, 3), 90, np.uint8), "lantern", "upload").sha256
        library.add(session, sha256, "upload", "a lantern bearer", shot.story_id)
    assert f'data-from="{sha256}"' in client.get(at, params={"find": "lantern"}).text
    assert sha256 not in client.get(at, params={"find": "teapot"}).text


def test_a_place_is_laid_under_the_board_by_its_name(client: httpx.Client, shot: Shot, make_session: Sessions) -> None:
    with make_session.begin() as session:
        drafts.edit(session, shot.id, lambda now: now.model_copy(update={"words": "a girl in the bell tower, waving"}))
    at = f"/shots/{shot.id}/board/place"
    assert client.post(at, params={"name": "kitchen"}, headers=PAGE).json()["fields"]["words"] == ["a girl in the kitchen, waving"]
    assert "no place" in client.post(at, params={"name": "moon base"}, headers=PAGE).json()["problem"]


def test_a_surface_is_a_style_of_the_shot_and_one_step_of_its_history(client: httpx.Client, shot: Shot, make_session: Sessions) -> None:
    at = f"/shots/{shot.id}/board/surface"
    told = client.post(at, params={"name": "felt collage"}, headers=PAGE).json()
    assert (told["surface"], told["undoes"]) == ("felt collage", "styles")
    with make_session() as session:
        assert drafts.of_shot(shots.find(session, shot.id)).styles == ["felt collage"]
    assert "<option selected>felt collage</option>" in client.get(f"/shots/{shot.id}/sketch").text
    assert "no surface" in client.post(at, params={"name": "marzipan"}, headers=PAGE).json()["problem"]
    client.post(f"/shots/{shot.id}/undo", headers=PAGE)
    assert client.get(f"/shots/{shot.id}/board.json").json()["surface"] == ""


def test_a_row_of_poses_is_priced_and_run(client: httpx.Client, shot: Shot) -> None:
    names = ["leaping", "sitting", "waving"]
    priced = client.post(f"/shots/{shot.id}/poses/run", params={"dry": "true"}, json=names).json()
    assert priced["sparks"] > 0
    assert client.post(f"/shots/{shot.id}/poses/run", json=["leaping"]).status_code == 422
    address = client.post(f"/shots/{shot.id}/poses/run", json=names).json()["address"]
    assert "leaping" in client.get(address).text


def test_the_sweeps_own_form_offers_the_poses_too(client: httpx.Client, shot: Shot) -> None:
    page = client.get(f"/shots/{shot.id}/sweep", params={"first": "pose"}).text
    assert 'name="first-values" value="leaping"' in page
    assert 'name="first-values" value="built-in"' not in page
    assert '<option value="pose" selected>' not in client.get(f"/shots/{shot.id}/sweep").text  # no dial to begin with


def test_the_picture_follows_and_a_room_that_died_is_begun_anew(client: httpx.Client, shot: Shot, make_session: Sessions) -> None:
    assert follow(client, shot, board()[:64, :64]).status_code == 409  # a part of a board that nobody knows
    whole = follow(client, shot, board())
    assert whole.status_code == 200
    assert decode(whole.content).rgb_u8.shape == (320, 256, 3)
    told = json.loads(unquote(whole.headers["Moss-Told"]))
    assert any("ground" in one["words"] for one in told)
    part = follow(client, shot, np.full((60, 60, 4), (250, 220, 110, 255), np.uint8), 60, 60)
    assert part.status_code == 200
    assert part.content != whole.content

    keep(client, shot, board())
    assert client.post(f"/shots/{shot.id}/stages", params={"seed": 3}, headers=PAGE, timeout=60).json() == {"kept": True}
    with make_session() as session:
        stage = stages.of_shot(session, shot.id)[0]
        lent = readings.of_picture(session, stage.picture_sha256).contents
        assert lent is not None and lent.origin == "scene"  # a stage lends the scene that it was drawn from
    carried = client.get(f"/stages/{stage.id}/download").content
    recipe = recipe_of(carried)
    assert recipe is not None
    assert recipe.seed == 3
    assert set(pictures_of(carried)) == {recipe.cues[0].picture}

    figures = client.post(f"/shots/{shot.id}/poses/fit", json={"wanted": {"book": "leaping"}}).json()["figures"]
    posed = client.post(f"/shots/{shot.id}/follow/poses", params={"seed": 3}, json=figures, headers=PAGE, timeout=60)
    assert posed.status_code == 200

    rooms = rooms_of(os.getpid())
    assert rooms
    for room in rooms:
        os.kill(room, signal.SIGKILL)
    wait_for(lambda: follow(client, shot, board()[:8, :8]).status_code == 409)
    assert follow(client, shot, board()).content == whole.content  # nothing of the board is lost


@pytest.mark.statistics
def test_where_no_room_is_free_it_is_told_and_leaving_makes_room(client: httpx.Client, shot: Shot, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("mosskeeper.live_picture.pool._RESTS", 600.0)  # nobody rests, however slow this machine is
    for page in ("one", "two"):
        assert follow(client, shot, board(), page=page).status_code == 200
    full = follow(client, shot, board(), page="three")
    assert full.status_code == 503
    assert "rooms are taken" in full.json()["problem"]
    client.post(f"/shots/{shot.id}/follow/leave", params={"page": "one"})
    assert follow(client, shot, board(), page="three").status_code == 200


@pytest.mark.statistics
def test_without_a_room_a_worker_makes_the_picture_of_what_is_kept(client: httpx.Client, shot: Shot, make_session: Sessions) -> None:
    at = f"/shots/{shot.id}/follow/queued"
    assert client.get(f"{at}.json", params={"seed": 3}).json()["of"] == ""
    assert client.get(f"{at}.png", params={"seed": 3}).status_code == 404
    cue = keep(client, shot, board()).json()["cue"]
    assert client.post(at, params={"seed": 3}, headers=PAGE).status_code == 202
    with make_session.begin() as session:
        maps.make(session, following.key_of(shot.id, 3))
    assert client.post(at, params={"seed": 3}, headers=PAGE).status_code == 204
    state = client.get(f"{at}.json", params={"seed": 3}).json()
    assert state["now"] and any(t["kind"] == "sky" for t in state["told"])
    made = decode(client.get(f"{at}.png", params={"seed": 3}).content).rgb_u8
    live = decode(follow(client, shot, board(), cue=cue).content).rgb_u8  # the same picture, as a room has it
    assert made.shape == live.shape and np.abs(made.astype(int) - live).mean() < 3
    keep(client, shot, board(300), base=state_of(client, shot)["picture"], cue=cue)
    assert not client.get(f"{at}.json", params={"seed": 3}).json()["now"]


def state_of(client: httpx.Client, shot: Shot) -> dict:  # type: ignore[type-arg]
    return client.get(f"/shots/{shot.id}/board.json").json()  # type: ignore[no-any-return]


def test_what_comes_incomplete_is_refused(client: httpx.Client, shot: Shot) -> None:
    where = {"width": SIZE[0], "height": SIZE[1], "x": 0, "y": 0, "w": 10, "h": 10}
    assert client.post(f"/shots/{shot.id}/follow", params=where, content=b"123", headers=PAGE).status_code == 422
    assert client.post(f"/shots/{shot.id}/follow", params={**where, "x": 510}, content=bytes(400), headers=PAGE).status_code == 422

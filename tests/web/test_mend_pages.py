"""The mends overlay over HTTP: what is asked, what is refused and kept, what two tabs are told."""

import httpx
import numpy as np
import pytest
from bench.mends import worked
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.pictures.decode import encode_png
from mosskeeper.core.recipe import Cue
from mosskeeper.studio import choosing, drafts, maps, pictures, runs, shots, stacks
from mosskeeper.studio.models import Run, Shot
from tests.conftest import lay_out
from tests.studio.test_mends import PICTURE, based, run_of

Sessions = sessionmaker[Session]
PAGE = {"Moss-Page": "page1"}


@pytest.fixture
def laid(make_session: Sessions) -> tuple[Shot, str]:
    with make_session.begin() as session:
        return based(session)


def act(client: httpx.Client, path: str, **query: object) -> httpx.Response:
    return client.post(path, params=query, headers=PAGE)


def begun(client: httpx.Client, laid: tuple[Shot, str]) -> dict:  # type: ignore[type-arg]
    shot, base = laid
    return act(client, f"/shots/{shot.id}/mends", base=base).json()  # type: ignore[no-any-return]


def of(state: dict, rest: str = "") -> str:  # type: ignore[type-arg]
    return f"/stacks/{state['stack']}/mends/{state['mend']}{rest}"


def painted(client: httpx.Client, state: dict, mask: np.ndarray, base: str = "", over: bool = False) -> httpx.Response:  # type: ignore[type-arg]
    drawn = np.repeat((mask * 255).astype(np.uint8)[..., None], 3, 2)
    return client.post(of(state, "/mask"), params={"over": over, "base": base}, files={"mask": ("m.png", encode_png(drawn))}, headers=PAGE)


def test_the_overlay_is_a_page_and_looking_lays_nothing(client: httpx.Client, make_session: Sessions, laid: tuple[Shot, str]) -> None:
    shot, base = laid
    assert "Nothing to mend yet" in client.get(f"/shots/{shot.id}/mends").text
    page = client.get(f"/shots/{shot.id}/mends", params={"base": base}).text
    assert "what should stand under the hatching" in page
    assert client.get(f"/shots/{shot.id}/mends", params={"base": "f" * 64}).status_code == 404
    with make_session() as session:
        assert stacks.known(session, shot.id, base) is None


def test_what_can_be_chosen_is_asked_for_and_told_with_the_characters_name(
    client: httpx.Client, laid: tuple[Shot, str], make_session: Sessions
) -> None:
    shot, base = laid
    assert client.post(f"/shots/{shot.id}/choices", params={"picture": base}).status_code == 204
    told = client.get(f"/shots/{shot.id}/choices.json", params={"picture": base}).json()
    assert "Ada Reed’s hair" in [choice["name"] for choice in told["choices"]]
    assert any(quick["key"] == "1 hat on" for quick in told["quick"])
    assert client.get(f"/pictures/{base}/maps/choices.png").status_code == 200
    with make_session.begin() as session:
        new = pictures.store(session, np.full((320, 256, 3), 90, np.uint8), "x", "upload").sha256
    assert client.post(f"/shots/{shot.id}/choices", params={"picture": new}).status_code == 202
    assert client.get(f"/shots/{shot.id}/choices.json", params={"picture": new}).json()["there"] is False


@pytest.mark.statistics
def test_a_mend_goes_from_a_press_to_an_accepted_variant(client: httpx.Client, make_session: Sessions, laid: tuple[Shot, str]) -> None:
    state = begun(client, laid)
    state = act(client, of(state, "/choose"), key="1 hair").json()
    assert "Ada Reed’s hair" in state["html"]["told"]
    state = client.post(of(state), data={"words": "silver hair", "count": "1"}, headers=PAGE).json()
    assert state["fields"]["words"] == "silver hair"
    state = act(client, of(state, "/run")).json()
    assert state["runs"]
    with make_session.begin() as session:
        run = session.get_one(Run, runs.active(session)[0].id)
        assert (run.stack_id, run.mend) == (state["stack"], state["mend"])
        (variant,) = worked(session, run)
    state = act(client, f"/stacks/{state['stack']}/variants/{variant.id}/accept").json()
    assert (state["top"], state["settled"]) == (variant.picture_sha256, True)
    assert "accepted" in state["html"]["variants"]
    take = client.post(f"/stacks/{state['stack']}/take", headers=PAGE).json()
    assert (take["fresh"], take["number"]) == (True, 1)
    file = client.get(f"/stacks/{state['stack']}/download.png")
    assert (file.status_code, client.get(f"/stacks/{state['stack']}/download.ora").headers["content-type"]) == (200, "image/openraster")
    with make_session.begin() as session:
        other = lay_out(session)
    brought = client.post(f"/shots/{other.id}/mends/pictures", files={"picture": ("mended.png", file.content)}, headers=PAGE).json()
    there = client.get(f"/shots/{other.id}/mends.json", params={"base": brought["base"]}).json()
    assert there["top"] == state["top"]


@pytest.mark.statistics
def test_another_tabs_mask_is_not_painted_over(client: httpx.Client, laid: tuple[Shot, str]) -> None:
    state = begun(client, laid)
    mask = np.zeros((320, 256), bool)
    mask[20:80, 40:90] = True
    first = painted(client, state, mask).json()
    clash = painted(client, state, ~mask)
    assert (clash.status_code, clash.json()["moved"]) == (409, True)
    assert client.get(f"/shots/{laid[0].id}/mends.json", params={"base": laid[1]}).json()["mask"] == first["mask"]
    assert painted(client, state, ~mask, over=True).status_code == 200


@pytest.mark.statistics
@pytest.mark.parametrize("mask", [np.zeros((320, 256), bool), np.ones((320, 256), bool), np.eye(320, 256, dtype=bool)])
def test_masks_of_nothing_all_and_a_hair_are_taken_and_told(client: httpx.Client, laid: tuple[Shot, str], mask: np.ndarray) -> None:
    state = painted(client, begun(client, laid), mask).json()
    told = "nothing is chosen" if not mask.any() else "all of the picture" if mask.all() else "room for something"
    assert told in state["html"]["told"]
    refused = act(client, of(state, "/run"))
    assert refused.status_code == (200 if mask.any() else 422)


def test_bad_input_is_told_and_nothing_is_changed(client: httpx.Client, laid: tuple[Shot, str]) -> None:
    state = begun(client, laid)
    assert "Reload the page" in painted(client, state, np.ones((10, 10), bool)).json()["problem"]
    damaged = client.post(of(state, "/mask"), files={"mask": ("m.png", b"no picture")}, headers=PAGE)
    assert (damaged.status_code, "not a PNG" in damaged.json()["problem"]) == (422, True)
    gone = act(client, f"/stacks/{state['stack']}/mends/nobody/run")
    assert (gone.status_code, "taken off" in gone.json()["problem"]) == (422, True)
    assert "Nothing is chosen" in act(client, of(state, "/run")).json()["problem"]
    assert "does not exist" in act(client, of(state, "/cues"), picture="e" * 64, role="face").json()["problem"]
    brought = client.post(f"/shots/{laid[0].id}/mends/pictures", files={"picture": ("x.txt", b"words")}, headers=PAGE)
    assert (brought.status_code, "not a PNG" in brought.json()["problem"]) == (422, True)
    after = client.get(f"/shots/{laid[0].id}/mends.json", params={"base": laid[1]}).json()
    assert (after["number"], after["mask"]) == (state["number"], "")


def test_words_are_taken_away_again_and_values_that_cannot_be_are_told(client: httpx.Client, laid: tuple[Shot, str]) -> None:
    state = begun(client, laid)
    client.post(of(state), data={"words": "a hat", "strength": "0.4"}, headers=PAGE)
    state = client.post(of(state), data={"words": ""}, headers=PAGE).json()
    assert (state["fields"]["words"], state["fields"]["strength"]) == ("", 0.4)
    for wrong in ({"strength": "2"}, {"count": "many"}, {"wider": "1 2"}, {"feather": "nan"}):
        refused = client.post(of(state), data=wrong, headers=PAGE)
        assert (refused.status_code, refused.json()["problem"][-1:]) == (422, "."), wrong
    assert act(client, f"/stacks/{state['stack']}/walk", back=True).json()["fields"]["words"] == "a hat"


def test_words_that_are_not_known_are_told(client: httpx.Client, laid: tuple[Shot, str]) -> None:
    state = begun(client, laid)
    state = client.post(of(state), data={"words": "a zorbulator"}, headers=PAGE).json()
    assert "“zorbulator”: unknown" in state["html"]["told"]


def test_references_act_in_a_mend_are_weighed_and_taken_off(client: httpx.Client, make_session: Sessions, laid: tuple[Shot, str]) -> None:
    state = begun(client, laid)
    with make_session.begin() as session:
        other = pictures.store(session, PICTURE[:, ::-1].copy(), "another", "upload").sha256
    state = act(client, of(state, "/cues"), picture=other, role="outfit").json()
    assert "outfit" in state["html"]["cues"]
    with make_session() as session:
        (cue,) = stacks.stack_of(session, stacks.find(session, state["stack"])).mends[0].cues
    act(client, of(state, f"/cues/{cue.id}"), weight=0.3)
    with make_session() as session:
        assert stacks.stack_of(session, stacks.find(session, state["stack"])).mends[0].cues[0].weight == 0.3
    state = act(client, of(state, f"/cues/{cue.id}"), weight=0).json()
    assert "data-cue" not in state["html"]["cues"]


def test_a_pose_of_the_cue_sheet_acts_in_a_mend_as_it_stands_there(
    client: httpx.Client, make_session: Sessions, laid: tuple[Shot, str]
) -> None:
    shot, _ = laid
    joints = [(0.5, 0.1 + 0.04 * k) for k in range(18)]
    with make_session.begin() as session:
        draft = drafts.of_shot(shots.find(session, shot.id))
        cued = draft.model_copy(update={"cues": [Cue(id="abc", role="pose", skeleton=joints, weight=0.7)]})
        drafts.save(session, shot.id, draft, cued)
    state = begun(client, laid)
    assert "the shot’s pose" in state["html"]["cues"]
    act(client, of(state, "/of-shot/abc"))
    with make_session() as session:
        (cue,) = stacks.stack_of(session, stacks.find(session, state["stack"])).mends[0].cues
        assert (cue.role, cue.weight, cue.skeleton) == ("pose", 0.7, joints)
    assert act(client, of(state, "/of-shot/gone")).status_code == 422


def test_a_canvas_of_joined_pictures_is_asked_for_with_what_of_each_stays(
    client: httpx.Client, make_session: Sessions, laid: tuple[Shot, str]
) -> None:
    shot, base = laid
    path = f"/shots/{shot.id}/mends/join"
    assert act(client, path, first=base, other=[base, base], theirs=["figures", "all"]).status_code == 202
    assert act(client, path, first=base, other=[base], stays="chosen").json()["problem"].startswith("Nothing is hatched yet")
    state = begun(client, laid)
    act(client, of(state, "/choose"), key="1 hair")
    client.post(of(state, "/kept"), data={"name": "her hair"}, headers=PAGE)
    with make_session() as session:
        assert stacks.kept_names(session, shot.id) == {base: ["her hair"]}
    assert act(client, path, first=base, other=[base], stays="chosen", theirs=["kept her hair"], mend=state["mend"]).status_code == 202
    assert "not kept" in act(client, path, first=base, other=[base], theirs=["kept her hat"]).json()["problem"]
    assert act(client, path, first=base, other=[base] * 4).status_code == 404  # the page tells before that four are too many
    assert act(client, path, first=base, other=["0" * 64]).status_code == 404


@pytest.mark.statistics
def test_hiding_ordering_taking_off_and_undo_go_through_one_history(
    client: httpx.Client, make_session: Sessions, laid: tuple[Shot, str]
) -> None:
    state = begun(client, laid)
    first = act(client, of(state, "/choose"), key="1 hair").json()
    client.post(of(first), data={"words": "silver hair", "count": "1"}, headers=PAGE)
    with make_session.begin() as session:
        (variant,) = run_of(session, first["stack"], first["mend"])
    act(client, f"/stacks/{first['stack']}/variants/{variant.id}/accept")
    second = begun(client, laid)
    assert act(client, of(second, "/order"), by=-1).json()["html"]["stack"].index(second["mend"]) > 0
    hidden = act(client, of(first, "/shown"), shown=False).json()
    assert (hidden["top"], "hidden" in hidden["html"]["stack"]) == (laid[1], True)
    off = act(client, of(first, "/off")).json()
    assert first["mend"] not in off["html"]["stack"]
    for _ in range(2):
        off = act(client, f"/stacks/{first['stack']}/walk", back=True, mend=first["mend"]).json()
    assert (off["top"], off["redoes"]) == (variant.picture_sha256, True)


def test_a_mend_is_counted_at_its_tab(client: httpx.Client, make_session: Sessions, laid: tuple[Shot, str]) -> None:
    shot, base = laid
    begun(client, laid)
    with make_session.begin() as session:
        maps.make(session, choosing.key_of(base))
    assert "<b>1</b>" in client.get(f"/shots/{shot.id}/mends", params={"base": base}).text.split('class="index-tabs"')[1][:700]

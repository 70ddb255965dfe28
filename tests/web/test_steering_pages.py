"""The pages by which an artist steers: cues, words, presets, history, characters, library, ledger, sweeps, comparing."""

import re

import httpx
import numpy as np
import pytest
from sqlalchemy import text
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.pictures.decode import decode, encode_png
from mosskeeper.core.recipe import Cue
from mosskeeper.core.sweep import Dial
from mosskeeper.studio import cast, drafts, library, maps, measures, presets, runs, shots, takes, working
from mosskeeper.studio.models import Run, Shot
from tests.conftest import SMALL, lay_out
from tests.web.form import table_fields

HTMX = {"HX-Request": "true"}
IMAGE = np.random.default_rng(4).integers(0, 255, (40, 32, 3), np.uint8)
Sessions = sessionmaker[Session]


@pytest.fixture
def shot(make_session: Sessions) -> Shot:
    """A shot with two takes, the first of them the lead anchor."""
    with make_session.begin() as session:
        made = lay_out(session)
        run = runs.create(session, made, SMALL)
        working.begin(session, run.id, "test")
        for place, seed in enumerate(run.seeds):
            working.store_take(session, run.id, place, seed, IMAGE + place, 1.0)
        working.end(session, run, "done")
        cast.make_anchor(session, takes.find(session, run.takes[0].id), lead=True)
        for take in takes.of_shot(session, made.id):  # as a worker does
            measures.of_take(session, take)
        return shots.find(session, made.id)


@pytest.fixture
def names(make_session: Sessions, shot: Shot) -> list[str]:
    """The pictures of the two takes."""
    with make_session() as session:
        return [take.picture_sha256 for take in reversed(takes.of_shot(session, shot.id))]


def draft(make_session: Sessions, shot: Shot) -> dict:
    with make_session() as session:
        return shots.find(session, shot.id).draft


def last_run(make_session: Sessions, shot: Shot) -> Run:
    with make_session() as session:
        return runs.find(session, runs.of_shot(session, shot.id)[0].id)


def fields(client: httpx.Client, shot: Shot, **changes: object) -> dict[str, object]:
    revision = re.search(r'name="revision" value="(\d+)"', client.get(f"/shots/{shot.id}").text)
    assert revision
    return table_fields(revision=revision[1]) | changes


def test_emphasis_and_balance_are_saved_and_shown(client: httpx.Client, shot: Shot, make_session: Sessions) -> None:
    sent = fields(client, shot, **{"emphasis:full figure": "1.6", "emphasis:girl": "1", "balance": "yes"})
    answer = client.post(f"/shots/{shot.id}/draft", data=sent, headers=HTMX)
    assert answer.status_code == 200
    assert draft(make_session, shot)["emphasis"] == {"full figure": 1.6}
    assert draft(make_session, shot)["balance"] is True
    assert "full figure <b>×1.6</b>" in answer.text
    wrong = client.post(f"/shots/{shot.id}/draft", data=fields(client, shot, **{"emphasis:full figure": "9"}), headers=HTMX)
    assert wrong.status_code == 422
    assert draft(make_session, shot)["emphasis"] == {"full figure": 1.6}


def test_a_cue_takes_the_anchor_in_place_of_a_take_and_keeps_its_settings(
    client: httpx.Client, shot: Shot, names: list[str], make_session: Sessions
) -> None:
    with make_session.begin() as session:
        cue = Cue(id="one", picture=names[1], name="take", role="face", weight=0.7, start=10, end=90)
        drafts.edit(session, shot.id, lambda now: now.model_copy(update={"cues": [cue]}))
    assert "a subject taken from it drifts" in client.get(f"/shots/{shot.id}").text
    client.post(f"/shots/{shot.id}/cues/one/anchor", headers=HTMX)
    (kept,) = draft(make_session, shot)["cues"]
    assert kept["picture"] == names[0]
    assert (kept["role"], kept["weight"], kept["start"], kept["end"]) == ("face", 0.7, 10, 90)
    gone = client.post(f"/shots/{shot.id}/cues/two/anchor", headers=HTMX)
    assert (gone.status_code, "not on the sheet any more" in gone.text) == (422, True)


def test_solo_runs_alone_and_stays_on_the_sheet(client: httpx.Client, shot: Shot, names: list[str], make_session: Sessions) -> None:
    with make_session.begin() as session:
        cues = [Cue(id=f"c{i}", picture=name, role="palette") for i, name in enumerate(names)]
        drafts.edit(session, shot.id, lambda now: now.model_copy(update={"cues": cues}))
    client.post(f"/shots/{shot.id}/run", data=fields(client, shot, **{"cue-c1-solo": "yes"}), headers=HTMX)
    assert [c["on"] for c in last_run(make_session, shot).recipe.body["cues"]] == [False, True]
    assert [c["on"] for c in draft(make_session, shot)["cues"]] == [True, True]


def test_words_are_offered_from_a_picture_and_at_random(client: httpx.Client, shot: Shot, names: list[str]) -> None:
    varied = client.get(f"/shots/{shot.id}/words/variations", headers=HTMX).text
    assert 1 <= varied.count("data-words=") <= 4
    assert client.get(f"/shots/{shot.id}/words/fresh", headers=HTMX).text.count("data-words=") == 4
    assert "leave it" in client.get(f"/shots/{shot.id}/words/from/{names[0]}", headers=HTMX).text


def test_all_descriptions_of_a_picture_run_in_one_act(client: httpx.Client, shot: Shot, names: list[str], make_session: Sessions) -> None:
    offered = client.get(f"/shots/{shot.id}/words/from/{names[0]}", headers=HTMX).text.count("data-words=")
    client.post(f"/shots/{shot.id}/words/run-all", data={"picture": names[0]}, headers=HTMX)
    with make_session() as session:
        waiting = [run for run in runs.of_shot(session, shot.id, 10) if run.state == "waiting"]
        assert len(waiting) == offered
        assert all(run.recipe.body["count"] == 1 and run.recipe.body["words"] != SMALL.words for run in waiting)


def test_a_preset_is_saved_shown_and_taken_over_with_or_without_its_words(client: httpx.Client, shot: Shot, make_session: Sessions) -> None:
    at = f"/shots/{shot.id}/presets"
    assert "The preset&#39;s name is missing" in client.post(at, data={"preset": " "}, headers=HTMX).text
    assert "Misty" in client.post(at, data={"preset": "Misty", "whose": "character"}, headers=HTMX).text
    client.post(f"/shots/{shot.id}/draft", data=fields(client, shot, words="a boy", guidance="3", styles=["chalk"]), headers=HTMX)
    offer = client.get(f"{at}/1", headers=HTMX).text
    assert "Guidance" in offer
    assert "keep my words" in offer
    client.post(f"{at}/1", headers=HTMX)
    assert (draft(make_session, shot)["guidance"], draft(make_session, shot)["words"]) == (7, "a boy")
    client.post(f"{at}/1?words=true", headers=HTMX)
    assert draft(make_session, shot)["words"] == SMALL.words
    gone = client.post(f"{at}/1/put-away", headers=HTMX).text
    assert "Bring back" in gone
    assert "Misty</b> <em>" in client.post(f"{at}/1/put-away?back=true", headers=HTMX).text


def test_the_history_tells_what_changed_between_runs_and_puts_edits_back(client: httpx.Client, shot: Shot, make_session: Sessions) -> None:
    client.post(f"/shots/{shot.id}/run", data=fields(client, shot, guidance="3", styles=["chalk"]), headers=HTMX)
    page = client.get(f"/shots/{shot.id}/history").text
    assert "3 things changed at once" in page  # the given words, too: the first run was made without them
    assert "The first run." in page
    client.post(f"/shots/{shot.id}/history/1")
    assert (draft(make_session, shot)["guidance"], draft(make_session, shot)["styles"]) == (7, [])
    assert client.post(f"/shots/{shot.id}/history/77").status_code == 404


def test_a_character_gets_further_anchors_and_another_lead(
    client: httpx.Client, shot: Shot, names: list[str], make_session: Sessions
) -> None:
    at = f"/characters/{shot.character_id}"
    client.post(f"{at}/anchors", files={"picture": ("study.png", encode_png(IMAGE + 9), "image/png")})
    page = client.get(at).text
    assert "study" not in page  # anchors are shown by picture, not by file name
    second = re.search(r"/anchors/(\d+)/lead", page)
    assert second
    client.post(f"/anchors/{second[1]}/lead")
    with make_session() as session:
        led, other = cast.anchors(session, shot.character_id)
        assert led.id == int(second[1])
        assert other.picture_sha256 == names[0]
    client.post(f"/anchors/{second[1]}/let-go")
    with make_session() as session:
        assert [(a.picture_sha256, a.lead) for a in cast.anchors(session, shot.character_id)] == [(names[0], True)]
    broken = client.post(f"{at}/anchors", files={"picture": ("x.png", b"no picture", "image/png")})
    assert "This is not a PNG, JPEG or WebP picture." in broken.text


def test_trait_words_reach_the_shots_and_a_palette_is_corrected(client: httpx.Client, shot: Shot, make_session: Sessions) -> None:
    at = f"/characters/{shot.character_id}"
    client.post(at, data={"name": "Ada Reed", "traits": "girl, green eyes"})
    assert draft(make_session, shot)["given"].startswith("Ada Reed, girl, green eyes")
    empty = client.post(at, data={"name": "", "traits": "typed words"})
    assert "The name is missing" in empty.text
    assert "typed words" in empty.text
    client.post(f"{at}/palette", data={"eyes": "#228844", "own-eyes": "yes", "skin": "#aa8866"})
    with make_session() as session:
        assert cast.find(session, shot.character_id).palette == {"eyes": "#228844"}
    assert client.post(f"{at}/palette", data={"eyes": "green"}).status_code == 422


def test_the_library_takes_files_in_and_lists_the_broken_ones(client: httpx.Client, shot: Shot) -> None:
    files = [("pictures", (f"p{n}.png", encode_png(IMAGE + n) if n else b"broken", "image/png")) for n in range(4)]
    answer = client.post("/library", files=files, data={"story": shot.story_id, "folder": "Studies"}, headers=HTMX)
    assert "3 pictures came in, 1 did not" in answer.text
    assert "<b>p0.png</b> This is not a PNG" in answer.text
    found = client.get(f"/library?story={shot.story_id}&folder=Studies").text
    assert '">3</b> pictures' in found
    assert "Nothing here is like that" in client.get("/library?words=submarine").text
    assert "six hexadecimal digits" in client.get("/library?colour=red").text


def test_files_of_several_requests_are_counted_together(client: httpx.Client, shot: Shot) -> None:
    def send(first: int, came: int, missed: int) -> str:
        files = [("pictures", (f"p{n}.png", encode_png(IMAGE + n) if n else b"broken", "image/png")) for n in range(first, first + 3)]
        counts = {"story": shot.story_id, "came": came, "missed": missed, "of": 6}
        return client.post("/library", files=files, data=counts, headers=HTMX).text

    first, second = send(0, 0, 0), send(3, 2, 1)
    assert "2 of 6 pictures came in, 1 did not" in first
    assert '<progress max="6" value="3"' in first
    assert "5 pictures came in, 1 did not" in second
    assert "<progress" not in second


@pytest.mark.parametrize("at", [0, 1])
def test_every_page_of_the_library_has_a_place_for_what_comes_in(client: httpx.Client, shot: Shot, at: int) -> None:
    whole, further = client.get(f"/library?at={at}").text, client.get("/library?at=1", headers=HTMX).text
    assert whole.count('id="newest"') == 1
    assert 'id="newest"' not in further


def test_a_thumbnail_is_the_same_each_time_and_an_unknown_one_is_told(client: httpx.Client, names: list[str]) -> None:
    first, again = (client.get(f"/pictures/{names[0]}/thumbnail.jpg") for _ in range(2))
    assert first.content == again.content
    assert first.content[:2] == b"\xff\xd8"
    assert "immutable" in again.headers["cache-control"]
    assert client.get(f"/pictures/{'0' * 64}/thumbnail.jpg").status_code == 404


def test_a_picture_that_shots_use_is_asked_about_before_it_leaves_the_library(client: httpx.Client, shot: Shot, names: list[str]) -> None:
    client.post(f"/shots/{shot.id}/cues/{names[0]}", headers=HTMX)
    page = client.get("/library?words=first")
    entry = re.findall(r"entry=(\d+)", page.text)[-1]
    chosen = client.get(f"/library?entry={entry}").text
    assert "used by" in chosen
    asked = client.post(f"/library/{entry}/remove", headers=HTMX)
    assert "1 shot uses this picture" in asked.text
    gone = client.post(f"/library/{entry}/remove", data={"sure": "true"}, headers=HTMX)
    assert gone.headers["hx-redirect"].startswith("/library")
    assert '">1</b> picture' in client.get("/library?removed=true").text
    client.post(f"/library/{entry}/bring-back")
    assert '">2</b> pictures' in client.get("/library").text


def test_a_sweep_is_one_run_and_its_page_shows_every_cell(client: httpx.Client, shot: Shot, make_session: Sessions) -> None:
    form = {"first": "guidance", "first-from": "2", "first-to": "8", "first-count": "3", "second": "style", "second-values": ["", "chalk"]}
    assert "6</b> takes in one run" in client.post(f"/shots/{shot.id}/sweep/price", data=form, headers=HTMX).text
    answer = client.post(f"/shots/{shot.id}/sweep", data=form, headers=HTMX)
    page = client.get(answer.headers["hx-redirect"]).text
    assert len(last_run(make_session, shot).seeds) == 6
    assert page.count("<td>") == 6
    assert "no style" in page
    one = client.post(f"/shots/{shot.id}/sweep", data={**form, "second-values": ["chalk"]}, headers=HTMX)
    assert (one.status_code, "Tick at least two" in one.text) == (422, True)
    assert client.get(f"/sweeps/{runs_before(make_session, shot)}").status_code == 404  # a run without dials


def runs_before(make_session: Sessions, shot: Shot) -> int:
    with make_session() as session:
        return runs.of_shot(session, shot.id, 10)[-1].id


def test_the_same_recipe_over_several_engines_is_one_act(client: httpx.Client, shot: Shot, make_session: Sessions) -> None:
    client.post(f"/shots/{shot.id}/sweep", data={"first": "engine", "first-values": ["sketcher", "built-in", "fine"]}, headers=HTMX)
    with make_session() as session:
        run = runs.of_shot(session, shot.id)[0]
        assert [runs.recipe_of_place(run, k).engine for k in range(3)] == ["sketcher", "built-in", "fine"]
        assert runs.dials_of(run) == [Dial(name="engine", values=("sketcher", "built-in", "fine"))]


def test_comparing_measures_to_the_first_and_shows_the_difference_once_it_is_drawn(
    client: httpx.Client, names: list[str], make_session: Sessions
) -> None:
    at = f"/compare?p={names[0]}&p={names[1]}"
    assert "being measured" in client.get(at).text
    assert client.get(f"/compare/{names[0]}/{names[1]}/difference.png").status_code == 404
    assert client.post(f"/compare/{names[0]}/{names[1]}").status_code == 204
    with make_session.begin() as session:
        assert jobs(session, "make map") == [{"key": maps.of_difference(*names)}]
        maps.make(session, maps.of_difference(*names))
        maps.make(session, maps.of_difference(names[0], names[0]))
    for way in ("side", "swipe", "blink", "difference", "heads"):
        page = client.get(f"{at}&way={way}")
        assert page.status_code == 200, way
        assert "of pixels differ" in page.text, way
        assert "being measured" not in page.text, way
    same = decode(client.get(f"/compare/{names[0]}/{names[0]}/difference.png").content).rgb_u8
    assert np.ptp(same) <= 12 and same.mean() > 235  # paper
    assert "Hold two to four pictures" in client.get(f"/compare?p={names[0]}").text


def jobs(session: Session, task: str) -> list[dict[str, object]]:
    query = text("select args from procrastinate_jobs where task_name = :task order by id")
    return list(session.scalars(query, {"task": task}))


def test_changed_anchors_let_the_drift_be_measured_anew(client: httpx.Client, shot: Shot, names: list[str], make_session: Sessions) -> None:
    with make_session() as session:
        second = takes.of_shot(session, shot.id)[0].id
    client.post(f"/takes/{second}/further-anchor")
    client.post(f"/takes/{second}/anchor", headers=HTMX)
    with make_session() as session:
        assert jobs(session, "measure character") == [{"character_id": shot.character_id}]  # one waits, however many ask


def test_the_allowance_warns_and_is_set_off(client: httpx.Client, shot: Shot, make_session: Sessions) -> None:
    at = f"/stories/{shot.story_id}"
    assert "sparks today" in client.get(f"{at}/ledger").text
    assert "a number of sparks" in client.post(f"{at}/allowance", data={"allowance": "much"}).text
    client.post(f"{at}/allowance", data={"allowance": "0,5"})
    assert "goes over its 0.5 sparks of today" in client.get(f"/shots/{shot.id}").text
    answer = client.post(f"/shots/{shot.id}/run", data=fields(client, shot), headers=HTMX)
    assert answer.status_code == 200  # it warns, and runs all the same
    client.post(f"{at}/allowance", data={"allowance": ""})
    assert "goes over" not in client.get(f"/shots/{shot.id}").text


def test_an_engine_that_is_away_keeps_its_name_and_every_setting_stays(client: httpx.Client, shot: Shot, make_session: Sessions) -> None:
    answer = client.post(f"/shots/{shot.id}/draft", data=fields(client, shot, engine="gone", guidance="3", styles=["chalk"]), headers=HTMX)
    assert answer.status_code == 200
    page = client.get(f"/shots/{shot.id}").text
    assert '<option value="gone" selected>gone (away)</option>' in page
    refused = client.post(f"/shots/{shot.id}/run", data={"revision": 2}, headers=HTMX)
    assert (refused.status_code, "is away. Connect it again, or choose one of" in refused.text) == (422, True)
    client.post(f"/shots/{shot.id}/draft", data={"revision": 2, "engine": "fine"}, headers=HTMX)
    kept = draft(make_session, shot)
    assert (kept["engine"], kept["guidance"], kept["styles"], kept["steps"]) == ("fine", 3, ["chalk"], 6)
    page = client.get(f"/shots/{shot.id}").text
    assert "at least 32 steps: 6 act like 32" in page


def test_more_pictures_than_a_sheet_has_room_for_change_nothing_and_several_are_one_step_of_undo(
    client: httpx.Client, make_session: Sessions, shot: Shot
) -> None:
    with make_session.begin() as session:
        files = [(f"{n}.png", encode_png(IMAGE + n)) for n in range(10, 23)]
        entries = [entry.id for entry in library.upload(session, files, None)[0]]
    refused = client.post("/library/many/cue", data={"entries": entries, "shot": shot.id}, headers=HTMX)
    assert refused.status_code == 422
    assert "at most 12" in refused.text
    with make_session() as session:
        assert shots.draft(shots.find(session, shot.id)).cues == []
    assert client.post("/library/many/cue", data={"entries": entries[:2], "shot": shot.id}, headers=HTMX).status_code == 200
    with make_session.begin() as session:
        assert len(shots.draft(shots.find(session, shot.id)).cues) == 2
        assert shots.draft(drafts.walk(session, shot.id, -1)).cues == []


def test_a_preset_is_renamed_in_place_and_not_to_a_name_that_another_has(client: httpx.Client, make_session: Sessions, shot: Shot) -> None:
    with make_session.begin() as session:
        one, _ = (presets.save(session, name, SMALL, None) for name in ("Misty", "Clear"))
        number = one.id
    assert "Foggy" in client.post(f"/shots/{shot.id}/presets/{number}/rename", data={"name": "Foggy"}, headers=HTMX).text
    refused = client.post(f"/shots/{shot.id}/presets/{number}/rename", data={"name": "Clear"}, headers=HTMX)
    assert refused.status_code == 422
    assert "Another preset is called “Clear” already" in refused.text
    assert "Foggy" in refused.text


def test_a_take_is_made_larger_by_a_run_of_its_own_as_far_as_sides_go(client: httpx.Client, shot: Shot, make_session: Sessions) -> None:
    with make_session.begin() as session:
        run = runs.create(session, shots.find(session, shot.id), SMALL)
        working.begin(session, run.id, "test")
        take = working.store_take(session, run.id, 0, 1, np.full((640, 512, 3), 90, np.uint8), 0.1).id
        working.end(session, run, "done")
    page = client.get(f"/shots/{shot.id}?take={take}").text
    assert ("2 times as large" in page, "4 times as large" in page) == (True, False)
    assert client.post(f"/takes/{take}/larger/2", headers=HTMX).status_code == 200
    recipe = runs.recipe_of_place(last_run(make_session, shot), 0)
    assert recipe.source is not None
    assert (recipe.width, recipe.height, recipe.source.larger) == (1024, 1280, 0.3)
    refused = client.post(f"/takes/{take}/larger/4", headers=HTMX)
    assert (refused.status_code, "up to 2048 px" in refused.text) == (422, True)

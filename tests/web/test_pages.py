"""The pages over real HTTP, as a browser or a script would ask for them."""

import io
import re

import httpx
import numpy as np
import pytest
from PIL import Image
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import scene_of
from mosskeeper.core.pictures.decode import encode_png
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.formats.png import recipe_of, with_recipe
from mosskeeper.studio import cast, drafts, explaining, pictures, runs, shots, takes, working
from mosskeeper.studio.models import Shot
from tests.conftest import SMALL, lay_out
from tests.web.form import table_fields

IMAGE = np.random.default_rng(0).integers(0, 255, (40, 32, 3), np.uint8)
HTMX = {"HX-Request": "true"}


@pytest.fixture
def shot(make_session: sessionmaker[Session]) -> Shot:
    """A shot with two finished takes."""
    with make_session.begin() as session:
        made = lay_out(session)
        run = runs.create(session, made, SMALL)
        working.begin(session, run.id, "test")
        for place, seed in enumerate(run.seeds):
            working.store_take(session, run.id, place, seed, IMAGE + place, 1.0)
        working.end(session, run, "done")
        return made


def take_ids(client: httpx.Client, shot: Shot) -> list[int]:
    return [
        int(i)
        for i in re.findall(rf'href="/shots/{shot.id}\?take=(\d+)" hx-get', client.get(f"/shots/{shot.id}").text.split('id="strip"')[1])
    ]


def test_pages_answer_and_show_what_there_is(client: httpx.Client, shot: Shot) -> None:
    assert "A Story" in client.get("/").text
    board = client.get(f"/stories/{shot.story_id}").text
    assert "Ada Reed" in board
    assert "Bell tower" in board
    table = client.get(f"/shots/{shot.id}").text
    assert "Ada Reed, girl" in table
    assert "a small stand-in for a large model" in table.lower()
    assert len(take_ids(client, shot)) >= 2

    # what does not exist
    for address in ("/stories/999", "/shots/999", "/takes/999/download", "/pictures/" + "0" * 64 + ".png", "/shots/x", "/nowhere"):
        answer = client.get(address)
        assert answer.status_code == 404, address
        assert "does not exist" in answer.text or "leads nowhere" in answer.text
    assert client.get(f"/shots/{shot.id}?take=999").status_code == 404


def test_saving_the_table_tells_what_was_understood(client: httpx.Client, shot: Shot) -> None:
    answer = client.post(f"/shots/{shot.id}/draft", data=table_fields(words="a boy with a lantrn, calm"), headers=HTMX)
    assert answer.status_code == 200
    assert 'title="subject: boy"' in answer.text
    assert "“lantrn”: unknown" in answer.text
    assert 'data-by="lantern"' in answer.text
    assert 'value="2"' in answer.text  # the new revision
    assert "a boy with a lantrn, calm" in client.get(f"/shots/{shot.id}").text


def test_words_of_which_nothing_is_known_are_allowed_with_a_warning(client: httpx.Client, shot: Shot) -> None:
    answer = client.post(f"/shots/{shot.id}/draft", data=table_fields(words="quantum zebra"), headers=HTMX)
    assert answer.status_code == 200
    assert "Nothing in these words is known" in answer.text


@pytest.mark.parametrize(
    ("change", "field", "sentence"),
    [
        ({"steps": "many"}, "steps", "Steps must be a number."),
        ({"steps": ""}, "steps", "Steps must be a number."),
        ({"guidance": "25"}, "guidance", "Guidance must be at most 20."),
        ({"count": "0"}, "count", "Takes must be at least 1."),
        ({"width": "513"}, "width", "Width must be a multiple of 16."),
        ({"seed": "-4"}, "seed", "Seed must be at least 0."),
        ({"sampler": "magic"}, "sampler", "Sampler must be one of"),
        ({"cue-one-weight": "3"}, "cues", "Weight must be at most 1.5."),
        ({"cue-one-start": "70", "cue-one-end": "30"}, "cues", "must end after it starts"),
        ({"words": "a\x00b"}, "words", "control character"),
    ],
)
def test_wrong_values_get_a_sentence_beside_their_field_and_change_nothing(
    client: httpx.Client, make_session: sessionmaker[Session], shot: Shot, change: dict[str, object], field: str, sentence: str
) -> None:
    with make_session.begin() as session:
        drafts.edit(session, shot.id, lambda now: now.model_copy(update={"cues": [Cue(id="one", picture="a" * 64)]}))
    answer = client.post(f"/shots/{shot.id}/draft", data=table_fields(revision=2, **change), headers=HTMX)
    assert answer.status_code == 422
    beside = re.search(rf'hx-target="#problem-{field}"[^>]*>(.*?)</hx-partial>', answer.text, re.S)
    assert beside and sentence in beside[1]
    assert 'id="mirror"' not in answer.text
    assert SMALL.words in client.get(f"/shots/{shot.id}").text


def test_a_decimal_comma_is_a_decimal_point(client: httpx.Client, shot: Shot) -> None:
    assert client.post(f"/shots/{shot.id}/draft", data=table_fields(guidance="6,5"), headers=HTMX).status_code == 200
    assert 'name="guidance" value="6.5"' in client.get(f"/shots/{shot.id}").text


def test_what_two_tabs_edited_is_told_with_both_values_and_the_rest_is_saved(client: httpx.Client, shot: Shot) -> None:
    path = f"/shots/{shot.id}/draft"
    seen = {"revision": 1, "was-words": SMALL.words}
    assert client.post(path, data=seen | {"words": "first tab"}, headers=HTMX | {"Moss-Page": "a"}).status_code == 200
    late = client.post(path, data=seen | {"words": "second tab", "steps": "9", "was-steps": "6"}, headers=HTMX | {"Moss-Page": "b"})
    assert late.status_code == 409
    beside = re.search(r'hx-target="#problem-words"[^>]*>(.*?)</hx-partial>', late.text, re.S)
    assert beside and "<dd>second tab</dd>" in beside[1] and "<dd>first tab</dd>" in beside[1]
    table = client.get(f"/shots/{shot.id}").text
    assert "first tab" in table and 'name="steps" value="9"' in table
    mine = {"revision": 3, "words": "second tab", "was-words": "first tab"}
    assert client.post(path, data=mine, headers=HTMX | {"Moss-Page": "b"}).status_code == 200
    assert "second tab" in client.get(f"/shots/{shot.id}").text


def test_a_run_whose_words_clash_is_not_run(client: httpx.Client, make_session: sessionmaker[Session], shot: Shot) -> None:
    seen = {"revision": 1, "was-words": SMALL.words}
    client.post(f"/shots/{shot.id}/draft", data=seen | {"words": "first tab"}, headers=HTMX | {"Moss-Page": "a"})
    assert client.post(f"/shots/{shot.id}/run", data=seen | {"words": "mine"}, headers=HTMX | {"Moss-Page": "b"}).status_code == 409
    with make_session() as session:
        assert len(runs.of_shot(session, shot.id, 5)) == 1


def test_running_without_words_or_cue_is_told(client: httpx.Client, make_session: sessionmaker[Session], shot: Shot) -> None:
    with make_session.begin() as session:
        shots.recast(session, shot.id, None, None, None)
    answer = client.post(f"/shots/{shot.id}/run", data=table_fields(words=""), headers=HTMX)
    assert answer.status_code == 422
    assert "There are no words and no cue" in answer.text


def test_without_a_worker_runs_wait_and_the_page_says_so(client: httpx.Client, shot: Shot) -> None:
    answer = client.post(f"/shots/{shot.id}/run", data=table_fields(), headers=HTMX)
    assert answer.status_code == 200
    assert "waiting for a worker" in answer.text
    assert "No worker is running" in client.get(f"/shots/{shot.id}").text
    assert "No worker is running" in client.get(f"/stories/{shot.story_id}").text
    run_id = re.search(r"/runs/(\d+)/stop", answer.text)
    assert run_id
    assert "Stopped by you" in client.post(f"/runs/{run_id[1]}/stop", headers=HTMX).text


def upload(client: httpx.Client, shot: Shot, data: bytes, name: str = "study.png") -> httpx.Response:
    return client.post(f"/shots/{shot.id}/pictures", files={"picture": (name, data)}, headers=HTMX)


def cue_ids(html: str) -> list[str]:
    return re.findall(r'data-cue="(\w+)"', html)


def test_an_uploaded_picture_becomes_a_cue_and_can_be_taken_off_and_brought_back(client: httpx.Client, shot: Shot) -> None:
    answer = upload(client, shot, encode_png(255 - IMAGE))
    assert answer.status_code == 200
    (cue,) = cue_ids(answer.text)
    sha = re.search(r'"cue-picture" href="/pictures/([0-9a-f]{64})/reading"', answer.text)
    assert sha
    assert 'class="cue-title" title="study"' in answer.text
    assert "Being read" in answer.text
    off = client.post(f"/shots/{shot.id}/cues/{cue}/remove", headers=HTMX)
    assert cue_ids(off.text) == []
    assert "Bring back" in off.text
    assert len(cue_ids(client.post(f"/shots/{shot.id}/cues/{sha[1]}", headers=HTMX).text)) == 1
    stored = client.get(f"/pictures/{sha[1]}.png")
    assert np.array_equal(np.asarray(Image.open(io.BytesIO(stored.content))), 255 - IMAGE)
    assert "immutable" in stored.headers["cache-control"]


@pytest.mark.statistics
@pytest.mark.parametrize(
    ("data", "says"),
    [(b"", "empty"), (b"text", "not a PNG"), (encode_png(IMAGE)[:600], "damaged"), (b"\x89PNG" + bytes(20_100_000), "MB")],
)
def test_a_bad_upload_is_told_and_loses_nothing(client: httpx.Client, shot: Shot, data: bytes, says: str) -> None:
    before = cue_ids(client.get(f"/shots/{shot.id}").text)
    answer = upload(client, shot, data)
    assert answer.status_code == 422
    assert says in answer.text
    assert cue_ids(client.get(f"/shots/{shot.id}").text) == before


def test_what_was_done_to_an_upload_is_said(client: httpx.Client, shot: Shot) -> None:
    out = io.BytesIO()
    Image.new("RGBA", (20, 20), (0, 0, 0, 0)).save(out, "PNG")
    assert "transparent parts" in upload(client, shot, out.getvalue()).text


def test_a_downloaded_take_carries_its_recipe_and_restores_it(client: httpx.Client, shot: Shot) -> None:
    newest = take_ids(client, shot)[0]
    answer = client.get(f"/takes/{newest}/download")
    assert answer.headers["content-disposition"].endswith('filename="first-shot-take-2.png"')
    recipe = recipe_of(answer.content)
    assert recipe is not None
    assert (recipe.seed, recipe.words) == (6, SMALL.words)
    assert client.get(f"/takes/{newest}/recipe.json").json()["seed"] == 6

    other = Recipe(words="something else", guidance=3, width=256, height=320)
    offer = upload(client, shot, with_recipe(encode_png(IMAGE), other, "x"))
    assert "carries a recipe" in offer.text
    assert "something else" in offer.text
    assert "something else" not in client.get(f"/shots/{shot.id}").text  # shown before it is applied
    applied = client.post(f"/shots/{shot.id}/recipe", data={"recipe": other.to_json()}, headers=HTMX)
    assert applied.headers["hx-redirect"] == f"/shots/{shot.id}"
    assert "something else" in client.get(f"/shots/{shot.id}").text


def test_a_picture_with_a_newer_or_broken_recipe_is_told_and_can_still_be_a_cue(client: httpx.Client, shot: Shot) -> None:
    from PIL.PngImagePlugin import PngInfo

    for document, says in (('{"version": 9}', "newer version"), ("{oops", "damaged")):
        info, out = PngInfo(), io.BytesIO()
        info.add_itxt("mosskeeper:recipe", document)
        Image.fromarray(IMAGE).save(out, "PNG", pnginfo=info)
        answer = upload(client, shot, out.getvalue())
        assert says in answer.text
        assert "put it on the cue sheet" in answer.text
    assert client.post(f"/shots/{shot.id}/recipe", data={"recipe": "{oops"}, headers=HTMX).status_code == 422


def test_keep_take_back_aside_and_anchor(client: httpx.Client, make_session: sessionmaker[Session], shot: Shot) -> None:
    newest, oldest = take_ids(client, shot)[:2]
    assert "take-back" in client.post(f"/takes/{oldest}/keep", headers=HTMX).text
    assert client.get(f"/shots/{shot.id}").text.count("Take 1</b>") == 1  # the kept take is shown first
    assert "take back" not in client.post(f"/takes/{oldest}/take-back", headers=HTMX).text
    client.post(f"/takes/{newest}/aside", headers=HTMX)
    assert newest not in take_ids(client, shot)
    assert "show 1 put aside" in client.get(f"/shots/{shot.id}").text
    client.post(f"/takes/{newest}/bring-back", headers=HTMX)
    assert newest in take_ids(client, shot)
    assert "Lead anchor" in client.post(f"/takes/{newest}/anchor", headers=HTMX).text
    with make_session() as session:
        assert shot.character_id is not None
        lead = cast.find(session, shot.character_id).lead
        assert lead is not None
        assert lead.take_id == newest
        assert takes.find(session, newest).picture_sha256 == lead.picture_sha256


def test_a_new_story_grows_from_nothing(client: httpx.Client) -> None:
    assert client.post("/stories", data={"name": " "}).status_code == 422
    story = client.post("/stories", data={"name": "Fresh", "summary": "kept"}).headers["location"]
    assert "Nobody yet" in client.get(story).text
    refused = client.post(f"{story}/characters", data={"name": "", "traits": "a boy with a letter"})
    assert refused.status_code == 422
    assert "a boy with a letter" in refused.text  # what was typed is kept
    client.post(f"{story}/characters", data={"name": "Bo", "traits": "boy"})
    client.post(f"{story}/scenes", data={"name": "Market", "words": "at the canal market"})
    page = client.get(story).text
    assert "Bo" in page
    scene, character = (re.search(rf'name="{n}" value="(\d+)"', page) for n in ("scene", "character"))
    assert scene and character
    shot = client.post(f"{story}/shots", data={"scene": scene[1], "character": character[1]}).headers["location"]
    assert "Bo, boy, at the canal market" in client.get(shot).text
    assert "No takes yet" in client.get(shot).text


def test_finding_somebody_keeps_what_was_typed_when_it_cannot_begin(
    client: httpx.Client, make_session: sessionmaker[Session], shot: Shot
) -> None:
    at = f"/stories/{shot.story_id}/find"
    for data, says in (({"name": "", "traits": "copper hair"}, "The name is missing"), ({"name": "Marrit"}, "in a few words who it is")):
        refused = client.post(at, data=data)
        assert (refused.status_code, says in refused.text) == (422, True)
        assert all(value in refused.text for value in data.values())
    broken = client.post(at, data={"name": "Marrit"}, files={"picture": ("x.png", b"no picture")})
    assert (broken.status_code, "not a PNG" in broken.text) == (422, True)
    assert "Marrit</a>" not in client.get(f"/stories/{shot.story_id}").text  # nothing half made is left
    like = client.post(at, data={"name": "Marrit"}, files={"picture": ("x.png", encode_png(IMAGE))})
    with make_session() as session:
        made = shots.find(session, int(like.headers["location"].rsplit("/", 1)[1]))
        (cue,) = shots.draft(made).cues
        assert (cue.role, made.character.name, runs.of_shot(session, made.id)[0].state) == ("look", "Marrit", "waiting")


def test_a_scene_is_renamed_removed_and_brought_back_on_the_board(client: httpx.Client, shot: Shot) -> None:
    at, board = f"/items/scene/{shot.scene_id}", f"/stories/{shot.story_id}"
    assert client.post(at, data={"name": "Quay", "words": "at the quay"}).headers["location"] == board
    assert "Quay" in client.get(board).text
    refused = client.post(at, data={"name": "", "words": "typed words"})
    assert (refused.status_code, "The name is missing" in refused.text, "typed words" in refused.text) == (422, True, True)
    gone = client.get(client.post(f"{at}/remove").headers["location"]).text
    assert "“Quay” was removed" in gone and "1 shot has it and keeps it" in gone and "1 removed" in gone
    assert "Quay (removed)" in client.get(f"/shots/{shot.id}").text
    client.post(f"{at}/bring-back")
    assert "was removed" not in client.get(board).text
    assert client.post("/items/ship/1/remove").status_code == 404
    assert client.post("/items/scene/999/remove").status_code == 404


def test_a_story_leaves_the_shelf_and_comes_back(client: httpx.Client, shot: Shot) -> None:
    gone = client.get(client.post(f"/items/story/{shot.story_id}/remove").headers["location"]).text
    assert "“A Story” was removed" in gone
    assert f'href="/stories/{shot.story_id}"' not in gone
    client.post(f"/items/story/{shot.story_id}/bring-back")
    assert f'href="/stories/{shot.story_id}"' in client.get("/").text


def test_a_doubled_shot_opens_with_the_same_table(client: httpx.Client, shot: Shot) -> None:
    copy = client.post(f"/items/shot/{shot.id}/duplicate").headers["location"]
    page = client.get(copy).text
    assert "First shot, again" in page and SMALL.words in page and "No takes yet" in page


def test_recasting_follows_the_selects(client: httpx.Client, shot: Shot) -> None:
    answer = client.post(f"/shots/{shot.id}/recast", data=table_fields(character="", outfit="", scene=str(shot.scene_id)), headers=HTMX)
    assert answer.headers["hx-redirect"] == f"/shots/{shot.id}"
    assert "in the bell tower at noon" in client.get(f"/shots/{shot.id}").text
    assert "Ada Reed, girl" not in client.get(f"/shots/{shot.id}").text


def test_a_page_asks_for_what_changed_since_it_looked(client: httpx.Client, make_session: sessionmaker[Session], shot: Shot) -> None:
    with make_session.begin() as session:
        run = runs.create(session, shots.find(session, shot.id), SMALL)
        begun = working.begin(session, run.id, "test")
        assert begun is not None
        working.progress(session, run.id, begun.token, 3, IMAGE)
    at_work = client.get(f"/shots/{shot.id}/live?state=waiting&made=0", headers=HTMX).text
    assert "step 3 of 6" in at_work and f"/runs/{run.id}/previews/1.jpg" in at_work
    assert 'id="strip"' not in at_work
    assert client.get(f"/runs/{run.id}/previews/1.jpg").headers["content-type"] == "image/jpeg"
    with make_session.begin() as session:
        working.store_take(session, run.id, 0, 5, IMAGE, 1.0)
    one_more = client.get(f"/shots/{shot.id}/live?state=running&made=0", headers=HTMX).text
    assert 'id="strip"' in one_more and 'id="stage"' not in one_more
    with make_session.begin() as session:
        working.finish(session, run.id, begun.token, "done")
    assert 'id="stage"' in client.get(f"/shots/{shot.id}/live?state=running&made=1", headers=HTMX).text


def test_held_words_are_shown_let_go_and_asked_for_in_a_sentence(
    client: httpx.Client, make_session: sessionmaker[Session], shot: Shot
) -> None:
    with make_session.begin() as session:
        drafts.edit(session, shot.id, lambda now: now.model_copy(update={"held": ["at dusk", "chalk"], "styles": ["linocut"]}))
    page = client.get(f"/shots/{shot.id}").text
    assert "held:" in page
    assert page.count("gives-way") == 2  # the scene says the time, a style the finish
    left = client.post(f"/shots/{shot.id}/held/let-go", data={"phrase": "at dusk"}, headers=HTMX).text
    assert ">chalk<" in left
    assert ">at dusk<" not in left
    refused = client.post(f"/shots/{shot.id}/held", headers=HTMX)
    assert refused.status_code == 422
    assert "needs a lead anchor" in refused.text
    assert ">chalk<" in refused.text


def test_what_words_leave_open_is_told_and_held_as_a_take_chose_it(
    client: httpx.Client, make_session: sessionmaker[Session], shot: Shot
) -> None:
    scene = scene_of(Description(outfit="tunic", layout=Layout("waving", "full")), (256, 320))
    with make_session.begin() as session:
        picture = pictures.store(session, IMAGE, "a take", "upload").sha256
        explaining.note(session, picture, LayeredScenes.of([scene]))
        bare = pictures.store(session, IMAGE[::-1].copy(), "a drawing", "upload").sha256
    page = client.get(f"/shots/{shot.id}").text
    assert "each take differs" in page
    held = client.post(f"/shots/{shot.id}/held/shown", data={"picture": picture}, headers=HTMX).text
    assert ">waving<" in held
    assert "each take differs" not in held
    refused = client.post(f"/shots/{shot.id}/held/shown", data={"picture": bare}, headers=HTMX)
    assert refused.status_code == 422 and "does not say what it was drawn from" in refused.text


def test_a_page_that_was_drawn_before_a_save_is_told_of_it(client: httpx.Client, shot: Shot) -> None:
    told = f"/shots/{shot.id}/live?state=&revision=1"
    assert 'name="revision"' not in client.get(told, headers=HTMX).text
    client.post(f"/shots/{shot.id}/draft", data={"revision": 1, "words": "a boy", "was-words": SMALL.words}, headers=HTMX)
    answer = client.get(told, headers=HTMX).text
    assert 'name="revision" value="2"' in answer
    assert "a boy" in answer


def test_the_stream_tells_of_steps_and_ends_with_the_page(client: httpx.Client, make_session: sessionmaker[Session], shot: Shot) -> None:
    with make_session.begin() as session:
        run = runs.create(session, shots.find(session, shot.id), SMALL)
        begun = working.begin(session, run.id, "test")
        assert begun is not None
    with client.stream("GET", "/live") as stream:
        lines = (line for line in stream.iter_lines() if line.startswith("data: "))
        assert f'"run": {run.id}' in next(lines)
        with make_session.begin() as session:
            working.progress(session, run.id, begun.token, 3, IMAGE)
        assert any('"step": 3' in line for line in lines)


def test_a_failed_run_stays_on_shot_and_story_until_it_is_dismissed(
    client: httpx.Client, make_session: sessionmaker[Session], shot: Shot
) -> None:
    with make_session.begin() as session:
        run = runs.create(session, shots.find(session, shot.id), SMALL)
        working.end(session, run, "failed", "So it went.")
        working.end(session, runs.create(session, shots.find(session, shot.id), SMALL), "done")
    for address in (f"/shots/{shot.id}", f"/stories/{shot.story_id}"):
        assert "So it went." in client.get(address).text
    assert "So it went." not in client.post(f"/runs/{run.id}/dismiss", headers=HTMX).text
    assert "So it went." not in client.get(f"/stories/{shot.story_id}").text
    assert "waiting for a worker" in client.post(f"/runs/{run.id}/again", headers=HTMX).text


def test_the_database_gone_for_a_moment_is_told_and_comes_back(
    client: httpx.Client, make_session: sessionmaker[Session], shot: Shot
) -> None:
    url = make_session.kw["bind"].url
    name = url.database
    from mosskeeper.studio.database import connect

    admin = connect(url.set(database="postgres", drivername="postgresql").render_as_string(hide_password=False))
    with admin.connect().execution_options(isolation_level="AUTOCOMMIT") as connection:
        connection.exec_driver_sql(f"alter database {name} allow_connections false")
        connection.exec_driver_sql(f"select pg_terminate_backend(pid) from pg_stat_activity where datname = '{name}'")
        answer = client.post(f"/shots/{shot.id}/draft", data=table_fields(words="typed meanwhile"), headers=HTMX)
        assert answer.status_code == 503
        assert "database does not answer" in answer.text
        connection.exec_driver_sql(f"alter database {name} allow_connections true")
    admin.dispose()
    assert client.post(f"/shots/{shot.id}/draft", data=table_fields(words="typed meanwhile"), headers=HTMX).status_code == 200

"""Sheets of a character and faces put on pictures: on the pages, in the studio, and as an archive."""

import io
import re
import zipfile

import httpx
import pytest
from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.dials import picture_of_target
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import scene_of
from mosskeeper.core.sheets import KINDS
from mosskeeper.core.sweep import MOST_TARGETS
from mosskeeper.core.takes.repair import NO_FACE
from mosskeeper.formats.archive import archived
from mosskeeper.formats.png import recipe_of
from mosskeeper.studio import cast, enlarging, explaining, measures, pictures, readings, runs, sheets, shots, stories, takes, working
from mosskeeper.studio.models import Outfit, Run, Shot
from tests.conftest import SMALL, lay_out

HTMX = {"HX-Request": "true"}
Sessions = sessionmaker[Session]
BUST = LayeredScenes.of([scene_of(Description(subject="girl", skin="umber", hair="curls", layout=Layout("facing", "bust")), (256, 320))])


@pytest.fixture
def shot(make_session: Sessions) -> Shot:
    """A shot whose character has a lead anchor."""
    with make_session.begin() as session:
        made = lay_out(session)
        cast.add_anchor(session, made.character_id or 0, pictures.store(session, BUST.drawn().image, "Ada", "upload").sha256)
        return made


def targets(make_session: Sessions, *names: str) -> list[str]:
    """Stored pictures, each another."""
    with make_session.begin() as session:
        image = BUST.drawn().image
        return [pictures.store(session, (image // (n + 2)), name, "upload").sha256 for n, name in enumerate(names)]


def begun(make_session: Sessions, shot: Shot, names: list[str]) -> int:
    """A run that puts the face on pictures, as a page would begin it."""
    with make_session.begin() as session:
        made = sheets.put_on(session, shot.character_id or 0, names)
        return runs.create(session, made.shot, made.recipe, made.dials).id


def made(make_session: Sessions, run_id: int, *says: tuple[str, ...]) -> None:
    """The takes of a run: its targets in other colours."""
    with make_session.begin() as session:
        working.begin(session, run_id, "test")
        for place, (name, told) in enumerate(zip(sheets.targets_of(runs.find(session, run_id)), says, strict=True)):
            working.store_take(session, run_id, place, 1, 255 - pictures.pixels(session, name), 0.1, None, told)


def test_a_sheet_is_one_priced_run_with_a_page_of_its_own_and_stands_on_no_board(
    client: httpx.Client, shot: Shot, make_session: Sessions
) -> None:
    page = client.get(f"/characters/{shot.character_id}").text
    cells = len(KINDS["expressions"].phrases)
    assert re.search(rf"Expressions</button><small class=\"facts\">{cells} cells, [\d.]+ sparks", page)
    answer = client.post(f"/characters/{shot.character_id}/sheets/expressions", data={"own": "smirking"})
    assert answer.status_code == 303
    sheet = client.get(answer.headers["location"]).text
    assert sheet.count('<li class="') == cells + 1
    assert all(f'class="said">{phrase}<' in sheet for phrase in (*KINDS["expressions"].phrases, "smirking"))
    assert "Expressions of Ada Reed" in client.get(f"/characters/{shot.character_id}").text
    with make_session() as session:
        board = stories.board(session, shot.story_id)
        shown = [cell.shot.id for _, row in board.rows for cells_ in row for cell in cells_] + [cell.shot.id for cell in board.free]
        assert shown == [shot.id]
        assert stories.shelf(session)[0].shots == 1
    live = client.get(f"{answer.headers['location']}/live", headers=HTMX)
    assert "sheet-cells" in live.text


def test_all_cells_of_a_sheet_wear_the_same_and_a_sheet_of_outfits_the_wardrobe(make_session: Sessions, shot: Shot) -> None:
    with make_session.begin() as session:
        worn = session.scalars(select(Outfit.id)).one()
        plain, dressed = (sheets.begin(session, shot.character_id or 0, "turns", outfit) for outfit in (None, worn))
        wardrobe = sheets.begin(session, shot.character_id or 0, "outfits", worn)
        assert "plain grey tunic" in plain.recipe.words
        assert ("tunic" in dressed.recipe.words, dressed.shot.outfit_id) == (False, worn)
        assert wardrobe.dials[0].values == ("in red tunic",)
        assert wardrobe.shot.outfit_id is None
        assert len(plain.recipe.cues) == 1


def test_without_a_lead_anchor_it_is_said_what_is_missing(client: httpx.Client, make_session: Sessions) -> None:
    with make_session.begin() as session:
        alone = lay_out(session)
    page = client.get(f"/characters/{alone.character_id}").text
    assert "no lead anchor yet" in page
    assert client.post(f"/characters/{alone.character_id}/sheets/turns").status_code == 422
    with make_session.begin() as session, pytest.raises(ArtistError, match="no lead anchor"):
        sheets.put_on(session, alone.character_id or 0, ["0" * 64])


def test_a_folder_with_broken_files_goes_in_and_the_broken_ones_are_told(client: httpx.Client, shot: Shot, make_session: Sessions) -> None:
    with make_session() as session:
        good = pictures.png(session, targets(make_session, "good")[0])
    files = [("pictures", ("good.png", good, "image/png")), ("pictures", ("bad.png", b"no", "image/png"))]
    answer = client.post(f"/characters/{shot.character_id}/faces", files=files)
    assert answer.status_code == 303
    page = client.get(answer.headers["location"]).text
    assert "bad.png: This is not a PNG" in page
    assert "put on 1 picture" in page
    none = client.post(f"/characters/{shot.character_id}/faces", files=files[1:])
    assert (none.status_code, "None of these files can be used" in none.text) == (422, True)


def test_pictures_of_the_library_are_chosen_for_a_face(client: httpx.Client, shot: Shot, make_session: Sessions) -> None:
    files = [("pictures", (f"{n}.png", io.BytesIO(png(make_session, n)), "image/png")) for n in range(2)]
    client.post("/library", files=files, data={"story": str(shot.story_id)}, headers=HTMX)
    page = client.get(f"/library?story={shot.story_id}&face={shot.character_id}").text
    assert "Put Ada Reed's face on them" in page
    entries = re.findall(r"entry=(\d+)", page)
    chosen = {"entries": list(dict.fromkeys(entries)), "whose": str(shot.character_id)}
    answer = client.post("/library/many/face", data=chosen, headers=HTMX)
    assert "put on 2 pictures" in client.get(answer.headers["hx-redirect"]).text
    assert client.post("/library/many/face", data=chosen | {"whose": "x"}, headers=HTMX).status_code == 422


def png(make_session: Sessions, n: int) -> bytes:
    with make_session() as session:
        return pictures.png(session, targets(make_session, *(f"{k}" for k in range(n + 1)))[n])


def test_what_was_made_is_sorted_out_and_given_away_under_its_own_names(client: httpx.Client, shot: Shot, make_session: Sessions) -> None:
    run_id = begun(make_session, shot, targets(make_session, "market", "market", "stair", "fog"))
    made(make_session, run_id, (), (), (), (f"{NO_FACE}: nobody was recognised",))
    page = client.get(f"/faces/{run_id}").text
    assert "nobody was recognised" in page
    assert "take 3 accepted pictures away" in page
    takes_ = re.findall(rf"/faces/{run_id}/takes/(\d+)/refuse", page)
    assert len(takes_) == 3
    refused = client.post(f"/faces/{run_id}/takes/{takes_[2]}/refuse", headers=HTMX).text
    assert "accept it" in refused
    archive = zipfile.ZipFile(io.BytesIO(client.get(f"/faces/{run_id}/pictures.zip").content))
    assert archive.namelist() == ["market.png", "market 2.png"]
    recipe = recipe_of(archive.read("market.png"))
    assert recipe is not None and recipe.source is not None and recipe.source.face is not None
    client.post(f"/faces/{run_id}/takes/{takes_[2]}/accept", headers=HTMX)
    assert "take 3 accepted" in client.get(f"/faces/{run_id}").text
    assert client.post(f"/faces/{run_id}/takes/{takes_[0]}/burn").status_code == 422
    other = begun(make_session, shot, targets(make_session, "market"))
    assert client.post(f"/faces/{other}/takes/{takes_[0]}/refuse").status_code == 404  # a take of another run
    assert client.get(f"/sheets/{run_id + 1000}").status_code == 404


def test_chosen_ones_are_done_again_with_less_or_on_another_figure(client: httpx.Client, shot: Shot, make_session: Sessions) -> None:
    names = targets(make_session, "one", "two")
    run_id = begun(make_session, shot, names)
    answer = client.post(f"/faces/{run_id}/again", data={"target": names[0], "part": ["face", "nonsense"]})
    with make_session() as session:
        again = runs.recipe_of_place(runs.find(session, int(answer.headers["location"].rsplit("/", 1)[1])), 0)
    assert again.source is not None
    assert (again.source.picture, again.cues[0].parts) == (names[0], ["face"])
    other = client.post(f"/faces/{run_id}/again", data={"figure": f"{names[1]} 2", "part": "hair"})
    with make_session() as session:
        source = runs.recipe_of_place(runs.find(session, int(other.headers["location"].rsplit("/", 1)[1])), 0).source
    assert source is not None and source.face is not None
    assert (source.picture, source.face.figure) == (names[1], 2)
    assert client.post(f"/faces/{run_id}/again", data={"part": "face"}).status_code == 422
    assert client.post(f"/faces/{run_id}/again", data={"target": names[0], "part": "nonsense"}).status_code == 422


def test_anchors_and_too_many_are_left_out(make_session: Sessions, shot: Shot) -> None:
    name = targets(make_session, "one")[0]
    with make_session.begin() as session:
        lead = cast.anchors(session, shot.character_id or 0)[0].picture_sha256
        made_ = sheets.put_on(session, shot.character_id or 0, [name, lead, name])
        assert [picture_of_target(str(value)) for value in made_.dials[0].values] == [name]
        with pytest.raises(ArtistError, match="anchors themselves"):
            sheets.put_on(session, shot.character_id or 0, [lead])
        with pytest.raises(ArtistError, match=str(MOST_TARGETS)):
            sheets.put_on(session, shot.character_id or 0, [f"{n:064x}" for n in range(MOST_TARGETS + 1)])


def test_a_take_that_got_its_face_from_an_anchor_is_no_anchor(client: httpx.Client, shot: Shot, make_session: Sessions) -> None:
    run_id = begun(make_session, shot, targets(make_session, "market"))
    made(make_session, run_id, ())
    with make_session() as session:
        take = takes.of_shot(session, runs.find(session, run_id).shot_id)[0]
    answer = client.post(f"/takes/{take.id}/further-anchor")
    assert (answer.status_code, "drifts" in answer.text) == (422, True)
    with make_session.begin() as session:
        of_shot, recipe = enlarging.asked(session, takes.find(session, take.id), 2)
        larger = runs.create(session, of_shot, recipe)
        working.begin(session, larger.id, "test")
        further = working.store_take(session, larger.id, 0, 1, BUST.resized(2).drawn().image, 0.1, None, ()).id
    assert client.post(f"/takes/{further}/anchor", headers=HTMX).status_code == 422  # nor what was made larger of it
    with make_session() as session:
        assert len(cast.anchors(session, shot.character_id or 0)) == 1


def test_drift_is_told_before_and_after_and_what_strays_can_be_mended(client: httpx.Client, shot: Shot, make_session: Sessions) -> None:
    other = LayeredScenes.of(
        [scene_of(Description(subject="old man", skin="porcelain", hair="bald", layout=Layout("facing", "bust")), (256, 320))]
    )
    with make_session.begin() as session:
        name = pictures.store(session, other.drawn().image, "stranger", "upload").sha256
    run_id = begun(make_session, shot, [name])
    with make_session.begin() as session:
        working.begin(session, run_id, "test")
        working.store_take(session, run_id, 0, 1, BUST.drawn().image, 0.1, None, ())
    with make_session.begin() as session:
        take = takes.of_shot(session, runs.find(session, run_id).shot_id)[0]
        told = measures.of_take(session, take)
    assert told.before is not None and told.before.other_person
    assert told.drift is None  # the anchor itself
    assert re.search(r'drift <span class="drift far">[\d.]+</span> → not told', client.get(f"/faces/{run_id}?by=drift").text)
    with make_session.begin() as session:
        begun_ = sheets.begin(session, shot.character_id or 0, "turns")
        run = runs.create(session, begun_.shot, begun_.recipe, begun_.dials).id
        working.begin(session, run, "test")
        take = working.store_take(session, run, 0, 1, other.drawn().image, 0.1, None, ())
        measures.of_take(session, take)
    assert "1 cell strays" in client.get(f"/sheets/{run}").text
    answer = client.post(f"/sheets/{run}/mend")
    with make_session() as session:
        mended = session.get_one(Run, int(answer.headers["location"].rsplit("/", 1)[1]))
        assert sheets.targets_of(mended) == [name]
    assert client.post(f"/sheets/{run_id}/mend").status_code == 422


def test_the_check_of_a_story_tells_strangers_and_puts_the_face_on_them(client: httpx.Client, shot: Shot, make_session: Sessions) -> None:
    assert "Nothing is kept yet" in client.get(f"/stories/{shot.story_id}/check").text
    other = LayeredScenes.of(
        [scene_of(Description(subject="old man", skin="porcelain", hair="bald", layout=Layout("facing", "bust")), (256, 320))]
    )
    with make_session.begin() as session:
        run = runs.create(session, shots.find(session, shot.id), SMALL)
        working.begin(session, run.id, "test")
        take = working.store_take(session, run.id, 0, 1, other.drawn().image, 0.1, other, ())
        takes.keep(session, take.id)
        name = take.picture_sha256
    assert "being measured" in client.get(f"/stories/{shot.story_id}/check").text
    with make_session.begin() as session:
        measures.of_take(session, takes.of_shot(session, shot.id)[0])
        lead = cast.anchors(session, shot.character_id or 0)[0].picture_sha256
        explaining.note(session, lead, BUST)
        readings.of_picture(session, lead)
    page = client.get(f"/stories/{shot.story_id}/check").text
    assert "In 1 of 1 kept takes" in page
    assert "reads as another person" in page
    answer = client.post(f"/stories/{shot.story_id}/check/{shot.character_id}")
    with make_session() as session:
        assert sheets.targets_of(session.get_one(Run, int(answer.headers["location"].rsplit("/", 1)[1]))) == [name]
    assert client.post(f"/stories/{shot.story_id}/check/{(shot.character_id or 0) + 1}").status_code == 422


def test_names_in_an_archive_are_safe_and_none_is_lost() -> None:
    names = ["../etc", "a/b", "A/b", "", "…"]
    data = b"".join(archived((name, "png", name.encode()) for name in names))
    found = zipfile.ZipFile(io.BytesIO(data))
    assert len({name.lower() for name in found.namelist()}) == len(names)
    assert not any("/" in name or name.startswith(".") for name in found.namelist())

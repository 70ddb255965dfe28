"""The library on a real database."""

import numpy as np
import pytest
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.pictures.decode import encode_png
from mosskeeper.core.recipe import Cue
from mosskeeper.studio import drafts, library, lineage, pictures, runs, takes, working
from mosskeeper.studio.library import PAGE, SearchQuery
from mosskeeper.studio.models import Shot
from tests.conftest import SMALL, lay_out


def flat(rgb: tuple[int, int, int], mark: int = 0) -> np.ndarray:
    image = np.full((80, 64, 3), rgb, np.uint8)
    image[0, 0] = mark
    return image


def png(rgb: tuple[int, int, int], mark: int = 0) -> bytes:
    return encode_png(flat(rgb, mark))


@pytest.fixture
def shot(db: Session) -> Shot:
    """A shot with two takes, a red and a blue one."""
    made = lay_out(db)
    run = runs.create(db, made, SMALL)
    for place, rgb in enumerate(((200, 30, 30), (30, 30, 200))):
        take = working.store_take(db, run.id, place, 5 + place, flat(rgb), 1.0)
        library.look(db, library.of_take(db, take.id))
    return made


def names(db: Session, **wanted: object) -> list[str]:
    return [entry.name for entry in library.search(db, SearchQuery(**wanted)).entries]  # type: ignore[arg-type]


def test_every_take_is_found_by_the_words_that_made_it(db: Session, shot: Shot) -> None:
    assert names(db, words="red tunic bell") == ["First shot, take 2", "First shot, take 1"]
    assert names(db, words="tun") == names(db, words="TUNIC")  # beginnings are enough
    assert names(db, words="submarine") == []
    assert names(db, words="'; drop table entries; --") == []


def test_names_tags_and_folders_are_found_too(db: Session, shot: Shot) -> None:
    entry = library.search(db, SearchQuery()).entries[0]
    library.describe(db, entry.id, "Moss study", "Moss, rain , moss", "Studies")
    assert entry.tags == ["moss", "rain"]
    assert names(db, words="rain") == names(db, tag="moss") == names(db, folder="Studies") == ["Moss study"]
    assert (library.tags(db, None), library.folders(db, shot.story_id)) == (["moss", "rain"], ["Studies"])
    with pytest.raises(ArtistError, match="20 tags"):
        library.describe(db, entry.id, "x", ",".join(map(str, range(30))), "")


def test_a_colour_brings_the_pictures_that_have_the_most_of_it_first(db: Session, shot: Shot) -> None:
    assert names(db, colour="#c81e1e")[0] == "First shot, take 1"
    assert names(db, colour="#1e1ec8")[0] == "First shot, take 2"
    assert names(db, colour="#20f020") == []
    with pytest.raises(ArtistError, match="six hexadecimal digits"):
        names(db, colour="red")


def test_likeness_finds_the_same_picture_first_and_tells_what_it_cannot_judge(db: Session, shot: Shot) -> None:
    taken, _ = library.upload(db, [("reddish.png", png((190, 40, 35)))], shot.story_id)
    with pytest.raises(ArtistError, match="still being read"):
        library.search(db, SearchQuery(like=taken[0].picture_sha256))
    made = library.search(db, SearchQuery(kind="take")).entries[-1]
    found = library.search(db, SearchQuery(like=made.picture_sha256))
    assert (found.entries[0].name, found.unread) == ("First shot, take 1", 1)
    library.look(db, taken[0])
    found = library.search(db, SearchQuery(like=taken[0].picture_sha256))
    assert (found.entries[0].name, found.unread) == ("reddish", 0)


def test_filters_narrow_and_work_together(db: Session, shot: Shot) -> None:
    library.upload(db, [("study.png", png((90, 90, 90)))], None)
    take = library.search(db, SearchQuery(kind="take")).entries[0].take
    assert take is not None
    takes.keep(db, take.id)
    assert names(db, kept=True, character=shot.character_id, scene=shot.scene_id, engine="built-in") == ["First shot, take 2"]
    assert names(db, engine="fine") == []
    assert names(db, studio=True) == names(db, kind="upload") == ["study"]
    assert len(names(db, story=shot.story_id)) == 2
    assert names(db, since=library.days_ago(-2)) == []


@pytest.mark.statistics
def test_of_200_files_the_broken_ones_are_told_and_the_others_go_in(db: Session) -> None:
    files = [(f"f{n}.png", png((n, 90, 90), n) if n % 30 else b"no picture") for n in range(200)]
    taken, refused = library.upload(db, files, None)
    assert (len(taken), len(refused)) == (193, 7)
    assert {reason for _, reason in refused} == {"This is not a PNG, JPEG or WebP picture."}
    assert [name for name, _ in refused][:2] == ["f0.png", "f30.png"]
    first, last = library.search(db, SearchQuery()), library.search(db, SearchQuery(), 1)
    assert (first.total, len(first.entries), len(last.entries)) == (193, PAGE, 193 - PAGE)
    again, _ = library.upload(db, files[1:3], None)
    assert [e.id for e in again] == [e.id for e in taken[:2]]  # the same picture is there once


def test_what_is_taken_out_can_be_brought_back_and_shots_that_use_it_go_on(db: Session, shot: Shot) -> None:
    taken, _ = library.upload(db, [("study.png", png((90, 90, 90)))], shot.story_id)
    sha = taken[0].picture_sha256
    recipe = SMALL.model_copy(update={"cues": [Cue(picture=sha)]})
    drafts.edit(db, shot.id, lambda _: recipe)
    assert [s.id for s in library.used_in(db, sha)] == [shot.id]
    library.remove(db, [taken[0].id])
    assert names(db, words="study") == []
    assert names(db, removed=True) == ["study"]
    assert runs.create(db, shot, recipe).state == "waiting"
    assert pictures.png(db, sha)
    library.bring_back(db, [taken[0].id])
    assert names(db, words="study") == ["study"]


def test_a_part_is_cut_out_and_remembers_where_it_comes_from(db: Session, shot: Shot) -> None:
    take = takes.of_shot(db, shot.id)[0]
    cut = library.crop(db, take.picture_sha256, (0.75, 0.5, 0.25, 1.4))  # any corner first, and not beyond the picture
    assert (cut.kind, cut.story_id, cut.source_sha256) == ("crop", shot.story_id, take.picture_sha256)
    assert pictures.pixels(db, cut.picture_sha256).shape == (40, 32, 3)
    assert names(db, kind="crop") == ["First shot, take 2, cut out"]
    came = lineage.origin(db, cut.picture_sha256)
    assert came.take is not None and came.take.id == take.id
    assert came.derived
    with pytest.raises(ArtistError, match="16×16 px"):
        library.crop(db, take.picture_sha256, (0, 0, 0.25, 0.2))

"""What a shot of somebody holds from their lead anchor, on a real database."""

import numpy as np
import pytest
from numpy.typing import NDArray
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.studio import cast, drafts, finding, holding, pictures, readings, runs, shots, working
from mosskeeper.studio.models import Shot, Take
from tests.conftest import SMALL, lay_out
from tests.studio.test_edits import at_once

PORTRAIT = draw(Description(layout=Layout(framing="bust"), place="night train", time="dusk"), (384, 480)).image
STICKS = np.full((480, 384, 3), 255, np.uint8)
STICKS[60:420, 190:194] = STICKS[150:154, 80:300] = 0


def taken(session: Session, shot: Shot, picture: NDArray[np.uint8] = PORTRAIT, read: bool = True) -> Take:
    run = runs.create(session, shot, SMALL.model_copy(update={"count": 1, "styles": ["chalk"]}))
    take = working.store_take(session, run.id, 0, run.seeds[0], picture, 1.0)
    if read:
        readings.of_picture(session, take.picture_sha256)
    return take


@pytest.fixture
def shot(db: Session) -> Shot:
    return lay_out(db)


@pytest.mark.statistics
def test_a_new_shot_of_somebody_holds_what_the_lead_anchor_shows_and_the_styles_that_made_it(db: Session, shot: Shot) -> None:
    assert shots.draft(shot).held == []
    cast.make_anchor(db, taken(db, shot), lead=True)
    held = shots.draft(shots.create(db, shot.story_id, "", shot.scene_id, shot.character_id)).held
    assert {"on the night train", "at dusk", "chalk"} <= set(held)
    assert shots.draft(finding.into_scene(db, shot.story_id, shot.character_id or 0, shot.scene_id)).held == held
    assert shots.draft(shots.create(db, shot.story_id, "", shot.scene_id)).held == []
    other = cast.add_character(db, shot.story_id, "Ben", "boy")
    assert shots.draft(shots.recast(db, shot.id, shot.scene_id, other.id, None)).held == []
    assert shots.draft(shots.recast(db, shot.id, shot.scene_id, shot.character_id, None)).held == []  # Ben's shot became hers


def test_held_words_are_let_go_and_that_is_taken_back(db: Session, shot: Shot) -> None:
    cast.make_anchor(db, taken(db, shot), lead=True)
    held = drafts.of_shot(holding.hold(db, shot, "study")).held
    holding.let_go(db, shot.id, "at dusk", "study")
    assert shots.draft(shot).held == [words for words in held if words != "at dusk"]
    assert drafts.can_walk(db, shot)[0] == "held words"
    drafts.walk(db, shot.id, -1)
    assert shots.draft(shot).held == held


def test_without_an_anchor_that_was_read_nothing_is_held_and_it_is_said(db: Session, shot: Shot) -> None:
    with pytest.raises(ArtistError, match="needs a lead anchor"):
        holding.hold(db, shot)
    cast.make_anchor(db, taken(db, shot, 255 - PORTRAIT, read=False), lead=True)
    with pytest.raises(ArtistError, match="Try again"):
        holding.hold(db, shot)


def test_two_held_words_that_are_let_go_at_once_are_both_gone(make_session: sessionmaker[Session]) -> None:
    with make_session.begin() as session:
        shot = lay_out(session)
        drafts.edit(session, shot.id, lambda now: now.model_copy(update={"held": ["at dusk", "chalk", "in the kitchen"]}))
    at_once(make_session, *[lambda s, words=words: holding.let_go(s, shot.id, words) for words in ("at dusk", "chalk")])  # type: ignore[misc]
    with make_session() as session:
        assert shots.draft(shots.find(session, shot.id)).held == ["in the kitchen"]


def test_a_picture_comes_on_the_sheet_in_the_role_for_which_it_seems_to_be_meant(db: Session, shot: Shot) -> None:
    portrait, sticks = (pictures.store(db, picture, "study", "upload").sha256 for picture in (PORTRAIT, STICKS))
    assert shots.add_cue(db, shot.id, portrait).role == "look"  # not read yet
    for name in (portrait, sticks):
        readings.of_picture(db, name)
    came = [shots.add_cue(db, shot.id, name) for name in (portrait, sticks)]
    assert [(cue.role, cue.start) for cue in came] == [("face", 0), ("pose", 0)]
    assert {p.reason for p in readings.known_proposals(db, [portrait, sticks]).values()} == {"a head alone", "a figure of sticks"}


@pytest.mark.parametrize(("picture", "role"), [(STICKS, "look"), (PORTRAIT, "face")])
def test_an_anchor_says_who_somebody_is_whatever_it_resembles(db: Session, shot: Shot, picture: NDArray[np.uint8], role: str) -> None:
    take = taken(db, shot, picture)
    cast.make_anchor(db, take, lead=True)
    assert shots.add_cue(db, shot.id, take.picture_sha256).role == role


def test_words_of_ones_own_become_a_scene_and_an_outfit_of_the_story(db: Session, shot: Shot) -> None:
    character = shot.character_id or 0
    made = finding.into_scene(db, shot.story_id, character, None, "at the canal market at dusk, raining hard", "in a navy coat")
    assert (made.scene.name, made.outfit.name) == ("Canal market at dusk", "Navy coat")  # type: ignore[union-attr]
    given = shots.draft(made).given
    assert "at the canal market at dusk, raining hard" in given
    assert "in a navy coat" in given
    assert "in in" not in given
    with pytest.raises(ArtistError, match="Say where"):
        finding.into_scene(db, shot.story_id, character, None, " ", "")
    worn = finding.into_scene(db, shot.story_id, character, shot.scene_id, "", "a plum cloak")  # a scene by its press, clothes by words
    assert (worn.scene_id, worn.outfit.name) == (shot.scene_id, "Plum cloak")  # type: ignore[union-attr]
    assert finding.short_name(", raining") == ", raining"
    assert (
        finding.short_name("on the roof of the old glass house above the seven harbours of the town")
        == "Roof of the old glass house above the"
    )

"""Boards, stages and poses of a shot: every act a step, and two who draw at once."""

import numpy as np
import pytest
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.core.posing.book import entry, figures_of, placed
from mosskeeper.core.recipe import Recipe, Region
from mosskeeper.formats.board import BoardDocument
from mosskeeper.studio import boards, drafts, pictures, poses, shots, stages, working
from mosskeeper.studio.boards import BoardMoved
from mosskeeper.studio.models import Shot
from mosskeeper.studio.poses import PosedFigure, PosesMoved, PoseSource
from tests.conftest import lay_out
from tests.studio.test_edits import at_once

Sessions = sessionmaker[Session]


def painted(grey: int) -> np.ndarray:
    board = np.zeros((640, 512, 4), np.uint8)
    board[100:300, 50:200] = (grey, 90, 40, 255)
    return board


def document(grey: int) -> BoardDocument:
    piece = {"kind": "box", "colour": f"{grey:02x}5a28", "at": [125, 200], "size": [150, 200]}
    return BoardDocument.model_validate({"pieces": [piece], "pots": {f"{grey:02x}5a28": "cloth"}})


def keep(session: Session, shot: Shot, grey: int, base: str = "", cue: str = "") -> str:
    _, kept = boards.keep(session, shot.id, painted(grey), document(grey), base, cue)
    assert kept.picture is not None
    return kept.picture


def recipe(session: Session, shot: Shot) -> Recipe:
    return drafts.of_shot(shots.find(session, shot.id))


def figure(name: str, who: int = 0) -> PosedFigure:
    (one,) = placed(figures_of(entry(name)), None, (256, 320))
    return PosedFigure(figure=who, skeleton=[(float(x), float(y)) for x, y in one.joints], hands=None)


def test_the_first_act_puts_the_board_on_the_cue_sheet_and_each_act_is_a_step(db: Session) -> None:
    shot = lay_out(db)
    first = keep(db, shot, 10)
    second = keep(db, shot, 20, first, boards.cue_of(recipe(db, shot)).id)  # type: ignore[union-attr]
    cue = boards.cue_of(recipe(db, shot))
    assert cue is not None
    assert (cue.picture, cue.pots) == (second, {"145a28": "cloth"})
    assert boards.pieces_of(db, recipe(db, shot), cue) == document(20)
    drafts.walk(db, shot.id, -1)
    assert boards.cue_of(recipe(db, shot)).picture == first  # type: ignore[union-attr]
    drafts.walk(db, shot.id, -1)
    assert boards.cue_of(recipe(db, shot)) is None
    drafts.walk(db, shot.id, 1)
    assert boards.cue_of(recipe(db, shot)).picture == first  # type: ignore[union-attr]


def test_what_was_left_open_stays_open_on_its_way_to_the_engine(db: Session) -> None:
    shot = lay_out(db)
    name = keep(db, shot, 10)
    sent = working.cue_pixels(db, recipe(db, shot))[name]
    assert sent.shape == (640, 512, 4)
    assert (sent[..., 3] == painted(10)[..., 3]).all()
    assert pictures.pixels(db, name).shape == (640, 512, 3)


def test_of_two_who_paint_on_one_board_the_later_is_told_and_neither_is_lost(make_session: Sessions) -> None:
    with make_session.begin() as session:
        shot = lay_out(session)
        base = keep(session, shot, 10)
    got = at_once(make_session, *[lambda s, g=g: keep(s, shot, g, base) for g in (30, 40)])
    assert sum(isinstance(one, BoardMoved) for one in got) == 1
    with make_session.begin() as session:
        theirs = boards.cue_of(recipe(session, shot)).picture  # type: ignore[union-attr]
        assert theirs in got
        _, mine = boards.keep(session, shot.id, painted(50), document(50), base, over=True)  # “lay mine over it”
        drafts.walk(session, shot.id, -1)
        assert boards.cue_of(recipe(session, shot)).picture == theirs  # type: ignore[union-attr]
        assert mine.picture != theirs


def test_a_picture_that_came_as_a_sketch_is_one_piece_and_a_cleared_board_is_none(db: Session) -> None:
    shot = lay_out(db)
    upload = pictures.store(db, np.full((50, 40, 3), 90, np.uint8), "shapes", "upload").sha256
    drafts.edit(db, shot.id, lambda now: now.model_copy(update={"cues": [shots.new_cue("sketch", upload, "shapes")]}))
    cue = boards.cue_of(recipe(db, shot))
    (piece,) = boards.pieces_of(db, recipe(db, shot), cue).pieces
    assert (piece.kind, piece.size) == ("picture", (512.0, 640.0))  # type: ignore[union-attr]
    boards.keep(db, shot.id, np.zeros((640, 512, 4), np.uint8), BoardDocument(), upload, cue.id)  # type: ignore[union-attr]
    assert boards.pieces_of(db, recipe(db, shot), boards.cue_of(recipe(db, shot))).pieces == []


def test_painting_and_typing_at_once_merge(make_session: Sessions) -> None:
    with make_session.begin() as session:
        shot = lay_out(session)
        shown = recipe(session, shot)
    at_once(
        make_session,
        lambda s: keep(s, shot, 10),
        lambda s: drafts.save(s, shot.id, shown, shown.model_copy(update={"words": "a boy"})),
    )
    with make_session() as session:
        now = recipe(session, shot)
        assert now.words == "a boy"
        assert boards.cue_of(now) is not None


def test_what_is_said_of_a_shape_replaces_what_was_said_of_it(db: Session) -> None:
    shot = lay_out(db)
    keep(db, shot, 10)
    for kind in ("tree", "window"):
        boards.name_shape(db, shot.id, "", (0.2, 0.3), kind)  # type: ignore[arg-type]
    assert boards.cue_of(recipe(db, shot)).named == [(0.2, 0.3, "window")]  # type: ignore[union-attr]


def test_a_stage_keeps_board_words_and_seed_and_going_back_can_be_undone(db: Session) -> None:
    shot = lay_out(db)
    first = keep(db, shot, 10)
    kept = recipe(db, shot).model_copy(update={"seed": 77})
    image = np.full((80, 64, 3), 90, np.uint8)
    stage = stages.keep(db, shot.id, kept, image)
    assert stages.keep(db, shot.id, kept, image).id == stage.id
    later = keep(db, shot, 20, first)
    stages.back_to(db, stage.id)
    assert boards.cue_of(recipe(db, shot)).picture == first  # type: ignore[union-attr]
    assert stages.recipe_of(stages.find(db, stage.id)).seed == 77
    assert recipe(db, shot).seed != 77  # the table's own seed is no board's business
    drafts.walk(db, shot.id, -1)
    assert boards.cue_of(recipe(db, shot)).picture == later  # type: ignore[union-attr]
    with pytest.raises(NotFound):
        stages.find(db, stage.id + 1)


def test_poses_are_kept_one_for_each_person(db: Session) -> None:
    shot = lay_out(db)
    poses.keep(db, shot.id, [figure("waving"), figure("sitting", 1)], poses.state_of(recipe(db, shot)))
    there = poses.figures_of(db, recipe(db, shot))
    assert [f.figure for f in there] == [0, 1]
    poses.keep(db, shot.id, there[1:], poses.state_of(recipe(db, shot)))
    assert [f.cue for f in poses.figures_of(db, recipe(db, shot))] == [there[1].cue]
    with pytest.raises(ArtistError, match="one person"):
        poses.keep(db, shot.id, [figure("waving"), figure("sitting")], poses.state_of(recipe(db, shot)))


def test_of_two_who_drag_at_once_the_later_is_told(make_session: Sessions) -> None:
    with make_session.begin() as session:
        shot = lay_out(session)
        base = poses.state_of(recipe(session, shot))
    got = at_once(make_session, *[lambda s, n=n: poses.keep(s, shot.id, [figure(n)], base) for n in ("waving", "sitting")])
    assert sum(isinstance(one, PosesMoved) for one in got) == 1
    with make_session.begin() as session:
        poses.keep(session, shot.id, [figure("running")], base, over=True)
        assert len(poses.figures_of(session, recipe(session, shot))) == 1


def test_a_pose_is_fetched_onto_the_figure_whose_place_it_takes(db: Session) -> None:
    shot = lay_out(db)
    standing = figure("standing")
    small = standing.model_copy(update={"skeleton": [(0.4 + 0.3 * (x - 0.5), 0.5 + 0.3 * (y - 0.5)) for x, y in standing.skeleton]})  # type: ignore[misc]
    (leaping,) = poses.fitted(db, shot.id, PoseSource(book="leaping"), small, False, None)
    ys = [p[1] for p in leaping.skeleton if p is not None]
    assert 0.3 < min(ys) < max(ys) < 0.7
    pair = poses.fitted(db, shot.id, PoseSource(book="handing over"), small, False, None)
    assert [f.figure for f in pair] == [0, 1]
    (half,) = poses.fitted(db, shot.id, PoseSource(book="arms wide"), None, False, PoseSource(book="facing"))
    assert half.skeleton != leaping.skeleton
    with pytest.raises(NotFound):
        poses.fitted(db, shot.id, PoseSource(book="no such pose"), None, False, None)
    with pytest.raises(ArtistError, match="17 key points"):
        poses.fitted(db, shot.id, PoseSource(keypoints='{"keypoints": [1, 2, 3]}'), None, False, None)


def test_what_is_odd_about_poses_is_told_and_not_refused(db: Session) -> None:
    shot = lay_out(db)
    long = figure("facing").model_dump()
    long["skeleton"][7] = (1.4, 0.9)
    said = poses.told([PosedFigure.model_validate(long), figure("waving", 2)], recipe(db, shot))
    assert any("left wrist" in sentence for sentence in said)
    assert any("stands for nobody" in sentence for sentence in said)
    assert poses.told([figure("facing")], recipe(db, shot)) == []
    two = recipe(db, shot).model_copy(update={"regions": [Region(mask="a" * 64, words="two women")]})
    assert poses.told([figure("facing"), figure("facing", 1)], two) == []


def test_own_poses_come_into_the_book_and_back_into_it(db: Session) -> None:
    shot = lay_out(db)
    mine = poses.add_to_book(db, "my wave", "greeting, mine", [figure("waving")])
    assert [p.name for p in poses.own_poses(db)] == ["my wave"]
    (again,) = poses.fitted(db, shot.id, PoseSource(own=mine.id), None, False, None)
    assert np.allclose(np.array(again.skeleton, float), np.array(figure("waving").skeleton, float), atol=0.06)
    poses.take_out(db, mine.id)
    assert poses.own_poses(db) == []
    poses.take_out(db, mine.id, back=True)
    assert poses.own_poses(db)[0].tags == ["greeting", "mine"]
    for name, figures in (("", [figure("waving")]), ("empty", [])):
        with pytest.raises(ArtistError):
            poses.add_to_book(db, name, "", figures)

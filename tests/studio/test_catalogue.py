"""What an artist set up is renamed, put in order, doubled, removed and brought back; nothing is lost on the way."""

import pytest
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.studio import cast, catalogue, drafts, shots, stories, takes
from mosskeeper.studio.catalogue import KINDS
from mosskeeper.studio.models import Anchor, Outfit, Shot, Story, StoryScene
from tests.conftest import lay_out
from tests.studio.test_edits import at_once
from tests.studio.test_studio import made_takes

ALL = tuple(KINDS.values())


def ids(shot: Shot) -> dict[str, int]:
    return {
        "story": shot.story_id,
        "character": shot.character_id or 0,
        "outfit": shot.outfit_id or 0,
        "scene": shot.scene_id or 0,
        "shot": shot.id,
    }


@pytest.mark.statistics
@pytest.mark.parametrize("kind", ALL, ids=lambda k: k.name)
def test_everything_is_renamed_and_the_given_words_follow(db: Session, kind: catalogue.ItemKind) -> None:
    shot = lay_out(db)
    catalogue.edit(db, kind, ids(shot)[kind.name], "  Renamed ", "in other words")
    db.expire_all()
    assert catalogue.find(db, kind, ids(shot)[kind.name]).name == "Renamed"
    given = drafts.of_shot(shot).given
    assert ("in other words" in given) == (kind.name in ("character", "outfit", "scene"))


@pytest.mark.parametrize("kind", ALL, ids=lambda k: k.name)
def test_a_name_that_cannot_be_used_changes_nothing(db: Session, kind: catalogue.ItemKind) -> None:
    shot = lay_out(db)
    before = catalogue.find(db, kind, ids(shot)[kind.name]).name
    for name in ("", "x" * 161, "a\x00b"):
        with pytest.raises(ArtistError):
            catalogue.edit(db, kind, ids(shot)[kind.name], name, "")
    assert catalogue.find(db, kind, ids(shot)[kind.name]).name == before


@pytest.mark.parametrize("kind", ALL, ids=lambda k: k.name)
def test_what_is_removed_is_gone_from_its_page_and_comes_back_as_it_was(db: Session, kind: catalogue.ItemKind) -> None:
    shot = lay_out(db)
    story_id, item_id = shot.story_id, ids(shot)[kind.name]

    def seen() -> tuple[object, ...]:
        db.expire_all()
        board = stories.board(db, story_id)
        return (
            [story.id for story in stories.all_of_them(db)],
            [(character.name, outfit.name if outfit else None) for character, outfit in board.columns],
            [(scene.name, [[cell.shot.id for cell in cells] for cells in row]) for scene, row in board.rows],
            [cell.shot.id for cell in board.free],
        )

    before = seen()
    catalogue.remove(db, kind, item_id)
    assert seen() != before
    told = catalogue.removed_stories(db) if kind.name == "story" else catalogue.removed_of(db, story_id)
    assert [(one.kind, one.id) for one in told] == [(kind.name, item_id)]
    catalogue.bring_back(db, kind, item_id)
    assert seen() == before


@pytest.mark.parametrize("name", ["character", "outfit", "scene"])
def test_a_shot_keeps_what_was_removed_and_stands_among_the_free_ones_meanwhile(db: Session, name: str) -> None:
    shot = lay_out(db)
    given = drafts.of_shot(shot).given
    item = catalogue.remove(db, KINDS[name], ids(shot)[name])
    assert "1 shot has it and keeps it" in catalogue.uses(db, item)
    board = stories.board(db, shot.story_id)
    assert [cell.shot.id for cell in board.free] == [shot.id]
    assert drafts.of_shot(shot).given == given


def test_what_nobody_uses_says_so(db: Session) -> None:
    shot = lay_out(db)
    other = cast.add_scene(db, shot.story_id, "quay")
    assert catalogue.uses(db, other) == ""


def test_things_are_moved_among_their_like_and_new_ones_stand_last(db: Session) -> None:
    shot = lay_out(db)
    for name in ("b", "c", "d"):
        cast.add_scene(db, shot.story_id, name)

    def order() -> list[str]:
        db.expire_all()
        return [scene.name for scene in db.get_one(Story, shot.story_id).scenes]

    assert order() == ["Bell tower", "b", "c", "d"]
    d = db.get_one(Story, shot.story_id).scenes[3].id
    catalogue.move(db, KINDS["scene"], d, -1)
    assert order() == ["Bell tower", "b", "d", "c"]
    catalogue.move(db, KINDS["scene"], shot.scene_id or 0, -1)  # the first stays the first
    catalogue.move(db, KINDS["scene"], shot.scene_id or 0, 1)
    assert order() == ["b", "Bell tower", "d", "c"]
    cast.add_scene(db, shot.story_id, "e")
    assert order()[-1] == "e"


def test_two_moves_at_once_leave_everything_there_once(make_session: sessionmaker[Session]) -> None:
    with make_session.begin() as session:
        shot = lay_out(session)
        made = [cast.add_scene(session, shot.story_id, name).id for name in "abcd"]
    for _ in range(4):
        at_once(
            make_session,
            lambda s: catalogue.move(s, KINDS["scene"], made[0], 1),
            lambda s: catalogue.move(s, KINDS["scene"], made[3], -1),
        )
    with make_session() as session:
        scenes = session.get_one(Story, shot.story_id).scenes
        assert sorted(scene.id for scene in scenes) == sorted([shot.scene_id, *made])
        assert len({scene.position for scene in scenes}) == len(scenes)


def test_removing_and_renaming_at_once_do_both(make_session: sessionmaker[Session]) -> None:
    with make_session.begin() as session:
        shot = lay_out(session)
    scene = shot.scene_id or 0
    at_once(
        make_session,
        lambda s: catalogue.remove(s, KINDS["scene"], scene),
        lambda s: catalogue.edit(s, KINDS["scene"], scene, "quay", "at the quay"),
    )
    with make_session() as session:
        now = session.get_one(StoryScene, scene)
        assert now.removed_at is not None
        assert now.name == "quay"
        assert "at the quay" in shots.draft(shots.find(session, shot.id)).given


def test_a_doubled_shot_has_its_table_and_no_takes(db: Session) -> None:
    take = made_takes(db)[0]
    shot = shots.find(db, take.shot_id)
    copy = catalogue.duplicate(db, KINDS["shot"], shot.id)
    assert isinstance(copy, Shot)
    assert (drafts.of_shot(copy), copy.scene_id, copy.character_id) == (drafts.of_shot(shot), shot.scene_id, shot.character_id)
    assert takes.of_shot(db, copy.id) == []
    drafts.edit(db, copy.id, lambda now: now.model_copy(update={"steps": 9}))
    assert drafts.of_shot(shot).steps != 9


def test_a_doubled_character_has_outfits_and_anchors_of_its_own(db: Session) -> None:
    take = takes.find(db, made_takes(db)[0].id)
    anchor = cast.make_anchor(db, take, lead=True)
    copy = catalogue.duplicate(db, KINDS["character"], anchor.character_id)
    db.expire_all()
    own = cast.find(db, copy.id)
    assert [outfit.name for outfit in own.outfits] == ["tunic"]
    assert own.lead is not None and own.lead.picture_sha256 == anchor.picture_sha256
    catalogue.edit(db, KINDS["outfit"], own.outfits[0].id, "coat", "a red coat")
    assert db.get_one(Outfit, take.shot.outfit_id).name == "tunic"


def test_a_story_is_not_doubled_and_an_unknown_kind_is_told(db: Session) -> None:
    with pytest.raises(NotFound, match="A backup keeps all of it"):
        catalogue.duplicate(db, KINDS["story"], lay_out(db).story_id)
    with pytest.raises(NotFound, match="nothing called “ship”"):
        catalogue.kind_of("ship")


def test_an_anchor_that_was_let_go_comes_back_and_leads_only_where_no_other_does(db: Session) -> None:
    newer, older = (takes.find(db, t.id) for t in made_takes(db))
    first, second = cast.make_anchor(db, older, lead=True), cast.make_anchor(db, newer, lead=False)
    cast.let_go(db, first.id)
    assert [anchor.id for anchor in cast.anchors(db, first.character_id)] == [second.id]
    assert [anchor.id for anchor in cast.let_go_of(db, first.character_id)] == [first.id]
    cast.bring_anchor_back(db, first.id)
    db.expire_all()
    assert {anchor.id: anchor.lead for anchor in cast.anchors(db, first.character_id)} == {first.id: False, second.id: True}
    for anchor_id in (first.id, second.id):
        cast.let_go(db, anchor_id)
    cast.bring_anchor_back(db, first.id)
    assert db.get_one(Anchor, first.id).lead

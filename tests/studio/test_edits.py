"""Edits that meet: two sessions on two connections, in every order that matters."""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from threading import Barrier, Event

import numpy as np
import pytest
from sqlalchemy import func, select
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.studio import cast, catalogue, drafts, library, pictures, presets, runs, shots, takes, working
from mosskeeper.studio.models import Anchor, Character, Draft, Entry, Preset, Shot, Take
from tests.conftest import SMALL, lay_out
from tests.studio.test_studio import IMAGE

Sessions = sessionmaker[Session]


@pytest.fixture
def shot(make_session: Sessions) -> Shot:
    with make_session.begin() as session:
        return lay_out(session)


def recipe(make_session: Sessions, shot: Shot) -> Recipe:
    with make_session() as session:
        return drafts.of_shot(shots.find(session, shot.id))


def save(make_session: Sessions, shot: Shot, base: Recipe, page: str = "", **changes: object) -> tuple[str, ...]:
    """The fields that clashed."""
    with make_session.begin() as session:
        _, clashes = drafts.save(session, shot.id, base, base.model_copy(update=changes), page)
        return tuple(clash.field for clash in clashes)


def stored(make_session: Sessions, grey: int) -> str:
    with make_session.begin() as session:
        return pictures.store(session, np.full((40, 32, 3), grey, np.uint8), f"grey {grey}", "upload").sha256


def at_once(make_session: Sessions, *acts: Callable[[Session], object]) -> list[object]:
    """Carries out acts in sessions of their own that begin together; what each gave, or raised."""
    together = Barrier(len(acts))

    def carry_out(act: Callable[[Session], object]) -> object:
        try:
            with make_session.begin() as session:
                session.scalar(select(1))
                together.wait()
                return act(session)
        except ArtistError as error:
            return error

    with ThreadPoolExecutor(len(acts)) as pool:
        return list(pool.map(carry_out, acts))


# -- the recipe ------------------------------------------------------------------------------------------------


def test_edits_of_different_things_on_one_draft_both_stand(make_session: Sessions, shot: Shot) -> None:
    seen = recipe(make_session, shot)
    assert save(make_session, shot, seen, "a", words="a girl with a kite") == ()
    assert save(make_session, shot, seen, "b", guidance=3.0) == ()
    now = recipe(make_session, shot)
    assert (now.words, now.guidance) == ("a girl with a kite", 3.0)


def test_edits_of_one_thing_clash_the_rest_is_saved_and_theirs_stays(make_session: Sessions, shot: Shot) -> None:
    seen = recipe(make_session, shot)
    save(make_session, shot, seen, "a", words="first tab")
    with make_session.begin() as session:
        mine = seen.model_copy(update={"words": "second tab", "steps": 9})
        _, (clash,) = drafts.save(session, shot.id, seen, mine, "b")
    assert (clash.field, clash.mine, clash.theirs) == ("words", "second tab", "first tab")
    assert (recipe(make_session, shot).words, recipe(make_session, shot).steps) == ("first tab", 9)


def test_a_page_never_clashes_with_itself_when_an_answer_got_lost(make_session: Sessions, shot: Shot) -> None:
    seen = recipe(make_session, shot)
    save(make_session, shot, seen, "a", words="a girl")
    assert save(make_session, shot, seen, "a", words="a girl with a kite") == ()
    assert recipe(make_session, shot).words == "a girl with a kite"
    save(make_session, shot, recipe(make_session, shot), "b", words="by another")
    assert save(make_session, shot, seen, "a", words="late") == ("words",)


def test_a_save_with_the_old_sheet_does_not_take_a_cue_away_that_came_meanwhile(make_session: Sessions, shot: Shot) -> None:
    seen, name = recipe(make_session, shot), stored(make_session, 90)
    with make_session.begin() as session:
        shots.add_cue(session, shot.id, name, "study")
    save(make_session, shot, seen, "a", words="typed before the cue came")
    now = recipe(make_session, shot)
    assert ([cue.picture for cue in now.cues], now.words) == ([name], "typed before the cue came")


def test_a_save_waits_for_one_that_is_under_way_and_reads_what_that_wrote(make_session: Sessions, shot: Shot) -> None:
    """The session has read the shot before: its lock must not give the older state back."""
    begun, read = Event(), Event()
    name = stored(make_session, 60)

    def first() -> None:
        with make_session.begin() as session:
            shots.add_cue(session, shot.id, name, "study")
            begun.set()
            read.wait()

    def second() -> None:
        with make_session.begin() as session:
            seen = drafts.of_shot(shots.find(session, shot.id))
            begun.wait()
            read.set()
            drafts.save(session, shot.id, seen, seen.model_copy(update={"guidance": 3.0}), "b")

    with ThreadPoolExecutor(2) as pool:
        for done in [pool.submit(first), pool.submit(second)]:
            done.result(20)
    now = recipe(make_session, shot)
    assert (len(now.cues), now.guidance) == (1, 3.0)


def test_many_edits_at_once_are_all_there_and_numbered_one_by_one(make_session: Sessions, shot: Shot) -> None:
    seen = recipe(make_session, shot)
    changes = [{"words": "a boy"}, {"negative": "rain"}, {"steps": 9}, {"guidance": 4.0}, {"count": 3}, {"styles": ["chalk"]}]

    def act(change: dict[str, object]) -> Callable[[Session], object]:
        return lambda session: drafts.save(session, shot.id, seen, seen.model_copy(update=change), "p")

    at_once(make_session, *map(act, changes))
    now = recipe(make_session, shot)
    assert all(getattr(now, name) == value for change in changes for name, value in change.items())
    with make_session() as session:
        numbers = session.scalars(select(Draft.number).where(Draft.shot_id == shot.id).order_by(Draft.number)).all()
    assert numbers == list(range(1, len(changes) + 2))


def test_a_weight_drawn_while_another_cue_is_removed_hits_its_own_cue(make_session: Sessions, shot: Shot) -> None:
    names = [stored(make_session, grey) for grey in (30, 60, 90)]
    for name in names:
        with make_session.begin() as session:
            shots.add_cue(session, shot.id, name)
    seen = recipe(make_session, shot)
    with make_session.begin() as session:
        shots.remove_cue(session, shot.id, seen.cues[0].id)
    dragged = [cue.model_copy(update={"weight": 0.9}) if cue.picture == names[2] else cue for cue in seen.cues]
    assert save(make_session, shot, seen, "a", cues=dragged) == ()
    assert {cue.picture: cue.weight for cue in recipe(make_session, shot).cues} == {names[1]: 0.8, names[2]: 0.9}


def test_a_weight_drawn_on_a_cue_that_was_taken_off_is_told(make_session: Sessions, shot: Shot) -> None:
    with make_session.begin() as session:
        shots.add_cue(session, shot.id, stored(make_session, 30), "study")
    seen = recipe(make_session, shot)
    with make_session.begin() as session:
        shots.remove_cue(session, shot.id, seen.cues[0].id)
    (clash,) = save(make_session, shot, seen, "a", cues=[seen.cues[0].model_copy(update={"weight": 0.9})])
    assert clash == f"cue-{seen.cues[0].id}"
    assert recipe(make_session, shot).cues == []


def test_two_cues_added_at_once_are_both_on_the_sheet_with_ids_of_their_own(make_session: Sessions, shot: Shot) -> None:
    one, two = stored(make_session, 30), stored(make_session, 60)
    at_once(make_session, lambda s: shots.add_cue(s, shot.id, one), lambda s: shots.add_cue(s, shot.id, two))
    cues = recipe(make_session, shot).cues
    assert {cue.picture for cue in cues} == {one, two}
    assert len({cue.id for cue in cues}) == 2


def test_the_thirteenth_cue_is_refused_whoever_comes_first(make_session: Sessions, shot: Shot) -> None:
    name = stored(make_session, 30)
    with make_session.begin() as session:
        drafts.edit(session, shot.id, lambda now: now.model_copy(update={"cues": [Cue(picture=name, id=f"c{n}") for n in range(11)]}))
    told = at_once(make_session, *[lambda s: shots.add_cue(s, shot.id, name)] * 2)
    assert [isinstance(one, ArtistError) for one in told].count(True) == 1
    assert len(recipe(make_session, shot).cues) == 12


def test_overwriting_somebody_s_words_loses_nothing_of_them(make_session: Sessions, shot: Shot) -> None:
    """Both follow each other within seconds, and yet are two steps: undo goes back to the other's words."""
    seen = recipe(make_session, shot)
    save(make_session, shot, seen, "a", words="the other's long words")
    theirs = recipe(make_session, shot)
    assert save(make_session, shot, theirs, "b", words="mine over it") == ()
    with make_session.begin() as session:
        drafts.walk(session, shot.id, -1, "b")
    assert recipe(make_session, shot).words == "the other's long words"


def test_an_edit_after_undo_loses_nothing_that_was_undone(make_session: Sessions, shot: Shot) -> None:
    for words in ("first", "second"):
        save(make_session, shot, recipe(make_session, shot), words, words=words)
    with make_session.begin() as session:
        drafts.walk(session, shot.id, -1)
    save(make_session, shot, recipe(make_session, shot), "c", words="third")
    with make_session() as session:
        assert {"first", "second", "third"} <= {draft.body["words"] for draft in drafts.steps(session, shot.id)}


def test_undo_and_an_edit_at_once_leave_a_history_that_holds_together(make_session: Sessions, shot: Shot) -> None:
    save(make_session, shot, recipe(make_session, shot), "a", words="before")
    seen = recipe(make_session, shot)
    at_once(
        make_session,
        lambda s: drafts.walk(s, shot.id, -1, "a"),
        lambda s: drafts.save(s, shot.id, seen, seen.model_copy(update={"steps": 11}), "b"),
    )
    with make_session() as session:
        there = shots.find(session, shot.id)
        assert session.get_one(Draft, (shot.id, there.revision)).body == there.draft
    assert 11 in [draft_steps(make_session, shot), recipe(make_session, shot).steps]


def draft_steps(make_session: Sessions, shot: Shot) -> int:
    with make_session() as session:
        return max(draft.body["steps"] for draft in drafts.steps(session, shot.id))


def test_old_drafts_inside_of_a_step_are_thinned_out_and_undo_still_walks(make_session: Sessions, shot: Shot) -> None:
    from datetime import timedelta

    before = recipe(make_session, shot).words
    for words in ("a", "a g", "a girl"):
        save(make_session, shot, recipe(make_session, shot), "a", words=words)
    with make_session.begin() as session:
        drafts.thin_out(session, timedelta(0))
        assert session.scalar(select(func.count()).select_from(Draft).where(Draft.shot_id == shot.id)) == 2
        drafts.walk(session, shot.id, -1)
    assert recipe(make_session, shot).words == before


# -- everything else that reads and then writes ------------------------------------------------------------------


def made_takes(make_session: Sessions, shot: Shot, n: int = 3) -> list[Take]:
    with make_session.begin() as session:
        run = runs.create(session, shots.find(session, shot.id), SMALL.model_copy(update={"count": n}))
        for place, seed in enumerate(run.seeds):
            working.store_take(session, run.id, place, seed, IMAGE + place, 1.0)
        return takes.of_shot(session, shot.id)


def test_of_takes_kept_at_once_one_is_kept(make_session: Sessions, shot: Shot) -> None:
    made = made_takes(make_session, shot)
    told = at_once(make_session, *[lambda s, t=take: takes.keep(s, t.id) for take in made])  # type: ignore[misc]
    assert not any(isinstance(one, Exception) for one in told)
    with make_session() as session:
        assert sum(take.kept for take in takes.of_shot(session, shot.id)) == 1


def test_keeping_and_putting_aside_at_once_never_leaves_a_take_both(make_session: Sessions, shot: Shot) -> None:
    take = made_takes(make_session, shot, 1)[0]
    for _ in range(5):
        at_once(make_session, lambda s: takes.keep(s, take.id), lambda s: takes.put_aside(s, take.id, True))
        with make_session() as session:
            now = takes.find(session, take.id)
            assert not (now.kept and now.put_aside)


def test_of_anchors_made_the_lead_at_once_one_leads(make_session: Sessions, shot: Shot) -> None:
    made = made_takes(make_session, shot)
    at_once(make_session, *[lambda s, t=take: cast.make_anchor(s, takes.find(s, t.id), lead=True) for take in made])  # type: ignore[misc]
    with make_session() as session:
        anchors = session.scalars(select(Anchor)).all()
    assert (len(anchors), sum(anchor.lead for anchor in anchors)) == (len(made), 1)


def test_letting_the_lead_go_while_another_is_made_the_lead_leaves_one(make_session: Sessions, shot: Shot) -> None:
    made = made_takes(make_session, shot)
    with make_session.begin() as session:
        anchors = [cast.make_anchor(session, takes.find(session, take.id), lead=n == 0) for n, take in enumerate(made)]
        ids = [anchor.id for anchor in anchors]
    at_once(make_session, lambda s: cast.let_go(s, ids[0]), lambda s: cast.lead(s, ids[2]))
    with make_session() as session:
        assert session.scalars(select(Anchor.id).where(Anchor.lead)).all() == [ids[2]]


def test_of_presets_saved_under_one_name_at_once_one_stands_and_the_other_is_put_aside(make_session: Sessions, shot: Shot) -> None:
    at_once(make_session, *[lambda s, n=n: presets.save(s, "Misty", SMALL.model_copy(update={"steps": 6 + n}), None) for n in range(3)])  # type: ignore[misc]
    with make_session() as session:
        there = session.scalars(select(Preset)).all()
    assert (len(there), sum(preset.removed_at is None for preset in there)) == (3, 1)


def test_a_picture_taken_out_of_the_library_while_it_is_named_is_out_and_named(make_session: Sessions, shot: Shot) -> None:
    with make_session.begin() as session:
        entry = library.add(session, stored(make_session, 50), "upload", "study", shot.story_id)
    at_once(make_session, lambda s: library.remove(s, [entry.id]), lambda s: library.describe(s, entry.id, "renamed", "a, b", ""))
    with make_session() as session:
        now = session.get_one(Entry, entry.id)
    assert now.removed_at is not None
    assert (now.name, now.tags) == ("renamed", ["a", "b"])


def test_traits_re_worded_while_a_shot_is_edited_leave_both(make_session: Sessions, shot: Shot) -> None:
    seen = recipe(make_session, shot)
    at_once(
        make_session,
        lambda s: catalogue.edit(s, catalogue.KINDS["character"], shot.character_id or 0, "Ada Reed", "girl, green eyes"),
        lambda s: drafts.save(s, shot.id, seen, seen.model_copy(update={"words": "running"}), "a"),
    )
    now = recipe(make_session, shot)
    assert now.words == "running"
    assert now.given.startswith("Ada Reed, girl, green eyes")


def test_what_can_be_stored_can_be_used(make_session: Sessions, shot: Shot) -> None:
    """Traits, outfit and scene as long as they may be make given words that a recipe takes."""
    with make_session.begin() as session:
        catalogue.edit(session, catalogue.KINDS["character"], shot.character_id or 0, "A" * 160, "t" * 1000)
        outfit = cast.add_outfit(session, shot.character_id or 0, "coat", "w" * 1000)
        scene = cast.add_scene(session, shot.story_id, "quay", "s" * 1000)
        shots.recast(session, shot.id, scene.id, shot.character_id, outfit.id)
    assert save(make_session, shot, recipe(make_session, shot), "a", words="running") == ()
    assert len(recipe(make_session, shot).given) > 3000


@pytest.mark.parametrize(
    "act",
    [
        lambda s, c: catalogue.edit(s, catalogue.KINDS["character"], c.id, "Ada", "t" * 1001),
        lambda s, c: cast.add_character(s, c.story_id, "n" * 161),
        lambda s, c: cast.add_outfit(s, c.id, "coat", "w" * 1001),
        lambda s, c: cast.add_scene(s, c.story_id, "quay", "a\x00b"),
        lambda s, c: presets.save(s, "\x1b[0m", SMALL, None),
    ],
)
def test_what_cannot_be_used_is_not_stored_and_told(db: Session, act: Callable[[Session, Character], object]) -> None:
    character = db.get_one(Character, lay_out(db).character_id)
    with pytest.raises(ArtistError, match=r"at most|control character"):
        act(db, character)


def test_tags_that_are_added_to_several_pictures_at_once_are_all_there(make_session: Sessions) -> None:
    with make_session.begin() as session:
        entries = [library.add(session, name, "upload", "study", None).id for name in (stored(make_session, n) for n in (41, 42, 43))]
    at_once(
        make_session, *[lambda s, ids=ids, tag=tag: library.tag_all(s, ids, tag) for ids, tag in ((entries, "wet"), (entries[::-1], "dry"))]
    )  # type: ignore[misc]
    with make_session() as session:
        assert [sorted(library.find(session, n).tags) for n in entries] == [["dry", "wet"]] * 3

"""Mends through the use cases: chosen, made, accepted, stacked, redone, taken along, and two who do it at once."""

import io
import random
import secrets
import zipfile
from dataclasses import replace

import numpy as np
import pytest
from bench.mends import worked
from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.errors import ArtistError, BadRecipe
from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.illustrator.scene import scene_of
from mosskeeper.core.pictures.decode import decode
from mosskeeper.core.stack import Mend, StackSettings
from mosskeeper.core.takes.take import make_take
from mosskeeper.formats.stack_file import stack_inside, with_stack
from mosskeeper.queue import mending
from mosskeeper.queue.app import queue_app
from mosskeeper.studio import (
    canvases,
    carrying,
    cast,
    choosing,
    drafts,
    explaining,
    lineage,
    maps,
    masks,
    mends,
    offers,
    pictures,
    runs,
    stacks,
    takes,
    working,
)
from mosskeeper.studio.masks import MaskMoved
from mosskeeper.studio.models import Shot, Take, Variant
from tests.conftest import lay_out
from tests.studio.test_edits import at_once

Sessions = sessionmaker[Session]
SCENES = LayeredScenes.of(
    [
        scene_of(
            Description(subject="girl", hair="bun", outfit="festival coat", place="bell tower", layout=Layout("waving", "half")), (256, 320)
        )
    ]
)
PICTURE = SCENES.drawn().image


def based(session: Session) -> tuple[Shot, str]:
    """A shot, and a picture in it that was drawn here."""
    shot = lay_out(session)
    sha256 = pictures.store(session, PICTURE, "take", "take").sha256
    explaining.note(session, sha256, SCENES)
    maps.make(session, choosing.key_of(sha256))
    return shot, sha256


def laid(session: Session, shot: Shot, base: str, key: str = "1 hair", **told: object) -> tuple[int, str]:
    """A mend on a picture, chosen by name; its stack and id."""
    row = stacks.opened(session, shot.id, base)
    mend = stacks.add(session, row.id)
    if mends.standing_of(session, row.id).height(mend).on is not None:
        on = mends.standing_of(session, row.id).height(mend).on
        assert on is not None
        maps.make(session, choosing.key_of(on))
        masks.choose(session, row.id, mend, [key], "only")
    stacks.edit_mend(session, row.id, mend, lambda one: Mend.model_validate(one.model_dump() | told))
    return row.id, mend


def run_of(session: Session, stack: int, mend: str) -> list[Variant]:
    shot, recipe = mends.asked(session, stack, mend)
    return worked(session, runs.create(session, shot, recipe, (), runs.OfMend(stack, mend)))


def redone(session: Session, stack: int) -> int:
    """Redoes from the lowest up, as workers do; how many were made."""
    count = 0
    while (found := mends.to_redo(session, stack)) is not None:
        shot, recipe, mend = found
        worked(session, runs.create(session, shot, recipe, (), runs.OfMend(stack, mend, True)))
        count += 1
    return count


def test_looking_at_a_picture_without_mends_writes_nothing(db: Session) -> None:
    shot, base = based(db)
    seen = mends.standing(db, shot.id, base)
    assert (seen.row, seen.stack.mends, seen.top) == (None, [], base)
    assert stacks.known(db, shot.id, base) is None


def test_a_mend_is_chosen_made_accepted_and_the_picture_outside_stays(db: Session) -> None:
    shot, base = based(db)
    stack, mend = laid(db, shot, base, words="silver curls", outlines=False, count=2)
    assert mends.standing_of(db, stack).height(mend).mend.told[0].endswith("hair")
    first, second = run_of(db, stack, mend)
    assert first.says
    assert mends.standing_of(db, stack).top == base  # nothing is accepted yet
    mends.accept(db, stack, second.id)
    seen = mends.standing_of(db, stack)
    assert seen.top == second.picture_sha256
    outside = ~masks.mask_of(db, seen.height(mend).mend, (256, 320))
    assert np.array_equal(pictures.pixels(db, second.picture_sha256)[outside], PICTURE[outside])
    assert [v.id for v in mends.variants(db, seen.row, mend)] == [first.id, second.id]


@pytest.mark.statistics
def test_takes_of_the_shot_are_not_made_by_mends_until_one_is_put_on_the_board(db: Session) -> None:
    shot, base = based(db)
    stack, mend = laid(db, shot, base, words="a hat", count=1)
    with pytest.raises(ArtistError, match="accepted"):
        mends.as_take(db, stack)
    (variant,) = run_of(db, stack, mend)
    assert takes.of_shot(db, shot.id) == []
    assert runs.current(db, shot.id) is None
    mends.accept(db, stack, variant.id)
    take, fresh = mends.as_take(db, stack)
    assert (take.picture_sha256, fresh, mends.as_take(db, stack)[1]) == (variant.picture_sha256, True, False)
    recipe = takes.recipe_of(take)
    assert recipe.source is not None
    assert (recipe.words, recipe.source.picture) == ("a hat", base)
    again = make_take(recipe, take.seed, working.cue_pixels(db, recipe), explained=explaining.of_recipe(db, recipe))
    assert np.array_equal(again.image, pictures.pixels(db, take.picture_sha256))
    assert base in lineage.sources(recipe)


@pytest.mark.statistics
def test_a_lower_mend_reworded_leaves_the_upper_ones_to_be_redone(db: Session) -> None:
    shot, base = based(db)
    stack, hair = laid(db, shot, base, words="silver hair", count=1)
    mends.accept(db, stack, run_of(db, stack, hair)[0].id)
    _, glasses = laid(db, shot, base, "1 face", words="glasses", count=1)
    mends.accept(db, stack, run_of(db, stack, glasses)[0].id)
    before = mends.standing_of(db, stack).top
    stacks.edit_mend(db, stack, hair, lambda one: one.model_copy(update={"words": "moss green hair"}))
    seen = mends.standing_of(db, stack)
    assert [h.pending for h in seen.heights] == [True, True]
    with pytest.raises(ArtistError, match="mend below"):
        mends.asked(db, stack, glasses)
    assert redone(db, stack) == 2
    after = mends.standing_of(db, stack)
    assert after.top not in (None, before)
    scenes = explaining.of_picture(db, str(after.top))
    assert scenes is not None
    assert scenes.scene.description.glasses
    stacks.walk(db, stack, True)  # what was made before is not made again
    assert (mends.standing_of(db, stack).top, redone(db, stack)) == (before, 0)


@pytest.mark.statistics
def test_a_hidden_mend_and_a_changed_order_are_exact_again_without_new_work(db: Session) -> None:
    shot, base = based(db)
    stack, hair = laid(db, shot, base, words="silver hair", count=1)
    mends.accept(db, stack, run_of(db, stack, hair)[0].id)
    both = mends.standing_of(db, stack).top
    stacks.edit_mend(db, stack, hair, lambda one: one.model_copy(update={"shown": False}))
    assert mends.standing_of(db, stack).top == base
    stacks.edit_mend(db, stack, hair, lambda one: one.model_copy(update={"shown": True}))
    assert mends.standing_of(db, stack).top == both
    stacks.edit(db, stack, lambda one: one.changed(mends=[]))
    assert mends.standing_of(db, stack).top == base
    stacks.walk(db, stack, True)
    assert mends.standing_of(db, stack).top == both


def test_typing_is_one_step_and_acts_are_steps_of_their_own(db: Session) -> None:
    shot, base = based(db)
    row = stacks.opened(db, shot.id, base)
    mend = stacks.add(db, row.id)
    for words in ("a", "a h", "a hat"):
        stacks.edit_mend(db, row.id, mend, lambda one, words=words: one.model_copy(update={"words": words}), "page", "words")  # type: ignore[misc]
    masks.choose(db, row.id, mend, ["1 hair"], "only", "page")
    assert stacks.can_walk(db, row) == (True, False)
    stacks.walk(db, row.id, True)
    seen = stacks.stack_of(db, stacks.find(db, row.id)).mend(mend)
    assert seen is not None
    assert (seen.words, seen.mask) == ("a hat", None)
    stacks.walk(db, row.id, True)
    seen = stacks.stack_of(db, stacks.find(db, row.id)).mend(mend)
    assert seen is not None
    assert seen.words == ""
    assert stacks.can_walk(db, stacks.find(db, row.id)) == (True, True)


def test_masks_grow_turn_over_and_follow_a_colour(db: Session) -> None:
    shot, base = based(db)
    stack, mend = laid(db, shot, base)

    def mask() -> np.ndarray:
        return masks.mask_of(db, mends.standing_of(db, stack).height(mend).mend, (256, 320))

    hair = mask()
    masks.act_on_mask(db, stack, mend, "grow", 5)
    assert mask().sum() > hair.sum()
    masks.act_on_mask(db, stack, mend, "turn over", 0)
    assert not (mask() & hair).any()
    y, x = np.argwhere(hair)[len(np.argwhere(hair)) // 2]
    masks.choose_alike(db, stack, mend, (int(x), int(y)), 14, "only")
    assert mask()[y, x]
    with pytest.raises(ArtistError, match="beside the picture"):
        masks.choose_alike(db, stack, mend, (400, 10), 14, "only")
    with pytest.raises(ArtistError, match="not seen"):
        masks.choose(db, stack, mend, ["7 hair"], "add")
    with pytest.raises(ArtistError, match="px, the picture"):
        masks.keep_mask(db, stack, mend, np.ones((10, 10), bool), "", over=True)


def test_a_mend_without_mask_is_not_run_and_an_empty_one_is_told(db: Session) -> None:
    shot, base = based(db)
    row = stacks.opened(db, shot.id, base)
    mend = stacks.add(db, row.id)
    with pytest.raises(ArtistError, match="Nothing is chosen"):
        mends.asked(db, row.id, mend)
    masks.keep_mask(db, row.id, mend, np.zeros((320, 256), bool), "")
    one = mends.standing_of(db, row.id).height(mend).mend
    assert (one.mask, "nothing is chosen" in one.told[0]) == (None, True)


def test_quick_mends_are_chosen_and_worded(db: Session) -> None:
    shot, base = based(db)
    row = stacks.opened(db, shot.id, base)
    mend = offers.quick(db, row.id, "1 hat on")
    one = mends.standing_of(db, row.id).height(mend).mend
    assert (one.words, one.mask is not None, "Ada Reed" in one.told[0]) == ("a hat", True, True)
    with pytest.raises(ArtistError, match="not offered"):
        offers.quick(db, row.id, "1 hat off")


def test_a_large_picture_is_worked_on_at_a_size_that_fits(db: Session) -> None:
    shot = lay_out(db)
    large = pictures.store(db, np.full((2400, 3000, 3), 120, np.uint8), "large", "upload").sha256
    row = stacks.opened(db, shot.id, large)
    stack = stacks.stack_of(db, row)
    assert (stack.size, stack.base != large) == ((1280, 1024), True)
    assert stacks.opened(db, shot.id, large).id == row.id


@pytest.mark.statistics
def test_two_at_once_begin_one_stack(make_session: Sessions) -> None:
    with make_session.begin() as session:
        shot, base = based(session)
    rows = at_once(make_session, *[lambda s: stacks.opened(s, shot.id, base).id] * 2)
    assert rows[0] == rows[1]


@pytest.mark.statistics
def test_edits_of_two_mends_at_once_both_stand_and_of_one_mask_the_second_is_told(make_session: Sessions) -> None:
    with make_session.begin() as session:
        shot, base = based(session)
        stack, first = laid(session, shot, base)
        second = stacks.add(session, stack)
        mask = mends.standing_of(session, stack).height(first).mend.mask or ""

    def word(mend: str, words: str):  # type: ignore[no-untyped-def]
        return lambda s: stacks.edit_mend(s, stack, mend, lambda one: one.model_copy(update={"words": words}))

    at_once(make_session, word(first, "silver"), word(second, "a hat"))
    with make_session() as session:
        assert [m.words for m in stacks.stack_of(session, stacks.find(session, stack)).mends] == ["silver", "a hat"]

    def paint(row: int):  # type: ignore[no-untyped-def]
        drawn = np.zeros((320, 256), bool)
        drawn[row : row + 30, 40:90] = True
        return lambda s: masks.keep_mask(s, stack, first, drawn, mask)

    found = at_once(make_session, paint(10), paint(200))
    assert sum(isinstance(one, MaskMoved) for one in found) == 1


def test_of_two_workers_with_one_variant_it_is_stored_once(make_session: Sessions) -> None:
    with make_session.begin() as session:
        shot, base = based(session)
        stack, mend = laid(session, shot, base, words="a hat", count=1)
        owner, recipe = mends.asked(session, stack, mend)
        run = runs.create(session, owner, recipe, (), runs.OfMend(stack, mend)).id
    store = lambda s: mends.store_variant(s, run, 0, 5, PICTURE, 1.0, SCENES, ("done",)).id  # noqa: E731
    ids = at_once(make_session, store, store)
    assert ids[0] == ids[1]


def test_a_run_cut_off_makes_only_what_is_missing(db: Session) -> None:
    shot, base = based(db)
    stack, mend = laid(db, shot, base, words="a hat", count=3)
    owner, recipe = mends.asked(db, stack, mend)
    run = runs.create(db, owner, recipe, (), runs.OfMend(stack, mend))
    begun = working.begin(db, run.id, "first")
    assert begun is not None
    mends.store_variant(db, run.id, 0, run.seeds[0], PICTURE, 1.0, None, ())
    assert working.died(db, run.id)
    begun = working.begin(db, run.id, "second")
    assert begun is not None
    assert [one.place for one in begun.missing] == [1, 2]


@pytest.mark.statistics
def test_a_stack_taken_along_is_the_same_stack_elsewhere(db: Session) -> None:
    shot, base = based(db)
    stack, mend = laid(db, shot, base, words="silver hair", count=1)
    mends.accept(db, stack, run_of(db, stack, mend)[0].id)
    seen = mends.standing_of(db, stack)
    file = with_stack(pictures.png(db, str(seen.top)), carrying.packed(db, seen))
    assert np.array_equal(decode(file).rgb_u8, pictures.pixels(db, str(seen.top)))
    other = lay_out(db)
    inside = stack_inside(file)
    assert inside is not None
    assert carrying.restored(db, other.id, inside) == base
    there = mends.standing(db, other.id, base)
    assert there.top == seen.top
    assert there.row is not None
    assert mends.to_redo(db, there.row.id) is None
    with pytest.raises(BadRecipe, match="damaged"):
        stack_inside(with_text(file, "{]"))
    assert stack_inside(pictures.png(db, base)) is None


def with_text(file: bytes, text: str) -> bytes:
    from PIL import Image, PngImagePlugin

    info = PngImagePlugin.PngInfo()
    info.add_itxt("mosskeeper:stack", text)
    out = io.BytesIO()
    Image.open(io.BytesIO(file)).save(out, "PNG", pnginfo=info)
    return out.getvalue()


@pytest.mark.statistics
def test_in_layers_each_mend_lies_over_what_it_changed(db: Session) -> None:
    shot, base = based(db)
    stack, mend = laid(db, shot, base, words="silver hair", count=1)
    mends.accept(db, stack, run_of(db, stack, mend)[0].id)
    seen = mends.standing_of(db, stack)
    with zipfile.ZipFile(io.BytesIO(carrying.layered(db, seen))) as file:
        assert (file.namelist()[0], file.read("mimetype")) == ("mimetype", b"image/openraster")
        below, above = (decode(file.read(f"data/layer{n}.png")) for n in (0, 1))
        merged = decode(file.read("mergedimage.png")).rgb_u8
    alpha = above.layers_u8[:, :, 3:] > 0
    assert np.array_equal(np.where(alpha, above.layers_u8[:, :, :3], below.rgb_u8), merged)
    assert np.array_equal(merged, pictures.pixels(db, str(seen.top)))


@pytest.mark.statistics
def test_a_variant_of_another_stack_is_not_accepted(db: Session) -> None:
    shot, base = based(db)
    stack, mend = laid(db, shot, base, words="a hat", count=1)
    (variant,) = run_of(db, stack, mend)
    other = stacks.opened(db, lay_out(db).id, base)
    with pytest.raises(ArtistError, match="not one of these"):
        mends.accept(db, other.id, variant.id)
    assert db.scalar(select(Take.id).limit(1)) is None


@pytest.mark.statistics
def test_what_was_mended_is_put_back_into_a_large_picture(db: Session) -> None:
    shot = lay_out(db)
    large = pictures.store(db, np.kron(PICTURE, np.ones((7, 9, 1), np.uint8)), "large", "upload").sha256
    stack = stacks.opened(db, shot.id, large).id
    mend = stacks.add(db, stack)
    (w, h) = mends.standing_of(db, stack).height(mend).size
    mask = np.zeros((h, w), bool)
    mask[h // 3 : h // 2, w // 10 : w // 4] = True
    masks.keep_mask(db, stack, mend, mask, "")
    stacks.edit_mend(db, stack, mend, lambda one: one.model_copy(update={"count": 1, "outlines": False}))
    mends.accept(db, stack, run_of(db, stack, mend)[0].id)
    whole = pictures.pixels(db, canvases.at_full_size(db, stack))
    before = pictures.pixels(db, large)
    assert whole.shape == before.shape == (2240, 2304, 3)
    changed = (whole != before).any(2)
    assert changed[800:1000, 300:500].any()
    assert not changed[:600].any()
    assert not changed[:, 800:].any()


@pytest.mark.statistics
def test_an_empty_canvas_is_a_scene_and_two_takes_are_joined(db: Session) -> None:
    shot, base = based(db)
    canvas = canvases.empty(db, shot.id)
    scenes = explaining.of_picture(db, canvas)
    assert scenes is not None
    assert (scenes.scene.absent, pictures.find(db, canvas).width) == ({0}, 256)
    other = pictures.store(db, PICTURE[:, ::-1].copy(), "other", "upload").sha256
    joined = pictures.pixels(db, canvases.joined(db, shot.id, canvases.Joining(base, [other], "right", 64, 0.5)))
    assert joined.shape == (320, 256 + 64 + 256, 3)
    assert np.array_equal(joined[:, :250], PICTURE[:, :250])
    three = canvases.Joining(base, [other, base], "below", 32, 0.0, ["", canvases.FIGURES, ""])
    assert pictures.pixels(db, canvases.joined(db, shot.id, three)).shape == (3 * 320 + 64, 256, 3)


@pytest.mark.statistics
def test_more_like_one_variant_is_near_to_it_and_is_made_again_by_its_recipe(db: Session, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(secrets, "randbelow", random.Random(5).randrange)  # of three fresh seeds all may be near by chance
    shot, base = based(db)
    stack, mend = laid(db, shot, base, "1 clothes", words="a festival coat", count=3)
    first = run_of(db, stack, mend)
    mends.other_seeds(db, stack, mend, first[0].id)
    near = run_of(db, stack, mend)[:3]

    def apart(variant: Variant) -> float:
        one, other = (pictures.pixels(db, v.picture_sha256).astype(int) for v in (first[0], variant))
        return float(np.abs(one - other).mean())

    assert min(apart(v) for v in near if v.run_id != first[0].run_id) < max(apart(v) for v in first[1:])
    mends.accept(db, stack, near[0].id)
    height = mends.standing_of(db, stack).height(mend)
    assert height.mend.near == first[0].seed and height.picture == near[0].picture_sha256
    with pytest.raises(ArtistError, match="not one of this mend"):
        mends.other_seeds(db, stack, stacks.add(db, stack), first[0].id)


def test_a_window_over_the_edge_is_a_mend_of_a_wider_canvas(db: Session) -> None:
    shot, base = based(db)
    row = stacks.opened(db, shot.id, base)
    mend = stacks.add(db, row.id)
    masks.tell(db, row.id, mend, {"wider": ["0", "0", "96", "0"], "window": ["220", "100", "120", "220"], "words": "a fox", "count": "1"})
    [variant] = run_of(db, row.id, mend)
    mends.accept(db, row.id, variant.id)
    made = mends.standing_of(db, row.id)
    assert made.top == variant.picture_sha256 and made.height(mend).mend.window == (220, 100, 120, 220)
    wide = pictures.pixels(db, variant.picture_sha256)
    assert wide.shape == (320, 352, 3) and np.array_equal(wide[:, :200], PICTURE[:, :200])
    with pytest.raises(ArtistError, match="number"):
        masks.tell(db, row.id, mend, {"window": ["a", "b", "c", "d"]})


def test_choices_are_kept_by_name_and_what_mends_lie_over_is_told(db: Session) -> None:
    shot, base = based(db)
    stack, mend = laid(db, shot, base, words="silver hair")
    masks.keep_choice(db, stack, mend, "her hair")
    other = stacks.add(db, stack)
    masks.choose(db, stack, other, ["kept her hair"], "only")
    one = mends.standing_of(db, stack).height(other).mend
    assert one.mask == mends.standing_of(db, stack).height(mend).mend.mask
    assert any("lies over “silver hair” by 100 %" in sentence for sentence in one.told)
    with pytest.raises(ArtistError, match="Name is missing"):
        masks.keep_choice(db, stack, mend, " ")


@pytest.mark.statistics
def test_what_strays_from_the_anchor_is_offered_by_one_press(db: Session) -> None:
    shot = lay_out(db)
    names = []
    for changes in ({"hair": "braid", "hair_colour": "copper"}, {"glasses": True, "hair": "curls", "hair_colour": "silver"}):
        scenes = LayeredScenes.of([scene_of(replace(SCENES.scene.description, layout=Layout(framing="close"), **changes), (512, 640))])  # type: ignore[arg-type]
        names.append(pictures.store(db, scenes.drawn().image, "portrait", "take").sha256)
        explaining.note(db, names[-1], scenes)
        maps.make(db, choosing.key_of(names[-1]))
    base, other = names
    assert shot.character is not None
    cast.add_anchor(db, shot.character.id, base)
    db.refresh(shot.character)
    offered = {one.key: one.words for one in offers.quick_offers(db, shot, other) if "stray" in one.key}
    assert offered == {"1 stray hair": "braid hair", "1 stray hair colour": "copper hair", "1 stray glasses": "without glasses"}
    assert not [one for one in offers.quick_offers(db, shot, base) if "stray" in one.key]


def test_an_engine_that_cannot_mend_is_not_asked_to(db: Session) -> None:
    shot, base = based(db)
    drafts.edit(db, shot.id, lambda now: now.model_copy(update={"engine": "far-away", "steps": 12}))
    assert stacks.seen(db, shot.id, base).settings == StackSettings(engine="built-in", steps=12)
    drafts.edit(db, shot.id, lambda now: now.model_copy(update={"engine": "fine"}))
    assert stacks.seen(db, shot.id, base).settings.engine == "fine"


def test_two_who_let_a_stack_be_redone_at_once_get_one_run(make_session: Sessions, database_url: str) -> None:
    with make_session.begin() as session:
        shot, base = based(session)
        stack, mend = laid(session, shot, base, words="a hat", count=1)
        mends.accept(session, stack, run_of(session, stack, mend)[0].id)
        stacks.edit_mend(session, stack, mend, lambda one: one.model_copy(update={"words": "a cap"}))
    app = queue_app(database_url)
    found = at_once(make_session, *[lambda s: mending.redo(s, app, stack)] * 2)
    assert sum(one is None for one in found) == 1
    with make_session() as session:
        assert len(runs.active(session)) == 1

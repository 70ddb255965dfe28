"""Measures of takes, lineage, and the history of a shot, on a real database."""

import numpy as np
import pytest
from sqlalchemy import event
from sqlalchemy.orm import Session

from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.pictures.areas import area_mask
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.sweep import Dial
from mosskeeper.studio import cast, drafts, estimates, lineage, measures, pictures, runs, shots, takes, working
from mosskeeper.studio.models import Shot, Take
from tests.conftest import SMALL, lay_out

FIGURE = draw(Description(layout=Layout(framing="bust"), place="bell tower"), (256, 320)).image
GREY = np.full((320, 256, 3), 128, np.uint8)


def made(db: Session, shot: Shot, image: np.ndarray, recipe: Recipe = SMALL, **run: object) -> Take:
    begun = runs.create(db, shot, recipe.model_copy(update={"count": 1}), **run)  # type: ignore[arg-type]
    return working.store_take(db, begun.id, 0, begun.seeds[0], image, 1.0)


@pytest.fixture
def shot(db: Session) -> Shot:
    return lay_out(db)


@pytest.mark.statistics
def test_a_take_is_measured_against_each_cue_that_is_on(db: Session, shot: Shot) -> None:
    picture = pictures.store(db, FIGURE, "study", "upload").sha256
    cues = [Cue(role="palette", picture=picture, weight=0.0), Cue(role="tone", picture=picture), Cue(picture=picture, on=False)]
    same = measures.of_take(db, made(db, shot, FIGURE, SMALL.model_copy(update={"cues": cues})))
    other = measures.of_take(db, made(db, shot, GREY, SMALL.model_copy(update={"cues": cues})))
    assert same.matches[2] is None
    for k in (0, 1):
        assert same.matches[k].score > 90  # type: ignore[union-attr, operator]
        assert other.matches[k].score < same.matches[k].score - 20  # type: ignore[union-attr, operator]
    assert same.match_of(Cue(role="tone", picture=picture, weight=1.2)) == same.matches[1]
    assert same.match_of(Cue(role="edges", picture=picture)) is None


@pytest.mark.statistics
def test_a_cue_with_an_area_is_measured_in_it(db: Session, shot: Shot) -> None:
    half = FIGURE.copy()
    half[:, 128:] = (250, 20, 200)
    picture = pictures.store(db, FIGURE, "study", "upload").sha256
    areas = {name: pictures.store(db, area_mask(name), name, "mask").sha256 for name in ("left", "right")}
    cues = [Cue(role=role, picture=picture, area=area) for role in ("tone", "palette") for area in areas.values()]
    tone_left, tone_right, palette_left, palette_right = measures.of_take(
        db, made(db, shot, half, SMALL.model_copy(update={"cues": cues}))
    ).matches
    assert tone_left.score > tone_right.score + 20  # type: ignore[union-attr, operator]
    assert palette_left.score > palette_right.score + 20  # type: ignore[union-attr, operator]


def test_measures_are_kept_and_drift_follows_the_anchors(db: Session, shot: Shot) -> None:
    first, second = made(db, shot, FIGURE), made(db, shot, np.ascontiguousarray(FIGURE[:, ::-1]))
    assert measures.of_take(db, second).drift is None
    cast.make_anchor(db, first, lead=True)
    told = measures.of_take(db, second)
    assert told.drift is not None
    asked: list[str] = []
    event.listen(db.get_bind(), "before_cursor_execute", lambda *a: asked.append(a[2]))
    assert measures.known(db, [takes.find(db, second.id)])[second.id] == told
    assert not any("insert into measures" in statement.lower() for statement in asked)


def test_generations_are_counted_from_the_anchor(db: Session, shot: Shot) -> None:
    anchor = made(db, shot, FIGURE)
    cast.make_anchor(db, anchor, lead=True)
    chain = [anchor.picture_sha256]
    for n in (1, 2):
        recipe = SMALL.model_copy(update={"cues": [Cue(role="face", picture=chain[-1])]})
        chain.append(made(db, shot, GREY + n, recipe).picture_sha256)
    assert [lineage.origin(db, sha).away for sha in chain] == [0, 1, 2]
    assert [lineage.origin(db, sha).derived for sha in chain] == [False, True, True]
    upload = lineage.origin(db, pictures.store(db, GREY, "grey", "upload").sha256)
    assert (upload.take, upload.away, upload.derived) == (None, None, False)


def test_each_cell_of_a_sweep_has_its_own_recipe(db: Session, shot: Shot) -> None:
    dials = [Dial(name="guidance", values=(2.0, 8.0)), Dial(name="steps", values=(6.0, 12.0))]
    run = runs.create(db, shot, SMALL, dials)
    assert (run.seeds, run.steps) == ([5] * 4, 36)
    begun = working.begin(db, run.id, "w")
    assert begun is not None
    missing = begun.missing
    assert [(m.recipe.guidance, m.recipe.steps, m.before) for m in missing] == [(2, 6, 0), (8, 6, 6), (2, 12, 12), (8, 12, 24)]
    take = working.store_take(db, run.id, 3, 5, GREY, 1.0)
    assert takes.recipe_of(take) == SMALL.model_copy(
        update={"guidance": 8.0, "steps": 12, "count": 1, "given": takes.recipe_of(take).given}
    )


def test_a_sweep_costs_what_its_cells_cost(db: Session, shot: Shot) -> None:
    one = estimates.estimate(db, SMALL.model_copy(update={"count": 1}))
    swept = estimates.estimate(db, SMALL, [Dial(name="guidance", values=(2.0, 5.0, 8.0))])
    assert swept.sparks == pytest.approx(3 * one.sparks, abs=0.2)
    engines = estimates.estimate(db, SMALL, [Dial(name="engine", values=("sketcher", "fine"))])
    assert engines.sparks > 2 * one.sparks


def save(db: Session, shot: Shot, **changes: object) -> None:
    drafts.edit(db, shot.id, lambda now: now.model_copy(update=changes))


def test_edits_are_undone_one_by_one_and_redone_until_a_new_one_comes(db: Session, shot: Shot) -> None:
    save(db, shot, guidance=3.0)
    save(db, shot, styles=["chalk"])
    assert drafts.can_walk(db, shot) == ("styles", "")
    drafts.walk(db, shot.id, -1)
    assert (shots.draft(shot).styles, shots.draft(shot).guidance) == ([], 3.0)
    drafts.walk(db, shot.id, -1)
    assert shots.draft(shot).guidance == SMALL.guidance
    drafts.walk(db, shot.id, -1)  # at the end nothing happens
    drafts.walk(db, shot.id, 1)
    assert shots.draft(shot).guidance == 3.0
    save(db, shot, steps=9)
    assert drafts.can_walk(db, shot) == ("steps", "")


def test_typing_becomes_one_step_of_the_history(db: Session, shot: Shot) -> None:
    before = shots.draft(shot).words
    for words in ("a g", "a gi", "a girl with a kite"):
        save(db, shot, words=words)
    drafts.walk(db, shot.id, -1)
    assert shots.draft(shot).words == before


def test_undoing_keeps_the_words_of_a_cast_that_changed_since(db: Session, shot: Shot) -> None:
    save(db, shot, guidance=3.0)
    shots.recast(db, shot.id, None, shot.character_id, None)
    given = shots.draft(shot).given
    drafts.walk(db, shot.id, -1)
    assert shots.draft(shot).given == given

"""Regions: who is there, where everyone stands, what meets, what lies over what, what each decided."""

from dataclasses import replace

import numpy as np
import pytest
from bench.region_layouts import HOB, TRIALS, WREN, L, R, Trial
from bench.regions import recipe_of
from hypothesis import given
from hypothesis import strategies as st

from mosskeeper.core.dials import dials_of
from mosskeeper.core.errors import BadRecipe
from mosskeeper.core.illustrator.description import Layout
from mosskeeper.core.illustrator.skeleton import AT
from mosskeeper.core.pictures.difference import delta_e_map
from mosskeeper.core.recipe import Cue, Recipe, read_recipe
from mosskeeper.core.regions.layouts import LAYOUTS, common_left, proposed
from mosskeeper.core.regions.overlaps import front_wins, kept_apart, overlaps
from mosskeeper.core.regions.plan import PlannedPerson, plan
from mosskeeper.core.regions.words import own_words, relations, wants
from mosskeeper.core.takes.influence import influence, told
from mosskeeper.core.takes.planned_regions import Planned, planned
from mosskeeper.core.takes.regions import softened, spanned
from mosskeeper.core.words.said import without
from tests.core.few import make_take

SIZE = (256, 320)
BY_NAME = {trial.name: trial for trial in TRIALS}


def small(name: str) -> Trial:
    w, h = BY_NAME[name].size
    return replace(BY_NAME[name], size=(w // 2, h // 2))


def planned_of(trial: Trial, **more: object) -> Planned:
    recipe, _ = recipe_of(trial)
    return planned(recipe, 7, {r.id: trial.mask(n) for n, r in enumerate(recipe.regions)}, **more)  # type: ignore[arg-type]


# -- who -----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    "common", ["", "forest path, noon", "two people, forest path", "three people", "a woman and an old man in the rain", "a woman"]
)
def test_people_named_in_regions_are_the_people_whatever_the_common_words_count(common: str) -> None:
    made = planned_of(replace(small("pair"), common=common))
    assert [(p.region, p.subject) for p in made.people] == [(0, "woman"), (1, "old man")]


def test_whom_the_regions_leave_out_is_told() -> None:
    assert any("speak of 3 people" in said for said in planned_of(replace(small("pair"), common="three people")).told)
    assert any("girl of the common words is in no region" in said for said in planned_of(replace(small("pair"), common="a girl")).told)


def test_a_person_named_in_both_is_one_and_traits_cross_over_to_nobody_else() -> None:
    trial = replace(small("pair"), common="a woman with glasses in the bell tower")
    recipe, masks = recipe_of(trial)
    take = make_take(recipe, 7, masks)
    assert take.drawing is not None
    woman, man = (shown.person for shown in take.drawing.shown)
    assert (woman.subject, woman.glasses, woman.hair_colour) == ("woman", True, "copper")
    assert (man.subject, man.hair_colour, man.outfit) == ("old man", "white", "travelling coat")


def test_relations_are_read_and_who_they_lead_to_is_not_counted() -> None:
    words = ["a girl hands a letter to the old man", "an old man"]
    [pair] = relations(words, "", ["girl", "old man"], [0, 1], [100.0, 400.0])
    assert (pair.who, pair.whom, pair.kind, pair.thing) == (0, 1, "gives", "letter")
    assert set(own_words(words[0]).wanted["subject"]) == {"girl"}
    assert [r.kind for r in relations(["", ""], "two people holding hands", ["man", "girl"], [0, 1], [0.0, 1.0])] == ["holds"]
    assert wants(own_words("a lantern")) == {"thing"} and wants(own_words("at night")) == {"place"}


def test_regions_are_proposed_from_words_and_the_rest_is_left() -> None:
    words = "a girl hands a letter to an old man, forest path, noon"
    assert proposed(words) == ["a girl hands a letter to the old man", "an old man"]
    assert proposed("a boy and a woman in a red coat") == ["a boy", "a woman in a red coat"]
    assert proposed("a boy, freckles, gouache, at dusk") == ["a boy, freckles"]
    dressed = "a girl in a rain cape gives a kite to an old man in a plum coat"
    assert proposed(dressed) == ["a girl in a rain cape gives a kite to the old man", "an old man in a plum coat"]
    assert common_left(words, proposed(words)) == "forest path, noon"
    assert proposed("forest path") == []
    assert len(LAYOUTS) >= 10


# -- where ---------------------------------------------------------------------------------------------------


def wanted(
    *boxes: tuple[float, float, float, float], subjects: tuple[str, ...] = ("woman", "old man", "girl", "boy")
) -> list[PlannedPerson]:
    out = []
    for n, (x0, y0, x1, y1) in enumerate(boxes):
        mask = np.zeros(SIZE[::-1], np.float32)
        mask[round(y0 * 320) : round(y1 * 320), round(x0 * 256) : round(x1 * 256)] = 1
        out.append(PlannedPerson(subjects[n], "average", Layout(pose="standing"), frozenset(), n, mask))
    return out


@given(st.floats(0.7, 0.97), st.floats(0.06, 0.35), st.floats(0.0, 0.06))
def test_people_at_one_depth_have_heads_of_one_size_and_stand_on_one_line(foot: float, top: float, off: float) -> None:
    made = plan(wanted((0.04, top, 0.48, foot), (0.52, top, 0.96, min(foot + off, 0.98))), SIZE, "full", "level")
    assert made.layouts[0].pinned is not None and made.layouts[1].pinned is not None
    assert made.layouts[0].pinned[2] == pytest.approx(made.layouts[1].pinned[2], rel=0.02)
    assert made.boxes[0][3] == pytest.approx(made.boxes[1][3], abs=1)


def test_feet_and_heads_follow_one_perspective() -> None:
    made = plan(wanted((0.02, 0.08, 0.42, 0.98), (0.42, 0.25, 0.68, 0.84), (0.72, 0.34, 0.92, 0.74)), SIZE, "full", "level")
    assert made.view.horizon is not None
    for box, layout in zip(made.boxes, made.layouts, strict=True):
        assert layout.pinned is not None
        assert box[3] == pytest.approx(made.view.horizon + made.view.eye * layout.pinned[2] * SIZE[1], abs=0.5)
    assert [layout.depth for layout in made.layouts] == sorted(layout.depth for layout in made.layouts)


def test_what_does_not_fit_is_told() -> None:
    assert any(
        "floats above the ground: move it down" in said
        for said in planned_of(replace(small("pair"), regions=((L, WREN), ((0.6, 0.05, 0.9, 0.4), HOB)))).told
    )
    assert any(
        "too small for a face" in said
        for said in planned_of(replace(small("pair"), regions=((L, WREN), ((0.8, 0.6, 0.9, 0.75), HOB)))).told
    )
    assert any("says nothing yet" in said for said in planned_of(replace(small("pair"), regions=((L, WREN), (R, "")))).told)


def test_the_horizon_holds_while_a_region_is_dragged() -> None:
    trial = small("near and far")
    first = planned_of(trial)
    assert first.view is not None
    dragged = replace(trial, regions=(trial.regions[0], ((0.6, 0.5, 0.9, 0.92), HOB)))
    assert planned_of(dragged, held=first.view).view == first.view
    assert planned_of(dragged).view != first.view


def test_a_child_beside_a_grown_up_does_not_shrink_them() -> None:
    alone = planned_of(replace(small("grown-up and child"), regions=small("grown-up and child").regions[:1]))
    both = planned_of(small("grown-up and child"))
    assert both.people[0].head > 0.8 * alone.people[0].head


def test_hands_that_should_meet_meet_or_it_is_told() -> None:
    near, far = ((0.1, 0.14, 0.5, 0.95), (0.5, 0.14, 0.9, 0.95)), ((0.0, 0.4, 0.16, 0.95), (0.84, 0.4, 1.0, 0.95))
    made = plan(wanted(*near), SIZE, "full", "level", ["", ""], "two people holding hands")
    assert made.met[0].apart <= 0.02 * SIZE[0] and not any("cannot meet" in said for said in made.told)
    skeletons = [layout.skeleton for layout in made.layouts]
    assert all(s is not None and s[AT["right wrist"]] is not None for s in skeletons)
    assert any("cannot meet" in said for said in plan(wanted(*far), SIZE, "full", "level", ["", ""], "two people holding hands").told)


# -- the picture ---------------------------------------------------------------------------------------------


@pytest.mark.parametrize("name", ["pair, counted", "four, counted", "near and far", "a letter", "half figures"])
def test_each_is_drawn_in_the_own_region_as_it_was_planned(name: str) -> None:
    trial = small(name)
    recipe, masks = recipe_of(trial, steps=6)
    take = make_take(recipe, 8, masks)
    assert take.drawing is not None and len(take.drawing.shown) == len(trial.people)
    for n in trial.people:
        there = take.drawing.figures == n + 1
        assert (trial.mask(n)[there] > 0.5).mean() > 0.6
    if name == "a letter":
        assert [shown.person.prop for shown in take.drawing.shown] == ["letter", "nothing"]


def test_things_of_regions_stand_by_themselves_and_are_in_nobodys_hand() -> None:
    trial = replace(small("pair"), regions=((L, WREN), ((0.6, 0.7, 0.95, 0.95), "a fox")))
    recipe, masks = recipe_of(trial, steps=6)
    take = make_take(recipe, 7, masks)
    assert take.explained is not None and [thing.name for thing in take.explained.scene.things] == ["fox"]
    assert len(take.explained.scene.postures) == 1


def test_a_regions_pose_is_taken_where_its_person_stands() -> None:
    recipe, masks = recipe_of(small("pair"), steps=6)
    raised = [
        (0.5, 0.2),
        (0.5, 0.3),
        (0.45, 0.3),
        (0.42, 0.2),
        (0.4, 0.1),
        (0.55, 0.3),
        (0.58, 0.2),
        (0.6, 0.1),
        *[(0.48, 0.55), (0.48, 0.7), (0.48, 0.9)],
    ]
    joints = [*raised, (0.52, 0.55), (0.52, 0.7), (0.52, 0.9), (0.49, 0.19), (0.51, 0.19), (0.48, 0.2), (0.52, 0.2)]
    posed = recipe.regions[1].model_copy(update={"cues": [Cue(role="pose", skeleton=joints, weight=1.0, end=100)]})
    take = make_take(recipe.model_copy(update={"regions": [recipe.regions[0], posed]}), 7, masks)
    assert take.explained is not None
    scene = take.explained.scene
    assert (scene.postures[1].joints[[4, 7], 1] < scene.postures[1].joint("neck")[1]).all()
    assert scene.camera.spots[1].origin[0] > 128


@pytest.mark.statistics
def test_the_strength_of_a_region_goes_evenly_from_the_common_words_to_its_own() -> None:
    trial, images = small("pair, counted"), []
    for strength in (0.0, 0.25, 0.5, 0.75, 1.0):
        recipe, masks = recipe_of(trial, {1: strength}, steps=6)
        take = make_take(recipe, 7, masks)
        assert take.explained is not None and len(take.explained.scene.postures) == 2
        images.append(take.explained.drawn().image)
    far = [float(delta_e_map(image, images[0]).mean()) for image in images]
    assert far == sorted(far) and far[-1] > 1


def test_who_is_not_in_the_common_words_comes_in_by_size() -> None:
    sizes = []
    for strength in (0.3, 0.6, 1.0):
        recipe, masks = recipe_of(small("pair"), {1: strength}, steps=6)
        take = make_take(recipe, 7, masks)
        assert take.drawing is not None
        sizes.append(int((take.drawing.figures == 2).sum()))
    assert sizes[0] < sizes[1] < sizes[2]


# -- what lies over what, and what each did --------------------------------------------------------------------


def test_overlaps_are_of_the_smaller_one_and_a_person_may_stand_in_a_place() -> None:
    a, b = np.zeros((40, 40), np.float32), np.zeros((40, 40), np.float32)
    a[:, :24], b[:, 20:] = 1, 1
    [one] = overlaps([a, b], [frozenset({"person"}), frozenset({"person"})])
    assert one.share == pytest.approx(4 / 20)
    assert overlaps([a, b], [frozenset({"person"}), frozenset({"place"})]) == []


@given(st.integers(0, 500))
def test_regions_kept_apart_lie_over_each_other_no_more_and_lose_nothing_that_was_theirs_alone(seed: int) -> None:
    rng = np.random.default_rng(seed)
    masks = []
    for _ in range(3):
        mask = np.zeros((24, 30), np.float32)
        x, y = rng.integers(0, 15), rng.integers(0, 12)
        mask[y : y + 12, x : x + 15] = 1
        masks.append(mask)
    apart = kept_apart(masks)
    assert (np.sum(apart, 0) <= 1).all() and (np.max(masks, 0) == np.max(apart, 0)).all()
    alone = np.sum(masks, 0) == 1
    assert all((before[alone] == after[alone]).all() for before, after in zip(masks, apart, strict=True))
    front = front_wins(masks, [True] * 3)
    assert (np.sum(front, 0) <= 1).all() and (front[0] == masks[0]).all()


@pytest.mark.statistics
def test_a_region_changes_its_own_people_and_nobody_else() -> None:
    recipe, masks = recipe_of(small("pair"), steps=8)
    found = influence(recipe, 7, 0, masks)
    assert found.map.shape == (320, 256) and found.map.max() > 20
    assert found.bled < 0.03
    assert {one.attribute for one in found.attributes} >= {"hair colour", "skin", "colour"}
    assert any("of the picture" in said for said in told(found, "A"))
    assert without("a woman with copper hair and a red coat", "hair colour") == "a woman with  hair and a red coat"
    with pytest.raises(IndexError):
        influence(Recipe(words="a girl"), 1, 3, {})


@pytest.mark.statistics
@pytest.mark.parametrize("words", ["a girl and a boy in a red coat", "Marrit Fenn", "a tall old man"])
def test_what_a_region_did_is_found_with_the_same_people_whoever_its_words_name(words: str) -> None:
    recipe, masks = recipe_of(replace(small("pair"), regions=((L, words), (R, WREN))), steps=6)
    found = influence(recipe, 7, 0, masks)
    assert found.map.shape == (320, 256) and not {one.attribute for one in found.attributes} & {"subject"}


def test_the_plan_is_what_the_take_becomes() -> None:
    trial = small("pair, counted")
    recipe, masks = recipe_of(trial, steps=6)
    take = make_take(recipe, 7, masks)
    assert take.explained is not None
    heads = [spot.scale / 320 for spot in take.explained.scene.camera.spots]
    assert [p.head for p in planned_of(trial).people] == pytest.approx(heads)


def test_more_people_than_can_be_drawn_are_told() -> None:
    crowd = replace(small("pair"), regions=tuple(((0.2 * n, 0.2, 0.2 * n + 0.2, 0.95), WREN) for n in range(5)))
    made = planned_of(crowd)
    assert len(made.people) == 4 and any("name 5 people: the first 4" in said for said in made.told)


def test_a_region_is_as_strong_as_its_span_is_long() -> None:
    recipe, _ = recipe_of(small("pair"), steps=8)
    regions = [recipe.regions[0].model_copy(update={"start": 50.0}), *recipe.regions[1:]]
    half = recipe.model_copy(update={"regions": regions})
    assert [r.strength for r in spanned(half).regions] == [0.5, 1.0]
    assert spanned(recipe) == recipe
    with pytest.raises(BadRecipe, match="span must end"):
        read_recipe({**recipe.model_dump(), "regions": [recipe.regions[0].model_dump() | {"start": 60, "end": 20}]})


def test_a_border_is_soft_or_hard_from_a_threshold() -> None:
    mask = np.zeros((80, 100), np.float32)
    mask[:, :50] = 1
    region = recipe_of(small("pair"))[0].regions[0].model_copy(update={"feather": 0.1})
    soft = softened(mask, region)
    assert 0.4 < soft[40, 50] < 0.6 and len(np.unique(soft)) > 10
    hard, grown = (softened(mask, region.model_copy(update={"threshold": t})) for t in (0.5, 0.1))
    assert set(np.unique(grown)) == {0.0, 1.0} and abs(hard.mean() - 0.5) < 0.02 and grown.mean() > hard.mean() + 0.03


def test_a_border_is_soft_only_where_something_goes_over() -> None:
    recipe, _ = recipe_of(replace(small("pair"), regions=((L, WREN), (R, "at night"))))
    names = dials_of(recipe)
    assert "region-1-feather" in names and "region-0-feather" not in names and "region-0-strength" in names

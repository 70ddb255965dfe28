from dataclasses import replace

import numpy as np
import pytest

from mosskeeper.core.cue_sheet import neutral, soloed, warnings
from mosskeeper.core.reading.reading import measured
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.roles import all_roles

A, B = "a" * 64, "b" * 64
PLAIN = measured(np.full((16, 16, 3), 128, np.uint8))


def told(*cues: Cue, steps: int = 20, **readings: object) -> list[tuple[int, str]]:
    found = warnings(Recipe(words="x", steps=steps, cues=list(cues)), readings)  # type: ignore[arg-type]
    return [(w.place, w.sentence) for w in found]


def test_every_role_has_a_beginning_that_makes_a_cue() -> None:
    assert {"look", "pose", "sketch"} <= {role.name for role in all_roles()}
    for role in all_roles():
        cue = Cue(role=role.name, picture=A, weight=role.weight, start=role.start, end=role.end)
        assert told(cue) == [], role.name


def test_a_heavy_place_warns_and_one_that_is_off_does_not() -> None:
    heavy = Cue(picture=A, role="place", weight=0.9)
    assert told(Cue(picture=B, weight=0.4), heavy) == [(1, "A weight over .85 will copy the place whatever the words say of it.")]
    assert told(heavy.model_copy(update={"on": False})) == []


def test_a_span_without_a_step_is_told_with_the_length_of_one() -> None:
    assert told(Cue(picture=A, weight=0.5, start=26, end=30), steps=8) == [
        (0, "Its span holds no step: with 8 steps, one is 12 % long. Widen the span.")
    ]
    assert told(Cue(picture=A, weight=0.5, start=26, end=33), steps=8) == []


def test_two_references_that_pull_apart_are_told_unless_their_spans_part() -> None:
    one, two = (replace(PLAIN, attributes={"place": {name: 1.0}}) for name in ("bell tower", "library stair"))
    first, second = (Cue(role="place", picture=name, name=name[:1], weight=0.5) for name in (A, B))
    ((place, sentence),) = told(first, second, **{A: one, B: two})
    assert place == 1
    assert "pull apart: as place they agree to 0 of 100" in sentence
    assert told(first, second, **{A: one, B: one}) == []
    early, late = first.model_copy(update={"end": 40.0}), second.model_copy(update={"start": 40.0})
    assert told(early, late, **{A: one, B: two}) == []


def test_two_poses_at_once_are_told() -> None:
    skeleton = [(0.5, 0.5)] * 18
    (found,) = told(Cue(role="pose", skeleton=skeleton), Cue(role="pose", skeleton=skeleton, name="second"))
    assert "can follow only one" in found[1]


@pytest.mark.parametrize(
    ("role", "sentence"), [("face", "No face is read"), ("pose", "place the points by hand"), ("depth", "bring a depth map in")]
)
def test_a_picture_that_lends_nothing_to_its_role_is_told(role: str, sentence: str) -> None:
    ((_, found),) = told(Cue(role=role, picture=A, weight=0.5), **{A: PLAIN})
    assert sentence in found


def test_solo_leaves_only_soloed_cues_on_and_the_sheet_as_it_is() -> None:
    recipe = Recipe(words="x", cues=[Cue(picture=A), Cue(picture=B, solo=True), Cue(picture=A, solo=True, on=False)])
    assert [cue.acts for cue in soloed(recipe).cues] == [False, True, False]
    assert not any(cue.solo for cue in soloed(recipe).cues)
    plain = Recipe(words="x", cues=[Cue(picture=A)])
    assert soloed(plain) is plain


def test_a_neutral_run_has_no_style_and_nothing_else_changed() -> None:
    recipe = Recipe(words="x", styles=["chalk"], guidance=5)
    assert neutral(recipe) == recipe.model_copy(update={"styles": []})

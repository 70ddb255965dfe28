"""Roles: each is one object, complete, and found by its name alone."""

import inspect

import numpy as np
import pytest

from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.reading.reading import Reading, measured
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.role_names import NAMES
from mosskeeper.core.roles import all_roles, kinds, reference, role
from mosskeeper.core.roles.match import match
from mosskeeper.core.roles.role import CueComparison, Reference, Role, Structure
from mosskeeper.core.words.attributes import ATTRIBUTES

FLAT = np.full((64, 48, 3), 120, np.uint8)


def test_every_role_of_the_design_is_there_in_the_order_of_its_choice() -> None:
    assert [r.name for r in all_roles()] == [
        *("look", "face", "outfit", "place", "light", "style", "palette", "pose", "edges", "tone", "depth", "sketch")
    ]
    assert set(NAMES) == {r.name for r in all_roles()}


@pytest.mark.parametrize("kind", all_roles(), ids=lambda r: r.name)
def test_a_role_says_all_that_is_asked_of_it(kind: Role) -> None:
    assert kind.says.endswith(".") and kind.meaning
    assert 0 < kind.weight <= 1 and 0 <= kind.start < kind.end <= 100
    assert inspect.getmodule(type(kind)).__doc__.lower().startswith(kind.name)
    assert isinstance(kind, Reference) == (reference(kind.name) is not None)
    if isinstance(kind, Reference):
        assert set(kind.lends) <= set(ATTRIBUTES)


def test_a_role_that_does_not_exist_is_refused_everywhere() -> None:
    with pytest.raises(KeyError):
        role("mood")
    with pytest.raises(ValueError, match="no role"):
        Recipe.model_validate({"cues": [{"picture": "a" * 64, "role": "mood"}]})


def test_adding_a_role_is_adding_one_file(monkeypatch: pytest.MonkeyPatch, tmp_path: object) -> None:
    """A module in `kinds` is all that matching, warnings and the page need; nothing else lists roles."""
    import sys
    import types

    class Mood(Role):
        name, order, says, meaning = "mood", 12, "Follows the mood.", "how the mood agrees"

        def obeyed(self, compared: CueComparison) -> float | None:
            return 0.5

    made = types.ModuleType(f"{kinds.__name__}.mood")
    made.ROLE = Mood()  # type: ignore[attr-defined]
    monkeypatch.setitem(sys.modules, made.__name__, made)
    monkeypatch.setattr("mosskeeper.core.roles.NAMES", (*NAMES, "mood"))
    role.cache_clear()
    all_roles.cache_clear()
    try:
        assert all_roles()[-1].name == "mood"
        told = match("mood", CueComparison(FLAT, measured(FLAT), FLAT, measured(FLAT)))
        assert (told.score, told.meaning) == (50.0, "how the mood agrees")
    finally:
        monkeypatch.undo()
        role.cache_clear()
        all_roles.cache_clear()


@pytest.mark.parametrize("kind", [r for r in all_roles() if isinstance(r, Structure)], ids=lambda r: r.name)
def test_structure_agrees_with_itself_more_than_with_another_drawing(kind: Structure) -> None:
    size = (96, 120)
    own, other = (
        draw(Description(place=p, layout=Layout(pose, "full")), size) for p, pose in (("kitchen", "facing"), ("tide flats", "running"))
    )
    asked = kind.asked(own.image, own.depth, size)
    everywhere = np.ones((size[1], size[0]), np.float32)
    assert kind.agreement(own, asked, everywhere) > kind.agreement(other, asked, everywhere)


@pytest.mark.parametrize("kind", [r for r in all_roles() if isinstance(r, Structure)], ids=lambda r: r.name)
def test_what_a_structure_adds_vanishes_with_its_mask_and_stays_in_range(kind: Structure) -> None:
    estimate = np.random.default_rng(1).uniform(-0.9, 0.9, (60, 48, 3)).astype(np.float32)
    picture = np.random.default_rng(2).integers(0, 255, (60, 48, 3), np.uint8)
    nowhere, everywhere = (np.full((60, 48, 1), v, np.float32) for v in (0.0, 1.0))
    assert np.allclose(kind.added(estimate, picture, nowhere), estimate, atol=1e-5)
    assert np.abs(kind.added(estimate, picture, everywhere)).max() <= 1 + 1e-5


def test_a_picture_without_depth_lacks_it_and_one_with_it_does_not() -> None:
    bare = measured(FLAT)
    assert "bring a depth map in" in role("depth").lacks(bare, False)
    assert role("depth").lacks(Reading(bare.palette, depth=np.zeros((4, 4), np.float32)), False) == ""
    assert "place the points" in role("pose").lacks(bare, skeleton=False)
    assert role("pose").lacks(bare, skeleton=True) == ""

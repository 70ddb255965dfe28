from dataclasses import replace

import numpy as np
import pytest

from mosskeeper.core.errors import ArtistError, Stopped
from mosskeeper.core.recipe import Cue, Recipe, Region
from mosskeeper.engines import ENGINES, engine_for
from mosskeeper.engines.builtin import BuiltinEngine
from mosskeeper.engines.contract import Capabilities, Progress, misfits

SMALL = Recipe(words="a girl in the kitchen", width=256, height=256, steps=6)
BUILTIN = engine_for("built-in")


def test_engines_are_found_by_their_key_and_unknown_ones_are_told() -> None:
    assert all(engine_for(key).key == key for key in ENGINES)
    with pytest.raises(ArtistError, match="Choose one of"):
        engine_for("elsewhere")


def test_the_price_grows_with_what_is_asked() -> None:
    plain = BUILTIN.estimate(SMALL)
    for change in ({"count": 8}, {"steps": 40}, {"width": 1024}, {"sampler": "heun"}):
        dearer = BUILTIN.estimate(SMALL.model_copy(update=change))
        assert dearer.sparks > plain.sparks, change
        assert dearer.seconds > plain.seconds, change


def test_generating_reports_every_step_and_gives_the_asked_size() -> None:
    seen: list[Progress] = []
    image = BUILTIN.generate(SMALL, 3, {}, {}, seen.append, lambda: False)
    assert image.shape == (256, 256, 3)
    assert [p.step for p in seen] == [1, 2, 3, 4, 5, 6]
    assert all(p.steps == 6 for p in seen)


def test_the_built_in_engine_is_deterministic_as_it_says() -> None:
    assert BUILTIN.capabilities().deterministic
    first, second = (BUILTIN.generate(SMALL, 9, {}, {}, lambda _: None, lambda: False) for _ in range(2))
    assert np.array_equal(first, second)


def test_generating_stops_when_asked() -> None:
    with pytest.raises(Stopped):
        BUILTIN.generate(SMALL, 3, {}, {}, lambda _: None, lambda: True)


def test_an_unknown_style_is_left_out_and_told_before_the_run() -> None:
    odd = SMALL.model_copy(update={"styles": ["oil", "chalk"]})
    assert misfits(odd, BUILTIN) == ["Built-in illustrator has no style “oil”: it leaves it out."]
    plain = SMALL.model_copy(update={"styles": ["chalk"]})
    a, b = (BUILTIN.generate(r, 3, {}, {}, lambda _: None, lambda: False) for r in (odd, plain))
    assert np.array_equal(a, b)


class Meek(BuiltinEngine):
    """An engine that can do less."""

    def capabilities(self) -> Capabilities:
        return replace(super().capabilities(), roles=("look",), max_weight=1.0)


def test_a_weight_or_role_beyond_the_engine_is_told() -> None:
    heavy = SMALL.model_copy(update={"cues": [Cue(picture="a" * 64, weight=1.4)]})
    assert "takes weights up to 1" in misfits(heavy, Meek())[0]
    edges = SMALL.model_copy(update={"cues": [Cue(role="edges", picture="a" * 64, weight=0.4)]})
    assert "does not know the role “edges”" in misfits(edges, Meek())[0]
    assert misfits(heavy, BUILTIN) == misfits(edges, BUILTIN) == []
    off = SMALL.model_copy(update={"cues": [Cue(picture="a" * 64, weight=1.4, on=False)]})
    assert misfits(off, Meek()) == []


def test_searching_a_composition_is_expected_to_take_longer() -> None:
    cue = SMALL.model_copy(update={"cues": [Cue(role="edges", picture="a" * 64)]})
    region = SMALL.model_copy(update={"regions": [Region(mask="a" * 64, words="red coat")]})
    assert BUILTIN.estimate(cue).seconds > BUILTIN.estimate(SMALL).seconds
    assert BUILTIN.estimate(region).seconds > BUILTIN.estimate(SMALL).seconds


def test_a_fitting_recipe_has_no_misfits() -> None:
    assert misfits(SMALL, BUILTIN) == []

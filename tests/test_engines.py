from dataclasses import replace

import numpy as np
import pytest

from mosskeeper.core.diffusion.result import Progress
from mosskeeper.core.errors import Stopped
from mosskeeper.core.recipe import Cue, Recipe, Region
from mosskeeper.core.takes.take import make_take
from mosskeeper.engines import BUILT_IN
from mosskeeper.engines.builtin import BuiltinEngine
from mosskeeper.engines.contract import Capabilities, Engine, Materials, misfits

SMALL = Recipe(words="a girl in the kitchen", width=256, height=256, steps=6)
BUILTIN = BUILT_IN["built-in"]
SKETCHER, FINE = BUILT_IN["sketcher"], BUILT_IN["fine"]


def told(recipe: Recipe, engine: Engine) -> list[str]:
    return [misfit.sentence for misfit in misfits(recipe, engine)]


def test_the_price_grows_with_what_is_asked() -> None:
    plain = BUILTIN.estimate(SMALL)
    for change in ({"count": 8}, {"steps": 40}, {"width": 1024}, {"sampler": "heun"}):
        dearer = BUILTIN.estimate(SMALL.model_copy(update=change))
        assert dearer.sparks > plain.sparks, change
        assert dearer.seconds > plain.seconds, change


def test_generating_reports_every_step_and_gives_the_asked_size() -> None:
    seen: list[Progress] = []
    image = BUILTIN.generate(SMALL, 3, Materials(), seen.append, lambda: False).image
    assert image.shape == (256, 256, 3)
    assert [p.step for p in seen] == [1, 2, 3, 4, 5, 6]
    assert all(p.steps == 6 for p in seen)


def test_the_built_in_engine_is_deterministic_as_it_says() -> None:
    assert BUILTIN.capabilities().deterministic
    first, second = (BUILTIN.generate(SMALL, 9, Materials(), lambda _: None, lambda: False).image for _ in range(2))
    assert np.array_equal(first, second)


def test_generating_stops_when_asked() -> None:
    with pytest.raises(Stopped):
        BUILTIN.generate(SMALL, 3, Materials(), lambda _: None, lambda: True)


def test_an_unknown_style_is_left_out_and_told_before_the_run() -> None:
    odd = SMALL.model_copy(update={"styles": ["oil", "chalk"]})
    assert told(odd, BUILTIN)[0].startswith("Full illustrator has no style “oil”: it leaves it out. It knows gouache")
    plain = SMALL.model_copy(update={"styles": ["chalk"]})
    a, b = (BUILTIN.generate(r, 3, Materials(), lambda _: None, lambda: False).image for r in (odd, plain))
    assert np.array_equal(a, b)


class _Meek(BuiltinEngine):
    """An engine that can do less."""

    def capabilities(self) -> Capabilities:
        return replace(BuiltinEngine.capabilities(self), roles=("look",), max_weight=1.0, max_cues=2)


Meek = _Meek("meek", "Meek", "")


def test_a_weight_or_role_beyond_the_engine_is_told() -> None:
    heavy = SMALL.model_copy(update={"cues": [Cue(picture="a" * 64, weight=1.4)]})
    assert "takes weights up to 1" in told(heavy, Meek)[0]
    edges = SMALL.model_copy(update={"cues": [Cue(role="edges", picture="a" * 64, weight=0.4)]})
    assert "does not know the role “edges”" in told(edges, Meek)[0]
    assert misfits(heavy, BUILTIN) == misfits(edges, BUILTIN) == []
    off = SMALL.model_copy(update={"cues": [Cue(picture="a" * 64, weight=1.4, on=False)]})
    assert misfits(off, Meek) == []


def test_searching_a_composition_is_expected_to_take_longer() -> None:
    cue = SMALL.model_copy(update={"cues": [Cue(role="edges", picture="a" * 64)]})
    region = SMALL.model_copy(update={"regions": [Region(mask="a" * 64, words="red coat")]})
    assert BUILTIN.estimate(cue).seconds > BUILTIN.estimate(SMALL).seconds
    assert BUILTIN.estimate(region).seconds > BUILTIN.estimate(SMALL).seconds


def test_a_fitting_recipe_has_no_misfits() -> None:
    assert misfits(SMALL, BUILTIN) == []


def test_too_many_references_for_an_engine_are_told_one_by_one() -> None:
    cues = [Cue(picture=c * 64, weight=0.4) for c in "abcd"]
    crowded = SMALL.model_copy(update={"cues": cues})
    assert [(m.cue, "takes 2 cues" in m.sentence) for m in misfits(crowded, Meek)] == [(2, True), (3, True)]


def test_the_three_makes_differ_in_price_and_in_what_they_can() -> None:
    recipe = SMALL.model_copy(update={"styles": ["watercolour"]})
    prices = [engine.estimate(recipe).sparks for engine in (SKETCHER, BUILTIN, FINE)]
    assert prices[0] < prices[1] / 2
    assert prices[2] > prices[1] * 2
    assert any("no style “watercolour”" in sentence for sentence in told(recipe, SKETCHER))
    assert any("at least 32 steps: 6 act like 32" in sentence for sentence in told(recipe, FINE))
    assert any("no sampler “euler”: it uses heun" in sentence for sentence in told(recipe, FINE))
    assert told(recipe, BUILTIN) == []


def test_the_sketcher_draws_dry_whatever_the_words_say_and_the_makes_differ() -> None:
    recipe = Recipe(words="a girl in a red tunic in the bell tower, portrait, watercolour", width=256, height=320, steps=6)
    finishes = {make_take(recipe, seed, make=SKETCHER.make).description.finish for seed in range(3)}
    assert {finish for (finish,) in finishes} <= set(SKETCHER.styles)
    full, fine = (engine.generate(recipe, 3, Materials(), lambda _: None, lambda: False).image for engine in (BUILTIN, FINE))
    assert full.shape == fine.shape
    assert not np.array_equal(full, fine)


def test_every_make_reports_the_steps_that_the_recipe_has() -> None:
    for engine in BUILT_IN.values():
        seen: list[Progress] = []
        engine.generate(SMALL, 3, Materials(), seen.append, lambda: False)
        assert {p.steps for p in seen} == {6}, engine.key
        assert seen[-1].step == 6

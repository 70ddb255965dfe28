"""Style and light of a reference: measured, and drawn towards in proportion to the weight."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosskeeper.core.diffusion.conditioning import References
from mosskeeper.core.diffusion.grading import Grading
from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.pictures.signal import picture, signal
from mosskeeper.core.reading.handling import bands, handled_alike, lit_alike, measure_handling, measure_light
from mosskeeper.core.reading.palette import read_palette
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.recipe import Cue
from mosskeeper.core.roles import role
from mosskeeper.core.roles.role import CueComparison

A = "a" * 64
SIZE = (160, 200)
DAY = draw(Description(place="kitchen", time="noon", layout=Layout("facing", "bust"), finish=("watercolour",)), SIZE).image
NIGHT = draw(Description(place="canal market", time="night", layout=Layout("facing", "half"), finish=("woodcut print",)), SIZE).image
WEIGHTS = (0.0, 0.25, 0.5, 0.75, 1.0)


def graded(name: str, weight: float, source: np.ndarray = NIGHT) -> np.ndarray:
    lent = References([Cue(picture=A, role=name, weight=weight)], {A: source}, {A: Reading(read_palette(source))}, 20, False).lent
    return picture(Grading(lent, {A: source}, 20).applied(signal(DAY)))


def test_light_comes_nearer_with_the_weight() -> None:
    theirs = measure_light(NIGHT)
    near = [lit_alike(measure_light(graded("light", w)), theirs) for w in WEIGHTS]
    assert near == sorted(near)
    assert near[-1] > near[0] + 0.15
    assert max(np.diff(near)) < 0.6 * (near[-1] - near[0])


def test_lines_and_grain_come_nearer_with_the_weight() -> None:
    theirs = measure_handling(NIGHT)
    near = [handled_alike(measure_handling(graded("style", w)), theirs) for w in WEIGHTS]
    assert near == sorted(near)
    assert near[-1] > near[0] + 0.1


@pytest.mark.parametrize("name", ["style", "light"])
def test_without_weight_not_a_pixel_changes(name: str) -> None:
    assert np.array_equal(graded(name, 0.0), DAY)


def test_a_style_leaves_the_light_and_a_light_the_grain() -> None:
    own = measure_light(DAY)
    assert abs(measure_light(graded("style", 1)).lightness - own.lightness) < 2
    grain = measure_handling(DAY).grain
    assert measure_handling(graded("light", 1)).grain == pytest.approx(grain, rel=0.35)


@given(st.integers(40, 1200))
def test_bands_sum_to_the_lightness(size: int) -> None:
    light = np.random.default_rng(size).uniform(0, 100, (24, 32)).astype(np.float32)
    assert np.allclose(sum(bands(light, size)), light, atol=1e-3)


@pytest.mark.parametrize("name", ["style", "light"])
def test_a_picture_obeys_its_own_style_and_light_and_another_less(name: str) -> None:
    plain = Reading(read_palette(DAY))
    same, other = (role(name).obeyed(CueComparison(source, plain, DAY, plain)) for source in (DAY, NIGHT))
    assert same is not None
    assert other is not None
    assert same > 0.99 > other

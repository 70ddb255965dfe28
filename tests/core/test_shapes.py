import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra import numpy as hnp

from mosskeeper.core.illustrator.shapes import (
    ellipse,
    intersect,
    limb,
    normals,
    point,
    points,
    rectangle,
    resample,
    ribbon,
    spline,
    subtract,
    taper,
    to_path,
    together,
    union,
    wobble,
)

coordinates = st.floats(-5, 5).map(lambda v: round(v, 3))
polylines = hnp.arrays(np.float64, st.tuples(st.integers(3, 8), st.just(2)), elements=coordinates)


def area(outline: np.ndarray) -> float:
    x, y = outline.T
    return abs(float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1)))) / 2


@given(polylines)
def test_a_spline_goes_through_its_control_points(p: np.ndarray) -> None:
    assert np.allclose(spline(p, closed=True, n=7)[::7], p)
    assert np.allclose(spline(p, closed=False, n=7)[::7], p)


@given(polylines, st.integers(2, 40))
def test_resampling_keeps_both_ends_and_spaces_evenly(p: np.ndarray, n: int) -> None:
    out = resample(p, n)
    assert len(out) == n
    assert np.allclose(out[0], p[0])
    assert np.allclose(out[-1], p[-1], atol=1e-6)
    length = np.hypot(*np.diff(p, axis=0).T).sum()
    assert (np.hypot(*np.diff(out, axis=0).T) <= length / (n - 1) + 1e-6).all()


@given(polylines)
def test_normals_have_length_one_or_none(p: np.ndarray) -> None:
    lengths = np.hypot(*normals(p).T)
    assert ((lengths > 0.99) | (lengths < 0.01)).all()
    assert (lengths < 1.01).all()


@given(st.floats(0.01, 0.4), st.floats(0.5, 4))
def test_a_ribbon_has_the_area_of_its_length_and_width(half_width: float, length: float) -> None:
    band = ribbon(points((0, 0), (length / 2, 0), (length, 0)), [half_width] * 3)
    assert area(band) == pytest.approx(2 * half_width * length, rel=0.02)


def test_a_tapered_stroke_is_thin_at_its_ends_and_widest_at_its_peak() -> None:
    stroke = taper(points((0, 0), (10, 0)), 1.0, peak=0.4)
    n = len(stroke) // 2
    widths = np.abs(stroke[:n, 1] - stroke[n:][::-1, 1])
    assert widths[0] < 0.01
    assert widths[-1] < 0.01
    assert abs(int(widths.argmax()) / (n - 1) - 0.4) < 0.15


@given(st.floats(0.2, 2), st.floats(0.2, 2), st.floats(-3, 3))
def test_an_ellipse_has_its_area_however_it_is_turned(rx: float, ry: float, turn: float) -> None:
    assert area(ellipse((1, 2), rx, ry, turn, 60)) == pytest.approx(np.pi * rx * ry, rel=0.01)


def test_a_wobbled_outline_stays_near_and_is_not_the_same() -> None:
    plain = ellipse((0, 0), 1, 1, n=60)
    moved = wobble(plain, 0.05, np.random.default_rng(1))
    distance = np.hypot(*(moved - plain).T)
    assert 0.005 < distance.mean() < 0.1
    assert moved.tolist() == wobble(plain, 0.05, np.random.default_rng(1)).tolist()


A, B = rectangle(0, 0, 2, 2), rectangle(1, 1, 3, 3)


@pytest.mark.parametrize("joined", [union([A, B]), together([A, B]), union([A, B[::-1]]), together([A[::-1], B])])
def test_united_outlines_cover_both_and_the_overlap(joined: object) -> None:
    for x, y, inside in ((0.5, 0.5, True), (1.5, 1.5, True), (2.5, 2.5, True), (2.5, 0.5, False)):
        assert joined.contains(x, y) is inside  # type: ignore[attr-defined]


def test_intersecting_and_subtracting() -> None:
    a, b = to_path(A), to_path(B)
    assert intersect(a, b).contains(1.5, 1.5)
    assert not intersect(a, b).contains(0.5, 0.5)
    assert subtract(a, b).contains(0.5, 0.5)
    assert not subtract(a, b).contains(1.5, 1.5)


def test_small_shapes_survive_being_united() -> None:
    # skia's path operations drop shapes of this size where they are not magnified
    specks = [ellipse((i * 0.05, 0.5), 0.01, 0.01, n=10) for i in range(12)]
    joined = union(specks)
    assert all(joined.contains(i * 0.05, 0.5) for i in range(12))


def test_a_limb_has_a_bone_between_its_joints_and_a_disc_at_each() -> None:
    arm = union(limb([point(0, 0), point(0, 2), point(1, 3)], [0.3, 0.25, 0.2]))
    for x, y in ((0, 0), (0, 1), (0, 2), (0.5, 2.5), (1, 3), (0.25, 0.05), (1.1, 3.1)):
        assert arm.contains(x, y)
    assert not arm.contains(0.6, 1)

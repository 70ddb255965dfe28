"""The pose book, and poses on other bodies."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosskeeper.core.dials import dials_of
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.skeleton import AT
from mosskeeper.core.illustrator.vocabulary.people import SUBJECTS, body_of
from mosskeeper.core.posing.book import BOOK, entry, figures_of, placed
from mosskeeper.core.posing.retarget import PosedBody, impossible, in_frame, mixed, retargeted
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.sweep import Dial, check, recipe_at

BONES = [
    (f"{s} {a}", f"{s} {b}")
    for s in ("right", "left")
    for a, b in (("shoulder", "elbow"), ("elbow", "wrist"), ("hip", "knee"), ("knee", "ankle"))
]
bodies = st.sampled_from(sorted(SUBJECTS)).map(lambda s: body_of(s, "average"))
entries = st.sampled_from([e for e in BOOK if len(e.figures) == 1])


def angles(joints: np.ndarray) -> np.ndarray:
    return np.array([np.arctan2(*(joints[AT[b]] - joints[AT[a]])[::-1]) for a, b in BONES])


def test_the_book_has_what_it_promises() -> None:
    assert len(BOOK) >= 24
    assert len({e.name for e in BOOK}) == len(BOOK)
    assert sum(len(e.figures) == 2 for e in BOOK) >= 5


@given(entries, bodies, bodies, st.floats(5, 200), st.floats(-50, 50))
def test_bones_keep_their_directions_and_get_the_bodys_own_lengths(e, one, other, scale, aside) -> None:  # type: ignore[no-untyped-def]
    (source,) = figures_of(e, (one,))
    fitted = retargeted(PosedBody(source.joints * scale + aside), other).joints
    turn = np.degrees(angles(fitted) - angles(source.joints))
    assert np.abs((turn + 180) % 360 - 180).max() < 1e-3
    for side in ("right", "left"):
        thigh = np.hypot(*(fitted[AT[f"{side} knee"]] - fitted[AT[f"{side} hip"]]))
        assert 0.35 * other.thigh - 1e-6 <= thigh <= other.thigh + 1e-6


def test_what_a_frame_cuts_off_hangs_as_it_usually_does() -> None:
    (source,) = figures_of(entry("waving"))
    source.joints[[AT["right knee"], AT["left knee"], AT["right ankle"], AT["left ankle"]]] = np.nan
    fitted = retargeted(source, body_of("man", "average")).joints
    assert np.isfinite(fitted).all()
    assert fitted[AT["right ankle"], 1] > fitted[AT["right knee"], 1] > fitted[AT["right hip"], 1]


def test_a_pose_mirrored_twice_is_itself() -> None:
    for e in BOOK:
        for f in figures_of(e):
            again = f.mirrored().mirrored()
            assert np.allclose(again.joints, f.joints)
            assert (again.hands, again.behind) == (f.hands, f.behind)


def test_half_way_between_two_poses_lies_half_way() -> None:
    (a,), (b,) = figures_of(entry("arms wide")), figures_of(entry("facing"))
    half = mixed(a, b, 0.5).joints

    def arm(p: np.ndarray) -> float:
        return float(angles(p)[0])

    assert min(arm(a.joints), arm(b.joints)) < arm(half) < max(arm(a.joints), arm(b.joints))


def test_a_pose_stands_where_the_figure_stood() -> None:
    (standing,) = placed(figures_of(entry("standing")), None, (512, 640))
    small = PosedBody(standing.joints * 0.5 + 0.25)
    there = in_frame(figures_of(entry("running"))[0], small.joints, (512, 640)).joints
    feet = [max(p[AT["right ankle"], 1], p[AT["left ankle"], 1]) for p in (there, small.joints)]
    assert abs(feet[0] - feet[1]) < 1e-6
    assert there[:, 1].max() - there[:, 1].min() < 0.6


def test_a_bone_that_nobody_has_is_told() -> None:
    (p,) = placed(figures_of(entry("facing")), None, (512, 640))
    assert impossible(p.joints, body_of("woman", "average"), (512, 640)) == []
    p.joints[AT["left wrist"]] += (0.3, 0.1)
    assert impossible(p.joints, body_of("woman", "average"), (512, 640)) == ["left wrist"]


def test_poses_of_the_book_are_a_dial() -> None:
    recipe = Recipe(words="a girl and a boy")
    assert "pose" in dials_of(recipe)
    dials = [Dial(name="pose", values=("leaping", "handing over"))]
    check(recipe, dials)
    one, two = (recipe_at(recipe, dials, k) for k in (0, 1))
    assert [c.role for c in one.cues] == ["pose"]
    assert [c.figure for c in two.cues] == [0, 1]
    with pytest.raises(ArtistError):
        check(recipe, [Dial(name="pose", values=("leaping", "no such pose"))])

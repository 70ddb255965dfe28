"""Heads for the reader's training: whom they show, where they are cut, batches of families, what is fitted after the network."""

from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
import training.heads
from training.discriminants import areas, projection_of
from training.head_samples import EYES_APART, Heads, batch, head
from training.heads import FAMILY, STORED, HeadPopulation, draw_heads, member

from mosskeeper.core.illustrator.face import LANDMARKS
from mosskeeper.core.reading.close_pass import MIRRORED, looked, projected
from mosskeeper.core.reading.head_crop import SIDE

SMALL = HeadPopulation(seed=7, persons=2 * FAMILY, shards=1)


@pytest.fixture(scope="module")
def heads(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Heads]:
    folder = tmp_path_factory.mktemp("heads")
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(training.heads, "SHARD", 8)
        rows = training.heads._heads(SMALL, 0)
    np.savez(folder / "00000.npz", **{name: np.stack([row[name] for row in rows]) for name in rows[0]})
    yield Heads.open(folder)


def test_a_family_has_siblings_with_other_eyes_and_a_twin_with_the_same() -> None:
    for family in range(6):
        one, brother, twin, other = (member(3, family * FAMILY + n) for n in range(FAMILY))
        assert len({p.hair for p in (one, brother, twin, other)}) == 1
        assert (twin.eyes, twin.mark, twin.skin) == (one.eyes, one.mark, one.skin)
        assert brother.eyes != one.eyes
        faces = [p.face.as_array() for p in (one, brother, twin, other)]
        assert all(not np.allclose(a, b) for n, a in enumerate(faces) for b in faces[n + 1 :])


def test_a_stored_head_has_its_eyes_where_the_network_expects_them(heads: Heads) -> None:
    marks, state = heads.columns["landmarks"], heads.columns["state"]
    right, left = LANDMARKS.index("right pupil"), LANDMARKS.index("left pupil")
    both = (state[:, right] == 2) & (state[:, left] == 2)
    assert both.any()
    apart = np.hypot(*(marks[both, right] - marks[both, left]).T) / (STORED / training.heads.REACH)
    assert (apart < EYES_APART * 1.4).all()
    assert np.abs(marks[state == 2] - STORED / 2).max() < STORED / 2


def test_families_that_are_held_back_are_in_no_batch(heads: Heads) -> None:
    held = set(heads.columns["person"][heads.held_back] // FAMILY)
    assert not held & set(heads.trained)
    assert all(len(people) > 1 for people in heads.trained.values())


def test_a_mirrored_head_has_its_sides_exchanged(heads: Heads) -> None:
    right, left = LANDMARKS.index("right pupil"), LANDMARKS.index("left pupil")
    i = int(np.flatnonzero(np.abs(heads.columns["held"][:, 0]) > 0.1)[0])
    plain = head(heads, i, np.random.default_rng(0), disturbed=False)
    for seed in range(60):
        other = head(heads, i, np.random.default_rng(seed))
        if np.sign(other["held"][0]) != np.sign(plain["held"][0]):
            sides = [np.sign(one["marks"][right][0] - one["marks"][left][0]) for one in (plain, other)]
            assert sides[0] == sides[1]
            return
    pytest.fail("no head was mirrored")


def test_a_batch_is_what_the_network_takes(heads: Heads) -> None:
    made = batch(heads, [0, 1, 2], np.random.default_rng(1))
    assert made["x"].shape == (3, SIDE, SIDE, 3) and made["x"].dtype == np.uint8
    assert made["marks"].shape == (3, len(LANDMARKS), 2) and made["parts"].shape == (3, SIDE // 4, SIDE // 4)
    assert made["face"].shape[0] == 3 and np.abs(made["face"]).max() < 6


def test_shards_that_are_there_are_not_drawn_again(tmp_path: Path) -> None:
    (tmp_path / "00000.npz").write_bytes(b"kept")
    draw_heads(tmp_path, SMALL, workers=1)
    assert (tmp_path / "00000.npz").read_bytes() == b"kept"


def test_two_looks_of_a_mirror_image_agree() -> None:
    """A network that tells the same of both looks: what is told must be symmetric after the second is mirrored back."""
    at = np.random.default_rng(2).uniform(size=(len(LANDMARKS), 2)).astype(np.float32)
    mirrored = np.stack([1 - at[MIRRORED, 0], at[MIRRORED, 1]], 1)
    sizes = (len(LANDMARKS), 4, 9, 14, 3)
    told = np.zeros((2, sum(sizes)), np.float32)
    told[:, -3:] = (0.5, 0.1, 0.2), (-0.5, 0.1, -0.2)
    spread = np.zeros((2, len(LANDMARKS)), np.float32)
    look = looked(
        lambda _: [np.stack([at, mirrored]), spread, told, np.eye(2, 64, dtype=np.float32)], np.zeros((SIDE, SIDE, 3), np.uint8), sizes
    )
    assert look.at == pytest.approx(at)
    assert look.held == pytest.approx([0.5, 0.1, 0.2])
    assert np.linalg.norm(look.identity) == pytest.approx(1)


def test_the_projection_tells_siblings_apart_where_looks_differ_more_than_persons() -> None:
    rng = np.random.default_rng(4)
    people = np.concatenate([np.arange(4) + FAMILY * n for n in range(20)])
    person = np.repeat(people, 6).astype(np.int32)
    of_person = np.repeat(rng.normal(size=(len(people), 8)), 6, axis=0)
    rows = np.concatenate([of_person + rng.normal(size=(len(person), 8)) * 0.2, rng.normal(size=(len(person), 8)) * 4], 1)
    arrays = projection_of(rows.astype(np.float32), person)
    plain = rows / np.linalg.norm(rows, axis=1, keepdims=True)
    before, after = areas(plain, person), areas(np.stack([projected(row, arrays) for row in rows]), person)
    assert before["siblings"] < 0.7 and before["accepted"] < 0.2
    assert after["siblings"] > 0.97 and after["twins"] > 0.97 and after["accepted"] > 0.8

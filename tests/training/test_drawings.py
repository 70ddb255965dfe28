"""What the reader is trained on: persons, their siblings, drawings with everything known about them."""

from pathlib import Path

import cv2
import numpy as np
import pytest
from training.augment import affine, other_hand, photometric
from training.drawings import FIRST_COLOUR, SHARD, Population, make, sample
from training.people import person, picture, scene
from training.samples import FLIPPED_JOINTS, FLIPPED_MARKS, OUTSIDE, Corpus, scene_batch

from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.reading.classes import FIGURE, OF_FIGURE, OF_HEAD, OF_PICTURE, PARTS
from mosskeeper.core.reading.head_crop import SIDE, crop_matrix, warped

SMALL = Population(seed=7, persons=8, each=2)


@pytest.fixture(scope="module")
def corpus(tmp_path_factory: pytest.TempPathFactory) -> Corpus:
    folder = tmp_path_factory.mktemp("drawings")
    make(folder, SMALL, workers=1)
    return Corpus.open(folder)


def test_a_sibling_has_the_same_hair_and_skin_and_another_face() -> None:
    for number in range(0, 20, 2):
        one, other = person(3, number), person(3, number + 1)
        assert (one.subject, one.hair, one.build) == (other.subject, other.hair, other.build)
        assert not np.allclose(one.face.as_array(), other.face.as_array(), atol=1e-3)
        assert one != person(3, number + 2)
        assert one == person(3, number)


def test_every_value_of_the_vocabularies_comes_up() -> None:
    rng = np.random.default_rng(0)
    made = [picture(person(1, n), [], scene(rng), rng)[0] for n in range(900)]
    for name in ("outfit", "hair", "expression", "prop"):
        assert {getattr(d, name) for d in made} == set(OF_FIGURE.get(name, OF_HEAD.get(name, ())))
    assert {d.place for d in made} == set(OF_PICTURE["place"]) - {"unknown"}
    assert {name for d in made for name in d.finish} == set(OF_PICTURE["finish"]) - {"unknown"}


def test_a_row_knows_where_everything_is() -> None:
    rng = np.random.default_rng(4)
    described, poses = picture(person(1, 4), [], scene(rng, place="kitchen"), rng)
    drawing = draw(described, (256, 320), with_albedo=True)
    row = sample(drawing, described, poses, [4], (256, 320))
    assert row["image"].shape == (320, 256, 3) and row["parts"].max() < len(PARTS)
    assert np.array_equal(row["joints"][0], drawing.joints.astype(np.float32))
    assert OF_PICTURE["place"][row["of_picture"][0]] == "kitchen"
    figure = (row["parts"] >= FIGURE.start) & (row["parts"] < FIGURE.stop)
    assert ((row["figures"] % 8 == 1) == figure).mean() > 0.99
    coloured = row["albedo"][(row["figures"] & FIRST_COLOUR) > 0]
    assert len(coloured) > 50
    assert np.abs(coloured - np.array(described.colour_a) * 255).max() <= 4


@pytest.mark.statistics
def test_drawings_that_are_there_are_not_drawn_again(corpus: Corpus, tmp_path: Path) -> None:
    assert len(corpus.rows) == SMALL.persons * SMALL.each <= SHARD
    make(tmp_path, SMALL, workers=1)
    image = tmp_path / "0000" / "image.npy"
    before = image.stat().st_mtime_ns
    assert np.array_equal(np.load(image), corpus.shards[0]["image"])
    make(tmp_path, SMALL, workers=1)
    assert image.stat().st_mtime_ns == before


def test_what_is_left_out_is_in_no_batch(corpus: Corpus) -> None:
    told = np.array([corpus.shards[k]["of_picture"][i] for k, i in corpus.rows])[
        :, [list(OF_PICTURE).index(n) for n in ("finish", "place")]
    ]
    fewest = min(told, key=lambda one: (told == one).any(1).sum())  # of so small a corpus something must be left
    finish, place = map(int, fewest)
    folder = Path(corpus.shards[0]["image"].filename).parents[1]
    rest = Corpus.open(folder, (OF_PICTURE["finish"][finish], OF_PICTURE["place"][place]))
    assert 0 < len(rest.rows) < len(corpus.rows)
    for k, i in rest.rows:
        told = dict(zip(OF_PICTURE, rest.shards[k]["of_picture"][i], strict=True))
        assert told["finish"] != finish and told["place"] != place


def test_a_batch_follows_its_pictures(corpus: Corpus) -> None:
    batch = scene_batch(corpus, np.arange(6), (144, 176), np.random.default_rng(1))
    assert batch["x"].shape == (6, 176, 144, 3) and batch["parts"].shape == (6, 88, 72)
    assert set(np.unique(batch["parts"])) <= {*range(len(PARTS)), OUTSIDE}
    assert len(batch["joints"]) == len(batch["rows"]) == len(batch["masks"]) == len(batch["classes"])
    seen = batch["joints"][batch["state"] == 2]
    assert (seen >= 0).all() and (seen <= (144, 176)).all()


def test_mirroring_twice_changes_nothing() -> None:
    for order in (FLIPPED_JOINTS, FLIPPED_MARKS):
        assert [order[k] for k in order] == list(range(len(order)))


def test_other_hands_and_other_light_keep_the_picture_in_its_range() -> None:
    rng = np.random.default_rng(3)
    figure = np.zeros((60, 50), bool)
    figure[10:50, 15:35] = True
    for _ in range(20):
        out, coloured = other_hand(np.full((60, 50, 3), 0.4, np.float32), figure, figure.astype(np.uint8) * 9, rng)
        assert out.min() >= 0 and out.max() <= 1
        light, _ = photometric(out, rng)
        assert light.min() >= 0 and light.max() <= 1 and light.shape == (60, 50, 3)
        assert not coloured or np.allclose(out[12:48, 18:32], 0.4)


def test_a_crop_shows_a_tilted_head_upright() -> None:
    picture_u8 = np.zeros((200, 200, 3), np.uint8)
    tilt = 0.4
    top = (100 + 50 * np.sin(tilt), 100 - 50 * np.cos(tilt))
    cv2.circle(picture_u8, (round(top[0]), round(top[1])), 5, (255, 255, 255), -1)
    crop = warped(picture_u8, crop_matrix((100, 100), 150, SIDE, tilt), SIDE)
    y, x = np.argwhere(crop[:, :, 0] > 128).mean(0)
    assert (x, y) == pytest.approx((SIDE / 2, SIDE / 2 - 50 * SIDE / 150), abs=1.5)


def test_a_point_goes_where_its_matrix_says() -> None:
    matrix = affine((30, 40), (100, 80), 2.0, 90, False)
    assert matrix[:, :2] @ (30, 40) + matrix[:, 2] == pytest.approx((50, 40))
    assert matrix[:, :2] @ (31, 40) + matrix[:, 2] == pytest.approx((50, 42))

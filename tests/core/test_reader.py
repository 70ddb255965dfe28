"""The reader on drawings whose truth is known, and on pictures that it cannot read."""

import subprocess
import sys
from collections.abc import Iterator

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mosskeeper.core.illustrator.description import Description, Layout, Part, Person
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.reading import any_reader, photo_reader
from mosskeeper.core.reading.classes import PARTS
from mosskeeper.core.reading.face_check import check_face
from mosskeeper.core.reading.reader import MOST_READ, read
from mosskeeper.core.reading.reading import SURE, Reading
from mosskeeper.core.reading.weights import FOLDER, card

MARRIT = Person(
    skin="peach", hair="braid", hair_colour="copper", eyes="green", freckles=True, outfit="rain cape", layout=Layout(framing="full")
)


def described(person: Person = MARRIT, **picture: object) -> Description:
    fields = {name: getattr(person, name) for name in Person.__dataclass_fields__}
    return Description(**{**fields, "place": "kitchen", "time": "noon", **picture})


@pytest.fixture(scope="module")
def standing() -> Iterator[tuple[Drawing, Reading]]:
    drawing = draw(described(), (512, 640))
    yield drawing, read(drawing.image)


def test_the_figure_is_found_where_it_stands(standing: tuple[Drawing, Reading]) -> None:
    drawing, reading = standing
    assert reading.main is not None and reading.main.head is not None and reading.main.sure > SURE
    x, y, radius = drawing.head
    assert np.hypot(reading.main.head[0] * 512 - x, reading.main.head[1] * 640 - y) < radius
    assert reading.main.head[2] * 640 == pytest.approx(2 * radius, rel=0.35)
    true = drawing.figures == 1
    assert reading.parts is not None
    names = [PARTS.index(n) for n in ("place", "sky", "ground", "companion")]
    found = ~np.isin(cv2.resize(reading.parts, (512, 640), interpolation=cv2.INTER_NEAREST), names)
    assert (true & found).sum() / (true | found).sum() > 0.6


def test_joints_lie_on_the_body_and_say_how_sure_they_are(standing: tuple[Drawing, Reading]) -> None:
    drawing, reading = standing
    assert reading.joints is not None and reading.main is not None
    away = np.hypot(*(reading.joints * (512, 640) - drawing.joints).T)
    sure = np.isfinite(away)
    assert sure.sum() >= 9
    assert np.median(away[sure]) < 0.04 * 640
    assert np.array_equal(sure, reading.main.joint_confidence >= SURE)


def test_depth_tells_the_figure_from_what_lies_behind(standing: tuple[Drawing, Reading]) -> None:
    drawing, reading = standing
    assert reading.depth is not None
    figure = cv2.resize((drawing.labels == Part.OUTER).astype(np.uint8), reading.depth.shape[::-1], interpolation=cv2.INTER_NEAREST) > 0
    behind = cv2.resize((drawing.depth > 0.6).astype(np.uint8), reading.depth.shape[::-1], interpolation=cv2.INTER_NEAREST) > 0
    assert reading.depth[figure].mean() < reading.depth[behind].mean() - 0.1


def test_every_belief_is_a_probability_and_names_a_known_value(standing: tuple[Drawing, Reading]) -> None:
    for name, values in standing[1].attributes.items():
        assert 0 < sum(values.values()) <= 1 + 1e-6, name
        assert all(0 <= p <= 1 + 1e-6 for p in values.values()), name


def test_the_same_picture_is_read_the_same_again(standing: tuple[Drawing, Reading]) -> None:
    drawing, reading = standing
    again = read(drawing.image)
    assert again.attributes == reading.attributes
    assert again.version == card().version == reading.version


def test_two_figures_are_read_each_on_its_own() -> None:
    other = Person(
        subject="old man",
        hair="receding",
        hair_colour="white",
        skin="ebony",
        outfit="night cloak",
        layout=Layout(framing="full", shift=0.19),
    )
    both = described(
        MARRIT.__class__(**{**{n: getattr(MARRIT, n) for n in Person.__dataclass_fields__}, "layout": Layout(framing="full", shift=-0.19)}),
        others=(other,),
    )
    drawing = draw(both, (640, 512))
    reading = read(drawing.image)
    heads = [f.head for f in reading.figures if f.head is not None and f.sure > SURE]
    assert len(heads) == 2
    for shown in drawing.shown:
        x, y, radius = shown.head
        assert min(np.hypot(hx * 640 - x, hy * 512 - y) for hx, hy, _ in heads) < 1.2 * radius


def test_a_crowd_gives_at_most_what_is_read_closely() -> None:
    one = draw(described(), (160, 200)).image
    crowd = np.hstack([np.vstack([one] * 2)] * 5)
    assert len(read(crowd).figures) <= MOST_READ


def test_nobody_in_the_picture_gives_no_sure_figure() -> None:
    empty = draw(described(MARRIT, layout=Layout(pinned=(-3.0, 0.5, 0.2))), (320, 400))
    assert not any(f.sure > 0.6 for f in read(empty.image).figures)


BAD = {
    "one pixel": np.zeros((1, 1, 3), np.uint8),
    "a row": np.full((1, 900, 3), 128, np.uint8),
    "a column": np.full((900, 1, 3), 128, np.uint8),
    "all white": np.full((400, 300, 3), 255, np.uint8),
    "all black": np.zeros((64, 64, 3), np.uint8),
    "noise": np.random.default_rng(1).integers(0, 255, (200, 160, 3), np.uint8),
    "with alpha": np.full((80, 60, 4), 90, np.uint8),
}


@pytest.mark.parametrize("name", BAD)
def test_a_picture_without_anything_to_read_gives_a_reading_that_says_so(name: str) -> None:
    reading = read(BAD[name])
    assert not any(f.sure > 0.6 for f in reading.figures)
    assert reading.palette.area.sum() == pytest.approx(1, abs=1e-4)
    assert not check_face(BAD[name][:, :, :3], reading).good


def test_upside_down_is_no_exception_and_no_sure_pose(standing: tuple[Drawing, Reading]) -> None:
    turned = read(np.ascontiguousarray(standing[0].image[::-1, ::-1]))
    right_way = standing[1].main
    assert right_way is not None
    sure = 0 if turned.main is None else int((turned.main.joint_confidence >= SURE).sum())
    assert sure < int((right_way.joint_confidence >= SURE).sum())


def test_a_face_that_fills_the_frame_is_read() -> None:
    drawing = draw(described(MARRIT, layout=Layout(framing="close", zoom=1.5)), (320, 400))
    reading = read(drawing.image)
    assert reading.main is not None and reading.main.head is not None
    assert reading.main.head[2] > 0.4


@settings(max_examples=12)
@given(st.integers(1, 300), st.integers(1, 300), st.integers(0, 2**16))
def test_any_size_of_picture_is_read(width: int, height: int, seed: int) -> None:
    picture = np.random.default_rng(seed).integers(0, 255, (height, width, 3), np.uint8)
    reading = read(picture)
    assert reading.depth is not None and np.isfinite(reading.depth).all()
    for figure in reading.figures:
        assert np.isfinite(figure.joints).all() and 0 <= figure.box[0] <= figure.box[2] <= 1


def test_the_weights_are_small_and_their_card_tells_where_they_come_from() -> None:
    assert all(path.stat().st_size <= 4 * 2**20 for path in FOLDER.glob("*.onnx"))
    assert card().parts == PARTS
    assert set(card().identity["weights"]) == set(card().identity["usual"])


# -- face check ------------------------------------------------------------------------------------------------


def test_a_small_head_is_told_with_what_to_do() -> None:
    drawing = draw(described(MARRIT, layout=Layout(framing="wide")), (320, 400))
    check = check_face(drawing.image, read(drawing.image))
    assert check.found and check.height < 60
    assert any("enlarged" in verdict for verdict in check.verdicts)


def test_a_dark_face_is_told() -> None:
    image = draw(described(MARRIT, layout=Layout(framing="bust", view="front")), (320, 400)).image
    reading = read(image)
    dark = (image * 0.12).astype(np.uint8)
    assert any("dark" in verdict for verdict in check_face(dark, reading).verdicts)
    assert not any("dark" in verdict for verdict in check_face(image, reading).verdicts)


def test_the_turn_of_a_head_has_the_side_it_is_turned_to() -> None:
    right, left = (
        draw(described(MARRIT, layout=Layout(framing="bust", view="three-quarter", facing=f)), (384, 480)).image for f in (1, -1)
    )
    turns = [check_face(image, read(image)).turn for image in (right, left)]
    assert all(turn is not None for turn in turns)
    assert turns[0] > 25 and turns[1] < -25  # type: ignore[operator]


# -- photographs -----------------------------------------------------------------------------------------------


def test_the_reader_of_photographs_finds_the_face_of_a_portrait() -> None:
    assert photo_reader.installed(), "./moss test installs the extra"
    drawing = draw(described(MARRIT, layout=Layout(framing="bust", view="front"), finish=("gouache",)), (384, 480))
    reading = photo_reader.read_photo(drawing.image)
    assert reading.reader == "photo" and reading.main is not None
    assert reading.main.identity is not None and reading.main.identity.shape == (128,)
    assert reading.main.head is not None
    x, y, radius = drawing.head
    assert np.hypot(reading.main.head[0] * 384 - x, reading.main.head[1] * 480 - y) < 0.7 * radius


def test_a_picture_without_faces_is_left_to_the_reader_of_drawings() -> None:
    flat = np.full((200, 200, 3), 180, np.uint8)
    assert any_reader.read_any(flat).reader == "drawings"
    assert photo_reader.read_photo(np.zeros((3, 3, 3), np.uint8)).figures == ()


_TOGETHER = """
from concurrent.futures import ThreadPoolExecutor
import numpy as np
from mosskeeper.core.illustrator.description import Description, Layout
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.reading.photo_reader import read_photo

face = draw(Description(layout=Layout(framing="bust", view="front")), (256, 320)).image
faces = [face[: 320 - 8 * k] for k in range(4)]  # of different sizes: only then do the models' layers grow and shrink
alone = [read_photo(one).main.identity for one in faces]
with ThreadPoolExecutor(3) as three:
    read = list(three.map(read_photo, faces * 2))
print(sum(np.array_equal(one.main.identity, alone[k % 4]) for k, one in enumerate(read)))
"""


@pytest.mark.statistics
def test_threads_that_read_photographs_at_once_do_not_break_each_other() -> None:
    # in a process of its own: what broke was the heap, and with it the whole worker
    ran = subprocess.run([sys.executable, "-c", _TOGETHER], capture_output=True, text=True, timeout=120, check=False)
    assert (ran.returncode, ran.stdout.strip()) == (0, "8"), ran.stderr


def test_without_the_extra_everything_is_read_as_a_drawing(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(photo_reader, "installed", lambda: False)
    drawing = draw(described(), (160, 200))
    assert any_reader.read_any(drawing.image).reader == "drawings"
    assert any_reader.version() == card().version

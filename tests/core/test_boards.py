"""Boards: what was roughed out is read, composed with the words, and drawn where and as it was roughed out."""

import itertools
import json
from dataclasses import replace

import numpy as np
import pytest
from bench.fidelity.board_set import SIZE, Roughed, boards

from mosskeeper.core.boards.compose import Composed, compose
from mosskeeper.core.boards.pull import pulled
from mosskeeper.core.boards.read import BoardRead, is_board, read_board
from mosskeeper.core.boards.told import told
from mosskeeper.core.illustrator.description import Description, Layout, Part, Person
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.kept import LayerCache
from mosskeeper.core.illustrator.scene import Rough, Scene, scene_of
from mosskeeper.core.illustrator.skeleton import AT
from mosskeeper.core.pictures.colour import rgb_to_lab
from mosskeeper.core.posing.book import entry, figures_of, placed
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.takes.boards import boards_of
from mosskeeper.core.takes.live_picture import ChosenScene, Poses, choose, live_picture
from tests.core.few import make_take

BOARDS = {b.name: b for b in boards()}
SMALL = (256, 320)


def base(*others: Person) -> Scene:
    return scene_of(Description(layout=Layout(framing="half"), others=others), SMALL)


def read(name: str) -> BoardRead:
    return read_board(BOARDS[name].picture, BOARDS[name].pots)


def composed(name: str, weight: float = 1.0, scene: Scene | None = None, said: tuple[str, ...] = ()) -> Composed:
    return compose(scene or base(), read(name), [set(said)], weight)


@pytest.mark.parametrize("name", BOARDS)
def test_as_many_figures_are_read_as_were_roughed_out(name: str) -> None:
    assert len(read(name).figures) == len(BOARDS[name].figures)
    assert is_board(BOARDS[name].picture)


@pytest.mark.parametrize("name", [n for n, b in BOARDS.items() if b.disc])
def test_the_sun_or_moon_is_drawn_where_it_was_painted(name: str) -> None:
    disc = composed(name).scene.disc
    assert disc is not None
    assert BOARDS[name].disc is not None
    assert np.hypot(disc.at[0] / 256 - BOARDS[name].disc[0] / SIZE[0], disc.at[1] / 320 - BOARDS[name].disc[1] / SIZE[1]) < 0.03


def test_a_wall_is_no_sky_and_a_sunset_is_no_wall() -> None:
    assert read("indoors").wall
    assert read("between trunks").wall
    assert not read("country alone").wall


def test_brown_hair_about_a_face_is_no_face() -> None:
    (figure,) = read("portrait").figures
    hair, skin = (figure.colours[part] for part in ("hair", "skin"))
    assert hair[0] < skin[0]


def test_joints_of_lines_are_read_where_they_bend() -> None:
    for name in ("stick dancer", "walker in lines"):
        (figure,) = read(name).figures
        assert figure.joints is not None
        k, (_, y0, _, y1) = SIZE[1] / read(name).size[1], BOARDS[name].figures[0]
        off = [np.hypot(*(figure.joints[AT[joint]] * k - at)) / (y1 - y0) for joint, at in BOARDS[name].joints[0].items()]
        assert np.median(off) < 0.015
        assert max(off) < 0.03


@pytest.mark.parametrize("trunk", [0, 4, 14, 60, 150])
@pytest.mark.parametrize("width", [5, 12])
def test_lines_that_are_hardly_a_figure_are_read_all_the_same(trunk: int, width: int) -> None:
    """Arms where the legs begin, a trunk of a few pixels: what cannot be told is not known, and nothing breaks."""
    b, y = Roughed("odd", "a girl"), 240 + trunk
    b.sticks(
        (250, 190, 34),
        width,
        "2c2c2c",
        neck=(250, 240),
        hips=(250, y),
        le=(200, y),
        lw=(190, y + 30),
        re=(300, y),
        rw=(310, y + 40),
        lk=(240, y + 90),
        la=(225, y + 170),
        rk=(262, y + 90),
        ra=(280, y + 170),
    )
    for figure in read_board(b.picture).figures:
        assert figure.joints is None or np.isfinite(figure.joints).any()


def test_what_is_painted_from_a_pot_is_that_whatever_its_colour() -> None:
    odd = read("from pots")
    assert [sorted(f.colours) for f in odd.figures] == [["hair", "lower", "skin", "upper"]]
    assert {s.kind for s in odd.shapes} == {"sky", "ground", "figure"}
    without = read_board(BOARDS["from pots"].picture)
    assert not without.figures  # blue skin is told by its pot alone


def test_what_an_artist_says_of_a_shape_holds() -> None:
    b = Roughed("a disc", "").down(0, "9cc8e6").down(420, "86a653").oval(120, 300, 40, 40, "a04040")
    assert "thing" in {s.kind for s in read_board(b.picture).shapes}
    said = read_board(b.picture, named=[(120 / 512, 300 / 640, "tree")])
    assert [s.kind for s in said.shapes if s.told] == ["tree"]
    assert any("tree" in one.words for one in told(said))


def test_specks_are_told_and_change_nothing() -> None:
    noise = np.random.default_rng(1).integers(0, 255, (640, 512, 4), np.uint8)
    noise[..., 3] = 255
    found = read_board(noise)
    assert found.noise
    assert "specks" in told(found)[0].words
    scene = base()
    assert compose(scene, found, [set()], 1.0).scene is scene


def test_an_open_board_leaves_the_words_scene() -> None:
    empty = read_board(np.zeros((640, 512, 4), np.uint8))
    scene = base()
    assert compose(scene, empty, [set()], 1.0).scene is scene
    assert composed("on a hill", 0.0, scene).scene is scene


def test_the_figure_fills_its_shape_and_has_its_colours() -> None:
    c = composed("on a hill")
    drawn = draw_scene(c.scene)
    ys, xs = np.nonzero((drawn.figures == 1) & (drawn.labels != Part.PROP))
    x0, y0, x1, y1 = (v / 2 for v in BOARDS["on a hill"].figures[0])
    assert abs(ys.min() - y0) < 10
    assert abs(ys.max() - y1) < 10
    assert abs((xs.min() + xs.max()) / 2 - (x0 + x1) / 2) < 14
    lab = rgb_to_lab(pulled(drawn, c).astype(np.float32) / 255)
    for part, name in ((Part.HAIR, "hair"), (Part.FACE, "skin")):
        where = (drawn.figures == 1) & (drawn.labels == part)
        assert np.linalg.norm(np.median(lab[where], axis=0) - c.matched[0][1].colours[name]) < 4


def test_who_is_only_on_the_board_comes_as_a_person_of_its_size() -> None:
    c = composed("three")
    assert len(c.scene.postures) == 3
    smallest = min(c.matched, key=lambda one: one[1].height)[0]
    assert c.scene.description.figures[smallest].subject in ("girl", "boy")
    assert len(composed("three", 0.0).scene.postures) == 1


def test_words_keep_what_they_name() -> None:
    scene = base()
    kept = composed("on a hill", 1.0, scene, ("place", "hair", "outfit", "pose")).scene
    assert (kept.description.place, kept.description.hair, kept.description.outfit) == (
        "roof garden",
        scene.description.hair,
        scene.description.outfit,
    )
    assert composed("on a hill", 1.0, scene).scene.description.place == "open country"


def test_the_horizon_is_the_boards_in_a_place_that_words_name_too() -> None:
    rows = []
    for y in (300, 400):
        board = Roughed("only ground", "").down(0, "9cc8e6").down(y, "86a653")
        scene = scene_of(Description(place="tide flats", layout=Layout(framing="full")), SMALL)
        c = compose(scene, read_board(board.picture), [{"place"}], 1.0)
        drawn = draw_scene(c.scene)
        sky = (drawn.labels == Part.SKY) & (drawn.figures == 0)
        rows.append(float(np.argwhere(sky[:, :20])[:, 0].max()))
        assert c.scene.description.place == "tide flats"
        assert c.scene.camera.spots == scene.camera.spots
    assert rows[1] - rows[0] == pytest.approx(50, abs=10)


@pytest.mark.parametrize(
    ("kind", "part"), [("tree", Part.FOLIAGE), ("water", Part.WATER), ("window", Part.STRUCTURE), ("cloud", Part.SKY), ("light", Part.LAMP)]
)
def test_a_shape_is_painted_as_what_it_stands_for_and_grows_from_its_foot(kind: str, part: Part) -> None:
    outline = ((0.05, 0.3), (0.3, 0.3), (0.3, 0.5), (0.05, 0.5))

    def drawn(grown: float) -> np.ndarray:
        scene = replace(base(), roughs=(Rough(kind, outline, (0.2, 0.9, 0.3), (0.17, 0.5), grown),))
        return draw_scene(Scene.from_json(json.loads(json.dumps(scene.to_json())))).image.astype(int)

    bare = draw_scene(base()).image
    scene = replace(base(), roughs=(Rough(kind, outline, (0.2, 0.9, 0.3), (0.17, 0.5)),))
    there = draw_scene(scene)
    changed = np.abs(there.image.astype(int) - bare).max(2) > 24
    assert changed[100:160, 20:70].mean() > 0.5
    assert (there.labels[110:150, 25:65] == part).mean() > 0.4
    assert (drawn(1.0) == there.image).all()  # through a document, to the byte
    assert (drawn(0.0) == bare).all()
    small = np.abs(drawn(0.4) - bare).max(2) > 24
    assert small[:115, 20:70].mean() < changed[:115, 20:70].mean()


def test_a_named_place_is_pulled_to_the_boards_wall_as_far_as_the_dial_says() -> None:
    scene = scene_of(Description(place="kitchen", layout=Layout(framing="full")), SMALL)
    wall = read("indoors").sky
    assert wall is not None
    far = []
    for w in (0.0, 0.5, 0.9, 1.0):
        c = compose(scene, read("indoors"), [{"place"}], w)
        lab = rgb_to_lab(pulled(draw_scene(c.scene), c)[:60].astype(np.float32) / 255)
        far.append(float(np.linalg.norm(np.median(lab.reshape(-1, 3), axis=0) - wall[:2].mean(0))))
    assert all(a > b - 0.1 for a, b in itertools.pairwise(far))
    assert far[2] - far[3] < 0.35 * (far[0] - far[3])  # no leap at the end


def test_the_moon_comes_before_the_room_has_gone() -> None:
    room = scene_of(Description(place="kitchen", time="night", layout=Layout(framing="half")), SMALL)
    (x, y), (w, h) = BOARDS["two and the moon"].disc or (0, 0), SIZE
    for weight in (0.6, 0.9, 1.0):
        drawn = draw_scene(composed("two and the moon", weight, room).scene)
        assert drawn.labels[round(y / h * SMALL[1]), round(x / w * SMALL[0])] == Part.LAMP


def test_a_place_goes_over_in_like_parts_of_the_picture() -> None:
    """Walls and floors are not evenly deep: the depth from which the new place is seen falls as much of the picture does."""
    room = scene_of(Description(place="kitchen", layout=Layout(framing="full")), SMALL)
    gone = [composed("on a hill", weight, room).scene.farther for weight in (0.2, 0.4, 0.6, 0.8)]
    depths = [farther[1] for farther in gone if farther is not None]
    assert len(depths) == 4 and all(a > b for a, b in itertools.pairwise(depths))
    drawn = draw_scene(replace(room, absent=frozenset({0})))
    shares = [float((drawn.depth >= depth).mean()) for depth in depths]
    assert np.abs(np.array(shares) - (0.2, 0.4, 0.6, 0.8)).max() < 0.25


def test_the_dial_moves_the_figure_all_the_way_and_never_back() -> None:
    sizes = [composed("on a hill", w).scene.camera.spots[0].scale for w in np.linspace(0, 1, 6)]
    assert all(a > b for a, b in itertools.pairwise(sizes))


def test_a_board_without_weight_changes_no_byte_of_a_take_and_with_it_decides() -> None:
    b = BOARDS["by the water"]
    recipe = Recipe(words=b.words, width=256, height=320, steps=6)
    pictures = {"b" * 64: b.picture}

    def made(weight: float) -> np.ndarray:
        return make_take(recipe.model_copy(update={"cues": [Cue(role="sketch", picture="b" * 64, weight=weight)]}), 3, pictures).image

    plain = make_take(recipe, 3).image
    assert (made(0.0) == plain).all()
    board = made(1.0)
    assert (board == made(1.0)).all()
    sky = rgb_to_lab(board[:40].astype(np.float32) / 255).reshape(-1, 3)
    assert np.linalg.norm(np.median(sky, axis=0) - rgb_to_lab(np.array([0xD4, 0xE8, 0xEE], np.float32) / 255)) < 10


@pytest.fixture(scope="module")
def choice() -> ChosenScene:
    return choose(Recipe(words="a woman in a red coat, full figure", width=256, height=320, steps=6), 4, {}, {})


def test_a_live_picture_does_not_depend_on_what_was_drawn_before(choice: ChosenScene) -> None:
    def live(name: str, kept: LayerCache) -> np.ndarray:
        cue = Cue(role="sketch", picture="b" * 64, weight=0.8)
        return live_picture(choice, boards_of([cue], {"b" * 64: BOARDS[name].picture}, 20), kept).image

    kept = LayerCache()
    for name in ("on a hill", "indoors"):
        live(name, kept)
    assert (live("on a hill", kept) == live("on a hill", LayerCache())).all()


def test_who_is_held_by_a_pose_is_not_moved_by_a_board_but_painted_by_it() -> None:
    def stands(held: float) -> tuple[np.ndarray, float]:
        scene = compose(base(), read("on a hill"), [set()], 1.0, [held]).scene
        spot = scene.camera.spots[0]
        return spot.origin + scene.postures[0].joint("neck") * spot.scale, spot.scale

    own = base().camera.spots[0]
    neck, size = stands(1.0)
    assert size == pytest.approx(own.scale)
    assert neck == pytest.approx(own.origin + base().postures[0].joint("neck") * own.scale)
    sizes = [stands(held)[1] for held in (0.0, 0.5, 1.0)]
    assert sizes[0] < sizes[1] < sizes[2]
    painted = compose(base(), read("on a hill"), [set()], 1.0, [1.0]).scene.description
    assert painted.colour_a == compose(base(), read("on a hill"), [set()], 1.0).scene.description.colour_a != base().description.colour_a


def test_a_take_stands_as_its_pose_says_though_a_board_has_a_figure_elsewhere() -> None:
    b = BOARDS["on a hill"]
    (standing,) = placed(figures_of(entry("standing")), None, (256, 320))
    pose = Cue(role="pose", skeleton=[(float(0.6 * x + 0.02), float(0.6 * y + 0.3)) for x, y in standing.joints], weight=1, end=100)
    sketch = Cue(role="sketch", picture="b" * 64, weight=0.7, end=100)
    recipe = Recipe(words=b.words, width=256, height=320, steps=6, cues=[pose])
    pictures = {"b" * 64: b.picture}
    alone, both = (make_take(r, 3, pictures).drawing for r in (recipe, recipe.model_copy(update={"cues": [pose, sketch]})))
    assert alone is not None
    assert both is not None
    assert np.abs(alone.joints - both.joints).max() < 2


def test_a_pose_moves_who_was_chosen_and_changes_nobody(choice: ChosenScene) -> None:
    (leaping,) = placed(figures_of(entry("leaping")), None, (256, 320))
    cue = Cue(role="pose", skeleton=[(float(x), float(y)) for x, y in leaping.joints], weight=1, end=100)
    moved = live_picture(choice, [], LayerCache(), Poses([cue]))
    assert (moved.image != live_picture(choice, [], LayerCache()).image).any()
    assert moved.scene.description.figures[0].hair == choice.scene.description.figures[0].hair
    recipe = Recipe(words="a woman in a red coat, full figure", width=256, height=320, steps=6)
    plain, posed = make_take(recipe, 4).description, make_take(recipe.model_copy(update={"cues": [cue]}), 4).description
    assert plain is not None
    assert posed is not None
    assert (plain.hair, plain.outfit, plain.face, plain.place) == (posed.hair, posed.outfit, posed.face, posed.place)
    assert posed.layout.skeleton is not None

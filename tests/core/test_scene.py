"""Scenes: drawn the same from their document, held when something in them changes, wider, in layers that are kept."""

import json
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mosskeeper.core.illustrator.description import MOST_THINGS, Description, Face, Layout, Part, Person
from mosskeeper.core.illustrator.draw import draw, draw_scene
from mosskeeper.core.illustrator.explained import MOST_LAYERS, LayeredScenes, SceneLayer
from mosskeeper.core.illustrator.kept import LayerCache
from mosskeeper.core.illustrator.places import PLACES
from mosskeeper.core.illustrator.scene import Disc, Scene, Thing, reposed, scene_of
from mosskeeper.core.illustrator.vocabulary.poses import POSES
from mosskeeper.core.pictures.resample import fitted

SIZE = (192, 240)
PLAIN = Description(hair="braid", outfit="festival coat", place="bell tower", layout=Layout(framing="half"))
WHOLE = replace(PLAIN, layout=Layout(framing="full"), place="tide flats")


def changed(scene: Scene, n: int = 0, **changes: object) -> Scene:
    return scene.with_person(n, replace(scene.description.figures[n], **changes))


def test_a_description_is_drawn_as_its_scene() -> None:
    assert np.array_equal(draw(PLAIN, SIZE).image, draw_scene(scene_of(PLAIN, SIZE)).image)


@settings(deadline=None, max_examples=12)
@given(
    st.sampled_from(sorted(POSES)),
    st.sampled_from(("close", "bust", "half", "full", "wide")),
    st.floats(-8, 8),
    st.sampled_from((1, -1)),
    st.sampled_from(("nothing", "lantern", "umbrella", "book")),
    st.tuples(*[st.floats(0, 1)] * 3),
)
def test_a_scene_read_from_its_document_gives_the_same_bytes(
    pose: str, framing: str, sway: float, facing: int, prop: str, colour: tuple[float, float, float]
) -> None:
    layout = Layout(pose, framing, facing, sway=sway)
    other = Person(subject="boy", layout=Layout(shift=0.2, depth=0.3))
    scene = scene_of(replace(PLAIN, layout=layout, prop=prop, colour_a=colour, others=(other,), companion="fox"), (96, 120))
    scene = replace(scene, things=(Thing("lantern", (20.0, 100.0), 22.0),), absent=frozenset({1}))
    again = Scene.from_json(json.loads(json.dumps(scene.to_json())))
    assert np.array_equal(draw_scene(scene, layers=LayerCache()).image, draw_scene(again, layers=LayerCache()).image)


def test_documents_of_other_versions_and_broken_ones_are_refused_with_a_reason() -> None:
    document = scene_of(PLAIN, SIZE).to_json()
    with pytest.raises(ValueError, match="version 99"):
        Scene.from_json({**document, "version": 99})
    with pytest.raises(ValueError, match="no scene"):
        Scene.from_json({**document, "camera": "here"})


@pytest.mark.parametrize(
    "changes", [{"headwear": "hat"}, {"prop": "umbrella"}, {"hair": "bun"}, {"outfit": "night cloak"}, {"expression": "joyful"}]
)
def test_what_is_put_on_never_moves_anybody(changes: dict[str, str]) -> None:
    """The same description framed anew may stand elsewhere: the camera leaves room for hats and props."""
    scene = scene_of(WHOLE, SIZE)
    before, after = draw_scene(scene), draw_scene(changed(scene, **changes))
    assert np.array_equal(before.joints, after.joints)
    assert before.head == after.head
    assert not np.array_equal(before.image, after.image)


def test_another_pose_keeps_the_feet_where_they_are_seen_and_the_head_where_they_are_not() -> None:
    for description in (WHOLE, PLAIN):
        scene = scene_of(description, SIZE)
        person = scene.description.figures[0]
        other = reposed(scene, 0, replace(person, layout=replace(person.layout, pose="waving")))
        a, b = draw_scene(scene), draw_scene(other)
        if scene.camera.shows_ground:
            assert np.array_equal(scene.camera.spots[0].origin, other.camera.spots[0].origin)
        else:
            assert np.hypot(a.head[0] - b.head[0], a.head[1] - b.head[1]) < 0.3 * a.head[2]


def test_a_wider_canvas_goes_on_with_the_same_picture() -> None:
    scene = scene_of(WHOLE, SIZE)
    plain, wide = draw_scene(scene), draw_scene(scene, wider=(50, 20, 70, 10))
    assert wide.image.shape == (270, 312, 3)
    inner = np.s_[20:260, 50:242]
    assert np.array_equal(wide.labels[inner], plain.labels)
    assert np.abs(wide.image[inner].astype(int) - plain.image).mean() < 0.5
    assert wide.head == pytest.approx((plain.head[0] + 50, plain.head[1] + 20, plain.head[2]))
    assert wide.image[:, :40].std() > 5


def test_layers_that_were_kept_give_the_same_bytes_also_in_many_threads() -> None:
    scenes = [scene_of(replace(PLAIN, expression=e, time=t), SIZE) for e in ("calm", "joyful", "sad") for t in ("noon", "night")]
    fresh = [draw_scene(scene, layers=LayerCache()).image for scene in scenes]
    shared = LayerCache(limit=3_000_000)  # too little for all: things are given up meanwhile
    with ThreadPoolExecutor(4) as pool:
        made = list(pool.map(lambda scene: draw_scene(scene, layers=shared).image, scenes * 4))
    for k, image in enumerate(made):
        assert np.array_equal(image, fresh[k % len(fresh)])


@pytest.mark.statistics
def test_what_was_built_for_others_never_shows_in_a_drawing() -> None:
    """Parts of figures are taken again where they are the same; a thread of its own has none to take."""
    rng = np.random.default_rng(5)

    def chosen(*values: str) -> str:
        return values[rng.integers(len(values))]

    scenes = []
    for _ in range(40):
        person = replace(
            PLAIN,
            subject=chosen("woman", "girl"),
            skin=chosen("peach", "umber"),
            colour_a=((0.72, 0.28, 0.23), (0.2, 0.4, 0.62))[rng.integers(2)],
            worn=((), ("gloves",))[rng.integers(2)],
            hair=chosen("braid", "curls", "bob"),
            outfit=chosen("tunic", "festival coat", "rain cape"),
            expression=chosen("calm", "joyful"),
            prop=chosen("nothing", "lantern"),
            time=chosen("noon", "night"),
            weather=chosen("clear", "wind", "storm"),
        )
        scenes.append(scene_of(person, (96, 120)))
    made = [draw_scene(scene, layers=LayerCache()).image for scene in scenes]
    for scene, image in zip(scenes, made, strict=True):
        with ThreadPoolExecutor(1) as alone:
            assert np.array_equal(alone.submit(draw_scene, scene, layers=LayerCache()).result().image, image)


def test_what_is_painted_a_second_time_is_painted_the_same() -> None:
    """A path that was painted knows more of itself than a fresh one, which must not show."""
    for n in range(8):
        face = Face.sampled(np.random.default_rng(n))
        scene = scene_of(
            replace(PLAIN, face=face, time="night", hair="long straight", layout=Layout(framing="half", sway=n - 4)), (256, 320)
        )
        first, second = (draw_scene(scene, layers=LayerCache()).image for _ in range(2))
        assert np.array_equal(first, second)


def test_four_people_and_eight_things_each_have_their_own_number() -> None:
    people = tuple(Person(subject=s, layout=Layout(shift=x, framing="full")) for s, x in (("boy", -0.12), ("man", 0.12), ("girl", 0.34)))
    scene = scene_of(replace(WHOLE, layout=Layout(framing="full", shift=-0.34), others=people), (320, 240))
    names = ("lantern", "basket", "fox", "cat", "book", "watering can", "lantern", "basket")
    things = tuple(Thing(name, (20.0 + 38 * k, 232.0), 22.0) for k, name in enumerate(names))
    drawing = draw_scene(replace(scene, things=things))
    assert {1, 2, 3, 4, *range(6, 14)} <= set(np.unique(drawing.figures))
    assert (drawing.depth[drawing.figures == 13] < 0.5).all()
    with pytest.raises(ValueError, match="8 things"):
        replace(scene, things=things * MOST_THINGS)


def test_a_standing_thing_has_nobodys_colours_and_nobodys_posture() -> None:
    things = (Thing("umbrella", (150.0, 230.0), 40.0), Thing("book", (40.0, 230.0), 40.0))
    layers = LayerCache()
    for changes in ({}, {"colour_a": (0.9, 0.1, 0.1), "colour_b": (0.1, 0.9, 0.1)}, {"layout": Layout("dancing", "full")}):
        scene = replace(scene_of(replace(WHOLE, **changes), SIZE), things=things)
        drawing, alone = draw_scene(scene, True, layers=layers), draw_scene(scene, True, layers=LayerCache())
        assert np.array_equal(drawing.image, alone.image)
        assert drawing.albedo is not None
        umbrella = drawing.albedo[drawing.figures == 3]
        if not changes:
            usual = umbrella
        assert np.array_equal(umbrella, usual)


def test_somebody_who_was_taken_away_leaves_the_place() -> None:
    scene = scene_of(replace(WHOLE, others=(Person(subject="man", layout=Layout(shift=0.25)),)), SIZE)
    gone = draw_scene(replace(scene, absent=frozenset({1})))
    assert set(np.unique(gone.figures)) == {0, 1}
    assert not gone.shown[1].visible.any()


def test_the_sun_stands_where_the_scene_has_it_and_lights_what_is_about_it() -> None:
    scene = scene_of(replace(WHOLE, time="night", place="tide flats"), SIZE)
    usual, own = draw_scene(scene), draw_scene(replace(scene, disc=Disc((40.0, 50.0), 14.0, (1.0, 0.5, 0.2))))
    there = own.image[45:55, 35:45].reshape(-1, 3).mean(0)
    assert there[0] > there[2] + 60
    moon = np.argwhere(usual.labels == Part.LAMP).mean(0)
    assert not (own.labels[round(moon[0]) - 4 : round(moon[0]) + 4, round(moon[1]) - 4 : round(moon[1]) + 4] == Part.LAMP).any()
    small = draw_scene(replace(scene, disc=Disc((40.0, 50.0), 14.0, (1.0, 0.5, 0.2))).resized(0.5))
    assert small.labels[25, 20] == Part.LAMP


def test_wind_is_the_scenes_whatever_the_weather() -> None:
    scene = scene_of(replace(WHOLE, hair="long straight"), SIZE)
    still, blown = (draw_scene(replace(scene, wind=wind)) for wind in (0.0, 1.0))
    right = [np.argwhere((d.labels == Part.HAIR) & (d.figures == 1))[:, 1].max() for d in (still, blown)]
    assert right[1] > right[0] + 3


@pytest.mark.parametrize("place", sorted(PLACES))
def test_every_place_says_where_one_can_stand(place: str) -> None:
    scene = scene_of(replace(WHOLE, place=place), SIZE)
    labels = draw_scene(replace(scene, absent=frozenset({0}))).labels
    foot = round(float(scene.camera.spots[0].origin[1]))
    assert scene.floor < foot
    below = labels[max(round(scene.floor) + 3, foot - 6) : min(foot + 6, SIZE[1]), 60:132]
    assert np.isin(below, (Part.GROUND, Part.WATER, Part.FOLIAGE, Part.STRUCTURE)).mean() > 0.9


def test_eyes_close_and_look_to_where_the_picture_says() -> None:
    for facing in (1, -1):
        scene = scene_of(replace(PLAIN, layout=Layout(framing="close", facing=facing)), SIZE)
        ahead, left = (draw_scene(changed(scene, look=(x, 0.0))).landmarks["left pupil"] for x in (0.0, -1.0))
        assert left[0] < ahead[0] - 0.5
    opened, closed = (draw_scene(changed(scene, lids=lids)) for lids in (1.0, 0.0))
    assert (closed.labels == Part.EYES).sum() < 0.5 * (opened.labels == Part.EYES).sum()


def test_a_hat_has_a_size_and_colours_of_its_own() -> None:
    scene = scene_of(replace(PLAIN, headwear="hat"), SIZE)
    usual, wide = draw_scene(scene), draw_scene(changed(scene, headwear_size=(1.6, 1.0)))
    extent = [np.ptp(np.nonzero(d.labels == Part.HEADWEAR)[1]) for d in (usual, wide)]
    assert extent[1] > 1.15 * extent[0]
    red = draw_scene(changed(scene, headwear_colours=((0.9, 0.1, 0.1), (0.9, 0.1, 0.1))), with_albedo=True)
    assert red.albedo is not None
    assert (np.median(red.albedo[red.labels == Part.HEADWEAR], 0) == (230, 26, 26)).all()


# -- explained pictures ----------------------------------------------------------------------------------------


def left_half(amount: float = 1.0) -> np.ndarray:
    mask = np.zeros(SIZE[::-1], np.float32)
    mask[:, : SIZE[0] // 2] = amount
    return mask


def test_scenes_laid_over_each_other_share_the_picture_and_come_back_from_their_document() -> None:
    day, night = scene_of(PLAIN, SIZE), scene_of(replace(PLAIN, time="night"), SIZE)
    made = LayeredScenes.of([day]).with_mend([night], left_half(0.75))
    assert np.allclose(sum(made.shares()), 1)
    assert np.allclose(made.shares()[1], left_half(0.75), atol=0.01)
    again = LayeredScenes.from_json(json.loads(json.dumps(made.to_json())))
    assert np.array_equal(again.drawn().image, made.drawn().image)
    plain = draw_scene(day).image
    assert np.array_equal(made.drawn().image[:, SIZE[0] // 2 :], plain[:, SIZE[0] // 2 :])


def test_layers_of_which_nothing_is_seen_are_dropped_and_there_are_never_too_many() -> None:
    day, night = scene_of(PLAIN, SIZE), scene_of(replace(PLAIN, time="night"), SIZE)
    made = LayeredScenes.of([day]).with_mend([night], np.ones(SIZE[::-1], np.float32))
    assert [one.scene.description.time for one in made.layers] == ["night"]
    many = LayeredScenes.of([day])
    for k in range(6):
        mask = np.zeros(SIZE[::-1], np.float32)
        mask[20 * k : 20 * k + 40] = 0.6
        many = many.with_mend([night] * len(many.layers), mask)
        assert len(many.layers) <= MOST_LAYERS
        assert np.allclose(sum(many.shares()), 1)


def test_a_layer_without_a_mask_or_of_another_size_is_refused() -> None:
    day = scene_of(PLAIN, SIZE)
    with pytest.raises(ValueError, match="lowest"):
        LayeredScenes((SceneLayer(day, np.zeros(SIZE[::-1], np.uint8)),))
    with pytest.raises(ValueError, match="mask"):
        LayeredScenes((SceneLayer(day), SceneLayer(day, np.zeros((3, 3), np.uint8))))


def test_the_illustrator_draws_as_its_version_says() -> None:
    """Where this fails, scenes are drawn otherwise than before: raise ILLUSTRATOR, and write the thumbnails anew with this code."""
    kept = np.load(Path(__file__).parent.parent / "data" / "illustrator_1.npy")
    for picture, (framing, finish) in zip(kept, (("half", "gouache"), ("full", "watercolour"), ("bust", "paper cut")), strict=True):
        drawing = draw(replace(PLAIN, finish=(finish,), prop="lantern", layout=Layout(framing=framing)), (256, 320))
        assert np.abs(fitted(drawing.image, (32, 40)).astype(int) - picture).max() <= 3

"""Several figures in one picture, and their companion."""

import itertools
from dataclasses import replace

import numpy as np
import pytest

from mosskeeper.core.illustrator.companions import COMPANIONS
from mosskeeper.core.illustrator.description import FIGURE_PARTS, Description, Layout, Part, Person
from mosskeeper.core.illustrator.draw import draw
from mosskeeper.core.illustrator.places import PLACES
from mosskeeper.core.illustrator.skeleton import AT
from mosskeeper.core.illustrator.vocabulary.poses import POSES

SIZE = (192, 240)
RED, BLUE, YELLOW = (0.72, 0.28, 0.23), (0.18, 0.25, 0.55), (0.88, 0.64, 0.22)


def person(shift: float = 0.19, **more: object) -> Person:
    layout = Layout(
        str(more.pop("pose", "standing")),
        "full",
        facing=int(str(more.pop("facing", -1))),
        shift=shift,
        depth=float(str(more.pop("depth", 0))),
    )
    return Person(layout=layout, **more)  # type: ignore[arg-type]


def group(*others: Person, framing: str = "full", **more: object) -> Description:
    return Description(layout=Layout("standing", framing, shift=-0.19 if len(others) == 1 else -0.29), others=others, **more)  # type: ignore[arg-type]


THREE = group(person(0.0, subject="girl"), person(0.29, subject="man"))


@pytest.mark.parametrize("place", PLACES)
def test_three_figures_stand_in_every_place(place: str) -> None:
    drawing = draw(replace(THREE, place=place), SIZE)
    for n in (1, 2, 3):
        own = drawing.labels[drawing.figures == n]
        assert len(own) > 300
        assert (own == Part.FACE).any()
        assert np.isin(own, [*FIGURE_PARTS, Part.GROUND, Part.SEAT]).all()
    assert len(drawing.shown) == 3
    assert set(np.unique(drawing.labels[drawing.figures == 0])) <= {p for p in Part if p < Part.HAIR}


def test_each_has_a_place_of_its_own_from_left_to_right() -> None:
    drawing = draw(THREE, SIZE)
    assert [s.head[0] for s in drawing.shown] == sorted(s.head[0] for s in drawing.shown)
    for n, shown in enumerate(drawing.shown, 1):
        assert drawing.figures[round(shown.head[1]), round(shown.head[0])] == n


def test_a_child_stays_smaller_than_the_man_beside_it() -> None:
    _, girl, man = draw(THREE, SIZE).shown
    assert np.ptp(girl.joints[:, 1]) < 0.8 * np.ptp(man.joints[:, 1])
    assert girl.head[1] > man.head[1]


def test_who_is_farther_is_smaller_higher_and_behind() -> None:
    near, far = (draw(group(person(depth=d)), SIZE) for d in (0.0, 1.0))
    assert far.shown[1].head[2] < near.shown[1].head[2]
    ankle = AT["left ankle"]
    assert far.shown[1].joints[ankle, 1] < near.shown[1].joints[ankle, 1]
    assert far.depth[far.figures == 2].mean() > far.depth[far.figures == 1].mean()
    over = draw(group(person(-0.19, depth=1.0)), SIZE)
    assert not over.shown[1].visible[AT["left hip"]]  # the first stands before it


def test_each_keeps_its_own_colours_and_words() -> None:
    drawing = draw(
        replace(group(person(colour_a=BLUE, hair="shaved")), colour_a=RED, hair="curls", place="bell tower", time="noon"), (256, 320)
    )
    red, blue = (drawing.image[(drawing.labels == Part.TOP) & (drawing.figures == n)].mean(0) for n in (1, 2))
    assert red[0] > red[2] + 40
    assert blue[2] > blue[0] + 20
    hair = [((drawing.labels == Part.HAIR) & (drawing.figures == n)).sum() for n in (1, 2)]
    assert hair[0] > 2 * hair[1]


@pytest.mark.parametrize("framing", ["close", "bust", "half", "full", "wide"])
@pytest.mark.parametrize("other", ["girl", "woman", "old man"])
def test_all_heads_are_in_every_frame(framing: str, other: str) -> None:
    drawing = draw(group(person(subject=other), framing=framing), SIZE)
    for shown in drawing.shown:
        x, y, radius = shown.head
        assert radius * 0.5 < x < SIZE[0] - radius * 0.5
        assert radius < y < SIZE[1] - radius * 0.6


@pytest.mark.parametrize(("pose", "facing"), list(itertools.product(POSES, (1, -1))))
def test_the_second_figure_takes_every_pose_and_side(pose: str, facing: int) -> None:
    drawing = draw(group(person(pose=pose, facing=facing)), (96, 120))
    assert ((drawing.figures == 2) & (drawing.labels == Part.FACE)).sum() > 8


@pytest.mark.parametrize("companion", [c for c in COMPANIONS if c != "nobody"])
@pytest.mark.parametrize("company", [0, 1])
def test_a_companion_is_a_figure_of_its_own(companion: str, company: int) -> None:
    drawing = draw(replace(group(*[person()] * company), companion=companion), SIZE)
    number = company + 2
    assert set(np.unique(drawing.labels[drawing.figures == number])) == {Part.COMPANION}
    assert (drawing.labels[drawing.figures != number] != Part.COMPANION).all()


def test_five_are_too_many() -> None:
    with pytest.raises(ValueError, match="at most 4"):
        draw(group(*[person()] * 4), SIZE)


def test_a_company_is_drawn_the_same_twice() -> None:
    assert draw(THREE, SIZE).image.tobytes() == draw(THREE, SIZE).image.tobytes()


def test_part_map_has_at_least_24_parts_and_all_of_them_occur() -> None:
    assert len(Part) >= 24
    seen: set[int] = set()
    for place, subject, more in itertools.product(("bell tower", "lamp quay", "tide flats"), ("woman", "old man"), (0, 1)):
        extra = {"worn": ("necklace",), "prop": "lantern", "companion": "fox", "headwear": "cap"} if more else {"outfit": "festival coat"}
        pose = "sitting" if more else "waving"
        description = Description(
            place=place,
            subject=subject,
            facial_hair="beard" if "man" in subject and "wo" not in subject else "none",
            layout=Layout(pose, "full"),
            **extra,
        )  # type: ignore[arg-type]
        seen |= set(np.unique(draw(description, (256, 320)).labels).tolist())
    nightshirt = draw(Description(outfit="nightshirt", hair="shaved", layout=Layout("running", "full")), (256, 320)).labels
    seen |= set(np.unique(nightshirt).tolist())
    assert {int(p) for p in Part} - seen == set()

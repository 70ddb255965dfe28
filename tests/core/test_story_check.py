"""What of a picture is not as anchor and wardrobe have it."""

from dataclasses import replace

import pytest

from mosskeeper.core.continuity.drift import Drift
from mosskeeper.core.continuity.story_check import strays
from mosskeeper.core.illustrator.description import Person
from mosskeeper.core.reading.contents import Contents, Subject
from mosskeeper.core.traits import OF_FIGURE

SURELY = {trait.name: 1.0 for trait in OF_FIGURE}
WHO = Person(subject="man", hair="curls", hair_colour="copper", facial_hair="beard", mark="scar", glasses=True, outfit="tunic")
ANCHOR = Contents((Subject(WHO, SURELY),), origin="scene")
NEAR, FAR = Drift(0.4, {}), Drift(1.4, {"look": 1.5, "hair": 1.6, "eyes": 0.2})


def shown(**changes: object) -> Contents:
    return Contents((Subject(replace(WHO, **changes), SURELY),), origin="scene")  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("changes", "said"),
    [
        ({}, ()),
        ({"mark": "none"}, ("scar went",)),
        ({"glasses": False}, ("glasses went",)),
        ({"freckles": True}, ("freckles came",)),
        ({"facial_hair": "moustache"}, ("beard: moustache, the anchor has beard",)),
        ({"hair_colour": "ink", "eyes": "sky"}, ("hair colour: ink, the anchor has copper", "eye colour: sky, the anchor has brown")),
        ({"outfit": "apron"}, ("wears: apron, the wardrobe says tunic",)),
        ({"expression": "angry", "prop": "lantern"}, ()),
    ],
)
def test_what_came_went_or_changed_is_said(changes: dict[str, object], said: tuple[str, ...]) -> None:
    anchor = Contents((Subject(replace(WHO, eyes="brown"), SURELY),), origin="scene")
    assert strays(NEAR, shown(**{"eyes": "brown", **changes}), anchor, ("tunic",)) == said


def test_a_stranger_is_told_with_what_is_other() -> None:
    assert strays(FAR, shown(), ANCHOR) == ("reads as another person: hair",)
    assert strays(None, None, ANCHOR) == ()


def test_what_is_not_sure_and_pictures_of_several_are_not_judged_trait_by_trait() -> None:
    unsure = Contents((Subject(replace(WHO, mark="none"), {**SURELY, "mark": 0.5}),))
    two = Contents((Subject(replace(WHO, mark="none"), SURELY), Subject(WHO, SURELY)), origin="scene")
    assert strays(NEAR, unsure, ANCHOR, ("tunic",)) == ()
    assert strays(NEAR, two, ANCHOR, ("apron",)) == ()

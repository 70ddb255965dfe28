"""Every row of the table of traits is found wherever traits are used: prompts, references, mends, strength, faces, denoising."""

import numpy as np
import pytest

from mosskeeper.core.diffusion.exemplars import GROUPS, recombined
from mosskeeper.core.illustrator.description import Description, Face, Layout, Part, Person
from mosskeeper.core.illustrator.draw import draw_scene
from mosskeeper.core.illustrator.scene import Scene, scene_of
from mosskeeper.core.mending.ask.changed_scene import asked
from mosskeeper.core.mending.choose.quick import drawn_as
from mosskeeper.core.mending.redraw.faces import face_of
from mosskeeper.core.roles import reference
from mosskeeper.core.scenes.interpolation import way
from mosskeeper.core.traits import BY_NAME, OF_FIGURE, OF_PERSON, PARTS, TRAITS, WORN, Trait, changes, fields_of_group, value_in
from mosskeeper.core.words.attributes import ATTRIBUTES
from mosskeeper.core.words.describe import phrase
from mosskeeper.core.words.understand import understand

NAMED = [trait for trait in TRAITS if trait.kind != "measure"]
OWN = Description(layout=Layout("facing", "bust", view="front"), headwear_colours=((0.5, 0.2, 0.2), (0.2, 0.2, 0.5)))
SAID = [
    (trait, value)
    for trait in NAMED
    for value in ATTRIBUTES[trait.name].every
    if value not in ("none", "no", "nothing", "nobody", "free", "average", "plain", "clear", "plain light")
]


def other_value(trait: Trait) -> str:
    """A value of a trait that `OWN` does not have."""
    return next(value for value in reversed(ATTRIBUTES[trait.name].every) if value != value_in(OWN, trait) and value != "storm")


def with_other(trait: Trait) -> Description:
    d = OWN
    return d.__class__(**{name: getattr(d, name) for name in d.__dataclass_fields__} | _changed(trait))


def _changed(trait: Trait) -> dict[str, object]:
    if trait.carrier in ("person", "clothes", "moment") and trait.name != "companion":
        return changes(OWN, {trait.name: other_value(trait)})
    return {trait.field: (other_value(trait),) if trait.name == "finish" else other_value(trait)}


def ids(trait: Trait) -> str:
    return trait.name


@pytest.mark.parametrize("trait", TRAITS, ids=ids)
def test_a_trait_has_a_switch_a_field_and_parts_of_drawings(trait: Trait) -> None:
    assert (trait.part in PARTS) == (trait.carrier != "moment")
    assert trait.fields and all(name in Description.__dataclass_fields__ for name in trait.fields)
    assert BY_NAME[trait.name] is trait
    assert {Part[name] for name in trait.shows_in} <= set(Part)
    assert (trait.name in ATTRIBUTES) == (trait.kind != "measure")
    assert not trait.off or trait.off in ATTRIBUTES[trait.name].values


@pytest.mark.parametrize(("trait", "value"), SAID, ids=lambda one: one.name if isinstance(one, Trait) else one)
def test_the_phrase_of_a_value_is_understood_as_that_value(trait: Trait, value: str) -> None:
    said = understand(phrase(trait.name, value)).wanted
    assert value in said.get(trait.name, {}) or trait.name == "finish"


@pytest.mark.parametrize("trait", [t for t in NAMED if t.carrier in ("person", "clothes")], ids=ids)
def test_a_value_is_written_into_a_person_and_read_again(trait: Trait) -> None:
    person = Person(**{name: getattr(OWN, name) for name in Person.__dataclass_fields__} | changes(OWN, {trait.name: other_value(trait)}))
    assert value_in(person, trait) == other_value(trait)
    assert all(value_in(person, other) == value_in(OWN, other) for other in OF_FIGURE if other.kind != "measure" and other is not trait)


def test_a_measure_has_no_named_value() -> None:
    with pytest.raises(ValueError, match="face shape"):
        value_in(OWN, BY_NAME["face shape"])


@pytest.mark.parametrize("trait", [t for t in NAMED if t.name != "finish"], ids=ids)
def test_strength_goes_over_to_the_other_value(trait: Trait) -> None:
    first, last = scene_of(OWN, (128, 160)), scene_of(with_other(trait), (128, 160))
    path = way(first, last)
    met = {getattr(path.at(float(t)).description, trait.field) for t in np.linspace(0, 1, 9)}
    met |= {path.at(float(t)).farther for t in np.linspace(0, 1, 9)}
    lights = {str(path.at(float(t)).light) for t in np.linspace(0, 1, 9)}
    assert getattr(last.description, trait.field) in met
    assert trait.order or trait.kind == "tone" or len(lights) > 2 or any(m is not None for m in met)


@pytest.mark.parametrize("trait", [t for t in NAMED if t.group], ids=ids)
def test_the_segment_of_a_trait_decides_it(trait: Trait) -> None:
    weights = np.zeros((2, len(GROUPS)), np.float32)
    weights[0] = 1
    weights[:, list(GROUPS).index(trait.group)] = 0, 1
    chosen = recombined([OWN, with_other(trait)], weights)
    assert getattr(chosen, trait.field) == getattr(with_other(trait), trait.field)
    assert trait.field in fields_of_group(trait.group)


@pytest.mark.parametrize("trait", OF_PERSON, ids=ids)
def test_a_face_reference_can_lend_what_a_person_is(trait: Trait) -> None:
    role = reference("face")
    assert role is not None
    assert trait.part in role.switched(())


def mended(trait: Trait, scene: Scene) -> Scene:
    before = draw_scene(scene, with_albedo=True)
    words = phrase(trait.name, other_value(trait))
    return asked(scene, before, before.figures == 1, words, "", lambda *_: Person()).scene


@pytest.mark.parametrize("trait", [t for t in NAMED if t.carrier in ("person", "clothes")], ids=ids)
def test_a_mend_gives_somebody_the_value_that_its_words_name(trait: Trait) -> None:
    made = mended(trait, scene_of(OWN, (128, 160))).description
    assert value_in(made, trait) == other_value(trait)


def test_a_face_that_is_put_on_brings_what_belongs_to_it() -> None:
    anchor = Person(
        subject="man", skin="umber", eyes="amber", freckles=True, glasses=True, facial_hair="beard", mark="scar", face=Face(width=1.1)
    )
    given = face_of(anchor)(OWN)
    for trait in OF_PERSON:
        carried = all(getattr(given, name) == getattr(anchor, name) for name in trait.fields)
        assert carried or not trait.of_face


def test_what_somebody_was_drawn_as_is_told_trait_by_trait() -> None:
    told = drawn_as(Person(glasses=True, hair="bun"))
    assert told["glasses"] == {"yes": 1.0}
    assert told["hair"] == {"bun": 1.0}
    assert set(told) <= set(BY_NAME)


def test_things_that_are_worn_keep_their_order() -> None:
    assert changes(Person(worn=("scarf",)), {"bag": "yes", "necklace": "yes"})["worn"] == tuple(
        thing for thing in WORN if thing in ("necklace", "scarf", "bag")
    )

import hashlib
import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosskeeper.core.errors import BadRecipe
from mosskeeper.core.pictures.areas import area_mask
from mosskeeper.core.pictures.decode import encode_png
from mosskeeper.core.recipe import MAX_SEED, Cue, Recipe, Region, Source, Variation, differences, read_recipe
from mosskeeper.core.recipe_versions import VERSION

SHA = "a" * 64
letters = st.characters(codec="utf-8", exclude_categories=["Cc"])
cues = st.builds(
    lambda w, a, b, on: Cue(picture=SHA, weight=w, start=min(a, b), end=max(a, b) + 1, on=on),
    st.floats(0, 1.5),
    st.integers(0, 99),
    st.integers(0, 99),
    st.booleans(),
)
recipes = st.builds(
    Recipe,
    words=st.text(letters, max_size=60),
    negative=st.text(letters, max_size=20),
    width=st.sampled_from([256, 512, 2048]),
    steps=st.integers(4, 60),
    guidance=st.floats(0, 20),
    seed=st.none() | st.integers(0, MAX_SEED),
    count=st.integers(1, 8),
    cues=st.lists(cues, max_size=3),
)


@given(recipes)
def test_a_recipe_survives_being_written_and_read(recipe: Recipe) -> None:
    assert read_recipe(recipe.to_json()) == recipe


@given(recipes)
def test_a_recipe_does_not_differ_from_itself(recipe: Recipe) -> None:
    assert differences(recipe, recipe) == []


def test_differences_name_what_changes_in_the_artists_words() -> None:
    changed = differences(Recipe(words="a boy", seed=3), Recipe(words="a girl", guidance=5.5))
    assert ("Words", "a boy", "a girl") in changed
    assert ("Guidance", "7", "5.5") in changed
    assert ("Seed", "3", "fresh") in changed
    assert len(changed) == 3


def test_a_recipe_from_a_newer_version_is_refused_with_what_to_do() -> None:
    with pytest.raises(BadRecipe, match=r"newer version.*Update Moss Keeper"):
        read_recipe({"version": VERSION + 1, "words": "a boy", "something": "new"})


@pytest.mark.parametrize("broken", ["{", "", "[1]", '"x"', b"\xff\xfe", json.dumps({"version": 1, "steps": "many"})])
def test_a_broken_recipe_is_refused_with_a_sentence(broken: str | bytes) -> None:
    with pytest.raises(BadRecipe) as caught:
        read_recipe(broken)
    assert caught.value.sentence.endswith(".")


@pytest.mark.parametrize(
    ("change", "field", "sentence"),
    [
        ({"steps": 3}, "steps", "Steps must be at least 4."),
        ({"steps": "a few"}, "steps", "Steps must be a number."),
        ({"guidance": 21}, "guidance", "Guidance must be at most 20."),
        ({"guidance": float("nan")}, "guidance", "Guidance must be"),
        ({"count": 9}, "count", "Takes must be at most 8."),
        ({"width": 500}, "width", "Width must be a multiple of 16."),
        ({"seed": -1}, "seed", "Seed must be at least 0."),
        ({"cues": [{"picture": SHA, "start": 60, "end": 40}]}, "cues", "the span must end after it starts"),
        ({"cues": [{"picture": SHA, "weight": 2}]}, "weight", "Weight must be at most 1.5."),
        ({"steps_": 1}, "steps_", "not a setting that this version knows"),
    ],
)
def test_a_value_out_of_range_is_named(change: dict[str, object], field: str, sentence: str) -> None:
    with pytest.raises(BadRecipe) as caught:
        read_recipe({"version": 1} | change)
    assert caught.value.field == field
    assert sentence in caught.value.sentence


def test_the_recipe_of_a_take_asks_for_one_picture_with_its_own_seed() -> None:
    own = Recipe(words="a boy", count=6).with_seed(41)
    assert (own.seed, own.count, own.words) == (41, 1, "a boy")


def test_the_prompt_joins_given_words_and_the_artists() -> None:
    assert Recipe(given="Ada", words="calm").prompt == "Ada, calm"
    assert Recipe(words="calm").prompt == "calm"


def test_a_cue_needs_a_picture_or_for_a_pose_a_skeleton() -> None:
    Cue(role="pose", skeleton=[(0.5, 0.5)] * 17 + [None])
    for bad in ({"role": "look"}, {"role": "pose"}, {"role": "edges", "skeleton": [(0.5, 0.5)] * 18}):
        with pytest.raises(BadRecipe, match="needs a picture"):
            read_recipe({"version": 1, "cues": [bad]})
    with pytest.raises(BadRecipe, match="Skeleton"):
        read_recipe({"version": 1, "cues": [{"role": "pose", "skeleton": [[0.5, 0.5]]}]})


def test_a_recipe_names_all_pictures_that_it_uses() -> None:
    sha = [f"{n:064x}" for n in range(8)]
    recipe = Recipe(
        cues=[Cue(picture=sha[0], area=sha[1]), Cue(picture=sha[2], weight=0)],
        regions=[Region(mask=sha[3], words="red", cues=[Cue(picture=sha[4])]), Region(mask=sha[5], words="blue", on=False)],
        source=Source(picture=sha[6], mask=sha[7]),
    )
    assert recipe.pictures == {sha[n] for n in (0, 1, 3, 4, 6, 7)}
    assert Recipe(cues=[Cue(role="pose", skeleton=[None] * 18)]).pictures == set()


def test_what_changed_in_regions_source_and_variation_is_told() -> None:
    old, new = (
        Recipe(),
        Recipe(regions=[Region(mask="a" * 64, words="a red coat")], source=Source(picture="b" * 64), variation=Variation(seed=3)),
    )
    told = {label: text for label, _, text in differences(old, new)}
    assert told["Regions"].startswith("a red coat")
    assert "strength 0.5" in told["Source picture"]
    assert "seed 3" in told["Variation"]


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"on": False}, "off"),
        ({"solo": True}, "solo"),
        ({"weight": 0.8}, "0.8"),
        ({"end": 60.0}, "0–60 %"),
        ({"role": "pose"}, "pose"),
        ({"area": hashlib.sha256(encode_png(area_mask("left"))).hexdigest()}, "in area left"),
        ({"area": "b" * 64}, "in area bbbbbbbb"),
        ({"role": "pose", "skeleton": [(0.5, 0.5)] * 18}, "points placed by hand"),
    ],
)
def test_every_change_of_a_cue_is_told(change: dict[str, object], said: str) -> None:
    cue = Cue(picture="a" * 64, name="study")
    ((label, old, new),) = differences(Recipe(cues=[cue]), Recipe(cues=[cue.model_copy(update=change)]))
    assert label == "Cues"
    assert said in new
    assert said not in old

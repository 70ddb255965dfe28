import pytest
from hypothesis import given
from hypothesis import strategies as st

from mosskeeper.core.dials import dials_of
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.recipe import Cue, Recipe, Source
from mosskeeper.core.sweep import MOST_CELLS, Dial, cells, check, recipe_at, spread, values_at

RECIPE = Recipe(words="a girl", cues=[Cue(picture="a" * 64, name="Marrit", weight=0.5, start=10, end=80)])


@given(st.lists(st.integers(1, 7), min_size=1, max_size=2))
def test_every_cell_has_its_own_values_and_all_are_met(lengths: list[int]) -> None:
    dials = [
        Dial(name=name, values=tuple(float(v) for v in range(n))) for name, n in zip(("guidance", "cue-0-weight"), lengths, strict=False)
    ]
    met = {tuple(values_at(dials, place)) for place in range(cells(dials))}
    assert len(met) == cells(dials)


def test_a_cell_changes_its_dials_and_nothing_else() -> None:
    dials = [Dial(name="cue-0-weight", values=(0.0, 0.5, 1.0)), Dial(name="guidance", values=(3.0, 9.0))]
    cell = recipe_at(RECIPE, dials, 5)
    assert (cell.cues[0].weight, cell.guidance) == (1.0, 9.0)
    assert cell.model_copy(update={"guidance": RECIPE.guidance, "cues": RECIPE.cues}) == RECIPE


@pytest.mark.parametrize(
    ("name", "value", "read"),
    [
        ("steps", 12.0, lambda r: r.steps == 12),
        ("seed", 4.0, lambda r: r.seed == 4),
        ("style", "chalk", lambda r: r.styles == ["chalk"]),
        ("style", "", lambda r: r.styles == []),
        ("engine", "fine", lambda r: r.engine == "fine"),
        ("cue-0-end", 60.0, lambda r: r.cues[0].end == 60),
        ("strength", 0.25, lambda r: r.source.strength == 0.25),
    ],
)
def test_each_dial_turns_what_it_says(name: str, value: float | str, read: object) -> None:
    recipe = RECIPE.model_copy(update={"source": Source(picture="b" * 64)})
    assert read(recipe_at(recipe, [Dial(name=name, values=(value,))], 0))  # type: ignore[operator]
    assert name in dials_of(recipe)


def test_a_range_is_spread_evenly_and_whole_where_it_must_be() -> None:
    assert spread(dials_of(RECIPE)["cue-0-weight"], 0, 1, 5).values == (0.0, 0.25, 0.5, 0.75, 1.0)
    assert spread(dials_of(RECIPE)["steps"], 8, 11, 7).values == (8.0, 9.0, 10.0, 11.0)  # as many as there are
    for first, last, count in ((0, 0, 3), (0, 1, 1), (0, 1, MOST_CELLS + 1)):
        with pytest.raises(ArtistError):
            spread(dials_of(RECIPE)["guidance"], first, last, count)


@pytest.mark.parametrize(
    ("dials", "sentence"),
    [
        ([], "one dial, or two"),
        ([Dial(name="guidance", values=(1.0, 2.0))] * 2, "Both dials are the same"),
        (
            [
                Dial(name="guidance", values=tuple(float(v) for v in range(20))),
                Dial(name="seed", values=tuple(float(v) for v in range(20))),
            ],
            "at most 100",
        ),
        ([Dial(name="cue-0-end", values=(5.0, 20.0))], "the span must end after it starts"),
        ([Dial(name="guidance", values=(1.0, 99.0))], "Guidance must be at most 20"),
        ([Dial(name="cue-3-weight", values=(0.1, 0.2))], "no such dial"),
        ([Dial(name="strength", values=(0.1, 0.2))], "no such dial"),
    ],
)
def test_what_cannot_be_swept_is_told(dials: list[Dial], sentence: str) -> None:
    with pytest.raises(ArtistError, match=sentence):
        check(RECIPE, dials)

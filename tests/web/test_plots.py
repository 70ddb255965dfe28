from itertools import pairwise

from mosskeeper.web.plots import HEIGHT, LEFT, RIGHT, WIDTH, Series, plot


def test_numbers_stand_where_their_size_says_and_names_evenly() -> None:
    by_size = plot("t", [0.0, 1.0, 4.0], [Series("a", "moss", [0, 50, 100])], 100).lines[0].dots
    assert by_size[1].x - by_size[0].x < (by_size[2].x - by_size[1].x) / 2
    by_name = plot("t", ["a", "b", ""], [Series("a", "moss", [0, 50, 100])], 100)
    first, second, third = by_name.lines[0].dots
    assert second.x - first.x == third.x - second.x
    assert [label for _, label in by_name.x_labels] == ["a", "b", "no style"]


def test_higher_values_stand_higher_and_all_stay_inside() -> None:
    dots = plot("t", [1.0, 2.0, 3.0], [Series("a", "moss", [-5, 1, 99])], 2.0).lines[0].dots
    assert dots[0].y > dots[1].y > dots[2].y
    assert all(LEFT <= d.x <= WIDTH - RIGHT and 0 < d.y < HEIGHT for d in dots)


def test_what_was_not_measured_breaks_the_line() -> None:
    (line,) = plot("t", [1.0, 2.0, 3.0, 4.0, 5.0], [Series("a", "moss", [1, 2, None, 2, 1])], 2.0).lines
    assert len(line.dots) == 4
    assert [path.count(",") for path in line.paths] == [2, 2]


def test_labels_of_near_lines_keep_apart_and_dots_lead_somewhere() -> None:
    made = plot("t", [1.0, 2.0], [Series(name, "moss", [50, 50], ["/a", "/b"], ["one", "two"]) for name in "abc"], 100)
    heights = sorted(line.label_y for line in made.lines)
    assert min(b - a for a, b in pairwise(heights)) >= 12
    assert [d.href for d in made.lines[0].dots] == ["/a", "/b"]
    assert made.lines[0].dots[1].told.endswith("two")


def test_one_value_and_none_make_a_plot() -> None:
    assert len(plot("t", [3.0], [Series("a", "moss", [1])], 2.0).lines[0].dots) == 1
    assert plot("t", [3.0, 4.0], [Series("a", "moss", [None, None])], 2.0).lines[0].dots == []


def test_pictures_stand_at_their_dots_none_over_another_and_the_highest_first() -> None:
    values = [0.2, 0.3, 1.9, 0.3, None, 0.2] * 12
    names = [f"{n:064x}" for n in range(len(values))]
    made = plot("t", [float(n) for n in range(len(values))], [Series("a", "moss", values, pictures=names)], 2.0)
    shown = [(dot, dot.thumbnail) for dot in made.lines[0].dots if dot.thumbnail is not None]
    assert 12 < len(shown) < len(made.lines[0].dots)
    assert names[2] in {own.picture for _, own in shown}
    for dot, own in shown:
        assert abs(own.x + own.width / 2 - dot.x) <= 0.1
        assert own.y + own.height <= dot.y or own.y >= dot.y
    assert not any(a.overlaps(b) for n, (_, a) in enumerate(shown) for _, b in shown[:n])
    few = plot("t", [1.0, 2.0, 3.0], [Series("a", "moss", [1.0, 1.0, None], pictures=names[:3])], 2.0).lines[0].dots
    assert [dot.thumbnail.picture for dot in few if dot.thumbnail is not None] == names[:2]

"""References: weight, order, balance, span."""

from __future__ import annotations

from collections.abc import Sequence
from statistics import mean

import numpy as np

from bench.fidelity.setting import BASE, FIELDS, drawn, largest_step, other, rank_correlation, reading, sha, with_cues
from bench.report import Row, row
from mosskeeper.core.reading.palette import palette_distance, read_palette
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.roles import reference
from mosskeeper.core.roles.kinds.look import ROLE as LOOK
from mosskeeper.core.takes.take import make_take

_WEIGHTS = np.linspace(0, 1, 11)
_KNOWN = (("by its stored scene", True), ("from its pixels", False))
_PLAIN = BASE.model_copy(update={"words": ""})


def first_pair(seeds: int) -> list[Row]:
    return _weights(0, seeds)


def second_pair(seeds: int) -> list[Row]:
    return _weights(1, seeds)


def third_pair(seeds: int) -> list[Row]:
    return _weights(2, seeds)


def _weights(n: int, seeds: int) -> list[Row]:
    pictures = {sha(n): other(n).image}
    theirs = read_palette(other(n).image)
    curve, found = [], dict[str, list[float]]()
    for weight in _WEIGHTS:
        recipe = with_cues(Cue(picture=sha(n), weight=float(weight), role="palette"))
        takes = [make_take(recipe, seed, pictures) for seed in range(seeds)]
        curve.append(mean(palette_distance(read_palette(take.image), theirs) for take in takes))
    for how, exact in _KNOWN:
        for weight in (0.0, 0.5, 1.0):
            recipe = with_cues(Cue(picture=sha(n), weight=weight), base=_PLAIN)
            shares = (_shared(recipe, seed, n, pictures, {sha(n): reading(n, exact)}) for seed in range(seeds))
            found.setdefault(how, []).append(mean(shares))
    return [
        row(f"palette distance against weight, pair {n + 1}", rank_correlation(_WEIGHTS, curve), "rho", "<= -0.98"),
        row(f"its largest step, pair {n + 1}", largest_step(curve), "share", "<= 0.2"),
        row(f"its fall from weight 0 to 1, pair {n + 1}", 1 - curve[-1] / curve[0], "share"),
        *(
            row(f"attributes of the reference {how} at weight {weight:g}, pair {n + 1}", value, "share", aim if how == _KNOWN[0][0] else "")
            for how, values in found.items()
            for weight, value, aim in zip((0, 0.5, 1), values, ("", "", ">= 0.9"), strict=True)
        ),
    ]


def bytes_and_order(seeds: int) -> list[Row]:
    pictures = {sha(n): other(n).image for n in range(3)}
    readings = {sha(n): reading(n) for n in range(3)}
    cues = [Cue(picture=sha(n), weight=0.3 + 0.2 * n, role=role) for n, role in enumerate(("look", "face", "outfit"))]
    silent = with_cues(*(c.model_copy(update={"weight": 0.0}) for c in cues))
    few = range(min(seeds, 5))
    same = [make_take(silent, s, pictures, readings=readings).image.tobytes() == make_take(BASE, s).image.tobytes() for s in few]
    orders = []
    for seed in few:
        made = {
            make_take(with_cues(*order), seed, pictures, readings=readings).image.tobytes()
            for order in (cues, cues[::-1], cues[1:] + cues[:1])
        }
        orders.append(len(made) == 1)
    return [
        row("byte equality at weight 0", float(np.mean(same)), "share", ">= 1"),
        row("byte equality of three references in any order", float(np.mean(orders)), "share", ">= 1"),
    ]


def balance(seeds: int) -> list[Row]:
    """A picture known by its scene and one known from its pixels at equal weights: how much of what both lend comes from each."""
    pictures = {sha(n): other(n).image for n in (0, 1)}
    readings = {sha(0): reading(0), sha(1): reading(1, exact=False)}

    def shares(balanced: bool) -> float:
        recipe = with_cues(*(Cue(picture=sha(n), weight=0.8) for n in (0, 1)), base=_PLAIN, balance=balanced)
        first = second = 0
        for seed in range(2 * seeds):
            _, d = drawn(make_take(recipe, seed, pictures, readings=readings))
            for field in FIELDS.values():
                a, b = (getattr(drawn(other(n))[1], field) for n in (0, 1))
                if a != b:
                    first += getattr(d, field) == a
                    second += getattr(d, field) == b
        return first / max(first + second, 1)

    even = shares(True)
    return [
        row("share of the surer of two references, without balance", shares(False), "share"),
        row("the same with balance: not below", even, "share", ">= 0.4"),
        row("and not above", even, "share", "<= 0.6"),
    ]


def spans(seeds: int) -> list[Row]:
    pictures, reads = {sha(1): other(1).image}, {sha(1): reading(1)}

    def mean_of(start: float, end: float, weight: float = 0.9) -> tuple[float, float]:
        recipe = with_cues(Cue(picture=sha(1), weight=weight, start=start, end=end), base=_PLAIN)
        theirs = read_palette(other(1).image)
        pulls, found = [], []
        for seed in range(seeds):
            take = make_take(recipe, seed, pictures, readings=reads)
            pulls.append(palette_distance(read_palette(take.image), theirs))
            found.append(_agreeing(drawn(take)[1], 1))
        return mean(pulls), mean(found)

    none, early, late, whole = mean_of(0, 100, 0.0), mean_of(0, 50), mean_of(50, 100), mean_of(0, 100)
    return [
        row("attributes by a cue over 0–50 %, between none (0) and whole (1)", _between(none[1], early[1], whole[1]), "", "> 0"),
        row("the same: below the whole", _between(none[1], early[1], whole[1]), "", "< 1"),
        row("attributes by a cue over 50–100 %", _between(none[1], late[1], whole[1]), "", "> 0"),
        row("the same: below the whole", _between(none[1], late[1], whole[1]), "", "< 1"),
        row("palette by a cue over 0–50 %", _between(none[0], early[0], whole[0]), "", "> 0"),
        row("palette by a cue over 50–100 %", _between(none[0], late[0], whole[0]), "", "> 0"),
    ]


_CROSSED = ("look", "face", "outfit", "place", "light", "style", "palette", "pose")


def crossed(seeds: int) -> list[Row]:
    return [one for how, exact in _KNOWN for one in _crossed(seeds, how, exact)]


def _crossed(seeds: int, how: str, exact: bool) -> list[Row]:
    """What each role lends of what a reference shows, attribute by attribute, over what chance gives."""
    own, others = [], []
    worst = ("", 0.0)
    for n in range(3):
        pictures, readings = {sha(n): other(n).image}, {sha(n): reading(n, exact)}
        theirs = drawn(other(n))[1]
        plain = [drawn(make_take(_PLAIN, seed))[1] for seed in range(seeds)]
        for name in _CROSSED:
            recipe = with_cues(Cue(picture=sha(n), weight=0.8, role=name), base=_PLAIN)
            made = [drawn(make_take(recipe, seed, pictures, readings=readings))[1] for seed in range(seeds)]
            lender = reference(name)
            for attribute, field in FIELDS.items():
                value = getattr(theirs, field)
                with_it, chance = (mean(getattr(d, field) == value for d in ds) for ds in (made, plain))
                if lender is not None and attribute in lender.lends:
                    own.append(with_it)
                    continue
                excess = max(0.0, with_it - chance) / max(1 - chance, 1e-6) if chance < 1 else 0.0
                others.append(excess)
                worst = max(worst, (f"{name}: {attribute}", excess), key=lambda one: one[1])
    return [
        row(f"attributes lent to the wrong role at weight 0.8, over chance, {how}", mean(others), "share", "<= 0.05"),
        row(f"the same, the worst of the matrix ({worst[0]})", worst[1], "share"),
        row(f"attributes of its own that a role lends at weight 0.8, {how}", mean(own), "share", ">= 0.9" if exact else ""),
    ]


def _between(none: float, part: float, whole: float) -> float:
    return (part - none) / (whole - none) if whole != none else 0.0


def _shared(recipe: Recipe, seed: int, n: int, pictures: dict[str, np.ndarray], readings: dict[str, object]) -> float:
    return _agreeing(drawn(make_take(recipe, seed, pictures, readings=readings))[1], n)  # type: ignore[arg-type]


def _agreeing(description: object, n: int) -> float:
    theirs = drawn(other(n))[1]
    fields: Sequence[str] = [field for attribute, field in FIELDS.items() if attribute in LOOK.lends]
    return float(np.mean([getattr(description, f) == getattr(theirs, f) for f in fields]))

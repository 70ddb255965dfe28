"""What a recipe says about each attribute, as probabilities, and exemplar descriptions drawn from them.

p(a) ∝ p₀(a) · exp(g·s_text(a) − g·s_neg(a)), attribute by attribute (log-linear pooling): guidance 0 leaves the
prior, and every step of guidance multiplies the odds of what was asked by e.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.camera import beside, shifts
from mosskeeper.core.illustrator.description import WORN, Description, Face, Layout, Person
from mosskeeper.core.illustrator.vocabulary.colours import CLOTH
from mosskeeper.core.illustrator.vocabulary.outfits import USUAL_COLOURS
from mosskeeper.core.illustrator.vocabulary.people import MEN
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.words.attributes import ATTRIBUTES, OF_PICTURE
from mosskeeper.core.words.understand import Figure, understand

# Attributes that all exemplars of a take share, because they decide where things are.
SHARED_BY_PICTURE = ("framing", "angle", "finish")
SHARED_BY_PERSON = ("subject", "build", "pose", "view", "gaze", "turned", "hand", "side")
_VARIED = tuple(a for a in ATTRIBUTES if a not in (*OF_PICTURE, *SHARED_BY_PERSON, "colour", "trim"))
_GROUNDS = 6  # arrangements of a place that takes choose among; few, so that backdrops are found again
_USUAL_GUIDANCE = 7.0
_USUAL = 6.0  # odds of an outfit's usual colour
_GREY = 9.0  # odds of grey and white hair for the old
_FAR = 0.9  # depth of a figure that is behind another
# Parts of the picture that choose their exemplar separately, and the attributes each decides.
OF_PERSON: dict[str, tuple[str, ...]] = {
    "hair": ("hair", "hair_colour", "headwear"),
    "person": ("skin", "expression", "eyes", "glasses", "facial_hair", "mark", "freckles", "face"),
    "dress": ("outfit", "colour_a", "colour_b", "pattern", "worn"),
    "prop": ("prop", "second_prop"),
}
GROUPS: dict[str, tuple[str, ...]] = {
    "place": ("place", "time", "weather", "light"), **OF_PERSON, "companion": ("companion",), "second": (), "third": (),
}  # fmt: skip


class Beliefs:
    def __init__(self, recipe: Recipe) -> None:
        self.guidance = recipe.guidance
        self.barred = understand(recipe.negative).wanted
        self.styles = tuple(recipe.styles)
        asked = understand(recipe.prompt, recipe.emphasis)
        self.figures = (Figure(asked.wanted, asked.unwanted, asked.likeness), *asked.others)

    def log_odds(self, attribute: str, figure: int = 0) -> NDArray[np.float64]:
        """Unnormalised log probabilities of an attribute's values, of one figure."""
        table, about = ATTRIBUTES[attribute], self.figures[figure]
        wanted, unwanted = (said.get(attribute, {}) for said in (about.wanted, about.unwanted))
        barred = self.barred.get(attribute, {})
        prior = np.array([np.log(table.weight(value)) for value in table.values])
        scores = np.array([wanted.get(v, 0.0) - max(barred.get(v, 0.0), unwanted.get(v, 0.0)) for v in table.values])
        if wanted:
            # who names a lantern denies empty hands: at usual guidance the prior for absence is used up
            denied = np.array([v not in wanted for v in table.values])
            scores -= denied * np.maximum(prior, 0.0) / _USUAL_GUIDANCE * min(1.0, max(wanted.values()))
        return np.asarray(prior + self.guidance * scores)

    def probabilities(self, attribute: str, figure: int = 0) -> dict[str, float]:
        odds = self.log_odds(attribute, figure)
        p = np.exp(odds - odds.max())
        return dict(zip(ATTRIBUTES[attribute].values, (p / p.sum()).tolist(), strict=True))

    def says(self, attribute: str, figure: int = 0) -> bool:
        """True where the words name this attribute."""
        return attribute in self.figures[figure].wanted

    def exemplars(self, rng: np.random.Generator, k: int) -> list[Description]:
        """`k` descriptions on one shared layout, at random from the beliefs."""
        picture = {name: self._draw(name, rng, 1)[0] for name in SHARED_BY_PICTURE}
        ground = int(rng.integers(_GROUNDS))
        follows = rng.random() < self._follows
        company = len(self.figures) if follows else 1
        people = [self._people(n, company, picture, ground, rng, k) for n in range(company)]
        around = {name: self._draw(name, rng, k) for name in ("place", "time", "weather", "light", "companion")}
        finish = self.styles or (picture["finish"],)
        return [
            Description(
                **{f.name: getattr(people[0][i], f.name) for f in fields(Person)}, others=tuple(those[i] for those in people[1:]), finish=finish,
                place=around["place"][i], time=around["time"][i], weather=around["weather"][i], light=around["light"][i],
                companion=around["companion"][i],
            )
            for i in range(k)
        ]  # fmt: skip

    @property
    def _follows(self) -> float:
        """Probability that what is no attribute (a face, company) is as the words say."""
        return float(1 - np.exp(-self.guidance))

    def _people(self, n: int, company: int, picture: Mapping[str, str], ground: int, rng: np.random.Generator, k: int) -> list[Person]:
        """`k` versions of one figure, on one layout."""
        one = {name: self._draw(name, rng, 1, figure=n)[0] for name in SHARED_BY_PERSON}
        facing = {"free": int(rng.choice((-1, 1))), "left": -1, "right": 1}[one["turned"]]
        if company > 1 and one["turned"] == "free":
            facing = 1 if shifts(company)[n] <= 0 else -1  # towards each other
        shift = shifts(company)[n] if company > 1 else beside(one["side"], picture["framing"])
        layout = Layout(
            pose=one["pose"], framing=picture["framing"], facing=facing, shift=shift + float(np.clip(rng.normal(0, 0.02), -0.05, 0.05)),
            zoom=float(1 + np.clip(rng.normal(0, 0.03), -0.06, 0.06)), sway=float(np.clip(rng.normal(0, 3), -6, 6)), ground=ground,
            view=one["view"], gaze=one["gaze"], angle=picture["angle"], hand=one["hand"], depth=_FAR if self.figures[n].behind else 0.0,
        )  # fmt: skip
        subject = one["subject"]
        bonus = {"hair colour": {"silver": _GREY, "white": _GREY * 0.6}} if subject.startswith("old") else {}
        if subject not in MEN:
            bonus["facial hair"] = {"beard": 1e-9, "moustache": 1e-9}
        drawn = {name: self._draw(name, rng, k, bonus.get(name, {}), n) for name in _VARIED}
        colours = self._colours(drawn["outfit"], rng, n)
        faces = self._faces(rng, k, n)
        props = list(self.figures[n].wanted.get("prop", {}))
        made = []
        for i in range(k):
            v = {name: values[i] for name, values in drawn.items()}
            pair = len(props) > 1 and v["prop"] in props  # two things that were asked for are held in two hands
            made.append(Person(
                subject=subject, build=one["build"], skin=v["skin"], hair=v["hair"], hair_colour=v["hair colour"], eyes=v["eyes"],
                freckles=v["freckles"] == "yes", glasses=v["glasses"] == "yes", facial_hair=v["facial hair"], mark=v["mark"], headwear=v["headwear"],
                face=faces[i], expression=self._expression(v["expression"], n), outfit=v["outfit"], colour_a=colours[i][0], colour_b=colours[i][1],
                pattern=v["pattern"], worn=tuple(thing for thing in WORN if v[thing] == "yes"), prop=props[0] if pair else v["prop"],
                second_prop=props[1] if pair else "nothing", layout=layout,
            ))  # fmt: skip
        return made

    def _expression(self, drawn: str, figure: int) -> str:
        """Where the words name several expressions, one of them stands for their blend."""
        wanted = sorted(self.figures[figure].wanted.get("expression", {}))
        return "+".join(wanted) if drawn in wanted else drawn

    def _draw(self, attribute: str, rng: np.random.Generator, n: int, bonus: dict[str, float] | None = None, figure: int = 0) -> list[str]:
        """`n` values by the Gumbel-max trick: with the same random numbers, small changes of belief change little."""
        values = ATTRIBUTES[attribute].values
        odds = self.log_odds(attribute, figure)
        for value, factor in (bonus or {}).items():
            odds[values.index(value)] += np.log(factor)
        noise = rng.gumbel(size=(n, len(values)))
        return [values[i] for i in (odds[None] + noise).argmax(1)]

    def _colours(self, outfits: list[str], rng: np.random.Generator, figure: int) -> list[tuple[tuple[float, float, float], ...]]:
        names = list(CLOTH)
        pairs = []
        for outfit in outfits:
            pair = []
            for attribute, usual in zip(("colour", "trim"), USUAL_COLOURS[outfit], strict=True):
                odds = self.log_odds(attribute, figure)
                odds[names.index(usual)] += np.log(_USUAL * len(names))
                choice = names[int((odds + rng.gumbel(size=len(names))).argmax())]
                r, g, b = CLOTH[choice]
                pair.append((float(r), float(g), float(b)))
            pairs.append(tuple(pair))
        return pairs

    def _faces(self, rng: np.random.Generator, k: int, figure: int) -> list[Face]:
        anybody = [Face.sampled(rng) for _ in range(k)]
        chance = rng.random(k)
        likeness = self.figures[figure].likeness
        if likeness is None:
            return anybody
        known = Face.sampled(np.random.default_rng(likeness))
        return [known if c < self._follows else face for c, face in zip(chance, anybody, strict=True)]

"""What a recipe says about each attribute, as probabilities, and exemplar descriptions drawn from them.

p(a) ∝ p₀(a) · exp(g·s_text(a) − g·s_neg(a)), attribute by attribute (log-linear pooling): guidance 0 leaves the
prior, and every step of guidance multiplies the odds of what was asked by e.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.illustrator.description import Description, Face, Layout
from mosskeeper.core.illustrator.vocabulary.colours import CLOTH
from mosskeeper.core.illustrator.vocabulary.outfits import USUAL_COLOURS
from mosskeeper.core.illustrator.vocabulary.people import MEN
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.words.attributes import ATTRIBUTES
from mosskeeper.core.words.understand import Understanding, understand

# Attributes that all exemplars of a take share, because they decide where things are.
SHARED = ("subject", "build", "pose", "framing", "finish")
_GROUNDS = 6  # arrangements of a place that takes choose among; few, so that backdrops are found again
_USUAL_GUIDANCE = 7.0
_USUAL = 6.0  # odds of an outfit's usual colour
_GREY = 9.0  # odds of grey and white hair for the old
# Parts of the picture that choose their exemplar separately, and the attributes each decides.
GROUPS: dict[str, tuple[str, ...]] = {
    "place": ("place", "time", "weather", "light"),
    "hair": ("hair", "hair_colour", "headwear"),
    "person": ("skin", "expression", "eyes", "glasses", "facial_hair", "mark", "freckles", "face"),
    "dress": ("outfit", "colour_a", "colour_b", "pattern"),
    "prop": ("prop",),
    "companion": ("companion",),
}


class Beliefs:
    def __init__(self, recipe: Recipe) -> None:
        self.guidance = recipe.guidance
        self.asked = understand(recipe.prompt)
        self.barred = understand(recipe.negative)
        self.styles = tuple(recipe.styles)

    def log_odds(self, attribute: str) -> NDArray[np.float64]:
        """Unnormalised log probabilities of an attribute's values."""
        table = ATTRIBUTES[attribute]
        odds = np.array([np.log(table.weight(value)) for value in table.values])
        return odds + self.guidance * self._scores(attribute)

    def probabilities(self, attribute: str) -> dict[str, float]:
        odds = self.log_odds(attribute)
        p = np.exp(odds - odds.max())
        return dict(zip(ATTRIBUTES[attribute].values, (p / p.sum()).tolist(), strict=True))

    def _scores(self, attribute: str) -> NDArray[np.float64]:
        return np.array([self._score(attribute, v) for v in ATTRIBUTES[attribute].values])

    def _score(self, attribute: str, value: str) -> float:
        def said(source: dict[str, dict[str, float]]) -> float:
            return source.get(attribute, {}).get(value, 0.0)

        wanted = said(self.asked.wanted)
        if not wanted and self.says(attribute):
            # who names a lantern denies empty hands: at usual guidance the prior for absence is used up
            wanted = -max(0.0, float(np.log(ATTRIBUTES[attribute].weight(value)))) / _USUAL_GUIDANCE
        return wanted - max(said(self.barred.wanted), said(self.asked.unwanted))

    def says(self, attribute: str) -> bool:
        """True where the words name this attribute."""
        return attribute in self.asked.wanted

    def exemplars(self, rng: np.random.Generator, k: int) -> list[Description]:
        """`k` descriptions on one shared layout, at random from the beliefs."""
        one = {name: self._draw(name, rng, 1)[0] for name in SHARED}
        finish = self.styles or (one["finish"],)
        layout = Layout(
            pose=one["pose"], framing=one["framing"], facing=int(rng.choice((-1, 1))),
            shift=float(np.clip(rng.normal(0, 0.02), -0.05, 0.05)), zoom=float(1 + np.clip(rng.normal(0, 0.03), -0.06, 0.06)),
            sway=float(np.clip(rng.normal(0, 3), -6, 6)), ground=int(rng.integers(_GROUNDS)),
        )  # fmt: skip
        subject = one["subject"]
        bonus = {"hair colour": {"silver": _GREY, "white": _GREY * 0.6}} if subject.startswith("old") else {}
        if subject not in MEN:
            bonus["facial hair"] = {"beard": 1e-9, "moustache": 1e-9}
        drawn = {name: self._draw(name, rng, k, bonus.get(name, {})) for name in ATTRIBUTES if name not in (*SHARED, "colour", "trim")}
        colours = self._colours(drawn["outfit"], rng)
        faces = self._faces(rng, k)
        return [
            Description(
                subject=subject,
                build=one["build"], mark=drawn["mark"][i], light=drawn["light"][i], companion=drawn["companion"][i], headwear=drawn["headwear"][i], pattern=drawn["pattern"][i], skin=drawn["skin"][i], hair=drawn["hair"][i], hair_colour=drawn["hair colour"][i],
                eyes=drawn["eyes"][i], freckles=drawn["freckles"][i] == "yes", glasses=drawn["glasses"][i] == "yes",
                facial_hair=drawn["facial hair"][i], face=faces[i], expression=drawn["expression"][i],
                outfit=drawn["outfit"][i], colour_a=colours[i][0], colour_b=colours[i][1], prop=drawn["prop"][i],
                place=drawn["place"][i], time=drawn["time"][i], weather=drawn["weather"][i], finish=finish, layout=layout,
            )
            for i in range(k)
        ]  # fmt: skip

    def _draw(self, attribute: str, rng: np.random.Generator, n: int, bonus: dict[str, float] | None = None) -> list[str]:
        """`n` values by the Gumbel-max trick: with the same random numbers, small changes of belief change little."""
        values = ATTRIBUTES[attribute].values
        odds = self.log_odds(attribute)
        for value, factor in (bonus or {}).items():
            odds[values.index(value)] += np.log(factor)
        noise = rng.gumbel(size=(n, len(values)))
        return [values[i] for i in (odds[None] + noise).argmax(1)]

    def _colours(self, outfits: list[str], rng: np.random.Generator) -> list[tuple[tuple[float, float, float], ...]]:
        names = list(CLOTH)
        pairs = []
        for outfit in outfits:
            pair = []
            for attribute, usual in zip(("colour", "trim"), USUAL_COLOURS[outfit], strict=True):
                odds = self.log_odds(attribute)
                odds[names.index(usual)] += np.log(_USUAL * len(names))
                choice = names[int((odds + rng.gumbel(size=len(names))).argmax())]
                r, g, b = CLOTH[choice]
                pair.append((float(r), float(g), float(b)))
            pairs.append(tuple(pair))
        return pairs

    def _faces(self, rng: np.random.Generator, k: int) -> list[Face]:
        anybody = [Face.sampled(rng) for _ in range(k)]
        chance = rng.random(k)
        if self.asked.likeness is None:
            return anybody
        known = Face.sampled(np.random.default_rng(self.asked.likeness))
        follows = 1 - np.exp(-self.guidance)
        return [known if c < follows else face for c, face in zip(chance, anybody, strict=True)]


__all__ = ["GROUPS", "SHARED", "Beliefs", "Understanding"]

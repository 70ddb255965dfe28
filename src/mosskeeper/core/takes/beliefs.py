"""What a recipe says about each attribute, as probabilities, and exemplar descriptions drawn from them.

p(a) ∝ p₀(a) · exp(g·s_text(a) − g·s_neg(a) + Σ_r λ_r·s_r(a)), attribute by attribute (log-linear pooling): guidance 0
leaves the prior, and every step of guidance multiplies the odds of what was asked by e; references r come on top.
"""

from __future__ import annotations

from collections.abc import Mapping
from copy import copy
from dataclasses import dataclass, fields, replace

import numpy as np
from numpy.typing import NDArray

from mosskeeper.core.diffusion.conditioning import EVIDENCE, References
from mosskeeper.core.illustrator.camera import WITHOUT_GROUND, beside, shifts
from mosskeeper.core.illustrator.description import MOST_FIGURES, WORN, Description, Face, Layout, Person
from mosskeeper.core.illustrator.places import PLAIN_BACKDROP, place_called
from mosskeeper.core.illustrator.placing import broad, row
from mosskeeper.core.illustrator.vocabulary.colours import CLOTH
from mosskeeper.core.illustrator.vocabulary.outfits import USUAL_COLOURS
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.takes.habits import usual_of
from mosskeeper.core.takes.people_of_regions import Placed, cast
from mosskeeper.core.words.attributes import ATTRIBUTES, OF_PICTURE
from mosskeeper.core.words.held import with_held
from mosskeeper.core.words.tints import in_tints, rgb_of
from mosskeeper.core.words.understand import NamedFigure, Scores, understand

# Attributes that all exemplars of a take share, because they decide where things are.
SHARED_BY_PICTURE = ("framing", "angle", "finish", "figure")
SHARED_BY_PERSON = ("subject", "build", "pose", "view", "gaze", "turned", "hand", "side")
_VARIED = tuple(a for a in ATTRIBUTES if a not in (*OF_PICTURE, *SHARED_BY_PERSON, "colour", "trim"))
GROUNDS = 6  # arrangements of a place that takes choose among; few, so that backdrops are found again
_USUAL_GUIDANCE = 7.0
_USUAL_FINISH = "gouache"
_USUAL = 6.0  # odds of an outfit's usual colour
_ABOUT = 97  # the number of what is about the people of regions
_FEWEST = 4  # versions of a person of a region
_HABITS = ("hair", "outfit")  # attributes in which words go against what is usual
_SELDOM_IN_A_ROOM = 0.02  # odds of indoor places where words name a horse, a tree or a car
_ASIDE, _FARTHER = 0.2, 0.84  # shift and zoom of somebody beside something large
_FAR = 0.9  # depth of a figure that is behind another
# What leaves a thing out of the picture: framings without ground leave out who stands beside the feet, narrow ones or an arm
# stretched out what a hand holds. Denied where the words name the thing and leave this open.
_WITHOUT_HANDS = ("close", "bust")
_OUT_OF_FRAME = ("pointing", "reaching", "waving", "arms wide")


@dataclass(frozen=True, slots=True)
class Stance:
    """One figure's body and where it is: what all exemplars of a take share of it."""

    subject: str
    build: str
    layout: Layout
    figure: str = "storybook"


@dataclass(frozen=True, slots=True)
class Composition:
    """Where everything is, and in what finish."""

    stances: tuple[Stance, ...]
    finish: tuple[str, ...]

    def with_first(self, stance: Stance) -> Composition:
        return replace(self, stances=(stance, *self.stances[1:]))


class Beliefs:
    """What is believed about the pictures of a recipe.

    Parameters
    ----------
    references : what cues lend to the first figure and the picture.
    placed : persons of regions. They are the people of the picture, whomever the words name besides.
    priors : attribute → relative weights of its values, in place of the lexicon's.
    """

    def __init__(
        self,
        recipe: Recipe,
        references: References | None = None,
        placed: tuple[Placed, ...] = (),
        priors: Mapping[str, Mapping[str, float]] | None = None,
    ) -> None:
        self._priors = priors or {}
        self.guidance = recipe.guidance
        self.barred = understand(recipe.negative).wanted
        self.styles = tuple(recipe.styles)
        asked = understand(with_held(recipe.prompt, recipe.held, recipe.styles), recipe.emphasis)
        nothing = References([], {}, {}, recipe.steps, False)
        self.references = references or nothing
        self._lent = [self.references, *[nothing] * (MOST_FIGURES - 1)]  # to the person of each figure
        self.tones = {name: rgb_of(tone) for name, tone in asked.tones.items()}
        self.things = asked.things
        figures: list[NamedFigure] = [asked.first, *asked.others]
        self.told: tuple[str, ...] = ()
        self.usual: tuple[NamedFigure | None, ...] = tuple(figures)  # who each is by the common words alone; None: they do not know them
        if placed:
            roles, told = cast(asked, recipe.prompt, placed)
            figures, self.usual, self.told = [role.figure for role in roles], tuple(role.usual for role in roles), tuple(told)
            for n, person in enumerate(placed):
                self._lent[n] = person.references or (self.references if n == 0 and len(placed) == 1 else nothing)
        self.figures = tuple(figures)
        self._numbers = tuple(one.number * MOST_FIGURES + one.k for one in placed)

    def with_figure(self, n: int, figure: NamedFigure) -> Beliefs:
        """The beliefs with something else said of a figure."""
        out = copy(self)
        out.figures = (*self.figures[:n], figure, *self.figures[n + 1 :])
        return out

    def amended(self, wanted: Scores, unwanted: Scores, references: References | None, tints: Mapping[str, str] | None = None) -> Beliefs:
        """The beliefs inside a region: what its words say goes before what the shot says, for every figure."""
        out = copy(self)
        out.figures = tuple(
            replace(
                f,
                wanted={**f.wanted, **wanted},
                unwanted={**{a: v for a, v in f.unwanted.items() if a not in wanted}, **unwanted},
                tints={**f.tints, **(tints or {})},
            )
            for f in self.figures
        )
        if references is not None:
            out.references, out._lent = references, [references] * MOST_FIGURES
        return out

    def log_odds(self, attribute: str, figure: int = 0) -> NDArray[np.float64]:
        """Unnormalised log probabilities of an attribute's values, of one figure."""
        table, about = ATTRIBUTES[attribute], self.figures[figure]
        wanted, unwanted = (said.get(attribute, {}) for said in (about.wanted, about.unwanted))
        barred = self.barred.get(attribute, {})
        own, values = self._priors.get(attribute, table.prior), table.every
        prior = np.log([own.get(value, 1.0) for value in values])
        scores = np.array([wanted.get(v, 0.0) - max(barred.get(v, 0.0), unwanted.get(v, 0.0)) for v in values])
        if wanted:
            # who names a lantern denies empty hands: at usual guidance the prior for absence is used up
            denied = np.array([v not in wanted for v in values])
            scores -= denied * np.maximum(prior, 0.0) / _USUAL_GUIDANCE * min(1.0, max(wanted.values()))
        lent = (self.references if attribute in OF_PICTURE else self._lent[figure]).scores(attribute)
        if wanted and lent and not _leaves_open(attribute, wanted, lent):  # words go before references for what they name
            heard = self._follows * min(1.0, max(wanted.values()))
            lent = {value: odds * (1 - heard) for value, odds in lent.items()}
        elif wanted and lent:
            scores = scores * 0
        odds = prior + self.guidance * scores + np.array([lent.get(v, 0.0) for v in values])
        if lent and not wanted:  # what a reference shows denies the prior for its absence in the same way
            odds -= np.array([v not in lent for v in values]) * np.maximum(prior, 0.0) * min(1.0, max(lent.values()) / EVIDENCE)
        by_chance = len(table.values)
        odds[by_chance:] = [
            odd if value in wanted or value in lent else -np.inf for value, odd in zip(table.named, odds[by_chance:], strict=True)
        ]
        return np.asarray(odds)

    def probabilities(self, attribute: str, figure: int = 0) -> dict[str, float]:
        odds = self.log_odds(attribute, figure)
        p = np.exp(odds - odds.max())
        return dict(zip(ATTRIBUTES[attribute].every, (p / p.sum()).tolist(), strict=True))

    def says(self, attribute: str, figure: int = 0) -> bool:
        """True where the words name this attribute."""
        return attribute in self.figures[figure].wanted

    def composition(self, rng: np.random.Generator) -> Composition:
        """Where everything is, at random from the beliefs."""
        unseen = {
            "framing": self._denied(
                "framing",
                (*self._shown("companion", WITHOUT_GROUND), *self._shown("prop", _WITHOUT_HANDS), *(WITHOUT_GROUND if self.things else ())),
            )
        }
        picture = {name: self._draw(name, rng, 1, unseen.get(name))[0] for name in SHARED_BY_PICTURE}
        ground = int(rng.integers(GROUNDS))
        follows = rng.random() < self._follows
        company = len(self.figures) if follows else 1
        if not self.says("finish") and not self.references.scores("finish"):
            picture["finish"] = _USUAL_FINISH  # what nobody named is the same in all takes
        own = self._streams(rng)
        stances = tuple(self._stance(n, company, picture, ground, own[n]) for n in range(company))
        return Composition(stances, self.styles or self.references.finish(picture["finish"]))

    def exemplars(self, composition: Composition, rng: np.random.Generator, k: int) -> list[Description]:
        """`k` descriptions on one shared composition, at random from the beliefs."""
        own = self._streams(rng)
        people = [self._people(n, stance, own[n], k) for n, stance in enumerate(composition.stances)]
        rng = own[-1]
        if self._numbers:  # each person is chosen for itself: the others of a region need fewer versions, each drawn once
            fewer = max(_FEWEST, -(-k // 3))
            people[1:] = [[versions[i % fewer] for i in range(k)] for versions in people[1:]]
        tones = self.tones if self._obeys else {}
        indoors = dict.fromkeys((name for name in ATTRIBUTES["place"].values if not place_called(name).outdoors), _SELDOM_IN_A_ROOM)
        outside = {"place": indoors} if any(row(one.name).outdoors for one in self.things) else {}
        around = {name: self._draw(name, rng, k, outside.get(name)) for name in ("place", "time", "weather", "light", "companion")}
        return [
            Description(
                **{f.name: getattr(people[0][i], f.name) for f in fields(Person)},
                others=tuple(those[i] for those in people[1:]),
                finish=composition.finish,
                place=PLAIN_BACKDROP if "background" in tones else around["place"][i],
                tones=tuple(sorted(tones.items())),
                things=self.things if self._obeys else (),
                time=around["time"][i],
                weather=around["weather"][i],
                light=around["light"][i],
                companion=around["companion"][i],
            )
            for i in range(k)
        ]

    def _streams(self, rng: np.random.Generator) -> list[np.random.Generator]:
        """Random numbers for each person, and for what is about them. People of regions have numbers of their own, so that one who
        comes or goes changes nobody else.
        """
        if not self._numbers:
            return [rng] * (len(self.figures) + 1)
        base = int(rng.integers(2**63))
        return [np.random.default_rng([base, number]) for number in (*self._numbers, _ABOUT)]

    @property
    def _follows(self) -> float:
        """Probability that what is no attribute (a face, company) is as the words say."""
        return float(1 - np.exp(-self.guidance))

    @property
    def _obeys(self) -> bool:
        """Whether what has one exact value (a colour) is as the words say: as soon as guidance follows them more than not."""
        return self._follows > 0.5

    def _shown(self, named: str, without: tuple[str, ...], figure: int = 0) -> tuple[str, ...]:
        """Those of `without` where the words name a thing that should be seen."""
        return without if any(value not in ("nothing", "nobody") for value in self.figures[figure].wanted.get(named, {})) else ()

    def _denied(self, attribute: str, values: tuple[str, ...], figure: int = 0) -> dict[str, float]:
        """Factors that deny values of what neither words nor a reference decide, as much as guidance follows words."""
        if self.says(attribute, figure) or self.references.scores(attribute):
            return {}
        return dict.fromkeys(values, float(np.exp(-self.guidance)))

    def _stance(self, n: int, company: int, picture: Mapping[str, str], ground: int, rng: np.random.Generator) -> Stance:
        near = picture["framing"] in WITHOUT_GROUND
        unseen = {"pose": self._denied("pose", self._shown("prop", _OUT_OF_FRAME, n) if near else (), n)}
        one = {name: self._draw(name, rng, 1, unseen.get(name), n)[0] for name in SHARED_BY_PERSON}
        facing = {"free": int(rng.choice((-1, 1))), "left": -1, "right": 1}[one["turned"]]
        if company > 1 and one["turned"] == "free":
            facing = 1 if shifts(company)[n] <= 0 else -1  # towards each other
        shift = shifts(company)[n] if company > 1 else beside(one["side"], picture["framing"])
        aside = company == 1 and one["side"] == "centre" and broad(self.things)
        if aside:
            shift = -_ASIDE * facing
        layout = Layout(
            pose=one["pose"],
            framing=picture["framing"],
            facing=facing,
            shift=shift + float(np.clip(rng.normal(0, 0.02), -0.05, 0.05)),
            zoom=float(1 + np.clip(rng.normal(0, 0.03), -0.06, 0.06)) * (_FARTHER if aside and not near else 1.0),
            sway=float(np.clip(rng.normal(0, 3), -6, 6)),
            ground=ground,
            view=one["view"],
            gaze=one["gaze"],
            angle=picture["angle"],
            hand=one["hand"],
            depth=_FAR if self.figures[n].behind else 0.0,
        )
        return Stance(one["subject"], one["build"], layout, picture["figure"])

    def _people(self, n: int, stance: Stance, rng: np.random.Generator, k: int) -> list[Person]:
        """`k` versions of one figure."""
        subject, build, layout = stance.subject, stance.build, stance.layout
        bonus = {name: odds for name, odds in usual_of(subject).items() if not (name in _HABITS and self.says(name, n))}
        drawn = {name: self._draw(name, rng, k, bonus.get(name, {}), n) for name in _VARIED}
        colours = self._colours(drawn["outfit"], rng, n)
        faces = self._faces(rng, k, n)
        props = list(self.figures[n].wanted.get("prop", {}))
        named, made = frozenset(self.figures[n].wanted), []
        for i in range(k):
            v = {name: values[i] for name, values in drawn.items()}
            pair = len(props) > 1 and v["prop"] in props  # two things that were asked for are held in two hands
            person = Person(
                subject=subject,
                build=build,
                skin=v["skin"],
                hair=v["hair"],
                hair_colour=v["hair colour"],
                eyes=v["eyes"],
                freckles=v["freckles"] == "yes",
                glasses=v["glasses"] == "yes",
                facial_hair=v["facial hair"],
                mark=v["mark"],
                headwear=v["headwear"],
                face=faces[i],
                expression=self._expression(v["expression"], n),
                outfit=v["outfit"],
                colour_a=colours[i][0],
                colour_b=colours[i][1],
                pattern=v["pattern"],
                worn=tuple(thing for thing in WORN if v[thing] == "yes"),
                prop=props[0] if pair else v["prop"],
                second_prop=props[1] if pair else "nothing",
                layout=layout,
                figure=stance.figure,
            )
            made.append(self._tinted(self._lent[n].exact(person, named), n))
        return made

    def _tinted(self, person: Person, n: int) -> Person:
        """A person in the colours that the words name: exactly those, not the nearest of a few."""
        return in_tints(person, self.figures[n].tints) if self._obeys else person

    def _expression(self, drawn: str, figure: int) -> str:
        """Where the words name several expressions, one of them stands for their blend."""
        wanted = sorted(self.figures[figure].wanted.get("expression", {}))
        return "+".join(wanted) if drawn in wanted else drawn

    def _draw(self, attribute: str, rng: np.random.Generator, n: int, bonus: dict[str, float] | None = None, figure: int = 0) -> list[str]:
        """`n` values by the Gumbel-max trick: with the same random numbers, small changes of belief change little."""
        table = ATTRIBUTES[attribute]
        odds = self.log_odds(attribute, figure)
        for value, factor in (bonus or {}).items():
            odds[table.values.index(value)] += np.log(factor)
        noise = np.zeros((n, len(odds)))  # what only words name needs none: seeds mean what they meant before it was there
        if len(table.values) > 1:
            noise[:, : len(table.values)] = rng.gumbel(size=(n, len(table.values)))
        return [table.every[i] for i in (odds[None] + noise).argmax(1)]

    def _colours(self, outfits: list[str], rng: np.random.Generator, figure: int) -> list[tuple[tuple[float, float, float], ...]]:
        names = list(CLOTH)
        pairs = []
        for outfit in outfits:
            pair = []
            for attribute, usual in zip(("colour", "trim"), USUAL_COLOURS[outfit], strict=True):
                odds = self.log_odds(attribute, figure)
                # a colour that is named denies the usual one, as much as guidance follows words
                odds[names.index(usual)] += np.log(_USUAL * len(names)) * (1 - self._follows * self.says(attribute, figure))
                choice = names[int((odds + rng.gumbel(size=len(names))).argmax())]
                r, g, b = CLOTH[choice]
                own = (float(r), float(g), float(b))
                pair.append(own if self.says(attribute, figure) else self._lent[figure].cloth(attribute, own))
            pairs.append(tuple(pair))
        return pairs

    def _faces(self, rng: np.random.Generator, k: int, figure: int) -> list[Face]:
        anybody = [Face.sampled(rng) for _ in range(k)]
        chance = rng.random(k)
        likeness = self.figures[figure].likeness
        if likeness is not None:
            known = Face.sampled(np.random.default_rng(likeness))
            anybody = [known if c < self._follows else face for c, face in zip(chance, anybody, strict=True)]
        return [self._lent[figure].face(face) for face in anybody]


def _leaves_open(attribute: str, wanted: Mapping[str, float], lent: Mapping[str, float]) -> bool:
    """Whether words name an attribute without saying what a reference says of it: "a woman" may be an old one."""
    first = max(lent, key=lambda value: lent[value])
    return attribute == "subject" and first.startswith("old ") and set(wanted) == {first.removeprefix("old ")}

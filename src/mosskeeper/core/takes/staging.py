"""The stage of a take with regions: its people planned into one scene, with what stands by itself."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from mosskeeper.core.illustrator.scene import Scene
from mosskeeper.core.mending.ask.newcomers import standing
from mosskeeper.core.mending.masks import Mask
from mosskeeper.core.pictures.resample import nearest
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.regions.plan import Plan, PlannedPerson, hands_of, plan
from mosskeeper.core.regions.standing import View
from mosskeeper.core.takes.beliefs import Beliefs, Composition
from mosskeeper.core.takes.people_of_regions import Placed
from mosskeeper.core.takes.regions import RegionRequests, RegionThing


@dataclass(frozen=True, slots=True, eq=False)
class RegionStaging:
    """plan : of the people; None where regions have none. things : that stand by themselves in regions."""

    plan: Plan | None = None
    things: tuple[RegionThing, ...] = ()

    def __call__(self, scene: Scene) -> Scene:
        """A scene of the chosen people, of any size, as it was planned."""
        made = scene if self.plan is None else self.plan.staged(scene)
        for thing in self.things:
            made = standing(made, thing.name, _sized(thing, made.size), [])
        return made

    @property
    def told(self) -> tuple[str, ...]:
        return () if self.plan is None else self.plan.told


def staged(
    recipe: Recipe, asked: RegionRequests, beliefs: Beliefs, composition: Composition, held: View | None = None
) -> tuple[Beliefs, Composition, RegionStaging]:
    """The composition with its people where regions have them, and what is believed of them once they do something together."""
    if not asked.people or len(composition.stances) != len(asked.people):
        return beliefs, composition, RegionStaging(None, asked.things)
    people = wanted_of(asked.people, beliefs, composition)
    framing = composition.stances[0].layout.framing if beliefs.says("framing") else None
    words = [region.prompt if region.acts else "" for region in recipe.regions]
    made = plan(people, (recipe.width, recipe.height), framing, composition.stances[0].layout.angle, words, recipe.prompt, held)
    layouts = list(made.layouts)
    for n, (thing, hand) in hands_of(made).items():
        figure = beliefs.figures[n]
        beliefs = beliefs.with_figure(n, replace(figure, wanted={**figure.wanted, "prop": {thing: 1.0}}))
        layouts[n] = replace(layouts[n], hand=hand)
    for pair in made.pairs:
        if pair.kind != "looks" and not (pair.kind == "gives" and pair.thing):
            beliefs = _empty_handed(beliefs, pair.who)
        if pair.kind != "looks":
            beliefs = _empty_handed(beliefs, pair.whom)
    stances = tuple(replace(s, layout=layout) for s, layout in zip(composition.stances, layouts, strict=True))
    return beliefs, replace(composition, stances=stances), RegionStaging(made, asked.things)


def wanted_of(placed: Sequence[Placed], beliefs: Beliefs, composition: Composition) -> list[PlannedPerson]:
    """The people of regions as they go into a plan."""
    return [
        PlannedPerson(
            stance.subject,
            stance.build,
            stance.layout,
            frozenset(beliefs.figures[n].wanted),
            one.number,
            one.mask,
            one.k,
            one.many,
            one.region.strength,
            beliefs.usual[n] is not None,
            stance.figure,
        )
        for n, (one, stance) in enumerate(zip(placed, composition.stances, strict=True))
    ]


def _empty_handed(beliefs: Beliefs, n: int) -> Beliefs:
    figure = beliefs.figures[n]
    return (
        beliefs if "prop" in figure.wanted else beliefs.with_figure(n, replace(figure, wanted={**figure.wanted, "prop": {"nothing": 1.0}}))
    )


def _sized(thing: RegionThing, size: tuple[int, int]) -> Mask:
    return thing.mask > 0.5 if thing.mask.shape == size[::-1] else nearest(thing.mask, size) > 0.5

"""Lineage: where a picture comes from, and how many generations it is away from an anchor."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass, field

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload

from mosskeeper.core.recipe import Recipe
from mosskeeper.core.roles import reference
from mosskeeper.studio import runs, takes
from mosskeeper.studio.models import Anchor, Entry, Run, Take, Variant

_FAR = 20  # generations that are followed


@dataclass(frozen=True, slots=True)
class Origin:
    """anchor : it is one. take : that it is, or was cut out of. away : generations from an anchor, None where none is among its sources."""

    anchor: bool
    take: Take | None
    away: int | None

    @property
    def derived(self) -> bool:
        """True of takes that are no anchors: a subject taken from them drifts."""
        return self.take is not None and not self.anchor


def origin(session: Session, sha256: str) -> Origin:
    """Where a picture comes from."""
    return origins(session, [sha256])[sha256]


def origins(session: Session, names: Collection[str]) -> dict[str, Origin]:
    """Where pictures come from. An upload that is no anchor has neither take nor generations; a crop is what it was cut out of.

    Asks generation by generation, however many pictures there are in each.
    """
    family = _Family()
    generation = set(names)
    for _ in range(_FAR):
        if not generation:
            break
        generation = family.learn(session, generation)
    return {name: family.origin(name) for name in names}


@dataclass(slots=True)
class _Family:
    """What is known of pictures and of those that they came from."""

    anchors: set[str] = field(default_factory=set)
    cut_from: dict[str, str] = field(default_factory=dict)
    takes: dict[str, Take] = field(default_factory=dict)
    recipes: dict[str, Recipe] = field(default_factory=dict)
    learnt: set[str] = field(default_factory=set)

    def learn(self, session: Session, names: set[str]) -> set[str]:
        """Looks pictures up; those they came from that are not known yet."""
        self.learnt |= names
        self.anchors |= set(
            session.scalars(select(Anchor.picture_sha256).where(Anchor.picture_sha256.in_(names), Anchor.removed_at.is_(None)))
        )
        cut = select(Entry.picture_sha256, Entry.source_sha256).where(Entry.picture_sha256.in_(names), Entry.source_sha256.is_not(None))
        for name, source in session.execute(cut):
            if source is not None:
                self.cut_from.setdefault(name, source)
        query = select(Take).where(Take.picture_sha256.in_(names)).order_by(Take.id)
        for take in session.scalars(query.options(joinedload(Take.run).joinedload(Run.recipe), joinedload(Take.shot))):
            self.takes.setdefault(take.picture_sha256, take)
        for name, take in self.takes.items():
            if name in names:
                self.recipes[name] = takes.recipe_of(take)
        # what mends made on the way is no take, but hands its subject on just so
        of_mends = select(Variant).where(Variant.picture_sha256.in_(names - self.takes.keys())).order_by(Variant.id)
        for variant in session.scalars(of_mends.options(joinedload(Variant.run).joinedload(Run.recipe))):
            self.recipes.setdefault(variant.picture_sha256, runs.recipe_of_place(variant.run, variant.place))
        further = {self.cut_from[name] for name in names if name in self.cut_from}
        for name in names - self.anchors:
            if name in self.recipes:
                further |= set(sources(self.recipes[name]))
        return further - self.learnt

    def origin(self, name: str) -> Origin:
        if name in self.anchors:
            return Origin(True, self.takes.get(name), 0)
        if name in self.cut_from:
            return self.origin(self.cut_from[name])
        return Origin(False, self.takes.get(name), self._away(name, _FAR))

    def _away(self, name: str, far: int) -> int | None:
        """Generations from an anchor by the longest way."""
        if name not in self.recipes or far == 0:
            return None
        found = []
        for source in sources(self.recipes[name]):
            further = 0 if source in self.anchors else self._away(source, far - 1)
            if further is not None:
                found.append(1 + further)
        return max(found) if found else None


def got_its_face(session: Session, take: Take) -> bool:
    """Whether an anchor's face was put on a take, or on a picture from which it was mended, widened or enlarged."""
    recipe: Recipe | None = takes.recipe_of(take)
    for _ in range(_FAR):
        if recipe is None or recipe.source is None:
            return False
        if recipe.source.face is not None:
            return True
        name = recipe.source.picture
        recipe = _recipe_that_made(session, name)
    return False


def _recipe_that_made(session: Session, name: str) -> Recipe | None:
    """Of a take or a mend's variant; None of a picture that was brought in."""
    made = session.scalar(select(Take).where(Take.picture_sha256 == name).order_by(Take.id).limit(1))
    if made is not None:
        return takes.recipe_of(made)
    variant = session.scalar(select(Variant).where(Variant.picture_sha256 == name).order_by(Variant.id).limit(1))
    return None if variant is None else runs.recipe_of_place(variant.run, variant.place)


def sources(recipe: Recipe) -> list[str]:
    """The pictures that hand a subject on to the takes of a recipe."""
    handed = [
        cue.picture
        for cue in recipe.cues
        if cue.acts and cue.picture is not None and (lender := reference(cue.role)) is not None and lender.hands_on
    ]
    return handed + ([recipe.source.picture] if recipe.source is not None else [])

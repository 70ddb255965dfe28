"""Merging two edits of one recipe: of different things both stand, of the same thing neither is lost."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

from pydantic import ValidationError

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.recipe import LABELS, Cue, Recipe, Region, explain, shown

_OUTSIDE = ("version", "given", "held", "cues", "regions", "styles", "emphasis")  # merged in their own ways, or not edited


@dataclass(frozen=True, slots=True)
class Clash:
    """A thing that was edited in two places. field : as in forms: words, cue-ID-weight; cue-ID where a cue was taken off.
    mine, theirs : the values, as shown.
    """

    field: str
    label: str
    mine: str
    theirs: str


@dataclass(frozen=True, slots=True)
class Merged:
    """The recipe with all that could be merged; of what clashed it has theirs."""

    recipe: Recipe
    clashes: tuple[Clash, ...] = ()


@dataclass
class _Merging:
    clashes: list[Clash] = field(default_factory=list)

    def one(self, name: str, label: str, base: Any, mine: Any, theirs: Any) -> Any:
        """A value in three states."""
        if mine in (base, theirs):
            return theirs
        if theirs != base:
            self.clashes.append(Clash(name, label, shown(mine), shown(theirs)))
            return theirs
        return mine

    def cues(self, base: Sequence[Cue], mine: Sequence[Cue], theirs: Sequence[Cue]) -> list[Cue]:
        was, own, now = ({cue.id: cue for cue in cues} for cues in (base, mine, theirs))
        out = [self.cue(cue, own.get(cue.id), was.get(cue.id)) for cue in theirs]
        for cue in mine:
            if cue.id in now:
                continue
            if cue.id not in was:
                out.append(cue)
            elif cue != was[cue.id]:
                self.clashes.append(Clash(f"cue-{cue.id}", _title(cue), "changed", "taken off"))
        return [cue for cue in out if cue is not None]

    def regions(self, base: Sequence[Region], mine: Sequence[Region], theirs: Sequence[Region]) -> list[Region]:
        """Region by region and field by field; the order is theirs, but where only mine was changed."""
        was, own, now = ({region.id: region for region in regions} for regions in (base, mine, theirs))
        out = list[Region]()
        for region in theirs:
            before, changed = was.get(region.id), own.get(region.id)
            if before is None or changed is None:
                if changed is None and before == region:
                    continue  # taken off here
                if changed is None and before is not None:
                    self.clashes.append(Clash(f"region-{region.id}", _called(region), "taken off", "changed"))
                out.append(region)
                continue
            values = {
                name: self.one(
                    f"region-{region.id}-{name}",
                    f"{LABELS.get(name, name)} of {_called(region)}",
                    *(getattr(r, name) for r in (before, changed, region)),
                )
                for name in Region.model_fields
                if name != "id"
            }
            out.append(region.model_copy(update=values))
        for region in mine:
            if region.id not in now and region.id not in was:
                out.append(region)
            elif region.id not in now and region != was[region.id]:
                self.clashes.append(Clash(f"region-{region.id}", _called(region), "changed", "taken off"))
        kept = {region.id: region for region in out}
        order = [region.id for region in (mine if [r.id for r in theirs] == [r.id for r in base] else theirs)]
        return [kept.pop(name) for name in order if name in kept] + list(kept.values())

    def cue(self, theirs: Cue, mine: Cue | None, base: Cue | None) -> Cue | None:
        if base is None:
            if mine is not None and mine != theirs:
                self.clashes.append(Clash(f"cue-{theirs.id}", _title(theirs), shown([mine]), shown([theirs])))
            return theirs
        if mine is None:
            if theirs == base:
                return None
            self.clashes.append(Clash(f"cue-{theirs.id}", _title(theirs), "taken off", "changed"))
            return theirs
        values = {
            name: self.one(
                f"cue-{theirs.id}-{name}",
                f"{LABELS[name]} of {_title(theirs)}",
                getattr(base, name),
                getattr(mine, name),
                getattr(theirs, name),
            )
            for name in Cue.model_fields
            if name != "id"
        }
        return theirs.model_copy(update=values)


def _called(region: Region) -> str:
    return f"the region “{region.name or region.words[:30] or region.id}”"


def _title(cue: Cue) -> str:
    return f"“{cue.name or cue.role}”"


def merge(base: Recipe, mine: Recipe, theirs: Recipe) -> Merged:
    """What `mine` changed since `base`, done to `theirs`. The given words are not edited and stay theirs.

    Styles, held words and emphasis merge word by word, so they never clash. A span that two halves would leave empty, or a thirteenth
    cue, is no merge.

    Raises
    ------
    ArtistError
        where the merged recipe cannot be used; the sentence says why.
    """
    merging = _Merging()
    values: dict[str, Any] = {
        name: merging.one(name, LABELS[name], getattr(base, name), getattr(mine, name), getattr(theirs, name))
        for name in Recipe.model_fields
        if name not in _OUTSIDE
    }
    for name in ("styles", "held"):
        was, own, now = (getattr(recipe, name) for recipe in (base, mine, theirs))
        values[name] = [s for s in now if s in own or s not in was]
        values[name] += [s for s in own if s not in was and s not in now]
    emphasis = dict(theirs.emphasis)
    for phrase in {**base.emphasis, **mine.emphasis}:
        if mine.emphasis.get(phrase) != base.emphasis.get(phrase):
            emphasis.pop(phrase, None)
            if phrase in mine.emphasis:
                emphasis[phrase] = mine.emphasis[phrase]
    values["emphasis"] = emphasis
    values["cues"] = merging.cues(base.cues, mine.cues, theirs.cues)
    values["regions"] = merging.regions(base.regions, mine.regions, theirs.regions)
    try:
        made = Recipe.model_validate(theirs.model_copy(update=values).model_dump())
    except ValidationError as error:
        wrong, sentence = explain(error)[0]
        raise ArtistError(f"Both changes together cannot be used. {sentence}", wrong) from None
    return Merged(made, tuple(merging.clashes))

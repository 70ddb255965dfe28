"""The rows of the cue sheet: each cue with what is known of its picture, what warns of it, and how it was obeyed."""

from __future__ import annotations

from dataclasses import dataclass, field

from sqlalchemy.orm import Session

from mosskeeper.core.cue_sheet import soloed, warnings
from mosskeeper.core.diffusion.schedule import noise_levels
from mosskeeper.core.pictures.areas import area_called
from mosskeeper.core.reading.face_check import FaceCheck
from mosskeeper.core.reading.proposal import Proposal
from mosskeeper.core.recipe import Cue, Recipe
from mosskeeper.core.roles import reference, role
from mosskeeper.engines.contract import Misfit
from mosskeeper.studio import contents, lineage, readings
from mosskeeper.studio.lineage import Origin
from mosskeeper.studio.measures import Obeyed, TakeMeasures
from mosskeeper.studio.models import Anchor
from mosskeeper.web.references.lends import Lends, lends


@dataclass(slots=True)
class CueRow:
    cue: Cue
    acts: bool
    unread: bool = field(default=False, kw_only=True)  # whether its picture is still being read
    says: str  # what its role does
    seems: Proposal | None = None  # for which role its picture seems to be meant
    warnings: list[str] = field(default_factory=list)
    check: FaceCheck | None = None  # of look and face references
    origin: Origin | None = None
    instead: Anchor | None = None  # the lead anchor, where the cue's picture is only derived
    obeyed: Obeyed | None = None
    confinable: bool = False  # whether its role can act in a part of the picture
    lends: Lends | None = None  # of references: what they lend, and of whom
    area: str = ""  # name of the part in which it acts, of a region its id; "own" for a mask of another kind


def gather(session: Session, recipe: Recipe, lead: Anchor | None, measures: TakeMeasures | None, unfit: list[Misfit]) -> list[CueRow]:
    """A row for each cue. measures : of the take that is shown, for what it obeyed."""
    acting = soloed(recipe)
    seen = readings.known_of_recipe(session, acting)
    told = warnings(acting, seen)
    rows = []
    shown = {cue.picture for cue in recipe.cues if cue.picture is not None and _of_subject(cue)}
    seems = readings.known_proposals(session, {cue.picture for cue in recipe.cues if cue.picture is not None})
    corrected = contents.corrections(session, {cue.picture for cue in recipe.cues if cue.picture is not None})
    checks, origins = readings.known_face_checks(session, shown), lineage.origins(session, shown)
    for place, (cue, own) in enumerate(zip(recipe.cues, acting.cues, strict=True)):
        kind = role(cue.role)
        row = CueRow(cue, own.acts, kind.says)
        row.unread = own.acts and cue.picture is not None and cue.picture not in seen
        row.seems = seems.get(cue.picture or "")
        row.warnings = [w.sentence for w in told if w.place == place] + [m.sentence for m in unfit if m.cue == place]
        row.confinable = kind.confinable
        row.area = _area_of(cue, recipe)
        row.lends = lends(cue, seen.get(cue.picture or ""), corrected.get(cue.picture or "", {}))
        row.obeyed = measures.match_of(cue) if measures is not None else None
        if cue.picture is not None and _of_subject(cue):
            row.check, row.origin = checks.get(cue.picture), origins[cue.picture]
            row.instead = lead if lead is not None and row.origin.derived and cue.picture != lead.picture_sha256 else None
        rows.append(row)
    return rows


def _area_of(cue: Cue, recipe: Recipe) -> str:
    if cue.area is None:
        return ""
    region = next((region.id for region in recipe.regions if region.mask == cue.area), None)
    return region or area_called(cue.area) or "own"


def _of_subject(cue: Cue) -> bool:
    lender = reference(cue.role)
    return lender is not None and lender.hands_on


def noise(recipe: Recipe) -> str:
    """The noise level over the denoising, as points of an SVG polygon in a box of 100 × 1, the scale its square root."""
    levels = noise_levels(recipe.schedule, recipe.steps)
    points = [(100 * i / recipe.steps, 1 - (level / levels[0]) ** 0.5) for i, level in enumerate(levels)]
    return " ".join(f"{x:.1f},{y:.3f}" for x, y in [(0, 1), *points, (100, 1)])


def influences(recipe: Recipe) -> list[tuple[str, str]]:
    """(kind, words) of all that acts on the shot besides cues."""
    out = [("words", f"guidance {recipe.guidance:g}")] if recipe.prompt else []
    if recipe.negative:
        out.append(("without", recipe.negative))
    out += [("style", style) for style in recipe.styles]
    if recipe.emphasis:
        out.append(("emphasis", f"{len(recipe.emphasis)} phrases"))
    if any(region.acts for region in recipe.regions):
        out.append(("regions", str(sum(region.acts for region in recipe.regions))))
    if recipe.source is not None:
        out.append(("source picture", f"denoise strength {recipe.source.strength:g}"))
    if recipe.variation is not None:
        out.append(("variation", f"{recipe.variation.amount:g}"))
    return out

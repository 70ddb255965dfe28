"""What the page of a sweep shows: its cells, and its measures along the dials."""

from __future__ import annotations

from dataclasses import dataclass, field

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload

from mosskeeper.core.dials import dials_of
from mosskeeper.core.errors import NotFound
from mosskeeper.core.sweep import Dial
from mosskeeper.studio import engines, measures, runs, watching
from mosskeeper.studio.measures import TakeMeasures
from mosskeeper.studio.models import Run, Take
from mosskeeper.web.plots import Plot, Series, plot, said_of

DRIFT = "drift"
_DRIFT_TOP = 2.0
_TINTS = ("moss", "mist", "ochre", "plum", "rose", "slate", "rust", "ink")


@dataclass(slots=True)
class SweepCell:
    place: int
    values: list[str]
    take: Take | None = None
    measures: TakeMeasures | None = None


@dataclass(slots=True)
class Sweep:
    run: Run
    pinned: tuple[str, str] | None  # the picture that stands beside, and what it is
    titles: list[str]  # of the dials
    columns: list[str]
    rows: list[tuple[str, list[SweepCell]]] = field(default_factory=list)
    plots: list[Plot] = field(default_factory=list)
    choices: list[str] = field(default_factory=list)  # measures that can be plotted
    measure: str = ""
    preview: int | None = None

    @property
    def unmeasured(self) -> int:
        """Takes that a worker has still to measure."""
        return sum(cell.take is not None and cell.measures is None for _, cells in self.rows for cell in cells)

    @property
    def made(self) -> int:
        return sum(cell.take is not None for _, cells in self.rows for cell in cells)


def gather(session: Session, run_id: int, measure: str = "") -> Sweep:
    """The state of a sweep. Raises NotFound where the run does not exist or is none."""
    run = runs.find(session, run_id)
    dials = runs.dials_of(run)
    if not dials:
        raise NotFound("This run is no sweep.")
    names = {name: kind.said for name, kind in dials_of(runs.recipe_of_place(run, 0)).items()}
    engine_titles = {engine.key: engine.title for engine in engines.all_engines(session)}
    said = [[engine_titles.get(str(v), said_of(v)) for v in dial.values] for dial in dials]
    query = select(Take).where(Take.run_id == run_id).options(joinedload(Take.run).joinedload(Run.recipe), joinedload(Take.shot))
    takes = {take.place: take for take in session.scalars(query)}
    known = measures.known(session, list(takes.values()))
    sweep = Sweep(run, _pinned(run), [names.get(dial.name, dial.name) for dial in dials], said[0])
    sweep.preview = next((one.preview for one in watching.standing(session, [run.shot_id]) if one.run == run_id), None)
    wide = len(dials[0].values)
    for r, title in enumerate(said[1] if len(dials) > 1 else [""]):
        cells = []
        for c in range(wide):
            take = takes.get(r * wide + c)
            cells.append(SweepCell(r * wide + c, [said[0][c], *([title] if title else [])], take, known.get(take.id) if take else None))
        sweep.rows.append((title, cells))
    _plot(sweep, dials, measure)
    return sweep


def _pinned(run: Run) -> tuple[str, str] | None:
    """The lead anchor; without one, the first reference."""
    character = run.shot.character
    if character is not None and character.lead is not None:
        return character.lead.picture_sha256, f"Lead anchor, {character.name}"
    found = [
        (cue.picture, f"Reference, {cue.name or cue.role}")
        for cue in runs.recipe_of_place(run, 0).cues
        if cue.on and cue.picture is not None
    ]
    return found[0] if found else None


def _plot(sweep: Sweep, dials: list[Dial], measure: str) -> None:
    cues = runs.recipe_of_place(sweep.run, 0).cues
    matches = {f"match of {cue.name or cue.role} ({cue.role})": i for i, cue in enumerate(cues) if cue.on}
    can_drift = sweep.run.shot.character is not None and sweep.run.shot.character.lead is not None
    sweep.choices = [*matches, *([DRIFT] if can_drift else [])]
    if not sweep.choices:
        return
    sweep.measure = measure if measure in sweep.choices else sweep.choices[0]
    along, title = dials[0].values, sweep.titles[0]

    def values(cells: list[SweepCell], name: str) -> list[float | None]:
        return [_value(cell.measures, matches.get(name)) for cell in cells]

    if len(dials) == 1:
        cells = sweep.rows[0][1]
        if matches:
            roles = [cues[i].role for i in matches.values()]
            series = [
                Series(cues[i].role if roles.count(cues[i].role) == 1 else cues[i].name, f"role-{cues[i].role}", values(cells, name))
                for name, i in matches.items()
            ]
            sweep.plots.append(plot(f"match along {title}", along, series, 100.0))
        if can_drift:
            sweep.plots.append(_drifts(title, along, [Series(DRIFT, "moss", values(cells, DRIFT))]))
        return
    series = [Series(name, _TINTS[k % len(_TINTS)], values(cells, sweep.measure)) for k, (name, cells) in enumerate(sweep.rows)]
    drifts = sweep.measure == DRIFT
    sweep.plots.append(_drifts(title, along, series) if drifts else plot(f"{sweep.measure} along {title}", along, series, 100.0))


def _drifts(title: str, along: tuple[float | str, ...], series: list[Series]) -> Plot:
    return plot(f"drift along {title}", along, series, _DRIFT_TOP, 1.0, "another person")


def _value(found: TakeMeasures | None, cue: int | None) -> float | None:
    """A match, or, without a cue, the drift."""
    if found is None:
        return None
    if cue is None:
        return found.drift.distance if found.drift is not None else None
    obeyed = found.matches[cue] if cue < len(found.matches) else None
    return obeyed.score if obeyed is not None else None

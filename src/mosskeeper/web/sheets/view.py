"""What the pages of sheets and of faces put on pictures show."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload

from mosskeeper.core.errors import NotFound
from mosskeeper.core.roles import reference
from mosskeeper.core.takes.repair import NO_FACE
from mosskeeper.studio import measures, readings, runs, sheets
from mosskeeper.studio.measures import TakeMeasures
from mosskeeper.studio.models import Character, Run, Take
from mosskeeper.web.references.lends import places_of


@dataclass(slots=True)
class Cell:
    """One picture of a sheet; its take is None while it is not made."""

    said: str
    take: Take | None = None
    measures: TakeMeasures | None = None

    @property
    def strays(self) -> bool:
        return self.measures is not None and self.measures.drift is not None and self.measures.drift.other_person


@dataclass(slots=True)
class Sheet:
    run: Run
    character: Character
    rows: list[tuple[str, list[Cell]]] = field(default_factory=list)

    @property
    def cells(self) -> list[Cell]:
        return [cell for _, row in self.rows for cell in row]

    @property
    def made(self) -> int:
        return sum(cell.take is not None for cell in self.cells)

    @property
    def straying(self) -> int:
        return sum(cell.strays for cell in self.cells)


@dataclass(slots=True)
class FaceRow:
    """A picture before and after. places : of its figures, number, x and y as shares, where there are several. refused : nobody's face
    could be put on.
    """

    target: str
    name: str
    take: Take | None
    measures: TakeMeasures | None
    places: Sequence[tuple[int, float, float]] = ()
    figure: int | None = None

    @property
    def refused(self) -> bool:
        return self.take is not None and any(said.startswith(NO_FACE) for said in self.take.says)

    @property
    def distance(self) -> float:
        """By which rows are put in order: what needs a look comes first, what is not measured last."""
        if self.refused:
            return 100.0
        return -1.0 if self.measures is None or self.measures.drift is None else self.measures.drift.distance


@dataclass(slots=True)
class Faces:
    run: Run
    character: Character
    rows: list[FaceRow] = field(default_factory=list)
    by: str = "order"
    parts: tuple[tuple[str, bool], ...] = ()  # what may go over, and whether it does

    @property
    def made(self) -> int:
        return sum(row.take is not None for row in self.rows)

    @property
    def accepted(self) -> int:
        return sum(row.take is not None and not row.take.put_aside and not row.refused for row in self.rows)


def _of(session: Session, run_id: int) -> tuple[Run, Character, dict[int, Take], dict[int, TakeMeasures]]:
    """A run of a character's shot, its takes by place, and their measures. Raises NotFound where it is no such run."""
    run = runs.find(session, run_id)
    character = run.shot.character
    if not run.shot.made_for or character is None or not run.dials:
        raise NotFound("This run is no sheet of a character.")
    query = select(Take).where(Take.run_id == run_id).options(joinedload(Take.run).joinedload(Run.recipe), joinedload(Take.shot))
    made = {take.place: take for take in session.scalars(query)}
    return run, character, made, measures.known(session, list(made.values()))


def sheet(session: Session, run_id: int) -> Sheet:
    """Raises NotFound where the run is no sheet."""
    run, character, made, known = _of(session, run_id)
    dials = runs.dials_of(run)
    out, wide = Sheet(run, character), len(dials[0].values)
    for r, title in enumerate(dials[1].values if len(dials) > 1 else ("",)):
        takes = [(str(said), made.get(r * wide + c)) for c, said in enumerate(dials[0].values)]
        out.rows.append((str(title), [Cell(said, take, known.get(take.id) if take else None) for said, take in takes]))
    return out


def faces(session: Session, run_id: int, by: str) -> Faces:
    """The pictures of a run that puts a face on; by : "drift", what strays first, or "order". Raises NotFound where it does not."""
    run, character, made, known = _of(session, run_id)
    targets = sheets.targets_of(run)
    names, read = sheets.names_of(session, targets), readings.known_of(session, targets)
    cue, lender = runs.recipe_of_place(run, 0).cues[0], reference("face")
    assert lender is not None
    on = lender.switched(cue.parts)
    out = Faces(run, character, by=by, parts=tuple((part, part in on) for part in lender.offered))
    for place, target in enumerate(targets):
        take, reading = made.get(place), read.get(target)
        put = runs.recipe_of_place(run, place).source
        figure = put.face.figure if put is not None and put.face is not None else None
        places = places_of(reading.contents) if reading is not None and reading.contents is not None else ()
        out.rows.append(FaceRow(target, names.get(target, ""), take, known.get(take.id) if take else None, places, figure))
    if by == "drift":
        out.rows.sort(key=lambda row: -row.distance)
    return out

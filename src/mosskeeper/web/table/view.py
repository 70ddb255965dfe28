"""What the light table shows: gathered once, rendered whole or in parts."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, get_args

from sqlalchemy.orm import Session

from mosskeeper.core.cue_sheet import soloed
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.vocabulary.finishes import FINISHES
from mosskeeper.core.pictures.areas import AREAS
from mosskeeper.core.recipe import Recipe, Sampler
from mosskeeper.core.roles import all_roles
from mosskeeper.core.words.understand import Span, understand
from mosskeeper.engines import BUILT_IN
from mosskeeper.engines.contract import Capabilities, Engine, Misfit, misfits
from mosskeeper.studio import engines, ledger, measures, runs, shots, takes
from mosskeeper.studio.measures import TakeMeasures
from mosskeeper.studio.models import Anchor, Run, Shot, Take
from mosskeeper.web.render import fragment, part
from mosskeeper.web.table import cue_rows
from mosskeeper.web.table.cue_rows import CueRow
from mosskeeper.web.table.forms import FIELDS

SHAPES = (
    (512, 640, "4:5"),
    (640, 512, "5:4"),
    (512, 512, "1:1"),
    (480, 640, "3:4"),
    (512, 768, "2:3"),
    (768, 512, "3:2"),
    (448, 800, "9:16"),
    (800, 448, "16:9"),
)


@dataclass(slots=True)
class Table:
    shot: Shot
    recipe: Recipe
    takes: list[Take]
    shown: Take | None
    anchor: Anchor | None
    run: Run | None
    preview: int | None
    workers: int
    compare: str = ""  # '', 'side' or 'swipe'
    show_aside: bool = False
    aside: int = 0  # takes put aside
    seconds: float = 0.0
    sparks: float = 0.0
    measures: TakeMeasures | None = None  # of the take that is shown
    rows: list[CueRow] = field(default_factory=list)
    engines: list[Engine] = field(default_factory=list)
    capabilities: Capabilities | None = None
    misfits: list[Misfit] = field(default_factory=list)  # those that are about no single cue
    allowance: str = ""  # a warning where this run goes over it
    can_undo: bool = False
    can_redo: bool = False
    problems: dict[str, str] = field(default_factory=dict)

    @property
    def live(self) -> bool:
        return self.run is not None and self.run.active


def gather(session: Session, shot_id: int, take_id: int | None = None, compare: str = "", show_aside: bool = False) -> Table:
    """The state of a shot's table. Raises NotFound where the shot or the take does not exist."""
    shot = shots.find(session, shot_id)
    recipe = shots.draft(shot)
    made = takes.of_shot(session, shot_id)
    visible = [t for t in made if show_aside or not t.put_aside]
    shown = next((t for t in made if t.id == take_id), None) if take_id else None
    if take_id and shown is None:
        shown = takes.find(session, take_id)
    if shown is None:
        shown = next((t for t in visible if t.kept), visible[0] if visible else None)
    latest = runs.of_shot(session, shot_id)
    run = latest[0] if latest else None
    table = Table(
        shot,
        recipe,
        visible,
        shown,
        shot.character.lead if shot.character else None,
        run,
        runs.preview_number(session, run.id) if run and run.active else None,
        runs.workers_alive(session),
        compare if compare in ("side", "swipe") else "",
        show_aside,
    )
    table.aside = sum(t.put_aside for t in made)
    if shown is not None:
        # while a run goes on, its worker measures what it makes
        table.measures = measures.known(session, [shown]).get(shown.id) if table.live else measures.of_take(session, shown)
    table.can_undo, table.can_redo = shots.can_walk(session, shot)
    _engine(session, table, recipe)
    price(session, table, recipe)
    return table


def _engine(session: Session, table: Table, recipe: Recipe) -> None:
    """What the engine can do, what of the recipe it cannot, and the rows of the cue sheet with it."""
    table.engines = engines.all_engines(session)
    engine = next((e for e in table.engines if e.key == recipe.engine), None)
    unfit = misfits(soloed(recipe), engine) if engine is not None else []
    table.capabilities = (engine or table.engines[0]).capabilities()
    table.misfits = [m for m in unfit if m.cue is None]
    table.rows = cue_rows.gather(session, recipe, table.anchor, table.measures, unfit)


def price(session: Session, table: Table, recipe: Recipe) -> None:
    try:
        estimate = runs.estimate(session, soloed(recipe))
        table.sparks, table.seconds = estimate.sparks, estimate.seconds
        table.allowance = ledger.warning(session, table.shot.story, estimate.sparks)
    except ArtistError as error:
        table.problems[error.field] = error.sentence


def words_context(recipe: Recipe) -> dict[str, Any]:
    """The prompt cut into stretches with what was understood of each."""
    asked, barred = understand(recipe.words), understand(recipe.negative)
    whole = understand(recipe.prompt)
    hints = [*asked.unknown, *barred.unknown]
    said = [s for s in asked.spans if s.kind == "understood" and s.says]
    chips = list({s.text.lower(): (s.text, s.says, recipe.emphasis.get(s.text.lower(), 1.0)) for s in said}.items())
    return {
        "pieces": _pieces(recipe.words, asked.spans),
        "given_pieces": _pieces(recipe.given, understand(recipe.given).spans),
        "negative_pieces": _pieces(recipe.negative, barred.spans),
        "hints": hints,
        "chips": chips,
        "told": asked.instructions[:3],
        "nothing": bool(recipe.words.strip()) and not asked.understood_anything,
        "conflicts": [(a, sorted(v)) for a, v in whole.wanted.items() if len(v) > 1 and a not in ("expression", "prop")],
    }


def _pieces(text: str, spans: tuple[Span, ...]) -> list[tuple[str, Span | None]]:
    pieces: list[tuple[str, Span | None]] = []
    at = 0
    for span in spans:
        if span.start > at:
            pieces.append((text[at : span.start], None))
        pieces.append((text[span.start : span.end], span))
        at = span.end
    pieces.append((text[at:], None))
    return pieces


def context(table: Table) -> dict[str, Any]:
    """Everything that the templates of the light table need."""
    order = table.takes
    at = next((i for i, t in enumerate(order) if table.shown and t.id == table.shown.id), None)
    return {
        "t": table,
        "drift": table.measures.drift if table.measures else None,
        "shot": table.shot,
        "recipe": table.recipe,
        "shapes": SHAPES,
        "engines": table.engines,
        "stand_in": table.recipe.engine in BUILT_IN,
        "styles": list(FINISHES),
        "samplers": get_args(Sampler),
        "capabilities": table.capabilities,
        "misfits": table.misfits,
        "noise": cue_rows.noise(table.recipe),
        "roles": all_roles(),
        "areas": AREAS,
        "influences": cue_rows.influences(table.recipe),
        "newer": order[at - 1] if at else None,
        "older": order[at + 1] if at is not None and at + 1 < len(order) else None,
        **words_context(table.recipe),
    }


def saved_parts(table: Table, problems: dict[str, str]) -> list[str]:
    """What changes on the page after the recipe was saved, or could not be."""
    c = context(table)
    errors = [part(f"problem-{name}", fragment("shared/field_problem.html", {"sentence": problems.get(name, "")})) for name in FIELDS]
    if problems:
        return [*errors, part("save-state", fragment("table/save_state.html", {"state": "problem"}))]
    return [
        *errors,
        part("mirror", fragment("table/mirror.html", {"pieces": c["pieces"]})),
        part("hints", fragment("table/hints.html", c)),
        part("cues", fragment("table/cues.html", c), "outerMorph"),
        part("history", fragment("table/undo.html", c)),
        part("run-facts", fragment("table/run_facts.html", c)),
        part("revision", fragment("table/revision.html", c)),
        part("save-state", fragment("table/save_state.html", {"state": "saved"})),
        part("conflict", ""),
    ]


def view_parts(table: Table) -> list[str]:
    """The picture, its neighbours and the strip of takes."""
    c = context(table)
    return [
        part("stage", fragment("table/stage.html", c), "outerHTML"),
        part("strip", fragment("table/strip.html", c), "outerHTML"),
        part("cues", fragment("table/cues.html", c), "outerMorph"),
        part("notice", ""),
    ]


def run_parts(table: Table) -> list[str]:
    """How the run stands, live."""
    c = context(table)
    # morphed: the last preview stays until the next one has come
    return [part("run-state", fragment("table/run_state.html", c)), part("live", fragment("table/live.html", c), "innerMorph")]

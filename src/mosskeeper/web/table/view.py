"""What the light table shows: gathered once, rendered whole or in parts."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, get_args

from sqlalchemy.orm import Session

from mosskeeper.core.cue_sheet import soloed
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.vocabulary.finishes import FINISHES
from mosskeeper.core.merge import Clash
from mosskeeper.core.pictures.areas import AREAS
from mosskeeper.core.recipe import Cue, Recipe, Sampler
from mosskeeper.core.roles import all_roles
from mosskeeper.core.words.held import speaking, with_held
from mosskeeper.core.words.left_open import called, left_open
from mosskeeper.core.words.understand import Span, Understanding, understand
from mosskeeper.core.words.unseen import unseen
from mosskeeper.engines import BUILT_IN
from mosskeeper.engines.contract import Capabilities, Engine, Misfit, misfits
from mosskeeper.studio import (
    drafts,
    engines,
    enlarging,
    estimates,
    explaining,
    holding,
    ledger,
    measures,
    pictures,
    runs,
    shots,
    stacks,
    takes,
    watching,
)
from mosskeeper.studio.engines import Known
from mosskeeper.studio.measures import TakeMeasures
from mosskeeper.studio.models import Anchor, Run, Shot, Take
from mosskeeper.studio.run_states import ACTIVE
from mosskeeper.web.overlays.overlay import tabs
from mosskeeper.web.render import fragment, part
from mosskeeper.web.table import cue_rows
from mosskeeper.web.table.cue_rows import CueRow
from mosskeeper.web.table.forms import FIELDS, field_of, fields_of

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
    measures: TakeMeasures | None = None  # of the take that is shown, as far as a worker has measured it
    rows: list[CueRow] = field(default_factory=list)
    engine: Known | None = None  # the one that the recipe names
    engines: list[Engine] = field(default_factory=list)
    capabilities: Capabilities | None = None
    misfits: list[Misfit] = field(default_factory=list)  # those that are about no single cue
    allowance: str = ""  # a warning where this run goes over it
    behind: int = 0  # runs that wait behind the one at work
    undoes: str = ""  # what undo takes back, "" where there is nothing
    redoes: str = ""
    unseen: list[str] = field(default_factory=list)  # understood words of the shown take that it does not show
    troubled: list[Run] = field(default_factory=list)  # held and failed runs that nobody has dismissed
    mends: int = 0  # that lie on the picture that is shown
    sizes: dict[str, tuple[int, int]] = field(default_factory=dict)  # width and height of the pictures that are shown
    problems: dict[str, str] = field(default_factory=dict)

    @property
    def larger(self) -> tuple[int, ...]:
        """How many times as large the shown take can be made."""
        return () if self.shown is None else enlarging.factors(self.sizes[self.shown.picture_sha256])

    @property
    def live(self) -> bool:
        return self.run is not None and self.run.active


def gather(session: Session, shot_id: int, take_id: int | None = None, compare: str = "", show_aside: bool = False) -> Table:
    """The state of a shot's table; nothing is computed that a worker computes. Raises NotFound where shot or take does not exist."""
    shot = shots.find(session, shot_id)
    recipe = drafts.of_shot(shot)
    made = takes.of_shot(session, shot_id)
    visible = [t for t in made if show_aside or not t.put_aside]
    shown = next((t for t in made if t.id == take_id), None) if take_id else None
    if take_id and shown is None:
        shown = takes.find(session, take_id)
    if shown is None:
        shown = next((t for t in visible if t.kept), visible[0] if visible else None)
    run = runs.current(session, shot_id)
    standing = watching.standing(session, [shot_id]) if run is not None and run.active else []
    table = Table(
        shot,
        recipe,
        visible,
        shown,
        shot.character.lead if shot.character else None,
        run,
        next((one.preview for one in standing if one.stack is None), None),
        watching.workers_alive(session),
        compare if compare in ("side", "swipe") else "",
        show_aside,
    )
    table.aside = sum(t.put_aside for t in made)
    table.measures = measures.known(session, [shown]).get(shown.id) if shown is not None else None
    table.mends = stacks.count(session, shot_id, shown.picture_sha256) if shown is not None else 0
    table.sizes = pictures.sizes(session, [one.picture_sha256 for one in (shown, table.anchor) if one is not None])
    table.behind = runs.behind(session, run) if run is not None and run.active else 0
    table.undoes, table.redoes = drafts.can_walk(session, shot)
    if shown is not None and (explained := explaining.of_picture(session, shown.picture_sha256)) is not None:
        own = takes.recipe_of(shown)
        table.unseen = unseen(understand(with_held(own.prompt, own.held, own.styles), own.emphasis), explained.layers[0].scene.description)
    table.troubled = runs.troubled_of_shot(session, shot_id)
    _engine(session, table, recipe)
    price(session, table, recipe)
    return table


def _engine(session: Session, table: Table, recipe: Recipe) -> None:
    """What the engine can do, what of the recipe it cannot, and the rows of the cue sheet with it."""
    table.engines, table.engine = engines.all_engines(session), engines.known(session, recipe.engine)
    engine = table.engine.engine
    unfit = misfits(soloed(recipe), engine) if engine is not None else []
    table.capabilities = (engine or table.engines[0]).capabilities()
    table.misfits = [m for m in unfit if m.cue is None]
    table.rows = cue_rows.gather(session, recipe, table.anchor, table.measures, unfit)


def price(session: Session, table: Table, recipe: Recipe) -> None:
    try:
        estimate = estimates.estimate(session, soloed(recipe))
        table.sparks, table.seconds = estimate.sparks, estimate.seconds
        table.allowance = ledger.warning(session, table.shot.story, estimate.sparks)
    except ArtistError as error:
        table.problems[error.field] = error.sentence


def words_context(recipe: Recipe) -> dict[str, Any]:
    """The prompt cut into stretches with what was understood of each."""
    asked, barred = understand(recipe.words), understand(recipe.negative)
    speaks = speaking(recipe.prompt, recipe.held, recipe.styles)
    whole = understand(recipe.prompt)
    hints = [*asked.unknown, *barred.unknown]
    return {
        "pieces": _pieces(recipe.words, asked.spans),
        "held": [(words, words in speaks) for words in recipe.held],
        "given_pieces": _pieces(recipe.given, understand(recipe.given).spans),
        "negative_pieces": _pieces(recipe.negative, barred.spans),
        "hints": hints,
        "spoken": _by_owner(asked, recipe.emphasis),
        "aside": [s for s in asked.spans if s.kind == "understood" and s.note and not s.stands],
        "along": [s for s in asked.spans if s.kind == "understood" and s.also],
        "open": [
            called(name) for name in left_open(understand(with_held(recipe.prompt, recipe.held, recipe.styles)), holding.lent_by(recipe))
        ],
        "told": [*asked.instructions[:3], *(s for s in asked.spans if s.kind == "understood" and s.note and s.stands)],
        "nothing": bool(recipe.words.strip()) and not asked.understood_anything,
        "beyond": whole.beyond_the_frame,
        "conflicts": [(a, sorted(v)) for a, v in whole.wanted.items() if len(v) > 1 and a not in ("expression", "prop", "subject", "trim")],
    }


@dataclass(frozen=True, slots=True)
class Spoken:
    """One understood phrase, to be weighed. says : what it means, in words. tone : its colour, "" where it has none."""

    key: str
    text: str
    says: str
    tone: str
    factor: float


def _by_owner(asked: Understanding, emphasis: Mapping[str, float]) -> list[tuple[str, list[Spoken]]]:
    """The understood phrases of each person, and of the picture, under who that is; one person alone needs no name."""
    people: dict[tuple[int, ...], list[Spoken]] = {}
    names: dict[int, str] = {}
    for span in asked.spans:
        if span.kind != "understood" or not (span.says or span.tints or span.stands or span.also):
            continue
        if any(attribute == "subject" for attribute, _ in span.says):
            names |= {n: span.text for n in span.figures if n not in names}
        key = span.text.lower()
        says = [f"{a}: {v}" for a, v in span.says] + [f"{thing} in this colour" for thing, _ in span.tints]
        says += [f"stands in the picture: {span.stands}"] * bool(span.stands) + [f"with {span.also}"] * bool(span.also)
        meant = f"{span.text} → {span.belongs}: " if span.belongs else ""
        one = Spoken(key, span.text, meant + ", ".join(says), span.tints[0][1] if span.tints else "", emphasis.get(key, 1.0))
        group = people.setdefault(span.figures, [])
        if not any(other.key == key for other in group):
            group.append(one)
    several = len([key for key in people if key]) > 1
    if not several:
        return [("", [one for group in people.values() for one in group])] if people else []
    called_ = {key: " and ".join(names.get(n, f"person {n + 1}") for n in key) if key else "the picture" for key in people}
    return [(called_[key], group) for key, group in sorted(people.items(), key=lambda one: (not one[0], one[0]))]


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
        "fields": fields_of(table.recipe),
        "stand_in": table.recipe.engine in BUILT_IN,
        "styles": list(FINISHES),
        "samplers": get_args(Sampler),
        "capabilities": table.capabilities,
        "misfits": table.misfits,
        "noise": cue_rows.noise(table.recipe),
        "roles": all_roles(),
        "areas": AREAS,
        "influences": cue_rows.influences(table.recipe),
        "tabs": tabs(table.recipe, table.mends),
        "overlay": "picture",
        "unseen": table.unseen,
        "newer": order[at - 1] if at else None,
        "older": order[at + 1] if at is not None and at + 1 < len(order) else None,
        **words_context(table.recipe),
    }


def saved_parts(table: Table, problems: Mapping[str, str] | None = None, clashes: Sequence[Clash] = ()) -> list[str]:
    """What changes on the page after an edit was saved, or something in it could not be.

    problems : sentences by field; then nothing was saved. clashes : what was edited elsewhere, too; the rest was saved.
    """
    told: dict[str, str] = dict.fromkeys(FIELDS, "")
    for name, sentence in (problems or {}).items():
        place = name if name in told else "words"
        told[place] += fragment("shared/field_problem.html", {"sentence": sentence})
    for clash in clashes:
        told[field_of(clash.field)] += fragment("table/clash.html", {"clash": clash})
    beside = [part(f"problem-{name}", html) for name, html in told.items()]
    if problems:
        return [*beside, part("save-state", fragment("table/save_state.html", {"state": "problem"}))]
    return [
        *beside,
        *edited_parts(table),
        part("save-state", fragment("table/save_state.html", {"state": "clash" if clashes else "saved"})),
    ]


def edited_parts(table: Table) -> list[str]:
    """What the page shows of the recipe besides what is typed: of that, the page's own script knows what to keep."""
    c = context(table)
    return [part("mirror", fragment("table/mirror.html", {"pieces": c["pieces"]})), *_cue_parts(c)]


def cue_parts(table: Table, note: str = "", gone: Cue | None = None, arrived: Cue | None = None) -> list[str]:
    """The cue sheet, and what follows from it."""
    return _cue_parts(context(table) | {"note": note, "gone": gone, "arrived": arrived})


def _cue_parts(c: dict[str, Any]) -> list[str]:
    return [
        part("held", fragment("table/held.html", c)),
        part("cues", fragment("table/cues.html", c), "outerMorph"),
        part("hints", fragment("table/hints.html", c)),
        part("history", fragment("table/undo.html", c)),
        part("run-facts", fragment("table/run_facts.html", c)),
        part("seed-says", fragment("table/seed.html", c)),
        part("revision", fragment("table/revision.html", c)),
    ]


def view_parts(table: Table) -> list[str]:
    """The picture, its neighbours and the strip of takes, with the cue sheet that it is compared by."""
    c = context(table)
    return [*_shown_parts(c), part("cues", fragment("table/cues.html", c), "outerMorph"), part("notice", "")]


def _shown_parts(c: dict[str, Any]) -> list[str]:
    """What follows from which take is shown: nothing that an artist may be typing in."""
    return [
        part("stage", fragment("table/stage.html", c), "outerHTML"),
        part("anchor-side", fragment("table/anchor.html", c), "outerHTML"),
        part("next", fragment("table/next_step.html", c), "outerHTML"),
        _strip(c),
        part("unseen", fragment("table/unseen.html", c)),
    ]


def _strip(c: dict[str, Any]) -> str:
    # morphed: a take that is just being pressed stays the one that was pressed
    return part("strip", fragment("table/strip.html", c), "outerMorph") + part("takes-say", fragment("table/takes_say.html", c))


def measured_parts(table: Table) -> list[str]:
    """What is known of the take that is shown, once it was measured."""
    c = context(table)
    return [
        part("measured", fragment("table/measured.html", {**c, "take": table.shown}), "outerHTML"),
        part("cues", fragment("table/cues.html", c), "outerMorph"),
    ]


def run_parts(table: Table) -> list[str]:
    """How the run stands."""
    c = context(table)
    # morphed: the last preview stays until the next one has come
    return [
        part("run-state", fragment("table/run_state.html", c)),
        part("live", fragment("table/live.html", c), "innerMorph"),
        part("run-facts", fragment("table/run_facts.html", c)),
    ]


@dataclass(frozen=True, slots=True)
class Watched:
    """What a page saw of the run that it watches: its id, state, and how many takes it had made; and the revision of the fields."""

    run: int | None
    state: str
    made: int
    revision: int | None


def live_parts(session: Session, shot_id: int, seen: Watched, overlay: str = "") -> list[str]:
    """What changed for a page since it was drawn.

    A page is drawn before a save that its reload overtook: then the fields, too, are told anew. Where the run that it watched has
    ended, its first take comes on the table, also while another run is at work by now; where one more take came, the strip. On an
    overlay nothing takes the place of what lies on the picture: its row of takes gets the new ones.
    """
    table = gather(session, shot_id)
    run = table.run
    edits = [] if seen.revision in (None, table.shot.revision) else edited_parts(table)
    watched = run if run is None or seen.run in (None, run.id) else session.get(Run, seen.run)
    if not overlay and watched is not None and seen.state in ACTIVE and not watched.active and watched.takes:
        ended = gather(session, shot_id, watched.takes[0].id)
        return [*edits, *run_parts(ended), *_shown_parts(context(ended))]
    told = [*edits, *run_parts(table)]
    if run is None or (watched is run and len(run.takes) == seen.made):
        return told
    c = context(table) | {"overlay": overlay}
    return [*told, part("overlay-takes", fragment("overlays/takes.html", c)) if overlay else _strip(c)]

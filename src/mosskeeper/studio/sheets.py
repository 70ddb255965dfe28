"""Sheets of characters, and the anchor's face put on pictures: each a run on a shot of its own, which stands on no story board."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from mosskeeper.core import sheets
from mosskeeper.core.dials import FACE_ON, picture_of_target, target
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.recipe import Cue, FacePut, Recipe, Source
from mosskeeper.core.roles import reference
from mosskeeper.core.sheets import SheetKind
from mosskeeper.core.sweep import MOST_TARGETS, Dial, cells
from mosskeeper.studio import cast, estimates, measures, pictures, runs, shots, stacks
from mosskeeper.studio.models import Character, Picture, Run, Shot, Take

FACES = "faces"  # what a shot is made for on which the anchor's face is put on pictures
_PLAIN_CLOTHES = "in a plain grey tunic"  # so that cells differ in nothing but what they are named for
_SHOWN = 4  # pictures of a sheet on the character's page
_FACE_STEPS = 4  # a face is drawn on, not denoised: an engine asks for some steps all the same


@dataclass(frozen=True, slots=True)
class Prepared:
    """A run that can be submitted: its shot is there."""

    shot: Shot
    recipe: Recipe
    dials: tuple[Dial, ...]


@dataclass(frozen=True, slots=True)
class Offered:
    """A kind of sheet as a character's page offers it. why_not : why it cannot be made; "" where it can."""

    kind: SheetKind
    cells: int
    sparks: float
    why_not: str


@dataclass(frozen=True, slots=True)
class Made:
    """A sheet that was made, or is being made: its run, and some of its takes."""

    run: Run
    shot: Shot
    takes: list[Take]


def _anchored(character: Character) -> str:
    """The lead anchor's picture. Raises ArtistError where there is none."""
    if character.lead is None:
        raise ArtistError(f"{character.name} has no lead anchor yet. Choose one clear take seen from in front, then come back.", "sheet")
    return character.lead.picture_sha256


def offered(session: Session, character: Character) -> list[Offered]:
    """All kinds of sheets, with their prices. The price of a cell is asked once: all cells cost the same."""
    each = estimates.estimate(session, Recipe(words="portrait", count=1)).sparks
    out = []
    for kind in sheets.KINDS.values():
        try:
            _anchored(character)
            n, why_not = cells(_dials(character, kind, "")), ""
        except ArtistError as error:
            n, why_not = 0, error.sentence
        out.append(Offered(kind, n, round(each * n, 1), why_not))
    return out


def _dials(character: Character, kind: SheetKind, own: str) -> tuple[Dial, ...]:
    return sheets.dials(kind, [outfit.words for outfit in character.outfits], own)


def price_of_a_face(session: Session) -> float:
    """Sparks for each picture that gets a face; they do not depend on who it is."""
    put = Source(picture="0" * 64, face=FacePut())
    return estimates.estimate(session, Recipe(source=put, count=1, steps=_FACE_STEPS)).sparks


def begin(session: Session, character_id: int, kind_name: str, outfit_id: int | None = None, own: str = "") -> Prepared:
    """A new sheet of a character.

    Parameters
    ----------
    outfit_id : what all cells wear; None: something plain. A sheet of outfits has its own.
    own : phrases of the artist's own, one a line, each a further cell.

    Raises
    ------
    ArtistError
        where there is no lead anchor, or nothing to show along the sheet.
    """
    character, kind = cast.find(session, character_id), sheets.kind_called(kind_name)
    _anchored(character)
    dials = _dials(character, kind, own)
    name = f"{kind.title} of {character.name}"
    worn = outfit_id if kind.phrases else None
    words = ", ".join([kind.words, *([_PLAIN_CLOTHES] if kind.phrases and worn is None else [])])
    shot = shots.create(session, character.story_id, name, None, character.id, worn, Recipe(words=words, count=1), kind.name)
    return Prepared(shot, shots.draft(shot), dials)


def put_on(
    session: Session,
    character_id: int,
    targets: Sequence[str],
    figures: Mapping[str, int] | None = None,
    going: Sequence[str] | None = None,
) -> Prepared:
    """The anchor's face on stored pictures, in one run.

    Parameters
    ----------
    targets : pictures by SHA-256, each once; those that are anchors themselves are left out.
    figures : which figure of a picture is meant; where none is named, the largest.
    going : what goes over, by the switches of the role face; None: all that the role lends.

    Raises
    ------
    ArtistError
        where there is no lead anchor, nothing to put the face on, or too much.
    """
    character = cast.find(session, character_id)
    lead, own = _anchored(character), {anchor.picture_sha256 for anchor in character.anchors}
    wanted = [name for name in dict.fromkeys(targets) if name not in own]
    if not wanted:
        raise ArtistError("Choose pictures to put the face on; the anchors themselves have it already.", "faces")
    if len(wanted) > MOST_TARGETS:
        raise ArtistError(f"A face goes on at most {MOST_TARGETS} pictures in one run. Choose fewer.", "faces")
    sizes = pictures.sizes(session, wanted)
    values = tuple(target(name, stacks.working_size(*sizes[name]), (figures or {}).get(name)) for name in wanted if name in sizes)
    cue = Cue(id="anchor", role="face", picture=lead, name=f"{character.name[:100]}, lead anchor", weight=1.0)
    if going is not None:
        lender = reference("face")
        assert lender is not None
        cue = cue.model_copy(update={"parts": [part for part in lender.offered if part in going]})
        if not cue.parts:
            raise ArtistError("Nothing would go over. Switch on the face, or what else the anchor should give.", "faces")
    recipe = Recipe(cues=[cue], count=1, steps=_FACE_STEPS, seed=0)
    shot = shots.create(session, character.story_id, f"{character.name}'s face", None, character.id, None, recipe, FACES)
    return Prepared(shot, recipe, (Dial(name=FACE_ON, values=values),))


def of_character(session: Session, character_id: int) -> list[Made]:
    """Sheets and faces of a character, the newest first."""
    newest = select(func.max(Run.id)).join(Shot, Shot.id == Run.shot_id)
    newest = newest.where(Shot.character_id == character_id, Shot.made_for != "", Shot.removed_at.is_(None)).group_by(Shot.id)
    found = session.execute(select(Run, Shot).join(Shot, Shot.id == Run.shot_id).where(Run.id.in_(newest)).order_by(Run.id.desc())).all()
    place = func.row_number().over(partition_by=Take.run_id, order_by=Take.place).label("nth")
    first = select(Take.id, place).where(Take.run_id.in_([run.id for run, _ in found]), ~Take.put_aside).subquery()
    takes: dict[int, list[Take]] = {}
    for take in session.scalars(select(Take).join(first, first.c.id == Take.id).where(first.c.nth <= _SHOWN).order_by(Take.place)):
        takes.setdefault(take.run_id, []).append(take)
    return [Made(run, shot, takes.get(run.id, [])) for run, shot in found]


def targets_of(run: Run) -> list[str]:
    """The pictures that a run puts a face on, by place. Raises ArtistError where it does nothing of the kind."""
    dials = runs.dials_of(run)
    if len(dials) != 1 or dials[0].name != FACE_ON:
        raise ArtistError("This run puts no face on pictures.", "faces")
    return [picture_of_target(str(value)) for value in dials[0].values]


def names_of(session: Session, names: Sequence[str]) -> dict[str, str]:
    """What pictures are called, by SHA-256."""
    return dict(session.execute(select(Picture.sha256, Picture.name).where(Picture.sha256.in_(names))).all())


def straying(session: Session, run_id: int) -> list[str]:
    """The pictures of a run's takes that are read as another person, in order."""
    made = list(session.scalars(select(Take).where(Take.run_id == run_id, ~Take.put_aside).order_by(Take.place)))
    known = measures.known(session, made)
    return [t.picture_sha256 for t in made if t.id in known and (drift := known[t.id].drift) is not None and drift.other_person]

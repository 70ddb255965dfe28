"""Edits of what one reference lends, alike on the cue sheet, in a region and in a mend: switched parts, the figure meant, corrections."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError
from sqlalchemy.orm import Session

from mosskeeper.core.diffusion.conditioning import parts_of
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.recipe import Cue
from mosskeeper.core.roles import reference
from mosskeeper.studio import readings

_Text = Annotated[str, Field(max_length=80)]


class _Edit(BaseModel):
    model_config = ConfigDict(frozen=True)


class PartSwitched(_Edit):
    """Lends a part of what the picture holds, or no more."""

    edit: Literal["part"]
    part: _Text
    on: bool


class SubjectMeant(_Edit):
    """Says which figure of the picture is meant, from the largest on."""

    edit: Literal["subject"]
    number: Annotated[int, Field(ge=0, le=7)]


class TraitCorrected(_Edit):
    """Keeps a trait of the figure that is meant with the picture; an empty value takes the correction back."""

    edit: Literal["trait"]
    trait: _Text
    value: _Text = ""


ReferenceEdit = PartSwitched | SubjectMeant | TraitCorrected
_ANY: TypeAdapter[ReferenceEdit] = TypeAdapter(Annotated[ReferenceEdit, Field(discriminator="edit")])


def read_edit(fields: dict[str, object]) -> ReferenceEdit:
    """The edit that a page sent. Raises ArtistError where it is none."""
    try:
        return _ANY.validate_python(fields)
    except ValidationError:
        raise ArtistError("This cannot be changed of a reference. Reload the page, and try it again.", "cues") from None


def edited(session: Session, cue: Cue, edit: ReferenceEdit) -> Cue:
    """The cue after an edit. A correction is kept with its picture, and leaves the cue as it is.

    Raises
    ------
    ArtistError
        where its role has no such part, it would lend nothing any more, or the correction cannot be.
    """
    match edit:
        case PartSwitched(part=part, on=on):
            return cue.model_copy(update={"parts": _switched(cue, part, on)})
        case SubjectMeant(number=number):
            return cue.model_copy(update={"subject": number})
        case TraitCorrected(trait=trait, value=value):
            readings.correct_of_cue(session, cue, trait, value)
            return cue


def edited_among(session: Session, cues: list[Cue], cue_id: str, edit: ReferenceEdit) -> list[Cue]:
    """The cues with one of them edited. Raises ArtistError where it is not there any more, and as `edited` does."""
    if all(cue.id != cue_id for cue in cues):
        raise ArtistError("This reference is not there any more. Undo brings it back.", "cues")
    return [edited(session, cue, edit) if cue.id == cue_id else cue for cue in cues]


def _switched(cue: Cue, part: str, on: bool) -> list[str] | None:
    lender = reference(cue.role)
    if lender is None or part not in lender.offered:
        raise ArtistError(f"A cue of the role {cue.role} has no part “{part}”.", "cues")
    now = parts_of(cue, lender)
    wanted = now | {part} if on else now - {part}
    if not wanted:
        raise ArtistError("A reference that lends nothing does not act: switch it off, or take it away.", "cues")
    return None if wanted == set(lender.parts) else [p for p in lender.offered if p in wanted]

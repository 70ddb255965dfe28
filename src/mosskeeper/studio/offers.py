"""Mends by one press: what is offered for a picture, laid on it chosen and worded."""

from __future__ import annotations

from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.mending.choose.mask_report import told_mask
from mosskeeper.core.mending.choose.quick import Quick, drawn_as, opened_by, quick_mends, quick_strays
from mosskeeper.core.reading.reading import Attributes
from mosskeeper.core.stack import Mend
from mosskeeper.studio import explaining, masks, mends, readings, shots, stacks
from mosskeeper.studio.models import Shot


def quick(session: Session, stack_id: int, key: str, page: str = "", name: str = "") -> str:
    """Lays a quick mend on top: chosen and worded; its id, which is `name` where the page has made one.

    Raises ArtistError where it is not offered for the picture as it is now.
    """
    made = mends.standing_of(session, stack_id)
    if made.top is None:
        raise mends.Below
    assert made.row is not None
    shot = shots.find(session, made.row.shot_id)
    choices = masks.choices_on(session, shot, made.top)
    offered = next((one for one in quick_offers(session, shot, made.top) if one.key == key), None)
    if choices is None or offered is None:
        raise ArtistError("This is not offered for the picture as it is now. Choose by hand what should change.", "mask")
    mask = opened_by(offered, choices)
    told = told_mask(mask, choices)
    mend = Mend(id="new", mask=masks.store_mask(session, mask), words=offered.words, told=told[:8])
    return stacks.add(session, stack_id, mend, page, name)


def quick_offers(session: Session, shot: Shot, picture: str) -> list[Quick]:
    """The quick mends of a picture: what is seen, and what of the first figure strays from the lead anchor."""
    choices = masks.choices_on(session, shot, picture)
    if choices is None:
        return []
    lead = shot.character.lead if shot.character is not None else None
    if lead is None or lead.picture_sha256 == picture:
        return quick_mends(choices)
    return [*quick_strays(choices, _attributes(session, picture), _attributes(session, lead.picture_sha256)), *quick_mends(choices)]


def _attributes(session: Session, sha256: str) -> Attributes:
    """What is known of the first figure of a picture: from its scene, where it was drawn here, else as it was read."""
    explained = explaining.of_picture(session, sha256)
    if explained is not None:
        return drawn_as(explained.scene.description)
    read = readings.known(session, sha256)
    return {} if read is None else read.attributes

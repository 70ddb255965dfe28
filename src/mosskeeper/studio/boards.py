"""The board of a shot: the picture of its sketch cue, kept with its pieces at every act of the hand."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from sqlalchemy.orm import Session

from mosskeeper.core import limits
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.places import PLACES
from mosskeeper.core.illustrator.vocabulary.finishes import FINISHES
from mosskeeper.core.recipe import Cue, Recipe, ShapeKind
from mosskeeper.core.words.said import with_said
from mosskeeper.formats.board import BoardDocument, Pasted, board_of, with_board
from mosskeeper.studio import drafts, pictures, shots
from mosskeeper.studio.acts import Moved
from mosskeeper.studio.models import Shot

LONGER_SIDE = 640  # px of a board
_NAME = "board"


class BoardMoved(Moved):
    """Another page changed the board meanwhile."""

    def __init__(self) -> None:
        super().__init__("The board was changed in another tab meanwhile. Show that one, or lay yours over it.", "board")


def size_of(recipe: Recipe) -> tuple[int, int]:
    """Width and height in px of the board of a recipe: its picture's shape."""
    k = LONGER_SIDE / max(recipe.width, recipe.height)
    return round(recipe.width * k), round(recipe.height * k)


def cue_of(recipe: Recipe, cue_id: str = "") -> Cue | None:
    """The sketch cue that lies on the table, or the one that is named."""
    sketches = [cue for cue in recipe.cues if cue.role == "sketch"]
    return next((cue for cue in sketches if not cue_id or cue.id == cue_id), None)


def pieces_of(session: Session, recipe: Recipe, cue: Cue | None) -> BoardDocument:
    """The pieces of a cue's board; a picture that carries none is one piece itself, all over it."""
    if cue is None or cue.picture is None:
        return BoardDocument()
    carried = board_of(pictures.png(session, cue.picture))
    if carried is not None:
        return carried
    w, h = map(float, size_of(recipe))
    return BoardDocument(pieces=[Pasted(kind="picture", picture=cue.picture, at=(w / 2, h / 2), size=(w, h))])


def keep(
    session: Session,
    shot_id: int,
    rgba_u8: NDArray[np.uint8],
    board: BoardDocument,
    base: str,
    cue_id: str = "",
    page: str = "",
    over: bool = False,
) -> tuple[Shot, Cue]:
    """Keeps a board as it is after an act: one step of the shot's history, and the picture of its sketch cue.

    Parameters
    ----------
    rgba_u8 : (H, W, 4), open where nothing was painted.
    base : the picture that the act began from, "" a fresh board. over : lay it over whatever another page made of it.

    Raises
    ------
    BoardMoved
        where the cue has another picture by now.
    """
    png = with_board(rgba_u8, board)
    stored = pictures.store_png(session, png, rgba_u8, _NAME, "board")
    cue: Cue | None = None

    def change(now: Recipe) -> Recipe:
        nonlocal cue
        there = cue_of(now, cue_id)
        if there is None and cue_id and not over:
            raise BoardMoved
        if there is None:
            fresh = shots.new_cue("sketch", stored.sha256, _NAME)
            cue = fresh.model_copy(update={"pots": board.pots, "end": 100.0})
            return now.model_copy(update={"cues": [*now.cues, cue]})
        if there.picture != base and not over:
            raise BoardMoved
        cue = there.model_copy(update={"picture": stored.sha256, "pots": board.pots})
        return now.model_copy(update={"cues": [cue if c.id == there.id else c for c in now.cues]})

    shot = drafts.edit(session, shot_id, change, page, alone=True)
    assert cue is not None
    return shot, cue


def choose_place(session: Session, shot_id: int, name: str, page: str = "") -> Shot:
    """Says a place in the shot's words, in place of the one that they said.

    Raises ArtistError where the engine knows no such place.
    """
    if name not in PLACES:
        raise ArtistError(f"There is no place “{name}”. There are: {', '.join(PLACES)}.", "words")
    return drafts.edit(
        session, shot_id, lambda now: now.model_copy(update={"words": with_said(now.words, "place", name)}), page, alone=True
    )


def choose_surface(session: Session, shot_id: int, name: str, page: str = "") -> Shot:
    """Chooses the finish in which the whole picture is drawn, the board's shapes with it; "" leaves it to the words.

    Raises ArtistError where the engine knows no such finish.
    """
    if name and name not in FINISHES:
        raise ArtistError(f"There is no surface “{name}”. There are: {', '.join(FINISHES)}.", "styles")
    return drafts.edit(session, shot_id, lambda now: now.model_copy(update={"styles": [name] if name else []}), page, alone=True)


def name_shape(session: Session, shot_id: int, cue_id: str, at: tuple[float, float], kind: ShapeKind, page: str = "") -> Shot:
    """Says what the shape at a place (shares of width and height) is; what was said of that place before is forgotten."""

    def change(now: Recipe) -> Recipe:
        cue = cue_of(now, cue_id)
        if cue is None:
            raise ArtistError("This board is not on the cue sheet any more.", "board")
        others = [one for one in cue.named if abs(one[0] - at[0]) + abs(one[1] - at[1]) > 1e-6]
        named = [*others, (at[0], at[1], kind)][-limits.NAMED_SHAPES :]
        changed = cue.model_copy(update={"named": named})
        return now.model_copy(update={"cues": [changed if c.id == cue.id else c for c in now.cues]})

    return drafts.edit(session, shot_id, change, page, alone=True)

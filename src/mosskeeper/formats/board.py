"""Boards as PNG files that carry their pieces, so that a board can be taken up again wherever its picture is.

A text chunk (PNG specification, third edition, 11.3.3) `mosskeeper:board` holds the pieces as JSON: strokes, shapes and
pictures in the order in which they lie on each other. The pixels are what was painted; open where nothing was.
"""

from __future__ import annotations

import io
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from PIL import Image, PngImagePlugin
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from mosskeeper.core.errors import ArtistError
from mosskeeper.core.recipe import Picture, Pot

BOARD_CHUNK = "mosskeeper:board"
MOST_PIECES = 1200
_LARGEST = 1_000_000  # characters of a document: as much as readers of PNG unpack
_MOST_POINTS = 6000  # numbers of one stroke
Colour = Annotated[str, Field(pattern=r"^[0-9a-f]{6}$")]
Place = Annotated[float, Field(ge=-8192, le=8192, allow_inf_nan=False, description="px of the board")]
Cover = Annotated[float, Field(gt=0, le=1)]


class _Piece(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Stroke(_Piece):
    """A line of a brush: x, y and width of each point in turn."""

    kind: Literal["stroke", "rubbed"]
    colour: Colour
    cover: Cover = 1.0
    points: Annotated[list[Place], Field(min_length=3, max_length=_MOST_POINTS)]


class BoardShape(_Piece):
    kind: Literal["disc", "box", "triangle"]
    colour: Colour
    cover: Cover = 1.0
    at: tuple[Place, Place]  # its middle
    size: tuple[Place, Place]
    turn: Annotated[float, Field(ge=-360, le=360)] = 0.0


class Blob(_Piece):
    """A closed shape: x and y of its corners in turn, as shares of its size about its middle."""

    kind: Literal["blob"]
    colour: Colour
    cover: Cover = 1.0
    at: tuple[Place, Place]
    size: tuple[Place, Place]
    turn: Annotated[float, Field(ge=-360, le=360)] = 0.0
    points: Annotated[list[Annotated[float, Field(ge=-1, le=1)]], Field(min_length=6, max_length=_MOST_POINTS)]


class Ground(_Piece):
    """A colour all over the board."""

    kind: Literal["ground"]
    colour: Colour
    cover: Cover = 1.0


class Pasted(_Piece):
    """A picture laid on the board."""

    kind: Literal["picture"]
    picture: Picture
    at: tuple[Place, Place]
    size: tuple[Place, Place]
    turn: Annotated[float, Field(ge=-360, le=360)] = 0.0
    cover: Cover = 1.0


Piece = Annotated[Stroke | BoardShape | Blob | Ground | Pasted, Field(discriminator="kind")]


class BoardDocument(BaseModel):
    """The pieces of a board, from the lowest up, and the pots that its colours were painted from."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    version: Literal[1] = 1
    pieces: Annotated[list[Piece], Field(max_length=MOST_PIECES)] = Field(default_factory=list)
    pots: Annotated[dict[Colour, Pot], Field(max_length=24)] = Field(default_factory=dict)


def read_document(text: str) -> BoardDocument:
    """The board of a document.

    Raises
    ------
    ArtistError
        where it is none, or has more pieces than a board can have.
    """
    if len(text) > _LARGEST:
        raise ArtistError(
            "This board has too much on it to be kept piece by piece. Reload the page, and its oldest strokes are joined.", "board"
        )
    try:
        return BoardDocument.model_validate_json(text)
    except ValidationError as error:
        first = error.errors()[0]
        if first["type"] == "too_long" and first["loc"][:1] == ("pieces",):
            raise ArtistError(
                f"A board has at most {MOST_PIECES} pieces. Reload the page, and its oldest strokes are joined.", "board"
            ) from None
        raise ArtistError("What was painted could not be read, and the board was left as it was. Reload the page.", "board") from None


def with_board(rgba_u8: NDArray[np.uint8], board: BoardDocument) -> bytes:
    """PNG bytes of a board (H, W, 4) that carry its pieces; the same bytes for the same board."""
    info = PngImagePlugin.PngInfo()
    info.add_itxt(BOARD_CHUNK, board.model_dump_json(), zip=True)
    out = io.BytesIO()
    Image.fromarray(rgba_u8, "RGBA").save(out, "PNG", pnginfo=info, compress_level=4)
    return out.getvalue()


def board_of(data: bytes) -> BoardDocument | None:
    """The board inside a PNG; None where there is none that can be read."""
    try:
        image = Image.open(io.BytesIO(data), formats=("PNG",))
        image.load()
        text = getattr(image, "text", {}).get(BOARD_CHUNK)
        return None if text is None else read_document(str(text))
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError, ArtistError):
        return None

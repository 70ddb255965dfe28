"""Mended pictures as PNG files that carry what they came from and all their mends.

Text chunks (PNG specification, third edition, 11.3.3): `mosskeeper:stack` holds the mends and which pictures they made as JSON,
`mosskeeper:pictures` these pictures, the base and the masks as PNG files in base64 by their SHA-256.
"""

from __future__ import annotations

import base64
import io
import json
from dataclasses import dataclass, field
from typing import Any

from PIL import Image, PngImagePlugin
from pydantic import ValidationError

from mosskeeper.core.errors import BadRecipe
from mosskeeper.core.recipe import MAX_SEED, explain
from mosskeeper.core.stack import Stack
from mosskeeper.formats.png import PICTURES_CHUNK, pictures_of, text_chunk

STACK_CHUNK = "mosskeeper:stack"
_LARGEST = 2_000_000


@dataclass(frozen=True, slots=True)
class MadeHere:
    """What a mend made: the seed, the picture's name, and the scenes it was drawn from."""

    mend: str
    seed: int
    picture: str
    says: tuple[str, ...] = ()
    scenes: dict[str, Any] | None = None


@dataclass(frozen=True, slots=True, eq=False)
class Carried:
    """A stack on its way: the mends, what they made from the lowest up, and the pictures as PNG files by name."""

    stack: Stack
    made: tuple[MadeHere, ...] = ()
    pictures: dict[str, bytes] = field(default_factory=dict)
    scenes: dict[str, Any] | None = None  # of the base


def with_stack(png: bytes, carried: Carried) -> bytes:
    """The PNG with its stack inside. Pixels stay as they are."""
    image = Image.open(io.BytesIO(png), formats=("PNG",))
    info = PngImagePlugin.PngInfo()
    made = [{"mend": m.mend, "seed": m.seed, "picture": m.picture, "says": list(m.says), "scenes": m.scenes} for m in carried.made]
    document = {"stack": carried.stack.model_dump(mode="json"), "made": made, "scenes": carried.scenes}
    info.add_itxt(STACK_CHUNK, json.dumps(document, separators=(",", ":")), zip=True)
    packed = {sha256: base64.b64encode(data).decode() for sha256, data in carried.pictures.items()}
    info.add_itxt(PICTURES_CHUNK, json.dumps(packed, separators=(",", ":")))
    out = io.BytesIO()
    image.save(out, "PNG", pnginfo=info, compress_level=6)
    return out.getvalue()


def stack_inside(data: bytes) -> Carried | None:
    """The stack inside a PNG; None where the file is no PNG or carries none.

    Raises
    ------
    BadRecipe
        where there is one, but it is damaged, or pictures that it needs are not with it.
    """
    document = text_chunk(data, STACK_CHUNK)
    if document is None:
        return None
    if len(document) > _LARGEST:
        raise BadRecipe("The mends in this picture are too large to be ours.", "mends")
    try:
        told = json.loads(document)
        stack = Stack.model_validate(told["stack"])
        made = tuple(_made(one) for one in told["made"])
    except ValidationError as error:
        raise BadRecipe(f"The mends in this picture cannot be used. {explain(error)[0][1]}", "mends") from None
    except (ValueError, KeyError, TypeError, RecursionError):
        raise BadRecipe("The mends in this picture are damaged.", "mends") from None
    found = pictures_of(data)
    needed = {stack.base, *(mend.mask for mend in stack.mends if mend.mask is not None)}
    if not needed <= found.keys():
        raise BadRecipe("The mends in this picture came without the pictures that they lie on. Take it along anew.", "mends")
    scenes = told.get("scenes")
    return Carried(stack, tuple(m for m in made if m.picture in found), found, scenes if isinstance(scenes, dict) else None)


def _made(one: dict[str, Any]) -> MadeHere:
    scenes = one["scenes"]
    seed = int(one["seed"])
    if not 0 <= seed <= MAX_SEED:
        raise ValueError("no seed")
    return MadeHere(str(one["mend"]), seed, str(one["picture"]), tuple(map(str, one["says"])), scenes if isinstance(scenes, dict) else None)

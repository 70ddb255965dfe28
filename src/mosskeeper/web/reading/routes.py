"""What the reader sees in a picture: its page, its maps, and points placed by hand."""

from __future__ import annotations

import itertools
from typing import Annotated, Any

import cv2
import numpy as np
from fastapi import APIRouter, Form, Request, UploadFile
from fastapi.responses import RedirectResponse, Response
from numpy.typing import NDArray
from pydantic import TypeAdapter, ValidationError
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.core.illustrator.skeleton import AT, JOINTS, joints
from mosskeeper.core.illustrator.vocabulary.people import SUBJECTS
from mosskeeper.core.illustrator.vocabulary.poses import POSES
from mosskeeper.core.pictures.decode import encode_png
from mosskeeper.core.pictures.resample import linear, nearest
from mosskeeper.core.reading.classes import PARTS
from mosskeeper.core.reading.contours import contours, line_art
from mosskeeper.core.reading.measures import measure, named_palette, tones
from mosskeeper.core.reading.photo_reader import installed
from mosskeeper.core.reading.reading import SURE, Reading
from mosskeeper.core.words.describe import SURE_ENOUGH, describe
from mosskeeper.formats.keypoints import read_keypoints, write_keypoints
from mosskeeper.studio import pictures, readings
from mosskeeper.web.deps import Db
from mosskeeper.web.render import page, wants_fragment

router = APIRouter()
MAPS = ("parts", "depth", "edges", "lines", "tone")
_Points = TypeAdapter(list[tuple[float, float] | None])
_BONES = (
    ("right shoulder", "right elbow", "right wrist"),
    ("left shoulder", "left elbow", "left wrist"),
    ("right hip", "right knee", "right ankle"),
    ("left hip", "left knee", "left ankle"),
    ("neck", "right shoulder"),
    ("neck", "left shoulder"),
    ("neck", "right hip"),
    ("neck", "left hip"),
    ("neck", "nose"),
    ("nose", "right eye", "right ear"),
    ("nose", "left eye", "left ear"),
)
_TINTS = np.random.default_rng(11).integers(70, 230, (len(PARTS), 3)).astype(np.uint8)
_TOLD = {
    "the figure": (
        "subject",
        "build",
        "skin",
        "hair",
        "hair colour",
        "eyes",
        "expression",
        "view",
        "freckles",
        "glasses",
        "facial hair",
        "mark",
    ),
    "its clothes": ("outfit", "colour", "trim", "pattern", "headwear", "necklace", "earrings", "gloves", "scarf", "bag", "belt", "prop"),
    "place and hand": ("place", "time", "weather", "light", "companion", "finish"),
}
_UNTOLD = ("no", "none", "nothing", "nobody", "plain", "plain light", "average")


@router.get("/pictures/{sha256}/reading")
def reading(request: Request, db: Db, sha256: str) -> Response:
    return _page(request, db, sha256)


@router.post("/pictures/{sha256}/points")
def place(request: Request, db: Db, sha256: str, points: Annotated[str, Form()] = "") -> Response:
    """Joints placed by hand, a JSON list of 18 pairs or nulls; empty takes them back."""
    try:
        placed = _Points.validate_json(points) if points else None
    except ValidationError:
        raise ArtistError("These points cannot be understood. Reload the page and place them again.", "pose") from None
    readings.place(db, sha256, placed)
    return _page(request, db, sha256)


@router.post("/pictures/{sha256}/keypoints")
async def import_keypoints(request: Request, db: Db, sha256: str, keypoints: UploadFile) -> Response:
    """The first skeleton of a file of COCO key points."""
    picture = pictures.find(db, sha256)
    found = read_keypoints(await keypoints.read())[0] / (picture.width, picture.height)
    readings.place(db, sha256, [None if np.isnan(p).any() else (float(p[0]), float(p[1])) for p in found])
    return _page(request, db, sha256)


@router.post("/pictures/{sha256}/depth")
async def depth(
    request: Request, db: Db, sha256: str, depth: UploadFile | None = None, painted: Annotated[bool, Form()] = False
) -> Response:
    """A depth map brought in or painted; none takes it back."""
    readings.place_depth(db, sha256, await depth.read() if depth is not None else None, painted)
    return _page(request, db, sha256)


@router.get("/pictures/{sha256}/keypoints.json")
def export_keypoints(db: Db, sha256: str) -> Response:
    read, picture = readings.of_picture(db, sha256), pictures.find(db, sha256)
    if read.joints is None:
        raise ArtistError("No joints were read in this picture, and none placed. Place them by hand first.", "pose")
    size = (picture.width, picture.height)
    data = write_keypoints([read.joints * np.array(size)], size)
    return Response(
        data, media_type="application/json", headers={"Content-Disposition": f'attachment; filename="{sha256[:12]}-keypoints.json"'}
    )


@router.get("/pictures/{sha256}/maps/{kind}.png")
def a_map(db: Db, sha256: str, kind: str) -> Response:
    if kind not in MAPS:
        raise NotFound(f"There is no map “{kind}”. There are {', '.join(MAPS)}.")
    headers = {"Cache-Control": "no-cache"}  # what is placed by hand changes it
    return Response(
        encode_png(_drawn(kind, pictures.pixels(db, sha256), readings.of_picture(db, sha256))), media_type="image/png", headers=headers
    )


def _drawn(kind: str, picture: NDArray[np.uint8], read: Reading) -> NDArray[np.uint8]:
    """(H, W, 3): a map of a picture as a picture of the same size."""
    h, w = picture.shape[:2]
    match kind:
        case "parts" if read.parts is not None:
            tints = _TINTS[nearest(read.parts, (w, h))]
            return np.asarray(cv2.addWeighted(picture, 0.35, tints, 0.65, 0), np.uint8)
        case "depth" if read.depth is not None:
            grey = 255 - (linear(read.depth, (w, h)).clip(0, 1) * 255).astype(np.uint8)
        case "edges":
            grey = 255 - (contours(picture) * 255).astype(np.uint8)
        case "lines":
            grey = np.where(line_art(picture), 0, 255).astype(np.uint8)
        case "tone":
            grey = tones(picture)
        case _:
            raise NotFound("The reader made no such map of this picture.")
    return np.repeat(grey[..., None], 3, 2)


def _page(request: Request, db: Session, sha256: str) -> Response:
    if request.method == "POST" and not wants_fragment(request):
        return RedirectResponse(f"/pictures/{sha256}/reading", 303)
    picture, pixels, read = pictures.find(db, sha256), pictures.pixels(db, sha256), readings.of_picture(db, sha256)
    palette = named_palette(pixels)
    context = {
        "picture": picture,
        "reading": read,
        "points": _points(read, picture.width / picture.height),
        "bones": _bone_pairs(),
        "by_hand": readings.placed_by_hand(db, sha256),
        "depth_by_hand": readings.depth_by_hand(db, sha256),
        "check": readings.face_check(db, sha256),
        "measures": measure(pixels),
        "palette": palette,
        "told": {title: _said(read, names) for title, names in _TOLD.items()},
        "photo": installed(),
        "maps": MAPS,
        "words": describe(read.attributes, [colour.name for colour in palette]),
        "sure": SURE,
    }
    return page(request, "reading/reading_body.html" if wants_fragment(request) else "reading/reading.html", context)


def _bone_pairs() -> list[tuple[int, int, str]]:
    """Pairs of joints, and which side of the body each bone is on."""
    pairs = []
    for chain in _BONES:
        for a, b in itertools.pairwise(chain):
            side = next((s for s in ("right", "left") if s in a or s in b), "middle")
            pairs.append((AT[a], AT[b], side))
    return pairs


def _points(read: Reading, aspect: float) -> list[dict[str, Any]]:
    """Every joint with its place; those that are not set are where they may be, to be dragged."""
    guess = read.main.joints if read.main is not None and np.isfinite(read.main.joints).all() else _standing(aspect)
    set_ = read.joints if read.joints is not None else np.full((len(JOINTS), 2), np.nan)
    out = []
    for k, name in enumerate(JOINTS):
        known = bool(np.isfinite(set_[k]).all())
        x, y = set_[k] if known else guess[k]
        out.append({"name": name, "x": round(float(x), 4), "y": round(float(y), 4), "set": known, "side": name.split()[0]})
    return out


def _standing(aspect: float) -> NDArray[np.float64]:
    """A figure in the middle, from which placing begins where nobody was found."""
    j = joints(SUBJECTS["woman"], POSES["facing"])
    scale = 0.8 / float(np.ptp(j[:, 1]))
    return np.asarray((j - (j[:, 0].mean(), j[:, 1].min())) * (scale / aspect, scale) + (0.5, 0.1))


def _said(read: Reading, names: tuple[str, ...]) -> list[tuple[str, str, float]]:
    """Attribute, value and confidence of what is sure enough to be told."""
    out = []
    for name in names:
        values = read.attributes.get(name, {})
        best = max(values, key=lambda value: values[value], default=None)
        if best is not None and values[best] >= SURE_ENOUGH and best not in _UNTOLD:
            out.append((name, best, values[best]))
    return out

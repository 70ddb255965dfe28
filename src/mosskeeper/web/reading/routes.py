"""What the reader sees in a picture: its page, its maps, and points placed by hand."""

from __future__ import annotations

import itertools
from typing import Annotated, Any

import numpy as np
from fastapi import APIRouter, File, Form, Request, UploadFile
from fastapi.responses import RedirectResponse, Response
from numpy.typing import NDArray
from pydantic import TypeAdapter, ValidationError
from sqlalchemy.orm import Session

from mosskeeper.core.errors import ArtistError, NotFound
from mosskeeper.core.illustrator.skeleton import AT, JOINTS, joints
from mosskeeper.core.illustrator.vocabulary.people import SUBJECTS
from mosskeeper.core.illustrator.vocabulary.poses import POSES
from mosskeeper.core.pictures.decode import MAX_BYTES
from mosskeeper.core.reading.maps import MAPS
from mosskeeper.core.reading.measures import named_palette
from mosskeeper.core.reading.photo_reader import installed
from mosskeeper.core.reading.reading import SURE, Reading
from mosskeeper.core.words.describe import SURE_ENOUGH, describe
from mosskeeper.formats.keypoints import read_keypoints, write_keypoints
from mosskeeper.queue.deferring import want_map, want_readings
from mosskeeper.studio import maps, pictures, readings
from mosskeeper.web.deps import Db, Look, Queue, Sha, Text, Upload
from mosskeeper.web.render import page, wants_fragment

router = APIRouter()
_MOST_KEYPOINTS = 4_000_000  # bytes
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
def reading(request: Request, db: Look, sha256: Sha) -> Response:
    return _page(request, db, sha256)


@router.post("/pictures/{sha256}/reading")
def ask(db: Db, queue: Queue, sha256: Sha) -> Response:
    """Asks for a picture to be read soon."""
    pictures.find(db, sha256)
    want_readings(db, queue, [sha256])
    return Response(status_code=204)


@router.post("/pictures/{sha256}/points")
def place(request: Request, db: Db, sha256: Sha, points: Text = "") -> Response:
    """Joints placed by hand, a JSON list of 18 pairs or nulls; empty takes them back."""
    try:
        placed = _Points.validate_json(points) if points else None
    except ValidationError:
        raise ArtistError("These points cannot be understood. Reload the page and place them again.", "pose") from None
    readings.place(db, sha256, placed)
    return _page(request, db, sha256)


@router.post("/pictures/{sha256}/keypoints")
def import_keypoints(request: Request, db: Db, sha256: Sha, keypoints: Upload) -> Response:
    """The first skeleton of a file of COCO key points."""
    picture = pictures.find(db, sha256)
    found = read_keypoints(keypoints.file.read(_MOST_KEYPOINTS))[0] / (picture.width, picture.height)
    readings.place(db, sha256, [None if np.isnan(p).any() else (float(p[0]), float(p[1])) for p in found])
    return _page(request, db, sha256)


@router.post("/pictures/{sha256}/depth")
def depth(
    request: Request,
    db: Db,
    sha256: Sha,
    depth: Annotated[UploadFile | None, File()] = None,
    painted: Annotated[bool, Form()] = False,
) -> Response:
    """A depth map brought in or painted; none takes it back."""
    readings.place_depth(db, sha256, depth.file.read(MAX_BYTES + 1) if depth is not None else None, painted)
    maps.forget(db, sha256)
    return _page(request, db, sha256)


@router.get("/pictures/{sha256}/keypoints.json")
def export_keypoints(db: Look, sha256: Sha) -> Response:
    picture, read = pictures.find(db, sha256), readings.known(db, sha256)
    if read is None or read.joints is None:
        raise ArtistError("No joints were read in this picture, and none placed. Place them by hand first.", "pose")
    size = (picture.width, picture.height)
    data = write_keypoints([read.joints * np.array(size)], size)
    return Response(
        data, media_type="application/json", headers={"Content-Disposition": f'attachment; filename="{sha256[:12]}-keypoints.json"'}
    )


@router.post("/pictures/{sha256}/maps/{kind}")
def ask_for_map(db: Db, queue: Queue, sha256: Sha, kind: str) -> Response:
    """Asks for a map: 204 where it is there, 202 where a worker makes it now."""
    key = maps.of_picture(kind, sha256)
    if not maps.wanted(db, key):
        return Response(status_code=204)
    want_map(db, queue, key)
    return Response(status_code=202)


@router.get("/pictures/{sha256}/maps/{kind}.png")
def a_map(db: Look, sha256: Sha, kind: str) -> Response:
    data = maps.png(db, maps.of_picture(kind, sha256))
    if data is None:
        raise NotFound("This map is not made yet.")
    return Response(data, media_type="image/png", headers={"Cache-Control": "no-cache"})  # what is placed by hand changes it


def _page(request: Request, db: Session, sha256: str) -> Response:
    if request.method == "POST" and not wants_fragment(request):
        return RedirectResponse(f"/pictures/{sha256}/reading", 303)
    picture, read, measures = pictures.find(db, sha256), readings.known(db, sha256), readings.measured(db, sha256)
    if read is None or measures is None:
        return page(request, "reading/unread.html" if wants_fragment(request) else "reading/reading.html", {"picture": picture})
    palette = named_palette(read.palette)
    context = {
        "picture": picture,
        "original": pictures.has_original(db, sha256),
        "reading": read,
        "points": _points(read, picture.width / picture.height),
        "bones": _bone_pairs(),
        "by_hand": readings.placed_by_hand(db, sha256),
        "depth_by_hand": readings.depth_by_hand(db, sha256),
        "check": readings.known_face_checks(db, [sha256]).get(sha256),
        "measures": measures,
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

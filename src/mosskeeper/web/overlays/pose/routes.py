"""The pose overlay: skeletons on the picture, the book of poses, and many poses as one run."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any

import numpy as np
from fastapi import APIRouter, Body, Query, Request
from fastapi.responses import JSONResponse, Response
from sqlalchemy.orm import Session

from mosskeeper.core.cue_sheet import soloed
from mosskeeper.core.errors import ArtistError
from mosskeeper.core.illustrator.skeleton import AT, JOINTS
from mosskeeper.core.illustrator.vocabulary.poses import HANDS
from mosskeeper.core.posing import book
from mosskeeper.core.posing.retarget import PosedBody
from mosskeeper.core.recipe import Recipe
from mosskeeper.core.sweep import Dial, check
from mosskeeper.formats.keypoints import write_keypoints
from mosskeeper.queue.app import submit
from mosskeeper.studio import acts, drafts, estimates, library, poses, shots
from mosskeeper.studio.acts import Moved
from mosskeeper.studio.poses import PosedFigure, PoseSource
from mosskeeper.web.deps import Db, Id, Look, Queue
from mosskeeper.web.render import page
from mosskeeper.web.table import view as table
from mosskeeper.web.table.forms import digest, fields_of

router = APIRouter()
_FOUND = 18  # pictures of the library that are shown at once
_LIMBS = (
    ("right shoulder", "right elbow"),
    ("right elbow", "right wrist"),
    ("left shoulder", "left elbow"),
    ("left elbow", "left wrist"),
    ("right hip", "right knee"),
    ("right knee", "right ankle"),
    ("left hip", "left knee"),
    ("left knee", "left ankle"),
)


@dataclass(frozen=True, slots=True)
class Drawn:
    """A pose of the book as a small drawing: limbs of the right and of the left side, the axis, heads (x, y, radius)."""

    name: str
    tags: str
    value: str  # as `PoseSource` has it: book name or own number
    own: bool
    right: str
    left: str
    axis: str
    heads: list[tuple[float, float, float]]
    view: str


@router.get("/shots/{shot_id}/pose")
def pose(request: Request, db: Look, shot_id: Id, take: Annotated[int | None, Query(ge=0, lt=2**31)] = None) -> Response:
    made = table.gather(db, shot_id, take)
    pictures = [t.picture_sha256 for t in made.takes[:12]]
    context = {
        "overlay": "pose",
        "state": _state(db, shot_id, made.recipe),
        "joints": JOINTS,
        "hands": list(HANDS),
        "book": _book(db),
        "pictures": pictures,
        "cues": [cue for cue in made.recipe.cues if cue.role == "pose"],
    }
    return page(request, "overlays/pose/pose.html", table.context(made) | context)


@router.get("/shots/{shot_id}/poses/library")
def from_library(request: Request, db: Look, shot_id: Id, find: Annotated[str, Query(max_length=200)] = "") -> Response:
    """Pictures of the library from which a pose can be taken, the newest first."""
    shots.find(db, shot_id)
    return page(request, "overlays/pose/library.html", {"found": library.search(db, library.SearchQuery(words=find)).entries[:_FOUND]})


@router.get("/shots/{shot_id}/poses.json")
def kept(db: Look, shot_id: Id) -> JSONResponse:
    return JSONResponse(_state(db, shot_id, drafts.of_shot(shots.find(db, shot_id))))


@router.get("/shots/{shot_id}/poses.coco.json")
def export(db: Look, shot_id: Id) -> Response:
    """All figures of the overlay as COCO key points."""
    recipe = drafts.of_shot(shots.find(db, shot_id))
    size = (recipe.width, recipe.height)
    skeletons = [f.posed.joints * np.array(size) for f in poses.figures_of(db, recipe)]
    if not skeletons:
        raise ArtistError("There is no figure on the picture: pose one first.", "pose")
    name = f'attachment; filename="shot-{shot_id}-keypoints.json"'
    return Response(write_keypoints(skeletons, size), media_type="application/json", headers={"Content-Disposition": name})


@router.post("/shots/{shot_id}/poses")
def keep(db: Db, shot_id: Id, figures: Annotated[list[PosedFigure], Body()], base: str = "", over: bool = False) -> JSONResponse:
    """Keeps the figures after an act. Another tab's are not overwritten: 409, and both are there to choose from."""
    try:
        _, first = acts.once(db, lambda: poses.keep(db, shot_id, figures, base, over))
    except Moved as error:
        return JSONResponse({"problem": error.sentence, "moved": True}, 409)
    except ArtistError as error:
        return JSONResponse({"problem": error.sentence}, 422)
    return JSONResponse(_state(db, shot_id, drafts.of_shot(shots.find(db, shot_id))) | {"again": not first})


@router.post("/shots/{shot_id}/poses/fit")
def fit(
    db: Db,
    shot_id: Id,
    wanted: Annotated[PoseSource, Body()],
    onto: Annotated[PosedFigure | None, Body()] = None,
    half_of: Annotated[PoseSource | None, Body()] = None,
    mirror: Annotated[bool, Body()] = False,
) -> JSONResponse:
    """A pose on the bodies of the shot's persons."""
    try:
        found = poses.fitted(db, shot_id, wanted, onto, mirror, half_of)
    except ArtistError as error:
        return JSONResponse({"problem": error.sentence}, 422)
    return JSONResponse({"figures": [f.model_dump() for f in found]})


@router.post("/shots/{shot_id}/poses/run")
def run_many(db: Db, queue: Queue, shot_id: Id, names: Annotated[list[str], Body()], dry: bool = False) -> JSONResponse:
    """Many poses of the book as one run, with one seed; `dry` only tells what it costs."""
    shot = shots.find(db, shot_id)
    recipe = soloed(drafts.of_shot(shot))
    try:
        if len(names) < 2:
            raise ArtistError("Choose at least two poses of the book to see them side by side.", "pose")
        known = {entry.name for entry in book.BOOK}
        if any(name not in known for name in names):
            raise ArtistError("Only poses that the book came with can be run in a row.", "pose")
        dials = [Dial(name="pose", values=tuple(dict.fromkeys(names)))]
        check(recipe, dials)
        if dry:
            estimate = estimates.estimate(db, recipe, dials)
            return JSONResponse({"sparks": round(estimate.sparks, 1), "seconds": round(estimate.seconds)})
        with db.begin_nested():
            run = submit(db, queue, shot, recipe, dials)
    except ArtistError as error:
        return JSONResponse({"problem": error.sentence}, 422)
    return JSONResponse({"address": f"/sweeps/{run.id}"})


@router.post("/shots/{shot_id}/poses/book")
def add(
    db: Db, figures: Annotated[list[PosedFigure], Body()], name: Annotated[str, Body()], tags: Annotated[str, Body()] = ""
) -> JSONResponse:
    """Adds the figures as a pose of one's own to the book."""
    try:
        pose = poses.add_to_book(db, name, tags, figures)
    except ArtistError as error:
        return JSONResponse({"problem": error.sentence}, 422)
    return JSONResponse({"own": pose.id})


@router.post("/poses/{pose_id}/out")
def out(db: Db, pose_id: Id, back: bool = False) -> JSONResponse:
    """Takes an own pose out of the book, or brings it back."""
    poses.take_out(db, pose_id, back)
    return JSONResponse({"out": not back})


@router.get("/shots/{shot_id}/poses/book")
def the_book(request: Request, db: Look, shot_id: Id) -> Response:
    """The book's pages."""
    return page(request, "overlays/pose/book.html", {"book": _book(db)})


def _state(db: Session, shot_id: int, recipe: Recipe) -> dict[str, Any]:
    shot = shots.find(db, shot_id)
    undoes, redoes = drafts.can_walk(db, shot)
    figures = poses.figures_of(db, recipe)
    others = recipe.model_copy(update={"cues": [c for c in recipe.cues if c.role != "pose"]})
    return {
        "revision": shot.revision,
        "fields": fields_of(recipe),
        "figures": [f.model_dump() for f in figures],
        "told": poses.told(figures, recipe),
        "base": poses.state_of(recipe),
        "undoes": undoes,
        "redoes": redoes,
        "rest": digest(others),
    }


def _book(db: Session) -> list[Drawn]:
    own = [
        _drawn(row.name, row.tags, str(row.id), True, [PosedFigure.model_validate(f).posed for f in row.figures])
        for row in poses.own_poses(db)
    ]
    return [*own, *_SHIPPED]


def _drawn(name: str, tags: list[str] | tuple[str, ...], value: str, own: bool, figures: list[PosedBody]) -> Drawn:
    """Paths of a pose in its own units, each figure's head a ring."""
    paths = {"right": "", "left": "", "axis": ""}
    heads, every = [], []
    for f in figures:
        p = f.joints * ((0.8, 1.0) if own else (1.0, 1.0))  # own poses are shares of a picture that is higher than wide

        def at(joint: str, p: np.ndarray = p) -> str:  # type: ignore[type-arg]
            x, y = p[AT[joint]]
            return f"{x:.3f} {y:.3f}"

        for a, b in _LIMBS:
            if np.isfinite([p[AT[a]], p[AT[b]]]).all():
                paths[a.split()[0]] += f"M{at(a)}L{at(b)}"
        hips = (p[AT["right hip"]] + p[AT["left hip"]]) / 2
        if np.isfinite(hips).all():
            paths["axis"] += (
                f"M{at('right shoulder')}L{at('left shoulder')}M{at('neck')}L{hips[0]:.3f} {hips[1]:.3f}M{at('right hip')}L{at('left hip')}"
            )
        ears = p[[AT["right ear"], AT["left ear"]]]
        if np.isfinite(ears).all():
            r = 0.55 * float(np.hypot(*(ears[1] - ears[0])))
            heads.append((float(ears[:, 0].mean()), float(ears[:, 1].mean()), max(r, 0.02)))
        every.append(p[np.isfinite(p).all(1)])
    points = np.concatenate(every)
    unit = max(float(np.ptp(points[:, 1])), float(np.ptp(points[:, 0]))) * 0.12
    low, high = points.min(0) - unit * 1.4, points.max(0) + unit
    low[1] = min(low[1], min((y - r for _, y, r in heads), default=low[1]) - unit * 0.4)
    view = f"{low[0]:.3f} {low[1]:.3f} {high[0] - low[0]:.3f} {high[1] - low[1]:.3f}"
    return Drawn(name, " ".join(tags), value, own, paths["right"], paths["left"], paths["axis"], heads, view)


_SHIPPED = [_drawn(e.name, e.tags, e.name, False, book.figures_of(e)) for e in book.BOOK]

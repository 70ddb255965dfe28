"""A board followed live: strokes come up as changed rectangles, and the newest picture goes down."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Awaitable
from dataclasses import dataclass
from typing import Annotated
from urllib.parse import quote

import numpy as np
from fastapi import APIRouter, Body, Query, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import JSONResponse, Response
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.core.errors import NotFound
from mosskeeper.core.illustrator.explained import LayeredScenes
from mosskeeper.core.pictures.decode import decode
from mosskeeper.core.recipe import MAX_SEED, Cue
from mosskeeper.engines import BUILT_IN
from mosskeeper.live_picture.pool import NoRoom, RoomLost, Rooms
from mosskeeper.live_picture.room import Answer, LiveRequest, Painted, board_cue
from mosskeeper.queue.deferring import want_map
from mosskeeper.studio import boards, drafts, following, maps, poses, readings, shots, stages, working
from mosskeeper.web.deps import Db, Id, Look, PageId, Queue

router = APIRouter()
_MOST_PIXELS = 1_000_000
_BUSY = "All live rooms are taken: the picture follows after every act, by a worker."
_NO_STAGE = "All live rooms are taken: keep the stage once the picture follows the hand again. The board is kept meanwhile."
_ELSEWHERE = "This engine does not follow live. What is shown is the built-in illustrator's; a run is the engine's own."
Seed = Annotated[int, Query(ge=0, le=MAX_SEED)]
Side = Annotated[int, Query(ge=0, le=2048)]


@router.post("/shots/{shot_id}/follow")
async def follow(
    request: Request,
    shot_id: Id,
    page_id: PageId,
    width: Side,
    height: Side,
    x: Side = 0,
    y: Side = 0,
    w: Side = 0,
    h: Side = 0,
    cue: Annotated[str, Query(pattern=r"^[a-z0-9]{0,12}$")] = "",
    weight: Annotated[float, Query(ge=0, le=1.5)] = 0.7,
    seed: Seed = 1,
) -> Response:
    """The picture after a changed rectangle (raw RGBA in the body, w × h at x, y of a board width × height).

    204 where something newer overtook it, 409 where the whole board is wanted, 503 where no room is free.
    """
    body = await request.body()
    if len(body) != w * h * 4 or x + w > width or y + h > height or width * height > _MOST_PIXELS or not page_id:
        return JSONResponse({"problem": "What was painted came incomplete. Go on painting."}, 422)
    rooms: Rooms = request.app.state.rooms
    key = f"{shot_id} {page_id}"
    knows_words, knows_board = rooms.knows(key, (width, height))
    if not knows_board and (w, h) != (width, height):
        return JSONResponse({"again": True}, 409)
    asked = await run_in_threadpool(_asked, request.app.state.sessions, shot_id, seed, cue, knows_words)
    words = None if asked.words is None else (asked.key, asked.words)
    patch = np.frombuffer(body, np.uint8).reshape(h, w, 4)
    painted = Painted((width, height), (x, y), patch, board_cue(asked.cue, weight))
    return await _followed(rooms.ask(key, words, painted), asked.note)


@router.post("/shots/{shot_id}/follow/poses")
async def follow_poses(
    request: Request,
    shot_id: Id,
    page_id: PageId,
    figures: Annotated[list[poses.PosedFigure], Body()],
    seed: Seed = 1,
) -> Response:
    """The picture with figures as they are being dragged. 204 where something newer overtook it, 503 where no room is free."""
    rooms: Rooms = request.app.state.rooms
    key = f"{shot_id} {page_id}"
    asked = await run_in_threadpool(_asked, request.app.state.sessions, shot_id, seed, "none", rooms.knows(key, (0, 0))[0])
    words = None if asked.words is None else (asked.key, asked.words)
    dragged = [f.as_cue(asked.weights.get(f.cue, 1.0)) for f in figures]
    return await _followed(rooms.ask(key, words, None, poses=dragged), asked.note)


@router.post("/shots/{shot_id}/follow/queued")
def want_queued(db: Db, queue: Queue, shot_id: Id, seed: Seed = 1) -> Response:
    """Asks for the picture of the shot as it is kept: 204 where it is made, 202 where a worker makes it now."""
    key = following.key_of(shot_id, seed)
    if (maps.facts(db, key) or {}).get("of") == following.state_of(db, shot_id, seed):
        return Response(status_code=204)
    want_map(db, queue, key)
    return Response(status_code=202)


@router.get("/shots/{shot_id}/follow/queued.json")
def queued(db: Look, shot_id: Id, seed: Seed = 1) -> JSONResponse:
    """What a worker made last: of which state, whether that is the one of now, and what the board was read as."""
    facts = maps.facts(db, following.key_of(shot_id, seed))
    if facts is None:
        return JSONResponse({"of": "", "now": False, "told": []})
    return JSONResponse(facts | {"now": facts["of"] == following.state_of(db, shot_id, seed)})


@router.get("/shots/{shot_id}/follow/queued.png")
def queued_picture(db: Look, shot_id: Id, seed: Seed = 1) -> Response:
    data = maps.png(db, following.key_of(shot_id, seed))
    if data is None:
        raise NotFound("This picture is not made yet.")
    return Response(data, media_type="image/png", headers={"Cache-Control": "no-cache"})


async def _followed(asking: Awaitable[Answer | None], note: str) -> Response:
    """What a room answers, for a page; or why it does not."""
    try:
        answer = await asking
    except NoRoom:
        return JSONResponse({"problem": _BUSY}, 503, headers={"Retry-After": "2"})
    except RoomLost:
        return JSONResponse({"again": True}, 409)
    if answer is None:
        return Response(status_code=204)
    if answer.problem:
        return JSONResponse({"problem": answer.problem}, 422)
    says = json.dumps([{"words": t.words, "kind": t.kind, "at": t.at} for t in answer.told])
    told = {"Moss-Told": quote(says), "Moss-Note": quote(note), "Cache-Control": "no-store"}
    return Response(answer.picture, media_type="image/jpeg", headers=told)


@router.post("/shots/{shot_id}/stages")
async def keep_stage(request: Request, shot_id: Id, page_id: PageId, seed: Seed = 1) -> Response:
    """Keeps the live picture of the board as it is kept, and all that it was made from."""
    rooms: Rooms = request.app.state.rooms
    sessions: sessionmaker[Session] = request.app.state.sessions
    asked = await run_in_threadpool(_asked, sessions, shot_id, seed, "", "")
    assert asked.words is not None
    try:
        answer = await rooms.ask(f"{shot_id} {page_id}", (asked.key, asked.words), None, still=True)
    except NoRoom:
        return JSONResponse({"problem": _NO_STAGE}, 503)
    except RoomLost:
        return JSONResponse({"problem": "The live picture was lost just now. Keep the stage once more."}, 409)
    if answer is None or answer.problem:
        return JSONResponse({"problem": answer.problem if answer else "Something newer is being painted. Keep the stage once more."}, 409)
    scenes = None if answer.scenes is None else LayeredScenes.from_json(answer.scenes)
    picture, recipe = answer.picture, asked.words.recipe.model_copy(update={"seed": seed})

    def store() -> None:
        with sessions.begin() as session:
            stages.keep(session, shot_id, recipe, decode(picture).rgb_u8, scenes)

    await run_in_threadpool(store)
    return JSONResponse({"kept": True})


@router.post("/shots/{shot_id}/follow/leave")
async def leave(request: Request, shot_id: Id, page: Annotated[str, Query(pattern=r"^[a-z0-9]{1,16}$")]) -> Response:
    """The page goes: its room is free for others."""
    rooms: Rooms = request.app.state.rooms
    rooms.leave(f"{shot_id} {page}")
    return Response(status_code=204)


@dataclass(frozen=True, slots=True)
class _Asked:
    """What a live picture is asked of. words : None where the room knows them by `key`. cue : the board's own. weights : of pose cues."""

    key: str
    words: LiveRequest | None
    cue: Cue | None
    weights: dict[str, float]
    note: str = ""


def _asked(sessions: sessionmaker[Session], shot_id: int, seed: int, cue: str, known: str) -> _Asked:
    with sessions() as session:
        recipe = readings.settled(session, drafts.of_shot(shots.find(session, shot_id)))
        note = "" if recipe.engine in BUILT_IN else _ELSEWHERE
        own = None if cue == "none" else boards.cue_of(recipe, cue)
        weights = {c.id: c.weight for c in recipe.cues if c.role == "pose"}
        # what the hand is at comes with every stroke; the rest makes the words anew
        others = [c for c in recipe.cues if (own is None or c.id != own.id) and (cue != "none" or c.role != "pose")]
        body = recipe.model_copy(update={"cues": others}).to_json()
        key = hashlib.sha256(f"{seed} {body}".encode()).hexdigest()
        if key == known:
            return _Asked(key, None, own, weights, note)
        pictures = working.cue_pixels(session, recipe)
        return _Asked(key, LiveRequest(recipe, seed, pictures, readings.known_of_recipe(session, recipe)), own, weights, note)

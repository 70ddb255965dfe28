"""`./moss remote-stand-in`: a simulated remote engine over the HTTP contract, for trying it out and for tests.

It draws with the built-in sketcher, and can be told to be slow, busy, broken, or to answer what no engine should.
"""

from __future__ import annotations

import base64
import itertools
import threading
import time
from collections import OrderedDict
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from fastapi import FastAPI, HTTPException
from fastapi.responses import JSONResponse, Response
from numpy.typing import NDArray
from pydantic import BaseModel

from mosskeeper.core.diffusion.result import Progress
from mosskeeper.core.errors import ArtistError, Stopped
from mosskeeper.core.pictures.decode import decode, encode_jpeg, encode_png
from mosskeeper.core.reading.any_reader import read_any
from mosskeeper.core.reading.reading import Reading
from mosskeeper.core.reading.structure import grey
from mosskeeper.core.recipe import Recipe
from mosskeeper.engines.builtin import SKETCHER
from mosskeeper.engines.contract import Materials
from mosskeeper.engines.remote import EngineInfo

TEMPERS = {
    "well": "does as it is asked",
    "slow": "takes a second for every step",
    "busy": "answers that it has no time, with Retry-After",
    "broken": "fails in the middle of a picture",
    "nonsense": "answers what is no JSON",
    "half": "sends half a picture",
    "wrong-size": "sends a picture of another size",
    "never": "takes a picture in hand and never moves",
}
_KEPT = 50  # pictures
TOLD = EngineInfo(
    contract=1,
    title="Remote stand-in",
    about="A simulated service: it draws with the built-in sketcher, elsewhere. No large model.",
    roles=["look", "face", "palette", "pose", "edges", "tone", "depth"],
    repairs=["source", "mask", "wider"],
    samplers=["euler"],
    styles=list(SKETCHER.styles),
    sides=(256, 1024),
    side_multiple=16,
    max_weight=1.0,
    max_cues=4,
    deterministic=True,
)


class PictureRequest(BaseModel):
    recipe: Recipe
    seed: int
    pictures: dict[str, str] = {}
    maps: dict[str, dict[str, Any]] = {}  # by picture and role: what is not read again here


@dataclass
class _Picture:
    asked: PictureRequest
    state: str = "waiting"
    step: int = 0
    preview: str | None = None
    image: bytes = b""
    message: str = ""
    stop: threading.Event = field(default_factory=threading.Event)


class Temper(BaseModel):
    temper: str
    busy_times: int | None = None  # after so many answers it is well again

    def is_busy(self) -> bool:
        """Whether it has no time now; after the last of its busy times it is well again."""
        if self.temper != "busy":
            return False
        if self.busy_times is not None:
            self.busy_times -= 1
            if self.busy_times <= 0:
                self.temper = "well"
        return True


class _Pictures:
    """The pictures that were asked for last, by their numbers."""

    def __init__(self) -> None:
        self._numbers = itertools.count(1)
        self._asked: OrderedDict[str, _Picture] = OrderedDict()

    def take(self, asked: PictureRequest) -> tuple[str, _Picture]:
        number, made = str(next(self._numbers)), _Picture(asked)
        self._asked[number] = made
        while len(self._asked) > _KEPT:
            self._asked.popitem(last=False)
        return number, made

    def found(self, number: str) -> _Picture:
        if number not in self._asked:
            raise HTTPException(404, "There is no such picture.")
        return self._asked[number]


def create_stand_in(temper: str = "well", busy_times: int | None = None) -> FastAPI:
    app = FastAPI(title="Remote engine", version="1", description="The contract by which Moss Keeper asks a remote engine for pictures.")
    pictures = _Pictures()
    now = Temper(temper=temper, busy_times=busy_times)

    @app.get("/engine", response_model=EngineInfo)
    def engine() -> Any:
        """What the engine can do, and what it costs."""
        return Response("<p>It works!", media_type="text/html") if now.temper == "nonsense" else TOLD

    @app.post("/pictures", status_code=202)
    def ask(asked: PictureRequest) -> Any:
        """Takes one picture in hand. 429 or 503: busy, ask again after Retry-After seconds."""
        if now.is_busy():
            return JSONResponse({"detail": "no time now"}, 429, {"Retry-After": "1"})
        if now.temper == "nonsense":
            return JSONResponse(["what", "is", "a", "picture"], 202)
        number, made = pictures.take(asked)
        threading.Thread(target=_draw, args=(made, now), daemon=True).start()
        return {"number": number}

    @app.get("/pictures/{number}")
    def state(number: str) -> dict[str, Any]:
        """How far it is: waiting, working, done or failed."""
        made = pictures.found(number)
        return {"state": made.state, "step": made.step, "steps": made.asked.recipe.steps, "preview": made.preview, "message": made.message}

    @app.get("/pictures/{number}/image", response_class=Response)
    def image(number: str) -> Response:
        """The finished picture as PNG."""
        made = pictures.found(number)
        if made.state != "done":
            raise HTTPException(409, "The picture is not done yet.")
        return Response(made.image, media_type="image/png")

    @app.delete("/pictures/{number}", status_code=204)
    def stop(number: str) -> None:
        """Nobody waits for it any more."""
        pictures.found(number).stop.set()

    @app.post("/temper", include_in_schema=False)
    def change(wanted: Temper) -> Temper:
        if wanted.temper not in TEMPERS:
            raise HTTPException(422, f"One of {', '.join(TEMPERS)}.")
        now.temper, now.busy_times = wanted.temper, wanted.busy_times
        return now

    return app


def _draw(made: _Picture, now: Temper) -> None:
    if now.temper == "never":
        return
    made.state = "working"

    def report(p: Progress) -> None:
        made.step = p.step
        if p.preview is not None:
            made.preview = base64.b64encode(encode_jpeg(p.preview)).decode()
        if now.temper == "slow":
            time.sleep(1)
        if now.temper == "broken" and p.step * 2 >= p.steps:
            raise ArtistError("a lamp fell over")

    try:
        sent = {name: decode(base64.b64decode(data)).rgb_u8 for name, data in made.asked.pictures.items()}
        recipe = made.asked.recipe
        named = {cue.picture for cue in recipe.cues} | ({recipe.source.picture} if recipe.source is not None else set())
        readings = {name: _told(read_any(sent[name]), made.asked.maps.get(name, {})) for name in named if name is not None}
        image = SKETCHER.generate(recipe, made.asked.seed, Materials(sent, readings), report, made.stop.is_set).image
        made.image = _spoiled(image, now.temper)
        made.state = "done"
    except (ArtistError, KeyError, ValueError) as error:
        made.state, made.message = "failed", str(error)
    except Stopped:
        made.state, made.message = "failed", "stopped"


def _told(reading: Reading, maps: dict[str, Any]) -> Reading:
    """What was read here, with the depth and the joints that came with the picture."""
    if "depth" in maps:
        reading = replace(reading, depth=1 - grey(decode(base64.b64decode(maps["depth"])).rgb_u8))
    if "pose" in maps:
        joints = np.array([(np.nan, np.nan) if joint is None else joint for joint in maps["pose"]], float)
        reading = replace(reading, joints=joints)
    return reading


def _spoiled(image: NDArray[np.uint8], temper: str) -> bytes:
    if temper == "wrong-size":
        return encode_png(np.ascontiguousarray(image[:-16]))
    data = encode_png(image)
    return data[: len(data) // 2] if temper == "half" else data


def serve(port: int, temper: str, busy_times: int | None) -> None:
    import uvicorn

    print(
        f"The remote stand-in is at http://127.0.0.1:{port}: connect this address on the page of engines. It {TEMPERS[temper]}.", flush=True
    )
    uvicorn.run(create_stand_in(temper, busy_times), host="127.0.0.1", port=port, log_level="warning")

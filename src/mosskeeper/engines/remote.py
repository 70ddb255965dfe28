"""Remote engines: the engine contract over HTTP (docs/remote-engine.md).

GET /engine tells what it can do. POST /pictures takes one picture in hand and answers with its number; GET /pictures/N tells
how far it is, GET /pictures/N/image gives it, DELETE /pictures/N stops it. 429 and 503 mean busy, with Retry-After in seconds.
"""

from __future__ import annotations

import base64
import contextlib
import json
import time
from collections.abc import Callable
from typing import Annotated, Any, Literal

import httpx
import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from mosskeeper.core.diffusion.result import Progress, Report
from mosskeeper.core.errors import ArtistError, BadPicture, Stopped
from mosskeeper.core.pictures.decode import decode, encode_png
from mosskeeper.core.pictures.resample import smooth
from mosskeeper.core.reading.contours import edges
from mosskeeper.core.reading.structure import coarse_tone
from mosskeeper.core.recipe import Recipe
from mosskeeper.engines.contract import Busy, Capabilities, EngineFailed, Estimate, Made, Materials, fitted

_ASKED_EVERY = 0.25  # seconds
_ANSWER = 10.0  # seconds in which a service must answer
_WHOLE_ANSWER = 60.0  # seconds in which all of an answer must have come
_SILENCE = 60.0  # seconds without any step after which a picture is given up
_MOST_BYTES = 40_000_000
_BUSY = (429, 503)


class Price(BaseModel):
    """Of one picture: sparks = picture + megapixel_step · megapixels · steps, and so the seconds."""

    picture: Annotated[float, Field(ge=0, le=1e4)] = 1.0
    megapixel_step: Annotated[float, Field(ge=0, le=1e4)] = 0.3

    def of(self, recipe: Recipe) -> float:
        return recipe.count * (self.picture + self.megapixel_step * recipe.width * recipe.height / 1e6 * recipe.steps)


class EngineInfo(BaseModel):
    """What a service says of itself."""

    model_config = ConfigDict(extra="ignore")
    contract: Literal[1]
    title: Annotated[str, Field(min_length=1, max_length=60)]
    about: Annotated[str, Field(max_length=600)] = ""
    roles: list[str] = Field(default_factory=list)
    samplers: Annotated[list[str], Field(min_length=1)]
    styles: list[str] = Field(default_factory=list)
    sides: tuple[int, int]
    side_multiple: Annotated[int, Field(ge=1, le=512)] = 16
    max_weight: Annotated[float, Field(gt=0, le=1.5)] = 1.0
    max_cues: Annotated[int, Field(ge=0, le=12)] = 12
    least_steps: Annotated[int, Field(ge=1, le=60)] = 4
    deterministic: bool = False
    repairs: list[Literal["source", "mask", "wider"]] = Field(default_factory=list)
    sparks: Price = Price()
    seconds: Price = Price(picture=2.0, megapixel_step=0.5)


class _State(BaseModel):
    state: Literal["waiting", "working", "done", "failed"]
    step: Annotated[int, Field(ge=0)] = 0
    steps: Annotated[int, Field(ge=1)] = 1
    preview: str | None = None  # base64
    message: Annotated[str, Field(max_length=2000)] = ""


class _Service:
    """One conversation with a service: every trouble on the way becomes `Busy` or `EngineFailed`."""

    def __init__(self, title: str, url: str, transport: httpx.BaseTransport | None) -> None:
        self._title = title
        # no redirects: a service answers at its own address; no proxies or keys of the environment go with a question
        self._client = httpx.Client(
            base_url=url.rstrip("/") + "/", timeout=_ANSWER, transport=transport, follow_redirects=False, trust_env=False
        )

    def __enter__(self) -> _Service:
        return self

    def __exit__(self, *_: object) -> None:
        self._client.close()

    def call(self, method: str, path: str, body: Any = None) -> bytes:
        until = time.monotonic() + _WHOLE_ANSWER
        try:
            with self._client.stream(method, path, json=body) as answer:
                data = bytearray()
                for piece in answer.iter_bytes():
                    data += piece
                    if time.monotonic() > until:
                        raise httpx.ReadTimeout("the answer has no end")
                    if len(data) > _MOST_BYTES:
                        raise EngineFailed(f"{self._title} sends more than a picture can be. The run was given up.", "engine")
        except httpx.TimeoutException:
            raise EngineFailed(
                f"{self._title} did not answer within {_ANSWER:.0f} s. Run it again, or choose another engine.", "engine"
            ) from None
        except httpx.HTTPError:
            raise EngineFailed(f"{self._title} cannot be reached. See that it runs, then run it again.", "engine") from None
        if answer.status_code in _BUSY:
            wait = answer.headers.get("retry-after", "")
            raise Busy(float(wait) if wait.isdigit() else None)
        if 300 <= answer.status_code < 400:
            raise EngineFailed(
                f"{self._title} sends us elsewhere, which is not followed. Connect the address at which it answers.", "engine"
            )
        if answer.status_code >= 400:
            raise EngineFailed(f"{self._title} refused the picture (HTTP {answer.status_code}): {_reason(bytes(data))}", "engine")
        return bytes(data)

    def let_go(self, number: str) -> None:
        """Tells the service that nobody waits any more; whether it hears that does not matter."""
        with contextlib.suppress(EngineFailed, Busy):
            self.call("DELETE", f"pictures/{number}")


def _reason(data: bytes) -> str:
    try:
        return str(json.loads(data)["detail"])[:300]
    except (ValueError, KeyError, TypeError):
        return "it does not say why."


def ask(url: str, transport: httpx.BaseTransport | None = None) -> EngineInfo:
    """What the service at this address says of itself.

    Raises
    ------
    EngineFailed
        where nobody answers, or the answer is not of this contract.
    """
    with _Service("The service at this address", url, transport) as service:
        try:
            return EngineInfo.model_validate_json(service.call("GET", "engine"))
        except Busy:
            raise EngineFailed("The service is busy. Connect it again in a minute.", "url") from None
        except ValidationError as error:
            first = error.errors()[0]
            where = ".".join(map(str, first["loc"])) or "the answer"
            raise EngineFailed(f"This address answers, but not as an engine does: {where}: {first['msg']}.", "url") from None


class RemoteEngine:
    def __init__(
        self, key: str, url: str, told: EngineInfo, transport: httpx.BaseTransport | None = None, silence: float = _SILENCE
    ) -> None:
        self.key, self.url, self.told = key, url, told
        self.title = told.title
        self.about = told.about or "A remote engine."
        self._transport, self._silence = transport, silence

    def capabilities(self) -> Capabilities:
        t = self.told
        return Capabilities(
            tuple(t.roles),
            tuple(t.samplers),
            tuple(t.styles),
            t.sides,
            t.side_multiple,
            t.max_weight,
            t.deterministic,
            t.least_steps,
            t.max_cues,
            tuple(t.repairs),
        )

    def estimate(self, recipe: Recipe) -> Estimate:
        recipe = fitted(recipe, self.capabilities())
        return Estimate(round(self.told.sparks.of(recipe), 1), round(self.told.seconds.of(recipe), 1))

    def generate(
        self,
        recipe: Recipe,
        seed: int,
        materials: Materials,
        report: Report,
        should_stop: Callable[[], bool],
    ) -> Made:
        own = fitted(recipe, self.capabilities())
        sent = {name: base64.b64encode(encode_png(materials.pictures[name])).decode() for name in sorted(own.pictures)}
        maps = control_maps(own, materials)
        body = {"recipe": own.with_seed(seed).model_dump(mode="json"), "seed": seed, "pictures": sent, "maps": maps}
        with _Service(self.title, self.url, self._transport) as service:
            number = self._number(service.call("POST", "pictures", body))
            try:
                self._wait(service, number, recipe, report, should_stop)
                data = service.call("GET", f"pictures/{number}/image")
            except BaseException:
                service.let_go(number)
                raise
        return Made(self._picture(data, (recipe.width, recipe.height)))

    def _number(self, answer: bytes) -> str:
        try:
            number = str(json.loads(answer)["number"])
        except (ValueError, KeyError, TypeError):
            raise self._nonsense("it gave the picture no number") from None
        if not number.isalnum() or len(number) > 64:
            raise self._nonsense("the number it gave the picture is none")
        return number

    def _wait(self, service: _Service, number: str, recipe: Recipe, report: Report, should_stop: Callable[[], bool]) -> None:
        """Until the picture is done, passing its steps on."""
        seen, moved = -1, time.monotonic()
        while True:
            if should_stop():
                raise Stopped
            try:
                state = _State.model_validate_json(service.call("GET", f"pictures/{number}"))
            except ValidationError:
                raise self._nonsense("it does not say how far the picture is") from None
            if state.state == "failed":
                raise EngineFailed(f"{self.title} could not make the picture: {state.message or 'it does not say why'}.", "engine")
            if state.step != seen or state.state == "done":
                seen, moved = state.step, time.monotonic()
                share = 1.0 if state.state == "done" else min(state.step / state.steps, 1.0)
                report(Progress(round(share * recipe.steps), recipe.steps, _preview(state.preview)))
            if state.state == "done":
                return
            if time.monotonic() - moved > self._silence:
                raise EngineFailed(
                    f"{self.title} has not moved for {self._silence:.0f} s: the run was given up. Run it again, or choose another engine.",
                    "engine",
                )
            time.sleep(_ASKED_EVERY)

    def _picture(self, data: bytes, size: tuple[int, int]) -> NDArray[np.uint8]:
        try:
            image = decode(data).rgb_u8
        except BadPicture as error:
            raise self._nonsense(f"the picture it sent cannot be used ({error.sentence})") from None
        if (image.shape[1], image.shape[0]) != size:
            raise self._nonsense(f"it sent {image.shape[1]}×{image.shape[0]} px in place of {size[0]}×{size[1]}")
        return image

    def _nonsense(self, what: str) -> EngineFailed:
        return EngineFailed(
            f"{self.title} answered what cannot be used: {what}. Your recipe is as it was; run it again or choose another engine.", "engine"
        )


def control_maps(recipe: Recipe, materials: Materials) -> dict[str, dict[str, Any]]:
    """What each structure cue's picture says of where things are, by its name and role, so that an engine need not read it.

    "edges", "tone", "depth" : base64 of a grey PNG of the picture's size, white where there is a line, light, or something near.
    "pose" : 18 joints as shares of width and height, null where unseen.
    """
    out: dict[str, dict[str, Any]] = {}
    for cue in recipe.cues:
        if not cue.acts or cue.picture is None:
            continue
        picture, reading = np.ascontiguousarray(materials.pictures[cue.picture][:, :, :3]), materials.readings.get(cue.picture)
        made: Any = None
        if cue.role == "edges":
            made = _grey_png(edges(picture).astype(np.float32))
        elif cue.role == "tone":
            made = _grey_png(coarse_tone(picture))
        elif cue.role == "depth" and reading is not None and reading.depth is not None:
            made = _grey_png(1 - smooth(reading.depth, (picture.shape[1], picture.shape[0])))
        elif cue.role == "pose" and cue.skeleton is None and reading is not None and reading.joints is not None:
            made = [None if not np.isfinite(joint).all() else tuple(map(float, joint)) for joint in reading.joints]
        if made is not None:
            out.setdefault(cue.picture, {})[cue.role] = made
    return out


def _grey_png(share: NDArray[np.float32]) -> str:
    grey = np.clip(share * 255 + 0.5, 0, 255).astype(np.uint8)
    return base64.b64encode(encode_png(np.repeat(grey[..., None], 3, 2))).decode()


def _preview(text: str | None) -> NDArray[np.uint8] | None:
    """A preview that cannot be read is left out: the picture does not depend on it."""
    if not text:
        return None
    try:
        return decode(base64.b64decode(text, validate=True)).rgb_u8
    except (ValueError, ArtistError):
        return None

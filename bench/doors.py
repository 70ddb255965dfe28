"""`./moss bench doors`: 2,000 mutated files and 2,000 mutated requests against a running studio."""

from __future__ import annotations

import hashlib
import io
import json
import random
import threading
import time
from pathlib import Path

import httpx
import numpy as np
from fastapi.routing import APIRoute
from PIL import Image
from PIL.PngImagePlugin import PngInfo
from sqlalchemy import func, select

from bench.report import Row, row
from bench.studio import bench_studio, ended
from mosskeeper.core.errors import BadPicture
from mosskeeper.core.pictures.decode import decode, encode_png
from mosskeeper.core.recipe import Recipe
from mosskeeper.studio import cast, shots, stories
from mosskeeper.studio.database import connect, read_bytes, sessions
from mosskeeper.studio.models import Picture, Shot, Story
from mosskeeper.web.app import pages

FILES, REQUESTS = 2000, 2000
_SITES = ({"Sec-Fetch-Site": "cross-site"}, {"Origin": "http://evil.example"}, {"Sec-Fetch-Site": "same-site", "Origin": "null"})
_WORDS = [
    "",
    "0",
    "-1",
    "nan",
    "1e999",
    "9" * 40,
    "\x00",
    "\x1b[0m",
    "a" * 64,
    "A" * 5000,
    "' or 1=1 --",
    "{}",
    "[" * 900,
    "%00",
    "‮",
    "é" * 300,
]
_MOST_MIB = 700


def measure() -> list[Row]:
    with bench_studio() as studio:
        engine = connect(studio.url)
        with sessions(engine).begin() as session:
            story = stories.create(session, "Besieged")
            character = cast.add_character(session, story.id, "Ada Reed", "girl")
            shot = shots.create(session, story.id, "Shot", None, character.id, recipe=Recipe(words="a girl"))
            known = {"story_id": str(story.id), "character_id": str(character.id), "shot_id": str(shot.id)}
        web = studio.web()
        siege = _Siege(studio.base, known)
        memory = _Memory(web.pid)
        memory.start()
        try:
            siege.files()
            siege.requests()
            done = siege.other_sites(sessions(engine))
            with sessions(engine)() as session:
                wrong = sum(
                    _differs(read_bytes(session, "select data from pictures where sha256 = %s", sha), sha)
                    for sha in session.scalars(select(Picture.sha256))
                )
                stored = session.scalar(select(func.count()).select_from(Picture)) or 0
        finally:
            memory.ended = True
            ended(web)
            engine.dispose()
        return [
            row("files sent", FILES, "files"),
            row("files taken", siege.taken, "files"),
            row("requests sent", REQUESTS, ""),
            row("answers of 5xx", siege.broken, "", "<= 0"),
            row("requests that the server lost", siege.lost, "", "<= 0"),
            row("pictures stored", stored, ""),
            row("taken files whose stored picture differs from decoding it anew", siege.differing + wrong, "", "<= 0"),
            row("writes that another site got done", done, "", "<= 0"),
            row("peak memory of the web process", memory.peak, "MiB", f"<= {_MOST_MIB}"),
        ]


def _differs(png: bytes | None, sha256: str) -> bool:
    """Whether a stored picture is not what its name says, or does not come back from decoding it."""
    if png is None or hashlib.sha256(png).hexdigest() != sha256:
        return True
    return encode_png(decode(png).rgb_u8) != png


class _Siege:
    def __init__(self, base: str, known: dict[str, str]) -> None:
        self.client = httpx.Client(base_url=base, timeout=60)
        self.known, self.dice = known, random.Random(11)
        self.broken = self.lost = self.taken = self.differing = 0
        self.first: set[str] = set()

    def send(self, method: str, path: str, **sent: object) -> httpx.Response | None:
        try:
            answer = self.client.request(method, path, **sent)  # type: ignore[arg-type]
        except (httpx.InvalidURL, UnicodeError, ValueError, TypeError):
            return None  # what no client can send
        except httpx.TransportError as error:
            self.lost += 1
            print(f"  lost: {method} {path[:80]} ({type(error).__name__})")
            return None
        if answer.status_code >= 500:
            self.broken += 1
            if path not in self.first:
                self.first.add(path)
                print(f"  {answer.status_code}: {method} {path[:120]} {str(sent)[:200]}")
        return answer

    def files(self) -> None:
        seeds = _seeds()
        for n in range(FILES):
            data = _mutated(self.dice.choice(seeds), self.dice)
            address = f"/shots/{self.known['shot_id']}/pictures" if n % 2 else "/library"
            field = "picture" if n % 2 else "pictures"
            answer = self.send("POST", address, files={field: (self.dice.choice(_WORDS) or "x.png", data)}, headers={"HX-Request": "true"})
            try:
                shown = decode(data).rgb_u8
            except BadPicture:
                continue
            if answer is not None and answer.status_code == 200:
                self.taken += 1
                name = hashlib.sha256(encode_png(shown)).hexdigest()
                kept = self.send("GET", f"/pictures/{name}.png")
                self.differing += kept is None or kept.status_code != 200 or hashlib.sha256(kept.content).hexdigest() != name

    def requests(self) -> None:
        routes = [route for module in pages() for route in module.router.routes if isinstance(route, APIRoute) and route.path != "/live"]
        for _ in range(REQUESTS):
            route = self.dice.choice(routes)
            path = route.path
            for part in [p.strip("{}") for p in path.split("/") if p.startswith("{")]:
                name = part.split("}")[0]
                value = self.known.get(name, "1") if self.dice.random() < 0.6 else self.dice.choice(_WORDS)
                path = path.replace("{" + name + "}", httpx.URL(path="/" + value).raw_path.decode()[1:] if value.isprintable() else "%00")
            names = [f.alias for f in (*route.dependant.query_params, *route.dependant.body_params)] + [
                "words",
                "revision",
                "seed",
                "cue-0-weight",
            ]
            sent = {self.dice.choice(names): self.dice.choice(_WORDS) for _ in range(self.dice.randrange(4))}
            method = next(iter(route.methods))
            headers = {"HX-Request": "true"} if self.dice.random() < 0.5 else {}
            if method == "GET":
                self.send("GET", path, params=sent, headers=headers)
            elif self.dice.random() < 0.3:
                body = json.dumps(sent).encode() + self.dice.randbytes(self.dice.randrange(60))
                kind = self.dice.choice(["application/json", "multipart/form-data; boundary=b", "application/x-www-form-urlencoded", ""])
                self.send("POST", path, content=body, headers={**headers, "Content-Type": kind})
            else:
                self.send("POST", path, data=sent, headers=headers)

    def other_sites(self, make_session: object) -> int:
        """How many writes got done for a page of another site, over every route that writes."""
        before = _state(make_session)
        for module in pages():
            for route in module.router.routes:
                if isinstance(route, APIRoute) and "POST" in route.methods:
                    path = route.path
                    for name, value in self.known.items():
                        path = path.replace("{" + name + "}", value)
                    path = path.replace("{take_id}", "1").replace("{run_id}", "1").replace("{entry_id}", "1")
                    for headers in _SITES:
                        self.send("POST", path, data={"name": "theirs", "words": "theirs", "traits": "theirs"}, headers=headers)
        return int(_state(make_session) != before)


def _state(make_session: object) -> list[object]:
    with make_session() as session:  # type: ignore[operator]
        counts = [session.scalar(select(func.count()).select_from(kind)) for kind in (Story, Shot, Picture)]
        return [*counts, *session.scalars(select(Shot.revision).order_by(Shot.id)), *session.scalars(select(Story.name).order_by(Story.id))]


def _seeds() -> list[bytes]:
    """Pictures of all kinds that are taken."""
    rng = np.random.default_rng(5)
    rgb = rng.integers(0, 255, (48, 40, 3), np.uint8)
    out = []
    for mode, kind, options in (
        ("RGB", "PNG", {}),
        ("RGBA", "PNG", {}),
        ("P", "PNG", {}),
        ("L", "PNG", {"icc_profile": b"no profile" * 30}),
        ("RGB", "JPEG", {"quality": 80}),
        ("CMYK", "JPEG", {}),
        ("RGB", "WEBP", {}),
        ("RGBA", "WEBP", {"lossless": True}),
    ):
        buffer = io.BytesIO()
        Image.fromarray(rgb).convert(mode).save(buffer, kind, **options)
        out.append(buffer.getvalue())
    info, buffer = PngInfo(), io.BytesIO()
    info.add_itxt("mosskeeper:recipe", Recipe(words="a boy").to_json())
    Image.fromarray(rgb).save(buffer, "PNG", pnginfo=info)
    return [*out, buffer.getvalue()]


def _mutated(data: bytes, dice: random.Random) -> bytes:
    """A file with bytes changed, cut out, doubled or added; one in ten as it is."""
    out = bytearray(data)
    for _ in range(dice.choice((0, 1, 1, 2, 4, 16))):
        at = dice.randrange(max(len(out), 1))
        match dice.randrange(5):
            case 0:
                out[at : at + 1] = bytes([dice.randrange(256)])
            case 1:
                del out[at : at + dice.randrange(1, 40)]
            case 2:
                out[at:at] = dice.randbytes(dice.randrange(1, 40))
            case 3:
                out = out[:at]
            case _:
                out[at : at + 4] = dice.choice((b"\xff" * 4, b"\x00" * 4, b"\x7f\xff\xff\xff"))
    return bytes(out)


class _Memory(threading.Thread):
    """The most memory that a process had, MiB."""

    def __init__(self, pid: int) -> None:
        super().__init__(daemon=True)
        self.pid, self.peak, self.ended = pid, 0.0, False

    def run(self) -> None:
        while not self.ended:
            try:
                told = Path(f"/proc/{self.pid}/status").read_text()
            except OSError:
                return
            self.peak = max(self.peak, int(told.split("VmRSS:")[1].split()[0]) / 1024)
            time.sleep(0.1)

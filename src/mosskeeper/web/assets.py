"""Static files, at addresses that change with their contents so that browsers keep them for good."""

from __future__ import annotations

import hashlib
from functools import cache
from pathlib import Path

from starlette.staticfiles import StaticFiles
from starlette.types import Receive, Scope, Send

FOLDER = Path(__file__).parent / "static"
FOR_GOOD = "public, max-age=31536000, immutable"


@cache
def _version() -> str:
    """Changes with any of the files: scripts import each other by relative addresses, so all are of one version."""
    digest = hashlib.sha256()
    for path in sorted(p for p in FOLDER.rglob("*") if p.is_file()):
        digest.update(path.relative_to(FOLDER).as_posix().encode() + b"\0" + path.read_bytes())
    return digest.hexdigest()[:12]


def address(path: str) -> str:
    """The address of a static file. Raises FileNotFoundError where there is none, which a template should not say."""
    if not (FOLDER / path).is_file():
        raise FileNotFoundError(path)
    return f"/static/{_version()}/{path}"


class Assets:
    """Serves the files, with their version in the address or without."""

    def __init__(self) -> None:
        self._files = StaticFiles(directory=FOLDER)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        mounted = scope["path"].removeprefix(scope.get("root_path", "")).lstrip("/")
        version, _, rest = mounted.partition("/")
        kept = version == _version()

        async def told(message: dict[str, object]) -> None:
            if kept and message["type"] == "http.response.start" and message["status"] in (200, 304):
                headers = list(message["headers"])  # type: ignore[call-overload]
                message = {**message, "headers": [*headers, (b"cache-control", FOR_GOOD.encode())]}
            await send(message)

        path = f"{scope.get('root_path', '')}/{rest}" if kept else scope["path"]
        await self._files({**scope, "path": path}, receive, told)  # type: ignore[arg-type]

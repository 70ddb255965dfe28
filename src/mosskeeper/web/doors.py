"""The doors: who is answered, what is let in, and what a browser is told to refuse. Pure ASGI, before any page is asked."""

from __future__ import annotations

from collections.abc import Iterable
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.middleware.gzip import GZipMiddleware
from starlette.responses import PlainTextResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

MAX_BODY = 24_000_000  # bytes of one request: a picture and what goes with it
MAX_LIBRARY = 200_000_000  # where many files are brought in at once; they are laid on disk as they come
_LOOPBACK = ("127.0.0.1", "localhost", "[::1]")
_SAFE = ("GET", "HEAD", "OPTIONS")
_TRUSTED_SITES = ("same-origin", "none")  # none: typed in, or from a bookmark
_UNCOMPRESSED = ("/pictures/", "/runs/", "/compare/", "/live", "/takes/")  # already small, or a stream
POLICY = "; ".join(
    (
        "default-src 'self'",
        "img-src 'self' data: blob:",
        "style-src 'self' 'unsafe-inline'",  # style attributes carry sizes and places; scripts have no such way in
        "script-src 'self'",
        "worker-src 'self'",
        "connect-src 'self'",
        "object-src 'none'",
        "base-uri 'none'",
        "form-action 'self'",
        "frame-ancestors 'none'",
    )
)
_TOLD = {
    "Content-Security-Policy": POLICY,
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}


def guarded(app: ASGIApp, hosts: Iterable[str]) -> ASGIApp:
    """An application behind all doors. hosts : names at which it answers besides those of loopback."""
    return Headed(Hosts(SameOrigin(Limited(Compressed(app))), hosts))


class Compressed:
    """Pages and scripts go out compressed; pictures and streams as they are."""

    def __init__(self, app: ASGIApp) -> None:
        self._plain, self._compressed = app, GZipMiddleware(app, minimum_size=1000, compresslevel=5)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        plain = scope["type"] != "http" or (scope["path"].startswith(_UNCOMPRESSED) and not scope["path"].endswith("/reading"))
        await (self._plain if plain else self._compressed)(scope, receive, send)


class Headed:
    """What every answer tells the browser. Pages are asked for again each time, unless they say otherwise."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return

        async def told(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for name, value in _TOLD.items():
                    headers.setdefault(name, value)
                headers.setdefault("Cache-Control", "no-cache")
            await send(message)

        await self._app(scope, receive, told)


class Hosts:
    """Answers only at its own names: a page elsewhere that calls us by another name (DNS rebinding) gets nothing."""

    def __init__(self, app: ASGIApp, hosts: Iterable[str]) -> None:
        self._app, self._hosts = app, {*_LOOPBACK, *(host.strip().lower() for host in hosts if host.strip())}

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] == "http" and _name(Headers(scope=scope).get("host", "")) not in self._hosts:
            refusal = "This studio does not answer at this address. Its own address stands where it was started; MOSS_HOSTS adds others."
            await PlainTextResponse(refusal, 421)(scope, receive, send)
            return
        await self._app(scope, receive, send)


class SameOrigin:
    """What changes something is taken from our own pages only; a program that is no browser says neither site nor origin."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] == "http" and scope["method"] not in _SAFE and not _ours(Headers(scope=scope)):
            await PlainTextResponse("This was sent by a page of another site, and nothing was changed.", 403)(scope, receive, send)
            return
        await self._app(scope, receive, send)


def _ours(headers: Headers) -> bool:
    site, origin = headers.get("sec-fetch-site"), headers.get("origin")
    if site is not None:
        return site in _TRUSTED_SITES
    return origin is None or urlsplit(origin).netloc.lower() == headers.get("host", "").lower()


def _name(host: str) -> str:
    """The name in a Host header, without its port."""
    return host.lower() if host.endswith("]") else host.lower().rsplit(":", 1)[0]


class Limited:
    """Refuses bodies that are too large: by what they announce, and by what comes."""

    def __init__(self, app: ASGIApp) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or scope["method"] in _SAFE:
            await self._app(scope, receive, send)
            return
        most = MAX_LIBRARY if scope["path"] == "/library" else MAX_BODY
        announced = Headers(scope=scope).get("content-length", "0")
        if not announced.isdecimal() or int(announced) > most:
            await _too_large(most)(scope, receive, send)
            return
        await self._app(scope, _counted(receive, most), send)


class TooLarge(Exception):
    """More came than was announced."""

    def __init__(self, most: int) -> None:
        super().__init__(f"more than {most} bytes")
        self.most = most


def _counted(receive: Receive, most: int) -> Receive:
    came = 0

    async def counting() -> Message:
        nonlocal came
        message = await receive()
        came += len(message.get("body", b""))
        if came > most:
            raise TooLarge(most)
        return message

    return counting


def too_large(most: int) -> str:
    return f"This is more than {most // 1_000_000} MB at once, which is not taken. Send less, or smaller files."


def _too_large(most: int) -> PlainTextResponse:
    return PlainTextResponse(too_large(most), 413, headers={"Connection": "close"})

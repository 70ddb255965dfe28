"""A real server for the pages."""

import re
import threading
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx
import pytest
import uvicorn

from mosskeeper.cluster import free_port
from mosskeeper.settings import Settings
from mosskeeper.web.app import create_app
from tests.conftest import wait_for


class Reader(httpx.Client):
    """Reads pages as a browser does: any white space is one space, also in parts of pages that come as JSON."""

    def send(self, request: httpx.Request, **options: Any) -> httpx.Response:
        answer = super().send(request, **options)
        kind = answer.headers.get("content-type", "")
        if "text/html" in kind:
            answer._content = re.sub(rb"\s+", b" ", answer.content)
        elif "application/json" in kind:
            answer._content = re.sub(rb"(\\n\s*)+", b" ", answer.content)
        return answer


@pytest.fixture
def client(database_url: str) -> Iterator[httpx.Client]:
    """A client of a real server, in a thread of its own."""
    settings = Settings(database_url, Path("unused"), ("studio.lan",), heartbeat_seconds=1, stalled_seconds=4)
    server = uvicorn.Server(uvicorn.Config(create_app(settings), port=free_port(), log_level="warning", timeout_graceful_shutdown=1))
    thread = threading.Thread(target=server.run)
    thread.start()
    wait_for(lambda: server.started)
    with Reader(base_url=f"http://127.0.0.1:{server.config.port}", timeout=120) as made:
        yield made
    server.should_exit = True
    thread.join()

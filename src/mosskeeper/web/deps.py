"""What request handlers get from the application."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated

import procrastinate
from fastapi import Depends, Request
from sqlalchemy.orm import Session
from starlette.datastructures import FormData


def _session(request: Request) -> Iterator[Session]:
    """One transaction a request: committed where the handler returns, rolled back where it raises."""
    with request.app.state.sessions.begin() as session:
        yield session


def _queue(request: Request) -> procrastinate.App:
    queue: procrastinate.App = request.app.state.queue
    return queue


async def _form(request: Request) -> FormData:
    return await request.form()


# committed before the answer is sent, so that what the page shows is what the database holds
Db = Annotated[Session, Depends(_session, scope="function")]
Queue = Annotated[procrastinate.App, Depends(_queue)]
Fields = Annotated[FormData, Depends(_form)]  # so that handlers can stay synchronous, in the thread pool

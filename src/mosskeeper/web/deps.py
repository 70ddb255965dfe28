"""What request handlers get from the application."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Annotated

import procrastinate
from fastapi import Depends, File, Form, Path, Request, UploadFile
from pydantic import AfterValidator
from sqlalchemy.orm import Session
from starlette.datastructures import FormData

from mosskeeper.core import limits

_LARGEST = 2**31 - 1  # of PostgreSQL's integers
_MOST_FIELDS, _LONGEST_FIELD, _MOST_FILES = 1000, 256_000, 300


def _session(request: Request) -> Iterator[Session]:
    """One transaction a request: committed where the handler returns, rolled back where it raises."""
    with request.app.state.sessions.begin() as session:
        yield session


def _looking(request: Request) -> Iterator[Session]:
    """A transaction that cannot write: looking at a page changes nothing."""
    with request.app.state.sessions() as session:
        session.connection(execution_options={"postgresql_readonly": True})
        yield session
        session.rollback()


def _queue(request: Request) -> procrastinate.App:
    queue: procrastinate.App = request.app.state.queue
    return queue


async def _form(request: Request) -> FormData:
    return await request.form(max_fields=_MOST_FIELDS, max_files=_MOST_FILES, max_part_size=_LONGEST_FIELD)


def _page_id(request: Request) -> str:
    """Which open page of a browser asks, as it calls itself; empty where it does not say."""
    value = request.headers.get("moss-page", "")
    return value if re.fullmatch(r"[a-z0-9]{1,16}", value) else ""


# committed before the answer is sent, so that what the page shows is what the database holds
Db = Annotated[Session, Depends(_session, scope="function")]
Look = Annotated[Session, Depends(_looking, scope="function")]
Queue = Annotated[procrastinate.App, Depends(_queue)]
Fields = Annotated[FormData, Depends(_form)]  # so that handlers can stay synchronous, in the thread pool
PageId = Annotated[str, Depends(_page_id)]
Id = Annotated[int, Path(ge=0, le=_LARGEST)]
Sha = Annotated[str, Path(pattern=r"^[0-9a-f]{64}$")]
Text = Annotated[str, AfterValidator(limits.storable), Form()]
Upload = Annotated[UploadFile, File()]

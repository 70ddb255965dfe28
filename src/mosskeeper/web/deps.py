"""What request handlers get from the application."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Annotated

import procrastinate
from fastapi import Depends, File, Form, Path, Query, Request, UploadFile
from pydantic import AfterValidator
from sqlalchemy.orm import Session
from starlette.datastructures import FormData

from mosskeeper.core import limits
from mosskeeper.studio import acts

_UUID = re.compile(r"[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}")
_MOST_BEFORE = 60
_LARGEST = 2**31 - 1  # of PostgreSQL's integers
_MOST_FIELDS, _LONGEST_FIELD, _MOST_FILES = 1000, 256_000, 300


def _session(request: Request) -> Iterator[Session]:
    """One transaction a request: committed where the handler returns, rolled back where it raises."""
    with request.app.state.sessions.begin() as session:
        session.info[acts.ACT] = _act_id(request)
        yield session


def _act_id(request: Request) -> str | None:
    """The id of the act that a page sent, a UUID; None where the request is none."""
    value = request.headers.get("moss-act", "")
    return value if _UUID.fullmatch(value) else None


def _acts_before(request: Request) -> list[str]:
    """Ids of the acts on which a run stands, as its page knows them."""
    return [value for value in request.headers.get("moss-after", "").split(",")[:_MOST_BEFORE] if _UUID.fullmatch(value)]


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
After = Annotated[list[str], Depends(_acts_before)]
PageId = Annotated[str, Depends(_page_id)]
Id = Annotated[int, Path(ge=0, le=_LARGEST)]
Sha = Annotated[str, Path(pattern=r"^[0-9a-f]{64}$")]
Text = Annotated[str, AfterValidator(limits.storable), Form()]
NewId = Annotated[str, Query(pattern=r"^[a-z0-9]{0,12}$")]  # that a page made for a thing; "" where it did not
Upload = Annotated[UploadFile, File()]

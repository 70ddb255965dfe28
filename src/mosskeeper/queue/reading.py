"""Reading and measuring: what pages show of pictures is made here, so that looking at a page computes nothing."""

from __future__ import annotations

import logging

from procrastinate import JobContext
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session, sessionmaker

from mosskeeper.studio import cast, library, maps, measures, readings, takes
from mosskeeper.studio.watching import tell_made

log = logging.getLogger(__name__)
_AT_ONCE = 20
_MOST_OF_CHARACTER = 300


def _sessions(context: JobContext) -> sessionmaker[Session]:
    made: sessionmaker[Session] = context.additional_context["sessions"]
    return made


def read_picture(context: JobContext, sha256: str) -> None:
    """Reads a picture, and lets the library find it by colour and likeness."""
    with _sessions(context).begin() as session:
        readings.of_picture(session, sha256)
        for entry_id in library.of_picture(session, sha256):
            library.look(session, library.find(session, entry_id))
        tell_made(session, f"reading {sha256}")


def measure_take(context: JobContext, take_id: int) -> None:
    """Reads and measures a take. The take stands, whatever comes of this."""
    _measure(_sessions(context), take_id)


def _measure(sessions: sessionmaker[Session], take_id: int) -> None:
    with sessions.begin() as session:
        take = takes.find(session, take_id)
        measures.of_take(session, take)
        library.look(session, library.of_take(session, take_id))
        tell_made(session, f"reading {take.picture_sha256}")
        tell_made(session, f"take {take_id}")


def measure_character(context: JobContext, character_id: int) -> None:
    """The drift of a character's takes from anchors that have changed, the newest first."""
    sessions = _sessions(context)
    with sessions() as session:
        made = [take.id for take in cast.takes_of(session, character_id, _MOST_OF_CHARACTER)]
    for take_id in reversed(made):
        if context.should_abort():
            return
        with sessions.begin() as session:
            measures.of_take(session, takes.find(session, take_id))
    with sessions.begin() as session:
        tell_made(session, f"character {character_id}")


def make_map(context: JobContext, key: str) -> None:
    with _sessions(context).begin() as session:
        maps.make(session, key)
        tell_made(session, f"map {key}")


def catch_up(context: JobContext, timestamp: int) -> None:
    """Reads what nobody asked for yet, a few at a time: a library brought in, or all of it where the reader is a new one."""
    sessions = _sessions(context)
    with sessions() as session:
        unread = [entry.id for entry in library.unread(session, _AT_ONCE)]
        unmeasured = [] if unread else measures.unmeasured(session, _AT_ONCE)
    for entry_id in unread:
        if context.should_abort():
            return
        try:
            with sessions.begin() as session:
                entry = library.find(session, entry_id)
                library.look(session, entry)
                tell_made(session, f"reading {entry.picture_sha256}")
        except OperationalError:
            raise
        except Exception:
            log.exception("entry %s of the library could not be read", entry_id)
            with sessions.begin() as session:
                library.give_up(session, entry_id)
    for take_id in unmeasured:
        if context.should_abort():
            return
        try:
            _measure(sessions, take_id)
        except OperationalError:
            raise
        except Exception:
            log.exception("take %s could not be measured", take_id)

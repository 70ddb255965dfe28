"""The demo story. What draws it is loaded only where there is something to draw: later starts stay quick."""

from __future__ import annotations

from collections.abc import Callable

import psycopg

_WANTED = """
select not exists (select from stories)
    or exists (select from runs where state = 'drawing' or (state = 'running' and worker like 'the demo %%'))
"""


def ensure(database_url: str, say: Callable[[str], None]) -> None:
    """Makes the demo story where there is no story at all, or where making it was cut off."""
    with psycopg.connect(database_url) as connection:
        row = connection.execute(_WANTED).fetchone()
    if row and row[0]:
        from mosskeeper.demo.build import make

        make(database_url, say)


def reset(database_url: str, say: Callable[[str], None]) -> None:
    """Throws the demo story away and makes it anew. Other stories stay, pictures too."""
    from mosskeeper.demo.build import reset as anew

    anew(database_url, say)

"""What the form of the light table sends."""

from __future__ import annotations

from tests.conftest import SMALL


def table_fields(**changes: object) -> dict[str, object]:
    """All of it, of a fresh shot with the recipe of the tests, but for the changes."""
    return {
        "revision": 1,
        "words": SMALL.words,
        "negative": "",
        "width": 256,
        "height": 320,
        "steps": 6,
        "sampler": "euler",
        "guidance": "7",
        "seed": "5",
        "count": 2,
        "engine": "built-in",
    } | changes

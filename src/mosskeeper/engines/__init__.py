"""Engines by their keys."""

from __future__ import annotations

from mosskeeper.core.errors import ArtistError
from mosskeeper.engines.builtin import BuiltinEngine
from mosskeeper.engines.contract import Engine

ENGINES: dict[str, Engine] = {engine.key: engine for engine in (BuiltinEngine(),)}


def engine_for(key: str) -> Engine:
    """The engine with this key. Raises ArtistError where there is none."""
    if key not in ENGINES:
        known = ", ".join(e.title for e in ENGINES.values())
        raise ArtistError(f"There is no engine “{key}” here. Choose one of: {known}.", "engine")
    return ENGINES[key]

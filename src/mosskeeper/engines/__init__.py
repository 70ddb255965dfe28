"""The engines that come with the program, by their keys."""

from __future__ import annotations

from mosskeeper.engines.builtin import FINE, FULL, SKETCHER
from mosskeeper.engines.contract import Engine

BUILT_IN: dict[str, Engine] = {engine.key: engine for engine in (SKETCHER, FULL, FINE)}

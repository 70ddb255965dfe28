"""The engines that come with the program, by their keys."""

from __future__ import annotations

from mosskeeper.engines.builtin import FINE, FULL, SKETCHER, BuiltinEngine

BUILT_IN: dict[str, BuiltinEngine] = {engine.key: engine for engine in (SKETCHER, FULL, FINE)}

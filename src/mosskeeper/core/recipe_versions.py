"""Recipes of older versions, brought up to date: one function a version, each to the next."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Final

VERSION: Final = 3
Document = dict[str, Any]


def _from_1(document: Document) -> Document:
    """Cues have lasting ids: those of version 1 were known by their place, which dials of sweeps still name."""

    def named(cues: Any) -> Any:
        if not isinstance(cues, list):
            return cues
        return [{**cue, "id": str(place)} if isinstance(cue, dict) else cue for place, cue in enumerate(cues)]

    out = {**document}
    if "cues" in out:
        out["cues"] = named(out["cues"])
    if isinstance(out.get("regions"), list):
        out["regions"] = [{**r, "cues": named(r["cues"])} if isinstance(r, dict) and "cues" in r else r for r in out["regions"]]
    return out


def _from_2(document: Document) -> Document:
    """Version 3 has held words, of which version 2 had none."""
    return document


STEPS: dict[int, Callable[[Document], Document]] = {1: _from_1, 2: _from_2}


def up_to_date(document: Document) -> Document:
    """A document of any known version as one of the present version; one without a version is taken for version 1.

    What is wrong in it is left for reading to find.
    """
    version = document.get("version", 1)
    while isinstance(version, int) and version in STEPS:
        document = {**STEPS[version](document), "version": version + 1}
        version += 1
    return document

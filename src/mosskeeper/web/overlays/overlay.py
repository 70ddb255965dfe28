"""What an overlay is, and which there are: every package beside this module that has an `OVERLAY`."""

from __future__ import annotations

import pkgutil
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache
from importlib import import_module
from types import ModuleType

from mosskeeper.core.recipe import Recipe


@dataclass(frozen=True, slots=True)
class Overlay:
    """One overlay.

    name : of its tab, and its address under a shot. order : of its tab, from the top. count : how much of it lies on the picture,
    given the shot's recipe and the number of mends on the picture that is shown.
    """

    name: str
    order: int
    count: Callable[[Recipe, int], int]


def _packages() -> list[str]:
    here = __name__.rpartition(".")[0]
    return [f"{here}.{m.name}" for m in pkgutil.iter_modules(import_module(here).__path__) if m.ispkg]


@cache
def overlays() -> tuple[Overlay, ...]:
    """All overlays, in the order of their tabs."""
    found = [import_module(name).OVERLAY for name in _packages()]
    return tuple(sorted(found, key=lambda one: one.order))


@cache
def route_modules() -> tuple[ModuleType, ...]:
    """The modules of all overlays that have a router."""
    modules = [import_module(f"{name}.{m.name}") for name in _packages() for m in pkgutil.iter_modules(import_module(name).__path__)]
    return tuple(module for module in modules if hasattr(module, "router"))


def tabs(recipe: Recipe, mends: int) -> list[tuple[str, str, int]]:
    """The index tabs at the picture's right edge: name, address under the shot, how much lies there; the plain picture first.

    mends : that lie on the picture that is shown.
    """
    return [("picture", "", 0), *((one.name, f"/{one.name}", one.count(recipe, mends)) for one in overlays())]

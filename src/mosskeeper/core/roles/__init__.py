"""Roles of cues: what a role is stands in one object, `ROLE` of a module in `kinds` that is named after it."""

from __future__ import annotations

from functools import cache
from importlib import import_module

from mosskeeper.core.role_names import NAMES
from mosskeeper.core.roles.role import Reference, Role


@cache
def role(name: str) -> Role:
    """The role of a name. Raises KeyError where there is none."""
    if name not in NAMES:
        raise KeyError(name)
    found: Role = import_module(f"{__name__}.kinds.{name}").ROLE
    return found


@cache
def all_roles() -> tuple[Role, ...]:
    """Every role, in the order in which an artist chooses among them."""
    return tuple(sorted(map(role, NAMES), key=lambda r: r.order))


def reference(name: str) -> Reference | None:
    """The role of a name where it is one of a reference, which lends what its picture shows; None where it says where things are."""
    found = role(name)
    return found if isinstance(found, Reference) else None

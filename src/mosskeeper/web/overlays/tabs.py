"""The index tabs at the picture's right edge: which overlay lies on it."""

from __future__ import annotations

from mosskeeper.core.recipe import Recipe

_TABS = (("picture", ""), ("pose", "/pose"), ("sketch", "/sketch"), ("regions", "/regions"), ("mends", "/mends"))


def tabs(recipe: Recipe, mends: int) -> list[tuple[str, str, int]]:
    """Name and address of each overlay, and how much lies on it. mends : that lie on the picture that is shown."""
    count = {role: sum(cue.role == role for cue in recipe.cues) for role in ("pose", "sketch")} | {
        "regions": len(recipe.regions),
        "mends": mends,
    }
    return [(name, path, count.get(name, 0)) for name, path in _TABS]

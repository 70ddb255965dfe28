"""The fields of the light table: from a recipe to what stands in them, and from edited fields to an edit of the recipe.

A page sends the fields that were edited, each with the value that stood there before as `was-NAME`, and the number of the draft
that it shows as `revision`. Fields of a cue are named by its lasting id: cue-ID-weight.
"""

from __future__ import annotations

import hashlib
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from pydantic import ValidationError
from starlette.datastructures import FormData

from mosskeeper.core.recipe import Recipe, explain

FIELDS = ("words", "negative", "width", "height", "steps", "sampler", "guidance", "seed", "count", "styles", "engine", "cues")
_PLAIN = ("words", "negative", "width", "height", "steps", "sampler", "guidance", "count", "engine")
_OF_CUE = ("role", "weight", "start", "end", "on", "solo")
_CUE = re.compile(rf"cue-([a-z0-9]{{1,12}})-({'|'.join(_OF_CUE)})")
_EMPHASIS = "emphasis:"
_SOURCE = "source-strength"
_YES = ("on", "yes", "true")
Values = Sequence[str]


def digest(recipe: Recipe) -> str:
    """What tells a page whether anything of a recipe was changed."""
    return hashlib.sha256(recipe.to_json().encode()).hexdigest()[:16]


@dataclass(frozen=True, slots=True)
class Edited:
    """What was edited on a page: from what it showed to what stands there now. problems : by field, where something cannot be used."""

    base: Recipe
    mine: Recipe | None
    problems: dict[str, str] = field(default_factory=dict)


def fields_of(recipe: Recipe) -> dict[str, list[str]]:
    """What stands in each field of the page for a recipe, by its name."""
    out = {name: [f"{value:g}" if isinstance(value := getattr(recipe, name), float) else str(value)] for name in _PLAIN}
    out["seed"] = ["" if recipe.seed is None else str(recipe.seed)]
    out["styles"] = list(recipe.styles)
    out["balance"] = ["yes" if recipe.balance else ""]
    if recipe.source is not None:
        out[_SOURCE] = [f"{recipe.source.strength:g}"]
    for cue in recipe.cues:
        out |= {f"cue-{cue.id}-{name}": [_shown(getattr(cue, name))] for name in _OF_CUE}
    out |= {_EMPHASIS + phrase: [f"{factor:g}"] for phrase, factor in recipe.emphasis.items()}
    return out


def _shown(value: object) -> str:
    if isinstance(value, bool):
        return "yes" if value else ""
    return f"{value:g}" if isinstance(value, float) else str(value)


def read_edits(form: FormData, shown: Recipe) -> Edited:
    """The edit that a form describes. shown : the draft that the page names, or the present one.

    What was not edited stands in base and edit as in `shown`; so do fields of a cue that is not in it.
    """
    names = [name for name in dict.fromkeys(form) if _known(name)]
    base, problems = _with(shown, {n: [str(v) for v in form.getlist(f"was-{n}")] for n in names if f"was-{n}" in form})
    if base is None or problems:  # what a page showed was valid: this is somebody else's invention
        base = shown
    mine, problems = _with(base, {n: [str(v) for v in form.getlist(n)] for n in names})
    return Edited(base, mine, problems)


def _known(name: str) -> bool:
    return (
        name in _PLAIN or name in ("seed", "styles", "balance", _SOURCE) or name.startswith(_EMPHASIS) or _CUE.fullmatch(name) is not None
    )


def _with(recipe: Recipe, values: Mapping[str, Values]) -> tuple[Recipe | None, dict[str, str]]:
    """A recipe with these fields changed; None and the problems by field where some cannot be used."""
    document: dict[str, Any] = recipe.model_dump()
    cues = {cue["id"]: cue for cue in document["cues"]}
    for name, typed in values.items():
        value = _typed(typed[-1]) if typed else ""
        of_cue = _CUE.fullmatch(name)
        if of_cue is not None:
            if of_cue[1] in cues:
                cues[of_cue[1]][of_cue[2]] = value in _YES if of_cue[2] in ("on", "solo") else value
        elif name.startswith(_EMPHASIS):
            _emphasise(document["emphasis"], name.removeprefix(_EMPHASIS), value)
        elif name == "styles":
            document["styles"] = [_typed(v) for v in typed if v]
        elif name == "balance":
            document["balance"] = value in _YES
        elif name == _SOURCE:
            document["source"] = document["source"] and {**document["source"], "strength": value}
        elif name == "seed":
            document["seed"] = None if value in ("", "fresh") else value
        else:
            document[name] = value
    try:
        return Recipe.model_validate(document), {}
    except ValidationError as error:
        problems: dict[str, str] = {}
        for wrong, sentence in explain(error):
            problems.setdefault(wrong if wrong in FIELDS else "cues", sentence)
        return None, problems


def _emphasise(emphasis: dict[str, Any], phrase: str, factor: str) -> None:
    """A factor of 1 says nothing and is left out."""
    if factor in ("", "1", "1.0"):
        emphasis.pop(phrase, None)
    else:
        emphasis[phrase] = factor


def _typed(value: str) -> str:
    # browsers send line ends as CR LF; decimal commas are what half of the world types
    return value.replace("\r\n", "\n").strip() if not _is_decimal_comma(value) else value.strip().replace(",", ".")


def _is_decimal_comma(value: str) -> bool:
    head, comma, tail = value.strip().partition(",")
    return bool(comma) and head.lstrip("-").isdigit() and tail.isdigit()


def field_of(clash: str) -> str:
    """Beside which field a clash is told."""
    return clash if clash in FIELDS else "cues"


def optional_id(form: Mapping[str, Any], name: str) -> int | None:
    """A number from a select that may be empty; 0 is nobody and nowhere."""
    value = str(form.get(name, ""))
    return (int(value) or None) if value.isdecimal() and len(value) < 10 else None

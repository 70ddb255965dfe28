"""From the fields of the light table to a recipe, or to a sentence beside each field that is wrong."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from pydantic import ValidationError
from starlette.datastructures import FormData

from mosskeeper.core.recipe import Recipe, explain

FIELDS = ("words", "negative", "width", "height", "steps", "sampler", "guidance", "seed", "count", "styles", "engine", "cues")
_PLAIN = ("words", "negative", "width", "height", "steps", "sampler", "guidance", "count", "engine")


def recipe_from_form(form: FormData, base: Recipe) -> tuple[Recipe | None, dict[str, str]]:
    """The recipe that the fields describe; None and the problems by field where some cannot be used.

    What has no field on the page (the given words) stays as in `base`.
    """
    document: dict[str, Any] = base.model_dump()
    for name in _PLAIN:
        if name in form:
            document[name] = _typed(form[name])
    if "seed" in form:
        seed = _typed(form["seed"])
        document["seed"] = None if seed in ("", "fresh") else seed
    if "has-styles" in form:
        document["styles"] = [str(s) for s in form.getlist("styles")]
    if "has-emphasis" in form:
        document["emphasis"] = _emphasis(form)
    if "has-cues" in form:
        document["cues"] = _cues(form, base)
        document["balance"] = "balance" in form
    try:
        return Recipe.model_validate(document), {}
    except ValidationError as error:
        problems: dict[str, str] = {}
        for field, sentence in explain(error):
            problems.setdefault(field if field in FIELDS else "cues", sentence)
        return None, problems


def _typed(value: object) -> str:
    # browsers send line ends as CR LF; decimal commas are what half of the world types
    return str(value).replace("\r\n", "\n").strip() if not _is_decimal_comma(str(value)) else str(value).replace(",", ".")


def _is_decimal_comma(value: str) -> bool:
    head, comma, tail = value.strip().partition(",")
    return bool(comma) and head.lstrip("-").isdigit() and tail.isdigit()


def _emphasis(form: FormData) -> dict[str, str]:
    """Phrases and their factors; those of factor 1 say nothing and are left out."""
    pairs = (str(value).rsplit("=", 1) for value in form.getlist("emphasis"))
    return {phrase: factor for phrase, factor in (pair for pair in pairs if len(pair) == 2) if phrase and factor not in ("1", "1.0")}


def _cues(form: FormData, base: Recipe) -> list[dict[str, Any]]:
    """What has no field (area, skeleton) stays as in the cue with the same picture and name."""
    kept = {(cue.picture, cue.name): {"area": cue.area, "skeleton": cue.skeleton} for cue in base.cues}
    cues = []
    for i in range(20):
        if f"cue-{i}-picture" not in form:
            break

        def field(name: str, default: str, i: int = i) -> str:
            return _typed(form.get(f"cue-{i}-{name}", default))

        role, picture, name = field("role", "look"), field("picture", "") or None, field("name", "")
        cues.append(
            {
                **kept.get((picture, name), {}),
                "role": role,
                "picture": picture,
                "name": name,
                "weight": field("weight", "0.5"),
                "start": field("start", "0"),
                "end": field("end", "100"),
                "on": f"cue-{i}-on" in form,
                "solo": f"cue-{i}-solo" in form,
            }
        )
    return cues


def optional_id(form: Mapping[str, Any], name: str) -> int | None:
    """A number from a select that may be empty."""
    value = str(form.get(name, ""))
    return int(value) if value.isdigit() else None

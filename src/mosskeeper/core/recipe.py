"""The recipe: everything that determines a picture. The contract between pages, queue and engines.

A recipe without a seed asks for fresh ones; the recipe of a take always has its own.
"""

from __future__ import annotations

import json
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from mosskeeper.core.errors import BadRecipe

VERSION = 1
MAX_SEED = 2**31 - 1
SIZES = (256, 2048)  # px, each side
SIDE_MULTIPLE = 16

Role = Literal["look"]
Sampler = Literal["euler", "heun", "ancestral"]


class _Document(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True, str_strip_whitespace=True)


class Cue(_Document):
    """One influence on a picture: a reference with a role, a weight and a span of the denoising."""

    role: Role = "look"
    picture: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$", description="SHA-256 of the picture's stored bytes")]
    name: Annotated[str, Field(max_length=120)] = ""
    weight: Annotated[float, Field(ge=0, le=1.5, description="0 none … 1 full; up to 1.5")] = 0.5
    start: Annotated[float, Field(ge=0, le=100, description="per cent of the denoising")] = 0.0
    end: Annotated[float, Field(ge=0, le=100, description="per cent of the denoising")] = 100.0
    on: bool = True

    @model_validator(mode="after")
    def _span_runs_forward(self) -> Cue:
        if self.end <= self.start:
            raise ValueError("the span must end after it starts")
        return self

    @property
    def acts(self) -> bool:
        return self.on and self.weight > 0


class Recipe(_Document):
    version: Literal[1] = 1
    given: Annotated[str, Field(max_length=1000, description="words from the character, outfit and scene")] = ""
    words: Annotated[str, Field(max_length=2000, description="the prompt that the artist writes")] = ""
    negative: Annotated[str, Field(max_length=1000, description="what should not be seen")] = ""
    emphasis: Annotated[
        dict[Annotated[str, Field(max_length=120)], Annotated[float, Field(ge=0, le=2)]],
        Field(max_length=40, description="phrases of the prompt, lower case, and the factor on what each says: 1 where none is given"),
    ] = Field(default_factory=dict)
    width: Annotated[int, Field(ge=SIZES[0], le=SIZES[1], multiple_of=SIDE_MULTIPLE)] = 512
    height: Annotated[int, Field(ge=SIZES[0], le=SIZES[1], multiple_of=SIDE_MULTIPLE)] = 640
    steps: Annotated[int, Field(ge=4, le=60)] = 20
    sampler: Sampler = "euler"
    guidance: Annotated[float, Field(ge=0, le=20)] = 7.0
    seed: Annotated[int, Field(ge=0, le=MAX_SEED)] | None = None
    count: Annotated[int, Field(ge=1, le=8)] = 4
    styles: Annotated[list[Annotated[str, Field(max_length=40)]], Field(max_length=4)] = Field(default_factory=list)
    cues: Annotated[list[Cue], Field(max_length=12)] = Field(default_factory=list)
    engine: Annotated[str, Field(max_length=60)] = "built-in"

    @property
    def prompt(self) -> str:
        """All words that ask for something: the given ones and the artist's."""
        return ", ".join(part for part in (self.given, self.words) if part)

    def with_seed(self, seed: int) -> Recipe:
        """The recipe of one take: this one with a seed of its own, asking for one picture."""
        return self.model_copy(update={"seed": seed, "count": 1})

    def to_json(self) -> str:
        return self.model_dump_json()


LABELS = {
    "words": "Words", "negative": "Without", "given": "Given words", "width": "Width", "height": "Height",
    "steps": "Steps", "sampler": "Sampler", "guidance": "Guidance", "seed": "Seed", "count": "Takes",
    "styles": "Styles", "cues": "Cues", "emphasis": "Emphasis", "engine": "Engine", "weight": "Weight", "start": "Span start",
    "end": "Span end", "picture": "Picture", "name": "Name", "role": "Role", "on": "On", "version": "Version",
}  # fmt: skip


def read_recipe(document: str | bytes | dict[str, Any]) -> Recipe:
    """Reads a recipe document.

    Raises
    ------
    BadRecipe
        where it is no JSON, has a newer version, or a value is out of range; the sentence says which.
    """
    if not isinstance(document, dict):
        try:
            document = json.loads(document)
        except ValueError:
            raise BadRecipe("This recipe is damaged: it is not readable as JSON.", "recipe") from None
    if not isinstance(document, dict):
        raise BadRecipe("This recipe is damaged: it holds no settings.", "recipe")
    version = document.get("version")
    if isinstance(version, int) and version > VERSION:
        raise BadRecipe(
            f"This recipe was written by a newer version of Moss Keeper (recipe version {version}; this one reads "
            f"up to {VERSION}). Update Moss Keeper to use it.", "recipe",
        )  # fmt: skip
    try:
        return Recipe.model_validate(document)
    except ValidationError as error:
        field, sentence = explain(error)[0]
        raise BadRecipe(f"This recipe cannot be used. {sentence}", field) from None


def explain(error: ValidationError) -> list[tuple[str, str]]:
    """Field and sentence for each thing that is wrong, in the artist's language."""
    found: list[tuple[str, str]] = []
    for e in error.errors():
        names = [str(part) for part in e["loc"]]
        field = next((n for n in reversed(names) if n in LABELS), names[0] if names else "")
        label, ctx = LABELS.get(field, field), e.get("ctx", {})
        match e["type"]:
            case "greater_than_equal":
                text = f"{label} must be at least {ctx['ge']:g}."
            case "less_than_equal":
                text = f"{label} must be at most {ctx['le']:g}."
            case "multiple_of":
                text = f"{label} must be a multiple of {ctx['multiple_of']:g}."
            case "int_parsing" | "int_type" | "int_from_float" | "float_parsing" | "float_type" | "finite_number":
                text = f"{label} must be a number."
            case "string_too_long":
                text = f"{label} must not be longer than {ctx['max_length']} characters."
            case "too_long":
                text = f"{label}: at most {ctx['max_length']} are possible."
            case "literal_error":
                text = f"{label} must be one of {ctx['expected']}."
            case "extra_forbidden":
                text = f"“{names[-1]}” is not a setting that this version knows."
            case "value_error":
                text = f"{label}: {ctx['error']}."
            case _:
                text = f"{label}: {e['msg']}."
        found.append((field, text))
    return found


def differences(old: Recipe, new: Recipe) -> list[tuple[str, str, str]]:
    """(label, old value, new value) of all settings that differ, for showing before a recipe is applied."""

    def shown(value: Any) -> str:
        if value is None:
            return "fresh"
        if isinstance(value, dict):
            return ", ".join(f"{phrase} ×{factor:g}" for phrase, factor in value.items()) or "none"
        if isinstance(value, list):
            if value and isinstance(value[0], Cue):
                return ", ".join(f"{c.name or c.picture[:8]} ({c.role} {c.weight:g}, {c.start:g}–{c.end:g} %)" for c in value)
            return ", ".join(map(str, value)) or "none"
        return f"{value:g}" if isinstance(value, float) else str(value) or "none"

    changed = []
    for name in Recipe.model_fields:
        a, b = getattr(old, name), getattr(new, name)
        if a != b:
            changed.append((LABELS[name], shown(a), shown(b)))
    return changed

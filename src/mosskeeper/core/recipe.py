"""The recipe: everything that determines a picture. The contract between pages, queue and engines.

A recipe without a seed asks for fresh ones; the recipe of a take always has its own.
"""

from __future__ import annotations

import json
from itertools import count
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, ValidationError, WithJsonSchema, model_validator
from pydantic_core import PydanticCustomError

from mosskeeper.core import limits
from mosskeeper.core.errors import BadRecipe
from mosskeeper.core.pictures.areas import area_called
from mosskeeper.core.recipe_versions import VERSION, up_to_date
from mosskeeper.core.role_names import NAMES
from mosskeeper.core.traits import PARTS

MAX_SEED = 2**31 - 1
SIZES = (256, 2048)  # px, each side
SIDE_MULTIPLE = 16
SOURCE_LEAST = 64  # px of each side of a picture that is extended


def _known(role: str) -> str:
    if role not in NAMES:
        raise PydanticCustomError("literal_error", "no role", {"expected": ", ".join(NAMES)})
    return role


def _known_part(part: str) -> str:
    if part not in PARTS:
        raise PydanticCustomError("literal_error", "no part", {"expected": ", ".join(PARTS)})
    return part


PartLent = Annotated[str, AfterValidator(_known_part), WithJsonSchema({"type": "string", "enum": list(PARTS)})]
Role = Annotated[str, AfterValidator(_known), WithJsonSchema({"type": "string", "enum": list(NAMES)})]
Words = Annotated[str, AfterValidator(limits.storable)]
Sampler = Literal["euler", "heun", "ancestral"]
Schedule = Literal["karras", "linear"]
Picture = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$", description="SHA-256 of the picture's stored bytes")]
JOINTS = 18
Pot = Literal["skin", "hair", "cloth", "second cloth", "sky", "ground", "water", "leaves", "wall", "light"]
ShapeKind = Literal["sky", "wall", "ground", "water", "light", "figure", "tree", "trunk", "cloud", "hill", "window", "thing", "nothing"]
Hand = Literal["relaxed", "open", "flat", "pointing", "fist", "cupped", "grip"]
Limb = Literal["right arm", "left arm", "right leg", "left leg"]
Share = Annotated[float, Field(ge=0, le=1)]


class Document(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True, str_strip_whitespace=True)


class Cue(Document):
    """One influence on a picture: a reference or a control with a role, a weight and a span of the denoising."""

    id: Annotated[str, Field(pattern=r"^[a-z0-9]{0,12}$", description="lasting, and its own on its sheet; given where it is empty")] = ""
    role: Role = "look"
    picture: Picture | None = None
    name: Annotated[Words, Field(max_length=limits.CUE_NAME)] = ""
    weight: Annotated[float, Field(ge=0, le=1.5, description="0 none … 1 full; up to 1.5")] = 0.5
    start: Annotated[float, Field(ge=0, le=100, description="per cent of the denoising")] = 0.0
    end: Annotated[float, Field(ge=0, le=100, description="per cent of the denoising")] = 100.0
    area: Annotated[Picture | None, Field(description="a mask, white where the cue acts; everywhere without one")] = None
    skeleton: Annotated[
        list[tuple[float, float] | None] | None,
        Field(min_length=JOINTS, max_length=JOINTS, description="of a pose cue: 18 joints as shares of width and height, null if unseen"),
    ] = None
    figure: Annotated[int, Field(ge=0, le=3, description="of a pose cue: the person of the words that it poses, 0 the first")] = 0
    hands: Annotated[tuple[Hand, Hand] | None, Field(description="of a pose cue: shapes of the right and the left hand")] = None
    behind: Annotated[list[Limb], Field(max_length=4, description="of a pose cue: limbs behind the trunk")] = Field(default_factory=list)
    own_body: Annotated[bool, Field(description="of a pose cue: bones have the person's own lengths, whoever the pose was taken from")] = (
        False
    )
    pots: Annotated[
        dict[Annotated[str, Field(pattern=r"^[0-9a-f]{6}$")], Pot],
        Field(max_length=24, description="of a board: colours and what was painted in each"),
    ] = Field(default_factory=dict)
    named: Annotated[
        list[tuple[Share, Share, ShapeKind]],
        Field(max_length=40, description="of a board: what shapes are, each at a place, shares of width and height"),
    ] = Field(default_factory=list)
    subject: Annotated[int | None, Field(ge=0, le=7, description="of a reference: which figure of its picture; null: the largest")] = None
    parts: Annotated[
        list[PartLent] | None, Field(max_length=len(PARTS), description="of a reference: what it lends; null: what its role lends")
    ] = None
    also: Annotated[
        list[Picture], Field(max_length=8, description="of a reference: further pictures of the same person, pooled with it")
    ] = Field(default_factory=list)
    corrected: Annotated[
        dict[Annotated[Words, Field(max_length=20)], Annotated[Words, Field(max_length=40)]],
        Field(max_length=30, description="of a reference: traits of its figure as the artist corrected them, attribute → value"),
    ] = Field(default_factory=dict)
    on: bool = True
    solo: Annotated[bool, Field(description="only soloed cues act")] = False

    @model_validator(mode="after")
    def _makes_sense(self) -> Cue:
        if self.end <= self.start:
            raise ValueError("the span must end after it starts")
        if self.picture is None and (self.role != "pose" or self.skeleton is None):
            raise ValueError("a cue needs a picture, or, for a pose, a skeleton")
        return self

    @property
    def acts(self) -> bool:
        return self.on and self.weight > 0


def _with_ids(cues: list[Cue]) -> list[Cue]:
    """Cues without an id get the first free number."""
    taken = {cue.id for cue in cues if cue.id}
    if len(taken) < sum(bool(cue.id) for cue in cues):
        raise ValueError("two cues have one id")
    free = (str(n) for n in count() if str(n) not in taken)
    return [cue if cue.id else cue.model_copy(update={"id": next(free)}) for cue in cues]


Cues = Annotated[list[Cue], AfterValidator(_with_ids)]


def _regions_with_ids(regions: list[Region]) -> list[Region]:
    """Regions without an id get the first free number."""
    taken = {region.id for region in regions if region.id}
    if len(taken) < sum(bool(region.id) for region in regions):
        raise ValueError("two regions have one id")
    free = (str(n) for n in count() if str(n) not in taken)
    return [region if region.id else region.model_copy(update={"id": next(free)}) for region in regions]


class Region(Document):
    """A part of the picture with words and references of its own; a person named there stands there.

    The order of a recipe's regions is from front to back.
    """

    id: Annotated[str, Field(pattern=r"^[a-z0-9]{0,12}$", description="lasting, and its own in its recipe")] = ""
    mask: Annotated[Picture, Field(description="white where the region is, grey where it fades out")]
    given: Annotated[Words, Field(max_length=limits.GIVEN, description="words from the character and outfit of the region")] = ""
    words: Annotated[Words, Field(max_length=1000)] = ""
    negative: Annotated[Words, Field(max_length=limits.WITHOUT, description="what should not be seen there")] = ""
    strength: Annotated[float, Field(ge=0, le=1, description="0 as the common words have it … 1 as its own words do")] = 1.0
    start: Annotated[float, Field(ge=0, le=100, description="per cent of the denoising")] = 0.0
    end: Annotated[float, Field(ge=0, le=100, description="per cent of the denoising")] = 100.0
    feather: Annotated[float, Field(ge=0, le=0.25, description="softness of the border, as a share of the width")] = 0.07
    threshold: Annotated[
        Share | None, Field(description="of the soft mask, from which the region acts wholly; None: as far as the mask is white")
    ] = None
    overlap: Annotated[Literal["front", "shared"], Field(description="where it lies over regions behind: it alone, or both")] = "front"
    cues: Annotated[Cues, Field(max_length=6)] = Field(default_factory=list)
    name: Annotated[Words, Field(max_length=limits.CUE_NAME)] = ""
    on: bool = True
    solo: Annotated[bool, Field(description="of the regions only soloed ones act")] = False

    @model_validator(mode="after")
    def _makes_sense(self) -> Region:
        if self.end <= self.start:
            raise ValueError("the span must end after it starts")
        return self

    @property
    def prompt(self) -> str:
        """All words that ask for something there."""
        return ", ".join(part for part in (self.given, self.words) if part)

    @property
    def speaks(self) -> bool:
        """Whether it says anything; one without strength still says who is there."""
        return self.on and bool(self.prompt or any(cue.acts for cue in self.cues))

    @property
    def acts(self) -> bool:
        return self.speaks and self.strength > 0


Side = Annotated[int, Field(ge=0, le=SIZES[1])]


class FacePut(Document):
    """The face of the recipe's references on somebody in the source picture: all else of it stays."""

    figure: Annotated[int | None, Field(ge=0, le=7, description="which figure of the source picture, from 0; null: the largest")] = None


class Source(Document):
    """A picture to start from: all of it by denoise strength, only what a mask opens, or only somebody's face."""

    picture: Picture
    strength: Annotated[float, Field(ge=0, le=1, description="0 leaves the picture … 1 makes a new one of its composition")] = 0.5
    mask: Annotated[Picture | None, Field(description="white where the picture may change")] = None
    feather: Annotated[float, Field(ge=0, le=64, description="px inside the mask over which the change fades in")] = 3.0
    outlines: Annotated[bool, Field(description="the mask is opened as far as what changes in it reaches")] = False
    wider: Annotated[
        tuple[Side, Side, Side, Side], Field(description="px by which the canvas goes on beyond the picture: left, top, right, below")
    ] = (0, 0, 0, 0)
    window: Annotated[
        tuple[Side, Side, Annotated[Side, Field(ge=1)], Annotated[Side, Field(ge=1)]] | None,
        Field(description="px on the wider canvas: left, top, width, height of what the words are about"),
    ] = None
    # what is not asked is left out of the document: recipes are found by their documents
    face: Annotated[FacePut | None, Field(exclude_if=lambda face: face is None)] = None
    larger: Annotated[
        float | None,
        Field(ge=0, le=1, exclude_if=lambda larger: larger is None, description="the picture in the recipe's size, 0 faithful … 1 free"),
    ] = None

    @property
    def extends(self) -> bool:
        return any(self.wider)

    @property
    def denoised(self) -> bool:
        """Whether the picture goes through the denoising, and is not only drawn again in part, or larger."""
        return not (self.extends or self.mask or self.face or self.larger is not None)


class Variation(Document):
    """Another take of the same composition."""

    seed: Annotated[int, Field(ge=0, le=MAX_SEED)]
    amount: Annotated[float, Field(ge=0, le=1, description="0 the same … 1 as different as the words allow")] = 0.3


class Recipe(Document):
    version: Literal[3] = VERSION
    given: Annotated[Words, Field(max_length=limits.GIVEN, description="words from the character, outfit and scene")] = ""
    held: Annotated[
        list[Annotated[Words, Field(max_length=limits.PHRASE)]],
        Field(max_length=12, description="phrases kept from the lead anchor: each speaks where no other word says what it is about"),
    ] = Field(default_factory=list)
    words: Annotated[Words, Field(max_length=limits.WORDS, description="the prompt that the artist writes")] = ""
    negative: Annotated[Words, Field(max_length=limits.WITHOUT, description="what should not be seen")] = ""
    emphasis: Annotated[
        dict[Annotated[Words, Field(max_length=limits.PHRASE)], Annotated[float, Field(ge=0, le=2)]],
        Field(max_length=40, description="phrases of the prompt, lower case, and the factor on what each says: 1 where none is given"),
    ] = Field(default_factory=dict)
    width: Annotated[int, Field(ge=SIZES[0], le=SIZES[1], multiple_of=SIDE_MULTIPLE)] = 512
    height: Annotated[int, Field(ge=SIZES[0], le=SIZES[1], multiple_of=SIDE_MULTIPLE)] = 640
    steps: Annotated[int, Field(ge=4, le=60)] = 20
    sampler: Sampler = "euler"
    schedule: Schedule = "karras"
    eta: Annotated[float, Field(ge=0, le=1, description="fresh noise of the ancestral sampler: 0 none … 1 full")] = 1.0
    guidance: Annotated[float, Field(ge=0, le=20)] = 7.0
    seed: Annotated[int, Field(ge=0, le=MAX_SEED)] | None = None
    count: Annotated[int, Field(ge=1, le=8)] = 4
    styles: Annotated[list[Annotated[Words, Field(max_length=40)]], Field(max_length=4)] = Field(default_factory=list)
    cues: Annotated[Cues, Field(max_length=12)] = Field(default_factory=list)
    balance: Annotated[bool, Field(description="each reference contributes by its weight alone, not by how much it shows")] = False
    regions: Annotated[list[Region], AfterValidator(_regions_with_ids), Field(max_length=8)] = Field(default_factory=list)
    source: Source | None = None
    variation: Variation | None = None
    engine: Annotated[Words, Field(max_length=60)] = "built-in"

    @model_validator(mode="after")
    def _shows_its_source(self) -> Recipe:
        w, h = self.source_size
        if min(w, h) < SOURCE_LEAST:
            raise ValueError("the canvas is not as large as what it is made wider by")
        return self

    @property
    def source_size(self) -> tuple[int, int]:
        """Width and height in px that the source picture has on the canvas."""
        left, top, right, below = (0, 0, 0, 0) if self.source is None else self.source.wider
        return self.width - left - right, self.height - top - below

    @property
    def pictures(self) -> set[str]:
        """The pictures that the recipe uses, by SHA-256."""
        cues = [c for c in (*self.cues, *(c for r in self.regions if r.acts for c in r.cues)) if c.acts]
        used = (
            {c.picture for c in cues}
            | {c.area for c in cues}
            | {name for c in cues for name in c.also}
            | {r.mask for r in self.regions if r.speaks}
        )
        if self.source is not None:
            used |= {self.source.picture, self.source.mask}
        return {sha for sha in used if sha is not None}

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
    "words": "Words",
    "negative": "Without",
    "given": "Given words",
    "held": "Held words",
    "width": "Width",
    "height": "Height",
    "steps": "Steps",
    "sampler": "Sampler",
    "guidance": "Guidance",
    "seed": "Seed",
    "count": "Takes",
    "styles": "Styles",
    "cues": "Cues",
    "emphasis": "Emphasis",
    "engine": "Engine",
    "weight": "Weight",
    "start": "Span start",
    "end": "Span end",
    "picture": "Picture",
    "name": "Name",
    "role": "Role",
    "on": "On",
    "solo": "Solo",
    "version": "Version",
    "schedule": "Schedule",
    "eta": "Fresh noise",
    "balance": "Balance",
    "regions": "Regions",
    "source": "Source picture",
    "variation": "Variation",
    "mask": "Mask",
    "strength": "Strength",
    "feather": "Feather",
    "area": "Area",
    "skeleton": "Skeleton",
    "amount": "Amount",
    "id": "Id",
    "figure": "Person",
    "hands": "Hands",
    "behind": "Limbs behind",
    "own_body": "Own body",
    "pots": "Pots",
    "named": "What shapes are",
    "threshold": "Threshold",
    "subject": "Who of the picture",
    "parts": "What it lends",
    "corrected": "Corrected traits",
    "also": "Further pictures",
    "overlap": "Overlap",
    "face": "Face put on",
    "larger": "Enlarged",
}


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
        except (ValueError, RecursionError):
            raise BadRecipe("This recipe is damaged: it is not readable as JSON.", "recipe") from None
    if not isinstance(document, dict):
        raise BadRecipe("This recipe is damaged: it holds no settings.", "recipe")
    version = document.get("version")
    if isinstance(version, int) and version > VERSION:
        raise BadRecipe(
            f"This recipe was written by a newer version of Moss Keeper (recipe version {version}; this one reads "
            f"up to {VERSION}). Update Moss Keeper to use it.",
            "recipe",
        )
    try:
        return Recipe.model_validate(up_to_date(document))
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


def _cue_in_words(cue: Cue) -> str:
    """All of a cue that can be changed."""
    told = [f"{cue.role} {cue.weight:g}", f"{cue.start:g}–{cue.end:g} %"]
    if cue.area is not None:
        told.append(f"in area {area_called(cue.area) or cue.area[:8]}")
    if cue.skeleton is not None:
        told.append(f"points placed by hand{f' for person {cue.figure + 1}' if cue.figure else ''}")
    if cue.pots:
        told.append(f"painted in {', '.join(sorted(set(cue.pots.values())))}")
    if cue.named:
        told.append(f"{len(cue.named)} shapes named")
    told += [word for word, holds in (("off", not cue.on), ("solo", cue.solo)) if holds]
    return f"{cue.name or (cue.picture or 'skeleton')[:8]} ({', '.join(told)})"


def shown(value: Any) -> str:
    """A value of a recipe in the artist's language."""
    if value is None:
        return "none"
    if isinstance(value, bool):
        return "on" if value else "off"
    if isinstance(value, dict):
        return ", ".join(f"{phrase} ×{factor:g}" for phrase, factor in value.items()) or "none"
    if isinstance(value, list):
        if value and isinstance(value[0], Region):
            return ", ".join(f"{r.name or r.words[:40] or r.mask[:8]} ({r.strength:g})" for r in value)
        if value and isinstance(value[0], Cue):
            return ", ".join(_cue_in_words(c) for c in value)
        return ", ".join(map(str, value)) or "none"
    if isinstance(value, Source):
        return f"{value.picture[:8]}, strength {value.strength:g}" + (", masked" if value.mask else "")
    if isinstance(value, Variation):
        return f"{value.amount:g} by seed {value.seed}"
    return f"{value:g}" if isinstance(value, float) else str(value) or "none"


def differences(old: Recipe, new: Recipe) -> list[tuple[str, str, str]]:
    """(label, old value, new value) of all settings that differ, for showing before a recipe is applied."""
    changed = []
    for name in Recipe.model_fields:
        a, b = getattr(old, name), getattr(new, name)
        if a != b:
            old_text, new_text = ("fresh" if name == "seed" and v is None else shown(v) for v in (a, b))
            if name != "cues" or old_text != new_text:  # which id a cue has is nobody's concern
                changed.append((LABELS[name], old_text, new_text))
    return changed

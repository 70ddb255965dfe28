"""Instructions that are no description: bigger and smaller, off and on."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from mosskeeper.core.illustrator.description import MOST_THINGS, Part
from mosskeeper.core.illustrator.drawing import Drawing
from mosskeeper.core.illustrator.scene import Scene, Thing
from mosskeeper.core.mending.ask.newcomers import natural
from mosskeeper.core.mending.masks import Mask
from mosskeeper.core.words.understand import understand

_BIGGER = r"bigger|larger|huger|taller|wider|longer|fuller|higher"
_SMALLER = r"smaller|tinier|shorter|littler|narrower"
_SIZED = (
    re.compile(
        rf"\b(?:make|let|turn|draw)\s+(?:the |her |his |their |its )?(?P<what>[^,.;!?]*?)\s+(?:much |a bit |a little )?(?P<way>{_BIGGER}|{_SMALLER})\b",
        re.I,
    ),
    re.compile(rf"\b(?P<way>{_BIGGER}|{_SMALLER})\s+(?P<what>\w+)", re.I),
    re.compile(rf"\b(?P<what>\w+(?: \w+)?)\s+(?P<way>{_BIGGER}|{_SMALLER})\b", re.I),
)
_OFF = re.compile(r"\b(?P<what>\w+(?: \w+)?)\s+off\b", re.I)
_ON = re.compile(r"\b(?P<what>\w+(?: \w+)?)\s+on\s*$", re.I)
_BY = 1.35
_MOST = {"prop_size": (0.6, 1.8), "headwear_size": (0.85, 1.8), "hair_size": (1.0, 1.3)}
_WORDS_OF_HAIR = re.compile(r"\b(hair|curls|braids?|bun|locks)\b", re.I)
_WORDS_OF_HAT = re.compile(r"\b(hat|cap|beanie|headscarf|kerchief|headwear)\b", re.I)
_WORDS_OF_SOMEBODY = re.compile(r"\b(her|him|girl|boy|woman|man|child|figure|person|head|face|hands?|eyes?|nose|mouth)\b", re.I)


@dataclass(frozen=True, slots=True)
class Resized:
    """What is to be drawn larger or smaller, in words, and by how much."""

    what: str
    by: float


def plainly(words: str) -> str:
    """Words in which “off” and “on” are said as descriptions are."""
    words = _OFF.sub(lambda m: m.group(0) if m["what"].split()[0].lower() in ("take", "cut", "showing") else f"without {m['what']}", words)
    return _ON.sub(lambda m: m["what"], words)


def resizing(words: str) -> Resized | None:
    """What words want larger or smaller; None where they want nothing of that kind."""
    for pattern in _SIZED:
        found = pattern.search(words)
        if found is not None and found["what"].strip():
            grows = re.fullmatch(_BIGGER, found["way"], re.I) is not None
            return Resized(found["what"].strip().lower(), _BY if grows else 1 / _BY)
    return None


def resized(scene: Scene, n: int | None, before: Drawing, mask: Mask, asked: Resized, told: list[str]) -> Scene:
    """The scene with a thing, a prop, a hat or hair in another size. `told` gets what was done, or why nothing was."""
    wanted = understand(asked.what).wanted
    names = {name for a in ("companion", "prop") for name in wanted.get(a, {})}
    larger = "larger" if asked.by > 1 else "smaller"
    at = next((k for k, thing in enumerate(scene.things) if thing.name in names), None)
    if at is not None:
        things = list(scene.things)
        things[at] = replace(things[at], scale=things[at].scale * asked.by)
        told.append(f"{things[at].name} drawn {larger}")
        return replace(scene, things=tuple(things))
    if scene.description.companion in names:
        return _companion(scene, before, asked.by, larger, told)
    person = None if n is None else scene.description.figures[n]
    if n is not None and person is not None:
        if person.prop in names:
            return _of_person(scene, n, "prop_size", (person.prop_size,), asked.by, f"{person.prop} in the hand", larger, told)
        if _WORDS_OF_HAT.search(asked.what) and person.headwear != "none":
            return _of_person(scene, n, "headwear_size", person.headwear_size, asked.by, person.headwear, larger, told)
        if _WORDS_OF_HAIR.search(asked.what):
            return _of_person(scene, n, "hair_size", person.hair_size, asked.by, "hair", larger, told)
    if _WORDS_OF_SOMEBODY.search(asked.what):
        told.append("who stands there keeps the size that the ground gives: take them away, and brush where they should stand instead")
    else:
        told.append(f"no {asked.what} is known here: press it first, or say what should stand there, and how large the mask says")
    return scene


def _companion(scene: Scene, before: Drawing, by: float, larger: str, told: list[str]) -> Scene:
    """A companion as a thing of its own, in another size: its foot stays."""
    name, number = scene.description.companion, len(scene.postures) + 1
    ys, xs = np.nonzero((before.figures == number) & (before.labels == Part.COMPANION))
    if not len(xs) or len(scene.things) >= MOST_THINGS:
        told.append(f"the {name} is not seen here")
        return scene
    scale = (float(np.ptp(ys)) + 1) / natural(name)[1]
    facing = 1 if xs.mean() < scene.camera.spots[0].origin[0] else -1
    layout = scene.description.layout
    thing = Thing(name, (float(xs.min() + xs.max()) / 2, float(ys.max())), scale * by, facing, depth=layout.depth)
    told.append(f"{name} drawn {larger}")
    return replace(scene, description=replace(scene.description, companion="nobody"), things=(*scene.things, thing))


def _of_person(scene: Scene, n: int, field: str, now: tuple[float, ...], by: float, called: str, larger: str, told: list[str]) -> Scene:
    least, most = _MOST[field]
    size = tuple(float(np.clip(v * by, least, most)) for v in now)
    if size == now:
        told.append(f"{called}: it cannot be drawn {larger} than it is")
        return scene
    told.append(f"{called} drawn {larger}" + (", as far as it stays one that can be" if any(s in (least, most) for s in size) else ""))
    changes: dict[str, Any] = {field: size[0] if len(size) == 1 else size}
    return scene.with_person(n, replace(scene.description.figures[n], **changes))

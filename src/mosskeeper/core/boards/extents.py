"""How much room a drawn figure takes: its box, its head and its outline, measured on a small drawing."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Hashable
from dataclasses import dataclass, replace
from threading import Lock

import cv2
import numpy as np

from mosskeeper.core.boards.shapes import F64, Mask
from mosskeeper.core.illustrator import maps, parts
from mosskeeper.core.illustrator.description import Part, Person
from mosskeeper.core.illustrator.figure import DrawnFigure, Setting
from mosskeeper.core.illustrator.items import Canvas, DisplayList
from mosskeeper.core.illustrator.shapes import point
from mosskeeper.core.illustrator.skeleton import Posture
from mosskeeper.core.illustrator.vocabulary.light import light_of

OUTLINE = 64  # px of the height at which outlines are compared
_HEAD_HIGH = 30.0  # px
_SIZE, _ORIGIN = (480, 480), (240.0, 330.0)
_MOST = 400


@dataclass(frozen=True, slots=True, eq=False)
class Extent:
    body: F64  # (4,) left, top, right, bottom, hh from the figure's origin
    head: F64  # (4,) the same of the head, down to the chin
    outline: Mask  # (OUTLINE, w)


class _Extents:
    def __init__(self) -> None:
        self._kept: OrderedDict[Hashable, Extent] = OrderedDict()
        self._lock = Lock()

    def of(self, person: Person, held: Posture) -> Extent:
        layout = replace(person.layout, shift=0.0, zoom=1.0, pinned=None, skeleton=None, framing="full")
        bare = Person(
            subject=person.subject,
            build=person.build,
            hair=person.hair,
            headwear=person.headwear,
            outfit=person.outfit,
            hair_size=person.hair_size,
            headwear_size=person.headwear_size,
            layout=layout,
        )
        key = bare, held.joints.tobytes(), held.head, held.hands, held.behind
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]
        made = _measured(bare, held, key)
        with self._lock:
            self._kept[key] = made
            while len(self._kept) > _MOST:
                self._kept.popitem(last=False)
        return made


def _measured(person: Person, held: Posture, key: Hashable) -> Extent:
    setting = Setting(1, _HEAD_HIGH, point(*_ORIGIN), light_of("noon", "plain light", "clear"), 0.0, False)
    f = DrawnFigure(DisplayList(Canvas(_SIZE)), person, held, setting)
    parts.draw(f, ("extent", key))
    packed = maps.blank(*_SIZE)
    maps.stamp(packed, f.display.ordered())
    labels, numbers, _ = maps.unpack(packed)
    x, y = _ORIGIN

    def box(mask: Mask) -> F64:
        ys, xs = np.nonzero(mask)
        if not len(xs):
            return np.array([-0.5, -6.0, 0.5, 0.0])
        return np.asarray((np.array([xs.min(), ys.min(), xs.max() + 1, ys.max() + 1]) - (x, y, x, y)) / _HEAD_HIGH)

    body = box(numbers == 1)
    face = box((numbers == 1) & np.isin(labels, (Part.FACE, Part.MOUTH, Part.EYES)))
    head = np.array([face[0], min(body[1], face[1]), face[2], face[3]])
    x0, y0, x1, y1 = (np.clip(body * _HEAD_HIGH + (x, y, x, y), 0, 480)).round().astype(int)
    inside = (numbers[y0:y1, x0:x1] == 1).astype(np.float32)
    side = (max(4, round(OUTLINE * (x1 - x0) / max(y1 - y0, 1))), OUTLINE)
    outline = cv2.resize(inside, side, interpolation=cv2.INTER_AREA) > 0.5 if inside.size else np.ones((OUTLINE, 4), bool)
    return Extent(body, head, outline)


extents = _Extents()


def overlap(a: Mask, b: Mask) -> float:
    """IoU of two outlines of one height, set on the middle of their masses."""
    wide, put = 2 * max(a.shape[1], b.shape[1]), []
    for m in (a, b):
        out = np.zeros((OUTLINE, wide), bool)
        middle = np.nonzero(m)[1].mean() if m.any() else 0
        left = int(np.clip(wide / 2 - middle, 0, wide - m.shape[1]))
        out[:, left : left + m.shape[1]] = m
        put.append(out)
    return float((put[0] & put[1]).sum() / max((put[0] | put[1]).sum(), 1))

"""Figures as blobs: shapes that touch, stand upright, and have something like skin near their top."""

from __future__ import annotations

import numpy as np

from mosskeeper.core.boards.seen import FigureOnBoard
from mosskeeper.core.boards.shapes import F64, SAME, ReadShape, grown, together

_NECK = 0.4  # of a face's height, that may lie open between it and the body


def find(free: list[ReadShape], size: tuple[int, int]) -> list[tuple[FigureOnBoard, list[ReadShape]]]:
    """The figures among shapes on a board of `size`, and the shapes that each is made of."""
    near = [grown(s.mask, 9) for s in free]
    group = list(range(len(free)))
    for i in range(len(free)):
        for j in range(i):
            if group[i] != group[j] and ((near[i] & free[j].mask).any() or under(free[i], free[j]) or under(free[j], free[i])):
                group = [group[j] if g == group[i] else g for g in group]
    out = []
    for g in sorted(set(group)):
        shapes = [s for s, k in zip(free, group, strict=True) if k == g]
        for one in _apart(shapes, size):
            out.append((_figure(one, size), one))
    return out


def _apart(shapes: list[ReadShape], size: tuple[int, int]) -> list[list[ReadShape]]:
    """The figures among shapes that touch each other: one for each face; what touches none goes to the nearest below."""
    faces = _faces(shapes, size)
    whole = ReadShape(shapes[0].lab, together([s.mask for s in shapes]))
    if not faces or len(shapes) < 2 or whole.size[1] < 0.08 * size[1]:
        return []
    if len(faces) == 1:
        return [shapes] if whole.size[0] <= 1.3 * whole.size[1] else []
    own: list[list[ReadShape]] = [[f] for f in faces]
    for s in shapes:
        if not any(s is f for f in faces):
            away = [abs(s.centre[0] - f.centre[0]) + 0.2 * abs(s.centre[1] - f.centre[1]) for f in faces]
            own[int(np.argmin(away))].append(s)
    return [one for one in own if len(one) > 1]


def _faces(shapes: list[ReadShape], size: tuple[int, int]) -> list[ReadShape]:
    """What can be a face, the greatest where several lie over one another."""
    whole = ReadShape(shapes[0].lab, together([s.mask for s in shapes]))
    (_, y0, _, y1), (bw, bh) = whole.box, whole.size
    deepest = y0 + (0.65 if y1 > size[1] - 2 else 0.4) * bh
    told = [s for s in shapes if s.pot == "skin"]

    def can_be(s: ReadShape) -> bool:
        w, h = s.size
        if not (skinlike(s) and s.area > 0.55 * np.pi / 4 * w * h and h < 2.2 * w and w < 1.8 * h):
            return False
        return bool(0.004 * bw * bh < s.area and (s.pot == "skin" or s.centre[1] < deepest or bw > 0.8 * bh))

    out, possible = list[ReadShape](), [s for s in shapes if can_be(s) and (not told or s.pot == "skin")]
    # brown hair may look like skin: it lies about the face
    inner = [s for s in possible if not any(_about(s, t) for t in possible if t is not s)]
    for s in sorted(inner, key=lambda s: -s.area):
        beside = all(abs(s.centre[0] - f.centre[0]) > 1.6 * max(s.size[0], f.size[0]) for f in out)
        as_large = all(s.area > 0.25 * f.area for f in out)
        if not out or (beside and as_large and _bodied(s, shapes, out)):
            out.append(s)
    return out


def _about(outer: ReadShape, inner: ReadShape) -> bool:
    """Whether a shape lies about another, above it and on both of its sides."""
    (x0, y0, x1, _), (a0, b0, a1, _) = outer.box, inner.box
    slack = 0.08 * inner.size[0]
    return x0 <= a0 + slack and x1 >= a1 - slack and y0 < b0 and outer.size[0] > inner.size[0] and y0 > b0 - 1.6 * inner.size[1]


def _bodied(face: ReadShape, shapes: list[ReadShape], others: list[ReadShape]) -> bool:
    """Whether a second face has a body of its own under it: a hand has none."""
    bodies = [s for s in shapes if s is not face and not any(s is o for o in others) and s.area > 1.2 * face.area]
    x0, x1 = face.box[0], face.box[2]
    return any(
        s.box[1] < face.box[3] + face.size[1]
        and s.box[3] > face.box[3] + face.size[1]
        and s.box[0] < x1
        and s.box[2] > x0
        and abs(s.centre[0] - face.centre[0]) < 1.2 * face.size[0]
        for s in bodies
    )


def skinlike(s: ReadShape) -> bool:
    if s.pot:
        return s.pot == "skin"
    chroma, hue = np.hypot(s.lab[1], s.lab[2]), np.degrees(np.arctan2(s.lab[2], s.lab[1]))
    return bool(25 < s.lab[0] < 93 and 9 < chroma < 46 and 35 < hue < 85)


def under(face: ReadShape, body: ReadShape) -> bool:
    """A body that lies a neck's length under a face: necks are often left out."""
    across = min(face.box[2], body.box[2]) - max(face.box[0], body.box[0])
    return skinlike(face) and -0.5 * face.size[1] <= body.box[1] - face.box[3] < _NECK * face.size[1] and across > 0.6 * face.size[0]


def _figure(shapes: list[ReadShape], size: tuple[int, int]) -> FigureOnBoard:
    whole = ReadShape(shapes[0].lab, together([s.mask for s in shapes]))
    y1 = whole.box[3]
    face = max(_faces(shapes, size) or [s for s in shapes if skinlike(s)], key=lambda s: s.area)
    chin, high = face.box[3], face.size[1]
    rest = [s for s in shapes if s is not face]
    ring = grown(face.mask, 5)
    hair = [s for s in rest if s.pot == "hair" or (not s.pot and _over(s, face, ring))]
    top = min([face.box[1], *(s.box[1] for s in hair)])
    head = ((face.box[0] + face.box[2]) / 2, (top + chin) / 2, chin - top)
    colours: dict[str, F64] = {"skin": face.lab}
    long_hair = False
    if hair:
        mask = together([s.mask for s in hair])
        colours["hair"] = max(hair, key=lambda s: s.area).lab
        low = mask[int(np.clip(chin - 0.1 * high, 0, size[1] - 1))]  # as broad at the chin as above: it falls over the shoulders
        long_hair = bool(low.any() and np.ptp(np.nonzero(low)[0]) > 0.85 * np.ptp(np.nonzero(mask.any(0))[0]))
    kin = [s for s in hair if not s.pot or s.pot == "hair"]
    cloth = [s for s in rest if not any(s is k for k in kin) and not (skinlike(s) and np.linalg.norm(s.lab - face.lab) < 10)]
    colours |= _clothes(cloth, chin, y1)
    if "upper" in colours and "lower" not in colours and y1 <= size[1] - 2:
        colours["lower"] = colours["upper"]  # one colour down to the feet
    # a head alone says no more of the body than one whose body the border cuts
    cut = y1 > size[1] - 2 or not colours.keys() & {"upper", "lower"}
    return FigureOnBoard(whole.box, whole.mask, cut, head, colours, None, long_hair)


def _over(s: ReadShape, face: ReadShape, ring: np.ndarray) -> bool:  # type: ignore[type-arg]
    """Whether a shape lies over the upper half of a face, as hair does."""
    above = s.mask[: int(face.centre[1])].sum() > 0.12 * face.area
    return bool((s.mask & ring).any() and s.box[1] < face.centre[1] and above)


def _clothes(cloth: list[ReadShape], chin: float, foot: float) -> dict[str, F64]:
    potted = {"upper": [s for s in cloth if s.pot == "cloth"], "lower": [s for s in cloth if s.pot == "second cloth"]}
    middle, out = chin + (foot - chin) * 0.55, dict[str, F64]()
    free = [s for s in cloth if not s.pot]
    for name, those in (
        ("upper", [s for s in free if s.box[1] < chin + 0.3 * (foot - chin)]),
        ("lower", [s for s in free if s.centre[1] > middle and s.box[1] > chin + 0.25 * (foot - chin)]),
    ):
        found = potted[name] or those
        if found:
            main = max(found, key=lambda s: s.area)
            out[name] = np.mean([s.lab for s in found if np.linalg.norm(s.lab - main.lab) < SAME], axis=0)
    return out

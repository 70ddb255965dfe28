"""Stick figures: a ring or a solid head, below it a tree of lines whose tips are hands and feet. No network; the method is ours."""

from __future__ import annotations

import cv2
import numba
import numpy as np

from mosskeeper.core.boards.seen import FigureOnBoard
from mosskeeper.core.boards.shapes import F64, Mask, ReadShape, grown, together
from mosskeeper.core.illustrator.skeleton import AT

_STEPS = ((-1, 0, 1.0), (1, 0, 1.0), (0, -1, 1.0), (0, 1, 1.0), (-1, -1, 1.414), (-1, 1, 1.414), (1, -1, 1.414), (1, 1, 1.414))
_THIN = 0.016  # of the height: half the width of a line, at most
_LEAST_HIGH = 0.2  # of the height, of a stick figure
_PARALLEL = 0.15  # sine of the angle between lines of which it cannot be told where they meet
_FEW = 4  # px: a shorter line has no direction
_FAR_BACK = 6.0  # half widths of a line, from where two part to where they meet at most
_CURLED = 0.09  # of a figure's height, of the shortest limb


def find(shapes: list[ReadShape]) -> list[tuple[FigureOnBoard, list[ReadShape]]]:
    """The stick figures among shapes, and the shapes that each is made of."""
    out, taken = list[tuple[FigureOnBoard, list[ReadShape]]](), set[int]()
    for s in shapes:
        high = s.mask.shape[0]
        if id(s) in taken or s.told or s.pot not in ("", "ink") or s.size[1] < _LEAST_HIGH * high:
            continue
        head = _head(s)
        if head is None:
            continue
        x, y, r, thick = head
        free = [t for t in shapes if id(t) not in taken and not t.told]
        kin = [t for t in free if t is s or (t.thick < 1.3 * _THIN * high and np.linalg.norm(t.lab - s.lab) < 10)]
        near = grown(together([t.mask for t in kin]), 5)
        # blots on the lines
        kin += [t for t in free if t.area < 0.02 * t.mask.size and not any(t is q for q in kin) and (t.mask & near).any()]
        drawn = together([t.mask for t in kin]).astype(np.uint8)
        mask = cv2.morphologyEx(drawn, cv2.MORPH_CLOSE, np.ones((5, 5), np.uint8)) > 0
        joints, whole = _joints(mask, x, y, r, thick), ReadShape(s.lab, mask)
        if not np.isfinite(joints).any():
            continue
        kin += [t for t in free if t.box[0] >= x - r and t.box[2] <= x + r + 1 and t.box[1] >= y - r and t.box[3] <= y + r + 1]
        taken |= {id(t) for t in kin}
        out.append((FigureOnBoard(whole.box, mask, whole.box[3] > high - 2, (x, y, 2 * r), {}, joints), kin))
    return out


def _head(s: ReadShape) -> tuple[float, float, float, float] | None:
    """Middle and radius of the ring or the solid disc on top of a stick figure, and half the width of its lines."""
    thin, mask = _THIN * s.mask.shape[0], s.mask.astype(np.uint8)
    found, thick = list[np.ndarray](), 0.0  # type: ignore[type-arg]
    if s.thick <= 2 * thin:  # lines, thicker where they meet: a ring has a hole
        contours, tree = cv2.findContours(mask, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
        found = [c for c, link in zip(contours, tree[0], strict=True) if link[3] >= 0 and cv2.contourArea(c) > 30 and _round(c)]
        thick = min(s.thick, thin)
    if not found and s.thick > thin:
        side = 2 * int(np.ceil(thin)) + 1
        core = cv2.morphologyEx(mask, cv2.MORPH_OPEN, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side)))
        found, thick = list(cv2.findContours(core, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)[0]), 0.0
        if len(found) != 1 or cv2.contourArea(found[0]) > 0.7 * s.area or s.size[1] < 5 * s.thick:
            return None
    found = [c for c in found if _round(c)]
    if not found:
        return None
    (x, y), r = cv2.minEnclosingCircle(min(found, key=lambda c: float(c[:, 0, 1].mean())))
    if y >= s.box[1] + 0.45 * s.size[1]:
        return None
    return x, y, r + max(thick, 1.0), thick or 0.4 * thin


def _round(contour: np.ndarray) -> bool:  # type: ignore[type-arg]
    return bool(cv2.contourArea(contour) > 0.7 * np.pi * cv2.minEnclosingCircle(contour)[1] ** 2)


Path = list[tuple[int, int]]  # y, x


def _joints(mask: Mask, x: float, y: float, r: float, thick: float) -> F64:
    """(18, 2): the sticks below a head as a tree of paths: four tips, of which the two that part last from the trunk are the feet."""
    height = int(mask.any(1).sum())
    out = np.full((18, 2), np.nan)
    paths = _paths(mask, x, y, r, height)
    if len(paths) < 3:
        return out

    def shared(a: Path, b: Path) -> int:
        apart = (i for i, (p, q) in enumerate(zip(a, b, strict=False)) if np.hypot(p[0] - q[0], p[1] - q[1]) > thick)
        return next(apart, min(len(a), len(b)))

    deep, i, j = max((shared(a, b), i, j) for i, a in enumerate(paths) for j, b in enumerate(paths) if i < j)
    legs, arms = [paths[i], paths[j]], [p for k, p in enumerate(paths) if k not in (i, j)]
    up = [shared(a, legs[0]) for a in arms]
    trunk = legs[0][max(up, default=0) : deep]
    neck = legs[0][max(int(np.mean(up)) - 1, 0)] if arms else legs[0][0]
    neck_xy = _met(np.array(neck[::-1], float), [*zip(arms, up, strict=True), (trunk, 0)], thick)
    hips_xy = _met(np.array(legs[0][max(deep - 1, 0)][::-1], float), [(leg, deep) for leg in legs], thick)
    spine = hips_xy - neck_xy
    if np.hypot(*spine) < 0.12 * height:  # no trunk is seen: not a whole figure
        return out
    out[AT["neck"]] = neck_xy
    unit = float(np.hypot(*spine)) / 1.5
    down = spine / (unit * 1.5)
    right = np.array([down[1], -down[0]])
    for kind, chains, starts, half, low in (("arm", arms, up, 0.50, 0.06), ("leg", legs, [deep, deep], 0.24, 0.0)):
        ordered = sorted(zip(chains, starts, strict=True), key=lambda one: one[0][-1][1])
        sides = ("right", "left") if len(ordered) == 2 else ("right" if ordered and ordered[0][0][-1][1] < neck_xy[0] else "left",)
        names = ("shoulder", "elbow", "wrist") if kind == "arm" else ("hip", "knee", "ankle")
        base = neck_xy if kind == "arm" else hips_xy
        for side, (chain, start) in zip(sides, ordered, strict=False):
            bones = np.array([base[::-1], *chain[start:]], float)[:, ::-1]
            sign = -1 if side == "right" else 1
            out[AT[f"{side} {names[0]}"]] = base + right * sign * half * unit * 0.8 + down * low * unit
            out[AT[f"{side} {names[1]}"]], out[AT[f"{side} {names[2]}"]] = _bent(bones, thick), bones[-1]
    return out


def _met(parted: F64, parting: list[tuple[Path, int]], thick: float) -> F64:
    """(2,): where lines meet that are seen to part only farther on, since they are thick.

    parted : where they are seen to part. parting : each line with the first of its places that no other shares.
    """
    across, at = [], []
    for path, start in parting:
        if len(path) - start < _FEW:
            continue
        first = np.array(path[start : start + max((len(path) - start) // 3, 2)], float)[:, ::-1]
        middle = first.mean(0)
        way = np.linalg.svd(first - middle)[2][0]
        across.append([-way[1], way[0]])
        at.append(float(np.dot(across[-1], middle)))
    if len(at) < 2 or np.linalg.svd(across)[1][-1] < _PARALLEL:
        return parted
    met = np.linalg.lstsq(np.array(across), np.array(at), rcond=None)[0]
    return np.asarray(met if np.hypot(*(met - parted)) < _FAR_BACK * thick else parted)


def _bent(bones: F64, thick: float) -> F64:
    """Where a limb's line bends: between the two straight strokes that fit it best; its middle where it is straight."""
    a, b = bones[0], bones[-1]
    far = np.concatenate([[0.0], np.hypot(*np.diff(bones, axis=0).T).cumsum()])
    middle = bones[np.abs(far - far[-1] / 2).argmin()]
    if _off(bones, a, b).max() <= max(0.07 * len(bones), thick):
        return np.asarray(middle)
    tried = range(len(bones) // 5, len(bones) - len(bones) // 5)
    off = [np.square(_off(bones[: i + 1], a, bones[i])).sum() + np.square(_off(bones[i:], bones[i], b)).sum() for i in tried]
    return np.asarray(bones[tried[int(np.argmin(off))]])


def _off(points: F64, a: F64, b: F64) -> F64:
    """(N,) distances of points from the line through two."""
    along = (b - a) / max(float(np.hypot(*(b - a))), 1e-6)
    return np.asarray(np.abs((points - a) @ np.array([-along[1], along[0]])))


def _paths(mask: Mask, x: float, y: float, r: float, height: int) -> list[Path]:
    """Up to four ways along the middles of the lines, each from the head to a tip, the longest first."""
    gy, gx = np.mgrid[: mask.shape[0], : mask.shape[1]]
    body = mask & (np.hypot(gx - x, gy - y) > r + 0.5)
    ys, xs = np.nonzero(body)
    if len(xs) < 20:
        return []
    inside = cv2.distanceTransform(body.astype(np.uint8), cv2.DIST_L2, 5)
    under = np.hypot(xs - x, ys - (y + r)) + np.where(ys > y, 0, 1e3)
    number = np.full(mask.shape, -1, np.int64)
    number[ys, xs] = np.arange(len(xs))
    beside = np.pad(number, 1, constant_values=-1)
    neighbours = np.stack([beside[ys + 1 + dy, xs + 1 + dx] for dy, dx, _ in _STEPS], 1)
    steps = np.array([step for _, _, step in _STEPS])[None] * (1 + 0.6 / (0.3 + inside[ys, xs]))[:, None]
    paths, came, held = list[Path](), np.full(len(xs), -1), np.zeros(len(xs), bool)
    held[int(under.argmin())] = True
    while len(paths) < 4:
        away, via = _ways(neighbours, steps, held)
        tip = int(np.where(away < 1e8, away, -1).argmax())
        if away[tip] < _CURLED * height:
            break
        came = np.where(held, came, via)
        path = [tip]
        while came[path[-1]] >= 0:
            path.append(int(came[path[-1]]))
        held[path] = True
        paths.append([(int(ys[i]), int(xs[i])) for i in path[::-1]])
    return paths


@numba.njit(cache=True)  # type: ignore[untyped-decorator]
def _ways(neighbours, steps, held):  # type: ignore[no-untyped-def]
    """Ways from the held pixels inside the sticks along their middle, and over which neighbour they come; by sweeping."""
    away, via, n = np.full(len(held), 1e9), np.full(len(held), -1), len(held)
    away[held] = 0.0
    changed = True
    while changed:
        changed = False
        for turn in range(2):
            for k in range(n):
                i = k if turn == 0 else n - 1 - k
                for q in range(8):
                    j = neighbours[i, q]
                    if j >= 0 and away[j] + steps[i, q] < away[i] - 1e-9:
                        away[i], via[i], changed = away[j] + steps[i, q], j, True
    return away, via

"""The projection of identities by probabilistic linear discriminant analysis (Ioffe, 2006), and how well it tells persons apart."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from training.heads import FAMILY

_LENGTH = 64  # of an identity
_SMOOTH = 0.05  # of the covariance within persons, by which it is drawn to its diagonal

F32 = NDArray[np.float32]


def projection_of(rows: F32, person: NDArray[np.int32]) -> dict[str, F32]:
    """Directions in which persons differ more than looks of one person do, the more the longer.

    rows : (N, D) what identities are made of. person : (N,) whose they are.
    Returns `identity_middle` (D,) and `identity_projection` (D, at most 64) as `core.reading.close_pass.projected` takes them.
    """
    middle = rows.mean(0)
    x = (rows - middle).astype(np.float64)
    means = {p: x[person == p].mean(0) for p in np.unique(person)}
    inside = x - np.stack([means[p] for p in person])
    within = inside.T @ inside / len(x)
    within = (1 - _SMOOTH) * within + _SMOOTH * np.diag(np.diag(within)) + 1e-4 * np.eye(len(within))
    between = np.cov(np.stack(list(means.values())).T, bias=True)
    root = np.linalg.inv(np.linalg.cholesky(within))
    values, vectors = np.linalg.eigh(root @ between @ root.T)
    best = np.argsort(values)[::-1][:_LENGTH]
    share = np.sqrt(np.maximum(values[best], 0) / (1 + np.maximum(values[best], 0)))
    projection = (root.T @ vectors[:, best]) * share
    return {"identity_middle": middle.astype(np.float32), "identity_projection": projection.astype(np.float32)}


def areas(who: F32, person: NDArray[np.int32]) -> dict[str, float]:
    """Areas under the curve of pairs of one person against strangers, siblings and twins; the share accepted at 1 % of strangers."""
    i, j = np.triu_indices(len(who), 1)
    score, same = (who[i] * who[j]).sum(1), person[i] == person[j]
    kin = (person[i] // FAMILY == person[j] // FAMILY) & ~same
    which = np.sort(np.stack([person[i] % FAMILY, person[j] % FAMILY]), axis=0)
    twins = kin & (which[0] == 0) & (which[1] == 2)
    far = ~same & ~kin
    return {
        "all": _area(score[same], score[far]),
        "siblings": _area(score[same], score[kin & ~twins]),
        "twins": _area(score[same], score[twins]),
        "accepted": float((score[same] >= np.quantile(score[far], 0.99)).mean()) if far.any() else float("nan"),
    }


def tell_areas(who: F32, person: NDArray[np.int32]) -> None:
    print("identity:", " ".join(f"{name} {value:.3f}" for name, value in areas(who, person).items()), flush=True)


def _area(inside: F32, outside: F32) -> float:
    if not len(inside) or not len(outside):
        return float("nan")
    order = np.sort(outside)
    return float(np.searchsorted(order, inside).mean() / len(order))

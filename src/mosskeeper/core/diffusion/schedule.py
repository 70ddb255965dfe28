"""Noise schedules."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

SIGMA_MAX = 5.0
SIGMA_MIN = 0.03


def noise_levels(schedule: str, steps: int) -> NDArray[np.float64]:
    """The named schedule, "karras" or "linear". Raises KeyError for another name."""
    return {"karras": karras, "linear": linear}[schedule](steps)


def linear(steps: int, sigma_min: float = SIGMA_MIN, sigma_max: float = SIGMA_MAX) -> NDArray[np.float64]:
    """Evenly spaced noise levels from `sigma_max` down to `sigma_min`, and 0 at the end; shape (steps + 1,)."""
    return np.append(np.linspace(sigma_max, sigma_min, steps), 0.0)


def karras(steps: int, sigma_min: float = SIGMA_MIN, sigma_max: float = SIGMA_MAX, rho: float = 7.0) -> NDArray[np.float64]:
    """Noise levels from `sigma_max` down to `sigma_min`, and 0 at the end; shape (steps + 1,).

    References
    ----------
    Karras, Aittala, Aila, Laine: "Elucidating the design space of diffusion-based generative models", 2022, eq. 5.
    """
    t = np.linspace(0, 1, steps)
    sigmas = (sigma_max ** (1 / rho) + t * (sigma_min ** (1 / rho) - sigma_max ** (1 / rho))) ** rho
    return np.append(sigmas, 0.0)

"""One step of a sampler: from one noise level to the next, given a denoiser."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

import numpy as np
from numpy.typing import NDArray

F32 = NDArray[np.float32]
Denoiser = Callable[[F32, float], F32]
Sampler = Literal["euler", "heun", "ancestral"]


def step(
    x: F32,
    denoised: F32,
    sigma: float,
    sigma_next: float,
    sampler: Sampler,
    denoise: Denoiser,
    noise: Callable[[], F32],
    eta: float = 1.0,
) -> F32:
    """The state at `sigma_next`.

    Parameters
    ----------
    x, denoised : (H, W, 3) the state at `sigma` and the denoiser's answer to it.
    denoise : asked once more by Heun's method.
    noise : fresh noise of variance 1, asked for by the ancestral sampler.
    eta : 0…1, the share of that noise; 0 makes the ancestral sampler Euler's.

    References
    ----------
    Karras et al. 2022, algorithm 1 (Euler and Heun). Ancestral sampling with η: Song, Meng, Ermon, "Denoising
    diffusion implicit models", 2021, eq. 16, in the variance-exploding form.
    """
    if sigma_next == 0:
        return denoised
    if sampler == "ancestral":
        up = eta * float(np.sqrt(sigma_next**2 * (sigma**2 - sigma_next**2) / sigma**2))
        down = float(np.sqrt(sigma_next**2 - up**2))
        moved = denoised + (x - denoised) * np.float32(down / sigma)
        return np.asarray(moved + noise() * np.float32(up), np.float32)
    euler = denoised + (x - denoised) * np.float32(sigma_next / sigma)
    if sampler == "euler":
        return np.asarray(euler, np.float32)
    slope = (x - denoised) / np.float32(sigma)
    slope_next = (euler - denoise(euler, sigma_next)) / np.float32(sigma_next)
    return np.asarray(x + (slope + slope_next) * np.float32((sigma_next - sigma) / 2), np.float32)

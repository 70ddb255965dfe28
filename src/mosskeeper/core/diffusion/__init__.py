"""Diffusion: schedule, noise, integrators, the posterior mean over exemplars as a closed-form denoiser, and conditioning on references and control maps."""

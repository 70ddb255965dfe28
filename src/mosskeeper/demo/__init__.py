"""The demo story."""

from mosskeeper.demo.build import ensure, reset

__all__ = ["ensure", "reset"]

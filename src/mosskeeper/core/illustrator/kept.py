"""What drawings keep for those that come after them: painted layers and backdrops, bounded by their bytes."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Protocol, TypeVar


class Sized(Protocol):
    @property
    def nbytes(self) -> int: ...


T = TypeVar("T", bound=Sized)


class LayerCache:
    """The most recently used things by what they were made from. Any thread may ask; what is kept is never changed."""

    def __init__(self, limit: int = 160_000_000) -> None:
        self._kept: OrderedDict[Hashable, Sized] = OrderedDict()
        self._limit, self._bytes, self._lock = limit, 0, Lock()

    def get(self, key: Hashable, make: Callable[[], T]) -> T:
        """What was made from `key`; made now where it is not kept. Two threads may make the same at once."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]  # type: ignore[return-value]
        made = make()
        with self._lock:
            if key not in self._kept:
                self._kept[key] = made
                self._bytes += made.nbytes
            while self._bytes > self._limit and len(self._kept) > 1:
                self._bytes -= self._kept.popitem(last=False)[1].nbytes
        return made

    def clear(self) -> None:
        with self._lock:
            self._kept.clear()
            self._bytes = 0

"""Numbers near to those of another variant: most are its own, some go their own way."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, fields, replace
from typing import Any

import numpy as np

from mosskeeper.core.illustrator.description import Face, Person


@dataclass(frozen=True, slots=True)
class Near:
    """own : numbers of this variant. other : those of the one that it is near to. amount : 0 its own … 1 the other's."""

    own: np.random.Generator
    other: np.random.Generator
    amount: float

    def uniform(self, low: float, high: float) -> float:
        return float(self.own.uniform(low, high)) * (1 - self.amount) + float(self.other.uniform(low, high)) * self.amount

    def taken(self, mine: Any, others: Any) -> Any:
        return others if self.own.random() < self.amount else mine

    def random(self) -> float:
        return float(self.taken(self.own.random(), self.other.random()))

    def choice(self, among: int | Sequence[str], size: int | None = None, replace: bool = True) -> Any:
        return self.taken(self.own.choice(among, size, replace), self.other.choice(among, size, replace))

    def somebody(self, made: Callable[[np.random.Generator], Person]) -> Person:
        """A person near to the other's: attribute by attribute, the face between."""
        mine, others = made(self.own), made(self.other)
        mixed = {f.name: self.taken(getattr(mine, f.name), getattr(others, f.name)) for f in fields(Person)}
        mixed["face"] = Face.from_array(mine.face.as_array() * (1 - self.amount) + others.face.as_array() * self.amount)
        return replace(mine, **mixed)


Numbers = np.random.Generator | Near

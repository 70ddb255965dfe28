"""What runs cost and how long they take, learned from past runs on this machine."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from mosskeeper.core.recipe import Recipe
from mosskeeper.core.sweep import Dial, cells, recipe_at
from mosskeeper.engines.contract import Estimate
from mosskeeper.studio import engines
from mosskeeper.studio.models import RecipeDocument, Run
from mosskeeper.studio.run_states import RunState

_LEARN_FROM = 20  # past runs that expected times are learned from


def estimate(session: Session, recipe: Recipe, dials: Sequence[Dial] = ()) -> Estimate:
    """Price and expected seconds of all takes; the time is corrected by how long past runs of the engine took on this machine."""
    own = own_estimates(session, recipe, dials)
    factors = {key: _factor(session, key) for key, _ in own}
    return total([Estimate(e.sparks, e.seconds * factors[key]) for key, e in own])


def own_estimates(session: Session, recipe: Recipe, dials: Sequence[Dial] = ()) -> list[tuple[str, Estimate]]:
    """What the engines themselves say: of the recipe, or of each cell of a sweep."""
    parts = [recipe_at(recipe, dials, place).with_seed(0) for place in range(cells(dials))] if dials else [recipe]
    by_key = {key: engines.find(session, key) for key in {part.engine for part in parts}}
    return [(part.engine, by_key[part.engine].estimate(part)) for part in parts]


def total(estimates: list[Estimate]) -> Estimate:
    return Estimate(round(sum(e.sparks for e in estimates), 1), round(sum(e.seconds for e in estimates), 1))


def _factor(session: Session, engine: str) -> float:
    """How much longer than its engine said a run takes here: the median of the last ones; of all engines where this one has none."""
    return _median_factor(session, engine) or _median_factor(session, None) or 1.0


def _median_factor(session: Session, engine: str | None) -> float | None:
    query = (
        select(func.extract("epoch", Run.finished_at - Run.started_at), Run.expected_seconds, Run.attempts)
        .join(RecipeDocument, RecipeDocument.sha256 == Run.recipe_sha256)
        .where(Run.state == RunState.DONE, Run.started_at.is_not(None), Run.expected_seconds > 0)
    )
    if engine is not None:
        query = query.where(RecipeDocument.body["engine"].astext == engine)
    past = session.execute(query.order_by(Run.id.desc()).limit(_LEARN_FROM)).all()
    # a run keeps what the engine itself says, so the ratio is not taken against what was corrected already
    ratios = sorted(float(took) / expected for took, expected, attempts in past if took and attempts <= 1)
    return min(max(ratios[len(ratios) // 2], 0.1), 20.0) if ratios else None

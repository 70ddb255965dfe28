"""The states of a run: each step of its life follows on the one before, and no other does."""

import itertools

import pytest
from sqlalchemy.orm import Session

from mosskeeper.studio import runs, working
from mosskeeper.studio.run_states import ACTIVE, FOLLOWS, TROUBLED, RunState, after
from tests.conftest import SMALL, lay_out


def test_a_run_that_is_over_is_never_begun_again_and_one_in_trouble_waits_first() -> None:
    over = {RunState.DONE, RunState.STOPPED}
    for now, then in itertools.product(RunState, RunState):
        if now in over or (now in TROUBLED and then != RunState.WAITING):
            with pytest.raises(ValueError, match="does not become"):
                after(now, then)
    for state in TROUBLED:
        assert after(state, RunState.WAITING) == RunState.WAITING


def test_every_state_is_reached_and_every_active_one_can_end() -> None:
    reached = {RunState.WAITING, RunState.DRAWING}
    for _ in RunState:
        reached |= {then for now in reached for then in FOLLOWS[now]}
    assert reached == set(RunState)
    for state in ACTIVE:
        assert FOLLOWS[state] & {RunState.DONE, RunState.STOPPED}


def test_the_life_of_a_run_goes_along_the_table(db: Session) -> None:
    run = runs.create(db, lay_out(db), SMALL)
    begun = working.begin(db, run.id, "one")
    assert begun is not None and run.state == RunState.RUNNING
    assert working.begin(db, run.id, "two") is not None  # taken over
    runs.stop(db, run.id)
    assert run.state == RunState.STOPPING and working.begin(db, run.id, "three") is None
    assert run.state == "stopped"
    with pytest.raises(ValueError, match="stopped does not become done"):
        working.end(db, run, RunState.DONE)

"""The states of a run, and which of them follow on which.

waiting ─→ running ─→ done
   ↑  ↖      │  ↘─→ failed, held (back to waiting when the artist tries again)
   │   └─────┤  (a worker gave it back, or died)
drawing      └─→ stopping ─→ stopped
"""

from __future__ import annotations

from enum import StrEnum


class RunState(StrEnum):
    """drawing : of the demo while it is made, by nobody's wish. held : it needs the artist: an engine is away, workers died on it."""

    DRAWING = "drawing"
    WAITING = "waiting"
    RUNNING = "running"
    STOPPING = "stopping"
    DONE = "done"
    STOPPED = "stopped"
    FAILED = "failed"
    HELD = "held"


AT_WORK = (RunState.RUNNING, RunState.STOPPING)
ACTIVE = (RunState.WAITING, *AT_WORK)
TROUBLED = (RunState.HELD, RunState.FAILED)
FOLLOWS: dict[RunState, frozenset[RunState]] = {
    RunState.DRAWING: frozenset({RunState.RUNNING, RunState.DONE}),
    # a run can also be ended before anybody took it up
    RunState.WAITING: frozenset({RunState.RUNNING, RunState.STOPPED, RunState.HELD, RunState.FAILED, RunState.DONE}),
    # running again: another worker takes it up from one that is gone
    RunState.RUNNING: frozenset(
        {RunState.RUNNING, RunState.WAITING, RunState.STOPPING, RunState.DONE, RunState.STOPPED, RunState.FAILED, RunState.HELD}
    ),
    # what was finished before the wish to stop arrived is done; what went wrong meanwhile is told
    RunState.STOPPING: frozenset({RunState.STOPPED, RunState.DONE, RunState.FAILED, RunState.HELD}),
    RunState.DONE: frozenset(),
    RunState.STOPPED: frozenset(),
    RunState.FAILED: frozenset({RunState.WAITING}),
    RunState.HELD: frozenset({RunState.WAITING}),
}


def after(now: str, then: RunState) -> RunState:
    """The state to which a run goes. Raises ValueError where it does not follow on the present one."""
    if then not in FOLLOWS[RunState(now)]:
        raise ValueError(f"a run that is {now} does not become {then}")
    return then

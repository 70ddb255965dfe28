"""Measures every test outside of the browser, and writes down which `./moss test --quick` leaves out: python -m tools.slow_tests."""

from __future__ import annotations

import re
import subprocess
import sys
from collections import Counter
from collections.abc import Iterable
from pathlib import Path

_LONG = 0.2  # seconds with what is set up for it: hundreds of tests then take less than a minute
_LIST = Path(__file__).parents[1] / "tests" / "data" / "slow.txt"
_TOOK = re.compile(r"\s*([\d.]+)s (?:call|setup|teardown)\s+(\S+)")


def long_ones(lines: Iterable[str]) -> list[str]:
    """Tests, without their parameters, of which a case took long; from what pytest says of durations."""
    took: Counter[str] = Counter()
    for found in filter(None, map(_TOOK.match, lines)):
        took[found[2]] += float(found[1])
    return sorted({test.split("[")[0] for test, seconds in took.items() if seconds >= _LONG})


def main() -> None:
    command = [sys.executable, "-m", "pytest", "-n", "2", "--dist", "worksteal", "-m", "not browser", "--durations=0"]
    with subprocess.Popen([*command, "--durations-min=0.005"], stdout=subprocess.PIPE, text=True) as run:
        assert run.stdout is not None
        _LIST.write_text("\n".join(long_ones(run.stdout)) + "\n")


if __name__ == "__main__":
    main()

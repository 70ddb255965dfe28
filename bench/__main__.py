"""`./moss bench`: always exits 0; whether aims hold is told in the table and the JSON."""

from __future__ import annotations

import argparse
from pathlib import Path

from bench import doors, engine, faces, illustrator, kills, live, live_board, mend_pages, mends, pages, regions, subject
from bench.report import Row, publish

BENCHES = {"engine": engine.measure, "illustrator": illustrator.measure, "pages": pages.measure}
_SIEGES = {
    "kills": kills.measure,
    "doors": doors.measure,
    "live": live.measure,
    "live-board": live_board.measure,
    "mends": mends.measure,
    "mend-pages": mend_pages.measure,
    "faces": faces.measure,
    "regions": regions.measure,
    "subject": subject.measure,
}
_SLOW = (
    "fidelity",
    "reader",
    "kills",
    "doors",
    "live",
    "live-board",
    "mends",
    "mend-pages",
    "faces",
    "regions",
    "subject",
    "words",
)  # measured only when asked for by name; three have packages of their own


def _slow(name: str, quick: bool) -> list[Row]:
    if name in _SIEGES:
        return _SIEGES[name]()
    if name == "reader":
        from bench import reader

        return reader.measure()
    if name == "words":
        from bench import words

        return words.measure()
    from bench import fidelity

    return fidelity.measure(quick)


def main() -> None:
    parser = argparse.ArgumentParser(prog="moss bench", description="Measure speed; ratios and medians of several runs.")
    parser.add_argument("name", nargs="?", choices=(*BENCHES, *_SLOW), help="one bench; all but the slow ones without a name")
    parser.add_argument("--quick", action="store_true", help="fidelity: 5 seeds in place of 20")
    parser.add_argument("--json", type=Path, metavar="FILE", help="write the rows of all measured benches as JSON")
    arguments = parser.parse_args()
    names = [arguments.name] if arguments.name else list(BENCHES)
    rows = []
    for name in names:
        measured = _slow(name, arguments.quick) if name in _SLOW else BENCHES[name]()
        publish(name, measured, None)
        rows += measured
    if arguments.json:
        publish(arguments.name or "all", rows, arguments.json)


if __name__ == "__main__":
    main()

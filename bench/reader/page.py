"""The page in docs that the bench writes."""

from __future__ import annotations

import json
from pathlib import Path

from bench.report import Row
from mosskeeper.core.reading.weights import FOLDER

PAGE = Path(__file__).parents[2] / "docs" / "reader.md"
_MARK = "<!-- measured -->\n"


def write(rows: list[Row]) -> None:
    """Replaces the measured part of the page; what stands before it is written by hand."""
    card = json.loads((FOLDER / "card.json").read_text())
    verdict = {True: "holds", False: "**missed**", None: ""}
    lines = [f"| {r.row} | {r.aim.replace('<=', '≤').replace('>=', '≥')} | {r.value:.3g} {r.unit} | {verdict[r.holds]} |" for r in rows]
    trained = ", ".join(f"{kind} {told['minutes']:g} min, {told['steps']} steps" for kind, told in card["training"].items())
    head = (
        f"Weights `{card['version']}`, trained on {card['data']['drawings']} drawings of {card['data']['persons']} persons "
        f"and {card['data']['heads']} heads ({trained}).\n\n"
    )
    table = "| measured | aim | reached | |\n| --- | --- | --- | --- |\n" + "\n".join(lines) + "\n"
    kept = PAGE.read_text().split(_MARK)[0] if PAGE.exists() else "# The reader\n\n"
    PAGE.write_text(kept + _MARK + head + table)

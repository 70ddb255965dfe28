"""The bench's report and the contact sheets."""

import json
from itertools import count
from pathlib import Path

import cv2
import pytest
from bench import fidelity
from bench.report import median_seconds, publish, row

from mosskeeper.commands.sheets import SHEETS, make_sheets


@pytest.mark.parametrize(
    ("value", "aim", "holds"), [(0.5, "<= 0.6", True), (0.7, "<= 0.6", False), (3.0, ">= 3", True), (3.0, "> 3", False), (1.0, "", None)]
)
def test_a_row_judges_its_aim(value: float, aim: str, holds: bool | None) -> None:
    assert row("x", value, "s", aim).holds is holds


def test_a_published_bench_has_the_agreed_form(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    publish("engine", [row("take", 0.91, "s", "<= 2"), row("ratio", 12.5, "×")], tmp_path / "b.json")
    assert json.loads((tmp_path / "b.json").read_text()) == {
        "bench": "engine",
        "rows": [
            {"row": "take", "value": 0.91, "unit": "s", "aim": "<= 2", "holds": True},
            {"row": "ratio", "value": 12.5, "unit": "×", "aim": "", "holds": None},
        ],
    }
    printed = capsys.readouterr().out
    assert "holds" in printed
    assert "take" in printed


def test_the_page_of_the_fidelity_bench_tells_what_was_missed() -> None:
    told = fidelity.page([row("seam", 1.2, "×", "<= 1.5"), row("share", 0.4, "", ">= 0.9"), row("time", 3.0, "s")], 5)
    assert "over 5 seeds" in told
    assert "| seam | ≤ 1.5 | 1.2 × | holds |" in told
    assert "| share | ≥ 0.9 | 0.4  | **missed** |" in told
    assert "| time |  | 3 s |  |" in told


def test_a_median_leaves_the_first_call_out() -> None:
    calls = count()
    median_seconds(lambda: next(calls), runs=5)
    assert next(calls) == 6


def test_a_sheet_has_a_cell_for_every_entry(tmp_path: Path) -> None:
    (path,) = make_sheets(tmp_path, ["light"], 360)
    columns = SHEETS["light"].columns
    rows = -(-len(list(SHEETS["light"].cells())) // columns)
    height, width = cv2.imread(str(path)).shape[:2]
    assert (width, height) == (360, rows * (360 // columns) * 5 // 4)

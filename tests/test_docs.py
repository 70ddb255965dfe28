"""The docs name what there is."""

import json
import re
import subprocess
import sys
from importlib import import_module
from pathlib import Path

import pytest

from mosskeeper.commands.remote_stand_in import TEMPERS, create_stand_in
from mosskeeper.core.recipe import Recipe, read_recipe

ROOT = Path(__file__).parents[1]


def test_the_recipe_schema_in_the_docs_is_current() -> None:
    assert json.loads((ROOT / "docs/recipe.schema.json").read_text()) == Recipe.model_json_schema()


def test_the_contract_of_remote_engines_in_the_docs_is_current() -> None:
    told = json.loads((ROOT / "docs/remote-engine.json").read_text())
    assert told == json.loads(json.dumps(create_stand_in().openapi()))
    page = (ROOT / "docs/remote-engine.md").read_text()
    assert all(f"`{temper}`" in page for temper in TEMPERS if temper != "well")


@pytest.mark.process
def test_the_example_recipe_can_be_drawn(tmp_path: Path) -> None:
    recipe = read_recipe((ROOT / "docs/example-recipe.json").read_bytes())
    small = recipe.model_copy(update={"width": 256, "height": 320, "steps": 4})
    (tmp_path / "small.json").write_text(small.to_json())
    command = [sys.executable, "-m", "mosskeeper", "draw", str(tmp_path / "small.json"), "--seed", "3", "--out", str(tmp_path / "out")]
    done = subprocess.run(command, capture_output=True, text=True, check=True)
    made = sorted((tmp_path / "out").glob("*.png"))
    assert [p.name for p in made] == ["small-3.png", "small-4.png"]
    assert str(made[0]) in done.stdout
    again = subprocess.run([*command[:4], str(made[0]), "--out", str(tmp_path / "again")], capture_output=True, check=True)
    assert again.returncode == 0
    from mosskeeper.core.pictures.decode import decode

    first, second = (decode(p.read_bytes()).rgb_u8 for p in (made[0], next((tmp_path / "again").glob("*.png"))))
    assert first.tobytes() == second.tobytes()


def test_draw_tells_what_is_wrong(tmp_path: Path) -> None:
    (tmp_path / "bad.json").write_text('{"version": 1, "steps": 900}')
    done = subprocess.run(
        [sys.executable, "-m", "mosskeeper", "draw", str(tmp_path / "bad.json")], capture_output=True, text=True, check=False
    )
    assert done.returncode == 1
    assert "Steps must be at most 60." in done.stderr
    assert "Traceback" not in done.stderr


def test_every_setting_is_documented() -> None:
    used = set(re.findall(r'"(MOSS_[A-Z_]+)"', (ROOT / "src/mosskeeper/settings.py").read_text()))
    documented = set(re.findall(r"`(MOSS_[A-Z_]+)`", (ROOT / "docs/settings.md").read_text()))
    assert used == documented


def test_every_command_of_the_readme_exists() -> None:
    listed = subprocess.run([str(ROOT / "moss"), "help"], capture_output=True, text=True, check=True).stdout
    for command in ("demo", "serve", "worker", "draw", "sheets", "bench", "test", "check", "reset-demo", "remote-stand-in"):
        assert f"  {command} " in listed
        assert command in (ROOT / "README.md").read_text()


def test_links_of_the_docs_lead_somewhere() -> None:
    for page in (ROOT / "README.md", *(ROOT / "docs").glob("*.md")):
        for target in re.findall(r"\]\(([^)#:]+)\)", page.read_text()):
            assert (page.parent / target).exists(), f"{page.name}: {target}"


@pytest.mark.parametrize("name", ["requirements.lock", "requirements-test.lock"])
def test_python_lock_files_carry_hashes_and_no_address(name: str) -> None:
    text = (ROOT / name).read_text()
    assert "://" not in text
    assert text.count("==") <= text.count("--hash=sha256:")


def test_the_style_sheets_lock_file_names_no_source() -> None:
    assert '"resolved"' not in (ROOT / "package-lock.json").read_text()


def test_code_that_the_docs_name_is_there() -> None:
    """Paths of modules, and dotted names of what lies in core, studio and formats."""
    missing = []
    for page in sorted((ROOT / "docs").glob("*.md")):
        text = page.read_text()
        for path in re.findall(
            r"`((?:core|studio|web|queue|engines|formats|live_picture|commands|training|tests)/[\w/]+\.(?:py|mjs))`", text
        ):
            places = (ROOT / "src/mosskeeper" / path, ROOT / path)
            missing += [] if any(place.exists() for place in places) else [f"{page.name}: {path}"]
        for dotted in re.findall(r"`((?:core|studio|formats|engines)(?:\.\w+)+)`", text):
            missing += [] if _found(dotted) else [f"{page.name}: {dotted}"]
    assert missing == []


def _found(dotted: str) -> bool:
    parts = f"mosskeeper.{dotted}".split(".")
    for n in range(len(parts), 1, -1):
        try:
            thing = import_module(".".join(parts[:n]))
        except ModuleNotFoundError:
            continue
        for name in parts[n:]:
            fields = getattr(thing, "model_fields", {}) | getattr(thing, "__dataclass_fields__", {})
            if name in fields:
                return True
            thing = getattr(thing, name, None)
            if thing is None:
                return False
        return True
    return False

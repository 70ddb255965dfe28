"""The names of the roles. Each is a module of `roles/kinds`, so that adding one touches no list."""

from __future__ import annotations

from pathlib import Path

NAMES = tuple(sorted(path.stem for path in (Path(__file__).parent / "roles" / "kinds").glob("[a-z]*.py")))

"""Templates, and the few functions they may call."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import Any

from fastapi import Request
from fastapi.responses import HTMLResponse
from fastapi.templating import Jinja2Templates
from markupsafe import Markup

from mosskeeper.studio.models import Run
from mosskeeper.web import assets

_HERE = Path(__file__).parent
_templates = Jinja2Templates(_HERE)
_templates.env.trim_blocks = _templates.env.lstrip_blocks = True
_templates.env.auto_reload = False  # it would look at the file of every part, each time one is put in


def number(value: float, digits: int = 1) -> str:
    """12.0 → 12, 6.50 → 6.5."""
    return f"{round(value, digits):g}"


def seconds(value: float) -> str:
    return f"{value:.0f} s" if value < 90 else f"{value / 60:.0f} min"


def recipe_steps(run: Run) -> int:
    """Steps of one take of a run."""
    return run.steps // len(run.seeds)


_templates.env.globals |= {"static": assets.address, "recipe_steps": recipe_steps}
_templates.env.filters["number"] = number
_templates.env.filters["seconds"] = seconds


def wants_fragment(request: Request) -> bool:
    """True for requests by htmx, which get parts of pages."""
    return request.headers.get("hx-request") == "true" and request.headers.get("hx-history-restore-request") != "true"


def page(request: Request, name: str, context: Mapping[str, Any], status: int = 200) -> HTMLResponse:
    return _templates.TemplateResponse(request, name, dict(context), status_code=status)


def fragment(name: str, context: Mapping[str, Any]) -> Markup:
    return Markup(_templates.get_template(name).render(**context))


def parts(*html: str, status: int = 200) -> HTMLResponse:
    """Several `hx-partial`s in one answer."""
    return HTMLResponse("\n".join(html), status_code=status)


def part(target: str, html: str, swap: str = "innerHTML") -> str:
    return f'<hx-partial hx-target="#{target}" hx-swap="{swap}">{html}</hx-partial>'

"""Templates and what all of them need: the session's token, addresses, words, lists."""

from __future__ import annotations

import re
import secrets
from pathlib import Path
from typing import Any

from fastapi import Request
from fastapi.responses import HTMLResponse
from fastapi.templating import Jinja2Templates
from jinja2 import pass_context
from jinja2.ext import Extension
from jinja2.runtime import Context
from markupsafe import Markup

from stirrup.core.arrange.snap import REACH_M
from stirrup.core.units import SYSTEMS
from stirrup.web import links, present
from stirrup.web.assets import address

TEMPLATES = Jinja2Templates(Path(__file__).parent / "templates")
NOTHING_BELOW = re.compile(r"-(?=0(?:\.0*)?$)")


INDENT = re.compile(r"\n[ \t]+")


class Flush(Extension):
    """Takes the indentation off templates as they are read: it is for who reads them, and would
    only weigh. Values are not touched, and lines keep their numbers."""

    def preprocess(self, source: str, name: str | None, filename: str | None = None) -> str:
        return INDENT.sub("\n", source)


def _format(value: str, *args: Any) -> str:
    """Jinja's own filter, without a sign before what is rounded to nothing."""
    return NOTHING_BELOW.sub("", value % args)


@pass_context
def csrf_field(context: Context) -> Markup:
    """The field that shows that a form came from one of our pages. Raises KeyError without a token."""
    return Markup('<input type="hidden" name="csrf_token" value="{}">').format(context["csrf"])


@pass_context
def base_field(context: Context) -> Markup:
    """The revision that a form was drawn from."""
    return Markup('<input type="hidden" name="base" value="{}">').format(context["stored"].number)


TEMPLATES.env.add_extension(Flush)
TEMPLATES.env.auto_reload = False  # each part of each page would be looked for on the disk
TEMPLATES.env.filters["format"] = _format
TEMPLATES.env.globals |= {"csrf_field": csrf_field, "base_field": base_field, "links": links}


def csrf_token(request: Request) -> str:
    """The session's token, made on first use."""
    token = request.session.get("csrf")
    if not token:
        token = request.session["csrf"] = secrets.token_urlsafe(24)
    return str(token)


def render(request: Request, template: str, context: dict[str, Any], status: int = 200) -> HTMLResponse:
    """A page, with what all templates need."""
    shared = {
        "csrf": csrf_token(request),
        "static": address(),
        "p": present,
        "systems": SYSTEMS,
        "snap_reach_m": REACH_M,
        "own_name": request.session.get("name", ""),
    }
    return TEMPLATES.TemplateResponse(request, template, {**shared, **context}, status_code=status)


def fragment(template: str, context: dict[str, Any]) -> str:
    """A part of a page as HTML text."""
    return TEMPLATES.env.get_template(template).render(p=present, **context)


def macro(template: str, name: str, *values: object) -> str:
    """What a macro writes that asks nothing of the page around it: quicker than a page of its own."""
    return str(getattr(TEMPLATES.env.get_template(template).module, name)(*values, present))

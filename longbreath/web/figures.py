"""Filters and helpers by which templates show quantities, times and workings."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from flask import Flask, request, url_for
from markupsafe import Markup

from longbreath.core import units, working
from longbreath.core.constants import RPM
from longbreath.drawing.marks import interval_mark
from longbreath.web.forms import system


def quantity(value: float | None, kind: str, uncertainty: float | None = None) -> str:
    """An SI value in the viewer's unit with its symbol; a dash for none."""
    return "–" if value is None else units.show(value, kind, system(), uncertainty)


def number(value: float | None, kind: str, uncertainty: float | None = None) -> str:
    """As `quantity`, without the symbol."""
    return "–" if value is None else units.show_number(value, kind, system(), uncertainty)


def unit(kind: str) -> str:
    """The viewer's unit symbol of a kind."""
    return units.kind_named(kind).symbol(system())


def rpm(value: float) -> str:
    """A speed [rad/s] in revolutions per minute."""
    return units.tidy_number(value / RPM, 0)


def day(value: date | datetime | None) -> str:
    """A date for people."""
    return "–" if value is None else f"{value.day} {value:%b %Y}"


def moment(value: datetime) -> str:
    """Date and time for the log strip."""
    return f"{value.day} {value:%b %H:%M}"


def with_args(**changes: Any) -> str:
    """The present address with some query arguments changed (None removes one)."""
    arguments: dict[str, Any] = {**request.args.to_dict(flat=False), **(request.view_args or {}), **changes}
    kept = {key: value for key, value in arguments.items() if value is not None}
    return url_for(request.endpoint or "coverage.home", **kept)


def working_value(item: Any) -> str:
    """The value of a line of a working in the viewer's units."""
    return working.shown(item, system())


def subscripts(symbol: str) -> Markup:
    """A symbol like "V_d" with its index set low."""
    head, _, tail = symbol.partition("_")
    return Markup("{}<sub>{}</sub>").format(head, tail) if tail else Markup("{}").format(head)


def init_figures(app: Flask) -> None:
    """Register the filters."""
    filters = (quantity, number, rpm, day, moment, working_value, subscripts)
    app.jinja_env.filters.update({f.__name__: f for f in filters})
    app.jinja_env.globals.update(unit_symbol=unit, with_args=with_args, system=system, interval_mark=interval_mark)

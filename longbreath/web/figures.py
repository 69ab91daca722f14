"""Filters and helpers by which templates show quantities, times and workings."""

from __future__ import annotations

import re
from collections.abc import Iterable
from datetime import date, datetime
from typing import Any
from urllib.parse import quote, urlencode

from flask import Flask, g, request
from markupsafe import Markup, escape

from longbreath.core.basis import units, working
from longbreath.core.basis.constants import RPM
from longbreath.core.basis.sentence import counted
from longbreath.dossier import naming
from longbreath.drawing.marks import interval_mark
from longbreath.web.forms import system


def quantity(value: float | None, kind: str, uncertainty: float | None = None) -> str:
    """An SI value in the viewer's unit with its symbol; a dash for none."""
    return "–" if value is None else units.show(value, kind, system(), uncertainty)


def share_words(value: float) -> str:
    """A share as so many of a hundred."""
    return f"{value * 100:.0f}" if value >= 0.005 else "under 1"


def rough(value: float | None, kind: str) -> str:
    """As `quantity`, with two significant digits: for spreads and known noise."""
    if value is None:
        return "–"
    gap = units.show_number(value, kind, system(), difference=True, significant=2)
    return f"{gap}\u00a0{unit(kind)}"


def difference(value: float, kind: str) -> str:
    """A difference of two SI values in the viewer's unit, with its sign and without the unit."""
    return units.show_number(value, kind, system(), signed=True, difference=True, significant=2)


def lift(value: float) -> str:
    """A valve lift in the digits people set it in: thousandths of an inch or hundredths of a millimetre."""
    return units.show_number(value, "length", system(), decimals=3 if system() == "us" else 2)


def deviation(value: float | None, decimals: int = 1) -> str:
    """A share as a signed percentage: "−0.4 %"; an empty text for none."""
    return "" if value is None else units.show(value, "percent", system(), signed=True, decimals=decimals)


def number(value: float | None, kind: str, uncertainty: float | None = None) -> str:
    """As `quantity`, without the symbol."""
    return "–" if value is None else units.show_number(value, kind, system(), uncertainty)


def unit(kind: str) -> str:
    """The viewer's unit symbol of a kind."""
    return units.kind_named(kind).symbol(system())


def rpm(value: float) -> str:
    """A speed [rad/s] in revolutions per minute."""
    return units.tidy_number(value / RPM, 0)


def day(value: date | None) -> str:
    """A day as people write it; nothing for none."""
    return naming.day(value) if value else ""


def of_the_day(session: naming.Held, sessions: Iterable[naming.Held]) -> str:
    """What a session is called among the others."""
    return naming.session_names(sessions)[session.id]


def moment(value: datetime) -> str:
    """Date and time for the log strip."""
    return f"{value.day} {value:%b %H:%M}"


def with_args(**changes: Any) -> str:
    """The present address with some query arguments changed (None removes one)."""
    if "address" not in g:
        g.address = quote(request.path), request.args.to_dict(flat=False)  # asked for with every figure of a page
    path, asked = g.address
    kept = {key: value for key, value in {**asked, **changes}.items() if value is not None}
    return f"{path}?{urlencode(kept, doseq=True)}" if kept else path


def working_value(item: Any) -> str:
    """The value of a line of a working in the viewer's units."""
    return working.shown(item, system())


def subscripts(symbol: str) -> Markup:
    """A symbol or formula with its indices ("V_d") set low."""
    return Markup(re.sub(r"_([^\W_]+[′]?)", r"<sub>\1</sub>", str(escape(symbol))))


def init_figures(app: Flask) -> None:
    """Register the filters."""
    filters = (
        quantity,
        number,
        rough,
        share_words,
        deviation,
        difference,
        lift,
        rpm,
        day,
        moment,
        working_value,
        subscripts,
        counted,
        of_the_day,
    )
    app.jinja_env.filters.update({f.__name__: f for f in filters})
    app.jinja_env.globals.update(unit_symbol=unit, with_args=with_args, system=system, interval_mark=interval_mark)

"""The printed sheet of a claim, its picture with the address as a code, and its badge: pure functions of the frozen sheet."""

from __future__ import annotations

import io
from collections.abc import Mapping
from dataclasses import asdict, dataclass
from html import escape
from pathlib import Path
from typing import Any

import segno
from jinja2 import Environment, FileSystemLoader

TEMPLATES = Path(__file__).parent / "templates"
_printing = Environment(
    loader=FileSystemLoader(TEMPLATES),
    autoescape=True,
    trim_blocks=True,
    lstrip_blocks=True,
    keep_trailing_newline=True,
)


@dataclass(frozen=True)
class State:
    """How a sheet stands when it is shown: state, days as they are written ("" where there is none), who; what changed, what it would
    read now, and the address of a newer one."""

    name: str = ""
    published_on: str = ""
    drafted_by: str = ""
    approved_by: str = ""
    ended_on: str = ""
    why: str = ""
    by: str = ""
    changed: str = ""
    now: str = ""
    due_on: str = ""


def printed_html(snapshot: Mapping[str, Any], shape: int, state: State, address: str) -> str:
    """The sheet as a page to be set as PDF; always the same for the same sheet, state and address."""
    code = qr_svg(address) if address else ""
    template = _printing.get_template("sheet/printed.html")
    return template.render(snap=snapshot, shape=shape, state=asdict(state), address=address, code=code)


def qr_svg(address: str) -> str:
    """An address as a QR code (SVG). Source: ISO/IEC 18004, by segno."""
    out = io.BytesIO()
    segno.make(address, error="m", micro=False).save(out, kind="svg", xmldecl=False, svgns=True, nl=False, scale=4)
    return out.getvalue().decode()


SEALS = {
    "published": ("measured, and holds", "#1C6E78"),
    "questioned": ("evidence changed", "#8A5A00"),
    "withdrawn": ("withdrawn", "#5F5B53"),
    "superseded": ("superseded", "#5F5B53"),
}
"""What a badge says, and its colour, by how a claim stands."""


def badge_svg(title: str, standing: str) -> str:
    """A small picture for a shop's page: which claim it is, and how it stands at this moment."""
    words, colour = SEALS[standing]
    title = title if len(title) <= 44 else title[:43] + "…"
    width = 24 + 7 * max(len(title), len(words) + 16)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}" height="46" role="img" '
        f'aria-label="{escape(title)}: {words}"><rect x=".5" y=".5" width="{width - 1}" height="45" fill="#FCFAF5" '
        f'stroke="{colour}"/><rect width="5" height="46" fill="{colour}"/>'
        f'<text x="15" y="19" font-family="Archivo, sans-serif" font-size="13" fill="#22262B">{escape(title)}</text>'
        f'<text x="15" y="36" font-family="Archivo, sans-serif" font-size="12" fill="{colour}">Claim sheet: {words}</text></svg>'
    )

"""Views of the measured path in Reckon: Mach number section by section, the row of bores; and the register of timings."""

from __future__ import annotations

from typing import Any

from flask import request

from longbreath.core.basis.constants import RPM
from longbreath.core.path.choking import PEAK
from longbreath.dossier.reckon import streams
from longbreath.dossier.reckon import timings as register
from longbreath.dossier.reckon.records import records_of
from longbreath.drawing import streams as picture
from longbreath.web.guard import load_application
from longbreath.web.page import page
from longbreath.web.transaction import db


def sections(application_id: int) -> Any:
    """Air in every measured section at once, where it chokes first, and what each piece costs."""
    application = load_application(application_id)
    records = records_of(db(), application)
    which = request.args.get("side", application.product.side)
    which = which if which in ("intake", "exhaust") else application.product.side
    found = streams.streams_of(records, which)
    return page(
        "reckon/sections.html",
        found.figures if found is not None else {},
        found=found,
        fastest=found.fastest if found is not None else {},
        which=which,
        picture=_picture(found) if found is not None and found.top is not None else None,
    )


def _picture(found: streams.Streams) -> Any:
    flowing = [line for line in found.lines if line.side is not None]
    top = flowing[-1].side
    assert top is not None
    rows = []
    for piece in top.pieces:
        machs = []
        for line in flowing:
            stations = [s.mach for s in line.side.stations if s.key == piece.element.key] if line.side else []
            machs.append((stations[0], stations[-1]))
        rows.append(picture.Section(piece.element.name, tuple(machs)))
    words = [f"{line.speed / RPM:.0f} rpm" for line in flowing]
    return picture.streams(rows, words, 1.0 / PEAK, found.which)


def bores(application_id: int) -> Any:
    """The row of bores that the air passes, and what enlarging one is worth."""
    application = load_application(application_id)
    chain = streams.chain_of(records_of(db(), application))
    return page("reckon/bores.html", chain.figures if chain is not None else {}, chain=chain)


def timings() -> Any:
    """Measured timings of all vehicles side by side, with the makers' words beside the measured meaning."""
    kind, use = request.args.get("kind", ""), request.args.get("use", "")
    found = register.register_of(db(), kind, use)
    kinds, uses = register.kinds_and_uses(db())
    figures = {f"total-{t.sheet.id}-{p.port}": p.total for t in found for p in t.ports}
    return page("reckon/timings.html", figures, found=found, kinds=kinds, uses=uses, kind=kind, use=use)

"""The sheet: as it will be published, at its public address, and as PDF. Published ones are drawn from their snapshot alone."""

from __future__ import annotations

import io
from collections.abc import Mapping
from threading import Lock
from typing import Any

from cachetools import LRUCache, cached
from flask import abort, render_template, send_file

from longbreath.core.basis.working import from_dict
from longbreath.dossier.claim import reads
from longbreath.dossier.claim.sheet import SHAPE, content, with_picture
from longbreath.dossier.evidence.verdict import published, stale_claims
from longbreath.drawing import charts
from longbreath.formats import pdf
from longbreath.store.models import Claim
from longbreath.web.assets import DIST
from longbreath.web.guard import load_application, load_part
from longbreath.web.transaction import db


def _rendered(claim: Claim, snapshot: Mapping[str, Any], shape: int, printed: bool = False) -> str:
    workings = [
        (f, from_dict(f["working"])) for f in (*snapshot["figures"], *snapshot["locals"], snapshot["correction"])
    ]
    return render_template(
        "claim/printed.html" if printed else "claim/sheet.html",
        claim=claim,
        snap=snapshot,
        shape=shape,
        stale=bool(stale_claims(db(), published([claim]))),
        workings=workings,
        theme="paper",
        hatches=charts.hatches("paper"),
    )


def preview(application_id: int, claim_id: int) -> Any:
    """The sheet as it would be published now."""
    application = load_application(application_id)
    claim = load_part(Claim, claim_id, application)
    draft = reads.draft_of(db(), application, claim)
    return _rendered(claim, with_picture(draft, content(draft)), SHAPE)


def _published(slug: str) -> tuple[Claim, Mapping[str, Any], int]:
    claim = reads.by_slug(db(), slug)
    if claim is None or claim.sheet is None:
        abort(404)
    return claim, claim.sheet.snapshot, claim.sheet.shape


def sheet(slug: str) -> Any:
    """The public sheet, and whether its evidence has changed since."""
    return _rendered(*_published(slug))


def printed(slug: str) -> Any:
    """The same sheet as PDF."""
    claim, snapshot, shape = _published(slug)
    html = _rendered(claim, snapshot, shape, printed=True)
    return send_file(io.BytesIO(_set(html)), "application/pdf", download_name=f"{slug}.pdf")


@cached(LRUCache(16), lock=Lock())
def _set(html: str) -> bytes:
    """A page set as PDF; the same page is set once."""
    return pdf.to_pdf(html, DIST)

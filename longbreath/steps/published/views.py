"""The sheet at its public address, as PDF, its bundle, badge, code, and state for the pages of others."""

from __future__ import annotations

import io
import json
from threading import Lock
from typing import Any

from cachetools import LRUCache, cached
from flask import Response, abort, render_template, send_file, url_for

from longbreath.core.basis.working import from_dict
from longbreath.dossier.claim import bundle as bundles
from longbreath.dossier.claim import public
from longbreath.dossier.claim.watch import Standing
from longbreath.drawing import charts
from longbreath.drawing.sheets import SEALS, badge_svg, printed_html, qr_svg
from longbreath.formats import pdf
from longbreath.steps.published.answers import tagged
from longbreath.steps.published.schema import sheet_ld
from longbreath.store.models import Claim
from longbreath.web.addresses import outside_address
from longbreath.web.assets import DIST
from longbreath.web.transaction import db


def _found(slug: str) -> tuple[Claim, Standing]:
    found = public.sheet_of(db(), slug)
    if found is None:
        abort(404)
    return found


def _address(slug: str, endpoint: str = "published.sheet") -> str:
    return outside_address(url_for(endpoint, slug=slug))


def _newer(claim: Claim) -> dict[str, str]:
    slug = public.newer_of(db(), claim)
    return {slug: _address(slug)} if slug else {}


def sheet(slug: str) -> Any:
    """The public sheet: as it was approved, and how it stands at this moment."""
    claim, stands = _found(slug)
    return tagged(public.tag_of(db(), claim, stands), lambda: _rendered(claim, stands))


def _rendered(claim: Claim, stands: Standing) -> str:
    assert claim.sheet is not None
    snap = claim.sheet.snapshot
    figures = [*snap["figures"], *snap["locals"], *([snap["correction"]] if snap.get("correction") else [])]
    address = _address(claim.slug)
    return render_template(
        "published/sheet.html",
        claim=claim,
        snap=snap,
        shape=claim.sheet.shape,
        state=public.state_of(db(), claim, stands, _newer(claim)),
        workings=[(f, from_dict(f["working"])) for f in figures],
        bundle=bundles.bundle_of(db(), claim),
        address=address,
        snippet=_snippet(claim.slug, f"{snap['product']} on {snap['vehicle']}"),
        data=sheet_ld(claim, stands, address),
        hatches=charts.hatches("paper"),
        theme="paper",
    )


def _snippet(slug: str, title: str) -> str:
    """What a shop pastes into its page: a link with the live badge."""
    picture, sheet_at = _address(slug, "published.badge"), _address(slug)
    safe = title.replace("&", "&amp;").replace('"', "&quot;").replace("<", "&lt;")
    return f'<a href="{sheet_at}"><img src="{picture}" alt="Claim sheet: {safe}" height="46"></a>'


def printed(slug: str) -> Any:
    """The same sheet as PDF, with how it stands."""
    claim, stands = _found(slug)

    def made() -> Any:
        assert claim.sheet is not None
        state = public.state_of(db(), claim, stands, _newer(claim))
        html = printed_html(claim.sheet.snapshot, claim.sheet.shape, state, _address(slug))
        return send_file(io.BytesIO(_set(html)), "application/pdf", download_name=f"{slug}.pdf")

    return tagged(public.tag_of(db(), claim, stands), made)


@cached(LRUCache(16), lock=Lock())
def _set(html: str) -> bytes:
    """A page set as PDF; the same page is set once."""
    return pdf.to_pdf(html, DIST)


def bundle(slug: str) -> Any:
    """The evidence bundle; of a withdrawn claim it stays, because what was said must stay open to a check."""
    claim, _ = _found(slug)
    kept = bundles.bundle_of(db(), claim)
    if kept is None:
        abort(404)

    def made() -> Any:
        data = io.BytesIO(bundles.content(db(), kept))
        return send_file(data, "application/zip", as_attachment=True, download_name=f"{slug}.zip")

    return tagged(kept.sha256[:32], made, 3600)


def badge(slug: str) -> Any:
    """A small picture that says how the claim stands at this moment."""
    claim, stands = _found(slug)
    assert claim.sheet is not None
    title = f"{claim.sheet.snapshot['product']} {claim.sheet.snapshot['revision']}"
    word = public.standing_word(stands)
    return tagged(
        f"badge-{word}-{claim.sheet.read[:16]}", lambda: Response(badge_svg(title, word), mimetype="image/svg+xml")
    )


def code(slug: str) -> Any:
    """The address of the sheet as a QR code."""
    _found(slug)
    return tagged(f"code-{slug}", lambda: Response(qr_svg(_address(slug)), mimetype="image/svg+xml"), 3600)


def state(slug: str) -> Any:
    """How the claim stands, for the pages of others."""
    claim, stands = _found(slug)
    assert claim.sheet is not None
    word = public.standing_word(stands)
    told = {
        "sheet": _address(slug),
        "standing": word,
        "words": SEALS[word][0],
        "changed": stands.changed or stands.why,
        "statement": claim.sheet.snapshot["statement"] if word == "published" else "",
        "newer": next(iter(_newer(claim).values()), ""),
    }
    body = json.dumps(told, ensure_ascii=False, sort_keys=True)
    return tagged(public.tag_of(db(), claim, stands), lambda: Response(body, mimetype="application/json"))


def embed(slug: str) -> Any:
    """A small page for a frame in another's: the statement while it holds, and how the claim stands."""
    claim, stands = _found(slug)
    assert claim.sheet is not None
    word = public.standing_word(stands)
    html = render_template(
        "published/embed.html", snap=claim.sheet.snapshot, word=word, words=SEALS[word][0], address=_address(slug)
    )
    response = tagged(public.tag_of(db(), claim, stands), lambda: html)
    response.headers["Content-Security-Policy"] = (
        "default-src 'none'; style-src 'self'; font-src 'self'; frame-ancestors *"
    )
    response.headers.pop("X-Frame-Options", None)
    return response

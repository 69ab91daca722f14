"""Structured data for search engines. Source: schema.org (Claim, CreativeWork), of which the terms in use are shipped as a context."""

from __future__ import annotations

import json
from typing import Any

from markupsafe import Markup

from longbreath.dossier.claim.watch import Standing
from longbreath.store.models import Claim

TERMS = (
    "Claim",
    "Dataset",
    "Organization",
    "Product",
    "Vehicle",
    "about",
    "author",
    "creativeWorkStatus",
    "dateModified",
    "datePublished",
    "expires",
    "isBasedOn",
    "itemListElement",
    "name",
    "text",
    "url",
)
CONTEXT: dict[str, Any] = {
    "@context": {
        "@vocab": "https://schema.org/",
        **{term: f"https://schema.org/{term}" for term in TERMS},
        "url": {"@id": "https://schema.org/url", "@type": "@id"},
        "isBasedOn": {"@id": "https://schema.org/isBasedOn", "@type": "@id"},
    }
}
"""The terms that our structured data uses."""


def sheet_ld(claim: Claim, stands: Standing, address: str) -> Markup:
    """A published claim as structured data, safe inside a script element; one that does not hold says so and carries no statement."""
    assert claim.sheet is not None
    snap = claim.sheet.snapshot
    status = "Published" if stands.holds else "Withdrawn" if stands.state == "withdrawn" else "Questioned"
    data: dict[str, Any] = {
        "@context": "https://schema.org/",
        "@type": "Claim",
        "name": f"{snap['product']} {snap['revision']} on {snap['vehicle']}",
        "url": address,
        "datePublished": claim.sheet.published_at.date().isoformat(),
        "dateModified": claim.acts[-1].at.date().isoformat(),
        "creativeWorkStatus": "Superseded" if stands.state == "superseded" else status,
        "isBasedOn": f"{address}/bundle.zip",
        "about": [
            {"@type": "Product", "name": f"{snap['product']} {snap['revision']}"},
            {"@type": "Vehicle", "name": snap["vehicle"]},
        ],
    }
    if stands.holds:
        data["text"] = snap["statement"]
    if snap.get("house"):
        data["author"] = {"@type": "Organization", "name": snap["house"]}
    if claim.sheet.retest_on is not None:
        data["expires"] = claim.sheet.retest_on.isoformat()
    text = json.dumps(data, ensure_ascii=False, sort_keys=True)
    return Markup(text.replace("<", "\\u003c").replace(">", "\\u003e").replace("&", "\\u0026"))

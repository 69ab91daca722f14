"""The index of all claims of the house, its feeds, and the keys that bundles are signed with."""

from __future__ import annotations

import csv
import io
import json
from datetime import UTC, datetime
from typing import Any
from xml.sax.saxutils import escape

from flask import Response, render_template, request, url_for

from longbreath.dossier.claim import public
from longbreath.dossier.claim.keys import keys_of
from longbreath.dossier.claim.public import Listed
from longbreath.dossier.records.house import rules_of
from longbreath.proof.pack import fingerprint
from longbreath.steps.published.answers import tagged
from longbreath.steps.published.schema import CONTEXT
from longbreath.web.addresses import outside_address
from longbreath.web.transaction import db

COLUMNS = ("sheet", "part", "vehicle", "kind", "standing", "changed", "published", "modified", "statement")


def _address(row: Listed) -> str:
    return outside_address(url_for("published.sheet", slug=row.slug))


def _row(row: Listed) -> dict[str, str]:
    return {
        "sheet": _address(row),
        "part": row.product,
        "vehicle": row.vehicle,
        "kind": row.kind,
        "standing": row.standing,
        "changed": row.changed,
        "published": row.published_at.date().isoformat(),
        "modified": row.at.isoformat(timespec="seconds"),
        "statement": row.statement if row.standing == "published" else "",
    }


def index() -> Any:
    """Every claim of the house, by vehicle and part."""
    rows = public.listed(db())
    wanted = {name: request.args.get(name, "") for name in ("vehicle", "part")}
    kept = [r for r in rows if wanted["vehicle"] in ("", r.vehicle) and wanted["part"] in ("", r.product)]
    tag = public.tag_of_list(kept)
    return tagged(
        tag,
        lambda: render_template(
            "published/index.html",
            rows=kept,
            vehicles=sorted({r.vehicle for r in rows}),
            parts=sorted({r.product for r in rows}),
            wanted=wanted,
            house=rules_of(db()).house,
            theme="paper",
        ),
    )


def as_json() -> Any:
    """The index for a web shop."""
    rows = public.listed(db())
    told = {"claims": [_row(row) for row in rows], "keys": outside_address(url_for("published.keys"))}
    body = json.dumps(told, ensure_ascii=False, indent=1)
    return tagged(public.tag_of_list(rows), lambda: Response(body, mimetype="application/json"))


def as_csv() -> Any:
    """The index as a table."""
    rows = public.listed(db())
    out = io.StringIO()
    writer = csv.DictWriter(out, COLUMNS)
    writer.writeheader()
    for row in rows:
        writer.writerow({name: _plain(text) for name, text in _row(row).items()})
    return tagged(public.tag_of_list(rows), lambda: Response(out.getvalue(), mimetype="text/csv"))


def _plain(text: str) -> str:
    """A cell that no spreadsheet reads as a formula."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@") else text


def as_atom() -> Any:
    """What changed, newest first: published, questioned, superseded, withdrawn. Source: RFC 4287."""
    rows = sorted(public.listed(db()), key=lambda row: row.at, reverse=True)[:100]
    here = outside_address(url_for("published.as_atom"))
    house = rules_of(db()).house or "Long Breath"
    newest = rows[0].at if rows else datetime(2000, 1, 1, tzinfo=UTC)
    parts = [
        '<?xml version="1.0" encoding="utf-8"?>',
        '<feed xmlns="http://www.w3.org/2005/Atom">',
        f"<title>Claims of {escape(house)}</title><id>{escape(here)}</id>",
        f'<link rel="self" href="{escape(here)}"/><updated>{newest.isoformat(timespec="seconds")}</updated>',
        f"<author><name>{escape(house)}</name></author>",
        *(_entry(row) for row in rows),
        "</feed>",
    ]
    return tagged(public.tag_of_list(rows), lambda: Response("\n".join(parts), mimetype="application/atom+xml"))


def _entry(row: Listed) -> str:
    sheet = escape(_address(row))
    words = row.statement if row.standing == "published" else row.changed
    return (
        f"<entry><title>{escape(row.title)}: {row.standing}</title><id>{sheet}#{row.standing}-{row.at:%Y%m%d%H%M%S}</id>"
        f'<link href="{sheet}"/><updated>{row.at.isoformat(timespec="seconds")}</updated>'
        f"<published>{row.published_at.isoformat(timespec='seconds')}</published>"
        f'<category term="{escape(row.standing)}"/><summary>{escape(words)}</summary></entry>'
    )


def keys() -> Any:
    """The public halves of the house's signing keys, newest first, at a stable address."""
    rows = keys_of(db())
    told = [
        {
            "algorithm": "Ed25519",
            "public_key": row.public,
            "fingerprint": fingerprint(row.public),
            "since": f"{row.made_at:%Y-%m-%d}",
        }
        for row in rows
    ]
    body = json.dumps({"keys": told}, indent=1)
    return tagged(
        f"keys-{len(rows)}-{rows[0].public[:16] if rows else ''}", lambda: Response(body, mimetype="application/json")
    )


def context() -> Any:
    """The terms of our structured data, so that nobody has to fetch them elsewhere."""
    body = json.dumps(CONTEXT, indent=1, sort_keys=True)
    return tagged("context-1", lambda: Response(body, mimetype="application/ld+json"), 86400)

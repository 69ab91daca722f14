"""The page on which anybody checks a bundle: it is read in a process of its own, and kept nowhere."""

from __future__ import annotations

from typing import Any

from flask import render_template, request

from longbreath.core.basis.errors import InputError
from longbreath.dossier.claim.keys import keys_of
from longbreath.proof.apart import verified
from longbreath.web.transaction import db


def check() -> Any:
    """Check a bundle that was dropped here."""
    report, problem, status = None, "", 200
    if request.method == "POST":
        sent = request.files.get("bundle")
        try:
            if sent is None or not sent.filename:
                raise InputError("Choose a bundle: a ZIP that a sheet offers.", "bundle")
            report = verified(sent.read(), [row.public for row in keys_of(db())])
        except InputError as error:
            problem, status = error.message, 422
    html = render_template("published/check.html", report=report, problem=problem, theme="paper")
    return html, status

"""Views of the sentence register."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from typing import Any

from flask import Response, abort, redirect, request, url_for
from flask_wtf.file import FileField
from wtforms import SelectField, StringField, TextAreaField
from wtforms.validators import DataRequired, Length, Optional

from longbreath.core.basis.errors import InputError
from longbreath.core.claim.selling.against import VERDICTS
from longbreath.core.claim.selling.read import MOST_LETTERS
from longbreath.dossier.claim import words
from longbreath.dossier.coverage import application_names
from longbreath.formats import prose
from longbreath.store.models import SellingText
from longbreath.web.forms import BaseForm, options
from longbreath.web.page import page
from longbreath.web.saving import Saved, save
from longbreath.web.transaction import db

COLUMNS = ("text", "place", "sentence", "about", "verdict", "why", "arithmetic", "what may be said")


class TextForm(BaseForm):
    """A page of selling text, pasted or as a file."""

    title = StringField(
        "Where it stands", [DataRequired("Give it a name."), Length(max=120)], description="page, brochure, box"
    )
    application_id = SelectField("About", description="a line that names a part speaks of it until another is named")
    text = TextAreaField("Text", [Optional(), Length(max=MOST_LETTERS)])
    file = FileField("Or a file", description="text, HTML, or a CSV of sentences")


def _form(**given: Any) -> TextForm:
    form = TextForm(**given)
    form.application_id.choices = options([("", "as the text names them"), *application_names(db()).items()])
    return form


def overview() -> Any:
    """The texts of the house, each with how its sentences stand."""
    return _overview(_form(formdata=None), Saved(False))


def _overview(form: TextForm, saved: Saved) -> Any:
    texts = [words.look(db(), row) for row in words.texts_of(db())]
    return page("words/overview.html", texts=texts, form=form, conflict=saved.conflict, status=saved.status)


def add() -> Any:
    """Take in a page."""
    form = _form()

    def keep() -> SellingText:
        text = form.text.data or ""
        if form.file.data and form.file.data.filename:
            text = prose.read(form.file.data.filename, form.file.data.read(prose.MOST_BYTES + 1))
        if not text.strip():
            raise InputError("Paste the text, or choose a file.", "text")
        chosen = form.application_id.data
        return words.save_text(db(), form.title.data, text, int(chosen) if chosen else None)

    saved = save(form, None, keep)
    return redirect(url_for("words.text", text_id=saved.result.id)) if saved.done else _overview(form, saved)


def _text(text_id: int) -> words.Text:
    row = db().get(SellingText, text_id)
    if row is None:
        abort(404)
    return words.look(db(), row)


def text(text_id: int) -> Any:
    """A text, sentence by sentence beside the evidence."""
    found, only = _text(text_id), request.args.get("only", "")
    return page("words/text.html", found=found, only=only, verdicts=VERDICTS)


def text_csv(text_id: int) -> Any:
    """The same as a table."""
    return _table([_text(text_id)], "sentences")


def _every() -> list[words.Text]:
    return [words.look(db(), row) for row in words.texts_of(db())]


def catalogue() -> Any:
    """Every sentence of every text as one list."""
    only, texts = request.args.get("only", ""), _every()
    totals = [(v, sum(dict(t.counts())[v] for t in texts)) for v in VERDICTS]
    return page("words/catalogue.html", texts=texts, only=only, totals=totals)


def catalogue_csv() -> Any:
    """The whole catalogue as a table."""
    return _table(_every(), "catalogue")


def _table(texts: Iterable[words.Text], name: str) -> Response:
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(COLUMNS)
    for found in texts:
        for row in found.rows:
            about = row.application.audit_title if row.application is not None else ""
            sums = "; ".join(f"{said}{'' if right else ' (does not come out)'}" for said, right in row.judged.sums)
            cells = (found.row.title, row.place, row.judged.said.text, about, row.judged.verdict, row.judged.why, sums)
            writer.writerow([_plain(str(cell)) for cell in (*cells, row.judged.offer)])
    headers = {"Content-Disposition": f'attachment; filename="{name}.csv"'}
    return Response(out.getvalue(), mimetype="text/csv", headers=headers)


def _plain(cell: str) -> str:
    """A cell that no spreadsheet reads as a formula."""
    return f"'{cell}" if cell[:1] in ("=", "+", "-", "@", "\t", "\r") else cell

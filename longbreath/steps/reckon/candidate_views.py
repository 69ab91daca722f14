"""Views of the candidates for a target."""

from __future__ import annotations

from typing import Any

from flask import flash, redirect, request, url_for

from longbreath.core.basis import units
from longbreath.core.reckon.assess import GO
from longbreath.core.reckon.candidates import FAMILIES, Column, family_of
from longbreath.core.reckon.rests import WORDS, Known
from longbreath.dossier.reckon import candidates, targets
from longbreath.dossier.reckon.records import records_of
from longbreath.steps.reckon import forms
from longbreath.store.models import Application, CandidatePart
from longbreath.web.forms import options, system
from longbreath.web.guard import load_application, load_part
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db

SIGNS = {"measured": "", "chosen": "", "nominal": "n", "supplier": "s", "estimated": "e", "memory": "m"}
"""The letter behind a value that was not measured."""


def table(application_id: int) -> Any:
    """Candidates down, columns across, a go or no-go with its reason under each."""
    application = load_application(application_id)
    records = records_of(db(), application)
    sheets = candidates.sheets_of(db(), records)
    figures = {
        f"{key}-{row.record.id}": figure
        for sheet in sheets
        for row in sheet.rows
        for key, figure in row.assessed.figures.items()
    }
    return page(
        "reckon/candidates.html",
        figures,
        sheets=sheets,
        headline=_headline(sheets, records.target is not None),
        target=records.target,
        limits=targets.limits_of(records),
        families=list(FAMILIES),
        family=family_of(application.product.family),
        shown=_shown,
        signs=SIGNS,
        rests=WORDS,
    )


def _headline(sheets: list[candidates.Sheet], has_target: bool) -> str:
    """Which candidates hold, in a sentence."""
    names = [row.candidate.name for sheet in sheets for row in sheet.rows if row.assessed.verdict == GO]
    against = "the target" if has_target else "what is usual"
    if not sheets:
        return "No candidates yet."
    if not names:
        return f"None holds against {against}, as far as is known."
    words = f"{' and '.join(names)} {'holds' if len(names) == 1 else 'hold'} against {against}."
    return words[0].upper() + words[1:]


def _shown(column: Column, known: Known) -> str:
    """A known value for people."""
    if isinstance(known.value, str) or not column.kind:
        return str(known.value)
    return units.show_number(known.value, column.kind, system())


def _form_page(application: Application, part: CandidatePart | None, family: str) -> Any:
    form = forms.candidate_form(family, obj=part)
    library = candidates.own_revisions(db(), application)
    form.revision_id.choices = options([(0, "none: write its name"), *((r.id, r.title) for r in library)])
    if not form.is_submitted():
        form.position.data = part.position if part else len(candidates.candidates_of(db(), application.id)) + 1
        form.revision_id.data = (part.revision_id or 0) if part else 0
        for key, entry in (part.values if part is not None else {}).items():
            for name in ("value", "rests", "where"):
                if f"{name}_{key}" in form:
                    form[f"{name}_{key}"].data = entry.get(name)

    def apply() -> CandidatePart:
        card = candidates.CandidateCard(
            family, form.position.data or 1, form.name.data or "", form.revision_id.data or None, form.entered()
        )
        return candidates.save_candidate(db(), application, part, card)

    saved = save(form, part, apply)
    if saved.done:
        return redirect(url_for("reckon.table", application_id=application.id))
    return page(
        "reckon/candidate.html",
        form=form,
        part=part,
        family=family,
        families=list(FAMILIES),
        conflict=saved.conflict,
        status=saved.status,
    )


def new_candidate(application_id: int) -> Any:
    """Add a candidate; its family is in the address."""
    application = load_application(application_id)
    family = request.args.get("family", "")
    return _form_page(application, None, family if family in FAMILIES else family_of(application.product.family))


def edit_candidate(application_id: int, candidate_id: int) -> Any:
    """Change what is known of a candidate."""
    application = load_application(application_id)
    part = load_part(CandidatePart, candidate_id, application)
    return _form_page(application, part, part.family)


def candidate_out(application_id: int, candidate_id: int) -> Any:
    """Take a candidate out of the table, with the reason."""
    application = load_application(application_id)
    part = load_part(CandidatePart, candidate_id, application)
    form = forms.OutForm()
    saved = save(form, part, lambda: candidates.take_out(db(), part, form.reason.data or ""))
    if saved.done:
        flash(f"{part.title} is out; it stays in the record.", "done")
        return redirect(url_for("reckon.table", application_id=application.id))
    return page("reckon/out.html", form=form, part=part, conflict=saved.conflict, status=saved.status)

"""Views of Claim and of the public sheet."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from flask import abort, flash, redirect, render_template, request, url_for

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.basis.working import from_dict
from longbreath.core.claim.facts import Gate, may_publish
from longbreath.dossier import claim as claims
from longbreath.dossier.owed import is_stale, summaries
from longbreath.drawing import charts
from longbreath.steps.claim import forms
from longbreath.store.models import Application, Claim
from longbreath.web.guard import load_application, load_part
from longbreath.web.page import page
from longbreath.web.saving import Saved, save
from longbreath.web.transaction import db


def _here(application: Application) -> Any:
    return redirect(url_for("claim.overview", application_id=application.id))


def overview(application_id: int) -> Any:
    """The newest claim beside its gates, and the earlier ones."""
    application = load_application(application_id)
    form = forms.ApprovalForm(obj=application)
    form.version.data = str(application.version)
    return _overview(application, form, Saved(False))


def _overview(application: Application, form: forms.ApprovalForm, saved: Saved) -> Any:
    found = claims.of_application(db(), application.id)
    claim = found[0] if found else None
    gates: tuple[Gate, ...] = ()
    problem = ""
    if claim is not None:
        try:
            evidence = claims.evidence_of(db(), application, claim.session_ids)
            gates = claims.gates_of(application, evidence, claim)
        except EvidenceError as error:
            problem = error.message
    verdict = summaries(db(), [application.id])[application.id].verdict
    stale = claim is not None and claim.state == "published" and is_stale(claim, verdict)
    return page(
        "claim/overview.html",
        claim=claim,
        earlier=found[1:],
        gates=gates,
        problem=problem,
        stale=stale,
        approval_form=form,
        all_met=may_publish(gates) and bool(gates),
        conflict=saved.conflict,
        status=saved.status,
    )


def draft(application_id: int) -> Any:
    """Draft a claim from the verdict."""
    application = load_application(application_id)
    session_ids = request.args.getlist("session", int)
    evidence = claims.evidence_of(db(), application, session_ids)
    form = forms.ClaimForm()
    if not form.is_submitted():
        words = claims.drafted(application, evidence)
        form.statement.data, form.trade_off.data = words.statement, words.trade_off
    saved = save(form, None, lambda: claims.draft_claim(db(), application, evidence, form.command(claims.Words)))
    if saved.done:
        return _here(application)
    return page("claim/edit.html", form=form, claim=None, status=saved.status)


def edit(application_id: int, claim_id: int) -> Any:
    """Change the words of a draft."""
    application = load_application(application_id)
    claim = load_part(Claim, claim_id, application)
    form = forms.ClaimForm(obj=claim)
    evidence = claims.evidence_of(db(), application, claim.session_ids)
    saved = save(form, claim, lambda: claims.change_claim(db(), claim, evidence, form.command(claims.Words)))
    if saved.done:
        return _here(application)
    return page("claim/edit.html", form=form, claim=claim, conflict=saved.conflict, status=saved.status)


def approval_status(application_id: int) -> Any:
    """State whether the part is approved for road use."""
    application = load_application(application_id)
    form = forms.ApprovalForm()
    saved = save(
        form,
        application,
        lambda: claims.state_approval(db(), application, form.approval.data, form.approval_note.data or ""),
    )
    return _here(application) if saved.done else _overview(application, form, saved)


def _act(application: Application, claim: Claim, verb: Callable[[], None], done: str) -> Any:
    """Do what a button asks of a claim, if the claim is still the one that was shown."""
    saved = save(forms.ActForm(), claim, verb)
    if not saved.done:
        form = forms.ApprovalForm(formdata=None, obj=application)
        form.version.data = str(application.version)
        return _overview(application, form, saved)
    flash(done, "done")
    return _here(application)


def submit(application_id: int, claim_id: int) -> Any:
    """Ask a second person to approve."""
    application = load_application(application_id)
    claim = load_part(Claim, claim_id, application)

    def verb() -> None:
        evidence = claims.evidence_of(db(), application, claim.session_ids)
        claims.submit_claim(db(), claim, claims.gates_of(application, evidence, claim))

    return _act(application, claim, verb, "Submitted. A second person approves it.")


def give_back(application_id: int, claim_id: int) -> Any:
    """Give it back to its drafter."""
    application = load_application(application_id)
    claim = load_part(Claim, claim_id, application)
    return _act(application, claim, lambda: claims.give_back(db(), claim), "Given back to its drafter.")


def approve(application_id: int, claim_id: int) -> Any:
    """Approve and publish."""
    application = load_application(application_id)
    claim = load_part(Claim, claim_id, application)

    def verb() -> None:
        evidence = claims.evidence_of(db(), application, claim.session_ids)
        claims.approve_claim(db(), application, evidence, claim)

    return _act(application, claim, verb, "Published at its public address.")


def withdraw(application_id: int, claim_id: int) -> Any:
    """Withdraw a published claim, with a reason."""
    application = load_application(application_id)
    claim = load_part(Claim, claim_id, application)
    form = forms.WithdrawForm()
    saved = save(form, claim, lambda: claims.withdraw_claim(db(), claim, form.reason.data or ""))
    if saved.done:
        flash("Withdrawn. Its address stays and says so.", "done")
        return _here(application)
    return page("claim/withdraw.html", form=form, claim=claim, conflict=saved.conflict, status=saved.status)


def sheet(slug: str) -> Any:
    """The public sheet: drawn from the snapshot alone."""
    claim = claims.by_slug(db(), slug)
    if claim is None or claim.snapshot is None:
        abort(404)
    workings = [
        (f, from_dict(f["working"]))
        for f in (*claim.snapshot["figures"], *claim.snapshot["locals"], claim.snapshot["correction"])
    ]
    return render_template(
        "claim/sheet.html",
        claim=claim,
        snap=claim.snapshot,
        workings=workings,
        theme="paper",
        hatches=charts.hatches("paper"),
    )

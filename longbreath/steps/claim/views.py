"""Views of Claim."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from flask import flash, redirect, request, url_for

from longbreath.core.basis.errors import EvidenceError
from longbreath.core.claim.gates import may_publish
from longbreath.core.claim.grammar import Composition, offered
from longbreath.dossier.claim import reads, verbs
from longbreath.dossier.claim.sheet import content, digest
from longbreath.dossier.evidence.gather import gather
from longbreath.dossier.evidence.verdict import published, stale_claims
from longbreath.steps.claim import forms
from longbreath.store.models import Application, Claim
from longbreath.web.guard import load_application, load_part, user
from longbreath.web.page import page
from longbreath.web.saving import Saved, save
from longbreath.web.transaction import db


def _here(application: Application) -> Any:
    return redirect(url_for("claim.overview", application_id=application.id))


def overview(application_id: int) -> Any:
    """The newest claim beside its gates, and the earlier ones."""
    return _overview(load_application(application_id), Saved(False))


def _overview(
    application: Application,
    saved: Saved,
    approval: forms.ApprovalForm | None = None,
    composing: forms.ClaimForm | None = None,
    pending: Composition | None = None,
) -> Any:
    """The page of claims; `composing` with `pending` is what a writer has chosen and not kept yet."""
    if approval is None:
        approval = forms.ApprovalForm(formdata=None, obj=application)
        approval.version.data = str(application.version)
    found = reads.of_application(db(), application.id)
    claim, draft, problem = (found[0] if found else None), None, ""
    try:
        draft = reads.draft_of(db(), application, claim, pending) if claim is not None else None
    except EvidenceError as error:
        problem = error.message
    if composing is None and claim is not None:
        composing = forms.ClaimForm(formdata=None, obj=claim)
        composing.version.data = str(claim.version)
    return page(
        "claim/overview.html",
        claim=claim,
        draft=draft,
        earlier=found[1:],
        problem=problem,
        stale=stale_claims(db(), published(c for c in found if c.state == "published")),
        read=digest(content(draft)) if draft is not None and claim is not None and claim.state == "submitted" else "",
        own=draft is not None and user().id in draft.writers,
        approval_form=approval,
        form=composing,
        pending=pending is not None,
        offered=offered,
        all_met=draft is not None and may_publish(draft.gates),
        conflict=saved.conflict,
        status=saved.status,
    )


def draft(application_id: int) -> Any:
    """Draft a claim of what the evidence holds."""
    application = load_application(application_id)
    found = gather(db(), application, request.form.getlist("session", int))
    newest = next(iter(reads.of_application(db(), application.id)), None)
    if newest is not None and newest.state == "draft" and newest.lines and newest.session_ids == found.session_ids:
        flash("This draft is open already.", "done")
    else:
        verbs.draft_claim(db(), found)
    return _here(application)


def edit(application_id: int, claim_id: int) -> Any:
    """Move facts about, choose how they are worded, and keep that."""
    application = load_application(application_id)
    claim = load_part(Claim, claim_id, application)
    form, composition = forms.ClaimForm(), forms.chosen(request.form)
    if request.form.get("do", "keep") != "keep":
        return _overview(application, Saved(False), composing=form, pending=composition)
    evidence = gather(db(), application, claim.session_ids)
    choice = verbs.Choice(composition, form.description.data or "")
    saved = save(form, claim, lambda: verbs.change_claim(db(), claim, evidence, choice))
    return _here(application) if saved.done else _overview(application, saved, composing=form, pending=composition)


def approval_status(application_id: int) -> Any:
    """State whether the part is approved for road use."""
    application = load_application(application_id)
    form = forms.ApprovalForm()
    saved = save(
        form,
        application,
        lambda: verbs.state_approval(db(), application, form.approval.data, form.approval_note.data or ""),
    )
    return _here(application) if saved.done else _overview(application, saved, approval=form)


def _act(application_id: int, claim_id: int, verb: Callable[[Application, Claim, str], None], done: str) -> Any:
    """Do what a button asks of a claim, if the claim is still the one that was shown."""
    application = load_application(application_id)
    claim, form = load_part(Claim, claim_id, application), forms.ActForm()
    saved = save(form, claim, lambda: verb(application, claim, form.read.data or ""))
    if not saved.done:
        return _overview(application, saved)
    flash(done, "done")
    return _here(application)


def submit(application_id: int, claim_id: int) -> Any:
    """Ask a second person to approve."""

    def verb(application: Application, claim: Claim, read: str) -> None:
        verbs.submit_claim(db(), reads.draft_of(db(), application, claim))

    return _act(application_id, claim_id, verb, "Submitted. A second person approves it.")


def give_back(application_id: int, claim_id: int) -> Any:
    """Give it back to its drafter."""
    return _act(
        application_id, claim_id, lambda _, claim, read: verbs.give_back(db(), claim), "Given back to its drafter."
    )


def approve(application_id: int, claim_id: int) -> Any:
    """Approve and publish what was read."""

    def verb(application: Application, claim: Claim, read: str) -> None:
        verbs.approve_claim(db(), reads.draft_of(db(), application, claim), read)

    return _act(application_id, claim_id, verb, "Published at its public address.")


def withdraw(application_id: int, claim_id: int) -> Any:
    """Withdraw a published claim, with a reason."""
    application = load_application(application_id)
    claim = load_part(Claim, claim_id, application)
    form = forms.WithdrawForm()
    saved = save(form, claim, lambda: verbs.withdraw_claim(db(), claim, form.reason.data or ""))
    if saved.done:
        flash("Withdrawn. Its address stays and says so.", "done")
        return _here(application)
    return page("claim/withdraw.html", form=form, claim=claim, conflict=saved.conflict, status=saved.status)

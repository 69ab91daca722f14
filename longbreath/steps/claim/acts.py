"""What is done with a claim: said to it, submitted, given back, approved, withdrawn; its bundle asked for."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from flask import current_app, flash, url_for

from longbreath.core.basis.errors import Conflict, EvidenceError, InputError
from longbreath.dossier.claim import bundle, reads, reviews, verbs
from longbreath.dossier.records.house import rules_of
from longbreath.steps.claim import forms
from longbreath.steps.claim.views import here, shown
from longbreath.store.models import Application, Claim
from longbreath.web.addresses import outside_address
from longbreath.web.guard import load_application, load_part, user
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import after_response, db, keep

Verb = Callable[[Application, Claim, forms.ActForm], None]


def _act(application_id: int, claim_id: int, verb: Verb, done: str) -> Any:
    """Do what a button asks of a claim, if the claim is still the one that was shown and may still be done with it; else its page
    says what changed, and shows its gates as they stand."""
    application = load_application(application_id)
    claim, form = load_part(Claim, claim_id, application), forms.ActForm()

    def ask() -> None:
        try:
            verb(application, claim, form)
        except EvidenceError as error:
            raise Conflict(error.message) from None

    saved = save(form, claim, ask)
    if not saved.done:
        return shown(application, saved, claim, acting=form)
    flash(done, "done")
    return here(application, claim)


def comment(application_id: int, claim_id: int) -> Any:
    """Say something to a fact, or to all of the claim."""
    application = load_application(application_id)
    claim, form = load_part(Claim, claim_id, application), forms.CommentForm()
    saved = save(form, None, lambda: reviews.comment(db(), claim, form.fact.data or "", form.words.data))
    return here(application, claim) if saved.done else shown(application, saved, claim, saying=form)


def submit(application_id: int, claim_id: int) -> Any:
    """Ask a second person to approve."""

    def verb(application: Application, claim: Claim, form: forms.ActForm) -> None:
        verbs.submit_claim(db(), reads.draft_of(db(), application, claim))

    return _act(application_id, claim_id, verb, "Submitted. A second person approves it.")


def give_back(application_id: int, claim_id: int) -> Any:
    """Give it back to its drafter, with what should change."""

    def verb(application: Application, claim: Claim, form: forms.ActForm) -> None:
        verbs.give_back(db(), claim, form.words.data or "")

    return _act(application_id, claim_id, verb, "Given back to its drafter.")


def approve(application_id: int, claim_id: int) -> Any:
    """Approve and publish what was read, with a one-time code where the house asks for it, and have its bundle made."""

    def verb(application: Application, claim: Claim, form: forms.ActForm) -> None:
        draft = reads.draft_of(db(), application, claim)
        verbs.check_second(db(), draft)
        if not form.discloses.data:
            raise InputError("Read what the bundle lets out, and say that you did.", "discloses")
        listed = bundle.discloses(db(), draft)
        if rules_of(db()).code_required:
            _check_code(form.code.data or "")
        verbs.approve_claim(db(), draft, form.read.data or "")
        bundle.ask(db(), claim, listed, outside_address(url_for("published.sheet", slug=claim.slug)))

    return _act(application_id, claim_id, verb, "Published at its public address. Its bundle is being made.")


def _check_code(code: str) -> None:
    """Take the one-time code of whoever approves; a miss stays counted though nothing else of the request does."""
    try:
        reviews.check_code(db(), user(), code, reviews.sealer(current_app.config["SECRET_KEY"]))
    except InputError:
        after_response(lambda _: reviews.code_missed(db(), user()))
        keep()
        raise


def bundle_again(application_id: int, claim_id: int) -> Any:
    """Ask for a bundle that failed, or that an earlier sheet never had."""

    def verb(application: Application, claim: Claim, form: forms.ActForm) -> None:
        listed = bundle.discloses(db(), reads.draft_of(db(), application, claim))
        bundle.ask(db(), claim, listed, outside_address(url_for("published.sheet", slug=claim.slug)))

    return _act(application_id, claim_id, verb, "The bundle is asked for.")


def withdraw(application_id: int, claim_id: int) -> Any:
    """Withdraw a published claim, with a reason."""
    application = load_application(application_id)
    claim = load_part(Claim, claim_id, application)
    form = forms.WithdrawForm()
    saved = save(form, claim, lambda: verbs.withdraw_claim(db(), claim, form.reason.data or ""))
    if saved.done:
        flash("Withdrawn. Its address stays and says so.", "done")
        return here(application, claim)
    return page("claim/withdraw.html", form=form, claim=claim, conflict=saved.conflict, status=saved.status)

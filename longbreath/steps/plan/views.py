"""Views of Plan."""

from __future__ import annotations

from datetime import date
from typing import Any

from flask import redirect, request, url_for

from longbreath.core.build.sheet import denied
from longbreath.dossier import plan
from longbreath.dossier.evidence.builds import builds_of
from longbreath.dossier.plan import card_of
from longbreath.steps.plan import forms
from longbreath.store.models import Application
from longbreath.web.forms import options
from longbreath.web.guard import load_application
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db


def overview(application_id: int) -> Any:
    """The card as it will hang in the cell, and how small a gain it can prove."""
    application = load_application(application_id)
    card = card_of(db(), application.id)
    dynos = plan.dynos(db())
    dyno = card.dyno if card is not None else next(iter(dynos), None)
    figures = plan.provable(dyno, application) if dyno is not None else {}
    chosen = request.args.get("pulls", card.pulls_per_set if card is not None else 3, int)
    chosen = min(max(chosen, plan.SET_SIZES[0]), plan.SET_SIZES[-1])
    builds = builds_of(db(), application.id, date.today(), card.also_changed if card is not None else "")
    needed = plan.set_size_for(figures, card.effect_wanted) if card is not None else None
    return page(
        "plan/overview.html",
        figures,
        card=card,
        dyno=dyno,
        pulls=chosen,
        needed=needed,
        sizes=plan.SET_SIZES,
        in_all=plan.in_all,
        builds=builds,
        denied=denied(card.held, builds.differing) if card is not None else (),
        taken=plan.has_pulls(db(), card),
    )


def edit_card(application_id: int) -> Any:
    """Write or change the card."""
    application = load_application(application_id)
    card = card_of(db(), application.id)
    form = forms.CardForm(obj=card)
    form.dyno_id.choices = options([(d.id, f"{d.name}, at the {d.measured_at}") for d in plan.dynos(db())])
    if card is None and not form.is_submitted():
        _begin(form, application)
    saved = save(form, card, lambda: plan.save_card(db(), application, card, form.command(plan.CardDraft)))
    if saved.done:
        return redirect(url_for("plan.overview", application_id=application.id))
    taken = plan.has_pulls(db(), card)
    return page("plan/card.html", form=form, card=card, taken=taken, conflict=saved.conflict, status=saved.status)


def _begin(form: forms.CardForm, application: Application) -> None:
    """Fill an empty card with what is known."""
    form.a_is.data, form.b_is.data = application.stock_revision.title, application.revision.title
    form.pulls_per_set.data = 3
    form.mixture_tolerance.data = 0.03

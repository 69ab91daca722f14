"""Views of Plan: the card, its promise, its variants."""

from __future__ import annotations

from datetime import date
from typing import Any

from flask import flash, redirect, request, url_for

from longbreath.core.build.sheet import denied
from longbreath.core.build.variant import VariantCard
from longbreath.core.engine.assumptions import BOOSTED
from longbreath.core.plan import conditions
from longbreath.dossier import build as builds_dossier
from longbreath.dossier import registers
from longbreath.dossier.evidence.reasons import builds_of
from longbreath.dossier.plan import cards, variants
from longbreath.dossier.plan.filling import filling_of
from longbreath.dossier.plan.forecast_reads import forecast_state
from longbreath.dossier.plan.promise import promise_of
from longbreath.dossier.programme.register import share_of
from longbreath.dossier.pull.tuning import rounds_given
from longbreath.dossier.records.cards import card_of, dynos, has_pulls, own_card_of
from longbreath.steps.plan import forms
from longbreath.store.models import Application, Sample, Sensor, TestCard, TuneFile, Variant
from longbreath.web.forms import options
from longbreath.web.guard import load_application, load_part
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db


def overview(application_id: int) -> Any:
    """The card as it will hang in the cell, how small a gain it can prove, and what is owed before it can be run."""
    application = load_application(application_id)
    card = card_of(db(), application.id)
    dyno = card.dyno if card is not None else next(iter(dynos(db())), None)
    if dyno is None:
        return page("plan/overview.html", card=None, dyno=None, modes=conditions)
    promise = promise_of(db(), application, dyno, card, date.today())
    chosen = request.args.get("pulls", card.pulls_per_set if card is not None else 3, int)
    chosen = min(max(chosen, promise.sizes[0]), promise.sizes[-1])
    context = _of_card(application, card) if card is not None else {}
    return page(
        "plan/overview.html",
        promise.figures,
        card=card,
        dyno=dyno,
        promise=promise,
        pulls=chosen,
        own=variants.variants_of(db(), application.id),
        modes=conditions,
        **context,
    )


def _of_card(application: Application, card: TestCard) -> dict[str, Any]:
    """What the page says of a card."""
    pair = card.planned_pair(application.id)
    meant = conditions.intended(card.tune_mode, card.control_mode)
    boosted = application.vehicle.induction in BOOSTED
    modes = (card.tune_mode, card.control_mode)
    of_others = {
        row.letter: builds_of(db(), application.id, date.today(), "", (pair[0], row.letter), meant)
        for row in card.variants
        if row.letter not in pair
    }
    builds = builds_of(db(), application.id, date.today(), card.also_changed, pair, meant)
    return {
        "builds": builds,
        "others": of_others,
        "pair": pair,
        "denied": denied(card.held, builds.differing),
        "taken": has_pulls(db(), card),
        "packages": variants.packages([row.variant for row in card.variants]),
        "uneven": variants.uneven_rounds([row.variant for row in card.variants], rounds_given(db(), card)),
        "demanded": conditions.channels_demanded(*modes, card.mixture_target is not None, boosted),
        "possible": conditions.claims_possible(*modes, boosted),
        "filling": filling_of(db(), card),
        "forecast": forecast_state(db(), application, card, date.today()),
        "owed": share_of(db(), application.id, limit=6),
    }


def edit_card(application_id: int) -> Any:
    """Write or change the card."""
    application = load_application(application_id)
    card = own_card_of(db(), application.id)
    form = forms.CardForm(obj=card)
    form.dyno_id.choices = options([(d.id, f"{d.name}, at the {d.measured_at}") for d in dynos(db())])
    sensors = [(s.id, f"{s.name}, {s.measures}") for s in registers.kept(db(), Sensor) if s.kind == "pressure"]
    form.sensor_id.choices = options([(0, "none named"), *sensors])
    if not form.is_submitted():
        form.begin(card)
    saved = save(form, card, lambda: cards.save_card(db(), application, card, form.draft()))
    if saved.done:
        return redirect(url_for("plan.overview", application_id=application.id))
    taken = has_pulls(db(), card)
    own = variants.variants_of(db(), application.id)
    return page(
        "plan/card.html",
        form=form,
        card=card,
        taken=taken,
        own=own,
        boosted=application.vehicle.induction in BOOSTED,
        conflict=saved.conflict,
        status=saved.status,
    )


def all_variants(application_id: int) -> Any:
    """Every variant of the dossier, what each is made of, and which were pulled."""
    application = load_application(application_id)
    own = variants.variants_of(db(), application.id)
    pulled = {v.letter for v in own if variants.is_pulled(db(), v)}
    builds = {v.letter: variants.build_of(db(), v) for v in own}
    changed = {v.letter: variants.state_changes(own[0], v) for v in own[1:]}
    return page(
        "plan/variants.html",
        own=own,
        pulled=pulled,
        builds=builds,
        changed=changed,
        packages=variants.packages(own),
        unproven={v.letter: variants.unproven_tune(v, builds[v.letter]) for v in own},
    )


def new_variant(application_id: int) -> Any:
    """Add a variant under the next letter."""
    return _variant_page(load_application(application_id), None)


def edit_variant(application_id: int, variant_id: int) -> Any:
    """Change a variant that was not pulled."""
    application = load_application(application_id)
    return _variant_page(application, load_part(Variant, variant_id, application))


def _variant_page(application: Application, variant: Variant | None) -> Any:
    form = forms.VariantForm(obj=variant)
    sheets = builds_dossier.sheets_of(db(), application.id)
    form.build_title.choices = options(
        [("", "the newest of its letter"), *((t, t) for t in dict.fromkeys(s.title for s in sheets))]
    )
    tunes = [(t.id, f"{t.name}, by {t.author}") for t in registers.kept(db(), TuneFile)]
    form.tune_id.choices = options([(0, "as in that one, or none named"), *tunes])
    letter = variant.letter if variant is not None else ""
    others = [v for v in variants.variants_of(db(), application.id) if v.letter != letter]
    like = [(v.letter, f"{v.letter}, {v.title}") for v in others]
    form.base.choices = options([*like, ("", "no other: written out whole")])
    parts = [(0, "as in that one, or none"), *((r.id, r.title) for r in variants.revisions(db()))]
    pieces = [(0, "not said"), *((s.id, s.audit_title) for s in registers.kept(db(), Sample))]
    for k in forms.PARTS:
        getattr(form, f"part_{k}").choices, getattr(form, f"sample_{k}").choices = options(parts), options(pieces)
    if not form.is_submitted():
        form.begin(variant)
        form.rounds.data = variant.rounds if variant is not None else 0
        form.base.data = variant.base if variant is not None else others[0].letter

    def write() -> Variant:
        card = form.command(
            VariantCard,
            parts=form.parts(),
            name=form.name.data or "",
            tune_id=form.tune_id.data or None,
            control_mode=form.control_mode.data or "",
            rounds=form.rounds.data or 0,
            base=form.base.data or "",
        )
        return variants.save_variant(db(), application, variant, card)

    saved = save(form, variant, write)
    if saved.done:
        flash(f"Variant {saved.result.letter} is kept: {saved.result.title}.", "done")
        return redirect(url_for("plan.all_variants", application_id=application.id))
    return page(
        "plan/variant.html",
        form=form,
        variant=variant,
        states=forms.STATE_LABELS,
        places=forms.PARTS,
        conflict=saved.conflict,
        status=saved.status,
    )

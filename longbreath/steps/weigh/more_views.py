"""Views beyond the verdict of one pair: ledger, equal boost and response, several variants, kits, trials."""

from __future__ import annotations

from typing import Any

from flask import flash, jsonify, redirect, request, url_for

from longbreath.core.basis import units
from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.core.weigh import figures as made
from longbreath.core.weigh.trial_kinds import KINDS
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.evidence.verdict import keep_ledger
from longbreath.dossier.records.sessions import dyno_sessions
from longbreath.dossier.records.trials import trials_of
from longbreath.dossier.registers import kept
from longbreath.dossier.weigh import boosted as boosting
from longbreath.dossier.weigh import kits as kit_reads
from longbreath.dossier.weigh import several as many_reads
from longbreath.dossier.weigh import trials as trial_reads
from longbreath.dossier.weigh.airflow import airflow_of
from longbreath.dossier.weigh.ledger import choices_of, stacked
from longbreath.drawing import boostview, weighing
from longbreath.steps.weigh import forms
from longbreath.steps.weigh.views import gathered
from longbreath.store.models import Application, OutsideTable
from longbreath.web.forms import system
from longbreath.web.guard import load_application
from longbreath.web.page import page, theme
from longbreath.web.saving import save
from longbreath.web.transaction import db


def differences(application_id: int) -> Any:
    """The ledger: why A and B differed beside the part, what is known of each, and what is left."""
    application = load_application(application_id)
    found = gathered(application)
    form = forms.ledger_form(found.builds, choices_of(db(), application))
    saved = save(form, found.builds, lambda: keep_ledger(db(), application, found.builds, form.given()))
    if saved.done:
        flash("Kept.", "done")
        if request.args.get("then") == "claim":
            return redirect(url_for("claim.overview", application_id=application.id))
        return redirect(url_for("weigh.differences", application_id=application.id, session=found.session_ids))
    figures = made.net_figures(found.net) if found.net is not None else {}
    pictures = boosting.waterfalls(found.net, system()) if found.net is not None and found.net.moves else []
    drawn = [(name, weighing.waterfall(bars, unit)) for name, bars, unit in pictures]
    return page(
        "weigh/ledger.html", figures, form=form, found=found, drawn=drawn, conflict=saved.conflict, status=saved.status
    )


def stack(application_id: int) -> Any:
    """Whether tests one after the other add up to the test of the whole, band by band."""
    application = load_application(application_id)
    form = forms.stack_form(request.args, choices_of(db(), application, False))
    chosen = [form.first.data or "", form.second.data or "", form.whole.data or ""]
    found, problem = [], ""
    if all(chosen):
        try:
            found = stacked(db(), application, chosen)
        except EvidenceError as error:
            problem = error.message
        except InputError as error:
            form.blame(error)
    figures = {f"stack-{name}": made.stack_figure(item) for name, item in found}
    status = 422 if form.errors and all(chosen) else 200
    return page("weigh/stack.html", figures, form=form, found=found, problem=problem, status=status)


def boost(application_id: int) -> Any:
    """Both schools of a boosted comparison beside each other, and how boost comes."""
    application = load_application(application_id)
    found = gathered(application)
    schools = boosting.schools_of(db(), found)
    form = forms.RateForm(request.args)
    valid = form.validate() if request.args else True
    figures, rows = boosting.band_figures(found, schools)
    try:
        rate = form.rate.data if valid else None
        response, problem = boosting.response_of(db(), found, rate), ""
        figures |= {f"response-{k}": made.response_figure(f"response-{k}", j) for k, j in enumerate(response.judged)}
    except EvidenceError as error:
        response, problem = None, error.message
    return page(
        "weigh/boost.html",
        figures,
        found=found,
        schools=schools,
        rows=rows,
        response=response,
        problem=problem,
        form=form,
        volumes=boosting.volumes_of(db(), application),
        status=200 if valid else 422,
    )


def boost_chart(application_id: int) -> Any:
    """Pressures of A and B, and B − A by both schools, as a chart specification."""
    application = load_application(application_id)
    equal = boosting.schools_of(db(), gathered(application)).equal
    if equal is None:
        raise EvidenceError("There is no comparison at equal boost to draw.")
    return jsonify(boostview.boost_chart(equal, bands_of(application.vehicle), system(), theme()))


def _many(application: Application) -> many_reads.Many:
    sessions = many_reads.chosen_sessions(db(), application, request.args.getlist("session", int))
    return many_reads.many_of(db(), application, sessions, request.args.getlist("letter"))


def several(application_id: int) -> Any:
    """All variants against each other, ranked by use, with the groups that cannot be told apart."""
    application = load_application(application_id)
    tables = [t for t in kept(db(), OutsideTable) if t.quantity == "torque"]
    shown: dict[str, Any] = {"every": dyno_sessions(db(), application.id), "tables": tables}
    try:
        many = _many(application)
    except EvidenceError as error:
        return page("weigh/several.html", many=None, problem=error.message, letters={}, **shown)
    reference = many_reads.reference_of(application, many)
    figures, rows = many_reads.ranked_figures(many, reference)
    bars = many_reads.ranked_bars(many, reference, system())
    drawn = weighing.ranking(bars, many.ranked.groups, units.kind_named("torque").symbol(system()))
    panels = many_reads.panels_of(application, many, system())
    return page(
        "weigh/several.html",
        figures,
        many=many,
        rows=rows,
        reference=reference,
        drawn=drawn,
        multiples=weighing.small_multiples(panels, units.kind_named("torque").symbol(system())) if panels else None,
        letters=many_reads.letters_with_pulls(many.sessions),
        **shown,
    )


def declare(application_id: int) -> Any:
    """What each band of use counts, declared with its reason or made from the gears."""
    application = load_application(application_id)
    bands, stand = bands_of(application.vehicle), many_reads.weights_of(db(), application)
    form = forms.weights_form(bands, stand)
    saved = save(form, None, lambda: many_reads.declare_weights(db(), application, form.weights(bands)))
    if saved.done:
        flash("Kept: rankings of this application use these weights.", "done")
        return redirect(url_for("weigh.several", application_id=application.id))
    return page("weigh/weights.html", form=form, bands=bands, stand=stand, status=saved.status)


def several_chart(application_id: int) -> Any:
    """Mean curves of all variants, and others' tables as crosses, as a chart specification."""
    application = load_application(application_id)
    many = _many(application)
    others = [
        (f"{o.table}, {o.name}", o.rpm, o.values)
        for o in many_reads.others_beside(db(), request.args.getlist("table", int))
    ]
    return jsonify(boostview.several_chart(many.weighed, others, system(), theme()))


def kits(application_id: int) -> Any:
    """What the same usable state costs with each kit, and which to buy."""
    application = load_application(application_id)
    form = forms.HourForm(request.args)
    valid = form.validate() if request.args else True
    try:
        many = _many(application)
    except EvidenceError as error:
        return page("weigh/kits.html", parity=None, problem=error.message, kits=[], form=form)
    listed = kit_reads.kits_on(db(), many.sessions[0].card)
    stock = many_reads.reference_of(application, many)
    try:
        parity, problem = (
            kit_reads.parity_of(many, [kit for kit, _, _ in listed], stock, form.hourly.data if valid else None),
            "",
        )
    except InputError as error:
        parity, problem = None, error.message
    scale = units.scale("torque", system())
    figures = made.cost_figures(parity.rows, scale) if parity is not None else {}
    if parity is not None:
        figures |= {
            f"gain-{row.cost.kit.letter}": made.pair_figure(
                f"gain-{row.cost.kit.letter}", many.ranked, many.ranked.pair(stock, row.cost.kit.letter)
            )
            for row in parity.rows
        }
    return page(
        "weigh/kits.html",
        figures,
        parity=parity,
        problem=problem,
        kits=listed,
        many=many,
        form=form,
        unit=units.kind_named("torque").symbol(system()),
        status=200 if valid else 422,
    )


def edit_kit(application_id: int) -> Any:
    """What is in the box, what must be added, what it all costs on one day."""
    application = load_application(application_id)
    sheets = kit_reads.sheets_of(db(), application.id)
    form = forms.kit_form(sheets[0] if sheets else None, application.product.price)
    saved = save(form, kit_reads.Written(len(sheets)), lambda: kit_reads.save_kit(db(), application, form.card()))
    if saved.done:
        flash("Kept as the newest version.", "done")
        return redirect(url_for("weigh.kits", application_id=application.id))
    return page("weigh/kit.html", form=form, sheets=sheets, conflict=saved.conflict, status=saved.status)


def trials(application_id: int) -> Any:
    """What the trials show: fuel, temperature, noise, mass; and track runs, which back no claim of power."""
    application = load_application(application_id)
    form = forms.YearForm(request.args)
    valid = form.validate() if request.args else True
    asked = (form.distance.data, form.price.data, form.unit_of_price()) if valid else (None, None, "L")
    found = [trial_reads.weigh_trial(t, *asked) for t in trials_of(db(), application.id)]
    figures = {key: figure for w in found for key, figure in trial_reads.figures_of(w).items()}
    flows = airflow_of(db(), application)
    figures |= {f"flow-{s.session.id}-{k}": row.figure for s in flows for k, row in enumerate(s.rows)}
    return page(
        "weigh/trials.html", figures, found=found, flows=flows, kinds=KINDS, form=form, status=200 if valid else 422
    )

"""Views of one card: printed, its checklist, its day, what verdicts it would give."""

from __future__ import annotations

import io
from datetime import date
from typing import Any

from flask import abort, flash, redirect, render_template, request, send_file, url_for

from longbreath.core.plan import conditions
from longbreath.dossier import work as background
from longbreath.dossier.plan import cards
from longbreath.dossier.plan.day import costs_of, day_of
from longbreath.dossier.plan.forecast import inputs_of
from longbreath.dossier.plan.forecast_reads import forecast_state
from longbreath.dossier.plan.printed import printed_card
from longbreath.dossier.records.cards import cards_of
from longbreath.drawing import code
from longbreath.formats import pdf
from longbreath.steps.plan import forms
from longbreath.store.models import Application, TestCard
from longbreath.web.addresses import outside_address
from longbreath.web.assets import DIST
from longbreath.web.forms import system
from longbreath.web.guard import load_application
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db


def _card(application: Application, card_id: int) -> TestCard:
    """A card that serves the application; 404 otherwise."""
    card = next((c for c in cards_of(db(), application.id) if c.id == card_id), None)
    return card or abort(404)


SIZES = (9.2, 8.4, 7.6, 6.8, 6.0, 5.4)
"""Sizes of type [pt] of a printed card: the largest in which it is one page."""


def print_card(application_id: int, card_id: int) -> Any:
    """The card as one page of PDF, black and white."""
    application = load_application(application_id)
    card = _card(application, card_id)
    address = outside_address(url_for("pull.overview", application_id=application.id))
    told = {
        "card": card,
        "application": application,
        "printed": printed_card(db(), application, card, system(), date.today()),
        "square": code.svg(address),
        "address": address,
        "cautions": conditions.CAUTIONS,
        "letter": system() == "us",
    }
    data = pdf.to_one_page(lambda size: render_template("plan/printed.html", size=size, **told), SIZES, DIST)
    name = f"card-{application.id}-{card.number}.pdf"
    return send_file(io.BytesIO(data), "application/pdf", as_attachment="save" in request.args, download_name=name)


def checklist(application_id: int, card_id: int) -> Any:
    """The lines of a card, ticked one by one; what is not ticked is owed."""
    application = load_application(application_id)
    card = _card(application, card_id)
    form = forms.TickForm()
    saved = save(form, None, lambda: cards.tick(db(), card, form.line.data, form.note.data or ""))
    if saved.done:
        return redirect(url_for("plan.checklist", application_id=application.id, card_id=card.id))
    return page(
        "plan/checklist.html",
        card=card,
        ticks=cards.ticks_of(db(), card),
        form=form,
        conflict=saved.conflict,
        status=saved.status,
    )


def day(application_id: int, card_id: int) -> Any:
    """The timetable of a card's day, what to leave out first, and what it costs."""
    application = load_application(application_id)
    card = _card(application, card_id)
    begins = _minutes(request.args.get("begins", ""))
    shown = day_of(db(), application, card, date.today(), begins)
    return page(
        "plan/day.html",
        card=card,
        day=shown,
        costs=costs_of(db(), application, card),
        begins=request.args.get("begins", ""),
    )


def _minutes(text: str) -> int | None:
    """Minutes after midnight of a clock time; None where it is none."""
    hours, _, minutes = text.partition(":")
    if not (hours.isdigit() and (minutes or "0").isdigit()):
        return None
    found = int(hours) * 60 + int(minutes or 0)
    return found if 0 <= found < 1440 else None


def ask_forecast(application_id: int, card_id: int) -> Any:
    """Have it simulated in the background what verdicts the card would give for the standing prediction."""
    application = load_application(application_id)
    card = _card(application, card_id)
    inputs = inputs_of(db(), application, card, date.today())
    background.ask(db(), "card_forecast", inputs, f"Verdicts to expect of card {card.title}", application.id)
    return redirect(url_for("plan.overview", application_id=application.id) + "#forecast")


def forecast(application_id: int, card_id: int) -> Any:
    """How far the simulation is, or what came of it: a piece of the page that looks again by itself."""
    application = load_application(application_id)
    card = _card(application, card_id)
    state = forecast_state(db(), application, card, date.today())
    return page("plan/forecast.html", card=card, forecast=state)


def stop_forecast(application_id: int, card_id: int) -> Any:
    """Stop the simulation."""
    application = load_application(application_id)
    card = _card(application, card_id)
    task = forecast_state(db(), application, card, date.today()).task
    if task is not None:
        background.cancel(db(), task)
        flash("The simulation is told to stop.", "done")
    return redirect(url_for("plan.overview", application_id=application.id) + "#forecast")

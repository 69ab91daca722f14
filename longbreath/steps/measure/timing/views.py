"""Views of timing: the wheel, one sheet, a new one, and one read again."""

from __future__ import annotations

from datetime import date
from typing import Any

from flask import abort, flash, redirect, request, url_for

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.timing import wheel as timing_wheel
from longbreath.dossier import timing
from longbreath.dossier.attachments import attached
from longbreath.dossier.timing import sheets_of, standing
from longbreath.steps.measure.timing import forms, picture
from longbreath.store.models import Application, WheelSheet
from longbreath.web.forms import system
from longbreath.web.guard import load_application, load_part
from longbreath.web.letters import NEITHER, offer_letters
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db


def _speed(application: Application) -> tuple[float, str]:
    """The speed at which time-area is taken [rad/s], and what is wrong with the one asked."""
    text = request.args.get("speed", "").strip()
    if not text:
        return application.vehicle.band_end, ""
    try:
        value = units.parse(text, "speed", system()).value
        return (value, "") if value > 0 else (application.vehicle.band_end, "A speed is more than nought.")
    except InputError as error:
        return application.vehicle.band_end, error.message


def wheel(application_id: int) -> Any:
    """The wheel with the newest sheets of A and B (or those the address names) over each other."""
    application = load_application(application_id)
    every = sheets_of(db(), application.id)
    stand = standing(every)
    chosen = _asked(every) or _usual(stand)
    speed, trouble = _speed(application)
    shown = [timing.shown(s, application.vehicle, speed) for s in chosen]
    figures = {f"{name}-{k}": f for name, item in zip("ab", shown, strict=False) for k, f in item.figures.items()}
    doubts = [(item.record.title, f) for item in shown for f in item.findings]
    lines = list(dict.fromkeys(k for item in shown for k in item.figures))
    return page(
        "timing/wheel.html",
        figures,
        read_to=timing_wheel.READ_TO,
        sheets=stand,
        gone=[s for s in every if s not in stand],
        shown=shown,
        lines=lines,
        doubts=doubts,
        drawn=picture.picture(shown) if shown else "",
        speed=speed,
        speed_text=request.args.get("speed", ""),
        trouble=trouble,
        headline=_headline(*shown) if len(shown) == 2 else "",
        kinds=timing_wheel.KINDS,
        readings=timing_wheel.READINGS,
        rings=timing_wheel.PORTS[chosen[0].kind] if chosen else (),
        status=422 if trouble else 200,
        usual_kind=timing.usual_kind(application.vehicle),
    )


def _headline(a: timing.WheelShown, b: timing.WheelShown) -> str:
    return timing_wheel.gap_words(a.record.title, a.sheet, b.record.title, b.sheet)


def _asked(every: list[WheelSheet]) -> list[WheelSheet]:
    """The sheets that the address names; the first alone where two cannot be laid over each other."""
    by_id = {s.id: s for s in every}
    asked = [by_id[i] for name in ("a", "b") if (i := request.args.get(name, type=int)) in by_id]
    fit = len(asked) < 2 or (asked[0].kind == asked[1].kind and asked[0].id != asked[1].id)
    return asked if fit else asked[:1]


def _usual(stand: list[WheelSheet]) -> list[WheelSheet]:
    a, b = (next((s for s in stand if s.label == label), None) for label in ("A", "B"))
    if a is not None and b is not None and a.kind == b.kind:
        return [a, b]
    return stand[:1]


def sheet(application_id: int, sheet_id: int) -> Any:
    """One sheet as it was read."""
    application = load_application(application_id)
    record = load_part(WheelSheet, sheet_id, application)
    item = timing.shown(record, application.vehicle, application.vehicle.band_end)
    newer = next((s for s in sheets_of(db(), application.id) if s.supersedes_id == record.id), None)
    return page(
        "timing/sheet.html",
        dict(item.figures),
        read_to=timing_wheel.READ_TO,
        item=item,
        record=record,
        newer=newer,
        readings=timing_wheel.READINGS,
        kinds=timing_wheel.KINDS,
        windows=forms.WINDOWS,
        attachments=attached(db(), record),
    )


def _sheet_form(application: Application, kind: str, again: WheelSheet | None) -> Any:
    form = forms.sheet_form(kind)
    offer_letters(form.label, application, NEITHER)
    if not form.is_submitted():
        form.held_on.data = date.today()
        if again is not None:
            _fill(form, again)

    def add() -> WheelSheet:
        card = form.command(
            timing.WheelCard,
            kind=kind,
            readings=form.angles("read_"),
            totals=form.angles("total_"),
            tares=form.angles("tare_"),
            window=form.angles("window_"),
        )
        return timing.add_sheet(db(), application, card, as_read=form.as_read.data, again=again)

    saved = save(form, None, add)
    if saved.done:
        flash(f"{saved.result.title} is on the wheel.", "done")
        return redirect(url_for("timing.wheel", application_id=application.id, a=saved.result.id))
    doubtful = saved.status == 422 and any(timing.KEEP_AS_READ in e for f in form for e in f.errors)
    return page(
        "timing/form.html",
        form=form,
        kind=kind,
        kinds=timing_wheel.KINDS,
        again=again,
        doubtful=doubtful,
        status=saved.status,
    )


def _fill(form: forms.SheetForm, old: WheelSheet) -> None:
    for name in ("title", "label", "stop_before", "stop_after", "says", "note"):
        getattr(form, name).data = getattr(old, name)
    if old.kind == "poppet":
        form.checking_lift.data = old.checking_lift
    for prefix, values in (("total_", old.totals), ("tare_", old.tares), ("window_", old.window)):
        for name, value in values.items():
            if hasattr(form, f"{prefix}{name}"):
                getattr(form, f"{prefix}{name}").data = value


def new_sheet(application_id: int) -> Any:
    """Write down what the wheel reads."""
    application = load_application(application_id)
    kind = request.args.get("kind") or timing.usual_kind(application.vehicle)
    if kind not in timing_wheel.KINDS:
        abort(404)
    return _sheet_form(application, kind, None)


def read_again(application_id: int, sheet_id: int) -> Any:
    """Read a sheet again: the new one takes its place, the old one stays kept."""
    application = load_application(application_id)
    record = load_part(WheelSheet, sheet_id, application)
    return _sheet_form(application, record.kind, record)

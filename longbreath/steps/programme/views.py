"""Views of the programme: the line of dates, the register of owed things."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any

from flask import abort, flash, redirect, request, url_for

from longbreath.core.plan.programme import Placed
from longbreath.dossier import people as people_dossier
from longbreath.dossier import registers
from longbreath.dossier.coverage import application_names
from longbreath.dossier.programme import raised, register
from longbreath.dossier.programme.dates import Programme, programme_of
from longbreath.dossier.programme.register import KIND_WORDS, OwedCard, Sought
from longbreath.drawing import dates
from longbreath.steps.programme import forms
from longbreath.store.models import Application, Cell, Owed
from longbreath.web.addresses import house_zone
from longbreath.web.forms import options
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db

MARKS = {"bench": "bench", "measurement": "bench", "dyno": "dyno", "publishing": "end"}
LANES = 14
"""Applications drawn on a page of the line."""


def _now() -> datetime:
    return datetime.now(UTC)


def overview() -> Any:
    """What is owed on a line of dates; which chain decides each publishing day; what a late thing would move."""
    found = programme_of(db(), _now(), house_zone())
    names = application_names(db())
    chosen = request.args.get("application", type=int)
    shown, number, pages = _shown(found, chosen)
    ends = [p for p in found.ends if p.job.dossier in shown]
    chains = {p.job.dossier: found.chain(p.job.id) for p in ends}
    lanes = [_lane(found, n, names, {q.job.id for q in chains.get(n, ())}) for n in shown]
    return page(
        "programme/overview.html",
        picture=dates.svg(lanes, _today()),
        ends=ends,
        chains=chains,
        names=names,
        rows=found.of(chosen) if chosen else [],
        number=number,
        pages=pages,
        chosen_one=chosen,
        troubles=[p for p in found.placed.values() if p.missed or p.clash or p.trouble],
        waiting=_waited_for(found),
        zone=house_zone(),
        **_late(found),
    )


def _shown(found: Programme, chosen: int | None) -> tuple[list[int], int, int]:
    """The applications on this page of the line (or the chosen one), the page and how many there are."""
    dossiers = list(dict.fromkeys(p.job.dossier for p in found.ends if p.job.dossier is not None))
    if chosen:
        return [chosen], 1, 1
    pages = max(1, -(-len(dossiers) // LANES))
    number = min(max(1, request.args.get("page", 1, int)), pages)
    return dossiers[(number - 1) * LANES : number * LANES], number, pages


def _late(found: Programme) -> dict[str, Any]:
    """What moves if the thing in the address comes so many days late."""
    late, days = request.args.get("late", type=int), min(max(request.args.get("days", 7, int), 1), 366)
    known = late is not None and late in found.placed
    return {
        "late": found.placed[late] if known and late is not None else None,
        "days": days,
        "moved": found.moved_by(late, days) if known and late is not None else (),
    }


def _today() -> date:
    return _now().astimezone(house_zone()).date()


def _waited_for(found: Programme) -> list[Placed]:
    """What is waited for and has a day: what could come late."""
    return [p for p in found.of(None) if p.job.not_before is not None][:40]


def _lane(found: Programme, dossier: int, names: dict[int, str], decides: set[int]) -> dates.Lane:
    """The spans of an application: what decides and what is booked each by itself, the rest as so many things a week."""
    spans, others = [], dict[tuple[str, bool, int], list[Placed]]()
    for p in found.of(dossier):
        mark = "end" if p.job.is_end else MARKS.get(kind_of(p), "wait" if p.job.hours <= 0.0 else "work")
        trouble = p.clash is not None or p.missed or bool(p.trouble)
        if trouble or mark in ("end", "dyno"):
            href = url_for("programme.edit_owed", owed_id=p.job.id)
            days = (p.begins.date(), p.ends.date())
            spans.append(dates.Span(p.job.id, *days, p.job.name, mark, href, p.job.id in decides, p.is_late, trouble))
        else:
            others.setdefault((mark, p.job.id in decides, p.begins.date().toordinal() // 7), []).append(p)
    for (mark, heavy, _), group in others.items():
        words = group[0].job.name if len(group) == 1 else f"{len(group)} things: {group[0].job.name} …"
        days = (min(p.begins for p in group).date(), max(p.ends for p in group).date())
        href = url_for("programme.owed_things", application=dossier)
        spans.append(
            dates.Span(
                group[0].job.id, *days, words, mark, href, heavy, late=any(p.is_late for p in group), count=len(group)
            )
        )
    name, _, vehicle = names.get(dossier, "").partition(", ")
    return dates.Lane(name, vehicle, url_for("programme.overview", application=dossier), tuple(spans))


def kind_of(placed: Placed) -> str:
    """The kind of a placed thing: a dyno day holds a cell."""
    return "dyno" if any(need.startswith("cell ") for need in placed.job.needs) else ""


def owed_things() -> Any:
    """The register: everything owed, by whom and by when."""
    sought = Sought(
        request.args.get("application", type=int),
        request.args.get("who", type=int),
        request.args.get("kind", ""),
        "overdue" in request.args,
        "closed" in request.args,
    )
    number = max(1, request.args.get("page", 1, int))
    rows, pages, total = register.owed_page(db(), sought, _today(), number)
    return page(
        "programme/owed.html",
        rows=rows,
        pages=pages,
        total=total,
        number=number,
        sought=sought,
        today=_today(),
        names=application_names(db()),
        people=people_dossier.everybody(db()),
        kinds=KIND_WORDS,
    )


def new_owed() -> Any:
    """Write down a thing that is owed."""
    return _form(None)


def edit_owed(owed_id: int) -> Any:
    """A thing that is owed: who, by when, what it waits for; and closing it."""
    return _form(db().get(Owed, owed_id) or abort(404))


def _form(thing: Owed | None) -> Any:
    form = forms.OwedForm(obj=thing)
    asked = request.args.get("application", type=int)
    names = application_names(db())
    form.application_id.choices = options([(0, "the house"), *sorted(names.items(), key=lambda item: item[1])])
    form.who_id.choices = options(
        [(0, "nobody yet"), *((u.id, u.name) for u in people_dossier.everybody(db()) if u.is_active)]
    )
    form.cell_id.choices = options([(0, "no cell"), *((c.id, c.name) for c in registers.kept(db(), Cell))])
    about = thing.application_id if thing is not None else asked
    could = register.choices_for(db(), thing, about)
    waits = [t.id for t in register.waits_for(db(), thing)] if thing is not None else []
    closed = [t for t in register.waits_for(db(), thing) if t.closed_at is not None] if thing is not None else []
    form.waits_for.choices = options([(t.id, t.what) for t in (*could, *closed)])
    if not form.is_submitted():
        form.begin(thing, waits)
        if thing is None and asked in names:
            form.application_id.data = asked
    saved = save(form, thing, lambda: register.save_owed(db(), thing, _command(form), form.waits_for.data or ()))
    if saved.done:
        flash(f"Kept: {saved.result.what}.", "done")
        return redirect(url_for("programme.owed_things", application=saved.result.application_id))
    closing = forms.CloseForm(formdata=None)
    if thing is not None:
        closing.version.data = str(thing.version)
    return page(
        "programme/thing.html", form=form, thing=thing, closing=closing, conflict=saved.conflict, status=saved.status
    )


def _command(form: forms.OwedForm) -> OwedCard:
    return form.command(
        OwedCard,
        application_id=form.application_id.data or None,
        who_id=form.who_id.data or None,
        cell_id=form.cell_id.data or None,
        hours=form.hours.data or 0.0,
        cost=form.cost.data or 0.0,
        slot=form.slot(),
        outside=form.outside.data or "",
        blocks=form.blocks.data or "",
    )


def close_owed(owed_id: int) -> Any:
    """Close a thing by hand, saying what closed it."""
    thing = db().get(Owed, owed_id) or abort(404)
    form = forms.CloseForm()
    saved = save(form, thing, lambda: register.close(db(), thing, form.closed_with.data or ""))
    if saved.done:
        flash(f"Closed: {thing.what}.", "done")
        return redirect(url_for("programme.owed_things", application=thing.application_id))
    return page("programme/close.html", thing=thing, closing=form, conflict=saved.conflict, status=saved.status)


def reopen_owed(owed_id: int) -> Any:
    """Open a closed thing again."""
    thing = db().get(Owed, owed_id) or abort(404)
    register.reopen(db(), thing)
    return redirect(url_for("programme.edit_owed", owed_id=thing.id))


def look_through(application_id: int) -> Any:
    """Look through an application now: raise what is owed, close what is there by now."""
    application = db().get(Application, application_id) or abort(404)
    raised.settle(db(), application)
    raised.settle_house(db(), _today())
    return redirect(url_for("programme.owed_things", application=application.id))

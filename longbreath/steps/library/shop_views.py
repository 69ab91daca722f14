"""Views of the shop's registers: lists, forms, labels, a dyno's scatter, where an engine stood, others' tables."""

from __future__ import annotations

import io
from datetime import date
from typing import Any

from flask import abort, flash, redirect, render_template, send_file, url_for
from werkzeug.datastructures import MultiDict

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.sentence import counted
from longbreath.dossier import instruments, registers, shop
from longbreath.dossier import work as background
from longbreath.dossier.asked import asked_of
from longbreath.dossier.plan import scatter
from longbreath.dossier.plan.variants import revisions
from longbreath.dossier.records.scatter import newest, scatter_of
from longbreath.dossier.registers import REGISTERS, Register
from longbreath.drawing import code, outside
from longbreath.formats import pdf
from longbreath.steps.library import shop_forms as forms
from longbreath.store.models import Cell, Dyno, OutsideTable, Sample, TestEngine, User
from longbreath.web.addresses import outside_address
from longbreath.web.asked import begin, form_of, posted
from longbreath.web.assets import DIST
from longbreath.web.forms import options, system
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db


def _register(key: str) -> Register:
    return REGISTERS.get(key) or abort(404)


def shop_list(register: str) -> Any:
    """Everything of one register."""
    found = _register(register)
    rows = [(record, found.cells(record, system())) for record in registers.kept(db(), found.model)]
    return page("library/register.html", register=found, rows=rows, registers=REGISTERS)


def shop_new(register: str) -> Any:
    """Add to a register."""
    return _form(_register(register), None)


def shop_one(register: str, record_id: int) -> Any:
    """Change a record of a register."""
    found = _register(register)
    return _form(found, db().get(found.model, record_id) or abort(404))


def shop_paste(register: str) -> Any:
    """Add many to a register at once: a table pasted from a spreadsheet. One wrong cell, and nothing is kept."""
    found = _register(register)
    form = forms.PasteForm()
    saved = save(form, None, lambda: _write_pasted(found, form.table.data))
    if saved.done:
        flash(f"{counted(len(saved.result), found.one)} added.", "done")
        return redirect(url_for("library.shop_list", register=found.key))
    asked = registers.pasteable(found).values()
    return page("library/register_paste.html", form=form, register=found, asked=asked, status=saved.status)


def _write_pasted(register: Register, text: str) -> list[Any]:
    rows, written = registers.pasted(register, text), []
    parts = _parts()
    for line, cells in rows:
        form = _offered(form_of(register.card)(MultiDict(posted(register.card, cells, parts)), meta={"csrf": False}))
        try:
            if not form.validate():
                name, errors = next(iter(form.errors.items()))
                raise InputError(str(errors[0]), name)
            written.append(registers.save(db(), registers.command(register, form.values(), system())))
        except InputError as error:
            label = form[error.field].label.text if error.field in form else ""
            raise InputError(f"Line {line}, {label}: {error.message}", "table") from None
    return written


def _parts() -> list[tuple[int, str]]:
    return [(r.id, r.title) for r in revisions(db())]


def _offered(form: Any) -> Any:
    if "revision_id" in form:
        form.revision_id.choices = options(_parts())
    return form


def _written(register: Register, record: Any, form: Any) -> Any:
    values = form.values()
    for name, ask in asked_of(register.card).items():
        if ask.kind == "file":
            values[name] = shop.digest_of(values[name].read()) if hasattr(values[name], "read") else ""
    return registers.save(db(), registers.command(register, values, system(), record), record)


def _form(register: Register, record: Any) -> Any:
    form = _offered(form_of(register.card)(obj=record))
    if record is not None and not form.is_submitted():
        begin(form, register.card, record)
    saved = save(form, record, lambda: _written(register, record, form))
    if saved.done:
        flash(f"The {register.one} is kept.", "done")
        return redirect(url_for("library.shop_list", register=register.key))
    more: dict[str, Any] = {}
    if isinstance(record, TestEngine):
        more = {"stays": shop.stays_of(db(), record), "pulls": shop.pulls_of(db(), record)}
    if isinstance(record, Sample):
        more = {"tested_in": shop.tested_in(db(), record)}
    if isinstance(record, OutsideTable):
        more = {"picture": outside.svg(record.columns, record.rows, record.quantity, system())}
    return page(
        "library/register_form.html",
        form=form,
        register=register,
        record=record,
        conflict=saved.conflict,
        status=saved.status,
        **more,
    )


def shop_label(register: str, record_id: int) -> Any:
    """A label to stick on a piece or an engine: its name, and a code that opens its record on a phone."""
    found = _register(register)
    record = db().get(found.model, record_id)
    if record is None or not found.has_label:
        abort(404)
    address = outside_address(url_for("library.shop_one", register=register, record_id=record_id))
    html = render_template(
        "library/label.html", record=record, register=found, square=code.svg(address), address=address
    )
    data = pdf.to_pdf(html, DIST)
    return send_file(
        io.BytesIO(data), "application/pdf", download_name=f"{found.one}-{record_id}.pdf".replace(" ", "-")
    )


def move_engine(engine_id: int) -> Any:
    """Move a test engine from one vehicle to another."""
    engine = db().get(TestEngine, engine_id) or abort(404)
    form = forms.MoveForm()
    form.vehicle_id.choices = options([(0, "the stand"), *((v.id, v.name) for v in shop.vehicles(db()))])
    if not form.is_submitted():
        form.since.data = date.today()
    saved = save(form, None, lambda: shop.move_engine(db(), engine, form.vehicle_id.data or None, form.since.data))
    if saved.done:
        return redirect(url_for("library.shop_one", register="engines", record_id=engine.id))
    return page("library/form.html", form=form, title=f"Move {engine.serial}", status=saved.status)


def dyno(dyno_id: int) -> Any:
    """A dyno: what it is, how it scatters by its card and by its own records."""
    found = db().get(Dyno, dyno_id) or abort(404)
    form = forms.DynoMore(obj=found)
    form.offer({kind: instruments.listed(db(), kind) for kind in ("dyno", "logger", "weather")})
    form.cell_id.choices = options([(0, "no cell"), *((c.id, c.name) for c in registers.kept(db(), Cell))])
    saved = save(form, found, lambda: shop.change_dyno(db(), found, form.command(shop.DynoMore)))
    if saved.done:
        flash("Dyno saved.", "done")
        return redirect(url_for("library.dyno", dyno_id=found.id))
    today = date.today()
    task = background.task_of(db(), "scatter", _inputs(found, today))
    return page(
        "library/dyno.html",
        dyno=found,
        form=form,
        scatter=scatter_of(db(), found, today),
        task=task,
        newest=newest(db(), found, today),
        conflict=saved.conflict,
        status=saved.status,
    )


def _inputs(found: Dyno, day: date) -> dict[str, Any]:
    return {"dyno": found.id, "day": day.isoformat(), "pulls": scatter.key_of(db(), found, day)}


def fit_dyno(dyno_id: int) -> Any:
    """Have a dyno's scatter fitted to its records in the background; it holds from today on."""
    found = db().get(Dyno, dyno_id) or abort(404)
    background.ask(db(), "scatter", _inputs(found, date.today()), f"Scatter of {found.name}")
    return redirect(url_for("library.dyno", dyno_id=found.id))


def person(user_id: int) -> Any:
    """What a person can do, and what an hour of their work costs."""
    found = db().get(User, user_id) or abort(404)
    form = forms.PersonMore(obj=found)

    saved = save(form, None, lambda: shop.change_person(db(), found, form.command(shop.PersonMore)))
    if saved.done:
        flash(f"{found.name} is kept.", "done")
        return redirect(url_for("account.people"))
    return page("library/form.html", form=form, title=found.name, status=saved.status)

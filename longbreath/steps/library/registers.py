"""The registers of the shop: for each what it is called, its form, its columns, and how it is written."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from typing import Any

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.dossier import shop
from longbreath.steps.library import shop_forms as forms
from longbreath.store.base import Base
from longbreath.store.models import Cell, Checklist, FuelBatch, OutsideTable, Sample, Sensor, TestEngine, TuneFile
from longbreath.store.unit_of_work import UnitOfWork
from longbreath.web.forms import BaseForm, system


@dataclass(frozen=True)
class Register:
    """One register: its key in the address, title, what one of it is called, its rows, model and form, what a row shows, and the
    verb that writes one. named: the field whose name must be new; has_label: a label can be printed."""

    key: str
    title: str
    one: str
    rows: Callable[[UnitOfWork], list[Any]]
    model: type[Base]
    form: type[BaseForm]
    columns: tuple[str, ...]
    cells: Callable[[Any], tuple[str, ...]]
    write: Callable[[UnitOfWork, Any, Any], Base]
    begin: Callable[[Any, Any], None] = lambda form, record: None
    has_label: bool = False


def _clock(minutes: int) -> str:
    return f"{minutes // 60:02d}:{minutes % 60:02d}"


def _day(day: date | None) -> str:
    return f"{day.day} {day:%b %Y}" if day else ""


def _write_cell(work: UnitOfWork, record: Any, form: Any) -> Base:
    card = form.command(
        shop.CellCard, opens=form.minutes("opens_at"), closes=form.minutes("closes_at"), rate=form.rate.data or 0.0
    )
    shop.check_cell(card)
    return shop.save_kept(work, record or Cell(), card)


def _begin_cell(form: Any, cell: Any) -> None:
    form.opens_at.data, form.closes_at.data = _clock(cell.opens), _clock(cell.closes)


def _write_engine(work: UnitOfWork, record: Any, form: Any) -> Base:
    return shop.save_kept(work, record or TestEngine(), form.command(shop.EngineCard), "serial")


def _write_tune(work: UnitOfWork, record: Any, form: Any) -> Base:
    data = form.file.data.read() if form.file.data else b""
    digest = shop.digest_of(data) or (record.sha256 if record is not None else "")
    return shop.save_kept(work, record or TuneFile(), form.command(shop.TuneCard, sha256=digest))


def _write_fuel(work: UnitOfWork, record: Any, form: Any) -> Base:
    return shop.save_kept(work, record or FuelBatch(), form.command(shop.FuelCard))


def _write_sensor(work: UnitOfWork, record: Any, form: Any) -> Base:
    card = form.command(shop.SensorCard)
    shop.check_sensor(card)
    return shop.save_kept(work, record or Sensor(), card)


def _write_sample(work: UnitOfWork, record: Any, form: Any) -> Base:
    return shop.save_sample(work, record or Sample(), form.command(shop.SampleCard))


def _write_checklist(work: UnitOfWork, record: Any, form: Any) -> Base:
    lines = tuple(dict.fromkeys(x.strip() for x in form.text.data.splitlines() if x.strip()))
    if not lines:
        raise InputError("A list has a line at least.", "text")
    return shop.save_kept(work, record or Checklist(), shop.ChecklistCard(form.family.data.strip(), lines), "family")


def _begin_checklist(form: Any, record: Any) -> None:
    form.text.data = "\n".join(record.lines)


def _write_table(work: UnitOfWork, record: Any, form: Any) -> Base:
    columns = tuple(x.strip() for x in form.names.data.split(";") if x.strip())
    if not columns:
        raise InputError("Name the curves, separated by semicolons.", "names")
    rows = shop.read_rows(
        form.text.data,
        columns,
        lambda t: units.parse(t, "speed", system()).value,
        lambda t: units.parse(t, form.quantity.data, system()).value,
    )
    return shop.save_kept(work, record or OutsideTable(), form.command(shop.TableCard, columns=columns, rows=rows))


def _begin_table(form: Any, record: Any) -> None:
    symbol, own = units.kind_named(record.quantity).symbol(system()), units.kind_named("speed").symbol(system())
    form.names.data = "; ".join(record.columns)
    form.text.data = "\n".join(
        " ".join(
            [
                f"{units.to_unit(row[0], 'speed', own):.0f}",
                *(f"{units.to_unit(v, record.quantity, symbol):.4g}" for v in row[1:]),
            ]
        )
        for row in record.rows
    )


def _shown(value: float | None, kind: str) -> str:
    return units.show(value, kind, system()) if value is not None else ""


REGISTERS = {
    r.key: r
    for r in (
        Register(
            "cells",
            "Cells",
            "cell",
            shop.cells,
            Cell,
            forms.CellForm,
            ("Cell", "Open", "Days", "An hour"),
            lambda c: (c.name, f"{_clock(c.opens)} to {_clock(c.closes)}", c.days, f"{c.rate:.0f}"),
            _write_cell,
            _begin_cell,
        ),
        Register(
            "engines",
            "Test engines",
            "test engine",
            shop.engines,
            TestEngine,
            forms.EngineForm,
            ("Serial", "What", "Breaks away at", "Runs at"),
            lambda e: (e.serial, e.what, _shown(e.breakaway, "torque"), _shown(e.running, "torque")),
            _write_engine,
            has_label=True,
        ),
        Register(
            "tunes",
            "Tunes",
            "tune",
            shop.tunes,
            TuneFile,
            forms.TuneForm,
            ("Tune", "Author", "Made for", "File"),
            lambda t: (
                t.name,
                t.author,
                ", ".join(filter(None, (t.sensors, t.injectors, t.runner_valves))),
                t.sha256[:12],
            ),
            _write_tune,
        ),
        Register(
            "fuels",
            "Fuel batches",
            "fuel batch",
            shop.fuels,
            FuelBatch,
            forms.FuelForm,
            ("Batch", "Grade", "Delivered"),
            lambda f: (f.name, f.grade, _day(f.delivered_on)),
            _write_fuel,
        ),
        Register(
            "sensors",
            "Sensors",
            "sensor",
            shop.sensors,
            Sensor,
            forms.SensorForm,
            ("Sensor", "Measures", "Range", "Due"),
            lambda s: (
                s.name,
                s.measures,
                f"{_shown(s.low, s.kind)} to {_shown(s.high, s.kind)}"
                + (" absolute" if s.kind == "pressure" and s.is_absolute else ""),
                _day(s.due_on),
            ),
            _write_sensor,
        ),
        Register(
            "samples",
            "Samples",
            "sample",
            shop.samples,
            Sample,
            forms.SampleForm,
            ("Part", "Number", "State", "Lies"),
            lambda s: (s.revision.title, s.serial, s.state, s.place),
            _write_sample,
            has_label=True,
        ),
        Register(
            "checklists",
            "Checklists",
            "checklist",
            shop.checklists,
            Checklist,
            forms.ChecklistForm,
            ("Family", "Lines"),
            lambda c: (c.family, "; ".join(c.lines)),
            _write_checklist,
            _begin_checklist,
        ),
        Register(
            "outside",
            "Others’ tables",
            "table",
            shop.outside_tables,
            OutsideTable,
            forms.TableForm,
            ("Table", "Kind", "Test bed", "Interest of the source"),
            lambda t: (t.name, dict(forms.GRADES)[t.grade], t.test_bed, t.interest),
            _write_table,
            _begin_table,
        ),
    )
}

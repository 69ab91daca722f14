"""Bench sessions as they were seen: readings with their marks, fixtures, plate checks up to the day and the first one after it."""

from __future__ import annotations

from longbreath.core.bench.plates import found_off, in_order
from longbreath.core.case.bench import Flow, PlateCheck, Reading, Trace
from longbreath.dossier.bench.traces import fixture_of, leak_of, stored_reading
from longbreath.dossier.case.tests import part_of
from longbreath.store import models
from longbreath.store.models import Application, BenchSession


def flow_of(application: Application, session: BenchSession) -> Flow:
    """A bench session of an application. A later plate check counts where it finds the scale off."""
    bench = session.bench
    checks = [c for c in in_order(bench.calibrations) if c.held_on <= session.held_on]
    if (later := found_off(bench.calibrations, session.held_on)) is not None:
        checks.append(later)
    return Flow(
        part_of(application),
        session.id,
        session.held_on,
        bench.name,
        session.test_pressure,
        leak_of(session),
        bench.repeatability,
        bench.repeatability_source,
        bench.check_days,
        tuple(PlateCheck(c.id, c.held_on, c.deviation, c.plate_uncertainty) for c in checks),
        tuple(_trace(trace) for trace in session.traces),
    )


def _trace(row: models.Trace) -> Trace:
    readings = tuple(
        Reading(r.lift, stored_reading(r, row), r.taken_by.name, tuple(mark.reason for mark in r.marks))
        for r in row.readings
    )
    return Trace(row.id, row.label, row.title, row.kind, fixture_of(row), row.fixture.words, readings)

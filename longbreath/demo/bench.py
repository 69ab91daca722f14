"""The bench sessions of the demo: sweeps, stacks, fixed parts, exhaust, a day with a drifting column, maps, porting."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import date
from typing import Any

import numpy as np

from longbreath.core.basis.units import from_unit
from longbreath.core.bench import traverse
from longbreath.demo import parts, standin
from longbreath.demo.days import work_day
from longbreath.demo.parts import q
from longbreath.dossier import library
from longbreath.dossier.bench import maps, porting
from longbreath.dossier.bench import verbs as bench_verbs
from longbreath.store.models import Application, Bench, BenchSession, Fixture, Trace
from longbreath.store.unit_of_work import UnitOfWork

LEVEL = (28.0,) * len(standin.LIFTS_MM)
RANGES_CFM = tuple(float(full.split()[0]) for _, full in parts.RANGES)
LEAK = 0.021
NO_HEAD: dict[str, Any] = dict.fromkeys(("bore", "valves", "valve_diameter", "throat_diameter", "stem_diameter"))
FACES = (
    ("port face, as cast", date(2026, 4, 20), 0.85, 1),
    ("port face, short turn laid back", date(2026, 4, 24), 0.42, 2),
)
Share = Callable[[float], float]


def add_bench(db: UnitOfWork) -> Bench:
    """The shop's bench with its ranges and a history of plate checks."""
    first, *others = parts.RANGES
    card = library.BenchCard(
        name="Bench by the window",
        percent_step=0.001,
        pressure_step=q("0.1 inH2O", "column"),
        temperature_rule="temperature",
        repeatability=0.0012,
        repeatability_source="12 repeats of plate 2, 2 Mar 2026",
        leak_limit=q("3 cfm", "flow"),
        check_days=60,
    )
    bench = library.add_bench(db, card, library.RangeCard(first[0], q(first[1], "flow")))
    for label, full_scale in others:
        library.add_range(db, bench, library.RangeCard(label, q(full_scale, "flow")))
    db.refresh(bench)
    for held_on, read in parts.PLATE_CHECKS:
        work_day(db, held_on)
        check = library.PlateCheck(held_on, "plate 2", q("180.0 cfm", "flow"), 0.005, q(read, "flow"))
        library.add_check(db, bench, check)
    db.refresh(bench, ["calibrations"])
    return bench


def fixture(db: UnitOfWork, application: Application, **change: Any) -> Fixture:
    """The Heron's intake fixture, with what is changed of it."""
    card = replace(parts.INTAKE_FIXTURE, **change)
    return bench_verbs.save_fixture(db, application, None, card)


def session(
    db: UnitOfWork,
    application: Application,
    bench: Bench,
    sits_on: Fixture,
    held_on: date,
    kind: str = "sweep",
    **change: Any,
) -> BenchSession:
    """A session at 28 inH2O with a small leak."""
    work_day(db, held_on)
    card = bench_verbs.BenchSessionCard(
        bench_id=bench.id,
        held_on=held_on,
        test_pressure=q("28 inH2O", "column"),
        temperature=q("19.5 C", "temperature"),
        pressure=q("1009 hPa", "barometer"),
        humidity=0.46,
        meter_temperature=q("23.5 C", "temperature"),
        leak_range_id=bench.ranges[0].id,
        leak_percent=LEAK,
        leak_pressure=q("28 inH2O", "column"),
    )
    return bench_verbs.open_session(db, application, sits_on, replace(card, **change), kind)


def trace(db: UnitOfWork, found: BenchSession, sits_on: Fixture, title: str, label: str = "", **more: Any) -> Trace:
    """A further trace of a session."""
    return bench_verbs.add_trace(db, found, sits_on, bench_verbs.TraceCard(title, label, **more))


def sweep(
    db: UnitOfWork, found: Trace, share: Share, seed: int, pressures: Sequence[float] = LEVEL, times: int = 1
) -> None:
    """Read a trace over the usual lifts, `times` over, as an operator would: smallest range under 95 %."""
    for turn in range(times):
        rows = standin.bench_percentages(share, RANGES_CFM, tuple(pressures), LEAK * RANGES_CFM[0], seed + 7 * turn)
        for lift, index, percent, column in rows:
            _read(db, found, lift, index, percent, column)


def fixed(db: UnitOfWork, found: Trace, cfm: float, seed: int, column: float = 28.0, times: int = 1) -> None:
    """Read a fixed part that flows `cfm` at 28 inH2O, at a column [inH2O]."""
    rng = np.random.default_rng(seed)
    for _ in range(times):
        shown = cfm * (column / 28.0) ** 0.5 * (1 + rng.normal(0, 0.0011)) + LEAK * RANGES_CFM[0]
        index = next(i for i, full in enumerate(RANGES_CFM) if shown <= 0.95 * full)
        _read(db, found, 0.0, index, round(shown / RANGES_CFM[index], 3), column)


def _read(db: UnitOfWork, found: Trace, lift: float, index: int, percent: float, column: float) -> None:
    flags = ["off pressure"] if abs(column / 28.0 - 1) > 0.01 else []
    new = bench_verbs.NewReading(
        lift=lift / 1000.0,
        pressure=from_unit(column, "column", "inH2O"),
        range_id=found.session.bench.ranges[index].id,
        percent=percent,
        flags=tuple(flags),
    )
    bench_verbs.capture(db, found, new)


def of(found: BenchSession, label: str) -> Trace:
    """The first trace of a label."""
    return next(t for t in found.traces if t.label == label)


def _longer(lift: float) -> float:
    return 1.0 + 0.004 * max(0.0, lift - 2.0)


def gannet_sweep(db: UnitOfWork, application: Application, bench: Bench, sections: dict[str, Any]) -> None:
    """Stock and Gannet on the head; once the column had dropped when the freer part went on."""
    found = session(db, application, bench, fixture(db, application), date(2026, 5, 6))
    dropped = (28.0, 28.0, 28.0, 27.9, 28.0, 28.0, 28.0, 25.4, 28.0, 28.0)
    for number, (label, share, pressures) in enumerate((("A", lambda lift: 1.0, LEVEL), ("B", _longer, dropped))):
        one = of(found, label)
        one.section = sections[label]
        sweep(db, one, share, 50 + number, pressures)


def gannet_story(db: UnitOfWork, application: Application, bench: Bench, sections: dict[str, Any]) -> None:
    """The rest of the Gannet's days on the bench: runners, stack, repeats, exhaust, two faces, a port that was stopped."""
    _runners(db, application, bench)
    _stack(db, application, bench)
    repeats = session(db, application, bench, fixture(db, application), date(2026, 5, 8))
    for label, section in sections.items():
        of(repeats, label).section = section
    sweep(db, of(repeats, "A"), lambda lift: 1.0, 210, times=3)
    sweep(db, of(repeats, "B"), _longer, 260, times=3)
    _exhaust(db, application, bench)
    _faces(db, application)
    _porting(db, application)


def _runners(db: UnitOfWork, application: Application, bench: Bench) -> None:
    sits_on = fixture(
        db, application, **NO_HEAD, port="each runner by itself", mouth="plenum, lid on", note="on the flange plate"
    )
    found = session(db, application, bench, sits_on, date(2026, 4, 21), "fixed")
    for label, flows in (("A", (291.0, 296.5, 295.2, 288.4)), ("B", (279.3, 281.0, 280.6, 277.9))):
        first = of(found, label)
        first.runner = "1"
        fixed(db, first, flows[0], 300 + len(label))
        for number, cfm in enumerate(flows[1:], start=2):
            further = trace(db, found, sits_on, first.title, label, kind="fixed", runner=str(number))
            fixed(db, further, cfm, 310 + number)


def _stack(db: UnitOfWork, application: Application, bench: Bench) -> None:
    sits_on = fixture(db, application)
    found = session(db, application, bench, sits_on, date(2026, 5, 7))
    alone = trace(db, found, sits_on, "head alone", stack="head")
    sweep(db, alone, lambda lift: 1.135 + 0.006 * lift, 400)
    for number, (label, share) in enumerate((("A", lambda lift: 1.02), ("B", lambda lift: 1.02 * _longer(lift)))):
        one = of(found, label)
        one.stack = "head + manifold"
        sweep(db, one, share, 410 + number)
    for number, (label, share) in enumerate((("A", lambda lift: 1.0), ("B", _longer))):
        title = f"{of(found, label).title} + throttle"
        whole = trace(db, found, sits_on, title, label, stack="head + manifold + throttle")
        sweep(db, whole, share, 420 + number)


def _exhaust(db: UnitOfWork, application: Application, bench: Bench) -> None:
    """The exhaust port with a pipe stub and without one: not to be compared."""
    stub = fixture(db, application, **parts.EXHAUST)
    bare = fixture(db, application, **{**parts.EXHAUST, "outlet": "nothing"})
    found = session(db, application, bench, stub, date(2026, 5, 11))
    for one, sits_on in zip(found.traces, (stub, bare), strict=True):
        one.label, one.fixture_id, one.fixture = "", sits_on.id, sits_on
    found.traces[0].title, found.traces[1].title = "exhaust port with stub", "exhaust port, no stub"
    db.flush()
    sweep(db, found.traces[0], lambda lift: 0.735, 500)
    sweep(db, found.traces[1], lambda lift: 0.70, 510)


def _faces(db: UnitOfWork, application: Application) -> None:
    """The port's face as cast, and after the short turn was laid back."""
    width, height = 0.046, 0.0336
    outline = traverse.face_of("rounded_rectangle", {"width": width, "height": height, "corner_radius": 0.009})
    for title, held_on, tilt, seed in FACES:
        work_day(db, held_on)
        card = maps.MapCard(
            title=title,
            held_on=held_on,
            lift=0.008,
            test_pressure=q("28 inH2O", "column"),
            temperature=292.6,
            pressure=q("1011 hPa", "barometer"),
            shape="rounded_rectangle",
            columns=6,
            rows=4,
        )
        found = maps.add_map(db, application, outline, card)
        rng = np.random.default_rng(seed)
        for x, y in traverse.grid(outline, 6, 4):
            wall = (1 - (abs(x) / (width / 2)) ** 6) * (1 - (abs(y) / (height / 2)) ** 6)
            velocity = 72.0 * (0.55 + 0.45 * wall) * (1 + tilt * y / height) * (1 + rng.normal(0, 0.015))
            maps.add_point(db, found, x, y, round(0.5 * 1.16 * velocity**2 / 5.0) * 5.0)


def _porting(db: UnitOfWork, application: Application) -> None:
    """Four bouts with ever less gain, and the wall at its limit: stopped."""
    work_day(db, parts.BOUTS[0][0])
    card = porting.JobCard(
        name="Heron intake port, cylinder 2",
        lift=0.010,
        test_pressure=q("28 inH2O", "column"),
        start_flow=q("205.0 cfm", "flow"),
        target_flow=q("222 cfm", "flow"),
        flow_uncertainty=q("0.8 cfm", "flow"),
        hours_allowed=q("14 h", "hours"),
        wall_limit=q("2.5 mm", "length"),
    )
    job = porting.save_job(db, application, None, card)
    for held_on, hours, flow, wall, cut in parts.BOUTS:
        work_day(db, held_on)
        walls = (("short turn", wall / 1000.0), ("roof", 0.0041), ("push-rod side", 0.0036))
        porting.add_bout(db, job, porting.BoutCard(held_on, q(hours, "hours"), q(flow, "flow"), cut, walls))


def petrel_sweep(db: UnitOfWork, application: Application, bench: Bench, sections: dict[str, Any]) -> None:
    """Stock and Petrel throttle body on the head."""
    found = session(db, application, bench, fixture(db, application), date(2026, 9, 22))
    for number, (label, share) in enumerate((("A", lambda lift: 1.0), ("B", lambda lift: 1.0 + 0.0012 * lift))):
        one = of(found, label)
        one.section = sections[label]
        sweep(db, one, share, 50 + number)


def petrel_alone(db: UnitOfWork, application: Application, bench: Bench) -> None:
    """The two throttle bodies by themselves, wide open."""
    sits_on = fixture(db, application, **NO_HEAD, port="throttle body", note="blade held fully open")
    found = session(
        db,
        application,
        bench,
        sits_on,
        date(2026, 9, 23),
        "fixed",
        test_pressure=q("3 inH2O", "column"),
        leak_pressure=q("3 inH2O", "column"),
        leak_percent=0.007,
    )
    for label, cfm, seed in (("A", 281.0, 600), ("B", 322.5, 610)):
        one = of(found, label)
        rng = np.random.default_rng(seed)
        for _ in range(3):
            percent = round((cfm * (1 + rng.normal(0, 0.0011)) + 0.4) / RANGES_CFM[3], 3)
            new = bench_verbs.NewReading(0.0, q("3 inH2O", "column"), range_id=bench.ranges[3].id, percent=percent)
            bench_verbs.capture(db, one, new)


def elbow_story(db: UnitOfWork, application: Application, bench: Bench) -> None:
    """Two days with the inlet elbow: one reading was taken while the column had drifted, and taken anew a week later."""
    sits_on = bench_verbs.save_fixture(db, application, None, parts.ELBOW_FIXTURE)
    first = session(db, application, bench, sits_on, date(2026, 6, 12), "fixed")
    fixed(db, of(first, "A"), 268.4, 700, times=3)
    fixed(db, of(first, "B"), 291.2, 710, column=24.6)
    again = session(db, application, bench, sits_on, date(2026, 6, 19), "fixed")
    fixed(db, of(again, "A"), 268.4, 720, times=4)
    fixed(db, of(again, "B"), 291.2, 730, times=4)
    taken = bench_verbs.take_back(db, of(again, "B"))
    assert taken is not None
    fixed(db, of(again, "B"), 291.2, 740)

"""Every figure of a claim made again from the case and the tables of its bundle, by the same core as the house uses."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from longbreath.core.air import correction
from longbreath.core.air.moist import Weather
from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.bench import reduction
from longbreath.core.claim import stating
from longbreath.core.claim.facts import Fact
from longbreath.core.claim.grammar import Composition, Line, compose, sentences
from longbreath.core.claim.kinds.airflow import LiftGain, Pair
from longbreath.core.claim.stating import Stated
from longbreath.core.dyno import bands, compare, pulls
from longbreath.core.dyno.compare import Comparison
from longbreath.core.weigh import fuel, ledger, logged, rows
from longbreath.core.weigh.ledger import BOUNDED, MEASURED
from longbreath.core.weigh.logged import Logged
from longbreath.proof.case import Case, FitCase, FlowCase, Held, LineCase, PullsCase, RunCase, TrialCase
from longbreath.proof.channels import from_csv

Files = Mapping[str, bytes]


@dataclass(frozen=True)
class Again:
    """What came out again: what may be stated, the facts that the writer chose with their lines, the sentences."""

    stated: Stated
    said: tuple[tuple[Fact, Line], ...]
    sentences: tuple[str, ...]
    comparison: Comparison | None = None


def state(case: Case, files: Files) -> Stated:
    """What may be stated of a case. Raises InputError or EvidenceError where its files do not allow it."""
    if isinstance(case, PullsCase):
        return _pulls(case, files)
    if isinstance(case, FlowCase):
        return stating.of_flow(_pair(case), case.part, case.against)
    if isinstance(case, TrialCase):
        return _trial(case)
    if isinstance(case, FitCase):
        return stating.of_fit(case.spots, case.minutes, case.setting)
    assert isinstance(case, RunCase)
    return stating.of_run(len(case.seconds), sum(case.seconds), case.sessions, case.setting)


def again(case: Case, sheet: Mapping[str, Any], files: Files) -> Again:
    """The claim made again: its facts by the writer's choice, and its sentences."""
    stated = state(case, files)
    lines = tuple(Line(str(x["fact"]), int(x["phrasing"]), bool(x["short"])) for x in sheet.get("lines", ()))
    composed = Composition(lines, bool(sheet.get("joined")))
    said = compose(stated.facts, composed.lines)
    comparison = stated.weighing.comparison if stated.weighing is not None else None
    return Again(stated, said, sentences(stated.setting, said, composed.joined), comparison)


def factor_of(test: Held, place: int) -> float:
    """What the logged torque of a session is multiplied by: 1 where its files carry corrected figures."""
    session = test.sessions[place]
    if session.already_corrected:
        return 1.0
    air = Weather(session.temperature, session.pressure, session.humidity)
    return correction.correction(air, session.standard, session.name).value


def logged_of(test: Held, files: Files) -> list[Logged]:
    """The pulls of a test with their channels. Raises InputError where one is missing."""
    found = []
    for pull in test.pulls:
        data = files.get(pull.channels)
        if data is None:
            raise InputError(f"{pull.channels} is not in the bundle.", "file")
        if not 0 <= pull.session < len(test.sessions):
            raise InputError(f"{pull.row} is of no session of the case.", "file")
        found.append(
            Logged(
                pull.label,
                pull.build,
                pull.order,
                pull.fitting,
                pull.day,
                pull.row,
                from_csv(data, pull.channels),
                test.sessions[pull.session].pressure,
                factor_of(test, pull.session),
            )
        )
    return found


def _compared(test: Held, every: Sequence[Logged]) -> Comparison:
    grid = pulls.speed_grid(test.low, test.high)
    runs = logged.curves([p for p in every if p.label in ("A", "B")], grid, test.several_dynos)
    return compare.compare_pulls(
        runs, grid, scatter=test.scatter, as_ratios=test.several_dynos, margin_share=test.margin
    )


def _pulls(case: PullsCase, files: Files) -> Stated:
    every = logged_of(case.test, files)
    comparison = _compared(case.test, every)
    weighing = bands.weigh(comparison, case.bands, case.late)
    net = None
    if case.has_ledger:
        net = ledger.net_of(weighing, [_line(item, comparison, case, files) for item in case.ledger])
    if case.kind == "response":
        shown = logged.respond(every, comparison, case.bands)
        return stating.of_response_shown(shown, ledger.applied(weighing, net), case.setting)
    schools = None
    if case.school:
        schools = logged.schools(every, comparison.grid, case.test.scatter, case.control_mode)
    return stating.of_power(weighing, net, schools, case.setting, case.boosted, case.school)


def _line(item: LineCase, comparison: Comparison, case: PullsCase, files: Files) -> ledger.Line:
    if item.kind == BOUNDED:
        low, high = ledger.bounded(comparison, item.low or 0.0, item.high or 0.0)
        return ledger.Line(item.line, item.label, BOUNDED, item.words, low=low, high=high)
    if item.kind == MEASURED and item.test is not None:
        own = _compared(item.test, logged_of(item.test, files))
        value, error, df, effects = ledger.measured(comparison, own, case.bands)
        shares = item.shares_pulls
        return ledger.Line(
            item.line, item.label, MEASURED, item.words, value, error, df, shares_pulls=shares, of_band=effects
        )
    return ledger.Line(item.line, item.label, item.kind, item.words)


def _pair(case: FlowCase) -> Pair:
    lifts = []
    for item in case.lifts:
        a, b = (
            reduction.reduce_repeats(list(side), case.test_pressure, case.leak, case.noise) for side in (item.a, item.b)
        )
        off = any(reduction.is_off_pressure(r.pressure, case.test_pressure) for r in (*item.a, *item.b))
        lifts.append(LiftGain(item.lift, a.value, reduction.difference(a, b, True), off))
    return Pair(case.a, case.b, case.fixture, case.test_pressure, (), tuple(lifts))


def _trial(case: TrialCase) -> Stated:
    if case.kind != "fuel":
        return stating.of_readings(rows.weigh(case.kind, case.rows, case.step), case.setting, case.tool)
    trial = fuel.weigh_trial(rows.runs(case.rows))
    worth = None
    if case.miles is not None:
        per = case.miles.price / units.from_unit(1.0, "fuel_volume", case.miles.sold_by)
        worth = fuel.worth(trial, case.miles.distance, per, case.fuel)
    return stating.of_fuel(trial, worth, case.miles, case.setting)

"""The one table of gates: each fails by itself, none can only be met, each says what would meet it."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from typing import Any

import numpy as np
import pytest

from longbreath.core.build.sheet import Differing
from longbreath.core.claim.facts import AS_SET, EQUAL_BOOST, Fact
from longbreath.core.claim.gates.gate import Grounds, OnDyno, OnLooks, OnTool
from longbreath.core.claim.gates.house import SAID
from longbreath.core.claim.gates.table import GATES, gates, may_publish, rules_of
from longbreath.core.claim.kinds.fuel import Miles
from longbreath.core.claim.kinds.register import KINDS
from longbreath.core.claim.road import Certificate, Road
from longbreath.core.compare import bands, compare
from longbreath.core.compare.compare import PullCurve
from tests.core.claim.test_airflow import PAIR, lift
from tests.core.claim.test_facts import weighed
from tests.core.compare.flat import BANDS, GRID, runs

FUEL = Differing("fuel", "Fuel and batch", "old", "new", "the tank ran dry")
PART = {"part_state": "as cast", "machining": "faced", "coating": "none"}
DYNO = OnDyno(
    weighing=weighed(),
    sides=("Heron, mark 41", "heron,  mark 41"),
    differing=(),
    parts=(PART, {**PART, "serial": "GL-0031"}),
)
ROAD = Road("closed_course", tampering="keeps", day=date(2026, 6, 1))
GAIN = Fact("gain", "torque", "band", 300.0, 400.0, 3.0, 1.0, "middle")
NOTES = {"sold": "all of them", **dict.fromkeys(SAID, "not recorded")}
GROUNDS = Grounds(
    kind="torque",
    said=(GAIN,),
    drafted_on="k",
    evidence="k",
    records=(("the product’s name", "Petrel 66 mm throttle body"), ("the gear", "4th gear")),
    road=ROAD,
    state_sold="As cast",
    notes=NOTES,
    dyno=DYNO,
)
FLOW = replace(GROUNDS, kind="airflow", dyno=None, bench=PAIR)
TOOL = OnTool("mass", "bench scale", 0.01, (("Weighed with", "flange nuts"),))
MASS = replace(GROUNDS, kind="mass", dyno=None, tool=TOOL)
FUEL_TRIAL = replace(MASS, kind="fuel", tool=replace(TOOL, kind="fuel"))
LOOKS = replace(GROUNDS, kind="fitment", dyno=None, looks=OnLooks(6, 3, "place"))
HELD = Certificate("emissions", "EO-12", "Northland", (2013, 2018), date(2027, 1, 1))


def failed(of: Grounds = GROUNDS, **change: Any) -> list[str]:
    return [gate.key for gate in gates(replace(of, **change)) if not gate.met]


def dyno(**change: Any) -> dict[str, Any]:
    return {"dyno": replace(DYNO, **change)}


@pytest.mark.parametrize("grounds", [GROUNDS, FLOW, MASS, FUEL_TRIAL, LOOKS])
def test_sound_grounds_pass_every_gate(grounds: Grounds) -> None:
    assert failed(grounds) == []
    assert may_publish(gates(grounds))
    assert not may_publish(gates(replace(grounds, said=())))


@pytest.mark.parametrize(
    ("change", "gate"),
    [
        (dyno(sides=("Heron", "the other Heron")), "vehicle"),
        (dyno(sides=("Heron", "")), "vehicle"),
        (dyno(differing=(FUEL, replace(FUEL, reason=""))), "explained"),
        ({"said": ()}, "found"),
        (dyno(outside_standard=("The air temperature 41 °C is outside 15 to 35 °C.",)), "air"),
        (dyno(boosted=True), "boost"),
        (dyno(boosted=True, school=AS_SET), "boost"),
        (dyno(sets=""), "sets"),
        (dyno(lapsed=("the rollers, due on 1 May",)), "lapsed"),
        (dyno(doubts=("Compression of cylinder 2 is low.",)), "health"),
        (dyno(judgement=("not comparable", "the cam differs.")), "comparable"),
        (dyno(parts=({**PART, "coating": " "}, DYNO.parts[1])), "parts"),
        (dyno(parts=(PART, PART)), "serial"),
        ({"state_sold": "hand-finished"}, "state"),
        ({"state_sold": " "}, "state"),
        ({"notes": {**NOTES, "sold": ""}}, "sold"),
        ({"notes": {**NOTES, "sold": "Not recorded."}}, "sold"),
        ({"notes": {**NOTES, "idle": " "}}, "notes"),
        ({"drafted_on": "an earlier state"}, "current"),
        ({"required": frozenset({"loss-torque-band-top"})}, "tradeoffs"),
        ({"unweighed": ("noise: too few",)}, "tradeoffs"),
        ({"foreign": ("a supplier’s trial",)}, "own"),
        ({"age": (800, 730)}, "age"),
        ({"records": (("the gear", "4th, 90 hp more"),)}, "records"),
        ({"records": (("life", "swap it back before the inspection"),)}, "opened"),
        ({"road": replace(ROAD, status="unknown")}, "approval"),
        ({"road": replace(ROAD, tampering="")}, "approval"),
        ({"road": replace(ROAD, status="approved", note="EO-12")}, "approval"),
        (
            {"road": replace(ROAD, status="approved", certificates=(replace(HELD, until=date(2026, 5, 31)),))},
            "approval",
        ),
        ({"road": replace(ROAD, status="not_required", note=" ")}, "approval"),
        ({"road": replace(ROAD, status="not_required", note="Northland", tampering="removes")}, "approval"),
        (dyno(weighing=weighed(order="AABBAA")), "repeats"),
        (dyno(weighing=weighed(order="AAABBB")), "return"),
    ],
)
def test_each_gate_fails_by_itself_and_says_what_would_meet_it(change: dict[str, Any], gate: str) -> None:
    assert failed(**change) == [gate]
    (found,) = [g for g in gates(replace(GROUNDS, **change)) if not g.met]
    assert found.meet
    assert found.where


@pytest.mark.parametrize(
    ("grounds", "gate"),
    [
        (replace(FLOW, bench=replace(PAIR, differs=("mouth: clay against radius plate",))), "fixture"),
        (replace(FLOW, bench=replace(PAIR, lifts=(lift(8, 200, 206.3, True),))), "read"),
        (replace(FLOW, bench=replace(PAIR, calibration_due=True)), "calibrated"),
        (replace(FLOW, bench=replace(PAIR, never_checked=True)), "calibrated"),
        (replace(FLOW, bench=replace(PAIR, lifts=())), "measured"),
        (replace(MASS, tool=replace(TOOL, tool=" ")), "tool"),
        (replace(MASS, tool=replace(TOOL, step=0.0)), "tool"),
        (replace(MASS, tool=replace(TOOL, conditions=(("Weighed with", ""),))), "conditions"),
        (replace(MASS, tool=replace(TOOL, problem="Two of A are needed.")), "weighed"),
        (replace(FUEL_TRIAL, said=(replace(GAIN, quantity="money"),)), "money"),
        (replace(LOOKS, looks=OnLooks(2, 3, "place")), "enough"),
        (replace(LOOKS, looks=OnLooks(6, 3, "place", ("It touches the bonnet.",))), "stood"),
    ],
)
def test_the_gates_of_other_kinds_fail_by_themselves(grounds: Grounds, gate: str) -> None:
    assert failed(grounds) == [gate]


def test_money_with_its_miles_and_a_boosted_gain_with_its_school_pass() -> None:
    miles = Miles(2e7, 1.6, "L", "crowns")
    assert failed(replace(FUEL_TRIAL, said=(replace(GAIN, quantity="money"),), tool=replace(TOOL, miles=miles))) == []
    assert failed(**dyno(boosted=True, school=AS_SET, pressure="B ran at +2.0 % of A’s pressure.")) == []
    assert failed(**dyno(boosted=True, school=EQUAL_BOOST)) == []
    assert failed(**dyno(judgement=("not comparable", "x"), differing=(FUEL,), closed=True, net=True)) == []


def test_a_certificate_in_date_carries_road_use_even_of_a_part_that_removes_a_device() -> None:
    road = replace(ROAD, status="approved", tampering="removes", certificates=(HELD,))
    assert failed(road=road) == []
    assert "approved for road use" in road.words.casefold()
    late = replace(road, day=date(2027, 1, 2))
    assert failed(road=late) == ["approval"]
    assert "Closed course only" in late.words


def test_a_boosted_engine_that_gained_nothing_goes_out() -> None:
    assert failed(**dyno(boosted=True, weighing=weighed(0.0, noise=0.1))) == []


def test_without_a_sheet_neither_what_differed_nor_the_vehicle_is_known() -> None:
    assert failed(**dyno(sides=("Heron", None))) == ["sheets", "vehicle"]


def test_a_difference_with_its_reason_makes_a_package() -> None:
    (gate,) = [g for g in gates(replace(GROUNDS, **dyno(differing=(FUEL,)))) if g.key == "explained"]
    assert gate.met
    assert "that of a package" in gate.evidence


def test_every_kind_has_gates_of_its_own_and_every_gate_a_kind() -> None:
    for kind in KINDS:
        assert any(kind in rule.kinds for rule in rules_of(kind))
        assert {"approval", "records", "opened", "tradeoffs"} <= {rule.key for rule in rules_of(kind)}
    assert all(set(rule.kinds) <= set(KINDS) for rule in GATES)
    assert len({rule.key for rule in GATES}) == len(GATES)


def soaked(line: float, curve: float) -> Any:
    """A weighing whose torque drifts straight by `line` and bends by `curve` over the session [N m]."""
    place = np.linspace(-1.0, 1.0, 9)
    made = [
        PullCurve(r.label, r.order, r.torque + line * x + curve * x * x)
        for r, x in zip(runs("AAABBBAAA", 4.0, noise=0.2, seed=2), place, strict=True)
    ]
    return bands.weigh(compare.compare_pulls(made, GRID), BANDS)


def test_the_gate_measures_the_harm_of_drift_not_its_size() -> None:
    """A straight drift of 4 N·m is taken out; a bend of 3 N·m that comes and goes with B is not let through."""
    assert "return" not in failed(**dyno(weighing=soaked(4.0, 0.0)))
    assert failed(**dyno(weighing=soaked(0.0, 3.0))) == ["return"]
    (gate,) = [g for g in gates(replace(GROUNDS, **dyno(weighing=soaked(4.0, 0.0)))) if g.key == "return"]
    assert "could not have been seen" in gate.evidence

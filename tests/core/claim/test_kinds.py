"""The register of kinds: how each is worded and rounded, what is stated of it, what a seller would have liked to say."""

from __future__ import annotations

import re
from dataclasses import replace
from datetime import date

import pytest

from longbreath.core.basis.units import from_unit
from longbreath.core.claim.facts import EQUAL_BOOST, FOUND, GAIN, LOSS, NO_DIFFERENCE, NOT_PROVEN, Fact, Setting
from longbreath.core.claim.grammar import SheetLine, clause, compose, offered, phrasings, printed, sentences
from longbreath.core.claim.kinds import fuel, looks, readings, response
from longbreath.core.claim.kinds.fuel import Miles
from longbreath.core.claim.kinds.register import KINDS, QUANTITIES
from longbreath.core.claim.language import find_concealment
from longbreath.core.claim.methods import METHODS, version_of
from longbreath.core.claim.proposal import strongest, wishes
from longbreath.core.claim.road import Certificate, Covered, Road
from longbreath.core.claim.rounding import amount, exact
from longbreath.core.compare.compare import Effect
from longbreath.core.path.mounting import FitPlace
from longbreath.core.weigh.fuel import FuelTrial, worth
from longbreath.core.weigh.readings import ReadingsCompared
from longbreath.core.weigh.response import ResponseJudged

SETTING = Setting("Part rev C", "stock part", "Heron 2.0", "wheel", "SAE J1349", one_session=True, back_to_back=True)
ROAD = Road("closed_course", tampering="keeps", day=date(2026, 6, 1))


def effect(value: float, error: float, df: float = 10.0, half: float | None = None) -> Effect:
    return Effect(value, error, half if half is not None else 2.2 * error, error, df, 0.0)


def test_every_kind_names_its_quantities_its_method_and_what_it_never_says() -> None:
    assert set(KINDS) == set(METHODS)
    for name, kind in KINDS.items():
        assert kind.never
        assert kind.rests_on
        assert version_of(name) == f"{name} {METHODS[name][0]}"
        assert kind.measured(replace(SETTING, kind=name)).endswith(".")


@pytest.mark.parametrize("quantity", sorted(QUANTITIES))
def test_every_phrasing_of_every_quantity_is_whole_and_carries_its_unit(quantity: str) -> None:
    of = QUANTITIES[quantity]
    for kind in of.wordings:
        value = -2.0 if (kind == LOSS) != of.less_is_better else 2.0
        fact = Fact(kind, quantity, "place", 314.0, 544.0, value * 60, 0.0 if of.exact else 30.0, "strut bar")
        for phrasing in range(len(phrasings(fact))):
            text = clause(fact, SheetLine(fact.key, phrasing), replace(SETTING, kind="torque"))
            assert "{" not in text
            assert of.exact or "95\u202f% interval" in text
        assert all("{" not in words for words in offered(fact))


def test_less_is_better_is_rounded_against_the_maker_as_well() -> None:
    """A saving toward nought, a cost away from it; the interval outward; both signs as they are."""
    saved, cost = (amount(v, 0.01, "percent", less_is_better=True) for v in (-0.0374, 0.0374))
    assert saved.size() == "3.5\u00a0%"
    assert cost.size() == "4.0\u00a0%"
    low, high = (float(x.replace("−", "-").rstrip("\u00a0%")) for x in saved.interval().split(" to "))
    assert low <= -4.74
    assert high >= -2.74


def test_counts_are_printed_without_an_interval_and_rounded_down() -> None:
    assert exact(24.0, "count") == "24"
    assert exact(119.0, "minutes") == "1\u00a0min"


def test_readings_become_facts_and_what_is_worse_must_be_said() -> None:
    found = (
        ReadingsCompared("noise", "A-weighted, 0.5 m, 4500 rpm", effect(2.8, 0.2), "louder", (4, 4)),
        ReadingsCompared("noise", "A-weighted, 1.0 m, 4500 rpm", effect(0.1, 0.2), "not proven", (4, 4)),
    )
    facts = readings.facts_of(found)
    assert [(f.kind, f.required) for f in facts] == [(LOSS, True), (NOT_PROVEN, False)]
    setting = replace(SETTING, kind="noise", told=("Read with N1.",))
    text = " ".join(sentences(setting, compose(facts, [])))
    assert "louder (A-weighted, 0.5 m, 4500 rpm)" in text
    assert text.endswith("not an approval for noise. Read with N1.")
    cooler = readings.facts_of(
        (ReadingsCompared("temperature", "charge air, after the cooler", effect(-3.0, 0.3), "cooler", (3, 3)),)
    )
    assert "cooler over ambient" in clause(cooler[0], SheetLine(cooler[0].key), replace(SETTING, kind="temperature"))
    mass = readings.facts_of((ReadingsCompared("mass", "on one scale", effect(-1.2, 0.01), "lighter", (3, 3)),))
    assert clause(mass[0], SheetLine(mass[0].key), replace(SETTING, kind="mass")).startswith("was 2.6")


TRIAL = FuelTrial(-0.04, -0.06, -0.02, GAIN, 0.03, 6, 6, 10.0, 1e-7, (), 96)


def test_money_is_a_fact_only_of_a_proven_saving_and_names_its_miles() -> None:
    miles = Miles(from_unit(20000, "distance", "km"), 1.6, "L", "crowns")
    value = worth(TRIAL, miles.distance, miles.price / 1e-3, "petrol")
    facts = fuel.facts_of(TRIAL, value)
    assert [(f.kind, f.quantity) for f in facts] == [(GAIN, "fuel"), (GAIN, "money")]
    told = " ".join(
        sentences(replace(SETTING, kind="fuel", told=(miles.words,)), compose(facts, [SheetLine(f.key) for f in facts]))
    )
    assert "used 4\u00a0% less fuel" in told
    assert "fuel money a year" in told
    assert "Money is reckoned for 12\u202f427\u00a0mi" in told
    assert "1.60 crowns a L" in told
    unproven = replace(TRIAL, low=-0.06, high=0.02, verdict=NOT_PROVEN)
    assert [f.quantity for f in fuel.facts_of(unproven, worth(unproven, 1e7, 1000.0, "petrol"))] == ["fuel"]
    worse = fuel.facts_of(replace(TRIAL, share=0.04, low=0.02, high=0.06, verdict=LOSS))
    assert worse[0].required


def test_response_looks_at_one_quantity_first_and_the_others_share_their_error() -> None:
    first = ResponseJudged("speed at 90% of the boost", "speed", 300.0, effect(-12.0, 4.0, 4.0, 11.1), "sooner")
    others = [ResponseJudged(f"thing {k}", "time", 2.0, effect(-0.12, 0.04, 4.0, 0.111), "sooner") for k in range(4)]
    facts = {f.name: f for f in response.facts_of([first, *others])}
    assert facts[first.name].kind == GAIN
    assert facts[first.name].half_width == pytest.approx(11.1, abs=0.02)
    assert {facts[o.name].kind for o in others} == {NOT_PROVEN}
    assert facts["thing 0"].half_width == pytest.approx(4.315 * 0.04, rel=0.01)  # t(0.99375, 4), a table of Student's t
    later = response.facts_of([replace(first, effect=effect(30.0, 4.0, 4.0), verdict="later")])
    assert later[0].required


def test_looks_and_runs_are_counted() -> None:
    spots = [
        FitPlace("bonnet", 0.03, "clear"),
        FitPlace("strut bar", 0.004, "clear"),
        FitPlace("firewall", None, "touches"),
    ]
    facts = looks.facts_of_fit(spots, 5400.0)
    setting = replace(SETTING, kind="fitment", against="")
    text = " ".join(sentences(setting, compose(facts, [SheetLine(f.key) for f in facts])))
    assert "cleared 1 places that were looked at." in text
    assert "came close at the strut bar" in text
    assert "touched at the firewall" in text
    assert "took 90\u00a0min to fit" in text
    only = " ".join(sentences(setting, compose(facts, [])))
    assert "touched at the firewall" in only
    run = looks.facts_of_run(12, 130.0, 2)
    assert [f.kind for f in run] == [FOUND] * 3
    assert "not how long the part lasts" in " ".join(
        sentences(replace(setting, kind="durability"), compose(run, [SheetLine(run[0].key)]))
    )
    assert looks.facts_of_run(0, 0.0, 0) == ()


BANDS = (
    Fact(GAIN, "torque", "band", 300.0, 400.0, 2.0, 1.0, "low"),
    Fact(GAIN, "torque", "band", 400.0, 500.0, 6.0, 1.0, "middle"),
    Fact(LOSS, "torque", "band", 500.0, 700.0, -3.0, 1.0, "top", required=True),
    Fact(NOT_PROVEN, "power", "peak", 0.0, 0.0, 100.0, 900.0, usual=False),
)


def test_a_draft_begins_with_the_largest_gain_and_keeps_the_loss() -> None:
    keys = [line.fact for line in strongest(BANDS).lines]
    assert keys == ["gain-torque-band-middle", "gain-torque-band-low", "loss-torque-band-top"]
    unproven = [replace(f, kind=NOT_PROVEN, required=False) for f in BANDS]
    assert len(strongest(unproven).lines) == 3


@pytest.mark.parametrize(
    ("facts", "setting", "road", "words"),
    [
        (BANDS, SETTING, ROAD, "Up to"),
        (BANDS, SETTING, ROAD, "Better everywhere, without a drawback."),
        (BANDS, SETTING, ROAD, "at the crank"),
        (BANDS, SETTING, ROAD, "For the road."),
        ((BANDS[0], replace(BANDS[1], kind=NO_DIFFERENCE)), SETTING, ROAD, "Better everywhere."),
        (BANDS, replace(SETTING, package=("Fuel and batch",)), ROAD, "The part alone did it."),
        (BANDS, replace(SETTING, school="as set"), ROAD, "All of it is the part’s own."),
        (fuel.facts_of(replace(TRIAL, verdict=NOT_PROVEN)), replace(SETTING, kind="fuel"), ROAD, "Saves fuel."),
        (looks.facts_of_run(12, 0.0, 1), replace(SETTING, kind="durability"), ROAD, "Lasts the life of the engine."),
        (
            looks.facts_of_fit([FitPlace("a", 0.1, "clear")]),
            replace(SETTING, kind="fitment"),
            ROAD,
            "Fits all of them.",
        ),
    ],
)
def test_what_a_seller_would_have_liked_to_say_stands_beside_why_not(
    facts: tuple[Fact, ...], setting: Setting, road: Road, words: str
) -> None:
    found = [w for w in wishes(facts, setting, road, 4) if words in w.words]
    assert found
    assert all(w.why for w in found)


def test_flow_is_wished_into_engines_and_power_and_told_why_not() -> None:
    flow = (Fact(GAIN, "flow", "lift", 0.008, 0.008, 3e-3, 3e-4, "8.00mm"),)
    found = [w.words for w in wishes(flow, Setting("p", "s", kind="airflow", test_pressure=7000.0), ROAD, 4)]
    assert any("times 4" in w for w in found)
    assert any("horsepower" in w for w in found)


def test_a_small_gain_at_equal_boost_says_why_it_is_not_stated() -> None:
    small = (replace(BANDS[0], blocked="too small to matter"),)
    found = wishes(small, replace(SETTING, school=EQUAL_BOOST), ROAD)
    assert any(w.why == "too small to matter" for w in found)


def test_what_a_sheet_says_of_roads_and_vehicles() -> None:
    held = Certificate(
        "emissions", "EO-1", "Northland", (2013, 2018), date(2027, 1, 1), "with the air box", "any other box"
    )
    assert "forbids any other box" in held.words
    assert "until 01 Jan 2027" in held.words
    assert not held.holds(date(2027, 1, 2))
    assert Covered("Heron 2.0", "2013 to 2018", "BH20", "reasoned", "the same head").words.endswith("(the same head)")
    assert Road("unknown").problem
    assert "no certificate" in replace(ROAD, status="approved").problem.casefold()


@pytest.mark.parametrize(
    ("text", "refused"),
    [
        ("swap it back before the inspection", True),
        ("refit the stock part and nobody will notice", True),
        ("it looks stock", True),
        ("passes inspection", True),
        ("a stealthy part", True),
        ("undetectable", True),
        ("h i d e", False),
        ("inspect the gasket after the first heat", False),
        ("hidden fasteners stay in reach", False),
        ("take it to a licensed workshop", False),
    ],
)
def test_words_that_advise_to_hide_a_part_are_found(text: str, refused: bool) -> None:
    assert (find_concealment(text) is not None) == refused


def test_printed_amounts_of_one_symbol_stand_once() -> None:
    fact = Fact(LOSS, "noise", "place", 0.0, 0.0, 2.83, 0.5, "x")
    assert re.fullmatch(r"[\d.]+\u00a0dB", printed(fact).size())

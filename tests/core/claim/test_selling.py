"""Sentences of selling text against one body of evidence: a table of what each deserves, and of sly ways to say too much.

The evidence: torque at the wheel +8 ± 1.5 lb-ft in the middle band and −4 ± 1 lb-ft in the top band, no meaningful difference in
the low one, peak power −3 ± 1 hp; airflow +6.5 ± 0.6 cfm at 8 mm of lift; 2.8 ± 0.5 dB louder; 2.7 lb lighter; fuel not
proven, −2 to +5 %; closed course only. A is 150 lb-ft in the middle band. Sentences are invented; how each stands follows from
the rules of the trade (common practice, no source).
"""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.units import from_unit
from longbreath.core.claim.facts import Fact, Setting
from longbreath.core.claim.road import Certificate, Road
from longbreath.core.claim.selling.against import (
    CONTRADICTED,
    NARROWER,
    NO_CLAIM,
    SUPPORTED,
    UNSUPPORTED,
    Background,
    Known,
)
from longbreath.core.claim.selling.judge import judge
from longbreath.core.claim.selling.read import MOST_LETTERS, arithmetic, read, sentences_of, spelt
from longbreath.core.claim.selling.words import fold

LBFT, HP, CFM = from_unit(1.0, "torque", "lb-ft"), from_unit(1.0, "power", "hp"), from_unit(1.0, "flow", "cfm")
LB = from_unit(1.0, "body_mass", "lb")
DYNO = Setting("Part rev C", "stock part", "Heron 2.0", "wheel", "SAE J1349", one_session=True, back_to_back=True)
BENCH = Setting("Part rev C", "stock part", fixture="radius plate", test_pressure=6974.0, kind="airflow")
OTHER = {
    kind: Setting("Part rev C", "stock part", "Heron 2.0", kind=kind) for kind in ("noise", "mass", "fuel", "fitment")
}


def band(kind: str, name: str, low: float, high: float, value: float, half: float) -> Fact:
    return Fact(kind, "torque", "band", low * RPM, high * RPM, value * LBFT, half * LBFT, name, required=kind == "loss")


PULLS = (
    band("gain", "middle", 3000, 5200, 8.0, 1.5),
    band("loss", "top", 5200, 7000, -4.0, 1.0),
    band("no meaningful difference", "low", 1800, 3000, 0.3, 0.9),
    Fact("loss", "power", "peak", 0.0, 0.0, -3.0 * HP, 1.0 * HP, required=True),
)
FLOW = (Fact("gain", "flow", "lift", 0.008, 0.008, 6.5 * CFM, 0.6 * CFM, "8.00mm"),)
LOUDER = (Fact("loss", "noise", "place", 0.0, 0.0, 2.8, 0.5, "A-weighted, 0.5 m, 4500 rpm", required=True),)
LIGHTER = (Fact("gain", "mass", "place", 0.0, 0.0, -2.7 * LB, 0.05 * LB, "on one scale"),)
FUEL = (Fact("not proven", "fuel", "place", 0.0, 0.0, 0.015, 0.035, "fuel consumption on the road"),)
FIT = (
    Fact("found", "clear_places", "place", 0.0, 0.0, 3.0, 0.0),
    Fact("loss", "close_place", "place", 0.0, 0.0, 1.0, 0.0, "strut bar", required=True),
)
KNOWN = (
    *(Known(f, DYNO, PULLS, 150 * LBFT if f.quantity == "torque" else None) for f in PULLS),
    *(Known(f, BENCH, FLOW, 200 * CFM) for f in FLOW),
    *(Known(f, OTHER["noise"], LOUDER) for f in LOUDER),
    *(Known(f, OTHER["mass"], LIGHTER) for f in LIGHTER),
    *(Known(f, OTHER["fuel"], FUEL) for f in FUEL),
    *(Known(f, OTHER["fitment"], FIT) for f in FIT),
)
ROAD = Road("closed_course", tampering="keeps", day=date(2026, 6, 1))
BACKGROUND = Background(KNOWN, ROAD, 4)

TABLE = """
= good: so much was found, at the place that is named
supported | Gains 7 lb-ft of torque between 3000 and 5200 rpm.
supported | It gained 7.5 lb-ft between 3,000 and 5,200 rpm.
supported | Adds 10 Nm in the mid-range.
supported | 5 lb-ft more torque in the mid-range
supported | More torque in the mid-range.
supported | Better torque in the middle.
supported | Loses 4 lb-ft at the top end, which is where it gives something back.
supported | Less torque at the top end.
supported | It costs torque up high: less torque near redline.
supported | Flows 6 cfm more at 8 mm of lift.
supported | Flows 5.5 cfm more at 8 mm lift on our bench.
supported | More airflow at 8 mm of lift.
supported | 2.5 lb lighter than the stock part.
supported | Lighter than stock: the weight falls by 1 kg, 1 kg lighter.
supported | Louder by 2 dB.
supported | It is louder than stock.
supported | Peak power drops by 2 hp.
supported | Less peak power than stock.
supported | No meaningful difference in torque at the low end.
supported | Closed course use only.
supported | Not street legal.
supported | Not approved for road use.
supported | A little lighter: 2.6 pounds lighter.
supported | Five lb-ft more in the mid-range.
= narrower: it holds, with a place, a condition or a smaller figure that the sentence leaves out
supported in narrower words | Gains 7 lb-ft of torque.
supported in narrower words | More torque.
supported in narrower words | Up to 7 lb-ft more torque!
supported in narrower words | Up to 8.5 lb-ft more in the mid-range.
supported in narrower words | Gains 9 lb-ft between 3000 and 5200 rpm.
supported in narrower words | Adds 12 Nm in the mid-range.
supported in narrower words | 8.1 lb-ft more in the mid-range
supported in narrower words | Up to 8 lb-ft more.
supported in narrower words | Improved airflow.
supported in narrower words | Flows 6.9 cfm more at 8 mm of lift.
supported in narrower words | 6 cfm more airflow
supported in narrower words | Flow is up 3 %
supported in narrower words | A gain of five lb-ft.
supported in narrower words | More torque, tested back to back.
supported in narrower words | 3 lb-ft more, and that is measured.
supported in narrower words | Bolts on without fuss: a direct fit.
supported in narrower words | +7 lb-ft
supported in narrower words | +9 Nm of torque
supported in narrower words | Stronger torque for everyday driving.
supported in narrower words | More than stock: 6 lb-ft more torque.
supported in narrower words | Torque rises by 4 %.
= contradicted: more than the interval allows, or the other way round
contradicted | Gains 12 lb-ft between 3000 and 5200 rpm.
contradicted | Adds ninety horsepower.
contradicted | +90 hp
contradicted | Up to 20 lb-ft more torque!
contradicted | Adds 15 Nm in the mid-range.
contradicted | More torque everywhere.
contradicted | More torque across the range.
contradicted | More torque from idle to redline.
contradicted | Gains 7 lb-ft throughout.
contradicted | More torque in the mid-range without losing anything, with no downside.
contradicted | No compromise anywhere.
contradicted | More torque at the top end.
contradicted | Gains 3 lb-ft at the top end.
contradicted | 5 hp more at the peak.
contradicted | More peak power.
contradicted | A better top end: more torque up high.
contradicted | More low-end torque.
contradicted | 2 lb-ft more torque at the low end.
contradicted | Flows 9 cfm more at 8 mm of lift.
contradicted | Airflow is up 10 % at 8 mm of lift.
contradicted | Quieter than stock.
contradicted | 3 dB quieter.
contradicted | 5 dB louder than stock.
contradicted | Heavier than stock.
contradicted | 4 lb lighter.
contradicted | Two kg lighter than stock.
contradicted | Street legal.
contradicted | Fully road-legal in every market.
contradicted | Approved and certified.
contradicted | Torque is up 12 % in the mid-range.
contradicted | Doubles your torque.
contradicted | Twice the torque in the mid-range.
contradicted | Torque lost 8 lb-ft in the middle.
contradicted | No difference in torque in the mid-range.
contradicted | 4 x 6.5 cfm = 26 cfm more airflow.
contradicted | Worth 12 hp: 6.5 cfm means 12 hp more.
contradicted | 6.5 cfm per cylinder, so more airflow for the whole engine.
contradicted | Gains 7 lb-ft (12 Nm) in the mid-range.
contradicted | Saves 20 % fuel.
contradicted | Fifteen percent better fuel economy.
contradicted | One hundred and ten horsepower more.
contradicted | Power is up 10 hp (4 kW).
contradicted | Fits perfectly, no modifications.
contradicted | 6 + 4 = 12 lb-ft more.
contradicted | It is 3 lb lighter than stock, near enough: 2.6 lb lighter in fact.
contradicted | Twenty pounds-off? No: 2.6 pounds lighter.
contradicted | Adds n​inety horsepower.
contradicted | Adds ９０ hp.
contradicted | Improves torque at all rpm.
contradicted | Less noise than stock.
contradicted | Adds 1.1e hundred horses: one hundred horses more.
= unsupported: nothing carries it
unsupported | Saves 2 % fuel.
unsupported | Better fuel economy.
unsupported | More economical on the road.
unsupported | Saves you money at the pump.
unsupported | Pays for itself.
unsupported | Gains 3 mpg.
unsupported | Makes 210 hp.
unsupported | 165 lb-ft at the wheels.
unsupported | Cooler intake air: 5 °C cooler.
unsupported | Lower temperatures.
unsupported | Better throttle response.
unsupported | Boost comes in 300 rpm earlier: better response.
unsupported | Less lag.
unsupported | Lasts a lifetime.
unsupported | Bulletproof and unbreakable.
unsupported | Gains 7 lb-ft at the crank in the mid-range.
unsupported | Gains 7 lb-ft between 2000 and 4000 rpm.
unsupported | 7 lb-ft more at 4000 rpm.
unsupported | Flows 6 cfm more at 4 mm of lift.
unsupported | The best in its class.
unsupported | Outperforms the competition.
unsupported | Unmatched.
unsupported | 10 % more.
unsupported | Fits every engine.
unsupported | 4 lb-ft from the intake and 3 lb-ft from the exhaust: 4 + 3 = 7 lb-ft more.
unsupported | Reliable for years.
= no claim: a size, a setting, a description
not a claim | The bore is 66 mm.
not a claim | Cast in aluminium.
not a claim | Comes with gaskets and bolts.
not a claim | Runner length 371 mm.
not a claim | Made by hand in our shop.
not a claim | Suits the 2013 to 2018 models.
not a claim | Delivery in two weeks.
not a claim | Wall thickness 3 mm, flanges 12 mm.
not a claim | Tested at 28 inches of water.
not a claim | Call us for a price.
"""
ROWS = [tuple(part.strip() for part in line.split("|", 1)) for line in TABLE.splitlines() if "|" in line]


def test_the_table_is_long_and_holds_every_verdict() -> None:
    assert len(ROWS) >= 120
    assert {verdict for verdict, _ in ROWS} == {SUPPORTED, NARROWER, CONTRADICTED, UNSUPPORTED, NO_CLAIM}


@pytest.mark.parametrize(("verdict", "sentence"), ROWS)
def test_each_sentence_is_given_what_it_deserves(verdict: str, sentence: str) -> None:
    found = judge(sentence, BACKGROUND)
    assert found.verdict == verdict, f"{found.why} {found.said}"
    assert found.why


def test_what_may_be_said_is_offered_with_the_loss_that_must_stand_beside_it() -> None:
    found = judge("Adds 12 lb-ft in the mid-range!", BACKGROUND)
    assert found.offer.startswith("On the Heron 2.0, the Part rev C gained 8.0\u00a0lb-ft")
    assert "It lost 4.0" in found.offer
    assert "stated at the wheel" in found.offer
    assert judge("Gains 7 lb-ft between 3000 and 5200 rpm.", BACKGROUND).offer == ""


def test_products_sums_and_conversions_are_checked_and_shown() -> None:
    assert arithmetic(fold("20 hp (15 kW)")) == [("20 hp = 14.91 kW, told as 15 kW", True)]
    assert arithmetic(fold("4 × 6.5 cfm = 26 cfm")) == [("4 × 6.5 = 26, told as 26", True)]
    assert arithmetic(fold("8 hp + 12 hp = 22 hp")) == [("8 + 12 = 20, told as 22", False)]
    assert judge("Gains 7 lb-ft (9.5 Nm) in the mid-range.", BACKGROUND).sums[0][1]
    assert not judge("Gains 7 lb-ft (12 Nm) in the mid-range.", BACKGROUND).sums[0][1]


def test_a_boosted_gain_and_a_package_are_said_with_what_they_hold_for() -> None:
    boosted = tuple(replace(k, setting=replace(k.setting, school="as set")) for k in KNOWN)
    sentence = "Gains 7 lb-ft between 3000 and 5200 rpm."
    assert judge(sentence, replace(BACKGROUND, known=boosted)).verdict == NARROWER
    said = "Gains 7 lb-ft between 3000 and 5200 rpm with boost left alone."
    assert judge(said, replace(BACKGROUND, known=boosted)).verdict == SUPPORTED
    package = tuple(replace(k, setting=replace(k.setting, package=("Fuel",))) for k in KNOWN)
    assert judge(sentence, replace(BACKGROUND, known=package)).verdict == NARROWER


def test_approval_is_a_markets() -> None:
    held = Certificate("emissions", "NL-1", "Northland", (2013, 2018), date(2027, 1, 1))
    road = replace(ROAD, status="approved", certificates=(held,))
    assert judge("Street legal.", replace(BACKGROUND, road=road)).verdict == NARROWER
    assert judge("Street legal in Northland.", replace(BACKGROUND, road=road)).verdict == SUPPORTED
    late = replace(road, day=date(2028, 1, 1))
    assert judge("Street legal in Northland.", replace(BACKGROUND, road=late)).verdict == UNSUPPORTED
    removes = replace(road, tampering="removes", certificates=())
    assert judge("Street legal.", replace(BACKGROUND, road=removes)).verdict == CONTRADICTED


def test_nothing_is_supported_where_nothing_was_measured() -> None:
    empty = Background((), replace(ROAD, status="unknown"), 4)
    for verdict, sentence in ROWS:
        if verdict in (SUPPORTED, NARROWER) and "road" not in read(sentence).about and "ourse" not in sentence:
            assert judge(sentence, empty).verdict in (UNSUPPORTED, NO_CLAIM, CONTRADICTED)


@pytest.mark.parametrize(
    ("text", "value"),
    [("ninety", 90), ("twenty five", 25), ("one hundred and ten", 110), ("two thousand", 2000), ("a dozen", 12)],
)
def test_numbers_in_words(text: str, value: float) -> None:
    assert spelt(text) == value


def test_a_page_is_cut_into_sentences_and_is_bounded() -> None:
    page = "More torque.  Lighter, too!\n\n• Gains 7.5 lb-ft.\n- 66 mm bore"
    assert sentences_of(page) == ["More torque.", "Lighter, too!", "Gains 7.5 lb-ft.", "66 mm bore"]
    with pytest.raises(InputError, match="letters"):
        sentences_of("a" * (MOST_LETTERS + 1))


@settings(max_examples=300, deadline=None)
@given(st.text(max_size=300))
def test_any_text_is_judged_in_words(text: str) -> None:
    found = judge(text, BACKGROUND)
    assert found.why
    assert found.verdict in {verdict for verdict, _ in ROWS}


@settings(max_examples=200, deadline=None)
@given(st.floats(9.6, 1e6), st.sampled_from(["lb-ft", "ft-lbs"]), st.sampled_from(["", "up to ", "a whopping ", "+"]))
def test_no_figure_beyond_the_interval_is_ever_let_through(value: float, unit: str, before: str) -> None:
    found = judge(f"Gains {before}{value:.1f} {unit} in the mid-range.", BACKGROUND)
    assert found.verdict == CONTRADICTED

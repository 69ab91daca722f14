"""Questions answered from records: what each rests on, and an answer in words where records are missing, absurd or contradictory."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from types import SimpleNamespace
from typing import Any

import pytest

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.register import reckoning_named
from longbreath.core.reckon.rests import CHOSEN, ESTIMATED, MEASURED, NOMINAL
from longbreath.dossier import coverage, library, timing
from longbreath.dossier.reckon import answers, fill, streams, timings
from longbreath.dossier.reckon.questions import BY_KEY, QUESTIONS
from longbreath.dossier.reckon.records import Records, records_of
from longbreath.store.models import Application, KeptAnswer
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.factories import degrees


@pytest.fixture
def full(db: UnitOfWork, shop: SimpleNamespace) -> Records:
    return records_of(db, shop.application)


def other(db: UnitOfWork, shop: SimpleNamespace, name: str = "other", **vehicle: Any) -> Application:
    """An application on a vehicle of its own, with nothing measured."""
    card = replace(factories.HERON, name=f"{name} vehicle", **vehicle)
    stock = factories.add_part(db, f"{name} stock", is_stock=True)
    part = factories.add_part(db, f"{name} part")
    found = coverage.open_application(db, library.add_vehicle(db, card).id, part.id, stock.id)
    db.act_as(shop.people["tester"], found.id)
    return found


def words_of(found: answers.Answered) -> str:
    """Everything that an answer says in words."""
    judged = [s.judgement.words("us") for s in found.schools if s.judgement is not None]
    return " ".join([*found.missing, *found.errors.values(), *(s.problem for s in found.schools), *judged])


VEHICLES: list[dict[str, Any]] = [
    {},
    {"cycle": "two-stroke", "intake_duration": None, "cylinders": 1},
    {"cycle": "rotary", "cylinders": 2, "bore": None, "stroke": None, "chamber_volume": 654e-6},
    {"induction": "turbo"},
]


@pytest.mark.parametrize("vehicle", VEHICLES, ids=["four-stroke", "two-stroke", "rotary", "turbo"])
def test_questions_without_any_record_are_answered_in_words_or_by_what_is_usual(
    vehicle: dict[str, Any], db: UnitOfWork, shop: SimpleNamespace
) -> None:
    records = records_of(db, other(db, shop, "bare", **vehicle))
    asked = answers.answers(records, "metric")
    assert len(asked) >= 9
    for found in asked:
        assert found.errors == {}
        for school in found.schools:
            assert school.figures or "missing" in school.problem, found.question.key
            assert all(f.is_real for f in school.figures)
        assert "measured" not in found.rests


ABSURD = [
    ("air", {"speed": "0 rpm"}, "cannot be less than"),
    ("air", {"speed": "90000 rpm"}, "cannot be more than"),
    ("air", {"cylinders": "2.5"}, "whole number"),
    ("air", {"strokes": "3"}, "2 or 4"),
    ("air", {"filling": "seven"}, "begin with a number"),
    ("section", {"area": "-3 mm2"}, "cannot be less than"),
    ("section", {"temperature": "-400 C"}, "below absolute zero"),
    ("size", {"power": "0 kW"}, "cannot be less than"),
    ("size", {"velocity": "1e300 m/s"}, "too large"),
    ("valve", {"valves": "9"}, "cannot be more than"),
    ("throttle", {"throttles": "3"}, "share out"),
    ("plenum", {"volume": "nan L"}, "begin with a number"),
    ("plenum", {"volume": "0.1 L"}, "Smaller than is usual"),
    ("plenum", {"volume": "90 L"}, "Larger than is usual"),
    ("length", {"speed": "29999 rpm", "reflection": "6", "diameter": "500 mm"}, "no way to go"),
    ("length", {"compression_ratio": "1"}, "cannot be less than"),
    ("tuned", {"length": "5 m"}, "By no school"),
    ("tuned", {"band_from": "9000 rpm", "band_to": "2000 rpm"}, "ends above"),
    ("pipe", {"drop": "999 kPa", "length": "3 m"}, "speed of sound"),
    ("tuned", {"length": "12 furlongs"}, "not a unit"),
    ("primaries", {"opens": "54 °", "speed": "30000 rpm", "port": "1 m"}, "port alone"),
    ("primary-bore", {"pipes": "1"}, "cannot be less than"),
    ("pipe", {"drop": "0 kPa"}, "cannot be less than"),
    ("pipe", {"drop": "1 Pa", "length": "19 m"}, "No bore"),
    ("charge", {"boost": "1 bar", "efficiency": "0 %"}, "cannot be less than"),
    ("charge", {"boost": "1 bar", "depression": "90 kPa"}, "less than half"),
    ("other-boost", {"boost": "1 bar", "other": "-1 bar"}, "cannot be less than"),
    ("turbine", {"boost": "6 bar", "hot": "400 K", "turbine_efficiency": "30 %"}, "too cool"),
    ("sensor", {"boost": "2 bar", "top": "2 bar", "altitude": "0 m"}, "at its ceiling"),
    ("controller", {"duty": "95 %", "boost": "1 bar", "spring": "0.5 bar"}, "at its end"),
    ("injectors", {"rated": "100 cm³/min"}, "too small"),
    ("pipe-shape", {"duration": "190 °", "transfer": "195 °", "port": "38 mm"}, "open longer"),
    (
        "pipe-shape",
        {"duration": "190 °", "transfer": "130 °", "port": "38 mm", "belly": "1.2", "header": "1.4"},
        "widest place",
    ),
    ("disc", {"closing": "90 °", "inlet_length": "80 mm"}, "blow-back"),
    ("degree", {"angle": "0 °"}, "missing"),
    ("retune", {"after": "500 C", "length": "1 m"}, "told twice"),
    ("shift", {"shifted": "12000 rpm", "speed": "8000 rpm", "gas": "exhaust"}, "Not believable"),
    ("shift", {"shifted": "8100 rpm", "speed": "8000 rpm", "gas": "steam"}, "not one of"),
]


def test_absurd_values_are_answered_in_words(full: Records) -> None:
    said = [(key, words, words_of(answers.answer(full, BY_KEY[key], texts, "metric"))) for key, texts, words in ABSURD]
    assert [(key, words, answer) for key, words, answer in said if words not in answer] == []


QUOTES = {
    "first_low": "8000 rpm",
    "first_high": "8200 rpm",
    "first_then_low": "8800 rpm",
    "first_then_high": "9000 rpm",
    "other_low": "8000 rpm",
    "other_high": "8100 rpm",
    "other_then_low": "8150 rpm",
    "other_then_high": "8200 rpm",
}
SHOES = {"shoes": "2", "mass": "120 g", "radius": "34 mm", "spring": "1100 N", "drum": "45 mm", "off_torque": "9 N·m"}


@pytest.mark.parametrize(
    ("key", "texts", "words"),
    [
        ("quotes", QUOTES, "contradict one another"),
        ("quotes", {**QUOTES, "first_high": "7000 rpm"}, "runs backwards"),
        ("clutch", {**SHOES, "on_torque": "16 N·m", "comes_in": "8600 rpm"}, "Too heavy"),
        ("clutch", {**SHOES, "on_torque": "16 N·m", "comes_in": "4000 rpm"}, "pulls away on it"),
        ("clutch", {**SHOES, "on_torque": "16 N·m", "comes_in": "8600 rpm", "drum": "20 mm"}, "outside"),
        (
            "degree",
            {
                "angle": "6 °",
                "radius": "32 mm",
                "height": "26 mm",
                "thickness": "0.5 mm",
                "density": "7850 kg/m3",
                "depth": "12 mm",
                "wall": "5 mm",
                "wall_limit": "3 mm",
            },
            "At the disc, by cutting",
        ),
    ],
)
def test_contradictory_records_are_shown_as_what_they_are(
    key: str, texts: dict[str, str], words: str, full: Records
) -> None:
    assert words in words_of(answers.answer(full, BY_KEY[key], texts, "metric"))


def test_every_field_that_is_filled_is_a_field_and_every_headline_a_figure(full: Records) -> None:
    for question in QUESTIONS:
        fields = {f.name: f for name in question.reckonings for f in reckoning_named(name).fields}
        assert set(question.fill) <= set(fields), question.key
        assert set(question.fill.values()) <= set(fill.FILL), question.key
        texts = {name: f.example for name, f in fields.items() if f.example}
        found = answers.answer(full, question, texts, "metric")
        assert set(question.headline) <= set(found.figures), question.key
        assert set(question.spread) <= set(found.figures), question.key
        assert len(found.headline) == len(question.headline)


def test_each_value_says_what_it_rests_on(db: UnitOfWork, shop: SimpleNamespace, full: Records) -> None:
    runner = answers.answer(full, BY_KEY["length"], {}, "metric")
    by_name = {a.field.name: a for a in runner.asked}
    assert by_name["area"].rests == "measured: Gannet runner, calliper"
    assert by_name["duration"].known is not None
    assert by_name["duration"].known.rests == NOMINAL
    assert by_name["temperature"].known is not None
    assert by_name["temperature"].known.rests == ESTIMATED
    assert runner.beside is not None
    assert runner.beside.rests == MEASURED
    assert runner.spread is not None
    assert runner.spread > 1.0
    card = timing.WheelCard(
        "cams",
        "poppet",
        date(2026, 5, 7),
        {"intake_opens": 0.05, "intake_closes": 0.7, "exhaust_opens": 0.8, "exhaust_closes": 0.1},
        "A",
    )
    timing.add_sheet(db, shop.application, card)
    timed = answers.answer(records_of(db, shop.application), BY_KEY["length"], {}, "metric")
    found = next(a for a in timed.asked if a.field.name == "duration").known
    assert found is not None
    assert found.rests == MEASURED
    assert found.number == pytest.approx(0.75 + degrees(180))
    primaries = answers.answer(records_of(db, shop.application), BY_KEY["primaries"], {}, "metric")
    assert primaries.missing == ()
    assert set(primaries.figures) == {"rule", "wave-2", "wave-1"}


def test_a_what_if_is_told_from_a_record_and_an_unchanged_field_is_none(full: Records) -> None:
    shown = {a.field.name: a.text for a in answers.answer(full, BY_KEY["air"], {}, "us").asked}
    same = answers.answer(full, BY_KEY["air"], shown, "us")
    assert not same.is_changed
    more = answers.answer(full, BY_KEY["air"], {**shown, "filling": "110 %"}, "us")
    assert [a.field.name for a in more.asked if a.is_changed] == ["filling"]
    ratio = more.figures["air_demand"].value / same.figures["air_demand"].value
    assert ratio == pytest.approx(1.1 / 0.95)
    assert "1 what if" in more.rests


def test_a_kept_answer_is_known_the_next_time_until_it_is_measured(
    db: UnitOfWork, shop: SimpleNamespace, full: Records
) -> None:
    first = answers.answer(full, BY_KEY["retune"], {"after": "500 C", "before": "420 C"}, "metric")
    kept = answers.keep_answer(db, full, first, "probe at the belly", "metric")
    assert kept.inputs["after"] == {"value": pytest.approx(773.15), "rests": CHOSEN, "where": "what if"}
    assert kept.figures[0]["display"]["metric"] == first.figures["retuned"].text("metric")
    again = answers.answer(records_of(db, shop.application), BY_KEY["retune"], {}, "metric")
    assert again.missing == ()
    assert again.figures["retuned"].value == pytest.approx(first.figures["retuned"].value)
    assert "kept by Tester" in next(a for a in again.asked if a.field.name == "after").rests
    length = answers.answer(full, BY_KEY["length"], {"area": "9 cm2"}, "metric")
    answers.keep_answer(db, full, length, "", "metric")
    measured = answers.answer(records_of(db, shop.application), BY_KEY["length"], {}, "metric")
    assert next(a for a in measured.asked if a.field.name == "area").known.rests == MEASURED  # type: ignore[union-attr]
    with pytest.raises(InputError, match="no answer to keep"):
        answers.keep_answer(db, full, answers.answer(full, BY_KEY["quotes"], {}, "us"), "", "us")
    assert len(answers.kept_answers(db, shop.application.id)) == 2
    assert db.get(KeptAnswer, kept.id) is kept


def test_the_path_says_where_it_chokes_and_what_each_piece_costs(full: Records) -> None:
    found = streams.streams_of(full, "intake")
    assert found is not None
    assert found.top is not None
    shares = [f.value for key, f in found.figures.items() if key.startswith("share")]
    assert sum(shares) == pytest.approx(1.0)
    machs = [max(s.mach for s in line.side.stations) for line in found.lines if line.side is not None]
    assert machs == sorted(machs)
    choked = found.figures["chokes"]
    at = next(s.value for s in choked.working.steps if s.symbol == "M")
    assert at == pytest.approx(1 / 1.6)
    assert choked.value > full.vehicle.redline
    assert "beyond the redline" in found.words


def test_a_narrow_place_chokes_below_the_redline(db: UnitOfWork, shop: SimpleNamespace) -> None:
    narrow = other(db, shop, "narrow")
    cards = (
        factories.element(1, "tube", "inlet tube", "intake", 0.3, diameter=0.06),
        factories.element(2, "throttle", "restrictor", "intake", 0.05, diameter=0.024),
    )
    factories.lay_path(db, narrow, cards)
    found = streams.streams_of(records_of(db, narrow), "intake")
    assert found is not None
    assert found.words.startswith("Restrictor chokes first")
    assert "below the redline" in found.words
    assert any(line.refused for line in found.lines) or found.figures["chokes"].value < narrow.vehicle.redline
    chain = streams.chain_of(records_of(db, narrow))
    assert chain is not None
    assert chain.words.startswith("Restrictor is the bottleneck")
    assert streams.streams_of(records_of(db, narrow), "exhaust") is None
    assert streams.chain_of(records_of(db, other(db, shop, "empty"))) is None


def test_a_half_open_flap_narrows_the_chain(db: UnitOfWork, shop: SimpleNamespace) -> None:
    flapped = other(db, shop, "flapped")
    cards = (
        factories.element(1, "throttle", "plate", "intake", 0.05, diameter=0.06, open_share=0.25),
        factories.element(2, "runner", "runner", "intake", 0.3, diameter=0.04, branches=4),
    )
    factories.lay_path(db, flapped, cards)
    records = records_of(db, flapped)
    chain = streams.chain_of(records)
    assert chain is not None
    assert chain.bores[0].area == pytest.approx(0.25 * 0.06**2 * 3.14159265 / 4, rel=1e-6)
    assert fill.known(records, "throttle_bore").number == pytest.approx(0.03)  # type: ignore[union-attr]


def test_the_register_of_timings_holds_every_vehicle_and_drops_what_was_read_again(
    db: UnitOfWork, shop: SimpleNamespace
) -> None:
    kart = other(db, shop, "kart", cycle="two-stroke", use="closed course", bore=0.05)
    first = timing.add_sheet(db, kart, factories.disc_card(says="“advanced”"))
    again = factories.disc_card(title="read again", why="by a stop", says="“advanced”")
    timing.add_sheet(db, kart, again, again=first)
    timing.add_sheet(
        db,
        shop.application,
        timing.WheelCard("cams", "poppet", date(2026, 5, 7), {"intake_opens": 0.1, "intake_closes": 0.7}),
    )
    found = timings.register_of(db)
    assert [t.sheet.title for t in found] == ["read again", "cams"]
    assert found[0].sheet.says == "“advanced”"
    assert "inlet closes, after top dead centre 65°" in found[0].meaning
    assert [t.vehicle.name for t in timings.register_of(db, use="closed course")] == ["kart vehicle"]
    assert timings.register_of(db, kind="piston") == []
    assert timings.kinds_and_uses(db) == (["disc", "poppet"], ["closed course", "road"])
    closes = fill.known(records_of(db, kart), "intake_closes")
    assert closes is not None
    assert closes.number == pytest.approx(degrees(65))

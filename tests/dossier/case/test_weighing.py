"""Weighing from the records: the ledger and what is stated, sessions joined, several variants, kits, trials."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from types import SimpleNamespace
from typing import Any

import pytest
from sqlalchemy import select, text
from sqlalchemy.exc import DBAPIError

from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.core.build.variant import PartCard, VariantCard
from longbreath.core.case.pulls import known_of
from longbreath.core.claim.facts import PEAK
from longbreath.core.weigh import ledger
from longbreath.core.weigh.parity import Item
from longbreath.core.weigh.ranking import Weights
from longbreath.core.weigh.trial_kinds import KINDS
from longbreath.demo import office
from longbreath.demo.cell import take_all
from longbreath.devices.made_engine import Engine, pull
from longbreath.dossier import library
from longbreath.dossier.claim.changed import changed
from longbreath.dossier.evidence.gather import Evidence, gather
from longbreath.dossier.evidence.reasons import LineCard
from longbreath.dossier.evidence.verdict import keep_ledger
from longbreath.dossier.plan import variants
from longbreath.dossier.pull import verbs as pull_verbs
from longbreath.dossier.records.sessions import dyno_sessions
from longbreath.dossier.records.trials import trials_of
from longbreath.dossier.weigh import boosted, kits, numbers, trials
from longbreath.dossier.weigh import several as many
from longbreath.dossier.weigh.kits import KitCard
from longbreath.dossier.weigh.ledger import choices_of, stacked
from longbreath.dossier.weigh.trials import TrialCard, read_rows, weigh_trial
from longbreath.store.models import DynoSession, KitSheet, Pull, Trial, UseWeights, Verdict
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.made import dyno_day, standin
from tests.made.habits import FULL, as_text

NEXT = date(2026, 5, 20)
EARLY = date(2026, 5, 10)


@pytest.fixture
def pulled(day_of_open_bonnet: SimpleNamespace) -> SimpleNamespace:
    """Ten pulls of a day on which the bonnet was open for A and shut for B."""
    return day_of_open_bonnet


def say(db: UnitOfWork, shop: SimpleNamespace, **lines: LineCard) -> Evidence:
    found = gather(db, shop.application)
    keep_ledger(db, shop.application, found.builds, lines)
    return gather(db, shop.application)


def alone(db: UnitOfWork, shop: SimpleNamespace, factor: float, letter: str = "C") -> DynoSession:
    """A day on which the stock part was pulled with the bonnet shut, open, and shut: that change by itself."""
    part = (PartCard(shop.application.stock_revision_id),)
    variants.save_variant(db, shop.application, None, VariantCard(part, "bonnet open"))
    card = factories.write_card(db, shop.application, shop.dyno, letters=("A", letter))
    session = pull_verbs.open_session(db, shop.application, card, replace(factories.VISIT, held_on=NEXT))
    files, engine = {}, Engine(standin.heron_torque)
    changed = replace(engine, torque=lambda rpm: standin.heron_torque(rpm) * factor)
    for place, here in enumerate(card.order, start=1):
        files[f"{place:02}.csv"] = as_text(pull(engine if here == "A" else changed, 40 + place), FULL)
    assert take_all(db, shop.application, session, files) == len(card.order)
    return session


def test_what_nobody_knows_makes_a_package_and_a_bound_makes_the_parts_own(
    db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    before = gather(db, pulled.application)
    assert before.net is not None
    assert before.net.unknown == ("Bonnet, fan, air feed",)
    assert before.setting.package == ("Bonnet, fan, air feed",)
    assert before.weighed.stated is before.weighing
    after = say(db, pulled, bonnet=LineCard("open for B", "bounded", 0.0, 0.005))
    assert after.setting.package == ()
    assert after.weighed.is_net
    observed, stated = before.weighing.bands[1].effect, after.weighed.stated.bands[1].effect
    assert stated.half_width > observed.half_width
    assert stated.value < observed.value
    assert all(fact.scope != PEAK for fact in after.facts)
    assert after.key != before.key
    assert db.scalars(select(Verdict)).one().evidence_key == after.key


def test_a_change_measured_alone_is_taken_off_and_its_pulls_are_evidence(
    db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    session = alone(db, pulled, 1.01)
    named = [value for value, _ in choices_of(db, pulled.application)]
    assert f"{session.id}/A/C" in named
    first = gather(
        db, pulled.application, [s.id for s in dyno_sessions(db, pulled.application.id) if s.id != session.id]
    )
    observed = first.weighing.bands[1].effect.value
    line = LineCard("open for B", "measured", None, None, session.id, "A", "C")
    keep_ledger(db, pulled.application, first.builds, {"bonnet": line})
    ids = [first.session.id]
    found = gather(db, pulled.application, ids)
    assert found.weighed.stated.bands[1].effect.value == pytest.approx(observed - 1.95, abs=1.0)
    assert "measured alone" in _known(found)
    last = next(p for p in reversed(session.pulls) if p.label == "C")
    pull_verbs.judge_pull(db, pulled.application, last, False, "bonnet was ajar")
    assert gather(db, pulled.application, ids).key != found.key


def _known(found: Evidence) -> str:
    return known_of(found.weighed, found.builds.differing[0])


@pytest.mark.parametrize(
    ("line", "words"),
    [
        (LineCard("", "unknown"), "Say in words why"),
        (LineCard("the same thing", "none"), "Choose what is known"),
        (LineCard("because", "guessed"), "Choose what is known"),
        (LineCard("because", "bounded", None, 0.01), "a least and a most"),
        (LineCard("because", "bounded", 0.02, 0.01), "ends before it begins"),
        (LineCard("because", "bounded", -0.1, -0.1), "leaves nought out"),
        (LineCard("because", "bounded", -0.6, 0.0), "says nothing"),
        (LineCard("because", "measured"), "Choose the test"),
        (LineCard("because", "measured", None, None, 999_999, "A", "C"), "Choose the test"),
        (LineCard("it lost two per cent", "bounded", -0.02, 0.0), "stands? in the facts"),
    ],
)
def test_lines_that_do_not_say_what_their_kind_wants(
    db: UnitOfWork, pulled: SimpleNamespace, line: LineCard, words: str
) -> None:
    with pytest.raises(InputError, match=words):
        say(db, pulled, bonnet=line)


def test_a_test_that_lost_its_pulls_measures_nothing(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    """Its letters have too few valid pulls by now: the line is unknown again, and says why."""
    first = gather(db, pulled.application)
    session = alone(db, pulled, 1.01)
    line = LineCard("open for B", "measured", None, None, session.id, "A", "C")
    keep_ledger(db, pulled.application, first.builds, {"bonnet": line})
    for lost in [p for p in session.pulls if p.label == "C"]:
        pull_verbs.judge_pull(db, pulled.application, lost, False, "bonnet was ajar")
    again = gather(db, pulled.application, [first.session.id])
    assert again.net is not None
    assert again.net.lines[0].kind == ledger.UNKNOWN
    assert "two valid pulls" in again.net.lines[0].words
    assert again.setting.package == ("Bonnet, fan, air feed",)


def test_the_part_itself_is_no_difference_beside_the_part(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    """The pair's own test would take everything off; it is not offered, and refused where it is sent all the same."""
    found = gather(db, pulled.application)
    assert not any(value.endswith(("A/B", "B/A")) for value, _ in choices_of(db, pulled.application))
    with pytest.raises(InputError, match="differ in the part itself"):
        say(db, pulled, bonnet=LineCard("open", "measured", None, None, found.session.id, "A", "B"))
    assert {value for value, _ in choices_of(db, pulled.application, False)} >= {f"{found.session.id}/A/B"}


def test_what_breaks_a_comparison_is_not_taken_off(db: UnitOfWork, shop: SimpleNamespace) -> None:
    db.act_as(shop.people["tester"], shop.application.id)
    factories.add_builds(db, shop.application, tune="another")
    dyno_day.pulled(db, shop.application, shop.card)
    with pytest.raises(InputError, match="Tune cannot be taken off, nor closed by words: test again"):
        say(db, shop, tune=LineCard("reflashed", "bounded", -0.01, 0.01))
    assert say(db, shop, tune=LineCard("reflashed", "unknown")).package == ("Tune",)


def test_a_test_of_another_torque_measures_nothing_here(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    first = gather(db, pulled.application)
    session = alone(db, pulled, 1.01)
    line = LineCard("open for B", "measured", None, None, session.id, "A", "C")
    keep_ledger(db, pulled.application, first.builds, {"bonnet": line})
    session.standard = "din_70020" if session.standard != "din_70020" else "sae_j1349"
    db.flush()
    again = gather(db, pulled.application, [first.session.id])
    assert again.net is not None
    assert "another correction" in again.net.lines[0].words


def test_steps_are_laid_against_the_whole(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    session = alone(db, pulled, 1.02)
    first = next(s for s in dyno_sessions(db, pulled.application.id) if s.id != session.id)
    chosen = [f"{session.id}/A/C", f"{session.id}/C/A", f"{first.id}/A/B"]
    found = dict(stacked(db, pulled.application, chosen))
    assert found["middle"].total == pytest.approx(0.0, abs=1e-9)
    assert not found["middle"].is_consistent
    with pytest.raises(InputError, match="no such test") as refused:
        stacked(db, pulled.application, [chosen[0], "999/A/B", chosen[2]])
    assert refused.value.field == "second"


def test_a_published_claim_goes_stale_when_its_ledger_moves(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    say(db, pulled, bonnet=LineCard("open for B", "bounded", 0.0, 0.002))
    dyno_day.closed_course(db, pulled.application, "all of them")
    office.publish(db, pulled.application, pulled.people["approver"], "torque")
    from longbreath.store.models import Claim

    claims = list(db.scalars(select(Claim)))
    assert not changed(db, claims)
    db.act_as(pulled.people["tester"], pulled.application.id)
    say(db, pulled, bonnet=LineCard("open for B, seen on the photo", "bounded", 0.0, 0.02))
    assert changed(db, claims)[claims[0].id].causes == ("ledger",)


def test_the_margin_is_that_of_the_card_and_part_of_the_key(db: UnitOfWork, shop: SimpleNamespace) -> None:
    db.act_as(shop.people["tester"], shop.application.id)
    factories.add_builds(db, shop.application)
    shop.card.no_matter = 0.03
    dyno_day.pulled(db, shop.application, shop.card)
    found = gather(db, shop.application)
    assert found.weighing.bands[1].margin_words == "3 %"
    assert found.weighing.bands[1].words == "gain, though under 3 %"


def test_sessions_of_two_dynos_are_ratios(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    other = library.add_dyno(db, library.DynoCard("Cell 2", "wheel", 0.9, "its records"))
    card = factories.write_card(db, pulled.application, other)
    session = load_again(db, pulled, card)
    first = gather(
        db, pulled.application, [s.id for s in dyno_sessions(db, pulled.application.id) if s.id != session.id]
    )
    found = gather(db, pulled.application, [s.id for s in dyno_sessions(db, pulled.application.id)])
    assert found.weighing.comparison.as_ratios
    assert found.weighing.comparison.design.days == 2
    assert found.weighing.bands[1].effect.value == pytest.approx(first.weighing.bands[1].effect.value, abs=1.2)
    words, _ = numbers.scatter_words(found.weighing, "us")
    assert "another dyno" not in words


def load_again(db: UnitOfWork, shop: SimpleNamespace, card: Any) -> DynoSession:
    dyno_day.pulled(db, shop.application, card, seed=300, day=NEXT)
    return dyno_sessions(db, shop.application.id)[0]


def test_one_set_alone_and_pulls_that_are_all_out_say_nothing(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    session = gather(db, pulled.application).session
    for p in db.scalars(select(Pull).where(Pull.label == "B")):
        pull_verbs.judge_pull(db, pulled.application, p, False, "fuel ran low")
    with pytest.raises(EvidenceError, match="two valid pulls of A and two of B"):
        gather(db, pulled.application, [session.id])
    with pytest.raises(EvidenceError, match="Two variants"):
        many.many_of(db, pulled.application, [session])


def test_numbers_stand_behind_the_picture(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    found = gather(db, pulled.application)
    table = numbers.table_of(found, "metric")
    c = found.weighing.comparison
    assert len(table.rows) == c.grid.size
    assert float(table.rows[10][3]) == pytest.approx(c.difference[10], abs=0.01)
    assert len(table.heads) == 5 + len(c.runs)
    assert numbers.as_csv(table).splitlines()[0].startswith("rpm,")
    assert any("without pull" in words for _, words, _ in numbers.influences(found.weighing, "us"))
    assert any("valid pulls of A" in line for line in numbers.conditions_of(found))


def test_without_manifold_pressure_there_is_no_comparison_at_equal_boost(
    db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    found = gather(db, pulled.application)
    schools = boosted.schools_of(db, found)
    assert schools.equal is None
    assert "No manifold pressure was logged" in schools.missing[0]
    with pytest.raises(EvidenceError, match="No manifold pressure was logged"):
        boosted.response_of(db, found)


def test_variants_are_ranked_by_declared_weights(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    alone(db, pulled, 0.98)
    every = dyno_sessions(db, pulled.application.id)
    found = many.many_of(db, pulled.application, every)
    assert found.letters == ("A", "B", "C")
    assert found.ranked.pair("A", "C").effect.value < 0
    assert "usual for" in found.weights.origin
    many.declare_weights(db, pulled.application, Weights({"low": 0.0, "middle": 1.0, "top": 0.0}, "it tows"))
    again = many.many_of(db, pulled.application, every)
    assert again.weights.origin == "it tows"
    only = dict(again.weighed.bands[1][1].means)
    assert dict(again.ranked.means) == pytest.approx(only)
    assert many.apart_names({"A": "pipe, 30 %", "B": "pipe, 55 %", "C": "pipe"}) == {
        "A": "30 %",
        "B": "55 %",
        "C": "pipe",
    }
    assert many.chosen_sessions(db, pulled.application, [every[0].id]) == [every[0]]


def test_kits_have_versions_and_a_price_has_its_day(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    app = pulled.application
    card = KitCard(
        590.0, NEXT, 410.0, (Item("gasket set", True), Item("spacer", False, 48.0)), 90.0, available="on the shelf"
    )
    assert kits.save_kit(db, app, card).number == 1
    assert kits.save_kit(db, app, replace(card, price=610.0)).number == 2
    with pytest.raises(InputError, match="A price has a day"):
        kits.save_kit(db, app, replace(card, priced_on=None))
    with pytest.raises(InputError, match="stands once"):
        kits.save_kit(db, app, replace(card, items=(*card.items, Item("Spacer", True))))
    (listed,) = kits.kits_on(db, pulled.card)
    assert listed[0].price == 610.0
    found = many.many_of(db, app, dyno_sessions(db, app.id))
    parity = kits.parity_of(found, [listed[0]], "A", 60.0)
    assert parity.rows[0].cost.total == pytest.approx(610.0 + 48.0 + 90.0)


VANS = "\n".join(
    f"van {n}, {'part' if n < 3 else 'control'}, {when}, {1000 + n} km, {90 + n + 0.3 * k} L"
    for n in range(6)
    for k, when in enumerate(("before", "before", "after", "after"))
)


def test_a_trial_is_kept_corrected_and_weighed(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    app = pulled.application
    rows = read_rows(KINDS["fuel"], VANS, "metric")
    card = TrialCard("fuel", "Six vans", EARLY, "receipts", 1e-5, {"fuel": "diesel"}, rows)
    with pytest.raises(InputError, match="still to come"):
        trials.save_trial(db, app, replace(card, held_on=date.today() + timedelta(days=400)))
    kept = trials.save_trial(db, app, card)
    found = weigh_trial(kept, 2e7, 1.7)
    assert found.fuel is not None
    assert found.worth is not None
    assert found.fuel.treated == 3
    assert found.worth.money is not None
    assert found.worth.money[1] == pytest.approx(found.worth.fuel[1] * 1000 * 1.7)
    with pytest.raises(InputError, match="Say why"):
        trials.save_trial(db, app, card, kept)
    second = replace(card, why="van 3 was misread")
    better = trials.save_trial(
        db, app, replace(card, title="Six vans, odometers read anew", why="van 2 was misread"), kept
    )
    assert trials_of(db, app.id) == [better]
    with pytest.raises(InputError, match="corrected this trial already"):
        trials.save_trial(db, app, second, kept)
    assert db.get(Trial, kept.id) is not None
    assert "fuel-share" in " ".join(trials.figures_of(found))


@pytest.mark.parametrize(
    ("kind", "text", "words"),
    [
        ("fuel", "", "no rows yet"),
        ("fuel", "van 1, part, before, 1240 km", "Line 1: fuel is missing"),
        ("fuel", "van 1, neither, before, 1240 km, 100 L", "neither part nor control"),
        ("fuel", "van 1, part, before, 12 parsecs, 100 L", "Line 1, distance"),
        ("fuel", "van 1, part, before, 1 km, 1 L, a, b, c, d", "holds 9 columns"),
        ("mass", "A, 4.8 kg\nB, heavy", "Line 2, mass"),
        ("fuel", "van 1, part, before, 5 km, 1 L\nvan 1, part, after, -5 km, 1 L", "Row 2: Distance and fuel are more"),
        ("noise", "A, 84, 0.5 m, 4500 rpm, Q", "weighting is A, C or Z"),
        ("temperature", "A, air, here, 40 C, 20 C", "surface, in the gas"),
    ],
)
def test_rows_that_cannot_be(db: UnitOfWork, pulled: SimpleNamespace, kind: str, text: str, words: str) -> None:

    def record() -> Trial:
        rows = read_rows(KINDS[kind], text, "metric")
        return trials.save_trial(db, pulled.application, TrialCard(kind, "x", EARLY, "y", 0.0, {}, rows))

    with pytest.raises(InputError, match=words) as refused:
        record()
    assert refused.value.field == "rows"


def test_rows_may_have_a_head_and_any_mark_between(db: UnitOfWork) -> None:
    plain = read_rows(KINDS["mass"], "A or B, mass\nA, 4.8 kg\nB, 4.2 kg", "metric")
    tabs = read_rows(KINDS["mass"], "A\t4800 g\nB\t4.2 kg", "metric")
    assert plain == tabs


def test_too_few_readings_are_said_and_track_runs_show_nothing(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    few = TrialCard(
        "mass", "once each", EARLY, "scale", 0.01, {}, read_rows(KINDS["mass"], "A, 4.8 kg\nB, 4.2 kg", "metric")
    )
    assert "Two readings of A" in weigh_trial(trials.save_trial(db, pulled.application, few)).problem
    runs = TrialCard(
        "track", "two runs", EARLY, "beam", 0.001, {}, read_rows(KINDS["track"], "A, 14.6 s\nB, 14.4 s", "metric")
    )
    shown = weigh_trial(trials.save_trial(db, pulled.application, runs))
    assert (shown.found, shown.fuel, shown.problem) == ((), None, "")


@pytest.mark.parametrize("table", ["use_weights", "kit_sheet", "trial"])
def test_what_was_written_stays(db: UnitOfWork, pulled: SimpleNamespace, table: str) -> None:
    app = pulled.application
    many.declare_weights(db, app, Weights({"low": 1.0}, "so"))
    kits.save_kit(db, app, KitCard(None, None))
    rows = read_rows(KINDS["mass"], "A, 4.8 kg\nB, 4.2 kg", "metric")
    trials.save_trial(db, app, TrialCard("mass", "x", EARLY, "y", 0.0, {}, rows))
    db.flush()
    assert all(db.scalars(select(model)).first() for model in (UseWeights, KitSheet, Trial))
    with pytest.raises(DBAPIError), db.savepoint():
        db.execute(text(f"delete from {table}"))

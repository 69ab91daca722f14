"""Files and pulls in the records: bytes kept once, readings with versions, a second clock, conditions, typed pulls, health."""

from __future__ import annotations

import hashlib
import io
from dataclasses import replace
from datetime import date
from types import SimpleNamespace

import numpy as np
import pytest
from sqlalchemy import func, select

from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.core.claim.gates.table import may_publish
from longbreath.demo.cell import take, take_all
from longbreath.demo.days import work_day
from longbreath.devices.made_engine import Day, day_log, pull
from longbreath.dossier import blobs, health
from longbreath.dossier.claim.backing import backing
from longbreath.dossier.claim.reads import draft_of
from longbreath.dossier.claim.verbs import draft_claim
from longbreath.dossier.events import PullsChanged, say
from longbreath.dossier.evidence.gather import gather
from longbreath.dossier.health import Carrier, HealthCard
from longbreath.dossier.plan import cards
from longbreath.dossier.pull import conditions, correcting, logs, points, typed, verbs, waiting
from longbreath.dossier.records.sessions import channels_of, still_owed
from longbreath.formats.mapping import from_json
from longbreath.store.models import Blob, BlobPart, Channel, DynoSession, Pull, PullReading
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.core.compare.made import BREATHING
from tests.made.habits import FULL, LOGGER, METRIC, US, as_archive, as_text
from tests.made.roller import KART, KART_INERTIA, SPEEDS, rolled, skim_torque

ONE = pull(BREATHING, 3)


@pytest.fixture
def session(db: UnitOfWork, shop: SimpleNamespace) -> DynoSession:
    db.act_as(shop.people["tester"], shop.application.id)
    return verbs.open_session(db, shop.application, shop.card, factories.VISIT)


@pytest.fixture
def pulled(day_without_sheets: SimpleNamespace) -> SimpleNamespace:
    return day_without_sheets


@pytest.mark.parametrize("size", [1, 4 * 1024 * 1024, 4 * 1024 * 1024 + 1, 9_000_001])
def test_bytes_come_back_whole_and_by_any_stretch(db: UnitOfWork, size: int) -> None:
    data = np.random.default_rng(size).bytes(size)
    blob = blobs.keep(db, io.BytesIO(data), 1 << 30)
    assert blob.sha256 == hashlib.sha256(data).hexdigest()
    assert blobs.content(db, blob.id) == data
    for first, last in ((0, 0), (size - 1, size - 1), (size // 3, size // 2), (0, size - 1)):
        assert b"".join(blobs.stretch(db, blob.id, first, last)) == data[first : last + 1]


def test_the_same_bytes_are_kept_once_and_packed(db: UnitOfWork) -> None:
    data = as_text(day_log(BREATHING, [1, 2]), FULL)
    one, again = blobs.keep(db, data, 1 << 30), blobs.keep(db, io.BytesIO(data), 1 << 30)
    assert one.id == again.id
    packed = db.scalar(select(func.sum(func.length(BlobPart.data))).where(BlobPart.blob_id == one.id))
    assert packed < 0.6 * len(data)
    assert db.scalar(select(func.count(Blob.id)).where(Blob.sha256 == one.sha256)) == 1


def test_what_is_nothing_or_too_much_is_not_kept(db: UnitOfWork) -> None:
    with pytest.raises(InputError, match="is empty"):
        blobs.keep(db, b"", 10)
    with pytest.raises(InputError, match="larger than 0 MB"):
        blobs.keep(db, b"12345678901", 10)


def test_many_pulls_in_one_file_take_their_places(db: UnitOfWork, shop: SimpleNamespace, session: DynoSession) -> None:
    made = day_log(BREATHING, list(range(40, 49)), steady=8.0)
    assert take_all(db, shop.application, session, {"day.csv": as_text(made, FULL)}) == 9
    assert [(p.sequence, p.label) for p in session.full_pulls] == list(enumerate("AAABBBAAA", start=1))
    assert all(p.is_valid for p in session.full_pulls), [p.judgements[-1].reason for p in session.full_pulls]
    assert still_owed(session) == ""
    assert len({p.file.id for p in session.pulls}) == 1
    assert points.points_of(session) == []  # steady points and idle wait until somebody says that they count


def test_a_unit_found_wrong_makes_the_next_reading_and_the_old_one_stays(
    db: UnitOfWork, shop: SimpleNamespace, session: DynoSession
) -> None:
    lying = (METRIC[0], replace(METRIC[1], unit="lb-ft"), METRIC[3])  # says Nm, writes lb-ft
    for place in (1, 2):
        take(db, shop.application, session, f"{place}.csv", as_text(pull(BREATHING, place), lying), place, "A")
    db.expire(session, ["pulls"])
    first, second = session.full_pulls
    before = channels_of(db, [first])[first.id]["torque"]
    source = correcting.source_of(
        db,
        session,
        str(first.read.told["source"]),
        {"g0-torque-unit": "lb-ft", "g0-torque-header": "Md", "g0-torque-against": "y"},
    )
    assert source is not None
    assert correcting.read_anew(db, shop.application, source, "the sheet says lb-ft") == 2
    db.expire_all()
    after = channels_of(db, [first])[first.id]["torque"]
    assert after == pytest.approx(before * 1.3558179483)
    assert [r.number for r in first.readings] == [1, 2]
    assert first.read.why == "the sheet says lb-ft"
    kept = select(Channel.values).join(PullReading, PullReading.id == Channel.reading_id)
    kept = kept.where(PullReading.pull_id == first.id, PullReading.number == 1, Channel.name == "torque")
    assert np.array(db.scalar(kept)) == pytest.approx(before)
    assert [j.automatic for j in second.judgements] == [True, True]
    assert all(p.is_valid for p in (first, second))  # those that are read anew later say nothing of the first
    again = correcting.source_of(db, session, str(first.read.told["source"]), {})
    assert again is not None
    with pytest.raises(InputError, match="already"):
        correcting.read_anew(db, shop.application, again, "once more")


def test_a_reading_anew_changes_the_evidence_and_a_persons_judgement_stands(
    db: UnitOfWork, pulled: SimpleNamespace
) -> None:
    application, found = pulled.application, gather(db, pulled.application)
    effect = found.weighing.bands[1].effect.value
    out = next(p for p in found.session.full_pulls if p.label == "B" and p.is_valid)
    verbs.judge_pull(db, application, out, False, "the door stood open")
    for target in [p for p in found.session.full_pulls if p.label == "B"]:
        columns = from_json(target.read.columns)
        wrong = {
            **columns,
            "torque": replace(columns["torque"], unit="lb-ft" if columns["torque"].unit == "N·m" else "N·m"),
        }
        wrong.pop("power")
        verbs.read_again(db, application, verbs.Again(target, wrong, "tried another unit"))
    say(db, PullsChanged(found.session))
    db.expire_all()
    assert not out.is_valid
    assert out.judgements[-1].reason == "the door stood open"
    read = [p for p in found.session.full_pulls if p.label == "B" and p.id != out.id and len(p.readings) > 1]
    assert read
    assert not any(p.is_valid for p in read)  # one unit for B and another for A is asked about, and makes no gain
    assert all("in the unit of the others" in {c["name"] for c in p.checks if c["passed"] is False} for p in read)
    for target in read:
        verbs.judge_pull(db, application, target, True, "it is so")
    db.expire_all()
    with pytest.raises(EvidenceError, match="one person has the only word"):
        gather(db, application)
    assert effect > 0


def test_two_files_of_one_pull_lie_on_each_other_by_speed(
    db: UnitOfWork, shop: SimpleNamespace, session: DynoSession
) -> None:
    made = pull(BREATHING, 3)
    late = {**made, "time": made["time"] - 40.25}
    slow = {name: values[::3] for name, values in late.items()}
    dyno = tuple(c for c in FULL if c.channel in ("time", "rpm", "torque", "power"))
    verbs.receive(db, session, "dyno-01.csv", as_text(made, dyno))
    verbs.receive(db, session, "logger.csv", as_text(slow, LOGGER))
    db.expire(session, ["files"])
    found = waiting.what_waits(db, shop.application, session, {})
    (part,) = found.chosen
    assert "40.2" in part.joined
    pull_made = verbs.record(db, shop.application, part.command(found.loggers))
    assert pull_made.read.lag == pytest.approx(40.25, abs=0.02)
    assert pull_made.read.logger_file is not None
    channels = channels_of(db, [pull_made])[pull_made.id]
    assert {"mixture", "coolant", "torque", "battery"} <= set(channels)
    assert np.nanmean(channels["coolant"]) == pytest.approx(np.mean(made["coolant"]) + 273.15, abs=0.2)
    rates = dict(db.execute(select(Channel.name, Channel.rate).where(Channel.reading_id == pull_made.read.id)).all())
    assert rates["torque"] == pytest.approx(25.0, rel=0.02)
    assert rates["coolant"] == pytest.approx(25.0 / 3, rel=0.02)
    db.expire_all()
    assert waiting.waiting(db, session) == []


def test_speeds_alone_make_torque_by_the_inertia_of_the_dyno(
    db: UnitOfWork, shop: SimpleNamespace, session: DynoSession
) -> None:
    """The made kart's drum follows from its torque and inertia; what is read back is that torque, as far as smoothing lets it."""
    data = as_text(rolled(replace(KART, high=7600.0, low=1700.0, rate=200.0), 5), SPEEDS)
    verbs.receive(db, session, "drum.csv", data)
    db.expire(session, ["files"])
    found = waiting.what_waits(db, shop.application, session, {})
    assert found.sources[0].is_logger  # without an inertia there is no torque in it
    shop.dyno.roller_inertia = KART_INERTIA
    db.flush()
    found = waiting.what_waits(db, shop.application, session, {"g0-smoothing": "0.2"})
    (part,) = found.chosen
    kept = verbs.record(db, shop.application, part.command({}))
    channels = channels_of(db, [kept])[kept.id]
    rpm = channels["speed"] * 30 / np.pi
    inside = np.isfinite(channels["torque"]) & (rpm > 2500) & (rpm < 7000)
    assert channels["torque"][inside] == pytest.approx(skim_torque(rpm[inside]), abs=0.35)
    assert "Smoothed over 0.2 s" in kept.read.told["torque"]


def test_what_no_log_says_is_asked_kept_and_stands_in_the_ledger(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    found = gather(db, pulled.application)
    session = found.session
    lines = {line.name: line for line in conditions.lines_of(db, session)}
    assert lines["operator"].by_letter["A"].words == "Mara Arden"
    key = found.key
    assert conditions.put_conditions(db, session, {("B", "smoothing_by_source"): "0.5 s"}) == 1
    assert conditions.put_conditions(db, session, {("B", "smoothing_by_source"): "0.5 s"}) == 0
    now = gather(db, pulled.application)
    assert now.key != key
    (differs,) = [item for item in now.builds.differing if item.line == "pull_smoothing_by_source"]
    assert (differs.a, differs.b) == ("none", "0.5 s")
    conditions.put_conditions(db, session, {("B", "smoothing_by_source"): ""})
    (differs,) = [i for i in gather(db, pulled.application).builds.differing if i.line == "pull_smoothing_by_source"]
    assert differs.b == "not recorded"
    with pytest.raises(InputError, match="speaks of no result"):
        conditions.put_conditions(db, session, {("A", "operator"): "gained 90 hp"})


def test_starts_that_differ_between_the_letters_are_told_by_the_log(
    db: UnitOfWork, shop: SimpleNamespace, session: DynoSession
) -> None:
    for place, label in enumerate("AAABBBAAA", start=1):
        made = pull(BREATHING, 60 + place, Day(oil=96.0 if label == "A" else 84.0))
        take(db, shop.application, session, f"{place}.csv", as_text(made, FULL), place, label)
    db.expire(session, ["pulls"])
    found = gather(db, shop.application)
    assert [item.line for item in found.builds.differing if item.line.startswith("pull_")] == ["pull_start"]


def test_a_typed_pull_is_checked_and_never_evidence(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    found = gather(db, pulled.application)
    text = "4500 rpm  202 N·m  95.2 kW\n6000 rpm  188 N·m  150 kW"
    kept = typed.add_typed(
        db, pulled.application, found.session, typed.TypedCard("A", "photo of the screen", text), "us"
    )
    assert [c["key"] for c in kept.checks if c["passed"] is False] == ["identity"]
    assert gather(db, pulled.application).key == found.key
    better = typed.TypedCard("A", "photo of the screen", text.replace("150 kW", "118.1 kW"))
    again = typed.add_typed(db, pulled.application, found.session, better, "us", kept)
    db.expire(found.session, ["typed"])
    assert typed.typed_of(db, found.session) == [again]
    back = typed.read_rows(typed.as_text(again, "metric"), "metric")
    assert [value for row in back for value in row] == pytest.approx([v for row in again.rows for v in row], rel=1e-3)
    with pytest.raises(InputError, match="corrected it already"):
        typed.add_typed(db, pulled.application, found.session, better, "us", kept)
    for bad, message in (
        ("4500", "Line 1: write speed"),
        ("x  1", "does not begin with a number"),
        ("", "at least one"),
    ):
        with pytest.raises(InputError, match=message):
            typed.add_typed(db, pulled.application, found.session, typed.TypedCard("A", "s", bad), "us")


def test_a_steady_point_has_a_verdict_of_its_own_and_none_in_weigh(
    db: UnitOfWork, shop: SimpleNamespace, session: DynoSession
) -> None:
    made = day_log(BREATHING, list(range(40, 49)), steady=8.0)
    take_all(db, shop.application, session, {"day.csv": as_text(made, FULL)}, {"f1-0-label": "A"})
    verbs.receive(db, session, "points.csv", as_text(day_log(BREATHING, [70, 71], steady=9.0), FULL[:12]))
    db.expire(session, ["files"])
    found = waiting.what_waits(db, shop.application, session, {})
    steady = [p for p in found.pulls if p.stretch.kind == "steady"]
    assert [p.label for p in steady] == ["leave", "leave"]
    texts = {f"{p.key}-label": "leave" for p in found.pulls}
    texts |= {f"{steady[0].key}-label": "B", f"{steady[0].key}-place": "21"}
    found = waiting.what_waits(db, shop.application, session, texts)
    for part in found.chosen:
        verbs.record(db, shop.application, part.command({}))
    db.expire(session, ["pulls"])
    (point,) = points.points_of(session)
    assert (point.kind, point.label, point.is_valid) == ("steady", "B", True)
    assert point.read.told["means"]["speed"] == pytest.approx(2500 * np.pi / 30, rel=0.01)
    assert [p.kind for p in session.full_pulls] == ["sweep"] * 9  # what is weighed, counted and owed goes by these
    assert [p.kind for p in session.full_pulls] == ["sweep"] * 9  # what is weighed, counted and owed goes by these
    weighed = gather(db, shop.application).weighing
    assert weighed.comparison.count("B") == 3


def test_a_finding_puts_pulls_in_doubt_and_closes_the_claim(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    application = pulled.application
    work_day(db, date(2026, 6, 1))
    claim = draft_claim(db, backing(db, application, "torque"))
    assert "health" not in [g.key for g in draft_of(db, application, claim).gates if not g.met]
    key = gather(db, application).key
    carrier = Carrier(vehicle=application.vehicle)
    good = HealthCard(date(2026, 5, 2), "compression", (13.0e5, 12.9e5, 13.1e5, 13.0e5))
    health.add_entry(db, carrier, good)
    assert gather(db, application).key == key  # a good look says nothing new
    bad = HealthCard(date(2026, 5, 20), "compression", (13.0e5, 11.2e5, 13.1e5, 13.0e5))
    entry = health.add_entry(db, carrier, bad)
    assert (entry.state, entry.told[:10]) == ("finding", "Cylinder 2")
    found = gather(db, application)
    assert found.key != key
    (doubt,) = found.doubts
    assert "in doubt" in doubt
    gates = draft_of(db, application, claim).gates
    assert "health" in [g.key for g in gates if not g.met]
    assert not may_publish(gates)
    again = replace(bad, figures=(13.0e5, 12.8e5, 13.1e5, 13.0e5), words="the gauge hung")
    health.add_entry(db, carrier, again, entry)
    assert gather(db, application).doubts == ()
    with pytest.raises(InputError, match="still to come"):
        health.add_entry(db, carrier, replace(bad, held_on=date(2090, 1, 1)))
    with pytest.raises(InputError, match="Write the figures"):
        health.add_entry(db, carrier, HealthCard(date(2026, 5, 20), "oil"))


def test_a_baseline_ages_by_pulls_and_by_what_was_done(db: UnitOfWork, pulled: SimpleNamespace) -> None:
    found = health.baseline_of(db, pulled.application, date(2026, 5, 30))
    assert found is not None
    assert (found.pulls, found.days, found.is_stale) == (0, 16, False)
    work_day(db, date(2026, 6, 1))
    card = HealthCard(date(2026, 5, 20), "change", (), "another exhaust")
    health.add_entry(db, Carrier(vehicle=pulled.application.vehicle), card)
    later = health.baseline_of(db, pulled.application, date(2026, 5, 30))
    assert later is not None
    assert later.is_stale


def test_a_factorial_catches_a_misread_figure_from_its_neighbours(db: UnitOfWork, shop: SimpleNamespace) -> None:
    from longbreath.core.plan.designs import FACTORIAL, Factor

    factors = (Factor("Manifold", 40.0, ("stock", "long")), Factor("Filter", 5.0, ("paper", "foam", "none")))
    draft = cards.CardDraft(shop.dyno.id, "4th gear", "nothing", 2, 2.0, FACTORIAL, factors=factors)
    db.act_as(shop.people["tester"], shop.application.id)
    card = cards.save_card(db, shop.application, None, draft)
    session = verbs.open_session(db, shop.application, card, factories.VISIT)
    levels = {v.letter: tuple(v.levels) for v in card.variants}
    last = card.order[-1]
    for place, letter in enumerate(card.order, start=1):
        a, b = levels[letter]
        made = pull(
            replace(BREATHING, torque=lambda rpm, a=a, b=b: BREATHING.torque(rpm) + 4.0 * a + 2.0 * b), 80 + place
        )
        columns = (
            US if place < len(card.order) else (US[0], replace(US[1], unit="", shown="lb-ft"), US[3])
        )  # N·m read as lb-ft
        take(db, shop.application, session, f"{place}.csv", as_text(made, columns), place, letter)
    db.expire(session, ["pulls"])
    odd = session.full_pulls[-1]
    failing = [c["key"] for c in odd.checks if c["passed"] is False]
    assert odd.label == last
    assert "neighbours" in failing
    assert all(p.is_valid for p in session.full_pulls[:-1]), [p.judgements[-1].reason for p in session.full_pulls]


def test_an_archive_counts_once_however_often_it_comes(
    db: UnitOfWork, shop: SimpleNamespace, session: DynoSession
) -> None:
    data = as_archive({f"{n}.csv": as_text(pull(BREATHING, n), US) for n in (1, 2)})
    verbs.receive(db, session, "both.zip", data)
    with pytest.raises(InputError, match="and waits to be mapped"):
        verbs.receive(db, session, "again.zip", data)
    db.expire(session, ["files"])
    take_all(db, shop.application, session, {})
    with pytest.raises(InputError, match="already here as pull 1, 2"):
        verbs.receive(db, session, "again.zip", data)
    assert db.scalar(select(func.count(Pull.id))) == 2


def test_what_a_file_held_is_read_once_and_found_anew_if_it_is_lost(db: UnitOfWork, session: DynoSession) -> None:
    file = verbs.receive(db, session, "1.csv", as_text(ONE, FULL))
    known = logs.known(db, file)
    assert known is not None
    assert known.tables[0].rows == ONE["rpm"].size
    (table,) = logs.parts(db, file, known, [verbs.Part(0, 10, 19)])
    assert table.values.shape == (10, len(FULL))

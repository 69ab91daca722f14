"""Every column of every table that holds evidence is in some case, or a list says why it is in none."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from datetime import date
from types import SimpleNamespace
from typing import Any

import pytest
from sqlalchemy import Boolean, Date, DateTime, Engine, LargeBinary, Text, create_engine, text
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.engine import make_url
from sqlalchemy.exc import DBAPIError

from longbreath.core.case.case import canonical
from longbreath.core.weigh.ledger import BOUNDED
from longbreath.core.weigh.trial_kinds import KINDS
from longbreath.dossier import health
from longbreath.dossier.case.cases import LOOKS, case_of, context_of
from longbreath.dossier.claim import house, road
from longbreath.dossier.claim.choices import choices_of
from longbreath.dossier.evidence.gather import gather
from longbreath.dossier.evidence.reasons import LineCard
from longbreath.dossier.evidence.verdict import keep_ledger
from longbreath.dossier.path import fit
from longbreath.dossier.pull import tuning, typed
from longbreath.dossier.pull.conditions import put_conditions
from longbreath.dossier.records.house import RulesCard
from longbreath.dossier.weigh.trials import TrialCard, read_rows, save_trial
from longbreath.store import models
from longbreath.store.base import Base
from longbreath.store.models import DynoScatter
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.conftest import RolledBack
from tests.made import dyno_day

EVIDENCE: tuple[type[Base], ...] = (
    models.Application,
    models.Bench,
    models.BenchRange,
    models.BenchSession,
    models.BuildSheet,
    models.Calibration,
    models.CardPair,
    models.CardVariant,
    models.Certificate,
    models.ClaimRules,
    models.CoveredVehicle,
    models.DifferenceReason,
    models.Dyno,
    models.DynoScatter,
    models.DynoSession,
    models.Fit,
    models.FitSpot,
    models.Fixture,
    models.HealthEntry,
    models.Product,
    models.Pull,
    models.PullCondition,
    models.PullJudgement,
    models.PullReading,
    models.RawFile,
    models.Reading,
    models.ReadingMark,
    models.Revision,
    models.SecondLook,
    models.SheetNote,
    models.TestCard,
    models.Trace,
    models.Trial,
    models.TuningRound,
    models.TypedPull,
    models.Variant,
    models.VariantPart,
    models.Vehicle,
)
EVERYWHERE = {
    "id": "identity; what hangs on it is in the case",
    "version": "counts changes of a row; what changed is in the case",
    "made_at": "when it was written down",
    "taken_at": "when it was written down",
    "given_at": "when it was written down",
    "created_at": "when it was written down",
}
REASONS = {
    "bench.meter": "how readings are typed; which meter a reading came from is in the reading",
    "bench.drop_step": "of an orifice meter alone, and then in its readings",
    "bench.pipe_diameter": "of an orifice meter alone, and then in its readings",
    "bench.taps": "of an orifice meter alone, and then in its readings",
    "bench.leak_limit": "refuses a set-up before anything is read",
    "bench.device_url": "where the device answers",
    "bench_range.label": "its name; its full scale is in the readings",
    "bench_range.plate_diameter": "of an orifice meter alone, and then in its readings",
    "build_sheet.title": "which sheets are versions of one; the day and the letter decide which stands",
    "build_sheet.number": "which version it is",
    "build_sheet.why": "why a version was written",
    "calibration.plate": "which plate; what it showed is in the case",
    "certificate.document": "where the paper lies",
    "claim_rules.code_required": "how a claim is approved",
    "claim_rules.clock_days": "how long a questioned claim stands",
    "claim_rules.at_once": "which causes withdraw at once",
    "claim_rules.raw_files": "what a bundle lets out",
    "claim_rules.money": "of a fuel trial alone",
    "dyno.kind": "what is asked of its logs",
    "dyno.channels": "what is asked of its logs",
    "dyno.device_url": "where the device answers",
    "dyno.logger_url": "where the logger answers",
    "dyno.weather_url": "where the weather station answers",
    "dyno.repeatability": "its records say more: the scatter on record is in the case",
    "dyno.repeatability_source": "as above",
    "dyno.fitting_repeatability": "as above",
    "dyno.fitting_freedom": "as above",
    "dyno_scatter.key": "which pulls it was fitted to; what came of it is in the case",
    "fit.note": "a remark for the shop, printed nowhere",
    "fit_spot.note": "a remark for the shop, printed nowhere",
    "fit.drained": "for whoever fits it, printed nowhere",
    "fixture.throat_diameter": "of coefficients, which no statement is made of",
    "fixture.stem_diameter": "of coefficients, which no statement is made of",
    "health_entry.words": "printed where the figures say nothing",
    "health_entry.figures": "what they say stands in the entry’s words",
    "product.family": "what is asked to be measured of it",
    "product.side": "where it stands in the path",
    "product.price": "of a kit’s sheet",
    "product.price_on": "of a kit’s sheet",
    "product.shelf": "of a kit’s sheet",
    "pull_reading.checks": "the judgement that came of them is in the case",
    "pull_reading.lag": "made again from both files",
    "pull_reading.why": "why it was read anew",
    "raw_file.size": "its hash says more",
    "reading.percent": "the other way to tell a flow: these were read as one",
    "reading.flags": "what spoke against it when it was taken; what it read is in the case",
    "reading.source": "hand, bench or sheet",
    "reading.capture_key": "so that one press is one reading",
    "second_look.reason": "stands beside the pull; whether it agrees is in the case",
    "test_card.number": "which version of the card",
    "test_card.design": "the order that was pulled is in the case",
    "test_card.held": "a plan; what was held stands on the build sheets",
    "test_card.pulls_per_set": "a plan; what was pulled is in the case",
    "test_card.effect_wanted": "a plan, for the promise",
    "test_card.mixture_target": "held by the checks; their judgement is in the case",
    "test_card.mixture_tolerance": "as above",
    "test_card.limits": "as above",
    "test_card.window": "as above",
    "test_card.times": "a plan, for the calendar",
    "test_card.brings": "a plan, for the calendar",
    "test_card.consumables": "a plan, for the shop",
    "test_card.checklist": "a plan, for the shop",
    "trace.runner": "its title says it",
    "trace.stack": "its title says it",
    "trace.ladder": "a plan; the lifts that were read are in the case",
    "trial.why": "why it took the place of an earlier one",
    "tuning_round.number": "they are counted",
    "tuning_round.kind": "they are counted",
    "tuning_round.before": "they are counted",
    "tuning_round.after": "they are counted",
    "tuning_round.words": "they are counted",
    "tuning_round.factor": "they are counted",
    "tuning_round.after_place": "they are counted",
    "typed_pull.label": "no evidence: they are counted beside it",
    "typed_pull.source": "as above",
    "typed_pull.rows": "as above",
    "typed_pull.checks": "as above",
    "variant.letter": "the letter on the card counts",
    "variant.base": "what it takes from it stands in its own row",
    "variant.build_title": "which sheet is filled in for it",
    "variant.control_mode": "what was set stands on the card in words",
    "vehicle.cycle": "of reckonings, which no statement is made of",
    "vehicle.bore": "of reckonings",
    "vehicle.stroke": "of reckonings",
    "vehicle.chamber_volume": "of reckonings",
    "vehicle.rod": "of reckonings",
    "vehicle.case_volume": "of reckonings",
    "vehicle.cylinders": "of reckonings",
    "vehicle.compression_ratio": "of reckonings",
    "vehicle.intake_duration": "of reckonings",
    "vehicle.fuel": "of reckonings",
    "vehicle.use": "proposes weights of a ranking",
    "vehicle.market": "of what is asked for; a statement names its market itself",
    "vehicle.redline": "of reckonings and checks",
}
"""Columns that stand in no case, with the reason."""
INSTEAD = {
    "application.approval": "'approved'",
    "bench.temperature_rule": "'state'",
    "certificate.kind": "'noise'",
    "covered_vehicle.covers": "'direct'",
    "difference_reason.kind": "'unknown'",
    "difference_reason.low": "-0.01",
    "dyno.measured_at": "'crank'",
    "dyno_session.standard": "'din_70020'",
    "fit_spot.state": "'close'",
    "fixture.direction": "'exhaust'",
    "health_entry.kind": "'leak-down'",
    "health_entry.state": "'sound'",
    "pull.kind": "'steady'",
    "test_card.control_mode": "'boost free'",
    "test_card.tune_mode": "'one tune'",
    "trace.kind": "'fixed'",
    "trial.origin": "'supplier'",
    "vehicle.induction": "'turbo'",
    "pull.label": "'Z'",
    "card_variant.letter": "'Y' || id",
    "card_pair.a": "'C'",
    "card_pair.b": "'C'",
    "variant.letter": "'Y'",
    "build_sheet.label": "'Z'",
    "pull_condition.label": "'B'",
    "pull_condition.name": "'calibration'",
    "tuning_round.label": "'A'",
    "trace.label": "'Z'",
    "sheet_note.about": "'idle'",
    "pull_reading.part": """'{"table": 1}'""",
    "pull_reading.told": """'{"smoothing": 0.7}'""",
    "pull_reading.columns": """'{"speed": {}}'""",
    "card_variant.levels": "'[1]'",
    "test_card.factors": """'[{"name": "x"}]'""",
    "dyno_scatter.working": """'{"pulls": 3, "sets": 2, "visits": 1}'""",
    "trial.kind": "'fuel'",
}
"""What takes the place of a value where the usual change could not be."""


@pytest.fixture
def database(database_url: str, laid: Callable[[str], Engine]) -> Iterator[RolledBack]:
    """The day's database as its owner has it, who may change what is append-only; it forgets everything after the test."""
    name = laid("day_of_open_bonnet").url.database
    owner = create_engine(make_url(database_url).set(database=name))
    with owner.connect() as connection:
        outer = connection.begin()
        yield RolledBack(connection)
        outer.rollback()
    owner.dispose()


@pytest.fixture
def everything(db: UnitOfWork, day_of_open_bonnet: SimpleNamespace) -> SimpleNamespace:
    """A shop whose records hold something in every table of evidence."""
    shop, day = day_of_open_bonnet, factories.DAY
    db.act_as(shop.people["tester"], shop.application.id)
    dyno_day.closed_course(db, shop.application, "all of them")
    found = gather(db, shop.application)
    keep_ledger(db, shop.application, found.builds, {"bonnet": LineCard("seen", BOUNDED, 0.0, 0.004)})
    put_conditions(db, found.session, {("A", "operator"): "somebody else"})
    tuning.record_round(db, found.session, tuning.RoundCard("B", "map", "two steps richer"))
    typed.add_typed(
        db, shop.application, found.session, typed.TypedCard("A", "a photo", "4500 rpm  202 N·m  95.2 kW"), "us"
    )
    known = {"pulls": 12, "sets": 4, "visits": 2}
    db.add(
        DynoScatter(
            dyno_id=shop.dyno.id,
            from_day=date(2026, 1, 1),
            key="k",
            pull=0.9,
            pull_df=20.0,
            fitting=0.4,
            fitting_df=6.0,
            day=0.3,
            day_df=3.0,
            working=known,
        )
    )
    bad = health.HealthCard(date(2026, 5, 2), "compression", (13.0e5, 11.2e5, 13.1e5, 13.0e5), "looked twice")
    health.add_entry(db, health.Carrier(vehicle=shop.application.vehicle), bad)
    mass = TrialCard("mass", "On the scale", day, "scale", 0.01, {"with": "nuts"})
    rows = read_rows(KINDS["mass"], "\n".join(f"{x}, {4.8 + n / 100} kg" for n, x in enumerate("ABABAB")), "metric")
    save_trial(db, shop.application, replace(mass, rows=rows))
    fit.add_spot(db, shop.application, factories.SPOT)
    told = fit.FitCard(5400.0, "Ada", "coolant", "the tray", 0.004, 0.003, ("torque",))
    fit.save_fit(db, shop.application, None, told)
    held = road.CertificateCard("emissions", "EO-1", "Northland", 2013, 2018, date(2027, 7, 1), "intake", "filters")
    road.add_certificate(db, shop.application, held)
    road.cover_vehicle(
        db, shop.application, road.VehicleCard("M", "H", 2013, 2018, "H20", "reasoned", "same engine in it")
    )
    house.set_rules(db, RulesCard(house="Windlass"))
    factories.capture(db, shop.traces["A"], 62.0, 0.006)
    for letter, lift in (("A", 0.004), ("B", 0.004), ("B", 0.006)):
        factories.capture(db, shop.traces[letter], 61.0, lift, inlet_temperature=294.0, meter_temperature=295.0)
    judged = found.session.full_pulls[0].judgements[-1]
    row = models.SecondLook(
        judgement_id=judged.id, valid=True, reason="as it is", made_by_id=shop.people["approver"].id
    )
    row.judgement, row.made_by = judged, shop.people["approver"]
    db.add(row)
    plate = models.Calibration(
        bench_id=shop.bench.id, held_on=date(2026, 5, 1), plate="P", plate_flow=0.03, plate_uncertainty=0.005
    )
    plate.read_flow, plate.made_by_id = 0.0302, shop.people["tester"].id
    db.add(plate)
    mark = models.ReadingMark(
        reading_id=shop.traces["B"].readings[-1].id, reason="slipped", made_by_id=shop.people["tester"].id
    )
    db.add(mark)
    db.flush()
    return shop


def states(db: UnitOfWork, shop: SimpleNamespace) -> str:
    """All cases of a dossier in their canonical form."""
    db.expire_all()
    application = db.get_one(models.Application, shop.application.id)
    context, found = context_of(db, application, date(2026, 6, 1)), []
    for kind, choices in choices_of(db, application).items():
        for choice in choices[:1]:
            found.append(canonical(case_of(db, application, kind, choice.session_ids, choice.sources, context)))
    return "\n".join(found)


def columns() -> Iterator[tuple[str, Any]]:
    for model in EVIDENCE:
        for column in model.__table__.columns:
            name = f"{model.__tablename__}.{column.name}"
            if not column.foreign_keys and column.name not in EVERYWHERE:
                yield name, column


def another(name: str, column: Any) -> str:
    """SQL for another value of a column."""
    if name in INSTEAD:
        return INSTEAD[name]
    quoted = f'"{column.name}"'
    if isinstance(column.type, Boolean):
        return f"not {quoted}"
    if isinstance(column.type, Date):
        return f"coalesce({quoted}, '2026-03-01') - 1"
    if isinstance(column.type, DateTime):
        return f"{quoted} - interval '1 day'"
    if isinstance(column.type, JSONB):
        return f"""case when jsonb_typeof({quoted}) = 'array' then {quoted} || '["x"]' else {quoted} || '{{"x": "y"}}' end"""
    if isinstance(column.type, Text) or column.type.python_type is str:
        return f"coalesce({quoted}, '') || 'x'"
    if isinstance(column.type, LargeBinary):
        return "'\\x00'"
    return (
        f"coalesce({quoted}, 0.01) * 1.01 + 0.001" if column.type.python_type is float else f"coalesce({quoted}, 1) + 1"
    )


FREELY = """
do $$ declare said text; begin
  for said in select format('alter table %s drop constraint %I', conrelid::regclass, conname) from pg_constraint
    where contype in ('c', 'u') and connamespace = 'public'::regnamespace loop execute said; end loop;
end $$;
"""
"""Nothing that the database holds keeps a column from being changed."""


@pytest.mark.slow
def test_every_column_of_evidence_is_in_a_case_or_a_list_says_why(db: UnitOfWork, everything: SimpleNamespace) -> None:
    """Each column is changed in all its rows, past what the database holds, and every case is made anew."""
    before = states(db, everything)
    assert set(LOOKS) - {"fuel", "temperature", "noise", "response"} <= set(choices_of(db, everything.application))
    db.execute(text("set local session_replication_role = replica"))
    db.execute(text(FREELY))
    lost, refused, bare = set[str](), set[str](), set[str]()
    for name, column in columns():
        inside = db.begin_nested()
        try:
            done = db.execute(text(f'update {column.table.name} set "{column.name}" = {another(name, column)}'))
            bare |= set() if done.rowcount else {column.table.name}  # type: ignore[attr-defined]
            if states(db, everything) == before:
                lost.add(name)
        except DBAPIError as error:
            refused.add(f"{name}: {str(error.orig).splitlines()[0]}")
        except (KeyError, TypeError, ValueError, AttributeError):
            pass  # it is read: the case cannot be made of it
        finally:
            inside.rollback()
    assert bare == set(), "these hold no row to change"
    assert sorted(refused) == []
    assert sorted(lost - set(REASONS)) == []
    assert sorted(set(REASONS) - lost) == [], "these are in a case: take them from the list"


def test_every_table_that_hangs_on_a_dossier_is_evidence_or_known_not_to_be() -> None:
    """A table that is added is decided upon here."""
    hanging = {
        t.name for t in Base.metadata.tables.values() if "application_id" in t.columns or "session_id" in t.columns
    }
    assert hanging - {m.__tablename__ for m in EVIDENCE} == NO_EVIDENCE


NO_EVIDENCE = {
    "attachment",
    "audit_entry",
    "bench_sheet",
    "candidate_part",
    "cell_run",
    "claim",
    "element",
    "face",
    "face_lay",
    "dossier_stamp",
    "kept",
    "kept_answer",
    "kit_sheet",
    "ladder_rung",
    "owed",
    "porting_job",
    "prediction",
    "selling_text",
    "session_closing",
    "target",
    "traverse",
    "use_weights",
    "verdict",
    "wheel_sheet",
    "work_task",
}
"""Tables of a dossier that no statement is made of: what is foretold, planned, attached, measured of the path, or derived."""

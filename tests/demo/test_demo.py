"""The demo: loaded once, tells its story, and is invented throughout."""

from __future__ import annotations

import hashlib
import json
import subprocess
import sys
from datetime import UTC, date, datetime
from pathlib import Path
from typing import Any
from zoneinfo import ZoneInfo

import pytest
from sqlalchemy import func, select

from longbreath.core.build import sheet
from longbreath.core.claim.gates.table import bench_gates
from longbreath.core.claim.grammar import compose, sentences, usual
from longbreath.core.claim.kinds import airflow
from longbreath.core.timing import wheel
from longbreath.demo import load, many
from longbreath.demo.cell import take_all
from longbreath.demo.story import SHOP
from longbreath.dossier import build as builds
from longbreath.dossier.bench import curves, maps, porting
from longbreath.dossier.bench.traces import by_lift, differs, main_pair, noise_of, pair_of, plate_of, sessions_of
from longbreath.dossier.claim import bundle
from longbreath.dossier.claim.public import standing_word
from longbreath.dossier.claim.reads import draft_of
from longbreath.dossier.claim.watch import standing_of
from longbreath.dossier.evidence.gather import gather
from longbreath.dossier.owed import summaries
from longbreath.dossier.path import duty, versions
from longbreath.dossier.path.elements import elements_of
from longbreath.dossier.programme.dates import programme_of
from longbreath.dossier.pull import verbs
from longbreath.dossier.records.cards import card_of
from longbreath.dossier.records.sessions import verdict_of
from longbreath.dossier.records.trials import trials_of
from longbreath.dossier.timing import core_sheet, sheets_of, standing
from longbreath.dossier.weigh import boosted, kits, trials
from longbreath.dossier.weigh import several as weigh_many
from longbreath.proof import pack
from longbreath.proof.verify import verify
from longbreath.store.database import Database
from longbreath.store.models import (
    Application,
    Attachment,
    BenchSession,
    Claim,
    DynoSession,
    Owed,
    Pull,
    Reading,
    SessionClosing,
    User,
    Vehicle,
)
from tests.databases import ready, with_demo
from tests.factories import CFM
from tests.made.people import PEOPLE

pytestmark = pytest.mark.slow
"""The whole demo is loaded: a minute of the first core."""

FILES = Path(__file__).parents[2] / "demo" / "files"


@pytest.fixture(scope="module")
def loaded(database_url: str) -> Any:
    """A database of its own with the demo in it."""
    own = with_demo(database_url, "longbreath_demo")
    load.load_demo(own)
    database = Database(own)
    with database.session() as session:
        yield session
    database.engine.dispose()


def test_loading_twice_adds_nothing(loaded: Any) -> None:
    assert loaded.scalar(select(func.count(User.id))) == len(PEOPLE)
    assert loaded.scalar(select(func.count(Application.id))) == 12
    assert loaded.scalar(select(func.count(BenchSession.id))) >= 8


def test_one_application_is_finished_one_half_way_one_on_the_bench_two_by_the_wheel_one_boosted(loaded: Any) -> None:
    found = summaries(loaded, list(loaded.scalars(select(Application.id).order_by(Application.id))))
    states = [[step.state for step in summary.steps] for summary in found.values()]
    assert states == [
        ["done"] * 6,
        ["done"] * 3 + ["owed"] + ["nothing"] * 2,
        ["done", "nothing", "done", "owed", "done", "stale"],
        ["started", "nothing", "done", "done", "done", "nothing"],
        ["done", "nothing", "done", "done", "done", "nothing"],
        ["done", "nothing", "done", "done", "done", "nothing"],
        ["started", "nothing", "done", "owed"] + ["nothing"] * 2,
        *[["started", "nothing", "done", "done", "done", "nothing"]] * 3,
        ["started", "nothing", "done", "owed", "done", "owed"],
        ["started", "nothing", "done", "done", "done", "owed"],
    ]


def test_the_dyno_visits_came_in_the_habits_of_many_loggers(loaded: Any) -> None:
    sessions = [s for s in loaded.scalars(select(DynoSession).order_by(DynoSession.id)) if not is_live(s)]
    files = [file.filename for s in sessions for file in s.files]
    endings = {name.rpartition(".")[2] for name in files}
    assert endings == {"csv", "xlsx", "zip", "txt", "mf4"}
    assert sum(len(s.full_pulls) for s in sessions) == 10 + 15 + 9 + 13 + 15 + 9 + 9 + 18
    assert len(files) < 85  # several pulls stand in one file
    out = [(p.session.application_id, p.sequence) for s in sessions for p in s.full_pulls if not p.is_valid]
    assert out == [(1, 7), *((11, place) for place in (4, 7, 8, 9))]


def is_live(session: DynoSession) -> bool:
    """Whether it was pulled live."""
    return any(p.read.told.get("clocks") for p in session.full_pulls)


def test_every_application_has_been_to_the_dyno_and_eight_days_were_pulled_live(loaded: Any) -> None:
    sessions = loaded.scalars(select(DynoSession).order_by(DynoSession.id)).all()
    assert len(sessions) >= 12
    assert {p.application_id for s in sessions for p in s.card.pairs} == set(loaded.scalars(select(Application.id)))
    live = [s for s in sessions if is_live(s)]
    assert len(live) == 8
    for session in live:
        for pull in session.full_pulls:
            assert pull.read.logger_file is not None
            assert abs(pull.read.lag or 9.9) < 0.06
            assert pull.read.told["operator"] == "Mara Arden"
    out = [(p.session.application_id, p.sequence) for s in live for p in s.full_pulls if not p.is_valid]
    assert sorted(out) == [(4, 4), (6, 2)]  # the converter unlocked, a cylinder missed
    spread = max(s.held_on for s in sessions) - min(s.held_on for s in sessions)
    assert 120 < spread.days < 220


def test_the_elbow_does_nothing_that_could_be_told_from_nothing(loaded: Any) -> None:
    """Its flow gain on the bench is real; on the dyno no band is a gain."""
    parcel = loaded.get_one(Application, 3)
    assert all(band.verdict != "gain" for band in gather(loaded, parcel).weighing.bands)


def test_days_were_closed_with_what_was_missing(loaded: Any) -> None:
    closings = loaded.scalars(select(SessionClosing).order_by(SessionClosing.id)).all()
    assert [c.is_closed for c in closings] == [True, True]
    words = [g["words"] for c in closings for g in c.gaps]
    assert "1 of 6 pulls of A are missing" in words
    assert all(loaded.get(Owed, g["owed"]) is not None for c in closings for g in c.gaps)


def test_the_crest_wins_the_peak_and_loses_the_band_and_the_pipe_moves_the_kart_down(loaded: Any) -> None:
    crest, skim = loaded.get_one(Application, 4), loaded.get_one(Application, 5)
    low, middle, top = (gather(loaded, crest).weighing.bands[n].effect.value for n in range(3))
    assert low < 0 < top
    assert middle < 0
    low, _, top = (gather(loaded, skim).weighing.bands[n].effect.value for n in range(3))
    assert low > 0 > top
    pull = gather(loaded, skim).session.full_pulls[0]
    assert "Torque from roller speed" in pull.read.told["torque"]


def test_boost_rose_by_itself_with_the_freer_pipe(loaded: Any) -> None:
    session = loaded.scalars(
        select(DynoSession).where(DynoSession.application_id == 7).order_by(DynoSession.id)
    ).first()
    levels = {v.letter: tuple(v.levels) for v in session.card.variants}
    seen = {levels[p.label]: p.read.told["facts"]["boost"] for p in session.full_pulls}
    pairs = [(b, seen[(1, *cell[1:])]) for cell, b in seen.items() if cell[0] == 0 and (1, *cell[1:]) in seen]
    assert pairs
    assert all(freer > stock + 3e3 for stock, freer in pairs)


def test_the_day_that_went_wrong_says_so_when_it_is_taken_in(loaded: Any) -> None:
    application = loaded.get_one(Application, 2)
    loaded.act_as(loaded.scalars(select(User)).first(), application.id)
    card = card_of(loaded, application.id)
    assert card is not None
    with loaded.begin_nested() as undone:
        air = (292.15, 1009e2, 0.46)
        visit = verbs.DynoSessionCard(date(2026, 9, 24), *air, "sae_j1349", gear="4th gear")
        session = verbs.open_session(loaded, application, card, visit)
        take_all(loaded, application, session, {"day.zip": (FILES / "petrel-day-that-went-wrong.zip").read_bytes()})
        named = {p.sequence: verdict_of(p).first for p in session.full_pulls}
        assert {place: check.key for place, check in named.items() if check} == {
            4: "air",
            7: "air",
            8: "set",
            9: "fading",
        }
        assert named[9].act == "stop"
        undone.rollback()


def test_the_downpipe_is_better_as_set_and_hardly_at_equal_boost(loaded: Any) -> None:
    found = gather(loaded, loaded.get_one(Application, 12))
    schools = boosted.schools_of(loaded, found)
    _, rows = boosted.band_figures(found, schools)
    middle, top = found.weighing.bands[1:]
    assert middle.verdict == top.verdict == "gain"
    assert schools.equal is not None
    assert schools.equal.method == "own sweep"
    equal = schools.equal.band(middle.band.low, middle.band.high)
    assert equal.value < 0.25 * middle.effect.value
    assert equal.low < 1.5 < equal.high  # what the made pipe does at equal boost [N m]
    assert rows[1].share > 0.7
    many = weigh_many.many_of(loaded, found.application, list(found.sessions))
    panels = weigh_many.panels_of(found.application, many, "metric")
    assert [p.title for p in panels] == ["B − A", "D − C, controller at 55 %"]
    assert max(panels[1].difference) > 8.0
    response = boosted.response_of(loaded, found)
    assert {item.verdict for item in response.judged if "boost" in item.name} == {"sooner"}


def test_three_kits_cannot_be_told_apart_and_the_cheaper_state_wins(loaded: Any) -> None:
    dyke = loaded.get_one(Application, 8)
    many = weigh_many.many_of(loaded, dyke, weigh_many.chosen_sessions(loaded, dyke, []))
    assert any({"B", "C", "D"} <= set(group) for group in many.ranked.groups)
    listed = [kit for kit, _, _ in kits.kits_on(loaded, many.sessions[0].card)]
    parity = kits.parity_of(many, listed, "A", None)
    assert parity.value_winner == "C"
    assert "cannot be told apart: the cheaper wins, Fell" in parity.sentences[0]
    assert kits.parity_of(many, listed, "A", 80.0).value_winner == "B"


def test_the_ledger_of_the_day_that_went_wrong_is_closed(loaded: Any) -> None:
    found = gather(loaded, loaded.get_one(Application, 11))
    assert found.net is not None
    kinds = {line.line: line.kind for line in found.net.lines}
    assert kinds["bonnet"] == "measured"
    assert kinds["fuel"] == "bounded"
    assert found.net.is_closed
    assert (
        found.weighed.stated.bands[1].effect.value > found.weighing.bands[1].effect.value
    )  # the shut bonnet cost B something
    assert not any(
        band.verdict == "gain" for band in found.weighed.stated.bands
    )  # what was pulled first was not pulled again


def test_the_vans_save_nothing_that_could_be_seen(loaded: Any) -> None:
    fuel, air = (trials.weigh_trial(t) for t in sorted(trials_of(loaded, 3), key=lambda t: t.kind != "fuel"))
    assert fuel.fuel.verdict == "not proven"
    assert 0.01 < fuel.fuel.provable < 0.08
    assert air.found[0].verdict == "cooler"
    mass, noise = (trials.weigh_trial(t) for t in sorted(trials_of(loaded, 12), key=lambda t: t.kind))
    assert (mass.found[0].verdict, noise.found[0].verdict) == ("lighter", "louder")


def test_the_published_claim_says_gain_and_trade_off(loaded: Any) -> None:
    of_torque = select(Claim).where(Claim.application_id == 1, Claim.kind == "torque")
    claim = loaded.scalars(of_torque.order_by(Claim.id.desc())).first()
    assert claim.state == "published"
    told = claim.sheet.snapshot
    assert claim.sheet.approved_by_id not in claim.writers
    assert "gained 2." in told["statement"]
    assert " lost " in told["statement"]
    assert "package" not in told["statement"]
    assert told["headline"] == "A little more in the middle, a little less at the top."
    assert all(gate["met"] for gate in told["gates"])
    assert "<svg" in told["svg"]
    assert standing_of(loaded, [claim])[claim.id].holds


def test_claims_stand_in_every_state(loaded: Any) -> None:
    every = list(loaded.scalars(select(Claim).order_by(Claim.id)))
    stands = standing_of(loaded, every, date(2026, 11, 26))
    found = {standing_word(stands[c.id]) for c in every}
    assert found == {"published", "superseded", "questioned", "withdrawn", "submitted", "draft"}
    assert {c.kind for c in every} >= {"torque", "response", "airflow", "temperature", "fuel", "mass", "fitment"}
    assert {(c.application_id, c.kind) for c in every if c.question is not None} == {(3, "airflow")}
    (downpipe,) = [c for c in every if c.state == "submitted"]
    assert downpipe.sources == {"school": "equal boost"}
    gates = draft_of(loaded, downpipe.application, downpipe)
    assert all(gate.met for gate in gates.gates)
    assert gates.case.context.costs[0].startswith("noise: it was")


BUNDLED = ("torque", "response", "airflow", "temperature", "mass", "fitment")
PLAIN = ("torque", "fitment")


def bundled(loaded: Any, kind: str) -> dict[str, bytes]:
    """The files of the first bundle of a kind."""
    claims = loaded.scalars(select(Claim).where(Claim.kind == kind).order_by(Claim.id))
    claim = next(c for c in claims if c.sheet is not None)
    return bundle.files_of(loaded, claim, "", lambda share, words: None)


@pytest.mark.slow
@pytest.mark.parametrize("kind", BUNDLED)
def test_no_figure_of_a_bundle_can_be_changed_and_signed_anew(loaded: Any, kind: str) -> None:
    files, (public, private) = bundled(loaded, kind), pack.new_key()
    many = len(json.loads(files["claim.json"])["figures"])
    for place in {0, many - 1} & set(range(many)):
        for altered in ({"si": 99.0}, {"verdict": "gain!"}, {"label": "another"}):
            sheet = json.loads(files["claim.json"])
            sheet["figures"][place] |= altered
            forged = verify(pack.packed({**files, "claim.json": json.dumps(sheet).encode()}, private), [public])
            assert [check.name for check in forged.wrong] == ["figures"], (place, altered)


@pytest.mark.parametrize(
    "kind", [*PLAIN, *(pytest.param(k, marks=pytest.mark.slow) for k in BUNDLED if k not in PLAIN)]
)
def test_the_bundle_of_every_kind_verifies_and_its_script_agrees(loaded: Any, kind: str, tmp_path: Path) -> None:
    files, (public, private) = bundled(loaded, kind), pack.new_key()
    report = verify(pack.packed(files, private), [public])
    assert report.holds, report.wrong
    for path in ("check.py", "claim.json", *(p for p in files if p.startswith("data/") and "channels" not in p)):
        (tmp_path / path).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / path).write_bytes(files[path])
    done = subprocess.run([sys.executable, "-I", tmp_path / "check.py"], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout + done.stderr


def test_one_pull_is_out_with_its_reason_and_one_reading_is_referred(loaded: Any) -> None:
    out = [p for p in loaded.scalars(select(Pull)) if not p.is_valid and not is_live(p.session)]
    assert [(p.session.application_id, p.sequence) for p in out] == [(1, 7), *((11, place) for place in (4, 7, 8, 9))]
    assert "Not comparable" in out[0].judgements[0].reason
    away = [r for r in loaded.scalars(select(Reading)) if abs(r.pressure / r.trace.session.test_pressure - 1) > 0.01]
    assert [r.trace.title for r in away] == [
        "Gannet long-runner manifold rev C + head",
        "Parcel cast inlet elbow rev B",
    ]
    assert all(r.flags == ["off pressure"] for r in away)


def gannet(loaded: Any) -> Application:
    return loaded.scalars(select(Application).order_by(Application.id)).first()  # type: ignore[no-any-return]


def test_the_gannet_is_stacked_and_its_port_was_stopped(loaded: Any) -> None:
    session = next(s for s in sessions_of(loaded, gannet(loaded).id) if curves.stacks_of(s))
    a, b = curves.stacks_of(session)
    assert [step.piece for step in a.stack.steps] == ["manifold", "throttle"]
    assert b.stack.steps[0].loss.value < a.stack.steps[0].loss.value
    (job,) = porting.jobs_of(loaded, gannet(loaded).id)
    found = porting.outlook_of(job)
    assert found is not None
    assert (found.judgement, "limit" in found.reason) == ("stop", True)


def test_the_face_evened_out_and_the_exhaust_fixtures_differ(loaded: Any) -> None:
    after, before = (maps.walked(m) for m in maps.maps_of(loaded, gannet(loaded).id))
    assert before.map is not None
    assert after.map is not None
    assert after.map.peak_over_mean.value < before.map.peak_over_mean.value
    assert after.map.working_area.value > before.map.working_area.value
    exhaust = next(s for s in sessions_of(loaded, gannet(loaded).id) if s.traces[0].fixture.direction == "exhaust")
    assert differs(*exhaust.traces) == ("outlet: pipe stub 38 mm against nothing",)


def test_the_bench_repeats_as_its_own_repeats_say(loaded: Any) -> None:
    repeats = next(
        s for s in sessions_of(loaded, gannet(loaded).id) if any(len(r) > 2 for r in by_lift(s.traces[0]).values())
    )
    noise = noise_of(repeats)
    assert noise.freedom == 40
    assert noise.repeatability == pytest.approx(0.0012, rel=0.35)
    assert not plate_of(repeats.bench, repeats.held_on).overdue


def test_the_elbow_is_caught_off_pressure_referred_and_taken_anew(loaded: Any) -> None:
    """The drifted reading fails the words; the second day carries them; neither may speak of power."""
    elbow = loaded.scalars(select(Application).join(Application.vehicle).where(Vehicle.name.contains("Parcel"))).one()
    again, first = sessions_of(loaded, elbow.id)
    drifted, good = (pair_of(*main_pair(s)) for s in (first, again))
    assert {gate.key for gate in bench_gates(drifted) if not gate.met} == {"read"}
    assert all(gate.met for gate in bench_gates(good))
    (fact,) = airflow.facts_of(good)
    assert (fact.kind, fact.scope) == ("gain", "part")
    assert 18 * CFM < fact.value < 26 * CFM
    text = " ".join(sentences(good.setting, compose([fact], [])))
    assert text == ""
    text = " ".join(sentences(good.setting, compose([fact], usual([fact]).lines)))
    assert "cfm" in text
    assert text.endswith("Airflow on a bench, not power.")


def test_people_have_addresses_that_cannot_exist() -> None:
    assert all(person.email.endswith(".example.test") for person in PEOPLE)


def test_every_air_line_comes_from_a_measured_path_that_flows(loaded: Any) -> None:
    """Each application has a path of twelve elements or more, and both of its sides can be walked at its usual flow."""
    for application in loaded.scalars(select(Application).order_by(Application.id)):
        rows = elements_of(loaded, application.id, "B")
        assert len(rows) >= 9, application.audit_title
        at = duty.flowing(application.vehicle, duty.usual_duty(application.vehicle), "metric")
        for side in ("intake", "exhaust"):
            walked = versions.walked("B", rows, side, at.duty)
            assert 500 < walked.side.drop < 80e3, (application.audit_title, side)
            assert versions.remedies(walked, at, application.vehicle)[0].gain >= 0


def test_the_disc_was_read_from_a_false_dead_centre_and_read_again(loaded: Any) -> None:
    skim = loaded.scalars(select(Application).join(Application.vehicle).where(Vehicle.name.contains("Skim"))).one()
    sheets = sheets_of(loaded, skim.id)
    good = standing(sheets)
    (wrong,) = (s for s in sheets if s not in good)
    assert "10.0° too much" in wheel.findings(core_sheet(wrong))[0].words
    assert all(wheel.findings(core_sheet(s)) == () for s in good)


def test_the_day_that_went_wrong_is_comparable_only_with_corrections(loaded: Any) -> None:
    petrel = loaded.scalars(select(Application).order_by(Application.id)).all()[1]
    sheets = builds.sheets_of(loaded, petrel.id)
    pair = builds.usual_pair(sheets)
    assert pair is not None
    found = builds.compared(*pair, sheets)
    assert found.judgement == sheet.CORRECTIONS
    assert {d.item.key for d in found.beside_the_part} == {"fuel", "bonnet", "health"}


def test_the_photo_is_to_scale(loaded: Any) -> None:
    photo = loaded.scalars(select(Attachment)).one()
    assert photo.sha256 == hashlib.sha256((SHOP / "02-gannet" / photo.filename).read_bytes()).hexdigest()
    assert (photo.width, photo.height) == (1000, 760)


def test_one_late_part_decides_a_publishing_day(loaded: Any) -> None:
    found = programme_of(loaded, datetime.now(UTC), ZoneInfo("UTC"))
    late = loaded.scalars(select(Owed).where(Owed.outside == "Pipe bender")).one()
    end = next(p for p in found.ends if p.job.dossier == late.application_id)
    assert late.id in [p.job.id for p in found.chain(end.job.id)]
    assert late.application_id in [m.job.dossier for m in found.moved_by(late.id, 14)]


@pytest.mark.slow
def test_the_finished_application_is_laid_down_as_often_as_one_asks(database_url: str) -> None:
    """What speed is measured on: eight applications a vehicle, each with its claim out, and a table of candidates."""
    own = ready(database_url, "longbreath_many")
    many.load_many(own, 2)
    database = Database(own)
    with database.session() as session:
        assert session.scalar(select(func.count(Application.id))) == 2
        assert {claim.state for claim in session.scalars(select(Claim))} == {"published"}
    database.engine.dispose()

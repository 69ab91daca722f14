"""What tests work on, made here and nowhere else: cards with usual values, and a small path with a part that can be fitted."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import date
from types import SimpleNamespace
from typing import Any

from sqlalchemy import select

from longbreath.core.basis.units import from_unit, parse
from longbreath.demo.cell import take
from longbreath.dossier import build as builds
from longbreath.dossier import coverage, library, timing
from longbreath.dossier.bench import maps, porting
from longbreath.dossier.bench import verbs as bench_verbs
from longbreath.dossier.path import faces, fit
from longbreath.dossier.path import verbs as path_verbs
from longbreath.dossier.path.verbs import ElementCard
from longbreath.dossier.plan import cards
from longbreath.dossier.pull import verbs as pull_verbs
from longbreath.store.models import (
    Application,
    BenchSession,
    Dyno,
    Fixture,
    Pull,
    Reading,
    Revision,
    TestCard,
    Trace,
    User,
)
from longbreath.store.unit_of_work import UnitOfWork
from tests.made import standin

DAY = date(2026, 5, 6)
CFM = from_unit(1.0, "flow", "cfm")
INCH = from_unit(1.0, "column", "inH2O")
INCHES_28 = 28 * INCH
RPM = from_unit(1.0, "speed", "rpm")


def degrees(angle: float) -> float:
    """An angle [°] as SI."""
    return from_unit(angle, "angle", "°")


HERON = library.VehicleCard(
    name="Brackwater Heron 2.0",
    years="2013–2018",
    cylinders=4,
    bore=0.0846,
    stroke=0.0888,
    rod=0.141,
    compression_ratio=11.2,
    intake_duration=parse("248 °", "angle").value,
    redline=7100 * RPM,
    band_low=1800 * RPM,
    band_middle=3000 * RPM,
    band_top=5200 * RPM,
    band_end=7000 * RPM,
)
FIXTURE = bench_verbs.FixtureCard(
    port="cylinder 2",
    mouth="radius plate",
    bore=0.0846,
    valves=2,
    valve_diameter=0.033,
    throat_diameter=0.029,
    stem_diameter=0.0055,
    note="throttle held open",
)
SET_UP = bench_verbs.BenchSessionCard(
    bench_id=0,
    held_on=DAY,
    test_pressure=INCHES_28,
    temperature=293.15,
    pressure=100900.0,
    humidity=0.46,
    leak_range_id=0,
    leak_percent=0.02,
    leak_pressure=INCHES_28,
)
VISIT = pull_verbs.DynoSessionCard(DAY, 294.15, 100600.0, 0.48, "sae_j1349", gear="4th gear")
MAP = maps.MapCard("x", DAY, 0.0, 7000.0, 293.0, 101e3, "round", 3, 3)
JOB = porting.JobCard("x", 0.01, 7000.0, 0.1, 0.11, 0.0, 3600.0, 0.002)
BOUT = porting.BoutCard(DAY, 600.0, 0.1, "bowl")
ROUND_FACE = faces.FaceCard(
    "a", "round", 0.003, sizes={"diameter": 0.04}, wall=0.004, tool="calliper", precision=0.0001
)
SPOT = fit.SpotCard("bonnet", "clear", 0.02)


def part(name: str, revision: str = "rev A", **more: Any) -> library.ProductCard:
    """An intake manifold of that name."""
    return library.ProductCard(**{"name": name, "family": "manifold", "side": "intake", "revision": revision, **more})


def add_part(work: UnitOfWork, name: str, revision: str = "rev A", **more: Any) -> Revision:
    """An intake manifold in the library."""
    return library.add_product(work, part(name, revision, **more))


def element(position: int, kind: str, name: str, side: str, length: float, **more: Any) -> ElementCard:
    """An element measured with a calliper to a tenth of a millimetre."""
    usual: dict[str, Any] = {"tool": "calliper", "precision": 0.0001}
    return ElementCard(position, kind, name, side, length, **{**usual, **more})


_RUNNERS: dict[str, Any] = {"shape": "rounded_rectangle", "corner_radius": 0.009, "branches": 4, "wall_surface": "cast"}
_IN, _OUT = "intake", "exhaust"
PATH = (
    element(1, "air box", "air box", _IN, 0.19, diameter=0.07, volume=5.6e-3, loss_drop=620.0, loss_flow=0.11),
    element(
        2,
        "tube",
        "inlet tube",
        _IN,
        0.23,
        given_as="outside",
        outside_diameter=0.07,
        wall=0.0018,
        bend_angle=0.610865,
        bend_radius=0.14,
    ),
    element(
        3,
        "tube",
        "tube under the latch",
        _IN,
        0.09,
        shape="squashed",
        outside_diameter=0.07,
        wall=0.0018,
        minor_outside=0.0505,
    ),
    element(
        4,
        "bend",
        "hose to the throttle",
        _IN,
        0.15,
        diameter=0.066,
        bend_angle=1.221730,
        bend_radius=0.085,
        wall_surface="smooth",
    ),
    element(5, "throttle", "throttle body", _IN, 0.058, diameter=0.062, precision=0.00002, proud=0.0004),
    element(6, "plenum", "stock plenum", _IN, 0.33, belongs_to="A", diameter=0.062, volume=3.1e-3),
    element(
        6,
        "plenum",
        "Gannet plenum",
        _IN,
        0.345,
        belongs_to="B",
        diameter=0.062,
        volume=3.5e-3,
        stack_height=0.014,
        stack_outside=0.05,
        spacer_area=0.0295,
        spacer_height=0.012,
    ),
    element(7, "runner", "stock runner", _IN, 0.302, belongs_to="A", width=0.0462, height=0.0338, **_RUNNERS),
    element(
        7,
        "runner",
        "Gannet runner",
        _IN,
        0.371,
        belongs_to="B",
        width=0.0456,
        height=0.0334,
        mouth_radius=0.006,
        **_RUNNERS,
    ),
    element(8, "port", "intake port", _IN, 0.092, width=0.046, height=0.0336, **_RUNNERS),
    element(10, "head", "head", "engine", 0.07, diameter=0.06, provenance="nominal", tool=""),
    element(11, "exhaust port", "exhaust ports", _OUT, 0.074, diameter=0.0348, branches=4, wall_surface="cast"),
    element(
        12,
        "primary",
        "primaries",
        _OUT,
        0.46,
        diameter=0.0382,
        branches=4,
        precision=0.00005,
        bend_angle=1.396263,
        bend_radius=0.057,
    ),
    element(13, "merge", "merge", _OUT, 0.13, diameter=0.074, exit_diameter=0.0506),
    element(14, "pipe", "front pipe", _OUT, 0.72, given_as="outside", outside_diameter=0.054, wall=0.0017),
    element(15, "catalyst", "catalyst", _OUT, 0.23, diameter=0.101, loss_drop=850.0, loss_flow=0.1),
    element(16, "pipe", "mid pipe", _OUT, 1.08, given_as="outside", outside_diameter=0.054, wall=0.0017, burr=0.0006),
    element(17, "muffler", "muffler", _OUT, 0.48, diameter=0.0506, volume=11.8e-3, loss_drop=1150.0, loss_flow=0.1),
    element(18, "tip", "tip", _OUT, 0.17, diameter=0.0602, provenance="nominal", tool=""),
)


def lay_path(work: UnitOfWork, application: Application, cards: Sequence[ElementCard] = PATH) -> None:
    """Measure the elements of a path."""
    for card in cards:
        path_verbs.save_element(work, application, None, card)


def write_card(work: UnitOfWork, application: Application, dyno: Dyno, **more: Any) -> TestCard:
    """A test card that asks for three pulls a set and nothing else changed."""
    usual: dict[str, Any] = {
        "dyno_id": dyno.id,
        "held": "4th gear, bonnet shut, fan on",
        "also_changed": "nothing",
        "pulls_per_set": 3,
        "effect_wanted": 2.7,
        "mixture_target": 0.88,
    }
    return cards.save_card(work, application, None, cards.CardDraft(**{**usual, **more}))


def capture(work: UnitOfWork, trace: Trace, cfm: float | None, lift: float = 0.008, **more: Any) -> Reading:
    """A reading of a direct flow at 28 inH2O."""
    flow = None if cfm is None else cfm * CFM
    new = bench_verbs.NewReading(**{"lift": lift, "pressure": INCHES_28, "direct_flow": flow, **more})
    return bench_verbs.capture(work, trace, new)


SAME = {"vehicle": "shop Heron, mark 41", "fuel": "98, May delivery", "bonnet": "shut", "tune": "stock 7"}
"""What both build sheets of the shop say."""


NEW = {"part": "new", "part_state": "as cast", "machining": "flanges faced", "coating": "none", "serial": "GL-0031"}
"""What the build sheet of B says of the part: as it is sold."""


def add_builds(work: UnitOfWork, application: Application, day: date = DAY, **of_b: str) -> None:
    """Build sheets of A and B of a day that differ in nothing but the part, or in what `of_b` says."""
    a = {**SAME, "part": "stock", "part_state": "as delivered", "machining": "none", "coating": "none"}
    for label, lines in (("A", a), ("B", {**SAME, **NEW, **of_b})):
        builds.add_sheet(work, application, builds.BuildCard(lines, day, f"Heron, {label}", label))


def disc_card(**more: Any) -> timing.WheelCard:
    """A disc that opens 145° before and closes 65° after top dead centre."""
    angles = {"intake_opens": parse("145 °", "angle").value, "intake_closes": parse("65 °", "angle").value}
    return replace(timing.WheelCard("disc", "disc", date(2026, 7, 3), angles, "B"), **more)


def build_card(title: str = "x", label: str = "A", **lines: str) -> builds.BuildCard:
    """A build sheet with some lines filled in."""
    return builds.BuildCard(lines or {"part": "x"}, DAY, title, label)


def size_readings(
    size: str, *values: float, tool: str = "calliper", precision: float = 0.0001
) -> path_verbs.SizeReadings:
    """Readings of a size [m], without places."""
    return path_verbs.SizeReadings(size, tool, precision, [(value, "") for value in values])


ROLES = ("viewer", "tester", "approver", "admin")


def shop_in(work: UnitOfWork) -> SimpleNamespace:
    """The shop that stands in a furnished database, its tester at work."""
    application = work.scalars(select(Application)).one()
    session = work.scalars(select(BenchSession)).one()
    people = {user.role: user for user in work.scalars(select(User))}
    work.act_as(people["tester"], application.id)
    return SimpleNamespace(
        people=people,
        bench=session.bench,
        dyno=work.scalars(select(Dyno)).one(),
        application=application,
        session=session,
        fixture=work.scalars(select(Fixture)).one(),
        card=work.scalars(select(TestCard)).one(),
        traces={t.label: t for t in session.traces},
    )


def shop_of(work: UnitOfWork, people: dict[str, Any]) -> SimpleNamespace:
    """A bench, a dyno, and the Gannet application with path, bench session and card."""
    bench = library.add_bench(work, library.BenchCard("Bench", 0.001, 24.9), library.RangeCard("1", 60 * CFM))
    library.add_range(work, bench, library.RangeCard("4", 360 * CFM))
    work.refresh(bench)
    dyno = library.add_dyno(work, library.DynoCard("Rollers", "wheel", 0.9, "12 repeats", 0.25, 8))
    heron = library.add_vehicle(work, HERON)
    stock = add_part(work, "Heron stock manifold", "stock", is_stock=True)
    gannet = add_part(work, "Gannet long-runner manifold", "rev C", state="as cast")
    application = coverage.open_application(work, heron.id, gannet.id, stock.id)
    work.act_as(people["tester"], application.id)
    lay_path(work, application)
    fixture = bench_verbs.save_fixture(work, application, None, FIXTURE)
    card = replace(SET_UP, bench_id=bench.id, leak_range_id=bench.ranges[0].id)
    session = bench_verbs.open_session(work, application, fixture, card)
    return SimpleNamespace(
        people=people,
        bench=bench,
        dyno=dyno,
        application=application,
        session=session,
        fixture=fixture,
        card=write_card(work, application, dyno),
        traces={t.label: t for t in session.traces},
    )


def one_pull(db: UnitOfWork, application: Application, card: TestCard, label: str = "A", place: int = 1) -> Pull:
    """A clean pull in a session of its own."""
    session = pull_verbs.open_session(db, application, card, VISIT)
    data = standin.as_us_csv(standin.pull(place, None, place), f"pull {place}")
    return take(db, application, session, f"{place}.csv", data, place, label)

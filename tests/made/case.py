"""A case made by hand: nine pulls A-B-A of a boosted engine, an open bonnet measured alone, and every other kind of evidence."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import UTC, date, datetime

import numpy as np

from longbreath.core.air.moist import Weather
from longbreath.core.basis.constants import RPM
from longbreath.core.bench.fixture import BenchFixture
from longbreath.core.bench.meter import MeterAir, MeterReading
from longbreath.core.case import bench, looks, seen, trial
from longbreath.core.case.case import Case, Context, case
from longbreath.core.case.placing import Array
from longbreath.core.case.state import Choice, Draft, state
from longbreath.core.claim.kinds.fuel import Miles
from longbreath.core.claim.proposal import strongest
from longbreath.core.claim.road import Certificate, Covered
from longbreath.core.compare.bands import Band
from longbreath.core.compare.scatter import Scatter

DAY = date(2026, 5, 14)
AT = datetime(2026, 5, 14, 9, 0, tzinfo=UTC)
BANDS = (
    Band("low", 2000 * RPM, 3500 * RPM),
    Band("middle", 3500 * RPM, 5000 * RPM),
    Band("top", 5000 * RPM, 6500 * RPM),
)
LIFT = {"A": 0.0, "B": 4.0, "C": 1.5}
PART = seen.Part(1, "Gannet", "rev C", "Gannet rev C", "as cast", "stock manifold", "Heron 2.0", "2013–2018", "turbo")
SAME = {
    "vehicle": "mark 41",
    "part": "Gannet",
    "part_state": "as cast",
    "machining": "faced",
    "coating": "none",
    "serial": "7",
    "tune": "T7",
}


def pull(place: int, letter: str, valid: bool = True) -> seen.Pull:
    """A pull with a file of its own and two judgements."""
    file = seen.FileRead(f"{place:064x}", f"{place:02}.csv", {"table": 0, "first": 0, "last": 99}, {"speed": {"at": 0}})
    said = (
        seen.Judgement(True, "all checks pass", True, "Long Breath"),
        seen.Judgement(valid, "looked at", False, "Ada"),
    )
    return seen.Pull(place, letter, 1, (file,), said, 0.1, 30.0, {"oil": 360.0}, {"calibration": "in March"})


def session(number: int, letters: str, b: str = "B", day: date = DAY) -> seen.Session:
    """A day on the dyno, pulled in the order of its letters."""
    scatter = Scatter(0.8, 12.0, 0.5, 6.0, 0.4, 3.0, "Cell 1: its records", (("low", 0.7),))
    dyno = seen.Dyno(1, "Cell 1", "wheel", scatter, 3.0, 0.2, date(2026, 1, 1), date(2027, 1, 1))
    variants = tuple(seen.Variant(v, f"part {v}", v, (f"piece {v}",), (), 1, 0) for v in "ABC")
    card = seen.Card("A", b, variants, ("controller duty",), "nothing", "one tune", "boost free", 0.01)
    pulls = tuple(pull(place, letter) for place, letter in enumerate(letters, start=1))
    said = tuple(seen.Said(letter, "operator", "Ada") for letter in "ABC")
    air = (294.0, 100600.0, 0.48, "sae_j1349", False, "4th")
    a, b = (seen.Sheet(DAY, {**SAME, "bonnet": bonnet}) for bonnet in ("shut", "open"))
    name = f"{day.day} May 2026"
    return seen.Session(number, name, day, *air, dyno, card, pulls, len(pulls), said, 1, AT, a, b)


def tested() -> seen.Test:
    """Nine pulls of A and B whose bonnet differed, and a session in which the bonnet alone was open."""
    reason = seen.Reason("bonnet", "shut", "open", "hot day", "measured", -0.01, 0.01, 2, "A", "C")
    alone = session(2, "AAACCCAAA", "", date(2026, 5, 15))
    doubts, used = ("Compression of the engine.",), session(1, "AAABBBAAA")
    visits = (seen.Visit(3, date(2026, 5, 13), AT, 3, 9, 6, 3), seen.Visit(1, DAY, AT, 1, 9, 6, 3))
    others = ("13 May 2026: on another dyno",)
    return seen.Test(PART, (used,), (alone,), BANDS, AT, (reason,), doubts, visits, others)


def context() -> Context:
    """Everything that stands around a statement."""
    held = Certificate("emissions", "EO-1", "Northland", (2013, 2018), date(2027, 7, 1), "intake", "open filters")
    covered = Covered("Heron 2.0", "2013 to 2018", "H20", "direct", "tested")
    notes = {"tampering": "keeps", "life": "not recorded", "sold": "from 7 on"}
    return Context(
        "approved",
        "Northland",
        (held,),
        ("EO-0",),
        notes,
        ("noise: louder",),
        ("mass: no",),
        (covered,),
        700,
        650,
        "Windlass",
    )


def reading(flow: float, row: str) -> MeterReading:
    """What a meter in per cent showed."""
    air = MeterAir(Weather(294.0, 100600.0, 0.4), 295.0, 98000.0)
    return MeterReading(6972.0, 0.12, flow / 0.12, flow_resolution=1e-4, pressure_resolution=20.0, row=row, air=air)


def flowed() -> bench.Flow:
    """Two traces at two lifts, with a plate check before and one after that finds the scale off."""
    fixture = BenchFixture(0.0846, "clay", "", "port 1", "intake", 6972.0, 2, 0.033)
    traces = tuple(
        bench.Trace(
            number,
            label,
            f"head, {label}",
            "sweep",
            fixture,
            "84.6 mm bore, clay",
            tuple(
                bench.Reading(lift, reading(flow, f"{label} {lift}"), "Ada", () if k else ("slipped",))
                for lift in (0.004, 0.008)
                for k, flow in enumerate((0.01, more + 9 * lift, more + 9 * lift + 1e-4))
            ),
        )
        for number, (label, more) in enumerate((("A", 0.03), ("B", 0.034)), start=1)
    )
    checks = (bench.PlateCheck(1, date(2026, 5, 1), 0.002, 0.005), bench.PlateCheck(2, date(2026, 6, 1), 0.03, 0.005))
    leak = MeterReading(6972.0, direct=1e-4, flow_resolution=1e-5, row="leak")
    return bench.Flow(PART, 4, DAY, "Bench", 6972.0, leak, 0.004, "20 repeats", 30, checks, traces)


def trialled() -> trial.Trial:
    """Noise of A and of B, five readings each."""
    rows = tuple(
        {"label": label, "value": level + 0.1 * k, "distance": 0.5, "speed": 4500 * RPM, "weighting": "A"}
        for label, level in (("A", 84.0), ("B", 87.0))
        for k in range(5)
    )
    return trial.Trial(PART, 5, "noise", "yard", DAY, "own", "meter", 0.1, {"background": "52 dB"}, rows)


def looked() -> looks.Looks:
    """Three places looked at, and what fitting took."""
    spots = tuple(looks.Spot(place, 0.012, "clear", DAY, "Ada") for place in ("strut", "hose", "bonnet"))
    return looks.Looks(PART, spots, True, 5400.0, "Ada, twice", "the wiper tray", 0.004, 0.003, ("torque",))


def ran() -> looks.Run:
    """Two days with the part on."""
    return looks.Run(PART, (session(1, "AAABBBAAA"),), ("Oil of the engine.",))


def cases() -> dict[str, Case]:
    """A case of every form of evidence."""
    return {
        "test": case("torque", tested(), context(), "as set"),
        "run": case("durability", ran(), context()),
        "flow": case("airflow", flowed(), context()),
        "trial": case("noise", trialled(), context(), miles=Miles(2e7, 1.6, "L", "marks")),
        "looks": case("fitment", looked(), context()),
    }


def channels(
    wanted: Sequence[tuple[seen.Session, seen.Pull]], names: Sequence[str]
) -> Mapping[tuple[int, int], Mapping[str, Array]]:
    """What was logged: a torque curve with a little of its own each pull."""
    speed = np.linspace(1800, 6700, 120) * RPM
    found = {}
    for session_, taken in wanted:
        noise = 0.3 * np.sin(7.0 * taken.place + session_.number)
        torque = 180.0 + 20.0 * np.sin(speed / 150.0) + LIFT[taken.letter] + noise
        time = np.linspace(0.0, 12.0, speed.size)
        found[session_.number, taken.place] = {
            "speed": speed,
            "torque": torque,
            "time": time,
            "manifold_pressure": 150000.0 + 100.0 * torque,
        }
    return found


def draft(found: Case, day: date = DAY) -> Draft:
    """A claim of everything usual that a case holds."""
    statement = state(found, channels)
    return Draft(found, statement, Choice(strongest(statement.stated.facts), "a manifold", "chosen"), day)

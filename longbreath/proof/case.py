"""What a bundle's claim was made of, as plain data: one case a kind of statement, read back with every field checked."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any, Literal

from pydantic import TypeAdapter, ValidationError

from longbreath.core.basis.errors import InputError
from longbreath.core.bench.meter import MeterReading
from longbreath.core.bench.reduction import Noise
from longbreath.core.claim.facts import Setting
from longbreath.core.claim.kinds.fuel import Miles
from longbreath.core.dyno.bands import Band
from longbreath.core.dyno.scatter import Scatter
from longbreath.core.path.mounting import FitPlace


@dataclass(frozen=True)
class Stretch:
    """A stretch of a raw file: its path in the bundle, its name as received, table and rows, and how its columns were read."""

    path: str
    filename: str
    part: dict[str, int]
    columns: dict[str, Any]


@dataclass(frozen=True)
class PullCase:
    """One valid pull: label it is weighed under, the build it was of, place, set, day; session it is of; where its channels stand, and
    the files they were read from (none where the house keeps them, with their hashes)."""

    label: str
    build: str
    order: int
    fitting: int
    day: int
    session: int
    row: str
    channels: str
    source: Stretch | None = None
    logger: Stretch | None = None
    smoothing: float | None = None
    sha256: tuple[str, ...] = ()


@dataclass(frozen=True)
class SessionCase:
    """A dyno session: name, day, air [K, Pa, 1], correction, whether the files carry it already, the rollers [kg m2, m]."""

    name: str
    held_on: str
    temperature: float
    pressure: float
    humidity: float
    standard: str
    already_corrected: bool
    roller_inertia: float | None = None
    roller_radius: float | None = None


@dataclass(frozen=True)
class Held:
    """Sessions and their pulls, on which a comparison is made: low and high end of the grid [rad/s], scatter known of the dyno, the
    margin of no difference [1], whether several dynos are joined by ratios."""

    sessions: tuple[SessionCase, ...]
    pulls: tuple[PullCase, ...]
    low: float
    high: float
    scatter: Scatter
    margin: float
    several_dynos: bool = False


@dataclass(frozen=True)
class LineCase:
    """A line of the ledger: line, label, kind, words; the range of a bounded one as shares of A [1]; the test of a measured one."""

    line: str
    label: str
    kind: str
    words: str = ""
    low: float | None = None
    high: float | None = None
    test: Held | None = None
    shares_pulls: bool = False


@dataclass(frozen=True)
class PullsCase:
    """Torque, power or response."""

    kind: Literal["torque", "response"]
    test: Held
    bands: tuple[Band, ...]
    late: bool
    boosted: bool
    school: str
    control_mode: str
    ledger: tuple[LineCase, ...]
    has_ledger: bool
    setting: Setting


@dataclass(frozen=True)
class LiftCase:
    """Readings of A and of B at one lift [m], None for a fixed part."""

    lift: float | None
    a: tuple[MeterReading, ...]
    b: tuple[MeterReading, ...]


@dataclass(frozen=True)
class FlowCase:
    """Airflow: the readings of two traces, leak, how the bench repeats, fixture, test pressure [Pa]."""

    kind: Literal["airflow"]
    a: str
    b: str
    part: str
    against: str
    fixture: str
    test_pressure: float
    leak: MeterReading | None
    noise: Noise
    lifts: tuple[LiftCase, ...]


@dataclass(frozen=True)
class TrialCase:
    """Temperature, noise, mass or fuel: the rows as they were recorded, tool and its step [SI], miles and price."""

    kind: Literal["temperature", "noise", "mass", "fuel"]
    rows: tuple[dict[str, Any], ...]
    tool: str
    step: float
    setting: Setting
    miles: Miles | None = None
    fuel: str = "petrol"


@dataclass(frozen=True)
class FitCase:
    """Looks at places, and the time that fitting took [s]."""

    kind: Literal["fitment"]
    spots: tuple[FitPlace, ...]
    minutes: float | None
    setting: Setting


@dataclass(frozen=True)
class RunCase:
    """Pulls that a part stood: their times [s] (nought where none was logged), and on how many days."""

    kind: Literal["durability"]
    seconds: tuple[float, ...]
    sessions: int
    setting: Setting


Case = PullsCase | FlowCase | TrialCase | FitCase | RunCase
_READERS: dict[str, TypeAdapter[Any]] = {
    "torque": TypeAdapter(PullsCase),
    "response": TypeAdapter(PullsCase),
    "airflow": TypeAdapter(FlowCase),
    "fitment": TypeAdapter(FitCase),
    "durability": TypeAdapter(RunCase),
    **{kind: TypeAdapter(TrialCase) for kind in ("temperature", "noise", "mass", "fuel")},
}


def to_json(value: Any) -> bytes:
    """Data as bytes, always the same for the same data."""
    return (json.dumps(value, sort_keys=True, indent=1, ensure_ascii=False, allow_nan=True) + "\n").encode()


def case_to_data(case: Case) -> Any:
    """A case as JSON-ready data."""
    return _READERS[case.kind].dump_python(case, mode="json")


def case_from_data(data: Any) -> Case:
    """A case out of data, every field checked. Raises InputError naming what is wrong."""
    kind = data.get("kind") if isinstance(data, dict) else None
    if kind not in _READERS:
        raise InputError("case.json names no kind of statement that this version knows.", "file")
    try:
        found: Case = _READERS[kind].validate_python(data)
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"])
        raise InputError(f"case.json, {place}: {first['msg']}.", "file") from None
    return found

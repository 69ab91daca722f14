"""The bench's line protocol: one reading a line, each value with its unit, closed by a check sum.

    bench; column 27.98 inH2O; range 4; share 81.5 %; inlet 20.1 C; meter 24.0 C; sum 5c

`column` and one of `share` (with `range`), `flow` or `drop` (with `range`) must be there; the airs are optional. The
sum is that of all bytes before "; sum", modulo 256, in hex. Lines that begin with "#" are words for people; by
"# name: …", sent now and again, a device says what it is.
"""

from __future__ import annotations

from dataclasses import dataclass

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError, LongBreathError

LONGEST = 200
_KINDS = {
    "column": "column",
    "share": "percent",
    "flow": "flow",
    "drop": "column",
    "inlet": "temperature",
    "meter": "temperature",
}
_BOUNDS = {"column": (-5e3, 3e4), "share": (0.0, 1.2), "flow": (0.0, 10.0), "drop": (0.0, 3e4), "inlet": (223.0, 373.0),
           "meter": (223.0, 373.0)}  # fmt: skip


class LineError(LongBreathError):
    """A line that is no reading: garbage, half a line, a wrong unit, a wrong sum."""


@dataclass(frozen=True)
class Line:
    """One reading as it was sent: column [Pa]; share of a range, flow [m3/s], or drop [Pa]; airs [K] or None."""

    column: float
    range_label: str = ""
    share: float | None = None
    flow: float | None = None
    drop: float | None = None
    inlet: float | None = None
    meter: float | None = None


def check_sum(body: bytes) -> int:
    """Sum of the bytes of a line's body, modulo 256."""
    return sum(body) % 256


def write_line(line: Line) -> bytes:
    """A reading as it goes over the wire, ended by a line feed."""
    parts = ["bench", f"column {units.to_unit(line.column, 'column', 'inH2O'):.3f} inH2O"]
    if line.range_label:
        parts.append(f"range {line.range_label}")
    if line.share is not None:
        parts.append(f"share {line.share * 100:.2f} %")
    if line.flow is not None:
        parts.append(f"flow {units.to_unit(line.flow, 'flow', 'cfm'):.3f} cfm")
    if line.drop is not None:
        parts.append(f"drop {line.drop:.2f} Pa")
    for name, value in (("inlet", line.inlet), ("meter", line.meter)):
        if value is not None:
            parts.append(f"{name} {units.to_unit(value, 'temperature', '°C'):.2f} C")
    body = "; ".join(parts).encode("ascii")
    return body + f"; sum {check_sum(body):02x}\n".encode("ascii")


def read_line(data: bytes) -> Line:
    """Read one line. Raises LineError with a sentence for anything that is not a whole, right reading."""
    if len(data) > LONGEST:
        raise LineError("A line is too long to be a reading.")
    body, mark, tail = data.strip().rpartition(b"; sum ")
    if not mark:
        raise LineError("A line has no sum: half a line, or not this protocol.")
    try:
        sent = int(tail, 16) if len(tail) == 2 else -1
    except ValueError:
        sent = -1
    if sent != check_sum(body):
        raise LineError("A line’s sum is wrong: disturbed on the wire.")
    try:
        words = [part.strip() for part in body.decode("ascii").split(";")]
    except UnicodeDecodeError:
        raise LineError("A line holds signs that are no letters.") from None
    if words[0] != "bench":
        raise LineError("A line is not a bench’s reading.")
    return _line(_fields(words[1:]))


def _fields(words: list[str]) -> dict[str, str]:
    fields: dict[str, str] = {}
    for word in words:
        name, gap, value = word.partition(" ")
        if not gap or name in fields or (name != "range" and name not in _KINDS):
            raise LineError(f"A line holds “{word[:30]}”, which this protocol does not know.")
        fields[name] = value.strip()
    return fields


def _line(fields: dict[str, str]) -> Line:
    values = {name: _quantity(name, text) for name, text in fields.items() if name != "range"}
    if "column" not in values:
        raise LineError("A reading names no column.")
    if sum(name in values for name in ("share", "flow", "drop")) != 1:
        raise LineError("A reading names one of share, flow or drop.")
    if "flow" not in values and not fields.get("range"):
        raise LineError("A reading names no range.")
    return Line(values["column"], fields.get("range", ""), values.get("share"), values.get("flow"), values.get("drop"),
                values.get("inlet"), values.get("meter"))  # fmt: skip


def _quantity(name: str, text: str) -> float:
    kind = _KINDS[name]
    try:
        number, rest = units.read_number(text, kind)
        if not rest.strip():
            raise LineError(f"{name} has no unit.")
        unit = units.unit_of(kind, rest)
    except InputError as error:
        raise LineError(f"{name}: {error.message}") from None
    value = number * unit.factor + unit.offset
    low, high = _BOUNDS[name]
    if not low <= value <= high:
        raise LineError(f"{name} of {text} cannot be.")
    return value

"""The line protocol of devices: one reading a line, each value with its unit, closed by a check sum.

    bench; column 27.98 inH2O; range 4; share 81.5 %; inlet 20.1 C; meter 24.0 C; sum 5c1a

The first word says what kind of device speaks; what its lines may hold stands in its `Dialect`. The sum is the CRC-16 (CCITT)
of all bytes before "; sum", in hex. Lines that begin with "#" are words for people; by "# name: …", sent now and again, a
device says what it is.
"""

from __future__ import annotations

from binascii import crc_hqx
from collections.abc import Mapping
from dataclasses import dataclass, field

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError, LongBreathError

LONGEST = 600
"""Most signs of a line."""


class LineError(LongBreathError):
    """A line that is no reading: garbage, half a line, a wrong unit, a wrong sum."""


@dataclass(frozen=True)
class Spoken:
    """One quantity that a device may send: its kind, the unit it is written in, the bounds within which it can be [SI]."""

    kind: str
    unit: str
    low: float
    high: float
    decimals: int = 3


@dataclass(frozen=True)
class Dialect:
    """What the lines of one kind of device may hold: quantities and plain words, each by name. A second one of a quantity bears a
    number: mixture2."""

    device: str
    quantities: Mapping[str, Spoken]
    words: tuple[str, ...] = ()

    def spoken(self, name: str) -> Spoken | None:
        """The quantity that a name stands for, or None."""
        return self.quantities.get(name) or self.quantities.get(name.rstrip("23456789"))


@dataclass(frozen=True)
class DeviceLine:
    """One line as it was sent: quantities [SI] and words by name."""

    values: Mapping[str, float]
    words: Mapping[str, str] = field(default_factory=dict)


def check_sum(body: bytes) -> int:
    """CRC-16 (CCITT, begun with FFFF) of a line's body."""
    return crc_hqx(body, 0xFFFF)


def write_line(line: DeviceLine, dialect: Dialect) -> bytes:
    """A reading as it goes over the wire, ended by a line feed."""
    parts = [dialect.device, *(f"{name} {text}" for name, text in line.words.items())]
    for name, value in line.values.items():
        spoken = dialect.spoken(name)
        if spoken is None:
            raise LineError(f"This protocol does not know {name}.")
        number = units.to_unit(value, spoken.kind, spoken.unit)
        parts.append(f"{name} {number:.{spoken.decimals}f} {_ascii(spoken.unit)}")
    body = "; ".join(parts).encode("ascii")
    return body + f"; sum {check_sum(body):04x}\n".encode("ascii")


def read_line(data: bytes, dialect: Dialect) -> DeviceLine:
    """Read one line. Raises LineError with a sentence for anything that is not a whole, right line of this device."""
    if len(data) > LONGEST:
        raise LineError("A line is too long to be a reading.")
    body, mark, tail = data.strip().rpartition(b"; sum ")
    if not mark:
        raise LineError("A line has no sum: half a line, or not this protocol.")
    try:
        sent = int(tail, 16) if len(tail) == 4 else -1
    except ValueError:
        sent = -1
    if sent != check_sum(body):
        raise LineError("A line’s sum is wrong: disturbed on the wire.")
    try:
        words = [part.strip() for part in body.decode("ascii").split(";")]
    except UnicodeDecodeError:
        raise LineError("A line holds signs that are no letters.") from None
    if words[0] != dialect.device:
        raise LineError(f"A line is not a reading of a {dialect.device}.")
    fields = _fields(words[1:], dialect)
    values = {n: _quantity(n, text, spoken) for n, text in fields.items() if (spoken := dialect.spoken(n))}
    return DeviceLine(values, {name: text for name, text in fields.items() if name in dialect.words})


def _ascii(unit: str) -> str:
    return unit.replace("°", "").replace("·", "*").replace("²", "2").replace("₂", "2")


def _fields(words: list[str], dialect: Dialect) -> dict[str, str]:
    fields: dict[str, str] = {}
    for word in words:
        name, gap, value = word.partition(" ")
        if not gap or name in fields or (name not in dialect.words and not dialect.spoken(name)):
            raise LineError(f"A line holds “{word[:30]}”, which this protocol does not know.")
        fields[name] = value.strip()
    return fields


def _quantity(name: str, text: str, spoken: Spoken) -> float:
    try:
        number, rest = units.read_number(text, spoken.kind)
        if not rest.strip() and spoken.unit:
            raise LineError(f"{name} has no unit.")
        unit = units.unit_of(spoken.kind, rest)
    except InputError as error:
        raise LineError(f"{name}: {error.message}") from None
    value = number * unit.factor + unit.offset
    if not spoken.low <= value <= spoken.high:
        raise LineError(f"{name} of {text} cannot be.")
    return value

"""What a flow bench says on the line: its column, one of share, flow or drop, and the airs where it knows them."""

from __future__ import annotations

from dataclasses import dataclass

from longbreath.devices.protocol import DeviceLine, Dialect, LineError, Spoken, read_line, write_line

AIR = Spoken("temperature", "°C", 223.0, 373.0, decimals=2)
DIALECT = Dialect(
    "bench",
    {
        "column": Spoken("column", "inH2O", -5e3, 3e4),
        "share": Spoken("percent", "%", 0.0, 1.2, decimals=2),
        "flow": Spoken("flow", "cfm", 0.0, 10.0),
        "drop": Spoken("column", "Pa", 0.0, 3e4, decimals=2),
        "inlet": AIR,
        "meter": AIR,
    },
    words=("range",),
)


@dataclass(frozen=True)
class BenchLine:
    """One reading as it was sent: column [Pa]; share of a range, flow [m3/s], or drop [Pa]; airs [K] or None."""

    column: float
    range_label: str = ""
    share: float | None = None
    flow: float | None = None
    drop: float | None = None
    inlet: float | None = None
    meter: float | None = None


def write_bench_line(line: BenchLine) -> bytes:
    """A bench's reading as it goes over the wire."""
    told = {name: getattr(line, name) for name in DIALECT.quantities}
    values = {name: value for name, value in told.items() if value is not None}
    return write_line(DeviceLine(values, {"range": line.range_label} if line.range_label else {}), DIALECT)


def read_bench_line(data: bytes) -> BenchLine:
    """A bench's reading. Raises LineError with a sentence for anything that is not a whole, right one."""
    found = read_line(data, DIALECT)
    values, label = found.values, found.words.get("range", "")
    if "column" not in values:
        raise LineError("A reading names no column.")
    if sum(name in values for name in ("share", "flow", "drop")) != 1:
        raise LineError("A reading names one of share, flow or drop.")
    if "flow" not in values and not label:
        raise LineError("A reading names no range.")
    return BenchLine(range_label=label, **values)

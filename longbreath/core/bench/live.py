"""Live values of a flow bench reduced as they come in: what the meter shows, carried to the test pressure."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Protocol

from longbreath.core.basis.errors import LongBreathError
from longbreath.core.bench import settle
from longbreath.core.bench.meter import MeterAir, Orifice, orifice_flow
from longbreath.core.bench.reduction import MeterReading, reduce_reading


class LiveValue(Protocol):
    """What a bench sent at one moment: column [Pa], the range's name; share of it [1], flow [m3/s] or drop [Pa]; airs [K]."""

    @property
    def column(self) -> float: ...
    @property
    def range_label(self) -> str: ...
    @property
    def share(self) -> float | None: ...
    @property
    def flow(self) -> float | None: ...
    @property
    def drop(self) -> float | None: ...
    @property
    def inlet(self) -> float | None: ...
    @property
    def meter(self) -> float | None: ...


class Timed(Protocol):
    """A live value with the moment it came in [s, monotonic]."""

    @property
    def at(self) -> float: ...
    @property
    def line(self) -> LiveValue: ...


@dataclass(frozen=True)
class Scale:
    """One range: key of its record, full scale [m3/s], and the orifice of a plate."""

    key: int
    full_scale: float
    orifice: Orifice | None


@dataclass(frozen=True)
class LiveDesk:
    """Everything that live values are reduced with: test pressure [Pa], leak, ranges by name, the room's air, direction,
    the rule for warm air at the meter, and what a capture is held to."""

    test_pressure: float
    leak: MeterReading | None
    scales: Mapping[str, Scale]
    room: MeterAir
    direction: str
    rule: str
    rules: settle.SettleRules

    def air(self, value: LiveValue) -> MeterAir:
        """The airs of a value: what the bench sent, else the session's."""
        room = self.room.inlet
        inlet = type(room)(value.inlet or room.temperature, room.pressure, room.relative_humidity)
        return MeterAir.read(inlet, value.meter or self.room.temperature, value.column, self.direction)

    def flow(self, value: LiveValue) -> float:
        """Flow as shown [m3/s]; nought for a range the bench's card does not know."""
        if value.flow is not None:
            return value.flow
        scale = self.scales.get(value.range_label)
        if scale is None:
            return 0.0
        if value.drop is not None:
            return orifice_flow(scale.orifice, value.drop, self.air(value)) if scale.orifice else 0.0
        return scale.full_scale * (value.share or 0.0)

    def at_test_pressure(self, value: LiveValue) -> float | None:
        """Flow with the leak off and referred [m3/s], or None where there is none yet."""
        rule = self.rule if value.drop is None else "none"
        try:
            reading = MeterReading(value.column, direct=self.flow(value), air=self.air(value), rule=rule)
            return reduce_reading(reading, self.test_pressure, self.leak).value
        except LongBreathError:
            return None

    def settled(self, samples: Sequence[Timed], now: float) -> settle.Settled:
        """The settle window of samples at the moment `now` [s, monotonic]."""
        moments = []
        for sample in samples:
            scale = self.scales.get(sample.line.range_label)
            full = scale.full_scale if scale else None
            shown = self.flow(sample.line)
            moments.append(settle.Moment(sample.at, sample.line.column, shown, sample.line.range_label, full))
        return settle.judge_window(moments, now, self.test_pressure, self.rules)

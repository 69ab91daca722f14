"""The live desk of a trace: its rows as the core's live desk, and a settle window as a reading."""

from __future__ import annotations

from collections.abc import Sequence

from longbreath.core.bench.live import LiveDesk, Scale, Timed
from longbreath.core.bench.settle import Settled, SettleRules
from longbreath.dossier.bench.traces import leak_of, meter_air, orifice_of
from longbreath.dossier.bench.verbs import NewReading
from longbreath.store.models import Trace


def desk_of(trace: Trace, rules: SettleRules | None = None) -> LiveDesk:
    """The live desk of a trace."""
    session, found = trace.session, trace.session.bench
    scales = {}
    for r in found.ranges:
        plate = orifice_of(found, r.plate_diameter) if found.meter == "orifice" else None
        scales[r.label] = Scale(r.id, r.full_scale, plate)
    return LiveDesk(
        test_pressure=session.test_pressure,
        leak=leak_of(session),
        scales=scales,
        room=meter_air(session, "exhaust", session.test_pressure, None, None),
        direction=trace.fixture.direction,
        rule=found.temperature_rule,
        rules=rules or SettleRules(),
    )


def reading_of(desk: LiveDesk, samples: Sequence[Timed], settled: Settled, lift: float, key: str) -> NewReading:
    """A reading made of a settle window at a lift [m]: means of what the meter showed, of the column and of the airs."""
    values = [sample.line for sample in samples]
    last = values[-1]
    scale = desk.scales.get(last.range_label)
    return NewReading(
        lift=lift,
        pressure=settled.pressure,
        range_id=scale.key if scale and last.flow is None else None,
        percent=_mean([v.share for v in values]) if last.share is not None else None,
        direct_flow=settled.flow if last.flow is not None else None,
        meter_drop=_mean([v.drop for v in values]) if last.drop is not None else None,
        inlet_temperature=_mean([v.inlet for v in values]),
        meter_temperature=_mean([v.meter for v in values]),
        spread=settled.spread,
        samples=settled.samples,
        flags=tuple(problem.key for problem in settled.problems),
        source="bench",
        capture_key=key,
    )


def _mean(values: Sequence[float | None]) -> float | None:
    known = [value for value in values if value is not None]
    return sum(known) / len(known) if known else None

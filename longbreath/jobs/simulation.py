"""A simulation case at several speeds, with progress, and its results as text and JSON."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from math import pi
from typing import Any

from longbreath.core.wave.cycle import MOST, TOLERANCE, SpeedPoint
from longbreath.core.wave.engine import WaveEngine
from longbreath.jobs.sweep import Done, Task, sweep

COLUMNS = (
    ("rpm", "rpm", "{:.0f}"),
    ("filling", "filling", "{:.3f}"),
    ("residual", "residual", "{:.3f}"),
    ("short_circuited_share", "short", "{:.3f}"),
    ("imep_kpa", "imep kPa", "{:.0f}"),
    ("pmep_kpa", "pumping kPa", "{:.1f}"),
    ("brake_torque_nm", "torque N·m", "{:.1f}"),
    ("brake_power_kw", "power kW", "{:.1f}"),
    ("peak_mach_intake", "Mach in", "{:.2f}"),
    ("peak_mach_exhaust", "Mach out", "{:.2f}"),
    ("cycles", "cycles", "{:d}"),
)
"""Keys of a result row, their heading, how they are printed."""


def run(
    engine: WaveEngine, speeds: Sequence[float], progress: Callable[[Done], None] = lambda done: None, **options: Any
) -> list[Done]:
    """Simulate `engine` at `speeds` [rad/s]; progress is told of each. Options as of `sweep`. In the order of the speeds."""
    tasks = [Task(k, engine, speed) for k, speed in enumerate(speeds)]
    found: dict[int, Done] = {}
    for done in sweep(tasks, **options):
        found[done.task.key] = done
        progress(done)
    return [found[k] for k in range(len(tasks))]


def row(point: SpeedPoint) -> dict[str, Any]:
    """One speed's result in the units of its keys."""
    fresh = point.trapped + point.short_circuited
    intake = [m for name, m in point.peak_mach.items() if name.startswith(("inlet", "runner"))]
    exhaust = [m for name, m in point.peak_mach.items() if not name.startswith(("inlet", "runner"))]
    return {
        "rpm": point.speed * 30.0 / pi,
        "converged": point.converged,
        "cycles": point.cycles,
        "change": point.change,
        "distance": point.distance,
        "filling": point.filling,
        "filling_each": list(point.filling_each),
        "residual": point.residual,
        "trapped_fresh_mg": point.trapped * 1e6,
        "short_circuited_mg": point.short_circuited * 1e6,
        "short_circuited_share": max(point.short_circuited, 0.0) / fresh if fresh > 0 else 0.0,
        "imep_kpa": point.indicated / 1e3,
        "pmep_kpa": point.pumping / 1e3,
        "fmep_kpa": point.friction / 1e3,
        "bmep_kpa": point.brake / 1e3,
        "indicated_torque_nm": point.indicated_torque,
        "brake_torque_nm": point.brake_torque,
        "indicated_power_kw": point.indicated_power / 1e3,
        "brake_power_kw": point.brake_power / 1e3,
        "peak_pressure_kpa": point.peak_pressure / 1e3,
        "exhaust_temperature_k": point.exhaust_temperature,
        "peak_mach_intake": max(intake, default=0.0),
        "peak_mach_exhaust": max(exhaust, default=0.0),
        "peak_mach": point.peak_mach,
        "mean_temperature_k": point.temperature,
        "energy_balance": point.balance,
        "mass_balance": point.mass_balance,
        "steps": point.steps,
        "cells": point.cells,
    }


def as_json(case: str, done: Sequence[Done], tolerance: float, traces: bool) -> dict[str, Any]:
    """The whole result; with `traces` pressure [kPa] and velocity [m/s] at every station over the cycle."""
    rows = []
    for item in done:
        if item.point is None:
            rows.append({"rpm": item.task.speed * 30.0 / pi, "error": item.error})
            continue
        found = row(item.point)
        if traces:
            found["traces"] = {
                name: {
                    "pressure_kpa": [round(float(x) / 1e3, 3) for x in p],
                    "velocity_m_s": [round(float(x), 3) for x in u],
                }
                for name, (p, u) in item.point.traces.items()
            }
            found["chamber_pressure_kpa"] = [[round(float(x) / 1e3, 2) for x in c] for c in item.point.chamber_pressure]
        rows.append(found)
    return {"format": "longbreath-simulation-result/1", "case": case, "tolerance": tolerance, "speeds": rows}


def table(done: Sequence[Done]) -> list[str]:
    """Lines of a plain table; a speed that failed or had not settled says so."""
    widths = [max(len(head), 8) for _, head, _ in COLUMNS]
    lines = ["  ".join(head.rjust(w) for (_, head, _), w in zip(COLUMNS, widths, strict=True))]
    for item in done:
        if item.point is None:
            lines.append(f"{item.task.speed * 30.0 / pi:8.0f}  failed: {item.error}")
            continue
        values = row(item.point)
        cells = [shown.format(values[key]).rjust(w) for (key, _, shown), w in zip(COLUMNS, widths, strict=True)]
        note = (
            "" if item.point.converged else f"  not settled: still about {item.point.distance:.1%} from its end value"
        )
        lines.append("  ".join(cells) + note)
    return lines


def cautions(engine: WaveEngine) -> list[str]:
    """What a table of this engine cannot say, in sentences."""
    found = ["For ranking designs and finding tuned speeds; not the absolute power of a real engine."]
    if engine.kind == "two-stroke":
        found.append(
            "A two-stroke loses too much fresh gas here, and its peak comes out about a fifth below the rule for the tuned "
            "length: compare pipes, do not read speeds."
        )
    return found


__all__ = ["MOST", "TOLERANCE", "as_json", "cautions", "row", "run", "table"]

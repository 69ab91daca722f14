"""Stand-ins for the engine on the dyno and the port on the bench: smooth curves with noise, drift and faults.

Invented figures with fixed seeds; nothing here comes from a real test.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]


def heron_torque(rpm: Array) -> Array:
    """Wheel torque of the Heron 2.0 with stock parts [N m] over engine speed [rpm]."""
    hump = 202.0 - 17.0 * ((rpm - 4500.0) / 1700.0) ** 2
    return hump - 5.0 * np.exp(-(((rpm - 3650.0) / 330.0) ** 2)) + 16.0 * np.exp(-(((rpm - 1800.0) / 700.0) ** 2))


def gannet_effect(rpm: Array) -> Array:
    """What the long runner does to torque [N m]: more in the middle, a little less at the top."""
    return 5.2 * np.exp(-(((rpm - 3900.0) / 850.0) ** 2)) - 4.2 / (1.0 + np.exp(-(rpm - 6250.0) / 220.0))


def petrel_effect(rpm: Array) -> Array:
    """What the larger throttle body does [N m]: nothing below, a little more at the top."""
    return 4.6 / (1.0 + np.exp(-(rpm - 5500.0) / 260.0))


@dataclass(frozen=True)
class Logged:
    """One pull as the logger saw it: speed [rpm], torque [N m], power [kW], lambda."""

    rpm: Array
    torque: Array
    power: Array
    mixture: Array


def pull(
    seed: int,
    effect: Callable[[Array], Array] | None,
    place: int,
    step: float = 25.0,
    mixture: float = 0.88,
    spike: bool = False,
) -> Logged:
    """One pull from 1,700 to 7,080 rpm; `place` in the order brings a slow drift."""
    rng = np.random.default_rng(seed)
    rpm = np.arange(1700.0, 7080.0, step) + rng.normal(0.0, 1.2, int(np.ceil(5380.0 / step)))
    knots = np.linspace(1600.0, 7200.0, 15)
    wobble = np.interp(rpm, knots, rng.normal(0.0, 0.45, knots.size))
    torque = heron_torque(rpm) + rng.normal(0.0, 0.35) + wobble - 0.07 * place + rng.normal(0.0, 0.25, rpm.size)
    if effect is not None:
        torque = torque + effect(rpm)
    if spike:
        torque[rpm.size // 2] += 21.0
    lam = mixture + rng.normal(0.0, 0.004, rpm.size)
    return Logged(rpm, torque, torque * rpm * np.pi / 30.0 / 1000.0, lam)


def as_us_csv(logged: Logged, title: str) -> bytes:
    """As the first logger writes: commas, points, lb-ft and hp, air to fuel."""
    out = io.StringIO()
    out.write(f"Windlass Airway Works, {title}\n")
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["Engine Speed (rpm)", "Torque (lb-ft)", "Power (hp)", "AFR"])
    for row in zip(
        logged.rpm, logged.torque / 1.3558179483, logged.power / 0.74569987158, logged.mixture * 14.7, strict=True
    ):
        writer.writerow([f"{row[0]:.0f}", f"{row[1]:.2f}", f"{row[2]:.2f}", f"{row[3]:.2f}"])
    return out.getvalue().encode()


def as_metric_csv(logged: Logged) -> bytes:
    """As the second logger writes: semicolons, decimal commas, a row of units, N·m and kW, lambda."""
    lines = ["n;Md;P;Lambda", "1/min;Nm;kW;λ"]
    for row in zip(logged.rpm, logged.torque, logged.power, logged.mixture, strict=True):
        lines.append(
            ";".join(f"{value:.{places}f}".replace(".", ",") for value, places in zip(row, (1, 2, 3, 3), strict=True))
        )
    return ("\r\n".join(lines) + "\r\n").encode("utf-8-sig")


LIFTS_MM = (1.0, 2.0, 3.0, 4.0, 5.0, 6.0, 7.0, 8.0, 9.0, 10.0)
STOCK_CFM = (36.8, 73.9, 108.6, 139.2, 163.8, 181.9, 194.7, 203.3, 208.9, 212.2)


def bench_percentages(
    share: Callable[[float], float],
    ranges_cfm: tuple[float, ...],
    pressures: tuple[float, ...],
    leak_cfm: float,
    seed: int,
) -> list[tuple[float, int, float, float]]:
    """Readings of a sweep: lift [mm], index of the range, percentage [0..1], pressure [inH2O].

    share(lift in mm) multiplies the stock flow; the operator takes the smallest range that stays under 95 %.
    """
    rng = np.random.default_rng(seed)
    rows = []
    for lift, stock, pressure in zip(LIFTS_MM, STOCK_CFM, pressures, strict=True):
        shown = stock * share(lift) * np.sqrt(pressure / 28.0) * (1 + rng.normal(0, 0.0012)) + leak_cfm
        index = next(i for i, full in enumerate(ranges_cfm) if shown <= 0.95 * full)
        rows.append((lift, index, round(shown / ranges_cfm[index], 3), pressure))
    return rows

"""Time to reduce 1,000 traces of ten lifts, as a ratio to one numpy pass of the same formula. Run: .venv/bin/python bench/reduce.py"""

from __future__ import annotations

import numpy as np
from compare import best

from longbreath.core.air.moist import Weather
from longbreath.core.basis.units import from_unit
from longbreath.core.bench import reduction
from longbreath.core.bench.meter import MeterAir, Orifice

CFM, INCH = from_unit(1.0, "flow", "cfm"), from_unit(1.0, "column", "inH2O")
TRACES, LIFTS = 1000, 10


def main() -> None:
    rng = np.random.default_rng(3)
    percent = rng.uniform(0.2, 0.9, (TRACES, LIFTS))
    pressure = rng.uniform(27.5, 28.2, (TRACES, LIFTS)) * INCH
    leak = reduction.MeterReading(28 * INCH, 60 * CFM, 0.02, flow_resolution=0.06 * CFM)
    noise = reduction.Noise(0.0012, calibration=0.006)
    air = MeterAir(Weather(293.0, 101000.0, 0.4), 297.0, 94000.0)

    def ours() -> None:
        for x, p in zip(percent.tolist(), pressure.tolist(), strict=True):
            for share, column in zip(x, p, strict=True):
                reading = reduction.MeterReading(
                    column, 240 * CFM, share, None, 0.24 * CFM, 24.9, air=air, rule="temperature"
                )
                reduction.reduce_repeats([reading], 28 * INCH, leak, noise)

    def bare() -> object:
        gross = 240 * CFM * percent * np.sqrt(293.0 / 297.0)
        return (gross - 1.2 * CFM * np.sqrt(pressure / (28 * INCH))) * np.sqrt(28 * INCH / pressure)

    took, numpys = best(ours, 3), best(bare)
    print(
        f"reduce {TRACES} traces with working and uncertainty: {took * 1000:.0f} ms, {took / TRACES * 1e3:.2f} ms a trace; "
        f"bare numpy pass {numpys * 1000:.3f} ms, ratio {took / numpys:.0f}"
    )
    plate = Orifice(0.05, 0.1)
    drops = rng.uniform(500, 7000, 1000).tolist()

    def plates() -> None:
        for drop in drops:
            reduction.MeterReading(28 * INCH, drop=drop + rng.random() * 1e-6, orifice=plate, air=air).gross  # noqa: B018

    print(f"1,000 readings of an orifice plate by ISO 5167: {best(plates, 3) * 1000:.0f} ms")


if __name__ == "__main__":
    main()

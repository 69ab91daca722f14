"""Time to compare 60 pulls, without and with sets, and to weigh six variants, as ratios to a bare numpy pass over the same numbers.

Run: .venv/bin/python bench/compare.py
"""

from __future__ import annotations

import time
from collections.abc import Callable

import numpy as np

from longbreath.core.basis.constants import RPM
from longbreath.core.compare import bands, compare
from longbreath.core.compare.scatter import Scatter, set_numbers
from longbreath.core.pull import pulls
from longbreath.core.weigh.several import weigh_several
from tests.made import standin

GRID = pulls.speed_grid(1800 * RPM, 7000 * RPM)
BANDS = tuple(
    bands.Band(name, low * RPM, high * RPM)
    for name, low, high in (("low", 1800, 3000), ("middle", 3000, 5200), ("top", 5200, 7000))
)
ORDER = "A" * 10 + "B" * 10 + "A" * 10 + "B" * 10 + "A" * 20
LETTERS = "A" * 10 + "B" * 10 + "C" * 10 + "D" * 10 + "E" * 5 + "F" * 5 + "A" * 10
RECORDS = Scatter(0.9, 40.0, 0.6, 10.0, origin="records of the dyno")


def best(work: Callable[[], object], times: int = 7) -> float:
    """Shortest of several runs [s]."""
    took = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        took.append(time.perf_counter() - start)
    return min(took)


def told(what: str, ours: float, bare: float, wanted: float) -> None:
    """One line: time, ratio, whether it is what was wanted."""
    met = "met" if ours < wanted else "MISSED"
    print(f"{what}: {ours * 1000:.1f} ms, ratio {ours / bare:.0f}; wanted under {wanted * 1000:.0f} ms, {met}")


def main() -> None:
    logged = [standin.pull(n, standin.gannet_effect if ORDER[n] == "B" else None, n) for n in range(60)]
    sweeps = [pulls.make_sweep({"speed": p.rpm * RPM, "torque": p.torque}) for p in logged]
    raw = np.array([p.torque for p in logged])

    def runs(order: str) -> list[compare.PullCurve]:
        sets = set_numbers(order)
        return [
            compare.PullCurve(order[n], n + 1, pulls.on_grid(sweep, GRID), "", sets[n])
            for n, sweep in enumerate(sweeps)
        ]

    bare = best(lambda: (raw.mean(axis=0), raw.std(axis=0, ddof=1)))
    print(f"bare numpy pass: {bare * 1000:.3f} ms")
    plain = "A" * 20 + "B" * 20 + "A" * 20
    told(
        "60 pulls, no sets counted",
        best(lambda: bands.weigh(compare.compare_pulls(runs(plain), GRID), BANDS)),
        bare,
        0.1,
    )
    with_sets = best(lambda: bands.weigh(compare.compare_pulls(runs(ORDER), GRID, scatter=RECORDS), BANDS))
    told("60 pulls, sets by the records and these pulls", with_sets, bare, 0.3)
    told("60 pulls of six variants", best(lambda: weigh_several(runs(LETTERS), GRID, BANDS, RECORDS), 3), bare, 0.3)
    many = [
        compare.PullCurve(r.label, 60 * k + r.order, r.torque, "", 9 * k + r.fitting)
        for k in range(8)
        for r in runs(ORDER)
    ]
    told("480 pulls", best(lambda: compare.compare_pulls(many, GRID, scatter=RECORDS), 3), bare, 8 * 0.3)


if __name__ == "__main__":
    main()

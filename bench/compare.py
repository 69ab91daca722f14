"""Time to compare 60 pulls, as a ratio to a bare numpy pass over the same numbers. Run: .venv/bin/python bench/compare.py"""

from __future__ import annotations

import time
from collections.abc import Callable

import numpy as np

from longbreath.core.basis.constants import RPM
from longbreath.core.dyno import compare, pulls
from longbreath.demo import standin

GRID = pulls.speed_grid(1800 * RPM, 7000 * RPM)


def best(work: Callable[[], object], times: int = 7) -> float:
    """Shortest of several runs [s]."""
    took = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        took.append(time.perf_counter() - start)
    return min(took)


def main() -> None:
    logged = [standin.pull(n, standin.gannet_effect if 20 <= n < 40 else None, n) for n in range(60)]
    sweeps = [pulls.make_sweep({"speed": p.rpm * RPM, "torque": p.torque}) for p in logged]
    raw = np.array([p.torque for p in logged])

    def weigh() -> compare.Comparison:
        runs = [
            compare.PullCurve("B" if 20 <= n < 40 else "A", n + 1, pulls.on_grid(sweep, GRID))
            for n, sweep in enumerate(sweeps)
        ]
        return compare.compare_pulls(runs, GRID)

    def bare() -> object:
        return raw.mean(axis=0), raw.std(axis=0, ddof=1)

    ours, numpys = best(weigh), best(bare)
    print(f"compare 60 pulls: {ours * 1000:.1f} ms, bare numpy pass {numpys * 1000:.3f} ms, ratio {ours / numpys:.0f}")
    print(f"wanted: under 100 ms; {'met' if ours < 0.1 else 'MISSED'}")


if __name__ == "__main__":
    main()

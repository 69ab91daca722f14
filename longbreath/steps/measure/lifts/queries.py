"""Reads of Measure."""

from __future__ import annotations

from longbreath.core.basis.working import Figure
from longbreath.dossier.bench import LiftRow


def lift_figures(rows: list[LiftRow]) -> dict[str, Figure]:
    """All figures of a session's ladder by key: flow-A-0, velocity-B-3, difference-2 …"""
    figures = {}
    for number, row in enumerate(rows):
        for label, side in (("A", row.a), ("B", row.b)):
            if side is not None:
                figures[f"flow-{label}-{number}"] = side.flow.figure
                if side.velocity is not None:
                    figures[f"velocity-{label}-{number}"] = side.velocity
        if row.difference is not None:
            figures[f"difference-{number}"] = row.difference
    return figures

"""Steady points and idle of a session: means, and the difference of two letters at each point; full load says nothing of them."""

from __future__ import annotations

from longbreath.core.judge.steady import PointDifference, SteadyPoint, compare_points
from longbreath.core.pull.channels import CHANNELS, MIXTURE, POWER, TORQUE, base_of, label_of
from longbreath.store.models import DynoSession, Pull

COMPARED = (TORQUE, POWER, MIXTURE, "fuel_flow", "air_flow")


def points_of(session: DynoSession) -> list[Pull]:
    """The steady points and idle of a session, in order."""
    return [pull for pull in session.pulls if pull.kind != "sweep"]


def differences(session: DynoSession, pair: tuple[str, str]) -> tuple[PointDifference, ...]:
    """What differs between two letters at each steady speed that both were held at twice or more; idle beside idle."""
    found: list[PointDifference] = []
    for kind in ("steady", "idle"):
        points = [
            SteadyPoint(p.label, p.sequence, p.read.told["means"])
            for p in points_of(session)
            if p.is_valid and p.kind == kind
        ]
        found += compare_points(points, pair, COMPARED)
    return tuple(found)


def shown_means(pull: Pull) -> list[tuple[str, float, str]]:
    """Label, mean [SI] and kind of each channel of a steady point; none of a full pull."""
    means = pull.read.told.get("means", {})
    return [(label_of(n), v, CHANNELS[base_of(n)].kind) for n, v in means.items() if base_of(n) in CHANNELS]

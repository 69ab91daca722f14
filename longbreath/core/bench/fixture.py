"""What a part sat on. It decides which traces may be compared."""

from __future__ import annotations

from dataclasses import dataclass

from longbreath.core.basis import units


@dataclass(frozen=True)
class BenchFixture:
    """A bench fixture: bore adapter [m], how the mouth is dressed, what stands on the outlet, the valve gear [m], the
    port or runner, direction, test pressure [Pa]. A size of None does not apply to the part."""

    bore: float | None
    mouth: str
    outlet: str
    port: str
    direction: str
    test_pressure: float
    valves: int | None = None
    valve_diameter: float | None = None


_SIZES = (("bore", "bore adapter"), ("valve_diameter", "valve size"))
_WORDS = (("mouth", "mouth"), ("outlet", "outlet"), ("port", "port or runner"), ("direction", "direction"))


def differences(a: BenchFixture, b: BenchFixture) -> tuple[str, ...]:
    """What keeps two traces from being compared, one sentence each; empty if they are alike.

    Sizes count as different from 0.2 mm, test pressures from 1 % (common practice, no source).
    """
    found = []
    for name, word in _SIZES:
        one, other = getattr(a, name), getattr(b, name)
        if (one is None) != (other is None) or (one is not None and other is not None and abs(one - other) > 0.0002):
            found.append(f"{word}: {_size(one)} against {_size(other)}")
    if a.valves != b.valves:
        found.append(f"number of valves: {a.valves or 'none'} against {b.valves or 'none'}")
    for name, word in _WORDS:
        one, other = getattr(a, name).strip(), getattr(b, name).strip()
        if one.lower() != other.lower():
            found.append(f"{word}: {one or 'not stated'} against {other or 'not stated'}")
    if abs(a.test_pressure / b.test_pressure - 1.0) > 0.01:
        found.append(f"test pressure: {_both(a.test_pressure)} against {_both(b.test_pressure)}")
    return tuple(found)


def _size(value: float | None) -> str:
    return "not stated" if value is None else units.show(value, "length", "metric")


def _both(value: float) -> str:
    return f"{units.show(value, 'column', 'us')} ({units.show(value, 'column', 'metric')})"

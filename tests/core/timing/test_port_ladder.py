"""The ladder of port heights."""

from __future__ import annotations

import pytest

from longbreath.core.timing import port_ladder


def rung(name: str, power: float, cost: float, grade: str) -> port_ladder.PortRung:
    return port_ladder.PortRung(
        name,
        {
            "power": port_ladder.Value(power, grade),
            "cost": port_ladder.Value(cost, "own"),
            "noise": port_ladder.Value("+1 dB", "own"),
        },
    )


def test_a_ladder_counts_from_its_first_rung_and_says_what_it_rests_on() -> None:
    found = port_ladder.gains(
        [
            rung("stock", 172e3, 0.0, "own"),
            rung("S2", 204e3, 690.0, "own"),
            rung("peripheral", 281e3, 3900.0, "hearsay"),
        ]
    )
    assert found["gain-1"].value == pytest.approx(204 / 172 - 1)
    assert found["price-1"].value == pytest.approx(690 / 32)
    assert found["gain-1"].working.notes == ()
    assert "cannot back a claim" in found["gain-2"].working.notes[0]
    assert port_ladder.gains([]) == {}

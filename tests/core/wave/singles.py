"""A single-cylinder engine that tests vary: a straight runner in the open, a short exhaust."""

from __future__ import annotations

import json
from dataclasses import replace
from math import pi, radians
from typing import Any

from longbreath.core.bench.discharge import ValveGear
from longbreath.core.path.sections import round_section
from longbreath.core.wave import openings
from longbreath.core.wave.engine import Burn, Chamber, Exhaust, Intake, WaveEngine
from longbreath.core.wave.mesh import PipePiece
from longbreath.formats.wave_case import read_case

RPM = pi / 30.0
BORE, STROKE, RATIO, RUNNER, DURATION = 0.086, 0.086, 10.5, 0.038, radians(256)
INTAKE, EXHAUST = ValveGear(2, 0.034, 0.0295, 0.006), ValveGear(2, 0.029, 0.025, 0.006)


def intake_table(closes: float = 56.0, scale: float = 1.0, opens: float = 20.0) -> Any:
    """Intake opening; angles [°] before top and after bottom dead centre, coefficients scaled [1]."""
    return openings.poppet(
        2 * pi - radians(opens), 3 * pi + radians(closes), openings.usual_flow(INTAKE, scale), 0.0095
    )


def single(runner: float = 0.35, cell: float = 0.015, **changes: Any) -> WaveEngine:
    """The engine with a runner of that length [m], port included; `changes` replace fields."""
    made = WaveEngine(
        name="single",
        kind="four-stroke",
        chamber=Chamber(BORE, STROKE, 0.143, RATIO),
        intake=Intake(
            [[PipePiece(runner, round_section(RUNNER), round_section(RUNNER), wall=310.0)]], runner_loss=0.03
        ),
        exhaust=Exhaust([[PipePiece(0.25, round_section(0.038), round_section(0.038), wall=600.0)]], [[1]]),
        intake_table=intake_table(),
        exhaust_table=openings.poppet(pi - radians(54), 2 * pi + radians(18), openings.usual_flow(EXHAUST), 0.0092),
        burn=Burn(heat=2.6e6),
        cell=cell,
    )
    return replace(made, **changes)


def rotary() -> WaveEngine:
    """One rotor with side ports; three chambers, 1,080° a cycle."""
    return read_case(
        json.dumps(
            {
                "format": "longbreath-simulation-case/1",
                "name": "one rotor",
                "cell_mm": 15,
                "engine": {
                    "kind": "rotary",
                    "bore_mm": 80,
                    "stroke_mm": 90,
                    "rod_mm": 200,
                    "compression_ratio": 9.8,
                    "rotor_cc": 654,
                },
                "intake": {
                    "runners": [[{"length_mm": 300, "diameter_mm": 44}]],
                    "ports": {"opens_deg": 32, "closes_deg": 320, "area_mm2": 1100},
                },
                "exhaust": {
                    "primaries": [[{"length_mm": 500, "diameter_mm": 45}]],
                    "ports": {"opens_deg": -345, "closes_deg": 38, "area_mm2": 900},
                },
            }
        )
    ).to_engine()

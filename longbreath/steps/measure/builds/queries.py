"""What is asked of sensor, injectors and controller."""

from __future__ import annotations

from typing import Any

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure
from longbreath.core.engine import headroom

FUEL_DENSITY = 745.0
"""Petrol [kg/m3] at 15 °C, handbook, from memory."""
USUAL = {
    "consumption": units.from_unit(280, "consumption", "g/kWh"),
    "rated_drop": 3e5,
    "drop": 3e5,
    "dead_time": 0.001,
}


def headroom_figures(given: dict[str, Any], strokes: int) -> tuple[dict[str, Figure], dict[str, str]]:
    """Figures of sensor, injectors and controller, as far as they were asked for; and errors by field."""
    figures: dict[str, Figure] = {}
    errors: dict[str, str] = {}

    def put(prefix: str, needs: tuple[str, ...], make: Any) -> None:
        missing = [name for name in needs if given.get(name) is None]
        if len(missing) == len(needs):
            return
        if missing:
            errors[missing[0]] = "This is missing for the answer."
            return
        try:
            made = make()
            figures.update({f"{prefix}-{f.name}": f for f in (made if isinstance(made, tuple) else (made,))})
        except InputError as error:
            errors[error.field or needs[0]] = error.message

    put("sensor", ("top", "altitude"), lambda: headroom.sensor_figures(
        given["top"], headroom.pressure_at(given["altitude"]), given.get("boost") or 0.0))  # fmt: skip
    put("injector", ("power", "speed", "injectors", "rated"), lambda: headroom.injector_duty(
        given["power"], given["consumption"] or USUAL["consumption"], given["injectors"], given["rated"],
        given["rated_drop"] or USUAL["rated_drop"], given["drop"] or USUAL["drop"], FUEL_DENSITY, given["speed"],
        given["dead_time"] if given["dead_time"] is not None else USUAL["dead_time"], strokes))  # fmt: skip
    put(
        "controller",
        ("duty", "spring"),
        lambda: headroom.controller_figures(given["duty"], given.get("boost") or 0.0, given["spring"]),
    )
    return figures, errors

"""Forms of Reckon."""

from __future__ import annotations

from wtforms import SelectField, TextAreaField
from wtforms.validators import DataRequired, Length, Optional

from longbreath.core.basis import units
from longbreath.core.basis.constants import RPM
from longbreath.web.forms import AskForm, BaseForm, CountField, QuantityField


class AssumptionsForm(AskForm):
    """What the reckoning rests on beside what was measured. Kept in the address."""

    section_id = SelectField("Measured section", coerce=int)
    filling = QuantityField("Volumetric efficiency", "percent", 0.2, 2)
    target_power = QuantityField("Target power", "power", 1000, 2e6)
    target_speed = QuantityField("at", "speed", 500 * RPM, 30000 * RPM)
    tuned_speed = QuantityField("Tune the runner for", "speed", 500 * RPM, 30000 * RPM)
    velocity = QuantityField("Mean velocity wanted", "velocity", 10, 200)
    temperature = QuantityField("Gas temperature in the runner", "temperature", 223, 600)
    consumption = QuantityField(
        "Fuel consumption",
        "consumption",
        units.from_unit(100, "consumption", "g/kWh"),
        units.from_unit(900, "consumption", "g/kWh"),
    )
    air_fuel_ratio = QuantityField("Air to fuel", "ratio", 5, 40)
    reflection = CountField("Reflection counted", [Optional()])


class PredictionForm(BaseForm):
    """What is expected of the test, in words."""

    expects = TextAreaField(
        "What do you expect, and why?",
        [DataRequired("Say what you expect; it will stand beside the verdict."), Length(max=600)],
    )

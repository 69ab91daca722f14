"""Forms of the library."""

from __future__ import annotations

from math import pi

from wtforms import BooleanField, SelectField, StringField
from wtforms.validators import DataRequired, InputRequired, Length, NumberRange

from longbreath.core.constants import RPM
from longbreath.web.forms import BaseForm, CountField, QuantityField, options


def _text(label: str, required: bool = True, description: str = "") -> StringField:
    checks = [DataRequired("This is missing.")] if required else []
    return StringField(label, [*checks, Length(max=200)], description=description)


class VehicleForm(BaseForm):
    """One engine in one chassis."""

    name = _text("Name")
    years = _text("Years", required=False)
    strokes = SelectField("Cycle", coerce=int, choices=options([(4, "four-stroke"), (2, "two-stroke")]))
    cylinders = CountField("Cylinders", [InputRequired("This is missing."), NumberRange(1, 24, "From 1 to 24.")])
    bore = QuantityField("Bore", "length", 0.01, 0.5)
    stroke = QuantityField("Stroke", "length", 0.01, 0.5)
    compression_ratio = QuantityField("Compression ratio", "ratio", 1.5, 30)
    intake_duration = QuantityField("Intake duration", "angle", 150 * pi / 180, 360 * pi / 180)
    induction = SelectField(
        "Induction", choices=["naturally aspirated", "turbo", "centrifugal", "positive displacement"]
    )
    fuel = SelectField("Fuel", choices=["petrol", "diesel", "ethanol", "gas"])
    use = SelectField("Use", choices=["road", "towing", "delivery", "track", "closed course"])
    market = _text("Market", required=False)
    redline = QuantityField("Redline", "speed", 500 * RPM, 30000 * RPM)
    band_low = QuantityField("Low band begins at", "speed", 100 * RPM, 30000 * RPM)
    band_middle = QuantityField("Middle band begins at", "speed", 100 * RPM, 30000 * RPM)
    band_top = QuantityField("Top band begins at", "speed", 100 * RPM, 30000 * RPM)
    band_end = QuantityField("Top band ends at", "speed", 100 * RPM, 30000 * RPM)


class ProductForm(BaseForm):
    """A product with its first revision."""

    name = _text("Part name")
    family = _text("Family", description="manifold, throttle body, downpipe …")
    side = SelectField("Side", choices=["intake", "exhaust"])
    is_stock = BooleanField("This is a stock part")
    revision = _text("First revision", description="for example “rev A”")
    state = _text("State of the part", required=False, description="as cast, hand-finished, machined, coated …")


class RevisionForm(BaseForm):
    """A further revision."""

    name = _text("Revision")
    state = _text("State of the part", required=False, description="as cast, hand-finished, machined, coated …")


class BenchForm(BaseForm):
    """A flow bench with its first range."""

    name = _text("Name")
    percent_step = QuantityField("Smallest step of the percentage", "percent", 0, 0.1)
    pressure_step = QuantityField("Smallest step of the test pressure", "column", 0, 1000)
    label = _text("First range is called", description="for example “1”")
    full_scale = QuantityField("Full-scale flow of that range", "flow", 1e-9, 10)


class RangeForm(BaseForm):
    """A further range of a bench."""

    label = _text("Range is called")
    full_scale = QuantityField("Full-scale flow", "flow", 1e-9, 10)


class DynoForm(BaseForm):
    """A dyno and how well it repeats."""

    name = _text("Name")
    measured_at = SelectField("It measures at the", choices=["wheel", "crank"])
    repeatability = QuantityField(
        "Repeatability, standard deviation pull to pull",
        "torque",
        1e-6,
        1000,
        help="of the mean torque over a band",
    )
    repeatability_source = _text("Where that comes from", description="for example “12 repeats on 3 Mar”")

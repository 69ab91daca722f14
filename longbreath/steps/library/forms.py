"""Forms of the library."""

from __future__ import annotations

from collections.abc import Iterable
from math import pi

from wtforms import BooleanField, DateField, IntegerField, SelectField, StringField
from wtforms.validators import DataRequired, InputRequired, Length, NumberRange, Optional

from longbreath.core.basis.constants import RPM
from longbreath.core.bench.meter import RULES, TAPS
from longbreath.core.engine.assumptions import BOOSTED
from longbreath.core.engine.demand import STROKES
from longbreath.core.reckon.candidates import SHELF
from longbreath.devices.kinds import KINDS as DEVICES
from longbreath.web.forms import BaseForm, CountField, QuantityField, options


def _text(label: str, required: bool = True, description: str = "") -> StringField:
    checks = [DataRequired("This is missing.")] if required else []
    return StringField(label, [*checks, Length(max=200)], description=description)


class VehicleForm(BaseForm):
    """One engine in one chassis."""

    name = _text("Name")
    years = _text("Years", required=False)
    cycle = SelectField("Cycle", choices=list(STROKES))
    cylinders = CountField("Cylinders", [InputRequired("This is missing."), NumberRange(1, 24, "From 1 to 24.")])
    bore = QuantityField("Bore", "length", 0.01, 0.5, required=False, help="of an engine with pistons")
    stroke = QuantityField("Stroke", "length", 0.01, 0.5, required=False, help="of an engine with pistons")
    chamber_volume = QuantityField(
        "Chamber of one rotor", "volume", 1e-5, 0.01, required=False, help="of a rotary, whose cylinders are its rotors"
    )
    rod = QuantityField("Rod, between centres", "length", 0.02, 1, required=False)
    case_volume = QuantityField("Crankcase, piston down", "volume", 1e-6, 0.1, required=False, help="of a two-stroke")
    compression_ratio = QuantityField("Compression ratio", "ratio", 1.5, 30)
    intake_duration = QuantityField(
        "Intake duration",
        "angle",
        150 * pi / 180,
        360 * pi / 180,
        required=False,
        help="where it is known; the degree wheel measures it",
    )
    induction = SelectField("Induction", choices=["naturally aspirated", *BOOSTED])
    fuel = SelectField("Fuel", choices=["petrol", "diesel", "E85", "ethanol", "methanol", "gas"])
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


class PriceForm(BaseForm):
    """What a product costs, and whether it is to be had."""

    price = QuantityField("Retail price", "money", 0, 1e9, required=False, help="in the money of the house")
    price_on = DateField("asked on", [Optional()])
    shelf = SelectField("To be had", choices=options(SHELF))


class RevisionForm(BaseForm):
    """A further revision."""

    name = _text("Revision")
    state = _text("State of the part", required=False, description="as cast, hand-finished, machined, coated …")


class StateForm(BaseForm):
    """The state of a revision that was added without one."""

    state = _text(
        "State of the part", description="as cast, hand-finished, machined, coated …; it is not changed afterwards"
    )


class BenchCard(BaseForm):
    """What a flow bench is and how well it reads."""

    name = _text("Name")
    meter = SelectField(
        "It reads flow by",
        choices=options(
            [
                ("range", "a range and its percentage"),
                ("orifice", "the drop across an orifice plate (ISO 5167)"),
                ("direct", "a direct flow"),
            ]
        ),
    )
    percent_step = QuantityField("Smallest step of the percentage", "percent", 0, 0.1)
    pressure_step = QuantityField("Smallest step of the test pressure", "column", 0, 1000)
    flow_step = QuantityField("Smallest step of a direct flow", "flow", 0, 0.1, required=False)
    drop_step = QuantityField("Smallest step of the drop", "column", 0, 1000, required=False)
    pipe_diameter = QuantityField(
        "Inside of the meter’s pipe", "length", 0.01, 1, required=False, help="of an orifice meter"
    )
    taps = SelectField("Pressure taps", choices=list(TAPS))
    temperature_rule = SelectField("Warm air at the meter", choices=options(list(RULES.items())))
    repeatability = QuantityField(
        "Repeatability, standard deviation",
        "percent",
        0,
        0.2,
        required=False,
        help="from one setting to the next, of the flow",
    )
    repeatability_source = _text(
        "Where that comes from", required=False, description="for example “12 repeats of the plate”"
    )
    leak_limit = QuantityField("Leak allowed at the test pressure", "flow", 1e-7, 0.1)
    check_days = CountField(
        "Days from plate check to plate check",
        [InputRequired("This is missing."), NumberRange(1, 1000, "From 1 to 1000.")],
        default=30,
    )
    device_url = SelectField(
        "Live bench", default="", description="an address that an admin has listed under Instruments"
    )

    def offer(self, addresses: Iterable[str]) -> None:
        """Offer addresses to choose from; the one the card has stays on offer."""
        kept = self.device_url.object_data or ""
        offered = dict.fromkeys([*addresses, *([kept] if kept else [])])
        self.device_url.choices = options([("", "none: readings are typed"), *((found, found) for found in offered)])


class BenchForm(BenchCard):
    """A flow bench with its first range."""

    label = _text("First range is called", description="for example “1”")
    full_scale = QuantityField("Full-scale flow of that range", "flow", 1e-9, 10)
    plate_diameter = QuantityField(
        "Bore of its plate", "length", 0.003, 0.5, required=False, help="of an orifice meter"
    )


class RangeForm(BaseForm):
    """A further range of a bench."""

    label = _text("Range is called")
    full_scale = QuantityField("Full-scale flow", "flow", 1e-9, 10)
    plate_diameter = QuantityField(
        "Bore of its plate", "length", 0.003, 0.5, required=False, help="of an orifice meter"
    )


class CheckForm(BaseForm):
    """A check of a bench against a plate of known flow."""

    held_on = DateField("Date", [InputRequired("Write a date like 2026-05-14.")])
    plate = _text("Plate", description="its name or number")
    plate_flow = QuantityField("The plate flows", "flow", 1e-6, 10, help="at the test pressure, by its certificate")
    plate_uncertainty = QuantityField("Known to ±", "percent", 0, 0.2, help="of its flow, 95 %")
    read_flow = QuantityField("Read here", "flow", 1e-6, 10, help="at that pressure, leak off")


class AddressForm(BaseForm):
    """An address at which instruments may be looked for."""

    address = _text("Address", description="a serial port (/dev/ttyUSB0, COM3), or socket://host:port")
    kind = SelectField(
        "What kind of device", choices=options([("", "not said"), *((k.name, k.called) for k in DEVICES.values())])
    )
    what = _text("What stands there", required=False, description="for example “flow bench, east wall”")


class DynoForm(BaseForm):
    """A dyno and how well it repeats."""

    name = _text("Name")
    measured_at = SelectField("It measures at the", choices=["wheel", "crank"])
    repeatability = QuantityField(
        "Repeatability, standard deviation pull to pull", "torque", 1e-6, 1000, help="of the mean torque over a band"
    )
    repeatability_source = _text("Where that comes from", description="for example “12 repeats on 3 Mar”")
    fitting_repeatability = QuantityField(
        "Set to set, the part off and on again", "torque", 1e-6, 1000, False, help="standard deviation, if it was tried"
    )
    fitting_freedom = IntegerField("Sets behind that, less one", [Optional(), NumberRange(0, 200)], default=0)


class ComponentForm(BaseForm):
    """A field of every kind, as the page of components shows them."""

    size = QuantityField("A size", "length", help="2-1/4 in, 57.15 mm")
    metric = QuantityField("A size typed in the other unit", "length")
    wrong = QuantityField("A size that was not understood", "length", required=False)
    words = _text("Words", required=False)
    one = SelectField("One of several", choices=["this", "that"])
    tick = BooleanField("A box to tick")

"""The entries of the register. Import this module to have them registered."""

from __future__ import annotations

from longbreath.core.air import correction
from longbreath.core.air.moist import Weather, density
from longbreath.core.basis.constants import RPM
from longbreath.core.basis.register import Field, Reckoning, Values, register
from longbreath.core.basis.units import from_unit
from longbreath.core.basis.working import Figure
from longbreath.core.bench import reduction
from longbreath.core.engine import demand, tuning
from longbreath.core.path import sections

_SMALL = 1e-12


def _speed(example: str = "6500 rpm", label: str = "Engine speed") -> Field:
    return Field("speed", label, "speed", example, 10 * RPM, 30000 * RPM)


def _length(name: str, label: str, example: str, help: str = "") -> Field:
    return Field(name, label, "length", example, 0.0, 5.0, help=help)


def _engine_fields() -> tuple[Field, ...]:
    return (
        _length("bore", "Bore", "84.6 mm"),
        _length("stroke", "Stroke", "88.8 mm"),
        Field("cylinders", "Cylinders", "count", "4", 1, 24),
        Field("strokes", "Strokes per cycle", "count", "4", 2, 4),
    )


def _engine(values: Values) -> demand.EngineGeometry:
    return demand.EngineGeometry(values["bore"], values["stroke"], int(values["cylinders"]), int(values["strokes"]))


def _weather_fields() -> tuple[Field, ...]:
    return (
        Field("temperature", "Air temperature", "temperature", "20 C"),
        Field("pressure", "Station pressure", "barometer", "1013 hPa", help="as read here, not reduced to sea level"),
        Field("humidity", "Relative humidity", "percent", "50 %", 0, 1),
    )


def _weather(values: Values) -> Weather:
    return Weather(values["temperature"], values["pressure"], values["humidity"])


def _flow(values: Values) -> tuple[Figure, ...]:
    leak = None
    if values["leak"] is not None:
        leak = reduction.MeterReading(pressure=values["leak_pressure"] or values["pressure"], direct=values["leak"])
    step = (values["step"] or 0.0) * values["full_scale"]
    reading = reduction.MeterReading(values["pressure"], values["full_scale"], values["percent"], flow_resolution=step)
    return (reduction.reduce_reading(reading, values["test_pressure"], leak),)


register(
    Reckoning(
        "bench_flow",
        "Flow from range and percentage",
        "What does this reading flow at the test pressure, with the leak taken off?",
        (
            Field("full_scale", "Full-scale flow of the range", "flow", "300 cfm", _SMALL),
            Field("percent", "Percentage read", "percent", "73.4 %", 0, 1),
            Field("pressure", "Pressure when read", "column", "25 inH2O", _SMALL),
            Field("test_pressure", "Test pressure", "column", "28 inH2O", _SMALL),
            Field("leak", "Leak flow", "flow", "12.6 cfm", 0, required=False),
            Field(
                "leak_pressure",
                "Pressure of the leak test",
                "column",
                "25 inH2O",
                _SMALL,
                required=False,
                help="empty: the pressure of the reading",
            ),
            Field("step", "Smallest step of the percentage", "percent", "0.1 %", 0, 0.2, required=False),
        ),
        _flow,
        reduction.SOURCE,
        group="Flow bench",
    )
)

register(
    Reckoning(
        "mean_velocity",
        "Mean velocity in a section",
        "How fast does the air move through this section?",
        (Field("flow", "Flow", "flow", "250 cfm", 0), Field("area", "Area of the section", "area", "2.25 in2", _SMALL)),
        lambda v: (reduction.mean_velocity(v["flow"], v["area"]),),
        "Continuity, first principles.",
        group="Flow bench",
    )
)

register(
    Reckoning(
        "air_demand",
        "Air demand of an engine",
        "How much air does it want?",
        (*_engine_fields(), _speed(), Field("filling", "Volumetric efficiency", "percent", "95 %", 0.05, 3)),
        lambda v: (demand.air_demand(_engine(v), v["speed"], v["filling"]),),
        demand.FIRST_PRINCIPLES,
    )
)

register(
    Reckoning(
        "mach_index",
        "Gas velocity and Mach index in a section",
        "Is this section too small at speed?",
        (
            *_engine_fields(),
            _speed(),
            Field("area", "Area of the section", "area", "1450 mm2", _SMALL),
            Field("temperature", "Gas temperature", "temperature", "40 C"),
        ),
        lambda v: (
            demand.gas_velocity(_engine(v), v["speed"], v["area"]),
            demand.mach_index(_engine(v), v["speed"], v["area"], v["temperature"]),
        ),
        "Piston-area rule, first principles; Mach index in Taylor's form, from memory.",
    )
)


def _section(values: Values) -> tuple[Figure, ...]:
    rho = density(Weather(values["temperature"], values["pressure"], 0.0))
    return (
        demand.section_for_power(
            values["power"],
            values["speed"],
            int(values["cylinders"]),
            values["velocity"],
            values["consumption"],
            values["air_fuel_ratio"],
            rho,
            int(values["strokes"]),
        ),
    )


register(
    Reckoning(
        "section_for_power",
        "Section wanted for a power",
        "How large should the runner be for this power?",
        (
            Field("power", "Target power", "power", "160 kW", 100.0),
            _speed("6500 rpm", "At engine speed"),
            Field("cylinders", "Cylinders", "count", "4", 1, 24),
            Field("strokes", "Strokes per cycle", "count", "4", 2, 4),
            Field(
                "velocity",
                "Mean velocity wanted",
                "velocity",
                "80 m/s",
                5,
                300,
                help="a school's choice: 70 to 90 m/s is common practice",
            ),
            Field(
                "consumption",
                "Brake specific fuel consumption",
                "consumption",
                "280 g/kWh",
                from_unit(150, "consumption", "g/kWh"),
                from_unit(900, "consumption", "g/kWh"),
            ),
            Field("air_fuel_ratio", "Air to fuel, by mass", "ratio", "12.8", 5, 40),
            Field("temperature", "Intake air temperature", "temperature", "20 C"),
            Field("pressure", "Intake air pressure", "barometer", "1013 hPa"),
        ),
        _section,
        "First principles; the velocity wanted is a school's choice (common practice, no source).",
    )
)

_DURATION = Field(
    "duration", "Intake duration", "angle", "248 °", from_unit(150, "angle", "°"), from_unit(360, "angle", "°")
)
_RUNNER_T = Field("temperature", "Gas temperature in the runner", "temperature", "40 C")

register(
    Reckoning(
        "runner_reflected",
        "Runner length, reflected wave",
        "How long should the runner be, by the returning wave?",
        (
            _speed("4000 rpm", "Speed to tune for"),
            _DURATION,
            _RUNNER_T,
            Field("reflection", "Reflection counted", "count", "3", 1, 6),
            _length("diameter", "Runner diameter", "43 mm"),
        ),
        lambda v: (
            tuning.reflected_wave_length(
                v["speed"], v["duration"], v["temperature"], int(v["reflection"]), v["diameter"]
            ),
        ),
        "Reflected-wave rule, from memory.",
    )
)

register(
    Reckoning(
        "runner_helmholtz",
        "Runner length, Helmholtz",
        "How long should the runner be, by resonance with the cylinder?",
        (
            _speed("4000 rpm", "Speed to tune for"),
            Field("area", "Section of the runner", "area", "1450 mm2", _SMALL),
            Field("cylinder_volume", "Displacement of one cylinder", "volume", "499 cc", 1e-6),
            Field("compression_ratio", "Compression ratio", "ratio", "11.2", 1.01, 30),
            _RUNNER_T,
            Field("ratio", "Frequency ratio K", "ratio", "2.1", 1.0, 4.0, help="2.1 to 2.5 are in use"),
        ),
        lambda v: (
            tuning.helmholtz_length(
                v["speed"], v["area"], v["cylinder_volume"], v["compression_ratio"], v["temperature"], v["ratio"]
            ),
        ),
        "Helmholtz resonance (Engelman's form, from memory; constant re-derived).",
    )
)

register(
    Reckoning(
        "correction_factor",
        "Correction factor",
        "What carries today's power to a standard's air?",
        (
            *_weather_fields(),
            Field(
                "standard",
                "Standard",
                "",
                "sae_j1349",
                choices=tuple((s.key, s.name) for s in correction.STANDARDS.values()),
            ),
        ),
        lambda v: (correction.correction(_weather(v), v["standard"]),),
        correction.SOURCE,
    )
)

register(
    Reckoning(
        "power_from_torque",
        "Power from torque and speed",
        "What power is this torque at this speed?",
        (Field("torque", "Torque", "torque", "300 lb-ft", 0), _speed("5252 rpm")),
        lambda v: (demand.power_from_torque(v["torque"], v["speed"]),),
        "Definition (hp = lb-ft·rpm/5252).",
    )
)

register(
    Reckoning(
        "tube_inside",
        "Inside of a tube",
        "What is left inside this tube?",
        (_length("outside_diameter", "Outside diameter", "2-1/2 in"), _length("wall", "Wall", "0.065 in")),
        lambda v: sections.tube_figures(v["outside_diameter"], v["wall"]),
        sections.FIRST_PRINCIPLES,
        group="Path and faces",
    )
)

register(
    Reckoning(
        "tube_flattened",
        "Area of a squashed tube",
        "What did squashing this tube cost?",
        (
            _length("outside_diameter", "Outside diameter before", "63.5 mm"),
            _length("wall", "Wall", "1.6 mm"),
            _length("minor_outside", "Outside height after squashing", "45 mm"),
        ),
        lambda v: sections.flattened_figures(v["outside_diameter"], v["wall"], v["minor_outside"]),
        sections.FIRST_PRINCIPLES,
        group="Path and faces",
    )
)

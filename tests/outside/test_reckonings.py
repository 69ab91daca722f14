"""The quick reckoner's entries of geometry, losses, timing and headroom, asked in the words people write."""

from __future__ import annotations

from math import atan, cos, exp, pi, sqrt

import fluids
import pytest
from scipy.integrate import quad

from longbreath.core.basis.constants import INCH_OF_WATER
from longbreath.core.basis.register import all_reckonings, reckoning_named
from longbreath.core.basis.working import Figure


def ask(name: str, **texts: str) -> dict[str, Figure]:
    entry = reckoning_named(name)
    answer = entry.answer({**{f.name: f.example for f in entry.fields}, **texts})
    assert answer.errors == {}
    return {f.name: f for f in answer.figures}


GEOMETRY = "first principles, shapely, fluids and closed forms: the reference sheet's sections D and G"
CFM = 0.3048**3 / 60
INCH2 = 0.0254**2
COLUMN = 0.0254 * 1000 * 9.80665
DEGREE = pi / 180
NU = 1.8206e-5 / 1.204118
"""Kinematic viscosity of air at 20 °C and 1013.25 hPa [m2/s] by CoolProp, as the reference sheet C.iso has it."""
RE_200000 = f"{2e5 * NU * pi * 0.0762 / 4 * 1000} L/s"
"""The flow that has a Reynolds number of 200,000 in 76.2 mm."""

INCH = 0.0254
HP = 745.69987
RPM = pi / 30
TAYLOR = "reference sheet E.Z (Taylor, form from memory)"
EXAMPLE = {"bore": "101.6 mm", "stroke": "88.392 mm", "speed": "6500 rpm"}
"""The example engine of the reference sheet's section E."""
REFLECTED = {
    "length": "12.816667 in",
    "area": f"{pi / 4 * 1.7**2} in2",
    "duration": "280 °",
    "temperature": f"{(1300 * 0.3048) ** 2 / (1.4 * 287.05)} K",
}
PHASE = {"length": "0.35 m", "duration": "240 °", "temperature": f"{350**2 / (1.4 * 287.05)} K"}
ENGELMAN = {"area": "2.2 in2", "length": "12 in", "cylinder_volume": "43.7 in3", "compression_ratio": "10.5"}
BELL = {"bore": "101.6 mm", "stroke": f"{716.6e-6 / (pi / 4 * 0.1016**2)} m", "length": "31 in"}
TAIL = {"speed": "6000 rpm", "temperature": "900 K", "tail": "500 mm"}
PIPE = {"diameter": "60.198 mm", "mass_flow": f"{300 * 6.75 * 0.45359237 / 3600} kg/s", "temperature": "900 K"}
DRY = {"depression": "0 kPa", "cooler_drop": "0 kPa"}
FROM_NOUGHT = {"boost": "0 psi", "other": "10 psi"}
EQUAL = {
    **dict.fromkeys(("first", "second", "third"), "26 mm"),
    **{f"{n}_coefficient": "0.9" for n in ("first", "second", "third")},
}


def _pipe_bore() -> float:
    """Bore whose 3 m, K 2 and 150 g/s of gas at 773.15 K cost 10 kPa, from fluids' own friction factor, by bisection."""
    density, mu = 101325 / (290 * 773.15), 1.716e-5 * (773.15 / 273.15) ** 1.5 * 383.55 / 883.55
    low, high = 0.02, 0.2
    for _ in range(80):
        d = (low + high) / 2
        v = 0.15 / (density * pi / 4 * d * d)
        f = fluids.friction_factor(Re=density * v * d / mu, eD=4.5e-5 / d)
        low, high = (d, high) if (f * 3 / d + 2) * density * v * v / 2 > 1e4 else (low, d)
    return d


PIPE_BORE = _pipe_bore()
HOT = 298.15 * (1 + (1.68046 ** (0.4 / 1.4) - 1) / 0.7)
EXPANSION = (
    1 - 1.4 * 287.05 / 0.4 * (HOT - 298.15) / ((1 + 1 / 11.8) * 1.33 * 290 / 0.33 * 0.65 * 0.97 * 1123.15)
) ** (-1.33 / 0.33)
"""Work of the compressor over that of the gas at 850 °C, by hand."""


# name, inputs, which figure, expected SI value, relative tolerance, where the value comes from
def _lost_energy(inertia: float, first: float, last: float) -> float:
    """Energy of a roller between two speeds [rpm], by quadrature [J]."""
    return float(quad(lambda w: inertia * w, last * RPM, first * RPM)[0])


def _mean_of_cosine(share: float) -> float:
    """The mean of a cosine over a window of so many of its waves about its crest."""
    return float(quad(lambda x: cos(2 * pi * x), -share / 2, share / 2)[0] / share)


CASES = [
    # --- flow bench
    ("bench_flow", {}, "flow", (0.734 * 300 - 12.6) * sqrt(28 / 25) * CFM, 1e-6, "by hand: range, leak, Q ∝ √Δp"),
    ("mean_velocity", {}, "mean_velocity", 2.4 * 250 / 2.25 * 0.3048, 1e-6, "common practice: 2.4 cfm per in²"),
    (
        "orifice_flow",
        {"suction": "0 Pa", "meter_temperature": "20 C"},
        "flow",
        0.156507 / 1.204118,
        5e-4,
        "fluids 1.3.1, ISO 5167-2 (reference sheet C.iso.m)",
    ),
    ("meter_temperature", {}, "flow", 200 * CFM * sqrt(293.15 / 303.15), 1e-6, "first principles"),
    ("discharge_coefficient", {}, "curtain", 0.561972, 1e-5, "reference sheet C.Cd.curt.isen"),
    ("discharge_coefficient", {}, "throat", 0.716103 / (1 - 0.0375783), 1e-5, "reference sheet C.Cd, C.compr"),
    ("ideal_flow", {}, "flow", 141.604 * CFM, 1e-5, "reference sheet; CoolProp within 0.1 %"),
    ("ideal_flow", {}, "velocity", 357.610 * 0.3048, 1e-5, "reference sheet"),
    ("stack", {}, "alone", CFM / sqrt(1 / 240**2 - 1 / 292.45**2), 1e-6, "series law: drops add, first principles"),
    ("back_pressure", {}, "back_pressure", 28 * COLUMN * (250 / 320) ** 2, 1e-6, "Δp ∝ Q², first principles"),
    ("pitot_velocity", {}, "velocity", 64.1587, 1e-5, "reference sheet C.pitot.2500; fluids"),
    ("porting_hours", {}, "expected", 11 / 3 * 3600, 1e-6, "by hand: 9 cfm in 3 h, 11 cfm short"),
    ("power_potential", {}, "power_potential", 514.0 * 745.69987, 1e-5, "common practice: 0.257 hp per cfm, cylinder"),
    ("exhaust_to_intake", {}, "exhaust_to_intake", 165 / 230, 1e-9, "definition"),
    ("percentage_gain", {}, "flow_difference", 10.5 * CFM, 1e-6, "by hand: 3.5 % of 300 cfm"),
    # --- engine and air
    (
        "air_demand",
        {},
        "air_demand",
        121.844 * 6500 * 0.95 / 3456 * CFM,
        1e-4,
        "cfm = in³·rpm·VE/3456, common practice",
    ),
    (
        "mach_index",
        {},
        "gas_velocity",
        2 * 0.0888 * 6500 / 60 * pi / 4 * 0.0846**2 / 1450e-6,
        1e-9,
        "by hand: S_p·A_p/A",
    ),
    ("mach_index", {}, "mach_index", 74.5868 / 354.747, 3e-4, "over √(1.4·287.05·313.15), by hand"),
    ("mach_index", {"temperature": "20 C"}, "mach_index", 74.5868 / 343.24, 3e-4, "over 343.2 m/s (CoolProp, 20 °C)"),
    (
        "section_for_power",
        {},
        "section",
        4 * (160 * 0.280 / 3600 * 12.8 / (101300 / (287.05 * 293.15))) / (4 * 80),
        1e-6,
        "by hand: fuel, air, density, one stroke of four",
    ),
    (
        "runner_reflected",
        {},
        "reflected_wave",
        354.747 * (720 - 248 - 30) / 360 * 60 / 4000 / 12 - 0.0215,
        1e-5,
        "rule from memory, by hand with 354.75 m/s at 40 °C",
    ),
    (
        "runner_helmholtz",
        {},
        "helmholtz",
        1450e-6 / (499e-6 * 12.2 / 20.4) * (354.747 / (2 * pi * 140)) ** 2,
        1e-5,
        "lumped resonator at 2.1 times 4000 rpm = 140 Hz, first principles",
    ),
    (
        "correction_factor",
        {"pressure": "1013.25 hPa"},
        "correction_factor",
        0.976559,
        2e-4,
        "reference sheet B.W1.sae: J1349 from memory, vapour by PsychroLib",
    ),
    ("power_from_torque", {}, "power", 300 * 745.69987 * 5252 / 5252.113, 1e-6, "definition: hp = lb-ft·rpm/5252.113"),
    # --- path and faces
    ("tube_inside", {}, "area", pi / 4 * 2.37**2 * INCH2, 1e-9, "first principles"),
    ("tube_flattened", {}, "area", 2586.98e-6, 1e-5, "reference sheet, shapely"),
    ("tube_flattened", {}, "hydraulic_diameter", 54.6242e-3, 1e-5, "reference sheet, shapely"),
    (
        "loss_cone",
        {"flow": RE_200000, "length": "103.822 mm", "roughness": "0 mm"},
        "k",
        0.0191301,
        5e-3,
        "fluids: Rennels, 7° included (reference sheet D.K.diff.7)",
    ),
    (
        "loss_friction",
        {"flow": RE_200000, "diameter": "76.2 mm", "roughness": "0 mm"},
        "k",
        0.0156372 / 0.0762,
        2e-3,
        "Colebrook's own root (reference sheet D.f.0.0.76.2), f·L/D of one metre",
    ),
    ("loss_ring", {}, "k", 0.0476690, 1e-4, "Idelchik's thin orifice, from memory, by hand for σ = 0.950241"),
    ("loss_measured", {"flow": "200 L/s"}, "drop", 4800.0, 1e-9, "common practice: four times at twice the flow"),
    (
        "exhaust_cooling",
        {"hot": "720 C", "heat_transfer": f"{0.110 * 1.33 * 290 / 0.33 / (pi * 0.0635 * 2)} W/m2K"},
        "after",
        293.15 + 700 * exp(-1),
        1e-6,
        "first principles: one transfer unit leaves 1/e of the difference",
    ),
    # --- timing and headroom
    (
        "time_area_poppet",
        {"peak_lift": "1 mm", "stem_diameter": ""},
        "time_area",
        2 * pi * 33e-3 * 0.5e-3 * 224 * DEGREE / (6000 * pi / 30),
        1e-4,
        "closed form: the mean of sin² is a half, and a low lift is all curtain",
    ),
    (
        "closing_delay",
        {"inlet_length": "70 mm"},
        "closing_limit",
        55 * DEGREE,
        1e-9,
        "common practice: 55° on 6 to 8 cm",
    ),
    (
        "closing_delay",
        {"inlet_length": "25 cm"},
        "closing_limit",
        65 * DEGREE,
        1e-9,
        "common practice: ten more on 20 cm",
    ),
    (
        "injector_duty",
        {},
        "duty",
        160 * 0.280 / 3600 / 4 / (0.28e-3 / 60 * 745) + 0.001 / 0.020,
        1e-6,
        "by hand: fuel over what one injector flows, and its dead time in 20 ms",
    ),
    ("section_oval", {"width": "80 mm", "height": "50 mm"}, "area", 3141.59e-6, 1e-5, GEOMETRY),
    ("section_oval", {"width": "80 mm", "height": "50 mm"}, "perimeter", 206.931e-3, 1e-5, GEOMETRY),
    ("section_oval", {"width": "80 mm", "height": "50 mm"}, "hydraulic_diameter", 60.7272e-3, 1e-5, GEOMETRY),
    ("section_d", {"width": "40 mm", "height": "20 mm"}, "area", pi * 0.02**2 / 2, 1e-9, GEOMETRY),
    ("section_rectangle", {}, "area", 1545.06e-6, 1e-5, GEOMETRY),
    ("section_rectangle", {}, "hydraulic_diameter", 41.1289e-3, 1e-5, GEOMETRY),
    ("section_rectangle", {}, "equal_diameter", sqrt(4 * 1545.06e-6 / pi), 1e-5, GEOMETRY),
    ("callipers", {}, "mean", 38.2e-3, 1e-9, GEOMETRY),
    ("callipers", {}, "ovality", 0.19e-3, 1e-6, GEOMETRY),
    ("cone", {}, "volume", 391.586e-6, 1e-5, GEOMETRY),
    ("cone", {}, "angle", 2.97871 * pi / 180, 1e-5, GEOMETRY),
    ("cone_length", {"entry": "3 in", "exit": "3.5 in"}, "length", 103.822e-3, 1e-5, GEOMETRY),
    ("loss_step", {"entry": "3 in", "exit": "3.5 in"}, "k", 0.0703873, 1e-5, GEOMETRY),
    ("loss_mouth", {"radius": "0 mm"}, "k", 0.57, 1e-6, GEOMETRY),
    ("loss_bend", {"radius": ""}, "k", 1.2, 0.03, GEOMETRY),
    ("plenum_volume", {"stacks": "0", "spacer_height": "0 mm"}, "plenum", 3.5e-3, 1e-9, GEOMETRY),
    ("pipe_response", {"pressure": "1000 hPa"}, "response", 5 / 110, 1e-9, GEOMETRY),
    ("crankcase", {}, "primary_ratio", (520 + pi / 4 * 6.2**2 * 5.7) / 520, 1e-9, GEOMETRY),
    ("faces", {}, "overlap", 1523.43e-6, 2e-4, GEOMETRY),
    ("spacer_shift", {"layout": "in-line", "angle": "30 °"}, "height", 6e-3, 1e-9, GEOMETRY),
    ("spacer_shift", {"layout": "v", "angle": "45 °"}, "slip", 12e-3, 1e-9, GEOMETRY),
    ("timing_poppet", {}, "overlap", 26 * pi / 180, 1e-9, GEOMETRY),
    ("timing_poppet", {}, "separation", 109 * pi / 180, 1e-9, GEOMETRY),
    ("timing_disc", {}, "intake_duration", 210 * pi / 180, 1e-9, GEOMETRY),
    ("timing_rotary", {}, "intake_duration", 278 * pi / 180, 1e-9, GEOMETRY),
    ("dead_centre", {"stop_before": "20 °", "stop_after": "30 °"}, "dead_centre", 5 * pi / 180, 1e-9, GEOMETRY),
    ("arc_degrees", {"arc": "10 mm", "radius": "50 mm"}, "angle", 0.2, 1e-9, GEOMETRY),
    ("degrees_arc", {"angle": "90 °", "radius": "50 mm"}, "arc", 0.05 * pi / 2, 1e-9, GEOMETRY),
    ("port_angle", {}, "port_angle", 86.7740 * pi / 180, 1e-5, GEOMETRY),
    ("time_area", {}, "time_area", 4.33333e-6, 1e-5, GEOMETRY),
    ("time_area", {}, "specific", 0.0108333, 1e-5, GEOMETRY),
    (
        "time_area_piston",
        {"bottom_width": "", "speed": "11000 rpm", "displacement": "124.8 cc"},
        "specific",
        0.0140956,
        1e-4,
        GEOMETRY,
    ),
    ("sensor_headroom", {"top": "3 bar", "boost": "0 psi"}, "ceiling", 3e5 - 101325, 1e-9, GEOMETRY),
    ("controller_headroom", {}, "left", 0.28, 1e-9, GEOMETRY),
    # --- sizes and runners
    (
        "valve_size",
        {**EXAMPLE, "valves": "1", "index": "0.619861", "temperature": "25 C"},
        "valve",
        0.051308,
        1e-4,
        TAYLOR,
    ),
    (
        "valve_size",
        {**EXAMPLE, "valves": "2", "index": "0.629549", "temperature": "25 C"},
        "valve",
        0.036,
        1e-4,
        TAYLOR,
    ),
    ("throttle_size", {}, "throttle", sqrt(4 * 220 * CFM / (60 * pi)), 1e-9, "continuity, by hand"),
    ("plenum_size", {}, "ratio", 0.9, 1e-9, "definition"),
    ("filter_size", {}, "filter", 220 / 6.03 * INCH2, 0.02, "common practice: in² = in³·rpm/20,839, from memory"),
    ("runner_speeds", REFLECTED, "rule-3", 6500 * RPM, 1e-4, "reference sheet F.refl.L"),
    ("runner_speeds", {**REFLECTED, "length": "27.3333 in"}, "trip-2", 9750 * RPM, 1e-4, "reference sheet F.refl.fp"),
    ("runner_speeds", PHASE, "phase-1", 20000 * RPM, 1e-4, "reference sheet F.q.1.5, F.qphase.1"),
    ("runner_speeds", PHASE, "phase-3", 20000 / 3 * RPM, 1e-4, "reference sheet F.q.4.5, F.qphase.3"),
    ("runner_speeds", ENGELMAN, "helmholtz", 5287.44 * RPM, 1e-4, "reference sheet F.eng.N (Engelman, from memory)"),
    # --- exhaust
    (
        "primary_length",
        {"opens": "80 °", "speed": "6500 rpm"},
        "rule",
        31.0 * INCH,
        1e-6,
        "reference sheet F.head.L (Bell)",
    ),
    (
        "primary_length",
        {"opens": "80 °", "speed": "6500 rpm", "temperature": "900 K", "port": "0 mm"},
        "wave-1",
        589.177 * (260 / 39000) / 2,
        1e-5,
        "one round trip at the reference sheet's E.exh.a, by hand",
    ),
    ("primary_bore", BELL, "bore-rule", 1.92818 * INCH, 1e-4, "reference sheet F.head.ID (Bell, from memory)"),
    (
        "primary_bore",
        {},
        "bore-velocity",
        sqrt(4 * 4500 * 30.4615 / 88200 / pi) * INCH,
        2e-3,
        "common practice: in² = rpm·in³/88,200, from memory",
    ),
    (
        "primary_bore",
        {"pipes": "4"},
        "merged",
        2 * 0.93 * sqrt(4 * 4500 * 30.4615 / 88200 / pi) * INCH,
        2e-3,
        "0.93·√n, from memory",
    ),
    (
        "collector_length",
        {"temperature": "900 K"},
        "collector",
        589.177 * 0.006 / 2,
        1e-5,
        "round trip at E.exh.a, by hand",
    ),
    ("crossover_and_tail", TAIL, "cross-1", 589.177 / (4 * 200), 1e-5, "quarter wave F.qw of firing order F.order"),
    ("crossover_and_tail", TAIL, "drone", 589.177 * 30 * RPM, 1e-5, "half wave F.hw: a/(2·0.5 m), two pulses a turn"),
    ("pipe_bore", {}, "bore", PIPE_BORE, 1e-6, "fluids 1.3: dP of friction_factor and K, solved apart"),
    ("pipe_velocity", PIPE, "velocity", 230.918, 1e-5, "reference sheet E.pipe.2.5.300.v"),
    ("pipe_velocity", PIPE, "mach", 0.391933, 1e-5, "reference sheet E.pipe.2.5.300.M"),
    ("turbine_outlet", {}, "area_ratio", (72.8 / 60.3) ** 2, 1e-9, "inside = outside − 2 walls, by hand"),
    ("turbine_outlet", {}, "cone_angle", 2 * atan(12.5 / 120), 1e-9, "by hand"),
    # --- boost
    ("boost_charge", DRY, "pressure_ratio", 1.68046, 1e-5, "reference sheet I.PR.10"),
    ("boost_charge", DRY, "after_compressor", 366.242, 1e-4, "reference sheet I.T2.10 (fluids)"),
    ("boost_charge", DRY, "density_ratio", 410.408 / 300, 1e-4, "reference sheet I.hpT.10"),
    ("boost_power", {}, "by_ratio", 1.176243 * 300 * HP, 1e-5, "reference sheet I.rescale, common practice"),
    ("boost_power", FROM_NOUGHT, "by_density", 410.408 * HP, 1e-4, "reference sheet I.hpT.10, common practice"),
    ("boost_power", FROM_NOUGHT, "by_root", 454.87 * HP, 1e-4, "reference sheet I.hpT.10, common practice"),
    (
        "compressor_point",
        {"power": "500 hp", "consumption": "0.5 lb/hp·h", "air_fuel_ratio": "12.5"},
        "mass_flow",
        0.393743,
        1e-5,
        "reference sheet E.air",
    ),
    ("turbine_pressure", {}, "expansion", EXPANSION, 1e-4, "balance of work, by hand"),
    # --- heat, pipe and clutch
    (
        "retune",
        {"before": "900 K", "after": "1000 K"},
        "retuned",
        8100 * 1.05409 * RPM,
        1e-5,
        "reference sheet F.rpm.T",
    ),
    (
        "retune",
        {"before": "900 K", "after": "900 K", "length": "1 m", "changed": "0.9090909 m"},
        "retuned",
        1.1 * 8100 * RPM,
        1e-6,
        "reference sheet F.rpm.len",
    ),
    (
        "retune_needs",
        {"speed": "8000 rpm", "shifted": "8800 rpm", "before": "900 K"},
        "needs",
        1089.0,
        1e-9,
        "F.rpm.10.900",
    ),
    ("quoted_shifts", {}, "one", (8800 / 8200 + 9000 / 8000) / 2 - 1, 1e-9, "by hand"),
    ("tuned_pipe", {}, "tuned", 0.745836, 1e-5, "reference sheet F.2s.Lt.mm (Jennings)"),
    ("tuned_pipe", {}, "header", 0.0745836, 1e-5, "a tenth of it (Blair, from memory)"),
    ("clutch_match", {}, "engages", sqrt(1100 / (0.12 * 0.034)), 1e-9, "m·r·ω² = F, by hand"),
    (
        "clutch_match",
        {},
        "held",
        sqrt((1100 + 9 / (2 * 0.3 * 0.045)) / (0.12 * 0.034)),
        1e-9,
        "n·μ·R·(m·r·ω² − F) = T, by hand",
    ),
    ("degree_won", {}, "arc", 0.032 * 4 * DEGREE, 1e-9, "arc = radius × angle"),
    ("degree_won", {}, "wall", 0.005 - 0.032 * 4 * DEGREE, 1e-9, "by hand"),
    ("bore_chain", EQUAL, "share-1", 1 / 3, 1e-9, "three equal restrictions share the drop"),
    ("bore_chain", EQUAL, "ceiling-0", sqrt(1.5) - 1, 1e-9, "two of three left: √(3/2)"),
]


CASES += [
    # --- the roller dyno
    ("roller_torque", {}, "torque", 22 * 200 * RPM * 1400 / 6500, 1e-9, "by hand: 22 kg·m² × 100 rpm in half a second"),
    ("roller_torque", {"loss": "50 N·m"}, "power", (22 * 200 * RPM + 50) * 1400 * RPM, 1e-9, "by hand"),
    ("coast_down_loss", {}, "power", _lost_energy(22, 1500, 1300) / 8, 1e-6, "scipy's quadrature of I·ω over ω"),
    ("roller_gear", {}, "ratio", 6500 / 1400 * 310 / 240, 1e-9, "by hand: the treads run alike"),
    ("smoothing_hides", {}, "left", _mean_of_cosine(0.5 * 600 / 800), 1e-6, "scipy's quadrature of a cosine"),
    ("roller_force", {}, "torque", 2500 * 0.25 * 1000 / 6500, 1e-9, "by hand: power at the roller over engine speed"),
    # --- rounds of tuning
    (
        "fuel_saved",
        {},
        "fuel",
        35.0877 * 3.785411784e-3,
        1e-5,
        "reference sheet K.sav.gal: 18 to 19 mpg over 12,000 miles",
    ),
    ("fuel_saved", {}, "money", 133.333, 1e-5, "reference sheet K.sav.usd"),
    ("fuel_saved", {}, "more_mileage", 0.0555556, 1e-5, "reference sheet K.mpg.pct"),
    ("fuel_saved", {}, "less_fuel", 0.0526316, 1e-5, "reference sheet K.fuel.pct: not the same as the mpg percent"),
    (
        "fuel_saved",
        {"before": "10 mpg", "after": "11 mpg", "distance": "10000 mi"},
        "fuel",
        90.9091 * 3.785411784e-3,
        1e-5,
        "reference sheet K.mpgillusion.10",
    ),
    ("payback_time", {}, "years", 3.6, 1e-5, "reference sheet K.pay"),
    ("payback_time", {}, "distance_until", 43200.0 * 1609.344, 1e-5, "reference sheet K.pay.miles"),
    ("mixture_after_jet", {}, "mixture", 0.88 / 1.0816, 1e-9, "by hand: (1.30/1.25)² = 1.0816 times the fuel"),
    (
        "mixture_after_fuel",
        {},
        "mixture",
        0.88 * 1.5 * (745 / 781) ** 0.5,
        1e-9,
        "by hand; fuels: common practice, no source",
    ),
    (
        "mixture_after_fuel",
        {"ratio_after": "14.7", "density_after": "745 kg/m3"},
        "needed",
        1.0,
        1e-12,
        "the same fuel",
    ),
    ("mixture_after_injection", {}, "mixture", 0.88 * 8.0 / 8.6, 1e-9, "by hand: 8.0 ms open become 8.6 ms"),
    ("fuel_for_power", {}, "consumption", 29 / 3600 / 1e5, 1e-9, "by hand: 29 kg/h over 100 kW is 290 g/kWh"),
    ("fuel_for_power", {}, "mixture", 375 / (29 * 14.7), 1e-9, "by hand"),
]


@pytest.mark.parametrize(("name", "texts", "figure", "expected", "tolerance", "source"), CASES)
def test_entries_give_the_known_value(
    name: str, texts: dict[str, str], figure: str, expected: float, tolerance: float, source: str
) -> None:
    assert ask(name, **texts)[figure].value == pytest.approx(expected, rel=tolerance), source


def test_every_reckoning_has_a_value_from_outside() -> None:
    """A reckoning that nothing outside of the project vouches for is not done."""
    known = {name for name, *_ in CASES}
    assert known == {entry.name for entry in all_reckonings()}
    assert all(source for *_, source in CASES)


def test_a_measured_loss_grows_with_the_square_of_the_flow() -> None:
    """Common practice, no source: 1.2 kPa at 100 L/s is 4.8 kPa at 200 L/s."""
    found = ask("loss_measured", flow="200 L/s", drop="1.2 kPa", drop_flow="100 L/s")
    assert found["drop"].value == pytest.approx(4800)


def test_a_mouth_of_half_a_dynamic_pressure() -> None:
    """First principles: 250 cfm through 63.5 mm moves at 37.26 m/s, 836 Pa of dynamic pressure at 20 °C and 1013 hPa."""
    found = ask("loss_mouth", flow="250 cfm", diameter="63.5 mm", radius="0 mm")
    velocity = 0.117987 / (pi / 4 * 0.0635**2)
    dynamic = 0.5 * 101325 / (287.05 * 293.15) * velocity**2
    assert found["drop"].value == pytest.approx(0.57 * dynamic, rel=1e-4)
    assert found["drop"].value / INCH_OF_WATER == pytest.approx(1.91, rel=0.01)
    assert found["drop"].uncertainty == pytest.approx(0.07 * dynamic, rel=1e-3)


def test_gas_cools_by_the_number_of_transfer_units() -> None:
    """First principles: with UA = ṁ·c_p the difference to the room falls to 1/e."""
    heat = 1.33 * 290 / 0.33
    surface = pi * 0.0635 * 2.0
    transfer = 0.110 * heat / surface
    found = ask("exhaust_cooling", hot="720 C", room="20 C", heat_transfer=f"{transfer} W/m2K")
    assert found["after"].value == pytest.approx(293.15 + 700 * exp(-1), rel=1e-6)


def test_a_disc_that_does_not_add_up_is_said_beside_the_total() -> None:
    entry = reckoning_named("timing_disc")
    answer = entry.answer({"intake_opens": "145", "intake_closes": "65", "intake_total": "200"})
    assert answer.figures == ()
    assert "10.0° too much" in answer.errors["intake_total"]


def test_every_entry_stands_in_a_group_of_the_reckoner() -> None:
    groups = {entry.group for entry in all_reckonings()}
    assert groups == {
        "Dyno",
        "Boost",
        "Engine and air",
        "Exhaust",
        "Flow bench",
        "Fuel and money",
        "Path and faces",
        "Retune, pipe and clutch",
        "Timing and headroom",
    }

"""Air, orifice and jet against real air and water by CoolProp 8. It takes seconds to load: in one file, when its tests begin."""

from __future__ import annotations

from math import pi, sqrt
from typing import Any

import pytest
from fluids.flow_meter import C_Reader_Harris_Gallagher, orifice_expansibility
from scipy.optimize import brentq

from longbreath.core.air.moist import Weather, density, saturation_pressure, speed_of_sound
from longbreath.core.basis.units import from_unit
from longbreath.core.bench import discharge, meter

INCH = from_unit(1.0, "column", "inH2O")
STANDARD = Weather(293.15, 101325.0, 0.0)
DP = 28 * INCH
HERE = meter.MeterAir(STANDARD, 293.15, 101325.0)
WEATHERS = [
    (20.0, 101325.0, 0.5),
    (35.0, 98000.0, 0.6),
    (25.0, 99000.0, 0.0),
    (5.0, 103000.0, 0.3),
    (38.0, 83500.0, 0.2),
]


def props(*asked: Any) -> float:
    """`CoolProp.PropsSI` [SI]."""
    from CoolProp.CoolProp import PropsSI

    return float(PropsSI(*asked))


def humid(*asked: Any) -> float:
    """`CoolProp.HAPropsSI` [SI]."""
    from CoolProp.CoolProp import HAPropsSI

    return float(HAPropsSI(*asked))


@pytest.mark.parametrize("celsius", [0.5, 15.0, 25.0, 35.0])
def test_saturation_pressure_against_iapws95(celsius: float) -> None:
    """CoolProp 8 (IAPWS-95 equation of state), another physics: within 0.05 %."""
    real = props("P", "T", celsius + 273.15, "Q", 0, "Water")
    assert saturation_pressure(celsius + 273.15) == pytest.approx(real, rel=5e-4)


@pytest.mark.parametrize(("celsius", "pressure", "humidity"), WEATHERS)
def test_density_against_a_real_gas(celsius: float, pressure: float, humidity: float) -> None:
    """CoolProp 8 HumidAir (real gas): the ideal mixture is within 0.08 %."""
    real = 1.0 / humid("Vha", "T", celsius + 273.15, "P", pressure, "R", humidity)
    assert density(Weather(celsius + 273.15, pressure, humidity)) == pytest.approx(real, rel=8e-4)


@pytest.mark.parametrize("celsius", [0.0, 20.0, 50.0])
def test_speed_of_sound_against_coolprop(celsius: float) -> None:
    """CoolProp 8 Air (Lemmon et al.): within 0.15 %."""
    assert speed_of_sound(celsius + 273.15) == pytest.approx(
        props("A", "T", celsius + 273.15, "P", 101325, "Air"), rel=1.5e-3
    )


def reader_harris_gallagher(beta: float, re: float, pipe: float) -> float:
    """ISO 5167-2:2003, equation 4, corner taps, written out anew; constants from memory."""
    a = (19000 * beta / re) ** 0.8
    c = (
        0.5961
        + 0.0261 * beta**2
        - 0.216 * beta**8
        + 0.000521 * (1e6 * beta / re) ** 0.7
        + (0.0188 + 0.0063 * a) * beta**3.5 * (1e6 / re) ** 0.3
    )
    return c + (0.011 * (0.75 - beta) * (2.8 - pipe / 0.0254) if pipe < 0.07112 else 0.0)


@pytest.mark.parametrize(
    ("plate", "pipe", "drop"), [(0.05, 0.1, 6974.5), (0.03, 0.1, 2500.0), (0.07, 0.1, 500.0), (0.03, 0.06, 3000.0)]
)
def test_orifice_against_the_equations_of_the_standard(plate: float, pipe: float, drop: float) -> None:
    """Mass flow of ISO 5167-2 solved here with density and viscosity of real air from CoolProp: within 0.15 %."""
    rho = props("D", "T", 293.15, "P", 101325.0, "Air")
    mu = props("V", "T", 293.15, "P", 101325.0, "Air")
    beta = plate / pipe
    ratio = (101325.0 - drop) / 101325.0
    epsilon = 1 - (0.351 + 0.256 * beta**4 + 0.93 * beta**8) * (1 - ratio ** (1 / 1.4))

    def mass(re: float) -> float:
        c = reader_harris_gallagher(beta, re, pipe)
        return c / sqrt(1 - beta**4) * epsilon * pi / 4 * plate**2 * sqrt(2 * drop * rho)

    re = brentq(lambda r: 4 * mass(r) / (pi * pipe * mu) - r, 1e3, 1e7)
    air = meter.MeterAir(STANDARD, 293.15, 101325.0)
    assert meter.orifice_flow(meter.Orifice(plate, pipe), drop, air) == pytest.approx(mass(re) / rho, rel=1.5e-3)
    assert C_Reader_Harris_Gallagher(pipe, plate, rho, mu, mass(re), taps="corner") == pytest.approx(
        reader_harris_gallagher(beta, re, pipe), rel=1e-6
    )
    assert orifice_expansibility(pipe, plate, 101325.0, 101325.0 - drop, 1.4) == pytest.approx(epsilon, rel=1e-9)


def test_ideal_flow_against_the_expansion_of_real_air() -> None:
    """CoolProp: isentropic expansion of real air from rest through 28 inH2O, within 0.1 %."""
    h0, s0, rho0 = (props(q, "T", 293.15, "P", 101325.0, "Air") for q in ("H", "S", "D"))
    h, rho = (props(q, "P", 101325.0 - DP, "S", s0, "Air") for q in ("H", "D"))
    assert discharge.ideal_flow(1e-3, DP, STANDARD) == pytest.approx(rho / rho0 * sqrt(2 * (h0 - h)) * 1e-3, rel=1e-3)

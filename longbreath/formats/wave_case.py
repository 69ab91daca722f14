"""Simulation cases as JSON: the whole case, and its way to the core's engine."""

from __future__ import annotations

import json
from math import pi, radians
from pathlib import Path
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field, ValidationError

from longbreath.core.air.gases import AIR, BURNED, Gas
from longbreath.core.basis.constants import ZERO_CELSIUS
from longbreath.core.basis.errors import InputError
from longbreath.core.engine.fuels import FUELS
from longbreath.core.timing.wheel import TURN
from longbreath.core.wave import openings
from longbreath.core.wave.engine import (
    Air,
    Boost,
    Burn,
    Exhaust,
    Friction,
    Intake,
    Scavenging,
    Turbine,
    WaveEngine,
    burn_heat,
)
from longbreath.core.wave.mesh import Array
from longbreath.core.wave.parts import Reed
from longbreath.formats.case_parts import (
    AirIn,
    BoreAndStroke,
    BurnIn,
    CaseIn,
    CasePart,
    ExhaustIn,
    FrictionIn,
    GasIn,
    IntakeIn,
    SidePorts,
    line,
)

FORMAT = "longbreath-simulation-case/1"
POCKET_CC = 60.0
"""Volume of the port between a rotary's pipe and its chambers."""


class Case(CasePart):
    """A simulation case."""

    format: Literal["longbreath-simulation-case/1"]
    name: str
    note: str = ""
    rpm: str = "1500:7000:500"
    cell_mm: Annotated[float, Field(ge=2, le=60)] = 12.0
    engine: BoreAndStroke
    intake: IntakeIn
    exhaust: ExhaustIn
    case: CaseIn | None = None
    burn: BurnIn = BurnIn()
    friction: FrictionIn = FrictionIn()
    air: AirIn = AirIn()
    fresh: GasIn = GasIn(gamma=AIR.gamma, r_j_kg_k=AIR.constant)
    burned: GasIn = GasIn(gamma=BURNED.gamma, r_j_kg_k=BURNED.constant)

    def to_engine(self) -> WaveEngine:
        """The core's engine. Raises InputError where parts do not fit together."""
        e = self.engine
        count = e.cylinders
        fuel = FUELS[self.burn.fuel]
        intake_wall = self.intake.temperature_c + ZERO_CELSIUS
        exhaust_wall = self.exhaust.wall_c + ZERO_CELSIUS
        groups = self.exhaust.groups or (
            [list(range(1, count + 1))] if self.exhaust.collector else [[k + 1] for k in range(count)]
        )
        pressure = self.air.pressure_kpa * 1e3
        return WaveEngine(
            name=self.name,
            kind=e.kind,
            chamber=e.chamber(),
            cylinders=count,
            firing_order=e.firing_order or list(range(1, count + 1)),
            intake=Intake(
                [line(r, intake_wall) for r in self.intake.runners],
                line(self.intake.inlet, intake_wall),
                self.intake.plenum_l / 1e3 if self.intake.plenum_l else None,
                self.intake.mouth_loss_k,
                self.intake.runner_loss_k,
                self.intake.temperature_c + ZERO_CELSIUS,
                self._boost(),
                self.intake.mouth_end_radii,
                self.intake.runner_end_radii,
            ),
            exhaust=Exhaust(
                [line(p, exhaust_wall) for p in self.exhaust.primaries],
                groups,
                line(self.exhaust.collector, exhaust_wall),
                line(self.exhaust.system, exhaust_wall),
                self.exhaust.temperature_c + ZERO_CELSIUS,
                self._turbine(),
                self.exhaust.tail_end_radii,
            ),
            intake_table=self._intake_table(),
            exhaust_table=self._exhaust_table(),
            scavenging=self._scavenging(),
            burn=Burn(
                radians(self.burn.start_before_tdc_deg),
                radians(self.burn.length_deg),
                self.burn.shape,
                burn_heat(
                    fuel.heating,
                    fuel.stoichiometric,
                    self.burn.lambda_,
                    self.burn.efficiency,
                    self.burn.fuel != "diesel",
                ),
            ),
            friction=Friction(
                self.friction.constant_kpa * 1e3,
                self.friction.peak_share,
                self.friction.speed_kpa * 1e3,
                self.friction.square_kpa * 1e3,
            ),
            air=Air(
                pressure,
                self.air.temperature_c + ZERO_CELSIUS,
                (self.air.back_pressure_kpa or self.air.pressure_kpa) * 1e3,
            ),
            cell=self.cell_mm / 1e3,
            fresh=Gas("fresh", self.fresh.gamma, self.fresh.r_j_kg_k),
            burned=Gas("burned", self.burned.gamma, self.burned.r_j_kg_k),
            port_volume=POCKET_CC * 1e-6,
        )

    def _boost(self) -> Boost | None:
        b = self.intake.boost
        return None if b is None else Boost(b.pressure_ratio, b.efficiency, b.cooler_effectiveness)

    def _turbine(self) -> Turbine | None:
        t = self.exhaust.turbine
        return None if t is None else Turbine(t.area_mm2 * 1e-6, t.efficiency, t.inlet_l / 1e3, t.outlet_l / 1e3)

    def _intake_table(self) -> Array | None:
        if self.engine.kind == "two-stroke":
            return None
        if self.engine.kind == "rotary":
            return _side(self.intake.ports, "intake")
        v = self.intake.valves
        if v is None:
            raise InputError("A four-stroke needs intake valves.", "intake.valves")
        return v.table(2.0 * pi - radians(v.opens_before_tdc_deg), 3.0 * pi + radians(v.closes_after_bdc_deg))

    def _exhaust_table(self) -> Array:
        if self.engine.kind == "two-stroke":
            if self.exhaust.piston_ports is None:
                raise InputError("A two-stroke needs exhaust ports in its wall.", "exhaust.piston_ports")
            return self.exhaust.piston_ports.table(self.engine)
        if self.engine.kind == "rotary":
            return _side(self.exhaust.ports, "exhaust")
        v = self.exhaust.valves
        if v is None:
            raise InputError("A four-stroke needs exhaust valves.", "exhaust.valves")
        return v.table(pi - radians(v.opens_before_bdc_deg), 2.0 * pi + radians(v.closes_after_tdc_deg))

    def _scavenging(self) -> Scavenging | None:
        if self.case is None:
            return None
        c, given = self.case, (self.case.disc, self.case.reed, self.case.skirt_ports)
        if sum(x is not None for x in given) != 1:
            raise InputError("The case has one inlet: a disc, a reed or skirt ports.", "case")
        inlet, reed, coefficients = None, None, (0.7, 0.7)
        if c.disc is not None:
            inlet = openings.window(
                -radians(c.disc.opens_before_tdc_deg),
                radians(c.disc.closes_after_tdc_deg),
                radians(c.disc.window_deg),
                c.disc.area_mm2 * 1e-6,
                c.disc.coefficient,
                TURN,
            )
        elif c.skirt_ports is not None:
            inlet = c.skirt_ports.table(self.engine, skirt=True)
        elif c.reed is not None:
            r = c.reed
            reed = Reed(r.frequency_hz, r.damping, r.full_kpa * 1e3, r.most_lift_mm / 1e3, r.width_mm / 1e3)
            coefficients = (r.coefficient_out, r.coefficient_in)
        return Scavenging(c.volume_bdc_cc * 1e-6, c.transfers.table(self.engine), inlet, reed, coefficients, c.strata)


def _side(ports: SidePorts | None, side: str) -> Array:
    """Rotary ports: intake angles after the gas-exchange dead centre, exhaust angles likewise (negative before it)."""
    if ports is None:
        raise InputError("A rotary needs ports on either side.", f"{side}.ports")
    return openings.window(
        3.0 * pi + radians(ports.opens_deg),
        3.0 * pi + radians(ports.closes_deg),
        radians(ports.ramp_deg),
        ports.area_mm2 * 1e-6,
        ports.coefficient,
        6.0 * pi,
    )


def read_case(text: str) -> Case:
    """A case from JSON text. Raises InputError that names every key at fault and what was found there."""
    try:
        return Case.model_validate(json.loads(text))
    except json.JSONDecodeError as error:
        raise InputError(
            f"This is not JSON: {error.msg} in line {error.lineno}, column {error.colno}.", "case"
        ) from None
    except ValidationError as error:
        raise InputError("\n".join(_said(e) for e in error.errors()), "case") from None


def _said(error: Any) -> str:
    where = ".".join(str(p) for p in error["loc"] if p not in ("piece", "volume", "throttle"))
    if error["type"] == "extra_forbidden":
        return f"{where}: there is no such key."
    if error["type"] == "missing":
        return f"{where}: this is missing."
    found = "" if isinstance(error["input"], dict | list) else f" (found {error['input']!r})"
    return f"{where or 'case'}: {error['msg'].removeprefix('Value error, ')}{found}."


def load_case(path: Path) -> Case:
    """A case from a file [JSON, UTF-8]. Raises InputError if it cannot be read."""
    try:
        text = path.read_text(encoding="utf-8")
    except OSError as error:
        raise InputError(f"{path} cannot be read: {(error.strerror or 'unknown reason').lower()}.", "case") from None
    except UnicodeDecodeError:
        raise InputError(f"{path} is not UTF-8 text.", "case") from None
    return read_case(text)


def speeds(text: str) -> list[float]:
    """Speeds [rad/s] from “1500:7000:400” (from, to, step) or “3000,4500”. Raises InputError for what is neither."""
    try:
        if ":" in text:
            first, last, step = (float(x) for x in text.split(":"))
            if step <= 0 or last < first:
                raise ValueError
            found = list(np.arange(first, last + step * 1e-6, step))
        else:
            found = [float(x) for x in text.split(",")]
    except ValueError:
        raise InputError(
            f"“{text}” is not from:to:step in rpm, as 1500:7000:400, nor a list, as 3000,4500.", "rpm"
        ) from None
    if not found or len(found) > 400 or min(found) < 100:
        raise InputError("Speeds are 100 rpm and more, no more than 400 of them.", "rpm")
    return [n * pi / 30.0 for n in found]

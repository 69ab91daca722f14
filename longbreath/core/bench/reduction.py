"""Flow bench reduction: leak, referral to the test pressure, repeats, uncertainty, differences, velocity."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import inf, sqrt

from longbreath.core.basis import units
from longbreath.core.basis.constants import GAMMA_AIR
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.propagate import budget_of
from longbreath.core.basis.quantiles import chi2_at, t_at
from longbreath.core.basis.working import Figure, Given, Step, Working
from longbreath.core.bench.meter import ISO, MeterReading, reynolds
from longbreath.core.bench.repeats import pooled_repeatability, spread_of

OWN_REPEATS = 4
"""From this many degrees of freedom a session's own repeats say how well the bench repeats, before its card."""
OFF_PRESSURE = 0.01
"""A reading this far (as a share) from the test pressure is marked as referred. Common practice."""


SOURCE = "Common practice (range × percentage); referral by Bernoulli, Q ∝ √Δp, first principles."


__all__ = [
    "ISO",
    "Flow",
    "MeterReading",
    "Noise",
    "check_leak",
    "difference",
    "is_off_pressure",
    "leak_at",
    "mean_velocity",
    "noise_of_repeats",
    "reduce_reading",
    "reduce_repeats",
    "refer",
    "spread_of",
]


@dataclass(frozen=True)
class Noise:
    """What a bench is known to scatter and to be off by.

    repeatability: standard deviation from one setting to the next, share of the flow, with its degrees of freedom
    (infinite when it stands on the bench's card). calibration: expanded uncertainty of the bench's scale, share of the
    flow, None if there is none on record; every reading of the bench has it in common.
    """

    repeatability: float = 0.0
    freedom: float = inf
    calibration: float | None = None
    origin: str = ""

    @property
    def coverage(self) -> float:
        """Coverage factor of the repeatability for 95 %: 2, or Student's t where it rests on few repeats."""
        return 2.0 if self.freedom == inf else t_at(0.975, max(self.freedom, 1.0))


def noise_of_repeats(
    groups: Sequence[Sequence[float]], calibration: float | None, on_card: float, source: str
) -> Noise:
    """How well a bench repeats and how sure its scale is: by its own repeats of a session where they are enough, else by its card.

    groups: the repeated flows [m3/s] of each lift; calibration: expanded uncertainty of the scale; on_card: standard deviation that
    stands on the card with its source [shares of the flow].
    """
    share, freedom = pooled_repeatability(groups)
    if freedom >= OWN_REPEATS:
        return Noise(share, float(freedom), calibration, f"Repeats within {share:.2%} (own repeats of the session).")
    origin = f"Repeats within {on_card:.2%} ({source})." if on_card else ""
    return Noise(on_card, inf, calibration, origin)


@dataclass(frozen=True)
class Flow:
    """One lift, reduced: the figure (its uncertainty includes the calibration), the expanded uncertainty that is its
    own [m3/s], the calibration that all of the bench share, and the flow of each repeat [m3/s]."""

    figure: Figure
    own: float
    calibration: float
    repeats: tuple[float, ...]

    @property
    def value(self) -> float:
        """Flow at the test pressure [m3/s]."""
        return self.figure.value

    @property
    def spread(self) -> float | None:
        """Standard deviation of the repeats [m3/s]; None for a single reading."""
        return spread_of(self.repeats)


def leak_at(leak: MeterReading | None, pressure: float) -> float:
    """Leak flow [m3/s] carried to another pressure [Pa] by the square root (a turbulent leak; common practice)."""
    if leak is None:
        return 0.0
    return leak.gross * sqrt(pressure / leak.pressure)


def check_leak(leak: MeterReading, test_pressure: float, limit: float) -> None:
    """Refuse a set-up whose leak at the test pressure [Pa] is above `limit` [m3/s]. Raises InputError."""
    if leak_at(leak, test_pressure) > limit * (1 + 1e-9):
        raise InputError(
            "The leak is above this bench's limit. Find it before measuring: gasket faces, plugs, valve seats, clay.",
            "leak_percent",
        )


def refer(flow: float, pressure: float, test_pressure: float) -> float:
    """Flow [m3/s] read at `pressure` [Pa], referred to `test_pressure` [Pa]: Q sqrt(p_test / p).

    Raises InputError unless both pressures are more than nought. Source: Bernoulli, first principles.
    """
    if pressure <= 0 or test_pressure <= 0:
        raise InputError("Test pressures must be more than nought.", "pressure")
    return flow * sqrt(test_pressure / pressure)


AMBIENT = 101325.0
"""Room [Pa] for what compressibility is worth: 5 % of it either way moves that by a twentieth."""
CRITICAL_AIR = (2.0 / (GAMMA_AIR + 1.0)) ** (GAMMA_AIR / (GAMMA_AIR - 1.0))


def left_out(pressure: float, test_pressure: float, ambient: float = AMBIENT) -> float:
    """What the square root leaves out by taking air for incompressible, as a share of the flow referred [1].

    |ψ(p_test)/ψ(p)/√(p_test/p) − 1|, ψ the isentropic flow function of a nozzle from `ambient` [Pa]; pressures [Pa]. It stands
    in the uncertainty of every referred flow. Source: first principles; 10 to 28 inH2O 2.5 %.
    """
    ratios = [max(1.0 - p / ambient, CRITICAL_AIR) for p in (pressure, test_pressure)]
    here, there = (sqrt(r ** (2.0 / GAMMA_AIR) - r ** ((GAMMA_AIR + 1.0) / GAMMA_AIR)) for r in ratios)
    return abs(there / here / sqrt(test_pressure / pressure) - 1.0)


REFERABLE = 2.0
"""Factor of pressure over which the square root is trusted to refer a reading. Common practice, no source."""


def check_referable(pressure: float, test_pressure: float) -> None:
    """Refuse a reading so far from the test pressure [Pa] that it cannot be referred. Raises InputError."""
    if not 1.0 / REFERABLE <= pressure / test_pressure <= REFERABLE:
        read, wanted = (units.show(p, "column", "us") for p in (pressure, test_pressure))
        raise InputError(
            f"Read at {read} where {wanted} is the test pressure: too far apart to refer. Reset the motor and read it again.",
            "pressure",
        )


def is_off_pressure(pressure: float, test_pressure: float) -> bool:
    """Whether a reading was taken away from the test pressure [Pa]."""
    return abs(pressure / test_pressure - 1.0) > OFF_PRESSURE


def reduce_reading(reading: MeterReading, test_pressure: float, leak: MeterReading | None = None) -> Figure:
    """Flow at the test pressure with the leak taken off [m3/s], with the uncertainty of its instruments alone.

    Each resolution counts as a rectangular distribution (standard uncertainty = step / √12), the settle window with
    the standard error of its mean; the figure's uncertainty is the expanded one, k = 2. Raises InputError if the leak
    exceeds the reading. Source: see SOURCE; uncertainty by GUM, first order.
    """
    leak_here = leak_at(leak, reading.pressure)
    net = reading.gross - leak_here
    if net < 0:
        raise InputError("The leak is larger than the reading: find the leak before going on.", "percent")
    flow = refer(net, reading.pressure, test_pressure)
    scale = sqrt(test_pressure / reading.pressure)
    flow_part = reading.meter_uncertainty * scale
    pressure_part = flow * 0.5 * reading.pressure_resolution / sqrt(12.0) / reading.pressure
    leak_part = leak.meter_uncertainty * sqrt(test_pressure / leak.pressure) if leak else 0.0
    law_part = flow * left_out(reading.pressure, test_pressure)
    expanded = sqrt(4.0 * (flow_part**2 + pressure_part**2 + leak_part**2) + law_part**2)
    working = _working(reading, test_pressure, leak, (leak_here, net, flow, law_part, expanded))
    return Figure("flow", "Flow at the test pressure", flow, "flow", working, expanded or None)


def _working(
    reading: MeterReading, test_pressure: float, leak: MeterReading | None, found: tuple[float, ...]
) -> Working:
    leak_here, net, flow, law_part, expanded = found
    notes = [*reading.notes()]
    if leak:
        notes.append("Leak carried to the pressure of the reading by the square root (turbulent leak).")
    if is_off_pressure(reading.pressure, test_pressure):
        notes.append(
            "Read away from the test pressure: referred, not read. Reset the motor and take it again if you can."
        )
    givens = [*reading.givens(), Given("Δp", "pressure when read", reading.pressure, "column", reading.row)]
    if leak:
        givens += [
            Given("Q_l", "leak as read", leak.gross, "flow", leak.row),
            Given("Δp_l", "pressure of the leak test", leak.pressure, "column", leak.row),
        ]
    givens.append(Given("Δp_t", "test pressure", test_pressure, "column"))
    steps = reading.steps()
    read = steps[-1].symbol
    if leak:
        steps.append(Step("Q_l′", "Q_l·√(Δp/Δp_l)", leak_here, "flow"))
        steps.append(Step("Q_n", f"{read} − Q_l′", net, "flow"))
    steps.append(Step("Q", f"{'Q_n' if leak else read}·√(Δp_t/Δp)", flow, "flow"))
    if is_off_pressure(reading.pressure, test_pressure):
        steps.append(Step("U_ψ", "what √ leaves out of compressible flow", law_part, "flow"))
    steps.append(Step("U", "2·√(Σ(step/√12)² + s²/n), referred, with U_ψ", expanded, "flow"))
    source = f"{ISO} {SOURCE}" if reading.drop is not None else SOURCE
    rows = (reading.row,) if reading.row else ()
    return Working("Flow at the test pressure", tuple(givens), tuple(steps), source, tuple(notes), rows)


def reduce_repeats(
    readings: Sequence[MeterReading], test_pressure: float, leak: MeterReading | None, noise: Noise
) -> Flow:
    """One lift from its repeats: their mean [m3/s] at `test_pressure` [Pa], with everything known of the bench.

    U_own = √(U_instruments² + (k·r·Q/√n)²): the instruments' part is not made smaller by repeating; the scatter from
    one setting to the next is. The calibration is added for the flow itself and left to `difference` for differences.
    Raises InputError for no reading. Source: GUM, first order.
    """
    if not readings:
        raise InputError("There is no reading at this lift.", "lift")
    each = [reduce_reading(reading, test_pressure, leak) for reading in readings]
    values = tuple(figure.value for figure in each)
    mean = sum(values) / len(values)
    instruments = max(figure.uncertainty or 0.0 for figure in each)
    scatter, restless = scatter_of(values, noise)
    own = sqrt(instruments**2 + scatter**2)
    calibration = noise.calibration or 0.0
    total = sqrt(own**2 + (calibration * mean) ** 2)
    givens, steps = each[0].working.givens, each[0].working.steps
    if len(values) > 1:
        givens = tuple(Given(f"Q_{i}", f"repeat {i}", v, "flow") for i, v in enumerate(values, start=1))
        steps = (
            Step("Q", "ΣQ_i/n", mean, "flow"),
            Step("s", "√(Σ(Q_i − Q)²/(n − 1))", spread_of(values) or 0.0, "flow"),
            Step("U", "instruments: steps and settle window", instruments, "flow"),
        )
    working = Working(
        "Flow at the test pressure",
        givens,
        (*steps, *_spread_steps(noise, mean, scatter, total, len(values) if restless else 0)),
        each[0].working.source,
        (
            *_notes_of(each, noise),
            *((RESTLESS,) if restless else ()),
            *filter(
                None,
                (
                    budget_of(
                        {
                            "instruments and referral": instruments,
                            "scatter from setting to setting": scatter,
                            "scale of the bench": calibration * mean,
                        }
                    ),
                ),
            ),
        ),
        tuple(row for figure in each for row in figure.working.rows),
    )
    figure = Figure("flow", "Flow at the test pressure", mean, "flow", working, total or None)
    return Flow(figure, own, calibration, values)


def scatter_of(values: Sequence[float], noise: Noise) -> tuple[float, bool]:
    """Expanded uncertainty [m3/s] of a mean of repeats from their scatter, and whether they scatter beyond what the bench does.

    The bench's own repeatability r says it, unless the repeats deny it: s²/(r·Q)² above the 99 % point of χ²/(n − 1). Then
    their own spread counts, with Student's t for n − 1 degrees of freedom. Source: chi-squared test of a variance.
    """
    n, mean = len(values), sum(values) / len(values)
    known = noise.coverage * noise.repeatability * mean / sqrt(n)
    own = spread_of(values)
    if own is None or own <= noise.repeatability * mean * sqrt(chi2_at(0.99, n - 1) / (n - 1)):
        return known, False
    return max(known, t_at(0.975, n - 1) * own / sqrt(n)), True


RESTLESS = "These repeats scatter more than the bench does: their own spread counts. Find out why, and read it again."


def _spread_steps(noise: Noise, mean: float, scatter: float, total: float, restless: int) -> list[Step]:
    """What the bench's scatter and calibration add to the spread of a flow."""
    calibration = noise.calibration or 0.0
    steps = []
    if restless:
        t = t_at(0.975, restless - 1)
        steps.append(Step("U_r", f"{t:.2f}·s/√n, more than the bench’s r = {noise.repeatability:.2%}", scatter, "flow"))
    elif noise.repeatability:
        steps.append(Step("U_r", f"{noise.coverage:.2f}·r·Q/√n, r = {noise.repeatability:.2%}", scatter, "flow"))
    if calibration:
        steps.append(Step("U_c", f"calibration, {calibration:.2%} of Q", calibration * mean, "flow"))
    if steps:
        steps.append(Step("U_Q", "√(U² + U_r² + U_c²)", total, "flow"))
    return steps


def _notes_of(each: Sequence[Figure], noise: Noise) -> tuple[str, ...]:
    """The notes of all repeats once, and what is known of the bench."""
    notes = list(dict.fromkeys(note for figure in each for note in figure.working.notes))
    if noise.origin:
        notes.append(noise.origin)
    if noise.calibration is None:
        notes.append("No calibration on record: the scale itself is unchecked. Differences on this bench stand.")
    return tuple(notes)


def difference(a: Flow, b: Flow, same_bench: bool = True) -> Figure:
    """B − A of two flows at one lift [m3/s], with its uncertainty.

    What each reading has for itself is added in quadrature. The bench's calibration is common to both and only scales
    their difference: c·|ΔQ|; on two benches it counts in full for each. Source: GUM, first order.
    """
    value = b.value - a.value
    own = sqrt(a.own**2 + b.own**2)
    scale = (
        max(a.calibration, b.calibration) * abs(value)
        if same_bench
        else sqrt((a.calibration * a.value) ** 2 + (b.calibration * b.value) ** 2)
    )
    spread = sqrt(own**2 + scale**2)
    share = value / a.value if a.value else 0.0
    working = Working(
        "Difference in flow",
        (Given("Q_A", "A at this lift", a.value, "flow"), Given("Q_B", "B at this lift", b.value, "flow")),
        (
            Step("ΔQ", "Q_B − Q_A", value, "flow"),
            Step("ΔQ/Q_A", "share of A", share, "percent"),
            Step("U_0", "√(U_A² + U_B²), each reading’s own", own, "flow"),
            Step("U", f"√(U_0² + {'(c·ΔQ)²' if same_bench else '(c·Q_A)² + (c·Q_B)²'})", spread, "flow"),
        ),
        "Difference of two independent readings; uncertainties in quadrature (GUM).",
        (
            "One port on this fixture. It is not multiplied by the number of cylinders, and it is not power.",
            *filter(None, (budget_of({"A’s own": a.own, "B’s own": b.own, "scale of the bench": scale}),)),
        ),
        a.figure.working.rows + b.figure.working.rows,
    )
    return Figure("flow_difference", "B − A", value, "flow", working, spread or None, signed=True)


def mean_velocity(flow: float, area: float, flow_spread: float | None = None, rows: tuple[str, ...] = ()) -> Figure:
    """Mean velocity [m/s] of `flow` [m3/s] through `area` [m2]: v = Q / A.

    Raises InputError for an area of nought or less. Source: continuity (ft/s = 2.4 × cfm ÷ in²).
    """
    if area <= 0:
        raise InputError("A section's area must be more than nought.", "area")
    if flow < 0:
        raise InputError("A flow cannot be negative.", "flow")
    working = Working(
        "Mean velocity in a section",
        (Given("Q", "volume flow", flow, "flow"), Given("A", "area of the section", area, "area")),
        (Step("v", "Q/A", flow / area, "velocity"),),
        "Continuity, first principles.",
        (
            "Mean over the section at the density of the bench air. Same section and more flow is more velocity, nothing else.",
        ),
        rows,
    )
    spread = flow_spread / area if flow_spread else None
    return Figure("mean_velocity", "Mean velocity", flow / area, "velocity", working, spread)


def inlet_flow_figure(reading: MeterReading, title: str, source: str) -> Figure:
    """Flow at the inlet [m3/s] of one reading, before leak and test pressure; an orifice tells its Reynolds number too."""
    steps = tuple(reading.steps())
    if reading.orifice is not None and reading.air is not None:
        number = reynolds(reading.orifice, reading.gross, reading.air)
        steps = (*steps, Step("Re", "4·ṁ/(π·D·μ)", number, "ratio"))
    working = Working(title, reading.givens(), steps, source, reading.notes())
    return Figure("flow", "Flow at the inlet", reading.gross, "flow", working)

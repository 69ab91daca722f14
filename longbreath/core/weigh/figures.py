"""Figures of weighing with their working: net, equal boost, response, rankings, costs, trials."""

from __future__ import annotations

from collections.abc import Sequence

from longbreath.core.basis.working import Figure, Given, Step, Working, reckoned
from longbreath.core.compare.bands import Band
from longbreath.core.compare.bands import Judged as BandJudged
from longbreath.core.compare.compare import Effect
from longbreath.core.weigh.boost import EqualBoost
from longbreath.core.weigh.fuel import FuelTrial, Worth
from longbreath.core.weigh.ledger import Net, Stacked, Stage
from longbreath.core.weigh.parity import PriceRow
from longbreath.core.weigh.readings import ReadingsCompared
from longbreath.core.weigh.response import ResponseJudged as ResponseJudged
from longbreath.core.weigh.several import PairEffect, Ranked

TUKEY = (
    "One model over all pulls; studentised range over all pairs (Tukey 1953, Kramer 1956). See Method, Comparing pulls."
)


def effect_figure(
    name: str,
    label: str,
    kind: str,
    effect: Effect,
    givens: tuple[Given, ...],
    source: str,
    notes: tuple[str, ...] = (),
) -> Figure:
    """A difference with its standard error, degrees of freedom and interval."""
    steps = (
        Step("se", "standard error", effect.standard_error, kind),
        Step("ν", "degrees of freedom", effect.df, "ratio"),
        Step("±", "half width of the 95 % interval", effect.half_width, kind),
        Step("b", "B − A", effect.value, kind),
    )
    return reckoned(name, label, givens, steps, source, notes, signed=True, uncertainty=effect.half_width or None)


def net_figures(net: Net) -> dict[str, Figure]:
    """The net difference of each band, and each stage on the way: "net-BAND", "stage-BAND-N"."""
    found = {}
    for item, stages in zip(net.bands, net.stages, strict=True):
        found[f"net-{item.name}"] = _net_figure(item, stages, net)
        for k, stage in enumerate(stages):
            found[f"stage-{item.name}-{k}"] = _stage_figure(item, stage)
    return found


def _net_figure(item: BandJudged, stages: Sequence[Stage], net: Net) -> Figure:
    givens = tuple(
        Given(f"d{k}", stage.label, stage.value, "torque", stage.kind) for k, stage in enumerate(stages[:-1])
    )
    notes = (f"Verdict: {item.words}.", *net.warnings)
    if not net.is_closed:
        notes = (f"Not known: {', '.join(net.unknown)}. This is the result of a package.", *notes)
    working = Working(
        f"Net B − A, {item.name}",
        givens,
        (
            Step("se", "√Σ se² (tests that share pulls: Σ se)", item.effect.standard_error, "torque"),
            Step("±", "t·se + half of every bound", item.effect.half_width, "torque"),
            Step("b", "Σ of the stages", item.effect.value, "torque"),
        ),
        "Propagation of uncertainty; Satterthwaite; a bound counts with its whole range. See Method, Comparing pulls.",
        notes,
    )
    return Figure(
        f"net-{item.name}", f"net, {item.name}", item.effect.value, "torque", working, item.effect.half_width, True
    )


def _stage_figure(item: BandJudged, stage: Stage) -> Figure:
    step = Step("d", stage.kind, stage.value, "torque")
    label = f"{stage.label}, {item.name}"
    source = "The ledger: measured alone, or bounded by a written range."
    return reckoned(
        f"stage-{stage.label}", label, (), (step,), source, signed=True, uncertainty=stage.half_width or None
    )


def stack_figure(found: Stacked) -> Figure:
    """By how much the sum of the steps misses the whole."""
    givens = (Given("Σ", "sum of the steps", found.total, "torque"), Given("W", "the whole", found.whole, "torque"))
    step = Step("m", "W − Σ", found.miss, "torque")
    words = (
        "The steps add up to the whole, within the noise."
        if found.is_consistent
        else "The steps do not add up to the whole."
    )
    return reckoned(
        "stack",
        "the whole less the steps",
        givens,
        (step,),
        "Propagation of uncertainty.",
        (words,),
        signed=True,
        uncertainty=found.half_width,
    )


def equal_figure(name: str, band: Band, found: EqualBoost) -> Figure | None:
    """B − A at equal pressure over a band; None where more than half of it is refused."""
    effect = found.band(band.low, band.high)
    if effect is None:
        return None
    inside = (found.grid >= band.low - 1e-9) & (found.grid <= band.high + 1e-9) & found.covered
    givens = (
        Given("p_A", "A’s pressure, absolute, mean of the band", float(found.pressure[inside].mean()), "pressure"),
        Given("p_B", "B’s pressure, absolute", float(found.pressure_b[inside].mean()), "pressure"),
        Given("Δ", "B − A as set, there", float(found.as_set[inside].mean()), "torque"),
        Given("n", "pulls of the sweep", float(found.pulls), "count"),
    )
    source = (
        "Analysis of covariance over this engine’s own sweep."
        if found.method == "own sweep"
        else "Common practice (pressure-ratio law): the weaker way."
    )
    return effect_figure(name, f"at equal boost, {band.name}", "torque", effect, givens, source, found.notes)


def response_figure(name: str, item: ResponseJudged) -> Figure:
    """A quantity of response compared."""
    givens = (Given("A", f"{item.name}, A", item.reference, item.kind),)
    return effect_figure(
        name, item.name, item.kind, item.effect, givens, "Least squares with drift, one number a pull."
    )


def pair_figure(name: str, ranked: Ranked, pair: PairEffect, kind: str = "torque") -> Figure:
    """The difference of two variants, read together with all other pairs."""
    givens = tuple(
        Given(letter, "mean", value, kind) for letter, value in ranked.means if letter in (pair.one, pair.other)
    )
    label = f"{pair.other} − {pair.one}, {ranked.name}"
    return effect_figure(name, label, kind, pair.effect, givens, TUKEY, (f"Verdict: {pair.verdict}.",))


def cost_figures(rows: Sequence[PriceRow], unit: float) -> dict[str, Figure]:
    """What each kit costs in all ("cost-LETTER"), and a unit of its proven gain ("per-LETTER"); unit: one of the viewer's units
    [N m]."""
    found = {}
    for row in rows:
        cost, letter = row.cost, row.cost.kit.letter
        if cost.total is None:
            continue
        givens = (
            Given("P", "the part, retail", cost.part or 0.0, "money"),
            Given("Z", "what must be added, retail", cost.added or 0.0, "money"),
            Given(
                "F",
                "fitting",
                cost.fitting if cost.fitting is not None else "not counted",
                "money" if cost.fitting is not None else "",
            ),
        )
        step = Step("K", "P + Z + F", cost.total, "money")
        source = "Definition: the same usable state, retail with retail."
        found[f"cost-{letter}"] = reckoned(
            f"cost-{letter}", f"{cost.kit.name}, in all", givens, (step,), source, significant=5
        )
        if row.per_unit is not None:
            per = Step("k", "K/gain", row.per_unit * unit, "money")
            gain = Given("g", "proven gain by use", row.value, "torque")
            note = ("Of a proven gain only; one application, no average.",)
            found[f"per-{letter}"] = reckoned(
                f"per-{letter}", f"{cost.kit.name}, a unit of gain", (*givens, gain), (step, per), source, note
            )
    return found


def reading_figure(name: str, found: ReadingsCompared) -> Figure:
    """A difference of readings under one set of conditions."""
    kind = {"temperature": "temperature_difference", "noise": "level", "mass": "body_mass"}[found.kind]
    givens = (
        Given("n", "readings of A and of B", f"{found.counts[0]} and {found.counts[1]}"),
        Given("", "conditions", found.conditions),
    )
    source = "Welch’s test; the tool’s step as the least scatter (GUM 4.3.7)."
    return effect_figure(
        name, found.conditions, kind, found.effect, givens, source, (f"Verdict: {found.verdict}.", *found.out)
    )


def trial_figures(trial: FuelTrial, worth: Worth | None) -> dict[str, Figure]:
    """Change of consumption, the smallest saving that could be proven, and what it is worth."""
    half = (trial.high - trial.low) / 2.0
    givens = (
        Given("n_B", "vehicles with the part", float(trial.treated), "count"),
        Given("n_A", "controls", float(trial.controls), "count"),
        Given("c", "consumption before, total fuel over total distance", trial.before, "road_consumption"),
    )
    source = "Difference in differences of ln(fuel/distance); mixed model by REML, vehicles random."
    steps = (Step("ν", "vehicles − 2", trial.df, "ratio"), Step("x", "exp(b) − 1", trial.share, "percent"))
    found = {
        "fuel-share": reckoned(
            "fuel-share", "change of fuel used", givens, steps, source, trial.notes, signed=True, uncertainty=half
        ),
        "fuel-provable": reckoned(
            "fuel-provable",
            "smallest saving it could have proven",
            givens,
            (Step("δ", "1 − exp(−(t₉₇.₅ + t₈₀)·se)", trial.provable, "percent"),),
            "Power of a t test, four times in five.",
            significant=2,
        ),
    }
    if worth is not None:
        for name, label, kind, values in (
            ("fuel-saved", "fuel saved a year", "fuel_volume", worth.fuel),
            ("fuel-money", "money saved a year", "money", worth.money),
            ("fuel-carbon", "CO₂ saved a year", "body_mass", worth.carbon),
        ):
            if values is not None:
                step = Step("y", "change × consumption × distance", values[1], kind)
                spread = max(values[2] - values[0], 0.0) / 2.0
                found[name] = reckoned(name, label, givens, (step,), source, signed=True, uncertainty=spread or None)
    return found

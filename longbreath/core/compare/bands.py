"""Bands of use: the verdict for each band and for the peaks, and the one sentence that sums it up."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.core.basis.sentence import rpm
from longbreath.core.basis.units import show
from longbreath.core.basis.working import Figure, Given, Step, Working
from longbreath.core.compare import compare, counted
from longbreath.core.compare.compare import Comparison, Effect
from longbreath.core.compare.influence import Influence, influences_of
from longbreath.core.compare.remarks import remarks

SOURCE = "Least squares with drift; t intervals shared by Bonferroni. See Method, Comparing pulls."


@dataclass(frozen=True)
class Band:
    """A band of use: its name ("low", "middle", "top") and its bounds [rad/s]."""

    name: str
    low: float
    high: float

    @property
    def words(self) -> str:
        """Its bounds in rpm, for sentences."""
        return f"{rpm(self.low)}–{rpm(self.high)}"


@dataclass(frozen=True)
class Judged:
    """A difference with its verdict: `kind` is "torque" or "power", `reference` is A's value (SI), margin in SI."""

    name: str
    kind: str
    effect: Effect
    verdict: str
    reference: float
    margin: float
    band: Band | None = None

    @property
    def share(self) -> float:
        """Difference as a share of A."""
        return self.effect.value / self.reference

    @property
    def is_small(self) -> bool:
        """Whether the difference found is under the margin of no meaningful difference."""
        return abs(self.effect.value) < self.margin

    @property
    def margin_words(self) -> str:
        """The margin as a share of A: "1 %"."""
        return f"{100.0 * self.margin / self.reference:.3g} %"

    @property
    def words(self) -> str:
        """The verdict as a screen says it: a difference that is proven, and small, says so."""
        small = self.verdict in (compare.GAIN, compare.LOSS) and self.is_small
        return f"{self.verdict}, though under {self.margin_words}" if small else self.verdict


@dataclass(frozen=True)
class Local:
    """Difference at one speed [rad/s] with the half width of the simultaneous band [N m]."""

    speed: float
    difference: float
    half_width: float


@dataclass(frozen=True)
class Weighing:
    """A comparison judged: bands in order of speed, the two peaks, and the largest local difference of each band."""

    comparison: Comparison
    bands: tuple[Judged, ...]
    peak_torque: Judged
    peak_power: Judged
    locals: tuple[Local, ...]

    @property
    def judged(self) -> tuple[Judged, ...]:
        """Bands and peaks together."""
        return (*self.bands, self.peak_torque, self.peak_power)

    @cached_property
    def influences(self) -> dict[str, Influence]:
        """What one pull does to each band, by the band's name."""
        spans = {item.name: (item.band.low, item.band.high) for item in self.bands if item.band is not None}
        return influences_of(self.comparison, spans)

    def having(self, verdict: str) -> tuple[Judged, ...]:
        """The bands with that verdict."""
        return tuple(band for band in self.bands if band.verdict == verdict)


def weigh(comparison: Comparison, bands: tuple[Band, ...], after_looking: bool = False) -> Weighing:
    """Judge each band and both peaks; the intervals read together (bands, and the two peaks) share one error.

    after_looking: the bands were chosen when the pulls were there already; their intervals then use the simultaneous critical
    value, which holds for any band that is picked out by eye. Bands of which the pulls cover less than half are left out.
    Raises EvidenceError if none is left.
    """
    step = float(comparison.grid[1] - comparison.grid[0])
    usable = tuple(band for band in bands if _covered(comparison, band, step) >= 0.5)
    if not usable:
        raise EvidenceError("The pulls cover none of the vehicle's bands of use.")
    judged = []
    for band in usable:
        found = comparison.band_effect(band.low, band.high, family=len(usable))
        if after_looking:
            half = max(found.half_width, comparison.critical * found.standard_error)
            found = replace(found, half_width=half)
        reference = comparison.mean_of_a(band.low, band.high)
        margin = comparison.margin_share * reference
        judged.append(
            Judged(
                band.name,
                "torque",
                found,
                compare.verdict(found, margin, after_looking, comparison.design.drift, comparison.confidence),
                reference,
                margin,
                band,
            )
        )
    local = locals_of(comparison, usable)
    return Weighing(
        comparison, tuple(judged), _peak(comparison, of_power=False), _peak(comparison, of_power=True), local
    )


def locals_of(comparison: Comparison, bands: Iterable[Band]) -> tuple[Local, ...]:
    """The largest difference at one speed of each band [N m], with the half width of the simultaneous band."""
    found = []
    for band in bands:
        at = comparison.largest_local(band.low, band.high)
        numbers = comparison.grid[at], comparison.difference[at], comparison.half_width[at]
        found.append(Local(*(float(number) for number in numbers)))
    return tuple(found)


def _covered(comparison: Comparison, band: Band, step: float) -> float:
    inside = ((comparison.grid >= band.low - 1e-9) & (comparison.grid <= band.high + 1e-9)).sum()
    return float(inside) * step / max(band.high - band.low, step)


def _peak(comparison: Comparison, of_power: bool) -> Judged:
    found = comparison.peak_effect(of_power, family=2)
    curve = comparison.a * comparison.grid if of_power else comparison.a
    reference = float(curve.max())
    margin = comparison.margin_share * reference
    kind = "power" if of_power else "torque"
    said = compare.verdict(found, margin, False, comparison.design.drift, comparison.confidence)
    return Judged(f"peak {kind}", kind, found, said, reference, margin)


def local_losses(weighing: Weighing) -> tuple[tuple[Band, Local], ...]:
    """The largest proven loss at one speed in each band whose mean shows no loss: what a mean can hide.

    Proven: the simultaneous band lies wholly below nought, and the loss is at least the margin of no meaningful difference.
    """
    comparison, found = weighing.comparison, []
    margin = comparison.margin_share * comparison.a
    lost = (comparison.difference + comparison.half_width < 0) & (comparison.difference < -margin)
    for item in weighing.bands:
        if item.band is None or item.verdict == compare.LOSS:
            continue
        inside = lost & comparison.inside(item.band.low, item.band.high)
        if inside.any():
            at = int(np.argmin(np.where(inside, comparison.difference, np.inf)))
            numbers = (comparison.grid[at], comparison.difference[at], comparison.half_width[at])
            found.append((item.band, Local(*(float(number) for number in numbers))))
    return tuple(found)


PLACES = {"low": "down low", "middle": "in the middle", "top": "at the top"}


def headline(weighing: Weighing) -> str:
    """The verdict in one sentence, for example "A little more in the middle, a little less at the top."."""
    parts = []
    for verdict, word in ((compare.GAIN, "more"), (compare.LOSS, "less")):
        found = weighing.having(verdict)
        if found:
            size = "hardly " if verdict == compare.GAIN and all(item.is_small for item in found) else _size(found)
            parts.append(f"{size}{word} {_where(found)}")
    if parts:
        text = ", ".join(parts)
        return text[0].upper() + text[1:] + "."
    with_drift = [item for item in weighing.bands if item.verdict in (compare.GAIN_OR_DRIFT, compare.LOSS_OR_DRIFT)]
    if with_drift:
        return (
            f"A difference {_where(with_drift)}, by the part or by drift: what was pulled first was not pulled again."
        )
    if all(item.verdict == compare.NO_DIFFERENCE for item in weighing.bands):
        return "No meaningful difference anywhere in the band of use."
    if any(item.verdict == compare.NO_DIFFERENCE for item in weighing.bands):
        return "Nothing proven, and in part no meaningful difference."
    return "Nothing proven: the difference is inside the noise."


def _where(items: Iterable[Judged]) -> str:
    return " and ".join(PLACES.get(item.name, item.name) for item in items)


def _size(items: tuple[Judged, ...]) -> str:
    share = max(abs(item.share) for item in items)
    return "a little " if share < 0.03 else "clearly " if share < 0.08 else "much "


def judged_figure(item: Judged, comparison: Comparison, influence: Influence | None = None) -> Figure:
    """The difference of a band mean or a peak as a Figure with working; `influence`: what one pull does to it."""
    design, found = comparison.design, item.effect
    what = f"mean torque {item.band.words} rpm" if item.band else item.name
    drift = (Step("c", "drift per pull, taken out", found.drift, item.kind),) if design.drift else ()
    apart = f", A and B scattering apart, {found.df:.1f} degrees of freedom" if design.unequal else ""
    least = f", at least {show(comparison.known, 'torque', 'us')}" if comparison.known else ""
    added = counted.in_short(comparison)
    working = Working(
        f"B − A, {what}",
        (
            Given("y", f"{what} of each valid pull", f"{len(comparison.runs)} pulls", "", "pulls below"),
            Given("x", "0 for A, 1 for B", f"{comparison.count('A')} of A, {comparison.count('B')} of B"),
            Given("k", "place in the order", "1, 2, 3 …"),
        ),
        (
            Step("a", "A at the middle of the session", item.reference, item.kind),
            Step("b", design.formula, found.value, item.kind),
            *drift,
            Step("s", f"√(RSS/{design.df})", found.residual_sd, item.kind),
            Step("se", f"s·√{design.leverage:.3f}{apart}{least}{added}", found.standard_error, item.kind),
            Step("±", f"t·se, intervals read together share {error_words(comparison)}", found.half_width, item.kind),
            *_area(item),
            Step("m", f"margin of no meaningful difference, {item.margin_words} of A", item.margin, item.kind),
        ),
        SOURCE,
        (
            f"Verdict: {item.words}.",
            *remarks(comparison),
            *((influence.sentence(item.effect),) if influence is not None else ()),
        ),
        tuple(run.row for run in comparison.runs),
    )
    return Figure(item.name.replace(" ", "_"), what, found.value, item.kind, working, found.half_width, signed=True)


def error_words(comparison: Comparison) -> str:
    """What the intervals of a comparison may be wrong in: "4.1 %"."""
    return f"{100.0 * (1.0 - comparison.confidence):.2g} %"


def _area(item: Judged) -> tuple[Step, ...]:
    """What a mean over a band is as an area: ∫(B − A) dω, which is a power [W]."""
    if item.band is None:
        return ()
    return (
        Step(
            "∫",
            "b·(ω₂ − ω₁), the area between the curves",
            item.effect.value * (item.band.high - item.band.low),
            "power",
        ),
    )


def place_figure(comparison: Comparison) -> Figure:
    """How far the speed of peak power moved, with its interval."""
    found = comparison.peak_place()
    working = Working(
        "Place of peak power, B − A",
        (Given("n", "valid pulls", f"{len(comparison.runs)}"),),
        (
            Step("se", "never less than a grid step gives", found.standard_error, "speed"),
            Step("±", "t·se", found.half_width, "speed"),
            Step("b", comparison.design.formula, found.value, "speed"),
        ),
        SOURCE,
        ("Each pull’s own highest power, wherever it lies. On a flat peak its place says little.",),
        tuple(run.row for run in comparison.runs),
    )
    return Figure("peak_place", "place of peak power", found.value, "speed", working, found.half_width, signed=True)


def return_figure(comparison: Comparison) -> Figure | None:
    """Last less first pulls of what was pulled first, over the whole curve [N m], with working; None without a return."""
    back = comparison.return_to_first()
    if back is None:
        return None
    (change, before, after), label = back, comparison.first
    other = "B" if label == "A" else "A"
    working = Working(
        f"Return to {label}",
        (
            Given("n₁", f"pulls of {label} before {other}", float(before), "count"),
            Given("n₂", f"pulls of {label} after {other}", float(after), "count"),
        ),
        (Step(f"Δ{label}", f"mean torque of the last {label} − of the first {label}, all speeds", change, "torque"),),
        "Difference of means.",
        ("It is taken out of B − A as drift; the gate asks what harm drift may have done, not how large it is.",),
        tuple(run.row for run in comparison.runs if run.label == label),
    )
    name = f"last {label} less first {label}"
    return Figure("return", name, change, "torque", working, signed=True, significant=2)


def local_figure(local: Local, comparison: Comparison, name: str) -> Figure:
    """The difference at one speed with the simultaneous band, as a Figure with working."""
    at = int(abs(comparison.grid - local.speed).argmin())
    design = comparison.design
    working = Working(
        f"B − A at {rpm(local.speed)} rpm",
        (
            Given("n", "valid pulls", f"{len(comparison.runs)}, {design.df} degrees of freedom"),
            Given("A", "A at this speed, drift taken out", float(comparison.a[at]), "torque"),
            Given("B", "B at this speed, drift taken out", float(comparison.b[at]), "torque"),
        ),
        (
            Step("b", design.formula, local.difference, "torque"),
            Step("s", f"√(RSS/{design.df}) at this speed", float(comparison.residual_sd[at]), "torque"),
            Step("se", f"s·√{design.leverage:.3f}", float(comparison.standard_error[at]), "torque"),
            Step(
                "t*",
                f"max |t| over the whole curve, held but for {error_words(comparison)}",
                comparison.critical,
                "ratio",
            ),
            Step("±", "t*·se", local.half_width, "torque"),
        ),
        "Least squares with drift; simultaneous band by the largest |t| over the curve. See Method, Comparing pulls.",
        ("The band holds for the whole curve at once, so any speed may be picked out after looking.",),
        tuple(run.row for run in comparison.runs),
    )
    return Figure(
        name,
        f"largest local, at {rpm(local.speed)} rpm",
        local.difference,
        "torque",
        working,
        local.half_width,
        signed=True,
    )


def ask(weighing: Weighing, low: float, high: float) -> Judged:
    """The verdict for a band chosen after looking, low to high [rad/s].

    Its interval uses the simultaneous critical value, which holds for any band that is picked out by eye.
    Raises InputError for a band the wrong way round, EvidenceError for one without speeds in it.
    """
    if high <= low:
        raise InputError("The band must end above where it begins.", "high")
    comparison = weighing.comparison
    plain = comparison.band_effect(low, high)
    half = comparison.critical * plain.standard_error
    found = replace(plain, half_width=half)
    reference = comparison.mean_of_a(low, high)
    margin = comparison.margin_share * reference
    band = Band("band asked about", low, high)
    return Judged(
        band.name,
        "torque",
        found,
        compare.verdict(found, margin, True, comparison.design.drift, comparison.confidence),
        reference,
        margin,
        band,
    )


def figures_of(weighing: Weighing) -> dict[str, Figure]:
    """Bands and peaks by name, the largest local difference of each band as "local-<band>", and the return to A."""
    comparison = weighing.comparison
    found = {
        item.name.replace(" ", "-"): judged_figure(item, comparison, weighing.influences.get(item.name))
        for item in weighing.judged
    }
    for band, local in zip(weighing.bands, weighing.locals, strict=True):
        key = f"local-{band.name}"
        found[key] = local_figure(local, comparison, key)
    back = return_figure(comparison)
    found["peak-place"] = place_figure(comparison)
    return found | ({"return": back} if back is not None else {})

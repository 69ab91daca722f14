"""What is worked out of a candidate for a target: velocity, loss on the head, tuned speeds, air of a turbo, timing of a disc."""

from __future__ import annotations

from math import pi, sqrt

from longbreath.core.basis.errors import positive
from longbreath.core.basis.sentence import Sentence, rpm
from longbreath.core.basis.working import Figure, Given, Step, reckoned
from longbreath.core.bench import stacks
from longbreath.core.engine import runners
from longbreath.core.path import volumes
from longbreath.core.reckon.candidates import Candidate, Limits, Setting
from longbreath.core.reckon.checks import LimitCheck, limit
from longbreath.core.timing import closing

QUOTES_AGREE = 0.05
"""Two ratings that differ by more than this share contradict one another."""
CASE_RATIOS = (1.25, 1.55)
"""Crankcase compression ratios in use (common practice, no source)."""
Part = tuple[dict[str, Figure], list[LimitCheck], list[str]]
_NOTHING: Part = ({}, [], [])


def area_of(candidate: Candidate) -> tuple[float, str] | None:
    """Section of one cylinder's passage [m2] and how it was told: area, width and height, or bore; None if unknown."""
    area, told = candidate.number("area"), "as told"
    width, height = candidate.number("section_width"), candidate.number("section_height")
    bore = candidate.number("bore")
    if area is None and width is not None and height is not None:
        positive(section_width=width, section_height=height)
        area, told = width * height, "width × height, corners left square"
    if area is None and bore is not None:
        area, told = pi / 4.0 * bore**2, "π/4·D²"
    if area is None:
        return None
    positive(area=area)
    return area, told


def _origin(candidate: Candidate, *keys: str) -> str:
    found = [candidate.values[key] for key in keys if key in candidate.values]
    return found[0].words if found else ""


def velocity(candidate: Candidate, limits: Limits, setting: Setting) -> Part:
    """Mean velocity at the target in the section, by the air that the target's power needs."""
    section = area_of(candidate)
    if section is None or candidate.family in ("turbocharger", "disc or crank", "other"):
        return _NOTHING
    area, told = section
    air = limits.power * setting.consumption * setting.air_fuel_ratio
    flow = air / setting.density
    shared = candidate.family in ("throttle body", "carburettor")
    while_open = flow if shared else setting.engine.strokes * flow / setting.engine.cylinders
    mean = while_open / area
    givens = (
        Given("P", "target power", limits.power, "power"),
        Given("b", "brake specific fuel consumption", setting.consumption, "consumption"),
        Given("AFR", "air to fuel, by mass", setting.air_fuel_ratio, "ratio"),
        Given("ρ", "density of the intake air", setting.density, "density"),
        Given("A", f"section, {told}", area, "area", _origin(candidate, "area", "section_width", "bore")),
    )
    divided = "Q/A, one for all cylinders" if shared else f"{setting.engine.strokes}·Q/(n·A)"
    figure = reckoned(
        "velocity",
        f"{candidate.name}, at the target",
        givens,
        (Step("Q", "P·b·AFR/ρ", flow, "flow"), Step("v", divided, mean, "velocity")),
        "First principles: a cylinder’s air passes in one stroke.",
        ("Which velocity is right is a school’s choice; the limits are the target’s.",),
    )
    least, most = limits.velocity_least, limits.velocity_most
    speeds = ((mean, "velocity"), (least, "velocity"), (most, "velocity"))
    values = (*speeds, (area * mean / most, "area"), (area * mean / least, "area"))
    holds, words = True, "{0} at the target is within what it asks."
    if mean > most:
        holds = False
        words = f"Too small: {{0}} at the target for {{2}} at most; it is short of {mean / most - 1:.0%} of area ({{3}} wanted)."
    elif mean < least and not shared:
        holds = False
        more = f"{least / mean - 1:.0%} more area than {{4}}, which costs torque."
        words = f"Too large: {{0}} at the target for {{1}} at least; {more}"
    return {"velocity": figure}, [LimitCheck("velocity", holds, Sentence(words, values=values))], []


def loss(candidate: Candidate, limits: Limits, setting: Setting) -> Part:
    """Flow lost by bolting it on this head: as measured on it, else by the series law from its own flow."""
    measured = candidate.values.get("loss")
    if measured is not None:
        share = measured.number
        given = (Given("ℓ", "flow lost by bolting it on", share, "percent", measured.words),)
        figure = reckoned(
            "loss",
            f"{candidate.name}, loss on this head",
            given,
            (Step("ℓ", "measured on the bench", share, "percent"),),
            "Measured.",
        )
    else:
        flow = candidate.number("flow")
        if (
            flow is None
            or setting.head_flow is None
            or candidate.family not in ("manifold", "throttle body", "carburettor")
        ):
            return _NOTHING
        both = stacks.series((setting.head_flow, flow))
        share = 1.0 - both / setting.head_flow
        figure = reckoned(
            "loss",
            f"{candidate.name}, loss on this head",
            (
                Given("Q_h", f"head alone, {setting.head_words}", setting.head_flow, "flow"),
                Given("Q_p", "the part alone, at the same test pressure", flow, "flow", _origin(candidate, "flow")),
            ),
            (Step("Q", "1/√(1/Q_h² + 1/Q_p²)", both, "flow"), Step("ℓ", "1 − Q/Q_h", share, "percent")),
            stacks.SOURCE,
            (stacks.CAUTION,),
        )
    short = "It costs {0} of this head’s flow, {1} is allowed: {2} too much."
    return (
        {"loss": figure},
        limit("loss", share, limits.loss, "percent", "It costs {0} of this head’s flow; {1} is allowed.", short),
        [],
    )


def tuned(candidate: Candidate, limits: Limits, setting: Setting) -> Part:
    """The speeds its runner tunes at, and whether any school has one in the band asked for."""
    length, section = candidate.number("length"), area_of(candidate)
    if candidate.family != "manifold" or length is None or section is None:
        return _NOTHING
    area = section[0]
    runner = runners.Runner(
        length + setting.port,
        sqrt(4.0 * area / pi),
        area,
        setting.duration,
        setting.temperature,
        setting.cylinder_volume,
        setting.compression_ratio,
    )
    found = runners.tuned_speeds(runner, (runners.RULE, runners.HELMHOLTZ))
    figures = {f"tuned-{t.figure.name}": t.figure for t in found}
    if limits.tuned_from is None or limits.tuned_to is None:
        return figures, [], []
    inside = [t for t in found if limits.tuned_from <= t.speed <= limits.tuned_to]
    band = f"{rpm(limits.tuned_from)}–{rpm(limits.tuned_to)} rpm"
    if inside:
        words = ", ".join(f"{rpm(t.speed)} rpm ({t.figure.label})" for t in inside)
        return figures, [LimitCheck("tuned", True, Sentence(f"It tunes within {band}: {words}."))], []
    nearest = min(found, key=lambda t: min(abs(t.speed - limits.tuned_from), abs(t.speed - limits.tuned_to)))  # type: ignore[operator]
    words = (
        f"By no school does it tune within {band}; the nearest is {rpm(nearest.speed)} rpm ({nearest.figure.label})."
    )
    return figures, [LimitCheck("tuned", False, Sentence(words))], []


def turbo(candidate: Candidate, limits: Limits, setting: Setting) -> Part:
    """Air and pressure ratio that the target needs against the rating; two ratings that contradict are said."""
    rated = candidate.number("mass_flow")
    if candidate.family != "turbocharger" or rated is None:
        return _NOTHING
    positive(mass_flow=rated)
    air = limits.power * setting.consumption * setting.air_fuel_ratio
    origin = _origin(candidate, "mass_flow")
    figure = reckoned(
        "mass_flow_limit",
        f"{candidate.name}, air it must deliver",
        (Given("P", "target power", limits.power, "power"), Given("ṁ_r", "rated for", rated, "mass_flow", origin)),
        (Step("s", "ṁ/ṁ_r", air / rated, "percent"), Step("ṁ", "P·b·AFR", air, "mass_flow")),
        "First principles; the rating is the maker’s.",
    )
    short = "The target needs {0} of air, it is rated for {1}: short of {2}."
    checks = limit("mass_flow", air, rated, "mass_flow", "The target needs {0} of air, it is rated for {1}.", short)
    remarks = []
    other = candidate.number("mass_flow_other")
    if other is not None and abs(other / rated - 1.0) > QUOTES_AGREE:
        remarks.append(
            f"Its two ratings contradict one another by {abs(other / rated - 1.0):.0%} "
            f"({origin}; {_origin(candidate, 'mass_flow_other')}): the first was used."
        )
    ratio, most = limits.ratio, candidate.number("pressure_ratio")
    checks += limit(
        "pressure_ratio",
        ratio,
        most,
        "ratio",
        "A ratio of {0} is within its {1}.",
        "The target asks a ratio of {0}, it goes to {1}: short of {2}.",
    )
    return {"mass_flow_limit": figure}, checks, remarks


def disc(candidate: Candidate, limits: Limits, setting: Setting) -> Part:
    """How late a disc closes for its inlet and cylinder, which use that suits, and the case's ratio."""
    if candidate.family != "disc or crank":
        return _NOTHING
    figures: dict[str, Figure] = {}
    checks: list[LimitCheck] = []
    remarks: list[str] = []
    closes, tract = candidate.number("closes"), candidate.number("inlet_length")
    if closes is not None and tract is not None:
        found = closing.judge_closing(closes, tract, setting.cylinder_volume)
        figures["closes_limit"] = found.limit
        checks.append(LimitCheck("closes", closes <= closing.EXTREME, Sentence(found.sentence)))
        late = found.verdict in ("late", "beyond what has been run")
        cylinder = f"{setting.cylinder_volume * 1e6:.0f} cm³"
        suits = "top speed on a large enough cylinder" if late else "pull from low speed, and a small cylinder"
        remarks.append(f"Suits {suits} ({cylinder} here): it closes {found.verdict}.")
    case = candidate.number("case_volume")
    if case is not None:
        ratio = volumes.crankcase_figures(setting.engine.bore, setting.engine.stroke, case)[1]
        figures["fill"] = ratio
        low, high = CASE_RATIOS
        if not low <= ratio.value <= high:
            side = "larger" if ratio.value < low else "tighter"
            remarks.append(f"The case is {side} than the {low:g} to {high:g} in use (common practice).")
    return figures, checks, remarks

"""One quantity of a sentence held against its facts: the place that is named, the direction, the figure."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from longbreath.core.basis import units
from longbreath.core.basis.constants import RPM
from longbreath.core.claim.facts import BAND, EQUAL_BOOST, GAIN, LIFT, LOCAL, LOSS, NO_DIFFERENCE, PEAK, Fact, Setting
from longbreath.core.claim.grammar import printed
from longbreath.core.claim.kinds.register import QUANTITIES
from longbreath.core.claim.road import Road
from longbreath.core.claim.selling import words as lists
from longbreath.core.claim.selling.read import Mention, SaidSentence
from longbreath.core.claim.selling.words import has

SUPPORTED, NARROWER, CONTRADICTED, UNSUPPORTED, NO_CLAIM = (
    "supported",
    "supported in narrower words",
    "contradicted",
    "unsupported",
    "not a claim",
)
VERDICTS = (CONTRADICTED, UNSUPPORTED, NARROWER, SUPPORTED, NO_CLAIM)
"""From the worst on: a sentence is as good as the worst thing it says."""
OF = {
    "torque": ("torque",),
    "power": ("power",),
    "flow": ("flow",),
    "fuel": ("fuel",),
    "noise": ("noise",),
    "mass": ("mass",),
    "temperature": ("temperature",),
    "response": ("response_speed", "response_time", "response_area"),
}
"""Quantities of facts by what a sentence speaks of."""
BY_DIMENSION = {
    "torque": "torque",
    "power": "power",
    "flow": "flow",
    "noise": "noise",
    "mass": "mass",
    "temperature": "temperature",
}
NEAR_RPM, NEAR_MM = 100.0, 0.3
"""How near bounds and lifts of a sentence must be to those of a fact."""
GOOD_WORDS = ("better", "improved", "improves", "improve", "improving", "improvement")


@dataclass(frozen=True)
class Known:
    """One fact of the evidence with its setting and all facts of its statement; reference: A's value [SI], which shares are of."""

    fact: Fact
    setting: Setting
    facts: tuple[Fact, ...]
    reference: float | None = None


@dataclass(frozen=True)
class Background:
    """What selling text of one part on one vehicle is held against: facts, road use, cylinders."""

    known: tuple[Known, ...]
    road: Road
    cylinders: int = 1


Look = tuple[str, str, Known | None]
"""A verdict, why, and the fact it was held against."""


def facts_about(background: Background, *names: str) -> list[Known]:
    """The known facts of some quantities."""
    return [k for k in background.known if k.fact.quantity in names]


def quantities(said: SaidSentence, background: Background) -> list[Look]:
    """How every quantity that a sentence speaks of stands to the evidence; nothing for a sentence that claims nothing."""
    if said.results:
        return [look for mention in said.results for look in _figure(said, mention, background)]
    spoken = _spoken(said, background)
    if spoken is None:
        return [(UNSUPPORTED, "Nothing was measured that would carry it.", None)]
    found = [_held(said, about, None, background) for about in spoken]
    if not found and _compares(said):
        found.append((UNSUPPORTED, "It compares, and says nothing that could be measured.", None))
    return found


def _spoken(said: SaidSentence, background: Background) -> list[str] | None:
    """What a sentence without figures says something of; None where it embraces everything and nothing was measured."""
    spoken = [about for about in said.about if about in OF]
    embracing = said.place.everywhere or _denies(said)
    if not spoken and embracing:
        return ["torque"] if facts_about(background, "torque") else None
    says = embracing or said.direction or said.multiple or has(said.folded, GOOD_WORDS)
    return spoken if says else []


def _figure(said: SaidSentence, mention: Mention, background: Background) -> list[Look]:
    """One figure of a sentence held against the evidence; nothing for what is no result."""
    about = _about(said, mention)
    if about:
        return [_held(said, about, mention, background)]
    if mention.dimension == "share" and (said.direction or said.about):
        return [(UNSUPPORTED, "A share of what is not said.", None)]
    if mention.dimension == "mileage":
        fuel = next(iter(facts_about(background, "fuel")), None)
        return [(UNSUPPORTED, "The trial speaks of a share of consumption, not of miles on a gallon.", fuel)]
    return []


def _denies(said: SaidSentence) -> bool:
    return bool(
        has(
            said.folded, ("no difference", "no meaningful difference", "no change", "unchanged", "no proven difference")
        )
    )


def _compares(said: SaidSentence) -> bool:
    return bool(said.direction) or bool(
        has(said.folded, ("best", "unmatched", "unbeatable", "ultimate", "superior", "outperforms", "beats"))
    )


def _about(said: SaidSentence, mention: Mention) -> str:
    """What a figure is of."""
    if mention.dimension in BY_DIMENSION:
        if mention.dimension == "mass" and "mass" not in said.about:
            return ""  # a torque of a bolt, a pressure of a tyre: no result
        return BY_DIMENSION[mention.dimension]
    if mention.dimension == "share":
        return next((about for about in ("fuel", "flow", "torque", "power") if about in said.about), "")
    if mention.dimension == "time" and "response" in said.about:
        return "response"
    return ""


def _held(said: SaidSentence, about: str, mention: Mention | None, background: Background) -> Look:
    """A quantity held against its facts."""
    every = facts_about(background, *OF[about])
    if not every:
        return (UNSUPPORTED, f"Nothing of {about} was measured.", None)
    up = _sign(said, about, mention)
    if up == 0:
        if _denies(said):
            return _none(said, every)
        return (UNSUPPORTED, "The evidence holds differences between A and B, no absolute figures.", every[0])
    here = [k for k in every if _is_there(k.fact, said)]
    if said.place.everywhere:
        return _everywhere(said, every, up, about)
    if said.place.is_named and not here:
        return (UNSUPPORTED, "Nothing is known at the place that it names.", _best(every, up) or every[0])
    return _against(said, mention, here or every, every, up, about)


def _sign(said: SaidSentence, about: str, mention: Mention | None) -> int:
    """Whether a sentence says that the quantity went up (+1) or down (−1)."""
    less_is_better = QUANTITIES[OF[about][0]].less_is_better
    if has(said.folded, GOOD_WORDS):
        return -1 if less_is_better else 1
    if about == "fuel" and has(said.folded, ("mileage", "economy", "efficient", "economical")) and said.direction:
        return -said.direction  # more economy is less fuel
    if about == "response" and said.direction:
        return said.direction
    if said.multiple and not said.direction:
        return 1
    if said.direction == 0 and mention is None and said.place.everywhere:
        return -1 if less_is_better else 1
    return said.direction


def _value_of(known: Known) -> int:
    return 1 if known.fact.value > 0 else -1


def _is_proven(known: Known) -> bool:
    return known.fact.kind in (GAIN, LOSS)


def _best(every: Sequence[Known], up: int) -> Known | None:
    same = [k for k in every if _is_proven(k) and _value_of(k) == up]
    return max(same, key=lambda k: abs(k.fact.value), default=None)


def _is_there(fact: Fact, said: SaidSentence) -> bool:
    """Whether a fact is of the place that a sentence names."""
    place = said.place
    if place.bounds is not None:
        low, high = fact.low / RPM, fact.high / RPM
        near = abs(low - place.bounds[0]) <= NEAR_RPM and abs(high - place.bounds[1]) <= NEAR_RPM
        return fact.scope == BAND and near
    if place.speed is not None:
        return fact.scope == LOCAL and abs(fact.low / RPM - place.speed) <= NEAR_RPM
    if place.lift is not None:
        return fact.scope == LIFT and abs(fact.low * 1000.0 - place.lift) <= NEAR_MM
    if place.peak:
        return fact.scope == PEAK
    if place.band:
        return fact.scope == BAND and fact.name == place.band
    return True


def _none(said: SaidSentence, every: Sequence[Known]) -> Look:
    here = [k for k in every if _is_there(k.fact, said)] or list(every)
    proven = [k for k in here if _is_proven(k)]
    if proven:
        return (CONTRADICTED, "A difference is proven there.", proven[0])
    if all(k.fact.kind == NO_DIFFERENCE for k in here):
        named = said.place.is_named or len(here) == 1
        return (SUPPORTED if named else NARROWER, "No meaningful difference is proven.", here[0])
    return (NARROWER, "A difference is not proven, which is less than none.", here[0])


def _everywhere(said: SaidSentence, every: Sequence[Known], up: int, about: str) -> Look:
    against = [k for k in every if _is_proven(k) and _value_of(k) == -up]
    best = _best(every, up)
    if against:
        return (CONTRADICTED, f"The opposite is proven at: {_named(against)}.", best or against[0])
    bands = [k for k in every if k.fact.scope == BAND]
    none = [k for k in bands if not _is_proven(k)]
    if any(k.fact.kind == NO_DIFFERENCE for k in none):
        return (CONTRADICTED, f"No meaningful difference is proven at: {_named(none)}.", best or none[0])
    if none or best is None:
        return (UNSUPPORTED, f"It is not proven at: {_named(none or every)}.", best or every[0])
    return (NARROWER, "It is proven in every band of use, each by itself.", best)


def _named(known: Sequence[Known]) -> str:
    return ", ".join(dict.fromkeys(_place_words(k.fact) for k in known))


def _place_words(fact: Fact) -> str:
    if fact.scope == PEAK:
        return f"peak {fact.quantity}"
    if fact.scope == LOCAL:
        return f"{fact.low / RPM:.0f} rpm"
    if fact.scope == LIFT:
        return fact.about
    return fact.name or fact.quantity


def _against(
    said: SaidSentence, mention: Mention | None, here: Sequence[Known], every: Sequence[Known], up: int, about: str
) -> Look:
    best = _best(here, up)
    if best is None:
        opposite = _best(here, -up)
        if opposite is not None:
            return (CONTRADICTED, f"The opposite is proven at: {_named([opposite])}.", opposite)
        none = [k for k in here if k.fact.kind == NO_DIFFERENCE]
        if none:
            return (CONTRADICTED, f"No meaningful difference is proven at: {_named(none)}.", none[0])
        return _unproven(mention, here[0])
    losses = [k for k in every if _is_proven(k) and _value_of(k) == -up]
    note = f" A proven loss must stand beside it: {_named(losses)}." if losses and said.place.is_named else ""
    if has(said.folded, lists.AT_CRANK) and best.setting.at == "wheel":
        return (UNSUPPORTED, "It was measured at the wheel; what the drive takes was not.", best)
    if mention is None and said.multiple is None:
        return _without_figure(said, best, note)
    return _with_figure(said, mention, best, note)


def _unproven(mention: Mention | None, known: Known) -> Look:
    value = _si(mention, known) if mention is not None else None
    if value is not None and value > abs(known.fact.value) + known.fact.half_width:
        return (CONTRADICTED, "Nothing is proven, and so much is ruled out by its interval.", known)
    return (UNSUPPORTED, "A difference is not proven.", known)


def _without_figure(said: SaidSentence, best: Known, note: str) -> Look:
    if said.place.is_named or best.fact.scope not in (BAND, LIFT, PEAK, LOCAL):
        school = _school_missing(said, best)
        return (NARROWER, school, best) if school else (SUPPORTED, f"It is proven there.{note}", best)
    return (NARROWER, "It is proven, at a place and with conditions that the sentence does not name.", best)


def _school_missing(said: SaidSentence, best: Known) -> str:
    if best.setting.package and "package" not in said.folded and "kit" not in said.folded:
        return "It is the result of a package, and the sentence does not say so."
    if best.setting.school and "boost" not in said.folded:
        how = "at equal boost" if best.setting.school == EQUAL_BOOST else "with boost left to the controller"
        return f"It holds {how}, which the sentence does not say."
    return ""


def _si(mention: Mention, known: Known) -> float | None:
    """A written figure as a difference [SI]; None where it cannot be laid beside the fact."""
    unit = QUANTITIES[known.fact.quantity].unit
    if mention.dimension == "share":
        if known.fact.quantity == "fuel":
            return mention.value / 100.0
        return mention.value / 100.0 * known.reference if known.reference is not None else None
    factor = lists.factor_of(mention.unit, mention.dimension)
    if factor is None or (mention.dimension == "time" and unit != "time"):
        return None
    return mention.value * factor


def _with_figure(said: SaidSentence, mention: Mention | None, best: Known, note: str) -> Look:
    if mention is None:
        value = (said.multiple - 1.0) * best.reference if said.multiple and best.reference is not None else None
    else:
        value = _si(mention, best)
    if value is None:
        return (UNSUPPORTED, "Its figure cannot be laid beside what was measured.", best)
    shown = printed(best.fact)
    unit = units.kind_named(QUANTITIES[best.fact.quantity].unit)
    size = max(
        abs(shown.us) * units.unit_of(unit.name, unit.us).factor,
        abs(shown.metric) * units.unit_of(unit.name, unit.metric).factor,
    )
    limit = abs(best.fact.value) + best.fact.half_width
    step = (
        0.5 * 10.0**-mention.decimals * _unit_size(mention, best) if mention is not None and mention.decimals else 0.0
    )
    if value > limit * (1.0 + 1e-9):
        return (
            CONTRADICTED,
            f"It is more than the evidence allows: {shown.size()} was found ({_place_words(best.fact)}).",
            best,
        )
    if value > size * (1.0 + 1e-6) + step:
        return (
            NARROWER,
            f"{shown.size()} is what may be said ({_place_words(best.fact)}), rounded against the maker.",
            best,
        )
    if not said.place.is_named and best.fact.scope in (BAND, LIFT, PEAK, LOCAL):
        return (NARROWER, "So much was found, at a place that the sentence does not name.", best)
    school = _school_missing(said, best)
    return (NARROWER, school, best) if school else (SUPPORTED, f"So much was found.{note}", best)


def _unit_size(mention: Mention, known: Known) -> float:
    one = _si(replace(mention, value=1.0), known)
    return one or 0.0

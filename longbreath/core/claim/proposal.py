"""What a draft proposes: the strongest statement that the evidence allows, and beside it what a seller would have liked to say,
with why not."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from longbreath.core.claim.facts import AS_SET, BAND, GAIN, LOSS, NO_DIFFERENCE, NOT_PROVEN, PEAK, Fact, Setting
from longbreath.core.claim.grammar import Composition, SheetLine, clause, printed
from longbreath.core.claim.kinds.register import QUANTITIES
from longbreath.core.claim.road import CLOSED_COURSE, Road

_ORDER = {GAIN: 0, LOSS: 1, NO_DIFFERENCE: 2, NOT_PROVEN: 3}


@dataclass(frozen=True)
class Wish:
    """Something a seller would have liked to say, and why it is not said."""

    words: str
    why: str


def strongest(facts: Sequence[Fact]) -> Composition:
    """The strongest statement: every gain that may be said, the largest first (bands before lifts and peaks), then what must be said,
    then what made no difference; what is not proven only where nothing else was found."""
    may = [fact for fact in facts if not fact.blocked and (fact.usual or fact.required)]
    if any(fact.kind != NOT_PROVEN for fact in may):
        may = [fact for fact in may if fact.kind != NOT_PROVEN]
    ordered = sorted(may, key=lambda f: (_ORDER.get(f.kind, 0), f.quantity != may[0].quantity, -abs(f.value)))
    return Composition(tuple(SheetLine(fact.key) for fact in ordered))


def wishes(facts: Sequence[Fact], setting: Setting, road: Road, cylinders: int = 1) -> tuple[Wish, ...]:
    """What a seller would have liked to say of these facts, in the order of how often it is said."""
    gains = [f for f in facts if f.kind == GAIN]
    losses = [f for f in facts if f.kind == LOSS]
    found = [*_up_to(gains), *_everywhere(gains, losses, facts), *_alone(gains, setting)]
    if setting.kind == "torque" and gains and setting.at == "wheel":
        words = f"{_capital(_size(gains[0]))} more at the crank."
        found.append(Wish(words, "It was measured at the wheel; what the drive takes was not measured."))
    if setting.kind == "airflow" and gains:
        found += _flow(gains[0], cylinders)
    found += [_saving(f) for f in facts if f.quantity == "fuel" and f.kind in (NOT_PROVEN, NO_DIFFERENCE)]
    if setting.kind == "durability":
        found.append(Wish("Lasts the life of the engine.", "What was run is counted; a life was not run."))
    if setting.kind == "fitment":
        found.append(
            Wish("Fits all of them.", "It was looked at on one vehicle; others stand in the list with their reason.")
        )
    if road.status == CLOSED_COURSE:
        found.append(Wish("For the road.", "No approval is held: closed course only."))
    return tuple(found)


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def _size(fact: Fact) -> str:
    return printed(fact).size()


def _up_to(gains: Sequence[Fact]) -> list[Wish]:
    peaks = [f for f in gains if f.scope == PEAK]
    best = max(gains, key=lambda f: abs(f.value), default=None)
    if best is None or QUANTITIES[best.quantity].exact:
        return []
    if best.blocked:
        return [Wish(f"Up to {_size(best)} better.", best.blocked)]
    of = "the peak" if best in peaks else "one place, the best of those that were looked at"
    why = f"“Up to” needs its condition beside it: this is {of}, and the statement says where and how sure it is."
    return [Wish(f"Up to {_size(best)} better.", why)]


def _everywhere(gains: Sequence[Fact], losses: Sequence[Fact], facts: Sequence[Fact]) -> list[Wish]:
    if not gains:
        return []
    named = [f.name for f in facts if f.scope == BAND and f.kind != GAIN and f.name]
    if losses:
        return [
            Wish("Better everywhere, without a drawback.", f"A loss is proven as well, and must be said{_at(losses)}.")
        ]
    if named:
        listed = ", ".join(dict.fromkeys(named))
        return [Wish("Better everywhere.", f"No gain is proven in: {listed}.")]
    return []


def _at(losses: Sequence[Fact]) -> str:
    names = [f.about for f in losses if f.name]
    return f" ({', '.join(dict.fromkeys(names))})" if names else ""


def _alone(gains: Sequence[Fact], setting: Setting) -> list[Wish]:
    found = []
    if setting.package and gains:
        what = "; ".join(setting.package)
        found.append(
            Wish("The part alone did it.", f"Something else differed as well, and nobody knows by how much: {what}.")
        )
    if setting.school == AS_SET and gains:
        found.append(
            Wish("All of it is the part’s own.", "Boost was left to the controller and may have moved with the part.")
        )
    return found


def _flow(best: Fact, cylinders: int) -> list[Wish]:
    found = [
        Wish(
            "Worth so many horsepower.",
            "Steady flow on a bench is not engine flow: no factor turns one into the other for this engine.",
        )
    ]
    if cylinders > 1:
        times = f"{_size(best)} a port, times {cylinders}."
        found.insert(
            0, Wish(_capital(times), "Ports do not flow at the same time: flow is not multiplied by cylinders.")
        )
    return found


def _saving(fact: Fact) -> Wish:
    told = clause(fact, SheetLine(fact.key), Setting("", ""))
    return Wish("Saves fuel.", f"The trial {told}: no saving is proven.")

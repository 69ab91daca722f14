"""How a sentence of selling text stands to the evidence: supported, supported in narrower words, contradicted, unsupported, no
claim."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from longbreath.core.claim.facts import GAIN, LOSS
from longbreath.core.claim.grammar import SheetLine, compose, sentences
from longbreath.core.claim.road import APPROVED, CLOSED_COURSE, REMOVES, Road
from longbreath.core.claim.selling.against import (
    CONTRADICTED,
    NARROWER,
    NO_CLAIM,
    SUPPORTED,
    UNSUPPORTED,
    VERDICTS,
    Background,
    Known,
    Look,
    facts_about,
    quantities,
)
from longbreath.core.claim.selling.read import SaidSentence, arithmetic, read
from longbreath.core.claim.selling.words import has


@dataclass(frozen=True)
class SentenceJudged:
    """A sentence as it stands: verdict, why, the words that the evidence allows (may be none), its arithmetic in words with whether it
    comes out, keys of the facts that were looked at."""

    said: SaidSentence
    verdict: str
    why: str
    offer: str = ""
    sums: tuple[tuple[str, bool], ...] = ()
    facts: tuple[str, ...] = ()


def judge(sentence: str, background: Background) -> SentenceJudged:
    """How one sentence stands to the evidence of a part on a vehicle."""
    said = read(sentence)
    sums = tuple(arithmetic(said.folded))
    looks = [*_beside(said, background), *_twisted(said, sums), *quantities(said, background)]
    if not looks:
        why = "A size or a setting, no result." if said.mentions else "It holds no figure and compares nothing."
        return SentenceJudged(said, NO_CLAIM, why, sums=sums)
    if any(not right for _, right in sums):
        wrong = next(words for words, right in sums if not right)
        looks.insert(0, (CONTRADICTED, f"Its arithmetic does not come out: {wrong}.", None))
    verdict, why, known = min(looks, key=lambda look: VERDICTS.index(look[0]))
    offer = next((k for _, _, k in looks if k is not None), known)
    keys = tuple(dict.fromkeys(k.fact.key for _, _, k in looks if k is not None))
    return SentenceJudged(said, verdict, why, _offered(offer) if verdict != SUPPORTED else "", sums, keys)


def _offered(known: Known | None) -> str:
    """The sentence that the evidence allows of a fact, with every loss that must stand beside it."""
    if known is None:
        return ""
    usable = [fact for fact in known.facts if not fact.blocked]
    return " ".join(sentences(known.setting, compose(usable, [SheetLine(known.fact.key)])))


def _beside(said: SaidSentence, background: Background) -> list[Look]:
    """What is no quantity: the road, a life, money, fit."""
    found: list[Look] = []
    if "road" in said.about or has(said.folded, ("closed course", "off-road use", "race use")):
        found.append(_road(said, background.road))
    if "life" in said.about:
        run = next(iter(facts_about(background, "pulls")), None)
        found.append((UNSUPPORTED, "What was run is counted; how long a part lasts was not measured.", run))
    if "money" in said.about:
        saved = next((k for k in facts_about(background, "money") if k.fact.kind == GAIN), None)
        found.append(
            (NARROWER, "Money stands beside its miles, price and band.", saved)
            if saved is not None
            else (UNSUPPORTED, "No saving of money is proven.", next(iter(facts_about(background, "fuel")), None))
        )
    if "fit" in said.about:
        found.append(_fit(said, background))
    return found


def _road(said: SaidSentence, road: Road) -> Look:
    denied = bool(has(said.folded, ("not", "closed course", "off-road use", "race use", "no approval")))
    closed = road.status == CLOSED_COURSE or (road.tampering == REMOVES and not road.emissions)
    if denied:
        return (SUPPORTED, road.words, None) if closed else (NARROWER, road.words, None)
    if closed:
        return (CONTRADICTED, road.words, None)
    if road.status == APPROVED and road.in_date:
        markets = "; ".join(c.words for c in road.in_date)
        named = any(c.market.casefold() in said.folded for c in road.in_date)
        return (SUPPORTED if named else NARROWER, f"Approval is a market’s: {markets}.", None)
    return (UNSUPPORTED, road.problem or road.words, None)


def _fit(said: SaidSentence, background: Background) -> Look:
    looked = facts_about(background, "clear_places", "close_place", "touching_place")
    if not looked:
        return (UNSUPPORTED, "Nobody looked at how it fits.", None)
    wrong = [k for k in looked if k.fact.kind == LOSS]
    if has(said.folded, ("all", "every", "any")):
        return (UNSUPPORTED, "It was looked at on one vehicle.", looked[0])
    if wrong and has(said.folded, ("no modification", "no modifications", "no cutting", "perfect", "perfectly")):
        return (CONTRADICTED, f"It comes close or touches at: {', '.join(k.fact.about for k in wrong)}.", looked[0])
    return (NARROWER, "It was looked at on one vehicle, place by place.", looked[0])


def _twisted(said: SaidSentence, sums: Sequence[tuple[str, bool]]) -> list[Look]:
    """Flow turned into power or multiplied by cylinders; gains of tests apart added up."""
    dimensions = {m.dimension for m in said.mentions}
    found: list[Look] = []
    if "flow" in dimensions and ("power" in dimensions or "torque" in dimensions):
        found.append((CONTRADICTED, "Flow on a bench is not power: no factor turns one into the other.", None))
    times = any("×" in words for words, _ in sums)
    spread = has(
        said.folded, ("per cylinder", "all cylinders", "all four cylinders", "all eight cylinders", "the whole engine")
    )
    if "flow" in dimensions and (times or spread):
        found.append((CONTRADICTED, "Ports do not flow at the same time: flow is not multiplied by cylinders.", None))
    if any("+" in words for words, _ in sums) and dimensions & {"power", "torque"}:
        found.append((UNSUPPORTED, "Gains of tests apart do not simply add up: test them together.", None))
    return found

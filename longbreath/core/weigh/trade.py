"""Trade-offs by band as sentences, what cannot be had together, and the question that a null result asks next."""

from __future__ import annotations

from collections.abc import Sequence

from longbreath.core.basis import units
from longbreath.core.compare import compare
from longbreath.core.compare.bands import Judged, Weighing
from longbreath.core.weigh.several import Several

NEXT = {
    "intake": "is it the cam, the port or the exhaust that is the narrowest place now?",
    "exhaust": "is it the head, the cam or the intake that limits now?",
}


def trade_offs(bands: Sequence[Judged], system: str = "us") -> tuple[str, ...]:
    """What is given for what, band by band, of proven differences only; in display units."""
    gains = [b for b in bands if b.verdict == compare.GAIN]
    losses = [b for b in bands if b.verdict == compare.LOSS]
    if not gains or not losses:
        return ()
    found = []
    for gain in gains:
        for loss in losses:
            found.append(
                f"{_torque(gain, system)} more at {gain.name} revs ({_words(gain)}) is paid for with {_torque(loss, system)} less at "
                f"{loss.name} revs ({_words(loss)})."
            )
    return tuple(found)


def _torque(item: Judged, system: str) -> str:
    return units.show(abs(item.effect.value), "torque", system, item.effect.half_width)


def _words(item: Judged) -> str:
    return item.band.words + " rpm" if item.band else item.name


def not_together(several: Several) -> tuple[str, ...]:
    """Bands whose proven best is another variant: they cannot be had together from these."""
    best = []
    for band, ranked in several.bands:
        first = ranked.means[0][0]
        alone = all(ranked.pair(other, first).is_told_apart for other, _ in ranked.means[1:])
        if alone:
            best.append((band.name, first))
    return tuple(
        f"The best at {one} revs ({first}) and the best at {two} revs ({second}) are not one variant: they cannot be had together."
        for k, (one, first) in enumerate(best)
        for two, second in best[k + 1 :]
        if first != second
    )


def next_question(weighing: Weighing, side: str, narrowest: str = "") -> str | None:
    """Where nothing is proven, what to ask next: a question, not a finding. None where something was found.

    narrowest: the weakest element of the path as it is measured, where one is known.
    """
    if any(b.verdict not in (compare.NO_DIFFERENCE, compare.NOT_PROVEN) for b in weighing.bands):
        return None
    asked = NEXT.get(side, NEXT["intake"])
    if narrowest:
        asked = f"is it the {narrowest}, the weakest element of the path as measured? Or else: {asked}"
    return f"Nothing was found, so something else may be the limit: {asked}"

"""Torque and power: B against A on a dyno, over bands of use, at the peaks, and where a loss is proven at one speed."""

from __future__ import annotations

from longbreath.core.basis.sentence import rpm
from longbreath.core.claim.facts import BAND, GAIN, LOSS, NO_DIFFERENCE, NOT_PROVEN, PEAK, Fact, Setting
from longbreath.core.claim.kinds.kind import ClaimKind, Quantity, on_the_vehicle

WORDINGS = {
    GAIN: ("gained {size} of {what}", "made {size} more {what}"),
    LOSS: ("lost {size} of {what}", "made {size} less {what}"),
    NO_DIFFERENCE: ("made no meaningful difference{under} in {what}", "kept {what} within {margin} of what it was"),
    NOT_PROVEN: ("showed no proven difference in {what}", "left a difference in {what} unproven"),
}


def what(fact: Fact, setting: Setting) -> str:
    """What a fact is of: the mean over a band, a peak, or one speed."""
    if fact.scope == BAND:
        return f"mean {setting.at} {fact.quantity} between {rpm(fact.low)} and {rpm(fact.high)} rpm"
    if fact.scope == PEAK:
        return f"peak {setting.at} {fact.quantity}"
    return f"{setting.at} {fact.quantity} at {rpm(fact.low)} rpm"


def measured(setting: Setting) -> str:
    """How pulls were taken, corrected and where they are stated."""
    joined = ["in one session"] if setting.one_session else [f"in {setting.days} sessions"] if setting.days > 1 else []
    how = [*(["back to back"] if setting.back_to_back else []), *joined]
    first = f"Measured {' '.join(how)}" if how else "Measured"
    corrected = f"corrected by {setting.standard}" if setting.standard else "not corrected for the air"
    return f"{first}, {corrected}, stated at the {setting.at}."


KIND = ClaimKind(
    "torque",
    "Torque and power",
    "Valid pulls of A and B on a dyno, drift taken out, net of what else differed where the ledger is closed.",
    (
        "a figure of the wheel as one of the crank, or the other way round",
        "a peak or “up to” without the band and the loss beside it",
        "a gain of a boosted engine without saying whether boost was left alone or made equal",
        "a sum of gains that were measured in tests apart",
    ),
    (Quantity("torque", "torque", WORDINGS, what), Quantity("power", "power", WORDINGS, what)),
    on_the_vehicle,
    measured,
)

"""How late a disc may close: what is usual for the length of its inlet."""

from __future__ import annotations

from dataclasses import dataclass
from math import radians

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure, Given, Step, Working
from longbreath.core.timing.wheel import ADDS_UP

SHORT_TRACT, LONG_TRACT = 0.07, 0.20
SHORT_CLOSING, LONG_CLOSING, EXTREME = radians(55.0), radians(65.0), radians(85.0)
SMALL = 125e-6


@dataclass(frozen=True)
class Closing:
    """How a late closing stands: the usual limit for the inlet's length [rad], the verdict and the words."""

    limit: Figure
    verdict: str
    words: str

    @property
    def sentence(self) -> str:
        """Verdict and words in one text."""
        return f"It closes {self.verdict}. {self.words}"


def judge_closing(closing: float, inlet_length: float, displacement: float) -> Closing:
    """Judge a disc's closing [rad after top dead centre] by inlet length [m] and displacement [m3].

    About 55° is usual on 6 to 8 cm of inlet; 20 cm and more stands some 10° beyond; between them a straight line (ours);
    85° has been run as an extreme; a small cylinder tolerates less. Source: common practice, no published source.
    """
    if inlet_length <= 0 or displacement <= 0:
        raise InputError("Inlet length and displacement must be more than nought.", "inlet_length")
    way = min(1.0, max(0.0, (inlet_length - SHORT_TRACT) / (LONG_TRACT - SHORT_TRACT)))
    limit = SHORT_CLOSING + way * (LONG_CLOSING - SHORT_CLOSING)
    working = Working(
        "Usual limit of late closing",
        (
            Given("l", "inlet tract", inlet_length, "length"),
            Given("c", "closes after top dead centre", closing, "angle"),
        ),
        (
            Step("c_u", "55° at 7 cm … 65° at 20 cm and more", limit, "angle"),
            Step("Δ", "c − c_u", closing - limit, "angle"),
        ),
        "Common practice, no published source; the line between the two lengths is ours.",
        (
            "A late closing is limited by blow-back; it has more effect, and more harm when overdone, than an early opening.",
        ),
    )
    figure = Figure("closing_limit", "Usual limit for this inlet", limit, "angle", working, significant=2)
    small = " A small cylinder tolerates less." if displacement < SMALL else ""
    if closing > EXTREME:
        return Closing(
            figure,
            "beyond what has been run",
            f"Later than the 85° that has been run as an extreme: expect blow-back.{small}",
        )
    if closing > limit + ADDS_UP:
        return Closing(
            figure, "late", f"Later than usual for this inlet: power at speed, blow-back and weak pull below.{small}"
        )
    if closing > limit - radians(5.0):
        return Closing(figure, "at the usual limit", f"As late as this inlet usually stands.{small}")
    return Closing(figure, "on the safe side", "Earlier than this inlet would stand: good pull, and room to go later.")

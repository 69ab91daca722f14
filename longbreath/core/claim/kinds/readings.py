"""Temperature, noise and mass: readings of a tool on A and on B, each under one set of conditions."""

from __future__ import annotations

from collections.abc import Sequence

from longbreath.core.claim.facts import GAIN, LOSS, NO_DIFFERENCE, NOT_PROVEN, PLACE, Fact, Setting
from longbreath.core.claim.kinds.kind import ClaimKind, Quantity, on_the_vehicle, plain
from longbreath.core.weigh.readings import ReadingsCompared

VERDICTS = {
    "cooler": GAIN,
    "hotter": LOSS,
    "quieter": GAIN,
    "louder": LOSS,
    "lighter": GAIN,
    "heavier": LOSS,
    NO_DIFFERENCE: NO_DIFFERENCE,
}


def facts_of(found: Sequence[ReadingsCompared]) -> tuple[Fact, ...]:
    """What readings hold: one fact for each set of conditions; hotter, louder and heavier must be said."""
    facts = []
    for item in found:
        kind, effect = VERDICTS.get(item.verdict, NOT_PROVEN), item.effect
        if effect.half_width > 0.0:
            facts.append(
                Fact(
                    kind,
                    item.kind,
                    PLACE,
                    0.0,
                    0.0,
                    effect.value,
                    effect.half_width,
                    item.conditions,
                    required=kind == LOSS,
                )
            )
    return tuple(sorted(facts, key=lambda f: (f.kind != GAIN, f.kind != LOSS)))


def _words(less: str, more: str, of: str) -> dict[str, tuple[str, ...]]:
    return {
        GAIN: (f"was {{size}} {less}{{what}}", f"ran {{size}} {less}{{what}}"),
        LOSS: (f"was {{size}} {more}{{what}}", f"ran {{size}} {more}{{what}}"),
        NO_DIFFERENCE: (f"made no meaningful difference in {of}{{what}}",),
        NOT_PROVEN: (f"showed no proven difference in {of}{{what}}", f"left a difference in {of}{{what}} unproven"),
    }


def _under(fact: Fact, setting: Setting) -> str:
    return f" ({fact.name})"


def _kind(
    name: str, title: str, unit: str, words: tuple[str, str, str], measured: str, rests_on: str, *never: str
) -> ClaimKind:
    wordings = _words(*words)
    if name == "mass":
        wordings |= {GAIN: ("was {size} lighter",), LOSS: ("was {size} heavier",)}
    what = plain if name == "mass" else _under
    if name == "mass":
        wordings = {verdict: tuple(w.replace("{what}", "") for w in texts) for verdict, texts in wordings.items()}
    quantity = Quantity(name, unit, wordings, what, less_is_better=True)
    return ClaimKind(name, title, rests_on, never, (quantity,), on_the_vehicle, lambda setting: measured)


TEMPERATURE = _kind(
    "temperature",
    "Temperature",
    "temperature_difference",
    ("cooler over ambient", "hotter over ambient", "temperature"),
    "Steady readings, as rise over ambient; each medium and place by itself.",
    "Steady readings of A and of B at one place of the probe, in one medium, with the ambient beside each.",
    "power out of a temperature",
    "a surface as the gas in it, or one place as another",
)
NOISE = _kind(
    "noise",
    "Noise",
    "level",
    ("quieter", "louder", "sound level"),
    "Levels at one place by one meter, not an approval for noise.",
    "Readings of a sound level meter of A and of B at one distance, speed and weighting.",
    "an approval: that is a certificate’s",
    "a level without distance, engine speed and weighting",
)
MASS = _kind(
    "mass",
    "Mass",
    "body_mass",
    ("lighter", "heavier", "mass"),
    "The part alone, on a scale; what must be added to fit it is not weighed in.",
    "Weighings of A and of B on one scale.",
    "performance out of mass",
)

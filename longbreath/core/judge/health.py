"""The health of an engine that carries tests: what its figures say, which pulls a finding puts in doubt, when a baseline goes stale.

All limits are common practice, no source; the engine's own sheet decides.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.sentence import counted

SOUND, FINDING, DONE = "sound", "finding", "done"


@dataclass(frozen=True)
class HealthKind:
    """One thing that is looked at: its key, name, kind of quantity of its figures ("" for words alone), one a cylinder or one."""

    key: str
    name: str
    kind: str = ""
    cylinders: bool = False
    is_check: bool = True


KINDS = {
    kind.key: kind
    for kind in (
        HealthKind("compression", "Compression", "pressure", True),
        HealthKind("leak_down", "Leak-down", "percent", True),
        HealthKind("turning", "Turning torque", "torque"),
        HealthKind("oil", "Oil and its level"),
        HealthKind("breather", "Breather"),
        HealthKind("plugs", "Plugs"),
        HealthKind("clearance", "Valve clearance", "length", True),
        HealthKind("coolant", "Coolant"),
        HealthKind("ignition", "Coils and ignition"),
        HealthKind("gaskets", "Gasket types", is_check=False),
        HealthKind("repair", "Repair", is_check=False),
        HealthKind("change", "Change", is_check=False),
    )
}
COMPRESSION_SPREAD, COMPRESSION_FALL = 0.10, 0.08
LEAK_MOST, LEAK_RISE = 0.20, 0.08
TURNING_RISE = 0.25
STALE_PULLS, STALE_DAYS = 60, 90
"""A baseline goes stale after so many pulls or days. Common practice, no source."""
WATER = "Water in a cylinder: take the plugs out before anything turns. Water does not give way: cranking with plugs in bends rods."


def figures_say(kind: str, figures: Sequence[float], before: Sequence[float] = ()) -> tuple[str, str]:
    """What figures of a kind say: state (sound or finding) and a sentence. figures, before [SI]: now and at the last look.

    Raises InputError for figures that the kind cannot have.
    """
    if kind not in KINDS:
        raise InputError("Choose what was looked at.", "kind")
    if not figures:
        return SOUND, ""
    if any(value < 0 for value in figures):
        raise InputError("None of these can be less than nought.", "figures")
    rules = {"compression": _compression, "leak_down": _leak, "turning": _turning}
    return rules[kind](figures, before) if kind in rules else (SOUND, "")


def _compression(figures: Sequence[float], before: Sequence[float]) -> tuple[str, str]:
    best, least = max(figures), min(figures)
    weak = figures.index(least) + 1
    if best <= 0 or (best - least) / best > COMPRESSION_SPREAD:
        return (
            FINDING,
            f"Cylinder {weak} is {(best - least) / best if best else 1:.0%} below the best: more than a tenth.",
        )
    for number, (now, then) in enumerate(zip(figures, before, strict=False), start=1):
        if then > 0 and (then - now) / then > COMPRESSION_FALL:
            return FINDING, f"Cylinder {number} fell by {(then - now) / then:.0%} since the last look."
    return SOUND, f"All within {(best - least) / best:.0%} of the best."


def _leak(figures: Sequence[float], before: Sequence[float]) -> tuple[str, str]:
    worst = max(figures)
    number = figures.index(worst) + 1
    if worst > 1.0:
        raise InputError("A leak is a share of one: at most 100 %.", "figures")
    if worst > LEAK_MOST:
        return FINDING, f"Cylinder {number} leaks {worst:.0%}: more than a fifth."
    for n, (now, then) in enumerate(zip(figures, before, strict=False), start=1):
        if now - then > LEAK_RISE:
            return FINDING, f"Cylinder {n} leaks {now:.0%}, and {then:.0%} at the last look."
    return SOUND, f"Cylinder {number} leaks most, {worst:.0%}."


def _turning(figures: Sequence[float], before: Sequence[float]) -> tuple[str, str]:
    now = figures[0]
    if before and before[0] > 0 and (now - before[0]) / before[0] > TURNING_RISE:
        return FINDING, f"It turns harder by {(now - before[0]) / before[0]:.0%} than at the last look."
    return SOUND, ""


@dataclass(frozen=True)
class Look:
    """One entry of the log: number, day, kind, state."""

    number: int
    day: date
    kind: str
    state: str


@dataclass(frozen=True)
class Doubt:
    """A finding that puts pulls in doubt: its entry, from the day after the last good look (None: from the beginning) to the day on
    which a repair followed (None: still)."""

    entry: Look
    since: date | None
    until: date | None

    def covers(self, day: date) -> bool:
        """Whether pulls of a day are in doubt: the day of the last good look is clear, the day of the finding is not."""
        return (self.since is None or day > self.since) and (
            self.until is None or day < self.until or day <= self.entry.day
        )


def doubts(looks: Sequence[Look]) -> tuple[Doubt, ...]:
    """The findings of a log, each with the days whose pulls it puts in doubt: since the last look of that kind that found it sound,
    until a repair or a sound look of that kind after it."""
    ordered = sorted(looks, key=lambda look: (look.day, look.number))
    found = []
    for place, look in enumerate(ordered):
        if look.state != FINDING:
            continue
        good = [o.day for o in ordered[:place] if o.state == SOUND and o.kind == look.kind]
        ends = [o.day for o in ordered[place + 1 :] if o.kind in ("repair", look.kind) and o.state != FINDING]
        found.append(Doubt(look, max(good) if good else None, min(ends) if ends else None))
    return tuple(found)


@dataclass(frozen=True)
class Baseline:
    """How old a baseline is: pulls since its last one, days, and what was done to the engine in between."""

    day: date
    pulls: int
    days: int
    done: tuple[str, ...]

    @property
    def is_stale(self) -> bool:
        """Whether it no longer stands for the engine."""
        return self.pulls > STALE_PULLS or self.days > STALE_DAYS or bool(self.done)

    @property
    def words(self) -> str:
        """Its age in a sentence."""
        age = f"{counted(self.pulls, 'pull')} and {counted(self.days, 'day')} old"
        why = f"; since then: {', '.join(self.done)}" if self.done else ""
        return f"The baseline is {age}{why}." + (" It is stale: pull it again." if self.is_stale else "")


def baseline_age(day: date, today: date, pulls_since: int, looks: Sequence[Look]) -> Baseline:
    """The age of a baseline that was pulled on `day`, with `pulls_since` pulls of the engine after it."""
    done = tuple(
        KINDS[o.kind].name.lower() for o in looks if o.state == DONE and day < o.day <= today and o.kind in KINDS
    )
    return Baseline(day, pulls_since, max((today - day) // timedelta(days=1), 0), done)

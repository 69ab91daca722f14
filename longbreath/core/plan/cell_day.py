"""What is next on a dyno day: which variant is to be fitted, which place is pulled, what has to be waited for."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from longbreath.core.basis.sentence import counted
from longbreath.core.judge.check import celsius

FIT, ARM, ARMED, PULLING, JUDGING, WAIT, STOP, LINE, CLOSE = (
    "fit",
    "arm",
    "armed",
    "pulling",
    "judging",
    "wait",
    "stop",
    "line",
    "close",
)


@dataclass(frozen=True)
class Taken:
    """A pull that was taken: its letter, and whether it counts."""

    label: str
    counts: bool


@dataclass(frozen=True)
class Now:
    """How the cell stands: letter that is fitted ("" : nobody said), place that is armed, phase; what of the window is not met yet,
    what is wrong with a line, and what a stop says, in words."""

    fitted: str = ""
    armed: int | None = None
    phase: str = "idle"
    waits: tuple[str, ...] = ()
    line: str = ""
    stop: str = ""


@dataclass(frozen=True)
class Doing:
    """The next thing: its key, what to do, what more there is to know, the words of the one key ("" where it does nothing),
    and the letter and place it speaks of."""

    key: str
    words: str
    more: str = ""
    press: str = ""
    label: str = ""
    place: int = 0

    @property
    def mark(self) -> str:
        """What a press of the key has to name, so that one that comes late does nothing."""
        return f"{self.key}:{self.label}:{self.place}"


def next_set(sets: Sequence[tuple[str, int]], taken: Sequence[Taken]) -> tuple[str, int]:
    """The letter that is pulled next and how many of it are still wanted; ("", 0) when the card is fulfilled.

    A set goes on until its pulls count; once a later set was begun, what an earlier one lacks is made up for at the end.
    """
    at, valid = _filled(sets, taken)
    spare: dict[str, int] = {}
    for (letter, wanted), count in zip(sets, valid, strict=True):
        spare[letter] = spare.get(letter, 0) + max(0, count - wanted)
    for place in (*range(at, len(sets)), *range(at)):
        letter, wanted = sets[place]
        missing = max(0, wanted - valid[place])
        made_up = min(missing, spare[letter])
        spare[letter] -= made_up
        if missing > made_up:
            return letter, missing - made_up
    return "", 0


def _filled(sets: Sequence[tuple[str, int]], taken: Sequence[Taken]) -> tuple[int, list[int]]:
    """At which set the day is, and how many pulls of each set count."""
    at, valid = 0, [0] * len(sets)
    for pull in taken:
        ahead = next((k for k in range(at, len(sets)) if sets[k][0] == pull.label), None)
        if ahead is not None and (ahead == at or valid[at] > 0):
            at = ahead
        of_it = [k for k, (letter, _) in enumerate(sets) if letter == pull.label]
        place = at if at in of_it else next(iter(of_it), None)
        if place is None or not pull.counts:
            continue
        valid[place] += 1
        if place == at and valid[at] >= sets[at][1] and at + 1 < len(sets):
            at += 1
    return at, valid


def next_step(
    sets: Sequence[tuple[str, int]], taken: Sequence[Taken], place: int, called: Mapping[str, str], now: Now
) -> Doing:
    """The next thing to do. place: the place that the next pull takes; called: what stands under each letter."""
    label, left = next_set(sets, taken)
    going = _going_on(now, label, place)
    if going is not None:
        return going
    if not label:
        return Doing(
            CLOSE, "The card is fulfilled. Close the session.", "Weather, conditions and files are looked at there."
        )
    if now.fitted != label:
        what = called.get(label, label)
        verb = "Put" if not now.fitted else f"Take {now.fitted} off and put"
        return Doing(
            FIT, f"{verb} {label} on: {what}.", f"{counted(left, 'pull')} of it.", f"{label} is on", label, place
        )
    if now.waits:
        return Doing(
            WAIT, "Wait: " + "; ".join(now.waits) + ".", "The card asks for it before a pull begins.", "", label, place
        )
    return Doing(
        ARM,
        f"Ready for pull {place}, of {label}.",
        f"{counted(left, 'pull')} of {label} still wanted.",
        "Arm it",
        label,
        place,
    )


def _going_on(now: Now, label: str, place: int) -> Doing | None:
    """What goes before the order of the card: a pull that is running, a stop, a line that is down."""
    if now.phase == PULLING:
        if now.armed is None:
            return Doing(PULLING, "Pulling …", "It is not armed: it will not be recorded.", "", label, place)
        return Doing(PULLING, f"Pulling {now.armed}, of {label} …", "", "", label, place)
    if now.phase == JUDGING:
        return Doing(JUDGING, "Reading the pull …", "", "", label, place)
    if now.stop:
        return Doing(STOP, f"Stop and inspect. {now.stop}", "Judge the pull once you have looked.", "", label, place)
    if now.line:
        return Doing(LINE, now.line, "Pulls can be taken in from files meanwhile.", "", label, place)
    if now.armed is not None:
        return Doing(
            ARMED,
            f"Pull now: {now.armed}, of {label}.",
            "It is recorded by itself when the throttle shuts.",
            "Disarm",
            label,
            now.armed,
        )
    return None


def waits_of(
    window: Mapping[str, tuple[float, float]], seen: Mapping[str, float], names: Mapping[str, str]
) -> tuple[str, ...]:
    """What of a card's window is not met, in words. window, seen: temperatures [K] by name; names: what each is called."""
    found = []
    for key, (low, high) in window.items():
        value = seen.get(key)
        if value is None:
            continue
        side = "below" if value < low else "above" if value > high else ""
        if side:
            found.append(f"{names.get(key, key).lower()} at {celsius(value)}, {side} {celsius(low)} to {celsius(high)}")
    return tuple(found)

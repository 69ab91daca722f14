"""A two-stroke's tuned pipe from header to stinger by the usual rules, and the window of speeds it works in."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise
from math import exp, log, pi

from longbreath.core.basis.errors import InputError, positive
from longbreath.core.basis.working import Figure, Given, Step, reckoned

SHARES = (
    ("header", 0.10),
    ("diffuser 1", 0.275),
    ("diffuser 2", 0.183),
    ("diffuser 3", 0.092),
    ("belly", 0.11),
    ("baffle", 0.24),
)
"""Pieces of a pipe as shares of the tuned length (after Blair, from memory; they sum to one)."""
HORN = 1.5
"""Exponent of the diffuser's horn: 1.25 broad to 2 peaky (after Blair, from memory)."""
STINGER_LENGTH = 12.0
"""Stinger length over its bore (after Jennings, from memory)."""
SOURCE = "After Jennings and Blair, from memory; the round trip is first principles."


@dataclass(frozen=True)
class Piece:
    """One piece of a pipe: name, length [m], bore at its beginning and its end [m]."""

    name: str
    length: float
    entry: float
    exit: float


def tuned_length(duration: float, speed: float, wave: float) -> Figure:
    """Tuned length [m] from piston face to the end of the baffle: L = θ_e/N·a/2.

    duration: exhaust open [rad of crank], speed tuned for [rad/s], wave: mean speed of the wave [m/s]. Raises InputError for a
    duration no port has. Source: first principles, one round trip while the exhaust is open.
    """
    positive(speed=speed, wave=wave)
    if not 0.5 * pi <= duration <= 1.4 * pi:
        raise InputError("An exhaust port is open for 90 to 252 ° of crank.", "duration")
    return reckoned(
        "tuned",
        "Tuned length, piston to end of baffle",
        (
            Given("θ_e", "exhaust open", duration, "angle"),
            Given("N", "tuned speed", speed, "speed"),
            Given("a", "mean speed of the wave", wave, "velocity"),
        ),
        (Step("t", "θ_e/N", duration / speed, "time"), Step("L_t", "a·t/2", wave * duration / speed / 2.0, "length")),
        SOURCE,
        ("1 700 ft/s (518 m/s) is usual for a warm pipe; √T moves it: see the question on heat.",),
    )


def pieces(
    length: float, port: float, header: float, belly: float, stinger: float, horn: float = HORN
) -> tuple[Piece, ...]:
    """Header, three diffusers, belly, baffle and stinger of a pipe of tuned `length` [m] on an exhaust `port` bore [m].

    header, belly, stinger: bores over the port's [1]; horn: exponent of the diffuser [1]. Raises InputError for a belly that
    is not the widest place. Source: after Blair, from memory.
    """
    positive(length=length, port=port, header=header, stinger=stinger, horn=horn)
    if belly <= header or stinger >= header:
        raise InputError(
            "The belly is the widest place of a pipe and the stinger the narrowest.",
            "belly" if belly <= header else "stinger",
        )
    lengths = {name: share * length for name, share in SHARES}
    cones = [lengths[f"diffuser {n}"] for n in (1, 2, 3)]
    whole, gone, bores = sum(cones), 0.0, [header * port]
    for cone in cones:
        gone += cone
        bores.append(header * port * exp(log(belly / header) * (gone / whole) ** horn))
    found = [Piece("header", lengths["header"], header * port, header * port)]
    found += [
        Piece(f"diffuser {n}", cone, *ends)
        for n, (cone, ends) in enumerate(zip(cones, pairwise(bores), strict=True), 1)
    ]
    wide, thin = belly * port, stinger * port
    found.append(Piece("belly", lengths["belly"], wide, wide))
    found.append(Piece("baffle", lengths["baffle"], wide, thin))
    found.append(Piece("stinger", STINGER_LENGTH * thin, thin, thin))
    return tuple(found)


def piece_figures(found: tuple[Piece, ...], length: float) -> tuple[Figure, ...]:
    """Length [m] of each piece with its bores in its label's working."""
    made = []
    shares = dict(SHARES)
    for piece in found:
        key = piece.name.replace(" ", "-")
        rule = f"{shares[piece.name]:g}·L_t" if piece.name in shares else f"{STINGER_LENGTH:g}·D"
        givens = (
            Given("L_t", "tuned length", length, "length"),
            Given("D_1", "bore at its beginning", piece.entry, "length"),
            Given("D_2", "bore at its end", piece.exit, "length"),
        )
        made.append(reckoned(key, piece.name.capitalize(), givens, (Step("L", rule, piece.length, "length"),), SOURCE))
        made.append(
            reckoned(
                f"{key}-bore",
                f"{piece.name}, bore at its end",
                givens,
                (Step("D_2", "by the horn or its share of the port", piece.exit, "length"),),
                SOURCE,
            )
        )
    return tuple(made)


def window(length: float, duration: float, transfer: float, wave: float) -> tuple[Figure, Figure]:
    """Speeds [rad/s] between which the baffle's return lies in the plugging interval, transfer shut to exhaust shut.

    length: tuned length [m]; duration, transfer: exhaust and transfer open [rad]; wave [m/s]. The first return comes from the
    beginning of the baffle, the last from its end. Raises InputError unless the exhaust is open longer than the transfer.
    Source: first principles; shares of the pipe after Blair, from memory.
    """
    positive(length=length, wave=wave, transfer=transfer)
    if transfer >= duration:
        raise InputError("The exhaust is open longer than the transfers.", "transfer")
    begins = length * (1.0 - dict(SHARES)["baffle"])
    shut = (duration + transfer) / 2.0
    low, high = shut * wave / (2.0 * length), duration * wave / (2.0 * begins)
    givens = (
        Given("L_t", "tuned length", length, "length"),
        Given("θ_e", "exhaust open", duration, "angle"),
        Given("θ_t", "transfers open", transfer, "angle"),
        Given("a", "mean speed of the wave", wave, "velocity"),
    )
    source = "First principles: the wave must be back between transfer shut and exhaust shut."
    note = (
        "Within it the pipe works at all; it works best around the tuned speed. Below the lower end it works against you.",
    )
    return (
        reckoned(
            "window-from",
            "The pipe works from",
            givens,
            (
                Step("θ_s", "exhaust open to transfer shut, (θ_e + θ_t)/2", shut, "angle"),
                Step("N", "θ_s·a/(2·L_t)", low, "speed"),
            ),
            source,
            note,
        ),
        reckoned(
            "window-to",
            "The pipe works up to",
            givens,
            (
                Step("L_b", "beginning of the baffle, 0.76·L_t", begins, "length"),
                Step("N", "θ_e·a/(2·L_b)", high, "speed"),
            ),
            source,
            note,
        ),
    )

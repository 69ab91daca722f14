"""Degree-wheel readings: opening, closing, duration, centre line and overlap of valves, discs and ports; and their checks."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import acos, cos, degrees, pi, radians, sqrt

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.working import Figure, Given, Step, Working

FIRST_PRINCIPLES = "First principles (angles on the wheel)."
ADDS_UP = radians(1.0)
"""Parts that miss the noted total by this much or less are taken as adding up (a wheel is read to half a degree)."""
TURN = 2.0 * pi
READ_TO = radians(0.5)
"""What a wheel is read to: its readings show as many digits as that allows, in a table as in the picture."""

KINDS = {
    "poppet": "poppet valves",
    "disc": "rotary valve or disc",
    "piston": "piston ports",
    "rotary": "rotary-engine ports",
}
READINGS: dict[str, tuple[tuple[str, str], ...]] = {
    "poppet": (
        ("intake_opens", "Intake opens, before top dead centre"),
        ("intake_closes", "Intake closes, after bottom dead centre"),
        ("exhaust_opens", "Exhaust opens, before bottom dead centre"),
        ("exhaust_closes", "Exhaust closes, after top dead centre"),
    ),
    "disc": (
        ("intake_opens", "Inlet opens, before top dead centre"),
        ("intake_closes", "Inlet closes, after top dead centre"),
    ),
    "piston": (
        ("exhaust_opens", "Exhaust opens, after top dead centre"),
        ("exhaust_closes", "Exhaust closes, before top dead centre"),
        ("transfer_opens", "Transfer opens, after top dead centre"),
        ("transfer_closes", "Transfer closes, before top dead centre"),
    ),
    "rotary": (
        ("intake_opens", "Intake opens, after top dead centre"),
        ("intake_closes", "Intake closes, after bottom dead centre"),
        ("exhaust_opens", "Exhaust opens, before bottom dead centre"),
        ("exhaust_closes", "Exhaust closes, after top dead centre"),
    ),
}
"""What the wheel is read for, by kind; angles as named, of the crank or of the eccentric shaft."""
PORTS = {
    "poppet": ("intake", "exhaust"),
    "disc": ("intake",),
    "piston": ("exhaust", "transfer"),
    "rotary": ("intake", "exhaust"),
}


@dataclass(frozen=True)
class Opening:
    """One port open from `opens` to `closes` [rad after top dead centre, increasing], on a wheel that is `turn` [rad] round."""

    port: str
    opens: float
    closes: float
    turn: float = TURN

    @property
    def duration(self) -> float:
        """closes − opens [rad]."""
        return self.closes - self.opens

    @property
    def centre(self) -> float:
        """Middle of the opening [rad after top dead centre]."""
        return (self.opens + self.closes) / 2.0


@dataclass(frozen=True)
class Sheet:
    """A sheet of readings [rad, as named in READINGS] of a kind, what a stop says about the wheel's dead centre
    (wheel reading [rad] at true top dead centre, + after), tares [rad] to take off for a worked port, noted totals [rad].
    """

    kind: str
    readings: Mapping[str, float]
    dead_centre: float = 0.0
    tares: Mapping[str, float] | None = None
    totals: Mapping[str, float] | None = None
    checking_lift: float | None = None

    def __post_init__(self) -> None:
        if self.kind not in KINDS:
            raise InputError("Choose what is timed.", "kind")
        known = dict(READINGS[self.kind])
        for name in self.readings:
            if name not in known:
                raise InputError(f"{KINDS[self.kind]} have no reading “{name}”.", name)

    def read(self, name: str) -> float | None:
        """A reading with the false dead centre and the tare taken off [rad], as named; None if it was not read."""
        value = self.readings.get(name)
        if value is None:
            return None
        sign = 1.0 if "before" in dict(READINGS[self.kind])[name] else -1.0
        return value + sign * self.dead_centre - (self.tares or {}).get(name, 0.0)

    def has(self, port: str) -> bool:
        """Whether both ends of a port were read."""
        return self.readings.get(f"{port}_opens") is not None and self.readings.get(f"{port}_closes") is not None


def opening(sheet: Sheet, port: str) -> Opening:
    """The opening of one port. Raises InputError if a reading is missing or it would never open."""
    found = []
    for end in ("opens", "closes"):
        value = sheet.read(f"{port}_{end}")
        if value is None:
            raise InputError("This is missing.", f"{port}_{end}")
        found.append(value)
    first, last = found
    made = _OPENINGS[sheet.kind, port](first, last)
    if not 0 < made.duration < made.turn * (2.0 if sheet.kind == "poppet" else 1.0):
        raise InputError("Read like this it never opens, or never closes.", f"{port}_closes")
    return made


_OPENINGS = {
    ("poppet", "intake"): lambda o, c: Opening("intake", -o, pi + c),
    ("poppet", "exhaust"): lambda o, c: Opening("exhaust", -pi - o, c),
    ("disc", "intake"): lambda o, c: Opening("intake", -o, c),
    ("piston", "exhaust"): lambda o, c: Opening("exhaust", o, TURN - c),
    ("piston", "transfer"): lambda o, c: Opening("transfer", o, TURN - c),
    ("rotary", "intake"): lambda o, c: Opening("intake", o, 1.5 * pi + c, 3.0 * TURN),
    ("rotary", "exhaust"): lambda o, c: Opening("exhaust", -1.5 * pi - o, c, 3.0 * TURN),
}
"""From the two readings of a port to its opening; a rotary engine's stroke is 270° of its shaft."""


def _givens(sheet: Sheet, port: str) -> tuple[Given, ...]:
    found = []
    for name, label in READINGS[sheet.kind]:
        if name.startswith(port) and name in sheet.readings:
            symbol = f"{'o' if name.endswith('opens') else 'c'}_{port[0]}"
            found.append(Given(symbol, label.lower(), sheet.readings[name], "angle"))
            if tare := (sheet.tares or {}).get(name):
                found.append(Given("w", f"taken off for the worked port ({name.split('_')[1]})", tare, "angle"))
    if sheet.dead_centre:
        found.append(Given("δ", "the wheel reads this at true top dead centre", sheet.dead_centre, "angle"))
    if sheet.checking_lift:
        found.append(Given("L", "checking lift", sheet.checking_lift, "length"))
    return tuple(found)


_DURATION = {
    "poppet": "o + 180° + c",
    "disc": "o + c",
    "piston": "360° − o − c",
    ("rotary", "intake"): "270° − o + c",
    ("rotary", "exhaust"): "o + 270° + c",
}


def port_figures(sheet: Sheet, port: str, rows: tuple[str, ...] = ()) -> dict[str, Figure]:
    """Duration and centre line of a port [rad], with working, keyed “intake-duration”, “intake-centre”."""
    made, givens = opening(sheet, port), _givens(sheet, port)
    formula = _DURATION.get(sheet.kind) or _DURATION[sheet.kind, port]
    note: tuple[str, ...] = ()
    if sheet.checking_lift:
        note = (f"At a checking lift of {sheet.checking_lift * 1000:.2f} mm: compare only at the same lift.",)
    duration = Step("θ", formula, made.duration, "angle")
    base = Working(f"Duration, {port}", givens, (duration,), FIRST_PRINCIPLES, note, rows)
    centre, where = abs(made.centre), "before" if made.centre < 0 else "after"
    label = f"Centre line, {port}, {where} top dead centre"
    middle = "middle of the opening"
    if sheet.kind == "poppet":
        middle = "θ/2 − o" if port == "intake" else "θ/2 − c"
    step = Step("m", middle, centre, "angle")
    source = "First principles; the middle of the opening, as for a symmetrical lobe."
    line = Working(label, givens, (duration, step), source, note, rows)
    return {
        f"{port}-duration": Figure(f"{port}_duration", f"Duration, {port}", made.duration, "angle", base),
        f"{port}-centre": Figure(f"{port}_centre", label, centre, "angle", line),
    }


def pair_figures(sheet: Sheet, rows: tuple[str, ...] = ()) -> dict[str, Figure]:
    """Overlap [rad], and for poppet valves lobe separation and advance [rad of cam], for piston ports the blowdown [rad]."""
    names = PORTS[sheet.kind]
    if len(names) < 2 or not all(sheet.has(name) for name in names):
        return {}
    givens = _givens(sheet, names[0]) + _givens(sheet, names[1])

    def figure(name: str, label: str, value: float, *steps: Step) -> Figure:
        return Figure(
            name, label, value, "angle", Working(label, givens, steps, FIRST_PRINCIPLES, (), rows), signed=value < 0
        )

    if sheet.kind == "piston":
        gap = opening(sheet, "transfer").opens - opening(sheet, "exhaust").opens
        return {"blowdown": figure("blowdown", "Blowdown", gap, Step("b", "o_t − o_e", gap, "angle"))}
    intake, exhaust = opening(sheet, "intake"), opening(sheet, "exhaust")
    overlap = exhaust.closes - intake.opens
    formula = "o_i + c_e" if sheet.kind == "poppet" else "c_e − o_i"
    found = {"overlap": figure("overlap", "Overlap", overlap, Step("Ω", formula, overlap, "angle"))}
    if sheet.kind == "poppet":
        separation = (intake.centre - exhaust.centre) / 2.0
        advance = separation - intake.centre
        steps = (
            Step("m_i", "intake centre", intake.centre, "angle"),
            Step("m_e", "exhaust centre", -exhaust.centre, "angle"),
            Step("S", "(m_i + m_e)/2", separation, "angle"),
        )
        found["separation"] = figure("separation", "Lobe separation, of the cam", separation, *steps)
        found["advance"] = figure("advance", "Cam advance", advance, *steps, Step("a", "S − m_i", advance, "angle"))
    return found


@dataclass(frozen=True)
class Finding:
    """Something that does not fit: the reading it is about, by how much [rad], and in words what it may be."""

    field: str
    gap: float
    words: str


def findings(sheet: Sheet) -> tuple[Finding, ...]:
    """Parts that do not add up to a noted total, and piston ports that do not stand even about dead centre."""
    found = []
    for port in PORTS[sheet.kind]:
        if not sheet.has(port):
            continue
        made = opening(sheet, port)
        noted = (sheet.totals or {}).get(port)
        if noted is not None and abs(made.duration - noted) > ADDS_UP:
            found.append(_unequal(port, made.duration, noted))
        if sheet.kind == "piston":
            uneven = (sheet.read(f"{port}_opens") or 0.0) - (sheet.read(f"{port}_closes") or 0.0)
            if abs(uneven) > ADDS_UP:
                found.append(
                    Finding(
                        f"{port}_closes",
                        uneven,
                        f"A port that the piston opens stands even about dead centre; this one is {abs(degrees(uneven)):.1f}° uneven. "
                        f"The wheel’s dead centre is false by {abs(degrees(uneven)) / 2:.1f}°.",
                    )
                )
    return tuple(found)


def _unequal(port: str, parts: float, noted: float) -> Finding:
    gap = degrees(parts - noted)
    words = (
        f"The parts add up to {degrees(parts):.1f}°, the noted total is {degrees(noted):.1f}°: {abs(gap):.1f}° "
        f"{'too much' if gap > 0 else 'missing'}. One part was misread, or the two were taken from different dead "
        "centres. Find top dead centre with a stop and read again."
    )
    return Finding(f"{port}_total", parts - noted, words)


def dead_centre_figure(before: float, after: float) -> Figure:
    """What the wheel reads at true top dead centre [rad, + after], from a piston stop met `before` and `after` it [rad].

    Both readings positive as named on the wheel. True centre is half way between: (after − before)/2.
    """
    if before <= 0 or after <= 0:
        raise InputError("The piston meets the stop before and after top dead centre.", "stop_before")
    offset = (after - before) / 2.0
    working = Working(
        "Dead centre by a stop",
        (Given("b", "stop met, before", before, "angle"), Given("a", "stop met, after", after, "angle")),
        (Step("δ", "(a − b)/2", offset, "angle"),),
        FIRST_PRINCIPLES,
        ("Take it off every reading after dead centre, add it to every reading before.",),
    )
    return Figure(
        "dead_centre", "The wheel reads at true top dead centre", offset, "angle", working, radians(0.5), signed=True
    )


def arc_angle(arc: float, radius: float) -> Figure:
    """Angle [rad] that an `arc` [m] along a disc of `radius` [m] stands for: s/r."""
    if radius <= 0 or arc <= 0:
        raise InputError("Arc and radius must be more than nought.", "radius")
    if arc > TURN * radius:
        raise InputError("Longer than once round the rim: look at both lengths and their units.", "arc")
    givens = (Given("s", "along the rim", arc, "length"), Given("r", "radius there", radius, "length"))
    note = ("Measured along the rim, not across: a chord reads short.",)
    working = Working("Degrees from an arc", givens, (Step("φ", "s/r", arc / radius, "angle"),), FIRST_PRINCIPLES, note)
    return Figure("angle", "Angle", arc / radius, "angle", working)


def arc_length(angle: float, radius: float) -> Figure:
    """Arc [m] along a disc of `radius` [m] for an `angle` [rad]: φ·r."""
    if radius <= 0 or angle <= 0:
        raise InputError("Angle and radius must be more than nought.", "radius")
    if angle > TURN:
        raise InputError("More than a turn: an arc along the rim lies within one.", "angle")
    working = Working(
        "Arc from degrees",
        (Given("φ", "angle", angle, "angle"), Given("r", "radius there", radius, "length")),
        (Step("s", "φ·r", angle * radius, "length"),),
        FIRST_PRINCIPLES,
    )
    return Figure("arc", "Along the rim", angle * radius, "length", working)


def piston_depth(angle: float, stroke: float, rod: float) -> float:
    """How far the piston is below top dead centre [m] at crank `angle` [rad]; stroke, rod [m]."""
    r = stroke / 2.0
    return r + rod - r * cos(angle) - sqrt(rod**2 - r**2 * (1.0 - cos(angle) ** 2))


def port_angle(depth: float, stroke: float, rod: float) -> Figure:
    """Crank angle after top dead centre [rad] at which the piston's edge is `depth` [m] down; stroke, rod [m].

    Closed form of the slider crank. Raises InputError for a depth outside the stroke or a rod that is too short.
    """
    if rod <= stroke / 2.0:
        raise InputError("A rod is longer than half the stroke.", "rod")
    if not 0 < depth < stroke:
        raise InputError("The port's edge lies inside the stroke.", "depth")
    r = stroke / 2.0
    reach = r + rod - depth
    angle = acos((r**2 + reach**2 - rod**2) / (2.0 * r * reach))
    working = Working(
        "Port angle from its depth",
        (
            Given("h", "port's edge below top dead centre", depth, "length"),
            Given("S", "stroke", stroke, "length"),
            Given("l", "rod", rod, "length"),
        ),
        (
            Step("x", "S/2 + l − h", reach, "length"),
            Step("φ", "acos((S²/4 + x² − l²)/(S·x))", angle, "angle"),
            Step("θ", "360° − 2·φ", TURN - 2.0 * angle, "angle"),
        ),
        "First principles: slider crank without offset.",
    )
    return Figure("port_angle", "Opens after top dead centre", angle, "angle", working)


SAME_READING = radians(0.25)
"""Two readings nearer than this are told as the same: a wheel is read to half a degree."""


def gap_words(a_title: str, a: Sheet, b_title: str, b: Sheet) -> str:
    """What B does other than A, in a sentence."""
    found = []
    for name, label in READINGS[a.kind]:
        one, other = a.read(name), b.read(name)
        if one is None or other is None or abs(one - other) < SAME_READING:
            continue
        later = (other > one) != ("before" in label)
        gap = abs(degrees(other - one))
        found.append(f"{label.split(',')[0].lower()} {gap:.1f}° {'later' if later else 'earlier'}")
    if not found:
        return f"{b_title} reads the same as {a_title}."
    return f"{b_title[0].upper()}{b_title[1:]}: {', '.join(found)} than {a_title}."


def sheet_figures(sheet: Sheet) -> tuple[Figure, ...]:
    """Every figure that follows from a sheet. Raises InputError beside a reading or total that does not add up."""
    figures: dict[str, Figure] = {}
    for port in PORTS[sheet.kind]:
        if sheet.has(port):
            figures |= port_figures(sheet, port)
    if wrong := findings(sheet):
        raise InputError(wrong[0].words, wrong[0].field)
    return (*figures.values(), *pair_figures(sheet).values())

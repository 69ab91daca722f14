"""Torque, power and response: what the pulls of a test hold, as a sheet states and shows it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from functools import partial

from longbreath.core.air import correction
from longbreath.core.air.moist import Weather
from longbreath.core.basis import units
from longbreath.core.build.sheet import Differing
from longbreath.core.case.alone import contested
from longbreath.core.case.conditions import ASKED, PRINTED, lines_of
from longbreath.core.case.placing import Channels, by_day, correction_of
from longbreath.core.case.seen import Pull, Session, Test
from longbreath.core.case.statement import Grounded, Printed, Statement, long_day
from longbreath.core.case.weigh import Weighed, response_of, schools_of
from longbreath.core.claim import stating
from longbreath.core.claim.facts import EQUAL_BOOST, PEAK, Fact, Setting, facts_of
from longbreath.core.claim.gates.gate import OnDyno
from longbreath.core.claim.stating import Stated
from longbreath.core.compare import counted
from longbreath.core.compare.compare import Comparison
from longbreath.core.compare.levels import PULLS
from longbreath.core.engine.assumptions import BOOSTED
from longbreath.core.plan.conditions import CONTROL_MODES, TUNE_MODES
from longbreath.core.weigh.ledger import UNKNOWN, knowledge


def is_boosted(test: Test) -> bool:
    """Whether the engine breathes under boost: a gain may be the boost that rose."""
    return test.part.induction in BOOSTED


def setting_of(test: Test, weighed: Weighed) -> Setting:
    """What all facts share: the part, against what, where, how."""
    newest, one = test.newest, len(test.sessions) == 1
    comparison = weighed.weighing.comparison
    return Setting(
        part=test.part.title,
        against=test.part.stock,
        vehicle=test.part.vehicle,
        at=newest.dyno.measured_at,
        standard="" if newest.standard == correction.UNCORRECTED else correction.STANDARDS[newest.standard].name,
        one_session=one,
        days=len(test.sessions),
        margin=comparison.margin_share,
        back_to_back=comparison.design.drift,
        package=weighed.package,
    )


def facts_as_set(test: Test, weighed: Weighed) -> tuple[Fact, ...]:
    """Everything that may be said before a school is chosen. Of a net nothing is said of peaks: they are as observed."""
    found = facts_of(weighed.stated, is_boosted(test))
    return tuple(f for f in found if f.scope != PEAK) if weighed.is_net else found


def power(test: Test, weighed: Weighed, school: str, channels: Channels) -> Statement:
    """Torque and power. school: by which a boosted engine is compared. Raises EvidenceError where equal boost cannot be had."""
    school = school if is_boosted(test) else ""
    schools = schools_of(test, weighed, channels) if school else None
    setting = setting_of(test, weighed)
    return _statement(
        test, weighed, stating.of_power(weighed.weighing, weighed.net, schools, setting, is_boosted(test), school)
    )


def response(test: Test, weighed: Weighed, channels: Channels) -> Statement:
    """How boost came. Raises EvidenceError where no manifold pressure was logged."""
    shown = response_of(test, weighed, channels)
    return _statement(test, weighed, stating.of_response_shown(shown, weighed.stated, setting_of(test, weighed)))


def _statement(test: Test, weighed: Weighed, stated: Stated) -> Statement:
    shown = Printed(
        stated.headline,
        tuple(_conditions(test, weighed)),
        tuple(replace(item, reason=known_of(weighed, item)) for item in weighed.builds.differing),
        records_of(test, weighed),
        correction_of(test.newest),
    )
    typed = sum(session.typed for session in test.sessions)
    return Statement(
        stated,
        shown,
        Grounded(dyno=_on_dyno(test, weighed, stated)),
        test.newest.held_on,
        outside=(f"{typed} typed pulls",) if typed else (),
    )


def _on_dyno(test: Test, weighed: Weighed, stated: Stated) -> OnDyno:
    weighing, found, newest = stated.weighing or weighed.stated, weighed.builds, test.newest
    comparison = found.comparison
    sets = counted.in_short(weighing.comparison).lstrip(", ") or "each pull is a set of its own"
    return OnDyno(
        weighing=weighing,
        sides=found.vehicles,
        differing=found.differing,
        outside_standard=tuple(
            dict.fromkeys(w for s in test.sessions for w in correction.outside(_air(s), newest.standard))
        ),
        boosted=is_boosted(test),
        school=stated.setting.school,
        pressure=stated.pressure,
        doubts=test.doubts,
        closed=not weighed.package,
        net=weighed.is_net,
        judgement=(comparison.judgement, comparison.reason) if comparison is not None else ("", ""),
        parts=found.lines,
        lapsed=tuple(dict.fromkeys(_lapsed(test))),
        sets="" if weighing.comparison.levels.mode == PULLS else sets,
        control=test.card.control_mode,
        unrecorded=test.unrecorded,
        alone=tuple(named(test, s, p) for s, p in contested(test))
        if stated.setting.school == EQUAL_BOOST or stated.setting.kind == "response"
        else (),
    )


def _air(session: Session) -> Weather:
    return Weather(session.temperature, session.pressure, session.humidity)


def _lapsed(test: Test) -> Iterator[str]:
    for session in test.sessions:
        dyno = session.dyno
        if dyno.calibration_due is not None and session.held_on > dyno.calibration_due:
            yield f"{dyno.name}, due on {dyno.calibration_due:%d %b %Y}"
        if dyno.calibrated_on is not None and session.held_on < dyno.calibrated_on:
            yield f"{dyno.name}, not calibrated before {dyno.calibrated_on:%d %b %Y}"


def known_of(weighed: Weighed, item: Differing) -> str:
    """Why a thing differed, and what is known of its effect, where its line of the ledger says so."""
    lines = weighed.net.lines if weighed.net is not None else ()
    line = next((x for x in lines if x.line == item.line), None)
    if line is None or line.kind == UNKNOWN or not item.reason:
        return item.reason
    return f"{item.reason}; {knowledge(line, weighed.weighing.comparison)}"


def letters_of(session: Session) -> list[Pull]:
    """The pulls of A and B in a session, whether or not they count."""
    return [pull for pull in session.pulls if pull.letter in (session.card.a, session.card.b)]


def left_out(test: Test) -> list[Pull]:
    """The pulls of A and B that do not count."""
    return [pull for session in test.sessions for pull in letters_of(session) if not pull.counts]


def overruled(test: Test) -> list[Pull]:
    """The pulls of A and B that count although a check of theirs failed: a person said so."""
    return [pull for session in test.sessions for pull in letters_of(session) if pull.overruled]


def called(test: Test) -> tuple[str, str]:
    """What A and B were, in the card's words."""
    return test.card.called(test.card.a), test.card.called(test.card.b)


def records_of(test: Test, weighed: Weighed) -> tuple[tuple[str, str], ...]:
    """The names and notes of people that a sheet of pulls prints, with their place."""
    found, (a, b) = weighed.builds, called(test)
    records = [
        ("the vehicle’s mark", found.vehicle),
        ("the dyno’s name", test.newest.dyno.name),
        ("the test card, A", a),
        ("the test card, B", b),
        ("the gear", test.newest.gear),
    ]
    for item in found.differing:
        sides = {"A": item.a, "B": item.b, "reason": item.reason}
        records += [(f"{item.label}, {side}", text) for side, text in sides.items()]
    records += [(f"{label}, by its build sheet", text) for label, text in found.parts]
    records += [(f"{label} on the build sheets", text) for label, text in found.same]
    records += [(f"why pull {p.place} is left out", p.judgements[-1].reason) for p in left_out(test) if p.by_hand]
    return tuple(records)


def _both(value: float, kind: str) -> str:
    return f"{units.show(value, kind, 'us')} ({units.show(value, kind, 'metric')})"


def _conditions(test: Test, weighed: Weighed) -> Iterator[tuple[str, str]]:
    session, comparison, found = test.newest, weighed.weighing.comparison, weighed.builds
    vehicle = test.part.vehicle + (f", {found.vehicle}" if found.vehicle else "")
    order = "A-B-A" if comparison.design.drift else "A and B, without a return to A"
    yield "Measured on", f"{vehicle}; {session.dyno.name}, at the {session.dyno.measured_at}"
    yield "Date", "; ".join(long_day(day) for day in sorted({s.held_on for s in test.sessions}))
    yield "Order", f"{order}; {comparison.count('A')} valid pulls of A, {comparison.count('B')} of B"
    yield "The interval", counted.counts(comparison)
    yield from _modes(test)
    if weighed.is_net:
        yield "Stated", "net of what differed beside the part, line by line below"
    yield from _what_counts(test, comparison)
    yield from zip("AB", called(test), strict=True)
    for label, text in found.parts:
        yield f"{label}, by its build sheet", text
    same = "; ".join(f"{label}: {text}" for label, text in found.same)
    yield "The same on both build sheets", same or "nothing recorded"
    yield "Not recorded", "; ".join(found.silent) or "nothing"
    yield from _of_the_days(test)


def _what_counts(test: Test, comparison: Comparison) -> Iterator[tuple[str, str]]:
    """Which pulls and sessions take part, how often the outcome was looked at, and what was chosen after that."""
    sides = [(s, p) for s in by_day(test.sessions) for p in letters_of(s)]
    yield "Left out", "; ".join(_why(test, s, p) for s, p in sides if not p.counts) or "no pull"
    yield "Other sessions", "; ".join(test.others) or "none"
    yield "Looks", looks_words(test)
    yield from _after_looking(test)
    for label, words in (("Build sheets", _corrected(test)), ("Read against its file", _departing(test))):
        if words:
            yield label, "; ".join(dict.fromkeys(words))
    if comparison.either_way:
        yield "By hand, not agreed", "stated is what holds either way. " + " ".join(comparison.either_way)
    yield "Counted by hand", "; ".join(named(test, s, p) for s, p in sides if p.overruled) or "no pull"


def _after_looking(test: Test) -> Iterator[tuple[str, str]]:
    """What was chosen after the first outcome was known."""
    if any(s.card.no_matter != test.margin for s in test.sessions):
        yield "Margin", f"{100 * test.margin:.3g} % of A, as the first card said; a later card’s came after looking"
    if test.bands_late:
        yield "Bands of use", "changed after the pulls; the intervals hold for any band"


def _corrected(test: Test) -> list[str]:
    """What of the build sheets was corrected after the pulls."""
    sheets = [sheet for s in test.sessions for sheet in (s.sheet_a, s.sheet_b) if sheet is not None]
    return [words for sheet in sheets for words in sheet.corrected]


def _departing(test: Test) -> list[str]:
    """Where pulls are read otherwise than their files say."""
    return [words for s in test.sessions for pull in letters_of(s) for words in pull.departs]


def _of_the_days(test: Test) -> Iterator[tuple[str, str]]:
    """Air, correction, and what is known of the pulls, day by day where the days differ."""
    session = test.newest
    yield "Air", _each(test, _air_words)
    name = correction.STANDARDS[session.standard].name
    yield "Correction", name + (" (in the files)" if session.already_corrected else "")
    for name in PRINTED:
        yield ASKED[name], _each(test, partial(_of_letters, name)) or "not recorded"
    if any(s.gear for s in test.sessions):
        yield "Gear", _each(test, lambda s: s.gear or "not recorded")


def _air_words(session: Session) -> str:
    air = (_both(session.temperature, "temperature"), _both(session.pressure, "barometer"))
    return f"{', '.join(air)}, {session.humidity:.0%} humidity"


def _each(test: Test, words: Callable[[Session], str]) -> str:
    """What is said of every session, day by day where the days do not say the same."""
    told = {session.held_on: words(session) for session in by_day(test.sessions)}
    if len(set(told.values())) == 1:
        return next(iter(told.values()))
    return "; ".join(f"{day:%d %b %Y}: {text}" for day, text in told.items())


def looks_words(test: Test) -> str:
    """How often the outcome was looked at before a statement is made, and what that costs, in a sentence."""
    looks, error = test.looks, 100.0 * (1.0 - test.confidence)
    if not looks:
        return f"the first, at the end of its card’s plan: the intervals may be wrong in {error:.2g} %"
    last, number = looks[-1], len(looks)
    where = "at the end of its card’s plan"
    if last.short:
        where = f"{last.short} of {last.planned} pulls short of its card’s plan"
    elif last.over:
        where = f"{last.over} pulls beyond its card’s plan"
    return (
        f"session {number} in which A and B were seen, {where}: the intervals may be wrong in {error:.2g} %, so that all looks "
        "together are in 5 %"
    )


def _of_letters(name: str, session: Session) -> str:
    """One condition of the pulls, letter by letter where A and B differ."""
    line = next(line for line in lines_of(session) if line.name == name)
    pair = (session.card.a, session.card.b)
    said = {letter: line.by_letter[letter].words for letter in pair if letter in line.by_letter}
    same = len(set(said.values())) == 1
    return next(iter(said.values())) if same else "; ".join(f"{k}: {v}" for k, v in said.items())


def _modes(test: Test) -> Iterator[tuple[str, str]]:
    card = test.card
    if card.tune_mode:
        given = {v.letter: max(v.rounds, v.rounds_kept) for v in card.variants if v.letter in (card.a, card.b)}
        told = uneven(given)
        yield "Tune", TUNE_MODES[card.tune_mode] + (f"; tuning rounds: {told}" if told else "")
    if card.control_mode:
        yield "Boost control", CONTROL_MODES[card.control_mode]


def uneven(given: dict[str, int]) -> str:
    """Tuning rounds that each letter was given, in words, where they are not equal; whoever was tuned more often may win by it."""
    return ", ".join(f"{letter} {count}" for letter, count in given.items()) if len(set(given.values())) > 1 else ""


def named(test: Test, session: Session, pull: Pull) -> str:
    """How a sheet names a pull: by its place, and by its day where there are several."""
    day = f" of {session.held_on:%d %b %Y}" if len(test.sessions) > 1 else ""
    return f"pull {pull.place} ({pull.letter}){day}"


def _why(test: Test, session: Session, pull: Pull) -> str:
    why = f"by hand: {pull.judgements[-1].reason}" if pull.by_hand else "by its checks"
    return f"{named(test, session, pull)}, {why}"

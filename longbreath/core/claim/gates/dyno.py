"""Gates of pulls: what a statement on torque, power or response rests on."""

from __future__ import annotations

from longbreath.core.basis.sentence import counted
from longbreath.core.build.sheet import NOT_COMPARABLE
from longbreath.core.claim.facts import AS_SET, BOOSTED, EQUAL_BOOST
from longbreath.core.claim.gates.gate import Grounds, Look
from longbreath.core.compare import compare

RETURN_FACTOR = 1.96
"""Standard errors up to which harm by curved drift is said to be unseen: 95 % of a normal spread."""
HARM = 0.5
"""Curved drift may move a difference by this share of the margin of no meaningful difference."""


PART_LINES = {"part_state": "casting and finish", "machining": "machining", "coating": "coating"}
"""Lines of a build sheet that say what a part is, beside its name."""


def sheets(grounds: Grounds) -> Look:
    """A build sheet of A and one of B stand for the day of the test."""
    missing = [label for label, side in zip("AB", grounds.on_dyno.sides, strict=True) if side is None]
    words = (
        f"No build sheet of {' and of '.join(missing)} stands for the day of the test: what differed is not known."
        if missing
        else "One of A and one of B stand for the day of the test."
    )
    return (not missing, words)


def vehicle(grounds: Grounds) -> Look:
    """Both build sheets name the vehicle that was tested, and it is the same one."""
    a, b = (side or "" for side in grounds.on_dyno.sides)
    if not a or not b:
        missing = " and ".join(label for label, side in (("A", a), ("B", b)) if not side)
        return (False, f"The build sheet of {missing} does not say which vehicle it was.")
    met = " ".join(a.casefold().split()) == " ".join(b.casefold().split())
    return (met, f"{a}." if met else f"A was tested on {a}, B on {b}.")


def in_range(grounds: Grounds) -> Look:
    """The air of the day lies where the correction standard permits it to be used."""
    outside = " ".join(grounds.on_dyno.outside_standard)
    return (not outside, outside or "Temperature, pressure and factor lie in the standard’s ranges.")


def counts(grounds: Grounds) -> Look:
    """Three valid pulls of A and of B."""
    comparison = grounds.on_dyno.weighing.comparison
    a, b = comparison.count("A"), comparison.count("B")
    return (a >= 3 and b >= 3, f"{a} of A, {b} of B.")


def drift(grounds: Grounds) -> Look:
    """What was pulled first was pulled again, and how drift is drawn moves no band's difference by half the margin.

    Drift itself may be as large as it likes: a straight one is taken out. Harm is what a curve would change, once pulls show
    one; up to what size they could not show one stands in the sentence.
    """
    weighing = grounds.on_dyno.weighing
    comparison = weighing.comparison
    if not comparison.design.drift:
        return (False, f"{comparison.first} was not pulled again: drift is unknown.")
    worst, blind = 0.0, 0.0
    for item in weighing.bands:
        assert item.band is not None
        shift, error = comparison.drift_harm(item.band.low, item.band.high)
        worst = max(worst, abs(shift) / item.margin)
        blind = max(blind, (abs(shift) + RETURN_FACTOR * error) / item.margin)
    if comparison.design.curved and worst > HARM:
        words = (
            f"Drift was curved: drawn as a straight line, it moves a band's difference by {_of_a(worst, comparison)}. "
            "Warm the engine through, or let it cool alike, and pull again."
        )
        return (False, words)
    if blind == float("inf"):
        return (True, "A straight drift is taken out; there are too few pulls to see a curved one.")
    shape = "curved" if comparison.design.curved else "straight"
    words = (
        f"A {shape} drift is taken out; harm of up to {_of_a(blind, comparison)} by its shape could not have been seen."
    )
    return (True, words)


def _of_a(margins: float, comparison: compare.Comparison) -> str:
    return f"{100.0 * margins * comparison.margin_share:.1f} % of A"


def health(grounds: Grounds) -> Look:
    """No finding on the engine puts pulls in doubt."""
    words = " ".join(grounds.on_dyno.doubts)
    return (not words, words or "No finding on the engine since its last good look.")


def explained(grounds: Grounds) -> Look:
    """Whatever differed beside the part has a written reason; the result is then that of a package."""
    bare = [item.label for item in grounds.on_dyno.differing if not item.reason]
    if bare:
        return (False, f"Beside the part, A and B differ without a written reason in: {'; '.join(bare)}.")
    if grounds.on_dyno.differing and grounds.on_dyno.closed:
        many = counted(len(grounds.on_dyno.differing), "difference")
        words = f"{many} with a known effect: the result is the part’s own, net of them."
        return (True, words)
    if grounds.on_dyno.differing:
        words = (
            f"{counted(len(grounds.on_dyno.differing), 'difference')} with a reason: the result is that of a package."
        )
        return (True, words)
    return (True, "The build sheets and the card show no difference beside the part.")


def boost(grounds: Grounds) -> Look:
    """A gain of a boosted engine says whether boost was left alone, with its pressure, or made equal."""
    dyno = grounds.on_dyno
    if not dyno.boosted:
        return (True, "The engine is not boosted.")
    gains = [item.name for item in dyno.weighing.judged if item.verdict == compare.GAIN]
    if dyno.school == EQUAL_BOOST:
        return (True, f"Compared at equal boost. {dyno.pressure}".strip())
    if dyno.school == AS_SET:
        words = dyno.pressure or "No manifold pressure was logged: how much of it goes with boost is not known."
        return (bool(dyno.pressure), f"As set. {words}")
    if gains:
        return (False, f"{BOOSTED} It gained in: {', '.join(gains)}.")
    return (True, "Boosted, and no gain was found.")


def comparable(grounds: Grounds) -> Look:
    """The two build sheets may be compared, or the ledger is closed; the statement is then of the net."""
    dyno = grounds.on_dyno
    judgement, reason = dyno.judgement
    if dyno.closed and dyno.net:
        return (True, "The ledger is closed: the statement is of the net, not of what was observed.")
    if judgement == NOT_COMPARABLE and not dyno.closed:
        return (False, f"The build sheets of A and B are not comparable: {reason}")
    return (True, f"The build sheets are {judgement}." if judgement else "Nothing beside the part differs.")


def sets(grounds: Grounds) -> Look:
    """What comes from taking the part off and on again is in the interval."""
    words = grounds.on_dyno.sets
    return (bool(words), f"Set to set: {words}." if words else "Only pull-to-pull scatter is in the interval.")


def recorded(grounds: Grounds) -> Look:
    """Whatever full pull a file of any session holds is recorded: what was seen is not selected."""
    names = grounds.on_dyno.unrecorded
    more = f" and {len(names) - 4} more" if len(names) > 4 else ""
    words = (
        f"Not recorded: {'; '.join(names[:4])}{more}. Whatever is no test is recorded too, and taken out with a reason."
    )
    return (not names, words if names else "All that the files hold is recorded.")


def agreed(grounds: Grounds) -> Look:
    """What one person took out, or let count, against the checks is agreed blind, or the statement holds either way."""
    alone = "; ".join(grounds.on_dyno.alone)
    return (not alone, f"On one person’s word: {alone}." if alone else "None is, or it holds with them and without.")


def calibrated(grounds: Grounds) -> Look:
    """Nothing the figures rest on was past its calibration on the day of the test."""
    late = "; ".join(grounds.on_dyno.lapsed)
    return (not late, f"Past its calibration on the day of the test: {late}." if late else "None was past it.")


def parts(grounds: Grounds) -> Look:
    """Casting and finish, machining and coating of both are written down, the loser's too."""
    bare = [
        f"{label}: {', '.join(lacking)}"
        for label, lines in zip("AB", grounds.on_dyno.parts, strict=True)
        if (lacking := [words for line, words in PART_LINES.items() if not lines.get(line, "").strip()])
    ]
    return (not bare, f"Not on the build sheet of {'; of '.join(bare)}." if bare else "Written down of A and of B.")


def sold(grounds: Grounds) -> Look:
    """It is said which serials are sold in the state that was tested."""
    sold = grounds.notes.get("sold", "").strip()
    said = sold.strip(".").casefold() not in ("", "not recorded")
    return (said, f"Sold: {sold}." if said else "It is not said which serials are sold in the state that was tested.")


def serial(grounds: Grounds) -> Look:
    """The part that was tested is one part, which can be found again."""
    named = grounds.on_dyno.parts[1].get("serial", "").strip()
    return (bool(named), f"{named}." if named else "The build sheet of B does not name the serial or mark of the part.")


def state(grounds: Grounds) -> Look:
    """What was tested is in the state in which the revision is sold."""
    tested, of_revision = grounds.on_dyno.parts[1].get("part_state", "").strip(), grounds.state_sold.strip()
    words = f"Tested “{tested or 'not recorded'}”, the revision is “{of_revision or 'not recorded'}”."
    return (bool(tested) and tested.casefold() == of_revision.casefold(), words)

"""A case: whatever stands in it identifies it and is read by somebody; it survives a bundle; what changed is told from one table."""

from __future__ import annotations

import ast
import json
from collections.abc import Iterator, Mapping
from copy import copy
from dataclasses import fields, is_dataclass, replace
from datetime import date, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest

import longbreath.core.bench
import longbreath.core.case
import longbreath.proof
from longbreath.core.basis.errors import EvidenceError
from longbreath.core.case import changes
from longbreath.core.case.case import Case, Context, canonical, digest_of, facts_digest, plain
from longbreath.core.case.placing import pair_sides, placed
from longbreath.core.case.state import content
from longbreath.core.case.weigh import weigh
from longbreath.core.weigh.ledger import MEASURED
from longbreath.proof.case import case_from_data
from tests.made import case as made

CASES = made.cases()
NO_EVIDENCE = {
    "Session.name": "tells a session from others of its day; a day that is held later renames it",
    "Session.typed": "typed pulls back nothing, and are named beside it",
    "Test.others": "other sessions are no part of a statement, and are named beside it",
}
"""Fields that do not identify a case, with the reason."""
NOT_READ = {
    "Part.dossier": "identity: two dossiers of equal names are two",
    "Pull.reading": "identity: which reading of its files holds, by which the house finds its channels",
    "Case.format": "read where a bundle is, before anything else is",
    "Trial.number": "identity: a correction is another trial of the same words",
    "Flow.number": "identity: two days at the bench may read the same",
    "Context.lapsed": "identity: the day makes it of the certificates, so that it is seen when one runs out",
    "Flow.of": "tells the forms of evidence apart where a bundle is read",
    "Test.of": "as above",
    "Run.of": "as above",
    "Trial.of": "as above",
    "Looks.of": "as above",
}
"""Fields that neither weighing, gates nor sheet read by name, with the reason."""


def leaves(value: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[tuple[Any, ...], Any]]:
    """Every plain value in a tree of frozen data, with the way to it."""
    if is_dataclass(value):
        for item in fields(value):
            yield from leaves(getattr(value, item.name), (*path, item.name))
    elif isinstance(value, Mapping):
        for name in value:
            yield from leaves(value[name], (*path, name))
    elif isinstance(value, tuple):
        for place, item in enumerate(value):
            yield from leaves(item, (*path, place))
    else:
        yield path, value


def changed(value: Any, path: tuple[Any, ...]) -> Any:
    """The same tree with another value at the end of a way."""
    if not path:
        return another(value)
    here, rest = path[0], path[1:]
    if is_dataclass(value):
        other = copy(value)
        object.__setattr__(other, here, changed(getattr(value, here), rest))  # whether or not it could be
        return other
    if isinstance(value, Mapping):
        return {**value, here: changed(value[here], rest)}
    return (*value[:here], changed(value[here], rest), *value[here + 1 :])


def another(value: Any) -> Any:
    if isinstance(value, bool):
        return not value
    if isinstance(value, (int, float)):
        return value + 1
    if isinstance(value, (date, datetime)):
        return value + timedelta(days=1)
    return f"{value}x"


def owner(value: Any, path: tuple[Any, ...]) -> str:
    """Class and field that a way leads through last."""
    name = ""
    for step in path:
        if is_dataclass(value):
            name, value = f"{type(value).__name__}.{step}", getattr(value, step)
        else:
            value = value[step]
    return name


@pytest.mark.parametrize("form", CASES)
def test_another_value_anywhere_is_another_case(form: str) -> None:
    case = CASES[form]
    digest, whole = digest_of(case), canonical(case)
    for path, _ in leaves(case):
        moved = changed(case, path)
        assert canonical(moved) != whole
        assert (digest_of(moved) == digest) == (owner(case, path) in NO_EVIDENCE), path
    assert digest_of(made.cases()[form]) == digest


def kinds_of(value: Any) -> Iterator[type]:
    """Every class of frozen data of this room in a tree."""
    if is_dataclass(value):
        if type(value).__module__.startswith("longbreath.core.case."):
            yield type(value)
        for item in fields(value):
            yield from kinds_of(getattr(value, item.name))
    elif isinstance(value, (Mapping, tuple)):
        for item in value.values() if isinstance(value, Mapping) else value:
            yield from kinds_of(item)


def test_every_field_of_a_case_is_read_by_somebody() -> None:
    rooms = (longbreath.core.case, longbreath.core.bench, longbreath.proof)
    files = [path for room in rooms for path in Path(room.__path__[0]).glob("*.py")]
    read = {n.attr for f in files for n in ast.walk(ast.parse(f.read_text())) if isinstance(n, ast.Attribute)}
    known = {kind for case in CASES.values() for kind in kinds_of(case)}
    assert {"Test", "Session", "Flow", "Reading", "Looks", "Spot", "Run", "Trial", "Context"} <= {
        k.__name__ for k in known
    }
    lost = {f"{kind.__name__}.{f.name}" for kind in known for f in fields(kind) if f.name not in read}
    assert lost <= set(NOT_READ)
    assert {name.partition(".")[0] for name in NOT_READ} <= {kind.__name__ for kind in known}


@pytest.mark.parametrize("form", CASES)
def test_a_case_goes_through_json_and_comes_back_the_same(form: str) -> None:
    case = CASES[form]
    back = case_from_data(json.loads(json.dumps(plain(case), allow_nan=False)))
    assert back == case
    assert canonical(back) == canonical(case)
    sheets = [content(made.draft(c)) for c in (case, back)]
    assert sheets[0] == sheets[1]


def test_a_test_is_weighed_and_what_was_measured_alone_is_taken_off() -> None:
    found = weigh(made.tested(), made.channels)
    assert found.weighing.bands[1].effect.value == pytest.approx(4.0, abs=0.6)
    assert found.net is not None
    (line,) = found.net.lines
    assert (line.kind, line.shares_pulls) == (MEASURED, False)
    assert found.stated.bands[1].effect.value == pytest.approx(2.5, abs=0.8)
    assert found.package == ()
    with pytest.raises(EvidenceError, match="no pulls"):
        weigh(replace(made.tested(), sessions=(replace(made.session(1, "AB"), pulls=()),)), made.channels)


def test_places_sets_and_days_are_numbered_through() -> None:
    """Steady points take a place as well; a pull that is out leaves its place empty; the next day begins with another set."""
    first = replace(made.session(1, "AABB"), last_place=6)
    out = replace(first, pulls=(*first.pulls[:1], made.pull(2, "A", valid=False), *first.pulls[2:]))
    later = made.session(2, "BA", day=date(2026, 5, 20))
    found = placed([later, out], pair_sides([later, out]))
    assert [(p.label, p.order, p.fitting, p.day) for p in found] == [
        ("A", 1, 0, 0),
        ("B", 3, 1, 0),
        ("B", 4, 1, 0),
        ("B", 7, 2, 1),
        ("A", 8, 3, 1),
    ]


def first(case: Case, **to: Any) -> Case:
    """The same case with its newest session changed."""
    test = case.seen
    return replace(case, seen=replace(test, sessions=(replace(test.sessions[0], **to), *test.sessions[1:])))  # type: ignore[arg-type, union-attr]


CASE = CASES["test"]
MOVED: dict[str, tuple[Case, str]] = {
    "weather": (first(CASE, temperature=310.0), "session"),
    "a pull": (first(CASE, pulls=CASE.seen.sessions[0].pulls[:-1]), "pulls"),  # type: ignore[union-attr]
    "what was said": (first(CASE, said=()), "beside"),
    "the ledger": (replace(CASE, seen=replace(CASE.seen, reasons=())), "ledger"),  # type: ignore[arg-type]
    "a sheet": (first(CASE, sheet_a=None), "sheets"),
    "another session": (replace(CASE, seen=replace(CASE.seen, visits=CASE.seen.visits[1:])), "again"),  # type: ignore[arg-type, union-attr]
    "health": (replace(CASE, seen=replace(CASE.seen, doubts=())), "health"),  # type: ignore[arg-type]
    "the part": (replace(CASE, seen=replace(CASE.seen, part=replace(made.PART, state="ported"))), "part"),
    "road": (replace(CASE, context=replace(CASE.context, status="closed_course")), "road"),
    "certificate": (replace(CASE, context=replace(CASE.context, certificates=())), "certificate"),
    "costs": (replace(CASE, context=replace(CASE.context, costs=())), "costs"),
    "method": (replace(CASE, method="torque 0"), "method"),
    "looks": (replace(CASES["looks"], seen=replace(made.looked(), minutes=1.0)), "looks"),
    "trial": (replace(CASES["trial"], seen=replace(made.trialled(), step=1.0)), "trial"),
    "readings": (replace(CASES["flow"], seen=replace(made.flowed(), leak=None)), "readings"),
}


@pytest.mark.parametrize("what", MOVED)
def test_what_changed_is_named_from_one_table(what: str) -> None:
    now, cause = MOVED[what]
    was = next(case for case in CASES.values() if type(case.seen) is type(now.seen))
    assert changes.causes_of(plain(was), plain(now)) == (cause,)
    assert changes.causes_of(plain(was), plain(was)) == ()
    assert changes.words_of((cause,)) == changes.CAUSES[cause]


def test_every_place_of_a_case_has_a_cause_or_is_known_to_have_none() -> None:
    without = {
        changes.cause_of(".".join(map(str, path))) or ".".join(map(str, path))
        for case in CASES.values()
        for path, _ in leaves(case)
    } - set(changes.CAUSES)
    known = ("kind", "format", "school", "miles", "seen.kind", "seen.of", "seen.others.", "context.")
    assert {path for path in without if not path.startswith(known)} == set()


def test_only_what_is_printed_moves_a_sheet() -> None:
    """A dyno that is known by better rollers, a part of a file that was named otherwise: news, and nothing more."""
    was = content(made.draft(CASE))
    session = CASE.seen.sessions[0]  # type: ignore[union-attr]
    silent = first(CASE, dyno=replace(session.dyno, roller_radius=0.3))
    assert digest_of(silent) != digest_of(CASE)
    assert changes.moves(was, content(made.draft(silent))) == []
    later = replace(CASE, seen=replace(CASE.seen, others=("1 Jun 2026",)))  # type: ignore[arg-type]
    assert changes.moves(was, content(made.draft(later))) == []
    older = content(made.draft(CASE, date(2029, 1, 1)))
    assert [m.what for m in changes.moves(was, older)] == ["gate “road use stated, market by market”", "certificate"]
    hot = changes.moves(was, content(made.draft(first(CASE, temperature=310.0))))
    assert {"Air", "statement"} <= {move.what for move in hot}
    out = (*session.pulls[:-1], made.pull(9, "A", valid=False))
    gone = changes.moves(was, content(made.draft(first(CASE, pulls=out))))
    assert {"Left out", "Order"} <= {move.what for move in gone}
    lost = changes.moves(was, content(made.draft(replace(CASE, context=replace(CASE.context, costs=())))))
    assert [move.what for move in lost] == ["costs beside"]


def test_a_gate_that_falls_moves_a_sheet_and_one_that_is_met_does_not() -> None:
    sound = replace(CASE, seen=replace(CASE.seen, doubts=()))  # type: ignore[arg-type]
    was, now = (content(made.draft(c)) for c in (sound, CASE))
    assert [move.what for move in changes.moves(was, now)] == ["gate “engine sound”"]
    assert changes.moves(now, was) == []


def test_facts_are_chosen_on_what_they_are_made_of() -> None:
    """Road use, money and a reason that says nothing of an effect want no other choice; a pull does."""
    test = CASE.seen
    bare = replace(test.reasons[0], line="fuel", kind="")  # type: ignore[union-attr]
    same = (
        replace(CASE, context=Context()),
        replace(CASE, miles=None),
        replace(CASE, seen=replace(test, reasons=(*test.reasons, bare))),  # type: ignore[arg-type, union-attr]
    )
    assert {facts_digest(case) for case in same} == {facts_digest(CASE)}
    assert facts_digest(first(CASE, pulls=test.sessions[0].pulls[:-1])) != facts_digest(CASE)  # type: ignore[union-attr]
    assert facts_digest(replace(CASE, school="equal boost")) != facts_digest(CASE)

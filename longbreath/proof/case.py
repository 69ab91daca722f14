"""The case of a bundle: read back with every field checked, and where each of its files stands in the bundle."""

from __future__ import annotations

import json
import re
from typing import Any

from pydantic import TypeAdapter, ValidationError

from longbreath.core.basis.errors import InputError
from longbreath.core.case import seen
from longbreath.core.case.case import FORMAT, Case
from longbreath.core.case.looks import Run
from longbreath.core.case.placing import every_side, pair_sides, placed
from longbreath.core.case.seen import Test
from longbreath.core.weigh.ledger import MEASURED

_READER = TypeAdapter(Case)
Taken = tuple[seen.Session, seen.Pull]


def to_json(value: Any) -> bytes:
    """Data as bytes, always the same for the same data."""
    return (json.dumps(value, sort_keys=True, indent=1, ensure_ascii=False, allow_nan=True) + "\n").encode()


def case_from_data(data: Any) -> Case:
    """A case out of data, every field checked. Raises InputError naming what is wrong, or that it is of a form that this version does
    not hold."""
    found = data.get("format", 1) if isinstance(data, dict) else None
    if found != FORMAT:
        raise InputError(f"case.json is of form {found}; this version reads form {FORMAT}.", "file")
    try:
        case: Case = _READER.validate_python(data)
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"])
        raise InputError(f"case.json, {place}: {first['msg']}.", "file") from None
    return case


def taken(case: Case) -> list[Taken]:
    """The pulls whose channels a statement is made of: those that are weighed, also the ones of tests that measured a difference
    alone; of durability every one with the part on."""
    if isinstance(case.seen, Run):
        return case.seen.pulls
    if not isinstance(case.seen, Test):
        return []
    test = case.seen
    every = bool(case.school) or case.kind == "response"
    sides = every_side(test.sessions) if every else pair_sides(test.sessions)
    found = [(p.session, p.pull) for p in placed(test.sessions, sides)]
    for reason in test.reasons:
        if reason.kind == MEASURED and reason.session is not None:
            session = test.session(reason.session)
            mine = {session.number: {reason.from_letter: "A", reason.to_letter: "B"}}
            found += [(p.session, p.pull) for p in placed([session], mine)]
    return list({(session.number, pull.place): (session, pull) for session, pull in found}.values())


def channels_path(session: seen.Session, pull: seen.Pull) -> str:
    """Where the channels of a pull stand in a bundle."""
    return f"data/channels/session-{session.number}-pull-{pull.place:02d}-{_safe(pull.letter)}.csv"


def raw_path(file: seen.FileRead) -> str:
    """Where a file as received stands in a bundle."""
    return f"raw/{file.sha256[:12]}-{_safe(file.filename)}"


def _safe(name: str) -> str:
    return re.sub(r"[^A-Za-z0-9.]+", "-", name).strip("-.")[:80] or "file"

"""The case of a statement: everything that it rests on, as frozen plain data with one canonical form. Its digest is its identity."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping
from dataclasses import dataclass, field, fields, is_dataclass, replace
from datetime import date
from typing import Any

from longbreath.core.case.bench import Flow
from longbreath.core.case.looks import Looks, Run
from longbreath.core.case.seen import Part, Test
from longbreath.core.case.trial import Trial
from longbreath.core.claim.kinds.fuel import Miles
from longbreath.core.claim.methods import grammar_version, version_of
from longbreath.core.claim.road import UNKNOWN, Certificate, Covered, Road

FORMAT = 2
"""Version of the form of a case: 1 named files of a bundle, 2 is the house's own."""
Seen = Test | Run | Flow | Trial | Looks
"""What a statement is made of, by its kind: `of` names which."""


@dataclass(frozen=True)
class Context:
    """What stands around the facts and makes none of them another: status for road use with its remark, certificates and the numbers
    of those that ran out, what is written of the part by what it is about, proven losses of other kinds and kinds that cannot be
    weighed in words, vehicles it is offered for, and of the house's rules how old evidence may be [days], after how many it is
    tested again, and how the house calls itself."""

    status: str = UNKNOWN
    status_note: str = ""
    certificates: tuple[Certificate, ...] = ()
    lapsed: tuple[str, ...] = ()
    notes: Mapping[str, str] = field(default_factory=dict)
    costs: tuple[str, ...] = ()
    unweighed: tuple[str, ...] = ()
    covered: tuple[Covered, ...] = ()
    most_age: int = 730
    retest_days: int = 730
    house: str = ""

    def road(self, day: date) -> Road:
        """What is stated of road use, read on a day."""
        return Road(self.status, self.status_note, self.notes.get("tampering", ""), self.certificates, day)


@dataclass(frozen=True)
class Case:
    """What a statement of a kind rests on: what was seen, by which school a boosted engine is compared, on what money is reckoned,
    what stands around it; the versions of method and grammar that make sentences of it."""

    kind: str
    seen: Seen
    context: Context = Context()
    school: str = ""
    miles: Miles | None = None
    method: str = ""
    grammar: str = ""
    format: int = FORMAT

    @property
    def part(self) -> Part:
        """What is compared with what."""
        return self.seen.part


def case(kind: str, seen: Seen, context: Context | None = None, school: str = "", miles: Miles | None = None) -> Case:
    """A case by the method and grammar of today."""
    return Case(kind, seen, context or Context(), school, miles, version_of(kind), grammar_version())


def canonical(value: Any) -> str:
    """Plain data as JSON, always the same for the same data."""
    return json.dumps(value, default=_whole, sort_keys=True, ensure_ascii=False, separators=(",", ":"))


def plain(value: Any) -> Any:
    """Plain data as any JSON reads it: objects by name, lists, numbers, texts; what is no finite number by its name."""
    return json.loads(canonical(value), parse_constant=str)


def digest_of(value: Any) -> str:
    """SHA-256 of what identifies plain data, in its canonical form: fields that are not compared are left out."""
    text = json.dumps(value, default=_identity, sort_keys=True, ensure_ascii=False, separators=(",", ":"))
    return hashlib.sha256(text.encode()).hexdigest()


def _whole(value: Any) -> Any:
    return _plain(value, False)


def _identity(value: Any) -> Any:
    return _plain(value, True)


def _plain(value: Any, identity: bool) -> Any:
    if is_dataclass(value) and not isinstance(value, type):
        return {item.name: getattr(value, item.name) for item in fields(value) if item.compare or not identity}
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, Mapping):
        return dict(value)
    raise TypeError(f"{type(value).__name__} is no plain data")


def facts_digest(found: Case) -> str:
    """Identifies all that the facts of a case are made of: without what stands around them, what money is reckoned on, and
    reasons that say nothing of an effect."""
    seen = found.seen
    if isinstance(seen, Test):
        seen = replace(seen, reasons=tuple(reason for reason in seen.reasons if reason.kind))
    return digest_of((seen, found.school, found.method))

"""What a statement rests on: its case out of the records, with what may be stated of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from longbreath.core.case.case import Case, Context
from longbreath.core.case.seen import Test
from longbreath.core.case.statement import Statement
from longbreath.core.claim.facts import AS_SET, Fact, Setting
from longbreath.dossier.case.cases import case_of
from longbreath.dossier.case.kept import statement_of
from longbreath.dossier.case.tests import reasons_of
from longbreath.dossier.case.weighings import weighed_of
from longbreath.dossier.claim.choices import Sources
from longbreath.drawing import charts
from longbreath.store.models import Application, Claim


@dataclass(frozen=True)
class Backing:
    """What a statement rests on: dossier, the sessions and sources that it names, its case, what may be stated of it, and who wrote
    any of what the sheet says."""

    application: Application
    session_ids: tuple[int, ...]
    sources: Sources
    case: Case
    statement: Statement
    wrote: frozenset[int] = frozenset()

    @property
    def kind(self) -> str:
        """The kind of statement."""
        return self.case.kind

    @property
    def facts(self) -> tuple[Fact, ...]:
        """Everything that may be said."""
        return self.statement.stated.facts

    @property
    def setting(self) -> Setting:
        """What all facts share."""
        return self.statement.stated.setting


def backing_of(db: Session, application: Application, claim: Claim, context: Context | None = None) -> Backing:
    """What a claim rests on, as it stands. Raises EvidenceError if it cannot be weighed any more."""
    return backing(db, application, claim.kind, claim.session_ids, claim.sources, context)


def backing(
    db: Session,
    application: Application,
    kind: str,
    session_ids: Sequence[int] = (),
    sources: Sources | None = None,
    context: Context | None = None,
) -> Backing:
    """What a statement of a kind would rest on. Raises EvidenceError if there is no such kind, or nothing of it."""
    case = case_of(db, application, kind, session_ids, sources or {}, context or Context())
    statement, numbers = statement_of(db, case), tuple(s.number for s in getattr(case.seen, "sessions", ()))
    named = {"school": AS_SET} if kind == "response" else {} if kind == "durability" else dict(sources or {})
    wrote = frozenset[int]()
    if isinstance(case.seen, Test):
        used = {(r.line, r.a, r.b) for r in weighed_of(db, case.seen).builds.written if r is not None}
        newest = {(row.line, row.a, row.b): row.given_by_id for row in reasons_of(db, application.id)}
        wrote = frozenset(newest[key] for key in used)
    return Backing(application, numbers, named, case, statement, wrote)


def picture_of(db: Session, found: Backing) -> str:
    """The picture of a sheet, as SVG; "" where its kind has none."""
    test = found.case.seen
    if not isinstance(test, Test):
        return ""
    stated = weighed_of(db, test).stated
    return charts.to_svg(charts.weigh_chart(stated, test.bands, "us", "paper", width=715, brush=False))

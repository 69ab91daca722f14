"""Claims watch themselves: what they rest on changed, they say so the same moment, and the clock of the house runs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from longbreath.core.basis.errors import Conflict
from longbreath.dossier.claim.changed import UNCHANGED, changed, urgent
from longbreath.dossier.claim.reads import day_of
from longbreath.dossier.claim.verbs import record_act
from longbreath.dossier.records.house import rules_of
from longbreath.store.models import Claim, ClaimAct, ClaimSheet
from longbreath.store.models.claim import PUBLISHED, QUESTIONED, RESTORED, SUPERSEDED, WITHDRAWN
from longbreath.store.unit_of_work import UnitOfWork

AT_ONCE = "withdrawn at once, by the rules of the house: "
RUN_OUT = "nobody answered in time: "


@dataclass(frozen=True)
class Standing:
    """How a claim stands at this moment: its state, what changed of its evidence in words so that it would read otherwise, the day the
    clock ends, whether it may be relied on; news: what changed besides and moves nothing that is printed."""

    state: str
    changed: str = ""
    due_on: date | None = None
    why: str = ""
    news: str = ""

    @property
    def holds(self) -> bool:
        """Whether it is published and nothing of its evidence changed."""
        return self.state == PUBLISHED and not self.changed


def standing_of(db: Session, claims: Sequence[Claim], day: date | None = None) -> dict[int, Standing]:
    """How each claim stands now, whether or not anybody has written it down yet: by its evidence, the clock and the rules."""
    out = [c for c in claims if c.sheet is not None and c.state == PUBLISHED]
    today = day or day_of(db)
    changes, rules = changed(db, out, today), rules_of(db)
    found = {}
    for claim in claims:
        change = changes.get(claim.id, UNCHANGED)
        if not change.causes:
            ended = claim.newest(WITHDRAWN)
            why = ended.reason if ended is not None else ""
            found[claim.id] = Standing(claim.state, why=why, news=change.news_words)
            continue
        asked = claim.question
        due = asked.due_on if asked is not None else today + timedelta(days=rules.clock_days)
        now = urgent(change, rules.at_once)
        if now or (due is not None and today >= due and asked is not None):
            why = (AT_ONCE if now else RUN_OUT) + change.words
            found[claim.id] = Standing(WITHDRAWN, change.words, due, why)
        else:
            found[claim.id] = Standing(PUBLISHED, change.words, due)
    return found


def published_claims(db: Session, application_id: int | None = None) -> list[Claim]:
    """Claims whose sheet is out and was neither withdrawn nor superseded, oldest first."""
    ended = select(ClaimAct.claim_id).where(ClaimAct.act.in_((WITHDRAWN, SUPERSEDED)))
    query = select(Claim).join(ClaimSheet).where(Claim.id.not_in(ended)).order_by(Claim.id)
    if application_id is not None:
        query = query.where(Claim.application_id == application_id)
    return list(db.scalars(query.options(selectinload(Claim.sheet), selectinload(Claim.acts))))


def look(work: UnitOfWork, application_id: int | None = None) -> int:
    """Write down what changed: a question with its clock, its end, or a withdrawal; returns how many claims it touched.

    Two who look at once write it once.
    """
    claims = published_claims(work, application_id)
    found, touched = standing_of(work, claims), 0
    for claim in claims:
        state = found[claim.id]
        work.application_id = claim.application_id
        try:
            touched += _write(work, claim, state)
        except Conflict:
            continue
    return touched


def _write(work: UnitOfWork, claim: Claim, state: Standing) -> bool:
    asked = claim.question
    if state.state == WITHDRAWN:
        record_act(work, claim, WITHDRAWN, state.why, by_itself=True)
        return True
    if state.changed and (asked is None or asked.reason != state.changed):
        record_act(work, claim, QUESTIONED, state.changed, by_itself=True, due_on=state.due_on)
        return True
    if not state.changed and asked is not None:
        record_act(work, claim, RESTORED, "", by_itself=True)
        return True
    return False

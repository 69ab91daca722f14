"""What is done with a claim: drafted, changed, submitted, returned, published, withdrawn. Each act is a row of its own."""

from __future__ import annotations

import re
import secrets
from dataclasses import asdict, dataclass
from datetime import date

from sqlalchemy import select
from sqlalchemy.exc import IntegrityError

from longbreath.core.basis.errors import Conflict, EvidenceError, InputError, NotAllowed
from longbreath.core.case.case import facts_digest, plain
from longbreath.core.claim.gates.table import may_publish
from longbreath.core.claim.grammar import Composition, compose
from longbreath.core.claim.language import check_description, find_concealment, find_in_record
from longbreath.core.claim.proposal import strongest
from longbreath.dossier.claim.backing import Backing
from longbreath.dossier.claim.reads import Draft, composition_of
from longbreath.dossier.claim.sheet import SHAPE, content, digest, with_picture
from longbreath.store.models import Application, Claim, ClaimAct, ClaimSheet
from longbreath.store.models.claim import CHANGED, DRAFTED, PUBLISHED, RETURNED, SUBMITTED, SUPERSEDED, WITHDRAWN
from longbreath.store.unit_of_work import STALE, UnitOfWork

CHANGED_SINCE = "What you read has changed since: read it again before you approve it."


@dataclass(frozen=True)
class ComposedChoice:
    """What a writer chooses: facts in their order with their phrasing, one sentence or several, and the description."""

    composition: Composition
    description: str = ""


def draft_claim(work: UnitOfWork, found: Backing) -> Claim:
    """Draft a claim of everything usual that the evidence holds; its public address is fixed now and never changes."""
    application = found.application
    name = f"{application.product.name} {application.vehicle.name}".lower()
    slug = re.sub(r"[^a-z0-9]+", "-", name).strip("-")
    claim = Claim(
        application_id=application.id,
        slug=f"{slug}-{secrets.token_hex(3)}",
        kind=found.kind,
        session_ids=list(found.session_ids),
        sources=dict(found.sources),
        lines=[],
    )
    claim.application, claim.acts, claim.sheet = application, [], None
    work.add(claim)
    work.flush()
    _put(work, claim, found, ComposedChoice(strongest(found.facts)))
    work.flush()
    record_act(work, claim, DRAFTED)
    return claim


def _put(work: UnitOfWork, claim: Claim, found: Backing, choice: ComposedChoice) -> None:
    said = compose(found.facts, choice.composition.lines)
    claim.lines, claim.joined = [asdict(line) for _, line in said], choice.composition.joined
    claim.description = " ".join(choice.description.split())
    claim.evidence_key = facts_digest(found.case)


def record_act(
    work: UnitOfWork, claim: Claim, act: str, reason: str = "", by_itself: bool = False, due_on: date | None = None
) -> None:
    """Write down what was done, by whoever acts or by Long Breath itself.

    Raises Conflict if somebody else did something with the claim at the same time.
    """
    by = None if by_itself else work.actor
    done = ClaimAct(claim_id=claim.id, number=len(claim.acts) + 1, act=act, reason=reason, due_on=due_on)
    done.by_id, done.by = (by.id if by is not None else None), by
    try:
        with work.begin_nested():
            work.add(done)
            work.flush()
    except IntegrityError:
        raise Conflict(STALE) from None
    work.expire(claim, ["acts"])


def change_claim(work: UnitOfWork, claim: Claim, found: Backing, choice: ComposedChoice) -> None:
    """Choose anew, or confirm the choice, on the evidence as it stands.

    Raises EvidenceError once it is submitted, InputError for a description that speaks of what only evidence can say.
    """
    if claim.state != "draft":
        raise EvidenceError("Only a draft can be changed. Have the approver give it back first.")
    if refused := check_description(choice.description):
        raise InputError(refused.sentence, "description")
    before = (composition_of(claim), claim.description, claim.evidence_key)
    _put(work, claim, found, choice)
    if (composition_of(claim), claim.description, claim.evidence_key) != before:
        work.flush()
        record_act(work, claim, CHANGED)


def state_approval(work: UnitOfWork, application: Application, approval: str, approval_note: str) -> None:
    """State whether the part is approved for road use on this vehicle."""
    application.approval, application.approval_note = approval, approval_note or ""
    application.approval_by_id = work.actor.id
    work.flush()


def submit_claim(work: UnitOfWork, draft: Draft) -> None:
    """Ask for approval. Raises EvidenceError while a gate is failed."""
    if draft.claim.state != "draft":
        raise EvidenceError("This claim is not a draft.")
    _hold(draft)
    record_act(work, draft.claim, SUBMITTED)


def give_back(work: UnitOfWork, claim: Claim, asks: str = "") -> None:
    """Give a submitted claim back to its drafter, with the changes that are asked for. Raises EvidenceError for any other."""
    if claim.state != "submitted":
        raise EvidenceError("Only a submitted claim can be given back.")
    record_act(work, claim, RETURNED, " ".join(asks.split()))


def _hold(draft: Draft) -> None:
    if not may_publish(draft.gates):
        failed = ", ".join(gate.name for gate in draft.gates if not gate.met)
        raise EvidenceError(f"These gates are not met: {failed}.")
    if refused := check_description(draft.claim.description):
        raise EvidenceError(f"The description: {refused.sentence}")


def check_second(work: UnitOfWork, draft: Draft) -> None:
    """Raise EvidenceError unless it waits for approval, NotAllowed for whoever wrote any part of it."""
    if draft.claim.state != "submitted":
        raise EvidenceError("Only a submitted claim can be approved.")
    if work.actor.id in draft.writers:
        raise NotAllowed("You wrote, changed or submitted part of this claim. A second person must approve it.")


def approve_claim(work: UnitOfWork, draft: Draft, read: str) -> None:
    """Approve and publish, by a second person, exactly what that person read, with every gate met at this moment.

    read: digest of the sheet that was before the approver. Raises NotAllowed for whoever wrote any part of it, Conflict if
    anything changed since it was read, EvidenceError if it was not submitted or a gate fails.
    """
    claim = draft.claim
    check_second(work, draft)
    _hold(draft)
    said = content(draft)
    if read != digest(said):
        raise Conflict(CHANGED_SINCE)
    earlier = select(Claim).where(
        Claim.application_id == claim.application_id, Claim.kind == claim.kind, Claim.id != claim.id
    )
    number = claim.version
    record_act(work, claim, PUBLISHED)
    sheet = ClaimSheet(
        claim_id=claim.id,
        shape=SHAPE,
        snapshot=with_picture(work, draft, said),
        evidence_key=draft.key,
        case=plain(draft.case),
        retest_on=date.fromisoformat(said["retest_on"]),
        version_read=number,
        read=read,
        approved_by_id=work.actor.id,
    )
    sheet.approved_by = work.actor
    work.add(sheet)
    work.flush()
    work.expire(claim, ["sheet"])
    for other in work.scalars(earlier):
        if other.state == "published":
            record_act(work, other, SUPERSEDED, claim.slug)


def withdraw_claim(work: UnitOfWork, claim: Claim, reason: str) -> None:
    """Withdraw a published claim; its sheet stays at its address and says so. Raises EvidenceError for any other."""
    if claim.state != "published":
        raise EvidenceError("Only a published claim can be withdrawn.")
    if refused := (find_in_record(reason) or find_concealment(reason)):
        raise InputError(refused.sentence, "reason")
    record_act(work, claim, WITHDRAWN, reason)


def reckon_money(
    work: UnitOfWork, application: Application, claim: Claim, distance: float, price: float, sold_by: str
) -> None:
    """Say on which distance a year [m] and price of a unit of fuel money is reckoned. Raises EvidenceError for anything but a
    draft of a fuel trial."""
    if claim.kind != "fuel" or claim.state != "draft":
        raise EvidenceError("Money is said in a draft on fuel alone.")
    claim.sources = {**claim.sources, "distance": distance, "price": price, "sold_by": sold_by}
    work.flush()
    record_act(work, claim, CHANGED)

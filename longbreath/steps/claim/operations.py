"""What Claim does to the records."""

from __future__ import annotations

import re
import secrets

from sqlalchemy.orm import Session

from longbreath.core.basis.errors import EvidenceError, NotAllowed
from longbreath.core.claim.torque import Gate, may_publish
from longbreath.dossier.evidence import evidence_key
from longbreath.steps.claim import queries
from longbreath.store.base import now
from longbreath.store.models import Application, Claim, User


def draft(
    db: Session, application: Application, actor: User, found: queries.Evidence, statement: str, trade_off: str
) -> Claim:
    """Draft a claim; its public address is fixed now and never changes."""
    words = re.sub(r"[^a-z0-9]+", "-", f"{application.product.name} {application.vehicle.name}".lower()).strip("-")
    claim = Claim(
        application_id=application.id, slug=f"{words}-{secrets.token_hex(3)}", state="draft", statement=statement,
        trade_off=trade_off, session_ids=[s.id for s in found.sessions], evidence_key=evidence_key(found.sessions),
        drafted_by_id=actor.id,
    )  # fmt: skip
    claim.application, claim.drafted_by = application, actor
    db.add(claim)
    db.flush()
    return claim


def change(claim: Claim, found: queries.Evidence, statement: str, trade_off: str) -> None:
    """Change or confirm the words of a draft on the evidence as it stands. Raises EvidenceError once it is submitted."""
    if claim.state != "draft":
        raise EvidenceError("Only a draft can be changed. Have the approver give it back first.")
    claim.statement, claim.trade_off = statement, trade_off
    claim.evidence_key = evidence_key(found.sessions)


def state_approval(application: Application, approval: str, approval_note: str) -> None:
    """State whether the part is approved for road use on this vehicle."""
    application.approval, application.approval_note = approval, approval_note or ""


def submit(claim: Claim, gates: tuple[Gate, ...]) -> None:
    """Ask for approval. Raises EvidenceError while a gate is failed."""
    if claim.state != "draft":
        raise EvidenceError("This claim is not a draft.")
    _hold(gates)
    claim.state = "submitted"


def give_back(claim: Claim) -> None:
    """Give a submitted claim back to its drafter."""
    if claim.state != "submitted":
        raise EvidenceError("Only a submitted claim can be given back.")
    claim.state = "draft"


def _hold(gates: tuple[Gate, ...]) -> None:
    if not may_publish(gates):
        failed = ", ".join(gate.name for gate in gates if not gate.met)
        raise EvidenceError(f"These gates are not met: {failed}.")


def approve(application: Application, found: queries.Evidence, claim: Claim, actor: User) -> None:
    """Approve and publish, by a second person, with every gate met at this moment.

    Raises NotAllowed for the drafter, EvidenceError if it was not submitted or a gate fails.
    """
    if claim.state != "submitted":
        raise EvidenceError("Only a submitted claim can be approved.")
    if claim.drafted_by_id == actor.id:
        raise NotAllowed("You drafted this claim. A second person must approve it.")
    _hold(queries.gates(application, found, claim))
    claim.snapshot = queries.snapshot(application, found, claim)
    claim.state, claim.approved_by_id, claim.approved_by, claim.published_at = "published", actor.id, actor, now()


def withdraw(claim: Claim, actor: User, reason: str) -> None:
    """Withdraw a published claim; its sheet stays at its address and says so."""
    if claim.state != "published":
        raise EvidenceError("Only a published claim can be withdrawn.")
    claim.state, claim.withdrawn_at, claim.withdrawn_by_id, claim.withdrawal_reason = (
        "withdrawn",
        now(),
        actor.id,
        reason,
    )

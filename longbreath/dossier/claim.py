"""Claims of a dossier: evidence, gates, drafts, approval, the frozen sheet, withdrawal."""

from __future__ import annotations

import re
import secrets
from dataclasses import dataclass
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.air.correction import STANDARDS
from longbreath.core.basis import units
from longbreath.core.basis.errors import EvidenceError, NotAllowed
from longbreath.core.basis.working import Figure
from longbreath.core.claim import torque
from longbreath.core.claim.facts import APPROVALS, Facts, Gate, may_publish
from longbreath.core.dyno import bands
from longbreath.core.dyno.bands import Weighing
from longbreath.dossier.commands import put
from longbreath.dossier.conditions import bands_of
from longbreath.dossier.naming import session_names
from longbreath.dossier.pull.sessions import correction_of, dyno_sessions
from longbreath.dossier.weigh import evidence_key, weighing_of
from longbreath.drawing import charts
from longbreath.store.models import Application, Claim, DynoSession
from longbreath.store.unit_of_work import UnitOfWork

CAUTIONS = (
    "Measured on one vehicle in the state described. Another vehicle, state of tune, fuel or dyno can differ.",
    "Fitting and testing intake and exhaust parts can injure: hot parts, rotating parts, fuel vapour, carbon monoxide. "
    "Local codes and licensed practice decide.",
)


def of_application(db: Session, application_id: int) -> list[Claim]:
    """Claims, newest first."""
    return list(db.scalars(select(Claim).where(Claim.application_id == application_id).order_by(Claim.id.desc())))


def by_slug(db: Session, slug: str) -> Claim | None:
    """The claim at a public address, if it was ever published."""
    query = select(Claim).where(Claim.slug == slug, Claim.state.in_(("published", "withdrawn")))
    return db.scalar(query)


@dataclass(frozen=True)
class Evidence:
    """What a claim rests on: its sessions, their weighing, and what the sessions are called."""

    sessions: list[DynoSession]
    weighing: Weighing
    names: tuple[str, ...]


def evidence_of(db: Session, application: Application, session_ids: list[int]) -> Evidence:
    """The evidence of these sessions, or of the newest with pulls. Raises EvidenceError if it cannot be weighed."""
    every = dyno_sessions(db, application.id)
    sessions = [s for s in every if s.pulls and (s.id in session_ids or not session_ids)]
    used = sessions if session_ids else sessions[:1]
    if not used:
        raise EvidenceError("There are no pulls to rest a claim on.")
    names = session_names(every)
    return Evidence(used, weighing_of(db, application, used), tuple(names[s.id] for s in used))


def facts(application: Application, found: Evidence, claim: Claim) -> Facts:
    """What the gates look at."""
    dynos = [s.card.dyno for s in found.sessions]
    return Facts(
        weighing=found.weighing,
        vehicles=(application.vehicle.name,),
        sessions=tuple(f"session of {name}" for name in found.names),
        standards=tuple(STANDARDS[s.standard].name for s in found.sessions),
        measured_at=dynos[0].measured_at if len({d.measured_at for d in dynos}) == 1 else "",
        noise_sd=max(d.repeatability for d in dynos),
        approval=application.approval,
        approval_note=application.approval_note,
        statement=claim.statement,
        trade_off=claim.trade_off,
        drafted_on=claim.evidence_key,
        evidence=evidence_key(found.sessions),
    )


def gates_of(application: Application, found: Evidence, claim: Claim) -> tuple[Gate, ...]:
    """The gates of a claim as they stand now."""
    return torque.gates(facts(application, found, claim))


@dataclass(frozen=True)
class Words:
    """What a claim says: its statement and its trade-offs."""

    statement: str
    trade_off: str


def drafted(application: Application, found: Evidence) -> Words:
    """The words that the verdict allows."""
    dyno = found.sessions[0].card.dyno
    standard = STANDARDS[found.sessions[0].standard].name
    statement = torque.draft_statement(
        found.weighing, application.revision.title, application.vehicle.name, dyno.measured_at, standard
    )
    return Words(statement, torque.draft_trade_off(found.weighing, dyno.measured_at))


def _figure(figure: Figure, verdict: str = "") -> dict[str, Any]:
    return {**figure.to_dict(), "verdict": verdict}


def snapshot(application: Application, found: Evidence, claim: Claim) -> dict[str, Any]:
    """Everything the public sheet shows, frozen: it never reads the working records again."""
    weighing, session = found.weighing, found.sessions[0]
    spec = charts.weigh_chart(weighing, bands_of(application.vehicle), "us", "paper", width=715, brush=False)
    return {
        "product": application.product.name,
        "revision": application.revision.called,
        "state_of_part": application.revision.state,
        "stock": application.stock_revision.title,
        "vehicle": f"{application.vehicle.name} ({application.vehicle.years})",
        "headline": bands.headline(weighing),
        "figures": [_figure(bands.judged_figure(j, weighing.comparison), j.verdict) for j in weighing.judged],
        "locals": [
            _figure(bands.local_figure(local, weighing.comparison, f"local-{band.name}"))
            for band, local in zip(weighing.bands, weighing.locals, strict=True)
        ],
        "gates": [vars(gate) for gate in gates_of(application, found, claim)],
        "conditions": _conditions(application, session, weighing),
        "correction": _figure(correction_of(session)),
        "approval": APPROVALS[application.approval],
        "approval_note": application.approval_note,
        "closed_course": application.approval == "closed_course",
        "cautions": list(CAUTIONS),
        "chart": spec,
        "svg": charts.to_svg(spec),
    }


def _both(value: float, kind: str) -> str:
    return f"{units.show(value, kind, 'us')} ({units.show(value, kind, 'metric')})"


def _conditions(application: Application, session: DynoSession, weighing: Weighing) -> list[list[str]]:
    card, comparison = session.card, weighing.comparison
    return [
        ["Measured on", f"{application.vehicle.name}, one vehicle, {card.dyno.name}, at the {card.dyno.measured_at}"],
        ["Date", f"{session.held_on.day} {session.held_on:%B %Y}"],
        ["Order", f"A-B-A; {comparison.count('A')} valid pulls of A, {comparison.count('B')} of B"],
        ["A", card.a_is],
        ["B", card.b_is],
        ["Held the same", card.held],
        ["What else differed", card.also_changed],
        [
            "Air",
            f"{_both(session.temperature, 'temperature')}, {_both(session.pressure, 'barometer')}, "
            f"{session.humidity:.0%} humidity",
        ],
        ["Correction", STANDARDS[session.standard].name + (" (in the files)" if session.already_corrected else "")],
    ]


def draft_claim(work: UnitOfWork, application: Application, found: Evidence, words: Words) -> Claim:
    """Draft a claim; its public address is fixed now and never changes."""
    name = f"{application.product.name} {application.vehicle.name}".lower()
    slug = re.sub(r"[^a-z0-9]+", "-", name).strip("-")
    claim = Claim(
        application_id=application.id,
        slug=f"{slug}-{secrets.token_hex(3)}",
        state="draft",
        session_ids=[s.id for s in found.sessions],
        evidence_key=evidence_key(found.sessions),
        drafted_by_id=work.actor.id,
    )
    put(claim, words)
    claim.application, claim.drafted_by = application, work.actor
    work.add(claim)
    work.flush()
    return claim


def change_claim(work: UnitOfWork, claim: Claim, found: Evidence, words: Words) -> None:
    """Change or confirm the words of a draft on the evidence as it stands. Raises EvidenceError once it is submitted."""
    if claim.state != "draft":
        raise EvidenceError("Only a draft can be changed. Have the approver give it back first.")
    put(claim, words)
    claim.evidence_key = evidence_key(found.sessions)
    work.flush()


def state_approval(work: UnitOfWork, application: Application, approval: str, approval_note: str) -> None:
    """State whether the part is approved for road use on this vehicle."""
    application.approval, application.approval_note = approval, approval_note or ""
    work.flush()


def submit_claim(work: UnitOfWork, claim: Claim, found: tuple[Gate, ...]) -> None:
    """Ask for approval. Raises EvidenceError while a gate is failed."""
    if claim.state != "draft":
        raise EvidenceError("This claim is not a draft.")
    _hold(found)
    claim.state = "submitted"
    work.flush()


def give_back(work: UnitOfWork, claim: Claim) -> None:
    """Give a submitted claim back to its drafter. Raises EvidenceError for any other."""
    if claim.state != "submitted":
        raise EvidenceError("Only a submitted claim can be given back.")
    claim.state = "draft"
    work.flush()


def _hold(found: tuple[Gate, ...]) -> None:
    if not may_publish(found):
        failed = ", ".join(gate.name for gate in found if not gate.met)
        raise EvidenceError(f"These gates are not met: {failed}.")


def approve_claim(work: UnitOfWork, application: Application, found: Evidence, claim: Claim) -> None:
    """Approve and publish, by a second person, with every gate met at this moment.

    Raises NotAllowed for the drafter, EvidenceError if it was not submitted or a gate fails.
    """
    if claim.state != "submitted":
        raise EvidenceError("Only a submitted claim can be approved.")
    if claim.drafted_by_id == work.actor.id:
        raise NotAllowed("You drafted this claim. A second person must approve it.")
    _hold(gates_of(application, found, claim))
    claim.snapshot = snapshot(application, found, claim)
    claim.state, claim.published_at = "published", work.clock()
    claim.approved_by_id, claim.approved_by = work.actor.id, work.actor
    work.flush()


def withdraw_claim(work: UnitOfWork, claim: Claim, reason: str) -> None:
    """Withdraw a published claim; its sheet stays at its address and says so. Raises EvidenceError for any other."""
    if claim.state != "published":
        raise EvidenceError("Only a published claim can be withdrawn.")
    claim.state, claim.withdrawn_at = "withdrawn", work.clock()
    claim.withdrawn_by_id, claim.withdrawal_reason = work.actor.id, reason
    work.flush()

"""Background work on claims: evidence bundles, and the watch over what published claims rest on."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from longbreath.dossier.claim import bundle, watch
from longbreath.dossier.claim.reviews import sealer
from longbreath.dossier.keeping import keep_all
from longbreath.store.models import Claim, User
from longbreath.store.secret import installation_secret
from longbreath.store.unit_of_work import UnitOfWork, working

Sessions = Callable[[], UnitOfWork]
Progress = Callable[[float, str], None]


def make_bundle(sessions: Sessions, inputs: Mapping[str, Any], progress: Progress, by: int | None) -> dict[str, Any]:
    """Put the bundle of a published claim together and keep it."""
    with working(sessions) as work:
        claim = work.get_one(Claim, inputs["claim"])
        work.act_as(work.get(User, by) if by else None, claim.application_id)
        seal = sealer(installation_secret())
        made = bundle.make(work, claim, inputs["address"], seal, progress, inputs["discloses"])
        return {"sha256": made.sha256, "size": made.size}


def look(sessions: Sessions) -> None:
    """Make what is kept of dossiers that changed, so that no page has to; write down what changed of the evidence of published claims,
    and withdraw those whose time is over."""
    keep_all(sessions)
    with working(sessions) as work:
        work.act_as(None)
        watch.look(work)

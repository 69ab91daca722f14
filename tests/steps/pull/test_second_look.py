"""The second look: somebody who took no part says whether a pull should count, and is shown nothing of what it made."""

from __future__ import annotations

from collections.abc import Callable
from types import SimpleNamespace

from flask.testing import FlaskClient
from sqlalchemy import select

from longbreath.dossier.evidence.gather import gather
from longbreath.store.models import Pull, SecondLook
from longbreath.store.unit_of_work import UnitOfWork
from tests.conftest import errors_of, read, send
from tests.steps.tools import base


def take_out(client: FlaskClient, db: UnitOfWork, shop: SimpleNamespace, reason: str = "hose off") -> Pull:
    """The second pull of B, by hand."""
    every = [p for p in db.scalars(select(Pull).order_by(Pull.sequence)) if p.label == "B" and p.is_valid]
    address = f"{base(shop)}/pull/pulls/{every[1].id}/judge"
    assert send(client, address, {"counts": "no", "reason": reason}).status_code == 302
    db.expire_all()
    return every[1]


def test_until_another_agrees_the_verdict_says_what_holds_either_way(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, day_done: SimpleNamespace
) -> None:
    tester, approver = log_in("tester"), log_in("approver")
    out = take_out(tester, db, day_done)
    weigh = read(tester.get(f"{base(day_done)}/weigh"))
    assert "on one person’s word" in weigh.text
    assert f"with pull {out.sequence} (B)" in weigh.text
    address = f"{base(day_done)}/pull/second-look"
    assert "You did." in read(tester.get(address)).text
    page = read(approver.get(address))
    shown = page.select_one("main").text
    assert "Should this pull count?" in shown
    for hidden in ("hose off", "lb-ft", "N·m", "hp", "Torque 1", f"Pull {out.sequence}", "Intake", "Exhaust gas"):
        assert hidden not in shown
    assert "hose off" not in page.text  # nor in the log at the foot
    form = {"judgement": page.select_one("#judgement")["value"], "counts": "no", "reason": "oil was cold"}
    assert "Say why" in errors_of(send(approver, address, {**form, "reason": " "}))
    assert "Say one or the other" in errors_of(send(approver, address, {**form, "counts": ""}))
    assert send(approver, address, form).status_code == 302
    db.expire_all()
    assert [(row.valid, row.made_by.role) for row in db.scalars(select(SecondLook))] == [(False, "approver")]
    assert "on one person’s word" not in read(tester.get(f"{base(day_done)}/weigh")).text
    assert "agreed blind" in read(tester.get(f"{base(day_done)}/pull")).text
    assert "No pull waits" in read(approver.get(address)).text
    assert send(approver, address, form).status_code == 409


def test_whoever_disagrees_leaves_it_open_and_whoever_took_part_is_refused(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, day_done: SimpleNamespace
) -> None:
    tester, approver = log_in("tester"), log_in("approver")
    out = take_out(tester, db, day_done)
    address = f"{base(day_done)}/pull/second-look"
    number = str(out.judgements[-1].id)
    answer = send(tester, address, {"judgement": number, "counts": "no", "reason": "I was there"})
    assert answer.status_code in (403, 409)
    assert db.scalars(select(SecondLook)).all() == []
    send(approver, address, {"judgement": number, "counts": "yes", "reason": "nothing is odd"})
    db.expire_all()
    assert gather(db, day_done.application).weighing.comparison.either_way
    pull = read(tester.get(f"{base(day_done)}/pull")).text
    assert "agreed blind" not in pull
    assert "would not, blind: nothing is odd" in pull


def test_a_pull_of_another_dossier_is_not_looked_at_here(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, day_done: SimpleNamespace
) -> None:
    take_out(log_in("tester"), db, day_done)
    address = f"{base(day_done)}/pull/second-look"
    answer = send(log_in("approver"), address, {"judgement": "999999", "counts": "no", "reason": "no"})
    assert "There is no such pull" in errors_of(answer)

"""A build sheet that is corrected after the pulls counts once a second person confirms it by a file; both versions are printed."""

from __future__ import annotations

from datetime import UTC, datetime
from types import SimpleNamespace

import pytest

from longbreath.core.basis.errors import Conflict, EvidenceError, NotAllowed
from longbreath.core.case.pulls import power
from longbreath.dossier import build
from longbreath.dossier.attachments import NewAttachment, hang
from longbreath.dossier.case.channels import channels_in
from longbreath.dossier.evidence.gather import gather
from longbreath.store.models import BuildSheet
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.made import dyno_day
from tests.made.pictures import port_photo


def corrected(db: UnitOfWork, shop: SimpleNamespace) -> BuildSheet:
    """B's sheet, which said another fuel when it was pulled, written anew with A's."""
    db.act_as(shop.people["tester"], shop.application.id)
    now = db.clock
    db.clock = lambda: datetime(2026, 5, 10, tzinfo=UTC)
    factories.add_builds(db, shop.application, fuel="E85")
    dyno_day.pulled(db, shop.application, shop.card)
    db.clock = now
    a, b = (next(s for s in build.sheets_of(db, shop.application.id) if s.label == label) for label in "AB")
    values = {**b.values, "fuel": a.values["fuel"]}
    card = build.BuildCard(values, b.held_on, label="B", why="it was the same fuel")
    return build.add_sheet(db, shop.application, card, b)


def lines(db: UnitOfWork, shop: SimpleNamespace) -> list[str]:
    db.expire_all()
    return [d.line for d in gather(db, shop.application).builds.differing]


def printed(db: UnitOfWork, shop: SimpleNamespace) -> str:
    found = gather(db, shop.application)
    shown = power(found.test, found.weighed, "", channels_in(db)).shown
    return dict(shown.conditions).get("Build sheets", "")


def test_words_alone_take_no_difference_away(db: UnitOfWork, shop: SimpleNamespace) -> None:
    sheet = corrected(db, shop)
    assert lines(db, shop) == ["fuel"]
    assert "waits for a second person" in printed(db, shop)
    with pytest.raises(NotAllowed, match="You wrote this version"):
        build.confirm(db, shop.application, sheet)
    db.act_as(shop.people["approver"], shop.application.id)
    with pytest.raises(EvidenceError, match="Hang the photo or the delivery note"):
        build.confirm(db, shop.application, sheet)
    assert lines(db, shop) == ["fuel"]


def test_what_a_second_person_confirms_by_a_file_stands_with_both_versions(
    db: UnitOfWork, shop: SimpleNamespace
) -> None:
    sheet = corrected(db, shop)
    hang(db, shop.application, NewAttachment("build_sheet", sheet.id, "delivery.png", port_photo(), "of 2 May"))
    db.act_as(shop.people["approver"], shop.application.id)
    build.confirm(db, shop.application, sheet)
    assert lines(db, shop) == []
    told = printed(db, shop)
    assert "Fuel and batch of B: “E85”, corrected after the pulls to" in told
    assert "confirmed by Approver by delivery.png" in told
    with pytest.raises(Conflict):
        build.confirm(db, shop.application, sheet)


def test_a_sheet_that_was_first_written_after_the_pulls_stands(db: UnitOfWork, shop: SimpleNamespace) -> None:
    db.act_as(shop.people["tester"], shop.application.id)
    dyno_day.pulled(db, shop.application, shop.card)
    factories.add_builds(db, shop.application, fuel="E85")
    assert lines(db, shop) == ["fuel"]
    assert printed(db, shop) == ""

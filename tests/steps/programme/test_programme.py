"""The programme: what is owed, who raised and who closed it, what it waits for, the calendar of it, background work."""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import UTC, date, datetime, timedelta
from types import SimpleNamespace
from typing import Any

import icalendar
import pytest
import vobject
from flask.testing import FlaskClient
from sqlalchemy import select

from longbreath.core.basis.errors import Conflict, InputError
from longbreath.dossier import work as background
from longbreath.dossier.plan import cards
from longbreath.dossier.programme import calendar, raised, register
from longbreath.store.models import Dyno, Owed, OwedLink
from longbreath.store.unit_of_work import UnitOfWork
from tests.conftest import errors_of, read, send
from tests.made import dyno_day
from tests.steps.tools import base

THING = {"kind": "part", "what": "gasket set", "application_id": "0", "who_id": "0", "cell_id": "0"}


def open_things(db: UnitOfWork, shop: SimpleNamespace) -> dict[str, Owed]:
    query = select(Owed).where(Owed.application_id == shop.application.id, Owed.closed_at.is_(None))
    return {thing.raised_by.partition(":")[2]: thing for thing in db.scalars(query)}


def settled(db: UnitOfWork, shop: SimpleNamespace) -> dict[str, Owed]:
    db.act_as(shop.people["tester"], shop.application.id)
    raised.settle(db, shop.application)
    return open_things(db, shop)


def test_the_steps_that_are_not_done_are_owed_one_after_the_other(db: UnitOfWork, shop: SimpleNamespace) -> None:
    found = settled(db, shop)
    assert {"measure", "reckon", "pull", "weigh", "claim", "publish"} <= set(found)
    links = {(x.before_id, x.after_id) for x in db.scalars(select(OwedLink))}
    for before, after in (("reckon", "pull"), ("pull", "weigh"), ("weigh", "claim"), ("claim", "publish")):
        assert (found[before].id, found[after].id) in links
    assert found["pull"].hours > 2.0
    assert settled(db, shop).keys() == found.keys(), "looked through twice, nothing is raised twice"


def test_the_software_closes_what_is_recorded_and_opens_it_again(db: UnitOfWork, shop: SimpleNamespace) -> None:
    found = settled(db, shop)
    thing = found["reckon"]
    dyno_day.predicted(db, shop.application, "a little more in the middle")
    assert "reckon" not in settled(db, shop)
    assert (thing.closed_with, thing.closed_by_id) == ("recorded", None)
    line = next(key for key in found if key.startswith("tick:"))
    cards.tick(db, shop.card, found[line].what.removeprefix("Check: "))
    assert line not in settled(db, shop)


def test_what_a_person_closed_stays_closed(db: UnitOfWork, shop: SimpleNamespace) -> None:
    thing = settled(db, shop)["measure"]
    register.close(db, thing, "measured elsewhere")
    assert "measure" not in settled(db, shop)
    with pytest.raises(Conflict):
        register.close(db, thing, "again")


def test_a_lapsed_calibration_owes_a_retest(db: UnitOfWork, shop: SimpleNamespace, day_without_sheets: None) -> None:
    dyno = db.get_one(Dyno, shop.dyno.id)
    dyno.calibration_due = date(2026, 5, 1)
    db.flush()
    assert any(key.startswith("lapsed:") for key in settled(db, shop))
    raised.settle_house(db, date(2026, 5, 20))
    assert db.scalar(select(Owed).where(Owed.what == f"Calibrate {dyno.name}", Owed.closed_at.is_(None))) is not None
    dyno.calibration_due = date(2028, 1, 1)
    raised.settle_house(db, date(2026, 5, 20))
    assert db.scalar(select(Owed).where(Owed.what == f"Calibrate {dyno.name}", Owed.closed_at.is_(None))) is None


def test_things_that_wait_for_each_other_are_refused(db: UnitOfWork, shop: SimpleNamespace) -> None:
    db.act_as(shop.people["tester"])
    one = register.save_owed(db, None, register.OwedCard("part", "one"))
    two = register.save_owed(db, None, register.OwedCard("part", "two"), [one.id])
    three = register.save_owed(db, None, register.OwedCard("part", "three"), [two.id])
    with pytest.raises(InputError, match="wait for each other"):
        register.save_owed(db, one, register.OwedCard("part", "one"), [three.id])


def test_an_owed_thing_is_written_changed_closed_and_opened_again(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    address = "/programme/owed/new"
    assert "Say what is owed" in errors_of(send(tester, address, {**THING, "what": ""}))
    assert "no day and time" in errors_of(send(tester, address, {**THING, "slot_at": "tomorrow"}))
    assert "how many hours" in errors_of(send(tester, address, {**THING, "slot_at": "2026-05-14 09:00"}))
    assert send(tester, address, {**THING, "due_on": "2026-05-20", "hours": "2"}).status_code == 302
    thing = db.scalars(select(Owed).where(Owed.what == "gasket set")).one()
    here = f"/programme/owed/{thing.id}"
    assert "overdue" in read(tester.get("/programme/owed")).text
    assert send(tester, here, {**THING, "what": "gasket sets, two"}).status_code == 302
    closing = tester.post(f"{here}/close", data={"closed_with": "", "version": "2"})
    assert closing.status_code == 422
    assert tester.post(f"{here}/close", data={"closed_with": "came by post", "version": "2"}).status_code == 302
    assert "came by post" in read(tester.get("/programme/owed?closed=1")).text
    assert tester.post(f"{here}/reopen").status_code == 302
    db.expire_all()
    assert thing.closed_at is None


def test_two_people_change_one_owed_thing(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, shop: SimpleNamespace
) -> None:
    db.act_as(shop.people["tester"])
    thing = register.save_owed(db, None, register.OwedCard("part", "gasket"))
    db.commit()
    one, other = log_in("tester"), log_in("approver")
    here = f"/programme/owed/{thing.id}"
    version = read(other.get(here)).select_one("main form input[name=version]")["value"]
    assert send(one, here, {**THING, "what": "gasket, new"}).status_code == 302
    late = other.post(here, data={**THING, "what": "gasket, old", "version": version})
    assert late.status_code == 409
    assert read(late).select_one("#what")["value"] == "gasket, old"


def test_the_line_says_what_decides_and_what_a_late_part_moves(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    found = settled(db, shop)
    part = register.save_owed(
        db,
        None,
        register.OwedCard("part", "second manifold", shop.application.id, due_on=date.today() + timedelta(days=30)),
    )
    dyno = found["pull"]
    register.save_owed(db, dyno, register.OwedCard("dyno", dyno.what, shop.application.id, hours=dyno.hours), [part.id])
    db.commit()
    page = read(tester.get("/programme"))
    assert "second manifold" in page.select_one("table").text
    assert page.select("svg.dates a[aria-label]")
    moved = read(tester.get(f"/programme?late={part.id}&days=10"))
    assert re.search(r"second manifold 10 days later moves .+ from .+ to ", moved.select_one("#late").text)
    one = read(tester.get(f"/programme?application={shop.application.id}"))
    assert "Everything on the line" in one.text


def test_an_address_of_a_calendar_is_private_and_can_be_revoked(
    app: Any, tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    person = shop.people["tester"]
    db.act_as(person)
    slot = datetime(2026, 10, 24, 8, tzinfo=UTC)
    register.save_owed(
        db, None, register.OwedCard("dyno", "dyno day", shop.application.id, person.id, hours=30.0, slot=slot)
    )
    register.save_owed(db, None, register.OwedCard("part", "gasket", None, person.id, due_on=date(2026, 10, 20)))
    db.commit()
    page = read(tester.post("/programme/calendar", data={}))
    address = page.select_one("main .flash:not(.is-done)").text.strip()
    stranger = app.test_client()
    path = address[address.index("/calendar/") :]
    answer = stranger.get(path)
    assert answer.status_code == 200
    assert answer.mimetype == "text/calendar"
    assert stranger.get("/calendar/wrong-key.ics").status_code == 404
    assert tester.post("/programme/calendar/revoke").status_code == 302
    assert stranger.get(path).status_code == 404
    assert tester.get("/programme/calendar.ics").data.startswith(b"BEGIN:VCALENDAR")


def test_a_calendar_is_read_back_by_two_libraries_over_a_change_of_clocks(
    app: Any, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    person = shop.people["tester"]
    db.act_as(person)
    slot = datetime(2026, 10, 24, 8, tzinfo=UTC)
    thing = register.save_owed(
        db, None, register.OwedCard("dyno", "dyno day, über Nacht; bring: tea", None, person.id, hours=30.0, slot=slot)
    )
    due = register.save_owed(db, None, register.OwedCard("part", "gasket", None, person.id, due_on=date(2026, 10, 20)))

    def made() -> bytes:
        things = calendar.things_of(db, person)
        return calendar.as_calendar(things, calendar.changed_at(db, things), "t")

    events = {str(e["uid"]): e for e in icalendar.Calendar.from_ical(made()).walk("VEVENT")}
    first = events[f"owed-{thing.id}@long-breath"]
    assert first["dtend"].dt.astimezone(UTC) - first["dtstart"].dt.astimezone(UTC) == timedelta(hours=30)
    read_back = {e.uid.value: e for e in vobject.readOne(made().decode()).vevent_list}
    same = read_back[f"owed-{thing.id}@long-breath"]
    assert same.dtstart.value.astimezone(UTC) == slot
    assert same.dtend.value.astimezone(UTC) == slot + timedelta(hours=30)
    assert same.summary.value == "dyno day, über Nacht; bring: tea"
    assert same.valarm.trigger.value == timedelta(hours=-2)
    assert read_back[f"owed-{due.id}@long-breath"].dtstart.value == date(2026, 10, 20)
    card = register.OwedCard("dyno", "dyno day", None, person.id, hours=8.0, slot=slot + timedelta(days=1))
    register.save_owed(db, thing, card)
    changed = {str(e["uid"]): e for e in icalendar.Calendar.from_ical(made()).walk("VEVENT")}[
        f"owed-{thing.id}@long-breath"
    ]
    assert int(changed["sequence"]) == int(first["sequence"]) + 1
    assert str(changed["uid"]) == str(first["uid"])
    register.close(db, thing, "done")
    over = {str(e["uid"]): e for e in icalendar.Calendar.from_ical(made()).walk("VEVENT")}[
        f"owed-{thing.id}@long-breath"
    ]
    assert str(over["status"]) == "CANCELLED"


def test_words_cannot_end_a_calendar_early(db: UnitOfWork, shop: SimpleNamespace) -> None:
    person = shop.people["tester"]
    db.act_as(person)
    sly = "gasket\r\nEND:VEVENT\rEND:VCALENDAR\nBEGIN:X"
    register.save_owed(db, None, register.OwedCard("part", sly, None, person.id, due_on=date(2026, 10, 20), blocks=sly))
    things = calendar.things_of(db, person)
    data = calendar.as_calendar(things, calendar.changed_at(db, things), "t")
    assert data.count(b"END:VCALENDAR\r\n") == 1
    assert all(not line.startswith(b"END:X") and b"\r" not in line for line in data.split(b"\r\n"))
    assert len(icalendar.Calendar.from_ical(data).walk("VEVENT")) == 1


def test_equal_work_is_asked_for_once_and_can_be_stopped(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    db.act_as(shop.people["tester"], shop.application.id)
    dyno_day.predicted(db, shop.application, "a little more in the middle")
    db.commit()
    ask = f"{base(shop)}/plan/cards/{shop.card.id}/forecast"
    for _ in range(2):
        assert tester.post(f"{ask}/ask").status_code == 302
    assert len(background.recent_tasks(db, shop.application.id)) == 1
    page = read(tester.get(f"{base(shop)}/plan"))
    assert "Waiting for a worker" in page.select_one("#forecast").text
    assert page.select_one("#forecast")["hx-trigger"] == "every 1s"
    assert tester.post(f"{ask}/stop").status_code == 302
    assert "cancelled" in read(tester.get("/programme/work")).text
    again = tester.post(f"/programme/work/{background.recent_tasks(db)[0].id}/stop")
    assert again.status_code == 409


def test_viewers_see_what_is_owed_and_write_nothing(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, shop: SimpleNamespace
) -> None:
    db.act_as(shop.people["tester"])
    thing = register.save_owed(db, None, register.OwedCard("part", "gasket"))
    db.commit()
    viewer = log_in("viewer")
    for path in ("", "/owed", "/calendar", "/calendar.ics", "/work"):
        assert viewer.get(f"/programme{path}").status_code == 200, path
    assert viewer.get(f"/programme/owed/{thing.id}").status_code == 403
    assert (
        viewer.post(f"/programme/owed/{thing.id}/close", data={"closed_with": "x", "version": "1"}).status_code == 403
    )

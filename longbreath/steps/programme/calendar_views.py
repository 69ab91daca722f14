"""Views of calendars, and of background work."""

from __future__ import annotations

import io
from typing import Any

from flask import abort, flash, redirect, send_file, url_for

from longbreath.dossier import work as background
from longbreath.dossier.programme import calendar
from longbreath.store.models import User, WorkTask
from longbreath.web.addresses import house_zone, outside_address
from longbreath.web.forms import BaseForm
from longbreath.web.guard import user
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db


def my_calendar() -> Any:
    """What the calendar of the person holds, and the private address under which other programs read it."""
    form = BaseForm()
    saved = save(form, None, lambda: calendar.give_key(db(), user()))
    address = ""
    if saved.done:
        address = outside_address(url_for("programme.feed", key=saved.result))
        flash("This is the address; it is shown once. The ones before it no longer work.", "done")
    return page(
        "programme/calendar.html",
        form=form,
        address=address,
        has_key=calendar.has_key(db(), user()),
        things=calendar.things_of(db(), user()),
        zone=house_zone(),
    )


def revoke_calendar() -> Any:
    """Revoke the person's calendar addresses."""
    count = calendar.revoke(db(), user())
    flash("The address no longer works." if count else "There was no address.", "done")
    return redirect(url_for("programme.my_calendar"))


def _file(person: User) -> Any:
    things = calendar.things_of(db(), person)
    title = f"Long Breath, {person.name}"
    data = calendar.as_calendar(things, calendar.changed_at(db(), things), title)
    answer = send_file(io.BytesIO(data), "text/calendar; charset=utf-8", download_name="long-breath.ics")
    answer.headers["Cache-Control"] = "private, no-store"
    return answer


def download_calendar() -> Any:
    """The person's calendar as a file."""
    return _file(user())


def feed(key: str) -> Any:
    """A calendar by its private address; 404 for one that is unknown or revoked."""
    person = calendar.person_of(db(), key)
    return _file(person) if person is not None else abort(404)


def background_work() -> Any:
    """What runs in the background, and what came of it."""
    return page("programme/work.html", tasks=background.recent_tasks(db()))


def stop_work(task_id: int) -> Any:
    """Stop a piece of background work."""
    task = db().get(WorkTask, task_id) or abort(404)
    background.cancel(db(), task)
    flash(f"Told to stop: {task.title}.", "done")
    return redirect(url_for("programme.background_work"))

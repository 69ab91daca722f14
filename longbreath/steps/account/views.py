"""Views of the account pages."""

from __future__ import annotations

from typing import Any

from flask import abort, flash, redirect, render_template, request, url_for
from flask_login import login_user, logout_user
from markupsafe import escape

from longbreath.core.basis import units, written
from longbreath.core.basis.errors import InputError
from longbreath.dossier import people as dossier_people
from longbreath.steps.account.forms import LoginForm, PersonForm
from longbreath.store.models import User
from longbreath.web.forms import told
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db


def _local(target: str | None) -> str:
    """A place on this site to go on to; anything else leads home."""
    safe = target and target.startswith("/") and not target.startswith(("//", "/\\"))
    return target if safe and target else url_for("coverage.home")


def login() -> Any:
    """Log in."""
    form = LoginForm(then=request.args.get("then"))
    if form.validate_on_submit():
        person = dossier_people.find_by_password(db(), form.email.data or "", form.password.data or "")
        if person is not None:
            login_user(person)
            return redirect(_local(form.then.data))
        form.password.errors = ["Mail address and password do not belong together."]
    return render_template("account/login.html", form=form, theme="paper"), 422 if form.errors else 200


def logout() -> Any:
    """Log out."""
    logout_user()
    return redirect(url_for("account.login"))


def set_units(system: str) -> Any:
    """Choose the display system."""
    if system not in units.SYSTEMS:
        abort(404)
    dossier_people.choose_units(db(), system)
    return redirect(_back())


def set_theme(name: str) -> Any:
    """Choose the light."""
    if name not in ("paper", "cell"):
        abort(404)
    dossier_people.choose_theme(db(), name)
    return redirect(_back())


def _back() -> str:
    referrer = request.referrer or ""
    return _local(referrer.removeprefix(request.host_url.rstrip("/")))


def understood() -> str:
    """What a typed text was read as, for the line below its field."""
    text = request.args.get(request.args.get("field", ""), "")
    if not text.strip():
        return ""
    try:
        read = units.parse(text, request.args.get("kind", ""), request.args.get("system", ""))
    except InputError as error:
        return f'<span class="error">{escape(error.message)}</span>'
    other = written.beside(read.value, request.args.get("kind", ""), request.args.get("system", ""), read.words)
    return str(escape(told(read.words, other)))


def people() -> Any:
    """Everybody, and a form for a new person."""
    form = PersonForm()
    saved = save(form, None, lambda: dossier_people.add_person(db(), form.command(dossier_people.NewPerson)))
    if saved.done:
        flash(f"{saved.result.name} can log in now.", "done")
        return redirect(url_for("account.people"))
    return page("account/people.html", form=form, everybody=dossier_people.everybody(db()), status=saved.status)


def toggle_active(user_id: int) -> Any:
    """Let a person in or keep them out."""
    person = db().get(User, user_id) or abort(404)
    dossier_people.toggle_active(db(), person)
    return redirect(url_for("account.people"))

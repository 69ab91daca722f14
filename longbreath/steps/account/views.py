"""Views of the account pages."""

from __future__ import annotations

from typing import Any

from flask import abort, flash, redirect, render_template, request, url_for
from markupsafe import escape

from longbreath.core.basis import units, written
from longbreath.core.basis.errors import InputError
from longbreath.dossier import entry
from longbreath.dossier import people as dossier_people
from longbreath.steps.account.forms import ChooseForm, LoginForm, PasswordForm, PersonForm
from longbreath.store.models import User
from longbreath.web.addresses import local
from longbreath.web.forms import told
from longbreath.web.guard import sign_in, sign_in_key, sign_out, user
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db, keep


def _onward(target: str | None) -> str:
    """A place of this site to go on to; anything else leads home."""
    return local(target) or url_for("coverage.home")


def login() -> Any:
    """Log in. A miss is kept, so that misses are counted for all processes."""
    form = LoginForm(then=request.args.get("then"))
    if form.validate_on_submit():
        try:
            person, key = entry.enter(db(), form.email.data, form.password.data, request.remote_addr or "")
        except InputError as error:
            keep()
            form.blame(error)
        else:
            sign_in(person, key)
            return redirect(_onward(form.then.data))
    return render_template("account/login.html", form=form, theme="paper"), 422 if form.errors else 200


def logout() -> Any:
    """Log out: here, and on the server for every copy of the cookie."""
    entry.leave(db(), sign_in_key())
    sign_out()
    return redirect(url_for("account.login"))


def password() -> Any:
    """Change one's own password."""
    form = PasswordForm()

    def change() -> None:
        entry.change_password(db(), user(), form.old.data, form.new.data, sign_in_key())

    saved = save(form, None, change)
    if saved.done:
        flash("Your password is changed. Wherever else you were logged in, you are not any more.", "done")
        return redirect(url_for("coverage.home"))
    return page("account/password.html", form=form, status=saved.status)


def make_link(user_id: int) -> Any:
    """Make a one-time link for a person and show it, this once."""
    person = db().get(User, user_id) or abort(404)
    key = entry.make_link(db(), person)
    link = url_for("account.choose", key=key, _external=True)
    return *page("account/link.html", person=person, link=link), {"Cache-Control": "no-store"}


def choose(key: str) -> Any:
    """Choose a new password by a one-time link."""
    link = entry.link_of(db(), key)
    form = ChooseForm()
    if link is None:
        return render_template("account/choose.html", form=form, link=None, theme="paper"), 404
    saved = save(form, None, lambda: entry.use_link(db(), link, form.new.data))
    if saved.done:
        flash("Your new password holds from now on: log in with it.", "done")
        return redirect(url_for("account.login"))
    return render_template("account/choose.html", form=form, link=link, theme="paper"), saved.status


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
    return _onward(referrer.removeprefix(request.host_url.rstrip("/")))


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

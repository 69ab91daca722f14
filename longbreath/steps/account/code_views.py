"""Setting up one-time codes."""

from __future__ import annotations

import re
from typing import Any

from flask import current_app, flash, redirect, url_for

from longbreath.core.basis.errors import InputError
from longbreath.dossier import passwords
from longbreath.dossier.claim import reviews
from longbreath.drawing.sheets import qr_svg
from longbreath.steps.account.forms import CodeForm
from longbreath.web.guard import user
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db

SECRET = re.compile(r"[A-Z2-7]{32}")


def code() -> Any:
    """Set up one-time codes, once a first one shows that the telephone has the secret."""
    form = CodeForm()
    if not form.secret.data or not SECRET.fullmatch(form.secret.data):
        form.secret.data = reviews.new_secret()

    def keep() -> None:
        if not passwords.matches(form.password.data, user().password_hash):
            raise InputError("This is not your password.", "password")
        seal = reviews.sealer(current_app.config["SECRET_KEY"])
        reviews.set_up(db(), user(), form.secret.data, form.code.data, seal)

    saved = save(form, None, keep)
    if saved.done:
        flash("Your codes are set up.", "done")
        return redirect(url_for("account.code"))
    picture = qr_svg(reviews.address_of(form.secret.data, user()))
    has_code = bool(user().code_secret)
    return page("account/code.html", form=form, picture=picture, has_code=has_code, status=saved.status)

"""Deny unless allowed: every route names its permission, and every application is loaded by one loader."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any, TypeVar, cast

from flask import Blueprint, Flask, Request, abort, current_app, g, redirect, request, session, url_for
from flask_login import LoginManager, current_user, login_user, logout_user
from werkzeug.wrappers import Response

from longbreath.core.basis.errors import NotAllowed
from longbreath.dossier import entry
from longbreath.store.models import Application, User
from longbreath.web.first_looks import who_looks
from longbreath.web.once import taken_before
from longbreath.web.transaction import db

PERMISSIONS = {
    "public": (),
    "view": ("viewer", "tester", "approver", "admin"),
    "edit": ("tester", "approver", "admin"),
    "approve": ("approver", "admin"),
    "admin": ("admin",),
}

login_manager = LoginManager()
T = TypeVar("T")


def route(
    blueprint: Blueprint, rule: str, view: Callable[..., Any], permission: str, methods: tuple[str, ...] = ("GET",)
) -> None:
    """Add one line to a blueprint's table of addresses, guarded by a permission."""
    if permission not in PERMISSIONS:
        raise ValueError(f"unknown permission {permission!r}")
    guarded = _guarded(view, permission)
    blueprint.add_url_rule(rule, view.__name__, guarded, methods=list(methods))


def _guarded(view: Callable[..., Any], permission: str) -> Callable[..., Any]:
    @wraps(view)
    def checked(**arguments: Any) -> Any:
        if permission != "public":
            if not current_user.is_authenticated:
                return _to_login()
            if current_user.role not in PERMISSIONS[permission]:
                raise NotAllowed(f"Your role, {current_user.role}, does not include this. Ask an admin for it.")
        person = user_or_none()
        db().act_as(person)
        return (taken_before(person.id) if person is not None else None) or view(**arguments)

    checked.permission = permission  # type: ignore[attr-defined]
    return checked


def _to_login() -> Response:
    target = request.full_path if request.method == "GET" else url_for("coverage.home")
    return redirect(url_for("account.login", then=target))


def sign_in(person: User, key: str) -> None:
    """Begin the log-in of a person in this browser."""
    session.clear()
    session["sign_in"] = key
    login_user(person)


def sign_in_key() -> str:
    """The key of this browser's log-in."""
    return str(session.get("sign_in", ""))


def sign_out() -> None:
    """Forget the log-in in this browser."""
    logout_user()
    session.clear()


def user() -> User:
    """The person who is logged in."""
    return cast(User, current_user)


def user_or_none() -> User | None:
    """The person who is logged in, or None on public pages."""
    return cast(User, current_user) if current_user.is_authenticated else None


def may(permission: str) -> bool:
    """Whether the present person has a permission (for templates)."""
    return current_user.is_authenticated and current_user.role in PERMISSIONS[permission]


def load_application(application_id: int) -> Application:
    """The application of this request; 404 if there is none. Sets the dossier for the audit trail and the frame."""
    application = db().get(Application, application_id)
    if application is None:
        abort(404)
    db().act_as(user(), application.id)
    g.application = application
    return application


def load_part(model: type[T], part_id: int, application: Application, path: str = "application_id") -> T:
    """A record that belongs to an application; 404 if it does not exist or belongs to another.

    `path` walks from the record to the application's id, for example "session.application_id".
    """
    record = db().get(model, part_id)
    value: Any = record
    for name in path.split("."):
        value = getattr(value, name) if value is not None else None
    if record is None or value != application.id:
        abort(404)
    return record


def init_guard(app: Flask) -> None:
    """Attach the log-in manager and refuse any route that names no permission."""
    login_manager.init_app(app)
    login_manager.session_protection = "strong"

    @login_manager.user_loader
    def _load(user_id: str) -> User | None:
        return entry.person_of(db(), int(user_id), sign_in_key())

    @login_manager.request_loader
    def _load_looker(asked: Request) -> User | None:
        person_id = who_looks(asked)
        return db().get(User, person_id) if person_id is not None else None

    @app.before_request
    def _refuse_unguarded() -> None:
        view = current_app.view_functions.get(request.endpoint or "")
        if request.endpoint not in (None, "static") and not hasattr(view, "permission"):
            abort(403)

    app.jinja_env.globals["may"] = may

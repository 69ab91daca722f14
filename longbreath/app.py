"""The application factory, and nothing clever."""

from __future__ import annotations

from typing import Any

from flask import Flask

from longbreath.dossier import subscribers
from longbreath.steps.account.blueprint import blueprint as account
from longbreath.steps.attachments.blueprint import blueprint as attachments
from longbreath.steps.claim.blueprint import blueprint as claim
from longbreath.steps.coverage.blueprint import blueprint as coverage
from longbreath.steps.library.blueprint import blueprint as library
from longbreath.steps.measure.bench.blueprint import blueprint as bench
from longbreath.steps.measure.builds.blueprint import blueprint as builds
from longbreath.steps.measure.curves.blueprint import blueprint as curves
from longbreath.steps.measure.faces.blueprint import blueprint as faces
from longbreath.steps.measure.lifts.blueprint import blueprint as measure
from longbreath.steps.measure.path.blueprint import blueprint as path
from longbreath.steps.measure.ports.blueprint import blueprint as ports
from longbreath.steps.measure.timing.blueprint import blueprint as timing
from longbreath.steps.measure.trials.blueprint import blueprint as trials
from longbreath.steps.plan.blueprint import blueprint as plan
from longbreath.steps.practice.blueprint import blueprint as practice
from longbreath.steps.programme.blueprint import blueprint as programme
from longbreath.steps.published.blueprint import blueprint as published
from longbreath.steps.published.blueprint import sheets
from longbreath.steps.pull.blueprint import blueprint as pull
from longbreath.steps.reckon.blueprint import blueprint as reckon
from longbreath.steps.weigh.blueprint import blueprint as weigh
from longbreath.steps.words.blueprint import blueprint as words
from longbreath.store.database import Database
from longbreath.store.secret import kept_secret
from longbreath.web.addresses import init_addresses
from longbreath.web.assets import init_assets
from longbreath.web.errors import init_errors
from longbreath.web.figures import init_figures
from longbreath.web.guard import init_guard
from longbreath.web.once import init_once
from longbreath.web.security import init_security
from longbreath.web.transaction import init_transaction
from longbreath.web.uploads import init_uploads

UPLOAD_LIMIT = 13 * 1024 * 1024


DEFAULTS: dict[str, Any] = {
    "DATABASE_URL": "",
    "HTTPS": False,
    "VAR": "var",
    "ADDRESS": "",
    "ZONE": "UTC",
    "MAX_CONTENT_LENGTH": UPLOAD_LIMIT,
    "MAX_FORM_MEMORY_SIZE": 2 * 1024 * 1024,
    "SESSION_COOKIE_SAMESITE": "Lax",
    "SESSION_COOKIE_HTTPONLY": True,
    "WTF_CSRF_TIME_LIMIT": 12 * 3600,
    "SEND_FILE_MAX_AGE_DEFAULT": 31536000,
}
"""What is so unless the environment says otherwise; the README lists what it may say, as LONGBREATH_ and the name."""


def create_app(overrides: dict[str, Any] | None = None, database: Database | None = None) -> Flask:
    """Build the application. `overrides` replace settings; tests hand in their own database."""
    app = Flask("longbreath", template_folder="web/templates", static_folder="static")
    app.config.update(DEFAULTS)
    app.config.from_prefixed_env("LONGBREATH")
    app.config.update(overrides or {})
    app.config["SECRET_KEY"] = str(app.config["SECRET_KEY"] or kept_secret(str(app.config["VAR"])))
    app.testing = bool(app.config.get("TESTING"))
    app.jinja_env.trim_blocks = app.jinja_env.lstrip_blocks = True
    subscribers.attach()
    app.extensions["longbreath"] = database or Database(app.config["DATABASE_URL"])
    for start in (
        init_addresses,
        init_uploads,
        init_transaction,
        init_once,
        init_security,
        init_guard,
        init_figures,
        init_assets,
        init_errors,
    ):
        start(app)
    measuring = (measure, bench, curves, ports, path, faces, timing, builds, trials, attachments)
    claiming = (claim, published, sheets, words)
    for blueprint in (
        account,
        coverage,
        library,
        *measuring,
        reckon,
        plan,
        programme,
        practice,
        pull,
        weigh,
        *claiming,
    ):
        app.register_blueprint(blueprint)
    return app

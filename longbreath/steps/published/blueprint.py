"""Addresses that anybody may read, without a log-in and without a cookie."""

from __future__ import annotations

from flask import Blueprint

from longbreath.drawing.sheets import TEMPLATES
from longbreath.steps.published import check_views, feeds, views
from longbreath.web.guard import route
from longbreath.web.security import csrf

blueprint = Blueprint("published", __name__, template_folder="templates")
sheets = Blueprint("sheets", __name__, template_folder=str(TEMPLATES))
"""Brings the templates of sheets, which printing shares."""

route(blueprint, "/sheet/<slug>", views.sheet, "public")
route(blueprint, "/sheet/<slug>/printed.pdf", views.printed, "public")
route(blueprint, "/sheet/<slug>/bundle.zip", views.bundle, "public")
route(blueprint, "/sheet/<slug>/badge.svg", views.badge, "public")
route(blueprint, "/sheet/<slug>/code.svg", views.code, "public")
route(blueprint, "/sheet/<slug>/state.json", views.state, "public")
route(blueprint, "/sheet/<slug>/embed", views.embed, "public")
route(blueprint, "/claims", feeds.index, "public")
route(blueprint, "/claims.json", feeds.as_json, "public")
route(blueprint, "/claims.csv", feeds.as_csv, "public")
route(blueprint, "/claims.atom", feeds.as_atom, "public")
route(blueprint, "/claims/keys.json", feeds.keys, "public")
route(blueprint, "/claims/context.jsonld", feeds.context, "public")
route(blueprint, "/claims/check", check_views.check, "public", ("GET", "POST"))


@blueprint.record_once
def _free_of_cookies(state: object) -> None:
    """The check changes nothing and knows nobody: it needs no token, and so sets no cookie."""
    csrf.exempt(f"{check_views.__name__}.check")

"""Addresses of the library."""

from __future__ import annotations

from flask import Blueprint

from longbreath.steps.library import health_views, shop_views, tool_views, views
from longbreath.web.guard import route

blueprint = Blueprint("library", __name__, template_folder="templates")

route(blueprint, "/library", views.index, "view")
route(blueprint, "/library/vehicles/new", views.new_vehicle, "edit", ("GET", "POST"))
route(blueprint, "/library/vehicles/<int:vehicle_id>", views.edit_vehicle, "edit", ("GET", "POST"))
route(blueprint, "/library/products/new", views.new_product, "edit", ("GET", "POST"))
route(blueprint, "/library/products/<int:product_id>/revisions/new", views.new_revision, "edit", ("GET", "POST"))
route(blueprint, "/library/revisions/<int:revision_id>/state", views.state_revision, "edit", ("GET", "POST"))
route(blueprint, "/library/products/<int:product_id>/price", views.price_product, "edit", ("GET", "POST"))
route(blueprint, "/library/benches/new", views.new_bench, "edit", ("GET", "POST"))
route(blueprint, "/library/benches/<int:bench_id>", views.bench, "view")
route(blueprint, "/library/benches/<int:bench_id>/change", views.edit_bench, "edit", ("GET", "POST"))
route(blueprint, "/library/benches/<int:bench_id>/checks/new", views.new_check, "edit", ("GET", "POST"))
route(blueprint, "/library/benches/<int:bench_id>/ranges/new", views.new_range, "edit", ("GET", "POST"))
route(blueprint, "/library/instruments", views.addresses, "admin", ("GET", "POST"))
route(blueprint, "/library/instruments/<int:address_id>/listed", views.toggle_address, "admin", ("POST",))
route(blueprint, "/library/dynos/new", views.new_dyno, "edit", ("GET", "POST"))
route(blueprint, "/library/dynos/<int:dyno_id>", shop_views.dyno, "edit", ("GET", "POST"))
route(blueprint, "/library/dynos/<int:dyno_id>/fit", shop_views.fit_dyno, "edit", ("POST",))
route(blueprint, "/library/engines/<int:engine_id>/move", shop_views.move_engine, "edit", ("GET", "POST"))
route(blueprint, "/library/health/<carrier>/<int:carrier_id>", health_views.health, "view", ("GET", "POST"))
route(
    blueprint,
    "/library/health/<carrier>/<int:carrier_id>/entries/<int:entry_id>",
    health_views.health_entry,
    "edit",
    ("GET", "POST"),
)
route(blueprint, "/library/people/<int:user_id>", shop_views.person, "admin", ("GET", "POST"))
route(blueprint, "/library/shop/<register>", shop_views.shop_list, "view")
route(blueprint, "/library/shop/<register>/new", shop_views.shop_new, "edit", ("GET", "POST"))
route(blueprint, "/library/shop/<register>/paste", shop_views.shop_paste, "edit", ("GET", "POST"))
route(blueprint, "/library/shop/<register>/<int:record_id>", shop_views.shop_one, "edit", ("GET", "POST"))
route(blueprint, "/library/shop/<register>/<int:record_id>/label", shop_views.shop_label, "view")
route(blueprint, "/tools", tool_views.tools, "edit")
route(blueprint, "/tools/readings", tool_views.tool_readings, "edit")
route(blueprint, "/log", views.log, "view")
route(blueprint, "/method", views.methods, "public")
route(blueprint, "/method/nomenclature", views.nomenclature, "public")
route(blueprint, "/method/<name>", views.method, "public")
route(blueprint, "/components", views.components, "view")

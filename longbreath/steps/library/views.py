"""Views of the library."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import Any

from flask import abort, flash, redirect, request, url_for
from markdown_it import MarkdownIt
from markupsafe import Markup

from longbreath.core.basis.nomenclature import terms
from longbreath.core.basis.register import all_reckonings
from longbreath.core.path.sections import flattened_figures
from longbreath.core.reckon.candidates import SHELF
from longbreath.dossier import instruments, library
from longbreath.dossier.bench.traces import plate_history, plate_of
from longbreath.dossier.registers import REGISTERS
from longbreath.steps.library import forms
from longbreath.store.models import Bench, InstrumentAddress, Product, Revision, Vehicle
from longbreath.web.forms import BaseForm
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db

METHOD = Path(__file__).parents[2] / "method"


def index() -> Any:
    """The shelf."""
    return page("library/index.html", shelf=library.shelf(db()), on_the_shelf=dict(SHELF), registers=REGISTERS)


def _add(form: BaseForm, title: str, add: Callable[[], Any], done: str) -> Any:
    """Show a form, or add what it holds and go back to the shelf."""
    saved = save(form, None, add)
    if saved.done:
        flash(done, "done")
        return redirect(url_for("library.index"))
    return page("library/form.html", form=form, title=title, status=saved.status)


def new_vehicle() -> Any:
    """Add a vehicle."""
    form = forms.VehicleForm()
    return _add(
        form, "New vehicle", lambda: library.add_vehicle(db(), form.command(library.VehicleCard)), "Vehicle added."
    )


def edit_vehicle(vehicle_id: int) -> Any:
    """Change a vehicle."""
    vehicle = db().get(Vehicle, vehicle_id) or abort(404)
    form = forms.VehicleForm(obj=vehicle)
    saved = save(form, vehicle, lambda: library.change_vehicle(db(), vehicle, form.command(library.VehicleCard)))
    if saved.done:
        flash("Vehicle saved.", "done")
        return redirect(url_for("library.index"))
    return page("library/form.html", form=form, title=vehicle.name, conflict=saved.conflict, status=saved.status)


def new_product() -> Any:
    """Add a product."""
    form = forms.ProductForm()
    return _add(
        form, "New product", lambda: library.add_product(db(), form.command(library.ProductCard)), "Product added."
    )


def new_revision(product_id: int) -> Any:
    """Add a revision."""
    product = db().get(Product, product_id) or abort(404)
    form = forms.RevisionForm()
    return _add(
        form,
        f"New revision of {product.name}",
        lambda: library.add_revision(db(), product, form.name.data or "", form.state.data or ""),
        "Revision added.",
    )


def state_revision(revision_id: int) -> Any:
    """Say the state of a revision that has none."""
    revision = db().get(Revision, revision_id) or abort(404)
    form = forms.StateForm()
    return _add(
        form,
        f"State of {revision.title}",
        lambda: library.state_revision(db(), revision, form.state.data or ""),
        "State written down.",
    )


def price_product(product_id: int) -> Any:
    """Say what a product costs, and whether it is to be had."""
    product = db().get(Product, product_id) or abort(404)
    form = forms.PriceForm(obj=product)
    saved = save(form, product, lambda: library.price_product(db(), product, form.command(library.PriceCard)))
    if saved.done:
        flash("Price saved.", "done")
        return redirect(url_for("library.index"))
    title = f"Price of {product.name}"
    return page("library/form.html", form=form, title=title, conflict=saved.conflict, status=saved.status)


def new_bench() -> Any:
    """Add a bench."""
    form = forms.BenchForm()
    form.offer(instruments.listed(db(), "bench"))
    return _add(
        form,
        "New flow bench",
        lambda: library.add_bench(db(), form.command(library.BenchCard), form.command(library.RangeCard)),
        "Bench added.",
    )


def bench(bench_id: int) -> Any:
    """A bench: its card, ranges, and the drift of its plate checks."""
    found = db().get(Bench, bench_id) or abort(404)
    return page("library/bench.html", bench=found, plate=plate_of(found, date.today()), history=plate_history(found))


def edit_bench(bench_id: int) -> Any:
    """Change a bench's card."""
    found = db().get(Bench, bench_id) or abort(404)
    form = forms.BenchCard(obj=found)
    form.offer(instruments.listed(db(), "bench"))
    saved = save(form, found, lambda: library.change_bench(db(), found, form.command(library.BenchCard)))
    if saved.done:
        flash("Bench saved; the figures of its sessions were made anew.", "done")
        return redirect(url_for("library.bench", bench_id=found.id))
    return page("library/form.html", form=form, title=found.name, conflict=saved.conflict, status=saved.status)


def new_check(bench_id: int) -> Any:
    """Record a plate check."""
    found = db().get(Bench, bench_id) or abort(404)
    form = forms.CheckForm()
    if not form.is_submitted():
        form.held_on.data = date.today()
    saved = save(form, None, lambda: library.add_check(db(), found, form.command(library.PlateCheck)))
    if saved.done:
        flash("Plate check recorded.", "done")
        return redirect(url_for("library.bench", bench_id=found.id))
    return page("library/form.html", form=form, title=f"Plate check of {found.name}", status=saved.status)


def new_range(bench_id: int) -> Any:
    """Add a range."""
    bench = db().get(Bench, bench_id) or abort(404)
    form = forms.RangeForm()
    return _add(
        form,
        f"New range of {bench.name}",
        lambda: library.add_range(db(), bench, form.command(library.RangeCard)),
        "Range added.",
    )


def addresses() -> Any:
    """The addresses at which instruments may be looked for, and a form for another."""
    form = forms.AddressForm()
    saved = save(form, None, lambda: instruments.list_address(db(), form.command(instruments.NewAddress)))
    if saved.done:
        flash(f"{saved.result.address} is listed: benches may name it from now on.", "done")
        return redirect(url_for("library.addresses"))
    known = instruments.addresses(db())
    return page("library/addresses.html", form=form, addresses=known, status=saved.status)


def toggle_address(address_id: int) -> Any:
    """Strike an address off, or list it again."""
    address = db().get(InstrumentAddress, address_id) or abort(404)
    if address.is_listed:
        instruments.strike_off(db(), address)
    else:
        instruments.list_address(db(), instruments.NewAddress(address.address, address.what, address.kind))
    return redirect(url_for("library.addresses"))


def new_dyno() -> Any:
    """Add a dyno."""
    form = forms.DynoForm()
    return _add(form, "New dyno", lambda: library.add_dyno(db(), form.command(library.DynoCard)), "Dyno added.")


def log() -> Any:
    """Everything that was changed, by whom and when."""
    number = max(1, request.args.get("page", 1, int))
    entries, pages = library.log_page(db(), number, request.args.get("application", type=int))
    return page(
        "library/log.html",
        entries=entries,
        number=number,
        pages=pages,
        changes={entry.id: library.changes_in_words(entry) for entry in entries},
    )


def methods() -> Any:
    """The method notes, and the register of reckonings."""
    return page("library/methods.html", notes=_notes(), reckonings=all_reckonings())


def nomenclature() -> Any:
    """Every symbol with its word, its unit, and where it stands."""
    return page("library/nomenclature.html", terms=terms())


def components() -> Any:
    """Every component of the interface, for those who build on it."""
    area, share, round_ = flattened_figures(0.0635, 0.0016, 0.045)
    form = forms.ComponentForm(formdata=None, data={"size": 0.05715, "metric": 0.190, "words": "as written"})
    form.wrong.errors = ["“2 furlong” is not a unit of a length. Write it as 57.15 mm or 2-1/4 in."]
    return page("library/components.html", {"area": area, "round": share, "small": round_}, form=form)


def method(name: str) -> Any:
    """One method note."""
    if name not in _notes():
        abort(404)
    text = (METHOD / f"{name}.md").read_text()
    body = MarkdownIt("commonmark", {"html": False}).enable("table").render(text)
    return page("library/method.html", body=Markup(body), title=_notes()[name])  # our own notes, html off


def _notes() -> dict[str, str]:
    """Title of each note by its file name."""
    return {p.stem: p.read_text().partition("\n")[0].lstrip("# ") for p in sorted(METHOD.glob("*.md"))}

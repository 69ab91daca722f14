"""Views of ports."""

from __future__ import annotations

from datetime import date
from typing import Any

from flask import redirect, request, url_for

from longbreath.core.basis import units
from longbreath.core.basis.errors import InputError
from longbreath.core.bench import traverse
from longbreath.core.bench.reduction import is_off_pressure
from longbreath.dossier.attachments import attached
from longbreath.dossier.bench import maps as bench_maps
from longbreath.dossier.bench import porting
from longbreath.steps.measure.ports import forms, picture
from longbreath.store.models import Application, PortingBout, PortingJob, Traverse
from longbreath.web.forms import options, system
from longbreath.web.guard import load_application, load_part
from longbreath.web.page import page
from longbreath.web.saving import save
from longbreath.web.transaction import db

SIZES = ("diameter", "width", "height", "corner_radius")


def maps(application_id: int) -> Any:
    """The maps, and two of them beside each other."""
    application = load_application(application_id)
    found = bench_maps.maps_of(db(), application.id)
    by_id = {m.id: m for m in found}
    asked = [by_id[i] for name in ("a", "b") if (i := request.args.get(name, type=int)) in by_id]
    chosen = asked if len(asked) == 2 else list(reversed(found[:2]))
    walked = [bench_maps.walked(m) for m in chosen]
    bounds = picture.bounds_of(walked, system())
    figures = {
        k: f for name, w in zip("ab", walked, strict=False) for k, f in bench_maps.map_figures(w, f"{name}-").items()
    }
    if len(walked) == 2 and walked[0].map and walked[1].map:
        figures |= {f"gap-{f.name}": f for f in traverse.compare_maps(walked[0].map, walked[1].map)}
    pictures = [picture.picture(w, bounds, system(), application.product.side) for w in walked]
    differ = len(chosen) == 2 and is_off_pressure(chosen[0].test_pressure, chosen[1].test_pressure)
    return page(
        "ports/maps.html",
        figures,
        maps=found,
        walked=walked,
        pictures=pictures,
        pressures_differ=differ,
        legend=picture.legend(bounds, system()),
    )


def new_map(application_id: int) -> Any:
    """Draw a face and its grid."""
    application = load_application(application_id)
    form = forms.TraverseForm()
    if not form.is_submitted():
        form.held_on.data, form.test_pressure.data = date.today(), units.from_unit(28.0, "column", "inH2O")

    def add() -> Traverse:
        sizes = {name: getattr(form, name).data for name in SIZES}
        outline = traverse.face_of(form.shape.data, sizes, form.traced())
        return bench_maps.add_map(db(), application, outline, form.command(bench_maps.MapCard))

    saved = save(form, None, add)
    if saved.done:
        return redirect(url_for("ports.walk", application_id=application.id, traverse_id=saved.result.id))
    return page("ports/new_map.html", form=form, status=saved.status)


def _place(form: forms.PointForm) -> tuple[float, float]:
    try:
        return float(form.x.data or ""), float(form.y.data or "")
    except ValueError:
        raise InputError("Choose a place of the grid first.", "velocity_pressure") from None


def walk(application_id: int, traverse_id: int) -> Any:
    """A face walked over with the pitot, place by place; the map grows."""
    application = load_application(application_id)
    return _walk_page(application, load_part(Traverse, traverse_id, application), forms.PointForm())


def add_point(application_id: int, traverse_id: int) -> Any:
    """Record what the pitot reads at a place."""
    application = load_application(application_id)
    record = load_part(Traverse, traverse_id, application)
    form = forms.PointForm()
    saved = save(form, None, lambda: bench_maps.add_point(db(), record, *_place(form), form.velocity_pressure.si()))
    if saved.done:
        return redirect(url_for("ports.walk", application_id=application.id, traverse_id=record.id))
    return _walk_page(application, record, form, saved.status)


def _walk_page(application: Application, record: Traverse, form: forms.PointForm, status: int = 200) -> Any:
    found = bench_maps.walked(record)
    bounds = picture.bounds_of([found], system())
    chosen = request.args.get("place", type=int)
    up = found.places[chosen - 1] if chosen and 1 <= chosen <= len(found.places) else found.next_place
    return page(
        "ports/walk.html",
        bench_maps.map_figures(found),
        found=found,
        form=form,
        up=up,
        record=record,
        number=found.places.index(up) + 1 if up else None,
        legend=picture.legend(bounds, system()),
        picture=picture.picture(found, bounds, system(), application.product.side),
        status=status,
        attachments=attached(db(), record),
    )


def jobs(application_id: int) -> Any:
    """The porting jobs and where each stands."""
    application = load_application(application_id)
    found = porting.jobs_of(db(), application.id)
    outlooks = {job.id: porting.outlook_of(job) for job in found}
    figures = {k: f for i, o in outlooks.items() for k, f in porting.outlook_figures(o, f"{i}-").items()}
    return page("ports/jobs.html", figures, jobs=found, outlooks=outlooks)


def new_job(application_id: int) -> Any:
    """Begin a porting job."""
    return _job_form(load_application(application_id), None)


def edit_job(application_id: int, job_id: int) -> Any:
    """Change target or limits of a porting job."""
    application = load_application(application_id)
    return _job_form(application, load_part(PortingJob, job_id, application))


def _job_form(application: Application, found: PortingJob | None) -> Any:
    form = forms.JobForm(obj=found)
    if found is None and not form.is_submitted():
        form.test_pressure.data = units.from_unit(28.0, "column", "inH2O")
    saved = save(form, found, lambda: porting.save_job(db(), application, found, form.command(porting.JobCard)))
    if saved.done:
        return redirect(url_for("ports.job", application_id=application.id, job_id=saved.result.id))
    return page("ports/job_form.html", form=form, job=found, conflict=saved.conflict, status=saved.status)


def job(application_id: int, job_id: int) -> Any:
    """A porting job: its bouts, its outlook, go or stop."""
    application = load_application(application_id)
    found = load_part(PortingJob, job_id, application)
    form = forms.BoutForm()
    form.held_on.data = date.today()
    return _job_page(found, form, porting.flows_at(db(), found))


def add_bout(application_id: int, job_id: int) -> Any:
    """Record a bout of porting, its flow typed or taken from a trace."""
    application = load_application(application_id)
    found = load_part(PortingJob, job_id, application)
    flows = porting.flows_at(db(), found)
    form = forms.BoutForm()
    _offer_flows(form, flows)

    def add() -> PortingBout:
        read = flows.get(form.trace_id.data)
        if (form.flow.data is None) == (read is None):
            raise InputError("Give the flow after the bout: choose the trace it was read in, or type it.", "flow")
        flow = read[1] if read else form.flow.data
        card = form.command(porting.BoutCard, flow=flow, walls=tuple(form.thicknesses()))
        return porting.add_bout(db(), found, card)

    saved = save(form, None, add)
    if saved.done:
        return redirect(url_for("ports.job", application_id=application.id, job_id=found.id))
    return _job_page(found, form, flows, saved.status)


def _offer_flows(form: forms.BoutForm, flows: porting.Flows) -> None:
    form.trace_id.choices = options([(0, "none: typed beside"), *((i, name) for i, (name, _) in flows.items())])


def _job_page(found: PortingJob, form: forms.BoutForm, flows: porting.Flows, status: int = 200) -> Any:
    _offer_flows(form, flows)
    outlook = porting.outlook_of(found)
    return page(
        "ports/job.html",
        porting.outlook_figures(outlook),
        job=found,
        outlook=outlook,
        form=form,
        status=status,
        attachments=attached(db(), found),
    )

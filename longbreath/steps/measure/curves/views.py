"""Views of curves."""

from __future__ import annotations

from typing import Any

from flask import abort, request

from longbreath.core.claim.gates.table import bench_gates
from longbreath.core.claim.grammar import compose, sentences
from longbreath.core.claim.kinds import airflow
from longbreath.dossier.bench import curves
from longbreath.dossier.bench.traces import differs, main_pair, pair_of, plate_of, sessions_of, traces_of
from longbreath.dossier.path.elements import elements_of
from longbreath.steps.measure.curves import forms
from longbreath.store.models import Application, BenchSession, Trace
from longbreath.web.guard import load_application
from longbreath.web.page import page
from longbreath.web.traces import curve_of, drawn
from longbreath.web.transaction import db


def _pair(application: Application, offered: list[tuple[int, str]], sessions: list[BenchSession]) -> list[Trace]:
    """The two traces that the address names, else those of the newest session that has both."""
    known = {number for number, _ in offered}
    asked = [request.args.get(name, type=int) for name in ("a", "b")]
    if any(number is not None for number in asked):
        if any(number not in known for number in asked):
            abort(404)
        return traces_of(db(), [number for number in asked if number is not None])
    for session in sessions:
        a, b = main_pair(session)
        if a is not None and b is not None and a.id in known and b.id in known:
            return [a, b]
    return []


def compare(application_id: int) -> Any:
    """Two traces laid over each other: differences, coefficients, velocities, and what may be said of them."""
    application = load_application(application_id)
    offered = curves.comparable(db(), application)
    sessions = sessions_of(db(), application.id)
    pair = _pair(application, offered, sessions)
    if len(pair) < 2:
        return page("curves/compare.html", offered=offered, found=None, pair=pair)
    a, b = pair
    path = elements_of(db(), application.id)
    found = curves.compared(a, b, path, application.vehicle.cylinders)
    evidence = pair_of(a, b)
    facts = airflow.facts_of(evidence)
    chosen = forms.chosen(request.args, facts)
    rows = [{row.lift: side for row in found.rows if (side := getattr(row, name)) is not None} for name in ("a", "b")]
    ratio = curves.exhaust_to_intake(sessions)
    figures = {**found.figures, **{f"ratio-{i}": figure for i, (_, figure) in enumerate(ratio)}}
    return page(
        "curves/compare.html",
        figures,
        offered=offered,
        found=found,
        pair=pair,
        said=compose(facts, chosen.lines),
        facts=facts,
        wording=chosen,
        statement=sentences(evidence.setting, compose(facts, chosen.lines), chosen.joined),
        differs=differs(a, b),
        gates=bench_gates(evidence),
        ratio=ratio,
        plate=plate_of(b.session.bench, b.session.held_on),
        curves=drawn([curve_of(a, rows[0], a.label != "A"), curve_of(b, rows[1])], 244, 250),
    )


def _session(sessions: list[BenchSession]) -> BenchSession | None:
    wanted = request.args.get("session", type=int)
    found = next((s for s in sessions if s.id == wanted), None)
    if wanted and found is None:
        abort(404)
    return found or next((s for s in sessions if curves.stacks_of(s)), next(iter(sessions), None))


def stacks(application_id: int) -> Any:
    """Head alone, with the manifold, with the throttle: what each piece costs, and which one limits."""
    application = load_application(application_id)
    sessions = sessions_of(db(), application.id)
    session = _session(sessions)
    form = forms.TargetForm(request.args if "target" in request.args else None)
    good = not request.args.get("target") or form.validate()
    rows = curves.stacks_of(session) if session is not None else []
    figures, refused = curves.stack_figures(rows, form.target.data if good else None)
    return page(
        "curves/stacks.html",
        figures,
        session=session,
        sessions=sessions,
        rows=rows,
        form=form,
        refused=refused,
        target=form.target.data if good else None,
        status=200 if good else 422,
    )


def parts(application_id: int) -> Any:
    """Fixed parts: flow at equal pressure beside pressure at equal flow, per runner, with their spread."""
    application = load_application(application_id)
    form = forms.EqualFlowForm(request.args if "wanted" in request.args else None)
    good = not request.args.get("wanted") or form.validate()
    found = curves.parts_of(db(), application.id)
    if good and form.wanted.data is None and found:
        form.wanted.data = min(flow.value for part in found for _, flow in part.traces)
    wanted = form.wanted.data if good else None
    return page(
        "curves/parts.html",
        curves.part_figures(found, wanted),
        parts=found,
        form=form,
        wanted=wanted,
        status=200 if good else 422,
    )

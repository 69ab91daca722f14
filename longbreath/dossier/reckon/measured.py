"""What was measured of parts on one vehicle, in whatever dossier: it fills the columns of candidates."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.path import faces as port_faces
from longbreath.core.path.kinds import RUNNER
from longbreath.core.reckon.candidates import FAMILIES
from longbreath.core.reckon.rests import MEASURED, MEMORY, NOMINAL, SUPPLIER, Known
from longbreath.core.timing.port_ladder import GRADES
from longbreath.dossier import timing
from longbreath.dossier.bench.curves import StackRow, stacks_of
from longbreath.dossier.bench.traces import reduce_trace, sessions_of
from longbreath.dossier.naming import day
from longbreath.dossier.path.elements import exit_of, is_nominal, plenum_figure, section_of
from longbreath.dossier.reckon.records import Records
from longbreath.dossier.remembered import Remembered
from longbreath.store.models import Application, BenchSession, Element, FaceLay, Fit, LadderRung, WheelSheet

_RUNG_GRADES = {"own": MEASURED, "supplier": SUPPLIER, "table": NOMINAL, "hearsay": MEMORY}
"""What a value of the port ladder rests on, by its grade."""


@dataclass(frozen=True)
class Measured:
    """What was measured, by the revision it was measured of; rungs of the port ladder by name; flow of the head alone [m3/s]."""

    elements: Mapping[int, list[Element]]
    sheets: Mapping[int, list[WheelSheet]]
    fits: Mapping[int, Fit]
    lays: Mapping[int, FaceLay]
    flows: Mapping[int, Known]
    losses: Mapping[int, Known]
    rungs: Mapping[str, LadderRung]
    head: tuple[float, str] | None
    cylinders: int = 0


def measured_on(db: Session, records: Records, wanted: set[int]) -> Measured:
    """What dossiers on this vehicle have measured of these revisions, in a few queries."""
    query = select(Application).where(Application.vehicle_id == records.vehicle.id)
    dossiers = [a for a in db.scalars(query.order_by(Application.id)) if {a.revision_id, a.stock_revision_id} & wanted]
    of = {a.id: {"B": a.revision_id, "A": a.stock_revision_id} for a in dossiers}
    read = on_the_bench(db, list(dict.fromkeys((*of, records.application.id))))
    rungs = db.scalars(select(LadderRung).where(LadderRung.application_id == records.application.id))
    return Measured(
        _elements(db, of),
        _timed(db, of),
        {of[f.application_id]["B"]: f for f in db.scalars(select(Fit).where(Fit.application_id.in_(of)))},
        _laid(db, of),
        _by_revision(of, {number: b.flows for number, b in read.items()}),
        _by_revision(of, {number: b.losses for number, b in read.items()}),
        {r.name: r for r in rungs},
        next((b.head for b in (read[records.application.id], *read.values()) if b.head is not None), None),
        records.vehicle.cylinders,
    )


Labels = Mapping[int, Mapping[str, int]]
"""Which revision A and B are, by dossier."""


def _elements(db: Session, of: Labels) -> dict[int, list[Element]]:
    query = select(Element).where(
        Element.application_id.in_(of), Element.out_reason == "", Element.belongs_to != "both"
    )
    found: dict[int, list[Element]] = {}
    for e in db.scalars(query.order_by(Element.id)):
        found.setdefault(of[e.application_id][e.belongs_to], []).append(e)
    return found


def _timed(db: Session, of: Labels) -> dict[int, list[WheelSheet]]:
    sheets = list(
        db.scalars(select(WheelSheet).where(WheelSheet.application_id.in_(of)).order_by(WheelSheet.id.desc()))
    )
    found: dict[int, list[WheelSheet]] = {}
    for sheet in timing.standing(sheets):
        if sheet.label:
            found.setdefault(of[sheet.application_id][sheet.label], []).append(sheet)
    return found


def _laid(db: Session, of: Labels) -> dict[int, FaceLay]:
    """The newest match of faces of each revision."""
    found: dict[int, FaceLay] = {}
    for lay in db.scalars(select(FaceLay).where(FaceLay.application_id.in_(of)).order_by(FaceLay.id)):
        label = next((f.belongs_to for f in (lay.upstream, lay.downstream) if f.belongs_to != "both"), "B")
        found[of[lay.application_id][label]] = lay
    return found


def _by_revision(of: Labels, read: Mapping[int, Mapping[str, Known]]) -> dict[int, Known]:
    """What the bench read by dossier and label, by the revision that the label stands for; the first dossier's counts."""
    found: dict[int, Known] = {}
    for number, labels in of.items():
        for label, revision in labels.items():
            if label in read[number]:
                found.setdefault(revision, read[number][label])
    return found


@dataclass(frozen=True)
class _Benched:
    """What the bench has read of a dossier's parts: flow alone and loss on the head by label, and the flow of the head alone."""

    flows: Mapping[str, Known]
    losses: Mapping[str, Known]
    head: tuple[float, str] | None


def _read_on_bench(db: Session, ids: Sequence[int]) -> dict[int, _Benched]:
    """What the bench has read, from the newest sessions of each dossier."""
    return {number: _benched(sessions_of(db, number)) for number in ids}


on_the_bench = Remembered(_read_on_bench, name="on the bench", kind=_Benched)
"""Kept by the stamp of each dossier: a table of twelve asks as many dossiers."""


def _benched(sessions: Sequence[BenchSession]) -> _Benched:
    flows: dict[str, Known] = {}
    losses: dict[str, Known] = {}
    head: tuple[float, str] | None = None
    for session in sessions:
        for row in stacks_of(session):
            where = f"{row.name}, {day(session.held_on)}"
            losses.setdefault(_label_of(row, session), Known(row.stack.steps[-1].loss.value, MEASURED, where))
        head = head or _head_alone(session)
        for trace in session.traces:
            if trace.kind == "fixed" and trace.label not in flows and (rows := reduce_trace(trace)):
                flow = rows[0.0].flow.value
                flows[trace.label] = Known(flow, MEASURED, f"{trace.title}, {day(session.held_on)}")
    return _Benched(flows, losses, head)


def _label_of(row: StackRow, session: BenchSession) -> str:
    return next((t.label for t in session.traces if t.title == row.name and t.label), "")


def _head_alone(session: BenchSession) -> tuple[float, str] | None:
    """Flow of the head alone at the highest lift that was read, with its words."""
    for trace in session.traces:
        if trace.kind == "sweep" and len(trace.pieces) == 1 and trace.pieces[0].startswith("head"):
            rows = reduce_trace(trace)
            if rows:
                top = max(rows)
                return rows[top].flow.value, f"measured: {trace.title} at {top * 1000:.1f} mm, {day(session.held_on)}"
    return None


def of_rung(rung: LadderRung) -> dict[str, Known]:
    words = dict(GRADES)
    found = {}
    for key, entry in rung.values.items():
        value = entry["value"]
        where = f"port ladder, {words[entry['grade']]}"
        found[key] = Known(value if isinstance(value, str) else float(value), _RUNG_GRADES[entry["grade"]], where)
    return {key: found[key] for key in ("needs", "power", "area") if key in found}


def of_revision(revision_id: int, family: str, kept: Measured) -> dict[str, Known]:
    """What was measured of a revision on this vehicle, by column."""
    found = _of_elements(kept.elements.get(revision_id, ()), family, kept.cylinders)
    fit = kept.fits.get(revision_id)
    if fit is not None and fit.minutes is not None:
        found["access"] = Known(fit.minutes, MEASURED, f"fitting, {fit.minutes_from or 'not said by whom'}")
    lay = kept.lays.get(revision_id)
    if lay is not None:
        found["lip"] = Known(lay.worst, MEASURED, f"faces laid over each other, {day(lay.taken_at.date())}")
        found["face"] = Known(_facing(lay), MEASURED, lay.audit_title)
    for name, source in (("flow", kept.flows), ("loss", kept.losses)):
        if revision_id in source:
            found[name] = source[revision_id]
    for sheet in kept.sheets.get(revision_id, ()):
        core = timing.core_sheet(sheet)
        for key, name in (("opens", "intake_opens"), ("closes", "intake_closes")):
            if family == "disc or crank" and (value := core.read(name)) is not None:
                found[key] = Known(value, MEASURED, f"degree wheel, {sheet.title}")
    allowed = {c.key for c in FAMILIES[family]}
    return {key: value for key, value in found.items() if key in allowed}


def _facing(lay: FaceLay) -> str:
    """Which way the step of a match faces."""
    if lay.worst <= port_faces.LIP_SEEN:
        return "no step against the flow"
    return f"{lay.upstream.name} stands into {lay.downstream.name}: against the flow"


def _of_elements(rows: Sequence[Element], family: str, cylinders: int) -> dict[str, Known]:
    """What its elements say, the first of a kind first; a plenum has as many stacks as runners, or as the engine has cylinders."""
    stacks = next((e.branches for e in rows if e.kind == RUNNER), cylinders)
    found: dict[str, Known] = {}
    for e in rows:
        found |= {key: value for key, value in _of_element(e, family, stacks).items() if key not in found}
    return found


def _of_element(e: Element, family: str, stacks: int) -> dict[str, Known]:
    rests, where = (NOMINAL if is_nominal(e) else MEASURED), f"{e.name}{f', {e.tool}' if e.tool else ''}"
    if e.kind == RUNNER and family == "manifold":
        section = section_of(e)
        values: dict[str, float | None] = {"area": section.area, "length": e.length}
        values |= {"section_width": e.width, "section_height": e.height}
        if e.exit_diameter:
            values["taper"] = section.area / exit_of(e).area
    elif e.kind == "plenum" and family == "manifold":
        figure = plenum_figure(e, stacks)
        values = {"plenum": figure.value if figure is not None else None}
    elif e.kind == "throttle" and family in ("throttle body", "carburettor"):
        values = {"bore": section_of(e).equal_area_diameter}
    else:
        values = {"height": None}
    return {key: Known(float(value), rests, where) for key, value in values.items() if value is not None}

"""Candidates of an application: filled from records where a part was measured on such a vehicle, and from what was typed."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session, selectinload

from longbreath.core.basis.errors import InputError
from longbreath.core.path import faces as port_faces
from longbreath.core.path.kinds import RUNNER
from longbreath.core.reckon.assess import Assessed, assess
from longbreath.core.reckon.candidates import FAMILIES, SHELF, Candidate, Column, family_of
from longbreath.core.reckon.rests import MEASURED, MEMORY, NOMINAL, SUPPLIER, Known
from longbreath.core.timing.port_ladder import GRADES
from longbreath.dossier.bench.curves import StackRow, stacks_of
from longbreath.dossier.bench.traces import reduce_trace, sessions_of
from longbreath.dossier.commands import put
from longbreath.dossier.naming import day
from longbreath.dossier.path.elements import exit_of, is_nominal, plenum_figure, section_of
from longbreath.dossier.reckon.records import Records
from longbreath.dossier.reckon.targets import limits_of, setting_of
from longbreath.dossier.timing import core_sheet
from longbreath.store.models import (
    Application,
    BenchSession,
    CandidatePart,
    Element,
    FaceLay,
    Fit,
    LadderRung,
    Revision,
    WheelSheet,
)
from longbreath.store.unit_of_work import UnitOfWork

_RUNG_GRADES = {"own": MEASURED, "supplier": SUPPLIER, "table": NOMINAL, "hearsay": MEMORY}


@dataclass(frozen=True)
class Row:
    """One candidate of the table: its record, what is known of it with where that comes from, and how it stands."""

    record: CandidatePart
    columns: tuple[Column, ...]
    assessed: Assessed

    @property
    def candidate(self) -> Candidate:
        """What is known of it."""
        return self.assessed.candidate


@dataclass(frozen=True)
class Sheet:
    """The candidates of one family beside each other, with the engine they are held against."""

    family: str
    columns: tuple[Column, ...]
    rows: tuple[Row, ...]


@dataclass(frozen=True)
class CandidateCard:
    """A candidate as it is typed: a revision of the library or a name, its family, values by column with what they rest on."""

    family: str
    position: int
    name: str = ""
    revision_id: int | None = None
    values: Mapping[str, dict[str, Any]] = ()  # type: ignore[assignment]


@dataclass(frozen=True)
class _Kept:
    """Everything that was measured of other dossiers on the same vehicle, by the revision it was measured of."""

    elements: Mapping[int, list[Element]]
    sheets: Mapping[int, list[WheelSheet]]
    fits: Mapping[int, Fit]
    lays: Mapping[int, FaceLay]
    flows: Mapping[int, Known]
    losses: Mapping[int, Known]
    rungs: Mapping[str, LadderRung]
    head: tuple[float, str] | None


def candidates_of(db: Session, application_id: int) -> list[CandidatePart]:
    """The candidates of an application in order, without those that were taken out."""
    query = select(CandidatePart).where(CandidatePart.application_id == application_id, CandidatePart.out_reason == "")
    query = query.options(selectinload(CandidatePart.revision).joinedload(Revision.product))
    return list(db.scalars(query.order_by(CandidatePart.position, CandidatePart.id)))


def sheets_of(db: Session, records: Records) -> list[Sheet]:
    """The candidates, family by family, each held against the target."""
    found = candidates_of(db, records.application.id)
    kept = _measured(db, records, found)
    limits, setting = limits_of(records), setting_of(records, kept.head)
    sheets = []
    for family in dict.fromkeys(c.family for c in found):
        rows = [
            Row(c, FAMILIES[family], assess(_candidate(c, kept), limits, setting)) for c in found if c.family == family
        ]
        used = tuple(c for c in FAMILIES[family] if c.made or any(c.key in r.candidate.values for r in rows))
        sheets.append(Sheet(family, used, tuple(rows)))
    return sheets


def _candidate(record: CandidatePart, kept: _Kept) -> Candidate:
    """What is known: measured on this vehicle, then what was typed, then what the library says of the product."""
    values = {key: _typed(entry) for key, entry in record.values.items()}
    revision = record.revision
    if revision is not None:
        product = revision.product
        if product.price is not None and "price" not in values:
            on = f", {day(product.price_on)}" if product.price_on else ""
            values["price"] = Known(product.price, SUPPLIER, f"the library{on}")
        if product.shelf and "shelf" not in values:
            values["shelf"] = Known(dict(SHELF)[product.shelf], NOMINAL, "the library")
        values |= _of_records(record.revision_id or 0, record.family, kept)
    rung = kept.rungs.get(record.name) if record.family == "porting step" else None
    if rung is not None:
        values = {**_of_rung(rung), **values}
    return Candidate(record.title, record.family, values)


def _typed(entry: Mapping[str, Any]) -> Known:
    value = entry["value"]
    return Known(value if isinstance(value, str) else float(value), entry["rests"], entry.get("where", ""))


def _of_rung(rung: LadderRung) -> dict[str, Known]:
    words = dict(GRADES)
    found = {}
    for key, entry in rung.values.items():
        value = entry["value"]
        where = f"port ladder, {words[entry['grade']]}"
        found[key] = Known(value if isinstance(value, str) else float(value), _RUNG_GRADES[entry["grade"]], where)
    return {key: found[key] for key in ("needs", "power", "area") if key in found}


def _of_records(revision_id: int, family: str, kept: _Kept) -> dict[str, Known]:
    """What was measured of a revision on this vehicle, by column."""
    found: dict[str, Known] = {}
    for e in kept.elements.get(revision_id, ()):
        found |= {key: value for key, value in _of_element(e, family).items() if key not in found}
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
        core = core_sheet(sheet)
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


def _of_element(e: Element, family: str) -> dict[str, Known]:
    rests, where = (NOMINAL if is_nominal(e) else MEASURED), f"{e.name}{f', {e.tool}' if e.tool else ''}"
    if e.kind == RUNNER and family == "manifold":
        section = section_of(e)
        values: dict[str, float | None] = {"area": section.area, "length": e.length}
        values |= {"section_width": e.width, "section_height": e.height}
        if e.exit_diameter:
            values["taper"] = section.area / exit_of(e).area
    elif e.kind == "plenum" and family == "manifold":
        figure = plenum_figure(e, 0)
        values = {"plenum": figure.value if figure is not None else None}
    elif e.kind == "throttle" and family in ("throttle body", "carburettor"):
        values = {"bore": section_of(e).equal_area_diameter}
    else:
        values = {"height": None}
    return {key: Known(float(value), rests, where) for key, value in values.items() if value is not None}


def _measured(db: Session, records: Records, found: Sequence[CandidatePart]) -> _Kept:
    """Gather what dossiers on this vehicle have measured of these revisions, in a few queries."""
    wanted = {c.revision_id for c in found if c.revision_id is not None}
    query = select(Application).where(Application.vehicle_id == records.vehicle.id)
    dossiers = [a for a in db.scalars(query.order_by(Application.id)) if {a.revision_id, a.stock_revision_id} & wanted]
    of = {a.id: {"B": a.revision_id, "A": a.stock_revision_id} for a in dossiers}
    elements: dict[int, list[Element]] = {}
    rows = db.scalars(
        select(Element)
        .where(Element.application_id.in_(of), Element.out_reason == "", Element.belongs_to != "both")
        .order_by(Element.id)
    )
    for e in rows:
        elements.setdefault(of[e.application_id][e.belongs_to], []).append(e)
    sheets: dict[int, list[WheelSheet]] = {}
    for sheet in db.scalars(select(WheelSheet).where(WheelSheet.application_id.in_(of)).order_by(WheelSheet.id)):
        if sheet.label:
            sheets.setdefault(of[sheet.application_id][sheet.label], []).append(sheet)
    fits = {of[f.application_id]["B"]: f for f in db.scalars(select(Fit).where(Fit.application_id.in_(of)))}
    lays: dict[int, FaceLay] = {}
    for lay in db.scalars(select(FaceLay).where(FaceLay.application_id.in_(of)).order_by(FaceLay.id)):
        label = next((f.belongs_to for f in (lay.upstream, lay.downstream) if f.belongs_to != "both"), "B")
        lays[of[lay.application_id][label]] = lay
    flows, losses, head = _on_the_bench(db, of, records.application.id)
    rungs = db.scalars(select(LadderRung).where(LadderRung.application_id == records.application.id))
    return _Kept(elements, sheets, fits, lays, flows, losses, {r.name: r for r in rungs}, head)


Benched = tuple[dict[int, Known], dict[int, Known], tuple[float, str] | None]


def _on_the_bench(db: Session, of: Mapping[int, Mapping[str, int]], own: int) -> Benched:
    """Flow of parts alone, loss of parts on the head, and the flow of the head alone, from the newest sessions of each dossier."""
    flows: dict[int, Known] = {}
    losses: dict[int, Known] = {}
    head: tuple[float, str] | None = None
    for number in dict.fromkeys((*of, own)):
        for session in sessions_of(db, number):
            for row in stacks_of(session) if number in of else ():
                label = _label_of(row, session)
                last = row.stack.steps[-1]
                if label and of[number][label] not in losses:
                    where = f"{row.name}, {day(session.held_on)}"
                    losses[of[number][label]] = Known(last.loss.value, MEASURED, where)
            head = head or _head_alone(session)
            for trace in session.traces:
                if number in of and trace.kind == "fixed" and trace.label and (rows := reduce_trace(trace)):
                    flow = rows[0.0].flow.value
                    flows.setdefault(
                        of[number][trace.label], Known(flow, MEASURED, f"{trace.title}, {day(session.held_on)}")
                    )
    return flows, losses, head


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


def save_candidate(
    work: UnitOfWork, application: Application, found: CandidatePart | None, card: CandidateCard
) -> CandidatePart:
    """Add or change a candidate. Raises InputError where it has no name, or a value its family has no column for."""
    revision = _revision_of(work, card)
    _check_values(card)
    taken = select(CandidatePart.id).where(
        CandidatePart.application_id == application.id,
        CandidatePart.out_reason == "",
        CandidatePart.revision_id == revision.id if revision is not None else CandidatePart.name == card.name,
    )
    if any(number != (found.id if found else None) for number in work.scalars(taken)):
        raise InputError("It is a candidate here already.", "revision_id" if revision is not None else "name")
    part = found or CandidatePart(application_id=application.id)
    put(part, card, values=dict(card.values), revision_id=revision.id if revision is not None else None)
    part.revision = revision
    work.add(part)
    work.flush()
    return part


def _revision_of(work: UnitOfWork, card: CandidateCard) -> Revision | None:
    revision = work.get(Revision, card.revision_id) if card.revision_id else None
    if card.revision_id and revision is None:
        raise InputError("There is no such part in the library.", "revision_id")
    if revision is None and not card.name.strip():
        raise InputError("Choose a part of the library, or write what it is called.", "name")
    return revision


def _check_values(card: CandidateCard) -> None:
    columns = {c.key for c in FAMILIES.get(card.family, ()) if not c.made}
    if not columns:
        raise InputError("Choose its family.", "family")
    for key, entry in card.values.items():
        if key not in columns:
            raise InputError("This family has no such column.", f"value_{key}")
        try:
            _typed(entry)
        except InputError as error:
            raise InputError(error.message, f"rests_{key}") from None


def take_out(work: UnitOfWork, part: CandidatePart, reason: str) -> None:
    """Take a candidate out of the table, with the reason; it stays in the record. Raises InputError without one."""
    if not reason.strip():
        raise InputError("Say why it is no candidate any more.", "reason")
    part.out_reason = reason
    work.flush()


def own_revisions(db: Session, application: Application) -> list[Revision]:
    """The revisions of the library that may be candidates: of the same side, the application's family first."""
    query = select(Revision).options(selectinload(Revision.product)).order_by(Revision.id)
    family = family_of(application.product.family)
    found = [r for r in db.scalars(query) if r.product.side == application.product.side]
    return sorted(found, key=lambda r: (family_of(r.product.family) != family, r.product.name))

"""What opens and closes, for a simulation case: bench curves and the degree wheel of a dossier."""

from __future__ import annotations

from collections.abc import Sequence
from math import asin, degrees, pi, sqrt

from sqlalchemy import select
from sqlalchemy.orm import Session

from longbreath.core.timing import wheel
from longbreath.dossier import timing
from longbreath.dossier.bench.traces import coefficients, gear_of, reduce_trace, traces_of
from longbreath.dossier.simulate.notes import Notes
from longbreath.formats.case_parts import BenchPoint, Disc, ExhaustValves, IntakeValves, PistonPorts, SidePorts
from longbreath.store.models import Application, BenchSession, Fixture, Trace, WheelSheet


def sheet_of(db: Session, application_id: int, kind: str, label: str, notes: Notes) -> WheelSheet | None:
    """The newest standing sheet of a kind: of the label asked for, else of neither, else A's, noting that it is A's."""
    sheets = [s for s in timing.standing(timing.sheets_of(db, application_id)) if s.kind == kind]
    for wanted in (label, "", "A"):
        for sheet in sheets:
            if sheet.label == wanted:
                if wanted not in (label, ""):
                    notes.assumes(f"{label} is timed as A is: “{sheet.title}” is the only sheet.")
                return sheet
    return None


def bench_trace(db: Session, application_id: int, direction: str, label: str) -> Trace | None:
    """The newest sweep with readings of a port in a direction: of the label asked for, else of the head alone, else of A."""
    query = (
        select(Trace.id, Trace.label)
        .join(BenchSession, BenchSession.id == Trace.session_id)
        .join(Fixture, Fixture.id == Trace.fixture_id)
        .where(BenchSession.application_id == application_id, Trace.kind == "sweep", Fixture.direction == direction)
        .where(Trace.readings.any())
        .order_by(BenchSession.held_on.desc(), Trace.id.desc())
    )
    found = db.execute(query).all()
    for wanted in (label, "", "A"):
        for trace_id, its in found:
            if its == wanted:
                return traces_of(db, [trace_id])[0]
    return None


def valves_of(
    db: Session, application_id: int, label: str, notes: Notes
) -> tuple[IntakeValves | None, ExhaustValves | None]:
    """The valves of a four-stroke with their lift, timing and coefficients; None, noting why, where they are not known."""
    sheet = sheet_of(db, application_id, "poppet", label, notes)
    if sheet is None:
        notes.lacks("Timing: a degree-wheel sheet of the poppet valves.")
    read = None if sheet is None else timing.core_sheet(sheet)
    lift = None if sheet is None else sheet.window.get("peak_lift")
    if sheet is not None and not lift:
        notes.lacks(f"Timing: the peak lift on the sheet “{sheet.title}”.")
    found = []
    for side in ("intake", "exhaust"):
        trace = bench_trace(db, application_id, side, label)
        sizes = _sizes(trace, side, notes)
        angles = _seat(read, side, lift, notes) if read is not None and lift else None
        found.append({**sizes, **angles, "lift_mm": lift * 1e3} if sizes and angles and lift else None)
    if all(found):
        notes.assumes("The exhaust valves lift as high as the intake valves; lift is a sine squared between its seats.")
    intake, exhaust = found
    return (
        None if intake is None else IntakeValves.model_validate(intake),
        None if exhaust is None else ExhaustValves.model_validate(exhaust),
    )


def _sizes(trace: Trace | None, side: str, notes: Notes) -> dict[str, object]:
    if trace is None:
        notes.lacks(f"Bench: a sweep over lift of the {side} port.")
        return {}
    gear = gear_of(trace)
    if gear is None:
        notes.lacks(f"Bench: the sizes of the {side} valves on the fixture of “{trace.title}”.")
        return {}
    found = coefficients(trace, reduce_trace(trace))
    points = [
        BenchPoint(lift_mm=lift * 1e3, cd_in=names["curtain"].value, cd_out=names["curtain"].value)
        for lift, names in sorted(found.items())
        if 0 < names["curtain"].value <= 1.2
    ]
    if not points:
        notes.lacks(f"Bench: readings of “{trace.title}” that count.")
        return {}
    if len(points) < len(found):
        notes.assumes(f"Lifts of “{trace.title}” with a coefficient above 1.2 are left out.")
    notes.assumes(f"The {side} port flows backward as it flows forward: the bench read one direction.")
    return {
        "count": gear.valves,
        "head_mm": gear.head * 1e3,
        "throat_mm": gear.throat * 1e3,
        "stem_mm": gear.stem * 1e3,
        "bench": points,
    }


def _seat(sheet: wheel.Sheet, side: str, lift: float, notes: Notes) -> dict[str, float] | None:
    """Angles at the seat [°, as a case names them], from those at the checking lift by a sine squared of `lift` [m]."""
    opens, closes = (sheet.read(f"{side}_{end}") for end in ("opens", "closes"))
    if opens is None or closes is None:
        notes.lacks(f"Timing: where the {side} valves open and close.")
        return None
    wider = 0.0
    if sheet.checking_lift:
        if sheet.checking_lift >= lift:
            notes.lacks("Timing: a checking lift that is less than the peak lift.")
            return None
        duration = wheel.opening(sheet, side).duration
        edge = asin(sqrt(sheet.checking_lift / lift)) / pi
        wider = duration * edge / (1.0 - 2.0 * edge)
        notes.assumes(
            f"The {side} valves leave their seat {degrees(wider):.0f}° before the checking lift, by a sine squared."
        )
    names = ("opens_before_tdc_deg", "closes_after_bdc_deg")
    if side == "exhaust":
        names = ("opens_before_bdc_deg", "closes_after_tdc_deg")
    return dict(zip(names, (degrees(opens + wider), degrees(closes + wider)), strict=True))


def side_ports(db: Session, application_id: int, label: str, notes: Notes) -> tuple[SidePorts | None, SidePorts | None]:
    """The ports of a rotary; the sheet knows the window of the intake port alone."""
    sheet = sheet_of(db, application_id, "rotary", label, notes)
    if sheet is None:
        notes.lacks("Timing: a degree-wheel sheet of the rotary's ports.")
        return None, None
    read = timing.core_sheet(sheet)
    area, ramp = sheet.window.get("area"), sheet.window.get("ramp")
    if not area or not ramp:
        notes.lacks(f"Timing: area and ramp of the intake port on the sheet “{sheet.title}”.")
    notes.lacks("Timing: the area of the exhaust port (a sheet has the intake's).")
    opens, closes = read.read("intake_opens"), read.read("intake_closes")
    if opens is None or closes is None:
        notes.lacks("Timing: where the intake port opens and closes.")
    if not area or not ramp or opens is None or closes is None:
        return None, None
    stroke = 1.5 * pi
    ports = SidePorts(
        opens_deg=degrees(opens), closes_deg=degrees(closes + stroke), ramp_deg=degrees(ramp), area_mm2=area * 1e6
    )
    return ports, None


def disc_of(db: Session, application: Application, label: str, notes: Notes) -> Disc | None:
    """The rotary disc of a two-stroke."""
    sheet = sheet_of(db, application.id, "disc", label, notes)
    if sheet is None:
        notes.lacks("Timing: a degree-wheel sheet of the disc.")
        return None
    read = timing.core_sheet(sheet)
    opens, closes = read.read("intake_opens"), read.read("intake_closes")
    span, area = sheet.window.get("span"), sheet.window.get("area")
    if opens is None or closes is None or not span or not area:
        notes.lacks(f"Timing: opening, closing, span and area of the window on the sheet “{sheet.title}”.")
        return None
    return Disc(
        opens_before_tdc_deg=degrees(opens),
        closes_after_tdc_deg=degrees(closes),
        window_deg=degrees(span),
        area_mm2=area * 1e6,
    )


def exhaust_window(db: Session, application: Application, label: str, notes: Notes) -> PistonPorts | None:
    """The exhaust window of a two-stroke's wall, open to bottom dead centre."""
    sheet = sheet_of(db, application.id, "piston", label, notes)
    if sheet is None:
        notes.lacks("Timing: a degree-wheel sheet of the ports in the wall.")
        return None
    depth, width = sheet.window.get("depth"), sheet.window.get("top_width")
    if not depth or not width:
        notes.lacks(f"Timing: height and width of the exhaust window on the sheet “{sheet.title}”.")
        return None
    widths: Sequence[float] = (width, sheet.window.get("bottom_width") or width)
    notes.assumes("The exhaust window reaches down to bottom dead centre, with its mean width.")
    height = (application.vehicle.stroke or 0.0) - depth
    return PistonPorts(depth_mm=depth * 1e3, height_mm=height * 1e3, width_mm=sum(widths) / 2 * 1e3)

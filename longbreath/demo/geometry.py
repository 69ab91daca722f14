"""Faces, fit, degree-wheel sheets, the port ladder, build sheets and a photo of the demo's applications."""

from __future__ import annotations

import io
from datetime import date

from PIL import Image, ImageDraw

from longbreath.core.bench.traverse import face_of
from longbreath.core.path.faces import Place
from longbreath.demo.days import work_day
from longbreath.demo.parts import q
from longbreath.demo.wheel import degrees
from longbreath.dossier import attachments, timing
from longbreath.dossier import build as builds
from longbreath.dossier.path import faces as path_faces
from longbreath.dossier.path import fit
from longbreath.dossier.path import verbs as path_verbs
from longbreath.dossier.path.elements import elements_of
from longbreath.store.models import Application, Face
from longbreath.store.unit_of_work import UnitOfWork

GANNET_STATE = "as cast, runners hand-finished"
"""In which the Gannet was tested and is sold."""


def _mm(text: str) -> float:
    return q(text, "length")


def gannet(db: UnitOfWork, application: Application) -> None:
    """Readings with ovality, two faces that do not quite meet, a fit with one close place, and the cam's timing."""
    work_day(db, date(2026, 4, 8))
    squashed = next(e for e in elements_of(db, application.id) if e.name == "tube under the latch")
    readings = path_verbs.SizeReadings(
        "minor_outside",
        "calliper",
        0.0001,
        [(_mm("50.6 mm"), "front"), (_mm("50.2 mm"), "middle"), (_mm("50.7 mm"), "rear")],
    )
    path_verbs.add_readings(db, squashed, readings)
    primary = next(e for e in elements_of(db, application.id) if e.kind == "primary")
    readings = path_verbs.SizeReadings(
        "diameter",
        "bore gauge",
        0.00005,
        [(_mm("38.31 mm"), "0°"), (_mm("38.12 mm"), "60°"), (_mm("38.17 mm"), "120°")],
    )
    path_verbs.add_readings(db, primary, readings)
    manifold = _face(db, application, "Gannet, face of cylinder 2", "B", ("45.6 mm", "33.4 mm", "9 mm"), "4.6 mm")
    _face(db, application, "stock manifold, face of cylinder 2", "A", ("46.2 mm", "33.8 mm", "9 mm"), "3.9 mm")
    head = _face(db, application, "Heron head, cylinder 2", "both", ("46.0 mm", "33.6 mm", "9 mm"), "4.4 mm")
    path_faces.keep_lay(
        db,
        application,
        manifold,
        head,
        Place(_mm("1.1 mm"), _mm("0.4 mm")),
        "dowels of the prototype stand 1.1 mm to the right",
    )
    photo = attachments.NewAttachment(
        "face", head.id, "head-cylinder-2.png", port_photo(), "face of cylinder 2 beside a ruler"
    )
    attachments.hang(db, application, photo)
    card = fit.FitCard(
        minutes=q("165 min", "minutes"),
        minutes_from="timed by Mara on the shop Heron",
        drained="coolant to below the throttle",
        removed="air box, fuel rail, throttle body, wiring bracket",
        wall=_mm("3.4 mm"),
        wall_limit=_mm("3 mm"),
        done=("deburr", "plugs", "bosses", "sealant"),
    )
    fit.save_fit(db, application, None, card)
    for place, gap, state, note in (
        ("bonnet", "14 mm", "clear", "plasticine on the plenum, bonnet shut once"),
        ("strut bar", "6 mm", "clear", "engine rocked by hand: no touch"),
        ("fuel rail", "11 mm", "clear", ""),
        ("firewall", "38 mm", "clear", ""),
    ):
        fit.add_spot(db, application, fit.SpotCard(place, state, _mm(gap), note))
    work_day(db, date(2026, 4, 9))
    cams = timing.WheelCard(
        title="Heron stock cams",
        label="A",
        kind="poppet",
        held_on=date(2026, 4, 9),
        readings=degrees(intake_opens=3, intake_closes=41, exhaust_opens=44, exhaust_closes=2),
        totals=degrees(intake=224, exhaust=226),
        window={
            "valves": 2,
            "valve_diameter": _mm("33 mm"),
            "throat_diameter": _mm("29 mm"),
            "stem_diameter": _mm("5.5 mm"),
            "peak_lift": _mm("10.2 mm"),
        },
        stop_before=q("22 °", "angle"),
        stop_after=q("22.5 °", "angle"),
        checking_lift=_mm("1 mm"),
        note="cold, lash set",
    )
    timing.add_sheet(db, application, cams)


def _face(db: UnitOfWork, application: Application, name: str, of: str, sizes: tuple[str, str, str], wall: str) -> Face:
    given = dict(zip(("width", "height", "corner_radius"), (_mm(text) for text in sizes), strict=True))
    card = path_faces.FaceCard(
        name=name,
        belongs_to=of,
        shape="rounded_rectangle",
        sizes=given,
        wall=_mm(wall),
        wall_limit=_mm("3 mm"),
        tool="calliper and radius gauge",
        precision=_mm("0.1 mm"),
    )
    return path_faces.save_face(db, application, None, face_of("rounded_rectangle", given), card)


PIXELS_PER_MM = 12


def port_photo() -> bytes:
    """A drawn stand-in for a photo: a port in a gasket face beside a 60 mm ruler, square on, 12 pixels a millimetre."""
    image = Image.new("RGB", (1000, 760), (172, 170, 164))
    pen = ImageDraw.Draw(image)
    width, height, radius = (round(v * PIXELS_PER_MM) for v in (46.0, 33.6, 9.0))
    left, top = 200, 90
    pen.rounded_rectangle(
        (left, top, left + width, top + height), radius, fill=(34, 33, 32), outline=(214, 212, 206), width=3
    )
    for x, y in ((120, 120), (840, 470)):
        pen.ellipse((x - 34, y - 34, x + 34, y + 34), fill=(60, 59, 57), outline=(214, 212, 206), width=3)
    pen.rectangle((120, 620, 120 + 64 * PIXELS_PER_MM, 700), fill=(226, 222, 206))
    for mm in range(61):
        x = 140 + mm * PIXELS_PER_MM
        pen.line((x, 620, x, 620 + (44 if mm % 10 == 0 else 30 if mm % 5 == 0 else 18)), fill=(30, 30, 30), width=2)
        if mm % 10 == 0:
            pen.text((x - 6, 668), str(mm), fill=(30, 30, 30))
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()


SHOP_HERON = "the shop’s Heron, mark 41 on the strut tower"
STOCK_BUILD = {
    "vehicle": SHOP_HERON,
    "part_state": "as delivered",
    "machining": "as delivered",
    "coating": "none",
    "adapters": "none",
    "gaskets": "stock, new",
    "short_block": "stock, 84.6 × 88.8 mm",
    "compression": "11.2:1",
    "heads": "stock casting",
    "porting": "untouched",
    "cam": "stock, checked at 1 mm",
    "pan": "stock pan",
    "exhaust": "stock",
    "tune": "H20-stock-7",
    "tune_author": "the shop",
    "injectors": "stock, 280 cm³/min at 3 bar",
    "sensors": "manifold 0.2 to 1.1 bar absolute",
    "gearbox": "6-speed, 4th",
    "converter": "clutch",
    "axle": "4.10",
    "tyres": "205/50, 2.4 bar",
    "accessories": "alternator, no air conditioning",
}


def gannet_builds(db: UnitOfWork, application: Application, day: date) -> None:
    """The day that went well: nothing but the manifold differs between A and B."""
    same = {**STOCK_BUILD, "fuel": "98, delivery of 2 May", "bonnet": "shut, fan on", "health": "leak-down 4 to 6 %"}
    a = {**same, "part": "stock manifold", "pulls_since_build": "31"}
    b = {
        **same,
        "part": "Gannet rev C",
        "part_state": GANNET_STATE,
        "machining": "flanges faced, throttle bore turned",
        "serial": "GL-0031",
        "pulls_since_build": "34",
    }
    builds.add_sheet(db, application, builds.BuildCard(a, day, "shop Heron, stock manifold", "A"))
    builds.add_sheet(db, application, builds.BuildCard(b, day, "shop Heron, Gannet", "B"))


def petrel(db: UnitOfWork, application: Application) -> None:
    """The day that went wrong: bonnet, fuel delivery and a fading coil differ between A and B beside the throttle body."""
    a = {
        **STOCK_BUILD,
        "part": "stock throttle body",
        "fuel": "98, delivery of 12 September",
        "bonnet": "open, fan on",
        "health": "leak-down 4 to 6 %",
        "pulls_since_build": "61",
    }
    b = {
        **STOCK_BUILD,
        "part": "Petrel rev A",
        "serial": "P66-002",
        "part_state": "machined",
        "aliases": "66 mm prototype, TB66",
        "fuel": "98, delivery of 24 September",
        "bonnet": "open, fan on",
        "health": "leak-down 4 to 6 %",
        "pulls_since_build": "67",
    }
    day = date(2026, 9, 24)
    work_day(db, day)
    builds.add_sheet(db, application, builds.BuildCard(a, day, "shop Heron, stock throttle", "A"))
    first = builds.add_sheet(db, application, builds.BuildCard(b, day, "shop Heron, Petrel", "B"))
    worse = {**b, "bonnet": "shut, fan on", "health": "coil of cylinder 3 fading: misfires in the last three pulls"}
    next_day = date(2026, 9, 25)
    work_day(db, next_day)
    why = "bonnet found shut; coil found afterwards in the log"
    builds.add_sheet(db, application, builds.BuildCard(worse, next_day, label="B", why=why), first)

"""Faces, fit, timing, the ladder, build sheets, headroom and attachments, through their pages."""

from __future__ import annotations

import io
import json
from types import SimpleNamespace
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from longbreath.core.bench.traverse import rectangle_face
from longbreath.formats.outline import read as read_outline
from longbreath.formats.outline import write_dxf, write_svg
from longbreath.store.models import Attachment, BuildSheet, Face, FaceLay, FitSpot, LadderRung, WheelSheet
from tests.conftest import errors_of, read, send
from tests.made.pictures import PIXELS_PER_MM, port_photo

FACE = {
    "belongs_to": "both",
    "shape": "rounded_rectangle",
    "width": "46 mm",
    "height": "33.6 mm",
    "corner_radius": "9 mm",
    "wall": "4.4 mm",
    "wall_limit": "3 mm",
    "tool": "calliper",
    "precision": "0.1 mm",
    "provenance": "measured",
}


@pytest.fixture
def base(shop: SimpleNamespace) -> str:
    """The address of Measure."""
    return f"/applications/{shop.application.id}/measure"


def take_faces(client: FlaskClient, base: str, db: Session) -> tuple[int, int]:
    for name, width in (("manifold", "45.6 mm"), ("head", "46 mm")):
        assert client.post(f"{base}/faces/new", data={**FACE, "name": name, "width": width}).status_code == 302
    manifold, head = db.scalars(select(Face.id).order_by(Face.id)).all()
    return manifold, head


def test_two_faces_are_laid_over_each_other_judged_and_kept(tester: FlaskClient, base: str, db: Session) -> None:
    assert "none is" in read(tester.get(f"{base}/faces")).select_one("h1").text
    manifold, head = take_faces(tester, base, db)
    query = {"upstream": manifold, "downstream": head, "right": "1.1 mm", "up": "0.4 mm"}
    page = read(tester.get(f"{base}/faces", query_string=query))
    assert page.select_one("h1").text.startswith("Re-machine. An edge of 0.039")
    assert page.select_one(".overlay .stands")
    assert {row.select_one("td").text: row.select("td")[2].text for row in page.select(".two-one .table tbody tr")}[
        "left"
    ] == "against the flow"
    kept = tester.post(f"{base}/faces/lay", data={**query, "note": "dowels"}, follow_redirects=True)
    assert "Kept: re-machine." in kept.text
    lay = db.scalars(select(FaceLay)).one()
    assert (lay.judgement, lay.note) == ("re-machine", "dowels")
    assert "0.043" in str(
        read(tester.get(f"{base}/faces")).select_one("[name=right]")
    )  # the last one kept comes up again


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"right": "90 mm"}, "share nothing"),
        ({"right": "far"}, "far"),
        ({"plates": "thick"}, "thick"),
        ({"plates": "12 mm", "angle": "88"}, "cannot be more"),
    ],
)
def test_a_lay_that_cannot_be_is_said(
    tester: FlaskClient, base: str, db: Session, change: dict[str, str], words: str
) -> None:
    a, b = take_faces(tester, base, db)
    answer = tester.get(f"{base}/faces", query_string={"upstream": a, "downstream": b, **change})
    assert answer.status_code == 422
    assert words in errors_of(answer)
    assert tester.post(f"{base}/faces/lay", data={"upstream": a, "downstream": b, "right": "90 mm"}).status_code == 422


def test_plates_shift_the_ports(tester: FlaskClient, base: str, db: Session) -> None:
    a, b = take_faces(tester, base, db)
    query = {"upstream": a, "downstream": b, "plates": "10 mm + 2 mm", "layout": "v", "angle": "45"}
    page = read(tester.get(f"{base}/faces", query_string=query))
    assert "Ports shift along the face by 0.472 in" in " ".join(page.text.split())


@pytest.mark.parametrize("kind", ["svg", "dxf", "csv"])
def test_outlines_go_out_and_come_back(tester: FlaskClient, base: str, db: Session, kind: str) -> None:
    a, _ = take_faces(tester, base, db)
    sent = tester.get(f"{base}/faces/{a}/outline.{kind}").data
    form = {**FACE, "name": "again", "shape": "outline", "file": (io.BytesIO(sent), f"port.{kind}")}
    assert tester.post(f"{base}/faces/new", data=form).status_code == 302
    again = db.scalars(select(Face).order_by(Face.id.desc())).first()
    assert again is not None
    assert again.came_from == f"port.{kind}"
    assert len(again.points) == len(rectangle_face(0.0456, 0.0336, 0.009))
    assert tester.get(f"{base}/faces/{a}/outline.step").status_code == 404


FACES_REFUSED = [
    ({"name": ""}, "name"),
    ({"width": ""}, "width"),
    ({"corner_radius": "20 mm"}, "corner_radius"),
    ({"tool": ""}, "tool"),
    ({"shape": "outline", "outline": "0 0\n1 1"}, "outline"),
    ({"shape": "outline", "outline": "0, 0\nx"}, "outline"),
    ({"shape": "outline", "file": (io.BytesIO(b"junk"), "p.dxf")}, "file"),
    ({"shape": "d", "height": "5 mm"}, "height"),
]


@pytest.mark.parametrize(("change", "field"), FACES_REFUSED, ids=range(len(FACES_REFUSED)))
def test_a_face_that_cannot_be_is_refused_beside_its_field(
    tester: FlaskClient, base: str, change: dict[str, Any], field: str
) -> None:
    if isinstance(sent := change.get("file"), tuple):
        change = {**change, "file": (io.BytesIO(b"junk"), sent[1])}
    answer = tester.post(f"{base}/faces/new", data={**FACE, "name": "x", **change})
    assert answer.status_code == 422
    assert read(answer).select_one(f"#{field}-error")


def test_a_face_is_changed_and_keeps_its_outline_when_no_new_one_comes(
    tester: FlaskClient, base: str, db: Session
) -> None:
    form = {**FACE, "name": "traced", "shape": "outline", "outline": "0, 0\n40, 0\n40, 30\n0, 30"}
    tester.post(f"{base}/faces/new", data=form)
    face = db.scalars(select(Face)).one()
    page = read(tester.get(f"{base}/faces/{face.id}"))
    version = page.select_one("[name=version]")["value"]
    assert (
        tester.post(
            f"{base}/faces/{face.id}", data={**form, "outline": "", "wall": "5 mm", "version": version}
        ).status_code
        == 302
    )
    db.expire_all()
    assert len(face.points) == 4
    assert face.wall == pytest.approx(0.005)


def hang(
    client: FlaskClient,
    shop: SimpleNamespace,
    kind: str,
    key: int,
    data: bytes,
    name: str = "p.png",
    caption: str = "port",
) -> Any:
    return client.post(
        f"/applications/{shop.application.id}/attachments/{kind}/{key}",
        data={"file": (io.BytesIO(data), name), "caption": caption, "back": "/applications"},
    )


def test_a_face_is_traced_on_a_photo(tester: FlaskClient, base: str, shop: SimpleNamespace, db: Session) -> None:
    assert "No photo hangs" in tester.get(f"{base}/faces/trace").text
    a, _ = take_faces(tester, base, db)
    assert hang(tester, shop, "face", a, port_photo()).status_code == 302
    photo = db.scalars(select(Attachment)).one()
    left, top, wide, high = 200, 90, 46 * PIXELS_PER_MM, 33.6 * PIXELS_PER_MM
    rim = [[left, top], [left + wide, top], [left + wide, top + high], [left, top + high]]
    form = {
        "photo_id": photo.id,
        "name": "traced",
        "belongs_to": "both",
        "distance": "60 mm",
        "wall_limit": "3 mm",
        "picked": json.dumps(rim),
        "scaled": json.dumps([[140, 640], [140 + 60 * PIXELS_PER_MM, 640]]),
    }
    assert tester.post(f"{base}/faces/trace", data=form).status_code == 302
    face = db.scalars(select(Face).where(Face.name == "traced")).one()
    xs, ys = [x for x, _ in face.points], [y for _, y in face.points]
    assert max(xs) - min(xs) == pytest.approx(0.046)
    assert max(ys) - min(ys) == pytest.approx(0.0336)
    for change, words in (
        ({"scaled": "[]"}, "two scale points"),
        ({"picked": "[[1,2]]"}, "three points"),
        ({"picked": "junk"}, "pick again"),
        ({"picked": "[[0,0],[9,9],[9,0],[0,9]]"}, "crosses itself"),
        ({"scaled": "[[1,1],[2,2]]"}, "further apart"),
    ):
        answer = tester.post(f"{base}/faces/trace", data={**form, **change})
        assert answer.status_code == 422
        assert words in errors_of(answer)


def test_the_fit_register(tester: FlaskClient, base: str, db: Session) -> None:
    assert read(tester.get(f"{base}/fit")).select_one("h1").text.startswith("Not checked")
    spot = {"place": "bonnet", "gap": "14 mm", "state": "clear", "note": ""}
    assert tester.post(f"{base}/fit/spots", data=spot).status_code == 302
    assert read(tester.get(f"{base}/fit")).select_one("h1").text == "Fits."
    tester.post(f"{base}/fit/spots", data={**spot, "place": "Bonnet", "state": "touches"})
    assert read(tester.get(f"{base}/fit")).select_one("h1").text == "Does not fit yet: Bonnet: touches."
    assert db.scalar(select(func.count(FitSpot.id))) == 2
    form = {
        "minutes": "2 h",
        "minutes_from": "timed",
        "drained": "coolant",
        "removed": "rail",
        "wall": "3.4 mm",
        "wall_limit": "3 mm",
        "done": ["deburr", "leak"],
        "note": "",
    }
    assert tester.post(f"{base}/fit/change", data=form).status_code == 302
    page = read(tester.get(f"{base}/fit"))
    assert "120 min" in page.text.replace("\u00a0", " ")
    assert len(page.select(".ticks .is-done")) == 2
    assert read(tester.post(f"{base}/fit/spots", data={"place": "", "state": "clear"})).select_one("#place-error")
    assert tester.post(f"{base}/fit/change", data={**form, "minutes": "soon"}).status_code == 422


DISC = {
    "title": "disc",
    "label": "B",
    "held_on": "2026-07-03",
    "read_intake_opens": "145",
    "read_intake_closes": "65",
    "total_intake": "200",
}


def test_a_timing_that_does_not_add_up_is_kept_only_on_purpose(tester: FlaskClient, base: str, db: Session) -> None:
    answer = tester.post(f"{base}/timing/new?kind=disc", data=DISC)
    assert answer.status_code == 422
    page = read(answer)
    assert "10.0° too much" in page.select_one("#total_intake-error").text
    assert page.select_one("[name=as_read]")
    assert page.select_one("#read_intake_opens")["value"] == "145"
    assert tester.post(f"{base}/timing/new?kind=disc", data={**DISC, "as_read": "y"}).status_code == 302
    assert "does not add up" in read(tester.get(f"{base}/timing")).select_one("h1").text
    first = db.scalars(select(WheelSheet)).one()
    again = {**DISC, "read_intake_opens": "135", "stop_before": "28", "stop_after": "28"}
    assert read(tester.post(f"{base}/timing/{first.id}/again", data=again)).select_one("#why-error")
    assert tester.post(f"{base}/timing/{first.id}/again", data={**again, "why": "by a stop"}).status_code == 302
    page = read(tester.get(f"{base}/timing"))
    assert page.select_one("h1").text == "disc"
    assert "read again since" in page.text
    assert "read again since: by a stop" in read(tester.get(f"{base}/timing/{first.id}")).text


def test_two_timings_over_each_other_say_what_differs(tester: FlaskClient, base: str) -> None:
    cams = {
        "title": "stock cam",
        "label": "A",
        "held_on": "2026-07-03",
        "checking_lift": "1 mm",
        "read_intake_opens": "3",
        "read_intake_closes": "41",
        "read_exhaust_opens": "44",
        "read_exhaust_closes": "2",
        "window_valves": "2",
        "window_valve_diameter": "33 mm",
        "window_throat_diameter": "29 mm",
        "window_peak_lift": "10.2 mm",
    }
    assert tester.post(f"{base}/timing/new?kind=poppet", data=cams).status_code == 302
    other = {**cams, "title": "long cam", "label": "B", "read_intake_opens": "8", "read_intake_closes": "52"}
    assert tester.post(f"{base}/timing/new?kind=poppet", data=other).status_code == 302
    page = read(tester.get(f"{base}/timing"))
    assert (
        page.select_one("h1").text == "Long cam: intake opens 5.0° earlier, intake closes 11.0° later than stock cam."
    )
    assert len(page.select(".wheel .arc")) == 4
    assert "Specific time-area" in page.text
    assert "Overlap" in page.text
    assert tester.get(f"{base}/timing?speed=fast").status_code == 422
    assert tester.get(f"{base}/timing?speed=9000+rpm").status_code == 200


@pytest.mark.parametrize(
    ("kind", "form", "field"),
    [
        ("disc", {"read_intake_closes": ""}, "read_intake_opens"),
        ("disc", {"stop_before": "20"}, "stop_after"),
        ("disc", {"read_intake_opens": "lots"}, "read_intake_opens"),
        ("disc", {"read_intake_opens": "-80", "total_intake": ""}, "read_intake_closes"),
        ("disc", {"held_on": "soon"}, "held_on"),
        ("piston", {"read_exhaust_opens": "90", "read_exhaust_closes": "80"}, "read_exhaust_closes"),
        ("poppet", {}, "checking_lift"),
    ],
)
def test_a_sheet_that_cannot_be_is_refused_beside_its_field(
    tester: FlaskClient, base: str, kind: str, form: dict[str, str], field: str
) -> None:
    answer = tester.post(f"{base}/timing/new?kind={kind}", data={**DISC, **form})
    assert answer.status_code == 422
    assert read(answer).select_one(f"#{field}-error")
    assert tester.get(f"{base}/timing/new?kind=clock").status_code == 404


@pytest.mark.parametrize(
    ("kind", "form", "words"),
    [
        (
            "disc",
            {"total_intake": "210", "window_area": "640 mm2", "window_span": "46", "window_inlet_length": "84 mm"},
            "closes late",
        ),
        (
            "piston",
            {
                "read_exhaust_opens": "87",
                "read_exhaust_closes": "87",
                "window_depth": "29 mm",
                "window_top_width": "38 mm",
                "window_rod": "141 mm",
            },
            "Mean area",
        ),
        (
            "rotary",
            {
                "read_intake_opens": "32",
                "read_intake_closes": "40",
                "total_intake": "",
                "window_area": "1190 mm2",
                "window_ramp": "38",
            },
            "Time-area",
        ),
        (
            "rotary",
            {
                "read_intake_opens": "32",
                "read_intake_closes": "40",
                "total_intake": "",
                "window_area": "1190 mm2",
                "window_ramp": "300",
            },
            "negative",
        ),
    ],
)
def test_time_area_and_closing_of_every_kind(
    tester: FlaskClient, base: str, kind: str, form: dict[str, str], words: str
) -> None:
    sent = {
        k: v
        for k, v in {**DISC, **form}.items()
        if kind in ("disc", "rotary") or not k.startswith(("read_intake", "total_intake"))
    }
    assert tester.post(f"{base}/timing/new?kind={kind}", data=sent).status_code == 302
    assert words in tester.get(f"{base}/timing").text


def rung(**values: str) -> dict[str, str]:
    grades = {
        f"grade_{key}": "own"
        for key in (
            "area",
            "opens",
            "closes",
            "power",
            "speed_from",
            "speed_to",
            "idle",
            "fuel",
            "noise",
            "life",
            "cost",
            "legality",
            "needs",
        )
    }
    return {"name": "stock", "position": "1", **grades, **values}


def test_the_ladder_shows_what_each_figure_rests_on(tester: FlaskClient, base: str, db: Session) -> None:
    assert tester.post(f"{base}/timing/ladder/new", data=rung(value_power="172 kW")).status_code == 302
    other = rung(
        name="bridge", position="2", value_power="264 kW", grade_power="hearsay", value_cost="1450", value_noise="+5 dB"
    )
    assert tester.post(f"{base}/timing/ladder/new", data=other).status_code == 302
    page = read(tester.get(f"{base}/timing/ladder"))
    assert "informs only" in page.text
    assert "+53 %" in " ".join(page.text.split())
    assert page.select_one(".grade-hearsay")
    found = db.scalars(select(LadderRung).where(LadderRung.name == "bridge")).one()
    form = read(tester.get(f"{base}/timing/ladder/{found.id}"))
    assert form.select_one("#value_noise")["value"] == "+5 dB"
    answer = tester.post(f"{base}/timing/ladder/new", data=rung(value_speed_from="8000 rpm", value_speed_to="6000 rpm"))
    assert read(answer).select_one("#value_speed_to-error")


def test_build_sheets_have_versions_and_say_whether_they_may_be_compared(
    tester: FlaskClient, base: str, db: Session
) -> None:
    form = {
        "title": "shop car, stock",
        "label": "A",
        "held_on": "2026-09-24",
        "line_part": "stock",
        "line_fuel": "98, old",
        "line_cam": "stock",
    }
    assert tester.post(f"{base}/builds/new", data=form).status_code == 302
    assert "second makes a comparison" in tester.get(f"{base}/builds").text
    b = {**form, "title": "shop car, Petrel", "label": "B", "line_part": "Petrel"}
    assert tester.post(f"{base}/builds/new", data=b).status_code == 302
    assert read(tester.get(f"{base}/builds")).select_one("h1").text.startswith("Comparable. Nothing beside the part")
    kept = db.scalars(select(BuildSheet).where(BuildSheet.label == "B")).one()
    worse = {**b, "line_fuel": "98, new", "why": "new delivery"}
    assert read(tester.post(f"{base}/builds/{kept.id}/next", data={**worse, "why": ""})).select_one("#why-error")
    assert tester.post(f"{base}/builds/{kept.id}/next", data=worse).status_code == 302
    page = read(tester.get(f"{base}/builds"))
    assert page.select_one("h1").text.startswith("Comparable with corrections. Beside the part, fuel and batch differs")
    assert "measure this change alone" in page.select_one(".is-correct").text
    assert (
        "version 2" in tester.get(f"{base}/builds/{kept.id}").text
        or "versions" in tester.get(f"{base}/builds/{kept.id}").text
    )
    assert read(tester.post(f"{base}/builds/new", data=form)).select_one("#title-error")
    assert (
        tester.post(f"{base}/builds/new", data={"title": "empty", "label": "", "held_on": "2026-09-24"}).status_code
        == 422
    )


def test_headroom_answers_what_was_asked(tester: FlaskClient, base: str) -> None:
    asked = {
        "top": "2 bar",
        "altitude": "0 m",
        "boost": "12 psi",
        "power": "160 kW",
        "speed": "6000 rpm",
        "injectors": "4",
        "rated": "0.28 L/min",
        "duty": "62 %",
        "spring": "7 psi",
    }
    text = " ".join(read(tester.get(f"{base}/builds/headroom", query_string=asked)).text.split())
    assert "Highest boost it can show here 14.3 psi" in text
    assert "Injector duty 94 %" in text
    assert "Duty left +28 %" in text
    answer = tester.get(f"{base}/builds/headroom", query_string={"top": "2 bar"})
    assert read(answer).select_one("#altitude-error")
    assert tester.get(f"{base}/builds/headroom").status_code == 200


def test_attachments_are_kept_as_received_served_safely_and_put_away(
    tester: FlaskClient, base: str, shop: SimpleNamespace, db: Session
) -> None:
    face, _ = take_faces(tester, base, db)
    assert hang(tester, shop, "face", face, port_photo(), "../../etc/port photo.png").status_code == 302
    assert hang(tester, shop, "face", face, b"%PDF-1.4 x", "card.pdf", "").status_code == 302
    photo, document = db.scalars(select(Attachment).order_by(Attachment.id)).all()
    assert photo.filename == "port photo.png"
    assert photo.data == port_photo()
    address = f"/applications/{shop.application.id}/attachments"
    answer = tester.get(f"{address}/{photo.id}")
    assert answer.data == port_photo()
    assert answer.headers["X-Content-Type-Options"] == "nosniff"
    assert answer.headers["Content-Security-Policy"].startswith("default-src 'none'")
    assert tester.get(f"{address}/{photo.id}/thumbnail").mimetype == "image/jpeg"
    assert tester.get(f"{address}/{document.id}").headers["Content-Disposition"].startswith("attachment")
    assert tester.get(f"{address}/{document.id}/thumbnail").status_code == 404
    assert "port" in read(tester.get(f"{base}/faces/{face}")).select_one(".attached").text
    assert read(send(tester, f"{address}/{photo.id}/put-away", {"reason": ""})).select_one("#reason-error")
    assert send(tester, f"{address}/{photo.id}/put-away", {"reason": "blurred"}).status_code == 302
    assert "port photo" not in str(read(tester.get(f"{base}/faces/{face}")).select_one(".attached"))
    assert db.get(Attachment, photo.id) is not None


@pytest.mark.parametrize(
    ("kind", "data", "status"),
    [("face", b"MZ", 422), ("face", b"", 422), ("user_account", b"%PDF-", 404), ("nothing", b"%PDF-", 404)],
)
def test_what_may_not_hang_is_refused(
    tester: FlaskClient, base: str, shop: SimpleNamespace, db: Session, kind: str, data: bytes, status: int
) -> None:
    face, _ = take_faces(tester, base, db)
    assert hang(tester, shop, kind, face, data, "a.pdf").status_code == status
    assert hang(tester, shop, "face", 99999, b"%PDF-", "a.pdf").status_code == 404
    assert hang(tester, shop, "face", face, b"%PDF-", "a.pdf").status_code == 302
    assert hang(tester, shop, "face", face, b"%PDF-", "b.pdf").status_code == 422  # the same again


def test_photos_hang_on_sessions_too(tester: FlaskClient, base: str, shop: SimpleNamespace) -> None:
    assert hang(tester, shop, "bench_session", shop.session.id, port_photo()).status_code == 302
    assert "port" in read(tester.get(f"{base}/sessions/{shop.session.id}")).select_one(".attached").text


@pytest.mark.parametrize("write", [write_svg, write_dxf])
def test_a_traced_face_makes_an_element(tester: FlaskClient, base: str, db: Session, write: Any) -> None:
    data = write(rectangle_face(0.046, 0.034, 0.009))
    assert len(read_outline(f"p.{'svg' if write is write_svg else 'dxf'}", data)) > 20
    face, _ = take_faces(tester, base, db)
    form = {
        "kind": "port",
        "name": "traced port",
        "side": "intake",
        "belongs_to": "both",
        "position": "9",
        "length": "90 mm",
        "branches": "4",
        "shape": "outline",
        "face_id": str(face),
        "given_as": "inside",
        "tool": "scan",
        "provenance": "measured",
        "wall_surface": "cast",
    }
    assert tester.post(f"{base}/path/elements/new", data=form).status_code == 302
    assert "traced port" in tester.get(f"{base}/path").text

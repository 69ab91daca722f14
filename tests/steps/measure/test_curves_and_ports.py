"""What curves say, stacks, fixed parts, velocity maps, the porting log, and the bench's card."""

from __future__ import annotations

from collections.abc import Callable
from types import SimpleNamespace
from typing import Any

import pytest
from flask.testing import FlaskClient
from sqlalchemy import select

from longbreath.core.basis.errors import InputError
from longbreath.core.basis.units import from_unit
from longbreath.dossier import library
from longbreath.dossier.bench import verbs as bench_verbs
from longbreath.store.models import Bench, Calibration, InstrumentAddress, PortingJob, Trace, Traverse, TraversePoint
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.conftest import errors_of, read
from tests.steps.tools import base, capture

CFM = from_unit(1.0, "flow", "cfm")
INCH = from_unit(1.0, "column", "inH2O")


def part(db: UnitOfWork, shop: SimpleNamespace, title: str, cfm: float, lift: float = 0.008, **more: Any) -> Trace:
    """A further trace with one reading of a flow [cfm]."""
    db.act_as(shop.people["tester"], shop.application.id)
    trace = bench_verbs.add_trace(db, shop.session, shop.fixture, bench_verbs.TraceCard(title, **more))
    factories.capture(db, trace, cfm, lift)
    db.commit()
    return trace


def test_coefficients_velocities_and_potential_stand_beside_the_difference(
    tester: FlaskClient, shop: SimpleNamespace
) -> None:
    for label, percents in (("A", ("20", "50")), ("B", ("20", "52"))):
        for lift, percent in zip(("2 mm", "9 mm"), percents, strict=True):
            capture(tester, shop, label, lift, percent)
    page = read(tester.get(f"{base(shop)}/measure/curves?working=curtain-B-1"))
    assert "isentropic" in page.select_one("#drawer").text
    cells = page.select(".ladder tbody tr")[1].select("td")
    assert len(cells) == 10
    assert float(cells[5].text) > float(cells[4].text)  # B's C_d on the curtain above A's
    text = read(tester.get(f"{base(shop)}/measure/curves")).get_text(" ", strip=True)
    assert "Power potential" in text
    assert "intake port" in text
    assert "The throat takes over from the curtain" in text


def test_what_may_be_said_is_made_of_the_lifts_that_are_ticked(tester: FlaskClient, shop: SimpleNamespace) -> None:
    for label, low, high in (("A", "20", "50"), ("B", "20", "54")):
        capture(tester, shop, label, "2 mm", low)
        capture(tester, shop, label, "9 mm", high)
    here = f"{base(shop)}/measure/curves"
    pair = {"a": shop.traces["A"].id, "b": shop.traces["B"].id}
    first = read(tester.get(here, query_string=pair))
    assert "flowed" in first.select_one(".statement-text").text
    assert "more at 9\u00a0mm of lift" in first.select_one(".statement-text").text
    keys = [box["value"] for box in first.select("input[name=fact]")]
    asked = {
        **pair,
        "say": "1",
        "fact": [*keys, "gain-flow-lift-12.00mm"],
        "phrasing": "1",
        "short": "1",
        "joined": "1",
    }
    said = read(tester.get(here, query_string=asked)).select_one(".statement-text").text
    assert "of airflow at 9\u00a0mm of lift" in said
    assert "12" not in said.replace("0.2", "")
    assert "interval" not in said
    assert "hp" not in said
    assert tester.get(here, query_string={"a": 999999, "b": pair["b"]}).status_code == 404


def test_pages_say_what_to_do_while_nothing_is_read(tester: FlaskClient, shop: SimpleNamespace) -> None:
    for page, words in (
        ("curves", "no two curves yet"),
        ("stacks", "No stack is measured"),
        ("parts", "No fixed part"),
        ("maps", "No face is walked"),
        ("porting", "No port is being worked on"),
    ):
        assert words in read(tester.get(f"{base(shop)}/measure/{page}")).select_one("h1").text, page


def test_a_stack_names_the_piece_that_limits_and_what_it_must_flow(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    part(db, shop, "head alone", 250.0, stack="head")
    part(db, shop, "with manifold", 190.0, stack="head + manifold", label="B")
    part(db, shop, "with throttle", 188.0, stack="head + manifold + throttle", label="B")
    page = read(tester.get(f"{base(shop)}/measure/stacks", query_string={"target": "210 cfm"}))
    rows = page.select("table tbody tr")
    assert [row.select_one("td").text for row in rows] == ["head", "+ manifold", "+ throttle"]
    assert rows[1].select("td")[2].text.strip().startswith("24")  # (250 − 190)/250, the leak of both taken off
    assert "392" in rows[1].select("td")[5].text  # 1/√(1/210² − 1/248.8²)
    assert "flows no more" in rows[2].select("td")[5].text
    wrong = tester.get(f"{base(shop)}/measure/stacks", query_string={"target": "lots"})
    assert wrong.status_code == 422
    assert "does not begin with a number" in errors_of(wrong)


def test_fixed_parts_show_the_spread_of_runners_and_pressure_at_equal_flow(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    for runner, cfm in (("1", 200.0), ("2", 210.0), ("3", 205.0)):
        part(db, shop, "manifold", cfm, 0.0, kind="fixed", runner=runner, label="B")
    page = read(tester.get(f"{base(shop)}/measure/parts", query_string={"wanted": "150 cfm"}))
    rows = [[cell.get_text("", strip=True) for cell in row.select("td")] for row in page.select("tbody tr")]
    assert [row[1] for row in rows] == ["1", "2", "3"]
    assert rows[0][5].startswith("4.9")  # 10 of 203.8
    pressure = float(rows[0][4].split("±")[0])
    assert pressure == pytest.approx(28 * (150 / 198.8) ** 2, rel=0.01)


FACE = {
    "title": "port face",
    "held_on": "2026-06-01",
    "lift": "8 mm",
    "test_pressure": "28 inH2O",
    "temperature": "20C",
    "pressure": "1010 hPa",
    "shape": "rounded_rectangle",
    "width": "46 mm",
    "height": "34 mm",
    "corner_radius": "9 mm",
    "columns": "3",
    "rows": "2",
}


def test_a_face_is_walked_place_by_place_into_a_map(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    answer = tester.post(f"{base(shop)}/measure/maps/new", data=FACE)
    assert answer.status_code == 302
    for pressure in (10, 11, 12, 5, 6):
        page = read(tester.get(answer.location))
        place = {name: page.select_one(f"input[name={name}]")["value"] for name in ("x", "y")}
        assert (
            tester.post(
                f"{answer.location}/points", data={**place, "velocity_pressure": f"{pressure} inH2O"}
            ).status_code
            == 302
        )
    wrong = tester.post(f"{answer.location}/points", data={**place, "velocity_pressure": "-2 inH2O"})
    assert "cannot be less than 0" in errors_of(wrong)
    nowhere = tester.post(f"{answer.location}/points", data={"x": "1", "y": "1", "velocity_pressure": "2 inH2O"})
    assert "place of the grid" in errors_of(nowhere)
    page = read(tester.get(answer.location))
    assert "5 of 6 places read" in page.select_one(".conditions").text
    assert len(page.select("svg.face .cell-tone")) == 5
    assert len(page.select("svg.face circle.to-read")) == 1
    assert float(page.select_one(".answers .num").text) == pytest.approx(195, abs=12)
    assert db.scalar(select(TraversePoint.taken_by_id).limit(1)) == shop.people["tester"].id


@pytest.mark.parametrize(
    ("change", "sentence"),
    [
        ({"width": ""}, "missing for the face chosen"),
        ({"corner_radius": "30 mm"}, "half the shorter side"),
        ({"shape": "outline", "outline": "1, 1\nx, 2\n"}, "Line 2"),
        ({"shape": "outline", "outline": "0, 0\n10, 10\n10, 0\n0, 10"}, "crosses itself"),
        ({"columns": "1", "rows": "1"}, "Fewer than three places"),
        ({"columns": "99"}, "From 1 to 15"),
    ],
)
def test_a_face_that_cannot_be_is_answered_in_words(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace, change: dict[str, str], sentence: str
) -> None:
    answer = tester.post(f"{base(shop)}/measure/maps/new", data={**FACE, **change})
    assert answer.status_code == 422
    assert sentence in errors_of(answer)
    assert db.scalars(select(Traverse)).first() is None


def test_a_traced_outline_is_a_face(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    outline = "0.0, 0.0\n46 0\n46; 34\n1.8 in, 34 mm\n0 34"
    assert (
        tester.post(f"{base(shop)}/measure/maps/new", data={**FACE, "shape": "outline", "outline": outline}).status_code
        == 302
    )
    kept = db.scalars(select(Traverse)).one()
    assert max(x for x, _ in kept.outline) == pytest.approx(0.023, abs=1e-3)


JOB = {
    "name": "intake port",
    "lift": "9 mm",
    "test_pressure": "28 inH2O",
    "start_flow": "200 cfm",
    "target_flow": "215 cfm",
    "flow_uncertainty": "0.8 cfm",
    "hours_allowed": "12 h",
    "wall_limit": "2.5 mm",
}


def test_a_porting_job_goes_on_and_is_stopped(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    new = f"{base(shop)}/measure/porting/new"
    assert "more than the flow to begin with" in errors_of(tester.post(new, data={**JOB, "target_flow": "190 cfm"}))
    answer = tester.post(new, data=JOB)
    bouts = f"{answer.location}/bouts"
    bout = {
        "held_on": "2026-06-02",
        "hours": "2 h",
        "done": "bowl",
        "trace_id": "0",
        "flow": "206 cfm",
        "walls": "short turn 3.4 mm",
    }
    assert "Line 1" in errors_of(tester.post(bouts, data={**bout, "walls": "thin"}))
    assert "choose the trace" in errors_of(tester.post(bouts, data={**bout, "flow": ""}))
    assert tester.post(bouts, data=bout).status_code == 302
    page = read(tester.get(answer.location))
    assert page.select_one(".judgement").text.startswith("Go on")
    assert "+3" in page.select_one(".answers").text
    trace = part(db, shop, "ported", 212.0, 0.009)
    assert (
        tester.post(bouts, data={**bout, "flow": "", "trace_id": str(trace.id), "walls": "roof: 2.5 mm"}).status_code
        == 302
    )
    page = read(tester.get(answer.location))
    assert "wall is at its limit" in page.select_one(".judgement").text
    job = db.scalars(select(PortingJob)).one()
    assert job.bouts[-1].flow == pytest.approx((212.0 - 1.2) * CFM)
    assert "Stop" in read(tester.get(f"{base(shop)}/measure/porting")).text.replace("stop", "Stop")


def test_a_bench_card_plate_checks_and_their_drift(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    here = f"/library/benches/{shop.bench.id}"
    assert "No plate check is on record" in read(tester.get(here)).text
    check = {
        "held_on": "2026-05-01",
        "plate": "plate 2",
        "plate_flow": "180 cfm",
        "plate_uncertainty": "0.5 %",
        "read_flow": "181.8 cfm",
    }
    assert "off by half or more" in errors_of(tester.post(f"{here}/checks/new", data={**check, "read_flow": "40 cfm"}))
    tester.post(f"{here}/checks/new", data=check)
    tester.post(f"{here}/checks/new", data={**check, "held_on": "2026-05-20", "read_flow": "179.1 cfm"})
    rows = [
        [c.get_text(" ", strip=True) for c in row.select("td")] for row in read(tester.get(here)).select("tbody tr")
    ]
    assert [row[4] for row in rows] == ["−0.50\u202f%", "+1.00\u202f%"]
    assert rows[0][5] == "−1.50\u202f%"
    assert len(list(db.scalars(select(Calibration)))) == 2
    form = {f["name"]: f.get("value", "") for f in read(tester.get(f"{here}/change")).select("form.form input[name]")}
    card = {
        **form,
        "meter": "range",
        "taps": "corner",
        "temperature_rule": "none",
        "leak_limit": "2 cfm",
        "check_days": "30",
    }
    without = tester.post(f"{here}/change", data={**card, "repeatability": "0.2 %"})
    assert "where the repeatability comes from" in errors_of(without)


def test_a_bench_names_only_an_address_that_an_admin_has_listed(
    log_in: Callable[[str], FlaskClient], db: UnitOfWork, shop: SimpleNamespace
) -> None:
    tester, admin, here = log_in("tester"), log_in("admin"), f"/library/benches/{shop.bench.id}"

    def change(address: str) -> int:
        form = read(tester.get(f"{here}/change"))
        filled = {f["name"]: f.get("value", "") for f in form.select("form.form input[name]")}
        chosen = {
            s["name"]: s.select_one("option[selected]")["value"]
            for s in form.select("select")
            if s.select_one("[selected]")
        }
        return int(tester.post(f"{here}/change", data={**filled, **chosen, "device_url": address}).status_code)

    assert [change(address) for address in ("http://x", "/dev/ttyUSB0")] == [422, 422]  # neither is on offer
    with pytest.raises(InputError, match="No admin has listed this address"), db.savepoint():
        library.change_bench(db, shop.bench, library.BenchCard("B", 0.001, 20.0, device_url="/dev/ttyUSB0"))
    assert "An instrument is at" in errors_of(
        admin.post("/library/instruments", data={"kind": "bench", "address": "http://x"})
    )
    assert admin.post("/library/instruments", data={"kind": "bench", "address": "/dev/ttyUSB0"}).status_code == 302
    assert "listed already" in errors_of(
        admin.post("/library/instruments", data={"kind": "bench", "address": "/dev/ttyUSB0"})
    )
    assert change("/dev/ttyUSB0") == 302
    assert "/dev/ttyUSB0" in read(tester.get(here)).text
    address = db.scalars(select(InstrumentAddress)).one()
    assert tester.post(f"/library/instruments/{address.id}/listed").status_code == 403
    admin.post(f"/library/instruments/{address.id}/listed")
    assert "list again" in admin.get("/library/instruments").text
    assert change("/dev/ttyUSB0") == 302  # the card keeps it; the gateway does not look there


def test_an_orifice_bench_needs_pipe_and_plate(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    form = {
        "name": "Plate bench",
        "meter": "orifice",
        "percent_step": "0.1 %",
        "pressure_step": "10 Pa",
        "drop_step": "2 Pa",
        "taps": "corner",
        "temperature_rule": "none",
        "leak_limit": "2 cfm",
        "check_days": "30",
        "label": "50",
        "full_scale": "270 cfm",
    }
    assert "inside diameter of its pipe" in errors_of(tester.post("/library/benches/new", data=form))
    form["pipe_diameter"] = "100 mm"
    assert "bore of its plate" in errors_of(tester.post("/library/benches/new", data=form))
    assert "0.10 to 0.75" in errors_of(tester.post("/library/benches/new", data={**form, "plate_diameter": "90 mm"}))
    assert tester.post("/library/benches/new", data={**form, "plate_diameter": "50 mm"}).status_code == 302
    bench = db.scalars(select(Bench).where(Bench.name == "Plate bench")).one()
    shop.session.bench_id = bench.id
    db.commit()
    db.expire_all()
    typed = {"lift": "9 mm", "range_id": str(bench.ranges[0].id), "meter_drop": "20 inH2O", "pressure": "28 inH2O"}
    here = f"{base(shop)}/measure/traces/{shop.traces['A'].id}/desk"
    assert tester.post(here, data=typed).status_code == 302
    figure = read(tester.get(here)).select_one("#board tr[data-mm='9.0'] .fig")
    assert 200 < float(figure.select_one(".num").text) < 240
    assert "ISO 5167" in read(tester.get(figure["href"])).select_one("#drawer").text

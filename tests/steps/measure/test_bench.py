"""The bench's pages: set-up, fixtures, traces, capture from a live line, sheets in and out."""

from __future__ import annotations

import io
import json
from threading import BoundedSemaphore
from types import SimpleNamespace
from typing import Any

import openpyxl
import pytest
from flask.testing import FlaskClient
from pypdf import PdfReader
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from longbreath.core.basis.units import from_unit
from longbreath.devices.bench_line import BenchLine
from longbreath.devices.status import LIVE, LOST, Sample, Status
from longbreath.dossier.instruments import Look
from longbreath.steps.measure.bench import live_views
from longbreath.store.models import BenchSession, BenchSheet, Fixture, Reading, Trace
from longbreath.web import lines
from tests.conftest import errors_of, read
from tests.conftest import send as fill_in
from tests.steps.tools import base
from tests.steps.tools import capture as by_hand

DP = from_unit(28.0, "column", "inH2O")
SET_UP = {
    "held_on": "2026-06-01",
    "test_pressure": "28 inH2O",
    "temperature": "20C",
    "pressure": "1010 hPa",
    "humidity": "40",
    "kind": "sweep",
    "leak_percent": "2",
    "leak_pressure": "28 inH2O",
    "fixture_id": "0",
    "direction": "intake",
    "port": "cylinder 1",
    "mouth": "clay",
}


class FakeWire:
    """A line that says the same value all the time."""

    def __init__(self, line: BenchLine, state: str = LIVE, device: str = "") -> None:
        self.line, self.state, self.device = line, state, device
        self.sent: list[str] = []

    def look(self, seconds: float) -> Look:
        now = 1e9
        samples = [Sample(now - 0.1 * n, self.line) for n in range(int(seconds * 10) - 1, -1, -1)]
        status = Status(self.state, "Unplugged." if self.state == LOST else "", Sample(now, self.line), 0, self.device)
        return Look(status, samples, now)

    def send(self, words: str) -> None:
        self.sent.append(words)


@pytest.fixture
def live(monkeypatch: pytest.MonkeyPatch, db: Session, shop: SimpleNamespace) -> Any:
    """Puts a line on the shop's bench."""

    def put(line: BenchLine, **more: Any) -> FakeWire:
        wire = FakeWire(line, **more)
        monkeypatch.setattr(live_views, "line_of", lambda sessions, bench: wire)
        shop.bench.device_url = "socket://127.0.0.1:9"
        db.commit()
        return wire

    return put


def press(client: FlaskClient, shop: SimpleNamespace, label: str = "A", lift: str = "2 mm", **more: str) -> Any:
    address = f"{base(shop)}/measure/traces/{shop.traces[label].id}/capture"
    return client.post(address, data={"lift": lift, **more}, headers={"HX-Request": "true"})


def test_a_session_with_a_new_fixture_opens_both_traces(
    tester: FlaskClient, db: Session, shop: SimpleNamespace
) -> None:
    form = {**SET_UP, "bench_id": str(shop.bench.id), "leak_range_id": str(shop.bench.ranges[0].id)}
    answer = tester.post(f"{base(shop)}/measure/sessions/new", data=form)
    assert answer.status_code == 302
    found = db.scalars(select(BenchSession).order_by(BenchSession.id.desc())).first()
    assert found is not None
    assert [t.label for t in found.traces] == ["A", "B"]
    assert {t.fixture.mouth for t in found.traces} == {"clay"}
    assert "clay at the mouth" in read(tester.get(f"{base(shop)}/measure/sessions/{found.id}")).text


@pytest.mark.parametrize(
    ("change", "sentence"),
    [
        ({"port": ""}, "Say which port"),
        ({"leak_percent": ""}, "either as a percentage"),
        ({"leak_flow": "1 cfm"}, "either as a percentage"),
        ({"leak_percent": "60"}, "above this bench's limit"),
        ({"valves": "2", "valve_diameter": "30 mm", "throat_diameter": "34 mm"}, "follow one another"),
        ({"valves": "some"}, "is not a whole number"),
    ],
)
def test_a_set_up_that_cannot_be_is_answered_in_words(
    tester: FlaskClient, db: Session, shop: SimpleNamespace, change: dict[str, str], sentence: str
) -> None:
    form = {**SET_UP, "bench_id": str(shop.bench.id), "leak_range_id": str(shop.bench.ranges[0].id), **change}
    answer = tester.post(f"{base(shop)}/measure/sessions/new", data=form)
    assert answer.status_code == 422
    assert sentence in errors_of(answer).replace("’", "'")
    assert read(answer).select_one("#mouth")["value"] == "clay"
    assert db.scalar(select(func.count(BenchSession.id))) == 1


def test_a_settled_reading_is_captured_with_its_spread(
    tester: FlaskClient, db: Session, shop: SimpleNamespace, live: Any
) -> None:
    live(BenchLine(DP, "4", 0.40, inlet=293.0, meter=296.0))
    answer = press(tester, shop, capture_key="one press")
    assert answer.status_code == 200
    assert "Captured" in read(answer).select_one(".said").text
    assert press(tester, shop, capture_key="one press").status_code == 200  # the same press, sent twice
    reading = db.scalars(select(Reading)).one()
    assert (reading.percent, reading.source, reading.samples) == (pytest.approx(0.40), "bench", 15)
    assert (reading.inlet_temperature, reading.meter_temperature) == (293.0, 296.0)
    assert "the mean of 2 is kept" in press(tester, shop).get_data(as_text=True)
    answer = tester.post(f"{base(shop)}/measure/traces/{shop.traces['A'].id}/take-back", headers={"HX-Request": "true"})
    assert "taken back" in answer.get_data(as_text=True)
    assert db.scalar(select(func.count(Reading.id))) == 2


@pytest.mark.parametrize(
    ("line", "words", "anyway"),
    [
        (BenchLine(0.9 * DP, "4", 0.40), "The column has dropped", 200),
        (BenchLine(DP, "4", 0.97), "near its end", 200),
        (BenchLine(DP, "4", 1.05), "off its scale", 422),
        (BenchLine(DP, "4", 0.0), "no flow", 422),
        (BenchLine(10.0, "4", 0.0), "no pressure", 422),
    ],
)
def test_what_speaks_against_a_capture_refuses_it_and_may_be_flagged(
    tester: FlaskClient, db: Session, shop: SimpleNamespace, live: Any, line: BenchLine, words: str, anyway: int
) -> None:
    live(line)
    answer = press(tester, shop)
    assert answer.status_code == 422
    assert words in answer.get_data(as_text=True)
    assert db.scalar(select(func.count(Reading.id))) == 0
    assert press(tester, shop, anyway="yes").status_code == anyway
    flags = [r.flags for r in db.scalars(select(Reading))]
    assert flags == ([] if anyway == 422 else [["off pressure"]] if line.column < DP else [["range near its end"]])


def test_a_lost_line_captures_nothing_and_a_bench_without_one_says_so(
    tester: FlaskClient, db: Session, shop: SimpleNamespace, live: Any
) -> None:
    assert "no device" in press(tester, shop).get_data(as_text=True)
    live(BenchLine(DP, "4", 0.4), state=LOST)
    assert "Unplugged. Nothing was captured" in press(tester, shop).get_data(as_text=True)
    assert db.scalar(select(func.count(Reading.id))) == 0
    assert "nothing to take back" in tester.post(
        f"{base(shop)}/measure/traces/{shop.traces['A'].id}/take-back", headers={"HX-Request": "true"}
    ).get_data(as_text=True)


def test_live_values_come_in_the_viewers_units(tester: FlaskClient, shop: SimpleNamespace, live: Any) -> None:
    live(BenchLine(DP, "4", 0.40, inlet=293.15), device="stand-in bench")
    answer = tester.get(f"{base(shop)}/measure/traces/{shop.traces['A'].id}/live")
    assert answer.mimetype == "text/event-stream"
    first = json.loads(_event(answer))
    assert first["column"] == "28.0"
    assert first["flow"] == "142.8"  # 360 × 40 % less the leak of 60 × 2 %
    assert first["stand_in"] is True
    assert first["good"] is True
    answer.close()


def _event(answer: Any) -> str:
    text = next(iter(answer.response))
    return (text.decode() if isinstance(text, bytes) else text).removeprefix("data: ")


def test_knobs_turn_on_a_stand_in_only(tester: FlaskClient, shop: SimpleNamespace, live: Any) -> None:
    address = f"{base(shop)}/measure/traces/{shop.traces['A'].id}/stand-in"
    link = live(BenchLine(DP, "4", 0.4), device="stand-in bench")
    assert tester.post(address, data={"words": "motor 0.80"}).status_code == 204
    assert link.sent == ["motor 0.80"]
    assert tester.post(address, data={"words": "rm -rf"}).status_code == 422
    live(BenchLine(DP, "4", 0.4))
    assert tester.post(address, data={"words": "motor 0.80"}).status_code == 409


def test_a_further_part_with_its_own_ladder_and_fixture(
    tester: FlaskClient, db: Session, shop: SimpleNamespace
) -> None:
    address = f"{base(shop)}/measure/sessions/{shop.session.id}/traces/new"
    form = {"title": "head alone", "label": "", "kind": "sweep", "stack": "head", "fixture_id": str(shop.fixture.id)}
    wrong = tester.post(address, data={**form, "ladder": "1, 2, many mm"})
    assert wrong.status_code == 422
    assert "does not begin with a number" in errors_of(wrong)
    assert tester.post(address, data={**form, "ladder": "0.1 0.2 0.3 in"}).status_code == 302
    found = db.scalars(select(Trace).where(Trace.title == "head alone")).one()
    assert found.ladder == pytest.approx([0.00254, 0.00508, 0.00762])
    page = read(tester.get(f"{base(shop)}/measure/traces/{found.id}/desk"))
    assert [row["data-mm"] for row in page.select("#board tbody tr")] == ["2.54", "5.08", "7.62"]


def test_a_fixture_that_differs_is_told_wherever_the_two_meet(
    tester: FlaskClient, db: Session, shop: SimpleNamespace
) -> None:
    by_hand(tester, shop, "A", "2 mm", "40")
    by_hand(tester, shop, "B", "2 mm", "44")
    form = {"direction": "intake", "port": "cylinder 2", "mouth": "clay", "outlet": "", "note": ""}
    assert tester.post(f"{base(shop)}/measure/fixtures/new", data=form).status_code == 302
    clay = db.scalars(select(Fixture).where(Fixture.mouth == "clay")).one()
    shop.traces["B"].fixture_id = clay.id
    db.commit()
    db.expire_all()
    for page in ("measure", "measure/curves", f"measure/traces/{shop.traces['B'].id}/desk"):
        note = read(tester.get(f"{base(shop)}/{page}")).select_one("[role=note]")
        assert "radius plate" in note.text, page
        assert "cannot back one claim" in " ".join(note.text.split()), page
    gates = read(tester.get(f"{base(shop)}/measure/curves")).select(".gates .is-failed b")
    assert "one fixture and test pressure" in [gate.text for gate in gates]


def test_changing_a_fixture_and_leaving_a_reading_out(tester: FlaskClient, db: Session, shop: SimpleNamespace) -> None:
    by_hand(tester, shop, "A", "2 mm", "40")
    address = f"{base(shop)}/measure/fixtures/{shop.fixture.id}"
    version = read(tester.get(address)).select_one("#version")["value"]
    form = {"direction": "intake", "port": "cylinder 4", "mouth": "radius plate", "version": version}
    assert tester.post(address, data=form).status_code == 302
    assert tester.post(address, data={**form, "port": "cylinder 3"}).status_code == 409  # somebody saved meanwhile
    reading = db.scalars(select(Reading)).one()
    out = f"{base(shop)}/measure/readings/{reading.id}/exclude"
    assert tester.post(out, data={"reason": " "}).status_code == 422
    assert fill_in(tester, out, {"reason": "valve not seated"}).status_code == 302
    session = read(tester.get(f"{base(shop)}/measure/sessions/{shop.session.id}"))
    assert "valve not seated" in session.text


def test_one_of_several_readings_is_chosen_before_it_is_taken_out(
    tester: FlaskClient, db: Session, shop: SimpleNamespace
) -> None:
    """The stray one of three repeats is the first: it comes out, not the newest."""
    for percent in ("47", "40", "40.1"):
        by_hand(tester, shop, "A", "2 mm", percent)
    first, *others = db.scalars(select(Reading).order_by(Reading.id)).all()
    out = f"{base(shop)}/measure/readings/{others[-1].id}/exclude"
    page = read(tester.get(out))
    assert [option["value"] for option in page.select("#which option")] == ["0", *(str(r.id) for r in (first, *others))]
    assert "choose the one" in errors_of(fill_in(tester, out, {"reason": "draught", "which": "0"}))
    assert fill_in(tester, out, {"reason": "draught", "which": str(first.id)}).status_code == 302
    db.expire_all()
    assert [r.counts for r in (first, *others)] == [False, True, True]


def send(client: FlaskClient, shop: SimpleNamespace, content: bytes, name: str = "sheet.csv") -> Any:
    return client.post(
        f"{base(shop)}/measure/sessions/{shop.session.id}/sheets",
        data={"file": (io.BytesIO(content), name)},
        content_type="multipart/form-data",
    )


SHEET = b"Valve lift (mm),Flow (cfm),Test pressure (inH2O)\n2,73.0,28\n4,139.5,27.6\n"


def test_a_sheet_is_kept_mapped_recorded_and_its_columns_remembered(
    tester: FlaskClient, db: Session, shop: SimpleNamespace
) -> None:
    answer = send(tester, shop, SHEET)
    assert answer.status_code == 302
    assert tester.get(f"{answer.location}/raw").get_data() == SHEET
    without = tester.post(answer.location, data={"record": "1"})
    assert "Choose the trace" in errors_of(without)
    assert tester.post(answer.location, data={"record": "1", "trace_id": shop.traces["A"].id}).status_code == 302
    found = sorted(db.scalars(select(Reading)), key=lambda r: r.lift)
    assert [(r.source, round(r.lift, 4)) for r in found] == [("sheet", 0.002), ("sheet", 0.004)]
    assert "referred" in read(tester.get(f"{base(shop)}/measure")).select_one(".ladder").text
    twice = tester.post(answer.location, data={"record": "1", "trace_id": shop.traces["A"].id})
    assert "already" in errors_of(twice)
    assert "received in this session before" in errors_of(send(tester, shop, SHEET))
    again = send(tester, shop, SHEET.replace(b"73.0", b"74.0"))
    assert "remembered" in read(tester.get(again.location)).select_one(".conditions").text


@pytest.mark.parametrize(
    ("content", "sentence"),
    [
        (b"", "No file was chosen|is empty"),
        (b"\x00\x01\x02" * 60, "not a text file"),
        (b"only one line", "one line only"),
    ],
)
def test_a_sheet_that_is_none_is_refused(
    tester: FlaskClient, db: Session, shop: SimpleNamespace, content: bytes, sentence: str
) -> None:
    answer = send(tester, shop, content)
    assert answer.status_code == 422
    assert any(words in errors_of(answer) for words in sentence.split("|"))
    assert db.scalar(select(func.count(BenchSheet.id))) == 0


def test_a_sheet_with_a_range_the_bench_has_not_names_the_row(
    tester: FlaskClient, db: Session, shop: SimpleNamespace
) -> None:
    answer = send(tester, shop, b"Lift (mm),Percent (%),Range\n2,40,4\n4,60,9\n")
    wrong = tester.post(answer.location, data={"record": "1", "trace_id": shop.traces["A"].id})
    assert "Row 2: this bench has no range “9”" in errors_of(wrong)
    assert db.scalar(select(func.count(Reading.id))) == 0


def test_a_session_goes_out_as_csv_xlsx_json_and_pdf(tester: FlaskClient, db: Session, shop: SimpleNamespace) -> None:
    for label, percents in (("A", ("20", "40", "55")), ("B", ("20.5", "41", "57"))):
        for lift, percent in zip((2, 5, 9), percents, strict=True):
            by_hand(tester, shop, label, f"{lift} mm", percent)
    fill_in(
        tester,
        f"{base(shop)}/measure/readings/{db.scalars(select(Reading.id)).first()}/exclude",
        {"reason": "spilt water"},
    )
    here = f"{base(shop)}/measure/sessions/{shop.session.id}"
    data = json.loads(tester.get(f"{here}/readings.json").data)
    assert [row["counts"] for row in data["readings"]].count("no") == 1
    assert "spilt water" in tester.get(f"{here}/readings.csv").get_data(as_text=True)
    book = openpyxl.load_workbook(io.BytesIO(tester.get(f"{here}/readings.xlsx").data))
    assert book["readings"].max_row == 7
    assert tester.get(f"{here}/readings.exe").status_code == 404
    text = " ".join(page.extract_text() for page in PdfReader(io.BytesIO(tester.get(f"{here}/sheet.pdf").data)).pages)
    assert "Bench sheet, Gannet long-runner manifold rev C, " in " ".join(text.split())
    assert "1 / " in text
    for words in ("Gannet long-runner manifold", "radius plate", "none on record", "spilt water", "not power", "B − A"):
        assert words in " ".join(text.split()), words


def test_live_desks_take_no_more_threads_than_there_are_seats_and_give_them_back(
    tester: FlaskClient, shop: SimpleNamespace, live: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    live(BenchLine(DP, "4", 0.40))
    monkeypatch.setattr(lines, "SEATS", BoundedSemaphore(2))
    address = f"{base(shop)}/measure/traces/{shop.traces['A'].id}/live"
    opened = [tester.get(address, buffered=False) for _ in range(2)]
    assert [answer.status_code for answer in opened] == [200, 200]
    refused = tester.get(address)
    assert (refused.status_code, refused.headers["Retry-After"]) == (503, "10")
    opened[0].close()
    again = tester.get(address, buffered=False)
    assert again.status_code == 200
    for answer in (again, opened[1]):
        answer.close()

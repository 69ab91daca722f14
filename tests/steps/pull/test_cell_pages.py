"""The pages of the dyno day live: the cell with and without instruments, the one key, closing, raw numbers, practice, hand tools."""

from __future__ import annotations

import io
import json
from collections.abc import Callable
from datetime import UTC, datetime
from types import SimpleNamespace
from typing import Any

import openpyxl
import pytest
from flask.testing import FlaskClient
from sqlalchemy import func, select

from longbreath.core.basis.constants import RPM
from longbreath.dossier import practice
from longbreath.dossier.instruments import NewAddress, list_address
from longbreath.steps.library.tool_views import reading_of
from longbreath.store.models import (
    CellRun,
    DynoSession,
    InstrumentLine,
    InstrumentSample,
    Owed,
    PracticeRound,
    Pull,
    SessionClosing,
    TuningRound,
)
from longbreath.store.unit_of_work import UnitOfWork
from tests.conftest import errors_of, read, send
from tests.steps.tools import base, good, open_session, record, upload

URLS = {"dyno": "socket://127.0.0.1:7171", "logger": "socket://127.0.0.1:7172", "weather": "socket://127.0.0.1:7173"}


@pytest.fixture
def live(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> str:
    """The address of a session whose dyno has addresses."""
    for kind, url in URLS.items():
        list_address(db, NewAddress(url, "stand-in", kind))
        setattr(shop.dyno, {"dyno": "device_url", "logger": "logger_url", "weather": "weather_url"}[kind], url)
    db.flush()
    return f"{base(shop)}/pull/sessions/{open_session(tester, shop)}"


@pytest.fixture
def viewer(log_in: Callable[[str], FlaskClient]) -> FlaskClient:
    """A client logged in as viewer."""
    return log_in("viewer")


def say(
    db: UnitOfWork, kind: str, values: dict[str, float], state: str = "live", words: str = "", device: str = ""
) -> None:
    """What a gateway would have written of a line."""
    now = datetime.now(UTC)
    line = db.scalar(select(InstrumentLine).where(InstrumentLine.address == URLS[kind]))
    if line is None:
        line = InstrumentLine(address=URLS[kind], kind=kind, began_at=now, wanted_at=now)
        db.add(line)
    line.told_at, line.state, line.words, line.device = now, state, words, device
    db.flush()
    if values:
        db.add(InstrumentSample(line_id=line.id, at=now.timestamp(), spoken=values))
    db.flush()


def board(client: FlaskClient, live: str) -> Any:
    return read(client.get(f"{live}/cell")).select_one("#board")


def press(client: FlaskClient, live: str, mark: str, **more: str) -> Any:
    return client.post(f"{live}/cell/press", data={"mark": mark, **more}, headers={"HX-Request": "true"})


def test_a_session_without_addresses_says_where_to_write_them(tester: FlaskClient, shop: SimpleNamespace) -> None:
    here = f"{base(shop)}/pull/sessions/{open_session(tester, shop)}"
    page = read(tester.get(f"{here}/cell"))
    assert "has no address" in page.text
    assert tester.post(f"{here}/cell/begin").status_code == 409
    assert "Pull it live" not in read(tester.get(f"{base(shop)}/pull")).text


def test_the_cell_says_what_is_next_and_the_key_does_it(tester: FlaskClient, db: UnitOfWork, live: str) -> None:
    assert tester.post(f"{live}/cell/begin").status_code == 302
    say(db, "dyno", {"time": 1.0, "speed": 880 * RPM, "torque": 2.0})
    say(db, "logger", {"coolant": 361.0, "mixture": 0.9})
    shown = board(tester, live)
    assert shown.select_one("h1").text == "Put A on: Heron stock manifold."
    mark = shown.select_one("input[name=mark]")["value"]
    assert mark == "fit:A:1"
    answer = press(tester, live, mark)
    assert (answer.status_code, read(answer).select_one("h1").text) == (200, "Ready for pull 1, of A.")
    late = press(tester, live, mark)  # the same press again, from a page that did not hear of it
    assert late.status_code == 409
    assert "moved on" in read(late).text
    assert read(press(tester, live, "arm:A:1")).select_one("h1").text == "Pull now: 1, of A."
    db.expire_all()
    run = db.scalars(select(CellRun)).one()
    assert (run.fitted, run.armed_place, run.armed_label) == ("A", 1, "A")
    assert read(press(tester, live, "armed:A:1")).select_one("h1").text == "Ready for pull 1, of A."
    assert press(tester, live, "wish:A:1").status_code == 409
    plain = tester.post(f"{live}/cell/press", data={"mark": "fit:A:1"})  # without scripts it is a page
    assert plain.status_code == 302


def test_a_window_that_is_not_met_waits_and_can_be_passed_over(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace, live: str
) -> None:
    shop.card.window = {"coolant": [358.15, 365.15]}
    tester.post(f"{live}/cell/begin")
    say(db, "dyno", {"time": 1.0, "speed": 880 * RPM, "torque": 2.0})
    say(db, "logger", {"coolant": 340.0})
    press(tester, live, "fit:A:1")
    shown = board(tester, live)
    assert shown["data-key"] == "wait"
    assert "coolant at 67\u202f°C, below" in shown.select_one("h1").text
    assert press(tester, live, "wait:A:1").status_code == 409
    assert read(press(tester, live, "wait:A:1", anyway="yes")).select_one("h1").text == "Pull now: 1, of A."
    assert press(tester, live, "armed:A:1", anyway="yes").status_code == 200


def test_lines_that_are_down_are_said(tester: FlaskClient, db: UnitOfWork, live: str) -> None:
    tester.post(f"{live}/cell/begin")
    say(db, "dyno", {}, "silent", "The dyno is connected but says nothing.")
    shown = board(tester, live)
    assert shown["data-key"] == "line"
    assert "says nothing" in shown.select_one("h1").text
    old = db.scalars(select(InstrumentLine)).one()
    old.told_at = old.began_at = datetime(2026, 1, 1, tzinfo=UTC)
    db.flush()
    assert "longbreath gateway" in board(tester, live).text


def test_the_stream_speaks_the_viewers_units(tester: FlaskClient, db: UnitOfWork, live: str) -> None:
    tester.post(f"{live}/cell/begin")
    say(db, "dyno", {"time": 1.0, "speed": 4503 * RPM, "torque": 200.0})
    say(db, "logger", {"coolant": 363.15, "mixture": 0.881})
    db.execute(CellRun.__table__.update().values(phase="pulling"))
    answer = tester.get(f"{live}/cell/live?scale=1800,7000,0,300")
    told = json.loads(_first(answer))
    answer.close()
    assert told["figures"]["speed"] == "4\u202f500\xa0rpm"
    assert told["figures"]["coolant"].startswith("194")
    assert told["figures"]["torque"].endswith("lb-ft")
    assert told["begins"] is True
    assert len(told["points"].split()) == 1
    for scale in ("", "1,2,3", "a,b,c,d", "7000,1800,0,300", "nan,1,2,3", "1,1e9,0,1"):
        assert tester.get(f"{live}/cell/live?scale={scale}").status_code == 422


def _first(answer: Any) -> str:
    piece = next(iter(answer.response))
    return (piece.decode() if isinstance(piece, bytes) else piece).removeprefix("data: ")


def test_the_stations_air_is_taken_over_on_request(tester: FlaskClient, db: UnitOfWork, live: str) -> None:
    tester.post(f"{live}/cell/begin")
    assert tester.post(f"{live}/cell/air").status_code == 409  # it says nothing yet
    say(db, "weather", {"temperature": 298.15, "pressure": 99_000.0, "humidity": 0.3})
    assert "take the station’s air" in board(tester, live).text
    assert tester.post(f"{live}/cell/air").status_code == 302
    db.expire_all()
    session = db.scalars(select(DynoSession)).one()
    assert (session.temperature, session.pressure, session.humidity) == (298.15, 99_000.0, 0.3)
    assert "take the station’s air" not in board(tester, live).text


def test_knobs_are_for_stand_ins_alone(tester: FlaskClient, db: UnitOfWork, live: str) -> None:
    tester.post(f"{live}/cell/begin")
    say(db, "dyno", {"time": 1.0, "speed": 90.0, "torque": 0.0}, device="Rollers 3")
    assert tester.post(f"{live}/cell/stand-in", data={"words": "pull"}).status_code == 409
    say(db, "dyno", {}, device="stand-in dyno")
    assert tester.post(f"{live}/cell/stand-in", data={"words": "pull"}).status_code == 204
    for words in ("explode", "pull; drop", "", "fault " + "x" * 60):
        assert tester.post(f"{live}/cell/stand-in", data={"words": words}).status_code == 422


def test_another_letter_is_fitted_out_of_order(tester: FlaskClient, db: UnitOfWork, live: str) -> None:
    tester.post(f"{live}/cell/begin")
    assert tester.post(f"{live}/cell/fit", data={"letter": "B"}).status_code == 302
    assert tester.post(f"{live}/cell/fit", data={"letter": "Q"}).status_code == 409
    assert "Take B off and put A on" in board(tester, live).text


def test_a_viewer_follows_and_cannot_press(tester: FlaskClient, db: UnitOfWork, live: str, viewer: FlaskClient) -> None:
    tester.post(f"{live}/cell/begin")
    say(db, "dyno", {"time": 1.0, "speed": 880 * RPM, "torque": 2.0})
    shown = board(viewer, live)
    assert shown.select_one("h1").text.startswith("Put A on")
    assert shown.select_one("form") is None
    assert press(viewer, live, "fit:A:1").status_code == 403
    for action in ("begin", "end", "fit", "air", "stand-in"):
        assert viewer.post(f"{live}/cell/{action}").status_code == 403


def test_letting_go_ends_it(tester: FlaskClient, db: UnitOfWork, live: str) -> None:
    tester.post(f"{live}/cell/begin")
    assert tester.post(f"{live}/cell/end").status_code == 302
    assert tester.post(f"{live}/cell/end").status_code == 302  # twice is once
    assert "is not pulled live" in read(tester.get(f"{live}/cell")).text
    assert press(tester, live, "fit:A:1").status_code == 409
    assert tester.get(f"{live}/cell/board").status_code == 302
    assert tester.get(f"{live}/cell/live?scale=1,2,3,4").status_code == 409


def test_a_session_is_closed_with_reasons_and_opened_again(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    number = open_session(tester, shop)
    here = f"{base(shop)}/pull/sessions/{number}"
    upload(tester, shop, number, ("1.csv", good(1)))
    record(tester, shop, number)
    page = read(tester.get(f"{here}/close"))
    names = [field["name"] for field in page.select("input[name^=reason-]")]
    assert {"reason-pulls-A", "reason-pulls-B", "reason-fuel"} <= set(names)
    person = {"who_id": str(shop.people["tester"].id), "due_on": ""}
    answer = send(tester, f"{here}/close", {**dict.fromkeys(names, "The cell closed."), "reason-fuel": "", **person})
    assert answer.status_code == 422
    assert "Say why" in errors_of(answer)
    assert "The cell closed." in answer.text  # nothing typed is lost
    assert send(tester, f"{here}/close", {**dict.fromkeys(names, "The cell closed."), **person}).status_code == 302
    page = read(tester.get(f"{base(shop)}/pull"))
    assert "Closed by Tester" in page.text
    assert db.scalar(select(func.count(Owed.id)).where(Owed.what.contains("pulls of A are missing"))) == 1
    upload(tester, shop, number, ("2.csv", good(2)))
    record(tester, shop, number)
    assert "1 pull came in since" in read(tester.get(f"{base(shop)}/pull")).text
    assert tester.post(f"{here}/open").status_code == 302
    assert tester.post(f"{here}/open").status_code == 409
    assert [c.is_closed for c in db.scalars(select(SessionClosing).order_by(SessionClosing.id))] == [True, False]


def test_raw_numbers_and_the_sheet_of_the_day(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    number = open_session(tester, shop)
    here = f"{base(shop)}/pull/sessions/{number}"
    upload(tester, shop, number, ("1.csv", good(1)))
    record(tester, shop, number)
    pull = db.scalars(select(Pull)).one()
    csv = tester.get(f"{here}/raw.csv")
    assert csv.headers["Content-Disposition"].startswith("attachment")
    assert "torque (lb-ft)" in csv.data.decode("utf-8-sig")
    book = openpyxl.load_workbook(io.BytesIO(tester.get(f"{base(shop)}/pull/pulls/{pull.id}/raw.xlsx").data))
    assert book.sheetnames == ["session", "pull 1 of A"]
    assert tester.get(f"{here}/raw.mf4").data[:3] == b"MDF"
    assert tester.get(f"{here}/raw.exe").status_code == 404
    assert tester.get(f"{base(shop)}/pull/pulls/{pull.id}/raw.doc").status_code == 404
    assert tester.get(f"{here}/day.pdf").data[:5] == b"%PDF-"


def test_a_round_of_tuning_is_kept_with_its_forecast(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    here = f"{base(shop)}/pull/sessions/{open_session(tester, shop)}/tuning"
    form = {"label": "B", "kind": "jet", "words": "main", "fuel_id": "0", "jet_before": "1.25 mm", "jet_after": ""}
    answer = send(tester, here, form)
    assert answer.status_code == 422
    assert "needed as well" in errors_of(answer)
    assert send(tester, here, {**form, "jet_after": "1.30 mm"}).status_code == 302
    made = db.scalars(select(TuningRound)).one()
    assert made.factor == pytest.approx((1.25 / 1.30) ** 2)
    assert "1.25 mm → 1.3 mm" in read(tester.get(here)).text


def test_a_round_of_practice(viewer: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    answer = viewer.post("/practice/cell/new")
    assert answer.status_code == 302
    assert viewer.post("/practice/moon/new").status_code == 404
    seed = next(s for s in range(200) if practice.fault_of("cell", s) == "slip")
    here = f"/practice/cell/{seed}"
    page = read(viewer.get(here))
    assert "does it count?" in page.select_one("h1").text
    assert "slip" not in page.select_one("h1").text
    assert "speed ratio" not in page.text  # what the software says comes after
    assert errors_of(send(viewer, here, {})) == "Say whether it counts, or what is wrong."
    assert send(viewer, here, {"said": "slip"}).status_code == 302
    page = read(viewer.get(here))
    assert "Named." in page.text
    assert "speed ratio" in page.text
    assert send(viewer, here, {"said": "gear"}).status_code == 409
    assert "clutch or tyre slips" in read(viewer.get("/practice")).text
    assert db.scalar(select(func.count(PracticeRound.id))) == 1
    assert db.scalar(select(func.count(Pull.id))) == 0
    leak = next(s for s in range(200) if practice.fault_of("bench", s) == "leak")
    assert "With the valves shut" in read(viewer.get(f"/practice/bench/{leak}")).text
    assert viewer.get("/practice/bench/999999999999").status_code == 404
    assert viewer.get("/practice/moon/1").status_code == 404


def test_a_practice_pull_is_replayed(viewer: FlaskClient, shop: SimpleNamespace) -> None:
    answer = viewer.get("/practice/cell/3/live")
    told = json.loads(_first(answer))
    answer.close()
    assert told["begins"] is True
    assert "speed" in told["figures"]


def test_hand_tools_are_offered_where_they_are_listed(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    assert tester.get("/tools").json == []
    list_address(db, NewAddress("socket://127.0.0.1:7174", "calliper, bench two", "tool"))
    list_address(db, NewAddress("socket://127.0.0.1:7175", "a dyno", "dyno"))
    assert tester.get("/tools").json == [{"address": "socket://127.0.0.1:7174", "what": "calliper, bench two"}]
    assert tester.get("/tools/readings?address=socket://127.0.0.1:7175").status_code == 404
    assert tester.get("/tools/readings?address=socket://10.0.0.1:22").status_code == 404
    assert reading_of("length", 0.05715) == {"text": "57.150 mm", "dimension": "length", "word": "a length"}
    assert reading_of("moment", 22.0)["text"] == "22.00 N·m"
    page = read(tester.get(f"{base(shop)}/measure/path/elements/new"))
    assert page.select("input[data-dimension=length]")


def test_a_dyno_takes_only_listed_addresses(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    here = f"/library/dynos/{shop.dyno.id}"
    form = {"kind": "", "cell_id": "0", "device_url": "socket://10.0.0.1:22", "logger_url": "", "weather_url": ""}
    assert send(tester, here, form).status_code == 422
    list_address(db, NewAddress("socket://10.0.0.1:7071", "rollers", "dyno"))
    assert send(tester, here, {**form, "device_url": "socket://10.0.0.1:7071"}).status_code == 302
    db.refresh(shop.dyno)
    assert shop.dyno.device_url == "socket://10.0.0.1:7071"
    list_address(db, NewAddress("socket://10.0.0.1:7072", "a box of both"))
    both = dict.fromkeys(("device_url", "logger_url"), "socket://10.0.0.1:7072")
    assert "Another instrument" in errors_of(send(tester, here, {**form, **both}))

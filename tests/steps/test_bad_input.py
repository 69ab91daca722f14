"""Bad input: a sentence that says what is wrong and what to do, a 4xx, and nothing typed is lost."""

from __future__ import annotations

import io
from types import SimpleNamespace

import pytest
from flask.testing import FlaskClient

from longbreath.dossier.records.sessions import dyno_sessions
from longbreath.store.unit_of_work import UnitOfWork
from tests.conftest import errors_of, read
from tests.steps.tools import base, good, open_session, record, upload

READING = {"lift": "2 mm", "percent": "50", "direct_flow": "", "pressure": "28 inH2O"}


@pytest.mark.parametrize(
    ("change", "sentence"),
    [
        ({"lift": "2 furlong"}, "not a unit of a length"),
        ({"percent": "120"}, "cannot be more than 100"),
        ({"percent": "-3"}, "cannot be less than 0"),
        ({"percent": "", "direct_flow": "-20 cfm"}, "cannot be less than 0"),
        ({"percent": ""}, "either a percentage of the range or a flow"),
        ({"direct_flow": "100 cfm"}, "either a percentage of the range or a flow"),
        ({"pressure": ""}, "This is missing"),
        ({"percent": "0.1"}, "The leak is larger than the reading"),
        ({"lift": "NaN"}, "does not begin with a number"),
    ],
)
def test_a_bad_reading_is_answered_beside_its_field(
    tester: FlaskClient, shop: SimpleNamespace, change: dict[str, str], sentence: str
) -> None:
    typed = {**READING, "range_id": str(shop.bench.ranges[1].id), **change}
    answer = tester.post(f"{base(shop)}/measure/traces/{shop.traces['A'].id}/desk", data=typed)
    assert answer.status_code == 422
    assert sentence in errors_of(answer)
    page = read(answer)
    for name in ("lift", "percent", "direct_flow", "pressure"):
        assert (page.select_one(f"#{name}").get("value") or "") == typed[name]
    assert "Traceback" not in page.get_text()


@pytest.mark.parametrize(
    ("name", "content", "sentence"),
    [
        ("empty.csv", b"", "is empty"),
        ("picture.csv", b"\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR" * 40, "not a text file"),
        ("three.csv", b"rpm,torque\n2000,150\n2100,151\n2200,152\n", "3 rows of numbers"),
        ("spaces.csv", b"rpm torque\n" + b"2000 150\n" * 30, "Separate them by comma, semicolon or tab"),
    ],
)
def test_a_file_that_is_no_pull_is_refused_by_name(
    tester: FlaskClient, shop: SimpleNamespace, name: str, content: bytes, sentence: str
) -> None:
    session = open_session(tester, shop)
    answer = upload(tester, shop, session, (name, content))
    assert answer.status_code == 422
    assert name in errors_of(answer)
    assert sentence in errors_of(answer)


def test_good_files_beside_a_bad_one_are_kept(tester: FlaskClient, shop: SimpleNamespace) -> None:
    session = open_session(tester, shop)
    answer = upload(tester, shop, session, ("a.csv", good(1)), ("bad.csv", b""))
    assert answer.status_code == 422
    assert "1 file waits to be mapped" in read(answer).get_text(" ", strip=True)


def test_the_same_file_twice_is_refused_with_where_it_is(tester: FlaskClient, shop: SimpleNamespace) -> None:
    session = open_session(tester, shop)
    upload(tester, shop, session, ("first.csv", good(1)))
    assert "waits to be mapped" in errors_of(upload(tester, shop, session, ("again.csv", good(1))))
    record(tester, shop, session)
    answer = upload(tester, shop, session, ("again.csv", good(1)))
    assert answer.status_code == 422
    assert "again.csv is the same file as first.csv, which is already here as pull 1" in errors_of(answer)


def test_what_is_too_large_is_refused_with_the_limit_of_its_page(tester: FlaskClient, shop: SimpleNamespace) -> None:
    session = open_session(tester, shop)
    answer = upload(tester, shop, session, ("huge.csv", b"1" * 257 * 1024 * 1024))
    assert answer.status_code == 422
    assert "huge.csv is larger than 256 MB" in errors_of(answer)
    sheet = f"{base(shop)}/measure/sessions/{shop.session.id}/sheets"
    answer = tester.post(sheet, data={"file": (io.BytesIO(b"1" * 50 * 1024 * 1024), "huge.csv")})
    assert answer.status_code == 413
    assert "larger than 13 MB" in errors_of(answer)


def test_no_file_chosen_is_said(tester: FlaskClient, shop: SimpleNamespace) -> None:
    answer = upload(tester, shop, open_session(tester, shop))
    assert answer.status_code == 422
    assert "No file was chosen" in errors_of(answer)


def test_cells_without_numbers_do_not_stop_a_pull(tester: FlaskClient, shop: SimpleNamespace, db: UnitOfWork) -> None:
    session = open_session(tester, shop)
    lines = good(1).split(b"\n")
    lines[60] = b"NaN,NaN,NaN,NaN"
    lines[61] = b"3200,,,"
    upload(tester, shop, session, ("gaps.csv", b"\n".join(lines)))
    assert record(tester, shop, session).status_code == 302
    assert dyno_sessions(db, shop.application.id)[0].pulls[0].is_valid


def test_a_pull_outside_the_band_is_refused_and_the_choices_stay(
    tester: FlaskClient, shop: SimpleNamespace, db: UnitOfWork
) -> None:
    session = open_session(tester, shop)
    slow = "\n".join(["rpm,torque (Nm)", *(f"{600 + 10 * i},{100 + i}" for i in range(40))]).encode()
    upload(tester, shop, session, ("idle.csv", slow))
    file = dyno_sessions(db, shop.application.id)[0].files[0].id
    answer = record(tester, shop, session, **{f"f{file}-place": "7", f"f{file}-label": "B"})
    assert answer.status_code == 422
    assert "wholly outside the band" in errors_of(answer)
    assert "unit of engine speed" in errors_of(answer)
    page = read(answer)
    assert page.select_one(f"[name=f{file}-place]")["value"] == "7"
    assert page.select_one(f"[name=f{file}-label] option[selected]")["value"] == "B"


def test_a_mapping_without_speed_is_refused_beside_it(tester: FlaskClient, shop: SimpleNamespace) -> None:
    session = open_session(tester, shop)
    upload(tester, shop, session, ("a.csv", good(1)))
    answer = record(
        tester, shop, session, **{"g0-speed-header": "", "g0-torque-header": "Torque", "g0-torque-unit": "lb-ft"}
    )
    assert answer.status_code == 422
    assert "Choose the column that holds the engine speed" in errors_of(answer)


def test_two_pulls_cannot_take_one_place(tester: FlaskClient, shop: SimpleNamespace, db: UnitOfWork) -> None:
    session = open_session(tester, shop)
    upload(tester, shop, session, ("a.csv", good(1)), ("b.csv", good(2)))
    first, second = (f.id for f in dyno_sessions(db, shop.application.id)[0].files)
    answer = record(tester, shop, session, **{f"f{first}-place": "1", f"f{second}-place": "1"})
    assert answer.status_code == 422
    assert "Place 1 is taken" in errors_of(answer)


def test_sessions_with_different_corrections_are_never_mixed(tester: FlaskClient, shop: SimpleNamespace) -> None:
    ids = []
    for number, standard in enumerate(("sae_j1349", "din_70020")):
        session = open_session(tester, shop, standard=standard, already_corrected="y")
        upload(tester, shop, session, *((f"{n}.csv", good(n + 20 * number)) for n in (1, 2)))
        record(tester, shop, session)
        ids.append(session)
    answer = tester.get(f"{base(shop)}/weigh?session={ids[0]}&session={ids[1]}")
    assert answer.status_code == 409
    assert "different corrections (DIN 70020 and SAE J1349), which are never mixed" in errors_of(answer)


def test_two_people_saving_one_page_lose_nothing(tester: FlaskClient, shop: SimpleNamespace) -> None:
    address = f"{base(shop)}/plan/card"
    seen = read(tester.get(address))
    form = {
        f["name"]: f.get("value", f.text.strip())
        for f in seen.select("main form input[name], main form textarea[name]")
    }
    form |= {
        "dyno_id": str(shop.dyno.id),
        "units": "us",
        "design": "alternation",
        "tune_mode": "",
        "control_mode": "",
        "sensor_id": "0",
    }
    assert tester.post(address, data={**form, "held": "by the first"}).status_code == 302
    answer = tester.post(address, data={**form, "held": "by the second"})
    assert answer.status_code == 409
    assert "Somebody else saved this page" in errors_of(answer)
    page = read(answer)
    assert page.select_one("#held").text.strip() == "by the second"
    again = {**form, "held": "by the second", "version": page.select_one("#version")["value"]}
    assert tester.post(address, data=again).status_code == 302


def test_vehicle_bands_out_of_order_are_refused_beside_the_field(tester: FlaskClient, shop: SimpleNamespace) -> None:
    form = {
        "name": "New",
        "cycle": "four-stroke",
        "cylinders": "four",
        "bore": "84 mm",
        "stroke": "88 mm",
        "compression_ratio": "10",
        "intake_duration": "240",
        "induction": "turbo",
        "fuel": "petrol",
        "use": "road",
        "redline": "7000 rpm",
        "band_low": "2000",
        "band_middle": "1500",
        "band_top": "5000",
        "band_end": "6800",
    }
    answer = tester.post("/library/vehicles/new", data=form)
    assert answer.status_code == 422
    assert "“four” is not a whole number" in errors_of(answer)
    answer = tester.post("/library/vehicles/new", data={**form, "cylinders": "4"})
    assert "each begins above the one before" in errors_of(answer)
    assert read(answer).select_one("#bore")["value"] == "84 mm"


def test_an_unknown_address_is_answered_in_words(tester: FlaskClient) -> None:
    answer = tester.get("/applications/999999/measure")
    assert answer.status_code == 404
    assert "nothing at this address" in answer.get_data(as_text=True)


@pytest.mark.parametrize(
    "address",
    ["/log?page={}", "/log?application={}", "/applications/{}/measure", "/applications/{}/pull", "/library/benches/{}"],
)
def test_a_number_that_no_row_can_have_is_answered_in_words(
    tester: FlaskClient, shop: SimpleNamespace, address: str
) -> None:
    answer = tester.get(address.format(10**20))
    assert answer.status_code in (400, 404)
    assert "larger than anything" in answer.text or "nothing at this address" in answer.text

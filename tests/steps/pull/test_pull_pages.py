"""The pages of Pull: any log taken in and mapped, a second file joined, stop and inspect, corrections, typed pulls, health, video."""

from __future__ import annotations

import io
import re
from dataclasses import replace
from types import SimpleNamespace

import pytest
from flask.testing import FlaskClient
from sqlalchemy import func, select

from longbreath.devices.made_engine import Engine, day_log, pull
from longbreath.store.models import DynoSession, HealthEntry, Pull, PullReading, RawFile
from longbreath.store.unit_of_work import UnitOfWork
from tests.conftest import errors_of, read, send
from tests.core.compare.made import BREATHING
from tests.made.habits import FULL, LOGGER, METRIC, US, as_archive, as_measured, as_text
from tests.steps.tools import base, good, open_session, record, upload


def mapping_page(client: FlaskClient, shop: SimpleNamespace, session: int) -> str:
    return client.get(f"{base(shop)}/pull/sessions/{session}/mapping").text


def pulls(db: UnitOfWork) -> list[Pull]:
    db.expire_all()
    return list(db.scalars(select(Pull).order_by(Pull.sequence)))


def test_a_day_in_one_file_is_split_shown_and_recorded(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    session = open_session(tester, shop)
    made = day_log(BREATHING, [1, 2, 3], steady=8.0)
    upload(tester, shop, session, ("day.mf4", as_measured([(made, FULL[1:], 1)])))
    page = read(tester.get(f"{base(shop)}/pull/sessions/{session}/mapping"))
    assert "1 file with one header, 9 found in it" in page.text
    assert page.select_one("svg.logview")["aria-label"].endswith("other pulls of its letter")
    assert any("3 pulls found" in svg["aria-label"] for svg in page.select("svg.logview"))
    assert page.text.count("left out: the card plans full pulls") == 6
    assert record(tester, shop, session).status_code == 302
    assert [(p.sequence, p.kind, p.is_valid) for p in pulls(db)] == [(n, "sweep", True) for n in (1, 2, 3)]


def test_more_is_taken_out_of_a_file_later(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    session = open_session(tester, shop)
    upload(tester, shop, session, ("day.csv", as_text(day_log(BREATHING, [1, 2], steady=8.0), FULL)))
    record(tester, shop, session)
    first = pulls(db)[0]
    more = f"{base(shop)}/pull/sessions/{session}/mapping?file={first.file.id}"
    page = read(tester.get(more))
    places = page.select("input[name$=-place]")
    assert len(places) == 4  # two steady points and two times idle; the pulls are taken
    key = places[0]["name"].removesuffix("-place")
    form = {f"{key}-place": "7", f"{key}-label": "B", "record": "1"}
    form |= {f"{field['name'].removesuffix('-place')}-label": "leave" for field in places[1:]}
    assert tester.post(more, data=form).status_code == 302
    assert [(p.sequence, p.kind, p.label) for p in pulls(db)][-1] == (7, "steady", "B")
    text = read(tester.get(f"{base(shop)}/pull")).text
    assert "Two of A and two of B at one speed are needed" in text
    assert tester.get(f"{base(shop)}/pull/sessions/{session}/mapping?file=999").status_code == 404


def test_the_same_pulls_in_another_session_are_shown_where_they_stand(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    first = open_session(tester, shop)
    upload(tester, shop, first, *((f"{n}.csv", as_text(pull(BREATHING, n), FULL)) for n in (1, 2)))
    record(tester, shop, first)
    second = open_session(tester, shop, held_on="2026-05-15")
    files = (("better.csv", as_text(pull(BREATHING, 2), METRIC)), ("new.csv", as_text(pull(BREATHING, 3), METRIC)))
    upload(tester, shop, second, *files)
    page = read(tester.get(f"{base(shop)}/pull/sessions/{second}/mapping"))
    stands = [link for link in page.select("table.files a") if "pull 2 (" in link.text]
    assert len(stands) == 1
    assert tester.get(stands[0]["href"]).status_code == 200
    answer = tester.post(f"{base(shop)}/pull/sessions/{second}/mapping", data={"record": "1"}, follow_redirects=True)
    assert "1 pull recorded and judged. 1 pull stood already: nothing is recorded twice." in read(answer).text
    assert [(p.session_id, p.file.filename) for p in pulls(db)].count((second, "new.csv")) == 1
    assert len(pulls(db)) == 3
    assert tester.get(f"{base(shop)}/pull/sessions/{second}/mapping").status_code == 302  # nothing waits any more


def test_the_meter_is_asked_once_for_its_scale(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    session = open_session(tester, shop)
    upload(tester, shop, session, ("1.csv", good(1)))
    answer = record(tester, shop, session, **{"g0-mixture-scale": ""})
    assert answer.status_code == 422
    assert "what the meter calls λ = 1" in errors_of(answer)
    answer = record(tester, shop, session, **{"g0-mixture-scale": "147"})
    assert "No meter calls that" in errors_of(answer)
    assert record(tester, shop, session, **{"g0-mixture-scale": "9,0"}).status_code == 302
    upload(tester, shop, session, ("2.csv", good(2)))
    assert 'value="9.0"' in mapping_page(tester, shop, session)


def test_a_logger_is_joined_to_the_dyno_with_the_lag_shown(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    session = open_session(tester, shop)
    made = pull(BREATHING, 3)
    dyno = tuple(c for c in FULL if c.channel in ("time", "rpm", "torque", "power"))
    late = {**made, "time": made["time"] + 12.5}
    upload(tester, shop, session, ("dyno.csv", as_text(made, dyno)), ("logger.csv", as_text(late, LOGGER)))
    page = read(tester.get(f"{base(shop)}/pull/sessions/{session}/mapping")).text
    assert "its channels are joined to the pulls of another file" in page
    assert "the second clock is -12.500 s behind" in page
    record(tester, shop, session)
    (made_pull,) = pulls(db)
    answer = read(tester.get(f"{base(shop)}/pull/pulls/{made_pull.id}?channel=coolant"))
    assert "Coolant temperature" in answer.select_one(".channel-nav [aria-current]").text
    assert "logger.csv" in answer.text


def knocking() -> bytes:
    return as_text(pull(BREATHING, 4, None, "knock"), FULL)


def test_stop_and_inspect_fills_the_screen_until_somebody_judged(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    session = open_session(tester, shop)
    upload(tester, shop, session, ("1.csv", knocking()))
    record(tester, shop, session)
    screen = read(tester.get(f"{base(shop)}/pull")).select_one("[role=alertdialog][data-alarm=stop]")
    assert screen is not None
    assert "Knock:" in screen.text
    assert "advice beside your own protection" in screen.text
    (bad,) = pulls(db)
    send(tester, f"{base(shop)}/pull/pulls/{bad.id}/judge", {"counts": "no", "reason": "plugs looked at: sound"})
    assert "Stop and inspect" not in tester.get(f"{base(shop)}/pull").text


def test_each_verdict_says_what_to_do_now_and_shows_the_channel(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    session = open_session(tester, shop)
    upload(tester, shop, session, ("1.csv", as_text(pull(BREATHING, 4, None, "slip"), FULL)))
    record(tester, shop, session)
    row = read(tester.get(f"{base(shop)}/pull")).select_one("table.pulls tbody tr")
    assert "clutch or tyre slips" in row.text
    assert "then repeat" in row.select_one(".act").text
    page = read(tester.get(f"{base(shop)}/pull/pulls/{pulls(db)[0].id}"))
    assert "Roller speed" in page.select_one(".channel-nav [aria-current]").text
    assert page.select_one("svg.logview .told") is not None
    assert "✗" in page.select_one(".checks .is-failed").text


def test_a_wrong_unit_found_afterwards_is_corrected_for_the_whole_source(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    session = open_session(tester, shop)
    lying = (METRIC[0], replace(METRIC[1], unit="lb-ft"), METRIC[3])
    for n in (1, 2, 3):
        upload(tester, shop, session, (f"{n}.csv", as_text(pull(BREATHING, n), lying)))
    record(tester, shop, session)
    link = next(a["href"] for a in read(tester.get(f"{base(shop)}/pull")).select("a") if "correct how" in a.text)
    assert "Read 3 pulls anew" in tester.get(link).text
    form = {"g0-torque-header": "Md", "g0-torque-unit": "lb-ft"}
    assert "Say what was wrong" in errors_of(send(tester, link, form))
    form |= {"why": "the logger was set to lb-ft"}
    assert "The header says N·m, and lb-ft is chosen" in errors_of(send(tester, link, form))
    form |= {"g0-torque-against": "y"}
    assert send(tester, link, form).status_code == 302
    assert [len(p.readings) for p in pulls(db)] == [2, 2, 2]
    text = read(tester.get(f"{base(shop)}/pull")).text
    assert "read 2 times: the logger was set to lb-ft" in text
    assert "read that way already" in errors_of(send(tester, link, form))
    assert db.scalar(select(func.count(PullReading.id))) == 6
    assert tester.get(f"{base(shop)}/pull/sessions/{session}/sources/{'0' * 64}").status_code == 404


def test_the_unit_of_a_header_beats_what_is_remembered_and_a_contradiction_is_asked_about(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    """Torque in N·m, once read as lb-ft because somebody said that the header was wrong: the next file is read by its header."""
    first = open_session(tester, shop)
    upload(tester, shop, first, ("a.csv", as_text(pull(BREATHING, 1), FULL)))
    assert record(tester, shop, first, **{"g0-torque-header": "Torque", "g0-torque-unit": "lb-ft"}).status_code == 422
    assert pulls(db) == []
    choice = {"g0-torque-header": "Torque", "g0-torque-unit": "lb-ft"}
    asked = tester.post(f"{base(shop)}/pull/sessions/{first}/mapping", data={**choice, "record": "1"})
    assert "The header says N·m, and lb-ft is chosen" in errors_of(asked)
    assert record(tester, shop, first, **choice, **{"g0-torque-against": "y"}).status_code == 302
    second = open_session(tester, shop, held_on="2026-05-15")
    upload(tester, shop, second, ("b.csv", as_text(pull(BREATHING, 2), FULL)))
    page = read(tester.get(f"{base(shop)}/pull/sessions/{second}/mapping"))
    assert "last time it was read as lb-ft. Which is right?" in page.text
    assert page.select_one("select[name=g0-torque-unit] option[selected]")["value"] == "N·m"
    assert record(tester, shop, second).status_code == 422  # nobody has answered yet
    assert record(tester, shop, second, **{**choice, "g0-torque-unit": "N·m"}).status_code == 302
    taken, right = pulls(db)
    assert taken.read.columns["torque"]["unit"] == "lb-ft"
    assert right.read.columns["torque"]["unit"] == "N·m"


def test_a_typed_pull_is_kept_corrected_and_told_apart(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    session = open_session(tester, shop)
    address = f"{base(shop)}/pull/sessions/{session}/typed"
    form = {"label": "A", "source": "printout of 3 May", "rows": "4500  150 lb-ft  128.5 hp"}
    assert "two spaces apart" in errors_of(send(tester, address, {**form, "rows": "4500 150"}))
    answer = send(tester, address, form)
    assert answer.status_code == 302
    page = read(tester.get(answer.location)).text
    assert "It holds at 1 speed." in page
    assert "never in a verdict or a claim" in page
    send(tester, answer.location, {**form, "rows": "4500  150 lb-ft  182.5 hp"})
    text = read(tester.get(f"{base(shop)}/pull")).text
    assert "printout of 3 May" in text
    assert "was typed" in text
    assert tester.get(f"{base(shop)}/pull/sessions/{session}/chart.json").status_code == 200


def test_conditions_that_no_log_states_are_asked_for(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    session = open_session(tester, shop)
    for n, label in ((1, "A"), (2, "A"), (3, "A"), (4, "B"), (5, "B"), (6, "B"), (7, "A"), (8, "A"), (9, "A")):
        upload(tester, shop, session, (f"{n}.csv", as_text(pull(BREATHING, n), METRIC)))
        record(tester, shop, session, **{f"f{n}-label": label})
    text = read(tester.get(f"{base(shop)}/pull")).text
    assert text.count("not recorded") == 10
    address = f"{base(shop)}/pull/sessions/{session}/conditions"
    answer = send(tester, address, {"operator-A": "Mara", "operator-B": "Joss", "smoothing_by_source-A": "0.2 s"})
    assert answer.status_code == 302
    text = read(tester.get(f"{base(shop)}/weigh")).text
    assert "Operator" in text
    assert "Joss" in text
    assert "speaks of no result" in errors_of(send(tester, address, {"operator-A": "gained 12 hp"}))


def test_the_health_log_is_written_corrected_and_warns(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace, log_in: object
) -> None:
    address = f"/library/health/vehicles/{shop.application.vehicle_id}"
    page = read(tester.get(address)).text
    assert "take the plugs out before anything turns" in page
    form = {"held_on": "2026-05-02", "kind": "compression", "figures": "12.4 bar; x", "words": ""}
    assert "does not begin with a number" in errors_of(send(tester, address, form))
    answer = send(tester, address, {**form, "figures": "12.4 bar; 12.3 bar; 10.2 bar; 12.2 bar"})
    assert answer.status_code == 302
    text = read(tester.get(address)).text
    assert "Cylinder 3" in text
    assert "finding" in text
    entry = db.scalars(select(HealthEntry)).one()
    right = {**form, "figures": "12.4 bar; 12.3 bar; 12.2 bar; 12.2 bar", "words": "read again"}
    assert send(tester, f"{address}/entries/{entry.id}", right).status_code == 302
    assert "finding</b>" not in tester.get(address).text
    assert "This is told in words" in errors_of(send(tester, address, {**form, "kind": "oil", "figures": "3"}))
    assert tester.get("/library/health/boats/1").status_code == 404
    viewer = log_in("viewer")  # type: ignore[operator]
    assert viewer.get(address).status_code == 200
    assert viewer.post(address, data=form).status_code == 403


def test_a_video_hangs_on_a_pull_and_is_served_by_stretches(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    session = open_session(tester, shop)
    upload(tester, shop, session, ("1.csv", as_text(pull(BREATHING, 1), METRIC)))
    record(tester, shop, session)
    (made,) = pulls(db)
    video = b"\x00\x00\x00\x18ftypisom" + bytes(range(256)) * 24_000
    data = {
        "file": (io.BytesIO(video), "pull.mp4"),
        "caption": "from behind",
        "back": f"/applications/1/pull/pulls/{made.id}",
    }
    assert tester.post(f"{base(shop)}/attachments/pull/{made.id}", data=data).status_code == 302
    page = read(tester.get(f"{base(shop)}/pull/pulls/{made.id}"))
    link = next(a["href"] for a in page.select(".attached a") if "from behind" in a.text)
    answer = tester.get(link)
    assert (answer.data, answer.mimetype) == (video, "video/mp4")
    part = tester.get(link, headers={"Range": "bytes=4194300-4194309"})
    assert part.status_code == 206
    assert part.data == video[4194300:4194310]
    assert part.headers["Content-Range"] == f"bytes 4194300-4194309/{len(video)}"
    twice = {**data, "file": (io.BytesIO(video), "again.mp4")}
    assert tester.post(f"{base(shop)}/attachments/pull/{made.id}", data=twice).status_code == 422


def test_sources_of_all_sorts_come_together_and_one_that_is_none_is_named(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    session = open_session(tester, shop)
    files = as_archive({"1.csv": as_text(pull(BREATHING, 1), US), "notes.txt": b"cold morning"})
    answer = upload(tester, shop, session, ("both.zip", files), ("photo.csv", b"\x89PNG" + b"\x00" * 400))
    assert answer.status_code == 422
    assert "photo.csv is not a text file" in errors_of(answer)
    page = read(tester.get(f"{base(shop)}/pull/sessions/{session}/mapping")).text
    assert "notes.txt holds one line only" in page
    assert db.scalar(select(func.count(RawFile.id))) == 1


def test_a_file_that_was_sent_is_never_run_as_a_page(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    session = open_session(tester, shop)
    upload(tester, shop, session, ('<img src=x onerror="alert(1)">.csv', as_text(pull(BREATHING, 1), METRIC)))
    record(tester, shop, session)
    file = db.scalars(select(RawFile)).one()
    answer = tester.get(f"{base(shop)}/pull/files/{file.id}")
    assert answer.headers["Content-Disposition"].startswith("attachment")
    assert answer.mimetype == "application/octet-stream"
    assert "<img src=x" not in tester.get(f"{base(shop)}/pull").text


def test_hostile_cells_and_words_break_no_page(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    session = open_session(tester, shop)
    made = pull(BREATHING, 2)
    lines = ["time (s),rpm,Torque (Nm),Oil temp (°C),Gizmo"]
    cells = ("1e300", "-1e308", "nan", "1e-320", "9" * 39)
    for n, (t, rpm, torque) in enumerate(zip(made["time"], made["rpm"], made["torque"], strict=True)):
        odd = cells[n % 5]
        lines.append(f"{odd if n % 50 == 7 else t},{rpm:.1f},{odd if n % 40 == 9 else torque},{odd},{odd}")
    upload(tester, shop, session, ("1.csv", "\n".join(lines).encode()))
    hostile = {
        "g0-operator": "a\x00b\u202ec",
        "g0-smoothing": "1e400",
        "g0-speed-header": "rpm",
        "g0-speed-unit": "rpm",
    }
    assert record(tester, shop, session, **hostile).status_code == 422
    assert record(tester, shop, session, **{**hostile, "g0-smoothing": ""}).status_code == 302
    (made_pull,) = pulls(db)
    assert made_pull.read.told["operator"] == "abc"
    for address in (
        "",
        f"/pulls/{made_pull.id}",
        f"/pulls/{made_pull.id}?channel=as+logged:+Gizmo",
        f"/sessions/{session}/chart.json",
    ):
        assert tester.get(f"{base(shop)}/pull{address}").status_code == 200


@pytest.mark.parametrize("torque", [1e-9, 1e15])
def test_absurd_figures_break_no_page(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace, torque: float
) -> None:
    session = open_session(tester, shop)
    made = pull(Engine(lambda rpm: rpm * 0 + 1.0), 1)
    made["torque"] = made["torque"] * 0 + torque
    text = as_text(made, (METRIC[0], replace(METRIC[1], decimals=12)))
    upload(tester, shop, session, ("1.csv", text))
    assert tester.get(f"{base(shop)}/pull/sessions/{session}/mapping").status_code == 200
    assert record(tester, shop, session).status_code in (302, 422)
    assert tester.get(f"{base(shop)}/pull").status_code == 200
    for made_pull in pulls(db):
        assert tester.get(f"{base(shop)}/pull/pulls/{made_pull.id}").status_code == 200


def test_sixty_files_wait_and_are_named_in_order(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    session = open_session(tester, shop)
    upload(tester, shop, session, *[(f"{n:02}.csv", as_text(pull(BREATHING, n), METRIC)) for n in range(1, 13)])
    places = re.findall(r'-place" value="(\d+)"', mapping_page(tester, shop, session))
    assert places == [str(n) for n in range(1, 13)]
    assert len(db.get_one(DynoSession, session).files) == 12

"""Plan: variants, cards of every design, what a card demands and prints, its list, its day, its versions; two people at once."""

from __future__ import annotations

import io
from collections.abc import Callable
from datetime import date
from types import SimpleNamespace
from typing import Any

import pypdf
import pytest
import zxingcpp
from flask.testing import FlaskClient
from PIL import Image
from sqlalchemy import select, text
from sqlalchemy.exc import DBAPIError
from vl_convert import svg_to_png

from longbreath.core.basis.errors import EvidenceError, InputError
from longbreath.core.build.variant import PartCard, VariantCard
from longbreath.core.plan import designs
from longbreath.core.plan.designs import Factor
from longbreath.demo.cell import take
from longbreath.dossier import build as builds
from longbreath.dossier import coverage, registers
from longbreath.dossier.events import PullsChanged, say
from longbreath.dossier.evidence.gather import gather
from longbreath.dossier.plan import cards, day, variants
from longbreath.dossier.plan.factors import factor_variants
from longbreath.dossier.plan.filling import filling_of
from longbreath.dossier.programme import raised, register
from longbreath.dossier.programme.dates import job_of
from longbreath.dossier.pull import verbs as pull_verbs
from longbreath.dossier.records.cards import card_of, own_card_of
from longbreath.drawing import code
from longbreath.store.models import Owed, Revision, TestCard
from longbreath.store.unit_of_work import UnitOfWork
from tests import factories
from tests.conftest import errors_of, read, send
from tests.made import standin
from tests.steps.tools import base, good, open_session, record, upload

CARD: dict[str, Any] = {
    "design": "alternation",
    "letters": "A, B",
    "fittings": "1",
    "returns": "y",
    "control_mode": "",
    "tune_mode": "one tune",
    "pulls_per_set": "3",
    "effect_wanted": "2 lb-ft",
    "mixture_target": "0.88",
    "mixture_tolerance": "0.03",
    "held": "4th gear",
    "also_changed": "nothing",
    "sensor_id": "0",
    "warm_up": "2",
    "rounds": "0",
    "margin": "15",
}
FACTORS = {
    "design": "factorial",
    "factor_1": "Manifold",
    "minutes_1": "45",
    "factor_2": "Spacer",
    "minutes_2": "15",
    "levels_2": "none\n12 mm",
    "factor_3": "Setting",
    "minutes_3": "2",
    "levels_3": "low\nmiddle\nhigh",
    "pulls_per_set": "2",
}


def filled(shop: SimpleNamespace, **more: str) -> dict[str, str]:
    return {**CARD, "dyno_id": str(shop.dyno.id), **more}


def newest(db: UnitOfWork, shop: SimpleNamespace) -> TestCard:
    db.expire_all()
    return card_of(db, shop.application.id) or pytest.fail("no card")


def levels(shop: SimpleNamespace) -> str:
    return f"{shop.application.stock_revision.title}\n{shop.application.revision.title}"


def test_a_card_says_what_is_compared_and_what_it_proves(tester: FlaskClient, shop: SimpleNamespace) -> None:
    page = read(tester.get(f"{base(shop)}/plan"))
    assert "Test card: A-B-A, 9 pulls" in page.select_one("h1").text
    assert [li.text.strip() for li in page.select(".tokens li")] == ["A3", "B3", "A3"]
    assert "prove a true gain of" in page.text
    assert "Only the scatter from pull to pull is known" not in page.text  # the dyno’s card says how sets scatter
    assert "B fitted once more" in page.text
    more = read(tester.get(f"{base(shop)}/plan?pulls=6"))
    assert "6 pulls a set, 18 in all" in more.select_one(".statement").text


def test_a_plan_says_when_nothing_can_be_claimed_of_its_pulls(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    shop.dyno.fitting_repeatability = None
    db.commit()
    page = read(tester.get(f"{base(shop)}/plan")).text
    assert "nothing can be claimed of its pulls" in page
    assert "may be stated" not in page
    assert send(tester, f"{base(shop)}/plan/card", filled(shop, fittings="2")).status_code == 302
    page = read(tester.get(f"{base(shop)}/plan")).text
    assert "Only the scatter from pull to pull is known" in page
    assert "nothing can be claimed of its pulls" not in page
    assert "so that it may be stated" in page


def test_every_design_makes_its_order(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    address = f"{base(shop)}/plan/card"
    assert send(tester, address, filled(shop, fittings="2")).status_code == 302
    assert newest(db, shop).title == "A-B-A-B-A"
    assert (
        send(tester, address, {k: v for k, v in filled(shop, fittings="2").items() if k != "returns"}).status_code
        == 302
    )
    assert newest(db, shop).title == "A-B-A-B"
    send(
        tester,
        f"{base(shop)}/plan/variants/new",
        {
            "name": "B with spacer",
            "part_1": str(shop.application.revision_id),
            **{f"sample_{k}": "0" for k in (1, 2, 3, 4)},
            **{f"part_{k}": "0" for k in (2, 3, 4)},
            "tune_id": "0",
            "build_title": "",
            "base": "A",
            "rounds": "0",
        },
    )
    assert send(tester, address, filled(shop, design="ladder", letters="A B C")).status_code == 302
    assert newest(db, shop).title == "A-B-C-A"
    series = filled(shop, design="series", factor_1="Controller", levels_1="20 %\n40 %\n60 %", minutes_1="2")
    assert send(tester, address, series).status_code == 302
    card = newest(db, shop)
    assert card.design == "series"
    assert [len(s) for s in card.sets] == [2] * 4
    assert "back" not in card.title


def test_a_factorial_keeps_a_and_b_and_fills_as_pulls_come(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    assert send(tester, f"{base(shop)}/plan/card", filled(shop, **FACTORS, levels_1=levels(shop))).status_code == 302
    card = newest(db, shop)
    assert len(card.letters) == 12
    assert card.pair_of(shop.application.id) == ("A", "B")
    assert {p.revision_id for p in card.variants[1].variant.parts} == {shop.application.revision_id}
    page = read(tester.get(f"{base(shop)}/plan"))
    assert "0 of 12 conditions are filled" in page.text
    session = open_session(tester, shop)
    order = card.order
    for place in range(1, 5):
        assert upload(tester, shop, session, (f"pull-{place}.csv", good(place))).status_code == 302
    page = read(tester.get(f"{base(shop)}/pull/sessions/{session}/mapping"))
    chosen = [s.select_one("option[selected]")["value"] for s in page.select("select[name$=-label]")]
    assert chosen == order[:4]
    assert record(tester, shop, session).status_code == 302
    db.expire_all()
    filling = filling_of(db, newest(db, shop))
    assert filling is not None
    assert filling.state.filled == 2
    assert "Pull" in read(tester.get(f"{base(shop)}/plan")).select_one(".filling").text
    for change, filled_then in (({"brings": "Mara: gaskets"}, 2), ({"held": "3rd gear"}, 0)):
        send(tester, f"{base(shop)}/plan/card", filled(shop, **FACTORS, levels_1=levels(shop), **change))
        filling = filling_of(db, newest(db, shop))
        assert filling is not None
        assert filling.state.filled == filled_then, change


def test_bad_cards_are_answered_beside_the_field(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    address = f"{base(shop)}/plan/card"
    for change, words in (
        ({"letters": "A"}, "at least two"),
        ({"design": "ladder", "letters": "A, B, Q"}, "no variant Q"),
        ({"letters": "A, B, C"}, "take a ladder"),
        ({"design": "ladder", "letters": "A, A"}, "at least two"),
        ({"design": "factorial"}, "at least two factors"),
        ({"design": "series", "factor_1": "x", "levels_1": "one"}, "two or more"),
        ({"design": "factorial", "levels_1": "a\nb"}, "Say what is varied"),
        ({"window_coolant": "hot"}, "is no window"),
        ({"window_coolant": "92 to 88 °C"}, "begins above its end"),
        ({"brings": "gaskets"}, "who and what"),
        ({"pulls_per_set": "1"}, "From 2 to 12"),
        ({"held": ""}, "Say what is held"),
        ({"time_pull": "-4"}, "From 0 to 600"),
    ):
        answer = send(tester, address, filled(shop, **change))
        assert answer.status_code == 422, change
        assert words in errors_of(answer), (change, errors_of(answer))
    assert newest(db, shop).title == "A-B-A"


def test_the_day_limits_and_windows_come_back_as_they_were_written(tester: FlaskClient, shop: SimpleNamespace) -> None:
    address = f"{base(shop)}/plan/card"
    more = {
        "window_coolant": "88 to 92 °C",
        "limit_oil": "130 °C",
        "limit_knock": "two counts",
        "weakest": "clutch",
        "limit_weakest_torque": "420 N·m",
        "brings": "Mara: gaskets",
        "consumables": "flange nuts: look up the torque",
        "time_swap": "30",
        "units": "metric",
    }
    assert send(tester, address, filled(shop, **more)).status_code == 302
    page = read(tester.get(address))
    assert page.select_one("#window_coolant")["value"].startswith("190.4 to 197.6")
    assert page.select_one("#limit_knock")["value"] == "two counts"
    assert "Mara: gaskets" in page.select_one("#brings").text
    day = read(tester.get(f"{base(shop)}/plan/cards/{shop.card.id}/day?begins=09:30"))
    assert "09:30" in day.text
    assert "swap A for B" in day.text
    assert "leave out first" in day.text


def test_boost_is_held_some_way_before_anything_else(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    shop.application.vehicle.induction = "turbo"
    db.commit()
    address = f"{base(shop)}/plan/card"
    refused = send(tester, address, filled(shop))
    assert refused.status_code == 422
    assert "Say first how boost is held" in errors_of(refused)
    assert send(tester, address, filled(shop, control_mode="equal boost")).status_code == 302
    page = read(tester.get(f"{base(shop)}/plan"))
    assert "Power at equal boost may be claimed" in page.text
    assert "manifold pressure" in page.text


def test_a_boost_that_the_sensor_cannot_show_is_refused(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    sensor = registers.save(db, registers.SensorCard("P", "manifold pressure", 0.0, 2.0e5))
    db.commit()
    more = {"sensor_id": str(sensor.id), "station": "1000 hPa", "units": "metric"}
    refused = send(tester, f"{base(shop)}/plan/card", filled(shop, **more, limit_boost="99 kPa"))
    assert "beyond the end of the sensor" in errors_of(refused)
    assert send(tester, f"{base(shop)}/plan/card", filled(shop, **more, limit_boost="90 kPa")).status_code == 302


def test_a_tune_for_other_injectors_is_stopped_at_planning(db: UnitOfWork, shop: SimpleNamespace) -> None:
    application = shop.application
    tune = registers.save(db, registers.TuneCard("T-1", "the shop", injectors="420 cm³/min"))
    db.act_as(shop.people["tester"], application.id)
    builds.add_sheet(db, application, builds.BuildCard({"injectors": "280 cm³/min"}, date(2026, 5, 1), "B sheet", "B"))
    variant = variants.variants_of(db, application.id)[1]
    part = PartCard(application.revision_id)
    with pytest.raises(InputError, match="made for injectors “420 cm³/min”, but the build sheet"):
        variants.save_variant(db, application, variant, VariantCard((part,), tune_id=tune.id))


def test_state_is_several_things_and_two_changes_are_a_package(db: UnitOfWork, shop: SimpleNamespace) -> None:
    application = shop.application
    db.act_as(shop.people["tester"], application.id)
    part = PartCard(application.revision_id, machining="face cut", coating="ceramic")
    made = variants.save_variant(db, application, None, VariantCard((part,)))
    assert made.letter == "C"
    plain, other = variants.variants_of(db, application.id)[1:]
    assert set(variants.state_changes(plain, other)) >= {"machining", "coating"}
    assert "a package" in variants.packages([plain, other])["C"]


def test_what_was_pulled_stays_as_it_was_and_the_next_version_follows(
    db: UnitOfWork, day_without_sheets: SimpleNamespace
) -> None:
    shop, application = day_without_sheets, day_without_sheets.application
    variant = variants.variants_of(db, application.id)[0]
    with pytest.raises(InputError, match="it stays as it was"):
        variants.save_variant(db, application, variant, VariantCard((), name="another"))
    draft = cards.CardDraft(shop.dyno.id, "5th gear", "nothing", 3, 2.0)
    following = cards.save_card(db, application, shop.card, draft)
    assert following.id != shop.card.id
    assert (following.number, following.follows_id) == (2, shop.card.id)
    assert gather(db, application).card.id == shop.card.id


@pytest.mark.parametrize(
    "statement",
    [
        "update variant set name = 'x' where letter = 'A'",
        "delete from card_variant",
        "update card_pair set b = 'A'",
        "update test_card set sets = '[]'",
    ],
)
def test_the_database_holds_what_was_pulled(db: UnitOfWork, day_without_sheets: None, statement: str) -> None:
    with pytest.raises(DBAPIError, match="kept as"):
        db.execute(text(statement))


def test_no_record_names_a_letter_that_is_no_variant(db: UnitOfWork, shop: SimpleNamespace) -> None:
    with pytest.raises(DBAPIError, match="no variant Q"):
        factories.lay_path(
            db, shop.application, [factories.element(9, "tube", "x", "intake", 0.1, diameter=0.05, belongs_to="Q")]
        )


def test_one_card_serves_the_applications_whose_parts_are_on_it(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    """Three kits on one day: each dossier is weighed by the pair that holds its part, and all of them see the visit."""
    application = shop.application
    db.act_as(shop.people["tester"])
    other = factories.add_part(db, "Whimbrel manifold")
    second = coverage.open_application(db, application.vehicle_id, other.id, application.stock_revision_id)
    db.act_as(shop.people["tester"], application.id)
    made = variants.save_variant(db, application, None, VariantCard((PartCard(other.id),)))
    draft = cards.CardDraft(shop.dyno.id, "gear", "nothing", 3, 2.0, designs.LADDER, ("A", "B", made.letter))
    card = cards.save_card(db, application, None, draft)
    assert {p.application_id: (p.a, p.b) for p in card.pairs} == {application.id: ("A", "B"), second.id: ("A", "C")}
    session = pull_verbs.open_session(db, application, card, factories.VISIT)
    lift = {"A": None, "B": lambda rpm: 6.0 + 0 * rpm, "C": lambda rpm: -6.0 + 0 * rpm}
    for place, letter in enumerate(card.order, start=1):
        data = standin.as_us_csv(standin.pull(place, lift[letter], place), f"pull {place}")
        take(db, application, session, f"{place}.csv", data, place, letter)
    db.expire(session, ["pulls"])
    say(db, PullsChanged(session))
    up, down = (gather(db, a).weighing.bands[1].effect.value for a in (application, second))
    assert up == pytest.approx(6.0, abs=0.8)
    assert down == pytest.approx(-6.0, abs=0.8)
    db.commit()
    page = read(tester.get(f"/applications/{second.id}/pull"))
    judge = page.select_one("a[href*='/judge']")["href"]
    assert judge.startswith(base(shop)), "what is done to a visit is done where it was held"
    assert tester.get(judge).status_code == 200


def test_a_card_that_serves_is_not_anothers_to_change_nor_its_list_owed_twice(
    db: UnitOfWork, shop: SimpleNamespace
) -> None:
    application = shop.application
    db.act_as(shop.people["tester"])
    other = factories.add_part(db, "Whimbrel manifold")
    second = coverage.open_application(db, application.vehicle_id, other.id, application.stock_revision_id)
    db.act_as(shop.people["tester"], application.id)
    made = variants.save_variant(db, application, None, VariantCard((PartCard(other.id),)))
    draft = cards.CardDraft(shop.dyno.id, "gear", "nothing", 3, 2.0, designs.LADDER, ("A", "B", made.letter))
    card = cards.save_card(db, application, None, draft)
    assert card_of(db, second.id) is card
    assert own_card_of(db, second.id) is None
    for dossier in (application, second, application):
        raised.settle(db, dossier)
    marks = [t.raised_by for t in db.scalars(select(Owed)) if ":tick:" in t.raised_by]
    assert len(marks) == len(set(marks)) == len(card.checklist)


def test_a_series_of_settings_is_no_evidence_for_the_part(db: UnitOfWork, shop: SimpleNamespace) -> None:
    """All its pulls are of the product: B against C is a setting against a setting, and nothing of it may be said of the part."""
    application = shop.application
    db.act_as(shop.people["tester"], application.id)
    draft = cards.CardDraft(
        shop.dyno.id,
        "gear",
        "nothing",
        2,
        2.0,
        designs.SERIES,
        ("B",),
        factors=(Factor("Setting", 2.0, ("low", "high")),),
    )
    card = cards.save_card(db, application, None, draft)
    assert card.letters == ["B", "C"]
    assert card.pair_of(application.id) == ("B", "")
    session = pull_verbs.open_session(db, application, card, factories.VISIT)
    for place, letter in enumerate(card.order, start=1):
        data = standin.as_us_csv(standin.pull(place, None, place), f"pull {place}")
        take(db, application, session, f"{place}.csv", data, place, letter)
    db.expire(session, ["pulls"])
    say(db, PullsChanged(session))
    with pytest.raises(EvidenceError, match="two of B"):
        gather(db, application)


def test_the_list_of_a_card_is_ticked_line_by_line(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    send(tester, f"{base(shop)}/plan/card", filled(shop))
    card = newest(db, shop)
    address = f"{base(shop)}/plan/cards/{card.id}/checklist"
    assert "Gasket new, face flat" in card.checklist
    assert tester.post(address, data={"line": "Gasket new, face flat", "note": "0.02 mm"}).status_code == 302
    page = read(tester.get(address))
    assert "0.02 mm" in page.select_one(".is-ticked").text
    assert "already" in errors_of(tester.post(address, data={"line": "Gasket new, face flat"}))
    assert "not on the card" in errors_of(tester.post(address, data={"line": "anything"}))


def test_the_card_prints_on_one_page_with_a_code_that_opens_the_cell(
    tester: FlaskClient, shop: SimpleNamespace
) -> None:
    more = {
        "limit_oil": "130 °C",
        "window_coolant": "88 to 92 °C",
        "units": "metric",
        "brings": "Mara: gaskets\nJoss: fuel",
    }
    send(tester, f"{base(shop)}/plan/card", filled(shop, **FACTORS, levels_1=levels(shop), **more))
    answer = tester.get(f"{base(shop)}/plan/cards/{shop.card.id}/print")
    assert answer.mimetype == "application/pdf"
    sheet = pypdf.PdfReader(io.BytesIO(answer.data))
    assert len(sheet.pages) == 1
    told = sheet.pages[0].extract_text()
    for words in ("Stop and inspect", "stop signal", "Coolant", "Who brings what", "licensed practice"):
        assert words in told, words
    assert "opens the cell" in told


def test_a_card_that_says_much_is_one_page_too(tester: FlaskClient, shop: SimpleNamespace) -> None:
    more = {
        "held": "a long word " * 49,
        "also_changed": "another word " * 45,
        "brings": "\n".join(f"Somebody {k}: a thing of theirs" for k in range(30)),
        "consumables": "\n".join(f"gasket {k}: look up the torque" for k in range(30)),
    }
    send(tester, f"{base(shop)}/plan/card", filled(shop, **FACTORS, levels_1=levels(shop), **more))
    answer = tester.get(f"{base(shop)}/plan/cards/{shop.card.id}/print")
    assert len(pypdf.PdfReader(io.BytesIO(answer.data)).pages) == 1


def test_a_code_is_read_back_by_another_library() -> None:
    address = "http://10.0.0.7:8000/applications/7/pull"
    picture = Image.open(io.BytesIO(svg_to_png(code.svg(address), scale=2))).convert("L")
    assert [found.text for found in zxingcpp.read_barcodes(picture)] == [address]


def test_two_people_change_one_card(log_in: Callable[[str], FlaskClient], shop: SimpleNamespace) -> None:
    one, other = log_in("tester"), log_in("approver")
    address = f"{base(shop)}/plan/card"
    version = read(other.get(address)).select_one("main form input[name=version]")["value"]
    assert send(one, address, filled(shop, held="5th gear")).status_code == 302
    late = other.post(address, data={**filled(shop, held="3rd gear"), "version": version})
    assert late.status_code == 409
    assert "3rd gear" in read(late).select_one("#held").text


def test_viewers_look_and_change_nothing(log_in: Callable[[str], FlaskClient], shop: SimpleNamespace) -> None:
    viewer = log_in("viewer")
    for path in ("plan", "plan/variants", f"plan/cards/{shop.card.id}/day", f"plan/cards/{shop.card.id}/print"):
        assert viewer.get(f"{base(shop)}/{path}").status_code == 200, path
    for path in ("plan/card", "plan/variants/new", f"plan/cards/{shop.card.id}/checklist"):
        assert viewer.get(f"{base(shop)}/{path}").status_code == 403, path
    assert viewer.post(f"{base(shop)}/plan/cards/{shop.card.id}/forecast/ask").status_code == 403


def test_a_card_of_another_application_is_not_found(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    db.act_as(shop.people["tester"])
    part = factories.add_part(db, "Other")
    stock = db.scalars(select(Revision).where(Revision.id == shop.application.stock_revision_id)).one()
    elsewhere = coverage.open_application(db, shop.application.vehicle_id, part.id, stock.id)
    db.commit()
    assert tester.get(f"/applications/{elsewhere.id}/plan/cards/{shop.card.id}/print").status_code == 404


def test_costs_are_parts_on_one_line(tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace) -> None:
    cell = registers.save(db, registers.CellCard("Cell 1", rate=100.0))
    shop.dyno.cell_id, shop.dyno.cell = cell.id, cell
    db.commit()
    page = read(tester.get(f"{base(shop)}/plan/cards/{shop.card.id}/day"))
    assert "h in Cell 1 at 100 an hour" in page.select_one(".costs").text
    shop.people["tester"].rate = 40.0
    owed_by(db, shop, hours=3.0)
    owed_by(db, shop, hours=0.0, cost=55.0)
    hours = day.hours_of(shop.card)
    sums = {cost.what: cost.amount for cost in day.costs_of(db, shop.application, shop.card)}
    assert sums["cell"] == pytest.approx(100.0 * hours)
    assert hours > 1.0
    assert (sums["work"], sums["other"]) == (pytest.approx(120.0), pytest.approx(55.0))


def owed_by(db: UnitOfWork, shop: SimpleNamespace, **more: Any) -> Owed:
    card = register.OwedCard("other", "something", shop.application.id, shop.people["tester"].id, **more)
    return register.save_owed(db, None, card)


def test_a_day_that_begins_late_runs_over_by_as_much(db: UnitOfWork, shop: SimpleNamespace) -> None:
    cell = registers.save(db, registers.CellCard("Cell 1", 480, 1020))
    shop.dyno.cell_id, shop.dyno.cell = cell.id, cell
    length = 60.0 * day.hours_of(shop.card)
    assert length < 540.0
    early, late = (day.day_of(db, shop.application, shop.card, date(2026, 5, 14), at) for at in (None, 960))
    assert early.over == 0.0
    assert late.over == pytest.approx(960 + length - 1020)
    assert (early.lines[0][0], late.lines[0][0]) == ("08:00", "16:00")


def test_a_job_begins_when_the_last_of_its_days_has_come() -> None:
    """Not before the first of June, and it comes on the tenth: the tenth; the other way round, the later one as well."""
    for not_before, due in ((date(2026, 6, 1), date(2026, 6, 10)), (date(2026, 6, 10), date(2026, 6, 1))):
        thing = Owed(id=1, kind="part", what="casting", hours=0.0, not_before=not_before, due_on=due)
        assert job_of(thing, ()).not_before == date(2026, 6, 10)
    own = Owed(id=2, kind="measurement", what="bore", hours=1.0, due_on=date(2026, 6, 1))
    assert job_of(own, ()).not_before is None  # a day by which something is to be done keeps nobody from beginning


def test_factor_levels_name_parts_as_the_library_does(db: UnitOfWork, shop: SimpleNamespace) -> None:
    db.act_as(shop.people["tester"], shop.application.id)
    stock, product = shop.application.stock_revision.title, shop.application.revision.title
    made = factor_variants(
        db, shop.application, (Factor("Part", 30.0, (stock, product)), Factor("Cap", 1.0, ("on", "off")))
    )
    assert [v.letter for v in made] == ["A", "B", "C", "D"]
    assert made[3].title.endswith("Cap: off")


def test_the_files_of_a_series_by_setting_are_mapped_judged_and_weighed(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    """One part at settings in words of one's own, with and without the boost expected of them."""
    for levels in ("weak spring\nstrong spring", "gate shut = 60 kPa\nhalf open = 85 kPa\nopen = 110 kPa"):
        series = filled(
            shop, design="series", letters="B", factor_1="Wastegate", levels_1=levels, minutes_1="4", pulls_per_set="2"
        )
        assert send(tester, f"{base(shop)}/plan/card", series).status_code == 302
        card = newest(db, shop)
        assert [v.levels for v in card.variants] == [[k] for k in range(len(card.variants))]
        session = open_session(tester, shop, held_on=f"2026-05-{20 + len(card.variants)}")
        files = [(f"run {place} {letter}.csv", good(place)) for place, letter in enumerate(card.order, start=1)]
        assert upload(tester, shop, session, *files).status_code == 302
        page = read(tester.get(f"{base(shop)}/pull/sessions/{session}/mapping"))
        assert len(page.select("select[name$=-label]")) == len(files)
        assert record(tester, shop, session).status_code == 302
        for where in (f"pull?session={session}", f"pull/sessions/{session}/cell", "weigh", "weigh/several", "claim"):
            assert tester.get(f"{base(shop)}/{where}").status_code in (200, 302), where


def test_a_controller_cannot_hold_less_than_its_spring(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    shop.application.vehicle.induction = "turbo"
    db.commit()
    steps = {
        "design": "series",
        "letters": "B",
        "control_mode": "boost free",
        "factor_1": "Controller",
        "minutes_1": "2",
        "spring": "60 kPa",
        "limit_boost": "120 kPa",
        "units": "metric",
    }
    for levels, words in (
        ("0 % = 60 kPa\n30 % = 40 kPa", "cannot hold less"),
        ("0 % = 60 kPa\n90 % = 130 kPa", "beyond the boost at which to stop"),
        ("0 % = a lot\n90 % = 1", "stands the boost expected"),
    ):
        answer = send(tester, f"{base(shop)}/plan/card", filled(shop, **steps, levels_1=levels))
        assert answer.status_code == 422
        assert words in errors_of(answer), levels
    right = filled(shop, **steps, levels_1="0 % = 60 kPa\n30 % = 80 kPa\n60 % = 100 kPa")
    assert send(tester, f"{base(shop)}/plan/card", right).status_code == 302
    card = newest(db, shop)
    assert [v.letter for v in card.variants] == ["B", "C", "D"]
    assert {p.revision_id for v in card.variants for p in v.variant.parts} == {shop.application.revision_id}


def test_unequal_rounds_of_tuning_are_named(db: UnitOfWork, tester: FlaskClient, shop: SimpleNamespace) -> None:
    send(tester, f"{base(shop)}/plan/card", filled(shop, tune_mode="same mixture", rounds="3"))
    variants.variants_of(db, shop.application.id)[1].rounds = 4
    db.commit()
    assert "tuning rounds are not equal: A 0, B 4" in read(tester.get(f"{base(shop)}/plan")).text


def test_the_cell_says_what_is_owed_before_the_first_pull(
    tester: FlaskClient, db: UnitOfWork, shop: SimpleNamespace
) -> None:
    db.act_as(shop.people["tester"], shop.application.id)
    raised.settle(db, shop.application)
    db.commit()
    assert "Check: " in read(tester.get(f"{base(shop)}/pull")).select_one("#drawer").text


def test_a_variant_is_like_another_in_what_it_says_nothing_of(db: UnitOfWork, shop: SimpleNamespace) -> None:
    """State, tune and setting come from the letter it is like, and follow it until it is pulled; a circle is refused."""
    application = shop.application
    tune, other = (registers.save(db, registers.TuneCard(name, "the shop")) for name in ("T-1", "T-2"))
    db.act_as(shop.people["tester"], application.id)
    a, b = variants.variants_of(db, application.id)
    assert (a.base, b.base) == ("", "A")
    stock = PartCard(application.stock_revision_id, machining="face cut")
    variants.save_variant(db, application, a, VariantCard((stock,), tune_id=tune.id))
    assert b.tune_id == tune.id, "B follows A"
    c = variants.save_variant(db, application, None, VariantCard((), control_mode="55 %", base="B"))
    d = variants.save_variant(db, application, None, VariantCard((PartCard(stock.revision_id),), "bonnet open"))
    assert [p.revision_id for p in c.parts] == [application.revision_id]
    assert (c.tune_id, d.parts[0].machining) == (tune.id, "face cut")
    assert variants.packages([b, c]) == {}
    variants.save_variant(db, application, a, VariantCard((stock,), tune_id=other.id))
    assert {v.tune_id for v in (a, b, c, d)} == {other.id}
    variants.save_variant(db, application, b, VariantCard((PartCard(application.revision_id),), tune_id=tune.id))
    variants.save_variant(db, application, a, VariantCard((stock,), "worn", tune_id=None))
    assert (b.tune_id, c.tune_id, d.tune_id) == (tune.id, tune.id, None), "what one said itself stays"
    with pytest.raises(InputError, match="C is itself like A"):
        variants.save_variant(db, application, a, VariantCard((stock,), base="C"))
    with pytest.raises(InputError, match="no variant Q"):
        variants.save_variant(db, application, None, VariantCard((), "x", base="Q"))
    kept = variants.save_variant(db, application, None, VariantCard((stock,), "whole", base=""))
    assert (kept.tune_id, kept.base) == (None, "")

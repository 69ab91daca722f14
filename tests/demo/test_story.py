"""A shop of one's own: what its files may say, and which sentence follows where they say something else."""

from __future__ import annotations

from datetime import date, timedelta
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner
from sqlalchemy import func, select

from longbreath.cli.data import demo
from longbreath.core.basis.units import parse
from longbreath.demo.binding import quantity
from longbreath.demo.book import day_of
from longbreath.demo.load import load_demo
from longbreath.demo.people import people
from longbreath.demo.story import OWN, StoryError, chapter, chapters, table_rows
from longbreath.demo.told import VERBS
from longbreath.store.database import Database
from longbreath.store.models import Application, AuditEntry, Element, User, Vehicle
from tests.databases import ready

SHOP = """
chapter = "a shop of one’s own"

[usual.part]
family = "manifold"
side = "intake"

[[entry]]
do = "person"
on = 2026-01-05
name = "Wren Hale"
email = "wren@example.test"
role = "tester"
password = "a long pass phrase"

[[entry]]
do = "vehicle"
by = "Wren Hale"
name = "Harrowgate Finch 1.6"
cylinders = 4
bore = "3.07 in"
stroke = "84 mm"
compression_ratio = 10.5
redline = "7000 rpm"
band_low = "1500 rpm"
band_middle = "3000 rpm"
band_top = "5000 rpm"
band_end = "6800 rpm"

[[entry]]
do = "part"
name = "Finch stock manifold"
revision = "stock"
is_stock = true

[[entry]]
do = "part"
name = "Finch long manifold"
revision = "1"

[[entry]]
do = "dossier"
called = "Finch"
vehicle = "Harrowgate Finch 1.6"
part = "Finch long manifold revision 1"
stock = "Finch stock manifold"

[[entry]]
do = "element"
dossier = "Finch"
rows = "path.csv"
"""
PATH = """position,kind,name,side,tool,precision [mm],length [mm],diameter [mm]
1,tube,snorkel,intake,tape,1,200,60
2,tube,hose,intake,tape,1,12 in,60
"""


def shop(folder: Path, text: str = SHOP, path: str = PATH) -> Path:
    """A shop of one chapter in a folder."""
    (folder / "01-own").mkdir()
    (folder / "01-own" / "chapter.toml").write_text(text, "utf-8")
    (folder / "01-own" / "path.csv").write_text(path, "utf-8")
    return folder


@pytest.fixture
def empty(database_url: str) -> str:
    """Address of an empty database."""
    return ready(database_url, "longbreath_own_shop")


def test_a_shop_of_ones_own_is_told_by_the_verbs_of_the_pages(empty: str, tmp_path: Path) -> None:
    heard: list[str] = []
    load_demo(empty, heard.append, shop(tmp_path))
    assert heard == ["a shop of one’s own"]
    assert [person.email for person in people(tmp_path)] == ["wren@example.test"]
    database = Database(empty)
    with database.session() as db:
        vehicle = db.scalars(select(Vehicle)).one()
        assert vehicle.bore == pytest.approx(0.077978)  # 3.07 in
        application = db.scalars(select(Application)).one()
        assert application.stock_revision.product.name == "Finch stock manifold"
        first, second = db.scalars(select(Element).order_by(Element.position))
        assert (first.length, first.diameter) == (pytest.approx(0.2), pytest.approx(0.06))
        assert (second.length, second.diameter) == (
            pytest.approx(0.3048),
            pytest.approx(0.06),
        )  # a cell with a unit of its own
        written = db.scalars(select(AuditEntry).where(AuditEntry.entity == "element")).all()
        assert {entry.at.date() for entry in written} == {date(2026, 1, 5)}
    database.engine.dispose()


@pytest.mark.parametrize(
    ("old", "new", "says"),
    [
        ('do = "vehicle"', 'do = "lorry"', "nobody knows how to do “lorry”"),
        ('bore = "3.07 in"', 'boar = "3.07 in"', "nobody asks for “boar”"),
        ("cylinders = 4", 'cylinders = 4\nwheels = "4"', "nobody asks for “wheels”"),
        ('stroke = "84 mm"', 'stroke = "84 furlongs"', "“stroke”: “84 furlongs” has no unit of the trade"),
        ('stroke = "84 mm"', 'stroke = "long"', "“stroke”: “long” does not begin with a number"),
        ('stock = "Finch stock manifold"', 'stock = "none"', "there is no Revision called “none”; told so far: “Finch"),
        ("on = 2026-01-05", 'on = "some day"', "some day"),
        ("is_stock = true", 'is_stock = "perhaps"', "“perhaps” is neither yes nor no"),
        ('by = "Wren Hale"', 'by = "Nobody"', "there is no User called “Nobody”"),
        ('band_end = "6800 rpm"', 'band_end = "600 rpm"', "band"),
        ('dossier = "Finch"', 'dossier = ""', "say of which dossier"),
        ("200,60", "200,sixty", "“diameter”: “sixty” does not begin with a number"),
        ("length [mm]", "length of it [mm]", "a column is called by one word"),
        ('do = "vehicle"\n', "", "say what is done"),
        ("cylinders = 4", "cylinders = ", "Invalid value"),
        ("path.csv", "road.csv", "road.csv"),
        ('stroke = "84 mm"', "stroke = [84]", "01-own/chapter.toml, entry 2 (“vehicle”)"),
        ('vehicle = "Harrowgate Finch 1.6"', "vehicle = 4", "there is no Vehicle called “4”"),
        ("tape,1,200,60", "tape,1,200,", "“diameter”: This is missing for the section chosen"),
    ],
)
def test_what_cannot_be_told_is_named_with_its_place_and_nothing_is_kept(
    database_url: str, tmp_path: Path, old: str, new: str, says: str
) -> None:
    own = blank(database_url)
    assert (old in SHOP) != (old in PATH)
    with pytest.raises(StoryError) as refused:
        load_demo(own, shop=shop(tmp_path, SHOP.replace(old, new, 1), PATH.replace(old, new, 1)))
    assert says in str(refused.value)
    assert "01-own" in str(refused.value)
    database = Database(own)
    with database.session() as db:
        assert db.scalar(select(func.count(User.id))) == 0
    database.engine.dispose()


_blank: list[str] = []


def blank(database_url: str) -> str:
    """An empty database that stays empty."""
    if not _blank:
        _blank.append(ready(database_url, "longbreath_no_shop"))
    return _blank[0]


def test_the_entry_at_fault_is_named_by_file_number_and_line(database_url: str, tmp_path: Path) -> None:
    with pytest.raises(StoryError, match=r"01-own/chapter.toml, entry 6, path.csv line 3 \(“element”\): “length”"):
        load_demo(blank(database_url), shop=shop(tmp_path, path=PATH.replace("12 in", "twelve")))


def test_a_folder_without_a_chapter_is_no_shop(database_url: str, tmp_path: Path) -> None:
    with pytest.raises(StoryError, match=r"no folder in it holds a chapter\.toml"):
        load_demo(blank(database_url), shop=tmp_path)


def test_days_are_told_from_today() -> None:
    assert day_of("today") == date.today()
    assert day_of("today - 2 days") == date.today() - timedelta(days=2)
    assert day_of("today + 1 day") == date.today() + timedelta(days=1)
    assert day_of("2026-04-07") == date(2026, 4, 7)
    with pytest.raises(ValueError, match="yesterday"):
        day_of("yesterday")


@pytest.mark.parametrize(
    ("text", "kind"),
    [
        ("84.6 mm", "length"),
        ("28 inH2O", "column"),
        ("19.5 °C", "temperature"),
        ("2 lb-ft", "torque"),
        ("3.10 L", "plenum"),
    ],
)
def test_a_unit_says_by_itself_what_is_measured(text: str, kind: str) -> None:
    assert quantity(text) == parse(text, kind).value


@pytest.mark.parametrize("text", ["12", "4th gear", "98, delivery of 2 May", "-", "0.30 / 0.35 mm"])
def test_words_are_no_quantity(text: str) -> None:
    assert quantity(text) is None


def test_every_entry_of_the_own_shop_has_a_verb_and_every_verb_an_entry() -> None:
    used = {entry.do for told in chapters(OWN) for entry in told.entries}
    assert used <= set(VERBS)
    assert set(VERBS) - used == set()


def test_tables_leave_empty_cells_out() -> None:
    rows = list(table_rows(OWN / "02-gannet" / "path.csv"))
    assert rows[0]["loss_drop"] == "0.62 kPa"
    assert "bend_angle" not in rows[0]
    assert all(chapter(path).entries for path in OWN.glob("*/chapter.toml"))


def test_the_command_says_what_an_entry_may_hold(monkeypatch: pytest.MonkeyPatch, tmp_path: Path, empty: str) -> None:
    said: Any = CliRunner().invoke(demo, ["--words"]).output
    for name in VERBS:
        assert f"\n{name}: " in said
    assert "plate check: bench [Bench], held_on [date]" in said
    assert "dyno [name]" in said
    monkeypatch.setenv("LONGBREATH_DATABASE_URL", empty)
    monkeypatch.setattr("longbreath.demo.load.load_demo", _refuse)
    done = CliRunner().invoke(demo, [])
    assert done.exit_code == 1
    assert "Error: 01-own/chapter.toml, entry 1: no" in done.output


def _refuse(url: str, say: object) -> None:
    raise StoryError("01-own/chapter.toml, entry 1: no")

"""longbreath case: a dossier as a simulation case, or the list of what it lacks."""

from __future__ import annotations

import json

import pytest
from click.testing import CliRunner, Result

from longbreath.cli.main import main
from longbreath.formats.wave_case import read_case
from tests.databases import with_demo


@pytest.fixture(scope="module")
def demo(database_url: str) -> str:
    """A database of its own with the demo."""
    return with_demo(database_url, "longbreath_case")


def case(url: str, *words: str) -> Result:
    return CliRunner().invoke(main, ["case", *words], env={"LONGBREATH_DATABASE_URL": url})


def test_each_family_of_the_demo_says_what_it_lacks(demo: str) -> None:
    lacking = {number: case(demo, str(number)) for number in range(2, 7)}
    assert {found.exit_code for found in lacking.values()} == {4}
    said = {number: found.stderr for number, found in lacking.items()}
    assert all(found.stdout == "" for found in lacking.values())
    assert "effective area of turbine" in said[3]  # the turbo diesel
    assert "its pressure ratio is counted from the room" in said[3]
    assert "λ 1.52" in said[3]
    assert "1-8-4-3-6-5-7-2" in said[4]  # the eight
    assert "transfer ports" in said[5]  # the two-stroke
    assert "area of the exhaust port" in said[6]  # the rotary


def test_a_dossier_that_lacks_nothing_is_printed_as_a_case_that_can_be_run(demo: str) -> None:
    a, b = case(demo, "1", "--part", "A"), case(demo, "1")
    assert a.exit_code == b.exit_code == 0, a.stderr
    assert "assumed: Firing order 1-3-4-2." in b.stderr
    assert "B is timed as A is: “Heron stock cams” is the only sheet." in b.stderr
    stock, product = read_case(a.stdout), read_case(b.stdout)
    assert stock.intake.runners[0][0].length_mm < product.intake.runners[0][0].length_mm
    assert json.loads(b.stdout)["engine"]["bore_mm"] == pytest.approx(84.6)
    assert product.to_engine().cylinders == 4


def test_an_application_that_is_not_there_and_a_database_that_is_not_named(demo: str) -> None:
    assert "There is no application 77." in case(demo, "77").output
    assert "LONGBREATH_DATABASE_URL is not set" in case("", "1").output

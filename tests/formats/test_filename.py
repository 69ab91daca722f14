"""The name of a file is a plain name: no folders, no signs that hide or turn, and its ending stays."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.formats.filename import LONGEST, clean_name


@pytest.mark.parametrize(
    ("sent", "kept"),
    [
        ("petrel-01-stock.csv", "petrel-01-stock.csv"),
        ("C:\\logs\\Messung 3.xlsx", "Messung 3.xlsx"),
        ("../../etc/passwd", "passwd"),
        ("a\x00b\x1b.csv", "a_b_.csv"),
        ("\u202egnp.csv", "_gnp.csv"),
        ("x" * 300 + ".csv", "x" * 76 + ".csv"),
        ("", "file"),
        ("...", "file"),
        ("{name}.csv", "_name_.csv"),
        ("röhre <b>.svg", "röhre _b_.svg"),
    ],
)
def test_names(sent: str, kept: str) -> None:
    assert clean_name(sent) == kept


@given(st.text(max_size=300))
def test_any_name_is_short_and_plain_and_stays_as_it_is_the_second_time(sent: str) -> None:
    name = clean_name(sent)
    assert 0 < len(name) <= LONGEST
    assert not set(name) & set('/\\<>"\x00\n{}')
    assert clean_name(name) == name

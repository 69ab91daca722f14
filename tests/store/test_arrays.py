"""Arrays of figures come back as they went: against the literals of PostgreSQL itself."""

from __future__ import annotations

import numpy as np
import pytest
from sqlalchemy import text

from longbreath.store.arrays import Floats, FloatsDumper
from longbreath.store.unit_of_work import UnitOfWork


@pytest.mark.parametrize("values", [[1.5, -2.0, 1e-300], [0.1] * 1000, [float("nan"), float("inf")], []])
def test_an_array_is_what_postgresql_reads_of_its_own_literal(db: UnitOfWork, values: list[float]) -> None:
    literal = "{" + ",".join(repr(value) for value in values) + "}"
    same = text("select cast(:one as double precision[]) = cast(:two as double precision[])")
    assert db.scalar(same, {"one": np.array(values, dtype=np.float64), "two": literal})


def test_a_column_takes_lists_and_arrays_and_no_table_of_figures(db: UnitOfWork) -> None:
    bound = Floats().bind_processor(db.get_bind().dialect)
    assert bound([1, 2]).dtype == np.float64
    assert bound(None) is None
    with pytest.raises(ValueError, match="one dimension"):
        FloatsDumper(np.ndarray).dump(np.zeros((2, 2)))

"""Arrays of figures on their way to the database: written in one piece, not figure by figure.

The layout is that of PostgreSQL's `array_send`: a head of dimensions, flags, kind of element, length and first index, then each
element with its length, all with the most significant byte first.
"""

from __future__ import annotations

import struct
from typing import Any

import numpy as np
import psycopg
from psycopg.adapt import Dumper
from psycopg.pq import Format
from sqlalchemy import ARRAY, Dialect, Double
from sqlalchemy.types import TypeDecorator

ARRAY_OF_DOUBLES, DOUBLE = 1022, 701
"""What PostgreSQL's catalogue calls them."""
_ELEMENT = np.dtype([("length", ">i4"), ("value", ">f8")])


class FloatsDumper(Dumper):
    """An array of one dimension as PostgreSQL takes it."""

    format = Format.BINARY
    oid = ARRAY_OF_DOUBLES

    def dump(self, obj: np.ndarray) -> bytes:
        """The bytes of an array of one dimension. Raises ValueError for any other."""
        if obj.ndim != 1:
            raise ValueError("an array of one dimension is kept")
        elements = np.empty(obj.size, _ELEMENT)
        elements["length"], elements["value"] = 8, obj
        dimensions = struct.pack(">ii", obj.size, 1) if obj.size else b""
        return struct.pack(">iiI", 1 if obj.size else 0, 0, DOUBLE) + dimensions + elements.tobytes()


psycopg.adapters.register_dumper(np.ndarray, FloatsDumper)


class Floats(TypeDecorator[Any]):
    """A column of doubles: takes an array, or a list, of one dimension; gives a list."""

    impl = ARRAY(Double)
    cache_ok = True

    def bind_processor(self, dialect: Dialect) -> Any:
        """Hand arrays on as they are."""
        return lambda value: None if value is None else np.asarray(value, dtype=np.float64)

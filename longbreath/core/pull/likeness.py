"""Whether two stretches of logs are the same pull, written again: known by the roughness of any one column."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import product
from math import sqrt

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]
WINDOW = 32
"""Second differences that one mark is made of."""
RUN = 16
"""Figures in a row that one mark of a smooth column is made of."""
BITS = 32
"""Bits of a mark: directions that a window is held against."""
MOST_MARKS = 40
"""Marks kept of a column: the windows that are farthest from the edge between two marks, which noise in the last digit moves least.
Tried on made pulls: two independent columns of 100 rows share one of them less than once in a thousand times; with noise of the
whole last digit on a column that scatters by three of them, nine of ten copies still do."""
MOST_COLUMNS = 24
LEAST_ROWS = 30
"""Rows that two columns have in common before they are called the same."""
ROUGH = 1.3
"""Steps of its last digit that a column scatters by at least [1], or its figures say nothing of which pull they are of."""
SPIKE = 0.75
"""A window of which one value is more than this share [1] shows a jump, which every pull may have, and makes no mark."""
ALIKE, FITTING = 0.8, 0.85
"""Correlation of the roughness, and share of the rows that agree within the last digits, from which two columns are the same [1]."""
COMMON = 0.5
"""Share of the shorter of two columns that both have in common at least [1]."""
SAME_DIGITS = 0.9
"""Share of rows that hold the very same figures, from which columns without roughness are the same [1]."""
LEAST_DISTINCT = 20
MOST_ROUGH, STEPS = 2.0, 120
"""Second differences are held to so many standard deviations, and kept in so many steps."""
_EXACT = 1 << 40


@dataclass(frozen=True)
class Stretch:
    """Rows of a log: figures (n, m) as they were written, and which column is the engine speed (None: nobody knows)."""

    values: Array
    speed: int | None = None


@dataclass(frozen=True)
class _Column:
    """One column in one order: its figures (n,), its roughness [as figures], the step of its last digit."""

    figures: Array
    rough: float
    step: float

    @property
    def tells(self) -> bool:
        """Whether its roughness tells pulls apart."""
        return self.rough > 0.0 and self.rough >= ROUGH * self.step

    @cached_property
    def tells_by_digits(self) -> bool:
        """Whether its very figures do: they are many, and no axis such as time or a grid of speeds."""
        steps = np.diff(self.figures)
        return np.unique(self.figures).size >= LEAST_DISTINCT and bool((steps > 0).any() and (steps < 0).any())


@dataclass(frozen=True)
class Trace:
    """What a column leaves to be known by: its number, whether its rows stand in the order of engine speed, marks by which the same
    content is looked up, and its roughness, a step a byte (empty where it is smooth)."""

    column: int
    by_speed: bool
    marks: tuple[int, ...]
    rough: bytes = b""


def traces_of(found: Stretch) -> list[Trace]:
    """What a stretch is known by, whatever its header, order of rows, scale or shift, a cut at either end, an edited cell, noise in
    the last digit. Empty where no column tells it from other pulls."""
    return [
        Trace(place, by_speed, *_left_by(column))
        for by_speed, columns in _orders(found)
        for place, column in columns.items()
        if column.tells or column.tells_by_digits
    ]


def _left_by(column: _Column) -> tuple[tuple[int, ...], bytes]:
    if not column.tells:
        return tuple(_exact_marks(column.figures)), b""
    steps = np.round(_bounded(column) * (STEPS / (MOST_ROUGH * sqrt(6.0) * column.rough)))
    return tuple(_rough_marks(column.figures)), steps.astype(np.int8).tobytes()


def may_be_same(one: Trace, other: Trace) -> bool:
    """Whether two traces are worth laying over each other: the roughness of both agrees at some offset, or both are smooth."""
    if not one.rough or not other.rough:
        return not one.rough and not other.rough
    found = (np.frombuffer(trace.rough, np.int8).astype(np.float64) for trace in (one, other))
    return abs(_best_offset(*found)[1]) >= ALIKE


def is_same(one: Stretch, other: Stretch) -> bool:
    """Whether a column of one stretch is a column of the other, written again: moved, scaled, cut, put in another order, with an
    edited cell or other last digits.

    Own method: correlation of second differences at the best offset, then a straight line through the rows in common.
    """
    every = [columns.values() for _, columns in _orders(one)], [columns.values() for _, columns in _orders(other)]
    return any(_is_same_column(a, b) for ours, theirs in product(*every) for a, b in product(ours, theirs))


def _orders(found: Stretch) -> Iterator[tuple[bool, dict[int, _Column]]]:
    """The columns by their number: as logged, and where that is another order, in the order of engine speed."""
    yield False, _columns(found.values)
    if found.speed is None or not found.values.size:
        return
    order = np.argsort(found.values[:, found.speed], kind="stable")
    if not np.array_equal(order, np.arange(order.size)):
        yield True, _columns(found.values[order])


def _columns(values: Array) -> dict[int, _Column]:
    every = ((place, _column(column)) for place, column in enumerate(values.T[:MOST_COLUMNS]))
    return {place: column for place, column in every if column is not None}


def _column(values: Array) -> _Column | None:
    figures = values[np.isfinite(values)]
    if figures.size < LEAST_ROWS:
        return None
    distinct = np.unique(figures)
    gaps = np.diff(distinct)
    gaps = gaps[gaps > 1e-9 * max(float(np.abs(distinct[[0, -1]]).max()), 1e-300)]
    if gaps.size < LEAST_DISTINCT - 1 or _is_axis(gaps, figures.size):
        return None
    step = float(np.quantile(gaps, 0.02))
    rough = float(np.median(np.abs(np.diff(figures, 4)))) / 0.6745 / sqrt(70.0)
    return _Column(figures, rough, step)


def _is_axis(gaps: Array, rows: int) -> bool:
    """Whether figures are an axis in whatever order, such as time or a grid of speeds: evenly spaced, each once."""
    return gaps.size >= 0.9 * (rows - 1) and float(np.quantile(gaps, 0.95)) <= 1.5 * float(np.median(gaps))


def _rough_marks(figures: Array) -> Iterator[int]:
    """Marks of the windows that are surest of theirs."""
    if figures.size < WINDOW + 2:
        return
    windows = np.lib.stride_tricks.sliding_window_view(np.diff(figures, 2), WINDOW)
    windows = windows - windows.mean(axis=1, keepdims=True)
    length = np.linalg.norm(windows, axis=1)
    even = (length > 0.0) & (np.abs(windows).max(axis=1) < SPIKE * length)
    held = (windows @ _directions()) / np.where(length > 0.0, length, 1.0)[:, None]
    sure = np.where(even, np.abs(held).min(axis=1), -1.0)
    best = np.argsort(-sure, kind="stable")[:MOST_MARKS]
    bits = held[best[sure[best] > 0.0]] > 0.0
    bits ^= ~bits[:, :1]  # a falling scale turns every sign
    yield from (int(mark) for mark in bits @ (1 << np.arange(BITS)))


@lru_cache(1)
def _directions() -> Array:
    drawn = np.random.default_rng(28).normal(size=(WINDOW, BITS))
    return np.asarray(drawn / np.linalg.norm(drawn, axis=0))


def _exact_marks(figures: Array) -> Iterator[int]:
    """Marks of runs of the very figures: the least of their hashes, wherever they stand."""
    runs = np.lib.stride_tricks.sliding_window_view((figures + 0.0).view(np.uint64), RUN)
    hashes = np.unique(((runs ^ (runs >> np.uint64(29))) @ _odd()) >> np.uint64(24))
    yield from (_EXACT | int(mark) for mark in hashes[:MOST_MARKS])


@lru_cache(1)
def _odd() -> npt.NDArray[np.uint64]:
    drawn = np.random.default_rng(29).integers(1 << 40, 1 << 62, RUN, dtype=np.uint64)
    return np.asarray(drawn * np.uint64(2) + np.uint64(1))


def _is_same_column(one: _Column, other: _Column) -> bool:
    if one.tells != other.tells:
        return False
    if one.tells:
        return _fits(one, other)
    return one.tells_by_digits and other.tells_by_digits and _has_same_digits(one.figures, other.figures)


def _fits(one: _Column, other: _Column) -> bool:
    """Whether a straight line takes one column to the other within their last digits, at the offset where their roughness agrees."""
    offset, correlation = _best_offset(_bounded(one), _bounded(other))
    if abs(correlation) < ALIKE:
        return False
    x, y = _in_common(one.figures, other.figures, offset)
    if x.size < LEAST_ROWS:
        return False
    scale = float(np.sign(correlation)) * other.rough / one.rough
    fitting = np.ones(x.size, dtype=bool)
    for _ in range(4):
        slope, level = _line(x, y, scale) if fitting.sum() < LEAST_ROWS else np.polyfit(x[fitting], y[fitting], 1)
        off = np.abs(y - slope * x - level)
        near = off <= np.quantile(off, FITTING)
        fitting = near if near.any() else fitting
    allowed = 2.1 * max(other.step, 1e-12) + 1.6 * abs(float(slope)) * one.step
    return bool(np.mean(off <= max(allowed, 0.1 * other.rough)) >= FITTING)


def _line(x: Array, y: Array, slope: float) -> tuple[float, float]:
    return slope, float(np.median(y - slope * x))


def _bounded(column: _Column) -> Array:
    """Second differences, jumps held to what the roughness makes likely."""
    found = np.diff(column.figures, 2)
    most = MOST_ROUGH * sqrt(6.0) * column.rough
    return np.asarray(np.clip(found, -most, most))


def _best_offset(one: Array, other: Array) -> tuple[int, float]:
    """By how many rows `other` lies behind `one` where they are most alike, and the correlation there [1]."""
    size = 1 << (one.size + other.size).bit_length()
    products = np.fft.irfft(np.fft.rfft(one, size) * np.conj(np.fft.rfft(other, size)), size)
    squares = [np.concatenate([[0.0], np.cumsum(side**2)]) for side in (one, other)]
    offsets = np.arange(-(other.size - 1), one.size)
    first, last = np.maximum(offsets, 0), np.minimum(one.size, other.size + offsets)
    enough = last - first >= max(LEAST_ROWS - 2, COMMON * min(one.size, other.size))
    if not enough.any():
        return 0, 0.0
    lengths = (squares[0][last] - squares[0][first]) * (squares[1][last - offsets] - squares[1][first - offsets])
    found = np.where(enough & (lengths > 0.0), products[offsets % size] / np.sqrt(np.maximum(lengths, 1e-300)), 0.0)
    best = int(np.argmax(np.abs(found)))
    return int(offsets[best]), float(found[best])


def _in_common(one: Array, other: Array, offset: int) -> tuple[Array, Array]:
    first, last = max(offset, 0), min(one.size, other.size + offset)
    return one[first:last], other[first - offset : last - offset]


def _has_same_digits(one: Array, other: Array) -> bool:
    """Whether nearly all rows that two columns share hold the very same figures, wherever the one begins in the other."""
    least = max(LEAST_ROWS, COMMON * min(one.size, other.size))
    shared = (_in_common(one, other, offset) for offset in _offsets(one, other))
    return any(a.size >= least and float(np.mean(a == b)) >= SAME_DIGITS for a, b in shared)


def _offsets(one: Array, other: Array) -> Sequence[int]:
    """Offsets at which the rarest figures of both stand."""
    places: dict[float, list[int]] = {}
    for place, value in enumerate(other.tolist()):
        places.setdefault(value, []).append(place)
    votes: dict[int, int] = {}
    for place, value in enumerate(one.tolist()):
        for theirs in places.get(value, ())[:4]:
            votes[place - theirs] = votes.get(place - theirs, 0) + 1
    return sorted(votes, key=lambda offset: -votes[offset])[:3]

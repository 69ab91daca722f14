"""What a factorial can tell while it fills: which effects stand alone, which cannot be told apart, which cell would part them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np
import numpy.typing as npt

from longbreath.core.plan.designs import Factor

Array = npt.NDArray[np.float64]
Cell = tuple[int, ...]
TOLERANCE = 1e-8


@dataclass(frozen=True)
class Effect:
    """One effect: of a factor alone or of two together; whether the filled cells tell it; with which others it is mixed up."""

    name: str
    degrees: int
    told: bool
    mixed_with: tuple[str, ...] = ()
    parted_by: str = ""


@dataclass(frozen=True)
class Completeness:
    """How full a factorial is, and what it can tell. cell_next: the empty cell that would tell most ("" when all is told)."""

    filled: int
    cells: int
    effects: tuple[Effect, ...]
    next_cell: str = ""
    df: int = 0

    @property
    def is_complete(self) -> bool:
        """Whether every cell is filled."""
        return self.filled == self.cells


def terms(factors: Sequence[Factor]) -> dict[str, tuple[int, ...]]:
    """Effects by name: each factor, and each two together. Those of three and more are taken to be nought."""
    found: dict[str, tuple[int, ...]] = {f.name: (k,) for k, f in enumerate(factors)}
    for a, b in combinations(range(len(factors)), 2):
        found[f"{factors[a].name} × {factors[b].name}"] = (a, b)
    return found


def model(factors: Sequence[Factor], cells: Sequence[Cell]) -> tuple[Array, list[str]]:
    """Model matrix (n, p) of a mean and all effects at these cells, and the effect each column belongs to ("" for the mean).

    Levels are coded as deviations from their mean (sum to nought). Source: textbook analysis of factorials.
    """
    coded = []
    for k, factor in enumerate(factors):
        count = len(factor.levels)
        code = np.vstack([np.eye(count - 1), -np.ones(count - 1)])
        coded.append(np.array([code[cell[k]] for cell in cells]).reshape(len(cells), count - 1))
    columns, names = [np.ones(len(cells))], [""]
    for name, (first, *second) in terms(factors).items():
        block = coded[first]
        if second:
            other = coded[second[0]]
            block = (block[:, :, None] * other[:, None, :]).reshape(len(cells), -1)
        columns += list(block.T)
        names += [name] * block.shape[1]
    return np.column_stack(columns), names


def _free(matrix: Array) -> Array:
    """Basis (p, q) of what the rows leave open."""
    _, values, right = np.linalg.svd(matrix, full_matrices=True)
    rank = int(np.sum(values > TOLERANCE * max(matrix.shape) * (values[0] if values.size else 1.0)))
    return np.asarray(right[rank:].T)


def _untold(open_: Array, names: Sequence[str]) -> list[str]:
    """Effects with a column that stays open."""
    loose = np.abs(open_).max(axis=1) > TOLERANCE if open_.size else np.zeros(len(names), dtype=bool)
    return list(dict.fromkeys(name for name, free in zip(names, loose, strict=True) if free and name))


def _mixed(matrix: Array, names: Sequence[str], name: str, untold: Sequence[str]) -> list[str]:
    """The effects that could be taken for one that is not told: it would be told if that one of them were nought; where no single
    one is to blame, all those that it is tangled with."""
    alone = []
    for other in untold:
        kept = [k for k, n in enumerate(names) if n != other]
        if other != name and name not in _untold(_free(matrix[:, kept]), [names[k] for k in kept]):
            alone.append(other)
    if alone:
        return alone
    open_ = _free(matrix)
    tangled = np.abs(open_ @ open_.T)
    mine = [k for k, n in enumerate(names) if n == name]
    return list(dict.fromkeys(n for k, n in enumerate(names) if n and n != name and tangled[mine, k].max() > TOLERANCE))


def completeness(factors: Sequence[Factor], cells: Mapping[str, Cell], filled: Sequence[str]) -> Completeness:
    """What the filled cells (letters) tell. An effect is told when every column of it lies in the row space of the filled cells."""
    have = [cells[letter] for letter in cells if letter in set(filled)]
    empty = [letter for letter in cells if letter not in set(filled)]
    matrix, names = model(factors, have or [next(iter(cells.values()))])
    if not have:
        matrix = np.zeros((1, len(names)))
    open_ = _free(matrix)
    untold = _untold(open_, names)
    parting = {
        letter: _untold(_free(np.vstack([matrix, model(factors, [cells[letter]])[0]])), names) for letter in empty
    }
    effects = []
    for name in terms(factors):
        degrees = names.count(name)
        if name not in untold:
            effects.append(Effect(name, degrees, True))
            continue
        mixed = _mixed(matrix, names, name, untold)
        parts = next((letter for letter in empty if name not in parting[letter]), "")
        effects.append(Effect(name, degrees, False, tuple(mixed), parts))
    best = min(empty, key=lambda letter: len(parting[letter]), default="") if untold else ""
    df = len(have) - int(np.linalg.matrix_rank(matrix)) if have else 0
    return Completeness(len(have), len(cells), tuple(effects), best, df)


def degrees_of_freedom(factors: Sequence[Factor]) -> dict[str, int]:
    """Degrees of freedom of each effect, with those of three together and more under “rest”.

    Source: textbook: (levels − 1) of a factor, their product for two together.
    """
    found = {name: int(np.prod([len(factors[k].levels) - 1 for k in of])) for name, of in terms(factors).items()}
    total = int(np.prod([len(f.levels) for f in factors])) - 1
    rest = total - sum(found.values())
    return {**found, **({"rest": rest} if rest else {})}

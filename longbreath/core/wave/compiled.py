"""How kernels are compiled: numba, cached, without fast-math, under a folder named after the sources of all kernels.

numba's cache notices a change of a kernel's own file, not of a kernel it calls in another file. Naming the folder
after all of them makes a stale machine code impossible.
"""

from __future__ import annotations

import hashlib
import os
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar, cast

import numba
from numba.core import config as numba_config
from numba.core.codegen import get_host_cpu_features

F = TypeVar("F", bound=Callable[..., Any])
HERE = Path(__file__).parent
config: Any = numba_config
HOST: str = cast(Any, get_host_cpu_features)()
if "+avx512f" in HOST and config.CPU_FEATURES is None:
    config.CPU_FEATURES = f"{HOST},-prefer-256-bit"  # a fifth faster here; elsewhere nothing changes


def fingerprint() -> str:
    """Ten hexadecimal digits [-] that change with any source of this package and with numba itself."""
    found = hashlib.sha256(numba.__version__.encode())
    for source in sorted(HERE.glob("*.py")):
        found.update(source.read_bytes())
    return found.hexdigest()[:10]


def _folder() -> Path:
    if config.CACHE_DIR:
        return Path(config.CACHE_DIR)
    return HERE / "__pycache__" if os.access(HERE, os.W_OK) else Path.home() / ".cache" / "longbreath"


CACHE = _folder() / f"kernels-{fingerprint()}"


def kernel(function: F) -> F:
    """Compile a plain function of floats and float arrays [SI] at its first call, or load it from the cache.

    Division by nought gives infinity as in numpy (a check in every division would keep the compiler from using
    vector instructions); the caller's status code reports it.
    """
    before, config.CACHE_DIR = config.CACHE_DIR, str(CACHE)
    try:
        made: Any = numba.njit(cache=True, error_model="numpy")(function)
    finally:
        config.CACHE_DIR = before
    return cast(F, made)


def is_compiled() -> bool:
    """Whether the whole march lies in the cache for these sources (for some machine)."""
    return any(CACHE.glob("**/march.march-*.nbi"))

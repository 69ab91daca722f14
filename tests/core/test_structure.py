"""The core is pure, and its public functions say what they take and give."""

from __future__ import annotations

import ast
import inspect
import pkgutil
from importlib import import_module
from pathlib import Path

import pytest

import longbreath.core

ALLOWED = {"numpy", "scipy", "pint", "fluids", "shapely", "statsmodels", "longbreath"}
MODULES = [
    found.name.removeprefix("longbreath.core.")
    for found in pkgutil.walk_packages(longbreath.core.__path__, "longbreath.core.")
    if not found.ispkg
]


@pytest.mark.parametrize("name", MODULES)
def test_the_core_imports_nothing_but_numbers(name: str) -> None:
    tree = ast.parse((Path(longbreath.core.__path__[0]) / f"{name.replace('.', '/')}.py").read_text())
    found = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.Import):
            found |= {alias.name.split(".")[0] for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            found.add(node.module.split(".")[0])
    standard = {
        "__future__",
        "collections",
        "contextlib",
        "hashlib",
        "json",
        "fnmatch",
        "statistics",
        "difflib",
        "dataclasses",
        "functools",
        "itertools",
        "math",
        "re",
        "importlib",
        "inspect",
        "enum",
        "bisect",
        "datetime",
        "heapq",
        "random",
        "string",
        "warnings",
        "pkgutil",
        "typing",
        "unicodedata",
    }
    if name == "wave.compiled":  # the one place that knows the compiler, and where it keeps what it compiled
        standard |= {"hashlib", "os", "pathlib", "numba"}
    assert found <= ALLOWED | standard
    assert "pint" not in found or name == "basis.units"


PHYSICAL = [
    name
    for name in MODULES
    if name
    not in ("basis.units", "claim.gates.dyno", "claim.language", "compare.compare", "compare.design", "basis.register")
]


@pytest.mark.parametrize("name", MODULES)
def test_every_public_function_is_documented(name: str) -> None:
    module = import_module(f"longbreath.core.{name}")
    members = [(key, getattr(found, "py_func", found)) for key, found in inspect.getmembers(module)]
    for key, function in members:
        if not inspect.isfunction(function) or function.__module__ != module.__name__ or key.startswith("_"):
            continue
        text = inspect.getdoc(function) or ""
        assert text, f"{name}.{key} has no docstring"
        takes_numbers = any(p.annotation in ("float", "Array") for p in inspect.signature(function).parameters.values())
        if takes_numbers and name in PHYSICAL:
            assert "[" in text, f"{name}.{key} names no unit"

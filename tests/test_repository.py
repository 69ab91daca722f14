"""What is generated is up to date, what is documented exists, and nothing carries an address it should not."""

from __future__ import annotations

import hashlib
import importlib
import json
import re
import subprocess
from importlib.metadata import metadata
from pathlib import Path

import pytest
from packaging.specifiers import SpecifierSet
from radon.complexity import cc_visit

ROOT = Path(__file__).parent.parent
DIST = ROOT / "longbreath" / "static" / "dist"


def digest(path: Path) -> str:
    return hashlib.sha256(path.read_bytes()).hexdigest()


def test_built_assets_belong_to_their_sources() -> None:
    """Run bin/assets after changing frontend/."""
    manifest = json.loads((DIST / "manifest.json").read_text())
    frontend = ROOT / "frontend"
    sources = {
        p.name: digest(p)
        for p in (*(frontend / "src").iterdir(), frontend / "build.mjs", frontend / "package-lock.json")
    }
    assert manifest["sources"] == sources
    assert manifest["files"] == {p.name: digest(p) for p in DIST.iterdir() if p.name != "manifest.json"}


def test_lock_files_carry_hashes_and_no_address() -> None:
    for lock in (ROOT / "requirements").glob("*.lock"):
        text = lock.read_text()
        assert "--hash=sha256:" in text
        assert "://" not in text
    assert '"resolved"' not in (ROOT / "frontend" / "package-lock.json").read_text()


OLDEST = "3.11.2"
"""The oldest Python that is promised: Debian 12's own."""


@pytest.mark.parametrize("lock", ["run", "test"])
def test_every_pin_allows_the_oldest_python_that_is_promised(lock: str) -> None:
    assert OLDEST in (ROOT / "README.md").read_text()
    pinned = re.findall(r"^([a-z0-9.-]+)==(\S+)", (ROOT / "requirements" / f"{lock}.lock").read_text(), re.MULTILINE)
    assert len(pinned) > 40
    refused = {}
    for name, version in pinned:
        about = metadata(name)
        assert about["Version"] == version, f"{name} is not installed as pinned"
        wanted = about.get("Requires-Python")
        if wanted is not None and OLDEST not in SpecifierSet(wanted):
            refused[name] = wanted
    assert refused == {}


def test_every_link_in_the_readme_leads_somewhere() -> None:
    for target in re.findall(r"\]\(([^)#]+)\)", (ROOT / "README.md").read_text()):
        assert (ROOT / target).exists(), target


def test_every_setting_is_documented() -> None:
    named = set(re.findall(r"LONGBREATH_[A-Z_]+", "".join(p.read_text() for p in (ROOT / "longbreath").rglob("*.py"))))
    assert named <= set(re.findall(r"LONGBREATH_[A-Z_]+", (ROOT / "README.md").read_text()))


def test_files_stay_readable_in_one_sitting() -> None:
    listed = subprocess.check_output(
        ["git", "ls-files", "longbreath/*.py", "longbreath/**/*.py"], cwd=ROOT, text=True
    ).split()
    long = {
        name: n
        for name in listed
        if (n := len((ROOT / name).read_text().splitlines())) > 420 and "migrations" not in name
    }
    assert long == {}


COMPLEX = 18
"""Most decisions in one function, as radon counts them: branches, loops, and/or, conditional expressions, comprehensions."""


def test_no_function_decides_too_much() -> None:
    listed = subprocess.check_output(["git", "ls-files", "longbreath/**/*.py"], cwd=ROOT, text=True).split()
    found = {
        f"{name}:{block.lineno} {block.name}": block.complexity
        for name in listed
        for block in cc_visit((ROOT / name).read_text())
        if block.letter != "C"
    }
    assert len(found) > 1500
    assert {name: n for name, n in found.items() if n > COMPLEX} == {}


def test_templates_are_of_a_readable_width() -> None:
    listed = subprocess.check_output(["git", "ls-files", "longbreath/**/*.html"], cwd=ROOT, text=True).split()
    wide = {
        f"{name}:{number}": len(line)
        for name in listed
        for number, line in enumerate((ROOT / name).read_text().splitlines(), start=1)
        if len(line) > 135
    }
    assert wide == {}


def test_every_deliberate_fault_has_its_place_and_its_tests(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.syspath_prepend(str(ROOT / "bench"))
    faults = importlib.import_module("faults").FAULTS
    assert faults
    for fault in faults:
        assert fault.right in (ROOT / "longbreath" / fault.file).read_text(), fault.words
        for named in fault.tests.split():
            path, _, name = named.partition("::")
            assert (ROOT / path).exists(), fault.words
            assert not name or f"def {name}(" in (ROOT / path).read_text(), fault.words

"""Whatever comes as a file is read, or refused in words: nothing runs on, nothing takes the machine, nothing breaks the server."""

from __future__ import annotations

import os
import signal
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from longbreath.core.basis.errors import InputError
from longbreath.formats import apart, media, opener, outline, table
from longbreath.formats.readers import prose
from tests.formats import hostile

KINDS = ("csv", "xlsx", "svg", "dxf", "photo")


def opened(name: str, data: bytes) -> Any:
    """Open a file as the pages do, by its ending."""
    ending = name.rpartition(".")[2]
    if ending in ("png", "jpg", "webp"):
        return media.check(data)
    if ending in ("svg", "dxf") or name.startswith("port"):
        return outline.read(name, data)
    return table.read_table(data, name, minimum=1)


def said(name: str, data: bytes) -> str:
    """The words a file is refused with; nothing if it is taken. Any other error is one."""
    try:
        opened(name, data)
    except InputError as error:
        found = error
    else:
        return ""
    assert found.field == "file"
    assert found.message.endswith((".", "?")), found.message
    assert "{" not in found.message
    return found.message


COSTLY = ("digits without end", "DXF with infinite codes", "200 MB of shared strings", "PNG of 81 million pixels")


@pytest.mark.parametrize(
    "attack", [pytest.param(a, marks=pytest.mark.slow if a in COSTLY else ()) for a in hostile.ATTACKS]
)
def test_what_hurt_once_is_refused_in_words(attack: str) -> None:
    name, make, words = hostile.ATTACKS[attack]
    data = make()
    if attack.startswith("outline"):
        with pytest.raises(InputError, match=words):
            outline.read(name, data)
    else:
        with pytest.raises(InputError, match=words):
            opened(name, data)


@pytest.mark.parametrize("honest", hostile.TAKEN)
def test_what_is_large_but_honest_is_taken(honest: str) -> None:
    name, make = hostile.TAKEN[honest]
    assert opened(name, make())


@pytest.mark.parametrize("path", hostile.seeds("csv", "xlsx", "svg", "dxf", "png", "jpg", "webp"), ids=lambda p: p.name)
def test_the_corpus_is_read(path: Any) -> None:
    assert said(path.name, path.read_bytes()) == ""


@pytest.mark.parametrize("kind", KINDS)
def test_mutated_files_are_read_or_refused_in_words(kind: str) -> None:
    _fuzz(kind, 30)


@pytest.mark.slow
@pytest.mark.parametrize("kind", KINDS)
def test_more_mutated_files_are_read_or_refused_in_words(kind: str) -> None:
    _fuzz(kind, 300)


@pytest.mark.long
@pytest.mark.parametrize("kind", KINDS)
def test_many_mutated_files_are_read_or_refused_in_words(kind: str) -> None:
    _fuzz(kind, 2000)


def _fuzz(kind: str, number: int) -> None:
    with ThreadPoolExecutor(2) as pool:
        words = list(pool.map(lambda item: said(*item), hostile.mutations(kind, number)))
    assert "" in words  # some are still read
    assert any(words)  # and some are not


@pytest.mark.parametrize("name", ["{name}", "{0}.csv", "{", "a\u202eb.csv", "%s.csv", "é" * 300 + ".csv"])
def test_a_files_name_is_only_a_name(name: str) -> None:
    with pytest.raises(InputError) as problem:
        table.read_table(b"nothing", name)
    assert name in problem.value.message


@pytest.mark.slow
def test_the_process_that_opens_files_is_started_again_when_it_was_killed() -> None:
    assert said("port.csv", (hostile.CORPUS / "port.csv").read_bytes()) == ""
    for _ in range(5):  # at any moment of its work
        process = apart._opener._process
        assert process is not None
        os.kill(process.pid, signal.SIGKILL)
        assert said("port.csv", (hostile.CORPUS / "port.csv").read_bytes()) == ""
        assert apart._opener._process is not process


@pytest.mark.slow
def test_a_process_knows_no_address_and_no_key(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("LONGBREATH_DATABASE_URL", "postgresql://secret")
    fresh = apart._Opener()
    fresh.wire().close()
    assert fresh._process is not None
    with open(f"/proc/{fresh._process.pid}/environ", "rb") as told:
        assert b"secret" not in told.read()
    fresh.close()


@pytest.mark.parametrize(
    ("work", "ending"),
    [
        (lambda: bytearray(400 * 1024 * 1024), "memory"),
        (lambda: Path("/tmp/longbreath-written").write_text("x"), "written"),
        (lambda: time.sleep(30), "late"),
        (lambda: any(iter(int, 1)), "late"),
    ],
    ids=("memory", "files", "sleep", "loop"),
)
def test_a_held_process_cannot_take_memory_time_or_disk(work: Any, ending: str) -> None:
    child = os.fork()
    if child == 0:
        code = 0
        try:
            opener.hold(1.0, 3.0, 100 * 1024 * 1024)
            work()
        except MemoryError:
            code = 7
        except OSError:
            code = 8
        os._exit(code)
    _, status = os.waitpid(child, 0)
    if ending == "late":
        assert os.WIFSIGNALED(status)
        assert os.WTERMSIG(status) == (signal.SIGALRM if work.__code__.co_names[0] == "time" else signal.SIGPROF)
    elif ending == "memory":
        assert os.WEXITSTATUS(status) == 7
    else:
        assert (os.WIFSIGNALED(status) and os.WTERMSIG(status) == signal.SIGXFSZ) or os.WEXITSTATUS(status) == 8


@settings(max_examples=60)
@given(st.binary(max_size=2000), st.sampled_from(["a.html", "a.csv", "a.txt"]))
def test_any_bytes_of_a_text_are_read_or_refused_in_words(data: bytes, name: str) -> None:
    """By the reader itself, as its process calls it."""
    with suppress(InputError):
        facts, block = prose.read(data, name)
        assert (type(facts["text"]), block) == (str, b"")

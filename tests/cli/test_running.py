"""What keeps the demo running: a cluster that keeps its port and is started once, ports that are taken, parts that fall over."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor

import click
import pytest

from longbreath.cli import run, serve
from longbreath.cli.main import COMMANDS, main
from longbreath.cli.parts import OFTEN, Part
from tests.conftest import ROOT

CLUSTER = str(ROOT / "bin" / "cluster")


def cluster(*words: str) -> str:
    return subprocess.run([CLUSTER, *words], check=True, capture_output=True, text=True).stdout.strip()


@pytest.fixture
def stopped() -> Iterator[None]:
    yield
    cluster("stop", "twice")


@pytest.mark.slow
def test_a_cluster_started_by_four_at_once_is_one_and_keeps_its_port(stopped: None) -> None:
    with ThreadPoolExecutor(4) as pool:
        urls = set(pool.map(lambda _: cluster("start", "twice"), range(4)))
    assert len(urls) == 1
    cluster("stop", "twice")
    assert {cluster("start", "twice")} == urls
    port = int(urls.pop().rpartition(":")[2].partition("/")[0])
    cluster("stop", "twice")
    with socket.socket() as other:  # another program takes the port meanwhile
        other.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        other.bind(("127.0.0.1", port))
        other.listen()
        assert f":{port}/" not in cluster("start", "twice")


def test_a_port_that_is_taken_is_said_and_never_answered_for() -> None:
    with socket.socket() as other:
        other.bind(("127.0.0.1", 0))
        other.listen()
        with pytest.raises(click.ClickException, match=f"Port {other.getsockname()[1]} is taken by another program"):
            run.listening(other.getsockname()[1])


def test_without_a_port_that_was_asked_for_the_next_one_is_taken(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    with socket.socket() as other:
        other.bind(("127.0.0.1", 0))
        other.listen()
        monkeypatch.setattr(run, "PORT", other.getsockname()[1])
        with run.listening(None) as found:
            assert found.getsockname()[1] != other.getsockname()[1]
    assert "is taken by another program; this demo takes" in capsys.readouterr().err


def test_a_part_that_falls_over_is_started_again_until_it_does_so_too_often() -> None:
    part = Part("sleeper", [sys.executable, "-c", "import time; time.sleep(60)"])
    part.start()
    try:
        for _ in range(OFTEN):
            assert part.process is not None
            before = part.process.pid
            os.kill(before, signal.SIGKILL)
            part.process.wait()
            assert part.watch()
            assert part.process.pid != before
        os.kill(part.process.pid, signal.SIGKILL)
        part.process.wait()
        assert not part.watch()
    finally:
        part.end()


def test_a_part_is_ended_even_if_it_does_not_listen(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("longbreath.cli.parts.PATIENCE", 0.3)
    deaf = "import signal, time; signal.signal(signal.SIGTERM, signal.SIG_IGN); print('x', flush=True); time.sleep(60)"
    part = Part("deaf", [sys.executable, "-c", deaf])
    part.start()
    time.sleep(0.5)
    part.end()
    assert part.process is not None
    assert part.process.returncode == -signal.SIGKILL


def test_parts_end_with_whoever_started_them() -> None:
    starter = (
        "import sys, time; from longbreath.cli.parts import Part; "
        "p = Part('x', [sys.executable, '-c', 'import time; time.sleep(60)']); p.start(); "
        "print(p.process.pid, flush=True); time.sleep(60)"
    )
    parent = subprocess.Popen([sys.executable, "-c", starter], stdout=subprocess.PIPE, text=True, cwd=ROOT)
    assert parent.stdout is not None
    child = int(parent.stdout.readline())
    parent.kill()
    parent.wait()
    parent.stdout.close()
    for _ in range(50):
        if not _runs(child):
            break
        time.sleep(0.1)
    assert not _runs(child)


def _runs(pid: int) -> bool:
    try:
        with open(f"/proc/{pid}/stat") as stat:
            return stat.read().rpartition(")")[2].split()[0] != "Z"
    except FileNotFoundError:
        return False


def test_there_are_as_many_web_processes_as_cores_and_two_at_least() -> None:
    assert serve.settings("127.0.0.1:1", None)["workers"] == max(2, os.cpu_count() or 1)
    assert serve.settings("127.0.0.1:1", 5)["workers"] == 5


def test_each_command_is_found_and_loads_no_other() -> None:
    """A process of a server holds what it needs: a stand-in neither the pages nor the statistics."""
    context = click.Context(main)
    assert {name: found.name for name in COMMANDS if (found := main.get_command(context, name))} == dict(
        zip(COMMANDS, COMMANDS, strict=True)
    )
    assert main.get_command(context, "sweep") is None
    code = (
        "import sys; from longbreath.cli.main import main; main(['stand-in', 'bench', '--help'], standalone_mode=False)"
    )
    held = subprocess.check_output(
        [sys.executable, "-c", f"{code}; print('flask' in sys.modules, 'scipy' in sys.modules)"]
    )
    assert held.decode().splitlines()[-1] == "False False"

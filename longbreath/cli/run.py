"""The command line: longbreath demo-run, which bin/demo calls: database, demo data, stand-in, gateway, workers, web server."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
from contextlib import ExitStack
from pathlib import Path

import click
import psycopg

from longbreath.cli.parts import Part, Stopped, ignore_stops, keep_running, stop_when_told
from longbreath.cli.worker import QUEUES
from longbreath.demo.greet import wait_and_greet

CLUSTER = Path(__file__).parents[2] / "bin" / "cluster"
PORT = 8000
DEVICES = {"bench": 7070, "dyno": 7071, "logger": 7072, "weather": 7073, "tool": 7074}
"""Usual ports of the stand-ins, by what they stand in for."""
BACKLOG = 128


@click.command("demo-run")
@click.option(
    "--port", type=click.IntRange(1, 65535), help="Port of the pages; without it 8000, or the next that is free."
)
def demo_run(port: int | None) -> None:
    """Run the demo from this folder until Ctrl-C: every part is watched, and started again when it falls over."""
    stop_when_told()
    parts: list[Part] = []
    try:
        with ExitStack() as held:
            pages = held.enter_context(listening(port))
            _run(parts, pages, {kind: held.enter_context(device_socket(usual)) for kind, usual in DEVICES.items()})
    except Stopped:
        pass
    finally:
        ignore_stops()
        for part in reversed(parts):
            part.end()
        cluster("stop")


def _run(parts: list[Part], pages: socket.socket, devices: dict[str, socket.socket]) -> None:
    url, owner = cluster("start"), cluster("url", "owner")
    me = [sys.executable, "-m", "longbreath.cli.main"]
    told = {"LONGBREATH_DATABASE_URL": url}
    lines = [f"{kind}=socket://127.0.0.1:{held.getsockname()[1]}" for kind, held in devices.items()]
    told_lines = [word for line in lines for word in ("--device", line)]
    for command, more in ((["init"], {"LONGBREATH_OWNER_URL": owner}), (["demo", *told_lines], {})):
        if subprocess.run([*me, *command], env={**os.environ, **told, **more}, check=False).returncode:
            raise click.ClickException("The demo could not be set up; what went wrong stands above.")
    address = f"http://127.0.0.1:{pages.getsockname()[1]}"
    for part in (
        *_stand_ins(me, {kind: held.fileno() for kind, held in devices.items()}),
        Part("instrument gateway", [*me, "gateway"], told),
        *(Part(f"worker for {queue} work", [*me, "worker", "--queue", queue], told) for queue in QUEUES),
        Part("web server", [*me, "serve", "--bind", f"fd://{pages.fileno()}"], told, (pages.fileno(),)),
    ):
        part.start()
        parts.append(part)
    wait_and_greet(address)
    keep_running(parts, lambda: _mend_database(parts, told))


def _stand_ins(me: list[str], held: dict[str, int]) -> list[Part]:
    """The stand-ins of the demo, each on its held socket; dyno, logger and weather station see one engine."""
    cell = ["--fd", str(held["dyno"]), "--logger-fd", str(held["logger"]), "--weather-fd", str(held["weather"])]
    return [
        Part("stand-in bench", [*me, "stand-in", "bench", "--fd", str(held["bench"])], files=(held["bench"],)),
        Part("stand-in cell", [*me, "stand-in", "dyno", *cell], files=(held["dyno"], held["logger"], held["weather"])),
        Part("stand-in calliper", [*me, "stand-in", "calliper", "--fd", str(held["tool"])], files=(held["tool"],)),
    ]


def _mend_database(parts: list[Part], told: dict[str, str]) -> None:
    """Start the database again if it fell over; it keeps its port, so that everybody finds it again by themselves."""
    try:
        psycopg.connect(told["LONGBREATH_DATABASE_URL"].replace("+psycopg", ""), connect_timeout=5).close()
    except psycopg.OperationalError:
        click.echo("  The database does not answer; it is started again.", err=True)
        try:
            url = cluster("start")
        except click.ClickException as error:  # the next look tries again
            click.echo(f"  {error.message}", err=True)
            return
        if url != told["LONGBREATH_DATABASE_URL"]:  # another program took its port meanwhile
            told["LONGBREATH_DATABASE_URL"] = url
            for part in parts:
                if part.told is told:
                    part.end()


def cluster(verb: str, *more: str) -> str:
    """What bin/cluster prints for the demo's cluster. Raises ClickException if it fails."""
    done = subprocess.run([CLUSTER, verb, "demo", *more], capture_output=True, text=True, check=False)
    if done.returncode:
        said = done.stderr.strip().splitlines() or [f"bin/cluster {verb} demo failed."]
        raise click.ClickException(said[-1])
    return done.stdout.strip()


def listening(port: int | None) -> socket.socket:
    """A socket for the pages, held by us: nobody else can take its port while the web server is started again.

    Raises ClickException if the port that was asked for is taken.
    """
    if port is not None:
        try:
            return _listen(port)
        except OSError:
            words = f"Port {port} is taken by another program. Stop that one, or take another port: PORT=8100 bin/demo"
            raise click.ClickException(words) from None
    for candidate in range(PORT, PORT + 50):
        try:
            found = _listen(candidate)
        except OSError:
            continue
        if candidate != PORT:
            click.echo(f"  Port {PORT} is taken by another program; this demo takes {candidate}.", err=True)
        return found
    raise click.ClickException(f"No port from {PORT} to {PORT + 49} is free. Say which: PORT=… bin/demo")


def device_socket(usual: int) -> socket.socket:
    """A socket for a stand-in: the usual port, or any that is free."""
    try:
        return _listen(usual)
    except OSError:
        return _listen(0)


def _listen(port: int) -> socket.socket:
    made = socket.socket()
    try:
        made.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        made.bind(("127.0.0.1", port))
        made.listen(BACKLOG)
    except OSError:
        made.close()
        raise
    return made

"""Commands of devices: the gateway that owns them, and the stand-ins that ship with Long Breath."""

from __future__ import annotations

import secrets
import signal
import threading
from collections.abc import Callable, Sequence
from contextlib import suppress
from typing import TYPE_CHECKING

import click

from longbreath.cli.data import database_url

if TYPE_CHECKING:
    from longbreath.devices.standin import StandIn
    from longbreath.devices.standin_cell import SimulatedCell


@click.command()
@click.option(
    "--only", multiple=True, help="An address this gateway may open; may be given several times. All without it."
)
def gateway(only: tuple[str, ...]) -> None:
    """The instrument gateway: owns the devices of a bench or cell, and passes on what they say through the database."""
    from longbreath.jobs.gateway import Gateway
    from longbreath.store.database import Database

    stopping = threading.Event()
    for told in (signal.SIGTERM, signal.SIGINT):
        signal.signal(told, lambda *_: stopping.set())
    Gateway(Database(database_url()), only).run(stopping)


@click.group("stand-in")
def stand_in() -> None:
    """Simulated devices that ship with Long Breath."""


def _port(default: int) -> Callable[[Callable[..., None]], Callable[..., None]]:
    """The options by which a stand-in is told where to listen."""

    def decorate(command: Callable[..., None]) -> Callable[..., None]:
        command = click.option(
            "--fd", type=int, help="Number of a listening socket that is held open, instead of a port."
        )(command)
        told = "Port on loopback; 0 takes a free one."
        return click.option("--port", default=default, show_default=True, help=told)(command)

    return decorate


def _serve(servers: Sequence[StandIn]) -> None:
    """Serve until Ctrl-C."""
    for server in servers:
        click.echo(f"{server.device.name} at {server.url}")
    for server in servers[1:]:
        server.start()
    with suppress(KeyboardInterrupt):
        servers[0].serve_forever()
    for server in servers:
        server.stopping.set()
        server.server_close()


@stand_in.command("bench")
@_port(7070)
@click.option("--seed", default=7, show_default=True, help="Seed of its noise.")
def bench(port: int, fd: int | None, seed: int) -> None:
    """A flow bench that speaks the line protocol over TCP: motor, sagging column, ranges, noise, faults."""
    from longbreath.devices.standin import StandIn
    from longbreath.devices.standin_bench import SimulatedBench

    _serve([StandIn(SimulatedBench(seed=seed), port, fd)])


_ENGINE = click.option(
    "--engine", default="heron", show_default=True, help="Engine on the rollers: heron, turbo or drover."
)
_PACE = click.option(
    "--pace", default=1.0, show_default=True, help="Seconds of the engine in a second: 4 is four times as fast."
)
_SEED = click.option("--seed", default=7, show_default=True, help="Seed of its noise.")
_OWN_SEED = click.option("--seed", type=int, help="Seed of its noise; without it no start pulls what another one did.")


def _cell(engine: str, pace: float, seed: int | None) -> SimulatedCell:
    from longbreath.devices.made_torque import BEDS
    from longbreath.devices.standin_cell import SimulatedCell

    if engine not in BEDS:
        raise click.BadParameter(f"there is {', '.join(BEDS)}", param_hint="--engine")
    if not 0.1 <= pace <= 50.0:
        raise click.BadParameter("from 0.1 to 50", param_hint="--pace")
    return SimulatedCell(bed=engine, pace=pace, seed=secrets.randbelow(10**7) if seed is None else seed)


@stand_in.command("dyno")
@_port(7071)
@click.option("--logger-port", type=int, help="Port of a logger on the same engine.")
@click.option("--weather-port", type=int, help="Port of a weather station in the same cell.")
@click.option("--logger-fd", type=int, help="A held socket for the logger.")
@click.option("--weather-fd", type=int, help="A held socket for the weather station.")
@_ENGINE
@_PACE
@_OWN_SEED
def dyno(
    port: int,
    fd: int | None,
    logger_port: int | None,
    weather_port: int | None,
    logger_fd: int | None,
    weather_fd: int | None,
    engine: str,
    pace: float,
    seed: int | None,
) -> None:
    """An engine on a roller with inertia and brake, and, where asked, the logger and weather station beside it."""
    from longbreath.devices.standin import StandIn
    from longbreath.devices.standin_cell import Instrument

    cell = _cell(engine, pace, seed)
    servers = [StandIn(Instrument("dyno", cell), port, fd)]
    for kind, its_port, its_fd in (("logger", logger_port, logger_fd), ("weather", weather_port, weather_fd)):
        if its_port is not None or its_fd is not None:
            servers.append(StandIn(Instrument(kind, cell), its_port or 0, its_fd))
    _serve(servers)


@stand_in.command("logger")
@_port(7072)
@_ENGINE
@_PACE
@_OWN_SEED
def logger(port: int, fd: int | None, engine: str, pace: float, seed: int | None) -> None:
    """A logger alone, on an engine of its own."""
    from longbreath.devices.standin import StandIn
    from longbreath.devices.standin_cell import Instrument

    _serve([StandIn(Instrument("logger", _cell(engine, pace, seed)), port, fd)])


@stand_in.command("weather")
@_port(7073)
@_SEED
def weather(port: int, fd: int | None, seed: int) -> None:
    """A weather station alone."""
    from longbreath.devices.standin import StandIn
    from longbreath.devices.standin_cell import Instrument

    _serve([StandIn(Instrument("weather", _cell("heron", 1.0, seed)), port, fd)])


@stand_in.command("calliper")
@_port(7074)
@_SEED
def calliper(port: int, fd: int | None, seed: int) -> None:
    """A calliper with a key that sends its reading: `press 57.15` as a line over TCP is its key."""
    from longbreath.devices.standin import StandIn
    from longbreath.devices.standin_tool import SimulatedTool

    _serve([StandIn(SimulatedTool(seed=seed), port, fd)])

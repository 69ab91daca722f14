"""Commands of devices: the gateway that owns them, and the stand-ins that ship with Long Breath."""

from __future__ import annotations

import signal
import threading

import click

from longbreath.cli.data import database_url


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


@stand_in.command("bench")
@click.option("--port", default=7070, show_default=True, help="Port on loopback; 0 takes a free one.")
@click.option("--fd", type=int, help="Number of a listening socket that is held open, instead of a port.")
@click.option("--seed", default=7, show_default=True, help="Seed of its noise.")
def bench(port: int, fd: int | None, seed: int) -> None:
    """A flow bench that speaks the line protocol over TCP: motor, sagging column, ranges, noise, faults."""
    from longbreath.devices.standin import StandIn
    from longbreath.devices.standin_bench import SimulatedBench

    server = StandIn(SimulatedBench(seed=seed), port, fd)
    click.echo(f"stand-in bench at {server.url}")
    try:
        server.serve_forever()
    except KeyboardInterrupt:
        server.stopping.set()
    server.server_close()

"""Commands of devices: the stand-ins that ship with Long Breath."""

from __future__ import annotations

import click


@click.group("stand-in")
def stand_in() -> None:
    """Simulated devices that ship with Long Breath."""


@stand_in.command("bench")
@click.option("--port", default=7070, show_default=True, help="Port on loopback; 0 takes a free one.")
@click.option("--seed", default=7, show_default=True, help="Seed of its noise.")
def bench(port: int, seed: int) -> None:
    """A flow bench that speaks the line protocol over TCP: motor, sagging column, ranges, noise, faults."""
    from longbreath.devices.standin_bench import SimulatedBench, StandIn

    server = StandIn(port, SimulatedBench(seed=seed))
    click.echo(f"stand-in bench at {server.url}")
    try:
        server.serve_forever()
    except KeyboardInterrupt:
        server.stopping.set()
    server.server_close()

"""The command line: longbreath init, demo, stand-in, reckon, simulate, seed, free-port."""

from __future__ import annotations

import json
import os
import socket
import sys
from typing import Any

import click

from longbreath.cli.simulate import simulate
from longbreath.core.basis import units, working
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.register import Answer, Reckoning, all_reckonings, reckoning_named


@click.group(context_settings={"help_option_names": ["-h", "--help"]})
def main() -> None:
    """Long Breath: the development desk for intake and exhaust parts."""


main.add_command(simulate)


def _url() -> str:
    url = os.environ.get("LONGBREATH_DATABASE_URL", "")
    if not url:
        raise click.ClickException(
            "LONGBREATH_DATABASE_URL is not set. bin/demo sets it; so does: bin/cluster url demo"
        )
    return url


@main.command()
def init() -> None:
    """Bring the database to the newest migration."""
    from longbreath.store.database import upgrade

    upgrade(_url())


@main.command()
@click.option("--greeting", help="Wait until the server at this address answers, then print address and log-ins.")
@click.option(
    "--bench", "bench_url", help="Where the live bench of the demo answers, for example socket://127.0.0.1:7070."
)
def demo(greeting: str | None, bench_url: str | None) -> None:
    """Load the demo data (once), or greet."""
    from longbreath.demo import greet, load

    if greeting:
        greet.wait_and_greet(greeting)
    else:
        load.load_demo(_url())
        if bench_url is not None:
            load.connect_bench(_url(), bench_url)


@main.group("stand-in")
def stand_in() -> None:
    """Simulated devices that ship with Long Breath."""


@stand_in.command("bench")
@click.option("--port", default=7070, show_default=True, help="Port on loopback; 0 takes a free one.")
@click.option("--seed", default=7, show_default=True, help="Seed of its noise.")
def stand_in_bench(port: int, seed: int) -> None:
    """A flow bench that speaks the line protocol over TCP: motor, sagging column, ranges, noise, faults."""
    from longbreath.devices.standin_bench import SimulatedBench, StandIn

    server = StandIn(port, SimulatedBench(seed=seed))
    click.echo(f"stand-in bench at {server.url}")
    try:
        server.serve_forever()
    except KeyboardInterrupt:
        server.stopping.set()
    server.server_close()


@main.command()
@click.option("--times", default=100, show_default=True, help="How many times the demo application is laid down.")
def seed(times: int) -> None:
    """Fill the database with many copies of the demo application, for measuring speed."""
    from longbreath.demo import load

    load.load_many(_url(), times)


@main.command("free-port")
@click.argument("wanted", type=int)
def free_port(wanted: int) -> None:
    """Print WANTED if that port is free on loopback, else another free port."""
    for port in (wanted, 0):
        with socket.socket() as probe:
            try:
                probe.bind(("127.0.0.1", port))
            except OSError:
                continue
            click.echo(probe.getsockname()[1])
            return


@main.command()
@click.argument("name", required=False)
@click.argument("inputs", nargs=-1, metavar="[FIELD=VALUE]...")
@click.option("--list", "listing", is_flag=True, help="Name every reckoning with its fields.")
@click.option("--json", "as_json", is_flag=True, help="SI values, display values and working as JSON.")
@click.option("--units", "system", type=click.Choice(units.SYSTEMS), default="metric", show_default=True)
def reckon(name: str | None, inputs: tuple[str, ...], listing: bool, as_json: bool, system: str) -> None:
    """Reckon NAME with FIELD=VALUE …, for example: tube_inside outside_diameter="2-1/2 in" wall="0.065 in"."""

    if listing or not name:
        _list()
        return
    try:
        found = reckoning_named(name)
    except InputError as error:
        raise click.ClickException(error.message) from None
    answer = found.answer(_split(inputs), system)
    if as_json:
        click.echo(json.dumps(_as_json(found, answer), indent=2, ensure_ascii=False))
    else:
        _print(found, answer, system)
    if answer.errors:
        sys.exit(2)


def _list() -> None:
    for found in all_reckonings():
        click.echo(f"{found.name:20} {found.title}")
        for item in found.fields:
            optional = "" if item.required else " (optional)"
            click.echo(f"{'':20}   {item.name}={item.example!r}  {item.label}{optional}")


def _split(inputs: tuple[str, ...]) -> dict[str, str]:
    texts = {}
    for text in inputs:
        key, sign, value = text.partition("=")
        if not sign:
            raise click.ClickException(f"“{text}” is not of the form field=value.")
        texts[key] = value
    return texts


def _as_json(found: Reckoning, answer: Answer) -> dict[str, Any]:
    if answer.errors:
        return {"name": found.name, "errors": answer.errors}
    return {
        "name": found.name,
        "understood": answer.understood,
        "figures": [figure.to_dict() for figure in answer.figures],
    }


def _print(found: Reckoning, answer: Answer, system: str) -> None:
    for field, sentence in answer.errors.items():
        click.echo(f"{field}: {sentence}", err=True)
    for figure in answer.figures:
        click.echo(f"{figure.label}: {figure.text(system)}")
    if answer.figures:
        last = answer.figures[-1].working
        for given in last.givens:
            click.echo(f"  {given.symbol} = {working.shown(given, system)}   {given.meaning}")
        for step in last.steps:
            click.echo(f"  {step.symbol} = {step.formula} = {working.shown(step, system)}")
        click.echo(f"  Source: {last.source}")
        for note in last.notes:
            click.echo(f"  {note}")

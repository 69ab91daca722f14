"""The command `longbreath reckon`: every reckoning of the register, as text or JSON."""

from __future__ import annotations

import json
import sys

import click

from longbreath.core.basis import units, working
from longbreath.core.basis.errors import InputError
from longbreath.core.basis.register import Answer, all_reckonings, reckoning_named
from longbreath.core.basis.working import Figure


@click.command()
@click.argument("name", required=False)
@click.argument("inputs", nargs=-1, metavar="[FIELD=VALUE]...")
@click.option("--list", "listing", is_flag=True, help="Name every reckoning with its fields.")
@click.option("--json", "as_json", is_flag=True, help="SI values, display values, workings and judgement as JSON.")
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
        click.echo(json.dumps(answer.to_dict(found.name, system), indent=2, ensure_ascii=False))
    else:
        _print(answer, system)
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


def _print(answer: Answer, system: str) -> None:
    for field, sentence in answer.errors.items():
        click.echo(f"{field}: {sentence}", err=True)
    for figure in answer.figures:
        click.echo(f"{figure.label}: {figure.text(system)}")
        _print_working(figure, system)
    if answer.judgement is not None:
        click.echo(answer.judgement.words(system))


def _print_working(figure: Figure, system: str) -> None:
    made = figure.working
    for given in made.givens:
        click.echo(f"    {given.symbol} = {working.shown(given, system)}   {given.meaning}")
    for step in made.steps:
        click.echo(f"    {step.symbol} = {step.formula} = {working.shown(step, system)}")
    click.echo(f"    Source: {made.source}")
    for note in made.notes:
        click.echo(f"    {note}")

"""The command line: longbreath case APPLICATION, a dossier as a simulation case."""

from __future__ import annotations

import sys

import click

from longbreath.cli.data import database_url

EXIT_MISSING = 4


@click.command()
@click.argument("application", type=int)
@click.option(
    "--part", type=click.Choice(["A", "B"]), default="B", show_default=True, help="With stock, or the product."
)
def case(application: int, part: str) -> None:
    """Print the measured dossier of APPLICATION (the number in its address) as a simulation case.

    What was assumed goes to the error output; so does what is missing, and then there is no case (exit 4).
    """
    from longbreath.dossier.simulate.case import case_of
    from longbreath.store.database import Database
    from longbreath.store.models import Application

    with Database(database_url()).session() as db:
        found = db.get(Application, application)
        if found is None:
            raise click.ClickException(f"There is no application {application}.")
        bridged = case_of(db, found, part)
    for words in bridged.assumed:
        click.echo(f"assumed: {words}", err=True)
    for words in bridged.missing:
        click.echo(f"missing: {words}", err=True)
    if bridged.case is None:
        sys.exit(EXIT_MISSING)
    click.echo(bridged.case.model_dump_json(by_alias=True, exclude_none=True, exclude_defaults=True, indent=2))

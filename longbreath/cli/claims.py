"""The command line: longbreath claims, which makes every published claim again and lists what moved."""

from __future__ import annotations

import click

from longbreath.cli.data import database_url


@click.command("claims")
def claims() -> None:
    """Make every published claim again from the records and list each figure that moved; exit status 1 if any did."""
    from longbreath.dossier.claim.moved import moved
    from longbreath.store.database import Database
    from longbreath.store.unit_of_work import working

    database = Database(database_url())
    with working(database.session) as work:
        rows = [row.words for row in moved(work)]
    database.engine.dispose()
    for words in rows:
        click.echo(words)
    click.echo(f"{len(rows)} moved." if rows else "Nothing moved.")
    raise SystemExit(1 if rows else 0)

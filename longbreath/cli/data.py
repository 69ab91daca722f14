"""Commands of the database and the demo: init, keep, demo, seed."""

from __future__ import annotations

import os
import time

import click


def database_url() -> str:
    """The address of the database, from the environment."""
    url = os.environ.get("LONGBREATH_DATABASE_URL", "")
    if not url:
        raise click.ClickException(
            "LONGBREATH_DATABASE_URL is not set. bin/demo sets it; so does: bin/cluster url demo"
        )
    return url


def owner_url() -> str:
    """The address of the database for the owner of its tables, from the environment."""
    url = os.environ.get("LONGBREATH_OWNER_URL", "")
    if not url:
        words = "LONGBREATH_OWNER_URL is not set: migrations run as the owner of the tables. See: bin/cluster url demo owner"
        raise click.ClickException(words)
    return url


@click.command()
def init() -> None:
    """Bring the database to the newest migration, as its owner, admit the application's own user, and weigh anew what changed."""
    from longbreath.dossier import subscribers
    from longbreath.dossier.evidence.verdict import renew_changed
    from longbreath.dossier.pull.twins import mark_all
    from longbreath.store.database import Database, upgrade
    from longbreath.store.privileges import admit
    from longbreath.store.unit_of_work import working

    url, owner = database_url(), owner_url()
    try:
        upgrade(owner)
        admit(owner, url)
    except ValueError as error:
        raise click.ClickException(str(error)) from None
    subscribers.attach()
    database = Database(url)
    with working(database.session) as work:
        mark_all(work)
        renew_changed(work)
    database.engine.dispose()


@click.command()
def keep() -> None:
    """Make whatever is kept of dossiers (summaries, tests, verdicts of claims) that is not kept of the records as they stand."""
    from longbreath.dossier.keeping import keep_all
    from longbreath.store.database import Database

    database = Database(database_url())
    click.echo(f"{keep_all(database.session)} dossiers looked at.")
    database.engine.dispose()


@click.command()
@click.option("--greeting", help="Wait until the server at this address answers, then print address and log-ins.")
@click.option(
    "--device", "devices", multiple=True, help="Where a stand-in answers: bench=socket://127.0.0.1:7070, dyno=…"
)
@click.option("--words", is_flag=True, help="Print what an entry of a shop may say by `do`, and the fields of each.")
def demo(greeting: str | None, devices: tuple[str, ...], words: bool) -> None:
    """Load the demo data (once), greet, or say what an entry of a shop may hold."""
    from longbreath.demo import greet, load
    from longbreath.demo.story import StoryError
    from longbreath.demo.vocabulary import vocabulary

    if words:
        click.echo("\n".join(vocabulary()))
        return
    if greeting:
        greet.wait_and_greet(greeting)
        return
    try:
        began = time.monotonic()
        if load.load_demo(database_url(), lambda chapter: click.echo(f"  loading {chapter} …")):
            click.echo(f"  loaded in {time.monotonic() - began:.0f} s")
    except StoryError as error:
        raise click.ClickException(str(error)) from None
    if devices:
        load.connect(database_url(), dict(line.split("=", 1) for line in devices))


@click.command()
@click.option("--times", default=100, show_default=True, help="How many times the demo application is laid down.")
def seed(times: int) -> None:
    """Fill the database with many copies of the demo application, for measuring speed."""
    from longbreath.demo import many

    many.load_many(database_url(), times)

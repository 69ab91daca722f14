"""The command line: longbreath verify, which checks an evidence bundle without database, server or network."""

from __future__ import annotations

import json
from pathlib import Path

import click

from longbreath.proof.verify import NOTE, OK, verify

MARKS = {OK: "agrees   ", NOTE: "note     "}


@click.command("verify")
@click.argument("bundle", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option(
    "--key", "keys", multiple=True, help="Public key (hexadecimal) that you trust; may be given several times."
)
@click.option("--json", "as_json", is_flag=True, help="For machines.")
def verify_bundle(bundle: Path, keys: tuple[str, ...], as_json: bool) -> None:
    """Check BUNDLE: packing, hashes, signature, raw files, and every figure of its claim made again.

    Exit status 0 if everything agrees, 1 if anything does not.
    """
    report = verify(bundle.read_bytes(), [key.strip().lower() for key in keys])
    if as_json:
        click.echo(json.dumps(report.to_dict(), ensure_ascii=False, indent=1))
    else:
        click.echo(report.title)
        click.echo(report.statement)
        for check in report.checks:
            click.echo(f"  {MARKS.get(check.state, 'DISAGREES')} {check.name}: {check.words}")
        click.echo("Everything agrees." if report.holds else "It does not hold: see what disagrees above.")
    raise SystemExit(0 if report.holds else 1)

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
    "--key",
    "keys",
    multiple=True,
    help="Public key (hexadecimal) of the house, got from the house itself (its page /claims/keys.json); may be given several times.",
)
@click.option("--json", "as_json", is_flag=True, help="For machines.")
def verify_bundle(bundle: Path, keys: tuple[str, ...], as_json: bool) -> None:
    """Check BUNDLE: packing, hashes, signature, raw files, and every figure of its claim made again.

    Exit status 0 if everything agrees, 1 if anything does not: a signature by a key that was not named with --key is the first line,
    and does not agree, whatever the bundle says of itself.
    """
    report = verify(bundle.read_bytes(), [key.strip().lower() for key in keys])
    if as_json:
        click.echo(json.dumps(report.to_dict(), ensure_ascii=False, indent=1))
    else:
        for check in report.checks:
            click.echo(f"{MARKS.get(check.state, 'DISAGREES')} {check.name}: {check.words}")
        if report.holds:
            click.echo(f"Everything agrees.\n\n{report.title}\n{report.statement}")
        else:
            click.echo("It does not hold: see what disagrees above. What it says of itself is not printed.")
    raise SystemExit(0 if report.holds else 1)

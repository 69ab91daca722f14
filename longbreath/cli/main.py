"""The command `longbreath`."""

from __future__ import annotations

import click

from longbreath.cli.case import case
from longbreath.cli.claims import claims
from longbreath.cli.data import demo, init, keep, seed
from longbreath.cli.devices import gateway, stand_in
from longbreath.cli.reckon import reckon
from longbreath.cli.run import demo_run
from longbreath.cli.serve import serve
from longbreath.cli.simulate import simulate
from longbreath.cli.verify import verify_bundle
from longbreath.cli.worker import worker


@click.group(context_settings={"help_option_names": ["-h", "--help"]})
def main() -> None:
    """Long Breath: the development desk for intake and exhaust parts."""


for command in (
    reckon,
    simulate,
    case,
    verify_bundle,
    claims,
    init,
    demo,
    seed,
    keep,
    demo_run,
    serve,
    gateway,
    worker,
    stand_in,
):
    main.add_command(command)


if __name__ == "__main__":
    main()

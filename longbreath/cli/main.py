"""The command `longbreath`."""

from __future__ import annotations

import click

from longbreath.cli.case import case
from longbreath.cli.data import demo, free_port, init, seed
from longbreath.cli.devices import stand_in
from longbreath.cli.reckon import reckon
from longbreath.cli.simulate import simulate


@click.group(context_settings={"help_option_names": ["-h", "--help"]})
def main() -> None:
    """Long Breath: the development desk for intake and exhaust parts."""


for command in (reckon, simulate, case, init, demo, seed, free_port, stand_in):
    main.add_command(command)

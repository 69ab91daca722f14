"""The command `longbreath`."""

from __future__ import annotations

from importlib import import_module

import click

COMMANDS = {
    "reckon": "reckon:reckon",
    "simulate": "simulate:simulate",
    "case": "case:case",
    "verify": "verify:verify_bundle",
    "claims": "claims:claims",
    "init": "data:init",
    "demo": "data:demo",
    "seed": "data:seed",
    "keep": "data:keep",
    "demo-run": "run:demo_run",
    "serve": "serve:serve",
    "gateway": "devices:gateway",
    "worker": "worker:worker",
    "stand-in": "devices:stand_in",
}
"""Where each command stands in this room: module and name."""


class OneAtATime(click.Group):
    """Loads the command that is asked for and no other: of a server's processes each holds what it needs."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        """Their names, in order."""
        return sorted(COMMANDS)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        """The command of that name, or None."""
        if cmd_name not in COMMANDS:
            return None
        module, _, name = COMMANDS[cmd_name].partition(":")
        found: click.Command = getattr(import_module(f"longbreath.cli.{module}"), name)
        return found


@click.group(cls=OneAtATime, context_settings={"help_option_names": ["-h", "--help"]})
def main() -> None:
    """Long Breath: the development desk for intake and exhaust parts."""


if __name__ == "__main__":
    main()

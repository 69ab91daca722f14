"""The command line: longbreath simulate CASE.json."""

from __future__ import annotations

import json
import sys
from pathlib import Path

import click

from longbreath.core.basis.errors import InputError, LongBreathError

CASES = Path(__file__).parents[1] / "demo" / "cases"
EXIT_INPUT, EXIT_NOT_REPEATED = 2, 3


def shipped() -> list[str]:
    """Names of the cases that ship."""
    return sorted(path.stem for path in CASES.glob("*.json"))


def _file(case: str) -> Path:
    path = Path(case)
    if not path.exists() and path.stem in shipped() and path.parent == Path("."):
        return CASES / f"{path.stem}.json"
    return path


@click.command()
@click.argument("case", required=False)
@click.option(
    "--rpm", help="Speeds: from:to:step as 1500:7000:400, or a list as 3000,4500. Without it those of the case."
)
@click.option("--json", "as_json", is_flag=True, help="Everything as JSON instead of a table.")
@click.option("--traces", is_flag=True, help="With --json: pressure and velocity at every station over the cycle.")
@click.option(
    "--tolerance", default=0.0005, show_default=True, help="How near to its settled value a run ends, as a share."
)
@click.option("--cycles", default=80, show_default=True, help="Give up after so many cycles.")
@click.option("--workers", type=int, help="Processes; all cores without it.")
@click.option("--schema", is_flag=True, help="Print the JSON schema of a case and stop.")
@click.option("--list", "listing", is_flag=True, help="Name the cases that ship.")
@click.option("--compile", "compiling", is_flag=True, help="Compile the solver into its cache if need be, and stop.")
def simulate(
    case: str | None,
    rpm: str | None,
    as_json: bool,
    traces: bool,
    tolerance: float,
    cycles: int,
    workers: int | None,
    schema: bool,
    listing: bool,
    compiling: bool,
) -> None:
    """Simulate the gas exchange of CASE.json (or of a case that ships, by name) at several speeds.

    Ranks designs and finds tuned speeds; it does not know the absolute power of a real engine.
    """
    from longbreath.formats import wave_case

    if listing:
        for name in shipped():
            click.echo(f"{name:10} {wave_case.load_case(CASES / f'{name}.json').name}")
        return
    if compiling:
        from longbreath.jobs.sweep import compile_once

        made = compile_once(wave_case.load_case(CASES / "skim.json").to_engine())
        click.echo("The solver is compiled." if made else "The solver was compiled before.", err=True)
        return
    if schema:
        click.echo(json.dumps(wave_case.Case.model_json_schema(by_alias=True), indent=2))
        return
    if not case:
        raise click.UsageError(f"Name a case file, or one that ships: {', '.join(shipped())}.")
    try:
        read = wave_case.load_case(_file(case))
        engine, speeds = read.to_engine(), wave_case.speeds(rpm or read.rpm)
        _check(tolerance, cycles, workers)
    except LongBreathError as error:
        field = f"{error.field}: " if isinstance(error, InputError) and error.field not in ("", "case", "rpm") else ""
        click.echo(f"{field}{error.message}", err=True)
        raise SystemExit(EXIT_INPUT) from None
    from longbreath.core.wave.compiled import is_compiled
    from longbreath.jobs import simulation

    if not is_compiled():
        click.echo("Compiling the solver for this machine; the next run takes it from the cache …", err=True)
    with click.progressbar(length=len(speeds), label=read.name, file=sys.stderr) as bar:
        done = simulation.run(
            engine, speeds, lambda _: bar.update(1), workers=workers, tolerance=tolerance, most=cycles
        )
    if as_json:
        click.echo(json.dumps(simulation.as_json(read.name, done, tolerance, traces), ensure_ascii=False, indent=2))
    else:
        click.echo("\n".join([*simulation.table(done), *simulation.cautions(engine)]))
    if any(item.point is None or not item.point.converged for item in done):
        raise SystemExit(EXIT_NOT_REPEATED)


def _check(tolerance: float, cycles: int, workers: int | None) -> None:
    if not 0 < tolerance < 0.5:
        raise InputError("A tolerance lies between 0 and 0.5.", "tolerance")
    if not 1 <= cycles <= 1000:
        raise InputError("From 1 to 1,000 cycles.", "cycles")
    if workers is not None and not 1 <= workers <= 64:
        raise InputError("From 1 to 64 processes.", "workers")

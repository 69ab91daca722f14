"""Sweeps over processes, and longbreath simulate as a person types it."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pytest
from click.testing import CliRunner, Result

from longbreath.cli.main import main
from longbreath.cli.simulate import CASES
from longbreath.core.path.sections import round_section
from longbreath.core.wave.cycle import Cancelled, simulate
from longbreath.core.wave.engine import Box, Exhaust
from longbreath.core.wave.mesh import PipePiece
from longbreath.formats.wave_case import read_case
from longbreath.jobs import simulation
from longbreath.jobs.sweep import Task, points, sweep
from tests.core.wave.singles import RPM, single

SPEEDS = [n * RPM for n in (3000, 5000, 4000)]


def command(*words: str) -> subprocess.CompletedProcess[str]:
    """Run longbreath simulate in a process of its own."""
    code = "from longbreath.cli.main import main\nif __name__ == '__main__':\n    main()"
    return subprocess.run([sys.executable, "-c", code, "simulate", *words], capture_output=True, text=True, timeout=300)


@pytest.mark.slow
def test_a_sweep_gives_what_single_runs_give_in_the_callers_order() -> None:
    told: list[int] = []
    done = simulation.run(single(), SPEEDS, lambda d: told.append(d.task.key), workers=2)
    assert [round(d.task.speed / RPM) for d in done] == [3000, 5000, 4000]
    assert sorted(told) == [0, 1, 2]
    alone = simulate(single(), SPEEDS[1])
    assert done[1].point is not None
    assert done[1].point.filling == alone.filling
    assert done[1].point.brake_torque == alone.brake_torque


def test_variants_run_beside_each_other_and_one_that_breaks_down_stops_none() -> None:
    pipe = PipePiece(0.25, round_section(0.038), round_section(0.038))
    tiny = single(exhaust=Exhaust([[pipe, Box(1e-9), pipe]], [[1]]))
    good, bad = points([Task(0, single(), SPEEDS[0]), Task(1, tiny, SPEEDS[0])], workers=2)
    assert good.point is not None
    assert bad.point is None
    assert "broke down" in bad.error or "ran empty" in bad.error
    assert "failed: " in simulation.table([good, bad])[2]
    assert simulation.as_json("x", [bad], 0.001, False)["speeds"][0]["error"] == bad.error


def test_a_sweep_is_cancelled() -> None:
    asked: list[int] = []

    def cancelled() -> bool:
        asked.append(1)
        return len(asked) > 2

    tasks = [Task(k, single(cell=0.004), 2000 * RPM) for k in range(30)]
    with pytest.raises(Cancelled, match="was cancelled"):
        list(sweep(tasks, workers=1, cancelled=cancelled))


def test_a_turbine_takes_work_and_the_energy_still_balances() -> None:
    """Isentropic work times its efficiency leaves the gas; a smaller turbine takes more (first principles)."""
    case = json.loads((CASES / "heron.json").read_text())
    case["exhaust"] |= {
        "collector": [{"length_mm": 100, "diameter_mm": 50}],
        "system": [{"length_mm": 400, "diameter_mm": 60}],
    }
    case["intake"]["boost"] = {"pressure_ratio": 1.6, "cooler_effectiveness": 0.6}
    found = []
    for area in (900, 600):
        case["exhaust"]["turbine"] = {"area_mm2": area}
        found.append(simulate(read_case(json.dumps(case)).to_engine(), 4000 * RPM))
    large, small = found
    assert 2e3 < large.turbine_power < small.turbine_power
    assert small.pumping < large.pumping
    assert abs(small.balance) < 1e-9
    assert large.filling > 1.3
    case["exhaust"]["turbine"] = {"area_mm2": 900, "efficiency": 0.325}
    poor = simulate(read_case(json.dumps(case)).to_engine(), 4000 * RPM)
    assert poor.turbine_power == pytest.approx(large.turbine_power / 2, rel=0.1)


@pytest.mark.slow
def test_the_command_prints_a_table_and_json() -> None:
    done = command("skim", "--rpm", "7000,9000")
    assert done.returncode == 0, done.stderr
    assert "Skim 172" in done.stderr
    lines = done.stdout.splitlines()
    assert [line.split()[0] for line in lines[:3]] == ["rpm", "7000", "9000"]
    assert "not the absolute power" in lines[-2]
    assert "compare pipes, do not read speeds" in lines[-1]
    found = json.loads(inside("skim", "--rpm", "9000", "--json", "--traces").stdout)
    speed = found["speeds"][0]
    assert speed["converged"]
    assert f"{speed['brake_power_kw']:.1f}" in lines[2]
    assert len(speed["traces"]["primary 1"]["pressure_kpa"]) == 720
    assert abs(speed["energy_balance"]) < 1e-9


def inside(*words: str) -> Result:
    """The command within this process."""
    return CliRunner().invoke(main, ["simulate", *words])


def test_the_command_says_what_is_wrong_and_what_did_not_repeat(tmp_path: Path) -> None:
    wrong = tmp_path / "wrong.json"
    wrong.write_text((CASES / "skim.json").read_text().replace('"bore_mm"', '"boar_mm"'))
    done = inside(str(wrong))
    assert done.exit_code == 2
    assert done.stderr == "engine.bore_mm: this is missing.\nengine.boar_mm: there is no such key.\n"
    assert inside("nothing.json").exit_code == 2
    assert "from:to:step" in inside("skim", "--rpm", "fast").stderr
    assert "tolerance: A tolerance lies" in inside("skim", "--tolerance", "0").stderr
    short = inside("skim", "--rpm", "9000", "--cycles", "2", "--workers", "1")
    assert short.exit_code == 3
    assert "not settled: still about" in short.stdout


def test_the_command_lists_and_describes_cases_and_compiles() -> None:
    assert [line.split()[0] for line in inside("--list").stdout.splitlines()] == ["drover", "heron", "skim"]
    schema = json.loads(inside("--schema").stdout)
    assert schema["additionalProperties"] is False
    assert "lambda" in schema["$defs"]["BurnIn"]["properties"]
    assert "Name a case file" in inside().stderr
    simulate(single(), SPEEDS[0], most=1)
    assert "compiled before" in inside("--compile").stderr

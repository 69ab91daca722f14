"""From an engine to a network: chambers, lines, plenum, merges, and which gate is whose."""

from __future__ import annotations

from dataclasses import dataclass, field
from math import pi

from longbreath.core.basis.errors import InputError
from longbreath.core.wave import rooms
from longbreath.core.wave.engine import Box, Line, Throttle, Turbine, WaveEngine
from longbreath.core.wave.mesh import Array, PipePiece, continuous, end_piece
from longbreath.core.wave.network import Network
from longbreath.core.wave.parts import Duct, End, Start


@dataclass
class Built:
    """A network with its book of numbers: chambers, and the gates that let in and out of each; case rooms of a two-stroke."""

    net: Network
    chambers: list[int] = field(default_factory=list)
    intake_gates: list[list[int]] = field(default_factory=list)
    exhaust_gates: list[list[int]] = field(default_factory=list)
    cases: list[int] = field(default_factory=list)
    mouths: list[int] = field(default_factory=list)


def build(engine: WaveEngine) -> Built:
    """The network of an engine. Raises InputError where its parts do not fit together."""
    made = Built(Network(engine.cell, engine.fresh, engine.burned))
    chambers = _chambers(engine, made)
    runner_ends = _intake(engine, made)
    primary_ends = _exhaust(engine, made)
    for k in range(engine.cylinders):
        _breathe(engine, made, chambers[k], runner_ends[k], primary_ends[k])
    return made


def _phase(engine: WaveEngine, cylinder: int) -> float:
    """How much later than cylinder 1 a cylinder (from 0) fires [rad]."""
    spacing = 2.0 * pi if engine.kind == "rotary" else engine.cycle
    return engine.firing_order.index(cylinder + 1) * spacing / engine.cylinders


def _chambers(engine: WaveEngine, made: Built) -> list[list[tuple[int, float]]]:
    """Rooms of each cylinder with their phase [rad]; three to a rotor."""
    found = []
    c = engine.chamber
    start = Start(engine.air.pressure, 400.0, 0.1)
    quarter = engine.cycle / 4.0
    pumping = (quarter, 3.0 * quarter) if engine.kind != "two-stroke" else (0.0, 0.0)
    for k in range(engine.cylinders):
        of_cylinder = []
        for j in range(3 if engine.kind == "rotary" else 1):
            phase = _phase(engine, k) + j * 2.0 * pi
            burn = (-engine.burn.start) % engine.cycle
            common = {
                "base": c.clearance,
                "offset": phase,
                "cycle": engine.cycle,
                "wall_t": c.wall,
                "heat_factor": c.film,
                "burn_start": burn,
                "burn_length": engine.burn.length if engine.burn.heat > 0 else 0.0,
                "burn_shape": engine.burn.shape,
                "burn_heat": engine.burn.heat,
                "trap": burn,
                "pump_from": pumping[0],
                "pump_to": pumping[1],
                "stroke": c.stroke,
                "strata": engine.scavenging.strata if engine.scavenging else 1.0,
            }
            if engine.kind == "rotary":
                surface = 6.0 * c.rotor ** (2.0 / 3.0)
                room = made.net.moving(start, kind=rooms.ROTOR, piston=c.rotor, surface=surface, **common)
            else:
                face = pi / 4.0 * c.bore**2
                room = made.net.moving(
                    start,
                    kind=rooms.CRANKED,
                    piston=face,
                    crank=c.stroke / 2.0,
                    rod=c.rod,
                    surface=2.2 * face,
                    girth=pi * c.bore,
                    **common,
                )
            made.chambers.append(room)
            made.intake_gates.append([])
            made.exhaust_gates.append([])
            of_cylinder.append((room, phase))
        found.append(of_cylinder)
    return found


def lay(
    net: Network, line: Line, start: Start, name: str, first_end: float = 0.0, last_end: float = 0.0
) -> tuple[End, End]:
    """Lay a line; returns its first and last end. Stations “name”, “name 2” … in the middle of each piece.

    first_end, last_end: end correction of an end that opens into the air or a wide room, in radii [1].
    """
    runs, between = _runs(line, name)
    ends: list[tuple[End, End]] = []
    watched = 0
    for k, run in enumerate(runs):
        before = [end_piece(run[0].entry, first_end)] if first_end and k == 0 else []
        after = [end_piece(run[-1].exit, last_end)] if last_end and k == len(runs) - 1 else []
        ducts = net.pipe([*before, *run, *after], start)
        watched = _watch(net, ducts, continuous([*before, *run, *after]), run, name, watched)
        ends.append((ducts[0].start, ducts[-1].finish))
    for item, (_, last), (following, _) in zip(between, ends, ends[1:], strict=False):
        _join(net, last, item, following, start)
    return ends[0][0], ends[-1][1]


def _runs(line: Line, name: str) -> tuple[list[list[PipePiece]], list[Box | Throttle]]:
    """A line as its runs of pipe, and what stands between them. Raises InputError unless they take turns, pipe at both ends."""
    runs: list[list[PipePiece]] = [[]]
    between: list[Box | Throttle] = []
    for item in line:
        if isinstance(item, PipePiece):
            runs[-1].append(item)
        else:
            between.append(item)
            runs.append([])
    if not runs[0] or not runs[-1]:
        raise InputError("A line begins and ends with a piece of pipe.", name)
    if not all(runs):
        raise InputError("Between two volumes or throttles there is a piece of pipe.", name)
    return runs, between


def _watch(
    net: Network, ducts: list[Duct], runs: list[list[PipePiece]], pieces: list[PipePiece], name: str, watched: int
) -> int:
    """A station in the middle of each piece; returns how many the line has."""
    for duct, run in zip(ducts, runs, strict=True):
        total, so_far = sum(p.length for p in run), 0.0
        for piece in run:
            if any(piece is p for p in pieces):
                watched += 1
                label = name if watched == 1 else f"{name} {watched}"
                net.station(label, duct, (so_far + piece.length / 2.0) / total)
            so_far += piece.length
    return watched


def _join(net: Network, before: End, between: Box | Throttle, after: End, start: Start) -> None:
    if isinstance(between, Throttle):
        net.step(before, after, between.area)
        return
    room = net.volume(between.size, start)
    net.open_end(before, room, 0.5)
    net.open_end(after, room, between.exit_loss)


def _intake(engine: WaveEngine, made: Built) -> list[End]:
    """The runners' ends at the ports."""
    net, intake = made.net, engine.intake
    pressure, temperature = engine.air.pressure, engine.air.temperature
    if intake.boost is not None:
        pressure, temperature = intake.boost.supply(engine.air, engine.fresh)
    outside, warm = Start(pressure, temperature), Start(pressure, max(intake.temperature, temperature))
    room = net.atmosphere(outside)
    if intake.plenum is None:
        if intake.inlet:
            raise InputError("An inlet leads to a plenum; without one the runners stand in the open.", "plenum")
        source = room
    else:
        source = net.volume(intake.plenum, warm)
        if not intake.inlet:
            raise InputError("A plenum needs an inlet.", "inlet")
        first, last = lay(net, intake.inlet, warm, "inlet", first_end=intake.mouth_end)
        made.mouths.append(net.open_end(first, room, intake.mouth_loss))
        net.open_end(last, source, 0.5)
    found = []
    for k in range(engine.cylinders):
        line = intake.runners[k if len(intake.runners) > 1 else 0]
        end = intake.mouth_end if intake.plenum is None else intake.runner_end
        first, last = lay(net, line, warm, f"runner {k + 1}", first_end=end)
        number = net.open_end(first, source, intake.runner_loss)
        if intake.plenum is None:
            made.mouths.append(number)
        found.append(last)
    return found


def _exhaust(engine: WaveEngine, made: Built) -> list[End]:
    """The primaries' ends at the ports."""
    net, exhaust = made.net, engine.exhaust
    hot = Start(engine.air.exhaust_pressure, exhaust.temperature, 1.0)
    behind = net.atmosphere(Start(engine.air.exhaust_pressure, engine.air.temperature))
    ports: list[End] = []
    tails: list[End] = []
    for k in range(engine.cylinders):
        line = exhaust.primaries[k if len(exhaust.primaries) > 1 else 0]
        free = 0.0 if exhaust.collector or exhaust.system else exhaust.tail_end
        first, last = lay(net, line, hot, f"primary {k + 1}", last_end=free)
        ports.append(first)
        tails.append(last)
    ends = []
    for j, group in enumerate(exhaust.groups):
        merging = [tails[k - 1] for k in group]
        if not exhaust.collector:
            ends.extend(merging)
            continue
        free = 0.0 if exhaust.system else exhaust.tail_end
        first, last = lay(net, exhaust.collector, hot, f"collector {j + 1}", last_end=free)
        _merge(net, merging, first)
        ends.append(last)
    if exhaust.turbine is not None and not exhaust.system:
        raise InputError("Behind a turbine there is a pipe: give the system.", "system")
    if exhaust.system:
        first, last = lay(net, exhaust.system, hot, "system", last_end=exhaust.tail_end)
        if exhaust.turbine is not None:
            _turbine(net, exhaust.turbine, ends, first, hot)
        else:
            _merge(net, ends, first)
        ends = [last]
    for end in ends:
        made.mouths.append(net.open_end(end, behind, 0.5))
    return ports


def _turbine(net: Network, turbine: Turbine, ends: list[End], into: End, start: Start) -> None:
    """Housing before, the turbine as a gate that takes work out, housing behind."""
    before, behind = net.volume(turbine.inlet, start), net.volume(turbine.outlet, start)
    for end in ends:
        net.open_end(end, before, 0.5)
    net.gate(before, other=behind, out_area=turbine.area, in_area=turbine.area, efficiency=turbine.efficiency)
    net.open_end(into, behind, 0.5)


def _merge(net: Network, ends: list[End], into: End) -> None:
    if len(ends) == 1:
        net.step(ends[0], into)
    else:
        net.junction([*ends, into])


def _breathe(engine: WaveEngine, made: Built, rooms_of: list[tuple[int, float]], runner: End, primary: End) -> None:
    """The gates of one cylinder or rotor."""
    net = made.net
    if engine.kind == "two-stroke":
        _scavenge(engine, made, rooms_of[0], runner)
        _valve(made, rooms_of[0], primary, engine.exhaust_table, engine.cycle, made.exhaust_gates)
        return
    assert engine.intake_table is not None
    sides = (
        (runner, engine.intake_table, made.intake_gates, Start(engine.air.pressure, engine.intake.temperature)),
        (
            primary,
            engine.exhaust_table,
            made.exhaust_gates,
            Start(engine.air.exhaust_pressure, engine.exhaust.temperature, 1.0),
        ),
    )
    for end, table, book, start in sides:
        if engine.kind == "four-stroke":
            _valve(made, rooms_of[0], end, table, engine.cycle, book)
            continue
        pocket = net.volume(engine.port_volume, start)
        net.gate(pocket, end=end, out_area=net.area(end), in_area=net.area(end))
        for room, phase in rooms_of:
            gate = net.gate(room, other=pocket, table=table, offset=phase, period=engine.cycle)
            book[made.chambers.index(room)].append(gate)


def _valve(made: Built, room: tuple[int, float], end: End, table: Array, period: float, book: list[list[int]]) -> None:
    gate = made.net.gate(room[0], end=end, table=table, offset=room[1], period=period)
    book[made.chambers.index(room[0])].append(gate)


def _scavenge(engine: WaveEngine, made: Built, room: tuple[int, float], runner: End) -> None:
    """Case, inlet into it, transfer ports out of it."""
    net, s, c = made.net, engine.scavenging, engine.chamber
    assert s is not None
    face = pi / 4.0 * c.bore**2
    case = net.moving(
        Start(engine.air.pressure, engine.intake.temperature),
        kind=rooms.CRANKED,
        base=s.case_volume + c.swept,
        piston=-face,
        crank=c.stroke / 2.0,
        rod=c.rod,
        offset=room[1],
        cycle=engine.cycle,
        trap=0.0,
    )
    made.cases.append(case)
    if s.reed is not None:
        net.gate(case, end=runner, out_area=s.coefficients[0], in_area=s.coefficients[1], reed=s.reed)
    else:
        net.gate(case, end=runner, table=s.inlet, offset=room[1], period=engine.cycle)
    gate = net.gate(room[0], other=case, table=s.transfer, offset=room[1], period=engine.cycle)
    made.intake_gates[made.chambers.index(room[0])].append(gate)

"""The one table of gates: key, name, kinds of statement, what would meet it, the page it is done on, and the look."""

from __future__ import annotations

from longbreath.core.claim.gates import bench, dyno, house, tools
from longbreath.core.claim.gates.gate import Gate, Grounds, Rule
from longbreath.core.claim.kinds.airflow import Pair
from longbreath.core.claim.road import UNKNOWN, Road

PULLS = ("torque", "response")
READ = ("temperature", "noise", "mass")
TRIALS = (*READ, "fuel")
LOOKS = ("fitment", "durability")
ROWS: tuple[tuple[object, ...], ...] = (
    (
        "sheets",
        "build sheets of A and B",
        PULLS,
        "Write both build sheets for the day of the test.",
        "sheets",
        dyno.sheets,
    ),
    (
        "vehicle",
        "one vehicle",
        PULLS,
        "Name the vehicle by its mark on both sheets; test both on one.",
        "sheets",
        dyno.vehicle,
    ),
    (
        "comparable",
        "comparable, or the ledger closed",
        PULLS,
        "Test again with it the same, or close the ledger.",
        "ledger",
        dyno.comparable,
    ),
    (
        "parts",
        "casting, finish, machining, coating of both",
        PULLS,
        "Write them on the build sheets.",
        "sheets",
        dyno.parts,
    ),
    ("serial", "serial of what was tested", PULLS, "Write it on the build sheet of B.", "sheets", dyno.serial),
    (
        "state",
        "tested in the state it is sold in",
        PULLS,
        "Say the state of the revision, or test a part that is in it; another state is another revision.",
        "products",
        dyno.state,
    ),
    ("sold", "what is sold so", PULLS, "Write which serials are sold in that state.", "notes", dyno.sold),
    ("air", "air the standard permits", PULLS, "Pull again in air that the standard covers.", "pull", dyno.in_range),
    ("repeats", "three or more valid pulls of each", PULLS, "Pull until three of each count.", "pull", dyno.counts),
    ("return", "drift did no harm", PULLS, "Go back to what was pulled first.", "pull", dyno.drift),
    (
        "sets",
        "set-to-set scatter counted",
        PULLS,
        "Fit the part anew in two more sets, or let the dyno say how sets scatter.",
        "dynos",
        dyno.sets,
    ),
    ("recorded", "every pull of the files recorded", PULLS, "Map and record them.", "pull", dyno.recorded),
    ("agreed", "no pull on one person’s word", PULLS, "Let somebody look a second time.", "second", dyno.agreed),
    ("lapsed", "calibration in date", PULLS, "Have it calibrated and pull again.", "dynos", dyno.calibrated),
    (
        "health",
        "engine sound",
        (*PULLS,),
        "Look at the engine, and pull again if it is not sound.",
        "health",
        dyno.health,
    ),
    ("explained", "what else differed has a reason", PULLS, "Write why.", "differences", dyno.explained),
    (
        "boost",
        "control mode named, with pressure",
        PULLS,
        "Choose as set or equal boost; log the pressure.",
        "boost",
        dyno.boost,
    ),
    (
        "fixture",
        "one fixture and test pressure",
        ("airflow",),
        "Read both on one fixture.",
        "bench",
        bench.same_fixture,
    ),
    (
        "read",
        "read at the test pressure",
        ("airflow",),
        "Take these again at the test pressure.",
        "bench",
        bench.read_there,
    ),
    (
        "calibrated",
        "bench checked with a plate",
        ("airflow",),
        "Check the bench with a plate, and read again.",
        "bench",
        bench.plate,
    ),
    ("measured", "something was measured on both", ("airflow",), "Read A and B at one lift.", "bench", bench.measured),
    ("weighed", "readings that can be weighed", TRIALS, "Read more of the one that is short.", "trials", tools.weighed),
    (
        "tool",
        "tool and its step",
        TRIALS,
        "Correct the trial: name the tool and how finely it reads.",
        "trials",
        tools.tool,
    ),
    ("conditions", "place, probe and conditions", TRIALS, "Correct the trial: write them.", "trials", tools.conditions),
    ("money", "miles, price and band with money", ("fuel",), "Write the miles and the price.", "claim", tools.money),
    ("enough", "enough was looked at or run", LOOKS, "Look at more places, or run more pulls.", "fit", tools.enough),
    ("stood", "no finding stands against it", LOOKS, "Clear the finding first.", "health", tools.stood),
    ("found", "something is stated", (), "Choose a fact.", "claim", house.found),
    ("current", "facts belong to the evidence", (), "Read them again and keep them.", "claim", house.current),
    (
        "tradeoffs",
        "all trade-offs stand beside it",
        (),
        "Keep the proven losses; mend the readings.",
        "trials",
        house.trade_offs,
    ),
    ("own", "own tests alone", (), "Test it yourself.", "measure", house.own),
    ("age", "evidence not too old", (), "Test again.", "plan", house.age),
    ("records", "records speak of no result", (), "Change that name or note.", "library", house.records),
    ("opened", "nothing advises concealment", (), "Take those words out.", "library", house.opened),
    ("approval", "road use stated, market by market", (), "State it, with its certificate.", "road", house.approval),
    ("notes", "rules, costs and relation stated", (), "Write each, or “not recorded”.", "notes", house.notes),
)
GATES: tuple[Rule, ...] = tuple(Rule(*row) for row in ROWS)  # type: ignore[arg-type]
"""Every gate in the order it is shown."""


def rules_of(kind: str) -> tuple[Rule, ...]:
    """The gates of a kind of statement."""
    return tuple(rule for rule in GATES if not rule.kinds or kind in rule.kinds)


def gates(grounds: Grounds) -> tuple[Gate, ...]:
    """All gates of a statement, in the order they are shown."""
    return tuple(rule.gate(grounds) for rule in rules_of(grounds.kind))


def bench_gates(pair: Pair) -> tuple[Gate, ...]:
    """The gates of the bench alone, for a page that shows two traces beside their statement."""
    stub = Grounds("airflow", (), "", "", (), Road(UNKNOWN), bench=pair)
    return tuple(rule.gate(stub) for rule in GATES if rule.kinds == ("airflow",))


def may_publish(found: tuple[Gate, ...]) -> bool:
    """Whether every gate is met."""
    return all(gate.met for gate in found)

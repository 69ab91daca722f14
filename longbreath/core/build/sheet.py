"""Build sheets: the whole configuration at a moment, what differs between two, and whether they may be compared."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

BREAKS, CORRECT, NOTE, PART, SAME = "breaks", "correct", "note", "part", "same"
COMPARABLE, CORRECTIONS, NOT_COMPARABLE = "comparable", "comparable with corrections", "not comparable"


@dataclass(frozen=True)
class Item:
    """One line of a build sheet: key, label, group, an example, and what a difference in it means for a comparison."""

    key: str
    label: str
    group: str
    effect: str
    example: str = ""


ITEMS = (
    Item("vehicle", "Vehicle tested, by its mark", "the vehicle", SAME, "shop Heron, number 41 on the strut tower"),
    Item("part", "Part tested", "the part", PART, "Gannet rev C"),
    Item("aliases", "Also known as", "the part", NOTE, "long-runner prototype 3"),
    Item("part_state", "State of the part", "the part", PART, "as cast, runners hand-finished"),
    Item("machining", "Machining", "the part", PART, "flanges faced, bores as cast"),
    Item("coating", "Coating", "the part", PART, "none"),
    Item("serial", "Serial or mark of the part", "the part", PART, "GL-0031"),
    Item("adapters", "Adapters and spacers", "the part", CORRECT, "12 mm plenum spacer"),
    Item("gaskets", "Gaskets", "the part", CORRECT, "stock, new"),
    Item("short_block", "Block, bore × stroke", "the engine", BREAKS, "stock, 84.6 × 88.8 mm"),
    Item("compression", "Compression ratio", "the engine", BREAKS, "11.2:1"),
    Item("runner_valves", "Runner valves", "the engine", CORRECT, "none"),
    Item("heads", "Heads and valves", "the engine", BREAKS, "stock casting"),
    Item("porting", "Porting state of the head", "the engine", BREAKS, "untouched"),
    Item("cam", "Cam and timing", "the engine", BREAKS, "stock, checked at 1 mm"),
    Item("pan", "Pan, windage tray and pump", "the engine", CORRECT, "stock pan"),
    Item("exhaust", "Exhaust", "the engine", CORRECT, "stock from the primaries back"),
    Item("health", "Engine health", "the engine", CORRECT, "leak-down 4 to 6 %"),
    Item("pulls_since_build", "Pulls since build", "the engine", NOTE, "34"),
    Item("tune", "Tune", "fuel and control", BREAKS, "H20-stock-7"),
    Item("tune_author", "Tune by", "fuel and control", NOTE, "the shop"),
    Item("fuel", "Fuel and batch", "fuel and control", CORRECT, "98, delivery of 2 May"),
    Item("injectors", "Injectors", "fuel and control", CORRECT, "stock, 280 cm³/min at 3 bar"),
    Item("sensors", "Sensor ranges", "fuel and control", NOTE, "manifold 0.2 to 1.1 bar absolute"),
    Item("controller", "Boost controller and spring", "fuel and control", BREAKS, "none"),
    Item("gearbox", "Gearbox and gear", "the drive", BREAKS, "6-speed, 4th"),
    Item("converter", "Converter or clutch", "the drive", BREAKS, "clutch"),
    Item("axle", "Axle ratio", "the drive", BREAKS, "4.10"),
    Item("tyres", "Tyres and pressure", "the drive", CORRECT, "205/50, 2.4 bar"),
    Item("bonnet", "Bonnet, fan, air feed", "the cell", CORRECT, "shut, fan on"),
    Item("accessories", "Accessories driven", "the cell", CORRECT, "alternator, no air conditioning"),
)
"""Every line of a build sheet. What a difference means is common practice, no published source."""
BY_KEY = {item.key: item for item in ITEMS}
GROUPS = tuple(dict.fromkeys(item.group for item in ITEMS))


def can_close(line: str) -> bool:
    """Whether a difference in a line may be taken off, bounded or told to be none; what breaks a comparison never."""
    item = BY_KEY.get(line)
    return item is None or item.effect not in (BREAKS, SAME)


@dataclass(frozen=True)
class Difference:
    """One line that differs: the item, both texts, and what follows from it in words."""

    item: Item
    a: str
    b: str
    follows: str


@dataclass(frozen=True)
class SheetComparison:
    """Two build sheets beside each other: differences, lines nobody filled in on one side, the judgement and its reason."""

    differences: tuple[Difference, ...]
    unknown: tuple[Item, ...]
    judgement: str
    reason: str

    @property
    def beside_the_part(self) -> tuple[Difference, ...]:
        """Differences that are not the part itself and bear on the comparison."""
        return tuple(d for d in self.differences if d.item.effect in (BREAKS, CORRECT))

    @property
    def one_sided(self) -> tuple[Item, ...]:
        """Lines that bear on the comparison and that only one sheet states."""
        return tuple(item for item in self.unknown if item.effect in (BREAKS, CORRECT))


@dataclass(frozen=True)
class Differing:
    """One thing beside the part in which A and B differed: line, label, both texts, and the written reason ("" while none)."""

    line: str
    label: str
    a: str
    b: str
    reason: str = ""


_FOLLOWS = {
    SAME: "no comparison: test both on one vehicle",
    PART: "the part itself: what is tested",
    NOTE: "for the record",
    CORRECT: "measure this change alone and take it off, or bound it",
    BREAKS: "cannot be taken off: test again with this the same",
}


def folded(text: str) -> str:
    """A text as it is compared: case, outer and double blanks do not matter."""
    return " ".join(text.casefold().split())


def compare_sheets(
    a: Mapping[str, str],
    b: Mapping[str, str],
    aliases: Mapping[str, str] | None = None,
    intended: frozenset[str] = frozenset(),
) -> SheetComparison:
    """Compare two sheets by key. aliases: folded name of a part → the one it stands for; the same part under two names is one;
    intended: lines that the test changes on purpose, which break no comparison.

    A line that only one sheet states counts as unknown. Judgement: not comparable if a line that cannot be taken off
    differs; with corrections if others do or are unknown; comparable if nothing beside the part differs.
    """
    names = aliases or {}
    differences, unknown = [], []
    for line in ITEMS:
        item = replace(line, effect=PART) if line.key in intended else line
        one, other = a.get(item.key, "").strip(), b.get(item.key, "").strip()
        if not one and not other:
            continue
        if not one or not other:
            unknown.append(item)
            continue
        alike = names if item.key == "part" else {}  # a name for the part makes no two fuels one
        if alike.get(folded(one), folded(one)) != alike.get(folded(other), folded(other)):
            differences.append(Difference(item, one, other, _FOLLOWS[item.effect]))
    judgement, reason = _judge(differences, unknown)
    return SheetComparison(tuple(differences), tuple(unknown), judgement, reason)


NOTHING = frozenset({"", "nothing", "none", "nothing else", "no", "–", "-"})
"""What a test card says where its writer knew of no other difference."""


def differing(
    a: Mapping[str, str], b: Mapping[str, str], comparison: SheetComparison, card: str
) -> tuple[tuple[str, str, str, str], ...]:
    """What differed beside the part: line, label, A's words, B's words; from two sheets, and from the test card's own words.

    A line that only one sheet states may differ and counts; so does whatever the card says besides “nothing”.
    """
    found = [(d.item.key, d.item.label, d.a, d.b) for d in comparison.beside_the_part]
    for item in comparison.one_sided:
        one, other = (side.get(item.key, "").strip() or "not recorded" for side in (a, b))
        found.append((item.key, item.label, one, other))
    if folded(card).strip(" .") not in NOTHING:
        found.append(("card", "What the test card says", "", card.strip()))
    return tuple(found)


def denied(held: str, differing: Sequence[Differing]) -> tuple[str, ...]:
    """What a card says is held although the build sheets differ in it: labels whose first word stands in its text."""
    said = set(folded(held).replace(",", " ").replace(";", " ").split())
    return tuple(item.label for item in differing if folded(item.label).replace(",", " ").split()[0] in said)


def held(
    a: Mapping[str, str], b: Mapping[str, str], comparison: SheetComparison
) -> tuple[list[tuple[str, str]], list[str]]:
    """Lines that bear on a comparison: those that both sheets state alike, with their words; and those that neither states."""
    differs = {d.item.key for d in comparison.differences}
    bearing = [item for item in ITEMS if item.effect in (BREAKS, CORRECT)]
    same = [
        (item.label, a[item.key].strip())
        for item in bearing
        if a.get(item.key, "").strip() and b.get(item.key, "").strip() and item.key not in differs
    ]
    silent = [item.label for item in bearing if not a.get(item.key, "").strip() and not b.get(item.key, "").strip()]
    return same, silent


def _judge(differences: list[Difference], unknown: list[Item]) -> tuple[str, str]:
    breaks = [d.item.label.lower() for d in differences if d.item.effect in (BREAKS, SAME)]
    correct = [d.item.label.lower() for d in differences if d.item.effect == CORRECT]
    open_lines = [item.label.lower() for item in unknown if item.effect in (BREAKS, CORRECT)]
    if breaks:
        return NOT_COMPARABLE, f"{_differ(breaks)}: what the part did cannot be told apart from it."
    if correct:
        return CORRECTIONS, f"{_differ(correct)}: each needs its effect measured alone or bounded."
    if open_lines:
        return (CORRECTIONS, f"Only one sheet says anything about {_listed(open_lines)}: look it up before comparing.")
    return COMPARABLE, "Nothing beside the part differs on these sheets."


def _differ(words: list[str]) -> str:
    return f"Beside the part, {_listed(words)} differ{'s' if len(words) == 1 else ''}"


def _listed(words: list[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"


def as_alias_map(texts: Mapping[str, str]) -> dict[str, str]:
    """From part → “also known as, comma separated” to folded name → folded part."""
    found = {}
    for part, also in texts.items():
        for name in also.split(","):
            if name.strip():
                found[folded(name)] = folded(part)
    return found

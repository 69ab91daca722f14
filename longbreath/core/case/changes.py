"""What changed between two cases, said in words from one table; and what of it moves a printed figure, word or gate."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from fnmatch import fnmatchcase
from typing import Any

from longbreath.core.basis.working import numbered

CAUSES = {
    "pulls": "a pull was taken out, read anew or counted differently",
    "again": "the part was pulled again, or another session takes part",
    "session": "weather, correction, card or dyno of the session",
    "sheets": "a build sheet was written anew",
    "ledger": "what is known of a difference beside the part",
    "beside": "what is said of the pulls that no log states",
    "health": "a finding on the engine",
    "readings": "readings of the bench, its fixture or its plate checks",
    "trial": "the trial was corrected",
    "looks": "the part was looked at again",
    "part": "the revision of the part, its state or its name",
    "certificate": "a certificate ran out, or another took its place",
    "road": "road use was stated anew",
    "costs": "what it costs beside: a proven loss of another kind came, went or is another",
    "method": "the method was corrected in a newer version",
}
"""What can change of all that a claim rests on, in words."""
WHERE = (
    ("seen.sessions.*.pulls*", "pulls"),
    ("seen.sessions.*.last_place", "pulls"),
    ("seen.sessions.*.said*", "beside"),
    ("seen.sessions.*.typed", "beside"),
    ("seen.sessions.*.card.variants.*.rounds*", "beside"),
    ("seen.sessions.*.sheet_*", "sheets"),
    ("seen.sessions*", "session"),
    ("seen.visits.*.of_*", "pulls"),
    ("seen.unrecorded*", "again"),
    ("seen.visits*", "again"),
    ("seen.bands*", "session"),
    ("seen.alone*", "ledger"),
    ("seen.reasons*", "ledger"),
    ("seen.doubts*", "health"),
    ("seen.part*", "part"),
    ("seen.traces*", "readings"),
    ("seen.checks*", "readings"),
    ("seen.check_days", "readings"),
    ("seen.leak*", "readings"),
    ("seen.test_pressure", "readings"),
    ("seen.bench", "readings"),
    ("seen.repeatability*", "readings"),
    ("seen.rows*", "trial"),
    ("seen.conditions*", "trial"),
    ("seen.tool", "trial"),
    ("seen.step", "trial"),
    ("seen.title", "trial"),
    ("seen.origin", "trial"),
    ("seen.number", "trial"),
    ("seen.held_on", "trial"),
    ("seen.spots*", "looks"),
    ("seen.minutes*", "looks"),
    ("seen.removed", "looks"),
    ("seen.is_recorded", "looks"),
    ("seen.wall*", "looks"),
    ("seen.done*", "looks"),
    ("context.certificates*", "certificate"),
    ("context.lapsed*", "certificate"),
    ("context.status*", "road"),
    ("context.notes.tampering", "road"),
    ("context.costs*", "costs"),
    ("context.unweighed*", "costs"),
    ("method", "method"),
    ("grammar", "method"),
)
"""Where in a case each of them stands; the first that fits names a difference. What stands nowhere here is news at most."""


def causes_of(was: Mapping[str, Any], now: Mapping[str, Any]) -> tuple[str, ...]:
    """What changed from one case to another, both as plain data: names of causes in their order."""
    found = {cause_of(path) for path in differing(was, now)}
    return tuple(name for name in CAUSES if name in found)


def cause_of(path: str) -> str:
    """The cause that a place in a case stands for; "" where it is none."""
    return next((name for pattern, name in WHERE if fnmatchcase(path, pattern)), "")


def differing(was: Any, now: Any, path: str = "") -> Iterator[str]:
    """Places in which two pieces of plain data differ: names and numbers joined by points."""
    if isinstance(was, Mapping) and isinstance(now, Mapping):
        for name in sorted({*was, *now}):
            yield from differing(was.get(name), now.get(name), f"{path}.{name}" if path else str(name))
    elif isinstance(was, list) and isinstance(now, list):
        for place in range(max(len(was), len(now))):
            one, other = (side[place] if place < len(side) else None for side in (was, now))
            yield from differing(one, other, f"{path}.{place}")
    elif was != now and not (was != was and now != now):
        yield path


def words_of(causes: Sequence[str]) -> str:
    """What changed, in words."""
    return "; ".join(CAUSES[name] for name in causes)


SEEN_OTHERWISE = ("current", "age")
"""Gates that a published claim is not held to: on what its writer chose, and how old it has become."""
APART = ("Other sessions",)
"""Lines of a sheet that say what it does not rest on."""


@dataclass(frozen=True)
class Move:
    """One thing that a sheet prints otherwise now: what, as it was, as it would be."""

    what: str
    was: str
    now: str


def moves(was: Mapping[str, Any], now: Mapping[str, Any]) -> list[Move]:
    """Every printed figure, word and gate of a sheet that reads otherwise now; nothing of what an earlier shape did not print."""
    statement = [Move("statement", was["statement"], now["statement"])] if _differ("statement", was, now) else []
    return [*_figures(was, now), *statement, *moves_beside(was, now)]


def moves_beside(was: Mapping[str, Any], now: Mapping[str, Any]) -> list[Move]:
    """The same without figures and statement: conditions, gates, names, what it costs, what differed."""
    found = [Move(label, str(was[key]), str(now[key])) for key, label in WORDS.items() if _differ(key, was, now)]
    found += _rows("conditions", was, now)
    found += _gates(was, now)
    lost = [words for words in was.get("certificates", ()) if words not in now["certificates"]]
    found += [Move("certificate", words, "not in date") for words in lost]
    if _differ("costs", was, now):
        found.append(Move("costs beside", "; ".join(was["costs"]), "; ".join(now["costs"])))
    if "differing" in was and [_told(d) for d in was["differing"]] != [_told(d) for d in now["differing"]]:
        told = ["; ".join(" ".join(_told(d)) for d in side["differing"]) for side in (was, now)]
        found.append(Move("what differed", told[0], told[1]))
    return found


WORDS = {
    "headline": "headline",
    "margin": "margin",
    "product": "product",
    "revision": "revision",
    "state_of_part": "state of the part",
    "stock": "stock part",
    "vehicle": "vehicle",
    "approval": "road use",
}
"""What a sheet prints in words, by its name in the record."""


def _differ(key: str, was: Mapping[str, Any], now: Mapping[str, Any]) -> bool:
    return key in was and was[key] != now[key]


def _told(item: Mapping[str, Any]) -> tuple[str, ...]:
    return tuple(str(item[name]) for name in ("label", "a", "b", "reason"))


def _figures(was: Mapping[str, Any], now: Mapping[str, Any]) -> Iterator[Move]:
    sides = [numbered((*s.get("figures", ()), *s.get("locals", ())), lambda f: str(f["name"])) for s in (was, now)]
    for name in sorted({*sides[0], *sides[1]}):
        one, other = (_shown(side.get(name)) for side in sides)
        if one != other:
            yield Move(str((sides[0].get(name) or sides[1][name])["label"]), one, other)


def _shown(figure: Mapping[str, Any] | None) -> str:
    if figure is None:
        return "nothing"
    verdict = f", {figure['verdict']}" if figure.get("verdict") else ""
    return f"{figure['display']['metric']}{verdict}"


def _rows(key: str, was: Mapping[str, Any], now: Mapping[str, Any]) -> Iterator[Move]:
    before, after = ({label: text for label, text in side.get(key, ())} for side in (was, now))
    for label in [*before, *(label for label in after if label not in before)] if before else ():
        if label not in APART and before.get(label) != after.get(label):
            yield Move(label, before.get(label, "nothing"), after.get(label, "nothing"))


def _gates(was: Mapping[str, Any], now: Mapping[str, Any]) -> Iterator[Move]:
    before, after = ({g["key"]: g for g in side.get("gates", ()) if "key" in g} for side in (was, now))
    for key, gate in after.items():
        if key in before and key not in SEEN_OTHERWISE and before[key]["met"] and not gate["met"]:
            yield Move(f"gate “{gate['name']}”", "met", str(gate["evidence"]))

"""Deliberate faults of what is seen and not selected: sessions joined, looks paid for, one person's word, trials, units and letters.

`bench/faults.py` puts them in with the others.
"""

from __future__ import annotations

JOINING, ALONE, SPENDING = (
    "tests/core/case/test_joining.py",
    "tests/core/case/test_alone.py",
    "tests/core/compare/test_spending.py",
)
TOGETHER, SCALE = "tests/core/weigh/test_together.py", "tests/core/judge/test_scale.py"
SECOND, DEPARTS = "tests/steps/pull/test_second_look.py", "tests/steps/pull/test_departures.py"

Row = tuple[str, str, str, str, str]
"""Words, file under longbreath/, the text there, what takes its place, who must notice."""
ROWS: tuple[Row, ...] = (
    (
        "another tune is one test",
        "core/case/joining.py",
        '"modes": (card.tune_mode, card.control_mode)',
        '"modes": ()',
        JOINING,
    ),
    ("another dyno is one test", "core/case/joining.py", '"dyno": session.dyno.number', '"dyno": 0', JOINING),
    (
        "a finding takes the last session out",
        "core/case/joining.py",
        "if not all(causes.values()):",
        "if True:",
        JOINING,
    ),
    (
        "visits stand in the order of their days",
        "core/case/joining.py",
        "key=lambda s: (s.first_file is None, s.first_file, s.number)",
        "key=lambda s: (s.held_on, s.number)",
        JOINING,
    ),
    (
        "the newest card's margin holds",
        "core/case/seen.py",
        "return (self.visits[0] if self.visits else self.card).no_matter",
        "return self.card.no_matter",
        JOINING,
    ),
    (
        "each session has the whole error",
        "core/compare/spending.py",
        "return FIRST if number <= 1 else (1.0 - FIRST) / ((number - 1) * number)",
        "return FIRST",
        SPENDING,
    ),
    (
        "stopping short costs nothing",
        "core/compare/spending.py",
        "    if stand.short:\n        return SHORT",
        "    if stand.short < 0:\n        return SHORT",
        SPENDING,
    ),
    (
        "a day without a return takes drift out of none",
        "core/compare/design.py",
        "drift = any(sets[d] >= SETS for d in both)",
        "drift = all(sets[d] >= SETS for d in both)",
        JOINING,
    ),
    (
        "one person's word does",
        "core/case/seen.py",
        "return not last.automatic and not last.agreed_by and",
        "return False and",
        ALONE,
    ),
    (
        "what cannot be weighed without a pull stands",
        "core/case/weigh.py",
        '            raise EvidenceError(f"{told}: {error.message} Let somebody look a second time, under Pull.") from None',
        "            continue",
        ALONE,
    ),
    (
        "the narrower of two ways is stated",
        "core/compare/either.py",
        "low, high = min(item.effect.low for item in items), max(item.effect.high for item in items)",
        "low, high = max(item.effect.low for item in items), min(item.effect.high for item in items)",
        ALONE,
    ),
    (
        "whoever took part looks a second time",
        "dossier/pull/second.py",
        "if work.actor.id in took_part(work, judgement.pull.session):",
        "if work.actor.id == 0:",
        SECOND,
    ),
    (
        "a second look shows what the part moves",
        "dossier/pull/second.py",
        "OPEN = (COOLANT,",
        'OPEN = ("torque", "intake_temperature", COOLANT,',
        SECOND,
    ),
    (
        "trials that disagree are not widened",
        "core/weigh/together.py",
        "(sqrt(max(chi2 / (len(found) - 1), 1.0)) if apart else 1.0)",
        "1.0",
        TOGETHER,
    ),
    ("a swapped letter is a slip", "core/weigh/slips.py", "return all(_mistyped(", "return any(_mistyped(", TOGETHER),
    (
        "a unit that was read as another is not seen",
        "core/judge/others.py",
        "if abs(off / factor - 1.0) <= SCALE_OFF:",
        "if abs(off - factor) <= 1e-6:",
        SCALE,
    ),
    (
        "a name that says the other letter is not asked about",
        "dossier/pull/chosen.py",
        'return self.named not in ("", self.label) and self.label != LEAVE',
        "return False",
        DEPARTS,
    ),
    (
        "a header is overruled without a reason",
        "formats/mapping.py",
        "        if column is not None and why and stated and stated != column.unit:",
        "        if column is None and why:",
        DEPARTS,
    ),
)

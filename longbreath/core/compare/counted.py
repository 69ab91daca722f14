"""What an interval counts and what it does not, in one sentence; and what it would be if every pull were independent."""

from __future__ import annotations

from longbreath.core.basis import units
from longbreath.core.basis.sentence import counted
from longbreath.core.compare.compare import Comparison
from longbreath.core.compare.levels import KNOWN, PULLS, SEEN, SINGLES


def in_short(comparison: Comparison) -> str:
    """Where a standard error takes its sets from, to stand beside its formula; nothing where sets are not counted."""
    levels = comparison.levels
    if levels.mode == KNOWN:
        return f", {100.0 * comparison.share:.0f} % of the variance from sets and days by the dyno’s records and these pulls"
    return f", from {levels.set_df} degrees of freedom between sets" if levels.mode == SEEN else ""


def counts(comparison: Comparison, system: str = "us") -> str:
    """One sentence on what the interval counts and what it leaves out, in display units."""
    levels, design = comparison.levels, comparison.design
    what = [f"from pull to pull ({counted(design.df, 'degree')} of freedom)"]
    out = []
    if levels.mode == KNOWN and levels.scatter is not None:
        sd = units.show(levels.scatter.fitting or 0.0, "torque", system, 0.1)
        own = f" and the {levels.set_df} that these sets have of their own" if levels.set_df else ""
        what.append(
            f"from set to set, the part off and on again ({sd} by {levels.scatter.origin or 'the dyno’s records'}{own})"
        )
    elif levels.mode == SEEN:
        what.append(f"from set to set, as these pulls show it ({counted(levels.set_df, 'degree')} of freedom)")
    elif levels.mode == SINGLES:
        what.append("from set to set, as each pull is a set of its own")
    else:
        out.append(
            "what the part scatters by coming off and going on again (no record of this dyno, and too few sets to see it)"
        )
    if design.days > 1:
        what.append(f"over {design.days} days, B − A taken within each")
        if levels.widened > 1.0:
            what.append(f"what the days disagree by (widened {levels.widened:.1f} times)")
    elif levels.mode == KNOWN and levels.scatter is not None and levels.scatter.day and levels.day_share > 1e-9:
        what.append("from day to day by the dyno’s records")
    else:
        out.append("another day")
    out += ["another dyno", "another vehicle"] if not comparison.as_ratios else ["another vehicle"]
    return f"The interval counts scatter {_and(what)}. It does not count {_or(out)}."


def alone(
    comparison: Comparison, low: float, high: float, family: int, half_width: float, system: str = "us"
) -> str | None:
    """What the interval of a band, low to high [rad/s], would be if each pull were independent; None where that is what it is."""
    if comparison.levels.mode == PULLS and comparison.levels.widened == 1.0:
        return None
    found = comparison.independent(low, high, family)
    was, now = (units.show(h, "torque", system, h / 10) for h in (found.half_width, half_width))
    return f"± {now}; if each pull were independent of the others it would be ± {was}"


def _and(words: list[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"


def _or(words: list[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} or {words[-1]}"

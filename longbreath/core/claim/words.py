"""What a written claim says: the figures in it, and whether it speaks of power, airflow or a band."""

from __future__ import annotations

import re

from longbreath.core.dyno.bands import Judged

_SPACE = r"[\s\u00a0\u202f]*"
_NUMBER = r"([+−-]?\d+(?:[.,]\d+)*)"
UNITS = {
    "hp": ("power", "hp", r"[bw]?hp\b|horse\s?powers?"),
    "kW": ("power", "kW", r"kW\b|kilowatts?"),
    "PS": ("power", "PS", r"PS\b"),
    "lb-ft": ("torque", "lb-ft", r"lb[-·. ]?ft\b|ft[-·. ]?lbs?\b|(?:foot|feet)[- ]pounds?|pounds?[- ](?:foot|feet)"),
    "N·m": ("torque", "N·m", r"N[-·. ]?m\b|newton[- ]?met(?:re|er)s?"),
}
"""What torque and power are written in: kind, unit, and the ways it is spelt."""
TORQUE_OR_POWER = re.compile(
    _NUMBER + _SPACE + "(?:" + "|".join(f"(?P<{'abcde'[n]}>{u[2]})" for n, u in enumerate(UNITS.values())) + ")",
    re.IGNORECASE,
)
"""A figure of torque or power with its sign, and its unit however it is spelt."""

IN_WORDS = re.compile(
    r"\b(?:one|two|three|four|five|six|seven|eight|nine|ten|eleven|twelve|\w+teen|twenty|thirty|forty|fifty|sixty|seventy|eighty"
    r"|ninety|hundred|thousand|dozen|double|twice|half)\b(?:[\s-]+\w+){0,3}?[\s-]*?\b(?:"
    + "|".join(u[2] for u in UNITS.values())
    + ")",
    re.IGNORECASE,
)
"""A figure of torque or power in words, which cannot be held against the evidence."""


def quantities(text: str) -> list[tuple[str, str, str, float]]:
    """Figures of torque and power in a text: as written, kind, unit, value in that unit (its largest reading)."""
    units = list(UNITS.values())
    found = []
    for match in TORQUE_OR_POWER.finditer(text):
        kind, symbol, _ = units["abcde".index(str(match.lastgroup))]
        found.append((match[0], kind, symbol, number(match[1])))
    return found


FLOW = re.compile(r"([+−-]?\d+(?:\.\d+)?)[\s\u00a0\u202f]*(cfm|L/s)", re.IGNORECASE)
"""A figure of airflow with its sign, and its unit."""

AIRFLOW = re.compile(r"\d[\d.,]*[\s\u00a0\u202f]*(cfm|L/s|m³/h)", re.IGNORECASE)
"""Airflow quoted in any way."""

POWER = re.compile(
    r"\d[\d.,]*[\s\u00a0\u202f]*(hp|bhp|whp|kW|PS|lb-ft|lbft|N·m|Nm)\b|horsepower|\bpower\b", re.IGNORECASE
)
"""Power or torque spoken of in any way."""

NOT_POWER = re.compile(r"\bnot (a )?power\b|\bno power\b", re.IGNORECASE)
"""What a claim of airflow may say of power: that it is none."""

ENGINE = re.compile(
    r"engine airflow|whole engine|all (four|six|eight|\d+) (cylinders|ports)|times \d+|[×x*] ?\d+(?![\d.]*\s*mm)",
    re.IGNORECASE,
)
"""A port's airflow carried over to the engine."""


def number(written: str) -> float:
    """A written figure as a number, a minus of any kind; where a comma may part thousands or decimals, the larger of both."""
    plain = written.replace("−", "-")
    if re.fullmatch(r"[+-]?\d{1,3}([.,]\d{3})+", plain):
        return float(re.sub(r"[.,]", "", plain))
    return float(re.sub(r"[.,](?=.*[.,])", "", plain).replace(",", "."))


def names(text: str, item: Judged) -> bool:
    """Whether a text names a band by both its bounds, or a peak by its kind."""
    plain = "".join(c for c in text if not c.isspace()).lower()
    if item.band is None:
        return "peak" in plain and item.kind in plain
    bounds = item.band.words.replace("\u202f", "").split("–")
    return all(bound in plain for bound in bounds)

"""What a written claim says: the figures in it, and whether it speaks of power, airflow or a band."""

from __future__ import annotations

import re

from longbreath.core.dyno.bands import Judged

TORQUE_OR_POWER = re.compile(r"([+−-]?\d+(?:[.,]\d+)?)[\s\u00a0\u202f]*(lb-ft|N·m|hp|kW)")
"""A figure of torque or power with its sign, and its unit."""

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
    """A written figure as a number: a comma or a point, a minus of any kind."""
    return float(written.replace(",", ".").replace("−", "-"))


def names(text: str, item: Judged) -> bool:
    """Whether a text names a band by both its bounds, or a peak by its kind."""
    plain = "".join(c for c in text if not c.isspace()).lower()
    if item.band is None:
        return "peak" in plain and item.kind in plain
    bounds = item.band.words.replace("\u202f", "").split("–")
    return all(bound in plain for bound in bounds)

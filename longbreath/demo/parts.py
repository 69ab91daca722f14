"""The invented vehicles, parts, benches and dynos of the demo, in the words people would type."""

from __future__ import annotations

from datetime import date
from typing import Any

from longbreath.core import units


def q(text: str, kind: str) -> float:
    """A typed quantity as SI."""
    return units.parse(text, kind).value


HERON: dict[str, Any] = {
    "name": "Brackwater Heron 2.0", "years": "2013–2018", "strokes": 4, "cylinders": 4, "bore": q("84.6 mm", "length"),
    "stroke": q("88.8 mm", "length"), "compression_ratio": 11.2, "intake_duration": q("248 °", "angle"),
    "induction": "naturally aspirated", "fuel": "petrol", "use": "road", "market": "",
    "redline": q("7100 rpm", "speed"), "band_low": q("1800 rpm", "speed"), "band_middle": q("3000 rpm", "speed"),
    "band_top": q("5200 rpm", "speed"), "band_end": q("7000 rpm", "speed"),
}  # fmt: skip

DROVER: dict[str, Any] = {
    "name": "Oxbarrow Drover 5.4", "years": "2009–2014", "strokes": 4, "cylinders": 8, "bore": q("96.5 mm", "length"),
    "stroke": q("92.4 mm", "length"), "compression_ratio": 10.1, "intake_duration": q("262 °", "angle"),
    "induction": "naturally aspirated", "fuel": "petrol", "use": "towing", "market": "",
    "redline": q("5900 rpm", "speed"), "band_low": q("1200 rpm", "speed"), "band_middle": q("2200 rpm", "speed"),
    "band_top": q("4200 rpm", "speed"), "band_end": q("5800 rpm", "speed"),
}  # fmt: skip


def element(
    position: int, kind: str, name: str, side: str, length: str, diameter: str = "", **more: Any
) -> dict[str, Any]:
    """One element; sizes as people write them. A `wh` of (width, height, radius) makes a rounded rectangle."""
    wh = more.pop("wh", None)
    volume = more.pop("volume", None)
    values: dict[str, Any] = {
        "position": position, "kind": kind, "name": name, "side": side, "length": q(length, "length"),
        "belongs_to": more.pop("of", "both"), "shape": "rounded_rectangle" if wh else "round",
        "diameter": q(diameter, "length") if diameter else None,
        "width": q(wh[0], "length") if wh else None, "height": q(wh[1], "length") if wh else None,
        "corner_radius": q(wh[2], "length") if wh else None,
        "volume": q(volume, "plenum") if volume else None,
        "volume_precision": q("0.02 L", "plenum") if volume else None,
        "tool": more.pop("tool", "calliper"), "precision": q(more.pop("good_to", "0.1 mm"), "length"),
        "provenance": more.pop("provenance", "measured"),
    }  # fmt: skip
    return values


HERON_INTAKE = (
    element(1, "air box", "air box", "intake", "190 mm", "70 mm", volume="5.6 L", tool="burette", good_to="1 mm"),
    element(2, "tube", "inlet tube", "intake", "410 mm", "66.4 mm"),
)
HERON_EXHAUST = (
    element(10, "head", "head", "engine", "70 mm", "60 mm", provenance="nominal", tool="", good_to="1 mm"),
    element(11, "primary", "primaries", "exhaust", "460 mm", "38.2 mm", tool="bore gauge", good_to="0.05 mm"),
    element(12, "merge", "merge", "exhaust", "130 mm", "70 mm", good_to="0.5 mm"),
    element(13, "pipe", "front pipe", "exhaust", "720 mm", "50.6 mm"),
    element(14, "catalyst", "catalyst", "exhaust", "230 mm", "101 mm", good_to="1 mm"),
    element(15, "pipe", "mid pipe", "exhaust", "1080 mm", "50.6 mm"),
    element(
        16, "muffler", "muffler", "exhaust", "480 mm", "50.6 mm", volume="11.8 L", tool="tape", good_to="1 mm"
    ),
    element(17, "tip", "tip", "exhaust", "170 mm", "60.2 mm"),
)
GANNET_PATH = (
    *HERON_INTAKE,
    element(3, "throttle", "throttle body", "intake", "58 mm", "62.0 mm", tool="bore gauge", good_to="0.02 mm"),
    element(4, "plenum", "stock plenum", "intake", "330 mm", "62 mm", of="A", volume="3.10 L", tool="burette"),
    element(4, "plenum", "Gannet plenum", "intake", "345 mm", "62 mm", of="B", volume="3.85 L", tool="burette"),
    element(5, "runner", "stock runner", "intake", "302 mm", of="A", wh=("46.2 mm", "33.8 mm", "9 mm")),
    element(5, "runner", "Gannet runner", "intake", "371 mm", of="B", wh=("45.6 mm", "33.4 mm", "9 mm")),
    element(6, "port", "intake port", "intake", "92 mm", wh=("46.0 mm", "33.6 mm", "9 mm")),
    *HERON_EXHAUST,
)
PETREL_PATH = (
    *HERON_INTAKE,
    element(
        3,
        "throttle",
        "stock throttle body",
        "intake",
        "58 mm",
        "62.0 mm",
        of="A",
        tool="bore gauge",
        good_to="0.02 mm",
    ),
    element(
        3,
        "throttle",
        "Petrel throttle body",
        "intake",
        "58 mm",
        "66.0 mm",
        of="B",
        tool="bore gauge",
        good_to="0.02 mm",
    ),
    element(4, "plenum", "plenum", "intake", "330 mm", "62 mm", volume="3.10 L", tool="burette"),
    element(5, "runner", "runner", "intake", "302 mm", wh=("46.2 mm", "33.8 mm", "9 mm")),
    element(6, "port", "intake port", "intake", "92 mm", wh=("46.0 mm", "33.6 mm", "9 mm")),
    *HERON_EXHAUST,
)

RANGES = (("1", "60 cfm"), ("2", "120 cfm"), ("3", "240 cfm"), ("4", "360 cfm"))

PLATE_CHECKS = (
    (date(2026, 3, 2), "180.4 cfm"), (date(2026, 4, 20), "180.1 cfm"), (date(2026, 6, 8), "179.6 cfm"),
    (date(2026, 8, 3), "179.4 cfm"), (date(2026, 9, 21), "179.3 cfm"), (date(2026, 11, 12), "180.2 cfm"),
)  # fmt: skip
INTAKE_FIXTURE: dict[str, Any] = {
    "direction": "intake", "port": "cylinder 2", "mouth": "radius plate", "outlet": "", "bore": q("84.6 mm", "length"),
    "valves": 2, "valve_diameter": q("33.0 mm", "length"), "throat_diameter": q("29.0 mm", "length"),
    "stem_diameter": q("5.5 mm", "length"), "note": "throttle held open",
}  # fmt: skip
EXHAUST_FIXTURE: dict[str, Any] = {
    "direction": "exhaust", "mouth": "cylinder", "outlet": "pipe stub 38 mm", "valve_diameter": q("28.0 mm", "length"),
    "throat_diameter": q("24.6 mm", "length"), "note": "",
}  # fmt: skip
ELBOW_FIXTURE: dict[str, Any] = {
    "direction": "intake", "port": "inlet flange", "mouth": "radius plate", "outlet": "plenum box 90 mm", "bore": None,
    "valves": None, "valve_diameter": None, "throat_diameter": None, "stem_diameter": None, "note": "",
}  # fmt: skip
BOUTS = (
    (date(2026, 4, 21), "2 h", "211.8 cfm", 3.9, "short turn laid back"),
    (date(2026, 4, 22), "2.5 h", "215.6 cfm", 3.4, "bowl blended into the throat"),
    (date(2026, 4, 23), "3 h", "217.5 cfm", 2.9, "guide boss narrowed"),
    (date(2026, 4, 24), "3 h", "218.0 cfm", 2.5, "short turn once more"),
)

PARCEL: dict[str, Any] = {
    "name": "Marlpit Parcel 2.1D", "years": "2011–2017", "strokes": 4, "cylinders": 4, "bore": q("86 mm", "length"),
    "stroke": q("92 mm", "length"), "compression_ratio": 16.2, "intake_duration": q("214 °", "angle"),
    "induction": "turbo", "fuel": "diesel", "use": "delivery", "market": "",
    "redline": q("4200 rpm", "speed"), "band_low": q("1000 rpm", "speed"), "band_middle": q("1700 rpm", "speed"),
    "band_top": q("2900 rpm", "speed"), "band_end": q("4000 rpm", "speed"),
}  # fmt: skip
ELBOW_PATH = (
    element(1, "air box", "air box", "intake", "240 mm", "74 mm", volume="7.2 L", tool="burette", good_to="1 mm"),
    element(2, "bend", "stock elbow", "intake", "165 mm", "58.4 mm", of="A"),
    element(2, "bend", "cast elbow", "intake", "172 mm", "61.8 mm", of="B"),
    element(3, "plenum", "plenum", "intake", "310 mm", "58 mm", volume="2.4 L", tool="burette"),
    element(10, "head", "head", "engine", "70 mm", "56 mm", provenance="nominal", tool="", good_to="1 mm"),
    element(11, "pipe", "downpipe", "exhaust", "900 mm", "54 mm"),
    element(12, "muffler", "muffler", "exhaust", "520 mm", "54 mm", volume="14 L", tool="tape", good_to="1 mm"),
)

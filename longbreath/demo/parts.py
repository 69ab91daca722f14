"""The invented vehicles, parts, benches and dynos of the demo, in the words people would type."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from typing import Any

from longbreath.core.basis import units
from longbreath.dossier.bench.verbs import FixtureCard
from longbreath.dossier.library import VehicleCard


def q(text: str, kind: str) -> float:
    """A typed quantity as SI."""
    return units.parse(text, kind).value


HERON = VehicleCard(
    name="Brackwater Heron 2.0",
    years="2013–2018",
    cycle="four-stroke",
    cylinders=4,
    bore=q("84.6 mm", "length"),
    stroke=q("88.8 mm", "length"),
    rod=q("141 mm", "length"),
    compression_ratio=11.2,
    intake_duration=q("248 °", "angle"),
    induction="naturally aspirated",
    fuel="petrol",
    use="road",
    market="",
    redline=q("7100 rpm", "speed"),
    band_low=q("1800 rpm", "speed"),
    band_middle=q("3000 rpm", "speed"),
    band_top=q("5200 rpm", "speed"),
    band_end=q("7000 rpm", "speed"),
)

HERON_T = replace(
    HERON,
    name="Brackwater Heron 2.0T",
    years="2015–2018",
    compression_ratio=9.4,
    intake_duration=q("228 °", "angle"),
    induction="turbo",
    redline=q("6700 rpm", "speed"),
    band_end=q("6500 rpm", "speed"),
)

DROVER = VehicleCard(
    name="Oxbarrow Drover 5.4",
    years="2009–2014",
    cycle="four-stroke",
    cylinders=8,
    bore=q("96.5 mm", "length"),
    stroke=q("92.4 mm", "length"),
    compression_ratio=10.1,
    intake_duration=q("262 °", "angle"),
    induction="naturally aspirated",
    fuel="petrol",
    use="towing",
    market="",
    redline=q("5900 rpm", "speed"),
    band_low=q("1200 rpm", "speed"),
    band_middle=q("2200 rpm", "speed"),
    band_top=q("4200 rpm", "speed"),
    band_end=q("5800 rpm", "speed"),
)

RANGES = (("1", "60 cfm"), ("2", "120 cfm"), ("3", "240 cfm"), ("4", "360 cfm"))

PLATE_CHECKS = (
    (date(2026, 3, 2), "180.4 cfm"),
    (date(2026, 4, 20), "180.1 cfm"),
    (date(2026, 6, 8), "179.6 cfm"),
    (date(2026, 8, 3), "179.4 cfm"),
    (date(2026, 9, 21), "179.3 cfm"),
    (date(2026, 11, 12), "180.2 cfm"),
)
INTAKE_FIXTURE = FixtureCard(
    direction="intake",
    port="cylinder 2",
    mouth="radius plate",
    outlet="",
    bore=q("84.6 mm", "length"),
    valves=2,
    valve_diameter=q("33.0 mm", "length"),
    throat_diameter=q("29.0 mm", "length"),
    stem_diameter=q("5.5 mm", "length"),
    note="throttle held open",
)
EXHAUST: dict[str, Any] = {
    "direction": "exhaust",
    "mouth": "cylinder",
    "outlet": "pipe stub 38 mm",
    "valve_diameter": q("28.0 mm", "length"),
    "throat_diameter": q("24.6 mm", "length"),
    "note": "",
}
ELBOW_FIXTURE = FixtureCard(
    direction="intake",
    port="inlet flange",
    mouth="radius plate",
    outlet="plenum box 90 mm",
    bore=None,
    valves=None,
    valve_diameter=None,
    throat_diameter=None,
    stem_diameter=None,
    note="",
)
BOUTS = (
    (date(2026, 4, 21), "2 h", "211.8 cfm", 3.9, "short turn laid back"),
    (date(2026, 4, 22), "2.5 h", "215.6 cfm", 3.4, "bowl blended into the throat"),
    (date(2026, 4, 23), "3 h", "217.5 cfm", 2.9, "guide boss narrowed"),
    (date(2026, 4, 24), "3 h", "218.0 cfm", 2.5, "short turn once more"),
)

PARCEL = VehicleCard(
    name="Marlpit Parcel 2.1D",
    years="2011–2017",
    cycle="four-stroke",
    cylinders=4,
    bore=q("86 mm", "length"),
    stroke=q("92 mm", "length"),
    compression_ratio=16.2,
    intake_duration=q("214 °", "angle"),
    induction="turbo",
    fuel="diesel",
    use="delivery",
    market="",
    redline=q("4200 rpm", "speed"),
    band_low=q("1000 rpm", "speed"),
    band_middle=q("1700 rpm", "speed"),
    band_top=q("2900 rpm", "speed"),
    band_end=q("4000 rpm", "speed"),
)

SKIM = VehicleCard(
    name="Velorine Skim 172",
    years="2019–2024",
    cycle="two-stroke",
    cylinders=1,
    bore=q("62 mm", "length"),
    stroke=q("57 mm", "length"),
    rod=q("112 mm", "length"),
    case_volume=q("520 cc", "volume"),
    compression_ratio=9.4,
    intake_duration=q("200 °", "angle"),
    induction="naturally aspirated",
    fuel="petrol",
    use="closed course",
    market="",
    redline=q("11800 rpm", "speed"),
    band_low=q("6000 rpm", "speed"),
    band_middle=q("8000 rpm", "speed"),
    band_top=q("9800 rpm", "speed"),
    band_end=q("11500 rpm", "speed"),
)
DUET = VehicleCard(
    name="Tessaly Duet 1.3R",
    years="2001–2006",
    cycle="rotary",
    cylinders=2,
    bore=None,
    stroke=None,
    chamber_volume=q("654 cc", "volume"),
    compression_ratio=9.8,
    intake_duration=q("278 °", "angle"),
    induction="naturally aspirated",
    fuel="petrol",
    use="closed course",
    market="",
    redline=q("9000 rpm", "speed"),
    band_low=q("2000 rpm", "speed"),
    band_middle=q("4000 rpm", "speed"),
    band_top=q("6500 rpm", "speed"),
    band_end=q("8800 rpm", "speed"),
)

"""The measured paths of the demo's applications, from mouth to tail, in the words people would type.

The tables keep a row an element, as a path sheet has them; that is why the formatter leaves them alone.
"""

from __future__ import annotations

from typing import Any

from longbreath.demo.parts import q
from longbreath.dossier.path.verbs import ElementCard

KIND_OF = {
    "diameter": "length",
    "exit_diameter": "length",
    "outside_diameter": "length",
    "wall": "length",
    "minor_outside": "length",
    "bend_radius": "length",
    "mouth_radius": "length",
    "burr": "length",
    "proud": "length",
    "stack_height": "length",
    "stack_outside": "length",
    "spacer_height": "length",
    "bend_angle": "angle",
    "volume": "plenum",
    "volume_precision": "plenum",
    "loss_drop": "column",
    "loss_flow": "flow",
    "outlet_temperature": "temperature",
    "spacer_area": "area",
}


def element(place: int, kind: str, name: str, side: str, length: str, diameter: str = "", **more: Any) -> ElementCard:
    """One element; sizes as people write them. A `wh` of (width, height, radius) makes a rounded rectangle, a `tube` of
    (outside, wall) a tube measured outside, a `squashed` of (outside, wall, height) a squashed one."""
    wh, tube, squashed = more.pop("wh", None), more.pop("tube", None), more.pop("squashed", None)
    values: dict[str, Any] = {
        "position": place,
        "kind": kind,
        "name": name,
        "side": side,
        "length": q(length, "length"),
        "belongs_to": more.pop("of", "both"),
        "shape": "rounded_rectangle" if wh else "squashed" if squashed else "round",
        "given_as": "outside" if tube else "inside",
        "diameter": q(diameter, "length") if diameter else None,
        "tool": more.pop("tool", "calliper"),
        "precision": q(more.pop("good_to", "0.1 mm"), "length"),
        "provenance": more.pop("provenance", "measured"),
        "branches": more.pop("branches", 1),
        "wall_surface": more.pop("surface", "drawn"),
    }
    for names, given in (
        (("width", "height", "corner_radius"), wh),
        (("outside_diameter", "wall"), tube),
        (("outside_diameter", "wall", "minor_outside"), squashed),
    ):
        if given:
            values |= {name: q(text, "length") for name, text in zip(names, given, strict=True)}
    if "volume" in more:
        more.setdefault("volume_precision", "0.02 L")
    values |= {k: q(v, KIND_OF[k]) if k in KIND_OF else v for k, v in more.items()}
    return ElementCard(**values)


def _heron_intake(throttle: tuple[ElementCard, ...], plenum: tuple[ElementCard, ...]) -> tuple[ElementCard, ...]:
    return (
        element(1, "air box", "air box", "intake", "190 mm", "70 mm", volume="5.6 L", tool="burette", good_to="1 mm",
                loss_drop="0.62 kPa", loss_flow="110 L/s"),
        element(2, "tube", "inlet tube", "intake", "230 mm", tube=("70.0 mm", "1.8 mm"), bend_angle="35 °", bend_radius="140 mm"),
        element(3, "tube", "tube under the latch", "intake", "90 mm", squashed=("70.0 mm", "1.8 mm", "50.5 mm")),
        element(4, "bend", "hose to the throttle", "intake", "150 mm", "66.0 mm",
                bend_angle="70 °", bend_radius="85 mm", surface="smooth"),
        *throttle,
        *plenum,
        element(8, "port", "intake port", "intake", "92 mm", wh=("46.0 mm", "33.6 mm", "9 mm"), branches=4, surface="cast"),
    )  # fmt: skip


HERON_EXHAUST = (
    element(10, "head", "head", "engine", "70 mm", "60 mm", provenance="nominal", tool="", good_to="1 mm"),
    element(11, "exhaust port", "exhaust ports", "exhaust", "74 mm", "34.8 mm", branches=4, surface="cast", tool="bore gauge"),
    element(12, "primary", "primaries", "exhaust", "460 mm", "38.2 mm", tool="bore gauge", good_to="0.05 mm", branches=4,
            bend_angle="80 °", bend_radius="57 mm"),
    element(13, "merge", "merge", "exhaust", "130 mm", "74 mm", exit_diameter="50.6 mm", good_to="0.5 mm"),
    element(14, "pipe", "front pipe", "exhaust", "720 mm", tube=("54.0 mm", "1.7 mm"), bend_angle="45 °", bend_radius="110 mm"),
    element(15, "catalyst", "catalyst", "exhaust", "230 mm", "101 mm", good_to="1 mm", loss_drop="0.85 kPa", loss_flow="100 L/s"),
    element(16, "pipe", "mid pipe", "exhaust", "1080 mm", tube=("54.0 mm", "1.7 mm"), bend_angle="60 °", bend_radius="110 mm",
            burr="0.6 mm"),
    element(17, "muffler", "muffler", "exhaust", "480 mm", "50.6 mm", volume="11.8 L", tool="tape", good_to="1 mm",
            loss_drop="1.15 kPa", loss_flow="100 L/s"),
    element(18, "tip", "tip", "exhaust", "170 mm", "60.2 mm", provenance="nominal", tool=""),
)  # fmt: skip
GANNET = (
    *_heron_intake(
        (element(5, "throttle", "throttle body", "intake", "58 mm", "62.0 mm", tool="bore gauge", good_to="0.02 mm", proud="0.4 mm"),),
        (
            element(6, "plenum", "stock plenum", "intake", "330 mm", "62 mm", of="A", volume="3.10 L", tool="burette"),
            element(6, "plenum", "Gannet plenum", "intake", "345 mm", "62 mm", of="B", volume="3.50 L", tool="burette",
                    stack_height="14 mm", stack_outside="50 mm", spacer_area="29500 mm2", spacer_height="12 mm"),
            element(7, "runner", "stock runner", "intake", "302 mm", of="A", wh=("46.2 mm", "33.8 mm", "9 mm"),
                    branches=4, surface="cast"),
            element(7, "runner", "Gannet runner", "intake", "371 mm", of="B", wh=("45.6 mm", "33.4 mm", "9 mm"),
                    branches=4, surface="cast",
                    mouth_radius="6 mm"),
        ),
    ),
    *HERON_EXHAUST,
)  # fmt: skip
PETREL = (
    *_heron_intake(
        (
            element(5, "throttle", "stock throttle body", "intake", "58 mm", "62.0 mm", of="A", tool="bore gauge", good_to="0.02 mm"),
            element(5, "throttle", "Petrel throttle body", "intake", "58 mm", "66.0 mm", of="B", tool="bore gauge", good_to="0.02 mm"),
        ),
        (
            element(6, "plenum", "plenum", "intake", "330 mm", "62 mm", volume="3.10 L", tool="burette"),
            element(7, "runner", "runner", "intake", "302 mm", wh=("46.2 mm", "33.8 mm", "9 mm"), branches=4, surface="cast"),
        ),
    ),
    *HERON_EXHAUST,
)  # fmt: skip
ELBOW = (
    element(1, "air box", "air box", "intake", "240 mm", "74 mm", volume="7.2 L", tool="burette", good_to="1 mm",
            loss_drop="0.9 kPa", loss_flow="90 L/s"),
    element(2, "tube", "tube to the turbo", "intake", "380 mm", tube=("65 mm", "2 mm"), bend_angle="90 °", bend_radius="95 mm"),
    element(3, "compressor", "compressor", "intake", "90 mm", "44 mm", pressure_ratio=1.9, tool="data sheet", provenance="nominal"),
    element(4, "tube", "charge pipe", "intake", "520 mm", tube=("54 mm", "2 mm"), bend_angle="110 °", bend_radius="80 mm"),
    element(5, "intercooler", "intercooler", "intake", "340 mm", "52 mm", volume="2.8 L", tool="burette", good_to="1 mm",
            loss_drop="3.2 kPa", loss_flow="90 L/s", outlet_temperature="48 C"),
    element(6, "bend", "stock elbow", "intake", "165 mm", "58.4 mm", of="A", bend_angle="90 °", burr="0.8 mm", surface="cast"),
    element(6, "bend", "cast elbow", "intake", "172 mm", "61.8 mm", of="B", bend_angle="90 °", bend_radius="72 mm", surface="cast"),
    element(7, "plenum", "plenum", "intake", "310 mm", "58 mm", volume="2.4 L", tool="burette"),
    element(8, "runner", "runner", "intake", "140 mm", "36 mm", branches=4, surface="cast"),
    element(10, "head", "head", "engine", "70 mm", "56 mm", provenance="nominal", tool="", good_to="1 mm"),
    element(11, "exhaust port", "exhaust manifold", "exhaust", "260 mm", "33 mm", branches=4, surface="cast"),
    element(12, "turbine", "turbine", "exhaust", "110 mm", "40 mm", pressure_ratio=1.8, loss_drop="6 kPa", loss_flow="90 L/s"),
    element(13, "cone", "outlet cone", "exhaust", "42 mm", "46 mm", exit_diameter="60.6 mm"),
    element(14, "downpipe", "downpipe", "exhaust", "640 mm", tube=("63.5 mm", "1.6 mm"), bend_angle="75 °", bend_radius="95 mm"),
    element(15, "catalyst", "catalyst", "exhaust", "260 mm", "118 mm", good_to="1 mm", loss_drop="1.4 kPa", loss_flow="90 L/s"),
    element(16, "pipe", "long pipe", "exhaust", "1900 mm", tube=("60 mm", "1.5 mm"), bend_angle="120 °", bend_radius="90 mm"),
    element(17, "muffler", "muffler", "exhaust", "520 mm", "57 mm", volume="14 L", tool="tape", good_to="1 mm",
            loss_drop="1.1 kPa", loss_flow="90 L/s"),
    element(18, "tip", "tail pipe", "exhaust", "300 mm", tube=("60 mm", "1.5 mm"), bend_angle="45 °"),
)  # fmt: skip
CREST = (
    element(1, "air box", "air box", "intake", "310 mm", "92 mm", volume="9.4 L", tool="burette", good_to="1 mm"),
    element(2, "tube", "inlet tube", "intake", "520 mm", tube=("95 mm", "2.5 mm"), bend_angle="60 °", bend_radius="150 mm"),
    element(3, "throttle", "throttle body", "intake", "72 mm", "80.0 mm", tool="bore gauge", good_to="0.02 mm"),
    element(4, "plenum", "stock plenum", "intake", "420 mm", "80 mm", of="A", volume="4.1 L", tool="burette"),
    element(4, "plenum", "Crest open plenum", "intake", "430 mm", "80 mm", of="B", volume="8.6 L", tool="burette"),
    element(5, "runner", "stock runner", "intake", "395 mm", of="A", wh=("52 mm", "30 mm", "8 mm"), branches=8, surface="cast"),
    element(5, "runner", "Crest runner", "intake", "168 mm", of="B", wh=("56 mm", "34 mm", "8 mm"), branches=8, surface="cast"),
    element(6, "port", "intake port", "intake", "118 mm", wh=("54 mm", "32 mm", "8 mm"), branches=8, surface="cast"),
    element(10, "head", "heads", "engine", "90 mm", "70 mm", provenance="nominal", tool="", good_to="1 mm"),
    element(11, "primary", "manifold legs", "exhaust", "310 mm", "41 mm", branches=8, surface="cast"),
    element(12, "collector", "collectors", "exhaust", "140 mm", "70 mm", exit_diameter="57 mm", branches=2, surface="cast"),
    element(13, "catalyst", "catalysts", "exhaust", "250 mm", "112 mm", branches=2, loss_drop="0.9 kPa", loss_flow="180 L/s"),
    element(14, "pipe", "bank pipes", "exhaust", "900 mm", tube=("60 mm", "1.5 mm"), branches=2, bend_angle="90 °",
            bend_radius="100 mm"),
    element(15, "muffler", "muffler", "exhaust", "610 mm", "66 mm", volume="19 L", tool="tape", good_to="1 mm"),
    element(16, "tip", "tail pipe", "exhaust", "1500 mm", tube=("70 mm", "1.5 mm"), bend_angle="110 °", bend_radius="110 mm"),
)  # fmt: skip
BITTERN = (
    element(1, "air box", "air box", "intake", "190 mm", "70 mm", volume="5.6 L", tool="burette", good_to="1 mm",
            loss_drop="0.62 kPa", loss_flow="110 L/s"),
    element(2, "tube", "tube to the turbo", "intake", "420 mm", tube=("70 mm", "2 mm"), bend_angle="90 °", bend_radius="110 mm"),
    element(3, "compressor", "compressor", "intake", "90 mm", "48 mm", tool="bore gauge", pressure_ratio=1.9),
    element(4, "tube", "charge pipe", "intake", "640 mm", tube=("54 mm", "2 mm"), bend_angle="120 °", bend_radius="85 mm"),
    element(5, "intercooler", "intercooler", "intake", "360 mm", "56 mm", volume="3.4 L", tool="burette", good_to="1 mm",
            loss_drop="3.4 kPa", loss_flow="140 L/s"),
    element(6, "throttle", "throttle body", "intake", "58 mm", "57.0 mm", tool="bore gauge", good_to="0.02 mm"),
    element(7, "plenum", "plenum", "intake", "330 mm", "60 mm", volume="2.9 L", tool="burette"),
    element(8, "runner", "runner", "intake", "240 mm", wh=("45 mm", "33 mm", "9 mm"), branches=4, surface="cast"),
    element(10, "head", "head", "engine", "70 mm", "60 mm", provenance="nominal", tool="", good_to="1 mm"),
    element(11, "exhaust port", "exhaust manifold", "exhaust", "210 mm", "34 mm", branches=4, surface="cast"),
    element(12, "turbine", "turbine", "exhaust", "110 mm", "46 mm", exit_diameter="52 mm", pressure_ratio=1.75,
            loss_drop="7 kPa", loss_flow="110 L/s"),
    element(13, "cone", "stock outlet cone", "exhaust", "35 mm", "52 mm", exit_diameter="57.2 mm", of="A"),
    element(13, "cone", "Bittern outlet cone", "exhaust", "85 mm", "52 mm", exit_diameter="72.8 mm", of="B"),
    element(14, "downpipe", "stock downpipe", "exhaust", "680 mm", tube=("60 mm", "1.4 mm"), bend_angle="80 °", bend_radius="90 mm",
            of="A"),
    element(14, "downpipe", "Bittern downpipe", "exhaust", "700 mm", tube=("76 mm", "1.6 mm"), bend_angle="80 °",
            bend_radius="115 mm", of="B"),
    element(15, "catalyst", "catalyst", "exhaust", "240 mm", "110 mm", good_to="1 mm", loss_drop="1.6 kPa", loss_flow="110 L/s"),
    element(16, "pipe", "mid pipe", "exhaust", "1300 mm", tube=("60 mm", "1.5 mm"), bend_angle="75 °", bend_radius="110 mm"),
    element(17, "muffler", "muffler", "exhaust", "500 mm", "57 mm", volume="12.6 L", tool="tape", good_to="1 mm",
            loss_drop="1.3 kPa", loss_flow="110 L/s"),
    element(18, "tip", "tip", "exhaust", "240 mm", tube=("63.5 mm", "1.5 mm")),
)  # fmt: skip
SKIM = (
    element(1, "bellmouth", "bellmouth", "intake", "22 mm", "44 mm", exit_diameter="28.0 mm", mouth_radius="12 mm"),
    element(2, "throttle", "carburettor", "intake", "84 mm", "28.0 mm", tool="bore gauge", good_to="0.02 mm"),
    element(3, "tube", "inlet tract", "intake", "62 mm", "29.5 mm", surface="cast"),
    element(10, "head", "cylinder", "engine", "60 mm", "62 mm"),
    element(11, "exhaust port", "exhaust port", "exhaust", "58 mm", "36.0 mm", surface="cast"),
    element(12, "primary", "header", "exhaust", "225 mm", "38.0 mm", of="A"),
    element(13, "cone", "diffuser", "exhaust", "265 mm", "38.0 mm", exit_diameter="102 mm", of="A"),
    element(14, "pipe", "belly", "exhaust", "90 mm", "102 mm", of="A"),
    element(15, "cone", "baffle", "exhaust", "195 mm", "102 mm", exit_diameter="23.5 mm", of="A"),
    element(12, "primary", "header, rev C", "exhaust", "210 mm", "37.6 mm", exit_diameter="40.4 mm", of="B"),
    element(13, "cone", "diffuser, rev C", "exhaust", "290 mm", "40.4 mm", exit_diameter="104 mm", of="B"),
    element(14, "pipe", "belly, rev C", "exhaust", "78 mm", "104 mm", of="B"),
    element(15, "cone", "baffle, rev C", "exhaust", "180 mm", "104 mm", exit_diameter="22.8 mm", of="B"),
    element(16, "tip", "stinger", "exhaust", "205 mm", "22.8 mm"),
)  # fmt: skip
DUET = (
    element(1, "air box", "air box", "intake", "260 mm", "76 mm", volume="6.1 L", tool="burette", good_to="1 mm"),
    element(2, "tube", "inlet tube", "intake", "340 mm", tube=("76 mm", "2 mm")),
    element(3, "throttle", "throttle body", "intake", "64 mm", "65 mm", tool="bore gauge", good_to="0.02 mm"),
    element(4, "plenum", "plenum", "intake", "280 mm", "65 mm", volume="2.2 L", tool="burette"),
    element(5, "runner", "runners", "intake", "330 mm", "42 mm", branches=2, surface="cast"),
    element(6, "port", "stock ports", "intake", "70 mm", wh=("44 mm", "29 mm", "9 mm"), branches=2, surface="cast", of="A"),
    element(6, "port", "ports with insert S2", "intake", "70 mm", wh=("48 mm", "31 mm", "9 mm"), branches=2, surface="smooth", of="B"),
    element(10, "head", "rotors", "engine", "80 mm", "90 mm", provenance="nominal", tool="", good_to="1 mm"),
    element(11, "exhaust port", "exhaust ports", "exhaust", "60 mm", "40 mm", branches=2, surface="cast"),
    element(12, "primary", "primaries", "exhaust", "620 mm", "47 mm", branches=2, bend_angle="90 °", bend_radius="90 mm"),
    element(13, "collector", "collector", "exhaust", "180 mm", "66 mm", exit_diameter="60 mm"),
    element(14, "pipe", "pipe", "exhaust", "1300 mm", tube=("63.5 mm", "1.6 mm")),
    element(15, "muffler", "muffler", "exhaust", "450 mm", "60.3 mm", volume="9 L", tool="tape", good_to="1 mm"),
    element(16, "tip", "tip", "exhaust", "200 mm", "63 mm"),
)  # fmt: skip

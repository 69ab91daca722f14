"""The measured paths of the demo's applications, from mouth to tail, in the words people would type."""

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
        element(
            1,
            "air box",
            "air box",
            "intake",
            "190 mm",
            "70 mm",
            volume="5.6 L",
            tool="burette",
            good_to="1 mm",
            loss_drop="0.62 kPa",
            loss_flow="110 L/s",
        ),
        element(
            2,
            "tube",
            "inlet tube",
            "intake",
            "230 mm",
            tube=("70.0 mm", "1.8 mm"),
            bend_angle="35 °",
            bend_radius="140 mm",
        ),
        element(3, "tube", "tube under the latch", "intake", "90 mm", squashed=("70.0 mm", "1.8 mm", "50.5 mm")),
        element(
            4,
            "bend",
            "hose to the throttle",
            "intake",
            "150 mm",
            "66.0 mm",
            bend_angle="70 °",
            bend_radius="85 mm",
            surface="smooth",
        ),
        *throttle,
        *plenum,
        element(
            8, "port", "intake port", "intake", "92 mm", wh=("46.0 mm", "33.6 mm", "9 mm"), branches=4, surface="cast"
        ),
    )


HERON_EXHAUST = (
    element(10, "head", "head", "engine", "70 mm", "60 mm", provenance="nominal", tool="", good_to="1 mm"),
    element(
        11,
        "exhaust port",
        "exhaust ports",
        "exhaust",
        "74 mm",
        "34.8 mm",
        branches=4,
        surface="cast",
        tool="bore gauge",
    ),
    element(
        12,
        "primary",
        "primaries",
        "exhaust",
        "460 mm",
        "38.2 mm",
        tool="bore gauge",
        good_to="0.05 mm",
        branches=4,
        bend_angle="80 °",
        bend_radius="57 mm",
    ),
    element(13, "merge", "merge", "exhaust", "130 mm", "74 mm", exit_diameter="50.6 mm", good_to="0.5 mm"),
    element(
        14,
        "pipe",
        "front pipe",
        "exhaust",
        "720 mm",
        tube=("54.0 mm", "1.7 mm"),
        bend_angle="45 °",
        bend_radius="110 mm",
    ),
    element(
        15,
        "catalyst",
        "catalyst",
        "exhaust",
        "230 mm",
        "101 mm",
        good_to="1 mm",
        loss_drop="0.85 kPa",
        loss_flow="100 L/s",
    ),
    element(
        16,
        "pipe",
        "mid pipe",
        "exhaust",
        "1080 mm",
        tube=("54.0 mm", "1.7 mm"),
        bend_angle="60 °",
        bend_radius="110 mm",
        burr="0.6 mm",
    ),
    element(
        17,
        "muffler",
        "muffler",
        "exhaust",
        "480 mm",
        "50.6 mm",
        volume="11.8 L",
        tool="tape",
        good_to="1 mm",
        loss_drop="1.15 kPa",
        loss_flow="100 L/s",
    ),
    element(18, "tip", "tip", "exhaust", "170 mm", "60.2 mm", provenance="nominal", tool=""),
)
GANNET = (
    *_heron_intake(
        (
            element(
                5,
                "throttle",
                "throttle body",
                "intake",
                "58 mm",
                "62.0 mm",
                tool="bore gauge",
                good_to="0.02 mm",
                proud="0.4 mm",
            ),
        ),
        (
            element(6, "plenum", "stock plenum", "intake", "330 mm", "62 mm", of="A", volume="3.10 L", tool="burette"),
            element(
                6,
                "plenum",
                "Gannet plenum",
                "intake",
                "345 mm",
                "62 mm",
                of="B",
                volume="3.50 L",
                tool="burette",
                stack_height="14 mm",
                stack_outside="50 mm",
                spacer_area="29500 mm2",
                spacer_height="12 mm",
            ),
            element(
                7,
                "runner",
                "stock runner",
                "intake",
                "302 mm",
                of="A",
                wh=("46.2 mm", "33.8 mm", "9 mm"),
                branches=4,
                surface="cast",
            ),
            element(
                7,
                "runner",
                "Gannet runner",
                "intake",
                "371 mm",
                of="B",
                wh=("45.6 mm", "33.4 mm", "9 mm"),
                branches=4,
                surface="cast",
                mouth_radius="6 mm",
            ),
        ),
    ),
    *HERON_EXHAUST,
)
PETREL = (
    *_heron_intake(
        (
            element(
                5,
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
                5,
                "throttle",
                "Petrel throttle body",
                "intake",
                "58 mm",
                "66.0 mm",
                of="B",
                tool="bore gauge",
                good_to="0.02 mm",
            ),
        ),
        (
            element(6, "plenum", "plenum", "intake", "330 mm", "62 mm", volume="3.10 L", tool="burette"),
            element(
                7, "runner", "runner", "intake", "302 mm", wh=("46.2 mm", "33.8 mm", "9 mm"), branches=4, surface="cast"
            ),
        ),
    ),
    *HERON_EXHAUST,
)

"""Properties of real air and water by CoolProp, which takes seconds to load: only where a test asks."""

from __future__ import annotations

from typing import Any


def props(*asked: Any) -> float:
    """`CoolProp.PropsSI` [SI]."""
    from CoolProp.CoolProp import PropsSI

    return float(PropsSI(*asked))


def humid(*asked: Any) -> float:
    """`CoolProp.HAPropsSI` [SI]."""
    from CoolProp.CoolProp import HAPropsSI

    return float(HAPropsSI(*asked))

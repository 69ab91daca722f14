"""A square code of an address (ISO/IEC 18004), drawn here as SVG."""

from __future__ import annotations

import io

import segno


def svg(address: str, scale: int = 4) -> str:
    """The code of an address with its quiet zone, black on white; a fourth of it may be torn off and it still reads."""
    out = io.BytesIO()
    segno.make(address, error="q", micro=False).save(
        out,
        kind="svg",
        scale=scale,
        border=4,
        xmldecl=False,
        svgns=True,
        nl=False,
        dark="#000",
        light="#fff",
        title=address,
    )
    return out.getvalue().decode()

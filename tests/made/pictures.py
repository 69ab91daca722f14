"""A drawn stand-in for a photo of a port beside a ruler."""

from __future__ import annotations

import io

from PIL import Image, ImageDraw

PIXELS_PER_MM = 12


def port_photo() -> bytes:
    """A drawn stand-in for a photo: a port in a gasket face beside a 60 mm ruler, square on, 12 pixels a millimetre."""
    image = Image.new("RGB", (1000, 760), (172, 170, 164))
    pen = ImageDraw.Draw(image)
    width, height, radius = (round(v * PIXELS_PER_MM) for v in (46.0, 33.6, 9.0))
    left, top = 200, 90
    pen.rounded_rectangle(
        (left, top, left + width, top + height), radius, fill=(34, 33, 32), outline=(214, 212, 206), width=3
    )
    for x, y in ((120, 120), (840, 470)):
        pen.ellipse((x - 34, y - 34, x + 34, y + 34), fill=(60, 59, 57), outline=(214, 212, 206), width=3)
    pen.rectangle((120, 620, 120 + 64 * PIXELS_PER_MM, 700), fill=(226, 222, 206))
    for mm in range(61):
        x = 140 + mm * PIXELS_PER_MM
        pen.line((x, 620, x, 620 + (44 if mm % 10 == 0 else 30 if mm % 5 == 0 else 18)), fill=(30, 30, 30), width=2)
        if mm % 10 == 0:
            pen.text((x - 6, 668), str(mm), fill=(30, 30, 30))
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()

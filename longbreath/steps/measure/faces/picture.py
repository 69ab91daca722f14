"""Two faces laid over each other, as a picture in the viewer's units."""

from __future__ import annotations

from longbreath.core.basis import units
from longbreath.core.path import faces
from longbreath.drawing.overlay import overlay
from longbreath.store.models import Face


def lip_words(lip: faces.Lip, system: str) -> str:
    """A lip with which way it faces, for the picture."""
    if lip.faces == "flush":
        return "flush"
    return f"{units.show(abs(lip.height), 'length', system, 0.0001)} {'opens' if lip.height > 0 else 'stands'}"


def picture(
    upstream: Face, downstream: Face, place: faces.FacePlace, match: faces.FaceMatch, side: str, system: str
) -> str:
    """Both faces laid over each other."""
    bar = (0.01, "10 mm") if system == "metric" else (0.0127, "½ in")
    worst = match.worst_at if match.worst >= faces.LIP_SEEN else None
    return overlay(
        upstream.points,
        faces.laid(downstream.points, place),
        match.common,
        match.stands,
        [(lip.side, lip_words(lip, system)) for lip in match.lips],
        worst,
        side,
        (upstream.name, downstream.name),
        bar,
        (place.right, place.up),
    )

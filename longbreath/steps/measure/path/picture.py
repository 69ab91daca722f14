"""The long section of a page: core results turned into what the drawing takes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from math import degrees

from flask import url_for
from markupsafe import Markup

from longbreath.core.basis import units
from longbreath.core.engine.assumptions import ROOM_PRESSURE
from longbreath.dossier.path.versions import Version, heights, marks_by, stretch
from longbreath.drawing.longsection import Block, PathRow, Series, Strip, long_section
from longbreath.store.models import Application

MACH_LIMIT = 0.3


def picture(
    application: Application,
    versions: Sequence[Version],
    side: str,
    system: str,
    lit: int | None,
    times: float,
    trials: Mapping[int, float],
) -> Markup:
    """Walls of all versions over each other, and the strips of area, velocity, Mach number and static pressure."""
    rows = [_row(application, v, system, trials) for v in versions]
    small = (0.1, "100 mm") if system == "metric" else (0.1016, "4 in")
    return long_section(rows, _strips(versions, system), side, lit, times, scale_text=small)


def _row(application: Application, version: Version, system: str, trials: Mapping[int, float]) -> PathRow:
    starts, marks = stretch(version), marks_by(version, system)
    blocks = []
    for row, element in zip(version.rows, version.elements, strict=True):
        entry, exit = heights(row)
        if row.id in trials and not element.is_volume:
            entry, exit = element.entry.equal_area_diameter, element.exit.equal_area_diameter
        bend = f"{degrees(element.bend_angle):.0f}°" if element.bend_angle else ""
        blocks.append(
            Block(
                row.id,
                row.name,
                row.kind,
                row.side,
                starts[row.id],
                row.length,
                entry,
                exit,
                element.is_volume,
                row.branches,
                bend,
                marks.get(row.id, ()),
                element.nominal,
                url_for("path.edit_element", application_id=application.id, element_id=row.id),
                "" if element.is_volume else f"⌀ {units.show(entry, 'length', system)}",
                units.show(element.volume, "plenum", system, 0.01e-3) if element.is_volume and element.volume else "",
            )
        )
    return PathRow(version.look, tuple(blocks))


def _strips(versions: Sequence[Version], system: str) -> list[Strip]:
    def unit(kind: str) -> str:
        return units.kind_named(kind).symbol(system)

    def of(kind: str, value: str, less: float = 0.0) -> tuple[Series, ...]:
        return tuple(
            Series(
                v.look,
                (tuple((s.x, units.to_unit(getattr(s, value) - less, kind, unit(kind))) for s in v.side.stations),),
            )
            for v in versions
        )

    return [
        Strip(f"area of one branch, {unit('area')}", tuple(_areas(v, unit("area")) for v in versions)),
        Strip(f"mean velocity while it flows, {unit('velocity')}", of("velocity", "velocity")),
        Strip("Mach number", of("ratio", "mach"), MACH_LIMIT, "0.3: above it, read as an estimate"),
        Strip(f"static pressure against the room, {unit('column')}", of("column", "static", ROOM_PRESSURE)),
    ]


def _areas(version: Version, symbol: str) -> Series:
    """Area along the way; a volume breaks the line, its section says nothing beside a tube's."""
    volumes = {e.key for e in version.elements if e.is_volume}
    runs: list[list[tuple[float, float]]] = [[]]
    for station in version.side.stations:
        if station.key in volumes:
            if runs[-1]:
                runs.append([])
        else:
            runs[-1].append((station.x, units.to_unit(station.area, "area", symbol)))
    return Series(version.look, tuple(tuple(run) for run in runs if run))

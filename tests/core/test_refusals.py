"""What cannot be is refused in words, whichever formula is asked."""

from __future__ import annotations

from math import radians

import pytest

from longbreath.core.basis.errors import InputError
from longbreath.core.bench import traverse
from longbreath.core.engine import headroom
from longbreath.core.path import calliper, faces, losses, sections, volumes
from longbreath.core.timing import closing as closing_rules
from longbreath.core.timing import port_ladder, wheel

MM = 0.001


def match(right: float = 0.0, up: float = 0.0, smaller: float = 0.0) -> faces.FaceMatch:
    a = traverse.rectangle_face(46 * MM, 34 * MM, 9 * MM)
    b = traverse.rectangle_face((46 - smaller) * MM, (34 - smaller) * MM, (9 - smaller / 2) * MM)
    return faces.lay_over(a, b, faces.FacePlace(right * MM, up * MM))


REFUSED = [
    lambda: calliper.read([], 0.1),
    lambda: calliper.read([0.0], 0.1),
    lambda: calliper.read([0.1], -1.0),
    lambda: sections.oval(0, 1),
    lambda: sections.d_section(0.04, 0.01),
    lambda: sections.d_section(0, 1),
    lambda: sections.traced([(0, 0), (1, 1)]),
    lambda: sections.traced([(0, 0), (1, 1), (1, 0), (0, 1)]),
    lambda: sections.section_of("oval", {"width": 1.0}),
    lambda: losses.mouth(0, 0),
    lambda: losses.bend(0.05, 1.0, 0.01, 1e5, 0),
    lambda: losses.ring(sections.round_section(0.04), 0.03),
    lambda: losses.measured(1, 0, 1.2, sections.round_section(0.04)),
    lambda: losses.cone_length(1, 2, 0),
    lambda: volumes.duct_figure([], "x"),
    lambda: volumes.plenum_figure(0.001, 4, 0.01, 0.05),
    lambda: volumes.response_figure(0, 1, 1, 1),
    lambda: volumes.crankcase_figures(0.05, 0.05, 0),
    lambda: volumes.frustum(sections.round_section(0.04), sections.round_section(0.04), 0),
    lambda: faces.stack_shift("v", [], 0.1),
    lambda: faces.stack_shift("v", [0.01], radians(89)),
    lambda: faces.traced_scale((0, 0), (1, 1), 0.1),
    lambda: faces.traced_scale((0, 0), (100, 0), 0),
    lambda: match(right=100),
    lambda: traverse.d_face(0.04, 0.01),
    lambda: traverse.oval_face(0, 1),
    lambda: traverse.face_of("round", {}),
    lambda: wheel.Sheet("cam", {}),
    lambda: wheel.Sheet("disc", {"exhaust_opens": 1.0}),
    lambda: wheel.opening(wheel.Sheet("disc", {}), "intake"),
    lambda: wheel.opening(wheel.Sheet("disc", {"intake_opens": 0.1, "intake_closes": -0.2}), "intake"),
    lambda: wheel.dead_centre_figure(0, 1),
    lambda: wheel.arc_angle(0, 1),
    lambda: wheel.arc_length(1, 0),
    lambda: wheel.port_angle(0.06, 0.054, 0.105),
    lambda: wheel.port_angle(0.01, 0.1, 0.04),
    lambda: closing_rules.judge_closing(1, 0, 1),
    lambda: headroom.pressure_at(2e4),
    lambda: headroom.sensor_figures(0, 1, 1),
    lambda: headroom.controller_figures(2, 1, 1),
    lambda: headroom.controller_figures(0.5, -1, 1),
    lambda: port_ladder.Value(1.0, "rumour"),
    lambda: headroom.injector_duty(0, 1, 4, 1, 1, 1, 1, 1, 0),
]


@pytest.mark.parametrize("ask", REFUSED)
def test_what_cannot_be_is_refused_in_words(ask: object) -> None:
    with pytest.raises(InputError, match=r"\w") as problem:
        ask()  # type: ignore[operator]
    assert problem.value.message.endswith((".", "?"))

"""Questions of a two-stroke’s pipe, disc and clutch, and of heat and quoted shifts."""

from __future__ import annotations

from longbreath.dossier.reckon.question import HEAT, TWO_STROKE, Question, two_stroke

QUESTIONS: tuple[Question, ...] = (
    Question(
        "pipe-shape",
        TWO_STROKE,
        "What does the usual pipe for this look like?",
        ("tuned_pipe",),
        {
            "speed": "tuned_speed",
            "duration": "exhaust_duration",
            "transfer": "transfer_duration",
            "wave": "wave",
            "port": "exhaust_port",
            "header": "header",
            "belly": "belly",
            "stinger": "stinger",
        },
        ("tuned", "window-from", "window-to"),
        two_stroke,
        needs="exhaust and transfer timing, and the port’s bore",
    ),
    Question(
        "clutch",
        TWO_STROKE,
        "Does the clutch let it reach its power?",
        ("clutch_match",),
        {"friction": "friction", "top": "band_to", "step": "step"},
        ("engages", "held"),
        lambda r: two_stroke(r) or "kart" in r.vehicle.use,
        needs="shoes, springs, and torque off and on the pipe",
    ),
    Question(
        "disc",
        TWO_STROKE,
        "How late may the disc close?",
        ("closing_delay",),
        {"closing": "intake_closes", "inlet_length": "inlet_length", "displacement": "displacement"},
        ("closing_limit",),
        two_stroke,
        needs="a timed disc and its inlet’s length",
    ),
    Question(
        "degree",
        TWO_STROKE,
        "Is a degree won at the disc or at the case port?",
        ("degree_won",),
        {},
        ("arc", "wall"),
        two_stroke,
        needs="the disc’s and the port’s sizes",
    ),
    Question(
        "retune",
        HEAT,
        "How far do heat and length move a tuned speed?",
        ("retune",),
        {"speed": "tuned_speed", "before": "pipe_temperature"},
        ("retuned",),
        needs="the gas temperature after the change",
    ),
    Question(
        "shift",
        HEAT,
        "What heat would a quoted shift need?",
        ("retune_needs",),
        {"speed": "tuned_speed", "before": "pipe_temperature"},
        ("needs", "change"),
        needs="the speed that was quoted, and of which gas",
    ),
    Question(
        "quotes",
        HEAT,
        "Can two quoted shifts both be true?",
        ("quoted_shifts",),
        {},
        ("one", "other"),
        needs="both quotes",
    ),
)

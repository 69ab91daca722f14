"""Forms of Plan: variants, test cards, ticking a line."""

from __future__ import annotations

from typing import Any

from wtforms import BooleanField, FloatField, SelectField, StringField, TextAreaField
from wtforms.validators import DataRequired, InputRequired, Length, NumberRange, Optional

from longbreath.core.basis.errors import InputError
from longbreath.core.build.states import STATES
from longbreath.core.build.variant import PartCard
from longbreath.core.plan.conditions import CONTROL_MODES, LIMITS, TUNE_MODES, WINDOW
from longbreath.core.plan.designs import DESIGNS, FACTORIAL, SERIES, Factor
from longbreath.core.plan.timetable import Times
from longbreath.dossier.plan.cards import CardDraft
from longbreath.store.models import TestCard, Variant
from longbreath.web.forms import BaseForm, CountField, QuantityField, RangeField, options

FACTORS, PARTS = (1, 2, 3), (1, 2, 3, 4)
MINUTES = (
    ("ready", "Getting ready"),
    ("pull", "A pull"),
    ("cool_down", "Cooling down after it"),
    ("swap", "A swap"),
    ("round", "A tuning round"),
    ("pack", "Packing up"),
)


class CardForm(BaseForm):
    """What is compared in which order, how, what is held, where the operator stops, what the day takes, who brings what."""

    design = SelectField("Design", choices=options(DESIGNS.items()))
    dyno_id = SelectField("Dyno", coerce=int)
    control_mode = SelectField("Boost is held by", choices=options([("", "no boost to hold"), *CONTROL_MODES.items()]))
    tune_mode = SelectField("Tune", choices=options([("", "not said"), *TUNE_MODES.items()]))
    letters = StringField(
        "Variants in order", [Length(max=80)], description="A, B; a ladder takes more. A factorial makes its own"
    )
    fittings = CountField("B goes on so many times", [NumberRange(1, 6, "From 1 to 6.")])
    returns = BooleanField("A once more at the end: without it drift cannot be told")
    pulls_per_set = CountField(
        "Pulls in each set", [InputRequired("This is missing."), NumberRange(2, 12, "From 2 to 12.")]
    )
    effect_wanted = QuantityField("Smallest gain worth finding", "torque", 1e-3, 1e4)
    no_matter = QuantityField(
        "A difference does not matter below",
        "percent",
        0.001,
        0.03,
        required=False,
        description="of A, for this use; empty: 1 %",
    )
    mixture_target = QuantityField("Mixture asked for, λ", "ratio", 0.5, 1.6, required=False)
    mixture_tolerance = QuantityField("λ may be off by", "ratio", 0.001, 0.3)
    held = TextAreaField(
        "Held the same",
        [DataRequired("Say what is held."), Length(max=600)],
        description="gear, fuel, tyres and pressure, bonnet, fan",
    )
    also_changed = TextAreaField(
        "What else differs, beside what the build sheets show",
        [DataRequired("Write “nothing” if so."), Length(max=600)],
        description="gaskets, a sensor moved; or “nothing”",
    )
    sensor_id = SelectField("Pressure sensor", coerce=int)
    station = QuantityField("Air pressure at the station", "barometer", 5e4, 1.1e5, required=False)
    spring = QuantityField("Boost of the controller’s spring alone", "pressure", 0.0, 1e6, required=False)
    limit_knock = StringField("Knock", [Length(max=120)], description="for example: two counts in a pull")
    weakest = StringField("The weakest part, and who says so", [Length(max=200)])
    warm_up = CountField("Warm-up pulls", [NumberRange(0, 20, "From 0 to 20.")])
    rounds = CountField("Tuning rounds for each", [NumberRange(0, 20, "From 0 to 20.")])
    margin = QuantityField("Margin for what goes wrong", "percent", 0.0, 1.0)
    brings = TextAreaField("Who brings what", [Length(max=2000)], description="one a line, who: what")
    consumables = TextAreaField(
        "Gaskets and fluids",
        [Length(max=2000)],
        description="one a line; write “look up” beside a torque that is not known",
    )

    def limits(self) -> dict[str, Any]:
        """The limits that were filled in, SI or words by name."""
        found: dict[str, Any] = {
            item.key: value for item in LIMITS if (value := getattr(self, f"limit_{item.key}").data) not in (None, "")
        }
        for name in ("sensor_id", "station", "weakest", "spring"):
            if getattr(self, name).data:
                found[name] = getattr(self, name).data
        return found

    def factors(self) -> tuple[Factor, ...]:
        """The factors that were filled in; none unless the design has them."""
        if self.design.data not in (FACTORIAL, SERIES):
            return ()
        found = []
        for k in FACTORS:
            name = (getattr(self, f"factor_{k}").data or "").strip()
            levels = tuple(x.strip() for x in (getattr(self, f"levels_{k}").data or "").splitlines() if x.strip())
            if name or levels:
                if not name:
                    raise InputError("Say what is varied.", f"factor_{k}")
                found.append(Factor(name, float(getattr(self, f"minutes_{k}").data or 0.0), levels))
        return tuple(found)

    def draft(self) -> CardDraft:
        """What was filled in as the draft of a card. Raises InputError beside the field that cannot be read."""
        letters = tuple(x for x in (self.letters.data or "").upper().replace(",", " ").replace("-", " ").split() if x)
        minutes = {name: getattr(self, f"time_{name}").data for name, _ in MINUTES}
        times = {**{k: float(v) for k, v in minutes.items() if v is not None}, "margin": self.margin.data}
        times |= {"warm_up": self.warm_up.data or 0, "rounds": self.rounds.data or 0}
        window = {name: list(v) for name in WINDOW if (v := getattr(self, f"window_{name}").data) is not None}
        return self.command(
            CardDraft,
            no_matter=self.no_matter.data or 0.01,
            letters=tuple(dict.fromkeys(letters)),
            fittings=self.fittings.data or 1,
            factors=self.factors(),
            tune_mode=self.tune_mode.data or "",
            control_mode=self.control_mode.data or "",
            limits=self.limits(),
            window=window,
            times=times,
            brings=_pairs(_lines(self.brings.data)),
            consumables=self.consumables.data or "",
        )

    def begin(self, card: TestCard | None) -> None:
        """Fill an empty form with a card, or with what is usual."""
        times = Times(**card.times) if card is not None else Times()
        for name, _ in MINUTES:
            getattr(self, f"time_{name}").data = getattr(times, name)
        self.warm_up.data, self.rounds.data, self.margin.data = times.warm_up, times.rounds, times.margin
        if card is None:
            self.letters.data, self.fittings.data, self.returns.data = "A, B", 1, True
            self.pulls_per_set.data, self.mixture_tolerance.data = 3, 0.03
            return
        letters = list(dict.fromkeys(letter for letter, _ in card.sets))
        self.letters.data = letters[0] if card.factors else ", ".join(letters)
        self.fittings.data = sum(letter == letters[-1] for letter, _ in card.sets)
        self.returns.data = card.sets[-1][0] == letters[0]
        for k, factor in enumerate(card.factors, start=1):
            getattr(self, f"factor_{k}").data = factor["name"]
            getattr(self, f"minutes_{k}").data = factor["minutes"]
            getattr(self, f"levels_{k}").data = "\n".join(factor["levels"])
        for item in LIMITS:
            getattr(self, f"limit_{item.key}").data = card.limits.get(item.key)
        self.sensor_id.data, self.station.data = card.limits.get("sensor_id", 0), card.limits.get("station")
        self.weakest.data, self.spring.data = card.limits.get("weakest", ""), card.limits.get("spring")
        for name in WINDOW:
            getattr(self, f"window_{name}").data = tuple(card.window[name]) if name in card.window else None
        self.brings.data = _lines(card.brings)


for _k in FACTORS:
    setattr(CardForm, f"factor_{_k}", StringField(f"Factor {_k}", [Length(max=60)]))
    _minutes = FloatField("Minutes to change it", [Optional(), NumberRange(0, 600, "From 0 to 600 minutes.")])
    setattr(CardForm, f"minutes_{_k}", _minutes)
    _told = "one a line, the reference first; a part as the library names it, a controller’s step with its boost: 30 % = 70 kPa"
    setattr(CardForm, f"levels_{_k}", TextAreaField("Its levels", [Length(max=1000)], description=_told))
for _limit in LIMITS:
    if _limit.kind:
        _field = QuantityField(f"{_limit.name}, stop {_limit.side}", _limit.kind, 0.0, required=False)
        setattr(CardForm, f"limit_{_limit.key}", _field)
for _name, _label in WINDOW.items():
    setattr(CardForm, f"window_{_name}", RangeField(f"{_label} at the start", "temperature"))
for _name, _label in MINUTES:
    setattr(
        CardForm,
        f"time_{_name}",
        FloatField(f"{_label}, min", [Optional(), NumberRange(0, 600, "From 0 to 600 minutes.")]),
    )


def _lines(brings: Any) -> str:
    """Who brings what, one a line; a text stays as it was typed."""
    return brings if isinstance(brings, str) else "\n".join(f"{who}: {what}" for who, what in brings or ())


def _pairs(text: str) -> tuple[tuple[str, str], ...]:
    """Lines of "who: what". Raises InputError for a line without both."""
    found = []
    for line in text.splitlines():
        who, colon, what = line.partition(":")
        if line.strip() and not (colon and who.strip() and what.strip()):
            raise InputError(f"“{line.strip()[:40]}” does not say who and what: write “Mara: gasket set”.", "brings")
        if line.strip():
            found.append((who.strip(), what.strip()))
    return tuple(found)


class VariantForm(BaseForm):
    """What stands under a letter: parts with their state, a name, a build sheet, a tune, a controller setting."""

    base = SelectField("It is like", description="in all that is left empty here, and it follows what is changed there")
    name = StringField("Called", [Length(max=120)], description="what it is beside its parts: with 12 mm spacer")
    build_title = SelectField("Build sheet")
    tune_id = SelectField("Tune", coerce=int)
    control_mode = StringField("Controller setting", [Length(max=120)])
    rounds = CountField("Tuning rounds it was given", [Optional(), NumberRange(0, 99, "From 0 to 99.")])

    def parts(self) -> tuple[PartCard, ...]:
        """The parts that were chosen."""
        found = []
        for k in PARTS:
            revision = getattr(self, f"part_{k}").data
            if revision:
                states = {name: (getattr(self, f"{name}_{k}").data or "").strip() for name in STATES}
                found.append(PartCard(revision, getattr(self, f"sample_{k}").data or None, **states))
        return tuple(found)

    def begin(self, variant: Variant | None) -> None:
        """Fill the parts of an empty form."""
        for k, part in enumerate(variant.parts[: len(PARTS)] if variant is not None else (), start=1):
            getattr(self, f"part_{k}").data = part.revision_id
            getattr(self, f"sample_{k}").data = part.sample_id or 0
            for name in STATES:
                getattr(self, f"{name}_{k}").data = getattr(part, name)


STATE_LABELS = {
    "casting": "Casting",
    "finish": "Finish",
    "machining": "Machining",
    "coating": "Coating",
    "modified": "Modified: epoxy, grinding, spacer, adapter, wear",
}
for _k in PARTS:
    setattr(VariantForm, f"part_{_k}", SelectField(f"Part {_k}", coerce=int))
    setattr(VariantForm, f"sample_{_k}", SelectField("Which piece", coerce=int))
    for _name, _label in STATE_LABELS.items():
        setattr(VariantForm, f"{_name}_{_k}", StringField(_label, [Length(max=120)]))


class TickForm(BaseForm):
    """One line of a checklist, ticked."""

    line = StringField("Line", [DataRequired("Which line?"), Length(max=300)])
    note = StringField("What was found", [Length(max=300)])

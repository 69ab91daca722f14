"""Forms of Weigh: any band, the ledger, weights of use, what is in a box."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, cast

from wtforms import DateField, SelectField, StringField, TextAreaField
from wtforms.validators import Length, Optional

from longbreath.core.basis import units
from longbreath.core.basis.constants import RPM
from longbreath.core.basis.errors import InputError
from longbreath.core.build.sheet import can_close
from longbreath.core.case.builds import Builds
from longbreath.core.compare.bands import Band
from longbreath.core.weigh import ranking
from longbreath.core.weigh.ledger import BOUNDED, LARGEST_BOUND, MEASURED, UNKNOWN
from longbreath.core.weigh.parity import Item
from longbreath.core.weigh.ranking import Weights
from longbreath.dossier.evidence.reasons import LineCard
from longbreath.dossier.weigh.kits import LIMITS, KitCard
from longbreath.store.models import KitSheet
from longbreath.web.forms import AskForm, BaseForm, QuantityField, options

KNOWN = (
    ("", "only why it differed"),
    (MEASURED, "measured alone: take it off"),
    (BOUNDED, "bounded: it moves B − A by no more than"),
    (UNKNOWN, "its effect is not known"),
)


class BandForm(AskForm):
    """A band of speeds. Kept in the address."""

    low = QuantityField("From", "speed", 100 * RPM, 30000 * RPM)
    high = QuantityField("to", "speed", 100 * RPM, 30000 * RPM)


class LedgerForm(BaseForm):
    """What is known of each thing in which A and B differed; its fields are made for them."""

    lines: tuple[str, ...] = ()

    def given(self) -> dict[str, LineCard]:
        """What was written, by line."""
        return {line: self._card(line) for line in self.lines}

    def _card(self, line: str) -> LineCard:
        kind = self[f"kind_{line}"].data or ""
        test = str(self[f"test_{line}"].data or "")
        session, _, letters = test.partition("/")
        one, _, other = letters.partition("/")
        measured = kind == MEASURED and session.isdigit()
        bounded = kind == BOUNDED
        return LineCard(
            self[f"reason_{line}"].data or "",
            kind,
            self[f"low_{line}"].data if bounded else None,
            self[f"high_{line}"].data if bounded else None,
            int(session) if measured else None,
            one if measured else "",
            other if measured else "",
        )


def ledger_form(found: Builds, tests: Sequence[tuple[str, str]]) -> LedgerForm:
    """The form for the differences of an evidence, with what stands."""
    fields: dict[str, Any] = {"lines": tuple(item.line for item in found.differing)}
    data: dict[str, Any] = {}
    for item, was in zip(found.differing, found.written, strict=True):
        line = item.line
        fields[f"reason_{line}"] = StringField(f"Why {item.label.lower()} differed", [Optional(), Length(max=300)])
        known = [(kind, words) for kind, words in KNOWN if not kind or kind == UNKNOWN or can_close(line)]
        fields[f"kind_{line}"] = SelectField(
            "What is known of its effect", choices=options(known), validate_choice=False
        )
        for edge, label in (("low", "least, of A’s torque"), ("high", "most, of A’s torque")):
            fields[f"{edge}_{line}"] = QuantityField(label, "percent", -LARGEST_BOUND, LARGEST_BOUND, required=False)
        choices = options([("", "choose the test"), *tests])
        fields[f"test_{line}"] = SelectField("The test that measured it alone", choices=choices, validate_choice=False)
        data |= {f"reason_{line}": item.reason}
        if was is not None:
            test = f"{was.session}/{was.from_letter}/{was.to_letter}" if was.session else ""
            data |= {f"kind_{line}": was.kind, f"low_{line}": was.low, f"high_{line}": was.high, f"test_{line}": test}
    kind = cast(type[LedgerForm], type("LedgerForm", (LedgerForm,), fields))
    return kind(data=data)


class WeightsForm(BaseForm):
    """What each band counts; or the ratios of the gears, of which the weights are made."""

    gears = StringField(
        "Ratios of the gears",
        [Optional(), Length(max=80)],
        description="first to last: 3.5 2.1 1.4 1.0; empty: take the shares",
    )
    shift = QuantityField("Shifted at", "speed", 500 * RPM, 30000 * RPM, required=False)
    reason = StringField("Why these weights", [Optional(), Length(max=200)], description="stands beside every ranking")

    def weights(self, bands: Sequence[Band]) -> Weights:
        """The weights that were declared. Raises InputError beside a field."""
        if (self.gears.data or "").strip():
            return ranking.weights_of_gears(self._ratios(), self.shift.data or bands[-1].high, bands)
        shares = {band.name: float(self[f"weight_{band.name}"].data or 0.0) for band in bands}
        why = " ".join((self.reason.data or "").split())
        if not why:
            raise InputError("Say why: it stands beside every ranking.", "reason")
        return ranking.checked(shares, why)

    def _ratios(self) -> list[float]:
        try:
            return [float(part.replace(",", ".")) for part in str(self.gears.data).replace("/", " ").split()]
        except ValueError:
            raise InputError("Write the ratios as numbers with blanks between: 3.5 2.1 1.4.", "gears") from None


def weights_form(bands: Sequence[Band], stand: Weights) -> WeightsForm:
    """The form for the weights of a vehicle's bands, with those that stand."""
    fields = {
        f"weight_{band.name}": QuantityField(f"{band.name}, {band.words} rpm", "percent", 0.0, 1.0, required=False)
        for band in bands
    }
    kind = cast(type[WeightsForm], type("WeightsForm", (WeightsForm,), fields))
    return kind(data={f"weight_{name}": share for name, share in stand.shares.items()})


class StackForm(AskForm):
    """Tests one after the other against the whole. Kept in the address."""

    first = SelectField("First step", validate_choice=False)
    second = SelectField("Second step", validate_choice=False)
    whole = SelectField("The whole", validate_choice=False)


def stack_form(asked: Any, tests: Sequence[tuple[str, str]]) -> StackForm:
    """The form with the tests of a vehicle."""
    form = StackForm(asked)
    for field in (form.first, form.second, form.whole):
        field.choices = options([("", "choose a test"), *tests])
    return form


class HourForm(AskForm):
    """What an hour of fitting costs a buyer. Kept in the address."""

    hourly = QuantityField("An hour of fitting costs", "money", 0.0, 1e5, required=False)


class RateForm(AskForm):
    """How fast the engine speeds up. Kept in the address."""

    rate = QuantityField("The engine speeds up each second by", "speed", 1.0 * RPM, 1e5 * RPM, required=False)


class YearForm(AskForm):
    """A year's distance and what fuel costs. Kept in the address."""

    distance = QuantityField("A year’s distance", "distance", 1.0, 1e10, required=False)
    price = QuantityField("Fuel costs, a gallon or litre", "money", 0.0, 1e4, required=False)

    def unit_of_price(self) -> str:
        """The unit that the price is of: that of the viewer's fuel volumes."""
        return units.kind_named("fuel_volume").symbol(str(self.units.data))


class KitForm(BaseForm):
    """A part as a buyer meets it."""

    price = QuantityField("Retail price", "money", 0.0, 1e7, required=False)
    vendor = QuantityField("Price to the trade", "money", 0.0, 1e7, required=False)
    priced_on = DateField("Prices of", [Optional()])
    in_box = TextAreaField("In the box", [Optional(), Length(max=2000)], description="one a line")
    added = TextAreaField(
        "What the buyer must add",
        [Optional(), Length(max=2000)],
        description="one a line with its retail price: gasket = 12.50; no price: not known yet",
    )
    fit_minutes = QuantityField("Minutes to fit", "count", 0.0, 1e5, required=False)
    service_minutes = QuantityField("Minutes of each service", "count", 0.0, 1e5, required=False)
    available = StringField(
        "To be had", [Optional(), Length(max=120)], description="on the shelf; six weeks; not before May"
    )
    years = StringField("Fits alike in model years", [Optional(), Length(max=120)])

    def card(self) -> KitCard:
        """What was written. Raises InputError beside a field."""
        items = [Item(line, True) for line in _lines(self.in_box.data)]
        for line in _lines(self.added.data):
            what, equals, text = line.partition("=")
            items.append(Item(what.strip(), False, _money(text) if equals else None))
        limits = tuple((name, (self[f"limit_{name}"].data or "").strip()) for name, _ in LIMITS)
        words = {n: (self[n].data or "").strip() for n in ("available", "years")}
        return self.command(KitCard, items=tuple(items), limits=limits, **words)


for _name, _label in LIMITS:
    setattr(KitForm, f"limit_{_name}", StringField(_label, [Optional(), Length(max=80)]))


def kit_form(sheet: KitSheet | None, price: float | None) -> KitForm:
    """The form of a kit, with its newest sheet."""
    if sheet is None:
        return KitForm(data={"price": price})
    values: dict[str, Any] = sheet.values
    items = values.get("items", [])
    data = {
        name: values.get(name) for name in ("price", "vendor", "fit_minutes", "service_minutes", "available", "years")
    }
    data["priced_on"] = sheet.priced_on
    data["in_box"] = "\n".join(what for what, in_box, _ in items if in_box)
    data["added"] = "\n".join(
        f"{what} = {price:g}" if price is not None else what for what, in_box, price in items if not in_box
    )
    data |= {f"limit_{name}": words for name, words in values.get("limits", {}).items()}
    return KitForm(data=data)


def _lines(text: str | None) -> list[str]:
    return [line.strip() for line in (text or "").splitlines() if line.strip()]


def _money(text: str) -> float:
    try:
        value = units.parse(text.strip(), "money").value
    except InputError as error:
        raise InputError(f"After “=” stands a price: {error.message}", "added") from None
    if not 0 <= value <= 1e7:
        raise InputError("A price is nought or more.", "added")
    return value

"""Fields that take what people write: bounds in the viewer's unit, nothing lost, bare numbers as they were shown."""

from __future__ import annotations

from typing import Any

import pytest
from werkzeug.datastructures import MultiDict
from wtforms import StringField

from longbreath.core.basis.errors import InputError
from longbreath.web.forms import BaseForm, CountField, QuantityField


class Sample(BaseForm):
    """A form with one of each."""

    class Meta:
        """No token is needed here."""

        csrf = False

    bore = QuantityField("Bore", "length", 0.01, 0.2)
    drift = QuantityField("Drift", "torque", required=False)
    number = CountField("Number")


class Worded(Sample):
    """The same with a field for words."""

    words = StringField("Words")


def sent(app: Any, **texts: str) -> Any:
    with app.test_request_context(method="POST", data=texts):
        form = (Worded if "words" in texts else Sample)(MultiDict(texts))
        form.validate()
        return form


def test_a_bare_number_has_the_unit_the_form_was_shown_with(app: Any) -> None:
    assert sent(app, bore="3", units="us", number="1").bore.data == pytest.approx(0.0762)
    assert sent(app, bore="76.2", units="metric", number="1").bore.data == pytest.approx(0.0762)


def test_a_unit_that_is_written_wins(app: Any) -> None:
    form = sent(app, bore="76.2 mm", units="us", number="1")
    assert form.bore.data == pytest.approx(0.0762)
    assert form.bore.understood == "76.2\u00a0mm"


def test_bounds_are_answered_with_what_was_understood(app: Any) -> None:
    form = sent(app, bore="3", units="metric", number="1")
    assert form.bore.errors == ["Read as 3\u00a0mm; it cannot be less than 10\u00a0mm."]
    form = sent(app, bore="30 in", units="us", number="1")
    assert "cannot be more than 7.874\u00a0in" in form.bore.errors[0]


def test_what_was_typed_is_shown_again_as_it_was(app: Any) -> None:
    form = sent(app, bore=" 2-1/4 ells ", units="us", number="1")
    assert form.bore._value() == "2-1/4 ells"
    assert "not a unit of a length" in form.bore.errors[0]


def test_optional_fields_may_stay_empty_and_required_ones_not(app: Any) -> None:
    form = sent(app, bore="", drift="", units="us", number="")
    assert form.bore.errors == ["This is missing."]
    assert form.drift.errors == []
    assert form.drift.data is None


def test_whole_numbers_are_answered_in_words(app: Any) -> None:
    assert sent(app, bore="3 in", units="us", number="two").number.errors == ["“two” is not a whole number."]


def test_a_record_fills_the_form_without_losing_digits(app: Any) -> None:
    class Record:
        bore = 0.0846
        drift = None
        number = 4

    with app.test_request_context():
        form = Sample(None, obj=Record())
        assert form.bore._value() == "84.6 mm"
        assert form.drift._value() == ""
        again = Sample(MultiDict({"bore": form.bore._value(), "units": form.units.data, "number": "4"}))
        assert again.bore.data == pytest.approx(0.0846, rel=1e-6)


def test_an_error_of_an_operation_stands_beside_the_field_it_names(app: Any) -> None:
    form = sent(app, bore="3 in", units="us", number="1")
    form.blame(InputError("Too narrow for this valve.", "bore"))
    form.blame(InputError("Something else.", "nowhere"))
    assert form.bore.errors == ["Too narrow for this valve.", "Something else."]


def test_values_leave_out_what_is_the_forms_own(app: Any) -> None:
    assert set(sent(app, bore="3 in", units="us", number="1").values()) == {"bore", "drift", "number"}


@pytest.mark.parametrize(
    ("query", "answer"),
    [
        ("kind=length&system=us&field=bore&bore=2-1/4", "read as 2.25\u00a0in = 57.15\u00a0mm"),
        ("kind=torque&system=metric&field=t&t=300+lb-ft", "read as 300\u00a0lb-ft = 406.7\u00a0N·m"),
        ("kind=temperature&system=us&field=t&t=20+C", "read as 20\u202f°C = 68\u202f°F"),
        ("kind=percent&system=us&field=t&t=50", "read as 50\u202f%"),
        ("kind=length&system=us&field=bore&bore=", ""),
        ("kind=length&system=us&field=bore&bore=<b>", "does not begin with a number"),
        ("kind=nonsense&system=us&field=bore&bore=3", "no kind of quantity"),
    ],
)
def test_the_line_below_a_field(tester: Any, query: str, answer: str) -> None:
    text = tester.get(f"/account/understood?{query}").get_data(as_text=True)
    assert answer in text
    assert "<b>" not in text


@pytest.mark.parametrize("sign", ["\x00", "\x07", "\x1b", "\x7f", "\x85", "\uffff", "\ufffe"])
def test_signs_that_nobody_sees_are_refused_beside_their_field_and_nothing_is_lost(app: Any, sign: str) -> None:
    form = sent(app, words=f"as{sign}cast", bore="76.2 mm", number="1")
    assert f"U+{ord(sign):04X}" in " ".join(form.words.errors)
    assert form.bore.data == pytest.approx(0.0762)
    assert not form.bore.errors


def test_a_text_of_several_lines_in_any_script_is_taken(app: Any) -> None:
    form = sent(app, words="as cast\n\tübergeschliffen, 鋳造, \u00bd", bore="76.2 mm", number="1")
    assert form.words.errors in ((), [])


def test_a_text_longer_than_any_page_is_refused(app: Any) -> None:
    form = sent(app, words="x" * 100_001, bore="76.2 mm", number="1")
    assert "longer than 100000 characters" in " ".join(form.words.errors)

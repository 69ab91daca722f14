"""Descriptions that try to say what only evidence can, and plain ones that may stand. Invented; the tricks are the trade's."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from longbreath.core.claim import vocabulary
from longbreath.core.claim.language import check_description, find_in_record

SLY = """
In all it gained 1,000 lb-ft (900 ft-lb, 400 bhp).
It makes ninety horsepower.
Adds a hundred ponies.
20 % more power everywhere, doubles throttle response, saves money at so many mpg.
On every vehicle ever made.
It also gained at the top.
Worth 12hp.
Worth twelve horses.
Worth a dozen horses.
A dozen ponies on tap.
Torque goes up.
Tork for days.
Torq to spare.
Gives you more.
Gives you mooore.
MORE of everything.
Better than stock.
The best there is.
Nothing beats it.
Second to none.
Without equal.
Unmatched in its class.
Outflows the rest.
Outperforms the stock part.
Flows like a river.
Improves airflow.
Improved breathing.
An improvement for the engine.
Increases output.
Increased output.
Enhances the drive.
Boosts the engine.
A boost in the middle.
Quicker spool.
Faster lap times.
Faster than its rivals.
Stronger pull.
Pulls hard.
Pulls from low down.
Sharper response.
Crisper throttle.
Snappier pedal.
Livelier engine.
Punchier exit from corners.
Torquier in town.
Gutsier up a hill.
Meatier in the middle.
Peppier around town.
Smoother idle.
Louder at the tail.
Quieter in the cabin.
Lighter than cast iron.
Cooler charge.
Cheaper to run.
Saves fuel.
Saves petrol.
Uses fuel sparingly.
Lowers consumption.
Cuts consumption.
Good economy.
Economical.
Better mileage.
More miles to the gallon.
Fewer visits to the pump, at the pump you will smile.
A fuel saving part.
Efficient at cruise.
A frugal choice.
Pays for itself.
Great value.
Worth the money.
Reduced price.
Costs little.
Half the price.
Guaranteed.
Results guaranteed.
Fits every engine.
Fits all engines.
Fits any car.
Works everywhere.
Works always.
It never fails.
Universal fit.
Perfect fit.
Complete kit for total control.
The whole rev range.
Across the board.
Throughout the range.
Without exception.
Absolutely flat curve.
Proven on the track.
Dyno proven.
Dyno tested.
Tested on a bench.
Bench tested.
Independently verified.
Laboratory measured.
Scientifically optimised.
The results speak for themselves.
Street legal.
Road legal everywhere.
Approved for the street.
Certified.
Homologated.
Emissions compliant.
Passes inspection.
Safe for your engine.
Will not void your warranty.
Lasts a lifetime.
Lasts longer.
Durable and reliable.
Bulletproof.
Indestructible.
Ultimate manifold.
Superior casting.
Maximum flow.
Minimal restriction.
Optimal runner.
Optimised for track use.
Unleash the engine.
Unlocks hidden reserves.
Transforms the car.
A revolution in casting.
Awakens the engine.
Extra grunt.
More grunt.
Added muscle.
A real kick in the back.
Shove in the back.
Substantial difference.
Significant change in the way it drives, significantly so.
Noticeable from the first mile.
Massive change.
Huge.
Dramatic.
Tremendous pull.
Exceptional.
Impressive figures.
You will feel the engine.
Seat of the pants.
Puts the stock part to shame.
As good as a race part.
Same as the race part.
Compared with stock it wins.
Versus stock it shines.
Beyond stock.
Exceeds the stock part.
No downside.
No drawback.
No penalty anywhere.
No lag.
n i n e t y of them.
h.p. by the bucket.
h p by the bucket.
T.o.r.q.u.e
tor-que
tor que
horse-power
horse power
hundredhorse
ninetyplus
thousand-fold
tenfold
a triple helping
twice the flow
a third off
first in its field
one of a kind
zero restriction
several horses
Ⅻ of them
½ again
² squared
９０ of them
٩٠ of them
kW by the bucket
kilowatts
newton metres
foot-pounds
a hundred percent
per cent by per cent
hоrsepower
tоrque
powеr
ｐｏｗｅｒ
pow\u200ber
tor\u00adque
pоwer
hörsepower
hoarsepower and horsepowr
torqeu and torgue
perfomance
performence
guarenteed
improoved
hunderd
XC of them
+
×
10
100 %
≥ stock
💯
★★★★★
mehr Leistung
hundert Pferdestärken
meilleur
cent chevaux
más potencia
"""
CASES = [line.encode().decode("unicode_escape") if "\\u" in line else line for line in SLY.strip().splitlines()]

PLAIN = """
Cast in aluminium with runners finished by hand. The flange is milled flat and the bolts go in from the front.
A throttle body machined from billet, with a stainless shaft and a gasket in the box.
The pipe is rolled, welded and bead-blasted; its brackets are bent from sheet. Fits with the air box in place.
It clears the strut bar and the fuel rail. Hose clamps are supplied; the wiring bracket moves to the side.
Made of mild steel, phosphated inside. Drain the coolant before fitting.
The plenum has a bolted lid with an O-ring groove; the spacer sits between plenum and lid.
Please mind the sealing face when you fit the gasket.
Runners with a radius at the mouth, an oval section and a slight taper toward the port.
The cone is spun from sheet and seam-welded. It hangs on the stock rubbers.
Sold with bolts, washers and a drawing of the bracket. The sensor boss is left closed.
The carrier is a barrier between heat and hose; the supplier anodises it black.
Mixture is set by the tune that belongs to the kit. The map sensor stays in its place.
"""


def test_there_are_enough_of_them() -> None:
    assert len(set(CASES)) >= 150


@pytest.mark.parametrize("text", CASES)
def test_a_sly_description_is_refused_and_the_word_named(text: str) -> None:
    found = check_description(text)
    assert found is not None, text
    assert found.word in found.sentence
    assert len(found.why) > 10


@pytest.mark.parametrize("text", PLAIN.strip().splitlines())
def test_a_plain_description_stands(text: str) -> None:
    assert check_description(text) is None


@given(st.sampled_from(PLAIN.strip().splitlines()), st.sampled_from(CASES), st.booleans(), st.sampled_from(" \n–;"))
def test_nothing_sly_hides_in_plain_company(plain: str, sly: str, first: bool, between: str) -> None:
    text = f"{sly}{between} {plain}" if first else f"{plain}{between} {sly}"
    assert check_description(text) is not None


@given(
    st.sampled_from(sorted(vocabulary.STRONG)), st.integers(0, 20), st.sampled_from(["-", " ", "\u00ad", "\u200b", "."])
)
def test_a_strong_word_split_anywhere_is_found(word: str, at: int, mark: str) -> None:
    place = 1 + at % (len(word) - 1)
    assert check_description(f"It brings {word[:place]}{mark}{word[place:]} along.") is not None


def test_an_unknown_language_has_no_list() -> None:
    with pytest.raises(KeyError):
        check_description("Aus Aluminium gegossen.", "xx")


@pytest.mark.parametrize(
    "text",
    [
        "Gannet +90",
        "Heron 90hp",
        "90 bhp special",
        "the fuel was better",
        "gained 1,000 lb-ft: torque",
        "horsepower",
        "mоre of it",
        "proven",
        "kW by the bucket",
        "a guarantee",
        "20 plus",
    ],
)
def test_a_name_or_a_note_speaks_of_no_result(text: str) -> None:
    assert find_in_record(text) is not None


@pytest.mark.parametrize(
    "text",
    [
        "98, delivery of 12 September",
        "205/50, 2.4 bar",
        "leak-down 4 to 6 %",
        "Petrel 66 mm throttle body rev A",
        "coil of cylinder 3 fading: misfires in the last three pulls",
        "stock, 280 cm³/min at 3 bar",
        "stock, 84.6 × 88.8 mm",
        "Roller dyno, cell 1",
        "12 mm plenum spacer, +12 mm of height",
        "manifold 0.2 to 1.1 bar absolute",
        "Ø 62 mm, λ 0.88",
    ],
)
def test_sizes_settings_and_faults_may_stand_on_a_sheet(text: str) -> None:
    assert find_in_record(text) is None

"""What a description may not speak of, in words: lists per language, for `language` to look in.

A word ending in * stands for itself and everything that begins with it. The lists are chosen by hand; common practice, no
source.
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Shelf:
    """Words of one sort, and why they are refused."""

    why: str
    words: frozenset[str]


def _words(text: str) -> frozenset[str]:
    return frozenset(text.split())


def _shelf(why: str, text: str) -> Shelf:
    return Shelf(why, _words(text))


def _graded(text: str) -> str:
    """Comparative and superlative of short adjectives: large → larger, largest; big → bigger; punchy → punchier."""
    found = []
    for word in text.split():
        stem = word[:-1] if word.endswith(("e", "y")) else word
        if word.endswith("y"):
            stem += "i"
        elif len(word) == 3 and word[1] in "aeiou" and word[-1] not in "wxy":
            stem += word[-1]
        found += [stem + "er", stem + "est"]
    return " ".join(found)


ADJECTIVES = """
big bold brave brief bright brisk broad calm cheap clean clear close cold cool crisp dark dear deep dense dry fair fast
fat fierce fine firm flat free fresh full fun great grand hard harsh high hot keen kind large late lean light long loud
low mean mild near neat new nice old pale plain poor proud pure quick quiet rare raw rich rough round safe sharp short
sleek slim slow small smart smooth soft sound steep stiff stout straight strong sure sweet swift tall tame taut thick
thin tight tough true warm wet wide wild young narrow simple able gentle punchy lively snappy beefy meaty peppy zippy
nippy sporty heavy easy early healthy happy hungry mighty steady sturdy tidy thirsty torquey gutsy roomy airy
"""

NUMBER = _shelf(
    "is a number: figures stand in the facts, with their interval",
    """
zero nought naught nil one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen
seventeen eighteen nineteen twenty thirty forty fourty fifty sixty seventy eighty ninety hundred* thousand* million*
billion* dozen* score scores half halve* halving quarter quarters third thirds first second secondly thirdly fourth
fifth sixth seventh eighth ninth tenth twentieth hundredth once twice thrice onefold twofold threefold fourfold fivefold
tenfold double* doubling triple* tripling treble* quadruple* quadrupling quintuple* couple several many few countless
umpteen umpteenth digit digits number numbers grand figure figures fraction fractions ratio single-digit
""",
)
UNIT = _shelf(
    "is a unit: figures and their units stand in the facts",
    """
hp bhp whp shp cv kw kws mw watt watts kilowatt* megawatt* nm newton* ftlb ftlbs lbft lbs psi kpa mbar inhg cfm rpm mph
kph kmh mpg inch inches mm cm metre* meter* millimet* centimet* kilomet* mile miles litre* liter* cc gram grams kg kilo
kilos kilogram* ounce* pound pounds poundfeet footpound* degree degrees celsius fahrenheit kelvin percent* percentage*
pct minute minutes hour hours decibel* db dba octane* revs joule* btu lambda hertz
""",
)
COMPARING = _shelf(
    "compares: what was compared stands in the facts",
    _graded(ADJECTIVES)
    + """
than more less most least better best worse worst plus minus superior* inferior* unmatched unrivalled unrivaled
unbeatable unbeaten unsurpassed unequalled unequaled unparalleled ultimate supreme premier foremost greatest improv*
enhanc* increas* decreas* reduc* gain gains gained gaining boost* raises raising adds adding extra additional
additionally upgrad* outperform* outflow* outrun* outpace* outclass* beat beats beating win wins winning winner save
saves saved saving savings lose loses losing lost loss losses lossless drop drops multipl* maximi* maximum minimi* minimal*
minimum optimi* optimal optimum peak peaks unleash* unlock* liberat* awaken* transform* revolution* reviv* sharpens
quickens strengthens strengthened like equals equal equivalent comparable compare* comparing comparison versus vs
exceed* surpass* rival* beyond ahead advantage* benefit* substantial* significan* noticeabl* massive* huge* dramatic*
considerabl* tremendous* enormous* major marked markedly remarkabl* extraordinar* exceptional* outstanding impressive*
amazing* incredible unbelievabl* stunning tame stock-beating cuts cutting eliminates removes difference differences
different differs sacrific* compromise* uncompromis* trade-off tradeoff unaffected unchanged grow grows growth climb
climbs jump jumps surge surges leap leaps doubled soar* rocket* further farther greater over under above below outdo
outdoes top tops topping kick kicks shove punch grunt oomph muscle thrust
""",
)
EMBRACING = _shelf(
    "embraces everything: what was found holds where it was found",
    """
all every everything everyone everybody everywhere any anything anyone anybody anywhere always never ever forever none
nothing nobody nowhere whole wholly entire* total* complete* fully universal* guarantee* perfect* absolut* certain*
definite* throughout whatever whichever wherever whenever whoever unlimited limitless infinit* endless* across overall
general generally constantly consistently invariably inevitably unconditional* regardless anytime
""",
)
RESULT = _shelf(
    "speaks of a result: results stand in the facts",
    """
power* horse* pony ponies stallion* torqu* tork* torq* powr* powah performanc* perform* econom* mileage efficien*
consum* thrift* frugal* respons* accelerat* pull pulls pulling speed speeds speedy fast quick quickly rapid* flow*
airflow breath* breathing noise* noisy quiet quietly loud loudly silent* silence decibel* durab* reliab* longevity
lifetime lifespan lasts indestructible unbreakable bulletproof leistung drehmoment pferdestarke* puissance chevaux
potencia caballos fuel-saving thirst drivab* driveab* idle idles launch launches sprint sprints lap laps traction
""",
)
MONEY = _shelf(
    "speaks of money: prices are compared at parity, on one date",
    "money cheap* cost costs costly price* priced pay pays paid payback dollar* euro euros buck bucks value invest* afford* discount*",
)
STANDING = _shelf(
    "speaks of approval, safety or warranty: that stands under road use",
    """
legal* lawful* illegal* approv* certif* homologat* complian* compliant emission* smog road-legal street-legal inspection
warrant* insur* licen* tuv carb epa safe safely safety harmless riskless recommended endorsed
""",
)
EVIDENCE = _shelf(
    "speaks of evidence: what was measured stands in the facts",
    """
proven prove* proving proof tested testing test tests measur* dyno dynos dynamometer* bench benches verif* validat*
confirm* document* scientific* independent* laborator* lab labs statistic* average averages averaged result results
study studies evidence demonstrat*
""",
)
FOREIGN = _shelf(
    "is a word of number, comparison or result in language",
    """
zwei drei vier funf sechs sieben neun zehn zwolf zwanzig dreissig vierzig funfzig hundert* tausend* mehr weniger besser
schneller prozent verbrauch immer alles jeder jedes deux trois quatre cinq sept huit neuf onze douze vingt trente
quarante cinquante cent mille meilleur* toujours tous toutes moins dos tres cuatro seis siete ocho nueve diez veinte
cien mejor siempre todos todas menos mas pour-cent
""",
)
SHELVES: dict[str, tuple[Shelf, ...]] = {
    "en": (NUMBER, UNIT, RESULT, COMPARING, EMBRACING, MONEY, STANDING, EVIDENCE, FOREIGN)
}
"""The lists of each language that a description may be written in."""

PHRASES: dict[str, dict[str, Shelf]] = {
    "en": {
        "fuel use": RESULT,
        "use of fuel": RESULT,
        "uses fuel": RESULT,
        "fuel bill": RESULT,
        "at the pump": RESULT,
        "between fill": RESULT,
        "second to": COMPARING,
        "as good as": COMPARING,
        "as much as": COMPARING,
        "same as": COMPARING,
        "no match": COMPARING,
        "no equal": COMPARING,
        "no lag": RESULT,
        "turbo lag": RESULT,
        "seat of the pants": RESULT,
        "to shame": COMPARING,
        "for road use": STANDING,
        "on the road": STANDING,
        "in the class": COMPARING,
        "in its class": COMPARING,
        "without exception": EMBRACING,
        "no exception": EMBRACING,
        "the board": EMBRACING,
        "no downside": COMPARING,
        "no drawback": COMPARING,
        "no penalty": COMPARING,
        "for free": MONEY,
        "foot pound": UNIT,
        "pound feet": UNIT,
        "feel the": RESULT,
    }
}
"""Runs of words that are refused although each word alone may stand."""

STRONG = _words(
    """
horsepower torque hundred thousand million kilowatt newton percent twenty thirty fifty sixty seventy ninety improve
increase performance guarantee economy mileage everywhere everything
"""
)
"""Words that are also found inside others, split in two, or misspelt by a letter."""

NOT_STRONG = _words(
    """
weighty mightily through thirsty fifthly
"""
)

RECORD = _words(
    """
hp bhp whp shp horse* horsepower* ponies kw kilowatt* newton-met* torque torquey powerful performance gain gains gained
improv* increas* better best faster fastest quicker quickest stronger strongest superior* unbeat* unmatched outperform*
econom* mileage mpg guarantee* proven everywhere unleash* plus worth twice thrice doubles doubled doubling triples tripled adds
"""
)
"""What no name, note or reason that stands on a sheet may say; it may hold numerals, sizes and settings."""

HIDING = _words(
    """
conceal* stealth* undetect* undiscover* invisible camouflage* disguis* sneak* clandestine* covertly incognito hide hides hiding
"""
)
"""Words that advise to hide a part."""
CONCEALING = (
    "pass inspection",
    "passes inspection",
    "pass the inspection",
    "before the inspection",
    "before inspection",
    "fool the inspect",
    "fools the inspect",
    "fool the scrut",
    "past the scrut",
    "past scrut",
    "past the inspect",
    "nobody will notice",
    "nobody will know",
    "no one will notice",
    "no one will know",
    "looks like stock",
    "looks stock",
    "look stock",
    "refit the stock",
    "refit for inspection",
    "swap it back",
    "without the inspector",
    "the police",
)
"""Runs of words that advise to hide a part, common practice, no source."""

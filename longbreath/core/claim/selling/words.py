"""Words of selling text: numbers, units, directions, places. Lists chosen by hand; common practice, no source."""

from __future__ import annotations

import re
import unicodedata

from longbreath.core.basis import units

_SMALL = """
zero one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen seventeen eighteen nineteen
"""
_TENS = """
twenty thirty forty fifty sixty seventy eighty ninety
"""
_UP = """
more gain gains gained gaining add adds added adding up increase increases increased increasing plus extra improve improves improved
improving improvement boost boosts boosted raise raises raised higher greater stronger better bigger additional unlock unlocks unleash
unleashes make makes bump bumps louder hotter heavier later longer beefier picks flow flows rise rises jump jumps surge surges
"""
_DOWN = """
less lose loses lost losing lower lowers lowered down reduce reduces reduced reducing reduction decrease decreases decreased drop drops
dropped minus save saves saved saving savings cut cuts fewer quieter cooler lighter earlier sooner shorter quicker sheds shed smaller
weaker worse
"""
NUMBER_WORDS: dict[str, float] = {
    **{word: float(k) for k, word in enumerate(_SMALL.split())},
    **{word: 20.0 + 10.0 * k for k, word in enumerate(_TENS.split())},
    "fourty": 40.0,
    "hundred": 100.0,
    "thousand": 1000.0,
    "dozen": 12.0,
    "a": 1.0,
}
MULTIPLES = {"double": 2.0, "doubles": 2.0, "doubled": 2.0, "twice": 2.0, "triple": 3.0, "triples": 3.0, "thrice": 3.0}
UP, DOWN = frozenset(_UP.split()), frozenset(_DOWN.split())
PLAIN_UP = frozenset(("make", "makes", "flow", "flows"))
"""Verbs that say nothing of a difference unless another word or an amount with “more” does."""
EVERYWHERE = (
    "everywhere",
    "across the range",
    "across the board",
    "whole range",
    "whole rev range",
    "entire range",
    "entire rev range",
    "all speeds",
    "throughout",
    "every rpm",
    "every engine speed",
    "from idle to redline",
    "at all rpm",
    "full range",
)
FREE = (
    "no drawback",
    "no drawbacks",
    "without a drawback",
    "no downside",
    "no downsides",
    "no loss",
    "no losses",
    "without loss",
    "without losing",
    "no compromise",
    "without compromise",
    "no trade-off",
    "no trade-offs",
    "no penalty",
    "never loses",
    "loses nothing",
    "nothing lost",
    "no cost",
)
BANDS = {
    "low": (
        "low end",
        "low-end",
        "bottom end",
        "low down",
        "off idle",
        "low rpm",
        "low speed",
        "low speeds",
        "low band",
    ),
    "middle": ("mid-range", "midrange", "mid range", "middle", "mid band", "middle band"),
    "top": (
        "top end",
        "top-end",
        "high rpm",
        "up high",
        "high end",
        "top band",
        "near redline",
        "high speed",
        "high speeds",
    ),
}
PEAK = ("peak", "peaks", "max", "maximum", "at its best")
ABOUT = {
    "torque": ("torque", "pull", "pulls", "pulling", "grunt", "shove", "twist", "lb-ft", "nm"),
    "power": ("power", "horsepower", "hp", "bhp", "kw", "ps", "horses", "ponies"),
    "flow": ("airflow", "flow", "flows", "flowed", "cfm", "breathes", "breathing", "breathe"),
    "fuel": (
        "fuel",
        "economy",
        "mileage",
        "mpg",
        "consumption",
        "economical",
        "thirst",
        "efficient",
        "pump",
        "fill-ups",
        "fill-up",
    ),
    "noise": (
        "noise",
        "noisy",
        "loud",
        "louder",
        "quiet",
        "quieter",
        "db",
        "decibel",
        "decibels",
        "sound",
        "silent",
        "silence",
    ),
    "mass": ("weight", "weighs", "lighter", "heavier", "mass", "light", "heavy"),
    "temperature": ("temperature", "temperatures", "cooler", "hotter", "cool", "hot", "heat", "degrees"),
    "response": ("response", "responsive", "lag", "spool", "spools", "spooling", "boost comes", "throttle response"),
    "life": (
        "lasts",
        "lifetime",
        "durable",
        "durability",
        "reliable",
        "reliability",
        "forever",
        "bulletproof",
        "unbreakable",
        "wear",
    ),
    "fit": ("fits", "bolt-on", "bolts on", "direct fit", "no modification", "no modifications", "no cutting"),
    "road": (
        "street legal",
        "street-legal",
        "road legal",
        "road-legal",
        "approved",
        "certified",
        "emissions legal",
        "legal",
        "compliant",
    ),
    "money": ("saves you money", "pays for itself", "cheaper to run", "money at the pump"),
}
"""Words by what they speak of."""
AT_CRANK = ("crank", "flywheel", "at the engine", "engine dyno")
CONDITIONAL = (
    "may",
    "might",
    "could",
    "designed",
    "aims",
    "hope",
    "target",
    "goal",
    "expect",
    "expected",
    "simulated",
    "predicted",
)
UNIT_WORDS = {
    "hp": "power hp",
    "bhp": "power hp",
    "whp": "power hp",
    "rwhp": "power hp",
    "horsepower": "power hp",
    "horses": "power hp",
    "horse": "power hp",
    "ponies": "power hp",
    "kw": "power kW",
    "kilowatt": "power kW",
    "kilowatts": "power kW",
    "ps": "power PS",
    "lb-ft": "torque lb-ft",
    "lbft": "torque lb-ft",
    "ft-lb": "torque lb-ft",
    "ft-lbs": "torque lb-ft",
    "ftlb": "torque lb-ft",
    "lb·ft": "torque lb-ft",
    "pound-feet": "torque lb-ft",
    "foot-pounds": "torque lb-ft",
    "nm": "torque N·m",
    "n·m": "torque N·m",
    "newton-metres": "torque N·m",
    "newton-meters": "torque N·m",
    "cfm": "flow cfm",
    "l/s": "flow L/s",
    "db": "noise dB",
    "decibel": "noise dB",
    "decibels": "noise dB",
    "kg": "mass kg",
    "kilos": "mass kg",
    "g": "mass g",
    "grams": "mass g",
    "lb": "mass lb",
    "lbs": "mass lb",
    "pounds": "mass lb",
    "oz": "mass oz",
    "%": "share %",
    "percent": "share %",
    "per cent": "share %",
    "°c": "temperature K",
    "°f": "temperature °F",
    "k": "temperature K",
    "rpm": "speed rpm",
    "mpg": "mileage mpg",
    "mm": "size mm",
    "inch": "size in",
    "inches": "size in",
    "in": "size in",
    "cm": "size cm",
    "s": "time s",
    "sec": "time s",
    "seconds": "time s",
    "second": "time s",
    "psi": "pressure psi",
    "bar": "pressure bar",
    "kpa": "pressure kPa",
    "miles": "distance mi",
    "km": "distance km",
    "years": "span yr",
    "year": "span yr",
    "hours": "span h",
}
"""Spellings of units, with what they measure and the unit."""
KIND_OF = {
    "power": "power",
    "torque": "torque",
    "flow": "flow",
    "noise": "level",
    "mass": "body_mass",
    "time": "time",
    "speed": "speed",
}


def fold(text: str) -> str:
    """A text as it is searched: one case, one kind of dash and minus, plain spaces, letters without what nobody sees."""
    plain = unicodedata.normalize("NFKC", text).translate(str.maketrans("–—−’‘“”⋅∙", "---''\"\"··"))
    plain = "".join(c for c in plain if unicodedata.category(c) != "Cf")
    return re.sub(r"\s+", " ", plain).casefold().strip()


def factor_of(unit: str, dimension: str) -> float | None:
    """What a figure in a unit is multiplied by to be SI [SI per unit]; None for what has no factor here."""
    if dimension == "share":
        return 0.01
    if dimension == "temperature":
        return 1.0 if unit == "K" else 5.0 / 9.0
    kind = KIND_OF.get(dimension)
    if kind is None:
        return None
    return units.from_unit(1.0, kind, unit)


def has(text: str, phrases: tuple[str, ...]) -> str:
    """The first of some phrases that stands in a folded text as words of its own, or ""."""
    for phrase in phrases:
        if re.search(rf"(?<![\w-]){re.escape(phrase)}(?![\w])", text):
            return phrase
    return ""

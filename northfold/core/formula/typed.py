"""Figures typed into a field: in its own unit where nothing is said, in any other of its kind where it is said."""

import re

from northfold.core.errors import NegativeWeight, NotANumber, OutsideRange
from northfold.core.formula.numbers import NUMBER, Spread, plain_text, read_quantity

# Exact, by international agreement. [g, mm]
OUNCE_G, POUND_G, INCH_MM = 28.349523125, 453.59237, 25.4
_FACTORS = {
    "g": {
        "g": 1.0, "gr": 1.0, "gram": 1.0, "grams": 1.0, "kg": 1000.0, "kilo": 1000.0, "mg": 0.001,
        "oz": OUNCE_G, "ounce": OUNCE_G, "ounces": OUNCE_G, "lb": POUND_G, "lbs": POUND_G, "pound": POUND_G,
        "pounds": POUND_G,
    },
    "mm": {
        "mm": 1.0, "cm": 10.0, "m": 1000.0, "in": INCH_MM, "inch": INCH_MM, "inches": INCH_MM, '"': INCH_MM,
        "″": INCH_MM,
    },
    "min": {"min": 1.0, "mins": 1.0, "minute": 1.0, "minutes": 1.0, "h": 60.0, "hr": 60.0, "hour": 60.0, "hours": 60.0},
    "°C": {"c": 1.0, "°c": 1.0, "k": 1.0, "f": 5 / 9, "°f": 5 / 9},
}  # fmt: skip
_PART = re.compile(rf"\s*(?P<n>{NUMBER})\s*(?P<unit>°?[a-z]+\.?|\"|″|%)?", re.IGNORECASE)
_CLOCK = re.compile(r"\s*(\d{1,3}):([0-5]\d)\s*(?:h)?\s*")
# How far below the freezing point of water nought °F lies. [°F]
_FREEZES_F = 32.0


def read_typed(text: str, unit: str, *, what: str = "number", example: str = "12", difference: bool = False) -> float:
    """
    Read a number typed into a field.

    Parameters
    ----------
    text : str
        A number or several that add up: `230`, `9 1/2 in`, `1 lb 2 oz`, `70 °F`, `1 h 30`; a fraction, a decimal with a
        point or a comma.
    unit : str
        The field's own: g, mm, °C, K or min read others of their kind; of any other, that unit alone.
    what, example : str
        What is asked for and how it is written, for the message.
    difference : bool
        Whether it is a difference of two temperatures, so that 9 °F are 5 K. K always is.

    Returns
    -------
    float
        In the field's unit.

    Raises
    ------
    NotANumber
        If it is none, or in a unit of another kind.
    """
    plain = plain_text(text.replace("−", "-")).strip()
    wrong = NotANumber(text.strip()[:40], what, example)
    clock = _CLOCK.fullmatch(plain)
    if unit == "min" and clock:
        return 60.0 * int(clock[1]) + int(clock[2])
    sign = -1.0 if plain.startswith("-") else 1.0
    rest = plain.removeprefix("-").removeprefix("+").strip()
    known = _FACTORS.get("°C" if unit == "K" else unit, {})
    total, fahrenheit, place, last = 0.0, False, 0, ""
    while place < len(rest):
        match = _PART.match(rest, place)
        if match is None or match.end() == place:
            raise wrong
        said = (match["unit"] or "").lower().rstrip(".")
        if said and said != unit.lower() and said not in known:
            raise wrong
        if not said and last == "h":
            said = "min"  # "1 h 30"
        if place and not (said and last):
            raise wrong  # two numbers with nothing between them
        fahrenheit = fahrenheit or said in ("f", "°f")
        total += read_quantity(match["n"]).usual * known.get(said, 1.0)
        last = "h" if known.get(said) == 60.0 else said
        place = match.end()
        while place < len(rest) and rest[place] in " ,":
            place += 1
    if not rest:
        raise wrong
    value = sign * total
    if fahrenheit and unit == "°C" and not difference:
        value -= _FREEZES_F * 5 / 9
    return value


def read_length_mm(text: str, *, what: str = "A length of", low: float = 0.0, high: float = 5000.0) -> float:
    """
    Read a length as people write it: `230`, `23 cm`, `9 1/2 in`.

    Parameters
    ----------
    text : str
        A number, with mm, cm, m or inches; mm where nothing is said.
    what : str
        What it is the length of, for the message.
    low, high : float
        Range in which it makes sense. [mm]

    Returns
    -------
    float
        The length. [mm]

    Raises
    ------
    NotANumber
        If it is not a length.
    OutsideRange
        If it is outside low to high.
    """
    length = read_typed(text, "mm", what="length", example="230, 23 cm or 9 in")
    if not low <= length <= high:
        raise OutsideRange(what, length, low, high, "mm")
    return length


def read_grams(text: str, *, high: float = 1_000_000.0) -> float:
    """
    Read a weight typed into a grams field.

    Parameters
    ----------
    text : str
        A number in g, or with g, kg, oz or lb; decimals with a point or a comma, a fraction.
    high : float
        The most that makes sense. [g]

    Returns
    -------
    float
        The weight. [g]

    Raises
    ------
    NotANumber
        If it is not a number.
    NegativeWeight
        If it is below zero.
    OutsideRange
        If it is above `high`.
    """
    grams = read_typed(text, "g", what="weight", example="420")
    if grams < 0:
        raise NegativeWeight(grams)
    if grams > high:
        raise OutsideRange("A weight of", grams, 0, high, "g")
    return abs(grams)


def read_gram_range(text: str) -> Spread:
    """
    Read a weight, or a range of weights such as 120–150, typed into a grams field.

    Parameters
    ----------
    text : str
        One weight or two with a dash or "to" between, each as `read_grams` takes it.

    Returns
    -------
    Spread
        Low, middle and high. [g]

    Raises
    ------
    NotANumber, NegativeWeight, OutsideRange
        As `read_grams`.
    """
    plain = plain_text(text).lower()
    ends = re.fullmatch(r"([^-]*?[\da-z])\s*(?:-|\bto\b)\s*(\d[^-]*)", plain)
    if ends is None or re.fullmatch(NUMBER, plain):
        return Spread.point(read_grams(text))
    first, second = ends.groups()
    unit = re.search(r"[a-z]+$", second)
    if unit and first[-1].isdigit():
        first = f"{first} {unit[0]}"  # "4-5 oz"
    low, high = sorted(read_grams(end) for end in (first, second))
    return Spread(low, (low + high) / 2, high)

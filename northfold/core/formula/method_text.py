"""What a recipe says beside its ingredients: oven heat, minutes, thickness, tin, and its stated ratio."""

import re
from dataclasses import dataclass

from northfold.core.formula.numbers import NUMBER, read_quantity

HEAT, MINUTES, THICKNESS, TIN, RATIO = "heat", "minutes", "thickness", "tin", "ratio"
DEPTH, TURNS, YIELD = "depth", "turns", "yield"
# What minutes are for, and what a yield is told in.
BAKE, BLIND, REST, CHILL, FREEZE, PROVE, COOL = "bake", "blind", "rest", "chill", "freeze", "prove", "cool"
ALTOGETHER = "recipe time"
PIECES, SLICES = "pieces", "slices"

# A gas mark in still oven °C, and how far two ways of saying one heat or one length may differ. [°C], [share]
# North Fold reference table; rounded to fives and tens as ovens are marked.
GAS_C = {0.25: 110, 0.5: 130, 1: 140, 2: 150, 3: 165, 4: 180, 5: 190, 6: 200, 7: 220, 8: 230, 9: 240}
HEATS_AGREE_C, FAN_BELOW_C, LENGTHS_AGREE = 8.0, (10.0, 25.0), 0.12

MM = {"mm": 1.0, "cm": 10.0, "in": 25.4, "inch": 25.4, "inches": 25.4, '"': 25.4, "″": 25.4}


@dataclass(frozen=True)
class Fact:
    """
    Something said of the method.

    Heat in still-oven °C (`is_fan` where it was said for a fan), minutes, thickness, depth and tin in mm (one side, or
    length and width), a ratio as numbers of flour, fat and, where said, liquid, turns as what each folds into, a yield
    as a count. `use` says what minutes are for, or whether a yield is of pieces or slices.
    """

    kind: str
    text: str
    values: tuple[float, ...]
    is_fan: bool = False
    use: str = ""


@dataclass(frozen=True)
class Contradiction:
    """Two ways of saying one thing that do not agree, with each converted to the unit of the first."""

    kind: str
    first: str
    second: str
    message: str


@dataclass(frozen=True)
class MethodLine:
    """What a line of method says, and where it contradicts itself."""

    facts: tuple[Fact, ...]
    contradictions: tuple[Contradiction, ...]


_DEGREES = re.compile(
    rf"(?P<fan>fan\s*)?(?P<n>{NUMBER})\s*(?:(?:°|º|degrees?)\s*(?P<unit>[CF])?|(?P<letter>[CF]))(?![a-z])"
    r"\s*(?P<after>\(?fan\b)?",
    re.IGNORECASE,
)
# Degrees without their scale: an oven's from here on, Fahrenheit from there on; a turn of the tin is no heat.
BARE_FROM, BARE_F_FROM = 120.0, 290.0
_TURNED = re.compile(r"\b(?:turn|rotate)\w*\s+(?:(?:it|them|the \w+)\s+)?(?:by\s+|through\s+)?$", re.IGNORECASE)
# "Bake at 350 until golden."
_BARE_HEAT = re.compile(r"\b(?:at|to)\s+(?P<n>\d{3})(?=\s+(?:for|until|then|and)\b|\s*[,.;]|\s*$)", re.IGNORECASE)
_OF_AN_OVEN = re.compile(r"\b(?:bak|oven|preheat|roast)", re.IGNORECASE)
COIN = re.compile(r"(?:\b(?:1[ -])?pound|£ ?1)[ -]coin\b", re.IGNORECASE)
# As the rounder of both mintings in circulation. [mm]
COIN_MM = 3.0
_GAS = re.compile(rf"gas(?:\s*mark)?\s*(?P<n>{NUMBER})", re.IGNORECASE)
_TIME = re.compile(
    rf"(?P<n>{NUMBER}(?:\s*(?:-|\bto\b)\s*{NUMBER})?)\s*(?P<unit>min(?:ute)?s?|hours?|hrs?|h)\b", re.IGNORECASE
)
_AND_MINUTES = re.compile(r"\s*(?:and|,)?\s*", re.IGNORECASE)
_OVERNIGHT = re.compile(r"\bovernight\b", re.IGNORECASE)
# A night in the cold. [min] North Fold reference table.
NIGHT_MIN = 720.0
_LENGTH = re.compile(rf"(?P<n>{NUMBER})\s*-?\s*(?P<unit>mm|cm|inch(?:es)?|in\b|\"|″)", re.IGNORECASE)
_RATIO = re.compile(rf"(?<![\d.,/]){NUMBER}\s*:\s*{NUMBER}(?:\s*:\s*{NUMBER})?(?![\d:])")
_PARTS = re.compile(
    rf"(?P<n>{NUMBER}|one|two|three|four|five|six)\s*(?:parts?)?\s*(?:of\s+)?(?P<what>[a-z]+)", re.IGNORECASE
)
_THICK = re.compile(r"\b(?:thick(?:ness)?|roll(?:ed|ing)?|sheets?)\b", re.IGNORECASE)
_TIN_WORD = re.compile(r"\b(?:tins?|pans?|dish(?:es)?|rings?|moulds?|molds?|cases?|plates?|trays?)\b", re.IGNORECASE)
_KIND_OF = {
    "flour": 0, "fat": 1, "butter": 1, "lard": 1, "shortening": 1, "margarine": 1, "water": 2, "liquid": 2, "milk": 2,
    "egg": 2,
}  # fmt: skip
# What a line of method begins with; an ingredient does not.
METHOD_WORDS = re.compile(
    r"^(?:\d+[.)]\s*)?(?:pre-?heat\b|heat\b|bake\b|blind\b|roll\b|chill\b|rest\b|line\b|cut\b|cook\b|cool\b|leave\b|put\b|place\b|set\b|oven\b|gas\b|"
    r"fan\b|refrigerate\b|freeze\b|wrap\b|use\b|grease\b|makes?\b|serves?\b|yields?\b|enough for\b|prove\b|"
    r"rub\b|mix\b|pulse\b|whi(?:sk|zz|z)\b|cream (?:the|together)\b|beat\b|knead\b|stir\b|add\b|combine\b|sift\b|"
    r"press\b|dock\b|prick\b|trim\b|brush\b|fill\b|spread\b|sprinkle\b|divide\b|shape\b|cover\b|flatten\b|transfer\b|pour\b|"
    r"give (?:it |the )|fold\b|turns?\b|remove\b|return\b|lower\b|reduce\b|continue\b|for an?\b|in an?\b)",
    re.IGNORECASE,
)


def read_ratio(text: str) -> Fact | None:
    """
    A stated ratio of flour, fat and liquid.

    Parameters
    ----------
    text : str
        One line of a recipe.

    Returns
    -------
    Fact or None
        "3:2:1", "3-2-1 dough" or "1 part flour, 2 fat": numbers in the order flour, fat, liquid; the last may lack.
    """
    plain = text.replace("–", "-")
    dashed = re.fullmatch(r"\D*(\d)-(\d)-(\d)\D*", plain)
    if dashed:
        return Fact(RATIO, text.strip(), tuple(float(n) for n in dashed.groups()))
    found = _RATIO.search(plain)
    if found and not re.search(r"\d\s*(?:am|pm|h)\b|\bo'clock", plain, re.IGNORECASE):
        numbers = tuple(read_quantity(n).usual for n in re.findall(NUMBER, found[0]))
        return Fact(RATIO, found[0], numbers)
    if not re.search(r"\bparts?\b", plain, re.IGNORECASE):
        return None
    said: dict[int, float] = {}
    for match in _PARTS.finditer(plain):
        kind = _KIND_OF.get(match["what"].lower().rstrip("s"))
        if kind is not None:
            said.setdefault(kind, read_quantity(match["n"]).usual)
    if 0 in said and 1 in said:
        return Fact(RATIO, text.strip(), tuple(said[kind] for kind in (0, 1, 2) if kind in said))
    return None


def read_method(text: str) -> MethodLine:
    """
    Heat, minutes, thickness and tin in one line.

    Parameters
    ----------
    text : str
        One line of a recipe, through `plain_text`.

    Returns
    -------
    MethodLine
        Facts in °C, min and mm; heats and lengths that stand side by side and disagree, as contradictions.
    """
    facts: list[Fact] = []
    contradictions: list[Contradiction] = []
    for found, agree, unit in ((_heats(text), _heats_agree, "°C"), (_lengths(text), _lengths_agree, "mm")):
        kept: list[_Said] = []
        for number, item in enumerate(found):
            if not number or not _is_pair(text, found[number - 1], item):
                kept.append(item)
            elif not agree(kept[-1].fact, item.fact):
                contradictions.append(_contradiction(kept[-1].fact, item.fact, unit))
        facts += [item.fact for item in kept]
    for match in _OVERNIGHT.finditer(text):
        facts.append(Fact(MINUTES, match[0], (NIGHT_MIN,), use=_what_for(text, match.start(), match.end()) or REST))
    coin = COIN.search(text)
    if coin:
        facts.append(Fact(THICKNESS, coin[0], (COIN_MM,)))
    facts += [*_times(text), *turns_said(text), *_yield(text)]
    return MethodLine(tuple(facts), tuple(contradictions))


def _times(text: str) -> list[Fact]:
    """Minutes and hours with what they are for; "1 hour 20 minutes" is one time."""
    found: list[Fact] = []
    end = whole_h = -1.0
    start = 0
    for match in _TIME.finditer(text):
        spread = read_quantity(match["n"])
        is_hours = match["unit"].lower().startswith("h")
        low, high = (each * (60 if is_hours else 1) for each in (spread.low, spread.high))
        if not is_hours and whole_h >= 0 and _AND_MINUTES.fullmatch(text[int(end) : match.start()]):
            found.pop()
            low, high = low + whole_h * 60, high + whole_h * 60
        else:
            start = match.start()
        whole_h = spread.low if is_hours and spread.low == spread.high else -1.0
        end = match.end()
        values = (low,) if low == high else (low, high)
        found.append(Fact(MINUTES, text[start : match.end()].strip(), values, use=_what_for(text, start, match.end())))
    return found


_COUNT_WORDS = {
    "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "eight": 8, "ten": 10, "twelve": 12, "a": 1,
    "an": 1,
}  # fmt: skip
_COUNT = rf"(?P<n>\d+|{'|'.join(_COUNT_WORDS)})"
# What is done for so long: the verb that stands nearest before the minutes, else after them.
_VERBS = (
    (FREEZE, r"\bfreez\w+|\bin the freezer"),
    (
        CHILL,
        r"\bchill\w*(?=.*\b(?:lined|tin|case|before (?:it is )?bak))"
        r"|\b(?:lined|in (?:its|the) tin).*\b(?:chill|rest)\w*",
    ),
    (BLIND, r"\bblind|\bwith (?:the )?(?:weights|beans|pulses)"),
    (PROVE, r"\bprov(?:e|ing)|\bproof|\brise\b|\brising"),
    (COOL, r"\bcool\w*|\bset aside"),
    (REST, r"\brest\w*|\bchill\w*|\brefrigerat\w+|\bfridge|\bleave\w*|\bstand\b|\brelax\w*"),
    (BAKE, r"\bbak\w+|\boven|\bcook\w*|\buntil (?:golden|gold|brown)|\bhot start|°|\bdegrees"),
    (ALTOGETHER, r"\bprep(?:aration)?\b|\btotal\b|\bready in\b|\bhands[- ]on\b|\bactive\b"),
)


def _what_for(text: str, start: int, end: int) -> str:
    """What so many minutes are for, by the verb nearest before them, else by the rest of the line."""
    clause = re.split(r"[.;]\s|\bthen\b", text[:start])[-1]
    for part in (clause, text[end:], text):
        found = [(match.start(), use) for use, words in _VERBS for match in re.finditer(words, part, re.IGNORECASE)]
        if found:
            order = [use for use, _ in _VERBS]
            last = max(place for place, _ in found)
            near = [use for place, use in found if part is not clause or last - place <= _NEAR]
            return min(near, key=order.index)
    return ""


# Verbs so many letters apart tell of one thing: "bake blind". [letters]
_NEAR = 30
_FOLD_WORDS = {"single": 3, "letter": 3, "simple": 3, "double": 4, "book": 4, "half": 2}
_TURNS = re.compile(
    rf"(?:\b{_COUNT}\s*(?:x\s*)?)?\b(?P<kind>{'|'.join(_FOLD_WORDS)})\b(?:[ -](?:turns?|folds?))?|"
    rf"\b{_COUNT.replace('?P<n>', '?P<plain>')}\s+(?:turns|folds)\b",
    re.IGNORECASE,
)


def _number(text: str) -> int:
    return int(text) if text.isdigit() else _COUNT_WORDS[text.lower()]


def turns_said(text: str) -> list[Fact]:
    """The turns of a lamination: "three single turns", "one double and one single", "six turns"."""
    if not re.search(r"\b(?:turn|fold)s?\b", text, re.IGNORECASE):
        return []
    folds: list[float] = []
    said = []
    for match in _TURNS.finditer(text):
        times = _number(match["n"] or match["plain"] or "1")
        if times > MOST_TURNS:
            continue
        folds += [float(_FOLD_WORDS[match["kind"].lower()] if match["kind"] else 3)] * times
        said.append(match[0].strip())
    return [Fact(TURNS, ", ".join(said), tuple(folds))] if folds and len(folds) <= MOST_TURNS else []


# More turns than this no dough takes: a number before the word means something else.
MOST_TURNS = 8
_MAKES = re.compile(
    rf"\b(?:makes|yields?|yield:|enough for|for|fills)\s+(?:about\s+|approx\.?\s+|around\s+)?{_COUNT}\s+"
    r"(?!\d+/\d)(?!(?:to\b|-|mins?|minutes?|hours?|h|mm|cm|g|kg|inch|in|hrs?|°|degrees|°c|days?|people|persons?|portions?|slices?)\b)"
    r"(?:x\s+)?[a-z0-9][\w-]*(?:\s+[a-z-]+)?",
    re.IGNORECASE,
)
_SIZE_AFTER = re.compile(rf"\s+of$|(?:\s+of)?\s+{NUMBER}\s*(?:mm|cm|inch(?:es)?|in)\b.*$", re.IGNORECASE)
_TINS = re.compile(
    rf"\b(?:line|grease|fill|butter)s?\s+{_COUNT}\s+(?:x\s+)?(?:(?:{NUMBER}\s*-?\s*(?:mm|cm|inch(?:es)?|in)\b|"
    r"[a-z-]+)\s+){0,4}(?:tins|cases|rings|moulds|molds|pans|dishes)\b",
    re.IGNORECASE,
)
_SERVES = re.compile(
    rf"\bserves\s+(?:about\s+)?{_COUNT}(?:\s*(?:-|\bto\b|\bor\b)\s*\d+)?"
    rf"|\b{_COUNT.replace('?P<n>', '?P<m>')}\s+(?:portions?|slices?|people|servings?)\b",
    re.IGNORECASE,
)


def _yield(text: str) -> list[Fact]:
    """How much a recipe makes: pieces or tins, and slices."""
    found = []
    makes = _MAKES.search(text)
    if makes:
        found.append(Fact(YIELD, _SIZE_AFTER.sub("", makes[0]).strip(), (float(_number(makes["n"])),), use=PIECES))
    tins = None if makes else _TINS.search(text)
    if tins:
        found.append(Fact(YIELD, tins[0].strip(), (float(_number(tins["n"])),), use=PIECES))
    serves = _SERVES.search(text)
    if serves:
        found.append(Fact(YIELD, serves[0].strip(), (float(_number(serves["n"] or serves["m"])),), use=SLICES))
    return found


@dataclass(frozen=True)
class _Said:
    """A heat or a length where it stands in the text; `unit` tells two ways of saying one thing apart."""

    start: int
    end: int
    unit: str
    fact: Fact


def _heats(text: str) -> list[_Said]:
    found = []
    for match in _DEGREES.finditer(text):
        value = read_quantity(match["n"]).usual
        scale = (match["unit"] or match["letter"] or "").upper()
        is_bare = not scale
        if is_bare:
            scale = "F" if value >= BARE_F_FROM else "C"
        celsius = (value - 32) / 1.8 if scale == "F" else value
        if is_bare and (value < BARE_FROM or _TURNED.search(text[: match.start()])):
            continue
        if 60 <= celsius <= 350:
            is_fan = bool(match["fan"] or match["after"])
            unit = f"{scale}{' fan' if is_fan else ''}"
            fact = Fact(HEAT, match[0].strip(" ("), (celsius,), is_fan)
            found.append(_Said(match.start(), match.end(), unit, fact))
    if not found and _OF_AN_OVEN.search(text):
        for match in _BARE_HEAT.finditer(text):
            value = float(match["n"])
            scale = "F" if value >= BARE_F_FROM else "C"
            fact = Fact(HEAT, match["n"], ((value - 32) / 1.8 if scale == "F" else value,))
            if value >= BARE_FROM:
                found.append(_Said(match.start(), match.end(), scale, fact))
    for match in _GAS.finditer(text):
        mark = GAS_C.get(read_quantity(match["n"]).usual)
        if mark is not None:
            found.append(_Said(match.start(), match.end(), "gas", Fact(HEAT, match[0], (float(mark),))))
    return sorted(found, key=lambda said: said.start)


def _lengths(text: str) -> list[_Said]:
    found = []
    for match in _LENGTH.finditer(text):
        unit = match["unit"].lower()
        size = read_quantity(match["n"]).usual * MM[unit]
        # "24 x 8 cm tins" are so many of them, "33 x 23 cm tin" is one with two sides.
        side = None if _SEVERAL.match(text[match.end() :]) else _SIDE_BEFORE.search(text[: match.start()])
        values = (
            (read_quantity(side["n"]).usual * MM[side["u"].lower() if side["u"] else unit], size) if side else (size,)
        )
        kind = DEPTH if _DEEP_AFTER.match(text[match.end() :]) else _what_length(text, max(values))
        fact = Fact(kind, f"{side[0] if side else ''}{match[0]}".strip(), values if kind == TIN else (size,))
        found.append(_Said(match.start(), match.end(), "in" if MM[unit] == 25.4 else unit, fact))
    return found


# "33 x 23 cm": the other side stands before; "4 cm deep" is no width.
_SIDE_BEFORE = re.compile(rf"(?P<n>{NUMBER})\s*(?P<u>mm|cm|inch(?:es)?|in)?\s*(?:x|by)\s*$", re.IGNORECASE)
_SEVERAL = re.compile(r"\s*(?:[a-z-]+\s+){0,2}(?:tins|rings|cases|moulds|molds|pans|dishes|plates)\b", re.IGNORECASE)
_DEEP_AFTER = re.compile(r"\s*-?\s*(?:deep|high|tall|depth)\b", re.IGNORECASE)


def _what_length(text: str, size_mm: float) -> str:
    if size_mm < 40 and (_THICK.search(text) or not _TIN_WORD.search(text)):
        return THICKNESS
    return TIN


def _is_pair(text: str, first: _Said, second: _Said) -> bool:
    """Whether two stand for one thing: in different units, with a bracket, a slash or an "or" between them at most."""
    between = text[first.end : second.start]
    return first.unit != second.unit and bool(re.fullmatch(r"[\s()/\[\],]*(?:or|about|approx\.?)?[\s(/\[]*", between))


def _heats_agree(first: Fact, second: Fact) -> bool:
    apart = first.values[0] - second.values[0]
    if first.is_fan != second.is_fan:
        below = -apart if first.is_fan else apart
        return FAN_BELOW_C[0] - HEATS_AGREE_C / 2 <= below <= FAN_BELOW_C[1] + HEATS_AGREE_C / 2
    return abs(apart) <= HEATS_AGREE_C


def _lengths_agree(first: Fact, second: Fact) -> bool:
    a, b = first.values[0], second.values[0]
    return abs(a - b) <= max(LENGTHS_AGREE * max(a, b), 0.5)


def _contradiction(first: Fact, second: Fact, unit: str) -> Contradiction:
    values = f"{first.values[0]:.3g} and {second.values[0]:.3g} {unit}"
    return Contradiction(
        first.kind, first.text, second.text, f"{first.text} and {second.text} are not the same: {values}."
    )

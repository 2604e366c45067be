"""Reading a recipe as people write it: each line's amount, weight and ingredient, and what is doubtful about it."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from itertools import pairwise

from northfold.core.errors import NotANumber, PasteTooLong
from northfold.core.formula.method_text import METHOD_WORDS, Fact, read_method, read_ratio
from northfold.core.formula.naming import EGG_SHARE, Match, Shelf, egg_size, shelf_of
from northfold.core.formula.numbers import QUANTITY, Spread, plain_text, read_quantity
from northfold.core.formula.units import MASS, Unit, unit_table
from northfold.core.matter import Ingredient, reference_ingredients

MAX_CHARACTERS = 20_000
MAX_LINES = 400

# Two measures of one thing further apart than this contradict each other.
MEASURES_AGREE_WITHIN = 1.06

# A bare number this large or larger can only be grams; below it, it counts pieces.
BARE_GRAMS_FROM = 15


@dataclass(frozen=True)
class Remedy:
    """One tap that settles a doubt: put `value` into `field` (ingredient, grams, text or drop) of the line."""

    label: str
    field: str
    value: str = ""


@dataclass(frozen=True)
class Doubt:
    """Something about a line that is not surely right, and why."""

    code: str
    message: str
    remedies: tuple[Remedy, ...] = ()


@dataclass(frozen=True)
class ReadLine:
    """
    One line of a recipe: what was written, and what was understood.

    A heading stands in no sum; a line of method is one, with the facts it tells.
    """

    text: str
    amount: Spread | None = None
    unit: str = ""
    grams: Spread | None = None
    ingredient: Ingredient | None = None
    preparation: str = ""
    doubts: tuple[Doubt, ...] = ()
    heading: bool = False
    facts: tuple[Fact, ...] = ()

    @property
    def is_read(self) -> bool:
        """Whether it has an ingredient and a weight, so that it can stand in a formula."""
        return self.ingredient is not None and self.grams is not None


@dataclass(frozen=True)
class Recipe:
    """A recipe as read: every line of the text, in its order; nothing is dropped."""

    lines: tuple[ReadLine, ...]
    system: str


@dataclass(frozen=True)
class _Measure:
    amount: Spread
    unit: Unit
    start: int
    end: int
    text: str


UNIT = r"(?P<unit>[a-zA-Z]+)\b\.?"
MEASURE = re.compile(
    rf"(?:(?P<times>\d+)\s*[x(]\s*)?(?P<quantity>(?<![\d.,])(?<!\d/){QUANTITY})\s*{UNIT}",
    re.IGNORECASE,
)
COUNT_FIRST = re.compile(rf"^(?P<quantity>{QUANTITY})\s+(?!x\b)(?=\D)", re.IGNORECASE)
COUNT_LAST = re.compile(rf"[\s:x(]+(?P<quantity>{QUANTITY})\s*\)?$", re.IGNORECASE)
BULLET = re.compile(r"^\s*(?:[•*·▪◦‣☐]\s*|-\s+)")
JOINED = re.compile(r"^\s*(?:plus|\+|and|&)\s*(?:an? extra\s*)?$", re.IGNORECASE)
SAME_THING = re.compile(r"^[\s/(\[=,~-]*(?:or|about|approx\.?|approximately|ca\.?|equals)?[\s/(\[=~]*$", re.IGNORECASE)
# The first row of a table: nothing but the names of its columns.
TABLE_HEAD = re.compile(
    r"(?:ingredients?|amount|weight|grams?|g|kg|unit|%|percent|baker'?s|qty|quantity|[\s|,/()-])+", re.I
)
PERCENT = re.compile(r"\(?\b\d+(?:[.,]\d+)?\s*%\)?")
SMALL_MEASURE = re.compile(r"^(?=(?:pinch|dash|knob|stick)\b)", re.IGNORECASE)
POINT_OR_THOUSAND = re.compile(
    r"(?<![\d.,])[1-9]\d{0,2}\.\d{3}(?![\d.,])|(?<![\d.,])[1-9]\d{0,2},\d{3}(?=\s*(?:kg|kilo|l|litre)\b)"
)
PREPARATION = re.compile(
    r"[,;(\[]|\s-\s|\bplus (?:extra|more)\b|\bfor (?:the|dusting|rolling|greasing)\b"
    r"|\bto (?:bind|taste)\b|\bas needed\b",
    re.IGNORECASE,
)


def read_recipe(text: str, system: str = "metric", ingredients: Mapping[str, Ingredient] | None = None) -> Recipe:
    """
    Read a pasted recipe.

    Parameters
    ----------
    text : str
        Lines of a recipe, at most 20,000 characters and 400 lines.
    system : str
        What a cup and a spoon hold: `metric`, `us`, `australian` or `uk`.
    ingredients : mapping of str to Ingredient, optional
        What the kitchen knows, by name; the reference table where nothing is given.

    Returns
    -------
    Recipe
        One `ReadLine` for each line that is not blank. Grams as low, usual, high. [g]

    Raises
    ------
    PasteTooLong
        If there is more than one recipe can be.
    KeyError
        If the system is unknown.
    """
    if len(text) > MAX_CHARACTERS:
        raise PasteTooLong(len(text), MAX_CHARACTERS, "characters")
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    if len(lines) > MAX_LINES:
        raise PasteTooLong(len(lines), MAX_LINES, "lines")
    unit_table(system)
    shelf = shelf_of(reference_ingredients() if ingredients is None else ingredients)
    if len(lines) > 1 and all(re.match(r"[-–]\s*\S", line) for line in lines if re.search(r"\d", line)):
        lines = [re.sub(r"^[-–]\s*", "", line) for line in lines]  # a list with dashes for bullets
    return Recipe(tuple(_read_line(line, system, shelf) for line in lines), system)


def _read_line(text: str, system: str, shelf: Shelf) -> ReadLine:
    plain = plain_text(BULLET.sub("", text))
    if not re.search(r"\w", plain):
        return ReadLine(text, heading=True)
    if not re.search(r"\d", plain) and (plain.endswith(":") or re.match(r"for the \w+$", plain, re.I)):
        return ReadLine(text, heading=True)
    minus = re.match(r"-\s*(?=\d)", plain)
    if minus:
        right = plain[minus.end() :]
        return ReadLine(
            text,
            doubts=(
                Doubt(
                    "negative", "A weight cannot be below zero.", (Remedy(f"Read it as {right}", "text", right), DROP)
                ),
            ),
        )
    try:
        return _method_line(text, plain, system, shelf) or _read_amounts(text, _tidy(plain), system, shelf)
    except NotANumber as error:
        return ReadLine(text, doubts=(Doubt("number", str(error), (DROP,)),))


DROP = Remedy("Leave the line out", "drop")

# Ways of writing that are put right before the amounts are looked for: (pattern, replacement).
TIDY = (
    (re.compile(r"(?<=\d)\s*T\b(?!\w)"), " tbsp"),
    (re.compile(r"(?<=\d)\s*t\b(?!\w)"), " tsp"),
    (re.compile(r"(?<=\d)(?<!\d\d\d)\s*[cC]\b(?=\.?\s+[a-z])"), " cup"),
    (re.compile(r"\(?\bsize\s+s\b\)?", re.IGNORECASE), "small"),
    (re.compile(r"\(?\bsize\s+m\b\)?", re.IGNORECASE), "medium"),
    (re.compile(r"\(?\bsize\s+l\b\)?", re.IGNORECASE), "large"),
    (re.compile(r"^(?:an?|one)\s+(?:generous|good|big|small|large)\s+(?=pinch|dash|knob)", re.IGNORECASE), ""),
    (
        re.compile(r"(?<=\d)\s+(heap\w+|level|scant|rounded)\s+(cups?|tbsp|tablespoons?|tsp|teaspoons?)\b", re.I),
        r" \2 \1",
    ),
    (
        re.compile(r"^(eggs?|egg yolks?|egg whites?)\s*[:,-]?\s*(\d+)\s*(small|medium|large|extra large)\s*$", re.I),
        r"\2 \3 \1",
    ),
    (re.compile(r"(?<=\d)\s+\d+(?:[.,]\d+)?\s*%\s*$"), ""),
)


def _tidy(plain: str) -> str:
    for pattern, right in TIDY:
        plain = pattern.sub(right, plain)
    return plain


def _without_words(plain: str, words: str) -> str:
    """A line without some of its words, and without the brackets or the slash that held them."""
    left = plain.replace(words, "")
    return re.sub(r"\s+", " ", re.sub(r"\(\s*\)", "", left)).strip(" /,")


def _method_line(text: str, plain: str, system: str, shelf: Shelf) -> ReadLine | None:
    """
    A line that tells of the method or states a ratio instead of naming an ingredient; None for any other.

    A line that weighs or measures something is never one, and neither is one that begins with an ingredient: what it
    tells of cubes or minutes is preparation.
    """
    if _measures(_tidy(plain), system):
        return None
    ratio = read_ratio(plain)
    told = read_method(plain)
    if ratio is not None:
        return ReadLine(text, heading=True, facts=(ratio, *told.facts))
    if not told.facts:
        return ReadLine(text, heading=True) if TABLE_HEAD.fullmatch(plain) else None
    begins = METHOD_WORDS.match(plain) or _is_sentence(plain)
    if not begins and shelf.match(PREPARATION.split(plain)[0]).ingredient is not None:
        return None
    doubts = tuple(
        Doubt(
            f"{each.kind}_pair",
            each.message,
            (
                Remedy(f"Keep {each.first}", "text", _without_words(plain, each.second)),
                Remedy(f"Keep {each.second}", "text", _without_words(plain, each.first)),
            ),
        )
        for each in told.contradictions
    )
    return ReadLine(text, doubts=doubts, heading=True, facts=told.facts)


def _measures(plain: str, system: str) -> list[_Measure]:
    """Every amount that has a unit, in the order written."""
    table, found = unit_table(system), []
    spaced = re.sub(r"\b(fl)\.?\s*(oz)\b", r"\1\2", plain, flags=re.IGNORECASE)
    for match in MEASURE.finditer(spaced):
        unit = table.get(match["unit"].lower())
        if unit is None:
            continue
        amount = read_quantity(match["quantity"])
        if match["times"]:
            amount = amount.times(float(match["times"]))
        found.append(_Measure(amount, unit, match.start(), match.end(), match[0].strip()))
    return found


def _read_amounts(text: str, plain: str, system: str, shelf: Shelf) -> ReadLine:
    plain = re.sub(r"\b(fl)\.?\s*(oz)\b", r"\1\2", plain, flags=re.IGNORECASE)
    plain = SMALL_MEASURE.sub("1 ", plain)
    measures = _measures(plain, system)
    count = COUNT_FIRST.match(plain)
    if measures and count and "," in plain[: measures[0].start]:
        # "1 egg, beaten, 10 g kept for glaze": the count is the amount, what follows the comma is preparation.
        line = _read_counted(text, plain[: measures[0].start].rstrip(" ,"), system, shelf)
        note = Doubt("second_amount", f"“{measures[0].text}” further on is not counted.")
        return replace(line, preparation=plain[plain.index(",") + 1 :].strip(), doubts=(*line.doubts, note))
    if not measures:
        return _read_counted(text, plain, system, shelf)
    groups: list[list[_Measure]] = [[measures[0]]]
    doubts: list[Doubt] = []
    for before, after in pairwise(measures):
        between = plain[before.end : after.start]
        if JOINED.match(between):
            groups[-1].append(after)
        elif SAME_THING.match(between) or re.search(r"[(\[/=]\s*(?:about|approx\.?|ca\.?)?\s*$", between, re.I):
            groups.append([after])
        elif "," in between or ";" in between:
            # An amount inside the preparation ("beaten, 10 g kept for glaze") is not the line's own weight.
            doubts.append(Doubt("second_amount", f"“{after.text}” further on is not counted."))
        else:
            return ReadLine(
                text,
                doubts=(
                    Doubt("two_lines", "Two amounts on one line. Write each ingredient on its own line.", (DROP,)),
                ),
            )
    either = POINT_OR_THOUSAND.search(plain)
    if either:
        doubts.append(_point_or_thousand(either[0], measures[0]))
    rest = _without(plain, measures)
    counted = count is not None and measures[0].start >= count.end()
    if count is not None and counted:
        rest = rest[count.end() :]
    line = _named(ReadLine(text), rest, shelf, doubts)
    if count is not None and counted and line.ingredient and line.ingredient.unit_g:
        # "2 eggs (100 g)": the count is one measure, the weight in brackets the other.
        piece = Unit("piece", MASS, line.ingredient.unit_g)
        groups.append([_Measure(read_quantity(count["quantity"]), piece, 0, 0, f"{count[0].strip()} pieces")])
    named = PREPARATION.split(rest)[0]
    return _weighed(line, groups, doubts, named)


def _point_or_thousand(text: str, measure: _Measure) -> Doubt:
    """1.000 g is a thousand to some and one to others; 1,250 kg the other way round."""
    read = measure.amount.usual * measure.unit.size
    other = read * 1000 if "." in text else read / 1000
    weighed = measure.unit.kind == MASS
    remedies = tuple(Remedy(f"{grams:,.6g} g", "grams", f"{grams:.6g}") for grams in (read, other) if weighed)
    return Doubt("point_or_thousand", f"“{text}” can be read in two ways. Which is it?", remedies)


def _without(plain: str, measures: list[_Measure]) -> str:
    rest = plain
    for measure in reversed(measures):
        rest = rest[: measure.start] + " " + rest[measure.end :]
    rest = re.sub(r"[(\[]\s*(?:about|approx\.?|ca\.?|or|plus|and)?\s*[)\]]", " ", rest, flags=re.IGNORECASE)
    return re.sub(r"^[\s\-/,:;=+.)]*(?:of\b|plus\b|\bor\b|and\b)?\s*", "", rest)


def _grams(measure: _Measure, ingredient: Ingredient, named: str) -> Spread | None:
    """Weight of a measure. `named` is the line's name part: sifted before measuring is light, packed is heavy."""
    if measure.unit.kind == MASS:
        return measure.amount.times(measure.unit.size)
    usual = ingredient.g_per_ml
    if usual is None:
        return None
    low, high = ingredient.g_per_ml_low or usual, ingredient.g_per_ml_high or usual
    if re.search(r"\b(?:packed|heaped|heaping)\b", named, re.IGNORECASE):
        low = usual = high
    elif re.search(r"\b(?:sifted|spooned)\b", named, re.IGNORECASE):
        usual = high = low
    return measure.amount.times(measure.unit.size).times(low, usual, high)


def _weighed(line: ReadLine, groups: list[list[_Measure]], doubts: list[Doubt], named: str) -> ReadLine:
    """Put weights on a line; of several measures of one thing, a weight wins over a volume."""
    first = groups[0][0]
    line = replace(line, amount=first.amount, unit=first.unit.word)
    if line.ingredient is None:
        return replace(line, doubts=tuple(doubts))
    readings: list[tuple[Spread, bool, str]] = []
    for group in groups:
        parts = [_grams(measure, line.ingredient, named) for measure in group]
        known = [part for part in parts if part is not None]
        if len(known) < len(parts):
            continue
        total = known[0]
        for part in known[1:]:
            total = total.plus(part)
        readings.append((total, group[0].unit.kind == MASS, " plus ".join(measure.text for measure in group)))
    if not readings:
        doubts.append(
            Doubt(
                "no_density", f"No weight by volume is known for {line.ingredient.name}. Weigh it and type the grams."
            )
        )
        return replace(line, doubts=tuple(doubts))
    # A weight wins over a volume, and grams over ounces, which are rounded more.
    weights = [reading for reading in readings if reading[1]]
    metric = [reading for reading in weights if re.search(r"\d\s*(?:m|k)?g", reading[2], re.IGNORECASE)]
    chosen = (metric or weights or readings)[0]
    for other in readings:
        doubts.extend(_contradiction(chosen, other))
    if first.amount.is_range:
        doubts.append(Doubt("range", f"A range: reckoned with {chosen[0].usual:.4g} g, the middle."))
    return replace(line, grams=chosen[0], doubts=tuple(doubts))


def _contradiction(chosen: tuple[Spread, bool, str], other: tuple[Spread, bool, str]) -> list[Doubt]:
    a, b = chosen[0], other[0]
    if other is chosen or min(a.usual, b.usual) <= 0:
        return []
    # Compared where their ranges come closest: a scooped and a spooned cup may both be right.
    apart = max(a.low / b.high, b.low / a.high)
    if apart <= MEASURES_AGREE_WITHIN:
        return []
    factor = max(a.usual, b.usual) / min(a.usual, b.usual)
    return [
        Doubt(
            "two_measures",
            f"{chosen[2]} and {other[2]} are not the same: {a.usual:.0f} g and {b.usual:.0f} g, "
            f"a factor of {factor:.2g}. Reckoned with {a.usual:.0f} g.",
            (
                Remedy(f"Keep {a.usual:.0f} g", "grams", f"{a.usual:.6g}"),
                Remedy(f"Take {b.usual:.0f} g", "grams", f"{b.usual:.6g}"),
            ),
        )
    ]


def _read_counted(text: str, plain: str, system: str, shelf: Shelf) -> ReadLine:
    """A line without a unit: counted eggs, a bare number, or no amount at all."""
    doubts: list[Doubt] = []
    percent = PERCENT.search(plain)
    found = COUNT_FIRST.match(plain)
    if found:
        rest = plain[found.end() :]
    else:
        found = COUNT_LAST.search(plain)
        rest = plain[: found.start()] if found else plain
    if re.fullmatch(rf"[-\s]*{QUANTITY}", plain):
        return ReadLine(
            text, doubts=(Doubt("only_number", "A number alone. Say of what: 420 g plain flour.", (DROP,)),)
        )
    if found is None and _is_sentence(plain):
        return ReadLine(
            text, doubts=(Doubt("sentence", "Read as a sentence, not as an ingredient: no amount in it.", (DROP,)),)
        )
    line = _named(ReadLine(text), rest, shelf, doubts)
    if found is None:
        why = "A percentage alone: type the grams." if percent else "No amount given: type the grams, or leave it out."
        doubts.append(Doubt("no_amount", why, (DROP,)))
        return replace(line, doubts=tuple(doubts))
    amount = read_quantity(found["quantity"])
    line = replace(line, amount=amount)
    ingredient = line.ingredient
    if ingredient is None:
        return replace(line, doubts=tuple(doubts))
    if ingredient.unit_g and amount.usual < BARE_GRAMS_FROM * 4:
        each = ingredient.unit_g
        size = egg_size(rest, system)
        if size and ingredient.name in EGG_SHARE:
            each = size[1] * EGG_SHARE[ingredient.name]
        elif ingredient.name == "whole egg":
            doubts.append(Doubt("egg_size", f"No size said: reckoned with {each:g} g each, out of the shell."))
        return replace(line, unit=ingredient.unit, grams=amount.times(each), doubts=tuple(doubts))
    if amount.usual >= BARE_GRAMS_FROM:
        doubts.append(
            Doubt(
                "no_unit",
                f"No unit: taken as {amount.usual:g} grams.",
                (Remedy("Grams is right", "grams", f"{amount.usual:.6g}"),),
            )
        )
        return replace(line, unit="g", grams=amount, doubts=tuple(doubts))
    doubts.append(Doubt("no_unit", f"{amount.usual:g} of what? Type the grams.", (DROP,)))
    return replace(line, doubts=tuple(doubts))


def _is_sentence(plain: str) -> bool:
    words = plain.split()
    return len(words) >= 9 or (len(words) >= 4 and plain.endswith("."))


def _named(line: ReadLine, rest: str, shelf: Shelf, doubts: list[Doubt]) -> ReadLine:
    """Give a line its ingredient and preparation, and say what about the name is doubtful."""
    bare = PERCENT.sub(" ", rest) if shelf.match(rest).ingredient is None else rest
    cut = PREPARATION.search(bare)
    head, tail = (bare[: cut.start()], bare[cut.start() :]) if cut else (bare, "")
    match = shelf.match(head)
    turned = shelf.turned_round(head, tail)
    if turned is not None:  # "butter (salted)", "flour, wholemeal"
        return replace(line, ingredient=turned, preparation=tail.strip(" ,;()[]-."))
    if match.ingredient is None and not match.unknown:
        match, tail = shelf.match(bare), ""
    doubts.extend(_naming_doubts(match, head.strip(" .:-") or rest.strip()))
    preparation = " ".join(part for part in (match.leftover, tail.strip(" ,;()[]-.")) if part)
    return replace(line, ingredient=match.ingredient, preparation=preparation)


def _naming_doubts(match: Match, named: str) -> list[Doubt]:
    choices = tuple(Remedy(name, "ingredient", name) for name in match.nearest)
    if match.ingredient is None:
        message = f"“{named[:60]}” is not on this kitchen’s list."
        if choices:
            message += " Is it one of these?"
        return [Doubt("unknown_ingredient", message, (*choices, DROP))]
    name = match.ingredient.name
    right = Remedy(f"Yes, {name}", "ingredient", name)
    others = tuple(choice for choice in choices if choice.value != name)
    if match.alternatives:
        options = tuple(Remedy(option, "ingredient", option) for option in dict.fromkeys(match.alternatives))
        return [Doubt("alternative", f"A choice is left open; reckoned with {name}.", options)]
    if match.unknown:
        words = " ".join(match.unknown)
        return [Doubt("partly_read", f"Taken for {name}; “{words}” was not understood.", (right, *others, DROP))]
    if match.spelling:
        return [Doubt("spelling", f"Spelt unlike anything on the list; taken for {name}.", (right, *others, DROP))]
    if match.loose:
        return [Doubt("loose_name", f"“{named[:40]}” can be several things; taken for {name}.", (right,))]
    return []

"""Reading a recipe as people write it: each line's amount, weight and ingredient, and what is doubtful about it."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace

from northfold.core.errors import NotANumber, PasteTooLong
from northfold.core.formula.line_names import PERCENT, PREPARATION, named_line
from northfold.core.formula.measures import (
    Apart,
    Measure,
    grouped,
    is_level,
    measures_in,
    one_word_units,
    weight_of,
)
from northfold.core.formula.method_text import COIN, METHOD_WORDS, read_method, read_ratio
from northfold.core.formula.naming import EGG_SHARE, Shelf, egg_size, shelf_of
from northfold.core.formula.numbers import QUANTITY, Spread, read_quantity
from northfold.core.formula.parts import for_the, heading_of, labelled, sorted_out, stands_alone
from northfold.core.formula.read_lines import DROP, Doubt, ReadLine, Recipe, Remedy
from northfold.core.formula.shared_lines import shared_line, two_lines
from northfold.core.formula.units import MASS, Unit, unit_table
from northfold.core.formula.wording import PACK, Wording, in_figures, tidied
from northfold.core.matter import Ingredient, reference_ingredients

MAX_CHARACTERS = 20_000
MAX_LINES = 400

# Two measures of one thing further apart than this contradict each other.
MEASURES_AGREE_WITHIN = 1.06

# A bare number this large or larger can only be grams; below it, it counts pieces.
BARE_GRAMS_FROM = 15


COUNT_FIRST = re.compile(rf"^(?P<quantity>{QUANTITY})\s+(?!x\b)(?=\D)", re.IGNORECASE)
COUNT_LAST = re.compile(rf"[\s:x(]+(?P<quantity>{QUANTITY})\s*\)?$", re.IGNORECASE)
BULLET = re.compile(r"^\s*(?:[•*·▪◦‣☐]\s*|-\s+)")
# The first row of a table: nothing but the names of its columns.
TABLE_HEAD = re.compile(
    r"(?:ingredients?|amount|weight|grams?|g|kg|unit|%|percent|baker'?s|qty|quantity|[\s|,/()-])+", re.I
)
# Said of an amount that nobody can weigh.
VAGUE = re.compile(
    r"^(?:(?:just\s+)?(?:an?\s+)?(?:little|touch|bit|few drops|drop|splash|drizzle|handful|sprinkling|sprinkle|"
    r"scattering|dusting|glug)(?:\s+of)?|some|a few)\s+(?=[a-z])",
    re.IGNORECASE,
)
# What goes in only if it is needed: counted in the range of the weight, not in its middle.
IF_NEEDED = re.compile(
    rf"[\s,;(]*(?:plus|\+|and|with)\s+(?:(?:another|an?\s+(?:extra|further|more)|up to)\s+)?"
    rf"(?P<amount>{QUANTITY}\s*[a-z]+)?\.?\s*(?:of it\s+)?(?:more\s+|extra\s+)?"
    rf"(?P<why>if (?:it is |they are )?(?:needed|required|necessary|dry|too dry|wanted|the dough \w+.*)"
    rf"|as (?:needed|required)|in reserve|to spare)\)?",
    re.IGNORECASE,
)
SMALL_MEASURE = re.compile(r"^(?=(?:pinch|dash|knob|stick)\b)", re.IGNORECASE)
# "2 eggs and 1 yolk": two things, each with its count.
EGG_AND_EGG = re.compile(
    r"^\d+\s+(?:[a-z-]+\s+){0,3}(?:eggs?|yolks?|whites?)\s*(?:\+|&|,|and|plus)\s*\d+\s+(?:[a-z-]+\s+){0,3}(?:eggs?|yolks?|whites?)\b",
    re.IGNORECASE,
)
POINT_OR_THOUSAND = re.compile(
    r"(?<![\d.,])[1-9]\d{0,2}\.\d{3}(?![\d.,])|(?<![\d.,])[1-9]\d{0,2},\d{3}(?=\s*(?:kg|kilo|l|litre)\b)"
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
        One `ReadLine` for each line that is not blank, with what it is for. Grams as low, usual, high. [g]

    Raises
    ------
    PasteTooLong
        If there is more than one recipe can be.
    KeyError
        If the system is unknown.
    """
    if len(text) > MAX_CHARACTERS:
        raise PasteTooLong(len(text), MAX_CHARACTERS, "characters")
    lines, set_off = _lines_of(text)
    if len(lines) > MAX_LINES:
        raise PasteTooLong(len(lines), MAX_LINES, "lines")
    unit_table(system)
    shelf = shelf_of(reference_ingredients() if ingredients is None else ingredients)
    if len(lines) > 1 and all(re.match(r"[-–]\s*\S", line) for line in lines if re.search(r"\d", line)):
        lines = [re.sub(r"^[-–]\s*", "", line) for line in lines]  # a list with dashes for bullets
    read = [_read_line(line, system, shelf) for line in lines]
    for number, line in enumerate(read):
        follows = read[number + 1] if number + 1 < len(read) else None
        if number and (number in set_off or _in_capitals(line.text)) and stands_alone(line, follows):
            # The colon says so wherever the line is read again.
            read[number] = ReadLine(f"{line.text.rstrip(' :')}:", heading=True)
    found = sorted_out(read)
    return Recipe(found.lines, system, found.title)


def _lines_of(text: str) -> tuple[list[str], set[int]]:
    """The lines that are not blank, and which of them a blank line sets off; none where every other line is blank."""
    lines: list[str] = []
    set_off: set[int] = set()
    is_off = False
    for line in text.splitlines():
        if line.strip():
            set_off |= {len(lines)} if is_off else set()
            lines += _citrus(line.strip())
        is_off = not line.strip()
    return lines, set_off if 2 * len(set_off) < len(lines) else set()


# "Zest and juice of 2 lemons" and "2 lemons, juice and zest" are two lines, each with its own weight.
_BOTH_OF = re.compile(
    r"^(?:the\s+)?(?:finely\s+)?(?:grated\s+)?(?:(?:zest|rind)\s*(?:and|&|\+)\s*(?:the\s+)?juice|juice\s*(?:and|&|\+)\s*"
    r"(?:the\s+)?(?:finely\s+)?(?:grated\s+)?(?:zest|rind))\s+of\s+"
    r"(?P<n>\d+(?:[.,/]\d+)?|½|half an?|an?|one|two|three|four)"
    r"\s+(?P<size>large |small |unwaxed )?(?P<what>lemon|lime|orange)s?(?P<rest>[^\d]*)$",
    re.IGNORECASE,
)
_OF_BOTH = re.compile(
    r"^(?P<n>\d+(?:[.,/]\d+)?|½|half an?|an?|one|two|three|four)\s+(?P<size>large |small |unwaxed )?"
    r"(?P<what>lemon|lime|orange)s?,?\s*\(?(?:(?:finely\s+)?(?:grated\s+)?(?:zest|rind)(?:ed)?\s*(?:and|&|\+)\s*juiced?|"
    r"juiced?\s*(?:and|&|\+)\s*(?:finely\s+)?(?:grated\s+)?(?:zest|rind)(?:ed)?)\)?(?P<rest>[^\d]*)$",
    re.IGNORECASE,
)


def _citrus(line: str) -> list[str]:
    """A line of juice and zest as two lines; any other as it is."""
    bare = BULLET.sub("", line).strip()
    found = _BOTH_OF.match(bare) or _OF_BOTH.match(bare)
    if found is None:
        return [line]
    fruit = f"{found['n']} {found['what'].lower()}{'' if found['n'].lower() in ('1', 'a', 'an', 'one') else 's'}"
    return [f"zest of {fruit}{found['rest']}".rstrip(), f"juice of {fruit}{found['rest']}".rstrip()]


def _in_capitals(text: str) -> bool:
    return text.isupper() and sum(map(str.isalpha, text)) > 3


def _read_line(text: str, system: str, shelf: Shelf) -> ReadLine:
    try:
        wording = in_figures(BULLET.sub("", text))
        plain = wording.text
        if not re.search(r"\w", plain) or heading_of(plain) is not None:
            return ReadLine(text, heading=True)
        label = labelled(plain)
        if label and re.match(r"\d", label[1]):
            return replace(for_the(_read_line(label[1], system, shelf), label[0]), text=text)
        minus = re.match(r"-\s*(?=\d)", plain)
        if minus:
            right = plain[minus.end() :]
            remedies = (Remedy(f"Read it as {right}", "text", right), DROP)
            return ReadLine(text, doubts=(Doubt("negative", "A weight cannot be below zero.", remedies),))
        return _method_line(text, plain, system, shelf) or _with_guesses(
            _read_amounts(text, tidied(plain), system, shelf), wording
        )
    except NotANumber as error:
        return ReadLine(text, doubts=(Doubt("number", str(error), (DROP,)),))


def _with_guesses(line: ReadLine, wording: Wording) -> ReadLine:
    """A line with what was put right on a guess said, and the other reading one tap away."""
    if not wording.unsure:
        return line
    doubts = []
    for written, taken in wording.unsure:
        other = re.search(r"\d+$", written) if "/" not in written else None
        remedies: tuple[Remedy, ...] = (Remedy(f"Read it as {taken}", "text", line.text.replace(written, taken)),)
        if other is not None:
            remedies += (Remedy(f"Read it as {other[0]}", "text", line.text.replace(written, other[0])),)
        why = "the small figures of the fraction were lost" if "/" in written else "a space may part thousands"
        doubts.append(Doubt("lost_figures", f"“{written}” is read as {taken}: {why}.", (*remedies, DROP)))
    return replace(line, doubts=(*doubts, *line.doubts))


def _without_words(plain: str, words: str) -> str:
    """A line without some of its words, and without the brackets or the slash that held them."""
    left = plain.replace(words, "")
    return re.sub(r"\s+", " ", re.sub(r"\(\s*\)", "", left)).strip(" /,")


def _method_line(text: str, plain: str, system: str, shelf: Shelf) -> ReadLine | None:
    """
    A line that tells of the method or states a ratio instead of naming an ingredient; None for any other.

    A line that weighs, measures or counts something is never one, and neither is one that begins with an ingredient:
    what it tells of cubes or minutes is preparation.
    """
    if measures_in(tidied(COIN.sub("coin", plain)), system) or _counts_something(plain, shelf):
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


def _counts_something(plain: str, shelf: Shelf) -> bool:
    """Whether a line begins with a count of pieces or a bare weight of an ingredient: "2 eggs, boiled 10 min"."""
    tidy = tidied(plain)
    count = COUNT_FIRST.match(tidy)
    if count is None or METHOD_WORDS.match(tidy[count.end() :]):
        return False
    item = shelf.match(PREPARATION.split(tidy[count.end() :])[0]).ingredient
    if item is None:
        head = " ".join(tidy[count.end() :].split()[:4])
        item = shelf.match(head).ingredient
    return item is not None and (bool(item.unit_g) or read_quantity(count["quantity"]).usual >= BARE_GRAMS_FROM)


def _read_amounts(text: str, plain: str, system: str, shelf: Shelf) -> ReadLine:
    plain = one_word_units(plain)
    plain = SMALL_MEASURE.sub("1 ", plain)
    more, plain = _if_needed(plain, system)
    measures = measures_in(plain, system)
    count = COUNT_FIRST.match(plain)
    if measures and count and "," in plain[: measures[0].start]:
        # "1 egg, beaten, 10 g kept for glaze": the count is the amount, what follows the comma is preparation.
        line = _read_counted(text, plain[: measures[0].start].rstrip(" ,"), system, shelf)
        note = Doubt("second_amount", f"“{measures[0].text}” further on is not counted.")
        return replace(line, preparation=plain[plain.index(",") + 1 :].strip(), doubts=(*line.doubts, note))
    if not measures:
        return _read_counted(text, plain, system, shelf)
    first = measures[0]
    shared = shared_line(_without(plain, measures[:1]), first.amount.usual, first.unit.word, shelf)
    if shared is not None:
        return ReadLine(text, amount=first.amount, unit=first.unit.word, doubts=(shared,))
    groups, apart = grouped(plain, measures)
    doubts: list[Doubt] = [*more.doubts]
    if any(not re.search(r"[,;(]", each.between) for each in apart):
        why = "Two amounts on one line. Write each ingredient on its own line."
        return ReadLine(text, doubts=(Doubt("two_lines", why, (*two_lines(plain), DROP)),))
    # An amount inside the preparation ("beaten, 10 g kept for glaze") is not the line's own weight.
    doubts += [_second_amount(each) for each in apart]
    either = POINT_OR_THOUSAND.search(plain)
    if either:
        doubts.append(_point_or_thousand(either[0], measures[0]))
    rest = _without(plain, measures)
    counted = count is not None and measures[0].start >= count.end()
    if count is not None and counted:
        rest = rest[count.end() :]
    line = named_line(ReadLine(text), rest, shelf, doubts)
    if count is not None and counted and line.ingredient:
        pieces = read_quantity(count["quantity"])
        if line.ingredient.unit_g:
            # "2 eggs (100 g)": the count is one measure, the weight in brackets the other.
            piece = Unit("piece", MASS, line.ingredient.unit_g)
            groups.append([Measure(pieces, piece, 0, 0, f"{count[0].strip()} pieces")])
        elif pieces.usual > 1 and re.search(rf"\b{PACK}\b", plain, re.IGNORECASE):
            doubts.append(_each_or_all(pieces, measures[0]))
    named = PREPARATION.split(rest)[0]
    return more.added_to(_weighed(line, groups, doubts, named))


def _second_amount(apart: Apart) -> Doubt:
    return Doubt("second_amount", f"“{apart.after.text}” further on is not counted.")


def _each_or_all(pieces: Spread, measure: Measure) -> Doubt:
    """ "2 packs butter (250 g)": of each pack, or of both?"""
    weight = measure.base.usual
    remedies: tuple[Remedy, ...] = ()
    if measure.unit.kind == MASS:
        remedies = tuple(
            Remedy(f"{grams:.6g} g {word}", "grams", f"{grams:.6g}")
            for grams, word in ((weight, "in all"), (weight * pieces.usual, f"for {pieces.usual:g}"))
        )
    return Doubt("each_or_all", f"Is “{measure.text}” each, or of all {pieces.usual:g} together?", remedies)


@dataclass(frozen=True)
class _More:
    """What goes into a line only if it is needed. [g or ml, as a level measure]"""

    measure: Measure | None = None
    doubts: tuple[Doubt, ...] = ()

    def added_to(self, line: ReadLine) -> ReadLine:
        """The line with the upper end of its weight so much higher."""
        if self.measure is None or line.grams is None or line.ingredient is None:
            return line
        extra = weight_of(self.measure, line.ingredient, "")
        if extra is None:
            return line
        grams = Spread(line.grams.low, line.grams.usual, line.grams.high + extra.high)
        return replace(line, grams=grams)


def _if_needed(plain: str, system: str) -> tuple[_More, str]:
    """What a line holds in reserve, and the line without it."""
    found = IF_NEEDED.search(plain)
    if found is None or found["amount"] is None:
        return _More(), plain
    measures = measures_in(found["amount"], system)
    if not measures:
        return _More(), plain
    amount = found["amount"].strip()
    said = f"{amount[0].upper()}{amount[1:]} more only if needed: not counted in the weight, but shown in its range."
    left = f"{plain[: found.start()]}{plain[found.end() :]}"
    return _More(measures[0], (Doubt("if_needed", said, (Remedy("That is right", "accept", "x"),)),)), left


def _point_or_thousand(text: str, measure: Measure) -> Doubt:
    """1.000 g is a thousand to some and one to others; 1,250 kg the other way round."""
    read = measure.base.usual
    other = read * 1000 if "." in text else read / 1000
    weighed = measure.unit.kind == MASS
    remedies = tuple(Remedy(f"{grams:,.6g} g", "grams", f"{grams:.6g}") for grams in (read, other) if weighed)
    return Doubt("point_or_thousand", f"“{text}” can be read in two ways. Which is it?", remedies)


def _without(plain: str, measures: list[Measure]) -> str:
    rest = plain
    for measure in reversed(measures):
        rest = rest[: measure.start] + " " + rest[measure.end :]
    rest = re.sub(r"[(\[]\s*(?:about|approx\.?|ca\.?|or|plus|and)?\s*[)\]]", " ", rest, flags=re.IGNORECASE)
    return re.sub(r"^[\s\-/,:;=+.)]*(?:of\b|plus\b|\bor\b|and\b)?\s*", "", rest)


def _weighed(line: ReadLine, groups: list[list[Measure]], doubts: list[Doubt], named: str) -> ReadLine:
    """Put weights on a line; of several measures of one thing, a weight wins over a volume."""
    first = groups[0][0]
    line = replace(line, amount=first.amount, unit=first.unit.word)
    if line.ingredient is None:
        return replace(line, doubts=tuple(doubts))
    readings: list[tuple[Spread, bool, str]] = []
    for group in groups:
        parts = [weight_of(measure, line.ingredient, named) for measure in group]
        known = [part for part in parts if part is not None]
        if len(known) < len(parts):
            continue
        total = known[0]
        for part in known[1:]:
            total = total.plus(part)
        readings.append((total, group[0].unit.kind == MASS, " plus ".join(measure.text for measure in group)))
    if not readings:
        why = f"No weight by volume is known for {line.ingredient.name}. Weigh it and type the grams."
        doubts.append(Doubt("no_density", why))
        return replace(line, doubts=tuple(doubts))
    # A weight wins over a volume, and grams over ounces, which are rounded more.
    weights = [reading for reading in readings if reading[1]]
    metric = [reading for reading in weights if re.search(r"\d\s*(?:m|k)?g", reading[2], re.IGNORECASE)]
    chosen = (metric or weights or readings)[0]
    for other in readings:
        doubts.extend(_contradiction(chosen, other))
    if first.amount.is_range:
        doubts.append(Doubt("range", f"A range: counted as {chosen[0].usual:.4g} g, the middle."))
    if chosen is readings[0]:
        doubts += [_fullness_doubt(measure) for measure in groups[0] if not is_level(measure)]
        doubts += [
            _which_spoon(measure) for measure in groups[0] if re.search(r"\dspoon|\d\s+spoon", measure.text, re.I)
        ]
    return replace(line, grams=chosen[0], doubts=tuple(doubts))


def _fullness_doubt(measure: Measure) -> Doubt:
    full = measure.fullness
    said = f"not level, so each counts as {full.usual:g} level ({full.low:g} to {full.high:g}). Weigh it to be sure."
    return Doubt("fullness", f"“{measure.text}”: {said}", (Remedy("That will do", "accept", "x"),))


def _which_spoon(measure: Measure) -> Doubt:
    """A spoon of no size is a tablespoon to most."""
    said = f"“{measure.text}”: taken as a tablespoon, {measure.unit.size:g} ml."
    return Doubt("which_spoon", said, (Remedy("A tablespoon", "accept", "x"),))


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
            f"a factor of {factor:.2g}. Counted as {a.usual:.0f} g.",
            (
                Remedy(f"Keep {a.usual:.0f} g", "grams", f"{a.usual:.6g}"),
                Remedy(f"Take {b.usual:.0f} g", "grams", f"{b.usual:.6g}"),
            ),
        )
    ]


def _read_counted(text: str, plain: str, system: str, shelf: Shelf) -> ReadLine:
    """A line without a unit: counted eggs, a bare number, or no amount at all."""
    doubts: list[Doubt] = []
    vague = VAGUE.match(plain)
    if vague:
        plain = plain[vague.end() :]
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
    if EGG_AND_EGG.match(plain):
        why = "Two amounts on one line. Write each ingredient on its own line."
        return ReadLine(text, doubts=(Doubt("partly_read", why, (*two_lines(plain), DROP)),))
    line = named_line(ReadLine(text), rest, shelf, doubts)
    if found is None:
        why = "No amount given: type the grams, or leave it out."
        if vague:
            why = f"How much is “{vague[0].strip()}”? Type the grams."
        elif percent:
            why = "A percentage alone: type the grams."
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
            doubts.append(Doubt("egg_size", f"No size given: counted as {each:g} g each, out of the shell."))
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

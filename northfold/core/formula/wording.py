"""Amounts as people write them out, put into one spelling: figures for words, one form for fractions and ranges."""

import re
from collections.abc import Callable
from dataclasses import dataclass

from northfold.core.formula.numbers import QUANTITY, plain_text
from northfold.core.formula.units import WORDS as UNIT_NAMES

_ONES = {
    "one": 1, "two": 2, "three": 3, "four": 4, "five": 5, "six": 6, "seven": 7, "eight": 8, "nine": 9, "ten": 10,
    "eleven": 11, "twelve": 12, "thirteen": 13, "fourteen": 14, "fifteen": 15, "sixteen": 16, "seventeen": 17,
    "eighteen": 18, "nineteen": 19,
}  # fmt: skip
_TENS = {
    "twenty": 20, "thirty": 30, "forty": 40, "fifty": 50, "sixty": 60, "seventy": 70, "eighty": 80, "ninety": 90,
}  # fmt: skip
# Parts of a whole in words: what stands under the fraction's line.
_PARTS = {"half": 2, "halves": 2, "third": 3, "thirds": 3, "quarter": 4, "quarters": 4, "fourth": 4, "fourths": 4,
          "fifth": 5, "fifths": 5, "eighth": 8, "eighths": 8}  # fmt: skip

UNIT_WORD = "(?:" + "|".join(sorted({w for words in UNIT_NAMES for w in words.split()}, key=len, reverse=True)) + ")"
# What is bought by the piece, each with a weight of its own.
PACK = (
    r"(?:packs?|packets?|packages?|pkgs?|sachets?|envelopes?|blocks?|sticks?|tubs?|pots?|cartons?|bags?|tins?|cans?|"
    r"jars?|bricks?|bars?|slabs?|sheets?|tubes?|boxes|box)"
)
# What is counted: after a fraction in words it is an amount, not a remark ("half a lemon", "half fat").
COUNTED = (
    r"(?:(?:extra[ -]large|very large|large|medium|small|beaten|whole|fresh|free-range|ripe)\s+)*"
    r"(?:eggs?|yolks?|whites?|egg yolks?|egg whites?|lemons?|limes?|oranges?|apples?|pears?|vanilla (?:pods?|beans?))"
)
FULLNESS = r"(?:heaped|heaping|scant|rounded|level|generous|good|full|bare)"

_SMALL = rf"(?:{'|'.join([*_TENS, *sorted(_ONES, key=len, reverse=True)])})"
_TO_99 = rf"(?:(?:{'|'.join(_TENS)})[\s-](?:{'|'.join(list(_ONES)[:9])})|{_SMALL})"
_CARDINAL = rf"(?:(?:(?:an?|{_TO_99})\s+)?(?:hundred|thousand)(?:\s+and)?(?:\s+{_TO_99})?|{_TO_99})"
FRACTION = rf"(?:(?:an?|one|two|three|four|five|seven|\d)[\s-]+)?(?:{'|'.join(sorted(_PARTS, key=len, reverse=True))})"
FIGURE = r"(?:\d+\s+\d+/\d+|\d+/\d+|\d+(?:[.,]\d+)?)"
_THING = rf"(?:{UNIT_WORD}\b|{FULLNESS}\s+{UNIT_WORD}\b|{COUNTED}\b|{PACK}\b|dozen\b)"


@dataclass(frozen=True)
class Wording:
    """A line in one spelling, and what of it could have been meant otherwise: (as written, as taken)."""

    text: str
    unsure: tuple[tuple[str, str], ...] = ()


def _cardinal(text: str) -> int:
    """The value of a number in words, such as "two hundred and fifty"."""
    total, part = 0, 0
    for word in re.findall(r"[a-z]+", text.lower()):
        if word in _ONES or word in _TENS:
            part += _ONES.get(word, 0) + _TENS.get(word, 0)
        elif word in ("a", "an"):
            part = 1
        elif word in ("hundred", "thousand"):
            total += max(part, 1) * (100 if word == "hundred" else 1000)
            part = 0
    return total + part


def fraction_in_figures(text: str) -> str:
    """A fraction in words as figures: "three-quarters" is 3/4."""
    *over, under = re.split(r"[\s-]+", text.lower().strip())
    count = 1 if not over or over[0] in ("a", "an") else int(over[0]) if over[0].isdigit() else _ONES[over[0]]
    return f"{count}/{_PARTS[under]}"


Right = str | Callable[[re.Match[str]], str]


def _rule(pattern: str, right: Right) -> tuple[re.Pattern[str], Right]:
    return re.compile(pattern, re.IGNORECASE), right


def _figure(count: str | None) -> str:
    """A count in words or figures as figures; one where there is none."""
    count = (count or "1").strip().lower()
    return count if count[0].isdigit() else str(_cardinal(count))


_TIMES = r"(?:hours?|hrs?|minutes?|mins?)"
# In this order. Each turns one way of writing into another that a later one, or the reading itself, knows.
_RULES = (
    # Fractions: "1/2-cup", "8-oz", "half-cup"; "one-half cup", "a third of a cup", "quarter of a teaspoon".
    _rule(rf"(?<=\d)-(?={UNIT_WORD}\b)", " "),
    _rule(rf"\b(half|quarter)-(?={UNIT_WORD}\b)", r"\1 "),
    _rule(
        rf"\b(?P<whole>{_CARDINAL}|an?|\d+)[\s-]+and[\s-]+(?P<fraction>{FRACTION})\b(?:\s+of)?(?:\s+an?\b)?",
        lambda m: f"{_figure(m['whole'])} {fraction_in_figures(m['fraction'])}",
    ),
    _rule(
        rf"\b(?P<n>an?|\d+|{_SMALL})\s+(?P<unit>{UNIT_WORD})\s+and\s+(?P<fraction>{FRACTION})\b(?!\s+of\s+it)",
        lambda m: f"{_figure(m['n'])} {fraction_in_figures(m['fraction'])} {m['unit']}",
    ),
    # Times: "half an hour", "an hour and a half", "three quarters of an hour", "thirty minutes".
    _rule(
        rf"\b(?P<n>{_CARDINAL}|an?|\d+)\s+(?P<u>hours?|minutes?)\s+and\s+(?P<fraction>{FRACTION})\b",
        lambda m: f"{_figure(m['n'])} {fraction_in_figures(m['fraction'])} {m['u']}",
    ),
    _rule(rf"\b(?P<fraction>{FRACTION})(?:\s+of)?(?:\s+an?)?\s+(?=hours?\b)",
          lambda m: f"{fraction_in_figures(m['fraction'])} "),
    _rule(rf"\b(?P<fraction>{FRACTION})(?:\s+of)?(?:\s+an?)?\s+(?={_THING})",
          lambda m: f"{fraction_in_figures(m['fraction'])} "),
    # Numbers in words: "twenty grams", "two or three tablespoons", "two to three".
    _rule(rf"\b(?P<n>{_CARDINAL})(?=\s+(?:{_THING}|(?:or|to)\s+{_CARDINAL}\b)|\s*-\s*{_CARDINAL}\b)",
          lambda m: str(_cardinal(m["n"]))),
    _rule(rf"(?<=\d)(?P<and>\s+(?:or|to)\s+|\s*-\s*)(?P<n>{_CARDINAL})\b", lambda m: f"{m['and']}{_cardinal(m['n'])}"),
    _rule(rf"\b(?P<n>{_CARDINAL}|an?)\s+(?={_TIMES}\b)", lambda m: f"{_figure(m['n'])} "),
    _rule(rf"^(?P<n>{_CARDINAL})(?=\s+[a-z0-9(])", lambda m: str(_cardinal(m["n"]))),
    # Dozens and pairs.
    _rule(r"\b(?:(?:1/2|half)\s+a?\s*dozen)\b(?:\s+of)?", "6"),
    _rule(r"\b(?P<n>\d+)\s+dozen\b", lambda m: str(12 * int(m["n"]))),
    _rule(r"^(?:a\s+)?dozen\b", "12"),
    _rule(r"^(?:a\s+)?(?:couple|pair)(?:\s+of)?\b", "2"),
    # Mixed numbers: "1 and 1/2", "1 & 1/2".
    _rule(r"(?<![\d/.,])(\d+)\s*(?:and|&)\s*(?=\d/\d)", r"\1 "),
    # Small measures with a word before them: "a big pinch", "two good pinches"; "a pinch" without its article.
    _rule(r"^(?P<n>an?\s+|\d+(?:-\d+)?\s+)?(?:very\s+)?(?:generous|good|big|large|small|tiny|fat|healthy|hefty|nice)\s+"
          r"(?P<u>pinch(?:es)?|dash(?:es)?|knobs?)\b", lambda m: f"{_figure(m['n'])} {m['u']}"),
    _rule(rf"\b(?:another|an extra|a further|an additional)\s+(?={UNIT_WORD}\b)", "1 "),
    # How full the measure is goes behind it: "a scant cup", "scant 1 cup", "2 heaped tablespoons of".
    _rule(
        rf"(?P<n>\b(?:an?|{FIGURE}(?:\s*(?:-|to|or)\s*{FIGURE})?)\s+)?\b(?P<full>{FULLNESS})\s+(?P<again>(?:an?|{FIGURE})\s+)?"
        rf"(?P<unit>{UNIT_WORD})\b(?!\s+(?:of\s+)?it\b)",
        lambda m: f"{_figure(m['n'] or m['again'])} {m['unit']} {m['full']}",
    ),
    # Ranges: "between 100 g and 120 g", "from 60 to 80 ml", "3 or 4 tbsp", "100 g to 120 g", "a spoon or two".
    _rule(rf"\bbetween\s+(?P<a>{FIGURE})(?P<u>\s*(?:{UNIT_WORD}\b\.?)?)\s+and\s+(?={FIGURE})",
          lambda m: f"{m['a']}{m['u']} to "),
    _rule(rf"\bfrom\s+(?={FIGURE}\s*(?:{UNIT_WORD}\b\.?)?\s*(?:to|-)\s*{FIGURE})", ""),
    _rule(rf"(?P<a>{FIGURE})\s+or\s+(?P<b>{FIGURE})(?=\s*(?:{_THING}|[a-z]))", lambda m: f"{m['a']}-{m['b']}"),
    _rule(rf"(?P<a>{FIGURE})\s*(?P<u>{UNIT_WORD})\b\.?\s*(?:-|\bto\b|\bor\b)\s*(?P<b>{FIGURE})\s*(?P=u)\b",
          lambda m: f"{m['a']}-{m['b']} {m['u']}"),
    _rule(rf"\b(?:an?|1)\s+(?P<u>{UNIT_WORD})\s+(?:or|to)\s+(?P<b>\d+|{_SMALL})\b(?!\s*{UNIT_WORD}\b)",
          lambda m: f"1-{_figure(m['b'])} {m['u']}"),
    # Packs: "2 250 g packs", "2 packs (250 g each)", "3 eggs of 50 g each".
    _rule(rf"^(?P<n>\d+)\s+(?=\d+(?:[.,]\d+)?\s*{UNIT_WORD}\b\.?\s+{PACK}\b)", r"\g<n> x "),
    _rule(
        rf"^(?P<n>\d+)\s+(?P<what>[^()\d]*?)[\s,(@]*(?:à|at|of|about|approx\.?)?\s*"
        rf"(?P<each>{FIGURE}\s*{UNIT_WORD})\b\.?\s*(?:each|apiece|a piece|per piece)\b\s*\)?",
        r"\g<n> x \g<each> \g<what>",
    ),
    _rule(rf"^(?P<n>\d+)\s+(?P<pack>{PACK})\s+(?:of|à|@)\s*(?P<each>{FIGURE}\s*{UNIT_WORD})\b",
          r"\g<n> x \g<each> \g<pack>"),
)  # fmt: skip

# Halves, thirds, quarters and eighths that lost the raised figures of their fraction: "11/2" for one and a half.
_LOST = re.compile(r"(?<![\d/.,-])(?P<n>[1-9]\d?)(?P<part>1/2|[12]/3|[13]/4|[1357]/8)(?![\d/])")
_SPACED = re.compile(
    rf"(?<![\d.,/x] )(?<![\d.,/])(?P<a>[1-9]\d{{0,2}}) (?P<b>\d{{3}})"
    rf"(?=\s*(?:g|gr|gm|gms|grams?|grammes?|ml|mls)\b(?!\.?\s+{PACK}\b))",
    re.IGNORECASE,
)


def in_figures(line: str) -> Wording:
    """
    One line with its amounts in one spelling.

    Parameters
    ----------
    line : str
        A line of a recipe as written.

    Returns
    -------
    Wording
        "one and a half cups" as "1 1/2 cups", "between 100 and 120 g" as "100 to 120 g", "2 packs (250 g each)" as
        "2 x 250 g packs". `unsure` names what was put right on a guess: lost raised figures, spaced thousands.
    """
    text, unsure = plain_text(line), []
    lost = _LOST.search(text)
    if lost and int(lost["part"][0]) < int(lost["part"][2]):
        unsure.append((lost[0], f"{lost['n']} {lost['part']}"))
        text = f"{text[: lost.start()]}{lost['n']} {lost['part']}{text[lost.end() :]}"
    spaced = _SPACED.search(text)
    if spaced:
        if spaced["b"] != "000":
            unsure.append((spaced[0], spaced["a"] + spaced["b"]))
        text = f"{text[: spaced.start()]}{spaced['a']}{spaced['b']}{text[spaced.end() :]}"
    for pattern, right in _RULES:
        text = pattern.sub(right, text)
    return Wording(re.sub(r"\s+", " ", text).strip(), tuple(unsure))


_EGG = r"(?:egg\s+)?(?:eggs?|yolks?|whites?)"
_SIZE_OF = {"xl": "extra large", "l": "large", "m": "medium", "s": "small"}
_SIZE_OF |= {"lg": "large", "lge": "large", "lrg": "large", "med": "medium", "sm": "small"}
_SIZE = r"(?P<size>xl|lge?|lrg|med|sm|s|m|l)"


def _size_word(match: re.Match[str]) -> str:
    return match[0].replace(match["size"], f" {_SIZE_OF[match['size'].lower()]} ")


# Ways of writing that are put right before the amounts are looked for: (pattern, replacement).
_TIDY: tuple[tuple[re.Pattern[str], Right], ...] = (
    (re.compile(r"(?<=\d)\s*T\b(?!\w)"), " tbsp"),
    (re.compile(r"(?<=\d)\s*t\b(?!\w)"), " tsp"),
    # A cup, unless it can be a heat: "18C".
    (re.compile(r"(?<![\d.])(?<!at )(\d/\d|\d|1\d)\s*[cC]\b(?=\.?\s+[a-z])(?!\s+(?:for|over|until|in)\b)"), r"\1 cup"),
    (re.compile(rf"\(?\bsize\s+{_SIZE}\b\)?", re.IGNORECASE), lambda m: _SIZE_OF[m["size"].lower()]),
    (re.compile(r"(?<=\d)\s+or so(?=\s)", re.IGNORECASE), ""),
    # Size letters of eggs: "2 L eggs", "2 eggs (L)", "3 eggs, M".
    (re.compile(rf"(?<=\d)\s*{_SIZE}(?=\.?\s+(?:[a-z-]+\s+)?{_EGG}\b)", re.IGNORECASE), _size_word),
    (re.compile(rf"(?<=\d)(?P<what>\s+(?:[a-z-]+\s+)?{_EGG})(?:\s*[,(/]\s*|\s+){_SIZE}\b\)?", re.IGNORECASE),
     lambda m: f" {_SIZE_OF[m['size'].lower()]}{m['what']}"),
    (re.compile(rf"^(?P<what>{_EGG})(?:\s*[,(/]\s*|\s+){_SIZE}\b\)?", re.IGNORECASE),
     lambda m: f"{_SIZE_OF[m['size'].lower()]} {m['what']}"),
    (
        re.compile(r"^(eggs?|egg yolks?|egg whites?)\s*[:,-]?\s*(\d+)\s*(small|medium|large|extra large)\s*$", re.I),
        r"\2 \3 \1",
    ),
    # "juice of 1 lemon", "grated zest of 2 oranges", "1 lemon, zest only": so many lemons' worth of it.
    (re.compile(r"^(?:the\s+)?(?:finely\s+)?(?:grated\s+)?(juice|zest|rind)\s+of\s+"
                rf"(?P<n>{QUANTITY})\s+(?:large |small )?"
                r"(?P<what>lemon|lime|orange)s?\b", re.IGNORECASE), lambda m: f"{m['n']} {m['what']} {m[1]}"),
    (re.compile(rf"^(?P<n>{QUANTITY})\s+(?:large |small )?(?P<what>lemon|lime|orange)s?,\s*(?:the\s+)?(?:grated\s+)?"
                r"(?:(?P<zest>zest|rind)|juice)(?:d|ed)?(?:\s+only)?\s*$", re.IGNORECASE),
     lambda m: f"{m['n']} {m['what']} {'zest' if m['zest'] else 'juice'}"),
    (re.compile(r"(?<=\d)\s+\d+(?:[.,]\d+)?\s*%\s*$"), ""),
)  # fmt: skip


def tidied(plain: str) -> str:
    """A line with short forms written out: T and t for spoons, c for cups, size letters of eggs, "juice of 1 lemon"."""
    for pattern, right in _TIDY:
        plain = pattern.sub(right, plain)
    return re.sub(r"\s+", " ", plain).strip()

"""What a recipe as a whole says, contradicts and leaves unsaid: its ratio, its salt, fat against flour, its method."""

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from northfold.core.formula.method_text import HEAT, MINUTES, RATIO, THICKNESS, TIN, Fact
from northfold.core.formula.ratio import Ratio
from northfold.core.formula.read_lines import Doubt, ReadLine, Remedy
from northfold.core.formula.readout import SAVOURY_BELOW

# A stated ratio may differ from the weights by this share before it is doubted.
RATIO_WITHIN = 0.12
# Salt of a dough, [% of flour]: more is doubted, and less in a savoury one; what is proposed instead.
SALT_MOST, SALT_LEAST_SAVOURY, SALT_USUAL = 3.0, 0.5, 1.7
# More fat than any dough of the families has: flour and fat are likely swapped. [% of flour]
SWAPPED_FROM = 115.0

NAMES = {HEAT: "the oven’s heat", MINUTES: "how long", THICKNESS: "how thick", TIN: "which tin"}
# A recipe of fewer lines is a ratio jotted down, of which nobody expects a method.
MOST_JOTTED = 2


_AMERICAN = re.compile(
    r"\bsticks?\b(?!\s+blender)|\d\s*°\s*F\b|\d\s*degrees\s+F|\ball[- ]purpose\b|\bAP flour\b|\bpowdered sugar\b"
    r"|\bconfectioners|\bheavy cream\b|\bkosher salt\b|\bcornstarch\b|\bsuperfine sugar\b",
    re.IGNORECASE,
)


def american_words(texts: Iterable[str]) -> tuple[str, ...]:
    """Words by which a recipe is likely measured in US cups and spoons: sticks, °F, all-purpose and the like."""
    found = (match[0].lower() for text in texts for match in _AMERICAN.finditer(text))
    return tuple(dict.fromkeys("°F" if word[-1] == "f" and "flour" not in word else word for word in found))


@dataclass(frozen=True)
class Notes:
    """Facts of the method in order, doubts by the number of the line they belong to, what is not said."""

    facts: tuple[Fact, ...]
    doubts: dict[int, tuple[Doubt, ...]]
    missing: tuple[str, ...]


def recipe_notes(lines: Sequence[ReadLine], weights_g: Sequence[float | None], ratio: Ratio | None) -> Notes:
    """
    Look at a recipe as a whole.

    Parameters
    ----------
    lines : sequence of ReadLine
        In order, headings and lines of method among them.
    weights_g : sequence of float or None
        What each line weighs in the formula; None where it stands in no sum. [g]
    ratio : Ratio or None
        Of the lines that weigh something; None where there is no flour.

    Returns
    -------
    Notes
        Thresholds: salt over 3 %, or under 0.5 % in a savoury dough; fat over 115 %; a stated ratio more than 12 % off.
        North Fold reference table.
    """
    facts = tuple(fact for line in lines for fact in line.facts)
    doubts: dict[int, list[Doubt]] = {}
    if ratio is not None:
        for number, line in enumerate(lines):
            stated = next((fact for fact in line.facts if fact.kind == RATIO), None)
            if stated is not None and not _agrees(stated, ratio):
                doubts.setdefault(number, []).append(_stated(stated, ratio))
        for number, doubt in (*_salt(lines, weights_g, ratio), *_swapped(lines, weights_g, ratio)):
            doubts.setdefault(number, []).append(doubt)
    said = {fact.kind for fact in facts}
    missing = [words for kind, words in NAMES.items() if kind not in said] if len(lines) > MOST_JOTTED else []
    if ratio is not None and ratio.sugar < SAVOURY_BELOW and ratio.salt < 0.01 and len(lines) > MOST_JOTTED:
        missing.append("salt")
    return Notes(facts, {number: tuple(found) for number, found in doubts.items()}, tuple(missing))


def _agrees(stated: Fact, ratio: Ratio) -> bool:
    flour, *rest = stated.values
    return flour > 0 and all(
        abs(100 * part / flour - has) <= RATIO_WITHIN * max(100 * part / flour, has)
        for part, has in zip(rest, (ratio.fat, ratio.liquid), strict=False)
    )


def _stated(stated: Fact, ratio: Ratio) -> Doubt:
    names = " : ".join(("flour", "fat", "liquid")[: len(stated.values)])
    said = " : ".join(f"{value:g}" for value in stated.values)
    has = " : ".join(f"{value:.0f}" for value in (100.0, ratio.fat, ratio.liquid)[: len(stated.values)])
    return Doubt(
        "stated_ratio",
        f"It states {names} as {said}, but the weights say {has}. The weights count.",
        (Remedy("Trust the weights, leave this line out", "drop"), Remedy("Keep both", "accept", "x")),
    )


def _salt(lines: Sequence[ReadLine], weights_g: Sequence[float | None], ratio: Ratio) -> list[tuple[int, Doubt]]:
    salts = [
        (weight, number)
        for number, (line, weight) in enumerate(zip(lines, weights_g, strict=True))
        if weight and line.ingredient is not None and line.ingredient.role == "salt"
    ]
    much = ratio.salt > SALT_MOST
    little = ratio.salt < SALT_LEAST_SAVOURY and ratio.sugar < SAVOURY_BELOW
    if not salts or not (much or little):
        return []
    weight, number = max(salts)
    usual = max(0.1, weight + (SALT_USUAL - ratio.salt) * ratio.flour_g / 100)
    bound = f"over {SALT_MOST:g} % is salty" if much else f"under {SALT_LEAST_SAVOURY:g} % a savoury dough is flat"
    doubt = Doubt(
        "salt",
        f"Salt is {ratio.salt:.1f} % of the flour: {bound}; usual is {SALT_USUAL:g}.",
        (Remedy(f"Take {usual:.1f} g", "grams", f"{usual:.1f}"), Remedy("That is right", "accept", "x")),
    )
    return [(number, doubt)]


def _swapped(lines: Sequence[ReadLine], weights_g: Sequence[float | None], ratio: Ratio) -> list[tuple[int, Doubt]]:
    if ratio.fat <= SWAPPED_FROM:
        return []
    heaviest: dict[str, tuple[float, int]] = {}
    for number, (line, weight) in enumerate(zip(lines, weights_g, strict=True)):
        if weight and line.ingredient is not None and line.ingredient.role in ("flour", "fat"):
            heaviest[line.ingredient.role] = max(heaviest.get(line.ingredient.role, (0.0, 0)), (weight, number))
    if len(heaviest) < 2:
        return []
    (flour_g, flour), (fat_g, fat) = heaviest["flour"], heaviest["fat"]
    doubt = Doubt(
        "swapped",
        f"Fat is {ratio.fat:.0f} % of the flour, more than any dough has: are {flour_g:g} g and {fat_g:g} g swapped?",
        (
            Remedy("Swap the two weights", "swap", f"{fat}:{fat_g:g}:{flour_g:g}"),
            Remedy("That is right", "accept", "x"),
        ),
    )
    return [(flour, doubt)]

"""Which ingredient a line of a recipe names, what is said of its preparation, and what about the name is doubtful."""

import re
from dataclasses import replace

from northfold.core.formula.naming import Match, Shelf, said_free_of
from northfold.core.formula.parts import SAYS_WHAT_FOR
from northfold.core.formula.read_lines import DROP, Doubt, ReadLine, Remedy
from northfold.core.matter import Ingredient

PERCENT = re.compile(r"\(?\b\d+(?:[.,]\d+)?\s*%\)?")
PREPARATION = re.compile(
    rf"[,;(\[]|\s-\s|\bplus (?:extra|more)\b|\bfor (?:the|dusting|rolling|greasing)\b|\b(?:{SAYS_WHAT_FOR})\b"
    r"|\bto (?:bind|taste)\b|\bas needed\b|\bat \d|\bfrom the (?:fridge|freezer)\b|\bfor \d|\bfor an? \w+$",
    re.IGNORECASE,
)
# How many ingredients are offered in place of one that does not do.
MOST_OFFERED = 4
WHAT_FOR = re.compile(rf"\b(?:{SAYS_WHAT_FOR})\b", re.IGNORECASE)
# A choice behind the name: "butter (or lard)", "milk, or water", "flour [or spelt]".
_OR = re.compile(r"(?:^|[,;(\[/])\s*(?:or|alternatively|else)\s+(?:use\s+)?(?P<what>[a-z][a-z' -]*)", re.IGNORECASE)
# Said of the spoon, not of what is in it.
_HOW_FULL = re.compile(r"\b(?:heaped|heaping|rounded|level|scant|generous|good|bare)\b", re.IGNORECASE)


def named_line(line: ReadLine, rest: str, shelf: Shelf, doubts: list[Doubt]) -> ReadLine:
    """Give a line its ingredient and preparation, and say what about the name is doubtful."""
    bare = PERCENT.sub(" ", rest) if shelf.match(rest).ingredient is None else rest
    cut = PREPARATION.search(bare)
    head, tail = (bare[: cut.start()], bare[cut.start() :]) if cut else (bare, "")
    match = shelf.match(head)
    free_of = said_free_of(line.text)
    turned = shelf.turned_round(head, WHAT_FOR.sub(" ", tail))
    if turned is not None and not free_of.intersection(turned.allergens):  # "butter (salted)", "flour, wholemeal"
        return replace(line, ingredient=turned, preparation=tail.strip(" ,;()[]-."))
    whole = shelf.match(bare) if match.ingredient is None and tail else match
    if whole.ingredient is not None and match.ingredient is None and not whole.spelling:
        match, tail = whole, ""  # "unsalted, cold butter"
    if match.ingredient is not None and free_of.intersection(match.ingredient.allergens):
        doubts.append(_not_that(match.ingredient, free_of, shelf))
        return replace(line, preparation=tail.strip(" ,;()[]-."))
    if match.ingredient is None and free_of:
        kept = tuple(name for name in match.nearest if not free_of.intersection(shelf.ingredients[name].allergens))
        match = replace(match, nearest=kept)
    doubts.extend(_open_choice(match, tail, shelf))
    doubts.extend(_naming_doubts(match, head.strip(" .:-") or rest.strip()))
    preparation = " ".join(f"{_HOW_FULL.sub('', match.leftover)} {tail.strip(' ,;()[]-.')}".split())
    return replace(line, ingredient=match.ingredient, preparation=preparation)


def _not_that(item: Ingredient, free_of: frozenset[str], shelf: Shelf) -> Doubt:
    """The line says that its ingredient holds none of something, and what it names does: never taken for it."""
    holds = " and ".join(sorted(free_of.intersection(item.allergens)))
    others = [
        other
        for other in shelf.ingredients.values()
        if other.role == item.role and not free_of.intersection((*other.allergens, *other.may_hold))
    ]
    near = sorted(others, key=lambda other: abs(other.composition.fat - item.composition.fat))[:MOST_OFFERED]
    choices = tuple(Remedy(other.name, "ingredient", other.name) for other in near)
    said = f"The recipe asks for it without {holds}, and {item.name} holds {holds}, so it was not used."
    return Doubt("unknown_ingredient", f"{said} Choose one without, or add yours to the kitchen.", (*choices, DROP))


def _open_choice(match: Match, tail: str, shelf: Shelf) -> list[Doubt]:
    """ "100 g butter (or lard)": a choice that stands behind the name."""
    other = _OR.search(tail)
    if match.ingredient is None or match.alternatives or other is None:
        return []
    found = shelf.match(other["what"])
    if found.ingredient is None or found.ingredient is match.ingredient or found.spelling:
        found = shelf.match(f"{other['what']} {match.ingredient.name.split()[-1]}")
    if found.ingredient is None or found.ingredient is match.ingredient or found.spelling:
        return []
    names = (match.ingredient.name, found.ingredient.name)
    options = tuple(Remedy(name, "ingredient", name) for name in names)
    return [Doubt("alternative", f"The recipe leaves a choice; taken as {names[0]}.", options)]


def _naming_doubts(match: Match, named: str) -> list[Doubt]:
    choices = tuple(Remedy(name, "ingredient", name) for name in match.nearest)
    if match.ingredient is None:
        message = f"“{named[:60]}” is not on this kitchen’s list."
        if choices:
            message += " Is it one of these?"
        apart = Remedy("Keep it apart, for the filling", "part", "filling")
        return [Doubt("unknown_ingredient", message, (*choices, apart, DROP))]
    name = match.ingredient.name
    right = Remedy(f"Yes, {name}", "ingredient", name)
    others = tuple(choice for choice in choices if choice.value != name)
    if match.alternatives:
        options = tuple(Remedy(option, "ingredient", option) for option in dict.fromkeys(match.alternatives))
        return [Doubt("alternative", f"The recipe leaves a choice; taken as {name}.", options)]
    if match.unknown:
        words = " ".join(match.unknown)
        return [Doubt("partly_read", f"Taken for {name}; “{words}” was not understood.", (right, *others, DROP))]
    if match.spelling:
        return [Doubt("spelling", f"Nothing on the list is spelt like that; taken as {name}.", (right, *others, DROP))]
    if match.loose:
        return [Doubt("loose_name", f"“{named[:40]}” can be several things; taken as {name}.", (right,))]
    return []

"""Two ingredients on one line: "200 g flour, half of it rye", "100 g each butter and lard", "2 eggs and 1 yolk"."""

import re

from northfold.core.formula.naming import Shelf
from northfold.core.formula.numbers import read_quantity
from northfold.core.formula.read_lines import DROP, Doubt, Remedy
from northfold.core.formula.wording import FIGURE, FRACTION, UNIT_WORD, fraction_in_figures
from northfold.core.matter import Ingredient

_WHAT = r"(?P<what>[a-z][a-z' -]*[a-z])"
_OF_IT = r"(?:of\s+(?:it|which|that|them|this|the\s+\w+)\s+)"
_IS = r"(?:is\s+|being\s+|should be\s+|may be\s+|as\s+)?"
_SHARE = re.compile(
    rf"(?<![\w-])(?:(?P<part>{FRACTION}|{FIGURE})\s+(?P<of>{_OF_IT})?|(?P<percent>\d+(?:[.,]\d+)?)\s*%\s+{_OF_IT}){_IS}{_WHAT}",
    re.IGNORECASE,
)
_WEIGHT = re.compile(
    rf"(?:\b(?:of which|including|incl\.?)\s+(?P<n>{FIGURE})\s*(?P<u>{UNIT_WORD})\b\.?\s+(?:of\s+)?"
    rf"|(?<![\w-])(?P<m>{FIGURE})\s*(?P<v>{UNIT_WORD})\b\.?\s+{_OF_IT}){_IS}{_WHAT}",
    re.IGNORECASE,
)

_EACH = re.compile(
    r"^\W*each\b\s*(?:of\s+)?(?P<a>[a-z][a-z' -]*?)\s+(?:and|&|plus)\s+(?P<b>[a-z][a-z' -]*[a-z])\W*$"
    r"|^\W*(?P<c>[a-z][a-z' -]*?)\s+(?:and|&|plus)\s+(?P<d>[a-z][a-z' -]*[a-z])\W+each\W*$",
    re.IGNORECASE,
)
_SECOND = re.compile(rf"\s*(?:,\s*|\+|&|\b(?:and|plus)\b)\s*(?={FIGURE}\s*[a-z])", re.IGNORECASE)


def two_lines(plain: str) -> tuple[Remedy, ...]:
    """The remedy for a line with two amounts and two things: each on a line of its own; none where it does not part."""
    parts = [part.strip() for part in _SECOND.split(plain) if part.strip()]
    if len(parts) < 2 or not all(re.match(FIGURE, part) for part in parts):
        return ()
    return (Remedy(f"Split it: {' and '.join(parts)}", "text", "\n".join(parts)),)


def _named(words: str, base: str, shelf: Shelf) -> Ingredient | None:
    """The ingredient that a share names, if need be with the last word of the base: "wholemeal" of a flour."""
    head = base.split()[-1] if base.split() else ""
    for text in (f"{words} {head}", words):
        found = shelf.match(text)
        if found.ingredient is not None and not found.unknown and not found.spelling:
            return found.ingredient
    return None


def shared_line(rest: str, amount: float, unit: str, shelf: Shelf) -> Doubt | None:
    """
    Whether a line's weight is for two ingredients; the doubt that says so, with the two lines it makes.

    Parameters
    ----------
    rest : str
        The line without its first amount.
    amount : float
        That amount, in `unit`. [g or whatever its unit]
    unit : str
        Its unit's word.
    shelf : Shelf
        What can be named.

    Returns
    -------
    Doubt or None
        Its remedy is a text of two lines; None where the line names one thing.
    """
    found = _of_each(rest, amount, shelf) or _by_weight(rest, amount, unit, shelf) or _by_share(rest, amount, shelf)
    if found is None:
        return None
    lines = [f"{share:.6g} {unit} {name}" for share, name in found]
    said = " and ".join(lines)
    return Doubt(
        "shared_line",
        f"One weight for two things. Is it {said}?",
        (Remedy(f"Split it: {said}", "text", "\n".join(lines)), DROP),
    )


def _of_each(rest: str, amount: float, shelf: Shelf) -> list[tuple[float, str]] | None:
    match = _EACH.match(rest.strip())
    if match is None:
        return None
    items = [_named(words, "", shelf) for words in (match["a"] or match["c"], match["b"] or match["d"])]
    return [(amount, item.name) for item in items if item is not None] if all(items) else None


def _base_of(rest: str, end: int) -> str:
    return re.sub(r"[\s,;(\[-]+$", "", rest[:end]).strip(" ,.;")


def _by_share(rest: str, amount: float, shelf: Shelf) -> list[tuple[float, str]] | None:
    shares: list[tuple[float, str, int]] = []
    for match in _SHARE.finditer(rest):
        part = match["part"]
        share = float(match["percent"].replace(",", ".")) / 100 if match["percent"] else _value(part)
        words = re.split(r"\s+(?:and|with|or)\b|,", match["what"])[0]
        base = _base_of(rest, match.start())
        item = _named(words, base, shelf)
        if item is None or not 0 < share < 1 or (part and part[0].isdigit() and not match["of"]):
            continue
        shares.append((share, item.name, match.start()))
        again = rest[match.start("what") + len(words) :]
        other = re.match(rf"\s*(?:,|and|,\s*and)\s*(?:the\s+(?:rest|other half)\s+|{FRACTION}\s+){_WHAT}", again, re.I)
        second = _named(other["what"], base, shelf) if other else None
        if second is not None:
            return [(amount * share, item.name), (amount * (1 - share), second.name)]
        break
    if not shares:
        return None
    share, name, start = shares[0]
    base = _base_of(rest, start)
    known = shelf.match(base).ingredient
    if not base or (known is not None and known.name == name):
        return None
    return [(amount * (1 - share), known.name if known else base), (amount * share, name)]


def _value(part: str) -> float:
    return read_quantity(fraction_in_figures(part) if part[0].isalpha() else part).usual


def _by_weight(rest: str, amount: float, unit: str, shelf: Shelf) -> list[tuple[float, str]] | None:
    match = _WEIGHT.search(rest)
    if match is None:
        return None
    part = read_quantity(match["n"] or match["m"]).usual
    base = _base_of(rest, match.start())
    item = _named(re.split(r"\s+(?:and|with|or)\b", match["what"])[0], base, shelf)
    if item is None or not 0 < part < amount or (match["u"] or match["v"]).lower() != unit.lower():
        return None
    known = shelf.match(base).ingredient
    return [(amount - part, known.name if known else base), (part, item.name)]

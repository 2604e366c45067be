"""What each line of a recipe is for: the dough, or a filling, topping, glaze or finish that stands apart from it."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from northfold.core.formula.method_text import DEPTH, METHOD_WORDS, TIN, YIELD
from northfold.core.formula.read_lines import ReadLine
from northfold.core.formula.wording import in_figures

DOUGH, FILLING, TOPPING, GLAZE, FINISH = "", "filling", "topping", "glaze", "finish"
BRUSHING, DUSTING, SPRINKLING, GREASING = "brushing", "dusting", "sprinkling", "greasing"
# Roles of what fills a crust. A dough with grated carrot in it is one of its maker’s own saying.
FILL_ROLES = frozenset({"fruit", "vegetable", "meat", "fish"})
# What a line may be for beside the dough, with the words for it. A formula keeps these lines; no ratio counts them.
PARTS = {
    FILLING: "for the filling",
    TOPPING: "for the topping",
    GLAZE: "for the glaze",
    FINISH: "to finish",
    BRUSHING: "for brushing",
    DUSTING: "for dusting",
    SPRINKLING: "for sprinkling",
    GREASING: "for greasing",
}
ROLLED_IN = "rolled in"
# Under this heading nothing is weighed: it tells how.
METHOD = "method"

# Words of a heading, and the part whose lines stand under it; the last such word of a heading is its head.
_HEADINGS = (
    (ROLLED_IN, r"butter block|fat block|butter layer|butter sheet|lamination|laminating|roll-?in|rolling in|lock-?in"),
    (FILLING, r"fillings?|fill|custard|frangipane|cream|curd|jam|compote|sauce|caramel|ganache|meringue|mousse|fruit|"
              r"syrup|sponge|layer|cr[èe]me|p[âa]tissi[èe]re"),
    (TOPPING, r"toppings?|crumble|streusel|crumb topping|top"),
    (GLAZE, r"glaze|glazing|egg ?wash|wash"),
    (FINISH, r"finish|finishing|decoration|decorate|serve|serving|garnish|icing|drizzle|assembly|assemble"),
    (DOUGH, r"dough|pastry|crusts?|base|cases?|shells?|shortcrust|puff|biscuits?|ingredients|tarts?|pies?|d[ée]trempe|"
            r"block|poolish|starter|ferment"),
    (METHOD, r"method|instructions?|directions?|preparation|steps?|how to make(?: it)?|notes?|tips?"),
)  # fmt: skip
_HEAD_WORD = re.compile(
    "|".join(rf"(?P<p{n}>\b(?:{words})\b)" for n, (_, words) in enumerate(_HEADINGS)), re.IGNORECASE
)
_HEADING = re.compile(r"^(?:for|to)\s+(?:the\s+)?[\w' é-]+:?$|^[\w' ,()/é-]+:$", re.IGNORECASE)
# A heading may stand without a colon if it says nothing but what follows.
_BARE_HEADING = re.compile(
    r"^(?:the\s+)?(?:(?!to\b|for\b)[\w'-]+\s+){0,2}(?:fillings?|toppings?|glaze|dough|"
    r"butter block|fat block|lamination)$"
    r"|^(?:pastry|crust|base|finish|to finish|decoration|ingredients|egg ?wash|crumble|streusel|icing|drizzle)$"
    r"|^(?:sweet|savoury|rich|short|shortcrust|pie|tart|flaky|puff|choux) (?:pastry|crust)$"
    r"|^(?:[\w'-]+\s+){0,2}(?:layer|frangipane|ganache|compote|d[ée]trempe|poolish)$"
    r"|^(?:pastry cream|almond cream|cr[èe]me (?:p[âa]tissi[èe]re|d'amandes?))$"
    r"|^(?:method|instructions|directions|preparation|steps)$",
    re.IGNORECASE,
)
_MOST_WORDS, MOST_WORDS_ALONE = 7, 4

# What a line says of itself: "1 egg, for brushing", "milk to glaze".
_SAYS = (
    (ROLLED_IN, r"(?:for|to)\s+(?:the\s+)?(?:laminat\w+|lamination|roll(?:ing)?[ -]in|lock(?:ing)?[ -]in|"
                r"fold(?:ing)? in|(?:(?:butter|fat)\s+)?block)"),
    (FILLING, r"(?:for|to)\s+(?:the\s+)?fill(?:ing)?"),
    (TOPPING, r"for\s+(?:the\s+)?topping"),
    (GLAZE, r"(?:for|to)\s+(?:the\s+)?glaz(?:e|ing)"),
    (BRUSHING, r"(?:for|to)\s+(?:the\s+)?(?:brush(?:ing)?|egg ?wash|wash(?:ing)?|seal(?:ing)?)"),
    (DUSTING, r"(?:for|to)\s+(?:the\s+)?(?:dust(?:ing)?|bench|work ?(?:top|surface|bench)|flour(?:ing)?)|"
              r"for rolling(?: out)?"),
    (SPRINKLING, r"(?:for|to)\s+(?:the\s+)?(?:sprinkl(?:e|ing)|scatter(?:ing)?|top)"),
    (GREASING, r"(?:for|to)\s+(?:the\s+)?(?:greas(?:e|ing)|butter(?:ing)?|tins?|pans?|mould|dish|oil(?:ing)?)"),
    (FINISH, r"(?:for|to)\s+(?:the\s+)?(?:finish(?:ing)?|decorat(?:e|ing|ion)|serv(?:e|ing)|garnish)"),
)  # fmt: skip
_SAYS_SO = tuple((part, re.compile(rf"\b{words}\b(?! in\b)", re.IGNORECASE)) for part, words in _SAYS)
# What a sentence that begins so is for: "Brush with milk."
_BEGINS = (
    (BRUSHING, re.compile(r"^brush(?:ed)?\b.*?\bwith\b", re.IGNORECASE)),
    (GLAZE, re.compile(r"^glazed?\b.*?\bwith\b", re.IGNORECASE)),
    (DUSTING, re.compile(r"^dust(?:ed)?\b.*?\bwith\b", re.IGNORECASE)),
    (SPRINKLING, re.compile(r"^(?:sprinkled?|scatter(?:ed)?)\b.*?\bwith\b", re.IGNORECASE)),
    (GREASING, re.compile(r"^greased?\b.*?\bwith\b", re.IGNORECASE)),
)
# Any of these words, from which on a line tells what it is for.
SAYS_WHAT_FOR = "|".join(words for _, words in _SAYS)
# Where only some of the line goes there, the line is the dough's: "plus extra for dusting", "10 g kept for glaze".
_SOME_OF_IT = re.compile(
    r"\b(?:plus|extra|more|kept|keep|some|reserve[ds]?|rest|little|half|a bit|as well as|and)\b", re.IGNORECASE
)

_TITLE_WORD = re.compile(
    r"\b(?:crusts?|pastry|dough|tarts?|tartlets?|pies?|shortcrust|puff|biscuits?|cookies|crackers?|galettes?|turnovers?|"
    r"slabs?|cases?|shells?|recipe|base|croissants?|coils?|buns?|quiche|flan|shortbread|past(?:y|ies)|twists|sandies|"
    r"sablés?|feuilleté|strudel)\b",
    re.IGNORECASE,
)


# "100 g sugar", "a pinch of salt" and "flour 250 g", not "1. Beat 100 g of the sugar".
_AMOUNT_AT_AN_END = re.compile(
    r"an?\s+(?:pinch|dash|knob|little|splash|few|bit|drop)\b|(?!\d+[.)]\s)\d|[a-z][a-z ,:-]*\d[\d./ ]*[a-z]*\s*$",
    re.IGNORECASE,
)
_BULLET = re.compile(r"^[\s•*·▪◦‣☐-]+")


def _is_weighed(line: ReadLine) -> bool:
    """Whether a line among those of the method is an ingredient all the same, its amount said first or last."""
    return not line.heading and _AMOUNT_AT_AN_END.match(in_figures(_BULLET.sub("", line.text)).text) is not None


@dataclass(frozen=True)
class Sorted:
    """The lines with what each is for, and the recipe's title; empty where it has none."""

    lines: tuple[ReadLine, ...]
    title: str


def heading_of(plain: str) -> str | None:
    """
    Which part begins with a line; None where it is no heading.

    Parameters
    ----------
    plain : str
        One line, through `plain_text`.

    Returns
    -------
    str or None
        A key of `PARTS`, `ROLLED_IN`, `METHOD`, `DOUGH` for the dough's own, "?" for a heading that names nothing
        known.
    """
    words = plain.strip()
    if re.search(r"\d", words) and not words.endswith(":"):
        return None
    if len(words.split()) > _MOST_WORDS or re.search(r"\d\s*(?:g|kg|oz|ml|cups?|tbsp|tsp)\b", words, re.IGNORECASE):
        return None
    if not (_HEADING.match(words) or _BARE_HEADING.match(words)):
        return None
    return _part_named(words)


def _part_named(words: str) -> str:
    before = re.split(r"(?<=\w)\s+for\s+", words, maxsplit=1)[0] if not words.lower().startswith("for ") else words
    found = list(_HEAD_WORD.finditer(re.sub(r"\(.*?\)", " ", before)))
    if not found:
        return "?"
    number = int((found[-1].lastgroup or "p0")[1:])
    return _HEADINGS[number][0]


def said_part(text: str) -> str:
    """What a line says that it is for, a key of `PARTS` or `ROLLED_IN`; empty where all of it is for the dough."""
    for part, words in _BEGINS:
        if words.search(text):
            return part
    for part, words in _SAYS_SO:
        found = words.search(text)
        if found:
            clause = re.split(r"[,;(]", text[: found.start()])[-1]
            return DOUGH if _SOME_OF_IT.search(clause) else part
    return DOUGH


def stands_alone(line: ReadLine, after: ReadLine | None) -> bool:
    """
    Whether a line that is set off, by a blank line before it or in capitals, is the heading of those behind it.

    It names a part and no ingredient of its own, and something weighed or told follows.
    """
    if line.heading or line.amount is not None or line.grams is not None or after is None:
        return False
    words = line.text.strip().rstrip(":")
    if len(words.split()) > MOST_WORDS_ALONE or re.search(r"[\d.,;()]", words):
        return False
    is_known = line.ingredient is not None and "partly_read" not in {doubt.code for doubt in line.doubts}
    follows = after.grams is not None or after.amount is not None or after.heading
    return follows and not is_known and not said_part(words) and _part_named(words) != "?"


def labelled(plain: str) -> tuple[str, str] | None:
    """What stands before a colon as a heading of the one line it begins, and the line: "Topping: 30 g cheese"."""
    found = re.match(r"(?P<label>[^\d:,]{3,40}):\s*(?P<line>\S.*)$", plain)
    if found is None:
        return None
    part = heading_of(f"{found['label'].strip()}:")
    return None if part in (None, "?", METHOD) else (str(part), found["line"])


def _is_name(text: str) -> bool:
    return METHOD_WORDS.match(text) is None


def is_title(line: ReadLine, after: Sequence[ReadLine]) -> bool:
    """Whether the first line of a recipe is its name, not an ingredient that lacks its amount."""
    if line.heading and line.facts and _TITLE_WORD.search(line.text):
        # "Lemon shortcrust for two tins" tells how much it makes, and is a title all the same.
        return bool(after) and all(fact.kind in (YIELD, TIN, DEPTH) for fact in line.facts) and _is_name(line.text)
    if line.heading or line.amount is not None or line.grams is not None or not after:
        return False
    if not any(other.is_read for other in after) or any(doubt.code == "sentence" for doubt in line.doubts):
        return False
    known = line.ingredient is not None and not any(doubt.code == "spelling" for doubt in line.doubts)
    return bool(_TITLE_WORD.search(line.text)) or not known


def sorted_out(lines: Sequence[ReadLine]) -> Sorted:
    """
    What each line of a whole recipe is for.

    Parameters
    ----------
    lines : sequence of ReadLine
        In their order, each as it reads alone.

    Returns
    -------
    Sorted
        Lines under the heading of a filling, topping, glaze or finish, and lines that say so themselves, have their
        `part`. Fat under the heading of a butter block is prepared for rolling in. Under a heading that names nothing
        known, lines without flour are a filling's, where flour stands elsewhere.
    """
    title = ""
    found = list(lines)
    if found and is_title(found[0], found[1:]):
        title = found[0].text.strip().strip("#*_ ")
        found[0] = ReadLine(found[0].text, heading=True, facts=found[0].facts)
    current, sections = DOUGH, []
    for number, line in enumerate(found):
        if line.heading:
            begins = heading_of(line.text.strip())
            current = current if begins is None or (number == 0 and title) else begins
        sections.append(current)
    floury = {
        section
        for section, line in zip(sections, found, strict=True)
        if line.ingredient is not None and line.ingredient.role == "flour"
    }
    has_flour = bool(floury)
    result = []
    for section, line in zip(sections, found, strict=True):
        if section == "?":
            section = FILLING if "?" not in floury and floury else DOUGH
        if section == METHOD and not _is_weighed(line):
            line = ReadLine(line.text, heading=True, facts=line.facts, doubts=line.doubts if line.heading else ())
        elif not line.heading and not line.part:
            said = said_part(line.text) or ("" if section == METHOD else section)
            line = for_the(line, FILLING if not said and has_flour and fills(line) else said)
        result.append(line)
    return Sorted(tuple(result), title)


def fills(line: ReadLine) -> bool:
    """Whether a line is of what fills a crust, and no dough is made of."""
    return line.ingredient is not None and line.ingredient.role in FILL_ROLES


def for_the(line: ReadLine, part: str) -> ReadLine:
    """A line as it stands under the heading of a part; fat of a block is prepared for rolling in."""
    if part == ROLLED_IN:
        is_fat = line.ingredient is not None and line.ingredient.role == "fat"
        said = ", ".join(each for each in (line.preparation, "for rolling in") if each)
        return replace(line, preparation=said) if is_fat and "rolling in" not in line.preparation else line
    return replace(line, part=part) if part else line

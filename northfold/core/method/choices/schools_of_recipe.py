"""Schools that a recipe names in passing: butter "softened", "frozen and grated", "in a processor"."""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

from northfold.core.formula.method_text import turns_said
from northfold.core.formula.ratio import DoughLine, is_rolled_in
from northfold.core.formula.read_lines import ReadLine
from northfold.core.method.choices.schools import questions


@dataclass(frozen=True)
class Said:
    """An answer that the recipe gives to a question on which makers differ, and the words that give it."""

    question: str
    option: str
    words: str


# Of the dough's main fat. The first that fits is taken.
_OF_THE_FAT = (
    ("fat_temperature", "melted", r"\b(?:melted|molten|browned)\b"),
    ("fat_temperature", "frozen", r"\bfrozen\b|\bfrom the freezer\b"),
    (
        "fat_temperature",
        "soft",
        r"\b(?:very\s+)?(?:soft|softened|spreadable)\b|\b(?:at\s+)?room[ -]temp(?:erature)?\b",
    ),
)
_GRATED = re.compile(r"\b(?:coarsely |finely )?grated\b", re.IGNORECASE)
# Of any line of the method or of the fat.
_OF_THE_WORK = (
    ("fat_temperature", "creamed", r"\bcream(?:ed)? (?:together |the |butter |fat |it )|\bcreamed\b"),
    ("mixing", "processor", r"\b(?:food[ -])?processor\b|\bpulse[sd]?\b(?! as)"),
    ("mixing", "paddle", r"\bpaddle\b|\bstand mixer\b|\bfood mixer\b"),
    ("mixing", "blade", r"\bpastry (?:blender|cutter)\b|\bblade cutter\b"),
    ("mixing", "grater", r"\bgrate (?:in |the |frozen )|\bgrater\b"),
    ("mixing", "knife", r"\bchop (?:the )?(?:butter|fat) (?:in|through)"),
    ("mixing", "fingers", r"\brub(?:bed)? (?:in|the)\b|\bfingertips\b"),
)


def said_schools(lines: Sequence[ReadLine]) -> tuple[Said, ...]:
    """
    What a recipe says of how it is made.

    Parameters
    ----------
    lines : sequence of ReadLine
        All lines of the recipe, those of the method among them.

    Returns
    -------
    tuple of Said
        At most one answer a question. Of the fat's warmth, the words of the heaviest fat that is not rolled in count.
    """
    found: dict[str, Said] = {}
    fats = [
        line
        for line in lines
        if line.ingredient is not None
        and line.ingredient.role == "fat"
        and not line.ingredient.is_oil
        and not line.part
        and not is_rolled_in(DoughLine(line.ingredient, 1.0, 1.0, 1.0, preparation=line.preparation))
    ]
    main = max(fats, key=lambda line: line.grams.usual if line.grams else 0.0, default=None)
    if main is not None:
        for question, option, words in _OF_THE_FAT:
            match = re.search(words, main.text, re.IGNORECASE)
            if match:
                found.setdefault(question, Said(question, option, match[0]))
        grated = _GRATED.search(main.text)
        if grated:
            found["mixing"] = Said("mixing", "grater", grated[0])
    for line in lines:
        if line.part or (line.ingredient is not None and line is not main):
            continue
        for question, option, words in _OF_THE_WORK:
            match = re.search(words, line.text, re.IGNORECASE)
            if match:
                found.setdefault(question, Said(question, option, match[0].strip()))
    folded = _said_of_turns([line.text for line in lines if not line.part and line.ingredient is None])
    return (*found.values(), *([folded] if folded else []))


# A method that laminates names its block, or more than one turn.
_BLOCK = re.compile(
    r"\b(?:butter|fat|margarine) (?:block|slab|sheet|layer)\b|\block(?:ed|ing)?[ -]in\b"
    r"|\b(?:enclos\w+|wrap\w*) the (?:butter|fat)\b|\blaminat\w+|\brough puff\b",
    re.IGNORECASE,
)


@cache
def _by_folds() -> dict[tuple[int, ...], str]:
    """The answers to “Turns” by their folds."""
    options = questions()["folds"].options.items()
    return {tuple(int(into) for into in option.folds.split()): key for key, option in options if option.folds}


def _said_of_turns(texts: Sequence[str]) -> Said | None:
    """Whether a method folds the dough, and how: by its turns, else as the film wants; one fold alone is none."""
    facts = [fact for text in texts for fact in turns_said(text)]
    folds = tuple(int(into) for fact in facts for into in fact.values if into > 2)
    if len(folds) > 1:
        words = ", ".join(fact.text for fact in facts)
        return Said("folds", _by_folds().get(folds, "usual"), words)
    block = next((match for text in texts if (match := _BLOCK.search(text))), None)
    return Said("folds", "usual", block[0]) if block else None

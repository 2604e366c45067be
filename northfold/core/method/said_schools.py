"""Schools that a recipe names in passing: butter "softened", "frozen and grated", "in a processor"."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from northfold.core.formula.ratio import DoughLine, is_rolled_in
from northfold.core.formula.read_lines import ReadLine


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
    return tuple(found.values())

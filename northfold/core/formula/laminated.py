"""Whether a dough is laminated: where its lines name a block, or its maker has said that it is folded. Nothing else."""

from collections.abc import Sequence
from dataclasses import replace

from northfold.core.formula.ratio import DoughLine, is_rolled_in
from northfold.core.formula.yeast import is_bakers_yeast

# A fat locked in as a block; the fat in pieces, folded as it is; not laminated.
BLOCK, PIECES, NOT = "block", "pieces", ""
# The answer to “Turns” by which nothing is folded.
NO_TURNS = "none"
# A fat of such a name is the block once something says that the dough is folded, never by itself.
MADE_FOR_IT = "laminating"


def lamination_of(lines: Sequence[DoughLine], turns: str, *, locked: bool = False) -> str:
    """
    How a dough is laminated.

    Parameters
    ----------
    lines : sequence of DoughLine
        The formula. [g]
    turns : str
        What the formula or the make answers to “Turns”; empty where neither does. A kitchen's habit is no answer.
    locked : bool
        Whether its maker has chosen how the fat is locked in.

    Returns
    -------
    str
        BLOCK where a line says that it is rolled in, where a lock-in was chosen, or where turns are wanted of a dough
        with yeast or with a fat made for it; PIECES where turns are wanted of another; NOT else. “No turns” stands over
        every line. Neither ratio nor name of an ingredient folds a dough.
    """
    if turns == NO_TURNS:
        return NOT
    if any(is_rolled_in(line) for line in lines) or locked:
        return BLOCK
    if not turns:
        return NOT
    raised = any(is_bakers_yeast(line.ingredient) and line.grams for line in lines)
    return BLOCK if raised or any(_is_made_for_it(line) for line in lines) else PIECES


def _is_firm_fat(line: DoughLine) -> bool:
    return line.ingredient.fat is not None and not line.ingredient.is_oil and line.grams > 0


def _is_made_for_it(line: DoughLine) -> bool:
    return _is_firm_fat(line) and MADE_FOR_IT in line.ingredient.name


def with_block(lines: Sequence[DoughLine], how: str) -> tuple[DoughLine, ...]:
    """
    Lines that say of each whether it is the block; the heaviest firm fat where none is named for it. [g]

    `how` as `lamination_of` has it.
    """
    if how == BLOCK and any(is_rolled_in(line) for line in lines):
        return tuple(lines)
    block: DoughLine | None = None
    if how == BLOCK:
        fats = [line for line in lines if _is_made_for_it(line)] or [line for line in lines if _is_firm_fat(line)]
        block = max(fats, key=lambda line: line.grams, default=None)
    return tuple(replace(line, is_block=line is block) for line in lines)


def told_apart(lines: Sequence[DoughLine]) -> tuple[str, ...]:
    """
    The names of lines as they are said at a scale: of two of one ingredient each with what tells it apart.

    By what it is for or how it is prepared, else by which of them it is.
    """
    names = [line.ingredient.name for line in lines]
    found = []
    for number, (line, name) in enumerate(zip(lines, names, strict=True)):
        if names.count(name) > 1:
            nth = names[: number + 1].count(name)
            ways = [_way(other) for other, its in zip(lines, names, strict=True) if its == name]
            way = _way(line)
            name = f"{name}, {way}" if way and ways.count(way) == 1 else f"{name}, {_ORDINALS.get(nth, f'{nth}.')} part"
        found.append(name)
    return tuple(found)


_ORDINALS = {1: "first", 2: "second", 3: "third"}


def _way(line: DoughLine) -> str:
    return "for the block" if is_rolled_in(line) else line.preparation

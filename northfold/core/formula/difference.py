"""What differs between two doughs, line by line, in grams and in percent of flour."""

from collections.abc import Sequence
from dataclasses import dataclass

from northfold.core.formula.ratio import DoughLine, ratio_of

# Percentages closer than this are the same. [% of flour]
SAME_PCT = 0.05


@dataclass(frozen=True)
class LineDifference:
    """One ingredient in two doughs. [g, % of flour] Nothing of it is 0."""

    name: str
    before_g: float
    after_g: float
    before_pct: float
    after_pct: float

    @property
    def by_pct(self) -> float:
        return self.after_pct - self.before_pct

    @property
    def is_same(self) -> bool:
        return abs(self.by_pct) < SAME_PCT


def differences(before: Sequence[DoughLine], after: Sequence[DoughLine]) -> tuple[LineDifference, ...]:
    """
    Hold two doughs side by side.

    Parameters
    ----------
    before, after : sequence of DoughLine
        Weights. [g] Lines of one ingredient count together.

    Returns
    -------
    tuple of LineDifference
        In the order of `after`, then what only `before` has. Two batches of one dough do not differ.

    Raises
    ------
    NoFlour
        If one of them has no flour.
    """
    flour = [ratio_of(lines).flour_g for lines in (before, after)]
    sums: dict[str, list[float]] = {}
    for line in (*after, *before):
        sums.setdefault(line.ingredient.name, [0.0, 0.0])
    for which, lines in enumerate((before, after)):
        for line in lines:
            sums[line.ingredient.name][which] += line.grams
    return tuple(
        LineDifference(name, then, now, 100 * then / flour[0], 100 * now / flour[1])
        for name, (then, now) in sums.items()
        if then or now
    )

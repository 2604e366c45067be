"""How much of each mixture a make takes, line by line, for all of its pieces."""

from dataclasses import dataclass

from northfold.core.fill.layers import Laid
from northfold.core.fill.ledger import GOES, juice_ledger
from northfold.core.fill.mixture import Mixture
from northfold.core.fill.produce import bought_g, produce_of
from northfold.core.fill.settling import COOKED, DRAWN
from northfold.core.formula.ratio import DoughLine
from northfold.core.method.plan import Plan
from northfold.core.method.words import weighed


@dataclass(frozen=True)
class MixtureLine:
    """A line of a mixture for a whole make: what to weigh, and what to buy for it where less becomes ready. [g]"""

    line: DoughLine
    grams: float
    buy_g: float


@dataclass(frozen=True)
class MixtureMade:
    """
    A mixture as a make takes it: what is made of it, where it goes, how many times the recipe that is, its lines; what
    is taken of it from the cold store instead. [g]
    """

    mixture: Mixture
    grams: float
    goes: tuple[str, ...]
    factor: float
    lines: tuple[MixtureLine, ...]
    taken_g: float = 0.0


def mixtures_of(plan: Plan) -> tuple[MixtureMade, ...]:
    """
    What is made of each mixture for a make.

    Parameters
    ----------
    plan : Plan
        With its layers laid.

    Returns
    -------
    tuple of MixtureMade
        In the order in which they go in; the same mixture in several layers or pieces is made once.
    """
    found: dict[Mixture, list[tuple[Laid, int]]] = {}
    for item, filled in zip(plan.inputs.items, plan.filled, strict=False):
        for laid in filled.laid if filled else ():
            found.setdefault(laid.layer.mixture, []).append((laid, item.count))
    return tuple(_made(mixture, each) for mixture, each in found.items())


@dataclass(frozen=True)
class SyrupMade:
    """Juice that is drawn off a layer’s fruit for all pieces, and boiled down to its mark. [g, ml, min, share]"""

    drawn_g: float
    grams: float
    ml: float
    low_min: float
    high_min: float
    solids: float
    waits_min: float
    goes: str

    @property
    def says(self) -> str:
        """What is done, with its mark."""
        waits = f"Under its sugar {self.waits_min:.0f} min: " if self.waits_min else ""
        boils = f"boil {weighed(self.drawn_g)} of juice down to {weighed(self.grams)}, {self.ml:,.0f} ml"
        if self.drawn_g - self.grams < 1:
            return f"{waits}{weighed(self.drawn_g)} of juice, {self.ml:,.0f} ml; {GOES[self.goes]}.".capitalize()
        said = f"{waits}{boils}, about {self.low_min:.0f} to {self.high_min:.0f} min in a wide pan; {GOES[self.goes]}."
        return said[:1].upper() + said[1:]


def syrup_made(laid: Laid, count: int) -> SyrupMade | None:
    """
    The syrup of a layer for so many pieces.

    Parameters
    ----------
    laid : Laid
        A layer as it lies in one piece.
    count : int
        Of pieces, at least 1.

    Returns
    -------
    SyrupMade or None
        None where no juice is drawn off. Minutes of one wide pan. [min]
    """
    whole = juice_ledger(laid.made.times(count), laid.layer.treated)
    if whole.syrup is None or whole.drawing is None or laid.layer.treated.way == COOKED:
        return None
    treated, syrup = laid.layer.treated, whole.syrup
    return SyrupMade(
        drawn_g=whole.drawing.syrup_g,
        grams=syrup.grams,
        ml=syrup.ml,
        low_min=syrup.low_min,
        high_min=syrup.high_min,
        solids=syrup.solids,
        waits_min=treated.minutes if treated.way == DRAWN else 0.0,
        goes=treated.goes,
    )


def _made(mixture: Mixture, laid: list[tuple[Laid, int]]) -> MixtureMade:
    needed = sum(each.mixture_g * count for each, count in laid)
    taken = min(needed, sum(each.layer.on_hand_g for each, _ in laid))
    grams = needed - taken
    factor = grams / mixture.grams
    lines = []
    for line in mixture.lines:
        row, weight = produce_of(line.ingredient), line.grams * factor
        lines.append(MixtureLine(line, weight, bought_g(weight, row) if row is not None and row.ready < 1 else weight))
    goes = tuple(f"{weighed(each.grams)} in each of {count}" for each, count in laid)
    return MixtureMade(mixture, grams, goes, factor, tuple(lines), taken)

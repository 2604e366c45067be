"""How much of each mixture a make takes, line by line, for all of its pieces."""

from collections.abc import Sequence
from dataclasses import dataclass

from northfold.core.fill.layers import WORKED, Filled, Laid
from northfold.core.fill.ledger import GOES, juice_ledger
from northfold.core.fill.making import Making, makings, usual_making
from northfold.core.fill.mixture import BETWEEN, COOLED, TOP, Mixture
from northfold.core.fill.pan import cooked_first
from northfold.core.fill.produce import bought_g, produce_of
from northfold.core.fill.settling import COOKED, DRAWN
from northfold.core.formula.ratio import DoughLine
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import EditReader
from northfold.core.method.words import named, weighed
from northfold.core.shape.blanks import Item


@dataclass(frozen=True)
class MixtureLine:
    """A line of a mixture for a whole make: what to weigh, and what to buy for it where less becomes ready. [g]"""

    line: DoughLine
    grams: float
    buy_g: float


@dataclass(frozen=True)
class Use:
    """Where a mixture goes: the item, counted from 1, how many of it, the layer as it lies in one."""

    item: int
    count: int
    laid: Laid

    @property
    def when(self) -> str:
        return self.laid.layer.when


@dataclass(frozen=True)
class MixtureMade:
    """
    A mixture as a make takes it: what is made of it, where it goes, how many times the recipe that is, its lines; what
    is taken of it from the cold store instead. [g]
    """

    mixture: Mixture
    grams: float
    uses: tuple[Use, ...]
    factor: float
    lines: tuple[MixtureLine, ...]
    taken_g: float = 0.0

    @property
    def goes(self) -> tuple[str, ...]:
        """How much of it goes into each piece."""
        return tuple(f"{weighed(use.laid.grams)} in each of {use.count}" for use in self.uses)

    @property
    def first(self) -> Use:
        """The use that decides how it is made: the first to go in."""
        return min(self.uses, key=lambda use: WORKED.index(use.when))

    @property
    def usual_making(self) -> str:
        """How it is made where nobody has said, a key of `makings`."""
        return usual_making(self.mixture, self.first.when, self.first.laid.layer.treated)

    def making(self, edits: EditReader, number: int) -> Making:
        """How it is made as mixture of that number, counted from 1: as its maker chose, else as is usual."""
        chosen = edits.word(step_keys.of_mixture(number, step_keys.MIX_MAKE), "made")
        return makings()[chosen or self.usual_making]

    @property
    def amounts(self) -> str:
        """All that is weighed for it, as ready for use."""
        return named([line_said(each) for each in self.lines if each.grams])


# A recipe's words behind an ingredient are said with it as long as they are no longer than this. [letters]
WORDS_LETTERS = 24


def line_said(each: MixtureLine, *, as_prepared: bool = True) -> str:
    """A line as it is weighed: "216 g pearl barley (boiled)", or without how it is prepared. [g]"""
    words = each.line.preparation.strip(" ,;")
    as_words = f" ({words})" if as_prepared and 0 < len(words) <= WORDS_LETTERS else ""
    return f"{weighed(each.grams)} {each.line.ingredient.name}{as_words}"


def mixtures_made(items: Sequence[Item], filled: Sequence[Filled | None]) -> tuple[MixtureMade, ...]:
    """
    What is made of each mixture for a make.

    Parameters
    ----------
    items : sequence of Item
        With their counts.
    filled : sequence of Filled or None
        The layers of each, laid.

    Returns
    -------
    tuple of MixtureMade
        In the order in which they go in; the same mixture in several layers or pieces is made once.
    """
    found: dict[Mixture, list[Use]] = {}
    for number, (item, one) in enumerate(zip(items, filled, strict=False), 1):
        for laid in one.laid if one else ():
            found.setdefault(laid.layer.mixture, []).append(Use(number, item.count, laid))
    return tuple(made_for(mixture, uses) for mixture, uses in found.items())


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


def _bought(line: DoughLine, weight: float) -> float:
    """What to buy for so much ready: more where it is peeled, less where it has boiled up its water. [g]"""
    row = produce_of(line.ingredient)
    if row is None:
        return weight
    dry = weight / (1 + row.soaks) if row.soaks and cooked_first(line) else weight
    return bought_g(dry, row) if row.ready < 1 else dry


# The step that each kind of layer goes in at; what is raw goes in where the piece is filled before its bake.
_AT = {BETWEEN: step_keys.FILL_CASE, COOLED: step_keys.LAYER_COLD, TOP: step_keys.LAYER_TOP}


def goes_in_at(when: str, key: str) -> bool:
    """Whether a layer that goes in `when` goes in at the step of this plain key."""
    if when in _AT:
        return key == _AT[when] or (when == TOP and key == step_keys.LAYER_PAIR)
    return key.startswith(step_keys.FILL_) and key != step_keys.FILL_CASE


def made_for(mixture: Mixture, uses: Sequence[Use]) -> MixtureMade:
    """What is made of a mixture for these uses, beyond what is taken of it from the cold store. [g]"""
    needed = sum(use.laid.mixture_g * use.count for use in uses)
    taken = min(needed, sum(use.laid.layer.on_hand_g for use in uses))
    grams = needed - taken
    factor = grams / mixture.grams
    lines = []
    for line in mixture.lines:
        weight = line.grams * factor
        lines.append(MixtureLine(line, weight, _bought(line, weight)))
    return MixtureMade(mixture, grams, tuple(uses), factor, tuple(lines), taken)

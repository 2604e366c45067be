"""Which route a make takes: how pieces of its kind are worked, step by step, from the table of routes."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache

from northfold.core.data import table
from northfold.core.formula.laminated import BLOCK
from northfold.core.method.choices import step_keys
from northfold.core.method.reckon.mixing import CRUMB, SCALDED, TOGETHER
from northfold.core.shape.blanks import PRESSED, TOPPED, Item

# From this much sugar on, what is cut from a sheet is a biscuit, not a cracker. [% of flour] Assumption.
BISCUIT_SUGAR_PCT = 10.0
# What of a route comes before the rolling of a laminated dough.
FOLDED_HEAD = "folded"
HOT_WATER = "hot_water"
# Routes of a scalded dough are named for those of a cold one.
SCALDED_KIND = "scalded_"
# What a maker may choose by hand, for what stands in a tin and for what does not.
TIN_ROUTES, FREE_ROUTES = frozenset({"case", "slab"}), frozenset({"hand", "free", "crackers", "sandies", "slab"})
# Kinds of shapes by the route they take; vessels and free sheets follow below.
_BY_KIND = {
    "hand_pie": "hand",
    "turnover_round": "hand",
    "turnover_square": "hand",
    "free_round": "free",
    "free_oblong": "free",
    "slab": "slab",
    "pulled": "pulled",
}


@dataclass(frozen=True)
class RouteKind:
    """
    A route as its table has it: the keys of its steps in order, its bake, how it is held in the oven.

    `filled_mm` is what a filled piece is thicker by where no heap is said. [mm] `on_stone`: a stone or a heavy tray
    browns its base.
    """

    key: str
    name: str
    steps: tuple[str, ...]
    bake: str = ""
    hold: str = "tin"
    blind: bool = False
    docked: bool = False
    filled_mm: float = 0.0
    mixing: str = ""
    form: str = "disc"
    on_stone: bool = False
    laminated: bool = False

    @property
    def is_laminated(self) -> bool:
        return self.laminated

    @property
    def rolls(self) -> bool:
        """Whether the dough is rolled, so that rest and cold before it are asked."""
        return step_keys.ROLL in self.steps


@cache
def route_kinds() -> dict[str, RouteKind]:
    """All routes by key."""
    return {key: RouteKind(key, **{**row, "steps": tuple(row["steps"])}) for key, row in table("routes").items()}


def mixing_way(family: str, traits: frozenset[str], how: str) -> str:
    """
    How a dough comes together: flour and fat first, everything at once, or scalded.

    `how` it is laminated, see `lamination_of`: a block's dough is mixed without the fat that is locked in.
    """
    if how == BLOCK or "yeast" in traits:
        return TOGETHER
    return SCALDED if family == HOT_WATER else CRUMB


def _kind_of(item: Item, sugar_pct: float) -> str:
    """The route of one item."""
    if item.cover == PRESSED:
        return "pressed"
    if item.tin.is_vessel:
        return "lidded" if item.cover in TOPPED else "case"
    if item.tin.kind in _BY_KIND:
        return _BY_KIND[item.tin.kind]
    return "sandies" if sugar_pct >= BISCUIT_SUGAR_PCT else "crackers"


@dataclass(frozen=True)
class NoRoute:
    """Why the steps of a make are not planned here, in a sentence; whether it was to be laminated."""

    why: str
    is_laminated: bool = False


def routes_for(
    items: Sequence[Item], family: str, traits: frozenset[str], how: str, sugar_pct: float, chosen: str = ""
) -> tuple[RouteKind, ...] | NoRoute:
    """
    The route that each product of a make takes.

    Parameters
    ----------
    items : sequence of Item
        At least one.
    family : str
        Key of the dough's family; empty for one of its own.
    traits : frozenset of str
        What its lines show, such as yeast.
    how : str
        How it is laminated, see `lamination_of`; empty where it is not.
    sugar_pct : float
        [% of flour]
    chosen : str
        The route that a maker has chosen by hand; empty goes by the shape of the pieces.

    Returns
    -------
    tuple of RouteKind, or NoRoute
        One for each item. No route for a laminated dough that is not rolled, for pieces that no scalded dough is worked
        to, for products that cannot be mixed together, or not be worked in the way that was chosen.
    """
    natural = [_kind_of(item, sugar_pct) for item in items]
    found = [chosen] * len(items) if chosen else natural
    if chosen and not all(chosen in (TIN_ROUTES if item.tin.is_vessel else FREE_ROUTES) for item in items):
        wanted = route_kinds()[chosen].name
        return NoRoute(f"These pieces cannot be {wanted}: choose “as their shape says”, or another tin or shape.")
    raised = "yeast" in traits
    if how:
        kinds = [kind for key in found if (kind := _folded(key, yeast=raised))]
        if len(kinds) < len(found):
            return NoRoute(
                "A laminated dough is neither pressed in nor pulled: choose another shape, or “no turns” under Turns."
            )
        return tuple(kinds)
    if family == HOT_WATER and not raised:
        found = [SCALDED_KIND + key for key in found]
        if set(found) - route_kinds().keys():
            names = " or ".join(
                route_kinds()[key].name for key in sorted(route_kinds()) if key.startswith(SCALDED_KIND)
            )
            return NoRoute(f"These pieces are not made of a scalded dough here. It is worked as {names}.")
    kinds = [route_kinds()[key] for key in found]
    # What is pressed in or pulled is mixed otherwise than what is rolled.
    if len({(kind.mixing, kind.form, kind.rolls) for kind in kinds}) > 1:
        return _different(set(found))
    return tuple(_proved(kind) if raised else kind for kind in kinds)


def _proved(kind: RouteKind) -> RouteKind:
    """A route of a yeast dough that is not laminated: its pieces prove where others chill."""
    return replace(kind, steps=tuple(step_keys.PROVE if step == step_keys.CHILL else step for step in kind.steps))


def _folded(key: str, *, yeast: bool) -> RouteKind | None:
    """The route of a laminated dough for pieces of a kind; None where they are not rolled."""
    cut = key in ("crackers", "sandies")
    kind = route_kinds()["coils" if yeast and cut else "shells" if cut else key]
    if not kind.rolls:
        return None
    tail = kind.steps[kind.steps.index(step_keys.ROLL) :]
    if step_keys.CUT in tail:
        # Cut at once it springs back and its edges smear: the sheet lies cold first.
        tail = tuple(
            key for step in tail for key in ((step_keys.REST_SHEET, step) if step == step_keys.CUT else (step,))
        )
    laminated = replace(kind, steps=(*route_kinds()[FOLDED_HEAD].steps, *tail), laminated=True)
    return _proved(laminated) if yeast else laminated


def _different(found: set[str]) -> NoRoute:
    names = " and ".join(sorted(route_kinds()[key].name for key in found))
    return NoRoute(f"These pieces are not mixed alike ({names}): give each kind a make of its own.")

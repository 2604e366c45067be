"""A make’s pieces as they are sold: what one weighs baked, costs and holds, by slice too; how long it keeps."""

from collections.abc import Mapping
from dataclasses import dataclass

from northfold.core.fill.egg_ledger import EggUse, use_of
from northfold.core.fill.layers import Filled
from northfold.core.formula.cost import FREE, cost_of
from northfold.core.formula.ratio import DoughLine
from northfold.core.matter.fillings import KEPT_DAYS
from northfold.core.matter.nutrition import Nutrients, nutrients
from northfold.core.method.advice.finished import put_on
from northfold.core.method.choices.halves import takes_pieces
from northfold.core.method.plan import Plan
from northfold.core.method.reckon.crisp import Crisp, crisp_of
from northfold.core.method.reckon.filling import BAKED, said
from northfold.core.shape.blanks import Piece

# Baked and dry, without egg, meat or cream in it, a piece keeps so long. [days] Assumption; your own rules come first.
DRY_DAYS = 3.0


@dataclass(frozen=True)
class Costs:
    """What a make costs: its dough, its mixtures, all of it, one piece of each item; what has no price. [currency]"""

    dough: float
    mixtures: float
    each: tuple[float, ...]
    unpriced: tuple[str, ...]

    @property
    def total(self) -> float:
        return self.dough + self.mixtures


@dataclass(frozen=True)
class Sold:
    """
    One piece as it is sold: crust and filling after the bake [g], cost, its nutrients; slices, 0 for none.

    `keeps_days` from the oven, in the fridge where `cold` [days]; its base stays `crisp` so long once it is filled,
    None where nothing soaks it.
    """

    piece: Piece
    crust_g: float
    filling_g: float
    cost: float
    holds: Nutrients
    slices: int
    keeps_days: float
    cold: bool
    crisp: Crisp | None = None

    @property
    def weighs_g(self) -> float:
        return self.crust_g + self.filling_g

    @property
    def slice_g(self) -> float:
        return self.weighs_g / self.slices if self.slices else self.weighs_g

    @property
    def slice_cost(self) -> float:
        return self.cost / self.slices if self.slices else self.cost

    @property
    def per_100_g(self) -> Nutrients:
        return self.holds.of(100.0)

    @property
    def per_slice(self) -> Nutrients:
        return self.holds.of(self.slice_g)

    @property
    def crust_share(self) -> float:
        return self.crust_g / self.weighs_g if self.weighs_g else 1.0


def costs(plan: Plan, per_g: Mapping[str, float]) -> Costs:
    """
    What a make costs, dough and mixtures.

    Parameters
    ----------
    plan : Plan
        A sized plan.
    per_g : mapping of str to float
        Price of a gram that is really used, by ingredient. [currency/g]

    Returns
    -------
    Costs
        What is bought of fruit and vegetables counts, peel and stones with it; what has no price is named.
    """
    dough = cost_of(plan.lines, per_g)
    # In frozen pieces the dough was paid for another day, and costs what it cost.
    factor = plan.taken_g / plan.ratio.total_g if plan.ratio and takes_pieces(plan.inputs.half) else plan.factor
    whole = dough.total * (factor or 0.0)
    need = sum(piece.need_g for piece in plan.pieces) or 1.0
    made = plan.all_mixtures
    unpriced = dict.fromkeys(dough.unpriced)
    by_mixture = {}
    for mixture in made:
        total = 0.0
        for each in mixture.lines:
            price = per_g.get(each.line.ingredient.name, 0.0 if each.line.ingredient.name in FREE else None)
            if price is None:
                unpriced[each.line.ingredient.name] = None
            else:
                total += price * each.buy_g
        by_mixture[mixture.mixture] = total / mixture.grams if mixture.grams else 0.0
    each_piece = []
    for number, piece in enumerate(plan.pieces):
        filled = plan.filled[number] if number < len(plan.filled) else None
        inside = sum(laid.mixture_g * by_mixture[laid.layer.mixture] for laid in filled.laid) if filled else 0.0
        each_piece.append(whole * piece.need_g / need / piece.item.count + inside)
    fillings = sum(by_mixture[mixture.mixture] * mixture.grams for mixture in made)
    return Costs(whole, fillings, tuple(each_piece), tuple(unpriced))


def sold(plan: Plan, per_g: Mapping[str, float]) -> tuple[Sold, ...]:
    """
    The pieces of a make as they are sold.

    Parameters
    ----------
    plan : Plan
        With its bake worked out.
    per_g : mapping of str to float
        Price of a gram, by ingredient. [currency/g]

    Returns
    -------
    tuple of Sold
        One for each item; none where the bake is not worked out. Guidance, not a label.
    """
    if plan.bake is None or plan.ratio is None or len(plan.bake.baked_g) != len(plan.pieces):
        return ()
    paid, found = costs(plan, per_g), []
    for number, piece in enumerate(plan.pieces):
        filled = plan.filled[number] if number < len(plan.filled) else None
        bake = plan.bakes[number] if plan.bakes else plan.bake
        keeps = (bake.second or bake).keeps_filling
        inside = _inside_g(filled, keeps) if filled else 0.0
        parts = [(line.ingredient, line.grams * piece.net_g / plan.ratio.total_g) for line in plan.lines]
        parts += [(line.ingredient, grams) for line, grams in _stays_in(filled)]
        crust = plan.bake.baked_g[number]
        risky = plan.risk is not None or (filled is not None and filled.goes_off)
        found.append(
            Sold(
                piece=piece,
                crust_g=crust,
                filling_g=inside,
                cost=paid.each[number],
                holds=nutrients(parts, crust + inside),
                slices=piece.item.slices,
                keeps_days=_keeps_days(filled, risky=risky),
                cold=risky,
                crisp=crisp_of(filled, bake),
            )
        )
    return tuple(found)


def _inside_g(filled: Filled, keeps: float) -> float:
    """What lies in a piece after the bake. [g, share]"""
    baked = sum(each.grams for each in filled.laid if each.layer.when in BAKED)
    return keeps * baked + sum(each.grams for each in filled.laid if each.layer.when not in BAKED)


def _stays_in(filled: Filled | None) -> list[tuple[DoughLine, float]]:
    """What of each line stays in a piece: sugar and solids that are kept aside in a syrup do not count."""
    found = []
    for laid in filled.laid if filled else ():
        whole = laid.made.grams * laid.made.composition.sugar
        aside = whole - laid.ledger.in_tin_sugar_g
        sugar = sum(line.grams for line in laid.made.lines if line.ingredient.role == "sugar") or 1.0
        for line in laid.made.lines:
            less = aside * line.grams / sugar if line.ingredient.role == "sugar" else 0.0
            found.append((line, max(0.0, line.grams - less)))
    return found


def _keeps_days(filled: Filled | None, *, risky: bool) -> float:
    """How long a piece keeps from the oven. [days] Usual guidance."""
    laid = filled.laid if filled else ()
    cold = [each.layer.mixture.keeps_h / 24 for each in laid if each.layer.when not in BAKED]
    return min([KEPT_DAYS if risky else DRY_DAYS, *cold])


def egg_uses(plan: Plan, name: str, kept_g: float = 0.0) -> tuple[EggUse, ...]:
    """What a make wants of eggs: its dough, its mixtures, its glaze beyond `kept_g` of beaten egg kept for it. [g]"""
    found = []
    if plan.scaled:
        weighed = zip(plan.lines, plan.scaled, strict=True)
        found.append(use_of(f"the dough of {name}", ((line, exact.exact_g) for line, exact in weighed)))
    for each in plan.mixtures:
        found.append(use_of(f"the {said(each.mixture.name)}", ((row.line, row.grams) for row in each.lines)))
    put = [(each.ingredient, each.grams) for each in put_on(plan) if each.ingredient is not None]
    lines = [(DoughLine(item, grams, grams, grams), max(0.0, grams - kept_g)) for item, grams in put]
    found.append(use_of(f"the glaze of {name}", lines))
    return tuple(each for each in found if each is not None)


def needs(plan: Plan) -> dict[str, float]:
    """What a make takes of each ingredient, as it is bought: dough, mixtures and glaze together. [g]"""
    found: dict[str, float] = {}
    if plan.scaled:
        for line, exact in zip(plan.lines, plan.scaled, strict=True):
            found[line.ingredient.name] = found.get(line.ingredient.name, 0.0) + exact.exact_g
    for made in plan.mixtures:
        for each in made.lines:
            name = each.line.ingredient.name
            found[name] = found.get(name, 0.0) + each.buy_g
    for put in put_on(plan):
        if put.ingredient is not None:
            found[put.ingredient.name] = found.get(put.ingredient.name, 0.0) + put.grams
    return {name: grams for name, grams in found.items() if grams > 0}

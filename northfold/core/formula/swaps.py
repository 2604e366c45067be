"""Swapping an ingredient and moving one number, with water, salt and fat put right."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from northfold.core.errors import CoreError, OutsideRange
from northfold.core.formula.families import AXES, Family
from northfold.core.formula.ratio import DoughLine, Ratio, counts_as, has_gluten, ratio_of
from northfold.core.matter import Ingredient
from northfold.core.matter.fats import fat_blend

# A change smaller than this is none. [g]
LEAST_G = 0.05


class CannotSwap(CoreError):
    """A swap that makes no sense, with what would."""

    code = "cannot_swap"


@dataclass(frozen=True)
class Change:
    """One line before and after. [g] `number` is its place, None for a line that comes new."""

    number: int | None
    ingredient: Ingredient
    before_g: float
    after_g: float
    why: str
    before_name: str = ""

    @property
    def by_g(self) -> float:
        return self.after_g - self.before_g


@dataclass(frozen=True)
class Swap:
    """Every line that changes, in order, and what it costs or brings, as sentences."""

    changes: tuple[Change, ...]
    remarks: tuple[str, ...]


def _line_of(lines: Sequence[DoughLine], role: str, without: int) -> int | None:
    """The heaviest line of a role, water before other liquids; None where there is none."""
    found = [
        (line.ingredient.name == "water", line.grams, number)
        for number, line in enumerate(lines)
        if line.ingredient.role == role and number != without and line.grams > 0
    ]
    return max(found)[2] if found else None


def _put_right(
    lines: Sequence[DoughLine],
    shelf: Mapping[str, Ingredient],
    role: str,
    name: str,
    by_g: float,
    without: int,
    why: str,
) -> tuple[Change | None, float]:
    """Add to the line of a role, or take from it; what cannot be taken is left over. [g]"""
    if abs(by_g) < LEAST_G:
        return None, 0.0
    number = _line_of(lines, role, without)
    if number is None and by_g < 0:
        return None, -by_g
    if number is None or (by_g > 0 and lines[number].ingredient.name != name):
        return Change(None, shelf[name], 0.0, by_g, why), 0.0
    line = lines[number]
    if role == "liquid":  # milk or juice gives less water than it weighs
        by_g /= line.ingredient.composition.water or 1.0
    after = max(0.0, line.grams + by_g)
    return Change(number, line.ingredient, line.grams, after, why), max(0.0, -(line.grams + by_g))


def _check(lines: Sequence[DoughLine], number: int, share: float, role: str, to: Ingredient) -> DoughLine:
    if not 0 <= number < len(lines):
        raise CannotSwap("That line is no longer there. Reload the page and choose again.")
    line = lines[number]
    if not 0 < share <= 1:
        raise OutsideRange("A share of", 100 * share, 1, 100, "%")
    if line.ingredient.role != role or to.role != role:
        raise CannotSwap(f"{line.ingredient.name} and {to.name} cannot replace each other: choose another {role}.")
    if line.ingredient.name == to.name:
        raise CannotSwap(f"It is already {to.name}. Choose another {role}.")
    return line


def swap_fat(
    lines: Sequence[DoughLine], number: int, to: Ingredient, shelf: Mapping[str, Ingredient], share: float = 1.0
) -> Swap:
    """
    Put another fat for one, whole or in part, keeping the fat phase and the dough's water; salt follows.

    Parameters
    ----------
    lines : sequence of DoughLine
        The dough. [g]
    number : int
        Place of the fat among them.
    to : Ingredient
        The fat put in.
    shelf : mapping of str to Ingredient
        Where water and salt come from if the dough has no line for them.
    share : float
        How much of it, above 0 to 1. [share]

    Returns
    -------
    Swap
        Lines before and after [g]; the new working range, what it costs in flavour, browning, flake.

    Raises
    ------
    CannotSwap
        If either is no fat, or both are the same.
    OutsideRange
        If the share is not above 0 and at most 1.
    """
    line = _check(lines, number, share, "fat", to)
    old, out_g = line.ingredient, line.grams * share
    in_g = out_g * old.composition.fat / to.composition.fat
    changes = _replaced(number, line, to, out_g, in_g, share)
    water_g = out_g * old.composition.water - in_g * to.composition.water
    salt_g = out_g * old.salt_fraction - in_g * to.salt_fraction
    remarks = []
    for role, name, by_g, why in (
        (
            "liquid",
            "water",
            water_g,
            f"the water that {old.name} brought" if water_g > 0 else f"{to.name} brings water",
        ),
        ("salt", "fine salt", salt_g, f"the salt of {old.name}" if salt_g > 0 else f"{to.name} is salted"),
    ):
        change, left = _put_right(lines, shelf, role, name, by_g, number, why)
        if change is not None:
            changes.append(change)
        if left >= LEAST_G:
            remarks.append(f"There is no {name} to take {left:.1f} g from: the dough will hold that much more.")
    remarks += _costs(lines, changes, old, to)
    return Swap(tuple(changes), tuple(remarks))


def _replaced(number: int, line: DoughLine, to: Ingredient, out_g: float, in_g: float, share: float) -> list[Change]:
    if share >= 1:
        return [Change(number, to, line.grams, in_g, "the same fat" if to.role == "fat" else "", line.ingredient.name)]
    return [
        Change(number, line.ingredient, line.grams, line.grams - out_g, "the rest stays"),
        Change(None, to, 0.0, in_g, "put in its place"),
    ]


def _costs(lines: Sequence[DoughLine], changes: Sequence[Change], old: Ingredient, to: Ingredient) -> list[str]:
    """The new working range, and what flavour, browning and flake lose or win."""
    after = apply_swap(lines, changes)
    blend = fat_blend((line.ingredient, line.grams) for line in after)
    said = []
    if blend is None or blend.roll_c is None:
        said.append("It does not firm up: no flakes, a short, crumbly bite. Mix it as an oil dough.")
    else:
        low, high = blend.roll_c
        flake = f", cuts into flakes up to {blend.flake_max_c:.0f} °C" if blend.flake_max_c is not None else ""
        said.append(f"The fat now rolls at {low:.0f}–{high:.0f} °C{flake}.")
    before_milk, after_milk = "milk" in old.allergens, "milk" in to.allergens
    if before_milk and not after_milk:
        said.append("Without milk solids it browns later and tastes less of butter.")
    elif after_milk and not before_milk:
        said.append("Milk solids brown it sooner and taste of butter. It now holds milk, an allergen.")
    return said


def swap_flour(
    lines: Sequence[DoughLine], number: int, to: Ingredient, shelf: Mapping[str, Ingredient], share: float = 1.0
) -> Swap:
    """
    Put another flour for one, whole or in part; the water follows its thirst.

    Parameters
    ----------
    lines : sequence of DoughLine
        The dough. [g]
    number : int
        Place of the flour among them.
    to : Ingredient
        The flour put in.
    shelf : mapping of str to Ingredient
        Where water comes from if the dough has no line for it.
    share : float
        How much of it, above 0 to 1. [share]

    Returns
    -------
    Swap
        Lines before and after [g], and what happens to the gluten.

    Raises
    ------
    CannotSwap
        If either is no flour, or both are the same.
    OutsideRange
        If the share is not above 0 and at most 1.
    """
    line = _check(lines, number, share, "flour", to)
    moved_g = line.grams * share
    changes = _replaced(number, line, to, moved_g, moved_g, share)
    thirst_g = (to.thirst_g_per_100g - line.ingredient.thirst_g_per_100g) * moved_g / 100
    why = f"{to.name} takes up more" if thirst_g > 0 else f"{to.name} takes up less"
    change, left = _put_right(lines, shelf, "liquid", "water", thirst_g, number, why)
    if change is not None:
        changes.append(change)
    remarks = []
    if left >= LEAST_G:
        remarks.append(f"There is no water to take {left:.1f} g from: hold that much of another liquid back.")
    if has_gluten(lines) and not has_gluten(apply_swap(lines, changes)):
        remarks.append("No flour left has gluten: it needs another binder, such as egg, psyllium or xanthan.")
    elif to.gluten_factor < line.ingredient.gluten_factor:
        remarks.append("Less gluten: more tender, but it breaks more easily. Roll it between two sheets.")
    return Swap(tuple(changes), tuple(remarks))


def apply_swap(lines: Sequence[DoughLine], changes: Sequence[Change]) -> tuple[DoughLine, ...]:
    """The lines after the changes [g]; new ones stand at the end, those that weigh nothing are gone."""
    after = list(lines)
    for change in changes:
        if change.number is None:
            after.append(DoughLine.of(change.ingredient, change.after_g))
        else:
            known = replace(after[change.number], ingredient=change.ingredient)
            after[change.number] = _weighing(known, change.after_g)
    return tuple(line for line in after if line.grams > 0)


def _weighing(line: DoughLine, grams: float) -> DoughLine:
    return replace(line, grams=grams, grams_low=grams, grams_high=grams)


def move_to(lines: Sequence[DoughLine], axis: str, percent: float) -> Swap:
    """
    Hold the flour and bring fat, liquid or sugar to a percentage, all lines of that kind pro rata.

    Parameters
    ----------
    lines : sequence of DoughLine
        The dough. [g]
    axis : str
        "fat", "liquid" or "sugar", as written.
    percent : float
        Where it is to be, 0 to 200. [% of flour]

    Returns
    -------
    Swap
        Lines before and after. [g] Of the liquid, free liquid moves before egg and acid do.

    Raises
    ------
    CannotSwap
        If no line of the dough can bring it there.
    OutsideRange
        If the percentage makes no sense.
    """
    if axis not in AXES:
        raise CannotSwap(f"“{axis}” cannot be moved: move fat, liquid or sugar.")
    if not 0 <= percent <= 200:
        raise OutsideRange(f"{axis.capitalize()} of", percent, 0, 200, "%")
    ratio = ratio_of(lines)
    starch = ratio.without_gluten
    movable = [
        number
        for number, line in enumerate(lines)
        if line.grams > 0
        and (
            line.ingredient.role == "sugar"
            if axis == "sugar"
            else counts_as(line.ingredient, starch_is_flour=starch) == axis
        )
    ]
    free = [number for number in movable if lines[number].ingredient.role in ("liquid", "dairy")]
    movable = free or movable if axis == "liquid" else movable
    by_g = (percent - float(getattr(ratio, axis))) * ratio.flour_g / 100
    whole = sum(lines[number].grams for number in movable)
    if not whole or whole + by_g < -1e-9:
        held = f"only {whole:.0f} g of {axis} can move" if whole else f"it has no line of {axis}"
        raise CannotSwap(f"{axis.capitalize()} cannot come to {percent:g} %: {held}. Add or change a line first.")
    factor = (whole + by_g) / whole
    changes = [
        Change(
            number,
            lines[number].ingredient,
            lines[number].grams,
            lines[number].grams * factor,
            f"{axis} to {percent:g} %",
        )
        for number in movable
    ]
    return Swap(tuple(changes), ())


def move_to_centre(lines: Sequence[DoughLine], family: Family, ratio: Ratio) -> Swap:
    """
    Hold the flour and bring fat, liquid and sugar to the middle of a family's ranges, where there is a line for it.

    Parameters
    ----------
    lines : sequence of DoughLine
        The dough. [g]
    family : Family
        Its ranges. [% of flour]
    ratio : Ratio
        Of the lines.

    Returns
    -------
    Swap
        Lines before and after [g]; what could not be moved is said.
    """
    after, remarks = tuple(lines), []
    changes: dict[int, Change] = {}
    for axis in AXES:
        low, high = getattr(family, axis)
        middle = (low + high) / 2
        if low <= getattr(ratio, axis) <= high and axis == "sugar" and not getattr(ratio, axis):
            continue
        try:
            step = move_to(after, axis, middle)
        except CannotSwap as error:
            remarks.append(str(error))
            continue
        for change in step.changes:
            assert change.number is not None
            first = lines[change.number]
            changes[change.number] = replace(change, before_g=first.grams)
        after = tuple(
            _weighing(line, changes[number].after_g) if number in changes else line for number, line in enumerate(after)
        )
    return Swap(tuple(changes[number] for number in sorted(changes)), tuple(remarks))


def reweigh(lines: Sequence[DoughLine], fat_share: float, liquid_share: float, shelf: Mapping[str, Ingredient]) -> Swap:
    """
    Move a dough to another place of the ratio triangle: flour held, fats pro rata, free liquid the rest.

    Parameters
    ----------
    lines : sequence of DoughLine
        The dough. [g]
    fat_share : float
        Share of fat among flour, fat and liquid as written, 0 to 0.9. [share]
    liquid_share : float
        Share of liquid, 0 to 0.9; the rest is flour, at least 0.1. [share]
    shelf : mapping of str to Ingredient
        Where water comes from if the dough has no free liquid.

    Returns
    -------
    Swap
        Lines before and after. [g] Where egg and acid alone are more liquid than wanted, free liquid stops at zero, and
        the remark says so.

    Raises
    ------
    OutsideRange
        If the shares leave less than a tenth for flour, or one is below zero.
    CannotSwap
        If fat is wanted and the dough has no line of it.
    """
    flour_share = 1 - fat_share - liquid_share
    for what, share in (("Fat", fat_share), ("Liquid", liquid_share)):
        if not 0 <= share <= 0.9:
            raise OutsideRange(f"{what} of", 100 * share, 0, 90, "% of the three")
    if flour_share < 0.1:
        raise OutsideRange("Flour of", 100 * flour_share, 10, 100, "% of the three")
    fat_pct, liquid_pct = 100 * fat_share / flour_share, 100 * liquid_share / flour_share
    ratio = ratio_of(lines)
    changes: list[Change] = []
    if abs(fat_pct - ratio.fat) > 1e-9:
        changes += move_to(lines, "fat", fat_pct).changes
    starch = ratio.without_gluten
    liquids = [n for n, line in enumerate(lines) if counts_as(line.ingredient, starch_is_flour=starch) == "liquid"]
    free = [n for n in liquids if lines[n].ingredient.role == "liquid" and lines[n].grams > 0]
    fixed_g = sum(lines[n].grams for n in liquids if n not in free)
    free_g = sum(lines[n].grams for n in free)
    wanted_g = liquid_pct * ratio.flour_g / 100 - fixed_g
    remarks = []
    if wanted_g < 0:
        held = 100 * fixed_g / ratio.flour_g
        remarks.append(f"No free liquid is left to take out: egg, dairy and acid alone bring {held:.1f} %.")
        wanted_g = 0.0
    why = f"liquid to {liquid_pct:.1f} %"
    if free_g:
        changes += [
            Change(n, lines[n].ingredient, lines[n].grams, lines[n].grams * wanted_g / free_g, why) for n in free
        ]
    elif wanted_g >= LEAST_G:
        changes.append(Change(None, shelf["water"], 0.0, wanted_g, why))
    return Swap(tuple(change for change in changes if abs(change.by_g) >= LEAST_G), tuple(remarks))

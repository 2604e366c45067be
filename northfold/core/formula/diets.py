"""A dough without gluten, egg, milk, nuts or alcohol: what takes its place, with water and fat put right."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cache
from typing import Any

from northfold.core.data import table
from northfold.core.formula.ratio import DoughLine, has_gluten
from northfold.core.formula.swaps import LEAST_G, CannotSwap, Change, Swap, apply_swap
from northfold.core.matter import Ingredient

# A plain flour takes the place of nut meal; in a dough without gluten this one.
FLOUR, FLOUR_WITHOUT_GLUTEN = "plain flour", "rice flour"
# A dough without gluten and without egg is bound by this much husk. [% of flour] Assumption, as the swap of gluten.
# What a binder has to hold together.
MEAL = ("flour", "starch", "nut")
# What a self-raising flour has in it. [share] Assumption.
RAISING_FLOUR, RAISING, RAISING_SHARE = "self-raising flour", "baking powder", 0.05
HUSK, HUSK_PCT = "psyllium husk powder", 2.0


@dataclass(frozen=True)
class Base:
    """Flours and starches that take the place of those with gluten: shares by ingredient, summing to 1. [g/g]"""

    key: str
    name: str
    shares: dict[str, float]


@dataclass(frozen=True)
class Binder:
    """What binds instead of gluten: `percent` of the base [%], and the water that each gram of it takes up [g/g]."""

    key: str
    name: str
    ingredient: str
    percent: float
    drinks: float


@dataclass(frozen=True)
class Diet:
    """What is left out, and what takes its place by ingredient."""

    key: str
    name: str
    holds: str
    remark: str = ""
    fat_instead: str = ""
    instead: dict[str, str] = field(default_factory=dict)
    base: dict[str, Base] = field(default_factory=dict)
    binder: dict[str, Binder] = field(default_factory=dict)

    def is_in(self, item: Ingredient) -> bool:
        if self.holds == "alcohol":
            return item.composition.alcohol > 0
        return self.holds in item.allergens


@cache
def diets() -> dict[str, Diet]:
    """All diets by key, in the order of the data file."""
    found = {}
    for key, row in table("diets").items():
        values: dict[str, Any] = dict(row)
        values["base"] = {name: Base(name, **each) for name, each in values.get("base", {}).items()}
        values["binder"] = {name: Binder(name, **each) for name, each in values.get("binder", {}).items()}
        found[key] = Diet(key, **values)
    return found


def bases(shelf: Mapping[str, Ingredient]) -> dict[str, Base]:
    """The bases without gluten that this kitchen can offer: those of which no flour holds any here."""
    diet = diets()["gluten"]
    return {
        key: base
        for key, base in diet.base.items()
        if all(name in shelf and not diet.is_in(shelf[name]) for name in base.shares)
    }


@dataclass
class _Desk:
    """The lines as they change, and the fat and water that are still to be put right. [g]"""

    lines: Sequence[DoughLine]
    shelf: Mapping[str, Ingredient]
    changes: dict[int, Change] = field(default_factory=dict)
    added: dict[str, Change] = field(default_factory=dict)
    remarks: list[str] = field(default_factory=list)
    fat_g: float = 0.0
    water_g: float = 0.0

    def weight(self, number: int) -> float:
        return self.changes[number].after_g if number in self.changes else self.lines[number].grams

    def item(self, number: int) -> Ingredient:
        return self.changes[number].ingredient if number in self.changes else self.lines[number].ingredient

    def leave_out(self, number: int, why: str) -> None:
        """Take a line out; what it brought of fat and water is owed."""
        line = self.lines[number]
        counts = line.ingredient.role not in ("flour", "starch", "nut")
        self.fat_g += line.grams * line.ingredient.composition.fat if counts else 0.0
        self.water_g += line.grams * line.ingredient.composition.water if counts else 0.0
        self.changes[number] = Change(number, line.ingredient, line.grams, 0.0, why)

    def replace(self, number: int, to: Ingredient, grams: float) -> None:
        """Put another ingredient into a line; the difference in fat and water is owed."""
        line = self.lines[number]
        self.leave_out(number, "")
        self._pay(to, grams)
        self.changes[number] = Change(number, to, line.grams, grams, "in its place", line.ingredient.name)

    def add(self, name: str, grams: float, why: str) -> None:
        """Put in more of an ingredient, on its line or on a new one."""
        if abs(grams) < LEAST_G or name not in self.shelf:
            return
        to = self.shelf[name]
        self._pay(to, grams)
        for number, line in enumerate(self.lines):
            if self.item(number).name == name and self.weight(number) > 0:
                known = self.changes.get(number) or Change(number, line.ingredient, line.grams, line.grams, why)
                after = max(0.0, known.after_g + grams)
                name_was = known.before_name
                self.changes[number] = Change(number, to, known.before_g, after, known.why or why, name_was)
                return
        before = self.added[name].after_g if name in self.added else 0.0
        self.added[name] = Change(None, to, 0.0, before + grams, why)

    def _pay(self, to: Ingredient, grams: float) -> None:
        if to.role not in ("flour", "starch", "nut"):
            self.fat_g -= grams * to.composition.fat
            self.water_g -= grams * to.composition.water

    def main(self, role: str) -> int | None:
        """The heaviest line of a role that is still in, water before other liquids."""
        found = [
            (self.item(n).name == "water", self.weight(n), n)
            for n in range(len(self.lines))
            if self.item(n).role == role and self.weight(n) > 0
        ]
        return max(found)[2] if found else None

    def put_right(self) -> None:
        """Let the main fat and the free liquid make up for fat and water that are owed."""
        number = self.main("fat")
        if number is not None and abs(self.fat_g) >= LEAST_G:
            fat = self.item(number)
            by_g = max(self.fat_g / fat.composition.fat, -self.weight(number))
            self.add(fat.name, by_g, "fat put right")
        liquid = self.main("liquid")
        if abs(self.water_g) < LEAST_G:
            pass
        elif liquid is not None and (self.water_g < 0 or self.item(liquid).name == "water"):
            item = self.item(liquid)
            by_g = max(self.water_g / (item.composition.water or 1.0), -self.weight(liquid))
            self.add(item.name, by_g, "water put right")
        elif self.water_g > 0:
            self.add("water", self.water_g, "water put right")
        for what, owed in (("fat", self.fat_g), ("water", self.water_g)):
            if abs(owed) >= 0.5:
                side = "less" if owed > 0 else "more"
                self.remarks.append(
                    f"No line is left to put {abs(owed):.0f} g of {what} right: it has that much {side}."
                )

    def swap(self) -> Swap:
        numbered = [self.changes[number] for number in sorted(self.changes)]
        return Swap((*numbered, *self.added.values()), tuple(self.remarks))


def free_of(
    lines: Sequence[DoughLine],
    diet_key: str,
    shelf: Mapping[str, Ingredient],
    base_key: str = "rice",
    binder_key: str = "psyllium",
) -> Swap:
    """
    A dough without something, its true fat and true water kept.

    Parameters
    ----------
    lines : sequence of DoughLine
        The dough. [g]
    diet_key : str
        "gluten", "egg", "milk", "nuts" or "alcohol".
    shelf : mapping of str to Ingredient
        Where substitutes come from.
    base_key, binder_key : str
        Of a dough without gluten: what takes the flour's place, and what binds; of `data/diets.toml`.

    Returns
    -------
    Swap
        Every line that changes [g], what it costs, and what still may hold traces.

    Raises
    ------
    CannotSwap
        If the dough holds none of it, or a substitute is not known here.

    Notes
    -----
    Flours drink differently: water follows the thirst of the flours put in, and what a binder takes up. What nut meal
    held of fat goes in as fat, the rest as flour.
    """
    diet = diets().get(diet_key)
    if diet is None:
        raise CannotSwap(f"“{diet_key}” cannot be left out: choose {', '.join(diets())}.")
    held = [n for n, line in enumerate(lines) if line.grams > 0 and diet.is_in(line.ingredient)]
    if not held:
        raise CannotSwap(f"This dough holds no {diet.name}: there is nothing to leave out.")
    desk = _Desk(lines, shelf)
    for number in held:
        _leave_out(desk, diet, number, base_key)
    if diet.base:
        _bind(desk, diet, base_key, binder_key)
    elif diet.key == "egg" and not has_gluten(lines):
        flour = sum(line.grams for line in lines if line.ingredient.role in ("flour", "starch", "nut"))
        if not any(line.ingredient.role == "binder" and line.grams for line in lines):
            desk.add(HUSK, flour * HUSK_PCT / 100, "binds instead of egg")
    desk.put_right()
    if diet.remark:
        desk.remarks.append(diet.remark)
    found = desk.swap()
    left = apply_swap(lines, found.changes)
    still = [line.ingredient.name for line in left if diet.is_in(line.ingredient)]
    traces = [line.ingredient.name for line in left if diet.holds in line.ingredient.may_hold]
    more = [f"{name} still holds {diet.name}." for name in still] + [
        f"{name} may hold traces of {diet.name}: check the pack." for name in traces
    ]
    return Swap(found.changes, (*found.remarks, *more))


def _known(shelf: Mapping[str, Ingredient], name: str) -> Ingredient:
    if name not in shelf:
        raise CannotSwap(f"{name.capitalize()} is not on this kitchen’s shelf. Add it under Ingredients first.")
    return shelf[name]


def _leave_out(desk: _Desk, diet: Diet, number: int, base_key: str) -> None:
    """Take one line out, with what stands in for it."""
    line = desk.lines[number]
    item, grams = line.ingredient, line.grams
    instead = diet.instead.get(item.name) or (diet.fat_instead if item.role == "fat" else "")
    if instead:
        to = _known(desk.shelf, instead)
        like = "fat" if item.role == "fat" else "sugar"
        desk.replace(number, to, grams * getattr(item.composition, like) / getattr(to.composition, like))
    elif diet.base and item.role == "flour":
        desk.leave_out(number, "")
        for name, share in _base(desk, base_key).shares.items():
            to = _known(desk.shelf, name)
            desk.add(name, grams * share, "in the flour’s place")
            desk.water_g += (to.thirst_g_per_100g - item.thirst_g_per_100g) * grams * share / 100
        if item.name == RAISING_FLOUR:
            desk.add(RAISING, grams * RAISING_SHARE, "raises as that flour did")
    elif item.role == "nut":
        flour = FLOUR if has_gluten(desk.lines) else FLOUR_WITHOUT_GLUTEN
        desk.leave_out(number, "")
        desk.add(_known(desk.shelf, flour).name, grams * (1 - item.composition.fat), "in the nuts’ place")
        desk.fat_g += grams * item.composition.fat
    else:
        desk.leave_out(number, "left out")


def _base(desk: _Desk, key: str) -> Base:
    found = bases(desk.shelf)
    if key not in found:
        raise CannotSwap(f"“{key}” is no base without gluten here: choose {', '.join(found) or 'none, add one first'}.")
    return found[key]


def _bind(desk: _Desk, diet: Diet, base_key: str, binder_key: str) -> None:
    """Put in what binds instead of gluten."""
    if binder_key not in diet.binder:
        raise CannotSwap(f"“{binder_key}” is no binder known here: choose {', '.join(diet.binder)}.")
    binder = diet.binder[binder_key]
    _base(desk, base_key)
    # All the flour there is now, what was without gluten already too: it was held together by what has left.
    weight = sum(change.after_g for change in desk.added.values() if change.ingredient.role in MEAL)
    weight += sum(desk.weight(number) for number in range(len(desk.lines)) if desk.item(number).role in MEAL)
    _known(desk.shelf, binder.ingredient)
    desk.add(binder.ingredient, weight * binder.percent / 100, "binds instead of gluten")
    desk.water_g += binder.drinks * weight * binder.percent / 100
    desk.remarks.append(
        f"{binder.name.capitalize()} binds it; give it half an hour to absorb. Then roll it between two sheets, or "
        "press it."
    )
    if binder.key == "enzyme":
        desk.remarks.append("The powder is an enzyme: weigh it without raising dust, and wear a mask.")

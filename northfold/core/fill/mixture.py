"""A mixture beside the dough: what it is made of, what it is for the tin and for the oven, what it holds."""

import re
from collections import defaultdict
from dataclasses import dataclass, replace
from functools import cache, cached_property

from northfold.core.data import table
from northfold.core.errors import CoreError
from northfold.core.fill.produce import SOLID_G_ML, Produce, produce_of
from northfold.core.fill.starch import Starch, starches
from northfold.core.formula.ratio import DoughLine, LineFigures, counts_as
from northfold.core.matter import Composition, Ingredient
from northfold.core.matter.keeping import goes_off_soon
from northfold.core.matter.thermal import dough_composition

# What a formula is where it is no mixture; the role of a mixture in another one.
DOUGH, MIXTURE = "dough", "mixture"
# When a layer goes in, in the order of the work, and where it lies, from below.
RAW, BETWEEN, COOLED, TOP = "raw", "between", "cooled", "top"
WHENS = {
    RAW: "raw",
    BETWEEN: "between bakes",
    COOLED: "into the cold case",
    TOP: "on top, cold",
}
UNDER, IN, OVER = "under", "in", "over"
POSITIONS = {UNDER: "under", IN: "in the middle", OVER: "over"}
# Sugar, cream and what else lies in the voids between pieces. [g/ml] Assumption.
LIQUID_G_ML = 1.1
# From so much of its fruit on a filling behaves as fruit; from so much egg it sets by egg. [shares] Assumptions.
MAINLY, SETS_BY_EGG = 0.4, 0.12
# Kinds that may lie in pieces; fruit that is held at its heat until it is soft.
LOOSE = frozenset({"filling", "topping"})
# Kinds that are kept in the cold whatever lies under them.
KEPT_COLD = frozenset({"cream", "curd", "custard", "meringue"})
FIRM_FRUIT = frozenset({"apple", "quince", "pear"})


class MixtureTooEmpty(CoreError):
    """A mixture without any weight."""

    code = "empty_mixture"

    def __init__(self, name: str) -> None:
        super().__init__(f"{name or 'This mixture'} holds nothing yet: add a line such as 600 g gooseberries.")


@dataclass(frozen=True)
class MixtureKind:
    """
    A row of the table of kinds.

    `bulk` where its lines do not say otherwise [g/ml]; `settles` cooked or poured [share]; `poured`: it runs into what
    lies there; `inside` what it is in the oven; `when` and `position` a layer of it usually goes; it `keeps_h` in the
    fridge [h], is cooked to `cooked_c`, 0 where it is not; cooked, it `goes_in_c` into a cold case, 0 for as cold as
    the fridge. [°C]
    """

    key: str
    name: str
    words: tuple[str, ...]
    bulk: float
    when: str
    keeps_h: float
    settles: float = 0.0
    poured: bool = False
    inside: str = ""
    position: str = IN
    cooked_c: float = 0.0
    goes_in_c: float = 0.0


@cache
def mixture_kinds() -> dict[str, MixtureKind]:
    """All kinds of mixtures by key, those with the plainest words first."""
    return {key: MixtureKind(key, **{**row, "words": tuple(row["words"])}) for key, row in table("mixtures").items()}


@cache
def _words() -> dict[str, re.Pattern[str]]:
    return {
        key: re.compile(rf"\b(?:{'|'.join(map(re.escape, kind.words))})s?\b", re.IGNORECASE)
        for key, kind in mixture_kinds().items()
    }


def figures_of(mixture: "Mixture") -> tuple[LineFigures, ...]:
    """What each line brings: its share of the whole [%], its fat and water [g]. None counts as flour, fat or liquid."""
    whole = mixture.grams or 1.0
    return tuple(
        LineFigures(
            100 * line.grams / whole,
            line.grams * line.ingredient.composition.fat,
            line.grams * line.ingredient.composition.water,
            counts_as(line.ingredient, starch_is_flour=True),
        )
        for line in mixture.lines
    )


def kind_named(said: str) -> str:
    """The kind of a mixture by its heading or its name, "filling" where nothing else is said."""
    return next((key for key, words in _words().items() if words.search(said)), "filling")


@dataclass(frozen=True)
class Mixture:
    """A mixture as its lines have it, raw and ready for use: its name, its kind's key, each line's weight. [g]"""

    name: str
    kind: str
    lines: tuple[DoughLine, ...]

    def times(self, factor: float) -> "Mixture":
        """So many times as much of it. [ratio]"""
        return Mixture(self.name, self.kind, tuple(replace(line, grams=line.grams * factor) for line in self.lines))

    @property
    def of_kind(self) -> MixtureKind:
        return mixture_kinds()[self.kind]

    @cached_property
    def grams(self) -> float:
        """All of it. [g]"""
        return sum(line.grams for line in self.lines)

    @cached_property
    def goes_off(self) -> bool:
        """Whether it must not stand warm: egg, milk, cream, meat, fish, vegetables; jam and syrup may."""
        used = [line.ingredient for line in self.lines if line.grams]
        return (
            self.kind in KEPT_COLD
            or bool(goes_off_soon(used))
            or any(each.role in ("meat", "fish", "vegetable") for each in used)
        )

    @cached_property
    def composition(self) -> Composition:
        """Shares of its mass. Raises MixtureTooEmpty where nothing weighs anything."""
        if self.grams <= 0:
            raise MixtureTooEmpty(self.name)
        return dough_composition((line.ingredient, line.grams) for line in self.lines)

    @cached_property
    def produce(self) -> tuple[tuple[Produce, float], ...]:
        """Its fruit, vegetables and the like, each with its weight. [g]"""
        rows = ((produce_of(line.ingredient), line.grams) for line in self.lines)
        return tuple((row, grams) for row, grams in rows if row is not None and grams)

    @property
    def produce_g(self) -> float:
        return sum(grams for _, grams in self.produce)

    @cached_property
    def fruit(self) -> tuple[tuple[Produce, float], ...]:
        """What of it gives juice, each with its weight. [g]"""
        return tuple((row, grams) for row, grams in self.produce if row.juice)

    @property
    def main_fruit(self) -> str:
        """The fruit that there is most of, under which juice and settling are learned; empty without."""
        rows = ((line.grams, line.ingredient.name, produce_of(line.ingredient)) for line in self.lines)
        found = [(grams, name) for grams, name, row in rows if row is not None and row.juice and grams]
        return max(found)[1] if found else ""

    @cached_property
    def sugar_g(self) -> float:
        """Sugar that is strewn over it. [g]"""
        return sum(line.grams for line in self.lines if line.ingredient.role == "sugar")

    @cached_property
    def starch(self) -> tuple[tuple[Starch, float], ...]:
        """What binds its juice, each with its weight. [g]"""
        known = starches()
        rows = ((known.get(line.ingredient.name), line.grams) for line in self.lines)
        # Flour of a crumble or a batter binds no juice: it is the thing itself.
        binds = self.kind == "filling" and bool(self.fruit)
        return tuple((row, grams) for row, grams in rows if row is not None and grams and binds)

    @property
    def is_acid(self) -> bool:
        """Whether its juice is sharp: most of its fruit is, or it was soured."""
        sharp = sum(grams for row, grams in self.fruit if row.acid)
        soured = any(line.ingredient.role == "acid" and line.grams for line in self.lines)
        return soured or sharp > MAINLY * sum(grams for _, grams in self.fruit)

    @cached_property
    def bulk_g_ml(self) -> float:
        """
        As it lies in a tin, raw: pieces by their own rows, what is between them in their voids; else as its kind.
        [g/ml]
        """
        if not self.is_loose:
            return self.of_kind.bulk
        pieces = sum(grams / row.bulk for row, grams in self.produce)
        voids = max(0.0, pieces - self.produce_g / SOLID_G_ML)
        between = (self.grams - self.produce_g) / LIQUID_G_ML
        return self.grams / (pieces + max(0.0, between - voids))

    @property
    def is_loose(self) -> bool:
        """Whether it lies in pieces, as its fruit or vegetables do; a crumble or a batter is a thing of its own."""
        return self.kind in LOOSE and self.produce_g >= MAINLY * self.grams

    @property
    def voids_share(self) -> float:
        """Of its volume in a tin, air that something poured runs into. [share]"""
        if not self.is_loose:
            return 0.0
        whole = self.grams / self.bulk_g_ml
        solid = self.produce_g / SOLID_G_ML + (self.grams - self.produce_g) / LIQUID_G_ML
        return max(0.0, 1 - solid / whole)

    @property
    def settles(self) -> float:
        """In the oven, raw. [share of its height]"""
        if not self.is_loose:
            return self.of_kind.settles
        return sum(row.settles * grams for row, grams in self.produce) / self.produce_g

    @cached_property
    def inside(self) -> str:
        """What it is in the oven, a key of its table: by its kind, else by what it is mostly made of."""
        if self.of_kind.inside:
            return self.of_kind.inside
        by_role: dict[str, float] = defaultdict(float)
        for line in self.lines:
            by_role[line.ingredient.role] += line.grams
        for role, key in (("fish", "fish"), ("meat", "meat")):
            if by_role[role]:
                poultry = key == "meat" and all(
                    line.ingredient.name == "chicken" for line in self.lines if line.ingredient.role == role
                )
                return "poultry" if poultry else key
        if by_role["egg"] >= SETS_BY_EGG * self.grams:
            return "egg"
        if by_role["fruit"] >= MAINLY * self.grams:
            firm = sum(line.grams for line in self.lines if line.ingredient.name in FIRM_FRUIT)
            return "apple" if firm > by_role["fruit"] / 2 else "fruit"
        nuts = by_role["nut"] + by_role["sugar"]
        if nuts >= MAINLY * self.grams and by_role["nut"]:
            return "sponge"
        return "cheese" if by_role["dairy"] >= MAINLY * self.grams else "vegetables"

    @property
    def holds(self) -> tuple[str, ...]:
        """Its allergens, each once."""
        return tuple(dict.fromkeys(each for line in self.lines if line.grams for each in line.ingredient.allergens))

    @property
    def may_hold(self) -> tuple[str, ...]:
        """What a pack says it may hold, where nothing is known to."""
        may = dict.fromkeys(each for line in self.lines if line.grams for each in line.ingredient.may_hold)
        return tuple(each for each in may if each not in self.holds)

    @property
    def keeps_h(self) -> float:
        """In the fridge: as its kind, shorter with raw meat or fish, egg or milk. [h] Usual guidance."""
        raw = any(line.ingredient.role in ("meat", "fish") and line.grams for line in self.lines)
        rich = bool(goes_off_soon(line.ingredient for line in self.lines if line.grams))
        return min(self.of_kind.keeps_h, 24.0 if raw else 48.0 if rich else self.of_kind.keeps_h)


def as_ingredient(mixture: Mixture) -> Ingredient:
    """A mixture as a line of another one takes it: what it is made of, what it holds, how it lies in a cup."""
    density = mixture.bulk_g_ml
    return Ingredient(
        name=mixture.name,
        role=MIXTURE,
        composition=mixture.composition,
        g_per_ml_low=density,
        g_per_ml=density,
        g_per_ml_high=density,
        allergens=mixture.holds,
        may_hold=mixture.may_hold,
        source="a mixture of this kitchen",
    )

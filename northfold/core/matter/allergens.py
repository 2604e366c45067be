"""What of the fourteen allergens a thing holds, with cereals and nuts by name, and where in it they are."""

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cache

from northfold.core.data import table
from northfold.core.matter.ingredients import ALLERGENS, Ingredient

DOUGH = "dough"


@dataclass(frozen=True)
class Held:
    """
    One allergen of a make: the cereals or nuts it comes from by name, and the layers that hold it.

    `may` where nothing is known to hold it, but a pack says that it may.
    """

    allergen: str
    of: tuple[str, ...] = ()
    layers: tuple[str, ...] = ()
    may: bool = False

    @property
    def is_elsewhere(self) -> bool:
        """Whether the dough itself is without it."""
        return bool(self.layers) and DOUGH not in self.layers

    @property
    def words(self) -> str:
        """ "gluten (wheat, rye)"; "egg, in the glaze" where the dough itself holds none."""
        named = f"{self.allergen} ({', '.join(self.of)})" if self.of else self.allergen
        if self.is_elsewhere:
            named += f", in the {' and '.join(self.layers)}"
        return named


@dataclass(frozen=True)
class Layer:
    """
    A part of a make: its name, what it is made of, and allergens that its maker has ticked.

    `words` name nothing on the shelf, such as a recipe's "30 g flaked almonds" or a filling's own name; `free_of` is
    what they say that it does not hold.
    """

    name: str
    ingredients: Sequence[Ingredient]
    ticked: Sequence[str] = ()
    words: str = ""
    free_of: frozenset[str] = frozenset()


@cache
def _words() -> dict[str, dict[str, tuple[str, ...]]]:
    return {
        allergen: {name: tuple(words) for name, words in rows.items()} for allergen, rows in table("allergens").items()
    }


def names_of(ingredient: Ingredient, allergen: str) -> tuple[str, ...]:
    """The cereal or nut by which an ingredient holds an allergen; its own name where no word tells; none for others."""
    rows = _words().get(allergen)
    if rows is None or allergen in rows:
        return ()
    text = f" {ingredient.name.lower().replace(',', ' ')} "
    found = next((name for name, words in rows.items() if any(f" {word}" in text for word in words)), ingredient.name)
    return (found,)


# The second word is no milk, egg or nut here: "coconut milk", "cocoa butter", "nutmeg".
_NO_SUCH = re.compile(
    r"\b((?:coconut|almond|oat|soya?|rice|hazelnut|cashew|hemp|pea)) (?:milk|cream|yogh?urt|butter|drink)\b"
    r"|\b((?:cocoa|shea|apple|peanut|nut|fruit|vegan|plant)) butter\b"
    r"|\b(?:cream of tartar|oyster mushrooms?|crab ?apples?|pine nuts?|egg ?plants?|butter ?beans?|butternuts?)\b",
    re.IGNORECASE,
)


@cache
def _named() -> tuple[tuple[str, str, re.Pattern[str]], ...]:
    """What words look like that name an allergen, each with its cereal or nut: (allergen, name or "", pattern)."""
    return tuple(
        (
            allergen,
            "" if name == allergen else name,
            re.compile(rf"\b(?:{'|'.join(map(re.escape, words))})(?:e?s)?\b", re.IGNORECASE),
        )
        for allergen, rows in _words().items()
        for name, words in rows.items()
    )


def read_in(text: str) -> tuple[tuple[str, str], ...]:
    """
    Allergens that words name where nothing on the shelf does, each with its cereal or nut: (allergen, name or "").

    A reading of words, so that nothing is missed: packs come first.
    """
    plain = _NO_SUCH.sub(lambda m: m[1] or m[2] or " ", text)
    return tuple((allergen, name) for allergen, name, pattern in _named() if pattern.search(plain))


def held_by(layers: Iterable[Layer]) -> tuple[Held, ...]:
    """
    The allergens of a make in all its layers.

    Parameters
    ----------
    layers : iterable of Layer
        Dough first, then filling, glaze, grease and dusting.

    Returns
    -------
    tuple of Held
        In the order of `ALLERGENS`, those that are held before those that only may be.
    """
    found: dict[tuple[bool, str], tuple[dict[str, None], dict[str, None]]] = {}

    def note(allergen: str, layer: str, names: Iterable[str], *, may: bool) -> None:
        of, where = found.setdefault((may, allergen), ({}, {}))
        of.update(dict.fromkeys(names))
        where[layer] = None

    for layer in layers:
        for item in layer.ingredients:
            for allergen in item.allergens:
                note(allergen, layer.name, names_of(item, allergen), may=False)
            for allergen in item.may_hold:
                note(allergen, layer.name, (), may=True)
        for allergen in layer.ticked:
            note(allergen, layer.name, (), may=False)
        for allergen, name in read_in(layer.words):
            if allergen in layer.free_of:
                continue
            note(allergen, layer.name, (name,) if name else (), may=False)
    return tuple(
        Held(allergen, tuple(found[key][0]), tuple(found[key][1]), may)
        for may in (False, True)
        for allergen in ALLERGENS
        if (key := (may, allergen)) in found and not (may and (False, allergen) in found)
    )


def said(held: Iterable[Held]) -> str:
    """All of it in words: "gluten (wheat), milk, may hold nuts"; empty where there is nothing."""
    held = tuple(held)
    parted = "; " if any(each.is_elsewhere for each in held) else ", "
    certain = parted.join(each.words for each in held if not each.may)
    perhaps = ", ".join(each.words for each in held if each.may)
    return "; ".join(part for part in (certain, f"may hold {perhaps}" if perhaps else "") if part)

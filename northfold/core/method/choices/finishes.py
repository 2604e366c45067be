"""What goes onto and around a dough in the making: glaze, seal, grease, dusting; never an allergen it does not hold."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache

from northfold.core.data import table
from northfold.core.formula.parts import BRUSHING, GLAZE
from northfold.core.formula.ratio import DoughLine, has_gluten
from northfold.core.formula.readout import SAVOURY_BELOW
from northfold.core.matter import Ingredient, reference_ingredients
from northfold.core.matter.allergens import Layer
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import EditReader
from northfold.core.method.choices.step_kinds import step_kinds

# When a glaze goes on.
BEFORE, MIDWAY, AFTER = "before", "midway", "after"
# Under which layer the parts of a recipe are told.
LAYER_OF = {"brushing": "glaze", "greasing": "grease", "sprinkling": "finish"}


def used_finishes(entries: Sequence[str], *, part_baked: bool) -> tuple[str, ...]:
    """Which finishes the steps of a route put on; a seal only where the case goes back in."""
    kinds = [step_kinds()[key] for key in entries if key in step_kinds()]
    found = [name for kind in kinds for name in kind.puts_on if kind.key != step_keys.SEAL or part_baked]
    return tuple(dict.fromkeys(found))


@dataclass(frozen=True)
class PartLine:
    """A line of the recipe that is not of the dough: what it is for, its words, its ingredient where it is known."""

    part: str
    ingredient: Ingredient | None
    text: str = ""


@dataclass(frozen=True)
class Finish:
    """
    Something brushed, greased or strewn: the key of the choice, its words, what it is made of, why.

    A coat takes `g_cm2` [g/cm²]; before the bake it makes the top colour `washes` times faster; `when` it usually goes
    on; `is_warm` as it is brushed on, or dry and `is_strewn`.
    """

    key: str
    words: str
    ingredients: tuple[Ingredient, ...] = ()
    why: str = ""
    g_cm2: float = 0.0
    washes: float = 1.0
    when: str = BEFORE
    is_warm: bool = False
    is_strewn: bool = False

    @property
    def is_raw_egg(self) -> bool:
        return self.key in ("egg", "yolk", "white")


def _known(name: str) -> tuple[Ingredient, ...]:
    return (reference_ingredients()[name],)


@cache
def glazes() -> dict[str, Finish]:
    """What a piece is brushed or strewn with, by key, in the order of the table."""
    found = {}
    for key, row in table("glazes").items():
        of = _known(row["of"]) if "of" in row else ()
        when, warm, strewn = row.get("when", BEFORE), row.get("warm", False), row.get("strewn", False)
        found[key] = Finish(key, row["words"], of, "", row["g_cm2"], row.get("washes", 1.0), when, warm, strewn)
    return found


@dataclass(frozen=True)
class Finishes:
    """All that may go onto a dough; a route uses those of its steps. Strewn and dusted is only what its maker wants."""

    glaze: Finish
    seal: Finish
    fat: Finish
    grease: Finish
    dust: Finish
    crumbs: Finish
    strewn: Finish | None = None
    dusted: Finish | None = None

    def layers(self, used: Sequence[str]) -> list[Layer]:
        """Those that a make uses, as layers for the allergens."""
        names = {"fat": "brushing", "grease": "grease", "dust": "dusting", "crumbs": "crumbs"}
        found = [Layer(names.get(name, name), getattr(self, name).ingredients) for name in used]
        if self.strewn is not None and "glaze" in used:
            found.append(Layer("finish", self.strewn.ingredients))
        if self.dusted is not None:
            found.append(Layer("finish", self.dusted.ingredients))
        return found


def finish_words(found: Finishes) -> dict[str, str]:
    """What the texts of steps and tools may name: each finish, with a capital too, and why it is not the usual one."""
    words = {name: getattr(found, name).words for name in ("glaze", "seal", "fat", "grease", "crumbs")}
    capitals = {name.capitalize(): text.capitalize() for name, text in words.items()}
    thin = "thin it with 5 g water to an egg;" if found.glaze.is_raw_egg else "less on the brush;"
    return {**words, **capitals, "glaze_why": found.glaze.why, "seal_why": found.seal.why, "thin_it": thin}


def _holds(lines: Sequence[DoughLine], allergen: str) -> bool:
    return any(allergen in line.ingredient.allergens for line in lines if line.grams)


def main_fat(lines: Sequence[DoughLine]) -> Ingredient | None:
    """The fat there is most of; None without one."""
    fats = [line for line in lines if line.ingredient.fat is not None and line.grams]
    return max(fats, key=lambda line: line.grams).ingredient if fats else None


def dusting_flour(lines: Sequence[DoughLine]) -> Ingredient:
    """What the bench is dusted with: the dough's own main flour, a plain one for a soft; rice where none has gluten."""
    flours = [line for line in lines if line.ingredient.role in ("flour", "starch") and line.grams]
    main = max(flours, key=lambda line: line.grams).ingredient if flours else None
    if main is None or not has_gluten(lines):
        safe = main if main is not None and not main.allergens and main.role == "flour" else None
        return safe or reference_ingredients()["rice flour"]
    return reference_ingredients()["plain flour"] if main.name == "soft flour" else main


def finishes(lines: Sequence[DoughLine], parts: Sequence[PartLine], sugar_pct: float, edits: EditReader) -> Finishes:
    """
    What a dough is glazed, sealed, greased and dusted with.

    Parameters
    ----------
    lines : sequence of DoughLine
        The dough. [g]
    parts : sequence of PartLine
        What its recipe says of glaze and brushing.
    sugar_pct : float
        Of the dough. [% of flour]
    edits : EditReader
        Of the steps "glaze" and "seal": with; what is strewn and dusted over it.

    Returns
    -------
    Finishes
        As the maker chose, else as the recipe says, else what brings no allergen that the dough does not hold.
    """
    fat = main_fat(lines)
    has_oil = fat is None or fat.is_oil
    fat_words = "oil" if fat is None or fat.is_oil else f"melted {_short(fat)}"
    brushed = replace(glazes()["fat"], words=fat_words, ingredients=(fat,) if fat is not None else ())
    choices = {**glazes(), "fat": brushed}
    oil = choices["oil"]
    flour = dusting_flour(lines)
    gluten = has_gluten(lines)
    strewn, dusted = edits.word(step_keys.GLAZE, "strew"), edits.word(step_keys.DUST, "with")
    return Finishes(
        strewn=glazes()[strewn] if strewn else None,
        dusted=glazes().get(dusted or ""),
        glaze=_glaze(lines, parts, sugar_pct, edits, choices),
        seal=_seal(lines, edits, choices),
        fat=brushed,
        grease=Finish("fat", "oil" if has_oil else f"soft {_short(fat)}", brushed.ingredients or oil.ingredients),
        dust=Finish("flour", flour.name, (flour,)),
        crumbs=Finish("crumbs", "dry breadcrumbs", _known("plain flour"))
        if gluten
        else Finish("crumbs", "dry crumbs without gluten"),
    )


def _short(fat: Ingredient | None) -> str:
    name = fat.name if fat else "fat"
    return "butter" if name in ("unsalted butter", "salted butter", "dry laminating butter") else name


def _glaze(
    lines: Sequence[DoughLine],
    parts: Sequence[PartLine],
    sugar_pct: float,
    edits: EditReader,
    choices: dict[str, Finish],
) -> Finish:
    chosen = edits.word(step_keys.GLAZE, "with")
    if chosen:
        return choices[chosen]
    for part in parts:
        if part.part in (GLAZE, BRUSHING) and part.ingredient is not None:
            role = part.ingredient.role
            key = {"egg": "egg", "fat": "fat", "sugar": "syrup"}.get(role)
            key = "milk" if "milk" in part.ingredient.allergens and role in ("liquid", "dairy") else key
            if key:
                return replace(choices[key], ingredients=(part.ingredient,), why="As the recipe says.")
    if _holds(lines, "egg"):
        return choices["egg"]
    if _holds(lines, "milk"):
        return replace(choices["milk"], why="The dough holds no egg, so none goes on it.")
    key = "oil" if sugar_pct < SAVOURY_BELOW else "syrup"
    why = "The dough holds neither egg nor milk, so neither goes on it."
    return replace(choices[key], why=why)


def _seal(lines: Sequence[DoughLine], edits: EditReader, choices: dict[str, Finish]) -> Finish:
    chosen = edits.word(step_keys.SEAL, "with")
    if chosen:
        return choices[chosen]
    if _holds(lines, "egg"):
        return choices["egg"]
    fat = choices["fat"]
    why = "The dough holds no egg, so none goes on it; a dry layer under the filling works too."
    return replace(fat, why=why)

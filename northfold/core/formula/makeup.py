"""What a dough is made up of, in the words makers use: which fat, which liquid."""

from collections.abc import Sequence

from northfold.core.formula.ratio import DoughLine

# A fat or liquid below this share of its kind does not name the dough. [share] Assumption.
NAMED_FROM = 0.05


def fat_makeup(lines: Sequence[DoughLine]) -> str:
    """Which fat a dough takes: all butter, butter with lard or shortening, all lard or shortening, oil, none."""
    fats = [line for line in lines if line.ingredient.role == "fat" and line.grams > 0]
    whole = sum(line.grams for line in fats)
    if not whole:
        return ""

    def share(kind: str) -> float:
        return sum(line.grams for line in fats if _kind(line) == kind) / whole

    if share("oil") > 0.5:
        return "oil"
    kinds = [kind for kind in ("butter", "other") if share(kind) >= NAMED_FROM]
    if kinds == ["butter"]:
        return "all butter"
    others = list(dict.fromkeys(line.ingredient.name for line in fats if _kind(line) == "other"))
    return f"butter with {' and '.join(others)}" if "butter" in kinds else f"all {' and '.join(others)}"


def _kind(line: DoughLine) -> str:
    if line.ingredient.is_oil:
        return "oil"
    return "butter" if "milk" in line.ingredient.allergens else "other"


def liquid_makeup(lines: Sequence[DoughLine]) -> str:
    """Which liquid a dough takes: water only, egg, yolk, raw and cooked yolk, part spirit or wine, a little acid."""
    named = {line.ingredient.name: line for line in lines if line.grams > 0}
    found = []
    if {"egg yolk", "cooked egg yolk"} <= named.keys():
        found.append("raw and cooked yolk")
    else:
        found += [name for name in ("whole egg", "egg yolk", "cooked egg yolk", "egg white") if name in named]
    wet = [line for line in named.values() if line.ingredient.role == "liquid" and line.ingredient.name != "water"]
    spirits = [line for line in wet if line.ingredient.composition.alcohol]
    found += [line.ingredient.name for line in wet if line not in spirits]
    if "water" in named:
        found.insert(0, "water")
    if spirits:
        found.append("part spirit or wine")
    if any(line.ingredient.role == "acid" for line in named.values()):
        found.append("a little acid")
    return "water only" if found == ["water"] else ", ".join(found)

"""Which cautions a step carries: one table, each with where and when it is said."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cache

from northfold.core.data import table
from northfold.core.formula.ratio import DoughLine
from northfold.core.matter.fillings import Risk
from northfold.core.matter.keeping import is_rich
from northfold.core.method.choices.finishes import Finishes
from northfold.core.method.choices.schools import Manner
from northfold.core.shape.blanks import Piece

FIRST_BAKE = "first bake"
# A wait from which on a lean dough's keeping time is worth a word. [min] Assumption.
LONG_WAIT_MIN = 60.0


@dataclass(frozen=True)
class Caution:
    """One caution: its text, the steps it may stand at, what must hold and what must not."""

    key: str
    text: str
    steps: tuple[str, ...]
    when: frozenset[str]
    unless: frozenset[str]

    def is_at(self, step_key: str, *, is_first_bake: bool) -> bool:
        """Whether it may stand at a step."""
        return any(
            (place == FIRST_BAKE and is_first_bake)
            or step_key == place
            or (place[-1] == "." and step_key.startswith(place))
            for place in self.steps
        )


@cache
def cautions() -> tuple[Caution, ...]:
    """All cautions, in the order in which they are said."""
    return tuple(
        Caution(
            key,
            row["text"],
            tuple(row["steps"]),
            frozenset(row.get("when", ())),
            frozenset(row.get("unless", ())),
        )
        for key, row in table("cautions").items()
    )


def caution_text(key: str) -> str:
    """The words of one caution, where they are said of something else than a step."""
    return next(each.text for each in cautions() if each.key == key)


def circumstances(
    lines: Sequence[DoughLine],
    pieces: Iterable[Piece],
    manner: Manner,
    weighted: bool,
    allergens: Sequence[str],
    finishes: Finishes,
    risk: Risk | None,
) -> frozenset[str]:
    """What of a make decides on its cautions, in the words of the table."""
    used = [line.ingredient for line in lines if line.grams]
    materials = {piece.item.tin.material for piece in pieces if piece.item.tin.is_vessel}
    found = {
        "allergens": bool(allergens),
        "enzyme": any("transglutaminase" in item.name for item in used),
        "raw egg": any(item.role == "egg" and "cooked" not in item.name for item in used),
        "egg or milk": is_rich(used),
        # A flavouring on alcohol, such as vanilla, is none to speak of.
        "alcohol": any(item.composition.alcohol for item in used if item.role == "liquid"),
        "machine": manner.is_by_machine,
        "raw egg glaze": finishes.glaze.is_raw_egg,
        "raw egg seal": finishes.seal.is_raw_egg,
        "risky filling": risk is not None,
        "weights": weighted,
        "breakable": bool(materials & {"glass", "ceramic"}),
        "iron": "cast_iron" in materials,
    }
    return frozenset({manner.mixing.key, *(word for word, holds in found.items() if holds)})


@cache
def _cautions_at(step_key: str, *, is_first_bake: bool) -> tuple[Caution, ...]:
    """Those that may stand at a step."""
    return tuple(each for each in cautions() if each.is_at(step_key, is_first_bake=is_first_bake))


def caution_of(step_key: str, holds: frozenset[str], figures: dict[str, str], *, is_first_bake: bool = False) -> str:
    """All that is said of a step, where `holds` are the circumstances; its figures filled in."""
    said = [
        each.text.format(**figures)
        for each in _cautions_at(step_key, is_first_bake=is_first_bake)
        if each.when <= holds and not each.unless & holds
    ]
    return " ".join(said)

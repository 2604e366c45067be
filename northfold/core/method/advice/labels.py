"""What stands on the label of a piece as it is sold: what, when made, until when, what it holds layer by layer."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from northfold.core.bake.kinds import PART
from northfold.core.matter import ALLERGENS
from northfold.core.matter.allergens import Held, Layer, held_by
from northfold.core.method.advice.sold import Sold, sold
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import EditReader
from northfold.core.method.choices.finishes import used_finishes
from northfold.core.method.plan import Plan, finishes_of
from northfold.core.method.reckon.contents import layers_of
from northfold.core.method.route.routes import route_kinds
from northfold.core.method.words import named

# What needs the cold is kept so. [°C] Usual guidance; local codes come first.
KEPT_C = 5.0


@dataclass(frozen=True)
class Label:
    """
    The label of one kind of piece.

    `contains` and `may_hold` are allergens, cereals and nuts by name; `by_layer` each layer with those that it holds.
    It weighs `grams`, a slice of it where there are `slices` [g]; kept `cold` at 5 °C or below. Guidance.
    """

    made: date
    use_by: date
    contains: str
    may_hold: str
    by_layer: tuple[tuple[str, str], ...]
    grams: float
    slices: int
    cold: bool

    @property
    def keep(self) -> str:
        """How it is kept, in a word or two."""
        return f"Keep at {KEPT_C:.0f} °C or below." if self.cold else "Keep cool and dry."


def layers_in(plan: Plan, number: int) -> list[Layer]:
    """The layers of one product alone, counted from 1: dough, its own fillings, what its own steps put on."""
    inputs, product = plan.inputs, plan.of_item(number)
    found = layers_of(inputs.lines, inputs.apart, (inputs.items[number - 1],), (inputs.layers_of(number),))
    kind = route_kinds().get(product.route.kind) if product.route else None
    if kind is not None:
        part_baked = EditReader(plan.edits).of_item(number).word(step_keys.BAKE_OFF, "until") == PART
        found += finishes_of(plan).layers(used_finishes(kind.steps, part_baked=part_baked))
    return found


def labels(plan: Plan, made: date) -> tuple[Label, ...]:
    """
    The labels of a make’s pieces, one for each kind.

    Parameters
    ----------
    plan : Plan
        With its bake worked out.
    made : date
        The day that it comes out of the oven.

    Returns
    -------
    tuple of Label
        None where the bake is not worked out. Use-by = made + whole days that the part that keeps shortest keeps.
    """
    return tuple(_label(plan, number, each, made) for number, each in enumerate(sold(plan, {}), 1))


def _label(plan: Plan, number: int, of: Sold, made: date) -> Label:
    layers = layers_in(plan, number)
    held = held_by(layers)
    certain, may = [each for each in held if not each.may], [each for each in held if each.may]
    return Label(
        made=made,
        use_by=made + timedelta(days=int(of.keeps_days)),
        contains=named([_plain(each) for each in certain]),
        may_hold=named([_plain(each) for each in may]),
        by_layer=tuple((name, named([_plain(each) for each in of])) for name, of in _each(layers) if of),
        grams=of.slice_g,
        slices=of.slices,
        cold=of.cold,
    )


def _plain(held: Held) -> str:
    """An allergen with its cereals or nuts, wherever it is."""
    return f"{held.allergen} ({', '.join(held.of)})" if held.of else held.allergen


def _each(layers: Sequence[Layer], *, may: bool = False) -> list[tuple[str, list[Held]]]:
    """Each layer by its name with what it holds itself, those of one name together."""
    by_name: dict[str, list[Layer]] = {}
    for layer in layers:
        by_name.setdefault(layer.name, []).append(layer)
    return [(name, [each for each in held_by(of) if may or not each.may]) for name, of in by_name.items()]


@dataclass(frozen=True)
class SheetRow:
    """One of the fourteen on an allergen sheet: for each layer what it holds of it, `may` for a pack that says so."""

    allergen: str
    cells: tuple[str, ...]

    @property
    def is_held(self) -> bool:
        return any(self.cells)


def allergen_sheet(plan: Plan, number: int) -> tuple[tuple[str, ...], tuple[SheetRow, ...]]:
    """
    The allergen sheet of one product.

    Parameters
    ----------
    plan : Plan
        Sized.
    number : int
        The product, counted from 1.

    Returns
    -------
    tuple
        The layers across, and one row for each of the fourteen, held or not.
    """
    held = [(name, of) for name, of in _each(layers_in(plan, number), may=True) if of]
    rows = []
    for allergen in ALLERGENS:
        cells = []
        for _, of in held:
            mine = next((each for each in of if each.allergen == allergen), None)
            cells.append("" if mine is None else "may" if mine.may else ", ".join(mine.of) or "yes")
        rows.append(SheetRow(allergen, tuple(cells)))
    return tuple(name for name, _ in held), tuple(rows)

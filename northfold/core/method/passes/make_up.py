"""Second pass: what is made up of a dough: its pieces with their sizes, the route they take, the fold, the mix."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from northfold.core.errors import CoreError
from northfold.core.fill.layers import Filled
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import EditReader
from northfold.core.method.choices.kitchen import Setting
from northfold.core.method.choices.learned import Asking
from northfold.core.method.inputs import PlanInputs, check_loss
from northfold.core.method.passes.read_dough import DoughRead
from northfold.core.method.reckon.division import last_sheet, lead_piece
from northfold.core.method.reckon.filling import as_learned, lay_in
from northfold.core.method.reckon.lamination import Folding, plan_folding
from northfold.core.method.reckon.mixing import TOGETHER, Mixing, plan_mixing
from northfold.core.method.reckon.tempering import Tempered, tempering
from northfold.core.method.route.routes import NoRoute, RouteKind, routes_for
from northfold.core.shape.blanks import Item, Piece, piece


@dataclass(frozen=True)
class MadeUp:
    """
    What is settled of a make before it is worked.

    `pieces` without an allowance for the shrink [mm, g]; `kind` the route of the heaviest, or why there is none;
    `kinds` those of all; `folding` where it is laminated; `setting` the kitchen with the mixing that dough and route
    bring; `filled` the layers of each item, None where it has none; `at_hand` whether all of the dough comes out of the
    cold store.
    """

    items: tuple[Item, ...]
    pieces: tuple[Piece, ...]
    kind: RouteKind | NoRoute
    folding: Folding | None
    setting: Setting
    mixing: Mixing
    tempered: tuple[Tempered, ...]
    kinds: tuple[RouteKind, ...] = ()
    filled: tuple[Filled | None, ...] = ()
    at_hand: bool = False


def make_up(inputs: PlanInputs, dough: DoughRead, reader: EditReader, learned: Asking) -> MadeUp:
    """
    Settle what is made of a dough.

    Parameters
    ----------
    inputs : PlanInputs
        With at least one item.
    dough : DoughRead
        Read without an error.
    reader : EditReader
        A maker's own values.
    learned : Asking
        What records have taught.

    Returns
    -------
    MadeUp
        With the reason where its pieces have no route.

    Raises
    ------
    CoreError
        If a piece cannot be sized, or a temperature is out of range.
    """
    check_loss(inputs.loss)
    thick = [_as_thick(item, reader.of_item(number)) for number, item in enumerate(inputs.items, 1)]
    laid = [lay_in(item, as_learned(inputs.layers_of(number), learned)) for number, item in enumerate(thick, 1)]
    items = tuple(item for item, _ in laid)
    pieces = sized(inputs, dough, items)
    setting = inputs.worked_in
    kinds = _routes(dough, items, setting, reader)
    kind = kinds if isinstance(kinds, NoRoute) else kinds[pieces.index(lead_piece(pieces))]
    if dough.way == TOGETHER:
        setting = _mixed_by("developed" if "yeast" in dough.traits else "smooth", setting, inputs)
    folding: Folding | None = None
    if isinstance(kind, RouteKind) and kind.laminated:
        try:
            folding = folded(inputs, dough, setting, reader, pieces)
        except CoreError as error:
            kind = NoRoute(str(error), is_laminated=True)
    if isinstance(kind, RouteKind) and kind.mixing:
        setting = _mixed_by(kind.mixing, setting, inputs)
    ratio = dough.ratio
    assert ratio is not None
    # Of one mix, so that a handful of cases warms like a batch of them: mass moves no temperature.
    factor = needed_g(inputs, pieces) / ratio.total_g
    mixing = plan_mixing(dough.lines, factor, dough.blend, setting, reader, learned.friction, dough.way)
    tempered = tempering(dough.lines, factor, mixing, setting) if isinstance(kind, RouteKind) else ()
    settled = () if isinstance(kind, NoRoute) or isinstance(kinds, NoRoute) else kinds
    filled = tuple(found for _, found in laid)
    at_hand = is_at_hand(inputs, pieces, is_folded=folding is not None)
    tempered = () if at_hand else tempered
    return MadeUp(items, pieces, kind, folding, setting, mixing, tempered, settled, filled, at_hand)


def sized(
    inputs: PlanInputs,
    dough: DoughRead,
    items: Sequence[Item],
    percents: Sequence[float] = (),
    sheets: Sequence[tuple[float, float] | None] = (),
) -> tuple[Piece, ...]:
    """
    The pieces of items, cut larger by so much as the oven takes of each [% of length].

    From sheets no larger than the bench holds, and than said of each. [mm]
    """
    density, most = dough.density_kg_m3 or 0.0, inputs.setting.sheet_mm
    percents, sheets = percents or [0.0] * len(items), sheets or [None] * len(items)
    return tuple(
        piece(item, density, percent, sheet or most)
        for item, percent, sheet in zip(items, percents, sheets, strict=True)
    )


# So much more than bare pieces need lies there, and nothing is mixed: for the shrink. [ratio] Assumption.
AT_HAND = 1.05


def is_at_hand(inputs: PlanInputs, pieces: Sequence[Piece], *, is_folded: bool) -> bool:
    """Whether all of the dough comes out of the cold store; a laminated one is mixed for its packet."""
    return not is_folded and 0 < needed_g(inputs, pieces) * AT_HAND <= inputs.on_hand_g


def needed_g(inputs: PlanInputs, pieces: Sequence[Piece]) -> float:
    """Dough that pieces need, with what is lost on bowl and bench. [g]"""
    return sum(one.need_g for one in pieces) / (1 - inputs.loss)


def folded(
    inputs: PlanInputs, dough: DoughRead, setting: Setting, reader: EditReader, pieces: Sequence[Piece]
) -> Folding:
    """How a laminated dough is folded for pieces so large."""
    thickness_mm = lead_piece(pieces).item.thickness_mm
    return plan_folding(dough.lines, needed_g(inputs, pieces), thickness_mm, setting, reader, last_sheet(pieces))


def _as_thick(item: Item, edits: EditReader) -> Item:
    """An item as thick as it is rolled."""
    thickness = edits.number(step_keys.ROLL, "thickness_mm")
    return item if thickness is None else replace(item, thickness_mm=thickness)


def _routes(
    dough: DoughRead, items: Sequence[Item], setting: Setting, reader: EditReader
) -> tuple[RouteKind, ...] | NoRoute:
    worked = reader.school("worked", setting.schools).key
    sugar = dough.ratio.sugar if dough.ratio else 0.0
    return routes_for(items, dough.family, dough.traits, dough.how, sugar, "" if worked == "usual" else worked)


def _mixed_by(tool: str, setting: Setting, inputs: PlanInputs) -> Setting:
    """The kitchen where a dough is mixed so of itself; what its formula says of the mixing stands over that."""
    return replace(setting, schools=setting.schools.but((("mixing", tool), *inputs.schools)))

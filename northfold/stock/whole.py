"""The cold store as rows of a file, and back: lots with every gram that went in or out."""

from collections.abc import Iterator

from northfold.formats.kitchen import LotFile, MoveFile
from northfold.stock.models import Lot, Move
from northfold.web.whole import Arriving, Keys

LOT = ("what", "kind", "unit", "allergens", "rich", "made_at", "since", "thawed")


def lots_out(keys: Keys) -> Iterator[LotFile]:
    """All lots, those that are used up as well."""
    found = Lot.objects.select_related("formula", "place", "tin").prefetch_related("moves__by")
    for lot in found.order_by("made_at", "uuid"):
        moves = list(lot.moves.all())
        numbers = {move.pk: number for number, move in enumerate(moves, 1)}
        yield LotFile(
            id=str(lot.uuid), formula=str(lot.formula.uuid) if lot.formula else "", place=str(lot.place.uuid),
            tin=str(lot.tin.uuid) if lot.tin else "", source=keys.source(lot.source),
            **{name: getattr(lot, name) for name in LOT},
            moves=tuple(
                MoveFile(
                    amount=move.amount, at=move.at, by=move.by.username if move.by else "", why=keys.source(move.why),
                    undoes=numbers.get(move.undoes_id) if move.undoes_id else None,
                )
                for move in moves
            ),
        )  # fmt: skip


def take_lot(arriving: Arriving, file: LotFile) -> None:
    """A lot with its moves. Raises BadFile where its place, its tin or its formula is not there."""
    lot = Lot.objects.create(
        uuid=file.id, formula=arriving.known("book", file.formula) if file.formula else None,
        tin=arriving.known("tins", file.tin) if file.tin else None,
        place=arriving.known("places", file.place), source=arriving.keys.source(file.source),
        **{**{name: getattr(file, name) for name in LOT}, "allergens": list(file.allergens)},
    )  # fmt: skip
    moves: list[Move] = []
    for each in file.moves:
        move = Move.objects.create(
            lot=lot, amount=each.amount, at=each.at, by=arriving.person(each.by) if each.by else None,
            why=arriving.keys.source(each.why), undoes=moves[each.undoes - 1] if each.undoes else None,
        )  # fmt: skip
        moves.append(move)

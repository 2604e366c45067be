"""What planned makes take: to buy, to prepare, and their eggs together; for one make, a day, a week."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from typing import Any

from django.db.models import Max
from django.utils import timezone

from northfold.core.fill.egg_ledger import EGG_G, NAMES, WHITE, WHOLE, YOLK, EggFlow, EggLedger, EggUse, egg_ledger
from northfold.core.fill.produce import FILL_ROLES
from northfold.kitchen.models import PackPrice
from northfold.kitchen.queries import shelf
from northfold.makes import facts
from northfold.makes.models import Make
from northfold.stock.models import Lot
from northfold.stock.queries import eggs_at_hand

# Where things stand in a shop, in the order of a list: a heading, and the roles of ingredients under it.
AISLES = (
    ("Fruit, vegetables, meat, fish", FILL_ROLES),
    ("Fat, eggs, dairy", frozenset({"fat", "egg", "dairy", "liquid"})),
    ("Flour, grain, nuts", frozenset({"flour", "grain", "starch", "nut"})),
    ("Sugar and preserves", frozenset({"sugar", "sweetener", "preserve"})),
)
REST = "The rest"
# Nobody buys water.
FREE = frozenset({"water"})
# Of egg in the cold store, what it stands for.
KINDS = {WHITE: Lot.Kind.WHITES, YOLK: Lot.Kind.YOLKS, WHOLE: Lot.Kind.EGG}
LONGEST_DAYS = 31
# So many makes are named behind what they take.
NAMED_UP_TO = 2


@dataclass(frozen=True)
class Wanted:
    """One thing to buy: grams, whole packs of so many grams, what that costs; None without a price. For which makes."""

    name: str
    grams: float
    pack_g: float
    packs: int
    cost: float | None
    makes: tuple[str, ...]

    @property
    def for_whom(self) -> str:
        """For which makes, where they are few."""
        return ", ".join(self.makes) if len(self.makes) <= NAMED_UP_TO else f"{len(self.makes)} makes"


@dataclass(frozen=True)
class Prepared:
    """One mixture to prepare: how much, how long it keeps, its lines: name, preparation, grams, to buy. [g, h]"""

    name: str
    grams: float
    keeps_h: float
    lines: tuple[tuple[str, str, float, float], ...]
    makes: tuple[str, ...]


@dataclass(frozen=True)
class Taking:
    """What one make takes, that is planned or only proposed, see `facts.taken`. [g]"""

    name: str
    needs: dict[str, float]
    eggs: Sequence[Sequence[Any]]
    prepares: Sequence[dict[str, Any]]


@dataclass(frozen=True)
class Shopping:
    """What some makes take together. [currency]"""

    makes: tuple[Make, ...]
    aisles: tuple[tuple[str, tuple[Wanted, ...]], ...]
    prepared: tuple[Prepared, ...]
    eggs: EggLedger
    in_store: tuple[EggFlow, ...]
    cost: float
    unpriced: tuple[str, ...]


def makes_between(begins: date, days: int) -> list[Make]:
    """Planned makes that are due on these days."""
    zone = timezone.get_current_timezone()
    first = datetime.combine(begins, time(), zone)
    last = datetime.combine(begins + timedelta(days=min(days, LONGEST_DAYS)), time(), zone)
    found = Make.objects.kept().filter(state=Make.State.PLANNED, due_at__gte=first, due_at__lt=last)
    return list(found.select_related("formula_version__formula", "facts").order_by("due_at", "pk"))


def takings(makes: Sequence[Make]) -> list[Taking]:
    """What each of these makes takes, as far as it is planned."""
    known = facts.of_planned(make for make in makes if make.is_planned)
    found = [(make, known[make.pk]) for make in makes if make.pk in known]
    return [Taking(make.called, each.needs, each.eggs, each.prepares) for make, each in found]


def shopping(makes: Sequence[Make], more: Sequence[Taking] = ()) -> Shopping:
    """
    What makes take together, and `more` that are only proposed.

    Egg that keeps in the cold store goes in first, and halves of eggs that one use leaves into the next.
    """
    grams: dict[str, float] = {}
    for_whom: dict[str, dict[str, None]] = {}
    prepared: dict[tuple[str, Any], Prepared] = {}
    uses: list[EggUse] = []
    for found in (*takings(makes), *more):
        name = found.name
        for each, weight in found.needs.items():
            grams[each] = grams.get(each, 0.0) + weight
            for_whom.setdefault(each, {})[name] = None
        for row in found.prepares:
            # Versions of a mixture with other lines are told each by itself.
            key = row["name"], tuple((line, how) for line, how, *_ in row["lines"])
            prepared[key] = _with(prepared.get(key), row, name)
        uses += [EggUse(*row) for row in found.eggs]
    stored, flows = _from_store(uses)
    ledger = egg_ledger(stored, egg_g())
    lines = _lines(grams, for_whom, ledger)
    prices = [each.cost for _, rows in lines for each in rows]
    unpriced = tuple(each.name for _, rows in lines for each in rows if each.cost is None)
    return Shopping(
        makes=tuple(makes),
        aisles=lines,
        prepared=tuple(prepared.values()),
        eggs=ledger,
        in_store=flows,
        cost=sum(price for price in prices if price is not None),
        unpriced=unpriced,
    )


def egg_g() -> float:
    """What an egg of this kitchen weighs out of its shell. [g]"""
    egg = shelf().get("whole egg")
    return egg.unit_g if egg is not None and egg.unit_g else EGG_G


def _with(known: Prepared | None, row: dict[str, Any], make: str) -> Prepared:
    """A mixture with what one more make takes of it; its lines are the same ones."""
    lines = tuple((name, how, grams, buy) for name, how, grams, buy in row["lines"])
    grams, keeps = row["grams"], row["keeps_h"]
    if known is None:
        return Prepared(row["name"], grams, keeps, lines, (make,))
    added = tuple(
        (*one[:2], one[2] + other[2], one[3] + other[3]) for one, other in zip(known.lines, lines, strict=True)
    )
    return Prepared(known.name, known.grams + grams, keeps, added, tuple(dict.fromkeys((*known.makes, make))))


def _from_store(uses: Sequence[EggUse]) -> tuple[list[EggUse], tuple[EggFlow, ...]]:
    """The uses without what the cold store still has for them, and what of it goes where. [g]"""
    wanted = {KINDS[kind] for use in uses for kind in KINDS if getattr(use, f"{kind}_g")}
    left = {(each.lot.kind, each.lot.pk): each.lot.on_hand for each in eggs_at_hand(wanted, timezone.now())}
    found, flows = [], []
    for use in uses:
        weights = {kind: getattr(use, f"{kind}_g") for kind in KINDS}
        for (kind, lot), grams in left.items():
            mine = next(key for key, value in KINDS.items() if value == kind)
            taken = min(grams, weights[mine])
            if taken >= 1:
                weights[mine] -= taken
                left[kind, lot] = grams - taken
                flows.append(EggFlow(mine, taken, "the cold store", use.where))
        found.append(EggUse(use.where, weights[WHOLE], weights[YOLK], weights[WHITE]))
    return found, tuple(flows)


def _lines(
    grams: dict[str, float], for_whom: dict[str, dict[str, None]], ledger: EggLedger
) -> tuple[tuple[str, tuple[Wanted, ...]], ...]:
    """The list, aisle by aisle: eggs as they are bought, whole; what is free is left out."""
    known, packs = shelf(), _packs(grams)
    named = dict.fromkeys(name for each in NAMES for name in for_whom.get(each, ()))
    bought = {name: weight for name, weight in grams.items() if name not in NAMES and name not in FREE}
    if ledger.eggs:
        bought["whole egg"] = ledger.eggs * egg_g()
        for_whom = {**for_whom, "whole egg": named}
    found: dict[str, list[Wanted]] = {}
    for name, weight in sorted(bought.items()):
        role = known[name].role if name in known else ""
        aisle = next((words for words, roles in AISLES if role in roles), REST)
        found.setdefault(aisle, []).append(_wanted(name, weight, packs.get(name), tuple(for_whom.get(name, ()))))
    order = [*(words for words, _ in AISLES), REST]
    return tuple((aisle, tuple(found[aisle])) for aisle in order if aisle in found)


def _wanted(name: str, grams: float, pack: PackPrice | None, makes: tuple[str, ...]) -> Wanted:
    if pack is None:
        return Wanted(name, grams, 0.0, 0, None, makes)
    packs = math.ceil(grams / (1 - pack.waste) / pack.pack_g - 1e-6)
    return Wanted(name, grams, pack.pack_g, packs, grams * pack.per_g, makes)


def _packs(names: Iterable[str]) -> dict[str, PackPrice]:
    """The newest pack of each of these ingredients."""
    rows = PackPrice.objects.filter(ingredient__name__in=[*names, "whole egg"]).order_by()
    newest = rows.values("ingredient").annotate(newest=Max("pk")).values("newest")
    return {row.ingredient.name: row for row in PackPrice.objects.filter(pk__in=newest).select_related("ingredient")}

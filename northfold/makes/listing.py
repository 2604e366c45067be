"""The list of makes, a page at a time."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.core.paginator import Page
from django.db.models import Count, Exists, QuerySet
from django.utils import timezone

from northfold.dough.models import FormulaVersion
from northfold.makes import facts
from northfold.makes.models import Make
from northfold.web.paging import InTurn, page_of


@dataclass(frozen=True)
class MakeRow:
    """A make in the list. `start_at` is when a planned one has to begin to be ready in time."""

    make: Make
    dough_g: float | None
    pieces: str
    start_at: datetime | None = None

    @property
    def is_overdue(self) -> bool:
        return self.make.is_overdue

    @property
    def is_of_this_year(self) -> bool:
        return self.make.due_at is not None and self.make.due_at.year == timezone.now().year

    @property
    def key(self) -> tuple[object, ...]:
        """Everything its row shows."""
        make, version = self.make, self.make.formula_version
        shown = (
            make.pk,
            make.state,
            make.due_at,
            self.is_overdue,
            self.is_of_this_year,
            make.called,
            version.n,
        )
        return (*shown, self.dough_g, self.pieces, self.start_at)

    @property
    def opens(self) -> str:
        """Where its name leads: to the stage that matters now."""
        return "makes:size" if self.make.is_planned else self.next

    @property
    def next(self) -> str:
        return NEXT[Make.State(self.make.state)][0]

    @property
    def next_words(self) -> str:
        return NEXT[Make.State(self.make.state)][1]


# The page that a make wants next, by its state, and what its button says.
NEXT = {
    Make.State.PLANNED: ("makes:weigh", "Weigh sheet"),
    Make.State.STARTED: ("bench:run", "Bench"),
    Make.State.FINISHED: ("records:result", "Result"),
    Make.State.ABANDONED: ("bench:run", "How it went"),
}
# Whatever the order, what is still to do stands before what is over.
TO_DO = (Make.State.PLANNED, Make.State.STARTED)
OVER = (Make.State.FINISHED, Make.State.ABANDONED)
# How each part is ordered: what is to do counts on from now, what is over back from it.
NAME = "formula_version__formula__name"
ORDERS = {
    "due": (("due_at", "pk"), ("-due_at", "-pk")),
    "-due": (("-due_at", "-pk"), ("-due_at", "-pk")),
    "name": ((NAME, "pk"), (NAME, "pk")),
}
# As much of a make, its dough and its plan as a row shows.
SHOWN = (
    "state", "half", "due_at", "changes", "formula_version__n", "formula_version__formula__name",
    "facts__of", "facts__asked", "facts__dough_g", "facts__pieces", "facts__starts_at",
)  # fmt: skip


@dataclass(frozen=True)
class MakeList:
    """One page of makes, how many there are in each state, and what lies in the bin."""

    rows: list[MakeRow]
    page: "Page[Any]"
    counts: dict[str, int]
    binned: list[Make]


def make_list(*, state: str = "", search: str = "", order: str = "due", page: str | None = None) -> MakeList:
    """Makes filtered by state and name, in one order; as many queries for six thousand as for six."""
    kept: QuerySet[Make] = Make.objects.kept()
    counts, in_bin = _counts(kept)
    found_counts = counts
    if search:
        named = FormulaVersion.objects.filter(formula__name__icontains=search)
        kept = kept.filter(formula_version__in=named.values("pk"))
        found_counts, _ = _counts(kept)
    wanted = [state] if state in Make.State.values else Make.State.values
    parts, lengths = [], []
    for states, by in zip((TO_DO, OVER), ORDERS.get(order, ORDERS["due"]), strict=True):
        asked = [each.value for each in states if each in wanted]
        # What is to do is little and is sorted; of what is over, the little else is passed over along the hours.
        is_long = states is OVER and len(asked) > 1
        found = kept.exclude(state__in=_others(asked)) if is_long else kept.filter(state__in=asked)
        shown = found.select_related("formula_version__formula", "facts").only(*SHOWN)
        parts.append(shown.order_by(*by))
        lengths.append(sum(found_counts[each] for each in asked))
    paged = page_of(InTurn(*parts, counts=lengths), page)
    return MakeList(_rows(list(paged)), paged, counts, binned_makes() if in_bin else [])


def _counts(kept: QuerySet[Make]) -> tuple[dict[str, int], bool]:
    """How many of these are in each state, and whether any make was put into the bin."""
    in_bin = Exists(Make.objects.filter(binned_at__isnull=False))
    rows = list(kept.order_by().values_list("state").annotate(Count("pk"), in_bin=in_bin))
    found = {state: count for state, count, _ in rows}
    return {state: found.get(state, 0) for state in Make.State.values}, rows[0][2] if rows else True


def _others(states: list[str]) -> list[str]:
    return [state for state in Make.State.values if state not in states]


def _rows(makes: list[Make]) -> list[MakeRow]:
    planned = facts.of_planned(make for make in makes if make.is_planned)
    known = planned | facts.of_started(make for make in makes if not make.is_planned)
    rows = []
    for make in makes:
        found = known.get(make.pk)
        if found is None:
            rows.append(MakeRow(make, None, "no tin yet"))
        else:
            rows.append(MakeRow(make, found.dough_g, found.pieces or "no tin yet", facts.start_of(make, found)))
    return rows


def binned_makes() -> list[Make]:
    found = Make.objects.binned(timezone.now()).select_related("formula_version__formula")
    return list(found.only("binned_at", "formula_version__formula__name"))

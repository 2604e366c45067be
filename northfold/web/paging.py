"""Long lists, a page at a time."""

from collections.abc import Iterator, Sequence
from typing import Any

from django.core.paginator import Page, Paginator
from django.db.models import QuerySet

PER_PAGE = 50


def page_of(found: Any, number: str | None) -> "Page[Any]":
    """One page of a list: the first where the number makes no sense, the last where it is beyond the end."""
    return Paginator(found, PER_PAGE).get_page(number)


class InTurn(Sequence[Any]):
    """
    One list after another, as a paginator takes it: only the rows of the page that is asked for are read.

    `counts` is how long each is.
    """

    def __init__(self, *lists: QuerySet[Any], counts: Sequence[int]) -> None:
        self.lists, self.counts = lists, counts

    def __len__(self) -> int:
        return sum(self.counts)

    def __getitem__(self, wanted: Any) -> Any:
        if not isinstance(wanted, slice):
            return self[wanted : wanted + 1][0]
        begin, end, _ = wanted.indices(len(self))
        found: list[Any] = []
        before = 0
        for each, count in zip(self.lists, self.counts, strict=True):
            first, last = max(begin - before, 0), min(end - before, count)
            if first < last:
                found += each[first:last]
            before += count
        return found

    def __iter__(self) -> Iterator[Any]:
        return iter(self[:])

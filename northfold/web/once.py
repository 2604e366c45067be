"""
What a request reads once, however many of its pages' parts ask for it.

A function under `once_a_request` is asked the first time and answers the same from then on, until the request is over
or `forget` is called. Outside a request, as in a command, it is asked every time.
"""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from functools import wraps
from typing import Any, TypeVar

from django.http import HttpRequest, HttpResponse

Answer = TypeVar("Answer")
_read: ContextVar[dict[Any, Any] | None] = ContextVar("what this request has read", default=None)


def once_a_request(ask: Callable[[], Answer]) -> Callable[[], Answer]:
    """Ask this function at most once in a request. Nobody may change what it answers."""

    @wraps(ask)
    def answer() -> Answer:
        read = _read.get()
        if read is None:
            return ask()
        if ask not in read:
            read[ask] = ask()
        found: Answer = read[ask]
        return found

    return answer


def forget(**_: object) -> None:
    """What was read may have changed: ask again."""
    read = _read.get()
    if read is not None:
        read.clear()


@contextmanager
def reading() -> Iterator[None]:
    """A stretch in which things are read once."""
    token = _read.set({})
    try:
        yield
    finally:
        _read.reset(token)


class ReadOnceMiddleware:
    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        with reading():
            return self.get_response(request)

"""
Six letters by which a label names a make or what lies in the cold, and the square that a phone reads.

They are the first thirty bits of its name in the whole world, in letters that cannot be taken for each other.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from uuid import UUID

import segno
from django.http import HttpRequest
from django.urls import reverse
from django.utils.safestring import SafeString, mark_safe

# Neither I, L nor O, which are read as one and nought, nor U.
LETTERS = "0123456789ABCDEFGHJKMNPQRSTVWXYZ"
LENGTH, BITS = 6, 30
_REST = 128 - BITS
_TAKEN_FOR = str.maketrans("OIL", "011")


@dataclass(frozen=True)
class Found:
    """Something that has a code: in words, and where it is."""

    words: str
    url: str


_finders: list[Callable[[UUID, UUID], Iterable[Found]]] = []


def register(finder: Callable[[UUID, UUID], Iterable[Found]]) -> None:
    """Say who finds things whose names lie between two, both in; done when an app starts."""
    _finders.append(finder)


def code_of(name: UUID) -> str:
    """The six letters of a thing."""
    number = name.int >> _REST
    return "".join(LETTERS[number >> shift & 31] for shift in range(BITS - 5, -1, -5))


def read(typed: str) -> str:
    """A code as it was typed, in its own letters; empty where it is none."""
    code = "".join(typed.upper().translate(_TAKEN_FOR).replace("-", " ").split())
    return code if len(code) == LENGTH and all(letter in LETTERS for letter in code) else ""


def find(code: str) -> list[Found]:
    """What has a code, as `read` gives it: one thing nearly always."""
    number = 0
    for letter in code:
        number = number << 5 | LETTERS.index(letter)
    low, high = UUID(int=number << _REST), UUID(int=(number + 1 << _REST) - 1)
    return [found for finder in _finders for found in finder(low, high)]


def qr(request: HttpRequest, code: str) -> SafeString:
    """The square that leads a phone to what has the code, as a drawing without a size."""
    address = request.build_absolute_uri(reverse("web:code", args=[code]))
    drawn = segno.make(address, error="m", micro=False).svg_inline(omitsize=True, border=2)
    return mark_safe(drawn)  # drawn here, of an address and nothing else

"""
An answer to an edit sends the parts of a page that changed.

An element with an id and `data-part` goes out with the sum of what it holds (`data-sum`). A script that asks for the
page again says which sums it has (`X-Has`, see app.js); a part that would be the same goes as an empty stub that says
`data-later`, and the morph leaves what stands there.
"""

import re
from collections.abc import Callable
from zlib import crc32

from django.http import HttpRequest, HttpResponse

HEADER = "X-Has"
_OPENS = re.compile(r"<([a-z0-9]+)\b(?=[^>]*\sdata-part[\s>=])[^>]*>")
_ID = re.compile(r'\sid="([^"]*)"')
# A form's seal is another one on every page, and the old one holds as well.
_SEAL = re.compile(r'(name="csrfmiddlewaretoken" value=")[^"]*"')


def _end(page: str, tag: str, begin: int) -> int:
    """Where an element ends that was opened before `begin`."""
    depth = 1
    for found in re.compile(rf"<(/?){tag}\b[^>]*>").finditer(page, begin):
        depth += -1 if found[1] else 1
        if not depth:
            return found.end()
    return len(page)


def with_sums(page: str, known: dict[str, str]) -> str:
    """A page, or a piece of one, with the sums of its parts; those that are known as they are become stubs."""
    done, at = [], 0
    while found := _OPENS.search(page, at):
        tag, name = found[1], _ID.search(found[0])
        end = _end(page, tag, found.end())
        mark = name[1] if name else ""
        total = f"{crc32(_SEAL.sub('', page[found.start() : end]).encode()):08x}"
        done.append(page[at : found.start()])
        if mark and known.get(mark) == total:
            done.append(f'<{tag} id="{mark}" data-later></{tag}>')
        else:
            opened = found[0].removesuffix(">")
            done.append(f'{opened} data-sum="{total}">{page[found.end() : end]}')
        at = end
    return "".join([*done, page[at:]])


def _known(header: str) -> dict[str, str]:
    pairs = (each.partition("=") for each in header.split(","))
    return {mark: total for mark, _, total in pairs if total}


class PartsMiddleware:
    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        is_page = response.headers.get("Content-Type", "").startswith("text/html") and not response.streaming
        if is_page and b"data-part" in response.content:
            known = _known(request.headers.get(HEADER, "")) if request.headers.get("HX-Request") else {}
            response.content = with_sums(response.content.decode(response.charset), known)
        return response

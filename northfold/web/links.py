"""What comes in with a request and leads somewhere: links to pages of this house, numbers of rows."""

from django.http import HttpRequest
from django.utils.http import url_has_allowed_host_and_scheme


def way_back(request: HttpRequest, default: str) -> str:
    """Where the field "back" leads, or the default where it leads nowhere of ours."""
    asked = request.POST.get("back") or request.GET.get("back") or ""
    ours = asked.startswith("/") and url_has_allowed_host_and_scheme(asked, allowed_hosts=None)
    return asked if ours else default


def row_id(text: str) -> int:
    """The number of a row as it was sent; 0, which no row has, for anything else."""
    return int(text) if text.isascii() and text.isdecimal() and len(text) < 10 else 0

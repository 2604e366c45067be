"""Links that come in with a request: only to pages of this house."""

from django.http import HttpRequest
from django.utils.http import url_has_allowed_host_and_scheme


def way_back(request: HttpRequest, default: str) -> str:
    """Where the field "back" leads, or the default where it leads nowhere of ours."""
    asked = request.POST.get("back") or request.GET.get("back") or ""
    ours = asked.startswith("/") and url_has_allowed_host_and_scheme(asked, allowed_hosts=None)
    return asked if ours else default

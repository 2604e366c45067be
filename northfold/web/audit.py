"""
Who did what that others must be able to look up: when, and from where.

Services record what they do; who is acting is known from the request under way, so that no service has to be told.
Outside a request it is whoever sits at the terminal.
"""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import Any

from django.apps import apps
from django.db import models
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

TERMINAL = "at the terminal"


class Kind(models.TextChoices):
    SIGNED_IN = "signed_in", "signed in"
    REFUSED = "refused", "wrong password"
    SIGNED_OUT = "signed_out", "signed out"
    SIGNED_OUT_EVERYWHERE = "out_everywhere", "signed out everywhere"
    OPENED = "opened", "account opened"
    ROLE = "role", "role changed"
    PASSWORD = "password", "password changed"
    PASSWORD_GIVEN = "password_given", "password given"
    BINNED = "binned", "put into the bin"
    PUT_BACK = "put_back", "put back"
    THROWN = "thrown", "thrown away"
    BACKED_UP = "backed_up", "backup written"
    RESTORED = "restored", "backup restored"
    TAKEN_AWAY = "taken_away", "backup downloaded"
    READ_IN = "read_in", "file read in"
    DEVICE = "device", "key of a device"


_under_way: ContextVar[HttpRequest | None] = ContextVar("request under way", default=None)


@contextmanager
def during(request: HttpRequest) -> Iterator[None]:
    """What is recorded meanwhile was done by this request."""
    token = _under_way.set(request)
    try:
        yield
    finally:
        _under_way.reset(token)


class AuditMiddleware:
    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        with during(request):
            return self.get_response(request)


def address_of(request: HttpRequest) -> str:
    """
    Where a request came from. A forwarded address stands here only where the server trusts the proxy that sent it.
    """
    return str(request.META.get("REMOTE_ADDR", ""))[:45]


def record(kind: Kind, said: str = "", *, by: Any = None, name_key: str = "", device: str = "") -> None:
    """Write down what was done, by whom and from where. `said` is what it was done to, in a few words."""
    request = _under_way.get()
    user = by or getattr(request, "user", None)
    user = user if user is not None and user.is_authenticated else None
    apps.get_model("web", "AuditEntry").objects.create(
        kind=kind,
        at=timezone.now(),
        by=user,
        who=user.called[:150] if user else "" if request else TERMINAL,
        said=said[:300],
        address=address_of(request) if request else "",
        browser=browser(request.headers.get("User-Agent", "")) if request else "",
        name_key=name_key,
        device=device,
    )


# The first that is found says it: what calls itself Chrome also calls itself Safari.
_BROWSERS = {"Firefox": "Firefox", "Edg": "Edge", "OPR": "Opera", "Chrom": "Chrome", "Safari": "Safari"}
_SYSTEMS = {
    "iPad": "iPad", "iPhone": "iPhone", "Android": "Android", "Windows": "Windows", "Mac OS": "Mac", "Linux": "Linux",
}  # fmt: skip


def browser(agent: str) -> str:
    """A device in two words, from how its browser names itself; empty for what names itself otherwise."""
    program = next((said for sign, said in _BROWSERS.items() if sign in agent), "")
    system = next((said for sign, said in _SYSTEMS.items() if sign in agent), "")
    return " on ".join(word for word in (program, system) if word)

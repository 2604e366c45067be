"""Who may do what: three roles, one table of rights."""

from collections.abc import Callable
from functools import wraps
from typing import Any

from django.core.exceptions import PermissionDenied
from django.db import models
from django.http import HttpRequest, HttpResponse


class Role(models.TextChoices):
    HEAD = "head", "Head of pastry: formulas, kitchen, people, makes"
    BENCH = "bench", "Bench: creates and works makes"
    GUEST = "guest", "Guest: looks, changes nothing"


RIGHTS = {
    "edit_formulas": {Role.HEAD},
    "edit_kitchen": {Role.HEAD},
    "manage_people": {Role.HEAD},
    "edit_makes": {Role.HEAD, Role.BENCH},
}


def needs(right: str, *, to_change: bool = False) -> Callable[..., Any]:
    """
    Let a view be used only by those who hold a right; others get a 403.

    With `to_change`, everyone signed in may look (GET) and only holders may change. An unknown right is a
    KeyError when the module is imported.
    """
    RIGHTS[right]

    def decorate(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
        @wraps(view)
        def guarded(request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
            looks_only = to_change and request.method in ("GET", "HEAD")
            if not looks_only and not (request.user.is_authenticated and request.user.may(right)):
                raise PermissionDenied(right)
            return view(request, *args, **kwargs)

        return guarded

    return decorate

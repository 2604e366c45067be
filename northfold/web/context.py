"""What every page's frame needs: the rail, the rights of who looks, an offer to undo."""

from typing import Any

from django.conf import settings
from django.http import HttpRequest

from northfold.web import rail
from northfold.web.permissions import RIGHTS


def chrome(request: HttpRequest) -> dict[str, Any]:
    user = getattr(request, "user", None)
    signed_in = user is not None and user.is_authenticated
    match = request.resolver_match
    return {
        "rail": rail.entries() if signed_in else [],
        "here": match.namespace if match else "",
        "may": {right: bool(user and signed_in and user.may(right)) for right in RIGHTS},
        "is_demo": settings.DEMO,
    }

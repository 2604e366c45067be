"""
A browser that somebody has signed in from before, vouched for by a signed cookie.

The cookie opens nothing. It only gives the browser a count of its own at the brake, so that guesses made elsewhere,
even behind the same proxy, never shut out a device that is known.
"""

import secrets
from datetime import timedelta

from django.conf import settings
from django.core import signing
from django.http import HttpRequest, HttpResponse

LASTS = timedelta(days=365)
_SALT = "northfold.device"
# As many people as share one tablet.
MOST_NAMES = 12


def _read(request: HttpRequest) -> tuple[str, list[str]]:
    """The device's own mark and whose sign-ins it vouches for; empty where there is no cookie, or a forged one."""
    try:
        found = signing.loads(request.COOKIES.get(settings.DEVICE_COOKIE_NAME, ""), salt=_SALT, max_age=LASTS)
        return str(found["id"]), [str(name) for name in found["names"]]
    except (signing.BadSignature, KeyError, TypeError):
        return "", []


def known(request: HttpRequest, name_key: str) -> str:
    """The device's mark where this name has signed in from it, else nothing."""
    mark, names = _read(request)
    return mark if name_key in names else ""


def remember(request: HttpRequest, response: HttpResponse, name_key: str) -> None:
    """From now on this device is known for this name."""
    mark, names = _read(request)
    names = [name_key, *(name for name in names if name != name_key)][:MOST_NAMES]
    value = signing.dumps({"id": mark or secrets.token_hex(8), "names": names}, salt=_SALT)
    response.set_cookie(
        settings.DEVICE_COOKIE_NAME, value, max_age=LASTS, httponly=True, samesite="Lax",
        secure=settings.SESSION_COOKIE_SECURE,
    )  # fmt: skip

"""How long somebody stays signed in, and how they are signed out everywhere."""

import time
from collections.abc import Callable
from typing import Any

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import logout
from django.contrib.sessions.models import Session
from django.db.models import F
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from northfold.web import audit
from northfold.web.models import User

# A session is written at most this often for being used. [s]
NOTED_EVERY_S = 300
SEEN, SINCE = "seen", "since"


class SessionLimitsMiddleware:
    """
    Sign out whoever has not touched anything for the idle limit, or came in longer ago than a session lasts.

    A page that only asks by itself what is new is no touch: see `is_by_itself`.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if request.user.is_authenticated:
            now, session = time.time(), request.session
            seen, since = session.get(SEEN, now), session.get(SINCE, now)
            if now - seen > settings.IDLE_LIMIT.total_seconds() or now - since > settings.SESSION_COOKIE_AGE:
                logout(request)
                messages.info(request, "You were signed out: nothing was touched for long. Sign in again to go on.")
            elif SINCE not in session or (now - seen > NOTED_EVERY_S and not is_by_itself(request)):
                session.update({SEEN: now, SINCE: since})
        return self.get_response(request)


def begin(request: HttpRequest, **_: Any) -> None:
    """A session counts from its sign-in, whatever the browser had before."""
    request.session.update({SEEN: time.time(), SINCE: time.time()})


def is_by_itself(request: HttpRequest) -> bool:
    """Whether a page asked without anybody touching it."""
    return request.headers.get("X-Bench") == "1" and request.method == "GET"


def sign_out_everywhere(user: User) -> None:
    """End every session of somebody, on every device, from the next request on."""
    User.objects.filter(pk=user.pk).update(sessions_from=F("sessions_from") + 1)
    audit.record(audit.Kind.SIGNED_OUT_EVERYWHERE, user.called)


def end_all_sessions() -> None:
    """Everybody signs in anew: after a restore, what was signed out since must not be signed in again."""
    Session.objects.all().delete()


def forget_expired() -> None:
    Session.objects.filter(expire_date__lt=timezone.now()).delete()

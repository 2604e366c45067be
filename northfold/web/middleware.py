"""What every answer passes: visitors who cannot go where they want, and what every page is sent out with."""

import re
from collections.abc import Callable
from typing import Any
from urllib.parse import urlencode, urlsplit

from django.contrib import messages
from django.contrib.auth import get_user_model
from django.http import HttpRequest, HttpResponse, HttpResponseNotAllowed
from django.shortcuts import redirect
from django.urls import reverse
from django.utils.http import url_has_allowed_host_and_scheme

from northfold.web.views import not_by_address

Answer = Callable[[HttpRequest], HttpResponse]
SAFE = ("GET", "HEAD")
METHODS = (*SAFE, "POST")


class FirstRunMiddleware:
    """Send every visitor to the first page while nobody has an account."""

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        start = reverse("kitchen:start")
        waiting = not request.user.is_authenticated and not request.path.startswith((start, "/health/"))
        if waiting and not get_user_model().objects.exists():
            return redirect(start)
        return self.get_response(request)


class SignedOutMiddleware:
    """
    Where a sign-in ran out: what is typed stays, and signing in leads to a page.

    A script is answered 401, for the sign-in page would take the place of what was typed. A form's answer is the
    sign-in, which says that nothing was saved, and leads back to the page that the form stands on.
    """

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        sign_in = reverse("web:sign_in")
        if response.status_code != 302 or not response["Location"].startswith(f"{sign_in}?"):
            return response
        if request.headers.get("HX-Request"):
            return HttpResponse(status=401)
        if request.method not in SAFE:
            return redirect(f"{sign_in}?{urlencode({'next': _page_before(request), 'lost': 1})}")
        return response


def _page_before(request: HttpRequest) -> str:
    """The page of this house that a request was sent from, else the start page."""
    sent_from = request.headers.get("Referer", "")
    if not url_has_allowed_host_and_scheme(sent_from, {request.get_host()}, request.is_secure()):
        return "/"
    found = urlsplit(sent_from)
    return f"{found.path}?{found.query}" if found.query else found.path or "/"


class GivenPasswordMiddleware:
    """A password that somebody else chose is changed before anything else."""

    free = {"web:password", "web:sign_out", "web:sign_in", "web:health"}

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_view(self, request: HttpRequest, view: Any, args: Any, kwargs: Any) -> HttpResponse | None:
        waits = request.user.is_authenticated and request.user.must_change_password
        if not waits or (request.resolver_match and request.resolver_match.view_name in self.free):
            return None
        if request.headers.get("HX-Request"):
            return HttpResponse(status=401)
        messages.info(request, "The head of pastry chose your password. Choose one that nobody else knows.")
        return redirect("web:password")


# Marks that turn the direction of everything after them, and so can make a name read as another.
# U+202A to U+202E and U+2066 to U+2069, as pages are sent: in UTF-8.
_TURNS = re.compile(rb"\xe2(?:\x80[\xaa-\xae]|\x81[\xa6-\xa9])")


class OutgoingMiddleware:
    """
    What every answer of the application goes out with.

    Pages hold a kitchen's own affairs, so no browser or proxy keeps them. Marks that reverse the writing direction are
    taken out of whatever is shown, where they came in with a name. An address that only takes what a form sends
    says so; other ways of asking than pages and forms have are refused.
    """

    def __init__(self, get_response: Answer) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request) if request.method in METHODS else HttpResponseNotAllowed(METHODS)
        if response.status_code == 405 and not response.content:
            allowed = response["Allow"]
            response = not_by_address(request)
            response["Allow"] = allowed
        if not response.has_header("Cache-Control"):
            response["Cache-Control"] = "no-store, private"
        response["Permissions-Policy"] = "camera=(), geolocation=(), microphone=()"
        if not response.streaming and _TURNS.search(response.content):
            response.content = _TURNS.sub(b"", response.content)
        return response

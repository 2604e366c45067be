"""Visitors who cannot go where they want: nobody has an account yet, or their sign-in ran out while they typed."""

from collections.abc import Callable

from django.contrib.auth import get_user_model
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse


class FirstRunMiddleware:
    """Send every visitor to the first page while nobody has an account."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        start = reverse("kitchen:start")
        waiting = not request.user.is_authenticated and not request.path.startswith((start, "/health/"))
        if waiting and not get_user_model().objects.exists():
            return redirect(start)
        return self.get_response(request)


class SignedOutMiddleware:
    """Answer 401 to htmx instead of the sign-in page, which would take the place of what was typed."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        sign_in = reverse("web:sign_in")
        if request.headers.get("HX-Request") and response.status_code == 302 and response.url.startswith(sign_in):
            return HttpResponse(status=401)
        return response

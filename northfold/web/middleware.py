"""The first visitor of an empty installation makes an account and a kitchen."""

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
        waiting = not request.user.is_authenticated and request.path != start and request.path != "/health/"
        if waiting and not get_user_model().objects.exists():
            return redirect(start)
        return self.get_response(request)

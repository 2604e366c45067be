"""Signing in and out, and the pages for what went wrong."""

from typing import Any

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import get_user_model, login
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.views import LoginView, PasswordChangeView
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse_lazy
from django.utils import timezone
from django.utils.decorators import method_decorator
from django.views.decorators.http import require_POST

from northfold.web import today as day
from northfold.web.forms import OwnPasswordForm, SignInForm


@method_decorator(login_not_required, name="dispatch")
class SignIn(LoginView):
    template_name = "web/sign_in.html"
    authentication_form = SignInForm
    redirect_authenticated_user = True

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        demo = get_user_model().objects.filter(is_active=True).order_by("pk") if settings.DEMO else []
        return super().get_context_data(**kwargs, demo_people=demo)


@login_not_required
@require_POST
def demo_sign_in(request: HttpRequest, username: str) -> HttpResponse:
    """One tap into the demo bakehouse; does not exist anywhere else."""
    if not settings.DEMO:
        raise Http404
    user = get_object_or_404(get_user_model(), username=username, is_active=True)
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return redirect(settings.LOGIN_REDIRECT_URL)


class OwnPassword(PasswordChangeView):
    """Everybody who signs in may change their own password."""

    template_name = "web/password.html"
    form_class = OwnPasswordForm
    success_url = reverse_lazy("makes:list")

    def form_valid(self, form: Any) -> HttpResponse:
        messages.success(self.request, "Your password is changed.")
        return super().form_valid(form)


def today(request: HttpRequest) -> HttpResponse:
    """The next twelve hours of everything that runs or is planned, what to touch next first."""
    now = timezone.now()
    shown = day.lanes(now)
    context = {
        "now": now,
        "lanes": shown,
        "line": day.line(now, shown),
        "cards": day.cards(now, shown),
        "here": "today",
    }
    return render(request, "web/today.html", context)


@login_not_required
def health(request: HttpRequest) -> HttpResponse:
    return HttpResponse("ready\n", content_type="text/plain")


def locked_out(request: HttpRequest, response: Any = None, credentials: Any = None) -> HttpResponse:
    minutes = int(settings.AXES_COOLOFF_TIME.total_seconds() // 60)
    said = (
        f"Signing in failed {settings.AXES_FAILURE_LIMIT} times, so this name is locked here for {minutes} minutes. "
        "Wait, or ask the head of pastry for a new password."
    )
    return _problem(request, 429, "Locked for a while", said)


def bad_request(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    return _problem(
        request, 400, "That could not be read", "Go back: what you typed is still there. Send less at once."
    )


def forbidden(request: HttpRequest, exception: Exception | None = None, reason: str = "") -> HttpResponse:
    said = "Your role may look here but not change this. The head of pastry sets roles under Kitchen, People."
    return _problem(request, 403, "Not yours to change", said)


def outdated(request: HttpRequest, reason: str = "") -> HttpResponse:
    said = "This page was open for so long, or in so many windows, that its seal ran out. Go back, reload, send again."
    return _problem(request, 403, "Open for too long", said)


def not_found(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    said = "Nothing is at this address. It may have gone into the bin; the lists have a link to it."
    return _problem(request, 404, "Not here", said)


def server_error(request: HttpRequest) -> HttpResponse:
    return HttpResponse(
        "<!doctype html><html lang=en><title>Something broke</title><h1>Something broke on our side</h1>"
        "<p>What you saved is kept. Go back and try again; if it happens twice, note the time and tell who runs this.",
        status=500,
    )


def _problem(request: HttpRequest, status: int, title: str, said: str) -> HttpResponse:
    return render(request, "web/problem.html", {"title": title, "said": said, "status": status}, status=status)

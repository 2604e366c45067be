"""Pages of signing in and out, of one's own password, and of the record for the head."""

from typing import Any

from django.conf import settings
from django.contrib import messages
from django.contrib.auth import get_user_model, logout
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.views import LoginView, LogoutView, PasswordChangeView
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.template.loader import render_to_string
from django.urls import reverse_lazy
from django.utils.decorators import method_decorator
from django.views.decorators.http import require_POST
from django.views.generic.edit import FormView

from northfold.web import audit
from northfold.web.accounts import brake, device, entering, sessions
from northfold.web.forms import OwnPasswordForm, SignInForm
from northfold.web.models import AuditEntry
from northfold.web.paging import page_of
from northfold.web.permissions import needs
from northfold.web.requests import SignedIn


def shut() -> HttpResponse:
    minutes = int(brake.LOCKED.total_seconds() // 60)
    said = (
        f"Signing in failed {brake.PER_NAME_HERE} times or more, so it is locked here for {minutes} minutes. Wait, or "
        "use a device that you have signed in from before. The head of pastry can give a new password."
    )
    # A page that costs next to nothing, for whoever guesses gets many of them.
    return HttpResponse(render_to_string("web/fault.html", {"title": "Locked for a while", "said": said}), status=429)


class Braked(FormView):  # type: ignore[type-arg]  # not to be subscripted when it runs
    """
    A page with a password on it: counted when it is wrong, not looked at where too many were.

    Whoever takes it says by `name_tried` whose password it is.
    """

    def name_tried(self) -> str:
        raise NotImplementedError

    def post(self, request: HttpRequest, *args: str, **kwargs: Any) -> HttpResponse:
        return shut() if brake.is_shut(request, self.name_tried()) else super().post(request, *args, **kwargs)

    def wrong(self, form: Any) -> HttpResponse:
        entering.note_wrong(self.request, self.name_tried())
        if brake.is_shut(self.request, self.name_tried()):
            return shut()
        return super().form_invalid(form)


@method_decorator(login_not_required, name="dispatch")
class SignIn(Braked, LoginView):
    template_name = "web/sign_in.html"
    authentication_form = SignInForm
    redirect_authenticated_user = True

    def name_tried(self) -> str:
        return self.request.POST.get("username", "")

    def form_invalid(self, form: Any) -> HttpResponse:
        typed_both = not any(form.has_error(name) for name in form.fields)
        return self.wrong(form) if typed_both else super().form_invalid(form)

    def form_valid(self, form: Any) -> HttpResponse:
        user = form.get_user()
        entering.enter(self.request, user)
        answer = redirect(self.get_success_url())
        device.remember(self.request, answer, brake.name_key(user.username))
        return answer

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        demo = get_user_model().objects.filter(is_active=True).order_by("pk") if settings.DEMO else []
        return super().get_context_data(**kwargs, demo_people=demo, lost="lost" in self.request.GET)


@login_not_required
@require_POST
def demo_sign_in(request: SignedIn, username: str) -> HttpResponse:
    """One tap into the demo bakehouse; does not exist anywhere else."""
    if not settings.DEMO:
        raise Http404
    entering.enter(request, get_object_or_404(get_user_model(), username=username, is_active=True))
    return redirect(settings.LOGIN_REDIRECT_URL)


def without_key(request: HttpRequest) -> HttpResponse | None:
    """Nobody shuts the house behind themselves without a key to it, as the head of a demo kitchen might."""
    if not request.user.is_authenticated or request.user.has_usable_password():
        return None
    messages.info(request, "Choose a password first: without one nobody gets in here again.")
    return redirect("web:password")


class SignOut(LogoutView):
    def post(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        stays = without_key(request)
        if stays:
            return stays
        if request.user.is_authenticated:
            audit.record(audit.Kind.SIGNED_OUT)
        return super().post(request, *args, **kwargs)


@require_POST
def sign_out_everywhere(request: SignedIn) -> HttpResponse:
    """End one's own sessions on every device, this one too."""
    stays = without_key(request)
    if stays:
        return stays
    sessions.sign_out_everywhere(request.user)
    logout(request)
    messages.success(request, "You are signed out on every device.")
    return redirect("web:sign_in")


class OwnPassword(Braked, PasswordChangeView):
    """Everybody who signs in may change their own password."""

    template_name = "web/password.html"
    form_class = OwnPasswordForm
    success_url = reverse_lazy("makes:list")

    def name_tried(self) -> str:
        return self.request.user.username

    def form_invalid(self, form: Any) -> HttpResponse:
        wrong = form.has_error("old_password", "password_incorrect")
        return self.wrong(form) if wrong else super().form_invalid(form)

    def form_valid(self, form: Any) -> HttpResponse:
        form.user.must_change_password = False
        audit.record(audit.Kind.PASSWORD)
        messages.success(self.request, "Your password is changed. Other devices are signed out.")
        return super().form_valid(form)


@needs("manage_people")
def record(request: SignedIn) -> HttpResponse:
    """Who did what, the newest first."""
    kind = request.GET.get("kind", "")
    found = AuditEntry.objects.order_by("-pk")
    if kind in audit.Kind.values:
        found = found.filter(kind=kind)
    page = page_of(found, request.GET.get("page"))
    context = {"page": page, "kinds": audit.Kind.choices, "kind": kind, "tab": "record", "here": "kitchen"}
    return render(request, "web/record.html", context)

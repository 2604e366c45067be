"""The first visitor may take the demo bakehouse instead of an empty kitchen."""

from django.contrib import messages
from django.contrib.auth import get_user_model
from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from northfold.demo.bakehouse import HEAD, build
from northfold.kitchen.views import start_page
from northfold.web.accounts import first_code
from northfold.web.accounts.entering import enter
from northfold.web.forms import FirstCodeForm
from northfold.web.requests import SignedIn


@login_not_required
@require_POST
def start(request: SignedIn) -> HttpResponse:
    """
    Build Gannet Row and sign in as its head. Once anybody has an account, this does not exist.

    Nobody of it has a password then, so that nobody knows one: its head chooses the first.
    """
    if get_user_model().objects.exists():
        raise Http404
    form = FirstCodeForm(request.POST, is_code_asked=first_code.is_asked(request), prefix="demo")
    if not form.is_valid():
        return start_page(request, demo=form, status=422)
    build(with_passwords=False)
    first_code.forget()
    head = get_user_model().objects.get(username=HEAD)
    enter(request, head)
    messages.success(
        request,
        f"This is Gannet Row, a made-up bakehouse. You are {head.called}, its head. Nobody has a password yet: choose "
        f"yours under your name at the left, and sign in as {HEAD} with it from then on; give the others theirs under "
        "Kitchen, People. For your own kitchen, begin again on empty data.",
    )
    return redirect("makes:list")

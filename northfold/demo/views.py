"""The first visitor may take the demo bakehouse instead of an empty kitchen."""

from django.contrib import messages
from django.contrib.auth import get_user_model, login
from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from northfold.demo.bakehouse import HEAD, build


@login_not_required
@require_POST
def start(request: HttpRequest) -> HttpResponse:
    """Build Gannet Row and sign in as its head. Once anybody has an account, this does not exist."""
    if get_user_model().objects.exists():
        raise Http404
    build()
    head = get_user_model().objects.get(username=HEAD)
    login(request, head, backend="django.contrib.auth.backends.ModelBackend")
    messages.success(
        request,
        f"This is Gannet Row, a made-up bakehouse. You are {head.called}; anybody signs in as runa, teo or "
        "counter with the password harbour- and that name. For your own kitchen, begin again on empty data.",
    )
    return redirect("makes:list")

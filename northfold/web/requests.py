"""The request of somebody who is signed in, as views behind the door are given it."""

from django.http import HttpRequest
from django_htmx.middleware import HtmxDetails

from northfold.web.models import User


class SignedIn(HttpRequest):
    """A request with its user and what htmx says of it; `LoginRequiredMiddleware` lets no other in."""

    user: User
    htmx: HtmxDetails

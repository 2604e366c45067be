"""After something went into the bin, the next page offers to put it back."""

from django.contrib import messages
from django.http import HttpRequest
from django.utils.html import format_html


def offer_undo(request: HttpRequest, said: str, url: str) -> None:
    """Say what happened, with a button that posts to `url`. The base template adds the form and its token."""
    messages.success(request, format_html("{}", said), extra_tags=f"undo:{url}")

"""Pages in the units that the kitchen is set to."""

from collections.abc import Callable
from functools import lru_cache

from django.db.models.signals import post_save
from django.dispatch import receiver
from django.http import HttpRequest, HttpResponse

from northfold.core.formula.units import METRIC
from northfold.kitchen.models import Kitchen
from northfold.web.imperial import page_in


@lru_cache(maxsize=1)
def shown_units() -> str:
    """In which units this kitchen is shown its figures; read once, and again when the kitchen is changed."""
    return Kitchen.objects.values_list("shown_units", flat=True).first() or METRIC


@receiver(post_save, sender=Kitchen)
def _changed(**_: object) -> None:
    shown_units.cache_clear()


class ShownUnitsMiddleware:
    """Tells figures in ounces, inches and °F, beside or instead. A metric kitchen's pages go out as they are."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        is_page = response.headers.get("Content-Type", "").startswith("text/html") and not response.streaming
        if is_page and response.content and shown_units() != METRIC:
            response.content = page_in(response.content.decode(response.charset), shown_units())
        return response

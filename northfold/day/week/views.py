"""The page of a week, standing orders and levels."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from northfold.core.errors import CoreError
from northfold.day.models import StandingOrder, StockLevel
from northfold.day.views import a_date
from northfold.day.week import queries, services
from northfold.day.week.forms import ChangeForm, LevelForm, OrderForm
from northfold.kitchen.queries import currency
from northfold.makes.models import Make
from northfold.makes.pages import make_or_404
from northfold.web.links import row_id
from northfold.web.permissions import needs
from northfold.web.requests import SignedIn
from northfold.web.undo import offer_undo

# So many makes are put back with one tap.
MOST_BACK = 200


@require_safe
def week(request: SignedIn) -> HttpResponse:
    """Seven days from today, or from the date that is asked for."""
    context = {"week": queries.week(_begins(request.GET), timezone.now()), "currency": currency(), "here": "week"}
    return render(request, "day/week.html", context)


def _begins(sent: Any) -> date:
    text = sent.get("from", "")[:10]
    return a_date(text) if text else timezone.localdate()


def _back(begins: date) -> HttpResponse:
    asked = "" if begins == timezone.localdate() else f"?from={begins.isoformat()}"
    return redirect(reverse("day:week") + asked)


@require_POST
@needs("edit_makes")
def take(request: SignedIn) -> HttpResponse:
    """Make what is proposed: one of it, or all."""
    begins = _begins(request.POST)
    keys = None if request.POST.get("all") else [key[:60] for key in request.POST.getlist("key")]
    try:
        made = services.take_proposals(request.user, begins, queries.DAYS, timezone.now(), keys)
    except CoreError as error:
        messages.error(request, str(error))
        return _back(begins)
    said = f"{made[0].called} is planned." if len(made) == 1 else f"{len(made)} makes are planned."
    numbers = ",".join(str(make.pk) for make in made[:MOST_BACK])
    offer_undo(request, said, f"{reverse('day:week_back')}?makes={numbers}&from={begins.isoformat()}")
    return _back(begins)


@require_POST
@needs("edit_makes")
def back(request: SignedIn) -> HttpResponse:
    """Put makes that were just taken into the bin again, as far as none of them has started."""
    numbers = [row_id(text) for text in request.GET.get("makes", "")[:2000].split(",")[:MOST_BACK]]
    found = Make.objects.kept().filter(pk__in=[number for number in numbers if number])
    gone = services.put_makes_back(request.user, found)
    messages.success(request, f"{gone} make{'' if gone == 1 else 's'} put into the bin; proposed again.")
    return _back(_begins(request.GET))


@require_POST
@needs("edit_makes")
def as_wanted(request: SignedIn, pk: int) -> HttpResponse:
    """Size a planned make to what its orders want by now."""
    try:
        services.make_as_wanted(make_or_404(pk))
    except CoreError as error:
        messages.error(request, str(error))
    return _back(_begins(request.POST))


@require_POST
@needs("edit_makes")
def change(request: SignedIn, pk: int) -> HttpResponse:
    """Another number of an order on one date, or none."""
    order = get_object_or_404(StandingOrder.objects.kept().select_related("like"), pk=pk)
    form = ChangeForm(request.POST)
    if form.is_valid():
        services.change_on(order, form.cleaned_data["on"], form.cleaned_data["pieces"])
    else:
        messages.error(request, str(next(iter(form.errors.values()))[0]))
    return _back(_begins(request.POST))


# -- orders and levels


@dataclass(frozen=True)
class Page:
    """The page of an order, or of a stock: its form, how it is written down, what a new one starts from."""

    what: str
    form: type[OrderForm] | type[LevelForm]
    row: type[StandingOrder] | type[StockLevel]
    save: Callable[..., Any]
    started: Callable[[int | None], dict[str, Any]]
    ended: str

    def show(self, request: SignedIn, pk: int | None = None) -> HttpResponse:
        """A new one, or the one of a number."""
        row: Any = get_object_or_404(self.row._base_manager.filter(binned_at=None), pk=pk) if pk else None
        like = row.like_id if row else row_id(request.GET.get("like", ""))
        form: Any = self.form.of(row) if row else self.form(initial=self.started(like), like=like)
        if request.method == "POST":
            form = self.form(request.POST, like=like)
            if form.is_valid():
                try:
                    self.save(request.user, row or self.row(), form.cleaned_data)
                except CoreError as error:
                    form.add_error("like", str(error))
                else:
                    return redirect("day:week")
        context = {"form": form, "row": row, "here": "week", "what": self.what}
        return render(request, "day/order.html", context, status=422 if form.errors else 200)

    def put_in_bin(self, request: SignedIn, pk: int) -> HttpResponse:
        row: Any = get_object_or_404(self.row._base_manager.filter(binned_at=None), pk=pk)
        row.put_in_bin()
        offer_undo(request, f"{self.ended} {row} is in the bin.", reverse(row.restored_at, args=[pk]))
        return redirect("day:week")

    def put_back(self, pk: int) -> HttpResponse:
        row: Any = get_object_or_404(self.row._base_manager.all(), pk=pk)
        row.put_back()
        return redirect("day:week")


def _started(like: int | None) -> dict[str, Any]:
    """What a new order starts from: the pieces of the make that it is like, and its hour."""
    make = Make.objects.kept().filter(pk=like).prefetch_related("items").first() if like else None
    if make is None:
        return {}
    found: dict[str, Any] = {"like": make.pk, "pieces": sum(item.count for item in make.items.all())}
    if make.due_at:
        due = timezone.localtime(make.due_at)
        found |= {"at_min": due.hour * 60 + due.minute, "weekdays": [due.weekday()]}
    return found


ORDER = Page("order", OrderForm, StandingOrder, services.save_order, _started, "The order of")
LEVEL = Page("level", LevelForm, StockLevel, services.save_level, lambda like: {"like": like}, "The stock of")


@needs("edit_kitchen")
def order_new(request: SignedIn) -> HttpResponse:
    return ORDER.show(request)


@needs("edit_kitchen")
def order(request: SignedIn, pk: int) -> HttpResponse:
    return ORDER.show(request, pk)


@needs("edit_kitchen")
def level_new(request: SignedIn) -> HttpResponse:
    return LEVEL.show(request)


@needs("edit_kitchen")
def level(request: SignedIn, pk: int) -> HttpResponse:
    return LEVEL.show(request, pk)


@require_POST
@needs("edit_kitchen")
def order_bin(request: SignedIn, pk: int) -> HttpResponse:
    return ORDER.put_in_bin(request, pk)


@require_POST
@needs("edit_kitchen")
def order_restore(request: SignedIn, pk: int) -> HttpResponse:
    return ORDER.put_back(pk)


@require_POST
@needs("edit_kitchen")
def level_bin(request: SignedIn, pk: int) -> HttpResponse:
    return LEVEL.put_in_bin(request, pk)


@require_POST
@needs("edit_kitchen")
def level_restore(request: SignedIn, pk: int) -> HttpResponse:
    return LEVEL.put_back(pk)

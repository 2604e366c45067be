"""Forms of the week: an order, two levels, a single date, which days to look at."""

from typing import Any, cast

from django import forms

from northfold.core.week.stock import check_levels
from northfold.day.models import DAY_NAMES, StandingOrder, StockLevel
from northfold.day.week.services import PIECES
from northfold.makes.in_short import pieces_in_short
from northfold.makes.models import Make
from northfold.web.forms import HourField

# So many makes are offered to be like: the newest of each dough and tin.
OFFERED = 60


def offered(also: int | None = None) -> list[tuple[int, str]]:
    """Makes that an order can be like: of each dough and tin the newest, and one that is chosen already."""
    makes = Make.objects.kept().exclude(state=Make.State.ABANDONED).order_by("-pk")
    found: dict[tuple[int, int], tuple[int, str]] = {}
    named = makes.select_related("formula_version__formula").prefetch_related("items__tin")
    for make in named[: 4 * OFFERED]:
        items = list(make.items.all())
        if len(items) == 1:
            pieces = pieces_in_short([items[0].core])
            words = f"{make.formula_version.formula}, {items[0].tin.name} ({pieces})"
            found.setdefault((make.formula_version.formula_id, items[0].tin_id), (make.pk, words))
    rows = sorted(found.values(), key=lambda each: each[1])[:OFFERED]
    if also is not None and also not in {pk for pk, _ in rows}:
        # What it is like stays, though that make was binned or given up since.
        make = Make.objects.filter(pk=also).select_related("formula_version__formula").first()
        if make is not None:
            rows.insert(0, (make.pk, f"{make.formula_version.formula}, make {make.pk}"))
    return rows


class PiecesField(forms.IntegerField):
    """How many pieces."""

    def __init__(self, **kwargs: Any) -> None:
        widget = forms.TextInput(attrs={"inputmode": "numeric", "class": "num"})
        low, high = kwargs.pop("low", PIECES[0]), PIECES[1]
        super().__init__(
            min_value=low, max_value=high, widget=widget,
            error_messages={
                "invalid": "Write a whole number of pieces, such as 24.",
                "min_value": f"That is less than {low}: write {low} or more.",
                "max_value": f"That is more than {high:,}: make it in several orders.",
            },
            **kwargs,
        )  # fmt: skip


class _LikeForm(forms.Form):
    """What pieces are like: a make of them."""

    like = forms.TypedChoiceField(
        label="Like", coerce=int, error_messages={"invalid_choice": "That make is gone. Choose another."},
        help_text="Its dough at its newest version, its tin, filling and steps.",
    )  # fmt: skip

    def __init__(self, *args: Any, like: int | None = None, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        cast(Any, self.fields["like"]).choices = offered(like)

    def clean_like(self) -> Make:
        return Make.objects.get(pk=self.cleaned_data["like"])


class OrderForm(_LikeForm):
    """A standing order."""

    pieces = PiecesField(label="Pieces")
    for_whom = forms.CharField(label="For whom", max_length=60, required=False)
    weekdays = forms.TypedMultipleChoiceField(
        label="On", coerce=int, choices=list(enumerate(DAY_NAMES)), widget=forms.CheckboxSelectMultiple,
        error_messages={"required": "Tick at least one day of the week."},
    )  # fmt: skip
    at_min = HourField(label="Ready at")
    begins = forms.DateField(
        label="From", required=False, widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d")
    )
    ends = forms.DateField(
        label="Last on", required=False, widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"),
        help_text="Empty: until further notice.",
    )  # fmt: skip
    from_freezer = forms.BooleanField(
        label="Baked from pieces in the freezer", required=False,
        help_text="Keep a stock of them, so that they are made ahead in time.",
    )  # fmt: skip

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        begins, ends = data.get("begins"), data.get("ends")
        if begins and ends and ends < begins:
            self.add_error("ends", f"The last day is before the first, {begins:%-d %B}. Write that day or a later one.")
        return data

    @classmethod
    def of(cls, order: StandingOrder) -> "OrderForm":
        names = ("pieces", "for_whom", "weekdays", "at_min", "begins", "ends", "from_freezer")
        return cls(
            initial={**{name: getattr(order, name) for name in names}, "like": order.like_id}, like=order.like_id
        )


class LevelForm(_LikeForm):
    """Frozen pieces between two levels."""

    low = PiecesField(label="Make more below", low=0)
    high = PiecesField(label="Up to")

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        if "low" in data and "high" in data:
            try:
                check_levels(data["low"], data["high"])
            except ValueError as error:
                self.add_error("high", str(error))
        return data

    @classmethod
    def of(cls, level: StockLevel) -> "LevelForm":
        return cls(initial={"low": level.low, "high": level.high, "like": level.like_id}, like=level.like_id)


class ChangeForm(forms.Form):
    """Another number of an order on a date; empty for the usual one."""

    on = forms.DateField(error_messages={"invalid": "That is no date. Reload the page.", "required": "Say which date."})
    pieces = PiecesField(low=0, required=False)

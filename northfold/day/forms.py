"""Forms of a day."""

from datetime import datetime
from typing import Any

from django import forms

from northfold.core.day.model import DAY_MIN
from northfold.day.building import moment_of
from northfold.day.services import FRESH_MIN
from northfold.web.forms import MinutesField


class HoldForm(forms.Form):
    """A task, and the minute of the date at which it is held; without one it is let go."""

    task = forms.CharField(max_length=120)
    minute = forms.IntegerField(min_value=-3 * DAY_MIN, max_value=4 * DAY_MIN, required=False)

    def __init__(self, *args: Any, zero: datetime, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.zero = zero
        self.fields["task"].error_messages["required"] = "Say which task is to be held."
        self.fields["minute"].error_messages |= {
            "invalid": "That is no minute of the day. Drag the strip, or move it by the arrow keys.",
            "min_value": "That is more than three days before. Hold it later.",
            "max_value": "That is more than three days after. Hold it earlier.",
        }

    @property
    def at(self) -> datetime | None:
        minute = self.cleaned_data["minute"]
        return None if minute is None else moment_of(self.zero, minute)


class WeightForm(forms.Form):
    """How much it counts that a make is in time, and how fresh it must be at its hour."""

    weight = forms.TypedChoiceField(
        choices=[(1, "as others"), (2, "twice"), (3, "three times")],
        coerce=int,
        error_messages={"invalid_choice": "A make counts once, twice or three times."},
    )
    fresh = MinutesField(
        what="A make ready so long before it is due", low=FRESH_MIN[0], high=FRESH_MIN[1], required=False
    )

    @property
    def values(self) -> dict[str, Any]:
        fresh = self.cleaned_data["fresh"]
        return {"weight": self.cleaned_data["weight"], "fresh_min": None if fresh is None else round(fresh)}

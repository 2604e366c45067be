"""Forms of the cold store."""

from typing import Any, cast

from django import forms
from django.utils import timezone

from northfold.core.fill.mixture import DOUGH
from northfold.dough.models import Formula
from northfold.kitchen.models import Place, Tin
from northfold.stock import queries
from northfold.stock.models import Lot
from northfold.web.clock import MomentField
from northfold.web.forms import SignedField


class AmountField(SignedField):
    """Grams or pieces."""

    unit, example = "", "300"


class PutInForm(forms.Form):
    """Something that goes into the cold by hand."""

    what = forms.CharField(label="What", max_length=120, help_text="Such as tart shell dough.")
    kind = forms.ChoiceField(label="Kind", choices=Lot.Kind.choices)
    amount = AmountField(what="An amount of", low=1, high=200_000, label="How much")
    unit = forms.ChoiceField(label="in", choices=Lot.Unit.choices)
    formula = forms.ModelChoiceField(Formula.objects.none(), label="Of the dough", required=False)
    tin = forms.ModelChoiceField(Tin.objects.none(), label="Pieces in", required=False)
    place = forms.ModelChoiceField(Place.objects.none(), label="Where", empty_label=None)
    rich = forms.BooleanField(label="Egg or milk in it", required=False)
    made_at = MomentField(label="Made at")

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        cast(Any, self.fields["place"]).queryset = Place.objects.filter(
            pk__in=[place.pk for place in queries.cold_places()]
        )

        cast(Any, self.fields["formula"]).queryset = Formula.objects.kept().filter(kind=DOUGH).order_by("name")
        cast(Any, self.fields["tin"]).queryset = Tin.objects.kept()
        self.fields["formula"].help_text = "So that makes of it find it here."

    def clean_made_at(self) -> Any:
        made = self.cleaned_data["made_at"]
        if made and made > timezone.now():
            said = f"{timezone.localtime(made):%d %B, %H:%M} is in the future. Give the time it was made."
            raise forms.ValidationError(said)
        return made

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        if not self.errors and data["kind"] in (Lot.Kind.WHITES, Lot.Kind.YOLKS, Lot.Kind.EGG):
            data["rich"] = True
        if data.get("kind") != Lot.Kind.PIECES:
            data["tin"] = None
        elif data.get("unit") == Lot.Unit.GRAMS and not self.errors:
            self.add_error("unit", "Shaped pieces are counted: choose pieces.")
        return data

"""The form of a device."""

from typing import Any, cast

from django import forms

from northfold.devices.models import Device
from northfold.web.forms import GramsField


class DeviceForm(forms.Form):
    """What a device is called, and what it is."""

    name = forms.CharField(label="Name", max_length=40, help_text="What it says on the bench, such as Bench scale.")
    kind = forms.ChoiceField(label="What it is", choices=Device.Kind.choices)
    step_g = GramsField(
        what="A step of", low=0.01, high=50, label="A scale shows steps of, g", required=False, help_text="Empty: 1 g."
    )

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for field in self.fields.values():
            cast(Any, field).plain_label = True

"""The form of a file that is read in."""

from typing import Any, cast

from django import forms


class FileForm(forms.Form):
    """A kitchen’s file."""

    file = forms.FileField(
        label="A kitchen’s file",
        help_text="JSON, at most 20 MB: of another kitchen, of this one before, a make, or written by hand.",
        widget=forms.FileInput(attrs={"accept": ".json,application/json"}),
    )

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        cast(Any, self.fields["file"]).plain_label = True

"""Forms drawn in the house's own manner, and fields that read numbers as a kitchen writes them."""

import re
from typing import Any

from django import forms
from django.contrib.auth import get_user_model
from django.contrib.auth.forms import AuthenticationForm, PasswordChangeForm
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.forms.boundfield import BoundField
from django.forms.renderers import TemplatesSetting
from django.forms.utils import flatatt
from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString, mark_safe

from northfold.core.errors import CoreError, NotANumber, OutsideRange
from northfold.core.formula.typed import read_length_mm, read_typed
from northfold.core.method.words import hour_of_day
from northfold.web.accounts import first_code
from northfold.web.inputs import one_message


def _drawn_input(widget: dict[str, Any]) -> SafeString:
    value = widget["value"]
    attrs = {**({} if value in (None, "") else {"value": str(value)}), **widget["attrs"]}
    return format_html('<input type="{}" name="{}"{}>', widget["type"], widget["name"], flatatt(attrs))


def _drawn_menu(widget: dict[str, Any]) -> SafeString:
    parts = []
    for group, choices, _ in widget["optgroups"]:
        rows = ((str(each["value"]), flatatt(each["attrs"]), each["label"]) for each in choices)
        drawn = format_html_join("", '<option value="{}"{}>{}</option>', rows)
        parts.append(format_html('<optgroup label="{}">{}</optgroup>', group, drawn) if group else drawn)
    return format_html(
        '<select name="{}"{}>{}</select>', widget["name"], flatatt(widget["attrs"]), mark_safe("".join(parts))
    )


def _drawn_field(field: BoundField) -> SafeString:
    """A field with its label over it, its help or what is wrong with it under it."""
    quietly = field.field.required or getattr(field.field, "plain_label", False)
    optional = "" if quietly else mark_safe(' <span class="quiet">(optional)</span>')
    label = "" if field.is_hidden else format_html(
        '<label for="{}">{}{}</label>', field.id_for_label, field.label, optional
    )  # fmt: skip
    help_text = ""
    if field.help_text and not field.errors:
        help_text = format_html('<p class="help" id="{}_helptext">{}</p>', field.auto_id, field.help_text)
    wrong = ((field.auto_id, error) for error in field.errors)
    errors = format_html_join("", '<span class="error-text" id="{}_error">{}</span>', wrong)
    return format_html('<div class="field">{}{}{}{}</div>', label, field, help_text, errors)


class Renderer(TemplatesSetting):
    """Django's own, but for fields, inputs and menus: a page has scores of them, and a template for each is slow."""

    field_template_name = "a field"
    drawn = {
        "django/forms/widgets/text.html": _drawn_input,
        "django/forms/widgets/number.html": _drawn_input,
        "django/forms/widgets/hidden.html": _drawn_input,
        "django/forms/widgets/select.html": _drawn_menu,
    }

    def render(self, template_name: str, context: dict[str, Any], request: Any = None) -> str:
        if template_name == self.field_template_name:
            return _drawn_field(context["field"])
        draw = self.drawn.get(template_name)
        return draw(context["widget"]) if draw else super().render(template_name, context, request)


class LengthField(forms.CharField):
    """A length: millimetres, or with cm or inches said. Cleans to a float. [mm]"""

    def __init__(self, *, what: str, low: float, high: float, **kwargs: Any) -> None:
        self.what, self.low, self.high = what, low, high
        super().__init__(max_length=40, **kwargs)
        self.widget.attrs.update({"inputmode": "decimal", "class": "num"})

    def clean(self, value: Any) -> float | None:
        text = super().clean(value)
        if text in self.empty_values:
            return None
        try:
            return read_length_mm(text, what=self.what, low=self.low, high=self.high)
        except CoreError as error:
            raise ValidationError(str(error), code=error.code) from error

    def prepare_value(self, value: Any) -> Any:
        return f"{value:g}" if isinstance(value, float | int) else value


class SignedField(forms.CharField):
    """A number that may stand below zero, in the unit of the field. Cleans to a float."""

    unit, example, is_difference = "", "12", False

    def __init__(self, *, what: str, low: float, high: float, **kwargs: Any) -> None:
        self.what, self.low, self.high = what, low, high
        super().__init__(max_length=20, **kwargs)
        self.widget.attrs.update({"inputmode": "decimal", "class": "num"})

    def clean(self, value: Any) -> float | None:
        text = super().clean(value)
        if text in self.empty_values:
            return None
        try:
            what = f"number of {self.unit}" if self.unit else "number"
            number = read_typed(text, self.unit, what=what, example=self.example, difference=self.is_difference)
        except NotANumber as error:
            raise ValidationError(str(error), error.code) from None
        if not self.low <= number <= self.high:
            raise ValidationError(str(OutsideRange(self.what, number, self.low, self.high, self.unit)), "outside_range")
        return number

    def prepare_value(self, value: Any) -> Any:
        return f"{value:g}" if isinstance(value, float | int) else value


class DegreesField(SignedField):
    """A temperature; °F is read where it is said. [°C]"""

    unit, example = "°C", "21 or 70 °F"


class DegreesLowerField(SignedField):
    """A difference of two temperatures; °F is read where it is said. [K]"""

    unit, example, is_difference = "°C", "20 or 36 °F", True


class MillimetresField(SignedField):
    """A height read off a ruler, above (+) or below (−) an edge. [mm]"""

    unit, example = "mm", "2"


class MinutesField(SignedField):
    """Minutes, or hours where they are said. Cleans to a float. [min]"""

    unit, example = "min", "30 or 1 h 30"


class GramsField(SignedField):
    """A weight; kg, oz and lb are read where they are said. [g]"""

    unit, example = "g", "250 or 9 oz"


class HourField(forms.CharField):
    """An hour of the day: 6:30, 06.30, 6. Cleans to minutes from midnight, None where it is empty. [min]"""

    def __init__(self, **kwargs: Any) -> None:
        super().__init__(max_length=8, **kwargs)
        self.widget.attrs.update({"class": "num", "placeholder": "06:30"})

    def clean(self, value: Any) -> int | None:
        text = super().clean(value)
        if text in self.empty_values:
            return None
        found = re.fullmatch(r"(\d{1,2})(?:[:.h](\d{2}))?", text.strip())
        minutes = int(found[1]) * 60 + int(found[2] or 0) if found else -1
        if not found or int(found[2] or 0) > 59 or minutes > 24 * 60:
            raise ValidationError(
                f"“{text}” is no hour of the day. Write it like 6:30, between 0:00 and 24:00.", "no_hour"
            )
        return minutes

    def prepare_value(self, value: Any) -> Any:
        return hour_of_day(value) if isinstance(value, int) else value


class SignInForm(AuthenticationForm):
    error_messages = {
        "invalid_login": "That is not the right name or password. Check both; capitals count.",
        "inactive": "This account is closed. Ask the head of pastry.",
    }

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["username"].label = "Sign-in name"


class OwnPasswordForm(PasswordChangeForm):
    """A new password for oneself; who has none yet, as the head of a demo kitchen, has no present one to say."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        labels = {"old_password": "Present password", "new_password1": "New password", "new_password2": "Once more"}
        for name, label in labels.items():
            self.fields[name].label = label
        self.fields["new_password2"].help_text = ""
        if not self.user.has_usable_password():
            del self.fields["old_password"]
        self.fields["new_password1"].help_text = "At least 8 characters, not a common word and not like your name."

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        if data.get("new_password1") and data["new_password1"] == data.get("old_password"):
            self.add_error("new_password1", "That is the present one. Choose another.")
        return data


class FirstCodeForm(forms.Form):
    """Whoever comes first says what the server printed, where others could come first."""

    code = forms.CharField(
        label="Code from the terminal",
        max_length=40,
        help_text="It was printed where the server was started, and is in its data folder as first-code.",
        widget=forms.TextInput(attrs={"autocomplete": "off", "autocapitalize": "none", "spellcheck": "false"}),
    )

    def __init__(self, *args: Any, is_code_asked: bool, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        if not is_code_asked:
            del self.fields["code"]

    def clean_code(self) -> str:
        typed = self.cleaned_data["code"]
        if not first_code.fits(typed):
            raise ValidationError(
                "That is not the code. Look where the server was started; it is three groups of four."
            )
        return typed


class StartForm(FirstCodeForm):
    """The first account of an installation, and its kitchen's name."""

    kitchen = forms.CharField(label="Name of your kitchen", max_length=80)
    full_name = forms.CharField(label="Your name", max_length=80)
    username = forms.CharField(label="Sign-in name", max_length=40, help_text="Short and without spaces, such as ann.")
    password = forms.CharField(
        label="Password",
        widget=forms.PasswordInput(attrs={"autocomplete": "new-password"}),
        help_text="At least 8 characters, not a common word and not like your name.",
    )

    def clean_username(self) -> str:
        user = get_user_model()(username=self.cleaned_data["username"])
        try:
            user.clean_fields(exclude=["password"])
        except ValidationError as error:
            raise one_message(error) from None
        return user.username

    def clean_password(self) -> str:
        data = self.cleaned_data
        validate_password(data["password"], get_user_model().like(data.get("username", ""), data.get("full_name", "")))
        return data["password"]

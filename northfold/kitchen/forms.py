"""Forms of the kitchen: tins, people, settings."""

from typing import Any

from django import forms
from django.contrib.auth import get_user_model
from django.contrib.auth.password_validation import validate_password

from northfold.core.errors import CoreError, TinShapeError
from northfold.core.method.schools import Schools, questions
from northfold.core.method.setting import ROOM_RANGE_C
from northfold.core.shape import tins
from northfold.kitchen.models import Kitchen, Oven, Person, Place, Tin
from northfold.web.forms import DegreesField, LengthField
from northfold.web.permissions import Role


class TinForm(forms.Form):
    """A tin's inside measures. Round and rectangle ask for different ones."""

    name = forms.CharField(label="Name", max_length=60, help_text="What you call it, such as flan ring or tray.")
    owned = forms.IntegerField(label="How many we have", min_value=1, max_value=5000, initial=1)
    top_mm = LengthField(what="A size at the top of", low=tins.SIDE_MM[0], high=tins.SIDE_MM[1])
    base_mm = LengthField(what="A size at the base of", low=tins.SIDE_MM[0], high=tins.SIDE_MM[1], required=False)
    top_width_mm = LengthField(what="A width at the top of", low=tins.SIDE_MM[0], high=tins.SIDE_MM[1])
    base_width_mm = LengthField(
        what="A width at the base of", low=tins.SIDE_MM[0], high=tins.SIDE_MM[1], required=False
    )
    height_mm = LengthField(what="A height of", low=tins.HEIGHT_MM[0], high=tins.HEIGHT_MM[1], label="Height inside")

    def __init__(self, *args: Any, kind: str, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.kind = kind
        straight = "Leave empty for straight walls."
        if kind == tins.ROUND:
            del self.fields["top_width_mm"], self.fields["base_width_mm"]
            self.fields["top_mm"].label = "Diameter at the top"
            self.fields["base_mm"].label = "Diameter at the base"
        else:
            self.fields["top_mm"].label = "Length at the top"
            self.fields["base_mm"].label = "Length at the base"
            self.fields["top_width_mm"].label = "Width at the top"
            self.fields["base_width_mm"].label = "Width at the base"
            self.fields["base_width_mm"].help_text = straight
        self.fields["base_mm"].help_text = straight
        self.fields["top_mm"].help_text = "In mm; 23 cm or 9 in is read too."

    def clean(self) -> dict[str, Any]:
        data = super().clean()
        if self.errors:
            return data
        data["base_mm"] = data.get("base_mm") or data["top_mm"]
        data["top_width_mm"] = data.get("top_width_mm") or 0.0
        data["base_width_mm"] = data.get("base_width_mm") or data["top_width_mm"]
        shape = tins.Tin(
            data["name"],
            self.kind,
            data["top_mm"],
            data["base_mm"],
            data["height_mm"],
            data["top_width_mm"],
            data["base_width_mm"],
        )
        try:
            tins.check_tin(shape)
        except TinShapeError as error:
            wide = data["base_mm"] > data["top_mm"]
            self.add_error("base_mm" if wide else "base_width_mm", str(error))
        except CoreError as error:
            self.add_error(None, str(error))
        return data

    def measures(self) -> dict[str, Any]:
        return {**self.cleaned_data, "kind": self.kind}

    @classmethod
    def of(cls, tin: Tin) -> "TinForm":
        fields = ("name", "owned", "top_mm", "base_mm", "top_width_mm", "base_width_mm", "height_mm")
        return cls(kind=tin.kind, initial={field: getattr(tin, field) for field in fields})


class SettingsForm(forms.ModelForm):
    """The kitchen's name, measures, room and habits. One field for each question on which makers differ."""

    room_c = DegreesField(what="A room at", low=ROOM_RANGE_C[0], high=ROOM_RANGE_C[1], label="The room, °C")

    class Meta:
        model = Kitchen
        fields = ("name", "measuring_system", "room_c", "currency")
        labels = {
            "name": "Name of the kitchen",
            "measuring_system": "Cups and spoons are",
            "currency": "Prices are in",
        }
        help_texts = {"measuring_system": "For new formulas. Each paste can say otherwise."}

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        habits = Schools.of(self.instance.schools)
        for key, question in questions().items():
            self.fields[key] = forms.ChoiceField(
                label=question.label,
                choices=question.names.items(),
                initial=getattr(habits, key),
                required=False,
            )

    @property
    def habits(self) -> list[Any]:
        """The fields of the questions, to be drawn together."""
        return [self[key] for key in questions()]

    def save(self, commit: bool = True) -> Kitchen:
        # A question that was not asked stays as it was.
        answers = {key: self.cleaned_data[key] for key in questions() if self.cleaned_data[key]}
        self.instance.schools = {**self.instance.schools, **answers}
        return super().save(commit)


class PlaceForm(forms.ModelForm):
    """A place in which a dough waits."""

    air_c = DegreesField(
        what="Air at", low=-40, high=45, label="Air, °C", required=False, help_text="Empty: as warm as the room."
    )

    class Meta:
        model = Place
        fields = ("name", "kind", "air_c")
        labels = {"name": "Name", "kind": "Kind"}
        help_texts = {"kind": "Sets how fast it takes heat away."}


class OvenForm(forms.ModelForm):
    """An oven."""

    offset_k = DegreesField(
        what="An offset of",
        low=-60,
        high=60,
        label="Set lower than a still oven, °C",
        required=False,
        help_text="As measured with an oven thermometer. Empty: 20 with a fan, 0 without.",
    )

    class Meta:
        model = Oven
        fields = ("name", "fan", "small", "offset_k")
        labels = {"name": "Name", "fan": "It has a fan", "small": "It is small and browns early"}


class PersonForm(forms.Form):
    """Somebody of the kitchen, with or without an account."""

    name = forms.CharField(label="Name", max_length=80)
    username = forms.CharField(
        label="Sign-in name", max_length=40, required=False, help_text="Leave empty for somebody who does not sign in."
    )
    role = forms.ChoiceField(label="Role", choices=Role.choices, initial=Role.BENCH)
    password = forms.CharField(
        label="Password",
        required=False,
        widget=forms.PasswordInput(render_value=True, attrs={"autocomplete": "new-password"}),
        help_text="At least 8 characters, not a common word. Tell it to them yourself.",
    )

    def __init__(self, *args: Any, person: Person | None = None, **kwargs: Any) -> None:
        self.person = person
        super().__init__(*args, **kwargs)
        if person and person.user:
            del self.fields["username"]
            self.fields["password"].label = "New password"
            self.fields["password"].help_text = "Leave empty to keep the present one."

    def clean_username(self) -> str:
        name = self.cleaned_data["username"]
        if not name:
            return ""
        user = get_user_model()(username=name)
        user.clean_fields(exclude=["password"])
        if get_user_model().objects.filter(username__iexact=name).exists():
            raise forms.ValidationError(f"Somebody already signs in as {name}. Choose another, such as {name}2.")
        return name

    def clean(self) -> dict[str, Any]:
        data = super().clean()
        new_account = bool(data.get("username"))
        password = data.get("password")
        if new_account and not password and "password" not in self.errors:
            self.add_error("password", "Somebody who signs in needs a password of at least 8 characters.")
        elif password and (new_account or (self.person and self.person.user)):
            try:
                validate_password(password)
            except forms.ValidationError as error:
                self.add_error("password", error)
        return data

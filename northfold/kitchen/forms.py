"""Forms of the kitchen: tins, people, settings."""

from typing import Any, cast

from django import forms
from django.contrib.auth import get_user_model
from django.contrib.auth.password_validation import validate_password

from northfold.core.day.model import WORKS
from northfold.core.errors import CoreError, TinShapeError
from northfold.core.fill.making import PAN_L
from northfold.core.method.choices.kitchen import ROOM_RANGE_C
from northfold.core.method.choices.schools import Question, Schools, questions
from northfold.core.shape import outlines, tins
from northfold.kitchen.models import Kitchen, Machine, Oven, Person, Place, Tin
from northfold.web.forms import (
    DegreesField,
    DegreesLowerField,
    GramsField,
    HourField,
    LengthField,
    MinutesField,
    SignedField,
)
from northfold.web.inputs import one_message
from northfold.web.permissions import Role

# What a measure of a tin or shape is called: of what is round, and of what has a length and a width.
MEASURES = {
    "top": ("Diameter at the top", "Length at the top"),
    "top_width": ("", "Width at the top"),
    "base": ("Diameter at the base", "Length at the base"),
    "base_width": ("", "Width at the base"),
    "height": ("Height inside", "Height inside"),
    "border": ("Border folded in", "Border folded in"),
}
RIMMED = {"top": ("Diameter inside the rim", ""), "border": ("Flat rim, how wide", "")}
FINISHED = {"top": ("Diameter, finished", "Length, finished"), "top_width": ("", "Width, finished")}


class TinForm(forms.Form):
    """The measures of a tin, or of a shape made without one. Each kind asks for its own."""

    name = forms.CharField(label="Name", max_length=60, help_text="What you call it, such as flan ring or tray.")

    def __init__(self, *args: Any, kind: str, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.kind = tins.kinds()[kind]
        is_round = self.kind.outline == outlines.ROUND
        words = {**MEASURES, **(FINISHED if not self.kind.vessel else RIMMED if "border" in self.kind.measures else {})}
        for measure in self.kind.measures:
            low, high = {"height": tins.HEIGHT_MM, "border": tins.BORDER_MM}.get(measure, tins.SIDE_MM)
            label = "Side" if self.kind.key == "square" and measure == "top" else words[measure][0 if is_round else 1]
            self.fields[f"{measure}_mm"] = LengthField(
                what=f"{label} of", low=low, high=high, label=label, required=measure not in ("base", "base_width")
            )
        self.fields["top_mm"].help_text = "In mm; 23 cm or 9 in is read too."
        for measure in ("base_mm", "base_width_mm"):
            if measure in self.fields:
                self.fields[measure].help_text = "Leave empty for straight walls."
        if self.kind.vessel:
            self.fields["material"] = forms.ChoiceField(label="Made of", choices=tins.MATERIALS.items(), required=False)
            self.fields["per_tray"] = forms.IntegerField(
                label="How many on one tray", min_value=1, max_value=200, required=False,
                initial=12 if kind == "mould" else 1,
            )  # fmt: skip
            self.fields["owned"] = forms.IntegerField(
                label="How many we have", min_value=1, max_value=5000, initial=1, required=False
            )

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        if self.errors:
            return data
        shape = tins.Tin(**{"base_mm": 0.0, "height_mm": 0.0, **self._sides(data), "name": data["name"]})
        try:
            tins.check_tin(shape)
        except TinShapeError as error:
            wide = shape.axes()[0][1] > shape.axes()[0][0]
            self.add_error("base_mm" if wide else "base_width_mm", str(error))
        except CoreError as error:
            self.add_error(None, str(error))
        return data

    def _sides(self, data: dict[str, Any]) -> dict[str, Any]:
        """Kind and measures; what is left empty at the base is as at the top."""
        sides = {f"{measure}_mm": data.get(f"{measure}_mm") or 0.0 for measure in self.kind.measures}
        if self.kind.vessel:
            sides["base_mm"] = sides.get("base_mm") or sides["top_mm"]
            if "base_width_mm" in sides:
                sides["base_width_mm"] = sides["base_width_mm"] or sides["top_width_mm"]
        return {**sides, "kind": self.kind.key}

    def measures(self) -> dict[str, Any]:
        data = self.cleaned_data
        more = {key: data[key] for key in ("material", "per_tray", "owned") if data.get(key)}
        return {"name": data["name"], **self._sides(data), **more}

    @classmethod
    def of(cls, tin: Tin) -> "TinForm":
        form = cls(kind=tin.kind)
        form.initial = {field: getattr(tin, field) for field in form.fields}
        return form


# The largest sheet and the tray: what they are called.
LENGTHS = {
    "sheet_length_mm": "Largest sheet, along, mm",
    "sheet_width_mm": "Largest sheet, across, mm",
    "tray_length_mm": "Tray, along, mm",
    "tray_width_mm": "Tray, across, mm",
}


KEEPING = {
    "keep_rich_h": ("With egg or milk keeps, h", 1, 120),
    "keep_lean_h": ("Lean keeps, h", 1, 168),
    "keep_frozen_weeks": ("Frozen keeps, weeks", 1, 52),
    "keep_thawed_h": ("Thawed keeps, h", 1, 72),
}

STOVE = {
    "pan_l": ("Largest pan, litres", *PAN_L),
    "pans": ("Pans of that size", 1, 12),
}


# From when to when somebody is here.
HOURS = {"opens_min": "Opens at", "closes_min": "Closes at"}


class SettingsForm(forms.ModelForm):  # type: ignore[type-arg]  # not to be subscripted when it runs
    """The kitchen's name, measures, room and habits. One field for each question on which makers differ."""

    room_c = DegreesField(what="A room at", low=ROOM_RANGE_C[0], high=ROOM_RANGE_C[1], label="The room, °C")

    class Meta:
        model = Kitchen
        fields = (
            "name",
            "measuring_system",
            "shown_units",
            "room_c",
            "iced_water",
            "currency",
            *LENGTHS,
            *KEEPING,
            *STOVE,
            *HOURS,
        )
        labels = {
            "name": "Name of the kitchen",
            "measuring_system": "Cups and spoons are",
            "shown_units": "Figures are shown in",
            "iced_water": "Water for cold doughs is iced, the ice strained out (2 °C)",
            "currency": "Sign before prices",
        }
        help_texts = {"measuring_system": "For new formulas. Each paste can say otherwise."}

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for key, label in LENGTHS.items():
            self.fields[key] = LengthField(what=f"{label.removesuffix(', mm')} of", low=100, high=5000, label=label)
            self.fields[key].required = False
        for key, (label, low, high) in (KEEPING | STOVE).items():
            what = f"{label.rpartition(',')[0]} for" if key in KEEPING else f"{label}:"
            self.fields[key] = SignedField(what=what, low=low, high=high, label=label, required=False)
        for key, label in HOURS.items():
            self.fields[key] = HourField(label=label, required=False)
        self.fields["closes_min"].help_text = "Outside these nobody starts anything: a wait bridges the night."
        self.fields["keep_rich_h"].help_text = "At 5 °C or below. Local food codes come first."
        self.fields["pan_l"].help_text = "A filling fills it to two thirds; what is more is cooked in several goes."
        self.fields["sheet_width_mm"].help_text = "What bench, pin or sheeter allow."
        habits = Schools.of(self.instance.schools)
        for key, question in _habits().items():
            self.fields[key] = forms.ChoiceField(
                label=question.label,
                choices=question.names.items(),
                initial=habits.key(key),
                required=False,
            )

        self.fields["shown_units"].required = False
        for key in (*_habits(), *LENGTHS, *KEEPING, *STOVE, *HOURS, "currency", "shown_units", "iced_water"):
            cast(Any, self.fields[key]).plain_label = True
        self.fields["currency"].required = False
        self.fields["currency"].help_text = ""

    @property
    def habits(self) -> list[Any]:
        """The fields of the questions, to be drawn together."""
        return [self[key] for key in _habits()]

    @property
    def house(self) -> list[Any]:
        """Bench, tray, pans, keeping times and the currency."""
        return [self[key] for key in (*HOURS, *LENGTHS, *STOVE, *KEEPING, "currency")]

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        for key in (*LENGTHS, *KEEPING, *STOVE):
            data[key] = data.get(key) or getattr(self.instance, key)
        for key in HOURS:
            hour = data.get(key)
            data[key] = getattr(self.instance, key) if hour is None else hour
        data["pans"] = int(data["pans"])
        data["shown_units"] = data.get("shown_units") or self.instance.shown_units
        return data

    def save(self, commit: bool = True) -> Kitchen:
        # A question that was not asked stays as it was.
        answers = {key: self.cleaned_data[key] for key in _habits() if self.cleaned_data[key]}
        self.instance.schools = {**self.instance.schools, **answers}
        return super().save(commit)


def _habits() -> dict[str, Question]:
    """The questions for which a kitchen has a habit."""
    return {key: question for key, question in questions().items() if question.is_habit}


class PlaceForm(forms.ModelForm):  # type: ignore[type-arg]  # not to be subscripted when it runs
    """A place in which a dough waits."""

    air_c = DegreesField(
        what="Air at", low=-40, high=45, label="Air, °C", required=False, help_text="Empty: as warm as the room."
    )

    trays = forms.IntegerField(
        label="Tray places",
        min_value=0,
        max_value=1000,
        required=False,
        help_text="How many trays it holds at once. Empty or 0: enough for any day.",
    )

    class Meta:
        model = Place
        fields = ("name", "kind", "air_c", "trays")
        labels = {"name": "Name", "kind": "Kind"}
        help_texts = {"kind": "Sets how fast it takes heat away."}

    def clean_trays(self) -> int:
        return self.cleaned_data["trays"] or 0


class OvenForm(forms.ModelForm):  # type: ignore[type-arg]  # not to be subscripted when it runs
    """An oven."""

    trays = forms.IntegerField(
        label="Tray places",
        min_value=0,
        max_value=60,
        required=False,
        help_text="How many trays it holds at once. Empty or 0: whatever a make needs.",
    )

    offset_k = DegreesLowerField(
        what="An offset of",
        low=-60,
        high=60,
        label="Set lower than a still oven, °C",
        required=False,
        help_text="As measured with an oven thermometer. Empty: 20 with a fan, 0 without.",
    )

    heats_min = MinutesField(
        what="Heating up of",
        low=5,
        high=240,
        label="Hot after, min",
        required=False,
        help_text="From cold. Empty: 20, or 40 with a stone or a heavy tray; a deck takes 45 to 90.",
    )

    class Meta:
        model = Oven
        fields = ("name", "fan", "small", "trays", "offset_k", "heats_min")
        labels = {"name": "Name", "fan": "It has a fan", "small": "It is small and browns early"}

    def clean_trays(self) -> int:
        return self.cleaned_data["trays"] or 0


class MachineForm(forms.ModelForm):  # type: ignore[type-arg]  # not to be subscripted when it runs
    """A mixer."""

    smallest_g = GramsField(
        what="A least load of", low=1, high=200_000, label="Least it works well, g", help_text="Dough, not flour."
    )
    largest_g = GramsField(what="A largest load of", low=1, high=500_000, label="Most it takes, g")

    class Meta:
        model = Machine
        fields = ("name", "smallest_g", "largest_g")
        labels = {"name": "Name"}

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        if not self.errors and data["smallest_g"] > data["largest_g"]:
            said = f"{data['smallest_g']:g} g is more than the {data['largest_g']:g} g it takes at most. Swap the two."
            self.add_error("smallest_g", said)
        return data


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
        help_text="At least 8 characters, not like their name. They choose their own at the first sign-in.",
    )

    from_min = HourField(label="Comes at", required=False, help_text="Empty: as the kitchen opens.")
    to_min = HourField(label="Goes at", required=False, help_text="Empty: as the kitchen closes.")
    does = forms.MultipleChoiceField(
        label="Does",
        choices=WORKS.items(),
        required=False,
        widget=forms.CheckboxSelectMultiple,
        help_text="The day gives them this work and no other. None ticked: everything.",
    )

    def __init__(self, *args: Any, person: Person | None = None, **kwargs: Any) -> None:
        self.person = person
        super().__init__(*args, **kwargs)
        if person and person.user:
            del self.fields["username"]
            self.fields["password"].label = "New password"
            self.fields[
                "password"
            ].help_text = "Leave empty to keep the present one. After a new one they choose their own."

    def clean_username(self) -> str:
        name = self.cleaned_data["username"]
        if not name:
            return ""
        user = get_user_model()(username=name)
        try:
            user.clean_fields(exclude=["password"])
        except forms.ValidationError as error:
            raise one_message(error) from None
        if get_user_model().objects.filter(username__iexact=name).exists():
            raise forms.ValidationError(f"Somebody already signs in as {name}. Choose another, such as {name}2.")
        return name

    def _of_person(self, data: dict[str, Any]) -> Any:
        """Whom a password must not be like."""
        username = data.get("username") or (self.person.user.username if self.person and self.person.user else "")
        return get_user_model().like(username, data.get("name", ""))

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        new_account = bool(data.get("username"))
        password = data.get("password")
        if new_account and not password and "password" not in self.errors:
            self.add_error("password", "Somebody who signs in needs a password of at least 8 characters.")
        elif password and (new_account or (self.person and self.person.user)):
            try:
                validate_password(password, self._of_person(data))
            except forms.ValidationError as error:
                self.add_error("password", error)
        return data

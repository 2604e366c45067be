"""Forms of a make: the first questions, and its sizes."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any, cast

from django import forms
from django.db.models import Q
from django.utils import timezone
from django.utils.functional import cached_property

from northfold.core.errors import CoreError
from northfold.core.matter import ALLERGENS
from northfold.core.method import LOSS_RANGE
from northfold.core.method.advice.place_readings import MINUTES, READING_C
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.fields import field_named, letters
from northfold.core.method.choices.halves import HALVES
from northfold.core.method.choices.kitchen import ROOM_RANGE_C
from northfold.core.method.choices.schools import questions
from northfold.core.method.route.order import may_follow
from northfold.core.method.route.step import Route
from northfold.core.shape.blanks import (
    COUNT,
    COVERS,
    EDGE_RANGE_MM,
    FILLING_G,
    HEAP_MM,
    LATTICE,
    MARGIN_MM,
    OFFCUTS,
    OPEN,
    OVERHANG_MM,
    PRESSED,
    ROLLING,
    SLICES,
    THICKNESS_MM,
    TOPPED,
    TRIMMING,
    USUAL,
    Item,
    Overfilled,
    check_item,
)
from northfold.core.shape.cutting import WEB_RANGE_MM
from northfold.core.shape.decorations import DECORATIONS
from northfold.core.shape.lattice import GAP_RANGE_MM, STRIP_RANGE_MM
from northfold.kitchen.models import Tin
from northfold.kitchen.queries import in_order, ovens, places
from northfold.makes.models import SIZE_FIELDS, Make, MakeItem
from northfold.makes.queries import rows_of
from northfold.web.clock import MomentField
from northfold.web.forms import DegreesField, GramsField, LengthField, MinutesField
from northfold.web.links import row_id


def not_past(due: Any) -> Any:
    """A time at which something must be ready, refused where it has passed."""
    if due and due < timezone.now():
        said = f"{timezone.localtime(due):%d %B, %H:%M} has passed. Give a later time, or leave it empty."
        raise forms.ValidationError(said)
    return due


def count_field(**kwargs: Any) -> forms.IntegerField:
    low, high = COUNT
    said = {
        "min_value": f"At least {low} piece.",
        "max_value": f"%(show_value)s pieces are too many for one make: at most {high:,}. Make two.",
        "invalid": "Write a whole number of pieces, such as 6.",
    }
    field = forms.IntegerField(min_value=low, max_value=high, error_messages=said, **kwargs)
    field.widget = forms.TextInput(attrs={"inputmode": "numeric", "class": "num"})
    return field


class MakeItForm(forms.Form):
    """What "Make it" asks: which tin, how many, for when."""

    tin = forms.ModelChoiceField(Tin.objects.none(), label="Tin or shape", empty_label="choose one")
    count = count_field(label="How many", initial=1)
    due_at = MomentField(label="Ready at", help_text="Leave empty if no time is set yet.")

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        cast(Any, self.fields["tin"]).queryset = Tin.objects.kept()

    def clean_due_at(self) -> Any:
        return not_past(self.cleaned_data["due_at"])


# Fields that start from something where nothing is typed.
STARTED = ("cover", "heap_mm", "edge_mm", "strip_mm", "gap_mm", "web_mm", "filling_g", "slices", "leaves", "stars")


class ItemForm(forms.Form):
    """One kind of piece of a make."""

    id = forms.IntegerField(required=False, widget=forms.HiddenInput)
    tin = forms.TypedChoiceField(label="Tin or shape", coerce=int)
    count = count_field(label="Pieces", initial=1)
    thickness_mm = LengthField(
        what="A thickness of", low=THICKNESS_MM[0], high=THICKNESS_MM[1], label="Thickness, mm", initial=3.0
    )
    overhang_mm = LengthField(
        what="An overhang of", low=OVERHANG_MM[0], high=OVERHANG_MM[1], label="Overhang, mm", initial=10.0
    )
    margin_mm = LengthField(
        what="A rolling margin of", low=MARGIN_MM[0], high=MARGIN_MM[1], label="Rolled beyond, mm", initial=10.0
    )
    trimming = forms.ChoiceField(choices=TRIMMING.items(), label="Trim", initial="after")
    offcuts = forms.ChoiceField(choices=OFFCUTS.items(), label="Offcuts", initial="apart")
    cover = forms.ChoiceField(choices=COVERS.items(), label="Made of", initial="open", required=False)
    heap_mm = LengthField(
        what="A heap of", low=HEAP_MM[0], high=HEAP_MM[1], label="Heap under the lid, mm", required=False
    )
    edge_mm = LengthField(
        what="An edge of", low=EDGE_RANGE_MM[0], high=EDGE_RANGE_MM[1], label="Lid’s edge, mm", required=False
    )
    strip_mm = LengthField(
        what="A strip of", low=STRIP_RANGE_MM[0], high=STRIP_RANGE_MM[1], label="Strips wide, mm", required=False
    )
    gap_mm = LengthField(
        what="A gap of", low=GAP_RANGE_MM[0], high=GAP_RANGE_MM[1], label="Gap between, mm", required=False
    )
    leaves = forms.IntegerField(
        min_value=DECORATIONS[0], max_value=DECORATIONS[1], label="Leaves each", required=False,
        widget=forms.TextInput(attrs={"inputmode": "numeric", "class": "num"}),
    )  # fmt: skip
    stars = forms.IntegerField(
        min_value=DECORATIONS[0], max_value=DECORATIONS[1], label="Stars each", required=False,
        widget=forms.TextInput(attrs={"inputmode": "numeric", "class": "num"}),
    )  # fmt: skip
    rolling = forms.ChoiceField(choices=ROLLING.items(), label="Rolled", required=False)
    web_mm = LengthField(
        what="A web of", low=WEB_RANGE_MM[0], high=WEB_RANGE_MM[1], label="Between pieces, mm", required=False
    )
    filling = forms.CharField(label="Filling", max_length=60, required=False)
    filling_g = GramsField(
        what="A filling of", low=FILLING_G[0], high=FILLING_G[1], label="Filling each, g", required=False,
        help_text="Empty: what it holds.",
    )  # fmt: skip
    filling_allergens = forms.MultipleChoiceField(
        choices=[(name, name) for name in ALLERGENS], label="The filling holds", required=False,
        widget=forms.CheckboxSelectMultiple,
    )  # fmt: skip
    slices = forms.IntegerField(
        min_value=SLICES[0], max_value=SLICES[1], label="Slices each", required=False,
        widget=forms.TextInput(attrs={"inputmode": "numeric", "class": "num"}),
    )  # fmt: skip

    def __init__(
        self, *args: Any, rack: dict[int, Tin], rows: dict[int, MakeItem] | None = None, **kwargs: Any
    ) -> None:
        super().__init__(*args, **kwargs)
        self.rack, self.rows = rack, rows or {}
        self.is_layered = False
        for name in ("rolling", "filling", *STARTED):
            cast(Any, self.fields[name]).plain_label = True  # it starts from something, so that nothing has to be said
        cast(Any, self.fields["tin"]).choices = [(tin.pk, str(tin)) for tin in rack.values()]

    @property
    def form(self) -> "ItemForm":
        return self

    @property
    def shown(self) -> tuple[tuple[str, str], ...]:
        """All that its fields show, what is wrong with them too."""
        wrong = self.errors.as_json() if self.errors else ""
        return (*((name, str(self[name].value())) for name in self.fields), ("", wrong))

    @property
    def chosen_tin(self) -> Tin | None:
        return self.rack.get(row_id(str(self["tin"].value() or "")))

    @cached_property
    def asks(self) -> dict[str, bool]:
        """Which fields this kind of piece asks for, as it is now chosen."""
        tin = self.chosen_tin
        if tin is None:
            return {}
        shape = tin.shape
        cover, rolling = self["cover"].value() or OPEN, self["rolling"].value() or USUAL
        item = Item(shape, 1, cover=cover, rolling=rolling)
        return {
            "trimming": shape.is_vessel and cover not in (PRESSED, *TOPPED),
            "overhang": shape.is_vessel and cover != PRESSED,
            "cover": shape.is_vessel,
            "lid": item.has_lid or shape.is_folded,
            "edge": item.has_lid and shape.is_vessel,
            "web": item.is_from_sheet,
            "lattice": shape.is_vessel and cover == LATTICE,
            "leaves": item.has_lid,
        }

    @property
    def folded_errors(self) -> bool:
        """Whether a field that stands folded away has an error, so that it is opened."""
        return bool(set(self.errors) & set(FOLDED))

    @property
    def in_short(self) -> str:
        """What stands folded away, as it is now chosen."""
        said = []
        if self.asks.get("trimming"):
            said.append(f"trimmed {TRIMMING.get(self['trimming'].value(), '')}")
        said.append(f"offcuts {OFFCUTS.get(self['offcuts'].value(), '')}")
        filling, grams, slices = (self[name].value() for name in ("filling", "filling_g", "slices"))
        if (filling or grams) and not self.is_layered:
            each = f" {grams} g" if grams else ""
            said.append(f"{filling or 'filling'}{each}")
        for name in ("leaves", "stars"):
            if self.asks.get("leaves") and self[name].value():
                said.append(f"{self[name].value()} {name}")
        if slices:
            said.append(f"{slices} slices")
        held = self["filling_allergens"].value()
        if held and not self.is_layered:
            said.append(f"the filling holds {', '.join(held)}")
        text = ", ".join(said)
        return text[:1].upper() + text[1:]

    def clean_tin(self) -> Tin:
        return self.rack[self.cleaned_data["tin"]]

    def clean_id(self) -> MakeItem | None:
        """The piece it is; None for a new one, or for one that was taken out meanwhile."""
        return self.rows.get(self.cleaned_data["id"] or 0)

    def valid_values(self) -> dict[str, Any]:
        """
        What of these pieces can be kept though something else of them cannot: fields without an error.

        Nothing but the row itself where the fields do not go together.
        """
        kept = {"id": self.cleaned_data.get("id")}
        if self.non_field_errors():
            return kept
        found = {name: value for name, value in self.cleaned_data.items() if name in SIZE_FIELDS}
        found = {**found, **{name: self.started_from(name) for name, value in found.items() if value in (None, "")}}
        row = kept["id"]
        if row is not None:
            try:
                whole = {name: getattr(row, name) for name in SIZE_FIELDS} | found
                check_item(MakeItem(**whole).core)
            except CoreError:
                return kept
        return {**kept, **found}

    @staticmethod
    def started_from(name: str) -> Any:
        """What a field of a piece starts from."""
        return cast(Any, MakeItem._meta.get_field(name)).get_default()

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        if not self.errors:
            # Fields that this kind of piece does not ask for keep what they start from.
            for key in STARTED:
                if data[key] in (None, ""):
                    data[key] = self.started_from(key)
            fields = {key: value for key, value in data.items() if key not in ("id", "tin", "DELETE")}
            try:
                check_item(MakeItem(tin=data["tin"], **fields).core)
            except Overfilled as error:
                self.add_error("filling_g", str(error))
            except CoreError as error:
                self.add_error(None, str(error))
        return data


# Fields of a piece that stand folded away beneath its drawing.
FOLDED = (
    "trimming",
    "offcuts",
    "rolling",
    "edge_mm",
    "strip_mm",
    "gap_mm",
    "leaves",
    "stars",
    "web_mm",
    "filling",
    "filling_g",
    "slices",
    "filling_allergens",
)


@dataclass(frozen=True)
class ItemRow:
    """Some pieces as they stand; their form is made where it is drawn."""

    prefix: str
    rack: dict[int, Tin]
    initial: dict[str, Any]

    @property
    def form(self) -> ItemForm:
        return ItemForm(rack=self.rack, prefix=self.prefix, initial=self.initial)

    @property
    def shown(self) -> tuple[tuple[str, str], ...]:
        return tuple((name, str(value)) for name, value in self.initial.items())


class ShoppingForm(forms.Form):
    """From which day on, for how many."""

    day = forms.DateField(label="From", widget=forms.DateInput(attrs={"type": "date"}))
    days = forms.TypedChoiceField(label="For", coerce=int, choices=[(1, "a day"), (2, "two days"), (7, "a week")])

    @property
    def begins(self) -> date:
        found: date = self.cleaned_data["day"]
        return found

    @property
    def days_on(self) -> int:
        found: int = self.cleaned_data["days"]
        return found


Items = Sequence[ItemForm | ItemRow]


class MakeForm(forms.Form):
    """What holds for a make as a whole."""

    loss = forms.FloatField(
        label="Lost on bowl and bench, %",
        min_value=100 * LOSS_RANGE[0],
        max_value=100 * LOSS_RANGE[1],
        localize=False,
        widget=forms.TextInput(attrs={"inputmode": "decimal", "class": "num"}),
        error_messages={
            "invalid": "Write a percentage, such as 2.",
            "max_value": "More than %(limit_value)g % cannot be a loss; usual is 2.",
            "min_value": "A loss is 0 or more; usual is 2.",
        },
    )
    due_at = MomentField(label="Ready at")
    glaze_g = GramsField(what="Glaze of", low=0, high=20_000, label="Egg kept for glaze, g", required=False)
    eggs = forms.ChoiceField(
        label="Eggs", required=False, choices=[("", "as the formula"), *questions()["egg"].names.items()]
    )

    half = forms.ChoiceField(label="How far", required=False, choices=list(HALVES.items()))

    def __init__(self, *args: Any, make: Make | None = None, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.make = make
        cast(Any, self.fields["half"]).plain_label = True
        cast(Any, self.fields["eggs"]).plain_label = True

    @property
    def in_short(self) -> str:
        """What stands folded away, as it is now chosen."""
        glaze = self["glaze_g"].value()
        return f"{self['loss'].value()} % lost on bowl and bench" + (f", {glaze} g of egg for glaze" if glaze else "")

    def clean_due_at(self) -> Any:
        """A time to come; one that has passed since it was set may stay as it is."""
        due = self.cleaned_data["due_at"]
        kept = self.make is not None and self.make.due_at is not None and due is not None
        if kept and self.make and self.make.due_at and abs((due - self.make.due_at).total_seconds()) < 60:
            return self.make.due_at
        return not_past(due)


class RoomForm(forms.Form):
    """How warm the room is for one make; empty takes the kitchen's."""

    room_c = DegreesField(what="A room at", low=ROOM_RANGE_C[0], high=ROOM_RANGE_C[1], label="The room", required=False)


class ReadingForm(forms.Form):
    """Two thermometer readings of the resting dough, in its middle."""

    first_c = DegreesField(what="A reading of", low=READING_C[0], high=READING_C[1], label="First, °C")
    minutes = MinutesField(what="Minutes between of", low=MINUTES[0], high=MINUTES[1], label="Minutes later")
    second_c = DegreesField(what="A reading of", low=READING_C[0], high=READING_C[1], label="Second, °C")


def _initial(item: MakeItem) -> dict[str, Any]:
    """An item as its form shows it: what is not said stays empty."""
    values = {name: getattr(item, name) for name in SIZE_FIELDS}
    return {**values, "tin": item.tin_id, "filling_g": item.filling_g or "", "slices": item.slices or "",
            "leaves": item.leaves or "", "stars": item.stars or ""}  # fmt: skip


def _rack_of(make: Make) -> dict[int, Tin]:
    """The tins to choose from, and those that are chosen though they are binned."""
    used = Q(pk__in=make.items.values("tin"))
    return {tin.pk: tin for tin in in_order(Tin.objects.filter(used | Q(binned_at=None)))}


def size_rows(make: Make) -> tuple[MakeForm, list[ItemRow]]:
    """The fields of the Size view as the make stands."""
    due = timezone.localtime(make.due_at) if make.due_at else None
    egg = next((edit.value for edit in make.step_edits.all() if edit.field == "egg"), "")
    whole = MakeForm(
        initial={
            "loss": f"{100 * make.loss:g}", "due_at": due, "glaze_g": make.glaze_g or "", "eggs": egg, "half": make.half
        }
    )  # fmt: skip
    rack = _rack_of(make)
    rows = [
        ItemRow(f"item-{index}", rack, {"id": item.pk, **_initial(item)}) for index, item in enumerate(rows_of(make))
    ]
    return whole, rows


def size_forms(make: Make, data: Any) -> tuple[MakeForm, list[ItemForm]]:
    """The forms of the Size view, bound to what was sent."""
    rack, rows = _rack_of(make), {item.pk: item for item in rows_of(make)}
    text = data.get("items", "0")
    count = min(int(text), 40) if text.isdecimal() and len(text) < 4 else 0
    dropped = data.get("drop", "")
    items = [ItemForm(data, rack=rack, rows=rows, prefix=f"item-{i}") for i in range(count) if str(i) != dropped]
    return MakeForm(data, make=make), items


def sizes_as_text(whole: MakeForm, items: Items) -> str:
    """The Size view's fields as lines to read, for two of them to be held side by side."""
    said = []
    for item in (each.form for each in items):
        said.append(f"{item['count'].value()} × {item.chosen_tin or 'no tin'}")
        names = ("thickness_mm", "overhang_mm", "margin_mm")
        said.append(
            "  "
            + ", ".join(
                f"{str(item.fields[name].label).removesuffix(', mm').lower()} {item[name].value()} mm" for name in names
            )
        )
        said.append(
            f"  {TRIMMING.get(item['trimming'].value(), '')}, offcuts {OFFCUTS.get(item['offcuts'].value(), '')}"
        )
        words = [
            COVERS.get(item["cover"].value() or OPEN, ""),
            f"rolled {ROLLING.get(item['rolling'].value() or '', '')}",
        ]
        if item["filling_allergens"].value():
            words.append(f"the filling holds {', '.join(item['filling_allergens'].value())}")
        woven = ("strip_mm", "gap_mm") if item["cover"].value() == LATTICE else ()
        for name in ("heap_mm", "edge_mm", *woven, "web_mm", "leaves", "stars", "filling", "filling_g", "slices"):
            if item[name].value() not in (None, "", 0):
                words.append(f"{str(item.fields[name].label).lower()} {item[name].value()}")
        said.append("  " + ", ".join(words))
    said.append(f"lost {whole['loss'].value()} %, ready {whole['due_at'].value() or 'at no hour yet'}")
    if whole["half"].value():
        said.append(HALVES.get(whole["half"].value(), ""))
    if whole["glaze_g"].value():
        said.append(f"{whole['glaze_g'].value()} g of egg kept for glaze")
    return "\n".join(said)


def _minutes(name: str, label: str) -> MinutesField:
    """Minutes within the range of a step's field, where they are said."""
    kind = field_named(name)
    assert kind is not None
    return MinutesField(label=label, what=kind.number, low=kind.low, high=kind.high, required=False)


class OwnStepForm(forms.Form):
    """A step of the maker's own, put after another."""

    name = forms.CharField(label="Your step", max_length=letters("name"))
    after = forms.ChoiceField(label="Comes after")
    hands_min = _minutes("hands_min", "Hands on")
    minutes = _minutes("minutes", "Then waits")
    place = forms.ChoiceField(label="Where", required=False)
    look = forms.CharField(label="Look for", max_length=letters("look"), required=False)

    def __init__(self, *args: Any, route: Route | None, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        order = route.order if route else ()
        cast(Any, self.fields["after"]).choices = list(may_follow(order, step_keys.OWN_).items())
        cast(Any, self.fields["place"]).choices = [
            ("", "on the bench"),
            *((row.core.key, row.name) for row in places()),
            *((row.core.key, row.name) for row in ovens()),
        ]

    def clean(self) -> dict[str, Any]:
        cleaned = super().clean() or {}
        if not self.errors and not (cleaned.get("hands_min") or cleaned.get("minutes")):
            self.add_error("hands_min", "A step takes some minutes: hands on, waiting, or both.")
        return cleaned

    def as_typed(self) -> dict[str, str]:
        """The values as text; what was left empty is empty."""
        return {name: "" if value is None else f"{value}" for name, value in self.cleaned_data.items()}


class MethodForm(forms.Form):
    """A name for the kitchen's own method."""

    name = forms.CharField(label="Keep these changes as", max_length=60)
    is_usual = forms.BooleanField(label="New makes of this kind start with it", required=False)

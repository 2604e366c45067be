"""The form of a result: rims before and after at four points, gap, faults, taste, note."""

from typing import Any, cast

from django import forms

from northfold.core.errors import CoreError
from northfold.core.learning.faults import parts
from northfold.core.learning.shrink import POINTS, RIM_MM, RimGrew, measured_shrink
from northfold.core.method import Plan
from northfold.core.method.choices.kitchen import ROOM_RANGE_C
from northfold.core.shape.blanks import THICKNESS_MM
from northfold.records.models import Result
from northfold.records.notes import MOST_LETTERS
from northfold.records.photos import MOST_BYTES
from northfold.records.services import Findings
from northfold.web.forms import DegreesField, GramsField, MillimetresField

GAP_MM = (0.0, 50.0)


class ResultForm(forms.Form):
    """Everything is optional, but a rim is measured at all four points, before and after, or not at all."""

    gap = MillimetresField(
        what="A gap of", low=GAP_MM[0], high=GAP_MM[1], label="Gap from the wall, mm", required=False
    )
    room_c = DegreesField(
        what="A room at", low=ROOM_RANGE_C[0], high=ROOM_RANGE_C[1], label="The room was, °C", required=False
    )
    rolled_mm = MillimetresField(
        what="A thickness of", low=THICKNESS_MM[0], high=THICKNESS_MM[1], label="Rolled to, mm", required=False
    )
    lid_gap = MillimetresField(
        what="A gap under the lid of", low=0, high=80, label="Gap under the lid, mm", required=False
    )
    juice_g = GramsField(what="Juice of", low=0, high=20_000, label="Juice drawn off, g", required=False)
    taste = forms.ChoiceField(
        label="Taste", choices=[("", "not tasted"), *Result.Taste.choices], required=False, widget=forms.RadioSelect
    )
    note = forms.CharField(label="Note", required=False, max_length=2000, widget=forms.Textarea(attrs={"rows": 3}))
    faults = forms.MultipleChoiceField(
        required=False, choices=[(fault.key, fault.name) for part in parts() for fault in part.faults]
    )
    doubtful = forms.BooleanField(label="This measure is doubtful: keep it, but learn nothing from it", required=False)

    def __init__(self, data: Any = None, *, plan: Plan, **kwargs: Any) -> None:
        super().__init__(data, **kwargs)
        for when in ("before", "after"):
            for point in POINTS:
                self.fields[f"{when}_{point}"] = MillimetresField(
                    what=f"A rim, {point} {when},",
                    low=RIM_MM[0],
                    high=RIM_MM[1],
                    label=f"{point} {when}",
                    required=False,
                )
        self.plan = plan
        kinds = [(index, f"{piece.item.tin.name}, {piece.item.tin.size}") for index, piece in enumerate(plan.pieces)]
        self.fields["piece"] = forms.TypedChoiceField(
            label="Measured on", choices=kinds, coerce=int, empty_value=cast(Any, 0)
        )
        self.fields["piece"].required = False

    @classmethod
    def of(cls, findings: Findings, plan: Plan) -> "ResultForm":
        """Filled with what a result says, to correct it."""
        initial: dict[str, Any] = {
            "gap": findings.gap_mm, "lid_gap": findings.lid_gap_mm, "juice_g": findings.juice_g,
            "room_c": findings.room_c, "rolled_mm": findings.rolled_mm,
            "taste": findings.taste, "note": findings.note, "faults": findings.faults,
            "doubtful": findings.doubtful, "piece": findings.piece,
        }  # fmt: skip
        for when, values in (("before", findings.before_mm), ("after", findings.after_mm)):
            initial |= {f"{when}_{point}": value for point, value in zip(POINTS, values, strict=False)}
        return cls(plan=plan, initial=initial)

    def rim(self, when: str) -> list[Any]:
        """The four fields before or after, to be drawn around a tin."""
        return [self[f"{when}_{point}"] for point in POINTS]

    def _heights(self, when: str) -> list[float | None]:
        return [self.cleaned_data.get(f"{when}_{point}") for point in POINTS]

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        before, after = self._heights("before"), self._heights("after")
        filled = [value is not None for value in (*before, *after)]
        if self.errors or not any(filled):
            return data
        if not all(filled):
            for when, values in (("before", before), ("after", after)):
                for point, value in zip(POINTS, values, strict=True):
                    if value is None:
                        self.add_error(
                            f"{when}_{point}", "Missing: measure all four points, before and after, or leave all empty."
                        )
            return data
        for index, point in enumerate(POINTS):
            try:
                was, now = (cast(list[float], [values[index]] * 4) for values in (before, after))
                measured_shrink(was, now, 1000)
            except RimGrew as error:
                self.add_error(f"after_{point}", str(error))
            except CoreError as error:
                self.add_error(None, str(error))
        return data

    def findings(self) -> Findings:
        """What was found, from a valid form."""
        data = self.cleaned_data
        before = [value for value in self._heights("before") if value is not None]
        after = [value for value in self._heights("after") if value is not None]
        return Findings(
            piece=min(data.get("piece") or 0, len(self.plan.pieces) - 1),
            before_mm=before,
            after_mm=after,
            gap_mm=data.get("gap"),
            lid_gap_mm=data.get("lid_gap"),
            juice_g=data.get("juice_g"),
            room_c=data.get("room_c"),
            rolled_mm=data.get("rolled_mm"),
            faults=data["faults"],
            taste=data["taste"],
            note=data["note"],
            doubtful=data["doubtful"],
        )


class NoteForm(forms.Form):
    """A note, a picture, or both."""

    text = forms.CharField(
        label="A note", required=False, max_length=MOST_LETTERS, widget=forms.Textarea(attrs={"rows": 3})
    )
    photo = forms.FileField(
        label="A picture",
        required=False,
        help_text="JPEG, PNG or WebP, at most 15 MB. Where and when it was taken is left out.",
        widget=forms.FileInput(attrs={"accept": "image/jpeg,image/png,image/webp"}),
    )

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for field in self.fields.values():
            cast(Any, field).plain_label = True

    @property
    def photo_bytes(self) -> bytes | None:
        """What was sent, no more of it than is looked at."""
        sent = self.cleaned_data["photo"]
        return sent.read(MOST_BYTES + 1) if sent else None

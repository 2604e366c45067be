"""The form of a layer: which mixture, when and where it goes, how much, how its juice is worked first."""

from collections.abc import Mapping
from typing import Any

from django import forms

from northfold.core.fill.layers import AREA, GRAMS, HEAP, MARK, RANGES, RIM, RULES, SHARE, SLICE, UNITS
from northfold.core.fill.ledger import GOES, INTO, USUAL_DRAWING_MIN, USUAL_MARK, WAYS
from northfold.core.fill.mixture import IN, POSITIONS, WHENS
from northfold.core.fill.settling import DRAWN, RAW, THAWED
from northfold.core.formula.typed import read_typed
from northfold.dough.models import FormulaVersion
from northfold.makes.models import MakeLayer
from northfold.web.forms import MinutesField, SignedField

# What a rule starts from where nothing is typed.
USUAL_AMOUNT = {RIM: 0.0, MARK: 3.0, GRAMS: 100.0, AREA: 0.1, HEAP: 20.0, SHARE: 100.0, SLICE: 10.0}


class LayerForm(forms.Form):
    """A layer of an item; a number is read in the unit of its rule."""

    version = forms.TypedChoiceField(label="Mixture", coerce=int)
    when = forms.ChoiceField(label="Goes in")
    position = forms.ChoiceField(label="Lies", choices=list(POSITIONS.items()), initial=IN)
    rule = forms.ChoiceField(label="How much", choices=list(RULES.items()), initial=RIM)
    amount = forms.CharField(
        label="Number", max_length=20, required=False,
        widget=forms.TextInput(attrs={"inputmode": "decimal", "class": "num"}),
    )  # fmt: skip
    way = forms.ChoiceField(label="Worked first", choices=list(WAYS.items()), initial=RAW, required=False)
    drawn_min = MinutesField(label="Drawn for, min", what="Drawing for", low=30, high=180, required=False)
    mark = SignedField(label="Boiled down to, %", what="A mark of", low=15, high=85, required=False)
    goes = forms.ChoiceField(label="The juice goes", choices=list(GOES.items()), initial=INTO, required=False)

    def __init__(
        self,
        *args: Any,
        offered: Mapping[int, FormulaVersion],
        whens: tuple[str, ...],
        row: MakeLayer | None = None,
        lidded: bool = False,
        **kwargs: Any,
    ) -> None:
        self.row, self.offered = row, dict(offered)
        if row is not None:
            # What it was laid with stays offered, though there is a newer version.
            self.offered.setdefault(row.version_id, row.version)
        super().__init__(*args, **kwargs)
        for name in ("way", "drawn_min", "mark", "goes", "amount"):
            setattr(self.fields[name], "plain_label", True)  # noqa: B010  # Django’s field has no such name of its own
        _menu(self.fields["version"], [(pk, _named(version)) for pk, version in self.offered.items()])
        _menu(self.fields["when"], [(key, WHENS[key]) for key in whens])
        if not self.is_bound and self.offered and "version" not in self.initial:
            kind = next(iter(self.offered.values())).mixture.of_kind
            starts: dict[str, Any] = {
                "when": kind.when if kind.when in whens else whens[0],
                "position": kind.position,
                "rule": HEAP if lidded else RIM,
                "amount": "20" if lidded else "",
                "drawn_min": USUAL_DRAWING_MIN,
                "mark": 100 * USUAL_MARK,
            }
            self.initial.update(starts)

    @classmethod
    def of(cls, row: MakeLayer, *, offered: Mapping[int, FormulaVersion], whens: tuple[str, ...]) -> "LayerForm":
        """The form of a layer that is there."""
        whens = whens if row.when in whens else (*whens, row.when)
        initial = {
            "version": row.version_id,
            "when": row.when,
            "position": row.position,
            "rule": row.rule,
            "amount": "" if row.rule == RIM else f"{row.amount:g}",
            "way": row.way,
            "drawn_min": row.drawn_min,
            "mark": round(100 * row.mark, 1),
            "goes": row.goes,
        }
        found = cls(offered=offered, whens=whens, row=row, prefix=f"layer-{row.pk}", initial=initial)
        if not row.version.mixture.fruit:
            _menu(found.fields["way"], [(key, words) for key, words in WAYS.items() if key not in (DRAWN, THAWED)])
        return found

    @property
    def is_loose(self) -> bool:
        """Whether it is asked how it is worked first."""
        return self.row is not None and self.row.version.mixture.is_loose

    @property
    def is_fruit(self) -> bool:
        """Whether its juice is asked about."""
        return self.row is not None and bool(self.row.version.mixture.fruit)

    @property
    def unit(self) -> str:
        """What its number counts, as it stands."""
        return UNITS.get(str(self["rule"].value()), "")

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        rule, typed = data.get("rule", RIM), (data.get("amount") or "").strip()
        if self.row is not None and rule != self.row.rule and typed == f"{self.row.amount:g}":
            typed = ""  # it counted something else
        unit, (low, high) = UNITS.get(rule, ""), RANGES.get(rule, (0.0, 0.0))
        if rule == RIM:
            data["number"] = 0.0
        elif not typed:
            data["number"] = USUAL_AMOUNT[rule]
        else:
            try:
                data["number"] = read_typed(
                    typed, unit if unit in ("g", "mm", "%") else "", what="number", example="20"
                )
            except ValueError as error:
                self.add_error("amount", str(error))
            else:
                if not low <= data["number"] <= high:
                    said = (
                        f"{RULES[rule].capitalize()}: {data['number']:g} {unit} is outside {low:g} to {high:g} {unit}."
                    )
                    self.add_error("amount", f"{said} Give a number between those.")
        return data

    @property
    def values(self) -> dict[str, Any]:
        """The fields of the layer as they are kept."""
        data = self.cleaned_data
        return {
            "version_id": data["version"],
            "when": data["when"],
            "position": data["position"],
            "rule": data["rule"],
            "amount": data["number"],
            "way": data.get("way") or RAW,
            "drawn_min": data.get("drawn_min") or USUAL_DRAWING_MIN,
            "mark": (data.get("mark") or 100 * USUAL_MARK) / 100,
            "goes": data.get("goes") or INTO,
        }


def _menu(field: forms.Field, choices: list[tuple[Any, str]]) -> None:
    assert isinstance(field, forms.ChoiceField)
    field.choices = choices


def _named(version: FormulaVersion) -> str:
    return f"{version.formula.name}, v {version.n}"

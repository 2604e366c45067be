"""A make side by side with other ways to make of its dough: hands, oven, dough and cost of each."""

from dataclasses import dataclass, replace
from typing import Any

from django import forms
from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from northfold.core.formula.cost import cost_of
from northfold.core.method import Plan
from northfold.core.method.advice.side_by_side import Alternative, Compared, as_many, portions_of, side_by_side
from northfold.core.method.choices import step_keys
from northfold.core.shape.blanks import Item, starts_from
from northfold.kitchen.models import Tin
from northfold.kitchen.queries import currency, prices, tins
from northfold.makes.pages import make_or_404, strip
from northfold.makes.queries import thread_of
from northfold.web.requests import SignedIn

# So many other ways stand beside the make as it is.
WAYS = ("a", "b")


class WayForm(forms.Form):
    """Another way: in which tins, how many, in how many slices, on which bench."""

    tin = forms.ChoiceField(label="Tin or shape", required=False)
    count = forms.IntegerField(label="How many", min_value=1, max_value=500, required=False)
    slices = forms.IntegerField(label="Slices of each", min_value=1, max_value=100, required=False)
    bench = forms.ChoiceField(label="Rolled on", required=False)

    def __init__(self, *args: Any, rack: dict[str, Tin], benches: dict[str, str], **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.rack, self.benches = rack, benches
        own: Any = self.fields
        own["tin"].choices = [("", "the same pieces"), *((key, str(tin)) for key, tin in rack.items())]
        own["bench"].choices = [("", "the same place"), *benches.items()]

    def way(self, plan: Plan) -> Alternative | None:
        """The way that was chosen; None where nothing is otherwise."""
        data = self.cleaned_data
        tin, bench = self.rack.get(data.get("tin") or ""), data.get("bench") or ""
        items = plan.inputs.items
        if tin is not None:
            items = (_item(tin, data, portions_of(items)),)
        elif data.get("count") and items:
            items = (replace(items[0], count=data["count"], slices=data.get("slices") or items[0].slices), *items[1:])
        takes = ((step_keys.ROLL, "place", bench),) if bench else ()
        if items == plan.inputs.items and not takes:
            return None
        said = [str(tin)] if tin else []
        said += [f"on {self.benches[bench]}"] if bench else []
        return Alternative(", ".join(said) or "another number", items, takes)


def _item(tin: Tin, data: dict[str, Any], portions: int) -> Item:
    """So many of a tin as are asked for, else as make the same portions."""
    item = Item(tin.shape, 1, slices=data.get("slices") or 0, **starts_from(tin.shape))
    return replace(item, count=data["count"]) if data.get("count") else as_many(item, portions)


@dataclass(frozen=True)
class Column:
    """One way as the page shows it: its figures, what a portion's dough costs, and which of it is the least of all."""

    found: Compared
    cost_each: float | None
    least: frozenset[str]


FIGURES = ("hands_min", "oven_min", "whole_min", "dough_g")


def _columns(found: tuple[Compared, ...]) -> list[Column]:
    costs = [_cost_each(each) for each in found]
    able = [each for each in found if not each.problem]
    least = {name: min((getattr(each, name) for each in able), default=None) for name in FIGURES}
    known = [cost for cost in costs if cost is not None]
    columns = []
    for each, cost in zip(found, costs, strict=True):
        names = {name for name in FIGURES if not each.problem and getattr(each, name) == least[name]}
        names |= {"cost"} if cost is not None and cost == min(known) else set()
        columns.append(Column(each, cost, frozenset(names)))
    return columns


def _cost_each(found: Compared) -> float | None:
    """What the dough of one portion costs; None where it is not priced."""
    plan = found.plan
    total = cost_of(plan.lines, prices()).total
    if not total or plan.factor is None or found.problem:
        return None
    return total * plan.factor / max(1, found.portions)


@require_safe
def compare(request: SignedIn, pk: int) -> HttpResponse:
    """Two other ways beside the make as it is; a slab to begin with, where there is one on the rack."""
    thread = thread_of(make_or_404(pk, whole=True), request.user)
    plan = thread.plan
    rack = {f"{tin.pk}": tin for tin in tins()}
    benches = {place.key: place.name for place in plan.inputs.setting.places if not place.is_cold}
    asked = any(name.partition("-")[0] in WAYS for name in request.GET)
    given = request.GET if asked else _to_begin_with(plan, rack)
    ways = [WayForm(given, prefix=prefix, rack=rack, benches=benches) for prefix in WAYS]
    others = [way for form in ways if form.is_valid() and (way := form.way(plan)) is not None]
    right = not any(form.errors for form in ways)
    context = {
        **strip(request.user, thread, "size"),
        "ways": ways,
        "columns": _columns(side_by_side(plan, others)) if plan.dough_g else [],
        "currency": currency(),
    }
    return render(request, "makes/compare.html", context, status=200 if right else 422)


def _to_begin_with(plan: Plan, rack: dict[str, Tin]) -> dict[str, str]:
    """A slab cut into as many portions, or the first tin that is not this one."""
    here = {item.tin.key for item in plan.inputs.items}
    others = [(key, tin) for key, tin in rack.items() if tin.shape.key not in here]
    slab = next((key for key, tin in others if tin.kind == "slab"), others[0][0] if others else "")
    return {"a-tin": slab, "a-slices": "24" if slab else ""}

"""What a plan has of a field, as text to hold a maker's own value against."""

from typing import Any

from northfold.core.method.choices.fields import ORDER, field_of, options
from northfold.core.method.plan import Plan
from northfold.core.method.reckon.cold_form import DISC, USUAL_MM
from northfold.core.method.route.order import name_of

# What a row's `says` may be where it is no figure of the step or of its piece: as the dough is usually shaped for the
# cold, or as thick as its form is.
USUAL, FORM = "usual", "form"


def plan_says(plan: Plan, step_key: str, name: str) -> str:
    """
    What a plan has of a field.

    Parameters
    ----------
    plan : Plan
        With or without the edit.
    step_key, name : str
        Of the field.

    Returns
    -------
    str
        A number in the field's unit, or words; empty where its row says none, or the step is not in the plan.
    """
    plan, step_key = plan.at(step_key)
    kind = field_of(step_key, name)
    says = kind.says if kind else ""
    if says == USUAL:
        return options(step_key, name).get(DISC, "1")
    if says == FORM:
        form = next((edit.value for edit in plan.edits if edit.field == "form"), DISC)
        return f"{USUAL_MM.get(form, USUAL_MM[DISC]):g}"
    if says == ORDER:
        return _stands_after(plan, step_key)
    whole, _, figure = says.partition(".")
    step = next((each for each in plan.route.steps if each.key == step_key), None) if plan.route else None
    of: Any = {
        "mixture": step.mixture if step else None,
        "step": step,
        "item": plan.pieces[0].item if plan.pieces else None,
    }.get(whole)
    value = getattr(of, figure) if of is not None else ""
    return "" if value is None else value if isinstance(value, str) else f"{value:g}"


def _stands_after(plan: Plan, step_key: str) -> str:
    """The name of the step that a step comes after as it stands."""
    order = plan.route.order if plan.route else ()
    place = order.index(step_key) if step_key in order else 0
    return name_of(order[place - 1]) if place else ""

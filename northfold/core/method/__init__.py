"""One plan: from a formula and its tins to every figure that the views of a make show."""

from northfold.core.method.choices.edits import Edit, UnusedEdit
from northfold.core.method.choices.kitchen import Oven, Setting
from northfold.core.method.choices.learned import Learned, shrink_subject, still_holds
from northfold.core.method.choices.schools import Schools
from northfold.core.method.inputs import LOSS, LOSS_RANGE, PlanInputs, check_loss
from northfold.core.method.plan import Plan, Problem, asked_by, implied_friction, plan

__all__ = [
    "LOSS",
    "LOSS_RANGE",
    "Edit",
    "Learned",
    "Oven",
    "Plan",
    "PlanInputs",
    "Problem",
    "Schools",
    "Setting",
    "UnusedEdit",
    "asked_by",
    "check_loss",
    "implied_friction",
    "plan",
    "shrink_subject",
    "still_holds",
]

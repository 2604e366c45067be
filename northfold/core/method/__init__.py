"""One plan: from a formula and its tins to every figure that the views of a make show."""

from northfold.core.method.plan import (
    LOSS,
    LOSS_RANGE,
    Edit,
    Learned,
    Plan,
    PlanInputs,
    Problem,
    UnusedEdit,
    check_loss,
    plan,
)

__all__ = ["LOSS", "LOSS_RANGE", "Edit", "Learned", "Plan", "PlanInputs", "Problem", "UnusedEdit", "check_loss", "plan"]

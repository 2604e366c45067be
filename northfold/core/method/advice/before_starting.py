"""Before starting: one list worked back from the steps, of what goes on, in and out when, and what is to be at hand."""

from dataclasses import dataclass

from northfold.core.method.choices import step_keys
from northfold.core.method.choices.finishes import finish_words
from northfold.core.method.choices.halves import takes_pieces
from northfold.core.method.choices.step_kinds import kind_of
from northfold.core.method.plan import Plan, finishes_of
from northfold.core.method.rules.alongside import tins_ready


@dataclass(frozen=True)
class Timed:
    """Something to do so many minutes after the first step begins; below 0 before it. [min]"""

    start_min: float
    what: str


@dataclass(frozen=True)
class Before:
    """The list: what has its time, tins, tools, and what is said of dough and recipe."""

    timed: tuple[Timed, ...]
    tins: tuple[str, ...]
    tools: tuple[str, ...]
    dough: str
    silent: tuple[str, ...]


def before_starting(plan: Plan) -> Before | None:
    """The list of a plan; None where it has no steps."""
    route = plan.route
    if route is None:
        return None
    wanted = (step_keys.BEFORE, step_keys.OVEN_ON)
    timed = [Timed(step.start_min, step.look) for step in route.steps if step.key in wanted]
    named = finish_words(finishes_of(plan))
    kinds = [kind for step in route.steps if (kind := kind_of(step.key))]
    at_hand = [tool.format_map(named) for kind in kinds for tool in kind.tools]
    return Before(
        timed=tuple(timed),
        tins=() if takes_pieces(plan.inputs.half) else tins_ready(plan.pieces, named["grease"]),
        tools=tuple(dict.fromkeys(at_hand)),
        dough=_dough(plan),
        silent=_silent(plan),
    )


def _dough(plan: Plan) -> str:
    """Whether there is dough enough, and how much is mixed."""
    if takes_pieces(plan.inputs.half):
        return "None is mixed: the pieces come out of the freezer."
    mixed, factor = plan.mixed_g or 0.0, plan.factor or 0.0
    if mixed < 1:
        return f"Enough in the cold store: {plan.taken_g:,.0f} g from the cold store, nothing is mixed."
    said = f"{mixed:,.0f} g are mixed, {factor:.2f} times the formula as written"
    return f"{said}; {plan.taken_g:,.0f} g come from the cold store." if plan.taken_g >= 1 else f"{said}."


def _silent(plan: Plan) -> tuple[str, ...]:
    """What the formula does not say, though the dough asks for it."""
    lines = [line for line in plan.inputs.lines if line.grams]
    roles = {line.ingredient.role for line in lines}
    salted = any(line.ingredient.role == "fat" and line.ingredient.composition.salt_ash > 0.005 for line in lines)
    said = []
    if "salt" not in roles and not salted:
        said.append("No salt: 1 to 2 % of the flour is usual, in sweet doughs half of that.")
    if not roles & {"liquid", "egg", "binder"} and (plan.ratio is None or plan.ratio.true_water < 14):
        said.append("Only the fat binds it: add an egg yolk or a spoon of water to every 250 g of flour.")
    if not plan.gluten and "binder" not in roles and "egg" not in roles:
        said.append("No gluten and no binder: it will not hold.")
    return tuple(said)

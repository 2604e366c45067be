"""A make that ends in the freezer, or begins there: which of its steps are its own."""

from collections.abc import Sequence

from northfold.core.errors import CoreError
from northfold.core.fill.layers import Filled
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.halves import AHEAD, WHOLE, takes_pieces
from northfold.core.method.inputs import PlanInputs
from northfold.core.method.reckon.mixtures import MixtureMade, goes_in_at, made_for, mixtures_made
from northfold.core.method.route.order import entry_key
from northfold.core.method.route.routes import NoRoute, RouteKind
from northfold.core.method.route.step import Beside, Remark, Route, Step, TracedStep


class NoHalf(CoreError):
    """A make that cannot be parted at the freezer."""

    code = "no_half"


def check_half(inputs: PlanInputs, route: RouteKind | NoRoute) -> None:
    """Raise NoHalf where a make is to end or begin in the freezer, and cannot: no freezer, no such step, several."""
    if inputs.half == WHOLE:
        return
    if inputs.setting.freezer() is None:
        raise NoHalf("To freeze ahead takes a freezer: add one under Kitchen, Places, or bake it when it is ready.")
    if len(inputs.items) > 1:
        raise NoHalf("Several products of one dough cannot be frozen ahead together: make each of them by itself.")
    if isinstance(route, NoRoute) or step_keys.FREEZE not in route.steps:
        raise NoHalf("Pieces of this kind are not frozen raw: make and bake them on one day.")


def own_steps(half: str, steps: Sequence[Step]) -> list[Step]:
    """Of the dough's steps in order those up to the freezer, or those from there on; all of a whole make."""
    place = next((place for place, step in enumerate(steps) if step.key == step_keys.FREEZE), None)
    if half == WHOLE or place is None:
        return list(steps)
    return list(steps[: place + 1] if half == AHEAD else steps[place + 1 :])


def own_beside(steps: Sequence[Step], apart: Sequence[Beside]) -> list[Beside]:
    """What goes on beside these steps: what one of them waits for, or what such a thing waits for itself."""
    wanted, found = {step.key for step in steps}, list[Beside]()
    left = list(apart)
    while ready := [each for each in left if each.until in wanted]:
        found += ready
        wanted |= {each.step.key for each in ready}
        left = [each for each in left if each.step.key not in wanted]
    return [each for each in apart if each in found]


def own_trace(half: str, traced: Sequence[TracedStep]) -> tuple[TracedStep, ...]:
    """The trace of a half: up to the end of the freezing, or from there on; all of a whole make."""
    place = next((place for place, each in enumerate(traced) if each.key == step_keys.FREEZE), None)
    if half == WHOLE or place is None:
        return tuple(traced)
    return tuple(traced[: place + 1] if half == AHEAD else traced[place + 1 :])


def own_remarks(half: str, steps: Sequence[Step], all_steps: Sequence[Step], told: Sequence[Remark]) -> list[Remark]:
    """What is to be known of these steps, or of none in particular."""
    gone = {step.key for step in all_steps} - {step.key for step in steps}
    return list(told) if half == WHOLE else [each for each in told if each.step_key not in gone]


def is_asked(half: str, entries: Sequence[str], step_key: str) -> bool:
    """Whether what differs at a step is to be chosen in a half of a route with these entries."""
    if half == WHOLE or step_key == step_keys.FREEZE:
        return True
    keys = [entry_key(entry) for entry in entries]
    later = keys[keys.index(step_keys.FREEZE) :] if step_keys.FREEZE in keys else []
    is_later = step_key in later or step_key.startswith(step_keys.BAKE_)
    return is_later == takes_pieces(half)


def own_mixtures(inputs: PlanInputs, filled: Sequence[Filled | None], route: Route | None) -> tuple[MixtureMade, ...]:
    """What is made of each mixture for the steps of a half; for all of its pieces where it is whole. [g]"""
    items = inputs.items
    if inputs.half == WHOLE or route is None:
        return mixtures_made(items, filled)
    keys = [step_keys.plain(step.key) for step in route.steps]
    found = []
    for made in mixtures_made(items, filled):
        uses = [use for use in made.uses if any(goes_in_at(use.when, key) for key in keys)]
        if uses:
            found.append(made if len(uses) == len(made.uses) else made_for(made.mixture, uses))
    return tuple(found)

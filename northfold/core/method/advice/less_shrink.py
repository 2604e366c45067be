"""What would lessen the shrink, and by how much: so that the one that buys most is taken first."""

from dataclasses import dataclass

from northfold.core.gluten.pull import hold_share, oven_shrink, rest_along
from northfold.core.method.advice.rolled_dough import RolledDough
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Take
from northfold.core.method.choices.schools import questions
from northfold.core.method.words import duration

# More rest in the tin that is weighed. [min]
LONGER_MIN = 30.0


@dataclass(frozen=True)
class Change:
    """One thing that would lessen the shrink: what it comes to and saves [% of length], its cost, the edits for it."""

    key: str
    name: str
    percent: float
    saves: float
    costs: str
    takes: Take


def changes(dough: RolledDough) -> tuple[Change, ...]:
    """
    What would lessen the shrink of the heaviest piece, the one that buys most first.

    Each as the plan would say it with those edits; what is so already is left out. [% of length]
    """
    number = dough.plan.pieces.index(dough.lead)
    now, route = dough.route.shrink[number], dough.route
    chill = dough.step(step_keys.CHILL)
    frozen = route.frozen_firm
    weighted, docked = route.answer("weights") == "weighted", route.answer("docking") != "none"
    wait_min = chill.wait_min if chill else 0.0
    found: list[Change] = []

    def add(key: str, name: str, pull: float, hold: float, costs: str, takes: Take, *, firm: bool = frozen) -> None:
        percent = now.scale * oven_shrink(dough.true_water, pull, hold, frozen=firm)
        found.append(Change(key, name, percent, now.percent - percent, costs, takes))

    def answered(question: str, key: str) -> Take:
        asked = questions()[question]
        return ((asked.step, asked.field, key),)

    if route.gluten and not frozen:
        pull = dough.pull_after_longer(step_keys.CHILL, LONGER_MIN).total
        longer: Take = ((step_keys.CHILL, "minutes", f"{wait_min + LONGER_MIN:g}"),)
        add("longer", f"chill {duration(LONGER_MIN)} longer", pull, now.hold, duration(LONGER_MIN), longer)
    freezer = dough.setting.freezer()
    if freezer is not None and not frozen and wait_min > 0:
        trace = dough.sheet_in(freezer, wait_min)
        if trace.firm_min is not None and trace.firm_min <= wait_min:
            pull = rest_along(dough.traced(step_keys.CHILL).pull_from, trace)[1].total
            takes: Take = ((step_keys.CHILL, "place", freezer.key), (step_keys.CHILL, "minutes", f"{wait_min:g}"))
            add("frozen", f"freeze it firm in {freezer.name}", pull, now.hold, "freezer room", takes, firm=True)
    if dough.is_blind and not weighted:
        hold = hold_share(in_tin=True, docked=docked, weighted=True)
        pull, firm = now.pull, frozen
        if route.answer("weights") == "frozen":
            # With weights it is chilled in the fridge, not frozen, as the plan then has it.
            trace = dough.sheet_in(dough.setting.cold_place(), wait_min)
            pull, firm = rest_along(dough.traced(step_keys.CHILL).pull_from, trace)[1].total, False
        takes = answered("weights", "weighted")
        add("weights", "bake it with weights", pull, hold, "paper and pulses", takes, firm=firm)
    if dough.is_blind and not docked:
        hold = hold_share(in_tin=True, docked=True, weighted=weighted)
        add("dock", "dock the base", now.pull, hold, "half a minute a case", answered("docking", "before"))
    return tuple(sorted(found, key=lambda change: -change.saves))

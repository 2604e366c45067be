"""How long a wait may last at most, and why: what drying, keeping, over-chilling and proof allow."""

from dataclasses import dataclass
from functools import cache

from northfold.core.data import table
from northfold.core.method.choices.step_keys import CHILL, FILL_
from northfold.core.method.choices.step_kinds import told_like
from northfold.core.method.route.step import EDIT, REASONS, Route, Step
from northfold.core.method.words import duration

# So long a raw filling may lie on a raw base; so long a dough lies in a place that is warmer than that. [min, °C]
# Assumptions.
FILLED_MIN, WARM_MIN, COLD_UP_TO_C = 240.0, 120.0, 8.0


@dataclass(frozen=True)
class Longest:
    """The most that a wait lasts [min], and what ends it there."""

    minutes: float
    why: str


@cache
def _rows() -> dict[str, tuple[Longest, Longest]]:
    found = {}
    for key, row in table("longest").items():
        found[key] = (Longest(row["most_min"], row["why"]), Longest(row["raised_min"], row["raised_why"]))
    return found


def longest(step: Step, *, is_raised: bool, is_filled: bool = False) -> Longest | None:
    """
    How long a step may wait at most.

    Parameters
    ----------
    step : Step
        As it was worked.
    is_raised : bool
        Whether its dough has yeast.
    is_filled : bool
        Whether a raw filling lies in it by then.

    Returns
    -------
    Longest or None
        None where it waits exactly as long as it asks. Never less than what it waits at least.

    References
    ----------
    North Fold reference table, `longest.toml`.
    """
    row = _rows().get(told_like(step.key))
    if row is None or step.wait_min <= 0 or not step.keeps or step.apart:
        return None
    found = row[is_raised]
    if step.place_c is not None and step.place_c > COLD_UP_TO_C and found.minutes > WARM_MIN:
        found = Longest(WARM_MIN, "out of the cold it softens, and what has egg or milk does not keep")
    if is_filled and told_like(step.key) == CHILL:
        found = Longest(min(found.minutes, FILLED_MIN), "the filling wets its base")
    return found if found.minutes > step.least_min else Longest(step.least_min, found.why)


def longest_of(route: Route, *, is_raised: bool) -> dict[str, Longest]:
    """
    The most of every wait of a route that may last longer than it asks, by key of its step.

    Empty where several products are made of one dough: their turns have settled how long each waits.
    """
    if route.ways:
        return {}
    found, is_filled = {}, False
    for step in route.along:
        is_filled = is_filled or step.key.startswith(FILL_)
        most = longest(step, is_raised=is_raised, is_filled=is_filled)
        if most is not None and most.minutes > step.least_min:
            found[step.key] = most
    return found


def least_of(step: Step) -> str:
    """What asks a wait for its least: the longest of its reasons by name; empty where none is known."""
    if any(edited.field == "minutes" for edited in step.edits):
        return REASONS[EDIT]
    asked = max((ask for ask in step.asks if ask.minutes), key=lambda ask: ask.minutes or 0.0, default=None)
    return asked.name if asked else ""


def elastic_says(step: Step, most: Longest) -> str:
    """The least and the most of a wait, each with its reason."""
    least = least_of(step)
    why = f" ({least})" if least else ""
    return f"At least {duration(step.least_min)}{why}, at most {duration(most.minutes)}: {most.why}."

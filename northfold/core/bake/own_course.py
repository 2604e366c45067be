"""The stages of a bake as a maker types them: “220 15 wash, 190 20, 170”."""

import re
from dataclasses import dataclass
from itertools import pairwise

from northfold.core.bake.kinds import action_named, stage_actions
from northfold.core.errors import CoreError

# At most so many stages, of an oven between these. [°C]
MOST_STAGES, OWN_OVEN_C = 5, (80.0, 350.0)


class BadCourse(CoreError):
    """Stages that nobody can bake by."""

    code = "bad_course"


@dataclass(frozen=True)
class OwnStage:
    """A stage as typed: oven, None where it is off [°C]; minutes, None for as long as it takes [min]; what then."""

    oven_c: float | None
    minutes: float | None
    then: str = ""


HOW_TO_WRITE = "Write it as 220 15, 190 20 turn, 170"


def read_course(text: str) -> tuple[OwnStage, ...]:
    """
    Read stages as a maker types them: “220 15 wash, 190 20, 170”.

    Parameters
    ----------
    text : str
        Of each the oven and its minutes [°C, min], then what is done at its end: wash, sugar, turn, cover, lower shelf.
        The last may leave its minutes out. “off 10” shuts the oven off.

    Returns
    -------
    tuple of OwnStage
        In order, five at most. [°C, min]

    Raises
    ------
    BadCourse
        If there are too many, one has no heat, an earlier one no minutes, or something is done that nobody knows.
    """
    found = tuple(_own_stage(part.strip()) for part in re.split(r"[,;/]| then ", text.strip().lower()))
    if len(found) > MOST_STAGES:
        raise BadCourse(f"{len(found)} stages are too many: {MOST_STAGES} at most.")
    if any(stage.minutes is None for stage in found[:-1]):
        raise BadCourse(f"Only the last stage may leave its minutes out. {HOW_TO_WRITE}.")
    if found[0].oven_c is None:
        raise BadCourse("The oven is on first. Write it as 220 15, off 10.")
    if any(stage.oven_c is not None for before, stage in pairwise(found) if before.oven_c is None):
        raise BadCourse("After the oven is off, no stage follows.")
    return found


def _own_stage(part: str) -> OwnStage:
    numbers = [float(each.replace(",", ".")) for each in re.findall(r"\d+(?:[.,]\d+)?", part)]
    is_off = bool(re.search(r"\boff\b", part))
    oven_c = None if is_off else numbers[0] if numbers else 0.0
    minutes = numbers[0 if is_off else 1] if len(numbers) > (0 if is_off else 1) else None
    if oven_c is not None and not OWN_OVEN_C[0] <= oven_c <= OWN_OVEN_C[1]:
        raise BadCourse(f"“{part}” names no oven’s heat, {OWN_OVEN_C[0]:g} to {OWN_OVEN_C[1]:g} °C. {HOW_TO_WRITE}.")
    if minutes is not None and not 1 <= minutes <= 600:
        raise BadCourse(f"“{part}”: a stage takes 1 to 600 min.")
    said = re.sub(r"\d+(?:[.,]\d+)?|°\s*c?|\b(?:off|min|minutes|for|at)\b", " ", part).strip(" .:")
    then = action_named(" ".join(said.split()))
    if said.strip() and not then:
        known = ", ".join(action.words[0] for action in stage_actions().values() if action.words)
        raise BadCourse(f"“{said.strip()}” is nothing that is done in a bake here: {known}.")
    return OwnStage(oven_c, minutes, then)

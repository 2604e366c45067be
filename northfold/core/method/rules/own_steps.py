"""Steps of a maker's own, and their minutes and notes on those of the route."""

from collections.abc import Sequence
from dataclasses import replace

from northfold.core.heat.conduction import Body
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import EditReader
from northfold.core.method.route.step import ANYWHERE, EDIT, WORK, At, Step
from northfold.core.method.route.work import Work

# An oven that nobody has set, for a step of one's own. [°C] Assumption.
OWN_OVEN_C = 160.0
IN_OVEN = "Your own step in the oven: it holds its place there; its heat is not in the bake worked out."


def own_step(work: Work, key: str) -> None:
    """
    A step of the maker's own, in an oven too.

    On the way to the oven the dough goes through its minutes like through any other's.
    """
    edits = work.job.edits
    hands = edits.number(key, "hands_min") or 0.0
    minutes = edits.number(key, "minutes") or 0.0
    hands = hands if hands or minutes else 1.0
    ovens = {oven.key: oven for oven in work.job.setting.ovens}
    chosen = edits.find(key, "place")
    oven = ovens.get(chosen.value) if chosen else None
    place = work.job.setting.bench() if oven else work.place_of(key, work.job.setting.bench())[0]
    name = edits.text(key, "name")
    mixed = work.log.has(step_keys.MIX)
    if mixed and not work.is_baked:
        body = _as_found(work, key)
        if hands:
            work.wait(key, hands, work.job.setting.bench(), body, name=name)
        if minutes and oven is None:
            work.wait(key, minutes, place, body, name=name)
    at = work.at(place) if minutes else ANYWHERE
    if oven is not None:
        heat_c = edits.number(key, "oven_c") or OWN_OVEN_C
        at = At(oven.name, oven.key, heat_c)
    work.log.steps.append(
        Step(
            key=key,
            name=name,
            hands_min=hands,
            wait_min=minutes,
            reason=EDIT if minutes else WORK,
            look=edits.text(key, "look") or "As you know it.",
            why=IN_OVEN if oven else "Your own step.",
            caution="",
            place=at.name,
            place_key=at.key,
            place_c=at.air_c,
            dough_c=work.dough.mean_c if mixed and not work.is_baked and oven is None else None,
            in_oven=oven is not None,
        )
    )


def _as_found(work: Work, key: str) -> Body:
    """The dough as it lies; where its maker has found it otherwise than planned, so warm and so thick from now on."""
    edits, dough = work.job.edits, work.dough
    found_c, lies_mm = edits.number(key, "found_c"), edits.number(key, "lies_mm")
    body = Body(lies_mm) if lies_mm is not None else dough.body or work.resting_body
    if found_c is not None:
        dough.mean_c, dough.profile_c, dough.body = found_c, (), None
    return body


def with_own_words(steps: Sequence[Step], edits: EditReader) -> list[Step]:
    """The steps with a maker's own hands-on minutes and notes."""
    found = []
    for step in steps:
        typed = None if step.key.startswith(step_keys.OWN_) else edits.number(step.key, "hands_min")
        if typed is not None:
            mark = edits.mark(step.key, "hands_min", f"{typed:g}", f"{step.hands_min:g}")
            step = replace(step, hands_min=typed, edits=(*step.edits, mark))
        note = edits.text(step.key, "note")
        found.append(replace(step, note=note) if note else step)
    return found

"""A plan as it was really worked: its waits as long as they were, the room and the thickness as they were found."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Edit
from northfold.core.method.choices.fields import field_of
from northfold.core.method.plan import Plan, plan
from northfold.core.method.route.progress import Progress
from northfold.core.method.words import degrees, duration

# The waits that pull and temperature go by, by how their keys begin.
WAITS = ("rest.", "chill.", "temper.", step_keys.COLD_, step_keys.PROVE, step_keys.OWN_)
# Shorter than this a wait was ticked through, not timed; a difference under the second is no difference. [min]
TICKED_MIN, SAME_MIN = 2.0, 2.0


@dataclass(frozen=True)
class Worked:
    """The plan reckoned anew as it was worked, and in words what was otherwise; nothing where all went as planned."""

    plan: Plan
    otherwise: tuple[str, ...]


def as_worked(
    planned: Plan, progress: Progress | None, *, room_c: float | None = None, thickness_mm: float | None = None
) -> Worked:
    """
    A plan as it was really worked.

    Parameters
    ----------
    planned : Plan
        As it was frozen.
    progress : Progress, optional
        What the bench wrote down; None where nothing was tapped.
    room_c : float, optional
        How warm the room was. [°C]
    thickness_mm : float, optional
        What it was rolled to. [mm]

    Returns
    -------
    Worked
        The same plan where nothing was otherwise. A wait that was ticked through in under 2 min was not timed, and
        stands as planned. [min]
    """
    edits = {(edit.step_key, edit.field): edit for edit in planned.edits}
    otherwise = []
    for key, name, was_min, minutes in _timed(planned, progress):
        edits[key, "minutes"] = Edit(key, "minutes", f"{minutes:.0f}")
        otherwise.append(f"{name.lower()} {duration(round(minutes))} instead of {duration(was_min)}")
    inputs = planned.inputs
    if thickness_mm is not None and planned.pieces and abs(planned.pieces[0].item.thickness_mm - thickness_mm) > 0.05:
        edits[step_keys.ROLL, "thickness_mm"] = Edit(step_keys.ROLL, "thickness_mm", f"{thickness_mm:g}")
        otherwise.append(f"rolled to {thickness_mm:g} mm instead of {planned.pieces[0].item.thickness_mm:g}")
    if room_c is not None and abs(room_c - inputs.setting.room_c) >= 0.5:
        otherwise.append(f"a room of {degrees(room_c)} instead of {degrees(inputs.setting.room_c)}")
        inputs = replace(inputs, setting=replace(inputs.setting, room_c=room_c))
    if not otherwise:
        return Worked(planned, ())
    return Worked(plan(inputs, edits.values(), planned.learned), tuple(otherwise))


def _timed(planned: Plan, progress: Progress | None) -> Sequence[tuple[str, str, float, float]]:
    """The waits that were otherwise than planned: key, name, minutes planned and minutes really. [min]"""
    if progress is None or planned.route is None:
        return ()
    found = []
    for state in progress.steps:
        step = state.step
        if not step.is_wait or step.apart or not step.key.startswith(WAITS):
            continue
        if state.started_at is None or state.done_at is None:
            continue
        minutes = (state.done_at - state.started_at).total_seconds() / 60
        kind = field_of(step.key, "minutes")
        if kind and minutes >= TICKED_MIN and kind.holds(minutes) and abs(minutes - step.wait_min) > SAME_MIN:
            found.append((step.key, step.name, step.wait_min, minutes))
    return found

"""The graph of a make's steps: what follows what, when each begins, at the earliest and at the latest."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from northfold.core.method.route.step import Beside, Reminder, Step


@dataclass(frozen=True)
class Placed:
    """When a step begins [min], and the key of the one that it comes after; empty for the first."""

    start_min: float
    after: str


def one_after_another(steps: Sequence[Step]) -> dict[str, Placed]:
    """Each step of one dough right after the one before. [min]"""
    found, now, before = {}, 0.0, ""
    for step in steps:
        found[step.key] = Placed(now, before)
        now, before = now + step.minutes, step.key
    return found


def scheduled(
    main: Sequence[Step], apart: Sequence[Beside], placed: Mapping[str, Placed] | None = None
) -> tuple[Step, ...]:
    """
    All steps with what each follows and when it begins, in the order in which they begin.

    Parameters
    ----------
    main : sequence of Step
        The dough's own steps. [min]
    apart : sequence of Beside
        What goes on beside the dough, such as the oven's heating, each with the step that has to wait for it. [min]
    placed : mapping of str to Placed, optional
        When each of the dough's own steps begins; one after another where it is not said.

    Returns
    -------
    tuple of Step
        `start_min` counts from the first of all. What goes on apart begins as late as it can while hands are free, mere
        work early in a wait: one pair of hands works at one thing at a time, waits run beside each other.
        `earliest_min` and `latest_min` are the bounds that the graph leaves it, hands aside. A wait in which something
        apart begins reminds of it.
    """
    placed = one_after_another(main) if placed is None else placed
    starts = {key: each.start_min for key, each in placed.items()}
    busy = [(starts[step.key], starts[step.key] + step.hands_min) for step in main if step.hands_min]
    latest = {each.step.key: starts[each.until] - each.ahead_min - each.step.minutes for each in apart}
    # By when hands must be done with them: the last first.
    for together in sorted(_together(apart), key=lambda each: -(latest[each[0].step.key] + each[0].step.hands_min)):
        hands = sum(each.step.hands_min for each in together)
        begins = min(latest[together[0].step.key], starts[together[0].until] - hands)
        now = _free_before(_wanted(together[0], hands, begins, main, starts), hands, busy)
        busy.append((now, now + hands))
        for each in together:
            starts[each.step.key] = now
            now += each.step.hands_min
    first = min(starts.values(), default=0.0)
    found = [
        replace(each.step, apart=True, latest_min=latest[key] - first, start_min=starts[key] - first)
        for each in apart
        for key in (each.step.key,)
    ]
    for step in main:
        before = placed[step.key].after
        follows = ((before,) if before else ()) + tuple(other.step.key for other in apart if other.until == step.key)
        begins = starts[step.key] - first
        # What waits for nothing may be done as soon as anybody starts.
        earliest = begins if follows else 0.0
        found.append(replace(step, follows=follows, earliest_min=earliest, latest_min=begins, start_min=begins))
    return _reminding(sorted(found, key=lambda step: (step.start_min, not step.apart)))


def _together(apart: Sequence[Beside]) -> list[list[Beside]]:
    """What is done one after the other, as the table has it: mere work that the same step waits for."""
    found: dict[str, list[Beside]] = {}
    for each in apart:
        alone = bool(each.step.wait_min or each.ahead_min)
        found.setdefault(each.step.key if alone else f"for {each.until}", []).append(each)
    return list(found.values())


def _wanted(beside: Beside, hands: float, latest: float, main: Sequence[Step], starts: Mapping[str, float]) -> float:
    """When work apart had best begin: as late as it can, mere work once the last wait before sets in. [min]"""
    if beside.step.wait_min or beside.ahead_min:
        return latest
    waits = [starts[each.key] + each.hands_min for each in main if each.wait_min >= hands]
    return max((begin for begin in waits if begin <= latest), default=latest)


def _free_before(latest: float, hands: float, busy: Sequence[tuple[float, float]]) -> float:
    """The latest time by then at which hands are free for so long. [min]"""
    start = latest
    while hands:
        taken = [begin for begin, end in busy if begin < start + hands and start < end]
        if not taken:
            return start
        start = min(taken) - hands
    return start


def _reminding(steps: Sequence[Step]) -> tuple[Step, ...]:
    """The steps, each wait with reminders of what begins apart while it lasts."""
    found = []
    for step in steps:
        end = step.start_min + step.minutes
        during = [] if step.apart else [each for each in steps if each.apart and step.start_min <= each.start_min < end]
        more = tuple(Reminder(each.start_min - step.start_min, _said(each), each.key) for each in during)
        found.append(replace(step, reminders=(*step.reminders, *more)) if more else step)
    return tuple(found)


def _said(step: Step) -> str:
    return f"{step.name}: {step.figure}." if step.figure else f"{step.name}."


def whole_min(steps: Sequence[Step]) -> float:
    """From the first step's beginning to the end of the last to end. [min]"""
    return max((step.start_min + step.minutes for step in steps), default=0.0)

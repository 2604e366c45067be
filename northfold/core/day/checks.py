"""What of a plan does not hold: hours, most, places. A day that cannot keep everything says by how much it does not."""

from dataclasses import dataclass

from northfold.core.day.model import OVEN, WORKS, Day, Laid, Task


@dataclass(frozen=True)
class Broken:
    """Something that a plan does not keep: the task or make that it is about, what, and by how many minutes."""

    about: str
    what: str
    by_min: int


def broken(day: Day, laid: Laid) -> list[Broken]:
    """
    What a plan breaks of what it should keep.

    Parameters
    ----------
    day : Day
        As it was planned.
    laid : Laid
        The plan. [min]

    Returns
    -------
    list of Broken
        Waits beyond their most or below their least, work at hours at which nobody is here or without anybody who may
        do it, bakes in an oven too small, things that are not fresh at their hour. Empty where all is kept. [min]
    """
    found = []
    for task in day.tasks:
        begin, end = laid.times[task.key]
        if task.spans:
            continue
        if task.most is not None and end - begin > task.most:
            found.append(
                Broken(
                    task.key,
                    f"waits longer than it may: {task.why_most or 'it follows at once'}",
                    end - begin - task.most,
                )
            )
        if end - begin < task.least:
            found.append(
                Broken(task.key, f"is shorter than {task.why_least or 'it takes'} asks", task.least - end + begin)
            )
        if task.hands and not task.begun:
            found += _hands(day, laid, task)
        if task.kind == OVEN and not task.begun:
            found += _oven(day, laid, task)
    for make in day.makes:
        early = make.due - laid.times[make.last][1]
        if make.fresh is not None and early > make.fresh:
            found.append(Broken(make.key, f"is ready more than {make.fresh} min before it is due", early - make.fresh))
    return found


def _hands(day: Day, laid: Laid, task: Task) -> list[Broken]:
    begin, end = laid.times[task.key]
    able = [each for each in day.house.workers if each.may(task.work)]
    if not day.house.workers:
        return [Broken(task.key, "nobody is at work", end - begin)]
    if not able:
        return [Broken(task.key, f"nobody here does {WORKS[task.work]}", end - begin)]
    found = laid.people.get(task.key, ())
    here = [each for each in able if each.is_here(begin, end) and (not found or each.key in found)]
    if not here:
        return [Broken(task.key, "is worked outside the hours of everybody who does it", end - begin)]
    if not laid.people.get(task.key):
        return [Broken(task.key, "finds everybody at something else", end - begin)]
    return []


def _oven(day: Day, laid: Laid, task: Task) -> list[Broken]:
    begin, end = laid.times[task.key]
    oven = day.house.oven(laid.ovens.get(task.key, task.oven))
    if oven is None:
        return [Broken(task.key, "there is no oven for it", end - begin)]
    if oven.trays and task.trays > oven.trays:
        return [Broken(task.key, f"takes {task.trays} trays, and {oven.name} has {oven.trays}", end - begin)]
    return []

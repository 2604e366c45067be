"""A planned day as a file: who and what there is, every task with its hours and links, what is late or not kept."""

from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from typing import Literal

from pydantic import Field

from northfold.core.day.model import OVEN, House, Task
from northfold.core.day.outcome import Planned
from northfold.formats.files import Open


class PersonFile(Open):
    """Somebody: from when to when they are here, stretch by stretch; which kinds of work they do, all where empty."""

    key: str
    from_: tuple[datetime, ...] = Field(alias="from")
    to: tuple[datetime, ...]
    does: tuple[str, ...]


class OvenFile(Open):
    """An oven: tray places, 0 where nobody counted; how fast it heats and cools. [°C/min]"""

    key: str
    tray_places: int
    up_c_per_min: float
    down_c_per_min: float


class PlaceFile(Open):
    """A fridge or freezer by its tray places, a kind of tin by how many there are; 0 where nobody counted."""

    key: str
    tray_places: int


class MixerFile(Open):
    """A mixer: one load at a time."""

    key: str


class HouseFile(Open):
    """What all makes share."""

    people: tuple[PersonFile, ...]
    ovens: tuple[OvenFile, ...]
    places: tuple[PlaceFile, ...]
    mixers: tuple[MixerFile, ...]


class TaskFile(Open):
    """
    A task: work of hands, a wait, a stage of a bake, or something that goes on beside.

    It begins after those of `after` are over: `at_once`, the moment the first of them is; what follows it begins at
    most `within_min` later. Tins are taken from the beginning of the first task of `spans` to the end of the second.
    """

    key: str
    make: str
    step: str
    kind: Literal["hands", "wait", "oven", "beside"]
    start: datetime
    end: datetime
    least_min: float
    most_min: float | None = Field(description="None where nothing ends it.")
    after: tuple[str, ...]
    at_once: bool
    within_min: float | None
    spans: tuple[str, ...]
    hands: int = Field(description="How many people it takes.")
    work: str = Field(description="The kind of work it is; empty where anybody does it.")
    people: tuple[str, ...]
    place: str
    trays: int
    oven: str
    oven_c: float | None
    mixer: str
    fixed: bool = Field(description="Held where it is, or begun already.")


class MakeFile(Open):
    """A make: when it is due and ready, how late that is, how much that weighs. [min]"""

    key: str
    name: str
    due: datetime
    ready: datetime
    late_min: float
    weight: int
    fresh_min: float | None


class BrokenFile(Open):
    """What is not kept: the task or make, what, by how many minutes."""

    about: str
    what: str
    by_min: float


class ScoreFile(Open):
    """What the plan comes to, as it is wanted in turn."""

    late_min: float
    night_min: float
    age_min: float
    oven_changes: int


class BoundFile(Open):
    """The weighted minutes late that no plan is below; None where nothing was proved."""

    late_min: float | None


class DayPlanFile(Open):
    """A planned day. Times with their offset, minutes as numbers, keys as text."""

    format: Literal["northfold/day-plan/1"] = "northfold/day-plan/1"
    made_at: datetime
    now: datetime
    kitchen: HouseFile
    tasks: tuple[TaskFile, ...]
    makes: tuple[MakeFile, ...]
    broken: tuple[BrokenFile, ...]
    score: ScoreFile
    bound: BoundFile
    first_come: ScoreFile = Field(description="The same of a plan that takes one make after the other.")


def day_plan_file(planned: Planned, zero: datetime, made_at: datetime) -> DayPlanFile:
    """
    A planned day as a file.

    Parameters
    ----------
    planned : Planned
        Minutes from `zero`.
    zero : datetime
        The day's zero, aware.
    made_at : datetime
        When it was planned, aware.
    """
    day, laid = planned.day, planned.laid

    def at(minute: int) -> datetime:
        # Counted in minutes that pass, told by the clock on the wall: two nights a year that is changed.
        return (zero.astimezone(UTC) + timedelta(minutes=minute)).astimezone(zero.tzinfo)

    return DayPlanFile(
        made_at=made_at,
        now=at(day.now),
        kitchen=_house(day.house, at),
        tasks=tuple(_task(planned, task, at) for task in day.tasks),
        makes=tuple(
            MakeFile(
                key=make.key,
                name=make.name,
                due=at(make.due),
                ready=at(laid.times[make.last][1]),
                late_min=laid.late(make),
                weight=make.weight,
                fresh_min=make.fresh,
            )
            for make in day.makes
        ),
        broken=tuple(BrokenFile(about=each.about, what=each.what, by_min=each.by_min) for each in planned.broken),
        score=ScoreFile(**vars(planned.score)),
        bound=BoundFile(late_min=planned.bound_late),
        first_come=ScoreFile(**vars(planned.first)),
    )


def _house(house: House, at: Callable[[int], datetime]) -> HouseFile:
    people = [
        {
            "key": each.key,
            "from": tuple(at(begin) for begin, _ in each.hours),
            "to": tuple(at(end) for _, end in each.hours),
            "does": tuple(sorted(each.does)),
        }
        for each in house.workers
    ]
    return HouseFile(
        people=tuple(PersonFile.model_validate(each) for each in people),
        ovens=tuple(
            OvenFile(key=e.key, tray_places=e.trays, up_c_per_min=e.up_c_min, down_c_per_min=e.down_c_min)
            for e in house.ovens
        ),
        places=tuple(PlaceFile(key=each.key, tray_places=each.trays) for each in house.stores),
        mixers=tuple(MixerFile(key=each.key) for each in house.bowls),
    )


def _task(planned: Planned, task: Task, at: Callable[[int], datetime]) -> TaskFile:
    laid = planned.laid
    begin, end = laid.times[task.key]
    bakes = task.kind == OVEN
    return TaskFile(
        key=task.key,
        make=task.make,
        step=task.step,
        kind=task.kind,
        start=at(begin),
        end=at(end),
        least_min=task.least,
        most_min=task.most,
        after=task.after,
        at_once=task.at_once,
        within_min=task.within,
        spans=task.spans or (),
        hands=task.hands,
        work=task.work,
        people=laid.people.get(task.key, ()),
        place=task.place,
        trays=task.trays,
        oven=laid.ovens.get(task.key, task.oven) if bakes else "",
        oven_c=task.oven_c if bakes else None,
        mixer=task.bowl,
        fixed=task.fixed is not None,
    )

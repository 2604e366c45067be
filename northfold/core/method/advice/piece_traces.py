"""Each piece's own temperature and pull, stay by stay, on its way to the oven."""

from collections.abc import Iterator
from dataclasses import dataclass

from northfold.core.gluten.pull import Pull, rest_along, rolling_pull
from northfold.core.heat.conduction import conduct
from northfold.core.heat.dough_heat import dough_heat
from northfold.core.heat.places import Place
from northfold.core.method.choices.kitchen import Setting
from northfold.core.method.plan import Plan
from northfold.core.method.route.piece_times import OVEN, THIN, WORKED, PieceTimes, Stay


@dataclass(frozen=True)
class StayTraced:
    """A piece at the end of one of its stays: its mean [°C] and the pull that it holds. [pull units]"""

    stay: Stay
    end_c: float
    pull: float


def piece_trace(plan: Plan, times: PieceTimes) -> tuple[StayTraced, ...]:
    """
    One piece of a product up to the oven.

    Parameters
    ----------
    plan : Plan
        Of that product alone, see `Plan.of_item`.
    times : PieceTimes
        Where the piece is, of the same plan. [min]

    Returns
    -------
    tuple of StayTraced
        Nothing of a laminated dough, whose pieces are one packet for most of their way, nor of one that is not mixed.

    Notes
    -----
    As the plan traces its last piece: the lot as it was shaped until it is rolled, then a sheet. What is done to it
    besides, docking for one, is taken to move no temperature.
    """
    route = plan.route
    if route is None or plan.mixing is None or plan.is_laminated or route.shaped is None or route.sheet is None:
        return ()
    return tuple(_along(plan, times))


def _along(plan: Plan, times: PieceTimes) -> Iterator[StayTraced]:
    route, setting, mixing = plan.route, plan.inputs.worked_in, plan.mixing
    assert route is not None and mixing is not None and route.shaped is not None and route.sheet is not None
    heat = dough_heat(tuple((line.ingredient, line.grams) for line in plan.lines))
    body, pull = route.shaped.body, route.traced[0].pull_from if route.traced else Pull()
    profile: tuple[float, ...] | float = mixing.dough_c
    mean_c = mixing.dough_c
    for stay in times.stays:
        if stay.doing == OVEN:
            return
        if stay.doing == THIN:
            to_mm = plan.pieces[0].item.thickness_mm
            pull = pull.plus(route.gluten * rolling_pull(route.shaped.across_mm, to_mm))
            body, profile = route.sheet, mean_c
        if stay.doing != WORKED:
            trace = conduct(
                heat, body, profile, _place(setting, stay.place).stay(max(stay.minutes, 0.01), setting.room_c)
            )
            pull = rest_along(pull, trace)[1]
            profile, mean_c = trace.profile_c, trace.mean_c[-1]
        yield StayTraced(stay, mean_c, pull.total)


def _place(setting: Setting, name: str) -> Place:
    """A place of the kitchen by its name; the bench where there is none of it."""
    return next((place for place in setting.places if place.name == name), setting.bench())

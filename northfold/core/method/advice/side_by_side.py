"""Ways to make as much of one dough side by side: a slab or single pieces, two small or one big, another bench."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from northfold.core.method.choices.edits import Edit, Take
from northfold.core.method.plan import Plan, plan
from northfold.core.method.route.schedule import whole_min
from northfold.core.shape.blanks import Item

# As many portions are wanted of every way, to the nearest whole piece: no way is asked for more pieces. Assumption.
MOST_PIECES = 500


@dataclass(frozen=True)
class Alternative:
    """Another way: what it is called, its pieces, and edits over the make's own, such as another bench."""

    name: str
    items: tuple[Item, ...]
    takes: Take = ()


@dataclass(frozen=True)
class Compared:
    """
    One way with what it takes. [min, g]

    `portions` are slices, or pieces that are not sliced; `hands_min` of all hands together, `oven_min` with every load,
    `whole_min` from the first step to the last; `trips` out of the cold and `loads` of the oven. `problem` says why a
    way cannot be planned.
    """

    name: str
    plan: Plan
    pieces: int
    portions: int
    hands_min: float
    oven_min: float
    whole_min: float
    dough_g: float
    trips: int
    in_time: bool
    loads: int
    shrink_pct: float
    problem: str = ""

    @property
    def dough_each_g(self) -> float:
        """Dough for one portion. [g]"""
        return self.dough_g / max(1, self.portions)


def portions_of(items: Sequence[Item]) -> int:
    """How many portions pieces make: their slices, or themselves."""
    return sum(item.count * max(1, item.slices) for item in items)


def as_many(item: Item, portions: int) -> Item:
    """So many pieces of a kind that they make at least so many portions."""
    count = -(-portions // max(1, item.slices))
    return replace(item, count=min(MOST_PIECES, max(1, count)))


def side_by_side(planned: Plan, others: Sequence[Alternative]) -> tuple[Compared, ...]:
    """
    A make beside other ways to make of its dough.

    Parameters
    ----------
    planned : Plan
        The make as it is.
    others : sequence of Alternative
        Each planned in the same kitchen.

    Returns
    -------
    tuple of Compared
        The make itself first.
    """
    return (_compared("as it is", planned), *(_compared(each.name, _planned(planned, each)) for each in others))


def _planned(planned: Plan, other: Alternative) -> Plan:
    given = {(step, field) for step, field, _ in other.takes}
    own = [edit for edit in planned.edits if (edit.step_key, edit.field) not in given]
    return plan(
        replace(planned.inputs, items=other.items, layers=()),
        [*own, *(Edit(*each) for each in other.takes)],
        planned.learned,
    )


def _compared(name: str, planned: Plan) -> Compared:
    items, route = planned.inputs.items, planned.route
    steps = route.steps if route else ()
    rolled = [step.trips for step in steps if step.trips is not None]
    bakes = planned.bakes or ((planned.bake,) if planned.bake else ())
    problem = planned.no_route or next((each.message for each in planned.problems), "")
    windows = [each.route.window for each in planned.products if each.route is not None]
    return Compared(
        name=name,
        plan=planned,
        pieces=sum(item.count for item in items),
        portions=portions_of(items),
        hands_min=planned.inputs.setting.hands * sum(step.hands_min for step in steps),
        oven_min=sum(bake.loads_min for bake in bakes),
        whole_min=whole_min(steps),
        dough_g=planned.dough_g or 0.0,
        trips=max((trips.count for trips in rolled), default=1),
        in_time=all(w is None or w.minutes is None or w.minutes >= w.work_min - 0.05 for w in windows),
        loads=max((bake.loads for bake in bakes), default=1),
        shrink_pct=max((each.percent for each in route.shrink), default=0.0) if route else 0.0,
        problem=problem,
    )

"""The products of one dough side by side: hands, cold, pull, shrink, bake and cooling of each, the worst first."""

from collections.abc import Sequence
from dataclasses import dataclass

from northfold.core.method.advice.piece_traces import piece_trace
from northfold.core.method.choices import step_keys
from northfold.core.method.plan import Plan
from northfold.core.method.route.piece_times import COLD, PieceTimes, part_times, piece_times
from northfold.core.method.route.step import Trips


@dataclass(frozen=True)
class Product:
    """
    One product of a dough in short. [min, °C, pull units, % of length]

    `times` say where its pieces are, `parts` where its lids or strips are until they are on them; `window_min` is how
    long a sheet of it stays workable, of which it is thin for `exposed_min`. `at_oven_c` is its last piece's mean as it
    goes into the oven, `warmest_c` that of the warmest of all, `pull` what is left then. `weight` is how bad the worst
    is that is said of it.
    """

    number: int
    name: str
    pieces: int
    hands_min: float
    trips: Trips | None
    times: tuple[PieceTimes, ...]
    parts: tuple[PieceTimes, ...]
    window_min: float | None
    exposed_min: float
    rolled_c: float | None
    cold_min: float
    at_oven_c: float | None
    warmest_c: float | None
    pull: float
    shrink_pct: float
    oven_c: float
    bake_min: float
    loads: int
    cool_min: float
    weight: int

    @property
    def enters_c(self) -> float | None:
        """The mean of the warmest piece as it goes into the oven, the last one's where no other is traced. [°C]"""
        return self.at_oven_c if self.warmest_c is None else self.warmest_c

    @property
    def in_time(self) -> bool:
        """Whether each piece is back in the cold before it is too soft."""
        return self.window_min is None or self.exposed_min <= self.window_min + 0.05


def products(plan: Plan) -> tuple[Product, ...]:
    """All products of a plan, the worst first; empty where it has no steps."""
    if plan.route is None or plan.bake is None:
        return ()
    names = [way.product for way in plan.route.ways] or [piece.item.tin.name for piece in plan.pieces]
    found = [
        _product(each, number, name) for number, (each, name) in enumerate(zip(plan.products, names, strict=True), 1)
    ]
    return tuple(sorted(found, key=lambda each: (each.in_time, -each.weight, -each.shrink_pct)))


def _ends(times: Sequence[PieceTimes]) -> Sequence[PieceTimes]:
    """The first and the last pieces: those between come to the oven no warmer."""
    return times if len(times) < 2 else (times[0], times[-1])


def _product(plan: Plan, number: int, name: str) -> Product:
    route, bake, piece = plan.route, plan.bake, plan.pieces[0]
    assert route is not None and bake is not None
    own = [step for step in route.steps if step.item] or list(route.along)
    rolled = next((step for step in route.steps if step.key == step_keys.ROLL), None)
    traced = {each.key: each for each in route.traced}
    times = piece_times(route, bake, piece.item.count, number)
    cold = [stay.minutes for stay in times[-1].stays if stay.doing == COLD] if times else []
    return Product(
        number=number,
        name=name,
        pieces=piece.item.count,
        hands_min=sum(step.hands_min for step in own),
        trips=rolled.trips if rolled else None,
        times=times,
        parts=part_times(route, number),
        window_min=route.window.minutes if route.window else None,
        exposed_min=route.window.work_min if route.window else 0.0,
        rolled_c=traced[step_keys.ROLL].trace.mean_c[-1] if step_keys.ROLL in traced else None,
        cold_min=sum(cold),
        at_oven_c=route.traced[-1].trace.mean_c[-1] if route.traced else None,
        warmest_c=max((found[-1].end_c for each in _ends(times) if (found := piece_trace(plan, each))), default=None),
        pull=route.shrink[0].pull,
        shrink_pct=route.shrink[0].percent,
        oven_c=bake.oven_c,
        bake_min=sum(each.minutes for each in bake.in_order),
        loads=bake.loads,
        cool_min=bake.cool_min,
        weight=max((remark.weight for remark in route.remarks), default=0),
    )

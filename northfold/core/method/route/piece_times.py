"""Where each piece is at each minute: in the cold, on the bench, in the oven, on the rack."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

from northfold.core.method.choices import step_keys
from northfold.core.method.reckon.baking import Bake
from northfold.core.method.route.step import Route, Step, Trips

# What a piece is doing: lying in the cold, tempering, thin under the pin, worked on, baking, cooling.
COLD, TEMPER, THIN, WORKED, OVEN, RACK = "cold", "temper", "thin", "worked", "oven", "rack"
_MOMENT = 1e-6


@dataclass(frozen=True)
class Stay:
    """So long in one place: what the piece is doing there, from one minute of the make to another. [min]"""

    doing: str
    place: str
    begin: float
    end: float

    @property
    def minutes(self) -> float:
        return self.end - self.begin


@dataclass(frozen=True)
class PieceTimes:
    """
    Pieces of one product that are worked in one trip and baked in one load, with where they are from the rest on.

    `trip` and `load` are counted from 1, `pieces` how many there are; `part` is what of a piece they are, where they
    are rolled for themselves and laid on later. A piece is thin on the bench for `exposed_min`
    of the `window_min` that it has. [min]
    """

    product: int
    trip: int
    load: int
    pieces: int
    stays: tuple[Stay, ...]
    exposed_min: float
    window_min: float | None
    part: str = ""

    @property
    def in_time(self) -> bool:
        """Whether it is back in the cold before it is too soft."""
        return self.window_min is None or self.exposed_min <= self.window_min + 0.05


def piece_times(route: Route, bake: Bake, pieces: int, number: int = 1) -> tuple[PieceTimes, ...]:
    """
    Where the pieces of one product are, trip by trip and load by load.

    Parameters
    ----------
    route : Route
        Of that product alone, see `Route.of`; its steps with their starts. [min]
    bake : Bake
        Of that product.
    pieces : int
        How many there are.
    number : int
        Of the product, counted from 1.

    Returns
    -------
    tuple of PieceTimes
        In the order in which they are worked; empty where nothing is rolled. A piece's stays follow one another without
        a gap. What a trip does to a piece is thin for so long as is said of it, and is worked on for the rest.
    """
    along = [step for step in route.steps if not step.apart]
    rolled = next((step for step in along if step.key == step_keys.ROLL), None)
    if rolled is None:
        return ()
    window = route.window
    own = [step.trips for step in along if step.trips is not None]
    each = [_pieces_a_trip(trips, pieces) for trips in own]
    each += [bake.per_load] if bake.loads > 1 else []
    begins = sorted({0, pieces, *(first for many in each for first in range(0, pieces, many))})
    exposed = max([window.work_min if window else 0.0, *(trips.exposed_min for trips in own)])
    found = []
    for first, upto in pairwise(begins):
        stays = _Stays(along, rolled, bake, pieces, first, window.work_min if window else rolled.hands_min)
        trips = rolled.trips
        found.append(
            PieceTimes(
                product=number,
                trip=first // _pieces_a_trip(trips, pieces) + 1 if trips else 1,
                load=first // bake.per_load + 1 if bake.loads > 1 else 1,
                pieces=upto - first,
                stays=tuple(stays),
                exposed_min=exposed,
                window_min=window.minutes if window else None,
            )
        )
    return tuple(found)


def part_times(route: Route, number: int = 1) -> tuple[PieceTimes, ...]:
    """
    Where the lids, lattices or strips of one product are that are rolled for themselves, until they are on their piece.

    As `piece_times`, trip by trip: rolled, flat in the cold, softening, laid on. [min] Empty where there are none.
    """
    steps = {step.key: step for step in route.steps}
    rolled = steps.get(step_keys.ROLL_PART)
    if rolled is None or not route.parts:
        return ()
    trips = rolled.trips
    softened, laid = steps.get(step_keys.SOFTEN), steps.get(step_keys.LID) or steps.get(step_keys.LINE_BASE)
    cold = trips.waits_in if trips else next((s.place for s in route.along if s.key == step_keys.CHILL), "")
    count = trips.count if trips else 1
    found = []
    for trip in range(1, count + 1):
        begin = rolled.start_min + (trips.begins_min(trip) if trips else 0.0)
        end = begin + (trips.minutes if trips else rolled.minutes)
        stays = [Stay(THIN, rolled.place, begin, end)]
        upto = softened.start_min if softened else laid.start_min if laid else end
        if upto > end + _MOMENT:
            stays.append(Stay(COLD, cold, end, upto))
        if softened:
            stays.append(Stay(TEMPER, softened.place, upto, max(upto, softened.start_min + softened.minutes)))
        if laid and laid.start_min >= stays[-1].begin:
            stays.append(
                Stay(
                    WORKED,
                    laid.place or rolled.place,
                    max(laid.start_min, stays[-1].end),
                    laid.start_min + laid.minutes,
                )
            )
        many = trips.in_trip(trip) if trips else 1
        exposed, window = (trips.exposed_min, trips.window_min) if trips else (rolled.minutes / 2, None)
        found.append(PieceTimes(number, trip, 1, many, tuple(stays), exposed, window, route.parts[0].name))
    return tuple(found)


def _pieces_a_trip(trips: Trips, pieces: int) -> int:
    """How many pieces one trip has; of sheets those that are cut from as many as are out."""
    return -(-pieces * trips.per_trip // trips.pieces)


class _Stays:
    """Where the piece of a number, counted from 0, is from its rest on."""

    def __init__(
        self, along: Sequence[Step], rolled: Step, bake: Bake, pieces: int, piece: int, exposed_min: float
    ) -> None:
        self.along, self.rolled, self.bake, self.pieces, self.piece = along, rolled, bake, pieces, piece
        self.exposed = exposed_min
        self.later = (piece // bake.per_load) * bake.load_min if bake.loads > 1 else 0.0

    def __iter__(self) -> Iterator[Stay]:
        begin, end = self._of_trip(self.rolled)
        trips, rested = self.rolled.trips, self._rested()
        if rested is not None:
            place, since = rested
            out = max(since, begin - self._ahead())
            if out > since + _MOMENT:
                yield Stay(COLD, place, since, out)
            if out < begin - _MOMENT:
                yield Stay(TEMPER, self.rolled.place, out, begin)
        thin = min(end, begin + (trips.exposed_min if trips else self.exposed))
        yield Stay(THIN, self.rolled.place, begin, thin)
        if end > thin + _MOMENT:
            yield Stay(WORKED, self.rolled.place, thin, end)
        yield from self._after(end, trips.keys if trips else (step_keys.ROLL,))

    def _rested(self) -> tuple[str, float] | None:
        """Where it lies before its trip, and since when [min]; None where it is rolled at once."""
        for step in self.along:
            if step.key in (step_keys.REST, step_keys.WAIT_TURN) and step.start_min < self.rolled.start_min:
                return step.place, step.start_min
        return (self.rolled.trips.waits_in, self.rolled.start_min) if self.rolled.trips else None

    def _of_trip(self, step: Step) -> tuple[float, float]:
        """From when to when a step works on this piece. [min]"""
        trips = step.trips
        if trips is None:
            return step.start_min, step.start_min + step.minutes
        number = self.piece // _pieces_a_trip(trips, self.pieces)
        begin = step.start_min + trips.minutes * number
        return begin, min(begin + trips.minutes, step.start_min + trips.work_min)

    def _ahead(self) -> float:
        """How long before its trip it comes out to temper: the first as its step says, the last as traced. [min]"""
        first = next((step.minutes for step in self.along if step.key == step_keys.TEMPER), 0.0)
        trips = self.rolled.trips
        if trips is None or trips.count < 2:
            return first
        number = self.piece // _pieces_a_trip(trips, self.pieces)
        return first + (trips.ahead_min - first) * number / (trips.count - 1)

    def _after(self, now: float, done: Sequence[str]) -> Iterator[Stay]:
        """What comes after its rolling, from a minute on; what its trip did is done. [min]"""
        coming = [step for step in self.along if step.start_min > self.rolled.start_min and step.key not in done]
        lies = next((step.place for step in coming if step.is_wait and step.place_key and not step.takes_oven), "")
        lies, stages = lies or self.rolled.place, {stage.key for stage in self.bake.stages}
        baked = False
        for step in coming:
            if step.key == step_keys.BAKE_AGAIN:
                continue
            begin, end = self._of_trip(step)
            shift = self.later if step.key in stages else 0.0
            begin, end = max(now, begin + shift), end + shift
            if end <= now + _MOMENT:
                continue
            if begin > now + _MOMENT:
                # Between two steps of its own it lies where it lies before the oven, and after it on the rack.
                yield Stay(RACK if baked else COLD, lies, now, begin)
            doing = OVEN if step.takes_oven else RACK if step.key in step_keys.COOLS else WORKED
            doing = COLD if doing == WORKED and step.is_wait and step.place_key else doing
            yield Stay(doing, step.place or self.rolled.place, begin, end)
            now, baked = end, baked or step.key in stages
            if doing == RACK:
                return

"""How far a make is: a fold over what happened at the bench. Timers have their one home here."""

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from functools import cached_property
from typing import Any

from northfold.core.errors import CoreError
from northfold.core.method.choices import step_keys
from northfold.core.method.route.step import Step
from northfold.core.method.words import duration

STARTED, DONE, UNDONE, WEIGHED = "started", "done", "undone", "weighed"
PROBED, EXTENDED, NOTE = "probed", "extended", "note"
# One trip of several is over; the trip under way is broken off, its pieces back in the cold.
TRIP, PAUSED = "trip", "paused"
# How it came out of the oven: its colour, its weight, or that the time was right.
LOOKED = "looked"
# Too much of a line was weighed, and the others follow it: the dough is so many times as large from now on.
RESCALED = "rescaled"
# Somebody has a step: took it, or was handed it.
HELD = "held"
# What is to come was planned anew from here, and why.
REPLANNED = "replanned"
# What a person taps, and all that is recorded.
TAPPED = (STARTED, DONE, UNDONE, WEIGHED, PROBED, EXTENDED, NOTE, TRIP, PAUSED, LOOKED, RESCALED, HELD)
KINDS = (*TAPPED, REPLANNED)

# What ends a pause; a probe, a note, a hand-over do not.
GOES_ON = (STARTED, DONE, TRIP, UNDONE)

# A wait that begins no later than this after what it comes after runs on by itself. [min]
GAP_MIN = 0.5


class NotNow(CoreError):
    """Something is done out of its turn."""

    code = "not_now"


@dataclass(frozen=True)
class Event:
    """Something that happened at the bench, in order of `seq`. `value` by kind: line and grams, c, minutes, text."""

    seq: int
    step_key: str
    kind: str
    at: datetime
    value: Mapping[str, Any]


@dataclass(frozen=True)
class StepState:
    """
    A step as it goes: when it began, when its wait is over, when it was done. Aware datetimes.

    `has_lapsed`: nobody did it, and its time is past. `is_ready`: what it comes after is done. Of a step that goes on
    in trips so many are over, `trips_done`, the last at `trip_over_at`; `trip_at` is when the one under way began, None
    while it `is_paused`.
    `must_start`: among several products its wait runs only once somebody has put the piece in, or taken it out.
    """

    step: Step
    started_at: datetime | None = None
    ends_at: datetime | None = None
    done_at: datetime | None = None
    extended_min: float = 0.0
    has_lapsed: bool = False
    trips_done: int = 0
    trip_over_at: datetime | None = None
    trip_at: datetime | None = None
    is_paused: bool = False
    is_ready: bool = False
    must_start: bool = False

    @property
    def over_at(self) -> datetime | None:
        """When it was done, or its last trip over."""
        return self.done_at or self.trip_over_at

    @property
    def trip(self) -> int:
        """The number of the trip under way, counted from 1; 0 where it does not go on in trips."""
        trips = self.step.trips
        return min(self.trips_done + 1, trips.count) if trips else 0

    @property
    def is_last_trip(self) -> bool:
        return self.step.trips is None or self.trip >= self.step.trips.count

    @property
    def back_by(self) -> datetime | None:
        """When the pieces that are out must be back in the cold; None where none are, or they never go soft."""
        trips = self.step.trips
        if trips is None or self.trip_at is None or trips.window_min is None:
            return None
        return self.trip_at + timedelta(minutes=trips.half_min + trips.window_min)

    @property
    def next_out(self) -> datetime | None:
        """When the next trip's pieces come out to temper; None where none follow."""
        trips = self.step.trips
        if trips is None or self.trip_at is None or self.is_last_trip:
            return None
        return self.trip_at + timedelta(minutes=max(0.0, trips.minutes - trips.ahead_min))

    @property
    def is_done(self) -> bool:
        return self.done_at is not None or self.has_lapsed

    @property
    def is_now(self) -> bool:
        return self.started_at is not None and self.done_at is None

    def goes_on(self, now: datetime) -> bool:
        """Whether it is done with as far as hands go, while its wait goes on beside the dough."""
        return self.step.apart and self.is_done and self.ends_at is not None and self.ends_at > now

    def left_s(self, now: datetime) -> float | None:
        """Seconds left of its wait, below 0 when it is over; None where nothing runs. [s]"""
        return None if self.ends_at is None or self.is_done else (self.ends_at - now).total_seconds()


@dataclass(frozen=True)
class Probe:
    """A temperature read with a probe. [°C]"""

    step_key: str
    at: datetime
    c: float


@dataclass(frozen=True)
class Progress:
    """Where a make stands. By line: `weighed` is what was weighed out, `used` what went in at the mixing. [g]

    `looked` is what was said of a piece out of the oven, by the step that it was said at. The dough is `batch` times as
    large as planned, where others followed a line of which there was too much. [ratio] `held` says who has a step.
    Where the dough is mixed in equal loads, `loads` is what was weighed for each, by line and load counted from 0. [g]
    """

    steps: tuple[StepState, ...]
    weighed: dict[int, float]
    used: dict[int, float]
    probes: tuple[Probe, ...]
    notes: tuple[str, ...]
    last_seq: int
    looked: dict[str, dict[str, Any]] = field(default_factory=dict)
    batch: float = 1.0
    held: dict[str, str] = field(default_factory=dict)
    loads: dict[int, dict[int, float]] = field(default_factory=dict)

    @cached_property
    def queue(self) -> tuple[StepState, ...]:
        """
        What is not done, in the order in which it becomes the step under way.

        What goes on apart comes first where it begins before the dough; else it can be done at any time, and stands
        just before the step that has to wait for it, with all that has to be done for it.
        """
        along = self._along
        begun = any(state.is_done for state in along)
        first = along[0].step.start_min if along and not begun else 0.0
        found = [
            state for state in self.steps if state.step.apart and not state.is_done and state.step.start_min < first
        ]
        for state in along:
            if not state.is_done:
                wanted = self._beside_for(state.step)
                found += [each for each in self.steps if each.step.key in wanted and not each.is_done]
                found.append(state)
        return tuple(dict.fromkeys(found))

    def _beside_for(self, step: Step) -> frozenset[str]:
        """The keys of all that goes on beside the dough and has to be over before a step."""
        apart = {each.step.key: each.step for each in self.steps if each.step.apart}
        found: set[str] = set()
        left = list(step.follows)
        while left:
            key = left.pop()
            if key in apart and key not in found:
                found.add(key)
                left += apart[key].follows
        return frozenset(found)

    @property
    def _along(self) -> list[StepState]:
        """
        The dough's own steps in the order in which hands come to them.

        Of several products what is ready comes first, and a wait when it is over. Of steps that a trip goes through one
        after the other that which has had fewer trips.
        """
        along = [state for state in self.steps if not state.step.apart]
        if any(state.step.item for state in along):
            along.sort(key=lambda state: (state.is_done, not state.is_ready, _wanted_at(state)))
        found: list[StepState] = []
        for state in along:
            trips = state.step.trips
            if trips is None or state in found:
                found.append(state)
                continue
            plain = {step_keys.of_item(key, state.step.item) for key in trips.keys}
            mates = [each for each in along if each.step.key in plain and each.step.trips and not each.is_done]
            found += [each for each in along if each.step.key in plain and each.is_done]
            found += sorted(mates, key=lambda each: each.trips_done)
        return list({state.step.key: state for state in found}.values())

    @property
    def running(self) -> tuple[StepState, ...]:
        """The waits of other products and of mixtures that run beside the step under way, or have run out."""
        here = self.current
        own = [state for state in self.steps if state.step.item and not state.step.apart]
        waits = [s for s in own if s is not here and s.ends_at is not None and not s.is_done and s.is_ready]
        mixing = [s for s in self.steps if s.step.mixture and s.done_at and s.ends_at and not self._is_taken_up(s)]
        return (*waits, *mixing)

    def _is_taken_up(self, state: StepState) -> bool:
        """Whether what waits for a step of a mixture is done, so that nobody asks for it any more."""
        return any(state.step.key in other.step.follows and other.is_done for other in self.steps)

    @property
    def current(self) -> StepState | None:
        """The step under way; None once all are done."""
        return next(iter(self.queue), None)

    @property
    def done_count(self) -> int:
        return sum(state.is_done for state in self.steps)

    @property
    def is_complete(self) -> bool:
        return self.current is None

    @property
    def last_done(self) -> StepState | None:
        """The step done last, or whose trip was over last, which can still be taken back."""
        done = [(state.over_at, n, state) for n, state in enumerate(self.steps) if state.over_at is not None]
        return max(done)[2] if done else None

    @property
    def meanwhile(self) -> tuple[tuple[float, StepState], ...]:
        """What is to be done beside the step under way, each with how far into it. [min]"""
        here = self.current
        if here is None or here.step.apart:
            return ()
        began, until = here.step.start_min, here.step.start_min + here.step.minutes
        return tuple(
            (max(0.0, state.step.start_min - began), state)
            for state in self.steps
            if state.step.apart and not state.is_done and state.step.start_min < until
        )

    def waits_for(self, now: datetime) -> tuple[StepState, ...]:
        """What the step under way has to wait for, because it still goes on beside."""
        here = self.current
        wanted = here.step.follows if here else ()
        return tuple(state for state in self.steps if state.step.key in wanted and state.goes_on(now))

    def weighed_for(self, line: int, load: int, of: int) -> float | None:
        """What was weighed of a line for one of so many equal loads, None where nothing was. [g]"""
        if line in self.loads or of == 1:
            own = self.loads.get(line, {})
            return own.get(load) if of > 1 else self.weighed.get(line)
        whole = self.weighed.get(line)
        return None if whole is None else whole / of

    def state(self, step_key: str) -> StepState | None:
        return next((state for state in self.steps if state.step.key == step_key), None)


def fold(steps: Sequence[Step], started_at: datetime, events: Iterable[Event]) -> Progress:
    """
    Where a make stands after what happened.

    Parameters
    ----------
    steps : sequence of Step
        Of the frozen plan, in order.
    started_at : datetime
        When the make was started, aware.
    events : iterable of Event
        In order of seq.

    Returns
    -------
    Progress
        Any step may be taken back, however long ago it was done: it is then the one under way, and what came after it
        stays done. A step begins when the dough's own step before it is done, and hands with what it has to wait for,
        or when it is said to have started; its wait runs from there. What goes on apart waits from when hands have done
        with it.
    """
    done: dict[str, datetime] = {}
    began: dict[str, datetime] = {}
    extended: dict[str, float] = {}
    weighed: dict[int, float] = {}
    used: dict[int, float] = {}
    probes: list[Probe] = []
    notes: list[str] = []
    looked: dict[str, dict[str, Any]] = {}
    trips: dict[str, list[datetime]] = {}
    paused: set[str] = set()
    hands: dict[str, str] = {}
    loads: dict[int, dict[int, float]] = {}
    last, batch = 0, 1.0
    for event in events:
        last = max(last, event.seq)
        if event.kind in GOES_ON:
            paused.discard(event.step_key)
        if event.kind == DONE:
            done.setdefault(event.step_key, event.at)
        elif event.kind == TRIP:
            trips.setdefault(event.step_key, []).append(event.at)
        elif event.kind == PAUSED:
            paused.add(event.step_key)
        elif event.kind == UNDONE:
            if done.pop(event.step_key, None) is None and trips.get(event.step_key):
                trips[event.step_key].pop()
        elif event.kind == STARTED:
            began[event.step_key] = event.at
        elif event.kind == EXTENDED:
            extended[event.step_key] = extended.get(event.step_key, 0.0) + float(event.value["minutes"])
        elif event.kind == WEIGHED:
            scale = used if event.step_key == step_keys.MIX else weighed
            if event.value.get("load") is not None and scale is weighed:
                _for_load(weighed, loads, event.value)
                continue
            if event.value.get("grams") is None:
                scale.pop(int(event.value["line"]), None)
            else:
                scale[int(event.value["line"])] = float(event.value["grams"])
        elif event.kind == RESCALED:
            batch = float(event.value["batch"])
            if event.value.get("grams") is not None:
                weighed[int(event.value["line"])] = float(event.value["grams"])
        elif event.kind == PROBED:
            probes.append(Probe(event.step_key, event.at, float(event.value["c"])))
        elif event.kind == NOTE:
            notes.append(str(event.value["text"]))
        elif event.kind == HELD:
            hands[event.step_key] = str(event.value["who"])
        elif event.kind == LOOKED:
            looked.setdefault(event.step_key, {}).update(event.value)
    apart = {step.key for step in steps if step.apart}
    lapsing, past = {step.key for step in steps if step.lapses}, set[str]()
    states = []
    before = _comes_after(steps)
    starts: dict[str, datetime | None] = {}
    for step in steps:
        more, over = extended.get(step.key, 0.0), done.get(step.key)
        if step.apart:
            states.append(StepState(step, None, _after(over, step, more), over, more))
            continue
        held = [done.get(key) for key in step.follows if key in apart and key not in lapsing]
        begins = done.get(before[step.key]) if before[step.key] else started_at
        if begins is not None:
            past |= lapsing & set(step.follows)
        start = began.get(step.key)
        if begins is None or None in held:
            start = None
        elif start is None:
            start = max([begins, *(each for each in held if each is not None)])
        ready = begins is not None
        must = ready and step.key not in began and over is None and _is_put(step, steps, before[step.key])
        start = None if must else start
        state = StepState(step, start, _after(start, step, more), over, more, is_ready=ready, must_start=must)
        starts[step.key] = start
        states.append(state if step.trips is None else _on_trip(state, trips, began, starts, paused))
    states = [replace(each, has_lapsed=each.step.key in past and each.done_at is None) for each in states]
    return Progress(tuple(states), weighed, used, tuple(probes), tuple(notes), last, looked, batch, hands, loads)


def _for_load(weighed: dict[int, float], loads: dict[int, dict[int, float]], value: Mapping[str, Any]) -> None:
    """A line weighed for one load, or its tick taken back; what was weighed of it in all follows. [g]"""
    line, load = int(value["line"]), int(value["load"])
    own = loads.setdefault(line, {})
    own.pop(load, None)
    if value.get("grams") is not None:
        own[load] = float(value["grams"])
    weighed.pop(line, None)
    if own:
        weighed[line] = sum(own.values())


# Taps further off the plan than so many times tell of something else: left open, or tapped all at once.
MOST_OFF = 4.0
# Taps no further apart are of things done together. [s] Assumption.
TOGETHER_S = 45.0


def hands_on(steps: Sequence[Step], started_at: datetime, events: Sequence[Event]) -> dict[str, float]:
    """
    How long hands were really on at each step, as the taps tell. [min]

    Parameters
    ----------
    steps : sequence of Step
        Of the frozen plan.
    started_at : datetime
        When the make was started, aware.
    events : sequence of Event
        In order of seq.

    Returns
    -------
    dict of str to float
        By the key of a step that is work alone: from the tap before to its own, all its trips together. Left out is
        what was taken back or broken off, or has the tap of something that goes on beside fall into it.
    """
    work = {step.key: step for step in steps if step.hands_min and not step.is_wait and not step.apart}
    apart = {step.key for step in steps if step.apart}
    found: dict[str, float] = {}
    spoilt: set[str] = set()
    before, between = started_at, False
    for event in events:
        if event.kind in (UNDONE, PAUSED):
            spoilt.add(event.step_key)
        if event.kind in (DONE, TRIP) and event.step_key in apart:
            between = between or (event.at - before).total_seconds() > TOGETHER_S
            continue
        if event.kind in (DONE, TRIP) and event.step_key in work:
            if between:
                spoilt.add(event.step_key)
            else:
                found[event.step_key] = found.get(event.step_key, 0.0) + (event.at - before).total_seconds() / 60
        if event.kind in (DONE, TRIP, STARTED, UNDONE, PAUSED):
            before, between = event.at, False
    return {key: minutes for key, minutes in found.items() if key not in spoilt}


def _comes_after(steps: Sequence[Step]) -> dict[str, str]:
    """Which of the dough's own steps each comes after, empty for the first; one after another where none says."""
    along = [step for step in steps if not step.apart]
    keys = {step.key for step in along}
    if not any(step.item for step in along):
        return {step.key: before.key if before else "" for before, step in zip([None, *along], along, strict=False)}
    return {step.key: next((key for key in step.follows if key in keys), "") for step in along}


def _is_put(step: Step, steps: Sequence[Step], before: str) -> bool:
    """Whether a wait of one of several products begins with somebody's hands, and not as soon as it can."""
    if not step.item or not step.is_wait:
        return False
    ended = next((each.start_min + each.minutes for each in steps if each.key == before), step.start_min)
    return step.hands_min > 0 or (not step.keeps and step.start_min > ended + GAP_MIN)


def _on_trip(
    state: StepState,
    trips: Mapping[str, list[datetime]],
    began: Mapping[str, datetime],
    starts: Mapping[str, datetime | None],
    paused: Collection[str],
) -> StepState:
    """
    A step that goes on in trips, with those that are over, and when the one under way began.

    That is when its first step began, when the last step of the trip before was over, or when it went on after a pause.
    """
    step = state.step
    assert step.trips is not None
    keys = [step_keys.of_item(key, step.item) for key in step.trips.keys]
    begins = [starts.get(keys[0]), *(began.get(key) for key in keys), *trips.get(keys[-1], ())[-1:]]
    known = [at for at in begins if at is not None]
    is_paused = any(key in paused for key in keys)
    count = min(len(trips.get(step.key, ())), step.trips.count - 1)
    at = max(known) if known and not is_paused else None
    over_at = trips[step.key][-1] if count else None
    return replace(state, trips_done=count, trip_over_at=over_at, trip_at=at, is_paused=is_paused)


def _wanted_at(state: StepState) -> float:
    """When hands are wanted at a step, by the plan: at its end, where it only waits or was put in already. [min]"""
    step = state.step
    return step.start_min + (step.minutes if step.is_wait and not state.must_start else 0.0)


def _after(start: datetime | None, step: Step, more_min: float) -> datetime | None:
    """When a wait is over that runs from a time, so much longer. [min]"""
    return None if start is None or not step.is_wait else start + timedelta(minutes=step.wait_min + more_min)


def said(state: StepState, now: datetime) -> str:
    """What a running wait says of itself at a time: how long it has, or how long it is over."""
    left = state.left_s(now)
    if left is None:
        return "hands on"
    minutes = abs(left) / 60
    return f"{duration(round(minutes))} left" if left > 0 else f"over by {duration(round(minutes))}"

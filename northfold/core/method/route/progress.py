"""How far a make is: a fold over what happened at the bench. Timers have their one home here."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from functools import cached_property
from typing import Any

from northfold.core.errors import CoreError, OutsideRange
from northfold.core.formula.typed import read_typed
from northfold.core.method.choices import step_keys
from northfold.core.method.route.step import Step
from northfold.core.method.words import duration

STARTED, DONE, UNDONE, WEIGHED = "started", "done", "undone", "weighed"
PROBED, EXTENDED, NOTE = "probed", "extended", "note"
KINDS = (STARTED, DONE, UNDONE, WEIGHED, PROBED, EXTENDED, NOTE)

PROBE_C = (-40.0, 130.0)
WEIGHED_G = (0.0, 200_000.0)
EXTENDED_MIN = (1.0, 240.0)


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

    `has_lapsed`: nobody did it, and its time is past.
    """

    step: Step
    started_at: datetime | None = None
    ends_at: datetime | None = None
    done_at: datetime | None = None
    extended_min: float = 0.0
    has_lapsed: bool = False

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
    """Where a make stands. By line: `weighed` is what was weighed out, `used` what went in at the mixing. [g]"""

    steps: tuple[StepState, ...]
    weighed: dict[int, float]
    used: dict[int, float]
    probes: tuple[Probe, ...]
    notes: tuple[str, ...]
    last_seq: int

    @cached_property
    def queue(self) -> tuple[StepState, ...]:
        """
        What is not done, in the order in which it becomes the step under way.

        What goes on apart comes first where it begins before the dough; else it can be done at any time, and stands
        just before the step that has to wait for it.
        """
        along = [state for state in self.steps if not state.step.apart]
        begun = any(state.is_done for state in along)
        first = along[0].step.start_min if along and not begun else 0.0
        found = [
            state for state in self.steps if state.step.apart and not state.is_done and state.step.start_min < first
        ]
        for state in along:
            if not state.is_done:
                wanted = state.step.follows
                found += [
                    each for each in self.steps if each.step.apart and each.step.key in wanted and not each.is_done
                ]
                found.append(state)
        return tuple(dict.fromkeys(found))

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
        """The step done last, which can still be taken back."""
        done = [(state.done_at, number, state) for number, state in enumerate(self.steps) if state.done_at is not None]
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
    last = 0
    for event in events:
        last = max(last, event.seq)
        if event.kind == DONE:
            done.setdefault(event.step_key, event.at)
        elif event.kind == UNDONE:
            done.pop(event.step_key, None)
        elif event.kind == STARTED:
            began[event.step_key] = event.at
        elif event.kind == EXTENDED:
            extended[event.step_key] = extended.get(event.step_key, 0.0) + float(event.value["minutes"])
        elif event.kind == WEIGHED:
            scale = used if event.step_key == step_keys.MIX else weighed
            if event.value.get("grams") is None:
                scale.pop(int(event.value["line"]), None)
            else:
                scale[int(event.value["line"])] = float(event.value["grams"])
        elif event.kind == PROBED:
            probes.append(Probe(event.step_key, event.at, float(event.value["c"])))
        elif event.kind == NOTE:
            notes.append(str(event.value["text"]))
    apart = {step.key for step in steps if step.apart}
    lapsing, past = {step.key for step in steps if step.lapses}, set[str]()
    states = []
    begins: datetime | None = started_at
    for step in steps:
        more, over = extended.get(step.key, 0.0), done.get(step.key)
        if step.apart:
            states.append(StepState(step, None, _after(over, step, more), over, more))
            continue
        held = [done.get(key) for key in step.follows if key in apart and key not in lapsing]
        if begins is not None:
            past |= lapsing & set(step.follows)
        start = began.get(step.key)
        if begins is None or None in held:
            start = None
        elif start is None:
            start = max([begins, *(each for each in held if each is not None)])
        states.append(StepState(step, start, _after(start, step, more), over, more))
        begins = over
    states = [replace(each, has_lapsed=each.step.key in past and each.done_at is None) for each in states]
    return Progress(tuple(states), weighed, used, tuple(probes), tuple(notes), last)


def _after(start: datetime | None, step: Step, more_min: float) -> datetime | None:
    """When a wait is over that runs from a time, so much longer. [min]"""
    return None if start is None or not step.is_wait else start + timedelta(minutes=step.wait_min + more_min)


def check(progress: Progress, kind: str, step_key: str, value: Mapping[str, Any], lines: int) -> dict[str, Any]:
    """
    Hold what is to be recorded against where the make stands.

    Parameters
    ----------
    progress : Progress
        As it stands.
    kind : str
        One of `KINDS`.
    step_key : str
        The step it is of.
    value : mapping
        As sent: numbers may be text.
    lines : int
        How many lines there are to weigh.

    Returns
    -------
    dict
        The value, cleaned. [g, °C, min]

    Raises
    ------
    NotNow
        If the step is not there, comes later, or is to be taken back though it is not done.
    NotANumber, OutsideRange
        If a weight, a temperature or minutes make no sense.
    """
    state = progress.state(step_key)
    if kind not in KINDS or state is None:
        raise NotNow(f"This make has no step “{step_key[:20]}”. Reload the page to see where it stands.")
    current = progress.current
    beside = kind == DONE and state.step.apart
    if kind in (DONE, STARTED, EXTENDED) and state is not current and not state.is_done and not beside:
        first = current.step.name if current else ""
        raise NotNow(f"“{state.step.name}” comes later: finish “{first}” first.")
    if kind == UNDONE and state.done_at is None:
        raise NotNow(f"“{state.step.name}” is not done, so there is nothing to take back.")
    if kind == WEIGHED:
        line = _place(value.get("line"))
        if not 0 <= line < lines:
            raise NotNow("There is no such line to weigh. Reload the page.")
        return {"line": line, "grams": _number(value.get("grams"), "A weight of", WEIGHED_G, "g")}
    if kind == PROBED:
        return {"c": _number(value.get("c"), "A reading of", PROBE_C, "°C")}
    if kind == EXTENDED:
        return {"minutes": _number(value.get("minutes"), "A longer wait of", EXTENDED_MIN, "min")}
    if kind == NOTE:
        return {"text": str(value.get("text", "")).replace("\x00", "").encode("utf-8", "ignore").decode()[:500]}
    return {}


def _place(sent: Any) -> int:
    """The place of a line as sent; −1 for what is none."""
    text = str(sent)
    return int(text) if text.isascii() and text.isdecimal() and len(text) < 6 else -1


def _number(sent: Any, what: str, span: tuple[float, float], unit: str) -> float | None:
    """A number as typed; an empty weight takes a tick back."""
    text = str("" if sent is None else sent).strip()
    if not text and unit == "g":
        return None
    number = read_typed(text, unit, what=f"number of {unit}")
    if not span[0] <= number <= span[1]:
        raise OutsideRange(what, number, *span, unit)
    return number


def said(state: StepState, now: datetime) -> str:
    """What a running wait says of itself at a time: how long it has, or how long it is over."""
    left = state.left_s(now)
    if left is None:
        return "hands on"
    minutes = abs(left) / 60
    return f"{duration(round(minutes))} left" if left > 0 else f"over by {duration(round(minutes))}"

"""The graph of a make's steps: what follows what, when each begins, at the earliest and at the latest."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from northfold.core.method.choices.hours import Laid
from northfold.core.method.route.step import Beside, Reminder, Step

# What differs by less is at one time. [min]
_MOMENT = 1e-6


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
    main: Sequence[Step],
    apart: Sequence[Beside],
    placed: Mapping[str, Placed] | None = None,
    laid: Laid | None = None,
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
    laid : Laid, optional
        When things beside begin, or when nobody is there for them; both counted from the dough's first step. [min]

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
    busy += laid.closed if laid else ()
    told = dict(laid.beside) if laid else {}
    # What waits for something beside the dough is told after that.
    latest: dict[str, float] = {}
    for each in _last_first(apart, starts):
        latest[each.step.key] = latest.get(each.until, starts.get(each.until, 0.0)) - each.ahead_min - each.step.minutes
    # By when hands must be done with them: the last first.
    for bundle in sorted(
        _bundles(apart, told), key=lambda each: -(latest[each.last.step.key] + each.last.step.hands_min)
    ):
        for each in bundle.members:
            if each.until in starts:
                latest[each.step.key] = starts[each.until] - each.ahead_min - each.step.minutes
        begins = starts[bundle.last.until] - bundle.last.ahead_min - bundle.minutes
        now = _free_before(_wanted(bundle, begins, main, starts), bundle.hands, busy)
        lead = bundle.members[0].step.key
        if lead in told:
            now = min(told[lead], begins)
        busy += [(now + begin, now + end) for begin, end in bundle.hands]
        starts |= {each.step.key: now + after for each, after in zip(bundle.members, bundle.offsets, strict=True)}
    first = min(starts.values(), default=0.0)
    found = [
        replace(
            each.step,
            apart=True,
            follows=tuple(other.step.key for other in apart if other.until == key),
            earliest_min=starts[key] - first if each.step.mixture else 0.0,
            latest_min=latest[key] - first,
            start_min=starts[key] - first,
        )
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


def _last_first(apart: Sequence[Beside], starts: Mapping[str, float]) -> list[Beside]:
    """What goes on beside, each after the one that waits for it."""
    found, left = [], list(apart)
    known = set(starts)
    while left:
        ready = [each for each in left if each.until in known]
        if not ready:
            raise LookupError(f"Nothing waits for {left[0].step.key}.")
        found += ready
        known |= {each.step.key for each in ready}
        left = [each for each in left if each.step.key not in known]
    return found


@dataclass(frozen=True)
class _Bundle:
    """
    What goes on beside the dough without a gap: when each begins and when hands are on, from its beginning; how long
    it takes until what waits for it can go on. [min]
    """

    members: tuple[Beside, ...]
    offsets: tuple[float, ...]
    hands: tuple[tuple[float, float], ...]
    minutes: float

    @property
    def last(self) -> Beside:
        return self.members[-1]


def _bundles(apart: Sequence[Beside], told: Mapping[str, float]) -> list[_Bundle]:
    """
    Steps by themselves; mere work that the same step waits for as the table has it; what follows on at once. What it
    is `told` of when it begins is by itself.
    """
    found: dict[str, list[Beside]] = {}
    in_bundle: dict[str, str] = {}
    for each in apart:
        alone = bool(each.step.wait_min or each.ahead_min or each.step.mixture) or each.step.key in told
        key = each.step.key if alone else f"for {each.until}"
        if each.at_once and each.step.key not in told:
            key = next((in_bundle[one.step.key] for one in apart if one.until == each.step.key), key)
        in_bundle[each.step.key] = key
        found.setdefault(key, []).append(each)
    return [_bundle(members) for members in found.values()]


def _bundle(members: Sequence[Beside]) -> _Bundle:
    now, offsets, hands = 0.0, [], []
    for each in members:
        offsets.append(now)
        if each.step.hands_min:
            hands.append((now, now + each.step.hands_min))
        now += each.step.minutes
    return _Bundle(tuple(members), tuple(offsets), tuple(hands), now)


def _wanted(bundle: _Bundle, latest: float, main: Sequence[Step], starts: Mapping[str, float]) -> float:
    """When work apart had best begin: as late as it can, mere work once the last wait before sets in. [min]"""
    first = bundle.members[0]
    if first.step.wait_min or first.ahead_min or first.step.mixture:
        return latest
    waits = [starts[each.key] + each.hands_min for each in main if each.wait_min >= bundle.minutes]
    return max((begin for begin in waits if begin <= latest), default=latest)


def _free_before(latest: float, hands: Sequence[tuple[float, float]], busy: Sequence[tuple[float, float]]) -> float:
    """The latest time by then from which hands are free whenever they are wanted. [min]"""
    start = latest
    while True:
        earlier = [
            taken - end
            for begin, end in hands
            for taken, free in busy
            if taken < start + end - _MOMENT and start + begin < free - _MOMENT
        ]
        if not earlier:
            return start
        start = min(earlier)


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

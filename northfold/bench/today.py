"""What running makes bring to Today."""

from collections.abc import Iterable
from datetime import datetime, timedelta

from django.urls import reverse
from django.utils import timezone

from northfold.bench.queries import Run, runs
from northfold.core.day.clashes import Clash, Use, with_moves
from northfold.core.method.route.forecast import SOON_MIN, begins, over_at
from northfold.core.method.route.progress import said
from northfold.core.method.words import duration
from northfold.kitchen.queries import people
from northfold.makes.in_short import pieces_in_short
from northfold.makes.today import bars_of_step
from northfold.web.today import Bar, Card, CardRow, Lane


def _bars(run: Run, now: datetime) -> tuple[Bar, ...]:
    """What is under way and what is to come, as much later or sooner than planned as the dough itself is."""
    found: list[Bar] = []
    current, hours = run.progress.current, begins(run.progress, now)
    if current is None:
        return ()
    over = max(now + timedelta(minutes=SOON_MIN), over_at(current, now))
    for state in run.progress.steps:
        step = state.step
        if state.is_done and not state.goes_on(now):
            continue
        if state is current and not step.apart:
            start, hands_end, end = current.started_at or now, current.started_at or now, over
        else:
            start = hours.get(step.key, now)
            hands_end = start + timedelta(minutes=step.hands_min)
            end = (
                state.ends_at if state.ends_at and state.goes_on(now) else hands_end + timedelta(minutes=step.wait_min)
            )
        found += bars_of_step(step, start, hands_end, end, is_now=state.is_now)
    return tuple(found)


def bars(now: datetime, hours: int) -> Iterable[Lane]:
    """Makes under way."""
    for run in runs():
        current = run.progress.current
        next_at = now
        words = "finish it, and write down the result"
        if current is not None:
            waits = current.ends_at is not None and current.ends_at > now
            next_at = (current.ends_at or now) if waits else now
            words = f"{current.step.name}: {said(current, now)}"
            if waits:
                place = f" in {current.step.place}" if current.step.place else ""
                words = f"{current.step.name}{place} until {timezone.localtime(current.ends_at):%H:%M}"
        yield Lane(
            name=run.name,
            detail=pieces_in_short(run.plan.inputs.items),
            url=reverse("bench:run", args=[run.make.pk]),
            state="started",
            bars=_bars(run, now),
            due_at=run.make.due_at,
            next_at=next_at,
            next_words=words,
        )


# So many clashes stand on Today, and so many pieces of work in one.
CLASHES_SHOWN, NAMED = 6, 4


def clash_card(now: datetime, shown: list[Lane]) -> Card | None:
    """What the makes of the next hours ask for at once and cannot have, with what would save it."""
    uses = [
        Use(lane.url, lane.name, bar.name.lower(), bar.start, bar.end, bar.where if bar.is_oven else "", bar.oven_c)
        for lane in shown
        for bar in lane.bars
        if bar.is_oven or not bar.is_wait
    ]
    movable = frozenset(lane.url for lane in shown if lane.state == "planned")
    found = with_moves(uses, max(1, len(people())), movable, now, most=CLASHES_SHOWN)
    rows = tuple(_row(clash) for clash in found[:CLASHES_SHOWN])
    more = f"And {len(found) - len(rows)} more of these later." if len(found) > len(rows) else ""
    return Card("Two things at the same time", "", rows, more) if found else None


def _row(clash: Clash) -> CardRow:
    """One clash in words, with its remedy and the number in it."""
    first, *others = clash.uses
    if clash.oven:
        other = others[0]
        what = (
            f"{clash.oven} at {first.oven_c:.0f} °C for {first.name} ({first.what}) "
            f"and at {other.oven_c:.0f} °C for {other.name} ({other.what})"
        )
    else:
        named = list(dict.fromkeys(f"{use.name}, {use.what}" for use in clash.uses))
        more = [f"{len(named) - NAMED} more"] if len(named) > NAMED else []
        what = f"Hands for {' and '.join([*named[:NAMED], *more])}"
    move = clash.move
    remedy = "No start within four hours frees it: give one of them another hour, or another oven."
    if not clash.is_searched:
        meeting = len({use.make for use in clash.uses})
        remedy = f"{meeting} makes meet here, on a day too full to try every start: give some of them another hour."
    if move is not None:
        way = "earlier" if move.minutes < 0 else "later"
        remedy = f"{move.name} {duration(abs(move.minutes))} {way} frees it."
    return CardRow(what, remedy, clash.end, start=clash.start)

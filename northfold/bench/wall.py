"""The whole kitchen on one screen, for the wall: what runs, who has it, when it wants a hand, and what comes next."""

from dataclasses import dataclass
from datetime import datetime, timedelta

from northfold.bench.queries import Run, runs
from northfold.core.method.pictures.trace import step_width_px
from northfold.core.method.route.forecast import READY, begins, over_at
from northfold.core.method.route.progress import StepState
from northfold.makes.in_short import pieces_in_short
from northfold.web.today import Lane, lanes

# So many makes stand on the wall, those that want a hand first.
ROWS, TO_START = 6, 4
# A strip is as wide as the wall; its steps are folded as on the dough's trace. [px]
WIDTH = 1232.0
# Less than this a word does not fit into its piece. [px a letter]
LETTER = 15.0


@dataclass(frozen=True)
class Piece:
    """A step to come on its strip: where and how wide [px], its word where it fits, what kind of step it is."""

    left: float
    width: float
    word: str
    is_wait: bool
    is_oven: bool
    is_now: bool

    @property
    def right(self) -> float:
        return self.left + self.width


@dataclass(frozen=True)
class Row:
    """One make on the wall."""

    run: Run
    state: StepState
    who: str
    pieces_words: str
    ends_at: datetime | None
    then: str
    then_at: datetime | None
    ready_at: datetime | None
    strip: tuple[Piece, ...]

    @property
    def is_late(self) -> bool:
        due = self.run.make.due_at
        return due is not None and self.ready_at is not None and self.ready_at > due + timedelta(minutes=1)


def _strip(run: Run, here: StepState, now: datetime) -> tuple[Piece, ...]:
    """What is under way and what is to come of the dough, folded to the width of the wall."""
    left, found = 0.0, []
    for state in [here, *(each for each in run.progress.queue if each is not here and not each.step.apart)]:
        step = state.step
        minutes = (over_at(state, now) - now).total_seconds() / 60 if state is here else step.minutes
        width, _ = step_width_px(minutes)
        if left + width > WIDTH:
            break
        name = step.name.partition(":")[0]
        fits = (each for each in (name, name.split()[0]) if len(each) * LETTER + 16 < width)
        found.append(
            Piece(left, width, next(fits, ""), step.is_wait and not step.takes_oven, step.takes_oven, state is here)
        )
        left += width
    return tuple(found)


def _row(run: Run, now: datetime) -> Row | None:
    here = run.progress.current
    if here is None:
        return None
    hours = begins(run.progress, now)
    names = {state.step.key: state.step.name for state in run.progress.steps if not state.step.apart}
    then = next((key for key in hours if key in names), "")
    return Row(
        run=run,
        state=here,
        who=run.progress.held.get(here.step.key, ""),
        pieces_words=pieces_in_short(run.plan.inputs.items),
        ends_at=here.ends_at,
        then=names.get(then, ""),
        then_at=hours.get(then),
        ready_at=hours.get(READY),
        strip=_strip(run, here, now),
    )


def to_start(now: datetime) -> list[Lane]:
    """What is planned and begins next, the soonest first."""
    planned = [lane for lane in lanes(now) if lane.state == "planned" and lane.next_at is not None]
    return planned[:TO_START]


def rows(now: datetime) -> list[Row]:
    """All makes under way: first what needs hands now, then what is over next."""
    found = [row for run in runs() if (row := _row(run, now)) is not None]
    return sorted(found, key=lambda row: row.ends_at or now)

"""What is mixed, made and taken out to thaw before the kitchen opens again."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.urls import reverse
from django.utils import timezone

from northfold.core.method import Plan
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.step_kinds import told_like
from northfold.day.building import moment_of, zero_of
from northfold.kitchen import queries as kitchen
from northfold.makes import facts
from northfold.makes.facts import StepInShort
from northfold.makes.models import Make

# What is due so many days from now may begin tonight.
WITHIN_DAYS = 4
MIX, THAW = "mix", "thaw"


@dataclass(frozen=True)
class Part:
    """A make, or a proposal, that takes part in one mixing: what it takes of it [g], when it must begin."""

    name: str
    url: str
    at: datetime
    grams: float
    due_at: datetime | None
    is_proposed: bool


@dataclass(frozen=True)
class Tonight:
    """
    One dough to be mixed for all of these together, by the earliest of them; or pieces to be taken out to thaw.

    `lines` are its ingredients for all of it. [g]
    """

    what: str
    name: str
    at: datetime
    grams: float
    parts: tuple[Part, ...]
    lines: tuple[tuple[str, float], ...] = ()

    @property
    def is_mixed(self) -> bool:
        return self.what == MIX


@dataclass(frozen=True)
class InShort:
    """A make as tonight looks at it: its steps from when it starts, the lines of its dough. [g]"""

    make: Make
    start_at: datetime
    steps: Sequence[StepInShort]
    dough_g: float
    mixes: Sequence[tuple[str, float]]
    is_proposed: bool = False
    # When a proposal would be ready that is too late to be begun.
    late_at: datetime | None = None


def opens_next(now: datetime) -> datetime:
    """When the kitchen opens the next time."""
    opens, today = kitchen.the_kitchen().opens_min, timezone.localdate(now)
    first = moment_of(zero_of(today), opens)
    return first if first > now else moment_of(zero_of(today + timedelta(days=1)), opens)


def of_makes(now: datetime) -> list[InShort]:
    """Planned makes that may begin tonight."""
    ends = now + timedelta(days=WITHIN_DAYS)
    found = Make.objects.kept().filter(state=Make.State.PLANNED, due_at__gt=now, due_at__lte=ends)
    makes = list(found.select_related("formula_version__formula", "facts"))
    known = facts.of_planned(makes)
    return [
        InShort(make, start, [StepInShort(*row) for row in fact.steps], fact.dough_g or 0.0,
                [(name, grams) for name, grams in fact.mixes])
        for make in makes
        if (fact := known.get(make.pk)) is not None and (start := facts.start_of(make, fact)) is not None
    ]  # fmt: skip


def of_plan(make: Make, plan: Plan, mixes: Sequence[tuple[str, float]]) -> InShort | None:
    """A proposal by its plan; None where nothing of it is timed."""
    if plan.route is None or plan.clock is None:
        return None
    steps = [StepInShort(*(getattr(step, name) for name in facts.FIELDS)) for step in plan.route.steps]
    late_at = plan.clock.ready_if_now if plan.clock.late_min >= 1 else None
    return InShort(make, plan.clock.start_at, steps, plan.mixed_g or 0.0, mixes, True, late_at)


def tonight(makes: Iterable[InShort], now: datetime) -> tuple[Tonight, ...]:
    """
    What is done before the kitchen opens again.

    Parameters
    ----------
    makes : iterable of InShort
        Planned makes and proposals.
    now : datetime
        Aware.

    Returns
    -------
    tuple of Tonight
        By hour. Makes of one version of a dough are mixed together, by the earliest of them. A make whose hour to
        begin has passed is among them: it wants to be mixed now.
    """
    until = opens_next(now)
    groups: dict[tuple[str, int], list[tuple[InShort, StepInShort, datetime]]] = {}
    for each in makes:
        for step in each.steps:
            what = _what(step, each)
            at = each.start_at + timedelta(minutes=step.start_min)
            if what and at < until:
                groups.setdefault((what, each.make.formula_version_id), []).append((each, step, at))
    found = [_group(what, rows) for (what, _), rows in groups.items()]
    return tuple(sorted(found, key=lambda one: (one.at, one.name)))


def _what(step: StepInShort, make: InShort) -> str:
    if told_like(step.key) == step_keys.MIX and make.dough_g >= 1:
        return MIX
    return THAW if step.key == step_keys.THAW else ""


def _group(what: str, rows: Sequence[tuple[InShort, StepInShort, datetime]]) -> Tonight:
    parts, lines = [], dict[str, float]()
    for each, _, at in sorted(rows, key=lambda row: row[2]):
        url = "" if each.is_proposed else reverse("makes:weigh", args=[each.make.pk])
        grams = each.dough_g if what == MIX else 0.0
        parts.append(Part(each.make.called, url, at, grams, each.make.due_at, each.is_proposed))
        for name, weight in each.mixes if what == MIX else ():
            lines[name] = lines.get(name, 0.0) + weight
    name = str(rows[0][0].make.formula_version.formula)
    return Tonight(what, name, parts[0].at, sum(part.grams for part in parts), tuple(parts), tuple(lines.items()))

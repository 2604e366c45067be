"""The order of a route's steps: as its table has it, as schools want it, as a maker has moved it; their names."""

from collections.abc import Mapping, Sequence
from functools import cache

from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Edit, EditReader
from northfold.core.method.choices.step_kinds import kind_of, step_kinds
from northfold.core.method.route.work import Job
from northfold.core.shape.blanks import LATTICE, STRIP, TOPPED, Part

# What lines or covers tins: where that comes from a sheet, it is cut out first.
FROM_SHEET = (step_keys.LINE, step_keys.LINE_BASE, step_keys.FILL_BORDER, step_keys.LAY)

OWN_NAME = "Your own step"
# Entries of routes that are several steps.
_NAMES = {step_keys.TURNS: "Turns", step_keys.BAKE: "Bake"}


def entry_key(entry: str) -> str:
    """The key of an entry of a route's table, without its condition."""
    return entry.partition("@")[0]


@cache
def moves() -> Mapping[str, tuple[frozenset[str], frozenset[str]]]:
    """The steps that may stand elsewhere: what each must come after, and what before."""
    return {key: (frozenset(kind.after), frozenset(kind.ahead_of)) for key, kind in step_kinds().items() if kind.after}


def may_follow(order: Sequence[str], key: str) -> dict[str, str]:
    """After which steps of an order a step may stand, with their names; empty where it has its one place."""
    if key.startswith(step_keys.OWN_):
        return {entry_key(each): name_of(entry_key(each)) for each in order if entry_key(each) != key}
    if key not in moves():
        return {}
    after, before = moves()[key]
    others = [entry_key(each) for each in order if entry_key(each) != key]
    first = max((place for place, each in enumerate(others) if each in after), default=-1)
    last = min((place for place, each in enumerate(others) if each in before), default=len(others))
    return {each: name_of(each) for each in others[max(first, 0) : last]}


def name_of(key: str) -> str:
    """What a step of a route is called in a list of steps."""
    _, _, number = key.partition(".")
    if key.startswith(step_keys.TURN_):
        return f"Turn {number}"
    if key.startswith(step_keys.COLD_):
        return f"Cold after turn {number}"
    kind = kind_of(key)
    return kind.name if kind else _NAMES.get(key, OWN_NAME)


def ordered(order: Sequence[str], edits: EditReader) -> list[str]:
    """The order with a maker's own steps in it, and theirs and others where they want them."""
    found = list(order)
    for key in edits.own_steps():
        usual = found[next(place for place, each in enumerate(found) if entry_key(each) == step_keys.BAKE) - 1]
        wanted = edits.word(key, "after", may_follow(found, key)) or entry_key(usual)
        _put(found, key, wanted)
    for key in moves():
        entry = next((each for each in found if entry_key(each) == key), None)
        if entry is None:
            continue
        moved = edits.word(key, "after", may_follow(found, key))
        if moved:
            found.remove(entry)
            _put(found, entry, moved)
    return found


def _put(order: list[str], entry: str, after: str) -> None:
    place = next(place for place, each in enumerate(order) if entry_key(each) == after)
    order.insert(place + 1, entry)


def next_own_key(edits: Sequence[Edit]) -> str:
    """The key of the next step of a maker's own."""
    numbers = [
        int(edit.step_key.removeprefix(step_keys.OWN_)) for edit in edits if edit.step_key.startswith(step_keys.OWN_)
    ]
    return f"{step_keys.OWN_}{max(numbers, default=0) + 1}"


def rolled_apart(job: Job) -> Part | None:
    """The lid, lattice or strip of tins that is rolled for itself; None without one, or cut from a sheet."""
    item = job.lead.item
    if not item.tin.is_vessel or item.cover not in (*TOPPED, STRIP) or len(job.lead.parts) < 2 or job.rolls_first:
        return None
    part = job.lead.parts[1]
    return part if part.cut is None and job.kind.rolls else None


def order_of(job: Job) -> tuple[str, ...]:
    """
    The entries of a job's route, in the order in which they are worked.

    The rolling before the rest where a school wants the sheet chilled flat; what lines tins is cut out first where it
    comes from a sheet; then a maker's own steps and moves.
    """
    steps = list(job.kind.steps)
    if job.lot.is_sheet and step_keys.CUT not in steps:
        lined = next((key for key in FROM_SHEET if key in steps), None)
        if lined:
            steps.insert(steps.index(lined), step_keys.CUT)
    if job.lot.is_sheet and step_keys.CUT in steps and job.folding is None and not job.rolls_first:
        steps.insert(steps.index(step_keys.CUT), step_keys.REST_SHEET)
    part = rolled_apart(job)
    if part is not None and step_keys.ROLL in steps:
        lined = next(key for key in (step_keys.LINE_BASE, step_keys.LINE) if key in steps)
        # A lid lies flat in the cold meanwhile; a strip goes into the tin with its base.
        steps.insert(steps.index(lined) + (part.name != "strip"), step_keys.ROLL_PART)
    if job.lead.item.cover == LATTICE and step_keys.VENT in steps:
        # Steam leaves between the strips.
        steps.remove(step_keys.VENT)
    if job.rolls_first:
        steps.remove(step_keys.ROLL)
        steps.insert(steps.index(step_keys.REST), step_keys.ROLL)
    return tuple(ordered(steps, job.edits))

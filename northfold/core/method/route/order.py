"""The order of a route's steps: as its table has it, as schools want it, as a maker has moved it; their names."""

from collections.abc import Mapping, Sequence
from functools import cache

from northfold.core.method.choices.edits import OWN, Edit, EditReader
from northfold.core.method.route.texts import step_texts
from northfold.core.method.route.work import Job

OWN_NAME = "Your own step"


def entry_key(entry: str) -> str:
    """The key of an entry of a route's table, without its condition."""
    return entry.partition("@")[0]


@cache
def moves() -> Mapping[str, tuple[frozenset[str], frozenset[str]]]:
    """The steps that may stand elsewhere: what each must come after, and what before."""
    return {
        key: (frozenset(row["after"]), frozenset(row.get("before", ())))
        for key, row in step_texts().items()
        if "after" in row
    }


def may_follow(order: Sequence[str], key: str) -> dict[str, str]:
    """After which steps of an order a step may stand, with their names; empty where it has its one place."""
    if key.startswith(OWN):
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
    word, _, number = key.partition(".")
    named = {"bake": "Bake", f"turn.{number}": f"Turn {number}", f"cold.{number}": f"Cold after turn {number}"}
    if key in ("turns", *named):
        return named.get(key, "Turns")
    return str(step_texts()[key]["name"]) if key in step_texts() else "Temper" if word == "temper" else OWN_NAME


def ordered(order: Sequence[str], edits: EditReader) -> list[str]:
    """The order with a maker's own steps in it, and theirs and others where they want them."""
    found = list(order)
    for key in edits.own_steps():
        usual = found[next(place for place, each in enumerate(found) if entry_key(each) == "bake") - 1]
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
    numbers = [int(edit.step_key.removeprefix(OWN)) for edit in edits if edit.step_key.startswith(OWN)]
    return f"{OWN}{max(numbers, default=0) + 1}"


def order_of(job: Job) -> tuple[str, ...]:
    """
    The entries of a job's route, in the order in which they are worked.

    The rolling before the rest where a school wants the sheet chilled flat; what lines tins is cut out first where it
    comes from a sheet; then a maker's own steps and moves.
    """
    steps = list(job.kind.steps)
    if job.lot.is_sheet and "cut" not in steps:
        lined = next((key for key in ("line", "line.base", "fill.border", "lay") if key in steps), None)
        if lined:
            steps.insert(steps.index(lined), "cut")
    if job.rolls_first:
        steps.remove("roll.main")
        steps.insert(steps.index("rest.1"), "roll.main")
    return tuple(ordered(steps, job.edits))

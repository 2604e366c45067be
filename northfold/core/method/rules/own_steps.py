"""A maker's own hand on a course: steps of their own, steps moved, minutes and notes of theirs."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import cache

from northfold.core.method.choices.edits import OWN, Edit, EditReader
from northfold.core.method.route.step import EDIT, WORK, Step
from northfold.core.method.route.texts import step_texts
from northfold.core.method.route.work import Walk


def entry_key(entry: str) -> str:
    """The key of an entry of a course's table, without its condition."""
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
    """What a step of a course is called in a list of steps."""
    word, _, number = key.partition(".")
    named = {"bake": "Bake", f"turn.{number}": f"Turn {number}", f"cold.{number}": f"Cold after turn {number}"}
    if key in ("turns", *named):
        return named.get(key, "Turns")
    return str(step_texts()[key]["name"]) if key in step_texts() else "Temper" if word == "temper" else "Your own step"


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


def own_step(walk: Walk, key: str) -> None:
    """A step of the maker's own. On the way to the oven the dough goes through its minutes like through any other's."""
    edits = walk.edits
    hands = edits.number(key, "hands_min") or 0.0
    minutes = edits.number(key, "minutes") or 0.0
    hands = hands if hands or minutes else 1.0
    place, _ = walk.place_of(key, walk.setting.bench())
    name = edits.text(key, "name")
    mixed = any(step.key == "mix" for step in walk.steps)
    if mixed and not walk.is_baked:
        body = walk.dough.body or walk.resting_body
        if hands:
            walk.wait(key, hands, walk.setting.bench(), body, name=name)
        if minutes:
            walk.wait(key, minutes, place, body, name=name)
    step = Step(
        key=key,
        name=name,
        hands_min=hands,
        wait_min=minutes,
        reason=EDIT if minutes else WORK,
        look=edits.text(key, "look") or "As you know it.",
        why="Your own step.",
        caution="",
        dough_c=walk.dough.mean_c if mixed and not walk.is_baked else None,
    )
    walk.steps.append(replace(step, **walk.at(place)) if minutes else step)


def with_own_words(steps: Sequence[Step], edits: EditReader) -> list[Step]:
    """The steps with a maker's own hands-on minutes and notes."""
    found = []
    for step in steps:
        typed = None if step.key.startswith(OWN) else edits.number(step.key, "hands_min")
        if typed is not None:
            mark = edits.mark(step.key, "hands_min", f"{typed:g}", f"{step.hands_min:g}")
            step = replace(step, hands_min=typed, edits=(*step.edits, mark))
        note = edits.text(step.key, "note")
        found.append(replace(step, note=note) if note else step)
    return found


def next_own_key(edits: Sequence[Edit]) -> str:
    """The key of the next step of a maker's own."""
    numbers = [int(edit.step_key.removeprefix(OWN)) for edit in edits if edit.step_key.startswith(OWN)]
    return f"{OWN}{max(numbers, default=0) + 1}"

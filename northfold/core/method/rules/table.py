"""The walk through a route: each step by the rule of its row, or, where that has none, as its texts are."""

from collections.abc import Callable
from functools import cache, partial
from inspect import signature
from types import ModuleType

from northfold.core.method.choices import step_keys
from northfold.core.method.choices.step_keys import BAKE, MIXTURES, TURNS
from northfold.core.method.choices.step_kinds import kind_of
from northfold.core.method.route.work import Work
from northfold.core.method.rules import (
    alongside,
    bake,
    base_first,
    filled_case,
    finishing,
    freeze,
    laminate,
    mix,
    mixtures,
    parts,
    rest_and_chill,
    roll_and_line,
)
from northfold.core.method.rules.own_steps import own_step

# The files of this room that rows of the table may name.
_FILES: dict[str, ModuleType] = {
    module.__name__.rpartition(".")[2]: module
    for module in (
        alongside,
        bake,
        base_first,
        filled_case,
        finishing,
        freeze,
        laminate,
        mix,
        mixtures,
        parts,
        rest_and_chill,
        roll_and_line,
    )
}
# Entries of a route that are several steps, and so have no row of their own.
_SEVERAL = {BAKE: "bake.bake", TURNS: "laminate.turns", MIXTURES: "mixtures.make_all"}


@cache
def rule_of(key: str) -> Callable[[Work], None] | None:
    """
    The rule of an entry of a route; None where its texts say it all.

    A rule that serves several steps takes the key beside the work. Raises LookupError where a row names none that
    there is.
    """
    kind = kind_of(key)
    named = _SEVERAL.get(key) or (kind.rule if kind else "")
    if not named:
        return None
    file, _, function = named.partition(".")
    found: Callable[..., None] | None = getattr(_FILES[file], function, None)
    if found is None:
        raise LookupError(f"There is no rule {named} for {key}.")
    return partial(found, key=key) if "key" in signature(found).parameters else found


def take(work: Work, entry: str) -> None:
    """Work one entry of a route: a step's key, after an @ with the docking that it is for."""
    key, _, when = entry.partition("@")
    if when and work.job.chosen["docking"] != when:
        return
    kind = kind_of(key)
    if kind and kind.optional and work.job.edits.word(key, "skip"):
        return
    rule = rule_of(key)
    if key.startswith(step_keys.OWN_):
        own_step(work, key)
    elif rule is not None:
        rule(work)
    elif kind and kind.beside:
        work.add_beside(work.maker.make(key, work.job.figures))
    else:
        work.add(key, work.job.figures)

"""
What to do when something goes wrong at the bench, with a number from the dough as it is now.

A trouble is a row of `data/troubles.toml`. Its remedies are reckoned from where the dough stands (`at_hand`), and are
edits of the plan (`remedy`): what each costs, and does to the shrink, is the difference between two plans.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cache

from northfold.core.data import table
from northfold.core.matter.fats import GREASY
from northfold.core.method.advice import bench_remedies, oven_remedies
from northfold.core.method.advice.at_hand import AtHand
from northfold.core.method.advice.remedy import Remedy
from northfold.core.method.choices.step_kinds import told_like
from northfold.core.method.words import degrees

# So many troubles are offered at a step, so many remedies for one.
TROUBLES, REMEDIES = 6, 2


@dataclass(frozen=True)
class Trouble:
    """
    A row: `name` on its button, `sign` by which it is known, the `steps` it is seen at, what is `lost` for good.

    `solid`: only a fat that firms and melts does it.
    """

    key: str
    name: str
    sign: str
    steps: tuple[str, ...]
    lost: str = ""
    solid: bool = False


@cache
def all_troubles() -> dict[str, Trouble]:
    """All rows by key, likeliest first."""
    rows = table("troubles").items()
    return {key: Trouble(key, **{**row, "steps": tuple(row["steps"])}) for key, row in rows}


def troubles(step_key: str, *, is_oil: bool = False) -> tuple[Trouble, ...]:
    """What is likely to go wrong at a step, at most six; none where nothing of the dough can. Oil has no state."""
    row = told_like(step_key)
    found = [each for each in all_troubles().values() if row in each.steps and not (is_oil and each.solid)]
    return tuple(found[:TROUBLES])


def remedies(at: AtHand, trouble: str) -> tuple[Remedy, ...]:
    """
    What puts a trouble right, the quickest first.

    Parameters
    ----------
    at : AtHand
        The dough as it is now. [min, °C]
    trouble : str
        A key of the table.

    Returns
    -------
    tuple of Remedy
        At most two, that differ in kind; at least one. Its minutes follow from conduction and rest of this dough as it
        lies, in this room and these places.

    Raises
    ------
    KeyError
        If there is no such trouble.
    """
    row = all_troubles()[trouble]
    found = _REMEDIES[trouble](at)
    told = [replace(each, lost=_lost(row, at, each)) for each in found]
    return tuple(sorted(told, key=lambda each: each.cost_min)[:REMEDIES])


def _lost(row: Trouble, at: AtHand, remedy: Remedy) -> str:
    """What is lost for good: what the trouble takes in any case, what this remedy does beside."""
    greasy = at.band(GREASY)
    warm = row.key in ("soft", "sticks", "tears")
    is_greasy = warm and greasy is not None and at.c is not None and at.c >= greasy[0]
    smeared = f"Above {degrees(greasy[0])} its fat runs: those flakes are gone." if is_greasy and greasy else ""
    said = [each for each in (row.lost, smeared, remedy.lost) if each]
    return " ".join(said) if said else "Nothing is lost but the time."


def _leaks(at: AtHand) -> Sequence[Remedy]:
    return oven_remedies.leaks(at) if at.step.takes_oven else bench_remedies.leaks(at)


_REMEDIES: dict[str, Callable[[AtHand], Sequence[Remedy]]] = {
    "soft": bench_remedies.soft,
    "dry": bench_remedies.dry,
    "wet": bench_remedies.wet,
    "cracks": bench_remedies.cracks,
    "sticks": bench_remedies.sticks,
    "springs_back": bench_remedies.springs_back,
    "tears": bench_remedies.tears,
    "greasy": bench_remedies.greasy,
    "shatters": bench_remedies.shatters,
    "leaks": _leaks,
    "colours_early": oven_remedies.colours_early,
    "raw_under": oven_remedies.raw_under,
}

"""What puts a piece right in the oven: another heat, another shelf, foil, and how long from now."""

from northfold.core.method.advice.at_hand import AtHand
from northfold.core.method.advice.bake_changes import bake_changes
from northfold.core.method.advice.remedy import Remedy, before, with_edits
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Take
from northfold.core.method.reckon.baking import Bake, BakeStage
from northfold.core.method.route.order import next_own_key
from northfold.core.method.words import duration

# An oven is set lower or higher by so much at the bench. [K] A usual step of the trade.
LOWER_K, HIGHER_K = 20.0, 15.0
# A bake that would take so many times as long at less heat is covered instead. Assumption: it would only dry out.
MOST_TIMES = 1.6


def leaks(at: AtHand) -> list[Remedy]:
    """Hotter, so that the dough sets."""
    return _oven(at, HIGHER_K, "Its fat melts before the dough sets; more heat sets it. A tray goes underneath.")


def colours_early(at: AtHand) -> list[Remedy]:
    """Less heat, or foil."""
    left = max(1.0, round(_left_min(at) or 0.0))
    does = f"Foil over what is brown, the heat as it is: {duration(left)} more."
    foil = _of_oven(at, does, "Under foil it takes on little colour.", (), left, "oven.foil")
    lower = _oven(at, -LOWER_K, "At less heat the middle catches up before the outside is dark.")
    return [foil, *(each for each in lower if each.minutes <= MOST_TIMES * left)]


def raw_under(at: AtHand) -> list[Remedy]:
    """More heat from below for what is left of it; back in where it is out."""
    found = []
    bake = _bake_of(at)
    left = _left_min(at)
    for change in bake_changes(at.plan, bake):
        lever = change.key.rpartition(".")[2]
        if lever in ("hot_stone", "floor") and left is not None:
            share = change.minutes / max(1.0, change.minutes - change.more_min)
            more = max(2.0, round(left * share))
            does = f"Put it {change.name} for the last {duration(more)} or so, foil over what is brown."
            why = f"Its base then gets more heat from below: {duration(more)} there do what {duration(left)} do now."
            found.append(_of_oven(at, does, why, change.takes, more, f"oven.{lever}"))
    more = 5.0 if left is None else max(5.0, round(left + 5))
    does = f"Lowest shelf, foil over what is brown, {duration(more)} more. Lift one and look under it."
    why = "The base browns from below; what is above waits under foil."
    found.append(_of_oven(at, does, why, (), more, "oven.low"))
    return found


def _bake_of(at: AtHand) -> Bake | None:
    for each in at.plan.bake.in_order if at.plan.bake else ():
        if any(stage.key == at.step.key for stage in each.stages) or at.step.key in each.cools_at:
            return each
    return None


def _left_min(at: AtHand) -> float | None:
    """What is left of a stage of the bake; None out of the oven. [min]"""
    return max(0.0, at.step.wait_min - at.minutes) if at.step.takes_oven else None


def _oven(at: AtHand, by_k: float, why: str) -> list[Remedy]:
    """The oven set otherwise from now on: what is left of this stage lasts longer or shorter by a plan with it. [K]"""
    bake, left = _bake_of(at), _left_min(at)
    stage = next((each for each in bake.stages if each.key == at.step.key), None) if bake else None
    if bake is None or stage is None or left is None:
        return []
    oven_c = stage.oven_c + by_k
    field = (bake.kept_at if stage.key != step_keys.BAKE_LOW else step_keys.BAKE_LOW, "oven_c", f"{oven_c:g}")
    other = with_edits(at.plan, (field,)).bake
    then = next((each for each in other.in_order if each.kept_at == bake.kept_at), None) if other else None
    changed = next((each for each in then.stages if each.key == stage.key), None) if then else None
    rest = left / stage.usual_min if stage.usual_min else 1.0
    more = max(1.0, round(changed.usual_min * rest if changed else left))
    down = by_k < 0
    to = f"{'Down' if down else 'Up'} to {oven_c:.0f} °C"
    does = f"{to}. About {duration(more)} more{_range(changed, rest)} from now, instead of {duration(round(left))}."
    return [_of_oven(at, does, why, (field,), more, "oven.down" if down else "oven.up")]


def _range(stage: BakeStage | None, share: float) -> str:
    """Between what so much of a stage lies, by how sure the bake is; empty where that is settled. [share]"""
    low, high = (round(stage.low_min * share), round(stage.high_min * share)) if stage else (0, 0)
    return f" ({low}–{high} min)" if low < high else ""


def _of_oven(at: AtHand, does: str, why: str, takes: Take, stage_min: float, key: str) -> Remedy:
    left = _left_min(at)
    if left is None:
        return _back_in(at, does, why, stage_min, key)
    minutes: Take = ((at.step.key, "minutes", f"{round(at.minutes + stage_min):g}"),)
    return Remedy(key, does, why, max(0.0, stage_min - left), "", (*takes, *minutes), minutes=stage_min)


def _back_in(at: AtHand, does: str, why: str, minutes: float, key: str) -> Remedy:
    """A piece that is out already goes back into the oven. [min]"""
    bake, own = _bake_of(at), next_own_key(at.plan.edits)
    values = {
        "name": "Back in the oven", "look": does, "after": before(at), "minutes": f"{minutes:g}", "note": why,
        "place": bake.oven.key if bake else "", "oven_c": f"{bake.oven_c:g}" if bake else "",
    }  # fmt: skip
    takes: Take = tuple((own, field, value) for field, value in values.items() if value)
    return Remedy(key, does, why, minutes, "", takes, "Back in the oven", minutes=minutes)

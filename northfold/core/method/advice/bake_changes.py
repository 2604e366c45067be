"""What would change a make’s bake, each as a baker would do it, with what it cures and the edits that do it."""

from dataclasses import dataclass

from northfold.core.bake.levers import HEAT_K, THINNER_MM, WARMER_C, Lever, levers
from northfold.core.bake.verdict import FAULTS, outcome
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Take
from northfold.core.method.plan import Plan
from northfold.core.method.reckon.baking import Bake, by_the_clock


@dataclass(frozen=True)
class BakeChange:
    """
    One change: its key, name, the whole bake with it and how much more that is [min]; what it cures and brings, in
    words; the edits that do it, none where it is done with one's hands alone.
    """

    key: str
    name: str
    minutes: float
    more_min: float
    cures: tuple[str, ...]
    brings: tuple[str, ...]
    takes: Take

    @property
    def says(self) -> str:
        """By how much the bake is longer or shorter."""
        more = round(self.more_min)
        return "as long" if not more else f"{abs(more)} min {'longer' if more > 0 else 'shorter'}"


def bake_changes(plan: Plan, bake: Bake | None) -> tuple[BakeChange, ...]:
    """
    What would change the bake of a make.

    Parameters
    ----------
    plan : Plan
        Of one product.
    bake : Bake, optional
        Which of its bakes, see `Bake.in_order`.

    Returns
    -------
    tuple of BakeChange
        What cures most first, see `levers`; none where there is no bake, or one planned before bakes were worked out.
    """
    if bake is None or bake.asked is None:
        return ()
    minutes = tuple(stage.minutes for stage in bake.stages)
    return tuple(
        BakeChange(
            f"{bake.kept_at}.{lever.key}",
            lever.name,
            sum(by_the_clock(each) for each in lever.minutes),
            lever.more_min,
            tuple(FAULTS[each] for each in lever.cures),
            tuple(FAULTS[each] for each in lever.brings),
            _takes(plan, bake, lever),
        )
        for lever in levers(bake.asked, outcome(bake.asked, minutes))
    )


def _takes(plan: Plan, bake: Bake, lever: Lever) -> Take:
    """The edits that a change is made by."""
    own = bake.kept_at == step_keys.BAKE_OFF
    if lever.key == "foil":
        return ((step_keys.COVER_RIM, "skip", ""),)
    if lever.key in ("hot_stone", "floor"):
        return ((step_keys.BAKE_OFF, "stands", lever.key),)
    has_course = any((edit.step_key, edit.field) == (step_keys.BAKE_OFF, "course") for edit in plan.edits)
    if lever.key in ("hotter", "cooler") and not (own and has_course):
        more = HEAT_K if lever.key == "hotter" else -HEAT_K
        low = next((stage for stage in bake.stages if stage.key == step_keys.BAKE_LOW), None)
        lower = ((step_keys.BAKE_LOW, "oven_c", f"{low.oven_c + more:g}"),) if low else ()
        return ((bake.kept_at, "oven_c", f"{bake.oven_c + more:g}"), *lower)
    steps = {step.key for step in plan.route.steps} if plan.route else set()
    if lever.key == "thinner" and step_keys.ROLL in steps and own:
        thick = plan.pieces[0].item.thickness_mm - THINNER_MM
        return ((step_keys.ROLL, "thickness_mm", f"{thick:g}"),)
    into = next((key for key in steps if key.startswith(step_keys.FILL_)), "")
    return ((into, "inside_c", f"{WARMER_C:g}"),) if lever.key == "warmer" and into else ()

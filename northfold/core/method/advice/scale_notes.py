"""What to mind when a formula is doubled, halved or made in bulk: eggs, loads, tins, the oven."""

from northfold.core.formula.eggs import WEIGHED
from northfold.core.method.plan import Plan

# From this factor up, or down to its inverse, a scaled formula has traps worth naming. [ratio] Assumption.
TRAPS_FROM = 1.5


def scale_notes(plan: Plan) -> tuple[str, ...]:
    """Sentences on the traps of this factor, each with its number; none near the formula as it was saved."""
    factor = plan.factor
    if factor is None or plan.mixed_g is None or 1 / TRAPS_FROM < factor < TRAPS_FROM:
        return ()
    said = [f"This is {factor:.2f} × the formula as saved."]
    if plan.eggs is not None and plan.eggs.left:
        egg = plan.eggs.left[0]
        if plan.eggs.policy == WEIGHED and egg.left_g >= 1:
            said.append(f"Eggs: {egg.wanted:.2f} are wanted; beat {egg.taken} and weigh, {egg.left_g:.0f} g stay over.")
        elif plan.eggs.said:
            said.append(f"Eggs: {plan.eggs.said}.")
    if plan.loads and plan.loads[0].count > 1:
        load = plan.loads[0]
        said.append(f"Mixer: {load.count} equal loads of {load.each_g:.0f} g in {load.mixer.name}, not one large one.")
    said += plan.no_loads if not plan.loads else ()
    tins = sum(item.count for item in plan.inputs.items if item.tin.is_vessel)
    trays = sum(-(-item.count // item.tin.per_tray) for item in plan.inputs.items if item.tin.is_vessel)
    if factor >= TRAPS_FROM and tins > 1:
        said.append(
            f"Bake time does not scale: {tins} tins on {trays} tray{'s' if trays > 1 else ''} bake as one does, but a "
            "full oven recovers slower. More dough in fewer, taller tins bakes longer: size each tin instead."
        )
    elif factor <= 1 / TRAPS_FROM:
        said.append(
            "Half the dough does not bake in half the time: thickness counts, not weight. A lower tin bakes sooner."
        )
    return tuple(said)

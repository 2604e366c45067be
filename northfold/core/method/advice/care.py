"""What to mind of a dough as a whole: what not to taste, how cold to keep it."""

from northfold.core.method.plan import Plan
from northfold.core.method.reckon.contents import keeps_short_for
from northfold.core.method.route.cautions import caution_text
from northfold.core.method.route.routes import SCALDED_KIND

# Routes whose dough is worked warm: cold would only stiffen it.
WARM_ROUTES = ("pulled",)


def care(plan: Plan) -> tuple[str, ...]:
    """
    Sentences on raw flour, raw egg and the cold, as far as they apply.

    Parameters
    ----------
    plan : Plan
        Of a make, or of a dough alone.

    Returns
    -------
    tuple of str
        Raw egg only where the dough holds some; the cold only where something in it goes off, and never of a dough
        that is worked warm.
    """
    used = [line.ingredient for line in plan.inputs.lines if line.grams]
    raw_egg = any(item.role == "egg" and "cooked" not in item.name for item in used)
    said = [caution_text("raw_egg" if raw_egg else "raw")]
    what = keeps_short_for(plan.inputs.lines)
    kind = plan.route.kind if plan.route else ""
    if what and not kind.startswith(SCALDED_KIND) and kind not in WARM_ROUTES:
        hours = plan.inputs.setting.keeping.rich_h
        said.append(f"It holds {' and '.join(what)}: keep it at 5 °C or below, and use it within {hours:g} h.")
    return tuple(said)

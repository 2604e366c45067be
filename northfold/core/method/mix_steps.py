"""The first steps of every course: what is warmed or cooled beforehand, weighing, mixing, shaping."""

from northfold.core.heat.conduction import Body
from northfold.core.method.course import EDIT, TEMPERATURE
from northfold.core.method.edits import Edited
from northfold.core.method.shaping import USUAL_MM
from northfold.core.method.walk import Walk
from northfold.core.method.words import degrees


def before(walk: Walk) -> None:
    """What is brought to its temperature before anything is weighed."""
    if not walk.beforehand:
        return
    usual = max(each.minutes for each in walk.beforehand)
    typed = walk.edits.number("before", "minutes")
    walk.add(
        "before",
        {"what": " ".join(each.says for each in walk.beforehand)},
        wait_min=usual if typed is None else typed,
        reason=TEMPERATURE if typed is None else EDIT,
        edits=() if typed is None else (walk.edits.mark("before", "minutes", f"{typed:g}", f"{usual:g}"),),
    )


# Oil leaves no crumb to look at.
OILED = "Oil and liquid stirred together and into the flour, until no dry flour is left."


def weigh(walk: Walk) -> None:
    """Weights scale; the allergens are named where they are handled first."""
    walk.add("weigh", {"allergens": ", ".join(walk.allergens)})


def mix(walk: Walk) -> None:
    """Mixed in its manner, with the temperatures that come of it."""
    mixing, manner = walk.mixing, walk.manner
    liquid = ""
    if mixing.liquid_c is not None:
        ice = f" and {mixing.ice_g:.0f} g of its weight as ice" if mixing.ice_g else ""
        liquid = f" Liquid at {degrees(mixing.liquid_c)}{ice}."
    why = f"{manner.name.capitalize()}: crumb {degrees(mixing.crumb_c)}, dough {degrees(mixing.dough_c)}.{liquid}"
    walk.add(
        "mix",
        {"mix_why": why},
        look=_mix_look(walk),
        dough_c=mixing.dough_c,
        figure=degrees(mixing.dough_c if mixing.liquid_c is None else mixing.liquid_c),
        figure_says="dough" if mixing.liquid_c is None else "liquid",
    )
    if mixing.refusal:
        walk.remark("mix", mixing.refusal, 9)
    elif mixing.verdict not in ("good", "no crumb"):
        walk.remark("mix", mixing.remark, 4)


def _mix_look(walk: Walk) -> str:
    """What the mixing is done by: oil leaves no crumb, and a dough to be pulled is kneaded."""
    manner = walk.manner
    if manner.mixing.key == "kneaded":
        return manner.mixing.look
    return f"{OILED} {manner.stop.look}" if walk.blend is None or walk.blend.is_oil else manner.look


def shape_pulled(walk: Walk) -> None:
    """Rounded and oiled, to rest warm."""
    shape(walk, "shape.pulled")


def shape(walk: Walk, key: str = "shape") -> None:
    """Divided and shaped toward its outline, so that it chills sooner and rolls in fewer passes."""
    shaped, lot = walk.shaped, walk.lot
    usual = USUAL_MM.get(shaped.form, shaped.across_mm)
    marks: tuple[Edited, ...] = ()
    if walk.edits.find("shape", "thickness_mm"):
        marks = (walk.edits.mark("shape", "thickness_mm", f"{shaped.across_mm:g}", f"{usual:g}"),)
    grams = f"{shaped.grams:,.0f}"
    shown = {
        "discs": f"{lot.count * shaped.parts} {shaped.noun}{'s' if lot.count * shaped.parts > 1 else ''}"
        + (f", {shaped.parts} for each {'sheet' if lot.is_sheet else 'piece'}," if shaped.parts > 1 else ""),
        "lid": _lid(walk),
        "across": f"{shaped.across_mm:.0f} mm {shaped.across_name}",
        "disc_g": grams,
    }
    walk.add(key, shown, edits=marks, figure=f"{grams} g", figure_says="each")


def _lid(walk: Walk) -> str:
    """What the second part of a piece weighs, where each is rolled by itself."""
    parts = walk.lead.parts
    if len(parts) < 2 or walk.lot.is_sheet:
        return ""
    return f" And as many for the {parts[1].name}s, {parts[1].rolled_g:,.0f} g each."


def press(walk: Walk) -> None:
    """Pressed in as it is, without rest or pin: it goes into the tin at once."""
    lead, place = walk.lead, walk.setting.bench()
    minutes = walk.maker.hands_min("press") / max(1, sum(piece.item.count for piece in walk.pieces))
    walk.wait("press", minutes, place, Body(lead.item.thickness_mm))
    walk.add(
        "press",
        {"press_g": f"{lead.net_g:,.0f}", "press_mm": f"{lead.item.thickness_mm:g}"},
        **walk.at(place),
        dough_c=walk.dough.mean_c,
        figure=f"{lead.net_g:,.0f} g",
        figure_says=f"{lead.item.thickness_mm:g} mm thick",
    )

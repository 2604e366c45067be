"""The first steps of every course: weighing, mixing, shaping."""

from collections.abc import Sequence

from northfold.core.heat.conduction import Body
from northfold.core.method.choices.edits import Edited
from northfold.core.method.reckon.cold_form import DISC, USUAL_MM
from northfold.core.method.reckon.division import Lot
from northfold.core.method.reckon.mixing import SCALDED, TOGETHER
from northfold.core.method.route.step import TEMPERATURE, waiting
from northfold.core.method.route.work import Walk
from northfold.core.method.words import degrees

# Oil leaves no crumb to look at.
OILED = "Oil and liquid stirred together and into the flour, until no dry flour is left."


def weigh(walk: Walk) -> None:
    """Weights scale; the allergens are named where they are handled first."""
    walk.add("weigh", {"allergens": ", ".join(walk.allergens)})


# The least that it takes, and what a litre does on a usual ring. [min] Assumption.
BOIL_MIN = (2.0, 5.0)
# What is done once fat and liquid boil.
SCALDING = "Poured on the flour at once, stirred until no dry flour is left, then kneaded smooth while it is warm."


def boil(walk: Walk) -> None:
    """Fat and liquid brought to the boil together."""
    wanted = [line for line in walk.lines if line.ingredient.role in ("fat", "liquid")]
    factor = sum(piece.need_g for piece in walk.pieces) / walk.ratio.total_g
    grams = sum(line.grams for line in wanted) * factor
    walk.add(
        "boil",
        {"boil_g": f"{grams:,.0f} g"},
        **waiting(walk.edits, "boil", max(BOIL_MIN[0], round(BOIL_MIN[1] * grams / 1000)), TEMPERATURE),
        figure="100 °C",
        figure_says="fat and liquid",
    )


def shape_warm(walk: Walk) -> None:
    """Divided while it is warm, and covered."""
    shape(walk, "shape.warm")


def mix(walk: Walk) -> None:
    """Mixed in its manner, with the temperatures that come of it."""
    mixing, manner = walk.mixing, walk.manner
    liquid = ""
    if mixing.liquid_c is not None:
        ice = f" and {mixing.ice_g:.0f} g of its weight as ice" if mixing.ice_g else ""
        liquid = f" Liquid at {degrees(mixing.liquid_c)}{ice}."
    why = f"{manner.name.capitalize()}: crumb {degrees(mixing.crumb_c)}, dough {degrees(mixing.dough_c)}.{liquid}"
    if mixing.way == TOGETHER:
        why = f"{mixing.remark}{liquid}"
    if mixing.way == SCALDED:
        why = f"{mixing.remark} The scalded starch holds it together; gluten does little here."
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
    if walk.mixing.way == SCALDED:
        return SCALDING
    if manner.mixing.key == "kneaded" or manner.mixing.blocks:
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
    shown = {
        "discs": _divided(walk),
        "taken_up": " Each further one takes up the offcuts of the one before."
        if any(each.takes_up_offcuts for each in walk.lots)
        else "",
        "across": f"{shaped.across_mm:.0f} mm {shaped.across_name}",
    }
    says = f"each{for_what(walk, [lot])}"
    walk.add(key, shown, edits=marks, figure=f"{lot.first_g / shaped.parts:,.0f} g", figure_says=says)


def _divided(walk: Walk) -> str:
    """How many lumps of which weight, for what."""
    shaped = walk.shaped
    alike: dict[tuple[str, int], list[tuple[int, Lot]]] = {}
    for lot in walk.lots:
        noun = ("brick" if lot.is_brick else "disc") if shaped.form == DISC else shaped.form
        for count, grams in lot.divided:
            alike.setdefault((noun, round(grams / shaped.parts)), []).append((count * shaped.parts, lot))
    said = []
    for (noun, grams), found in alike.items():
        many = sum(count for count, _ in found)
        said.append(f"{many} {noun}{'s' if many > 1 else ''} of {grams:,} g{for_what(walk, [lot for _, lot in found])}")
    each = "sheet" if walk.lot.is_sheet else "piece"
    return "; ".join(said) + (f", {shaped.parts} for each {each}" if shaped.parts > 1 else "")


def for_what(walk: Walk, lots: Sequence[Lot]) -> str:
    """What lots become, where there are several kinds: bases, lids, sheets; of which tin, where there are several."""
    if len({(lot.piece.item.tin.key, lot.noun) for lot in walk.lots}) == 1:
        return ""
    found = []
    for lot in lots:
        what = lot.noun if lot.count == 1 else f"{lot.noun}s"
        found.append(f"{lot.piece.item.tin.name} {what}" if len(walk.pieces) > 1 else what)
    return f" for {' and '.join(dict.fromkeys(found))}"


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

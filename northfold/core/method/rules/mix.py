"""The first steps of every route: weighing, mixing, shaping."""

from collections.abc import Sequence

from northfold.core.heat.conduction import Body
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Edited
from northfold.core.method.reckon.cold_form import DISC, USUAL_MM
from northfold.core.method.reckon.division import Lot
from northfold.core.method.reckon.mixing import SCALDED, TOGETHER
from northfold.core.method.route.step import TEMPERATURE, Told, waiting
from northfold.core.method.route.work import Work
from northfold.core.method.words import degrees

# Oil leaves no crumb to look at.
OILED = "Oil and liquid stirred together and into the flour, until no dry flour is left."


def weigh(work: Work) -> None:
    """Weights scale; the allergens are named where they are handled first. Dough at hand is taken out instead."""
    if work.job.at_hand:
        grams = sum(piece.need_g for piece in work.job.pieces)
        told = Told(figure=f"{grams:,.0f} g", says="dough")
        cold = work.job.setting.cold_place()
        work.add(step_keys.TAKE_DOUGH, {"dough_g": f"{grams:,.0f} g"}, at=work.at(cold), told=told)
        return
    work.add(step_keys.WEIGH, {"allergens": ", ".join(work.job.allergens)})


# The least that it takes, and what a litre does on a usual ring. [min] Assumption.
BOIL_MIN = (2.0, 5.0)
# What is done once fat and liquid boil.
SCALDING = "Poured on the flour at once, stirred until no dry flour is left, then kneaded smooth while it is warm."


def boil(work: Work) -> None:
    """Fat and liquid brought to the boil together."""
    if work.job.at_hand:
        return
    wanted = [line for line in work.job.lines if line.ingredient.role in ("fat", "liquid")]
    factor = sum(piece.need_g for piece in work.job.pieces) / work.job.ratio.total_g
    grams = sum(line.grams for line in wanted) * factor
    work.add(
        step_keys.BOIL,
        {"boil_g": f"{grams:,.0f} g"},
        wait=waiting(work.job.edits, step_keys.BOIL, max(BOIL_MIN[0], round(BOIL_MIN[1] * grams / 1000)), TEMPERATURE),
        told=Told(figure="100 °C", says="fat and liquid"),
    )


def shape_warm(work: Work) -> None:
    """Divided while it is warm, and covered."""
    shape(work, step_keys.SHAPE_WARM)


def mix(work: Work) -> None:
    """Mixed in its manner, with the temperatures that come of it; what is at hand is mixed already."""
    if work.job.at_hand:
        return
    mixing, manner = work.job.mixing, work.job.manner
    liquid = ""
    if mixing.liquid_c is not None:
        ice = f" and {mixing.ice_g:.0f} g of its weight as ice" if mixing.ice_g else ""
        liquid = f" Liquid at {degrees(mixing.liquid_c)}{ice}."
    why = f"{manner.name.capitalize()}: crumb {degrees(mixing.crumb_c)}, dough {degrees(mixing.dough_c)}.{liquid}"
    if mixing.way == TOGETHER:
        why = f"{mixing.remark}{liquid}"
    if mixing.way == SCALDED:
        why = f"{mixing.remark} The scalded starch holds it together; gluten does little here."
    work.add(
        step_keys.MIX,
        {"mix_why": why},
        dough_c=mixing.dough_c,
        told=Told(
            figure=degrees(mixing.dough_c if mixing.liquid_c is None else mixing.liquid_c),
            says="dough" if mixing.liquid_c is None else "liquid",
            look=_mix_look(work),
        ),
    )
    if mixing.refusal:
        work.remark(step_keys.MIX, mixing.refusal, 9)
    elif mixing.verdict not in ("good", "no crumb"):
        work.remark(step_keys.MIX, mixing.remark, 4)


def _mix_look(work: Work) -> str:
    """What the mixing is done by: oil leaves no crumb, and a dough to be pulled is kneaded."""
    manner = work.job.manner
    if work.job.mixing.way == SCALDED:
        return SCALDING
    if manner.mixing.key == "kneaded" or manner.mixing.blocks:
        return manner.mixing.look
    return f"{OILED} {manner.stop.look}" if work.job.blend is None or work.job.blend.is_oil else manner.look


def shape_pulled(work: Work) -> None:
    """Rounded and oiled, to rest warm."""
    shape(work, step_keys.SHAPE_PULLED)


def shape(work: Work, key: str = step_keys.SHAPE) -> None:
    """Divided and shaped toward its outline, so that it chills sooner and rolls in fewer passes."""
    shaped, lot = work.job.shaped, work.job.lot
    usual = USUAL_MM.get(shaped.form, shaped.across_mm)
    marks: tuple[Edited, ...] = ()
    if work.job.edits.find(step_keys.SHAPE, "thickness_mm"):
        marks = (work.job.edits.mark(step_keys.SHAPE, "thickness_mm", f"{shaped.across_mm:g}", f"{usual:g}"),)
    shown = {
        "discs": _divided(work),
        "taken_up": " Each further one takes up the offcuts of the one before."
        if any(each.takes_up_offcuts for each in work.job.lots)
        else "",
        "across": f"{shaped.across_mm:.0f} mm {shaped.across_name}",
    }
    says = f"each{for_what(work, [lot])}"
    work.add(key, shown, told=Told(figure=f"{lot.first_g / shaped.parts:,.0f} g", says=says, edits=marks))


def _divided(work: Work) -> str:
    """How many lumps of which weight, for what."""
    shaped = work.job.shaped
    alike: dict[tuple[str, int], list[tuple[int, Lot]]] = {}
    for lot in work.job.lots:
        noun = ("brick" if lot.is_brick else "disc") if shaped.form == DISC else shaped.form
        for count, grams in lot.divided:
            alike.setdefault((noun, round(grams / shaped.parts)), []).append((count * shaped.parts, lot))
    said = []
    for (noun, grams), found in alike.items():
        many = sum(count for count, _ in found)
        said.append(f"{many} {noun}{'s' if many > 1 else ''} of {grams:,} g{for_what(work, [lot for _, lot in found])}")
    aside_g = sum(piece.decorated.extra_g for piece in work.job.pieces)
    if round(aside_g):
        said.append(f"{aside_g:,.0f} g set aside for leaves and stars")
    each = "sheet" if work.job.lot.is_sheet else "piece"
    return "; ".join(said) + (f", {shaped.parts} for each {each}" if shaped.parts > 1 else "")


def for_what(work: Work, lots: Sequence[Lot]) -> str:
    """What lots become, where there are several kinds: bases, lids, sheets; of which tin, where there are several."""
    if len({(lot.piece.item.tin.key, lot.noun) for lot in work.job.lots}) == 1:
        return ""
    found = []
    for lot in lots:
        what = lot.noun if lot.count == 1 else f"{lot.noun}s"
        found.append(f"{lot.piece.item.tin.name} {what}" if len(work.job.pieces) > 1 else what)
    return f" for {' and '.join(dict.fromkeys(found))}"


def press(work: Work) -> None:
    """Pressed in as it is, without rest or pin: it goes into the tin at once."""
    lead, place = work.job.lead, work.job.setting.bench()
    minutes = work.maker.hands_min(step_keys.PRESS) / max(1, sum(piece.item.count for piece in work.job.pieces))
    work.wait(step_keys.PRESS, minutes, place, Body(lead.item.thickness_mm))
    work.add(
        step_keys.PRESS,
        {"press_g": f"{lead.net_g:,.0f}", "press_mm": f"{lead.item.thickness_mm:g}"},
        at=work.at(place),
        dough_c=work.dough.mean_c,
        told=Told(figure=f"{lead.net_g:,.0f} g", says=f"{lead.item.thickness_mm:g} mm thick"),
    )

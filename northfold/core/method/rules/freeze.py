"""Frozen ahead: pieces made, frozen hard and baked another day, straight from the freezer or thawed first."""

from northfold.core.bake.layers import equivalent_depth_mm, rolled_across_mm
from northfold.core.heat.conduction import CYLINDER, FIRM_C, Body, long_stay, minutes_to
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.halves import takes_pieces
from northfold.core.method.route.step import TEMPERATURE, Ask, Told, Wait
from northfold.core.method.route.work import LONGEST_MIN, Work
from northfold.core.method.words import degrees, duration

NOT, STRAIGHT, THAWED = "none", "straight", "thawed"
# Thawed it is ready for the oven with its mean here: no ice is left. [°C] North Fold reference table.
THAWED_C = 1.0
# Tins that a sudden heat can break.
BREAKS = ("glass", "ceramic")
# Less of its water than this as ice, and a knife still goes through it. [share] Assumption.
HARD_ICE = 0.6


def _body(work: Work) -> Body:
    """The piece as the freezer finds it: a roll as such, a lidded one with what fills it as an endless layer. [mm]"""
    if work.job.baked.kind.shape == "rolled":
        return Body(rolled_across_mm(work.job.lead, work.dough.heat.density_kg_m3), CYLINDER)
    item, tin = work.job.lead.item, work.job.lead.item.tin
    filled = any(step.key.startswith(step_keys.FILL_) for step in work.log.steps)
    if not filled or not tin.is_vessel:
        return work.chilled_body
    deep = equivalent_depth_mm(tin.walls_mm, min(top for top, _ in tin.axes()))
    return Body(min(200.0, deep + 2 * item.thickness_mm))


def freeze(work: Work) -> None:
    """Into the freezer until hard through, where it is made ahead. [min]"""
    job, dough = work.job, work.dough
    if job.chosen[step_keys.FREEZE] == NOT:
        return
    freezer = job.setting.freezer()
    if freezer is None:
        work.remark(step_keys.FREEZE, "To freeze ahead takes a freezer: add one under Kitchen, Places.", 6)
        return
    place, place_mark = work.place_of(step_keys.FREEZE, freezer)
    body = _body(work)
    long = long_stay(dough.heat, body, dough.starts_from(body), place.stay(LONGEST_MIN, job.room_c))
    ask = Ask(TEMPERATURE, long.firm_min, f"frozen firm, {degrees(FIRM_C)} through")
    if long.firm_min is None:
        work.remark(step_keys.FREEZE, f"In {place.name} it is not hard through within {duration(LONGEST_MIN)}.", 6)
    minutes, reason, mark = work.set_minutes(step_keys.FREEZE, [ask, Ask(TEMPERATURE, 0.0, "")])
    trace, _ = work.wait(step_keys.FREEZE, minutes, place, body)
    dough.frozen_firm = long.firm_min is not None and minutes >= long.firm_min - 0.5
    ice = dough.heat.ice(place.temperature_c(job.room_c))
    if ice < HARD_ICE:
        held = f"its sugar and salt hold water back, only {100 * ice:.0f} % of it is ice"
        work.remark(step_keys.FREEZE, f"It never gets quite hard: {held}. Lift it on its tray.", 3)
    if job.chosen[step_keys.FREEZE] == STRAIGHT and job.lead.item.tin.material in BREAKS:
        said = "Glass or ceramic from the freezer can crack in a hot oven: thaw it first, or use a steel tin."
        work.remark(step_keys.TAKE_OUT if takes_pieces(job.half) else step_keys.FREEZE, said, 8)
    then = "then straight into the oven" if job.chosen[step_keys.FREEZE] == STRAIGHT else "then thaw it in the fridge"
    figures = {
        "keeps_weeks": f"{job.setting.keeping.frozen_weeks:g}",
        "frozen_c": degrees(trace.mean_c[-1]),
        "freeze_then": then,
    }
    waits = Wait(minutes, reason, (ask,), place_mark + mark)
    work.add(step_keys.FREEZE, figures, wait=waits, at=work.at(place), dough_c=dough.mean_c)
    # It lies there for days: it comes out as cold as the freezer.
    dough.mean_c = place.temperature_c(job.room_c)
    dough.body, dough.profile_c = None, ()


def take_out(work: Work) -> None:
    """Out of the freezer, where the pieces were made another day."""
    job = work.job
    freezer = job.setting.freezer()
    if not takes_pieces(job.half) or freezer is None:
        return
    count = sum(piece.item.count for piece in job.pieces)
    straight = job.chosen[step_keys.FREEZE] == STRAIGHT
    figures = {
        "pieces": f"{count} piece" if count == 1 else f"{count} pieces",
        "freezer": freezer.name,
        "then": "Onto cold trays, and on at once: they must not sweat." if straight else "Onto trays, covered.",
    }
    told = Told(figure=f"{count}", says="pieces")
    work.add(step_keys.TAKE_OUT, figures, at=work.at(freezer), told=told, dough_c=work.dough.mean_c)


def thaw(work: Work) -> None:
    """In the fridge until no ice is left, where it is not baked from the freezer. [min]"""
    job, dough = work.job, work.dough
    if job.chosen[step_keys.FREEZE] != THAWED or not work.log.has(step_keys.FREEZE):
        return
    place, place_mark = work.place_of(step_keys.THAW, job.setting.cold_place())
    body = _body(work)
    reached = minutes_to(dough.heat, body, dough.starts_from(body), place.stay(LONGEST_MIN, job.room_c), THAWED_C)
    ask = Ask(TEMPERATURE, reached, f"thawed through, {degrees(THAWED_C)} on average")
    if reached is None:
        work.remark(step_keys.THAW, f"In {place.name} it does not thaw within {duration(LONGEST_MIN)}.", 6)
    minutes, reason, mark = work.set_minutes(step_keys.THAW, [ask, Ask(TEMPERATURE, 0.0, "")])
    work.wait(step_keys.THAW, minutes, place, body)
    dough.frozen_firm = False
    waits = Wait(minutes, reason, (ask,), place_mark + mark)
    figures = {"thawed_c": degrees(dough.mean_c), "thawed_h": f"{job.setting.keeping.thawed_h:g}"}
    work.add(step_keys.THAW, figures, wait=waits, at=work.at(place), dough_c=dough.mean_c)

"""In the oven and after: weights in and out, the stages of the bake, the seal, cooling, trimming."""

from collections.abc import Mapping
from dataclasses import replace

from northfold.core.bake.cooling import cool_enough_c
from northfold.core.bake.kinds import PART, WEIGHTS_OUT, bake_kinds, stage_actions
from northfold.core.heat.bake import colour_said
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.step_kinds import step_kinds
from northfold.core.method.reckon.baking import Bake, BakeStage, Doing
from northfold.core.method.route.step import (
    AS_WRITTEN,
    EDIT,
    OVEN,
    TEMPERATURE,
    At,
    Reminder,
    Step,
    Told,
    Wait,
    waiting,
)
from northfold.core.method.route.work import Work
from northfold.core.method.words import degrees, duration, whole_minutes
from northfold.core.shape.blanks import AFTER

PALER = "Bake until the base is dry but still pale: it goes back in."
# How long egg on a hot base takes to dry, back in the oven. [min] Assumption.
SEAL_MIN = 2.0


def bake(work: Work) -> None:
    """The stages of the bake, each a step. [min]"""
    work.into_the_oven()
    for number in range(len(work.bake.stages)):
        work.log.steps.append(stage_step(work, work.bake, number))
    _warm_filling(work)
    for finding in work.bake.findings:
        work.remark(work.bake.stages[-1].key, finding.says, finding.weight)
    if work.bake.loads > 1:
        _other_loads(work)


def _warm_filling(work: Work) -> None:
    """A filling so warm that it melts the fat of a raw dough before the oven sets it."""
    filled = next((step.key for step in work.log.steps if step.key.startswith(step_keys.FILL_)), "")
    greasy_c = work.job.blend.greasy_from_c if work.job.blend else None
    if filled and greasy_c is not None and not work.job.has_oil and work.job.filling_c > greasy_c:
        warm = degrees(work.job.filling_c)
        work.remark(
            filled, f"Filling at {warm} melts the fat before the oven sets it: cool it to {greasy_c:.0f} °C.", 8
        )


def _other_loads(work: Work) -> None:
    """What does not go into the oven at once: it waits in the cold for its load, baked like the first. [min]"""
    bake, count = work.bake, work.job.lead.item.count
    more, cold = bake.loads - 1, work.job.setting.cold_place()
    each = " + ".join(duration(stage.minutes) for stage in bake.stages)
    many = f"{more} more load{'s' if more > 1 else ''}"
    figures = {
        "loads_look": f"{many}, {bake.per_load} pieces at most, {each} each. The next waits in {cold.name} till then.",
        "loads_why": f"{bake.oven.name} holds {bake.oven.trays} trays, {bake.per_load} of {count}.",
    }
    minutes = more * bake.load_min
    work.add(
        step_keys.BAKE_AGAIN,
        figures,
        hands_min=float(more),
        wait=Wait(minutes - more, OVEN),
        at=At(bake.oven.name, bake.oven.key, bake.stages[0].oven_c),
        told=Told(figure=f"{many}", says=f"of {bake.per_load}"),
    )


def turn_tray(work: Work) -> None:
    """
    Half-way through the longest stage of the bake the tray is turned round.

    Puff and raised pieces fall where the door opens before they are set, so that theirs waits for two thirds. Once they
    are out nobody turns anything: the step lapses.
    """
    if work.bake.turn is not None:
        in_the_midst(work, work.bake, work.bake.turn)


def cover_rim(work: Work) -> None:
    """Foil over a rim that would come out too dark, at the minute that it is brown enough."""
    for bake in work.bake.in_order:
        if bake.cover is not None:
            in_the_midst(work, bake, bake.cover)
            return


def in_the_midst(
    work: Work, bake: Bake, doing: Doing, figures: Mapping[str, str] | None = None, told: Told = AS_WRITTEN
) -> None:
    """Something done while the piece bakes; where nobody waits for the stage after it, it has no end to go by."""
    stage = bake.stage_at(doing.minute)
    keys = [step.key for step in work.log.steps]
    if keys[-1] == stage.key:
        return
    place = keys.index(stage.key)
    left = work.log.steps[place].minutes - (doing.minute - bake.begins_min(stage))
    hands = work.maker.hands_min(doing.key)
    made = work.maker.make(doing.key, figures, told=told)
    work.add_beside(made, until=keys[place + 1], ahead_min=max(0.1, left - hands))


def cool(work: Work, key: str) -> None:
    """The cooling, until a hand can hold it or a knife can cut it. [min, °C]"""
    if key == step_keys.COOL_SECOND and work.bake.second is None:
        return
    room_c, bake = work.job.room_c, work.bake.second if key == step_keys.COOL_SECOND and work.bake.second else work.bake
    cools = bake.cools
    to_c = cools.to_c if cools else cool_enough_c(room_c)
    goes_back, out = bake is work.bake and bake.until == PART, ""
    if cools is not None and work.job.lead.item.tin.is_vessel and not goes_back:
        out = f" Out of its tin after {duration(whole_minutes(cools.out_min))}, once it is firm."
    cold = work.job.setting.cold_place()
    rack_min = cools.rack_min if cools else 0.0
    work.add(
        key,
        {
            "cool_to": f"{to_c:.0f}",
            "unmould": out,
            "rack": f" {duration(whole_minutes(rack_min))}, then in {cold.name}" if rack_min else "",
        },
        wait=waiting(work.job.edits, key, bake.cool_min, TEMPERATURE),
        at=At(f"Rack, then {cold.name}" if rack_min else "Rack", "", room_c),
    )


# What another stage is called, by whether the oven is lower, the same or higher.
NAMES = ("Lower the oven", "Bake on", "Raise the oven")
OFF_NAME, OFF_LOOK = "Oven off", "Turn the oven off and leave it in, the door shut."
# What a stage that is not the last is done by, where it is no blind one.
SETS = "Bake until the crust is set and starts to colour."


def stage_step(work: Work, bake: Bake, number: int) -> Step:
    """The step of a stage of a bake. [min, °C]"""
    stage, edits = bake.stages[number], work.job.edits
    before = bake.stages[number - 1] if number else None
    last = number == len(bake.stages) - 1
    edit = edits.find(stage.key, "minutes")
    marks = (edits.mark(stage.key, "minutes", f"{stage.minutes:g}", f"{stage.usual_min:g}"),) if edit else ()
    reminders = []
    if stage.look_at_min < stage.minutes:
        reminders.append(Reminder(stage.look_at_min, f"Look now: {bake.oven.name} is small, so it browns early."))
    until_core = _core_c(bake) if last else None
    figures = {
        **work.job.figures,
        "bake_first": _first(work, bake, number),
        "bake_look": _look(bake, last),
        "bake_why": _why(bake, stage),
    }
    if until_core is not None:
        core = f"Bake until the centre reaches {until_core:.0f} °C, probed in the middle of the thickest piece."
        figures["bake_look"] = core if stage.key == step_keys.BAKE_MAIN else f"{core} {figures['bake_look']}"
    if stage.is_off:
        figures["bake_look"] = OFF_LOOK
    made = work.maker.make(
        stage.key,
        figures,
        like="" if stage.key in step_kinds() else step_keys.BAKE_LOW,
        wait=Wait(stage.minutes, EDIT if edit else OVEN, edits=marks),
        at=At(bake.oven.name, bake.oven.key, stage.oven_c),
        told=Told(reminders=tuple(reminders), probe_to_c=until_core),
    )
    if before is None or stage.key in (step_keys.BAKE_OFF, step_keys.BAKE_BASE):
        return made
    way = (stage.oven_c > before.oven_c) - (stage.oven_c < before.oven_c) + 1
    return replace(made, name=OFF_NAME if stage.is_off else NAMES[way])


def _core_c(bake: Bake) -> float | None:
    """What the middle is probed for, safe and set; None where nothing has to be hot through. [°C]"""
    if bake.core_c is None or bake.asked is None or bake.asked.inside is None:
        return bake.core_c
    return max(bake.core_c, bake.asked.inside.centre_c)


def _first(work: Work, bake: Bake, number: int) -> str:
    """What is done as a stage begins: what the one before it ends with, and the oven set."""
    if not number:
        return ""
    before, stage = bake.stages[number - 1], bake.stages[number]
    said = []
    if before.then and (before.then != WEIGHTS_OUT or stage.key == step_keys.BAKE_BASE):
        said.append(stage_actions()[before.then].says.format(glaze=work.job.finishes.glaze.words))
    if stage.oven_c != before.oven_c and not stage.is_off:
        said.append(f"Set the oven to {stage.oven_c:.0f} °C.")
    return " ".join(said) + " " if said else ""


def _look(bake: Bake, last: bool) -> str:
    """How one sees that a stage is done."""
    if bake.until == PART:
        return PALER
    if bake.kept_at == step_keys.BAKE_FILLED and bake.asked is not None and bake.asked.inside is not None:
        return bake.asked.inside.look
    blind = bake.stages[0].key not in (step_keys.BAKE_MAIN, step_keys.BAKE_FILLED)
    return bake_kinds()[bake.kind].look.format(top=colour_said(bake.top)) if last or blind else SETS


def _why(bake: Bake, stage: BakeStage) -> str:
    """What a stage does, what comes last in it, and how long it may take."""
    if bake.kept_at == step_keys.BAKE_BASE:
        said = ""
    elif bake.until == PART:
        said = "A case that goes back in must come out paler."
    elif stage.key == step_keys.BAKE_FILLED:
        inside = bake.asked.inside if bake.asked else None
        said = inside.why if inside else ""
    elif stage.key == step_keys.BAKE_LOW:
        said = "The hot start sets the crust, the lower heat bakes base and filling."
    else:
        said = "Dry through, it stays crisp." if stage.key == bake.stages[-1].key else "A hot start sets the crust."
    if stage.set_by:
        said += f" Last to come: {stage.set_by}."
    if stage.low_min < stage.high_min:
        said += f" Usually {stage.low_min:.0f}–{stage.high_min:.0f} min: go by the look."
    return said.strip()


def seal(work: Work) -> None:
    """What goes back in with something wet is sealed while it is hot: a case, or a base baked first."""
    baked = work.base_bake or work.bake
    if baked.until != PART:
        return
    if _is_cold_weighted(work):
        said = "The weights stay in until it is cold, so seal the base then and dry it 5 min in the oven."
        work.remark(step_keys.WEIGHTS_OFF, said, 2)
    else:
        oven, waits = baked.oven, waiting(work.job.edits, step_keys.SEAL, SEAL_MIN, OVEN)
        work.add(
            step_keys.SEAL,
            {"seal_for": duration(waits.minutes)},
            wait=waits,
            at=At(oven.name, oven.key, baked.oven_c),
        )


def _is_cold_weighted(work: Work) -> bool:
    """Whether the weights stay in until it is cold."""
    return work.job.weighted and work.job.chosen["weights_off"] == "cold"


def weights_off(work: Work) -> None:
    """The weights out of the cold case, where they stay in so long."""
    if _is_cold_weighted(work):
        work.add(step_keys.WEIGHTS_OFF)


def trim(work: Work) -> None:
    """What hangs over cut off, where that is left until after the bake."""
    if any(piece.item.trimming == AFTER for piece in work.job.pieces):
        work.add(step_keys.TRIM)


def weights(work: Work) -> None:
    """Weights in, where the case is baked under them."""
    if work.job.weighted:
        grams = work.job.figures["pulses_g"]
        work.add(step_keys.WEIGHTS, work.job.figures, told=Told(figure=f"{grams} g", says="pulses a tin"))

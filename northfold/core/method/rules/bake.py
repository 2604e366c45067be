"""In the oven and after: weights in and out, the stages of the bake, the seal, cooling, trimming."""

from dataclasses import replace

from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Edited, EditReader
from northfold.core.method.reckon.baking import FULL, PART, Bake, BakeStage, bake_range_min, cool_enough_c
from northfold.core.method.route.step import EDIT, OVEN, TEMPERATURE, At, Reminder, Step, Told, Wait, waiting
from northfold.core.method.route.texts import StepMaker
from northfold.core.method.route.work import Work
from northfold.core.method.words import duration
from northfold.core.shape.blanks import AFTER

PALER = "Bake until the base is dry but still pale: it goes back in."
# How long egg on a hot base takes to dry, back in the oven. [min] Assumption.
SEAL_MIN = 2.0
# A bake shorter than this is not worth an open door. [min] Assumption.
TURN_FROM_MIN = 12.0
# By when what rises is set. [share of its bake] Assumption.
SET_SHARE = 2 / 3
# What each bake is done by.
LOOKS = {
    "double_crust": "Bake until the crust is set and starts to colour.",
    "hand_pie": "Bake until deep gold all over, the base dry and firm when you lift one.",
    "free_form": "Bake until deep gold, the base dry when you lift it, the filling bubbling.",
    "crackers": "Bake until gold at the edge and dry: break one, there is no dark line inside.",
    "sandies": "Bake until barely coloured at the edge. They are soft while hot and firm up as they cool.",
    "slab": "Bake until gold and the filling is set to a hand’s breadth from the middle.",
    "puff_shells": "Bake until risen straight, gold down to the bottom, light when you lift one: pale sides fall in.",
    "coils": "Bake until deep gold on every ridge and firm underneath; they sound dry when tapped.",
    "pulled_roll": "Bake until deep gold, the layers crackling and the ends dry.",
}


def bake(work: Work) -> None:
    """The stages of the bake, each a step. [min]"""
    for stage in work.job.bake.stages:
        work.log.steps.append(_stage(work.maker, work.job.bake, stage, work.job.edits))


def turn_tray(work: Work) -> None:
    """
    Half-way through the longest stage of the bake the tray is turned round.

    Puff and raised pieces fall where the door opens before they are set, so that theirs waits for two thirds. Once they
    are out nobody turns anything: the step lapses.
    """
    stage = max((step for step in work.log.steps if step.key.startswith(step_keys.BAKE_)), key=lambda s: s.wait_min)
    keys = [step.key for step in work.log.steps]
    if stage.wait_min < TURN_FROM_MIN or keys[-1] == stage.key:
        return
    into = round(stage.wait_min * (SET_SHARE if work.job.kind.is_laminated else 0.5))
    hands = work.maker.hands_min(step_keys.TRAY)
    work.add_beside(
        work.maker.make(step_keys.TRAY), until=keys[keys.index(stage.key) + 1], ahead_min=stage.minutes - into - hands
    )


def cool(work: Work, key: str) -> None:
    """The cooling, until a hand can hold it or a knife can cut it. [min, °C]"""
    room_c = work.job.room_c
    work.add(
        key,
        {"cool_to": f"{cool_enough_c(room_c):.0f}"},
        wait=waiting(work.job.edits, key, work.job.bake.cool_min, TEMPERATURE),
        at=At("Rack", "", room_c),
    )


def _stage(maker: StepMaker, bake: Bake, stage: BakeStage, edits: EditReader) -> Step:
    marks: tuple[Edited, ...] = ()
    edit = edits.find(stage.key, "minutes")
    if edit is not None:
        marks = (edits.mark(stage.key, "minutes", f"{stage.minutes:g}", f"{stage.usual_min:g}"),)
    reminders = []
    if stage.look_at_min < stage.minutes:
        reminders.append(Reminder(stage.look_at_min, f"Look now: {bake.oven.name} is small, so it browns early."))
    full = bake.until == FULL
    bare = stage.key == step_keys.BAKE_MAIN
    last = bake.stages[-1].key == stage.key
    figures = {
        "bake_look": LOOKS.get(bake.kind, "Bake until the base is dry and pale gold all over.")
        if full or bare
        else PALER,
        "bake_why": "Dry through, it stays crisp." if full or bare else "A case that goes back in must come out paler.",
    }
    if edit is None:
        low, high = bake_range_min(stage.minutes)
        figures["bake_why"] += f" Usually {low}–{high} min: go by the look."
    until_core = bake.core_c if last else None
    if until_core is not None:
        figures["bake_look"] = (
            f"Bake until the centre reaches {until_core:.0f} °C, probed in the middle of the thickest piece."
        )
    made = maker.make(
        stage.key,
        figures,
        wait=Wait(stage.minutes, EDIT if edit else OVEN, edits=marks),
        at=At(bake.oven.name, bake.oven.key, stage.oven_c),
        told=Told(reminders=tuple(reminders), probe_to_c=until_core),
    )
    # The second, lower stage tells its sign in its table: the core's heat comes before it.
    core_first = until_core is not None and str(figures["bake_look"]) not in made.look
    return replace(made, look=f"{figures['bake_look']} {made.look}") if core_first else made


def seal(work: Work) -> None:
    """A case that goes back in with something wet is sealed while it is hot."""
    if work.job.bake.until != PART:
        return
    if _is_cold_weighted(work):
        said = "The weights stay in until it is cold, so seal the base then and dry it 5 min in the oven."
        work.remark(step_keys.WEIGHTS_OFF, said, 2)
    else:
        oven, waits = work.job.bake.oven, waiting(work.job.edits, step_keys.SEAL, SEAL_MIN, OVEN)
        work.add(
            step_keys.SEAL,
            {"seal_for": duration(waits.minutes)},
            wait=waits,
            at=At(oven.name, oven.key, work.job.bake.oven_c),
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

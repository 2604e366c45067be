"""The steps from the oven on: bake, cool, trim; and when the oven goes on."""

from dataclasses import replace

from northfold.core.method.choices.edits import Edited, EditReader
from northfold.core.method.reckon.baking import FULL, Bake, BakeStage, bake_range_min, cool_enough_c
from northfold.core.method.route.step import EDIT, OVEN, TEMPERATURE, Reminder, Step, waiting
from northfold.core.method.route.texts import StepMaker

PALER = "Bake until the base is dry but still pale: it goes back in."
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


def bake_steps(maker: StepMaker, bake: Bake, edits: EditReader) -> list[Step]:
    """The stages of a bake as steps; `edits` of "bake.on", "bake.off", "bake.main" and "bake.low": minutes. [min]"""
    return [_stage(maker, bake, stage, edits) for stage in bake.stages]


def cool_step(maker: StepMaker, key: str, bake: Bake, room_c: float, edits: EditReader) -> Step:
    """The cooling, until a hand can hold it or a knife can cut it; `edits` of its key: minutes. [min, °C]"""
    return maker.make(
        key,
        {"cool_to": f"{cool_enough_c(room_c):.0f}"},
        **waiting(edits, key, bake.cool_min, TEMPERATURE),
        place="Rack",
        place_c=room_c,
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
    bare = stage.key == "bake.main"
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
        wait_min=stage.minutes,
        reason=EDIT if edit else OVEN,
        place=bake.oven.name,
        place_key=bake.oven.key,
        place_c=stage.oven_c,
        edits=marks,
        reminders=tuple(reminders),
        probe_to_c=until_core,
    )
    # The second, lower stage tells its sign in its table: the core's heat comes before it.
    core_first = until_core is not None and str(figures["bake_look"]) not in made.look
    return replace(made, look=f"{figures['bake_look']} {made.look}") if core_first else made

"""The waits of a route, each as long as pull, drinking, temperature or habit ask: rest, temper, chill."""

from dataclasses import replace

from northfold.core.fold.lamination import PACKAGE_MM
from northfold.core.gluten.pull import FOLD_PULL, rolling_pull
from northfold.core.heat.conduction import Body, Trace, long_stay, minutes_to
from northfold.core.heat.freezing import firm_after_min
from northfold.core.heat.places import Place
from northfold.core.matter.fillings import is_juicy
from northfold.core.method.choices import step_keys
from northfold.core.method.route.step import HABIT, PULL, TEMPERATURE, Ask, Told, Wait
from northfold.core.method.route.work import HAND_WARM_C, LONGEST_MIN, STIFF_C, Work
from northfold.core.method.rules import wait_reasons
from northfold.core.method.words import degrees, duration, span
from northfold.core.shape.blanks import filling_of
from northfold.core.shape.outlines import outline_area_mm2

# The kitchen's habit after lining, and for a warm rest. [min] North Fold reference table; the warm one an assumption.
CHILL_HABIT_MIN, WARM_HABIT_MIN = 30.0, 45.0
# A folded sheet before it is cut. [min] Assumption.
SHEET_HABIT_MIN = 15.0
# Where no minutes can be said it is looked at whether it bends. [min] Assumption.
BENDS_MIN = 1.0


# An oil dough is neither firm nor chilled: what is told of its rest instead.
OILED_HABIT_MIN = 10.0
OILED_REST = Told(
    name="Rest",
    look="Cover it until it hardly springs back when you press it.",
    wrong="If it springs back, give it 15 min more. If its skin is dry, oil it and cover it closely.",
)


def rest(work: Work) -> None:
    """The first rest, in the cold; none where the school lines at once."""
    if work.job.first_rest.key == "none":
        return
    dough = work.dough
    usual = work.job.setting.bench() if work.job.has_oil else work.job.setting.cold_place()
    place, place_mark = work.place_of(step_keys.REST, usual)
    stay = place.stay(LONGEST_MIN, work.job.room_c)
    start_c = dough.mean_c
    long = long_stay(work.dough.heat, work.resting_body, dough.starts_from(work.resting_body), stay)
    thinnest = min(piece.item.thickness_mm for piece in work.job.pieces)
    adds = work.job.gluten * rolling_pull(work.job.shaped.across_mm, work.job.half_mm if work.job.in_turn else thinnest)
    if work.job.folding is not None:
        adds = work.job.gluten * (rolling_pull(PACKAGE_MM, work.job.folding.lamination.inputs.turn_mm) + FOLD_PULL)
    wanted = [
        _pull_ask(work, adds, long),
        wait_reasons.drinking(dough.drink_min, dough.drunk, long),
        wait_reasons.cool_to_roll(work.job.blend, long),
        Ask(HABIT, work.job.first_rest.minutes, f"the kitchen rests {work.job.first_rest.name}"),
    ]
    if wanted[2].minutes is None:
        work.remark(step_keys.REST, f"In {place.name} it never gets cold enough to roll: {wanted[2].words}.", 5)
    minutes, reason, mark = work.set_minutes(step_keys.REST, wanted)
    trace, pull = work.wait(step_keys.REST, minutes, place, work.resting_body)
    end_c = dough.mean_c
    warn_freezer(work, step_keys.REST, trace, place)
    work.add(
        step_keys.REST,
        {
            "end_c": degrees(end_c),
            "rest_why": f"{rested_or_chilled(work, start_c, end_c)} Pull {pull[0]:.0f} to {pull[-1]:.0f}."
            if work.job.gluten
            else rested_or_chilled(work, start_c, end_c),
            **keeping_figures(work),
        },
        wait=Wait(minutes, reason, tuple(wanted), place_mark + mark),
        at=work.at(place),
        dough_c=end_c,
        told=OILED_REST if work.job.has_oil else Told(name="Chill flat" if work.job.rolls_first else ""),
    )


def _pull_ask(work: Work, adds: float, trace: Trace) -> Ask:
    """What the pull asks before the pin; nothing where the sheet is rolled already."""
    if not work.job.gluten:
        return wait_reasons.NO_GLUTEN
    if work.job.rolls_first:
        return Ask(PULL, 0.0, "rolled already")
    return wait_reasons.pull_before_rolling(work.dough.pull, adds, trace)


def keeping_figures(work: Work) -> dict[str, str]:
    """The kitchen's keeping times, for the cautions. [h]"""
    keeping = work.job.setting.keeping
    return {"rich_h": f"{keeping.rich_h:g}", "lean_h": f"{keeping.lean_h:g}"}


def rested_or_chilled(work: Work, start_c: float, end_c: float) -> str:
    """Which of the two a wait has done, by where it began and ended. [°C]"""
    if work.job.blend is None or work.job.blend.roll_c is None:
        return "It rests."
    low, high = work.job.blend.roll_c
    change = f"{degrees(start_c)} to {degrees(end_c)}"
    if end_c > high:
        return f"It rests but does not get cold: {change}, and {work.job.fat_name} rolls at {span(low, high)}."
    if end_c > (low + high) / 2 + 0.25:
        return f"It rests, and chills to the warm end: {change}, {work.job.fat_name} rolls at {span(low, high)}."
    return f"It rests and chills: {change}."


def warn_freezer(work: Work, key: str, trace: Trace, place: Place) -> None:
    """What is said of a dough in the freezer: frozen through, or its face brittle."""
    if trace.is_frozen:
        said = "At −2 °C it starts to freeze and stops resting. Thaw it in the fridge."
        work.remark(key, said, 5)
        return
    brittle = work.job.blend.brittle_below_c if work.job.blend else None
    if place.is_freezer and brittle is not None:
        passed = next((m for m, t in zip(trace.minutes, trace.surface_c, strict=True) if t < brittle), None)
        if passed is not None:
            said = (
                f"After {duration(max(1, passed))} its surface drops below {degrees(brittle)}: brittle, it would crack."
            )
            work.remark(key, said, 2)


def temper(work: Work) -> None:
    """On the bench until it rolls without cracking, where the rest left it too stiff for that."""
    dough = work.dough
    if (
        work.job.first_rest.key == "none"
        or work.job.blend is None
        or work.job.blend.roll_c is None
        or dough.mean_c >= work.job.blend.roll_c[0]
    ):
        return
    bend(work, step_keys.TEMPER, work.resting_body, work.job.blend.roll_c[0], "where it rolls")


def bend(work: Work, key: str, body: Body, low_c: float, where: str) -> None:
    """A wait on the bench until a dough bends without cracking, or its fat does. [°C]"""
    dough = work.dough
    place, place_mark = work.place_of(key, work.job.setting.bench())
    stay = place.stay(LONGEST_MIN, work.job.room_c)
    frozen = work.log.traced[-1].trace.is_frozen
    reached = minutes_to(work.dough.heat, body, dough.starts_from(body), stay, low_c)
    if reached is None:
        work.remark(key, f"On {place.name} it never warms to {degrees(low_c)}, {where}.", 5)
    ask = Ask(TEMPERATURE, 0.0 if reached is None or frozen else reached, f"up to {degrees(low_c)}, {where}")
    minutes, reason, mark = work.set_minutes(key, [ask])
    work.wait(key, minutes, place, body, name="Temper")
    work.add(
        key,
        {"end_c": degrees(dough.mean_c), "roll_low": f"{round(low_c * 2) / 2:g}"},
        like=step_keys.TEMPER,
        hands_min=0.0 if minutes else BENDS_MIN,
        wait=Wait(minutes, reason, (ask,), place_mark + mark),
        at=work.at(place),
        dough_c=dough.mean_c,
    )


# What a kilogram of filling, of dough takes to warm. [kJ/(kg K)] North Fold reference table.
FILLING_KJ, DOUGH_KJ = 3.6, 2.43
# Where nobody has said how much fills a piece: so much of the room under its heap. [share] Assumption.
LOOSE_SHARE = 0.5
# A raw base takes up loose juice by 60 g/m² a minute, up to 0.35 of its mass: a 3 mm sheet is full after so long. [min]
# North Fold reference table, a wet filling on a raw base.
JUICY_MIN = 20.0


def fill(work: Work, key: str) -> None:
    """Filled: what is closed around a cold filling is as cold as both together."""
    lead, dough = work.job.lead, work.dough
    work.add(key, work.job.figures)
    if not work.job.kind.filled_mm:
        return
    loose_g = (
        outline_area_mm2(lead.item.tin.of_kind.outline, lead.blank_mm) * work.job.kind.filled_mm / 1000 * LOOSE_SHARE
    )
    of_filling, of_dough = (filling_of(lead.item) or loose_g) * FILLING_KJ, lead.net_g * DOUGH_KJ
    dough.mean_c = (of_filling * work.job.filling_c + of_dough * dough.mean_c) / (of_filling + of_dough)
    dough.body, dough.profile_c = None, ()


def _is_juicy(work: Work) -> bool:
    """Whether raw fruit lies on the raw dough while it chills."""
    filled = any(step.key.startswith(step_keys.FILL_) for step in work.log.steps)
    return filled and any(is_juicy(piece.item.filling) for piece in work.job.pieces)


def chill(work: Work) -> None:
    """Firm for the oven: the lined tin, the cut pieces on their tray, the filled piece."""
    dough, body = work.dough, work.chilled_body
    if work.job.at_once and not work.job.edits.find(step_keys.CHILL, "minutes"):
        said = "Suet with a raising agent is rolled and baked at once: it starts to work as soon as it is wet."
        work.remark(step_keys.ROLL, f"{said} Oven hot before you mix.", 4)
        return
    frozen_firm = work.job.kind.blind and work.job.chosen["weights"] == "frozen"
    freezer = work.job.setting.freezer()
    usual = freezer if frozen_firm and freezer else work.job.setting.cold_place()
    if work.job.has_oil and not frozen_firm:
        usual = work.job.setting.bench()
    place, place_mark = work.place_of(step_keys.CHILL, usual)
    stay = place.stay(LONGEST_MIN, work.job.room_c)
    start_c, start_pull = dough.mean_c, dough.pull
    long = long_stay(work.dough.heat, body, dough.starts_from(body), stay)
    worth = wait_reasons.WORTH_PCT if work.job.folding is None else wait_reasons.LAMINATED_WORTH_PCT
    wanted = [
        wait_reasons.pull_before_oven(dough.pull, long, work.job.shrink_water, work.job.hold, worth_pct=worth)
        if work.job.gluten
        else wait_reasons.NO_GLUTEN,
        wait_reasons.drinking(dough.drink_min, dough.drunk, long),
        wait_reasons.frozen_for_oven(long, body, work.dough.heat.density_kg_m3, stay)
        if frozen_firm
        else wait_reasons.firm_for_oven(work.job.blend, long),
        Ask(HABIT, OILED_HABIT_MIN, f"covered {OILED_HABIT_MIN:.0f} min, so that it stops shrinking back")
        if work.job.has_oil
        else Ask(HABIT, CHILL_HABIT_MIN, f"the kitchen chills it {CHILL_HABIT_MIN:.0f} min before the oven"),
    ]
    if _is_juicy(work):
        longest = max((ask.minutes or 0.0 for ask in wanted), default=0.0)
        work.remark(
            step_keys.CHILL,
            f"Raw fruit on raw dough: at most {JUICY_MIN:.0f} min. Its juice soaks in, 60 g a square metre a minute, "
            "and after that the base holds no more."
            + (" The freezer firms it in time." if longest > JUICY_MIN and place != freezer else ""),
            4,
        )
        wanted = [replace(ask, minutes=min(ask.minutes or JUICY_MIN, JUICY_MIN)) for ask in wanted]
    if frozen_firm and wanted[2].minutes is None:
        work.remark(step_keys.CHILL, "Without weights the case must be frozen firm: choose a freezer.", 6)
    minutes, reason, mark = work.set_minutes(step_keys.CHILL, wanted)
    trace, pull = work.wait(step_keys.CHILL, minutes, place, body)
    end_c = dough.mean_c
    in_tin = work.job.kind.hold == "tin"
    where = "in the tin" if in_tin else "on the tray"
    kept = "the rim holds its edge" if in_tin else "it keeps its shape when lifted"
    hard_min = firm_after_min(long, body, work.dough.heat.density_kg_m3, stay)
    work.dough.frozen_firm = hard_min is not None and minutes >= hard_min - 0.5
    firm = f"Chill until firm to the touch: {kept}, {degrees(end_c)}."
    if work.dough.frozen_firm:
        firm = "Freeze it hard: it rings when you tap it."
    elif trace.is_frozen:
        firm = f"Chill it to {degrees(end_c)}: stiff, not hard yet. It starts to freeze here."
    name = f"Rest {where}" if work.job.has_oil and not work.dough.frozen_firm else "" if in_tin else "Chill on the tray"
    if work.job.has_oil and not work.dough.frozen_firm:
        firm = f"Cover it until a lifted edge falls back without shrinking: {degrees(end_c)}."
    work.add(
        step_keys.CHILL,
        {
            "chill_look": firm,
            "chill_why": (
                "Oil does not firm in the cold; what it needs is rest."
                if work.job.has_oil
                else f"{degrees(start_c)} to {degrees(end_c)}, so that it holds its shape until it sets."
            )
            + (f" Pull {start_pull.total:.0f} to {pull[-1]:.0f}." if work.job.gluten else ""),
            **keeping_figures(work),
        },
        wait=Wait(minutes, reason, tuple(wanted), place_mark + mark),
        at=work.at(place),
        dough_c=end_c,
        told=Told(name=name),
    )


def rest_sheet(work: Work) -> None:
    """A laminated sheet, rolled out: cold and still before it is cut."""
    dough, (place, place_mark) = work.dough, work.place_of(step_keys.REST_SHEET, work.job.setting.cold_place())
    long = long_stay(
        work.dough.heat, work.job.sheet, dough.starts_from(work.job.sheet), place.stay(LONGEST_MIN, work.job.room_c)
    )
    wanted = [
        wait_reasons.cool_to_roll(work.job.blend, long),
        Ask(HABIT, SHEET_HABIT_MIN, f"a folded sheet rests {SHEET_HABIT_MIN:.0f} min before it is cut"),
    ]
    minutes, reason, mark = work.set_minutes(step_keys.REST_SHEET, wanted)
    _, pull = work.wait(step_keys.REST_SHEET, minutes, place, work.job.sheet)
    work.add(
        step_keys.REST_SHEET,
        {
            "end_c": degrees(dough.mean_c),
            "sheet_why": f"Pull {pull[0]:.0f} to {pull[-1]:.0f}." if work.job.gluten else "",
            **keeping_figures(work),
        },
        wait=Wait(minutes, reason, tuple(wanted), place_mark + mark),
        at=work.at(place),
        dough_c=dough.mean_c,
    )


def warm_rest(work: Work) -> None:
    """A stretched dough rests oiled and warm: cold would only stiffen it."""
    dough = work.dough
    place, place_mark = work.place_of(step_keys.REST_WARM, work.job.setting.bench())
    long = long_stay(
        work.dough.heat,
        work.job.shaped.body,
        dough.starts_from(work.job.shaped.body),
        place.stay(LONGEST_MIN, work.job.room_c),
    )
    adds = work.job.gluten * rolling_pull(work.job.shaped.across_mm, work.job.first_to_mm)
    wanted = [
        wait_reasons.pull_before_rolling(dough.pull, adds, long) if work.job.gluten else wait_reasons.NO_GLUTEN,
        wait_reasons.drinking(dough.drink_min, dough.drunk, long),
        Ask(HABIT, WARM_HABIT_MIN, f"a warm rest is {WARM_HABIT_MIN:.0f} min here"),
    ]
    minutes, reason, mark = work.set_minutes(step_keys.REST_WARM, wanted)
    _, pull = work.wait(step_keys.REST_WARM, minutes, place, work.job.shaped.body)
    work.add(
        step_keys.REST_WARM,
        {"pull": f"Pull {pull[0]:.0f} to {pull[-1]:.0f}." if work.job.gluten else "", "end_c": degrees(dough.mean_c)},
        wait=Wait(minutes, reason, tuple(wanted), place_mark + mark),
        at=work.at(place),
        dough_c=dough.mean_c,
    )


def cool_warm(work: Work) -> None:
    """A scalded dough cools, covered, to where the hand can work it and it holds a wall."""
    dough = work.dough
    place, place_mark = work.place_of(step_keys.COOL_WARM, work.job.setting.bench())
    stay = place.stay(LONGEST_MIN, work.job.room_c)
    reached = minutes_to(
        work.dough.heat, work.job.shaped.body, dough.starts_from(work.job.shaped.body), stay, HAND_WARM_C
    )
    ask = Ask(TEMPERATURE, reached or 0.0, f"down to {degrees(HAND_WARM_C)}, where it holds a wall")
    minutes, reason, mark = work.set_minutes(step_keys.COOL_WARM, [ask])
    work.wait(step_keys.COOL_WARM, minutes, place, work.job.shaped.body)
    work.add(
        step_keys.COOL_WARM,
        {"end_c": degrees(dough.mean_c), "stiff_c": degrees(STIFF_C)},
        hands_min=0.0 if minutes else 1.0,
        wait=Wait(minutes, reason, (ask,), place_mark + mark),
        at=work.at(place),
        dough_c=dough.mean_c,
    )

"""The waits of a course, each as long as pull, drinking, temperature or habit ask: rest, temper, chill."""

from dataclasses import replace

from northfold.core.fold.lamination import PACKAGE_MM
from northfold.core.gluten.pull import FOLD_PULL, rolling_pull
from northfold.core.heat.conduction import Body, Trace, long_stay, minutes_to
from northfold.core.heat.freezing import firm_after_min
from northfold.core.heat.places import Place
from northfold.core.matter.fillings import is_juicy
from northfold.core.method.route.step import HABIT, PULL, TEMPERATURE, Ask
from northfold.core.method.route.work import HAND_WARM_C, LONGEST_MIN, STIFF_C, Walk
from northfold.core.method.rules import wait_reasons
from northfold.core.method.words import degrees, duration, span
from northfold.core.shape.blanks import filling_of
from northfold.core.shape.tins import outline_area_mm2

# The kitchen's habit after lining, and for a warm rest. [min] North Fold reference table; the warm one an assumption.
CHILL_HABIT_MIN, WARM_HABIT_MIN = 30.0, 45.0
# A folded sheet before it is cut. [min] Assumption.
SHEET_HABIT_MIN = 15.0
# Where no minutes can be said it is looked at whether it bends. [min] Assumption.
BENDS_MIN = 1.0


# An oil dough is neither firm nor chilled: what is told of its rest instead.
OILED_HABIT_MIN = 10.0
OILED_REST = {
    "name": "Rest",
    "look": "Cover it until it hardly springs back when you press it.",
    "wrong": "If it springs back, give it 15 min more. If its skin is dry, oil it and cover it closely.",
}


def rest(walk: Walk) -> None:
    """The first rest, in the cold; none where the school lines at once."""
    if walk.first_rest.key == "none":
        return
    dough = walk.dough
    usual = walk.setting.bench() if walk.has_oil else walk.setting.cold_place()
    place, place_mark = walk.place_of("rest.1", usual)
    stay = place.stay(LONGEST_MIN, walk.room_c)
    start_c = dough.mean_c
    long = long_stay(walk.heat, walk.resting_body, dough.starts_from(walk.resting_body), stay)
    thinnest = min(piece.item.thickness_mm for piece in walk.pieces)
    adds = walk.gluten * rolling_pull(walk.shaped.across_mm, walk.half_mm if walk.in_turn else thinnest)
    if walk.folding is not None:
        adds = walk.gluten * (rolling_pull(PACKAGE_MM, walk.folding.lamination.inputs.turn_mm) + FOLD_PULL)
    wanted = [
        _pull_ask(walk, adds, long),
        wait_reasons.drinking(dough.drink_min, dough.drunk, long),
        wait_reasons.cool_to_roll(walk.blend, long),
        Ask(HABIT, walk.first_rest.minutes, f"the kitchen rests {walk.first_rest.name}"),
    ]
    if wanted[2].minutes is None:
        walk.remark("rest.1", f"In {place.name} it never gets cold enough to roll: {wanted[2].words}.", 5)
    minutes, reason, mark = walk.set_minutes("rest.1", wanted)
    trace, pull = walk.wait("rest.1", minutes, place, walk.resting_body)
    end_c = dough.mean_c
    warn_freezer(walk, "rest.1", trace, place)
    walk.add(
        "rest.1",
        {
            "end_c": degrees(end_c),
            "rest_why": f"{rested_or_chilled(walk, start_c, end_c)} Pull {pull[0]:.0f} to {pull[-1]:.0f}."
            if walk.gluten
            else rested_or_chilled(walk, start_c, end_c),
            **keeping_figures(walk),
        },
        wait_min=minutes,
        reason=reason,
        asks=tuple(wanted),
        edits=place_mark + mark,
        **walk.at(place),
        dough_c=end_c,
        **(OILED_REST if walk.has_oil else {"name": "Chill flat"} if walk.rolls_first else {}),
    )


def _pull_ask(walk: Walk, adds: float, trace: Trace) -> Ask:
    """What the pull asks before the pin; nothing where the sheet is rolled already."""
    if not walk.gluten:
        return wait_reasons.NO_GLUTEN
    if walk.rolls_first:
        return Ask(PULL, 0.0, "rolled already")
    return wait_reasons.pull_before_rolling(walk.dough.pull, adds, trace)


def keeping_figures(walk: Walk) -> dict[str, str]:
    """The kitchen's keeping times, for the cautions. [h]"""
    keeping = walk.setting.keeping
    return {"rich_h": f"{keeping.rich_h:g}", "lean_h": f"{keeping.lean_h:g}"}


def rested_or_chilled(walk: Walk, start_c: float, end_c: float) -> str:
    """Which of the two a wait has done, by where it began and ended. [°C]"""
    if walk.blend is None or walk.blend.roll_c is None:
        return "It rests."
    low, high = walk.blend.roll_c
    change = f"{degrees(start_c)} to {degrees(end_c)}"
    if end_c > high:
        return f"It rests but does not get cold: {change}, and {walk.fat_name} rolls at {span(low, high)}."
    if end_c > (low + high) / 2 + 0.25:
        return f"It rests, and chills to the warm end: {change}, {walk.fat_name} rolls at {span(low, high)}."
    return f"It rests and chills: {change}."


def warn_freezer(walk: Walk, key: str, trace: Trace, place: Place) -> None:
    """What is said of a dough in the freezer: frozen through, or its face brittle."""
    if trace.is_frozen:
        said = "At −2 °C it starts to freeze and stops resting. Thaw it in the fridge."
        walk.remark(key, said, 5)
        return
    brittle = walk.blend.brittle_below_c if walk.blend else None
    if place.is_freezer and brittle is not None:
        passed = next((m for m, t in zip(trace.minutes, trace.surface_c, strict=True) if t < brittle), None)
        if passed is not None:
            said = (
                f"After {duration(max(1, passed))} its surface drops below {degrees(brittle)}: brittle, it would crack."
            )
            walk.remark(key, said, 2)


def temper(walk: Walk) -> None:
    """On the bench until it rolls without cracking, where the rest left it too stiff for that."""
    dough = walk.dough
    if (
        walk.first_rest.key == "none"
        or walk.blend is None
        or walk.blend.roll_c is None
        or dough.mean_c >= walk.blend.roll_c[0]
    ):
        return
    bend(walk, "temper.1", walk.resting_body, walk.blend.roll_c[0], "where it rolls")


def bend(walk: Walk, key: str, body: Body, low_c: float, where: str) -> None:
    """A wait on the bench until a dough bends without cracking, or its fat does. [°C]"""
    dough = walk.dough
    place, place_mark = walk.place_of(key, walk.setting.bench())
    stay = place.stay(LONGEST_MIN, walk.room_c)
    frozen = walk.traced[-1].trace.is_frozen
    reached = minutes_to(walk.heat, body, dough.starts_from(body), stay, low_c)
    if reached is None:
        walk.remark(key, f"On {place.name} it never warms to {degrees(low_c)}, {where}.", 5)
    ask = Ask(TEMPERATURE, 0.0 if reached is None or frozen else reached, f"up to {degrees(low_c)}, {where}")
    minutes, reason, mark = walk.set_minutes(key, [ask])
    walk.wait(key, minutes, place, body, name="Temper")
    walk.add(
        key,
        {"end_c": degrees(dough.mean_c), "roll_low": f"{round(low_c * 2) / 2:g}"},
        like="temper.1",
        wait_min=minutes,
        hands_min=0.0 if minutes else BENDS_MIN,
        reason=reason,
        asks=(ask,),
        edits=place_mark + mark,
        **walk.at(place),
        dough_c=dough.mean_c,
    )


# What a kilogram of filling, of dough takes to warm. [kJ/(kg K)] North Fold reference table.
FILLING_KJ, DOUGH_KJ = 3.6, 2.43
# Where nobody has said how much fills a piece: so much of the room under its heap. [share] Assumption.
LOOSE_SHARE = 0.5
# A raw base takes up loose juice by 60 g/m² a minute, up to 0.35 of its mass: a 3 mm sheet is full after so long. [min]
# North Fold reference table, a wet filling on a raw base.
JUICY_MIN = 20.0


def fill(walk: Walk, key: str = "fill") -> None:
    """Filled: what is closed around a cold filling is as cold as both together."""
    lead, dough = walk.lead, walk.dough
    walk.add(key, walk.figures)
    if not walk.kind.filled_mm:
        return
    loose_g = outline_area_mm2(lead.item.tin.of_kind.outline, lead.blank_mm) * walk.kind.filled_mm / 1000 * LOOSE_SHARE
    of_filling, of_dough = (filling_of(lead.item) or loose_g) * FILLING_KJ, lead.net_g * DOUGH_KJ
    dough.mean_c = (of_filling * walk.filling_c + of_dough * dough.mean_c) / (of_filling + of_dough)
    dough.body, dough.profile_c = None, ()


def _is_juicy(walk: Walk) -> bool:
    """Whether raw fruit lies on the raw dough while it chills."""
    filled = any(step.key.startswith("fill") for step in walk.steps)
    return filled and any(is_juicy(piece.item.filling) for piece in walk.pieces)


def chill(walk: Walk) -> None:
    """Firm for the oven: the lined tin, the cut pieces on their tray, the filled piece."""
    dough, body = walk.dough, walk.chilled_body
    if walk.at_once and not walk.edits.find("chill.1", "minutes"):
        said = "Suet with a raising agent is rolled and baked at once: it starts to work as soon as it is wet."
        walk.remark("roll.main", f"{said} Oven hot before you mix.", 4)
        return
    frozen_firm = walk.kind.blind and walk.weights.key == "frozen"
    freezer = walk.setting.freezer()
    usual = freezer if frozen_firm and freezer else walk.setting.cold_place()
    if walk.has_oil and not frozen_firm:
        usual = walk.setting.bench()
    place, place_mark = walk.place_of("chill.1", usual)
    stay = place.stay(LONGEST_MIN, walk.room_c)
    start_c, start_pull = dough.mean_c, dough.pull
    long = long_stay(walk.heat, body, dough.starts_from(body), stay)
    worth = wait_reasons.WORTH_PCT if walk.folding is None else wait_reasons.LAMINATED_WORTH_PCT
    wanted = [
        wait_reasons.pull_before_oven(dough.pull, long, walk.shrink_water, walk.hold, worth_pct=worth)
        if walk.gluten
        else wait_reasons.NO_GLUTEN,
        wait_reasons.drinking(dough.drink_min, dough.drunk, long),
        wait_reasons.frozen_for_oven(long, body, walk.heat.density_kg_m3, stay)
        if frozen_firm
        else wait_reasons.firm_for_oven(walk.blend, long),
        Ask(HABIT, OILED_HABIT_MIN, f"covered {OILED_HABIT_MIN:.0f} min, so that it stops shrinking back")
        if walk.has_oil
        else Ask(HABIT, CHILL_HABIT_MIN, f"the kitchen chills it {CHILL_HABIT_MIN:.0f} min before the oven"),
    ]
    if _is_juicy(walk):
        longest = max((ask.minutes or 0.0 for ask in wanted), default=0.0)
        walk.remark(
            "chill.1",
            f"Raw fruit on raw dough: at most {JUICY_MIN:.0f} min. Its juice soaks in, 60 g a square metre a minute, "
            "and after that the base holds no more."
            + (" The freezer firms it in time." if longest > JUICY_MIN and place != freezer else ""),
            4,
        )
        wanted = [replace(ask, minutes=min(ask.minutes or JUICY_MIN, JUICY_MIN)) for ask in wanted]
    if frozen_firm and wanted[2].minutes is None:
        walk.remark("chill.1", "Without weights the case must be frozen firm: choose a freezer.", 6)
    minutes, reason, mark = walk.set_minutes("chill.1", wanted)
    trace, pull = walk.wait("chill.1", minutes, place, body)
    end_c = dough.mean_c
    in_tin = walk.kind.hold == "tin"
    where = "in the tin" if in_tin else "on the tray"
    kept = "the rim holds its edge" if in_tin else "it keeps its shape when lifted"
    hard_min = firm_after_min(long, body, walk.heat.density_kg_m3, stay)
    walk.frozen_firm = hard_min is not None and minutes >= hard_min - 0.5
    firm = f"Chill until firm to the touch: {kept}, {degrees(end_c)}."
    if walk.frozen_firm:
        firm = "Freeze it hard: it rings when you tap it."
    elif trace.is_frozen:
        firm = f"Chill it to {degrees(end_c)}: stiff, not hard yet. It starts to freeze here."
    name = f"Rest {where}" if walk.has_oil and not walk.frozen_firm else "" if in_tin else "Chill on the tray"
    if walk.has_oil and not walk.frozen_firm:
        firm = f"Cover it until a lifted edge falls back without shrinking: {degrees(end_c)}."
    walk.add(
        "chill.1",
        {
            "chill_look": firm,
            "chill_why": (
                "Oil does not firm in the cold; what it needs is rest."
                if walk.has_oil
                else f"{degrees(start_c)} to {degrees(end_c)}, so that it holds its shape until it sets."
            )
            + (f" Pull {start_pull.total:.0f} to {pull[-1]:.0f}." if walk.gluten else ""),
            **keeping_figures(walk),
        },
        wait_min=minutes,
        reason=reason,
        asks=tuple(wanted),
        edits=place_mark + mark,
        **walk.at(place),
        dough_c=end_c,
        **({"name": name} if name else {}),
    )


def rest_sheet(walk: Walk) -> None:
    """A laminated sheet, rolled out: cold and still before it is cut."""
    dough, (place, place_mark) = walk.dough, walk.place_of("rest.sheet", walk.setting.cold_place())
    long = long_stay(walk.heat, walk.sheet, dough.starts_from(walk.sheet), place.stay(LONGEST_MIN, walk.room_c))
    wanted = [
        wait_reasons.cool_to_roll(walk.blend, long),
        Ask(HABIT, SHEET_HABIT_MIN, f"a folded sheet rests {SHEET_HABIT_MIN:.0f} min before it is cut"),
    ]
    minutes, reason, mark = walk.set_minutes("rest.sheet", wanted)
    _, pull = walk.wait("rest.sheet", minutes, place, walk.sheet)
    walk.add(
        "rest.sheet",
        {
            "end_c": degrees(dough.mean_c),
            "sheet_why": f"Pull {pull[0]:.0f} to {pull[-1]:.0f}." if walk.gluten else "",
            **keeping_figures(walk),
        },
        wait_min=minutes,
        reason=reason,
        asks=tuple(wanted),
        edits=place_mark + mark,
        **walk.at(place),
        dough_c=dough.mean_c,
    )


def warm_rest(walk: Walk) -> None:
    """A stretched dough rests oiled and warm: cold would only stiffen it."""
    dough = walk.dough
    place, place_mark = walk.place_of("rest.warm", walk.setting.bench())
    long = long_stay(
        walk.heat, walk.shaped.body, dough.starts_from(walk.shaped.body), place.stay(LONGEST_MIN, walk.room_c)
    )
    adds = walk.gluten * rolling_pull(walk.shaped.across_mm, walk.first_to_mm)
    wanted = [
        wait_reasons.pull_before_rolling(dough.pull, adds, long) if walk.gluten else wait_reasons.NO_GLUTEN,
        wait_reasons.drinking(dough.drink_min, dough.drunk, long),
        Ask(HABIT, WARM_HABIT_MIN, f"a warm rest is {WARM_HABIT_MIN:.0f} min here"),
    ]
    minutes, reason, mark = walk.set_minutes("rest.warm", wanted)
    _, pull = walk.wait("rest.warm", minutes, place, walk.shaped.body)
    walk.add(
        "rest.warm",
        {"pull": f"Pull {pull[0]:.0f} to {pull[-1]:.0f}." if walk.gluten else "", "end_c": degrees(dough.mean_c)},
        wait_min=minutes,
        reason=reason,
        asks=tuple(wanted),
        edits=place_mark + mark,
        **walk.at(place),
        dough_c=dough.mean_c,
    )


def cool_warm(walk: Walk) -> None:
    """A scalded dough cools, covered, to where the hand can work it and it holds a wall."""
    dough = walk.dough
    place, place_mark = walk.place_of("cool.warm", walk.setting.bench())
    stay = place.stay(LONGEST_MIN, walk.room_c)
    reached = minutes_to(walk.heat, walk.shaped.body, dough.starts_from(walk.shaped.body), stay, HAND_WARM_C)
    ask = Ask(TEMPERATURE, reached or 0.0, f"down to {degrees(HAND_WARM_C)}, where it holds a wall")
    minutes, reason, mark = walk.set_minutes("cool.warm", [ask])
    walk.wait("cool.warm", minutes, place, walk.shaped.body)
    walk.add(
        "cool.warm",
        {"end_c": degrees(dough.mean_c), "stiff_c": degrees(STIFF_C)},
        wait_min=minutes,
        hands_min=0.0 if minutes else 1.0,
        reason=reason,
        asks=(ask,),
        edits=place_mark + mark,
        **walk.at(place),
        dough_c=dough.mean_c,
    )

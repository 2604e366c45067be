"""The waits of a route, each as long as pull, drinking, temperature or habit ask: rest, temper, chill."""

from collections.abc import Sequence
from dataclasses import replace

from northfold.core.fill.mixture import RAW
from northfold.core.fold.lamination import PACKAGE_MM
from northfold.core.gluten.pull import FOLD_PULL, rolling_pull
from northfold.core.heat.conduction import Body, Trace, conduct, long_stay, minutes_to
from northfold.core.heat.places import Place
from northfold.core.matter.fillings import is_juicy
from northfold.core.method.choices import step_keys
from northfold.core.method.route.step import HABIT, PULL, TEMPERATURE, TURN, Ask, Told, Wait
from northfold.core.method.route.work import HAND_WARM_C, LONGEST_MIN, STIFF_C, Work
from northfold.core.method.rules import wait_reasons
from northfold.core.method.rules.hot_filling import hot_into_raw
from northfold.core.method.rules.trips import trips_of
from northfold.core.method.words import degrees, duration, span, whole_minutes
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
    if work.job.at_hand:
        wanted = wanted[:3]  # it has had its rest
    if wanted[2].minutes is None:
        work.remark(step_keys.REST, f"In {place.name} it never gets cold enough to roll: {wanted[2].words}.", 5)
    minutes, reason, mark = work.set_minutes(step_keys.REST, wanted)
    if work.job.at_hand and minutes < 1:
        return
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


def wait_turn(work: Work) -> None:
    """In the cold until hands are free for this product, where it does not lie there already."""
    minutes = work.held.get(step_keys.WAIT_TURN, 0.0)
    if minutes <= 0:
        return
    place, body = work.job.setting.cold_place(), work.dough.body or work.resting_body
    work.wait(step_keys.WAIT_TURN, minutes, place, body)
    work.add(
        step_keys.WAIT_TURN,
        {"end_c": degrees(work.dough.mean_c)},
        wait=Wait(minutes, TURN),
        at=work.at(place),
        dough_c=work.dough.mean_c,
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
        ice = 100 * work.dough.heat.ice(trace.mean_c[-1])
        said = f"It ends at {degrees(trace.mean_c[-1])}, {ice:.0f} % of its water ice: frozen it stops resting."
        work.remark(key, f"{said} Thaw it in the fridge.", 5)
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
    """
    On the bench until it rolls without cracking, where the rest left it too stiff for that.

    What is worked in trips comes out trip by trip: the first is told; the last, which waits longest, is traced.
    """
    dough, blend = work.dough, work.job.blend
    if blend is None or blend.roll_c is None:
        return
    low_c = blend.roll_c[0]
    bench = work.place_of(step_keys.ROLL, work.job.setting.bench())[0]
    trips = work.log.trips = trips_of(work, max(dough.mean_c, low_c), bench)
    later_min = trips.last_out_min if trips else 0.0
    if work.job.first_rest.key == "none" or dough.mean_c >= low_c:
        if later_min:
            _last_waits(work, later_min, low_c)
        return
    bend(work, step_keys.TEMPER, work.resting_body, low_c, "where it rolls", later_min)


def _last_waits(work: Work, later_min: float, low_c: float, told_min: float = 0.0) -> float:
    """
    The last trip's piece, in the cold until its turn and then on the bench until it bends. [min, °C]

    Parameters
    ----------
    later_min : float
        How much later than the first trip's it is rolled. [min]
    low_c : float
        Where it rolls. [°C]
    told_min : float
        How long the first one tempers. [min]

    Returns
    -------
    float
        How long it tempers. [min]
    """
    dough, cold = work.dough, work.job.setting.cold_place()
    bench, body, tempers = work.place_of(step_keys.TEMPER, work.job.setting.bench())[0], work.resting_body, told_min
    start, stay = dough.starts_from(body), bench.stay(LONGEST_MIN, work.job.room_c)
    for _ in range(2):
        waits = max(0.01, later_min + told_min - tempers)
        colder = conduct(dough.heat, body, start, cold.stay(waits, work.job.room_c))
        reached = minutes_to(dough.heat, body, colder.profile_c, stay, low_c) or 0.0
        tempers = min(whole_minutes(reached), later_min + told_min)
    work.wait(step_keys.WAIT_TURN, later_min + told_min - tempers, cold, body)
    if tempers:
        work.wait(step_keys.TEMPER, tempers, bench, body, name="Temper")
    return tempers


def bend(work: Work, key: str, body: Body, low_c: float, where: str, later_min: float = 0.0) -> None:
    """A wait on the bench until a dough bends without cracking, or its fat does [°C]; for some `later_min`. [min]"""
    dough = work.dough
    place, place_mark = work.place_of(key, work.job.setting.bench())
    stay = place.stay(LONGEST_MIN, work.job.room_c)
    reached = minutes_to(work.dough.heat, body, dough.starts_from(body), stay, low_c)
    if reached is None:
        work.remark(key, f"On {place.name} it never warms to {degrees(low_c)}, {where}.", 5)
    ask = Ask(TEMPERATURE, 0.0 if reached is None else reached, f"up to {degrees(low_c)}, {where}")
    minutes, reason, mark = work.set_minutes(key, [ask])
    if later_min and work.log.trips:
        work.log.trips = replace(work.log.trips, ahead_min=_last_waits(work, later_min, low_c, minutes))
    else:
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
    hot = hot_into_raw(work, lead.item.filling or "The filling", work.job.filling_c)
    if hot:
        work.refuse(key, hot)
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
    if work.job.filled is not None:
        return filled and any(each.layer.mixture.fruit for each in work.job.filled.of(RAW))
    return filled and any(is_juicy(piece.item.filling) for piece in work.job.pieces)


def chill(work: Work) -> None:
    """Firm for the oven: the lined tin, the cut pieces on their tray, the filled piece."""
    dough, body, job = work.dough, work.chilled_body, work.job
    if job.at_once and not job.edits.find(step_keys.CHILL, "minutes"):
        said = "Suet with a raising agent is rolled and baked at once: it starts to work as soon as it is wet."
        work.remark(step_keys.ROLL, f"{said} Oven hot before you mix.", 4)
        return
    frozen, freezer = job.kind.blind and job.chosen["weights"] == "frozen", job.setting.freezer()
    usual = freezer if frozen and freezer else job.setting.cold_place()
    place, place_mark = work.place_of(step_keys.CHILL, job.setting.bench() if job.has_oil and not frozen else usual)
    stay = place.stay(LONGEST_MIN, job.room_c)
    long = long_stay(dough.heat, body, dough.starts_from(body), stay)
    start_c, start_pull = dough.mean_c, dough.pull
    wanted = _chill_asks(work, long, is_frozen=frozen)
    if frozen and wanted[2].minutes is None:
        work.remark(step_keys.CHILL, "Without weights the case must be frozen firm: choose a freezer.", 6)
    if _is_juicy(work):
        wanted = _no_longer_than_juice(work, wanted, is_freezer=place == freezer)
    minutes, reason, mark = work.set_minutes(step_keys.CHILL, wanted)
    trace, pull = work.wait(step_keys.CHILL, minutes, place, body)
    dough.frozen_firm = long.firm_min is not None and minutes >= long.firm_min - 0.5
    name, look = _chilled_words(work, starts_to_freeze=trace.is_frozen)
    rested = f" Pull {start_pull.total:.0f} to {pull[-1]:.0f}." if job.gluten else ""
    firms = f"{degrees(start_c)} to {degrees(dough.mean_c)}, so that it holds its shape until it sets."
    why = "Oil does not firm in the cold; what it needs is rest." if job.has_oil else firms
    work.add(
        step_keys.CHILL,
        {"chill_look": look, "chill_why": why + rested, **keeping_figures(work)},
        wait=Wait(minutes, reason, tuple(wanted), place_mark + mark),
        at=work.at(place),
        dough_c=dough.mean_c,
        told=Told(name=name),
    )
    if _is_juicy(work):
        work.log.steps[-1] = replace(work.log.steps[-1], keeps=False)


def _chill_asks(work: Work, long: Trace, *, is_frozen: bool) -> list[Ask]:
    """What pull, absorbing, temperature and habit ask of the last cold; frozen hard where weights do not hold it."""
    dough, job = work.dough, work.job
    worth = wait_reasons.WORTH_PCT if job.folding is None else wait_reasons.LAMINATED_WORTH_PCT
    firm = wait_reasons.frozen_for_oven(long) if is_frozen else wait_reasons.firm_for_oven(job.blend, long)
    oiled = Ask(HABIT, OILED_HABIT_MIN, f"covered {OILED_HABIT_MIN:.0f} min, so that it stops shrinking back")
    usual = Ask(HABIT, CHILL_HABIT_MIN, f"the kitchen chills it {CHILL_HABIT_MIN:.0f} min before the oven")
    return [
        wait_reasons.pull_before_oven(dough.pull, long, job.shrink_water, job.hold, worth_pct=worth)
        if job.gluten
        else wait_reasons.NO_GLUTEN,
        wait_reasons.drinking(dough.drink_min, dough.drunk, long),
        firm,
        oiled if job.has_oil else usual,
    ]


def _no_longer_than_juice(work: Work, wanted: Sequence[Ask], *, is_freezer: bool) -> list[Ask]:
    """Raw fruit on raw dough waits no longer than its juice takes to soak in, whatever else is asked. [min]"""
    longest = max((ask.minutes or 0.0 for ask in wanted), default=0.0)
    said = (
        f"Raw fruit on raw dough: at most {JUICY_MIN:.0f} min. Its juice soaks in, 60 g a square metre a minute, "
        "and after that the base holds no more."
    )
    colder = " The freezer firms it in time." if longest > JUICY_MIN and not is_freezer else ""
    work.remark(step_keys.CHILL, said + colder, 4)
    return [replace(ask, minutes=min(ask.minutes or JUICY_MIN, JUICY_MIN)) for ask in wanted]


def _chilled_words(work: Work, *, starts_to_freeze: bool) -> tuple[str, str]:
    """What the last cold is called, empty for its usual name, and what tells that it is over."""
    end, in_tin = degrees(work.dough.mean_c), work.job.kind.hold == "tin"
    name = "" if in_tin else "Chill on the tray"
    if work.dough.frozen_firm:
        return name, "Freeze it hard: it rings when you tap it."
    if work.job.has_oil:
        where = "in the tin" if in_tin else "on the tray"
        return f"Rest {where}", f"Cover it until a lifted edge falls back without shrinking: {end}."
    if starts_to_freeze:
        return name, f"Chill it to {end}: stiff, not hard yet. It starts to freeze here."
    kept = "the rim holds its edge" if in_tin else "it keeps its shape when lifted"
    return name, f"Chill until firm to the touch: {kept}, {end}."


def rest_sheet(work: Work) -> None:
    """A sheet rolled out, cold and still before it is cut: a laminated one, and one that would go soft meanwhile."""
    if work.job.folding is None and not work.log.chilled_flat:
        return
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

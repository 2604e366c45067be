"""At the pin: rolling with its window, lining, and stretching over a cloth."""

from collections.abc import Sequence

from northfold.core.gluten.pull import rolling_pull
from northfold.core.heat.conduction import Body, minutes_to
from northfold.core.heat.places import Place
from northfold.core.method.course import BenchWindow, Shrink
from northfold.core.method.lots import is_ganged, is_small, passes
from northfold.core.method.walk import LONGEST_MIN, Walk
from northfold.core.method.words import degrees, duration, span, whole_minutes
from northfold.core.shape.blanks import AFTER, FLUSH, TUCKED, rim_allowance_mm, whole_mm

# Rolling one piece; for half of it the sheet is thin. [min] North Fold reference table; assumption.
ROLLING_MIN = 2.5
# How tins are lined: small ones in number under one sheet, others one by one.
GANGED = (
    "Tins pushed together rim to rim, the sheet loose over all of them; ease it down with a floured ball of dough, run "
    "the pin over the rims once."
)
EACH_BY_ITSELF = "Down into the angle, not stretched."
# Pulling one sheet out over its cloth. [min] Assumption.
PULLING_MIN = 8.0


def roll(walk: Walk) -> None:
    """Each lot rolled to its size: weight and size together tell the thickness."""
    dough, lead, lot = walk.dough, walk.lead, walk.lot
    thickness = lead.item.thickness_mm
    place, marks = walk.place_of("roll.main", walk.setting.bench())
    start_c = dough.mean_c
    per_piece = ROLLING_MIN / 2 + (0.7 if is_small(lead) else 2.0)
    typed = walk.edits.find("roll.main", "thickness_mm")
    if typed is not None:
        marks += (walk.edits.mark("roll.main", "thickness_mm", f"{thickness:g}", typed.replaced),)
    set_window(walk, start_c, place, per_piece)
    dough.pull = dough.pull.plus(walk.gluten * rolling_pull(walk.shaped.across_mm, thickness))
    walk.wait("roll.main", per_piece, place, walk.sheet)
    sizes = " × ".join(f"{length:.0f}" for length in lot.rolled_mm)
    round_sign = "Ø " if len(lot.rolled_mm) == 1 else ""
    ask = f"{thickness:g} mm thick when {lot.grams:,.0f} g reach {round_sign}{sizes} mm."
    count = passes(walk.shaped.across_mm, thickness)
    ask += f" {count} passes, a small turn after each; {_dusting(walk)}"
    window = walk.window
    if window is None:
        said = "press or roll it between two sheets."
    elif window.minutes is None:
        said = f"it stays below {degrees(window.top_c)}."
    else:
        said = f"from {degrees(start_c)} it has {duration(window.minutes)} to {degrees(window.top_c)}."
    walk.add(
        "roll.main",
        {"roll_look": ask, "window": said},
        **walk.at(place),
        edits=marks,
        dough_c=dough.mean_c,
        figure=f"{round_sign}{sizes} mm",
        figure_says=f"{thickness:g} mm thick",
    )


# A dough so dry is fragile, and rolled between sheets. [% of flour] North Fold reference table.
FRAGILE_BELOW_PCT = 20.0


def _dusting(walk: Walk) -> str:
    """What keeps it from sticking: by what it is made of."""
    if walk.rolls_first:
        return "between two sheets, which it is chilled in."
    if walk.ratio.true_water < FRAGILE_BELOW_PCT:
        return "fragile: between two sheets, no flour."
    flours = [line for line in walk.lines if line.ingredient.role == "flour" and line.grams]
    main = max(flours, key=lambda line: line.grams).ingredient.name if flours else "flour"
    dust = "plain flour" if main == "soft flour" else main if walk.gluten else "rice flour"
    return f"dust with {max(1.0, walk.dust_g):.0f} g of {dust}."


def line_later(walk: Walk) -> None:
    """Where the lining stands; it is told once the shrink is known."""
    walk.line_at = len(walk.steps)


def pull_out(walk: Walk) -> None:
    """Pulled over a cloth, thinner than a pin could."""
    dough, lead = walk.dough, walk.lead
    place = walk.setting.bench()
    dough.pull = dough.pull.plus(walk.gluten * rolling_pull(walk.shaped.across_mm, lead.item.thickness_mm))
    walk.wait("pull", PULLING_MIN, place, walk.sheet)
    sizes = " × ".join(f"{length:.0f}" for length in lead.rolled_mm)
    figures = {**walk.figures, "pull_size": f"{lead.rolled_g:,.0f} g reach {sizes} mm"}
    walk.add("pull", figures, **walk.at(place), dough_c=dough.mean_c, figure=f"{sizes} mm", figure_says="pulled out")


def tell_lining(walk: Walk, shrink: Sequence[Shrink]) -> None:
    """The lining step, told once the shrink is known, so that it can say how much to leave proud."""
    if walk.line_at is None:
        return
    item = walk.lead.item
    rim = max(
        whole_mm(rim_allowance_mm(max(piece.developed_mm), each.percent))
        for piece, each in zip(walk.pieces, shrink, strict=True)
    )
    trims = {
        FLUSH: f"Trim flush, but leave {rim:g} mm proud for the shrink.",
        AFTER: f"Leave {max(item.overhang_mm, rim):g} mm hanging over; it goes after the bake.",
        TUCKED: "Tuck the overhang under and crimp.",
    }
    figures = {
        FLUSH: (f"{rim:g} mm", "proud of the tin"),
        AFTER: (f"{max(item.overhang_mm, rim):g} mm", "hanging over"),
        TUCKED: ("", ""),
    }
    figure, says = figures[item.trimming]
    ganged = is_ganged(walk.lead)
    how = GANGED if ganged else EACH_BY_ITSELF
    look = {"how": how, "trim_look": trims[item.trimming]}
    walk.add("line", look, figure=figure, figure_says=says)
    walk.steps.insert(walk.line_at, walk.steps.pop())


def set_window(walk: Walk, start_c: float, place: Place, work_min: float) -> None:
    """How long the sheet has on the bench, with what is said where that is too short."""
    if walk.blend is None or walk.blend.roll_c is None:
        return
    low, high = walk.blend.roll_c
    stay = place.stay(120.0, walk.room_c)
    if start_c > high:
        walk.window = BenchWindow(start_c, high, 0.0, work_min)
        remedy = flat_in_the_freezer(walk, start_c)
        walk.remark(
            "roll.main",
            f"Too soft to roll: {degrees(start_c)}, {walk.fat_name} rolls at {span(low, high)}.{remedy}",
            8,
        )
        return
    minutes = minutes_to(walk.heat, walk.sheet, start_c, stay, high)
    walk.window = BenchWindow(start_c, high, minutes, work_min)
    if minutes is not None and round(minutes, 1) < round(work_min, 1):
        said = (
            f"A {walk.sheet.across_mm:g} mm sheet from {degrees(start_c)} softens past {degrees(high)} in "
            f"{duration(minutes)}; rolling and lining one takes {duration(work_min)}. Take them from the cold one "
            "by one, and chill the sheet once between."
        )
        walk.remark("roll.main", said, 3)


def flat_in_the_freezer(walk: Walk, start_c: float) -> str:
    """What brings a dough that is too soft back: minutes in the freezer, pressed flat to 10 mm."""
    freezer = walk.setting.freezer()
    if freezer is None or walk.blend is None or walk.blend.roll_c is None:
        return " Back to the cold."
    stay = freezer.stay(LONGEST_MIN, walk.room_c)
    minutes = minutes_to(walk.heat, Body(10.0), start_c, stay, sum(walk.blend.roll_c) / 2)
    return f" {freezer.name}, {duration(whole_minutes(minutes or 0))} pressed flat to 10 mm."

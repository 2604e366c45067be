"""At the pin: rolling with its window, lining, and stretching over a cloth."""

import math

from northfold.core.gluten.pull import rolling_pull
from northfold.core.heat.conduction import Body, minutes_to
from northfold.core.heat.places import Place, between_sheets
from northfold.core.method.reckon.division import Lot, offcut_lots_of
from northfold.core.method.route.step import BenchWindow
from northfold.core.method.route.work import FRAGILE_BELOW_PCT, LONGEST_MIN, STIFF_C, Walk
from northfold.core.method.rules.mix import for_what
from northfold.core.method.words import degrees, duration, span, whole_minutes
from northfold.core.shape.blanks import AFTER, FLUSH, LID, TUCKED, Piece
from northfold.core.shape.rolling import passes
from northfold.core.shape.tins import RECTANGLE

# Rolling one piece; for half of it the sheet is thin. [min] North Fold reference table; assumption.
ROLLING_MIN = 2.5
# Lining one piece while the sheet is thin. [min] North Fold reference table.
LINING_MIN, SMALL_LINING_MIN = 2.0, 0.7
# Cutting one piece from its sheet. [min] North Fold reference table, as the step.
CUTTING_MIN = 0.1
# Pulling one sheet out over its cloth. [min] Assumption.
PULLING_MIN = 8.0


def roll_first(walk: Walk) -> None:
    """Half way, in turn: while one half is rolled, the other rests in the cold."""
    if not walk.in_turn:
        if walk.chosen["rolling"] == "halves":
            walk.remark(
                "roll.main", "One piece only: there is no other half to roll meanwhile. Shape it in 2 parts.", 1
            )
        return
    dough, bench, cold = walk.dough, walk.place_of("roll.main", walk.setting.bench())[0], walk.setting.cold_place()
    hands = walk.maker.hands_min("roll.main") / 2
    walk.work(walk.shaped.across_mm, walk.half_mm)
    highest = dough.pull.total
    walk.wait("roll.first", ROLLING_MIN / 2, bench, Body(walk.half_mm), between=walk.is_between_sheets)
    turn_min = max(1.0, hands / 2)
    walk.wait("rest.turn", turn_min, cold, Body(walk.half_mm))
    adds = walk.gluten * rolling_pull(walk.shaped.across_mm, walk.lead.item.thickness_mm)
    ends = f"{dough.pull.total + adds / 2:.0f} at the end instead of {highest + adds / 2:.0f}"
    figures = {
        "half_mm": f"{walk.half_mm:.0f}",
        "turn_min": duration(whole_minutes(turn_min)),
        "half_pull": ends if walk.gluten else "no pull",
    }
    figure = f"{walk.half_mm:.0f} mm"
    walk.add("roll.first", figures, hands_min=hands, **walk.at(bench), dough_c=dough.mean_c, figure=figure)


def roll(walk: Walk) -> None:
    """Each lot rolled to its size: weight and size together tell the thickness."""
    dough, lead = walk.dough, walk.lead
    thickness = lead.item.thickness_mm
    place, marks = walk.place_of("roll.main", walk.setting.bench())
    start_c = dough.mean_c
    per_piece = thin_min(walk)
    from_mm = walk.half_mm if walk.in_turn else walk.from_mm
    typed = walk.edits.find("roll.main", "thickness_mm")
    if typed is not None:
        marks += (walk.edits.mark("roll.main", "thickness_mm", f"{thickness:g}", typed.replaced),)
    set_window(walk, start_c, place, per_piece)
    walk.work(from_mm, thickness)
    walk.wait("roll.main", per_piece, place, walk.sheet, between=walk.is_between_sheets)
    ask = f"{_to_size(walk)} {passes(from_mm, thickness)} passes, turning each time; {_dusting(walk)}"
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
        hands_min=(0.5 if walk.in_turn else 1.0) * walk.maker.hands_min("roll.main"),
        dough_c=dough.mean_c,
        figure=walk.lot.size,
        figure_says=f"{thickness:g} mm thick",
    )
    if walk.is_fragile and walk.rolled_on.key in ("floured", "mat"):
        said = f"True water {walk.ratio.true_water:.0f} %, under {FRAGILE_BELOW_PCT:.0f}: it breaks on a floured bench."
        walk.remark("roll.main", f"{said} Roll it between two sheets.", 2)


def thin_min(walk: Walk) -> float:
    """How long a sheet lies thin: half of its rolling, all of its cutting, the lining of one piece. [min]"""
    lead, lot = walk.lead, walk.lot
    minutes = ROLLING_MIN / 2 * lot.rolling_share
    if lot.is_sheet:
        minutes += CUTTING_MIN * lead.item.count / sum(each.count for each in walk.lots if each.piece is lead)
    if lead.item.tin.is_vessel:
        minutes += SMALL_LINING_MIN if lead.item.is_small else LINING_MIN
    elif not lot.is_sheet:
        minutes += LINING_MIN
    return minutes


def _to_size(walk: Walk) -> str:
    """What is rolled to which size, weight and size together telling the thickness; then what offcuts still make."""
    alike: dict[tuple[str, float], list[Lot]] = {}
    for lot in walk.lots:
        alike.setdefault((f"{lot.grams:,.0f} g to {lot.size}", lot.piece.item.thickness_mm), []).append(lot)
    said, before = [], 0.0
    for (size, thickness), lots in alike.items():
        count = sum(lot.count for lot in lots)
        # How thick it is is said once for all that follow alike.
        thick = "" if thickness == before else f" ({thickness:g} mm)"
        times = f", {'twice' if count == 2 else f'{count} times'}" if count > 1 else ""
        said.append(f"{size}{thick}{times}{for_what(walk, lots)}")
        before = thickness
    text = f"Roll {'; '.join(said)}."
    again = [lot for piece in walk.pieces for lot in offcut_lots_of(piece)]
    if again:
        sizes = [f"{lot.count} × {lot.size}" if lot.count > 1 else lot.size for lot in again]
        text += f" Then the offcuts, gathered, to {', then '.join(sizes)}."
    return text


def roll_warm(walk: Walk) -> None:
    """A scalded dough, rolled while it is warm: it stiffens as it cools, where others soften as they warm."""
    dough, lead = walk.dough, walk.lead
    thickness, bench = lead.item.thickness_mm, walk.setting.bench()
    start_c = dough.mean_c
    left = minutes_to(walk.heat, walk.sheet, start_c, bench.stay(120.0, walk.room_c), STIFF_C)
    walk.work(walk.shaped.across_mm, thickness)
    walk.wait("roll.warm", thin_min(walk), bench, walk.sheet)
    look = f"{_to_size(walk)} {passes(walk.shaped.across_mm, thickness)} passes; the rest stays covered."
    said = f"it stays above {degrees(STIFF_C)}."
    if left is not None:
        said = f"from {degrees(start_c)} the sheet has {duration(left)} to {degrees(STIFF_C)}, where it stiffens."
        if left < thin_min(walk):
            walk.remark("roll.warm", f"Rolled, it stiffens in {duration(left)}: one piece at a time, lined at once.", 3)
    walk.add(
        "roll.warm",
        {"roll_look": look, "window": said},
        **walk.at(bench),
        dough_c=dough.mean_c,
        figure=walk.lot.size,
        figure_says=f"{thickness:g} mm thick",
    )


def _dusting(walk: Walk) -> str:
    """What keeps it from sticking: by what it is made of, and what it is rolled on."""
    if walk.rolls_first:
        return "between two sheets, which it is chilled in."
    if walk.is_between_sheets:
        return (
            "between two sheets, no flour."
            if walk.rolled_on.key == "sheets"
            else "fragile: between two sheets, no flour."
        )
    if walk.rolled_on.key == "mat":
        half_g = max(1.0, walk.dust_g / 2)
        return f"on the mat, to its ring of {walk.lot.size}; {half_g:.0f} g of flour on top only."
    return f"dust with {max(1.0, walk.dust_g):.0f} g of {walk.finishes.dust.words}."


def pull_first(walk: Walk) -> None:
    """Where there are several: each pulled half way and left to rest, while the others are pulled."""
    if not walk.in_turn:
        return
    bench, hands = walk.setting.bench(), walk.maker.hands_min("pull") / 2
    walk.work(walk.shaped.across_mm, walk.half_mm)
    walk.wait("pull.first", PULLING_MIN / 2, bench, Body(walk.half_mm))
    turn_min = max(1.0, hands - PULLING_MIN / 2)
    walk.wait("rest.turn", turn_min, bench, Body(walk.half_mm))
    figures = {"half_mm": f"{walk.half_mm:.0f}", "turn_min": duration(whole_minutes(turn_min))}
    figure = f"{walk.half_mm:.0f} mm"
    walk.add("pull.first", figures, hands_min=hands, **walk.at(bench), dough_c=walk.dough.mean_c, figure=figure)


def pull_out(walk: Walk) -> None:
    """Pulled over a cloth, thinner than a pin could."""
    dough, lead = walk.dough, walk.lead
    place, share = walk.setting.bench(), 0.5 if walk.in_turn else 1.0
    walk.work(walk.half_mm if walk.in_turn else walk.shaped.across_mm, lead.item.thickness_mm)
    walk.wait("pull", share * PULLING_MIN, place, walk.sheet)
    size = walk.lot.size
    figures = {**walk.figures, "pull_size": f"{walk.lot.grams:,.0f} g reach {size}"}
    walk.add(
        "pull",
        figures,
        hands_min=share * walk.maker.hands_min("pull"),
        **walk.at(place),
        dough_c=dough.mean_c,
        figure=size,
        figure_says="pulled out",
    )


def rim(walk: Walk) -> None:
    """A rim that is tucked under, or sealed to a lid, is finished in the kitchen's own style."""
    tucked = [piece for piece in walk.pieces if piece.item.trimming == TUCKED]
    edged = walk.pieces if walk.kind.filled_mm or walk.lead.item.cover == LID else tucked
    if not edged:
        return
    metres = sum(piece.item.count * _edge_m(piece) for piece in edged)
    figures = {"rim_look": walk.rim.look, "rim_why": f"{metres:.1f} m of rim; {walk.rim.skill}."}
    walk.add("rim", figures, hands_min=max(1.0, walk.rim.hands_min * metres))


def _edge_m(piece: Piece) -> float:
    """The length of the edge that is sealed or tucked: round the tin, or half round what is folded over. [m]"""
    length, width = piece.item.tin.axes()[0][0], piece.item.tin.axes()[-1][0]
    if piece.item.tin.of_kind.outline == RECTANGLE:
        return 2 * (length + width) / 1000
    return math.pi * (length + width) / 2 / 1000


def cut(walk: Walk) -> None:
    """Pieces cut from their sheets, each to the size that allows for its shrink."""
    sizes: dict[str, int] = {}
    for piece in walk.pieces:
        for part in piece.parts:
            size = " × ".join(f"{length:.0f}" for length in part.blank_mm) + " mm"
            size = f"Ø {size}" if len(part.blank_mm) == 1 else size
            sizes[size] = sizes.get(size, 0) + piece.item.count
    many = ", ".join(f"{count} of {size}" for size, count in sizes.items())
    item, folded = walk.lead.item, walk.folding is not None
    figures = {
        **walk.figures,
        "cut_size": many,
        "web_mm": f"{item.web_mm:g}",
        # Where it is folded the edge holds the layers shut; what was underneath is cut straightest.
        "trim_first": f"Trim the edges first, {item.margin_mm:g} mm all round. " if folded and item.margin_mm else "",
        "turned": " Turn each piece over onto its tray." if folded else "",
    }
    walk.add("cut", figures, figure=next(iter(sizes)), figure_says="cut")


# How pieces of a laminated dough are shaped once they are cut, by their shape; others stay as they are cut.
SHAPINGS = {
    "coil": ("Twist and coil", "Stretch each a little, twist it, coil it, tuck the end under."),
    "triangle": ("Roll up", "Stretch each a little and roll it up from its base to the tip; the tip underneath."),
}


def coil(walk: Walk) -> None:
    """Shaped after they are cut, where their shape is shaped."""
    shaping = SHAPINGS.get(walk.lead.item.tin.kind)
    if shaping is None:
        return
    name, look = shaping
    walk.add("coil", {"shaping": name, "shaping_look": look}, name=name)


def line(walk: Walk) -> None:
    """Lining, with how much stands proud or hangs over for the shrink."""
    said, figure, says = _trim(walk.lead)
    each = dict.fromkeys(_trim(piece)[0] for piece in walk.pieces)
    if len(each) > 1:
        said = " ".join(f"{piece.item.tin.name}: {_trim(piece)[0]}" for piece in walk.pieces)
    walk.add("line", {"trim_look": said}, figure=figure, figure_says=says)


def _trim(piece: Piece) -> tuple[str, str, str]:
    """How a lined piece is trimmed: the sentence, and the figure with what it is."""
    hang = f"{piece.hang_mm:g} mm"
    if piece.item.trimming == FLUSH:
        return f"Trim flush, but leave {hang} proud for the shrink.", hang, "proud of the tin"
    if piece.item.trimming == AFTER:
        return f"Leave {hang} hanging over; it goes after the bake.", hang, "hanging over"
    return f"Tuck the {hang} that hang over under.", hang, "tucked under"


def set_window(walk: Walk, start_c: float, place: Place, work_min: float) -> None:
    """How long the sheet has on the bench, with what is said where that is too short."""
    if walk.blend is None or walk.blend.roll_c is None:
        return
    low, high = walk.blend.roll_c
    stay = place.stay(120.0, walk.room_c)
    stay = between_sheets(stay) if walk.is_between_sheets else stay
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
        softens = f"It warms past {degrees(high)} in {duration(minutes)}; "
        if walk.lot.is_sheet:
            said = f"{softens}rolling and cutting take {duration(work_min)}. "
            said += "Choose “at once, then chill flat”." if walk.folding is None else "Chill it flat and cut it cold."
        else:
            said = f"{softens}rolling and lining one takes {duration(work_min)}. Take one at a time from the cold."
        walk.remark("roll.main", said, 3)


def flat_in_the_freezer(walk: Walk, start_c: float) -> str:
    """What brings a dough that is too soft back: minutes in the freezer, pressed flat to 10 mm."""
    freezer = walk.setting.freezer()
    if freezer is None or walk.blend is None or walk.blend.roll_c is None:
        return " Back to the cold."
    stay = freezer.stay(LONGEST_MIN, walk.room_c)
    minutes = minutes_to(walk.heat, Body(10.0), start_c, stay, sum(walk.blend.roll_c) / 2)
    return f" {freezer.name}, {duration(whole_minutes(minutes or 0))} pressed flat to 10 mm."

"""At the pin: rolling with its window, lining, and stretching over a cloth."""

from northfold.core.gluten.pull import rolling_pull
from northfold.core.heat.conduction import Body, minutes_to
from northfold.core.heat.places import Place, between_sheets
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.step_kinds import step_kinds
from northfold.core.method.reckon.division import Lot, offcut_lots_of
from northfold.core.method.route.step import BenchWindow, Told
from northfold.core.method.route.work import FRAGILE_BELOW_PCT, LONGEST_MIN, STIFF_C, Work
from northfold.core.method.rules.mix import for_what
from northfold.core.method.words import degrees, duration, span, whole_minutes
from northfold.core.shape.blanks import AFTER, FLUSH, LID, TUCKED, Piece
from northfold.core.shape.outlines import circumference_mm
from northfold.core.shape.rolling import passes

# What one piece takes, as its step's row has it: rolled (for half of it the sheet is thin), lined, cut, pulled. [min]
ROLLING_MIN = step_kinds()[step_keys.ROLL].hands_min
LINING_MIN = step_kinds()[step_keys.LINE].hands_min
SMALL_LINING_MIN = step_kinds()[step_keys.LINE].small_min
CUTTING_MIN = step_kinds()[step_keys.CUT].small_min
PULLING_MIN = step_kinds()[step_keys.PULL].hands_min


def roll_first(work: Work) -> None:
    """Half way, in turn: while one half is rolled, the other rests in the cold."""
    if not work.job.in_turn:
        if work.job.chosen["rolling"] == "halves":
            work.remark(
                step_keys.ROLL, "One piece only: there is no other half to roll meanwhile. Shape it in 2 parts.", 1
            )
        return
    dough, bench, cold = (
        work.dough,
        work.place_of(step_keys.ROLL, work.job.setting.bench())[0],
        work.job.setting.cold_place(),
    )
    hands = work.maker.hands_min(step_keys.ROLL) / 2
    work.thin(work.job.shaped.across_mm, work.job.half_mm)
    highest = dough.pull.total
    work.wait(step_keys.ROLL_FIRST, ROLLING_MIN / 2, bench, Body(work.job.half_mm), between=work.job.is_between_sheets)
    turn_min = max(1.0, hands / 2)
    work.wait(step_keys.REST_TURN, turn_min, cold, Body(work.job.half_mm))
    adds = work.job.gluten * rolling_pull(work.job.shaped.across_mm, work.job.lead.item.thickness_mm)
    ends = f"{dough.pull.total + adds / 2:.0f} at the end instead of {highest + adds / 2:.0f}"
    figures = {
        "half_mm": f"{work.job.half_mm:.0f}",
        "turn_min": duration(whole_minutes(turn_min)),
        "half_pull": ends if work.job.gluten else "no pull",
    }
    figure = f"{work.job.half_mm:.0f} mm"
    work.add(
        step_keys.ROLL_FIRST,
        figures,
        hands_min=hands,
        at=work.at(bench),
        dough_c=dough.mean_c,
        told=Told(figure=figure),
    )


def roll(work: Work) -> None:
    """Each lot rolled to its size: weight and size together tell the thickness."""
    dough, lead = work.dough, work.job.lead
    thickness = lead.item.thickness_mm
    place, marks = work.place_of(step_keys.ROLL, work.job.setting.bench())
    start_c = dough.mean_c
    per_piece = thin_min(work)
    from_mm = work.job.half_mm if work.job.in_turn else work.from_mm
    typed = work.job.edits.find(step_keys.ROLL, "thickness_mm")
    if typed is not None:
        marks += (work.job.edits.mark(step_keys.ROLL, "thickness_mm", f"{thickness:g}", typed.replaced),)
    set_window(work, start_c, place, per_piece)
    work.thin(from_mm, thickness)
    work.wait(step_keys.ROLL, per_piece, place, work.job.sheet, between=work.job.is_between_sheets)
    ask = f"{_to_size(work)} {passes(from_mm, thickness)} passes, turning each time; {_dusting(work)}"
    window = work.log.window
    if window is None:
        said = "press or roll it between two sheets."
    elif window.minutes is None:
        said = f"it stays below {degrees(window.top_c)}."
    else:
        said = f"from {degrees(start_c)} it has {duration(window.minutes)} to {degrees(window.top_c)}."
    work.add(
        step_keys.ROLL,
        {"roll_look": ask, "window": said},
        at=work.at(place),
        hands_min=(0.5 if work.job.in_turn else 1.0) * work.maker.hands_min(step_keys.ROLL),
        dough_c=dough.mean_c,
        told=Told(figure=work.job.lot.size, says=f"{thickness:g} mm thick", edits=marks),
    )
    if work.job.is_fragile and work.job.chosen["rolled_on"] in ("floured", "mat"):
        said = f"True water {work.job.ratio.true_water:.0f} %, under {FRAGILE_BELOW_PCT:.0f}: it breaks on a floured "
        work.remark(step_keys.ROLL, f"{said}bench. Roll it between two sheets.", 2)


def thin_min(work: Work) -> float:
    """How long a sheet lies thin: half of its rolling, all of its cutting, the lining of one piece. [min]"""
    lead, lot = work.job.lead, work.job.lot
    minutes = ROLLING_MIN / 2 * lot.rolling_share
    if lot.is_sheet:
        minutes += CUTTING_MIN * lead.item.count / sum(each.count for each in work.job.lots if each.piece is lead)
    if lead.item.tin.is_vessel:
        minutes += SMALL_LINING_MIN if lead.item.is_small else LINING_MIN
    elif not lot.is_sheet:
        minutes += LINING_MIN
    return minutes


def _to_size(work: Work) -> str:
    """What is rolled to which size, weight and size together telling the thickness; then what offcuts still make."""
    alike: dict[tuple[str, float], list[Lot]] = {}
    for lot in work.job.lots:
        alike.setdefault((f"{lot.grams:,.0f} g to {lot.size}", lot.piece.item.thickness_mm), []).append(lot)
    said, before = [], 0.0
    for (size, thickness), lots in alike.items():
        count = sum(lot.count for lot in lots)
        # How thick it is is said once for all that follow alike.
        thick = "" if thickness == before else f" ({thickness:g} mm)"
        times = f", {'twice' if count == 2 else f'{count} times'}" if count > 1 else ""
        said.append(f"{size}{thick}{times}{for_what(work, lots)}")
        before = thickness
    text = f"Roll {'; '.join(said)}."
    again = [lot for piece in work.job.pieces for lot in offcut_lots_of(piece)]
    if again:
        sizes = [f"{lot.count} × {lot.size}" if lot.count > 1 else lot.size for lot in again]
        text += f" Then the offcuts, gathered, to {', then '.join(sizes)}."
    return text


def roll_warm(work: Work) -> None:
    """A scalded dough, rolled while it is warm: it stiffens as it cools, where others soften as they warm."""
    dough, lead = work.dough, work.job.lead
    thickness, bench = lead.item.thickness_mm, work.job.setting.bench()
    start_c = dough.mean_c
    left = minutes_to(work.dough.heat, work.job.sheet, start_c, bench.stay(120.0, work.job.room_c), STIFF_C)
    work.thin(work.job.shaped.across_mm, thickness)
    work.wait(step_keys.ROLL_WARM, thin_min(work), bench, work.job.sheet)
    look = f"{_to_size(work)} {passes(work.job.shaped.across_mm, thickness)} passes; the rest stays covered."
    said = f"it stays above {degrees(STIFF_C)}."
    if left is not None:
        said = f"from {degrees(start_c)} the sheet has {duration(left)} to {degrees(STIFF_C)}, where it stiffens."
        if left < thin_min(work):
            work.remark(
                step_keys.ROLL_WARM, f"Rolled, it stiffens in {duration(left)}: one piece at a time, lined at once.", 3
            )
    work.add(
        step_keys.ROLL_WARM,
        {"roll_look": look, "window": said},
        at=work.at(bench),
        dough_c=dough.mean_c,
        told=Told(figure=work.job.lot.size, says=f"{thickness:g} mm thick"),
    )


def _dusting(work: Work) -> str:
    """What keeps it from sticking: by what it is made of, and what it is rolled on."""
    if work.job.rolls_first:
        return "between two sheets, which it is chilled in."
    if work.job.is_between_sheets:
        return (
            "between two sheets, no flour."
            if work.job.chosen["rolled_on"] == "sheets"
            else "fragile: between two sheets, no flour."
        )
    if work.job.chosen["rolled_on"] == "mat":
        half_g = max(1.0, work.job.dust_g / 2)
        return f"on the mat, to its ring of {work.job.lot.size}; {half_g:.0f} g of flour on top only."
    return f"dust with {max(1.0, work.job.dust_g):.0f} g of {work.job.finishes.dust.words}."


def pull_first(work: Work) -> None:
    """Where there are several: each pulled half way and left to rest, while the others are pulled."""
    if not work.job.in_turn:
        return
    bench, hands = work.job.setting.bench(), work.maker.hands_min(step_keys.PULL) / 2
    work.thin(work.job.shaped.across_mm, work.job.half_mm)
    work.wait(step_keys.PULL_FIRST, PULLING_MIN / 2, bench, Body(work.job.half_mm))
    turn_min = max(1.0, hands - PULLING_MIN / 2)
    work.wait(step_keys.REST_TURN, turn_min, bench, Body(work.job.half_mm))
    figures = {"half_mm": f"{work.job.half_mm:.0f}", "turn_min": duration(whole_minutes(turn_min))}
    told = Told(figure=f"{work.job.half_mm:.0f} mm")
    work.add(step_keys.PULL_FIRST, figures, hands_min=hands, at=work.at(bench), dough_c=work.dough.mean_c, told=told)


def pull_out(work: Work) -> None:
    """Pulled over a cloth, thinner than a pin could."""
    dough, lead = work.dough, work.job.lead
    place, share = work.job.setting.bench(), 0.5 if work.job.in_turn else 1.0
    work.thin(work.job.half_mm if work.job.in_turn else work.job.shaped.across_mm, lead.item.thickness_mm)
    work.wait(step_keys.PULL, share * PULLING_MIN, place, work.job.sheet)
    size = work.job.lot.size
    figures = {**work.job.figures, "pull_size": f"{work.job.lot.grams:,.0f} g reach {size}"}
    work.add(
        step_keys.PULL,
        figures,
        hands_min=share * work.maker.hands_min(step_keys.PULL),
        at=work.at(place),
        dough_c=dough.mean_c,
        told=Told(figure=size, says="pulled out"),
    )


def rim(work: Work) -> None:
    """A rim that is tucked under, or sealed to a lid, is finished in the kitchen's own style."""
    tucked = [piece for piece in work.job.pieces if piece.item.trimming == TUCKED]
    edged = work.job.pieces if work.job.kind.filled_mm or work.job.lead.item.cover == LID else tucked
    if not edged:
        return
    metres = sum(piece.item.count * _edge_m(piece) for piece in edged)
    style = work.job.answer("rim")
    figures = {"rim_look": style.look, "rim_why": f"{metres:.1f} m of rim; {style.skill}."}
    work.add(step_keys.RIM, figures, hands_min=max(1.0, style.hands_min * metres))


def _edge_m(piece: Piece) -> float:
    """The length of the edge that is sealed or tucked: round the tin, or round what is closed. [m]"""
    tin = piece.item.tin
    return circumference_mm(tin.of_kind.outline, tuple(top for top, _ in tin.axes())) / 1000


def cut(work: Work) -> None:
    """Pieces cut from their sheets, each to the size that allows for its shrink."""
    sizes: dict[str, int] = {}
    for piece in work.job.pieces:
        for part in piece.parts:
            size = " × ".join(f"{length:.0f}" for length in part.blank_mm) + " mm"
            size = f"Ø {size}" if len(part.blank_mm) == 1 else size
            sizes[size] = sizes.get(size, 0) + piece.item.count
    many = ", ".join(f"{count} of {size}" for size, count in sizes.items())
    item, folded = work.job.lead.item, work.job.folding is not None
    figures = {
        **work.job.figures,
        "cut_size": many,
        "web_mm": f"{item.web_mm:g}",
        # Where it is folded the edge holds the layers shut; what was underneath is cut straightest.
        "trim_first": f"Trim the edges first, {item.margin_mm:g} mm all round. " if folded and item.margin_mm else "",
        "turned": " Turn each piece over onto its tray." if folded else "",
    }
    work.add(step_keys.CUT, figures, told=Told(figure=next(iter(sizes)), says="cut"))


# How pieces of a laminated dough are shaped once they are cut, by their shape; others stay as they are cut.
SHAPINGS = {
    "coil": ("Twist and coil", "Stretch each a little, twist it, coil it, tuck the end under."),
    "triangle": ("Roll up", "Stretch each a little and roll it up from its base to the tip; the tip underneath."),
}


def coil(work: Work) -> None:
    """Shaped after they are cut, where their shape is shaped."""
    shaping = SHAPINGS.get(work.job.lead.item.tin.kind)
    if shaping is None:
        return
    name, look = shaping
    work.add(step_keys.COIL, {"shaping": name, "shaping_look": look}, told=Told(name=name))


def line(work: Work) -> None:
    """Lining, with how much stands proud or hangs over for the shrink."""
    said, figure, says = _trim(work.job.lead)
    each = dict.fromkeys(_trim(piece)[0] for piece in work.job.pieces)
    if len(each) > 1:
        said = " ".join(f"{piece.item.tin.name}: {_trim(piece)[0]}" for piece in work.job.pieces)
    work.add(step_keys.LINE, {"trim_look": said}, told=Told(figure=figure, says=says))


def _trim(piece: Piece) -> tuple[str, str, str]:
    """How a lined piece is trimmed: the sentence, and the figure with what it is."""
    hang = f"{piece.hang_mm:g} mm"
    if piece.item.trimming == FLUSH:
        return f"Trim flush, but leave {hang} proud for the shrink.", hang, "proud of the tin"
    if piece.item.trimming == AFTER:
        return f"Leave {hang} hanging over; it goes after the bake.", hang, "hanging over"
    return f"Tuck the {hang} that hang over under.", hang, "tucked under"


def set_window(work: Work, start_c: float, place: Place, work_min: float) -> None:
    """How long the sheet has on the bench, with what is said where that is too short."""
    if work.job.blend is None or work.job.blend.roll_c is None:
        return
    low, high = work.job.blend.roll_c
    stay = place.stay(120.0, work.job.room_c)
    stay = between_sheets(stay) if work.job.is_between_sheets else stay
    if start_c > high:
        work.log.window = BenchWindow(start_c, high, 0.0, work_min)
        remedy = flat_in_the_freezer(work, start_c)
        work.remark(
            step_keys.ROLL,
            f"Too soft to roll: {degrees(start_c)}, {work.job.fat_name} rolls at {span(low, high)}.{remedy}",
            8,
        )
        return
    minutes = minutes_to(work.dough.heat, work.job.sheet, start_c, stay, high)
    work.log.window = BenchWindow(start_c, high, minutes, work_min)
    if minutes is not None and round(minutes, 1) < round(work_min, 1):
        softens = f"It warms past {degrees(high)} in {duration(minutes)}; "
        if work.job.lot.is_sheet:
            said = f"{softens}rolling and cutting take {duration(work_min)}. "
            said += (
                "Choose “at once, then chill flat”." if work.job.folding is None else "Chill it flat and cut it cold."
            )
        else:
            said = f"{softens}rolling and lining one takes {duration(work_min)}. Take one at a time from the cold."
        work.remark(step_keys.ROLL, said, 3)


def flat_in_the_freezer(work: Work, start_c: float) -> str:
    """What brings a dough that is too soft back: minutes in the freezer, pressed flat to 10 mm."""
    freezer = work.job.setting.freezer()
    if freezer is None or work.job.blend is None or work.job.blend.roll_c is None:
        return " Back to the cold."
    stay = freezer.stay(LONGEST_MIN, work.job.room_c)
    minutes = minutes_to(work.dough.heat, Body(10.0), start_c, stay, sum(work.job.blend.roll_c) / 2)
    return f" {freezer.name}, {duration(whole_minutes(minutes or 0))} pressed flat to 10 mm."

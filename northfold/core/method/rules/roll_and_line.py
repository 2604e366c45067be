"""At the pin: rolling with its window, lining, and stretching over a cloth."""

from collections.abc import Sequence
from dataclasses import replace

from northfold.core.gluten.pull import rolling_pull
from northfold.core.heat.conduction import Body, minutes_to
from northfold.core.heat.places import Place
from northfold.core.method.choices import step_keys
from northfold.core.method.reckon.division import Lot, offcut_lots_of
from northfold.core.method.route.order import rolled_apart
from northfold.core.method.route.step import BenchWindow, Told, Trips
from northfold.core.method.route.work import FRAGILE_BELOW_PCT, LONGEST_MIN, STIFF_C, Work
from northfold.core.method.rules.mix import for_what
from northfold.core.method.rules.trips import (
    BENCH_MIN,
    handling,
    lining_trips,
    trips_of,
    window_min,
    would_fit,
)
from northfold.core.method.words import degrees, duration, span, whole_minutes
from northfold.core.shape.blanks import AFTER, FLUSH, TOPPED, TUCKED, Piece
from northfold.core.shape.outlines import circumference_mm
from northfold.core.shape.rolling import passes


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
    work.wait(
        step_keys.ROLL_FIRST,
        work.maker.one_min(step_keys.ROLL) / 2,
        bench,
        Body(work.job.half_mm),
        between=work.job.is_between_sheets,
    )
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
    from_mm = work.job.half_mm if work.job.in_turn else work.from_mm
    typed = work.job.edits.find(step_keys.ROLL, "thickness_mm")
    if typed is not None:
        marks += (work.job.edits.mark(step_keys.ROLL, "thickness_mm", f"{thickness:g}", typed.replaced),)
    work.log.chilled_flat = _chills_flat(work, start_c, place, thin_min(work))
    thin = thin_min(work)
    settled = work.log.trips
    trips = trips_of(
        work, start_c, place, chilled_flat=work.log.chilled_flat, per_trip=settled.per_trip if settled else 0
    )
    work.log.trips = replace(trips, ahead_min=settled.ahead_min) if trips and settled else trips
    if trips is not None:
        thin = trips.exposed_min
    set_window(work, start_c, place, thin)
    # A lid or strip lies in the cold while its base is rolled.
    work.part = replace(dough)
    work.thin(from_mm, thickness)
    work.wait(step_keys.ROLL, thin, place, work.job.sheet, between=work.job.is_between_sheets)
    apart = rolled_apart(work.job)
    lots = [lot for lot in work.job.lots if apart is None or lot.part.name != apart.name]
    ask = f"{to_size(work, lots)} {passes(from_mm, thickness)} passes, turning each time; {_dusting(work)}"
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
        hands_min=(0.5 if work.job.in_turn else 1.0) * rolling_hands_min(work, lots),
        paced=True,
        dough_c=dough.mean_c,
        told=Told(figure=work.job.lot.size, says=f"{thickness:g} mm thick", edits=marks),
    )
    in_trips(work, step_keys.ROLL, work.log.trips)
    if work.job.is_fragile and work.job.chosen["rolled_on"] in ("floured", "mat"):
        said = f"True water {work.job.ratio.true_water:.0f} %, under {FRAGILE_BELOW_PCT:.0f}: it breaks on a floured "
        work.remark(step_keys.ROLL, f"{said}bench. Roll it between two sheets.", 2)


def in_trips(work: Work, key: str, trips: Trips | None) -> None:
    """The step just written down goes on trip by trip, where its product is worked so."""
    if trips is not None and trips.count > 1 and key in trips.keys:
        work.log.steps[-1] = replace(work.log.steps[-1], trips=trips)


def _chills_flat(work: Work, start_c: float, place: Place, thin: float) -> bool:
    """Whether sheets are chilled flat and cut cold: as chosen, else where they would go soft while they are cut."""
    job = work.job
    if not job.lot.is_sheet or job.in_turn or job.has_oil:
        return False
    if job.folding is not None or job.rolls_first:
        return True
    if job.chosen["cutting"] != "usual":
        return job.chosen["cutting"] == "cold"
    window = window_min(work, start_c, place.stay(BENCH_MIN, job.room_c))
    return window is not None and window < thin


def thin_min(work: Work) -> float:
    """
    How long a sheet lies thin: half of its rolling, all of its cutting, the lining of one piece. [min]

    One that is chilled flat is cut and lined out of the cold again, and is thin for its rolling alone.
    """
    done = handling(work)
    minutes = done.rolling_min / 2
    if work.log.chilled_flat:
        return minutes
    return minutes + done.per_sheet * done.cutting_min + done.lining_min


def rolling_hands_min(work: Work, lots: Sequence[Lot]) -> float:
    """How long hands roll some of the lots: all of them with their offcuts, or a part by itself. [min]"""
    if len(lots) == len(work.job.lots):
        return work.maker.hands_min(step_keys.ROLL)
    count = sum(lot.count for lot in lots)
    one_min = work.maker.one_min(step_keys.ROLL)
    return sum(one_min * lot.rolling_share * lot.count for lot in lots) / min(work.job.setting.hands, count)


def to_size(work: Work, rolled: Sequence[Lot]) -> str:
    """What is rolled to which size, weight and size together telling the thickness; then what offcuts still make."""
    alike: dict[tuple[str, float], list[Lot]] = {}
    for lot in rolled:
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
    look = (
        f"{to_size(work, work.job.lots)} {passes(work.job.shaped.across_mm, thickness)} passes; the rest stays covered."
    )
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
    work.wait(step_keys.PULL_FIRST, work.maker.one_min(step_keys.PULL) / 2, bench, Body(work.job.half_mm))
    turn_min = max(1.0, hands - work.maker.one_min(step_keys.PULL) / 2)
    work.wait(step_keys.REST_TURN, turn_min, bench, Body(work.job.half_mm))
    figures = {"half_mm": f"{work.job.half_mm:.0f}", "turn_min": duration(whole_minutes(turn_min))}
    told = Told(figure=f"{work.job.half_mm:.0f} mm")
    work.add(step_keys.PULL_FIRST, figures, hands_min=hands, at=work.at(bench), dough_c=work.dough.mean_c, told=told)


def pull_out(work: Work) -> None:
    """Pulled over a cloth, thinner than a pin could."""
    dough, lead = work.dough, work.job.lead
    place, share = work.job.setting.bench(), 0.5 if work.job.in_turn else 1.0
    work.thin(work.job.half_mm if work.job.in_turn else work.job.shaped.across_mm, lead.item.thickness_mm)
    work.wait(step_keys.PULL, share * work.maker.one_min(step_keys.PULL), place, work.job.sheet)
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
    edged = work.job.pieces if work.job.kind.filled_mm or work.job.lead.item.cover in TOPPED else tucked
    if not edged:
        return
    metres = sum(piece.item.count * _edge_m(piece) for piece in edged)
    style = work.job.answer("rim")
    figures = {"rim_look": style.look, "rim_why": f"{metres:.1f} m of rim; {style.skill}."}
    work.add(step_keys.RIM, figures, hands_min=max(1.0, style.hands_min * metres))


def _edge_m(piece: Piece) -> float:
    """The length of the edge that is sealed or tucked: round the tin, or round what is closed. [m]"""
    tin = piece.item.tin
    return circumference_mm(tin.of_kind.outline, tin.outer_mm) / 1000


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
    trips = _out_to_be_lined(work, step_keys.LINE)
    work.add(step_keys.LINE, {"trim_look": said}, told=Told(figure=figure, says=says))
    in_trips(work, step_keys.LINE, trips)


def line_base(work: Work, key: str) -> None:
    """A base laid into its tin or tray, as its texts say, in the trips that it is rolled in."""
    trips = _out_to_be_lined(work, key)
    work.add(key, work.job.figures)
    in_trips(work, key, trips)


def _out_to_be_lined(work: Work, key: str) -> Trips | None:
    """The trips in which pieces are lined; cut cold, each comes out of the cold once more for that."""
    if not work.log.chilled_flat:
        return work.log.trips
    trips = lining_trips(work, key)
    if trips is not None:
        place = work.place_of(step_keys.ROLL, work.job.setting.bench())[0]
        work.wait(key, trips.exposed_min, place, work.job.sheet)
    return trips


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
    if start_c > high:
        work.log.window = BenchWindow(start_c, high, 0.0, work_min)
        remedy = flat_in_the_freezer(work, start_c)
        work.remark(
            step_keys.ROLL,
            f"Too soft to roll: {degrees(start_c)}, {work.job.fat_name} rolls at {span(low, high)}.{remedy}",
            8,
        )
        return
    minutes = window_min(work, start_c, place.stay(BENCH_MIN, work.job.room_c))
    work.log.window = BenchWindow(start_c, high, minutes, work_min)
    # What is sheeted at once goes soft between its sheets, and is then chilled.
    if minutes is not None and round(minutes, 1) < round(work_min, 1) and not work.job.rolls_first:
        what = (
            "rolling"
            if work.log.chilled_flat
            else "rolling and cutting"
            if work.job.lot.is_sheet
            else "rolling and lining"
        )
        cures = would_fit(work, start_c, place, work_min)
        work.log.window = replace(work.log.window, cures=cures)
        said = f"Too soft in {duration(minutes)}; {what} one takes {duration(work_min)}."
        work.remark(step_keys.ROLL, f"{said} {cures[0] if cures else 'Wait for a cooler room.'}", 3)


def flat_in_the_freezer(work: Work, start_c: float) -> str:
    """What brings a dough that is too soft back: minutes in the freezer, pressed flat to 10 mm."""
    freezer = work.job.setting.freezer()
    if freezer is None or work.job.blend is None or work.job.blend.roll_c is None:
        return " Back to the cold."
    stay = freezer.stay(LONGEST_MIN, work.job.room_c)
    minutes = minutes_to(work.dough.heat, Body(10.0), start_c, stay, sum(work.job.blend.roll_c) / 2)
    return f" {freezer.name}, {duration(whole_minutes(minutes or 0))} pressed flat to 10 mm."

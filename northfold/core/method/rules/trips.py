"""What of a product is out of the cold at once, and what would make it more where not even one piece fits."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

from northfold.core.heat.conduction import Body, Face, Stay, conduct, minutes_to
from northfold.core.heat.places import Place, between_sheets, place_kinds
from northfold.core.method.choices import step_keys
from northfold.core.method.reckon.division import USUAL_DISC_MM, Lot, lots_of
from northfold.core.method.reckon.trips import exposed_min, pieces_per_trip
from northfold.core.method.route.step import Trips
from northfold.core.method.route.work import LONGEST_MIN, Work
from northfold.core.method.words import degrees, duration, whole_minutes
from northfold.core.shape.blanks import STRIP

# What is rolled in the time that the table gives. [mm²]
USUAL_DISC_MM2 = math.pi / 4 * USUAL_DISC_MM**2
# The longest that a sheet on the bench is looked at. [min]
BENCH_MIN = 120.0
# Thicker sheets are tried up to this, in such steps. [mm] Assumption.
THICKEST_TRIED_MM, THICKER_MM = 8.0, 0.5
# A room is looked for down to this. [°C] Assumption.
COOLEST_C = 10
# The steps that a trip goes through, one right after the other.
LINED = (step_keys.LINE, step_keys.LINE_BASE, step_keys.LAY)


@dataclass(frozen=True)
class Handling:
    """What a product takes at the bench: its lots, rolling of one, cutting and lining of each piece of it. [min]"""

    lots: tuple[Lot, ...]
    rolling_min: float
    cutting_min: float
    lining_min: float
    pieces: int

    @property
    def from_sheet(self) -> bool:
        return self.lots[0].is_sheet

    @property
    def per_sheet(self) -> int:
        """How many pieces come from one lot."""
        return max(1, round(self.pieces / sum(lot.count for lot in self.lots)))

    @property
    def each_min(self) -> float:
        """[min]"""
        return self.cutting_min + self.lining_min


def handling(work: Work) -> Handling:
    """What the product that everything goes by takes at the bench: of parts the one that lies in the tin."""
    lead = work.job.lead
    lots = tuple(lot for lot in lots_of(lead) if lot.part is lead.parts[0])
    lining = 0.0
    if lead.item.tin.is_vessel:
        lining = work.maker.one_min(step_keys.LINE, is_small=lead.item.is_small)
    elif not lots[0].is_sheet:
        lining = work.maker.one_min(step_keys.LINE)
    cutting = work.maker.one_min(step_keys.CUT, is_small=True) if lots[0].is_sheet else 0.0
    largest = max(lots, key=lambda lot: lot.rolling_share)
    return Handling(lots, work.maker.one_min(step_keys.ROLL) * largest.rolling_share, cutting, lining, lead.item.count)


def window_min(
    work: Work, start_c: float, stay: Stay, *, body: Body | None = None, between: bool | None = None
) -> float | None:
    """How long a sheet that starts so warm stays workable in a place [°C]; None for good. [min]"""
    blend = work.job.blend
    if blend is None or blend.roll_c is None:
        return None
    if start_c >= blend.roll_c[1]:
        return 0.0
    between = work.job.is_between_sheets if between is None else between
    stay = between_sheets(stay) if between else stay
    asked = (start_c, stay, body or work.job.sheet)
    if asked not in work.windows:
        work.windows[asked] = minutes_to(work.dough.heat, asked[2], start_c, stay, blend.roll_c[1])
    return work.windows[asked]


def trips_of(
    work: Work, start_c: float, place: Place, *, chilled_flat: bool = False, per_trip: int = 0
) -> Trips | None:
    """
    The trips in which a product is rolled and lined; None where it is not worked in trips.

    Parameters
    ----------
    work : Work
        Before the rolling.
    start_c : float
        How warm a piece leaves the cold, tempered no further than it needs to roll. [°C]
    place : Place
        The bench.
    chilled_flat : bool
        Whether sheets are chilled flat and cut cold: a sheet is then a piece, thin for half of its rolling.
    per_trip : int
        How many are out at once, where that is settled; else as many as fit.
    """
    job, done = work.job, handling(work)
    if job.in_turn or job.folding is not None or not job.kind.rolls:
        return None
    window = window_min(work, start_c, place.stay(BENCH_MIN, job.room_c))
    sheets = sum(lot.count for lot in done.lots)
    hands = min(job.setting.hands, sheets)
    if done.from_sheet:
        # A sheet at a time; cut at once or cold.
        each = 0.0 if chilled_flat else done.each_min
        most = done.per_sheet
        fits = pieces_per_trip(window, done.rolling_min, each, most, hands, from_sheet=True)
        exposed = exposed_min(done.rolling_min, each, most, hands, from_sheet=True)
        minutes, half = _each_min(work, step_keys.ROLL, done.rolling_min, sheets, hands), done.rolling_min / 2
        found = Trips("sheet", sheets, 1, sheets, minutes, exposed, window, fits >= most, (step_keys.ROLL,))
        return replace(found, waits_in=job.setting.cold_place().name, half_min=half)
    fits = pieces_per_trip(window, done.rolling_min, done.lining_min, sheets, hands, from_sheet=False)
    per_trip = per_trip or max(1, fits)
    exposed = exposed_min(done.rolling_min, done.lining_min, per_trip, hands, from_sheet=False)
    # A strip is rolled before anything is lined.
    lined = () if job.lead.item.cover == STRIP else tuple(key for key in LINED if key in job.kind.steps)
    rolled_min = _each_min(work, step_keys.ROLL, done.rolling_min, sheets, hands)
    minutes = per_trip * rolled_min + per_trip * _each_min(
        work, lined[0] if lined else "", done.lining_min, sheets, hands
    )
    count = -(-sheets // per_trip)
    half = done.rolling_min / 2
    noun = "base" if job.lead.item.has_lid else "piece"
    found = Trips(noun, sheets, per_trip, count, minutes, exposed, window, fits >= per_trip, (step_keys.ROLL, *lined))
    return replace(found, waits_in=job.setting.cold_place().name, half_min=half, lined_from_min=rolled_min * hands)


def _each_min(work: Work, key: str, usual_min: float, count: int, hands: int) -> float:
    """How long a step takes for one of so many pieces: its maker's own minutes shared out, else the usual. [min]"""
    typed = work.job.edits.number(key, "hands_min") if key else None
    return usual_min / hands if typed is None else typed / count


def lining_trips(work: Work, key: str = step_keys.LINE) -> Trips | None:
    """The trips in which discs that were cut cold are lined, a few out of the cold at a time."""
    job, done, place = work.job, handling(work), work.place_of(step_keys.ROLL, work.job.setting.bench())[0]
    blend = job.blend
    if not done.lining_min or blend is None or blend.roll_c is None:
        return None
    start_c = max(work.dough.mean_c, blend.roll_c[0])
    window, hands = window_min(work, start_c, place.stay(BENCH_MIN, job.room_c)), min(job.setting.hands, done.pieces)
    fits = pieces_per_trip(window, 0.0, done.lining_min, done.pieces, hands, from_sheet=True)
    each = max(1, fits)
    exposed = exposed_min(0.0, done.lining_min, each, hands, from_sheet=True)
    minutes = each * _each_min(work, key, done.lining_min, done.pieces, hands)
    count, half = -(-done.pieces // each), 0.0
    found = Trips("disc", done.pieces, each, count, minutes, exposed, window, fits > 0, (key,))
    return replace(found, waits_in=job.setting.cold_place().name, half_min=half)


def largest_sheet(work: Work) -> tuple[float, float] | None:
    """
    The largest sheet that is rolled before it goes soft, length × width [mm].

    None where what the bench holds is no larger, or not even one piece would fit on less.
    """
    job, window = work.job, work.log.window
    if not job.lot.is_sheet or job.folding is not None or job.rolls_first or window is None or window.minutes is None:
        return None
    area = USUAL_DISC_MM2 * window.minutes / (work.maker.one_min(step_keys.ROLL) / 2)
    if job.lot.area_mm2 <= area or not area:
        return None
    most = job.setting.sheet_mm
    width = min(*most, math.sqrt(area))
    length = min(max(most), area / width)
    least = max(job.lot.part.blank_mm) + 2 * job.lead.item.margin_mm
    return (length, width) if width >= least else None


def would_fit(work: Work, start_c: float, place: Place, needed_min: float) -> tuple[str, ...]:
    """What would make one piece fit its window, each with its number; what helps nothing is left out. [°C, min]"""
    return tuple(_remedies(work, start_c, place, needed_min))


def _remedies(work: Work, start_c: float, place: Place, needed_min: float) -> Iterator[str]:
    job, done, room_c = work.job, handling(work), work.job.room_c
    stay = place.stay(BENCH_MIN, room_c)
    bare = done.rolling_min / 2
    window = window_min(work, start_c, stay)
    if window is not None and bare <= window and done.each_min:
        cold = job.setting.cold_place().stay(LONGEST_MIN, room_c)
        soft_c = _after(work, start_c, stay, bare)
        back = minutes_to(work.dough.heat, job.sheet, soft_c, cold, start_c)
        if back is not None:
            work_name = (
                "cut and line" if done.cutting_min and done.lining_min else "cut" if done.cutting_min else "line"
            )
            yield f"Roll it, chill it flat for {duration(max(1, whole_minutes(back)))}, then {work_name} it."
    marble, fridge_c = place_kinds()["bench_marble"], job.setting.cold_place().temperature_c(room_c)
    stone = window_min(work, start_c, Stay(BENCH_MIN, Face(room_c, marble.above), Face(fridge_c, marble.below)))
    if _fits(stone, needed_min):
        yield f"On marble out of the fridge: {_long(stone)}."
    if not job.is_between_sheets:
        sheets = window_min(work, start_c, stay, between=True)
        if _fits(sheets, needed_min):
            yield f"Between two sheets: {_long(sheets)}."
    if done.from_sheet and job.setting.hands == 1:
        two = exposed_min(done.rolling_min / 2, done.each_min, done.per_sheet, 2, from_sheet=True)
        if _fits(window, two):
            yield f"With two pairs of hands it takes {duration(two)}."
    thick = _thick_enough(work, start_c, stay, needed_min)
    if thick:
        yield f"Rolled {thick:g} mm thick it stays firm long enough."
    room = next(
        (c for c in range(int(room_c), COOLEST_C - 1, -1) if _fits_in_room(work, start_c, place, c, needed_min)), None
    )
    if room is not None:
        yield f"In a room of {degrees(float(room))} or less, early in the day."


def _fits_in_room(work: Work, start_c: float, place: Place, room_c: float, needed_min: float) -> bool:
    return _fits(window_min(work, start_c, place.stay(BENCH_MIN, room_c)), needed_min)


def _thick_enough(work: Work, start_c: float, stay: Stay, needed_min: float) -> float:
    """The least thickness that stays workable so long; 0 for none. [mm]"""
    thick = work.job.sheet.across_mm + THICKER_MM
    while thick <= THICKEST_TRIED_MM:
        if _fits(window_min(work, start_c, stay, body=Body(thick)), needed_min):
            return thick
        thick += THICKER_MM
    return 0.0


def _after(work: Work, start_c: float, stay: Stay, minutes: float) -> float:
    """How warm a sheet is after so many minutes on the bench. [°C]"""
    stay = between_sheets(stay) if work.job.is_between_sheets else stay
    return conduct(work.dough.heat, work.job.sheet, start_c, replace(stay, minutes=max(minutes, 0.01))).mean_c[-1]


def _fits(window: float | None, needed_min: float) -> bool:
    return window is None or window >= needed_min


def _long(minutes: float | None) -> str:
    return "it never goes soft" if minutes is None else f"it has {duration(minutes)}"

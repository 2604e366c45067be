"""What is asked of the cold, answered with a range: how cold, how long, how much, and what would buy more."""

from collections.abc import Sequence
from dataclasses import dataclass

from northfold.core.gluten.pull import HOLDS_FROM, SPRING_BACK, oven_shrink
from northfold.core.heat.conduction import BALL, CYLINDER, SLAB, Body, Face, Stay, minutes_to
from northfold.core.heat.dough_heat import DoughHeat
from northfold.core.heat.mixing import FRICTION_FIRST, FRICTION_SD
from northfold.core.heat.places import FILM_SD, between_sheets, place_kinds
from northfold.core.method.advice.less_shrink import Change, changes
from northfold.core.method.advice.rolled_dough import RolledDough, rolled_dough_of
from northfold.core.method.choices import step_keys
from northfold.core.method.plan import Plan
from northfold.core.method.reckon.cold_form import DISC, in_two, shaped
from northfold.core.method.reckon.mixing import Mixing
from northfold.core.method.rules import wait_reasons
from northfold.core.method.words import degrees, duration, span

# The longest wait that is looked at, in the cold and on the bench. [min]
COLD_MIN, BENCH_MIN = 720.0, 120.0
# Flat, for the cold. [mm] Assumption.
FLAT_MM = 12.0
# Mean to face, as a share of half the thickness or of the radius: how far heat goes inside. For the range alone.
_INSIDE = {SLAB: 1 / 3, CYLINDER: 1 / 4, BALL: 1 / 5}


@dataclass(frozen=True)
class Timed:
    """Minutes with their range [min]; None where the temperature is not reached."""

    minutes: float | None
    low: float | None = None
    high: float | None = None

    @property
    def says(self) -> str:
        if self.minutes is None:
            return "never"
        return "no time" if self.minutes <= 0 else duration(rounded(self.minutes))

    @property
    def spread(self) -> str:
        if not self.minutes or self.low is None or self.high is None:
            return ""
        return between(rounded(self.low), rounded(self.high))


def between(low: float, high: float) -> str:
    """A range of minutes as it is said: 10 to 19 min. [min]"""
    if low == high:
        return duration(low)
    return f"{low:g} to {high:g} min" if high < 60 else f"{duration(low)} to {duration(high)}"


def rounded(minutes: float) -> float:
    """Minutes without false digits: to 0.5 under 5, to 1 under 20, else to 5. [min]"""
    step = 0.5 if minutes < 5 else 1 if minutes < 20 else 5
    return round(minutes / step) * step


def timed(heat: DoughHeat, body: Body, start_c: float | Sequence[float], stay: Stay, to_c: float, sd: float) -> Timed:
    """
    How long a piece takes to a temperature, with the range that the film coefficients leave.

    Parameters
    ----------
    heat, body, start_c, stay, to_c : as in `minutes_to`
        [mm, °C, min]
    sd : float
        How sure the film coefficients are. [share]

    Returns
    -------
    Timed
        [min] The range follows from the films and the way inside in series, at a mean conductivity.
    """
    minutes = minutes_to(heat, body, start_c, stay, to_c)
    if not minutes:
        return Timed(minutes)
    below, above = body.meets(stay)
    film = (below.film_w_m2_k + above.film_w_m2_k) / 2
    inside = _INSIDE[body.shape] * body.across_mm / 2000 / heat.conductivity_w_m_k[len(heat.conductivity_w_m_k) // 4]
    low, high = ((1 / (film * times) + inside) / (1 / film + inside) for times in (1 + sd, 1 - sd))
    return Timed(minutes, low * minutes, high * minutes)


@dataclass(frozen=True)
class Answer:
    """An answer in words: the question, what is so, its range, what is taken for granted."""

    key: str
    question: str
    says: str
    spread: str
    assumes: str


@dataclass(frozen=True)
class ChillTable:
    """Minutes to the middle of the roll range, by form and place. [°C, min]"""

    from_c: float
    to_c: float
    places: tuple[str, ...]
    rows: tuple[tuple[str, tuple[Timed, ...]], ...]


@dataclass(frozen=True)
class Window:
    """How long the rolled sheet stays workable on a surface. [min]"""

    name: str
    time: Timed
    is_planned: bool


@dataclass(frozen=True)
class Answers:
    """All answers of the cold for one plan."""

    said: tuple[Answer, ...]
    chill: ChillTable | None
    windows: tuple[Window, ...]
    changes: tuple[Change, ...]


def answers(plan: Plan) -> Answers:
    """Everything that is asked of the cold, from one plan. Empty where the dough has no steps or no crumb."""
    mixing, dough = plan.mixing, rolled_dough_of(plan)
    said = [how_cold(mixing)] if mixing and mixing.good_to_c is not None else []
    if dough is None:
        return Answers(tuple(said), None, (), ())
    if dough.roll_c and not dough.rolls_first:
        said.append(how_long_to_temper(dough))
    said.append(is_it_rested(dough))
    chill = None if dough.rolls_first else chill_table(dough)
    return Answers(tuple(said), chill, windows(dough), changes(dough))


def how_cold(mixing: Mixing) -> Answer:
    """How cold flour, fat and liquid go in, and what the crumb would be if the work warmed it more or less."""
    told = f"Flour {degrees(mixing.flour_c)}, fat {degrees(mixing.fat_c)}"
    if mixing.liquid_c is not None and not mixing.refusal:
        told += f", liquid {degrees(mixing.liquid_c)}"
    lead = "Not as it stands. " if mixing.is_spoiled else ""
    off = FRICTION_FIRST * FRICTION_SD * mixing.friction_k
    return Answer(
        "how_cold",
        "How cold must flour, fat and liquid be?",
        f"{lead}{told}: crumb {degrees(mixing.crumb_c)}, good up to {degrees(mixing.good_to_c or 0)}.",
        f"crumb {span(mixing.crumb_c - off, mixing.crumb_c + off)}",
        f"Working it warms it by about {degrees(mixing.friction_k)}, within {100 * FRICTION_SD:.0f} %, four fifths "
        "of that before the liquid goes in. A dough you probe replaces this.",
    )


def how_long_to_temper(dough: RolledDough) -> Answer:
    """How long a dough that is cold through takes to where it rolls without cracking."""
    low = dough.roll_c[0] if dough.roll_c else 0.0
    cold, bench = dough.setting.cold_place(), dough.setting.bench()
    start_c = cold.temperature_c(dough.room_c)
    found = timed(dough.heat, dough.shaped.body, start_c, bench.stay(COLD_MIN, dough.room_c), low, bench.film_sd)
    if found.minutes is None:
        says = f"On {bench.name} it never warms to {degrees(low)}: the room is too cold."
    elif not found.minutes:
        says = f"None: out of {cold.name} it is {degrees(start_c)}, and it rolls from {degrees(low)}."
    else:
        planned = dough.step(step_keys.TEMPER)
        after = f" After the rest as planned: {duration(planned.wait_min)}." if planned else ""
        says = (
            f"{found.says} on {bench.name} after a night in {cold.name}: {degrees(start_c)} to {degrees(low)}.{after}"
        )
    return Answer(
        "temper",
        "How long must it temper to roll without cracking?",
        says,
        found.spread,
        f"Cold through; {place_kinds()[bench.kind].name} heats and cools as its kind does, within "
        f"{100 * bench.film_sd:.0f} %.",
    )


def is_it_rested(dough: RolledDough) -> Answer:
    """Whether the dough is rested for the pin and for the oven, and has drunk."""
    question, route = "Is it rested?", dough.route
    if not route.gluten:
        says = "Without gluten nothing pulls back; it needs its binder, and time to absorb."
        return Answer("rested", question, says, "", "")
    adds = dough.rolling_adds
    held = dough.first_rolled.pull_from.total - adds
    hold, left = route.shrink[0].hold, dough.pull_after(step_keys.CHILL).total
    later = dough.pull_after_longer(step_keys.CHILL, wait_reasons.WORTH_MIN).total
    saves = oven_shrink(dough.true_water, left, hold) - oven_shrink(dough.true_water, later, hold)
    rolling = (
        f"Not for rolling: {held:.0f} held and {adds:.0f} from the pin pass {SPRING_BACK:.0f}, where it springs back."
        if held + adds > SPRING_BACK
        else f"For rolling, yes: {held:.0f} held and {adds:.0f} from the pin stay under {SPRING_BACK:.0f}."
    )
    ready = saves <= wait_reasons.WORTH_PCT
    oven = f"For the oven, {'yes' if ready else 'not yet'}: ten more minutes would save {saves:.2f} % of shrink."
    drunk = route.traced[-1].drunk[-1]
    word = "it holds" if drunk >= HOLDS_FROM else f"under {100 * HOLDS_FROM:.0f} % it crumbles"
    return Answer(
        "rested",
        question,
        f"{rolling} {oven}",
        f"{100 * drunk:.0f} % of the water is absorbed by then: {word}.",
        "From how gluten relaxes: half of its pull in some 5 min, half in 50 at 20 °C. Your measured shrink scales it.",
    )


def chill_table(dough: RolledDough) -> ChillTable | None:
    """How long the dough takes from mixing to the middle of its roll range, by form and place."""
    if dough.middle_c is None:
        return None
    now, heat, start_c, to_c = dough.shaped, dough.heat, dough.mixing.dough_c, dough.middle_c
    density, setting = heat.density_kg_m3, dough.setting
    planned = f"as planned: {now.noun}, {now.across_mm:.0f} mm" + (f", in {now.parts}" if now.parts > 1 else "")
    forms = {planned: now.body, f"flat, {FLAT_MM:g} mm": shaped(DISC, FLAT_MM, 1, dough.lot_g, density).body}
    if now.form == DISC and now.parts == 1:
        forms["in two discs"] = in_two(now, density).body
    forms["a ball"] = shaped(BALL, None, 1, dough.lot_g, density).body
    cold = [place for place in setting.places if place.is_cold] or [setting.cold_place()]
    stays = [(place.name, place.stay(COLD_MIN, dough.room_c), place.film_sd) for place in cold]
    first = setting.cold_place()
    boxed = first.in_air(COLD_MIN, dough.room_c)
    if boxed != first.stay(COLD_MIN, dough.room_c):
        stays.append((f"{first.name}, boxed", boxed, first.film_sd))
    rows = tuple(
        (name, tuple(timed(heat, body, start_c, stay, to_c, sd) for _, stay, sd in stays))
        for name, body in forms.items()
    )
    return ChillTable(start_c, to_c, tuple(name for name, _, _ in stays), rows)


def windows(dough: RolledDough) -> tuple[Window, ...]:
    """How long the rolled sheet stays workable: on each bench, between sheets, on a stone from the fridge."""
    window, roll_c, room = dough.route.window, dough.roll_c, dough.room_c
    if window is None or roll_c is None:
        return ()
    planned, marble, fridge = dough.place_of(step_keys.ROLL), place_kinds()["bench_marble"], dough.setting.cold_place()
    cold_c = fridge.temperature_c(room)
    benches = [place for place in dough.setting.places if not place.is_cold or place == planned] or [planned]
    found = [(place.name, place.stay(BENCH_MIN, room), place == planned, place.film_sd) for place in benches]
    found.append((f"{planned.name}, between two sheets", between_sheets(planned.stay(BENCH_MIN, room)), False, FILM_SD))
    stone = Stay(BENCH_MIN, Face(room, marble.above), Face(cold_c, marble.below))
    found.append((f"marble out of {fridge.name}, {degrees(cold_c)}", stone, False, FILM_SD))
    return tuple(
        Window(name, timed(dough.heat, dough.sheet, window.start_c, stay, roll_c[1], sd), here)
        for name, stay, here, sd in found
    )

"""Ways to have the dough rollable by a wanted time, with what each costs and risks."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from northfold.core.gluten.pull import Pull
from northfold.core.heat.conduction import Trace, conduct
from northfold.core.heat.places import Place
from northfold.core.method import asks
from northfold.core.method.answers import COLD_MIN, FLAT_MM
from northfold.core.method.beforehand import chill_min
from northfold.core.method.case import Case
from northfold.core.method.course import REASONS, Ask
from northfold.core.method.edits import Take
from northfold.core.method.mixing import Mixing
from northfold.core.method.shaping import DISC, Shaped, in_two, shaped
from northfold.core.method.words import degrees, duration, whole_minutes

# Hands that a way costs, for each piece or once. [min] Assumptions.
FLATTEN_MIN, DIVIDE_MIN, FLOUR_MIN = 0.5, 1.0, 3.0
WAYS = 3
# A wanted time unless one is named. [min]
WANTED_MIN = 30.0
WANTED_RANGE_MIN = (1.0, 24 * 60.0)


@dataclass(frozen=True)
class Way:
    """
    One way to have the dough rollable: minutes after the mixing [min], the one reason that sets them, hands [min].

    `late_min` is by how much it misses the wanted time. [min] `needs` what has to be done, `risk` what may go wrong,
    `takes` the edits that choose it.
    """

    key: str
    name: str
    minutes: float
    reason: str
    hands_min: float
    late_min: float
    risk: str
    takes: Take

    @property
    def reason_name(self) -> str:
        return REASONS[self.reason]


def ways_there(case: Case, wanted_min: float) -> tuple[Way, ...]:
    """
    The three cheapest ways to have the dough rollable by a time.

    Parameters
    ----------
    case : Case
        As planned; how it stands is not among the ways.
    wanted_min : float
        Minutes after the mixing. [min]

    Returns
    -------
    tuple of Way
        Those in time first, by hands and then by minutes; filled up with the least late. None where its fat is oil or
        no place brings it down. Rollable is: rested for the pin, holding its water, and at the middle of its roll
        range.
    """
    if case.roll_c is None:
        return ()
    fridge, freezer = case.setting.cold_place(), case.setting.freezer()
    now, density, count = case.shaped, case.heat.density_kg_m3, case.lead.item.count
    flat = shaped(DISC, FLAT_MM, now.parts, case.lead, density)
    halves = in_two(now, case.lead, density) if now.form == DISC and now.parts < 3 else None
    found = []

    def add(key: str, name: str, body: Shaped, place: Place, hands: float, risk: str, takes: Take) -> None:
        way = _way(case, key, name, body, place, hands, risk, takes, case.mixing)
        if way is not None:
            found.append(replace(way, late_min=max(0.0, way.minutes - wanted_min)))

    is_flat = now.form == DISC and now.across_mm <= FLAT_MM
    flatten: Take = (("shape", "form", DISC), ("shape", "thickness_mm", f"{FLAT_MM:g}"))
    if not is_flat:
        wide = f"Flat it dries at the edge and takes {_times(flat, now):.1f} times the shelf: wrap it."
        add("flat", f"flat at {FLAT_MM:g} mm in {fridge.name}", flat, fridge, FLATTEN_MIN * count, wide, flatten)
    if freezer is not None:
        into: Take = (("rest.1", "place", freezer.key),)
        add("freezer", f"as it is, in {freezer.name}", now, freezer, 0.0, "", into)
        if not is_flat:
            both = f"flat at {FLAT_MM:g} mm in {freezer.name}"
            add("flat_freezer", both, flat, freezer, FLATTEN_MIN * count, "", (*flatten, *into))
    if halves is not None:
        divide: Take = (
            ("shape", "parts", f"{halves.parts}"),
            ("shape", "thickness_mm", f"{halves.across_mm:g}"),
        )
        joined = "One piece from two discs: lay them 20 mm over each other and roll as one, or patch."
        add("halves", f"in two discs, in {fridge.name}", halves, fridge, DIVIDE_MIN * count, joined, divide)
    colder = _colder_flour(case, fridge)
    if colder is not None:
        found.append(replace(colder, late_min=max(0.0, colder.minutes - wanted_min)))
    in_time = sorted((way for way in found if not way.late_min), key=lambda way: (way.hands_min, way.minutes))
    late = sorted((way for way in found if way.late_min), key=lambda way: way.late_min)
    return tuple((in_time + late)[:WAYS])


def _times(one: Shaped, other: Shaped) -> float:
    """How many times the shelf of the other one takes, of the same dough."""
    return other.across_mm / one.across_mm


def _asked(case: Case, trace: Trace, pull: Pull) -> Ask | None:
    """What asks the longest before it can be rolled, along a trace; None where one is never met."""
    wanted: Sequence[Ask] = (
        asks.pull_before_rolling(pull, case.rolling_adds, trace) if case.course.gluten else asks.NO_GLUTEN,
        asks.drinking(case.course.drink_min, (), trace),
        asks.cool_to_roll(case.blend, trace),
    )
    if any(ask.minutes is None for ask in wanted):
        return None
    return max(wanted, key=lambda ask: ask.minutes or 0.0)


def _way(
    case: Case, key: str, name: str, body: Shaped, place: Place, hands: float, risk: str, takes: Take, mixing: Mixing
) -> Way | None:
    stay = place.stay(COLD_MIN, case.room_c)
    trace = conduct(case.heat, body.body, mixing.dough_c, stay, samples=96)
    asked = _asked(case, trace, case.mixed_pull)
    if asked is None:
        return None
    minutes = whole_minutes(asked.minutes or 0.0)
    said = _brittle(case, trace, place, minutes) or risk
    return Way(key, name, minutes, asked.reason, hands, 0.0, said, takes)


def _brittle(case: Case, trace: Trace, place: Place, minutes: float) -> str:
    """What the freezer does to the rim by then."""
    brittle_c = case.blend.brittle_below_c if case.blend else None
    if not place.is_freezer:
        return ""
    if brittle_c is not None:
        passed = asks.falls_to(brittle_c, trace.minutes, trace.surface_c)
        if passed is not None and passed <= minutes:
            return (
                f"Its face is brittle, below {degrees(brittle_c)}, from {duration(max(1, round(passed)))} on while the "
                "middle is still soft: turn it, and let it even out for 5 min before the pin."
            )
    return "Forgotten there it freezes hard and rests no more: set the timer."


def _colder_flour(case: Case, fridge: Place) -> Way | None:
    """Flour out of the fridge, and the dough wanted in the middle of its roll range already."""
    if case.middle_c is None or case.mixing.flour_c <= fridge.temperature_c(case.room_c) + 1:
        return None
    flour_c = fridge.temperature_c(case.room_c)
    takes: Take = (("mix", "flour_c", f"{flour_c:g}"), ("mix", "dough_c", f"{case.middle_c:g}"))
    mixed = case.mixed_with(takes)
    flour = [line for line in case.plan.inputs.lines if line.ingredient.role == "flour" and line.grams]
    ahead = chill_min(flour, case.room_c, flour_c + 1, fridge, case.room_c)
    if mixed.is_spoiled or not flour or mixed.dough_c > case.mixing.dough_c - 0.5:
        return None
    before = f", {duration(ahead)} before" if ahead else " the night before"
    risk = f"Only for the next mix: the flour goes into {fridge.name} on a tray{before}."
    name = f"flour from {fridge.name}: dough {degrees(mixed.dough_c)}"
    return _way(case, "flour", name, case.shaped, fridge, FLOUR_MIN, risk, takes, mixed)

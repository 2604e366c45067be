"""What a hot kitchen does not allow today, said plainly, with what goes into the cold beforehand instead."""

from dataclasses import dataclass

from northfold.core.method.advice.rolled_dough import RolledDough
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Take
from northfold.core.method.reckon.tempering import chill_min, cold_enough
from northfold.core.method.words import degrees, duration, span


@dataclass(frozen=True)
class NotToday:
    """Something that today's heat does not allow, with its number; what to do instead, and the edits for it."""

    key: str
    what: str
    instead: str
    takes: Take = ()
    take_name: str = ""


def not_today(dough: RolledDough) -> tuple[NotToday, ...]:
    """What cannot be done in this kitchen at its temperature, worst first. Nothing in a cool one."""
    found = [_crumb(dough), _dough(dough), _no_cold(dough), _bench(dough), _room(dough)]
    return tuple(each for each in found if each is not None)


def _crumb(dough: RolledDough) -> NotToday | None:
    mixing, setting = dough.mixing, dough.setting
    if not mixing.is_spoiled:
        return None
    what = (
        f"{mixing.method_name.capitalize()} with flour at {degrees(mixing.flour_c)} and fat at {degrees(mixing.fat_c)}:"
        f" the crumb comes to {degrees(mixing.crumb_c)}, and above {degrees(mixing.spoils_from_c or 0)} the fat smears."
    )
    would = next((lever.would_do_c for lever in mixing.levers if lever.name == "flour"), None)
    to_c = would if would is not None else setting.cold_place().temperature_c(dough.room_c)
    to_c = float(int(to_c * 2) / 2)
    takes: Take = ((step_keys.MIX, "flour_c", f"{to_c:g}"),)
    place = cold_enough(setting, to_c)
    if place is None or dough.mixed_with(takes).is_spoiled:
        return NotToday(
            "crumb", what, "Mix it at a cooler hour, in a cooler room, or with a machine that warms it less."
        )
    flour = [line for line in dough.plan.inputs.lines if line.ingredient.role == "flour" and line.grams]
    minutes = chill_min(flour, mixing.flour_c, to_c, place, dough.room_c)
    how_long = f"for {duration(minutes)}" if minutes is not None else "overnight"
    return NotToday(
        "crumb",
        what,
        f"Flour first into {place.name}, spread 20 mm deep, {how_long}: at {degrees(to_c)} the crumb is good.",
        takes,
        f"Chill the flour to {degrees(to_c)}",
    )


def _dough(dough: RolledDough) -> NotToday | None:
    mixing = dough.mixing
    if mixing.refusal or mixing.target_c is None or mixing.dough_c <= mixing.target_c + 0.75:
        return None
    iced = f" even with {mixing.ice_g:.0f} g of the liquid as ice" if mixing.ice_g >= 1 else ""
    what = f"A dough of {degrees(mixing.target_c)}:{iced} it comes to {degrees(mixing.dough_c)}."
    return NotToday("dough", what, "Use colder flour or fat, or a cold bowl; or allow the longer chill planned here.")


def _no_cold(dough: RolledDough) -> NotToday | None:
    rest = dough.step(step_keys.REST)
    if (
        rest is None
        or dough.middle_c is None
        or not any(a.reason == "temperature" and a.minutes is None for a in rest.asks)
    ):
        return None
    freezer = dough.setting.freezer()
    what = f"Chilling in {rest.place}, {degrees(rest.place_c or 0)}: it never cools to {degrees(dough.middle_c)}."
    if freezer is None or freezer.key == rest.place_key:
        return NotToday("no_cold", what, "A colder place is needed.")
    takes: Take = ((step_keys.REST, "place", freezer.key),)
    return NotToday("no_cold", what, f"Chill it in {freezer.name}.", takes, f"Chill in {freezer.name}")


def _bench(dough: RolledDough) -> NotToday | None:
    window = dough.route.window
    if window is None or window.minutes is None or round(window.minutes, 1) >= round(window.work_min, 1):
        return None
    if window.minutes <= 0:
        what = f"Rolling it as it is: {degrees(window.start_c)} is above {degrees(window.top_c)} already."
    else:
        what = (
            f"Rolling and lining one in one go: a sheet has {duration(window.minutes)} before it is softer than "
            f"{degrees(window.top_c)}, the work takes {duration(window.work_min)}."
        )
    fridge = dough.setting.cold_place().name
    return NotToday("bench", what, f"Roll between sheets on marble out of {fridge}, and chill the sheet once between.")


def _room(dough: RolledDough) -> NotToday | None:
    """Where the room itself turns the fat greasy."""
    greasy_c = dough.blend.greasy_from_c if dough.blend and not dough.blend.is_oil else None
    if greasy_c is None or dough.room_c < greasy_c:
        return None
    what = (
        f"Leaving dough or fat on the bench: the room is {degrees(dough.room_c)}, and its fat is greasy from "
        f"{degrees(greasy_c)}."
    )
    low, high = dough.roll_c or (0.0, 0.0)
    instead = f"Take out one piece at a time, only while you work it; it rolls at {span(low, high)}."
    return NotToday("room", what, instead)

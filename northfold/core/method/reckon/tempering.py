"""What goes into the cold, or comes out of it, before the mixing: flour and fat that are not as warm as they lie."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from northfold.core.formula.ratio import DoughLine
from northfold.core.heat.conduction import Body, long_stay, minutes_to
from northfold.core.heat.dough_heat import DoughHeat, dough_heat
from northfold.core.heat.places import Place
from northfold.core.matter import dough_composition, dough_density
from northfold.core.method.choices.kitchen import Setting
from northfold.core.method.reckon.mixing import Mixing
from northfold.core.method.words import degrees, duration, whole_minutes

# Flour is spread so deep on a tray, fat cut into cubes of this size. [mm] Assumption, North Fold reference table.
FLOUR_DEEP_MM, CUBES_MM = 20.0, 20.0
# A flour whose density is not known. [g/ml] Assumption.
SPOONED_G_ML = 0.5
# Less than this beside where it lies is not worth a walk to the fridge. [K]
WORTH_K = 0.75
# The longest that is looked at. [min] Fat is frozen in its packs, so thick. [mm] Assumption.
LONGEST_MIN, PACK_MM = 720.0, 45.0


@dataclass(frozen=True)
class Tempered:
    """One thing to bring to a temperature before mixing [°C]: where, how long [min], how it is laid out."""

    name: str
    grams: float
    from_c: float
    to_c: float
    place: Place
    minutes: float
    laid: str

    def said(self, typed_min: float | None = None) -> str:
        """What to do in a sentence; where a maker has set other minutes, towards that temperature. [min]"""
        way = "into" if self.to_c < self.from_c else "onto"
        minutes = self.minutes if typed_min is None else typed_min
        to = "to" if typed_min is None else "towards"
        return (
            f"{self.name.capitalize()}, {self.grams:,.0f} g, {self.laid}, {way} {self.place.name}: "
            f"{duration(minutes)} from {degrees(self.from_c)} {to} {degrees(self.to_c)}."
        )


def bed_heat(lines: Sequence[DoughLine]) -> DoughHeat:
    """
    Heat properties of loose flours, with the air between their grains.

    Weights in g. The share of air from the density as spooned against that of the grain; conductivity in proportion to
    the share of grain (assumption).
    """
    parts = tuple((line.ingredient, line.grams) for line in lines)
    grain = dough_density(dough_composition(parts), porosity=0.0)
    volume = sum(line.grams / (line.ingredient.g_per_ml_low or SPOONED_G_ML) for line in lines)
    spooned = sum(line.grams for line in lines) / volume
    porosity = min(0.9, max(0.0, 1 - spooned * 1000 / grain))
    heat = dough_heat(parts, porosity=porosity)
    return replace(heat, conductivity_w_m_k=tuple(k * (1 - porosity) for k in heat.conductivity_w_m_k))


def chill_min(lines: Sequence[DoughLine], from_c: float, to_c: float, place: Place, room_c: float) -> float | None:
    """How long flour spread on a tray takes to a temperature in a place; None where it does not get there. [min, °C]"""
    reached = minutes_to(bed_heat(lines), Body(FLOUR_DEEP_MM), from_c, place.stay(LONGEST_MIN, room_c), to_c)
    return None if reached is None else whole_minutes(reached)


def cold_enough(setting: Setting, to_c: float) -> Place | None:
    """The place that brings something down to a temperature: the fridge where it does, else the freezer. [°C]"""
    for place in (setting.cold_place(), setting.freezer()):
        if place is not None and place.temperature_c(setting.room_c) <= to_c - WORTH_K:
            return place
    return None


def tempering(lines: Sequence[DoughLine], factor: float, mixing: Mixing, setting: Setting) -> tuple[Tempered, ...]:
    """
    What has to be brought to its temperature before the mixing.

    Parameters
    ----------
    lines : sequence of DoughLine
        The formula. [g]
    factor : float
        How many times it is mixed.
    mixing : Mixing
        How warm flour and fat are to go in. [°C]
    setting : Setting
        Room and places. [°C]

    Returns
    -------
    tuple of Tempered
        Flour colder than the room, fat warmer than the fridge or frozen. Nothing where no place does it.
    """
    found = []
    room_c = setting.room_c
    flour = [line for line in lines if line.ingredient.role == "flour" and line.grams]
    fat = [line for line in lines if line.ingredient.role == "fat" and line.grams]
    if flour and mixing.flour_c <= room_c - WORTH_K:
        place = cold_enough(setting, mixing.flour_c)
        minutes = chill_min(flour, room_c, mixing.flour_c, place, room_c) if place else None
        if place and minutes is not None:
            grams = sum(line.grams for line in flour) * factor
            laid = f"{FLOUR_DEEP_MM:.0f} mm deep on a tray"
            found.append(Tempered("flour", grams, room_c, mixing.flour_c, place, minutes, laid))
    if fat and mixing.good_to_c is not None:
        lies_c = setting.cold_place().temperature_c(room_c)
        grams = sum(line.grams for line in fat) * factor
        freezer = setting.freezer()
        cubes = f"in cubes of {CUBES_MM:.0f} mm"
        if mixing.fat_c < -2 and freezer is not None:
            heat = dough_heat(tuple((line.ingredient, line.grams) for line in fat))
            packed = long_stay(heat, Body(PACK_MM), lies_c, freezer.stay(LONGEST_MIN, room_c))
            frozen_min = whole_minutes(packed.firm_min or LONGEST_MIN)
            found.append(Tempered("fat", grams, lies_c, mixing.fat_c, freezer, frozen_min, "in its packs"))
        elif lies_c + WORTH_K <= mixing.fat_c <= room_c - WORTH_K:
            heat = dough_heat(tuple((line.ingredient, line.grams) for line in fat))
            bench = setting.bench()
            reached = minutes_to(heat, Body(CUBES_MM), lies_c, bench.stay(LONGEST_MIN, room_c), mixing.fat_c)
            if reached is not None:
                found.append(Tempered("fat", grams, lies_c, mixing.fat_c, bench, whole_minutes(reached), cubes))
    return tuple(found)

"""How a make's dough is mixed: the crumb's temperature first, then what liquid it wants, or why none will do."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from northfold.core.formula.loads import Mixer
from northfold.core.formula.ratio import WET_DAIRY, DoughLine, is_rolled_in
from northfold.core.heat.mixing import Bowl, IceCannotRescue, MixTemperature, Portion, mixing_temperature, needed
from northfold.core.matter.fats import FatBlend
from northfold.core.method.choices.edits import Edit, EditReader
from northfold.core.method.choices.kitchen import ICED_C, Setting
from northfold.core.method.choices.schools import Manner
from northfold.core.method.words import degrees

# The warmest liquid that is asked for, and in a dough with yeast. [°C] North Fold reference table.
WARMEST_C, WARMEST_YEAST_C = 45.0, 38.0
# A dough whose fat stays in pieces may come out this much below its fat's rolling range, and no colder. [K]
# North Fold reference table.
BELOW_ROLL_K = 4.0
# Fat that goes in melted. [°C] Assumption.
MELTED_C = 40.0
# At most this share of the free water goes in as ice: more does not melt among the crumbs. [share] Assumption.
ICE_SHARE = 0.5

# How things come together: flour and fat first, everything at once, or fat and boiling liquid first.
CRUMB, TOGETHER, SCALDED = "crumb", "together", "scalded"
# What a dough with yeast, and a lean block to fold, are wanted at; boiling liquid. [°C] Assumptions.
YEAST_DOUGH_C, BLOCK_C, BOILING_C = 24.0, 16.0, 100.0

GOOD, SMALL, SPOILED, COLD, NO_CRUMB = "good", "smaller flakes", "spoiled", "too cold", "no crumb"


@dataclass(frozen=True)
class Lever:
    """One thing that moves the mixing temperature: how it is, and what it would have to be, None as it is. [°C]"""

    name: str
    is_c: float | None
    would_do_c: float | None


@dataclass(frozen=True)
class Mixing:
    """
    Temperatures of one mixing. [°C, g]

    `verdict` on the crumb; `crumb_mm` its pieces of fat [mm], 0 where there are none;
    `good_to_c` and `spoils_from_c` its limits; `refusal` why no liquid is named. `levers` in
    the order to try them. `liquid_to_c` is the warmest liquid that keeps a dough whose fat stays in pieces at or under
    its ceiling `target_c`. `liquid_c` and `ice_g` are what the free liquid is to be. `warms` is the key under which the
    warming by the work is learned, from its start value. [K]
    """

    method_name: str
    purpose: str
    flour_c: float
    fat_c: float
    crumb_c: float
    dough_c: float
    target_c: float | None
    verdict: str
    good_to_c: float | None
    spoils_from_c: float | None
    liquid_c: float | None
    ice_g: float
    unmelted_ice_g: float
    free_liquid_g: float
    friction_k: float
    levers: tuple[Lever, ...]
    remark: str
    refusal: str
    crumb_mm: float = 0.0
    way: str = CRUMB
    warms: str = ""
    start_friction_k: float = 0.0
    liquid_to_c: float | None = None
    has_ceiling: bool = False

    @property
    def is_spoiled(self) -> bool:
        return self.verdict == SPOILED


def _is_late(line: DoughLine) -> bool:
    """Whether a line goes in last, with the liquid."""
    item = line.ingredient
    return item.role in ("liquid", "egg", "acid") or (item.role == "dairy" and item.composition.water >= WET_DAIRY)


def _is_free_liquid(line: DoughLine) -> bool:
    return line.ingredient.role == "liquid"


def half_degree(value_c: float) -> float:
    """To the nearest half degree, as a crumb is judged. [°C]"""
    return round(value_c * 2) / 2


@dataclass(frozen=True)
class _Bowlful:
    """The lines of a mix with their temperatures, mixed again for any change of one of them."""

    lines: tuple[DoughLine, ...]
    factor: float
    manner: Manner
    flour_c: float
    fat_c: float
    cold_c: float
    room_c: float
    bowl: Bowl | None
    friction_k: float
    way: str = CRUMB

    @property
    def free_g(self) -> float:
        return sum(line.grams for line in self.lines if _is_free_liquid(line)) * self.factor

    def mixed(
        self,
        liquid_c: float,
        ice_g: float = 0.0,
        *,
        flour_c: float | None = None,
        fat_c: float | None = None,
    ) -> MixTemperature:
        flour_c = self.flour_c if flour_c is None else flour_c
        fat_c = self.fat_c if fat_c is None else fat_c
        first: list[Portion] = []
        last: list[Portion] = []
        liquid_share = 1 - ice_g / self.free_g if self.free_g else 1.0
        for line in self.lines:
            grams = line.grams * self.factor
            if not grams:
                continue
            if _is_free_liquid(line):
                portion = Portion(line.ingredient, grams * liquid_share, liquid_c)
            elif line.ingredient.role == "fat":
                portion = Portion(line.ingredient, grams, fat_c)
            elif line.ingredient.role in ("egg", "dairy"):
                portion = Portion(line.ingredient, grams, self.cold_c)
            else:
                portion = Portion(line.ingredient, grams, flour_c if line.ingredient.role != "acid" else self.room_c)
            (last if self._goes_last(line) else first).append(portion)
        if not first or self.way == TOGETHER:
            first, last = [*first, *last], []
        return mixing_temperature(first, last, friction_k=self.friction_k, ice_g=ice_g, bowl=self.bowl)

    def _goes_last(self, line: DoughLine) -> bool:
        if self.way == SCALDED:
            return line.ingredient.role != "fat" and not _is_free_liquid(line)
        if self.manner.purpose == "cream":
            return line.ingredient.role not in ("fat", "sugar")
        return _is_late(line)


def _limits(blend: FatBlend | None, manner: Manner) -> tuple[float | None, float | None, float | None]:
    """The crumb's floor, the top of good and where it is spoiled, for what the fat is wanted for. [°C]"""
    if blend is None or blend.roll_c is None or manner.purpose == "melted":
        return None, None, None
    if manner.is_flaky:
        good = blend.flake_max_c if blend.flake_max_c is not None else blend.roll_c[1]
        top = max(good, blend.roll_c[1])
        return None, top if manner.is_fine else good, top
    span = blend.cream_c if manner.purpose == "cream" else blend.softrub_c
    span = span or blend.roll_c
    return span[0], span[1], span[1]


def _verdict(crumb_c: float, floor_c: float | None, good_c: float | None, top_c: float | None) -> str:
    if good_c is None or top_c is None:
        return NO_CRUMB
    crumb = half_degree(crumb_c)
    if crumb > top_c:
        return SPOILED
    if crumb > good_c:
        return SMALL
    if floor_c is not None and crumb < floor_c:
        return COLD
    return GOOD


# What two hands rub in or cut in well at one go. [g] Assumption.
HAND_LOAD_G = 2000.0


def mixing_hands_min(manner: Manner, dough_g: float, mixers: Sequence[Mixer] = ()) -> float:
    """
    Hands-on minutes of mixing so much dough. [g, min]

    By hand they grow with it beyond what two hands hold; a machine takes so many loads as its largest holds.
    """
    if not manner.is_by_machine:
        return manner.hands_min * max(1.0, dough_g / HAND_LOAD_G)
    largest_g = max((mixer.largest_g for mixer in mixers), default=dough_g)
    return manner.hands_min * max(1, math.ceil(dough_g / largest_g))


def plan_mixing(
    lines: Sequence[DoughLine],
    factor: float,
    blend: FatBlend | None,
    setting: Setting,
    edits: EditReader,
    friction: Callable[[str], float] | None = None,
    way: str = CRUMB,
) -> Mixing:
    """
    The mixing temperature of a make.

    Parameters
    ----------
    lines : sequence of DoughLine
        The formula. [g]
    factor : float
        How many times it is mixed.
    blend : FatBlend or None
        Its fats.
    setting : Setting
        Room and cold place [°C], the habits of kitchen and formula.
    edits : EditReader
        Of step "mix": method, fat, crumb, stop, flour_c, fat_c, liquid_c, dough_c [°C], ice_g, bowl_g [g], bowl_c [°C],
        friction_k [K].
    friction : callable, optional
        From what warms to what records have taught of the rise: times its start value. [ratio]
    way : str
        `CRUMB` where the liquid goes in last, `TOGETHER` for lean and yeast blocks without their roll-in fat, `SCALDED`
        for fat and boiling liquid first, then flour, without friction.

    Returns
    -------
    Mixing
        Crumb, dough, verdict, and the liquid's temperature and ice that bring the dough to its target; without them
        and with the refusal where the crumb is spoiled.

    Notes
    -----
    Unless edited, flour and dry lines are as warm as the room, fat, egg and dairy as the cold place, frozen fat as the
    freezer; soft-fat methods take it as warm as brings the crumb to the middle of the soft range. Where the fat is
    worked in, no flake has to last: good is up to the top of the roll range (assumption). Levers in the order to try:
    fat, flour, bowl, liquid, ice. Source: North Fold reference table.
    """
    manner = edits.manner(setting.schools)
    floor_c, good_c, top_c = _limits(blend, manner) if way == CRUMB else (None, None, None)
    if way == TOGETHER:
        lines = [line for line in lines if not is_rolled_in(line)]
    cold_c = setting.cold_place().temperature_c(setting.room_c)
    room_c = setting.room_c

    def given(field: str) -> float | None:
        return edits.number("mix", field)

    flour_c, fat_c, bowl_g, bowl_c = given("flour_c"), given("fat_c"), given("bowl_g"), given("bowl_c")
    if flour_c is None:
        flour_c = room_c
    bowl = Bowl(bowl_g, room_c if bowl_c is None else bowl_c) if bowl_g else None
    friction_k = given("friction_k")
    if friction_k is None:
        friction_k = manner.friction_k * (friction(manner.warms) if friction else 1.0)
    if way == SCALDED:
        friction_k = 0.0
    usual_fat_c = room_c if blend is None or blend.is_oil else cold_c
    freezer = setting.freezer()
    if manner.fat.key == "frozen" and freezer is not None and not (blend is None or blend.is_oil):
        usual_fat_c = freezer.temperature_c(room_c)
    if manner.purpose == "melted":
        usual_fat_c = MELTED_C
    bowlful = _Bowlful(tuple(lines), factor, manner, flour_c, usual_fat_c, cold_c, room_c, bowl, friction_k, way)
    if fat_c is None and floor_c is not None and top_c is not None:
        middle = (floor_c + top_c) / 2
        fat_c = needed(lambda t: bowlful.mixed(room_c, fat_c=t).crumb_c, middle, min(cold_c, middle), top_c)
    if fat_c is not None:
        bowlful = replace(bowlful, fat_c=fat_c)
    fat_c = bowlful.fat_c
    free_g = bowlful.free_g

    target_c, liquid_c, ice_g = given("dough_c"), given("liquid_c"), given("ice_g")
    if target_c is None and good_c is not None:
        target_c = good_c if floor_c is None else (floor_c + good_c) / 2
    if target_c is None and way == TOGETHER:
        target_c = YEAST_DOUGH_C if any("yeast" in line.ingredient.name for line in lines) else BLOCK_C
    if liquid_c is None and way == SCALDED:
        liquid_c = BOILING_C
    ice_g = min(ice_g or 0.0, free_g)
    crumb_c = bowlful.mixed(room_c).crumb_c
    verdict = _verdict(crumb_c, floor_c, good_c, top_c)
    refusal = ""
    would_flour = would_fat = None
    if good_c is not None and verdict in (SPOILED, SMALL):
        would_flour = needed(lambda t: bowlful.mixed(room_c, flour_c=t).crumb_c, good_c, -18.0, flour_c)
        would_fat = needed(lambda t: bowlful.mixed(room_c, fat_c=t).crumb_c, good_c, min(cold_c, fat_c), fat_c)
    wanted_liquid: float | None = None
    ceiling = way == CRUMB and manner.is_flaky and good_c is not None
    if verdict == SPOILED and top_c is not None:
        refusal = str(IceCannotRescue(crumb_c, top_c, would_flour, would_fat))
        liquid_c = liquid_c if liquid_c is not None else (cold_c if free_g else None)
    elif free_g and liquid_c is None and ceiling:
        liquid_c, ice_g = _cold_liquid(bowlful, target_c, ice_g, blend, setting, asked=given("dough_c") is not None)
    elif free_g and liquid_c is None:
        has_yeast = any("yeast" in line.ingredient.name for line in lines)
        liquid_c, ice_g = _liquid(bowlful, target_c, ice_g, WARMEST_YEAST_C if has_yeast else WARMEST_C)
    elif free_g and target_c is not None:
        wanted_liquid = needed(lambda t: bowlful.mixed(t, ice_g).dough_c, target_c, 0.0, 60.0)
    mixed = bowlful.mixed(room_c if liquid_c is None else liquid_c, ice_g)
    return Mixing(
        method_name={CRUMB: manner.name, TOGETHER: f"all together, {manner.mixing.name}"}.get(way, SCALDED),
        way=way,
        warms=manner.warms,
        start_friction_k=0.0 if way == SCALDED else manner.friction_k,
        purpose=manner.purpose,
        crumb_mm=manner.crumb.size_mm if manner.is_flaky and way == CRUMB else 0.0,
        flour_c=flour_c,
        fat_c=fat_c,
        crumb_c=mixed.crumb_c,
        dough_c=mixed.dough_c,
        target_c=target_c,
        verdict=verdict,
        good_to_c=good_c,
        spoils_from_c=top_c,
        liquid_c=liquid_c if free_g else None,
        ice_g=ice_g,
        unmelted_ice_g=mixed.unmelted_ice_g,
        free_liquid_g=free_g,
        friction_k=friction_k,
        levers=(
            Lever("fat", fat_c, would_fat),
            Lever("flour", flour_c, would_flour),
            *([Lever("bowl", bowl.temperature_c, None)] if bowl else []),
            *([Lever("liquid", liquid_c, wanted_liquid)] if free_g else []),
        ),
        remark=_remark(verdict, mixed, floor_c, good_c, top_c, target_c, way, manner.purpose),
        refusal=refusal,
        liquid_to_c=_warmest_under(bowlful, target_c, ice_g) if ceiling and free_g and not refusal else None,
        has_ceiling=ceiling,
    )


def _warmest_under(bowlful: _Bowlful, target_c: float | None, ice_g: float) -> float | None:
    """The warmest liquid that keeps the dough at or under a temperature, up to the room; None where none does. [°C]"""
    if target_c is None:
        return None
    if bowlful.mixed(bowlful.room_c, ice_g).dough_c <= target_c:
        return bowlful.room_c
    return needed(lambda t: bowlful.mixed(t, ice_g).dough_c, target_c, 0.0, bowlful.room_c)


def _cold_liquid(
    bowlful: _Bowlful, target_c: float | None, ice_g: float, blend: FatBlend | None, setting: Setting, *, asked: bool
) -> tuple[float, float]:
    """
    The liquid of a dough whose fat stays in pieces, and ice. [°C, g]

    The coldest at hand, unless the dough would come out more than 4 K below its fat's rolling range: then just warm
    enough for that, never above the room nor above what the flakes bear. A maker's own wish (`asked`) is met as far as
    those two allow. Ice only where even that leaves the dough over its ceiling.
    """
    coldest = setting.coldest_liquid_c
    if target_c is None or blend is None or blend.roll_c is None:
        return coldest, ice_g
    warmest = min(bowlful.room_c, blend.flake_max_c if blend.flake_max_c is not None else bowlful.room_c)
    warmest = max(coldest, warmest)
    wish_c = target_c if asked else min(target_c, blend.roll_c[0] - BELOW_ROLL_K)
    cold_dough = bowlful.mixed(coldest, ice_g).dough_c
    if cold_dough < wish_c:
        enough = needed(lambda t: bowlful.mixed(t, ice_g).dough_c, wish_c, coldest, warmest)
        return (warmest if enough is None else enough), ice_g
    if cold_dough <= target_c:
        return coldest, ice_g
    iced = needed(lambda t: bowlful.mixed(t, ice_g).dough_c, target_c, min(ICED_C, coldest), coldest)
    return _iced(bowlful, target_c, ice_g) if iced is None else (iced, ice_g)


def _liquid(bowlful: _Bowlful, target_c: float | None, ice_g: float, warmest_c: float) -> tuple[float, float]:
    """The liquid's temperature, and ice where iced water is still too warm, that bring the dough to its target."""
    if target_c is None:
        return bowlful.room_c, ice_g
    found = needed(lambda t: bowlful.mixed(t, ice_g).dough_c, target_c, ICED_C, warmest_c)
    if found is not None:
        return found, ice_g
    if bowlful.mixed(ICED_C, ice_g).dough_c <= target_c:
        return warmest_c, ice_g
    return _iced(bowlful, target_c, ice_g)


def _iced(bowlful: _Bowlful, target_c: float, ice_g: float) -> tuple[float, float]:
    """Iced water, and as much ice in it as brings the dough down to its target, at most half of the liquid."""
    most = ICE_SHARE * bowlful.free_g
    if ice_g >= most:
        return ICED_C, ice_g
    more = needed(lambda ice: -bowlful.mixed(ICED_C, ice).dough_c, -target_c, ice_g, most)
    return ICED_C, most if more is None else more


def _remark(
    verdict: str,
    mixed: MixTemperature,
    floor_c: float | None,
    good_c: float | None,
    top_c: float | None,
    target_c: float | None,
    way: str,
    purpose: str,
) -> str:
    """One sentence on the crumb or the dough, with its number, its threshold and the lever."""
    crumb = degrees(mixed.crumb_c)
    if way == SCALDED:
        return f"Fat and liquid come to {crumb}, the dough to {degrees(mixed.dough_c)}: shape it while it is warm."
    if way == TOGETHER and not mixed.unmelted_ice_g:
        wanted = f", {degrees(target_c)} wanted" if target_c is not None else ""
        return f"Everything goes in at once: the dough comes to {degrees(mixed.dough_c)}{wanted}."
    if verdict == NO_CRUMB and purpose == "melted":
        return f"Melted fat leaves no flakes to keep cold: the dough comes to {degrees(mixed.dough_c)}."
    if verdict == NO_CRUMB:
        return "Oil neither flakes nor firms, so the crumb may be any temperature."
    if mixed.unmelted_ice_g:
        return f"Too cold to melt all the ice: the dough is at 0 °C with {mixed.unmelted_ice_g:.0f} g unmelted."
    if verdict == SPOILED:
        return f"Crumb {crumb}: above {degrees(top_c or 0)} the fat smears into the flour."
    if verdict == SMALL:
        return (
            f"Crumb {crumb}: above {degrees(good_c or 0)} the flakes come out smaller. Colder fat or flour keeps them."
        )
    if verdict == COLD:
        return f"Crumb {crumb}: below {degrees(floor_c or 0)} this fat will not rub in or cream smooth. Let it warm."
    if target_c is not None and mixed.dough_c > target_c + 0.75:
        return f"The crumb is good; the dough comes to {degrees(mixed.dough_c)}, over the {degrees(target_c)} wanted."
    return f"Crumb {crumb}: good up to {degrees(good_c or 0)}."


# A probe in a dough is right within this. [K] Assumption.
PROBE_K = 0.5
# The most that work is taken to warm a dough. [K]
MOST_FRICTION_K = 20.0


def implied_friction_k(
    lines: Sequence[DoughLine],
    factor: float,
    blend: FatBlend | None,
    setting: Setting,
    edits: Sequence[Edit],
    planned: Mixing,
    measured_c: float,
) -> float | None:
    """
    The rise by the work that a dough's measured temperature tells of.

    Parameters
    ----------
    lines, factor, blend, setting, edits : as in `plan_mixing`
        Of the mix. [g, °C]
    planned : Mixing
        What was planned of it; its liquid and ice are taken to have gone in so. [°C, g]
    measured_c : float
        The dough as probed after the mixing. [°C]

    Returns
    -------
    float or None
        The friction that brings the dough there, 0 to 20 K; None where none does.
    """
    fixed = [edit for edit in edits if (edit.step_key, edit.field) not in FIXED]
    fixed += [Edit("mix", "ice_g", f"{planned.ice_g:g}")]
    if planned.liquid_c is not None:
        fixed.append(Edit("mix", "liquid_c", f"{planned.liquid_c:.6f}"))

    def dough_c(friction_k: float) -> float:
        reader = EditReader([*fixed, Edit("mix", "friction_k", f"{friction_k:.6f}")])
        return plan_mixing(lines, factor, blend, setting, reader, way=planned.way).dough_c

    return needed(dough_c, measured_c, 0.0, MOST_FRICTION_K)


FIXED = (("mix", "ice_g"), ("mix", "liquid_c"), ("mix", "friction_k"))

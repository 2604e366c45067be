"""How a make's dough is mixed: the crumb's temperature first, then what liquid it wants, or why none will do."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from northfold.core.formula.loads import Mixer
from northfold.core.formula.ratio import WET_DAIRY, DoughLine, is_rolled_in
from northfold.core.heat.mixing import Bowl, IceCannotRescue, MixTemperature, Portion, mixing_temperature, needed
from northfold.core.matter.fats import FatBlend
from northfold.core.method.choices import step_keys
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
# Flour is looked at down to the freezer, a typed liquid up to what no dough wants. [°C]
COLDEST_FLOUR_C, HOTTEST_C = -18.0, 60.0

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


@dataclass(frozen=True)
class _Limits:
    """A crumb is too cold below `floor_c`, good up to `good_c`, spoiled above `top_c`; None where it has none. [°C]"""

    floor_c: float | None = None
    good_c: float | None = None
    top_c: float | None = None


_NO_LIMITS = _Limits()


def _limits(blend: FatBlend | None, manner: Manner) -> _Limits:
    """The crumb's floor, the top of good and where it is spoiled, for what the fat is wanted for. [°C]"""
    if blend is None or blend.roll_c is None or manner.purpose == "melted":
        return _NO_LIMITS
    if manner.is_flaky:
        good = blend.flake_max_c if blend.flake_max_c is not None else blend.roll_c[1]
        top = max(good, blend.roll_c[1])
        return _Limits(None, top if manner.is_fine else good, top)
    span = blend.cream_c if manner.purpose == "cream" else blend.softrub_c
    span = span or blend.roll_c
    return _Limits(span[0], span[1], span[1])


def _verdict(crumb_c: float, limits: _Limits) -> str:
    if limits.good_c is None or limits.top_c is None:
        return NO_CRUMB
    crumb = half_degree(crumb_c)
    if crumb > limits.top_c:
        return SPOILED
    if crumb > limits.good_c:
        return SMALL
    if limits.floor_c is not None and crumb < limits.floor_c:
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
    limits = _limits(blend, manner) if way == CRUMB else _NO_LIMITS
    bowlful = _bowlful(lines, factor, blend, setting, edits, friction, way, limits)
    crumb = _judged(bowlful, limits)
    liquid = _wanted_liquid(bowlful, crumb, limits, blend, setting, edits)
    mixed = bowlful.mixed(bowlful.room_c if liquid.liquid_c is None else liquid.liquid_c, liquid.ice_g)
    free_g, bowl = bowlful.free_g, bowlful.bowl
    in_time = liquid.has_ceiling and free_g and not liquid.refusal
    return Mixing(
        method_name={CRUMB: manner.name, TOGETHER: f"all together, {manner.mixing.name}"}.get(way, SCALDED),
        way=way,
        warms=manner.warms,
        start_friction_k=0.0 if way == SCALDED else manner.friction_k,
        purpose=manner.purpose,
        crumb_mm=manner.crumb.size_mm if manner.is_flaky and way == CRUMB else 0.0,
        flour_c=bowlful.flour_c,
        fat_c=bowlful.fat_c,
        crumb_c=mixed.crumb_c,
        dough_c=mixed.dough_c,
        target_c=liquid.target_c,
        verdict=crumb.verdict,
        good_to_c=limits.good_c,
        spoils_from_c=limits.top_c,
        liquid_c=liquid.liquid_c if free_g else None,
        ice_g=liquid.ice_g,
        unmelted_ice_g=mixed.unmelted_ice_g,
        free_liquid_g=free_g,
        friction_k=bowlful.friction_k,
        levers=(
            Lever("fat", bowlful.fat_c, crumb.would_fat_c),
            Lever("flour", bowlful.flour_c, crumb.would_flour_c),
            *([Lever("bowl", bowl.temperature_c, None)] if bowl else []),
            *([Lever("liquid", liquid.liquid_c, liquid.would_do_c)] if free_g else []),
        ),
        remark=_remark(crumb.verdict, mixed, limits, liquid.target_c, way, manner.purpose),
        refusal=liquid.refusal,
        liquid_to_c=_warmest_under(bowlful, liquid.target_c, liquid.ice_g) if in_time else None,
        has_ceiling=liquid.has_ceiling,
    )


def _bowlful(
    lines: Sequence[DoughLine],
    factor: float,
    blend: FatBlend | None,
    setting: Setting,
    edits: EditReader,
    friction: Callable[[str], float] | None,
    way: str,
    limits: _Limits,
) -> _Bowlful:
    """What goes into the bowl, each as warm as it is typed, else as it usually lies; soft fat as the crumb wants it."""
    manner, room_c = edits.manner(setting.schools), setting.room_c
    cold_c = setting.cold_place().temperature_c(room_c)
    flour_c, fat_c, bowl_g, bowl_c, friction_k = (
        edits.number(step_keys.MIX, field) for field in ("flour_c", "fat_c", "bowl_g", "bowl_c", "friction_k")
    )
    if friction_k is None:
        friction_k = manner.friction_k * (friction(manner.warms) if friction else 1.0)
    found = _Bowlful(
        # A block's dough is mixed without the fat that is locked in.
        tuple(line for line in lines if way != TOGETHER or not is_rolled_in(line)),
        factor,
        manner,
        room_c if flour_c is None else flour_c,
        _usual_fat_c(blend, manner, setting),
        cold_c,
        room_c,
        Bowl(bowl_g, room_c if bowl_c is None else bowl_c) if bowl_g else None,
        0.0 if way == SCALDED else friction_k,
        way,
    )
    if fat_c is None and limits.floor_c is not None and limits.top_c is not None:
        middle = (limits.floor_c + limits.top_c) / 2
        fat_c = needed(lambda t: found.mixed(room_c, fat_c=t).crumb_c, middle, min(cold_c, middle), limits.top_c)
    return found if fat_c is None else replace(found, fat_c=fat_c)


def _usual_fat_c(blend: FatBlend | None, manner: Manner, setting: Setting) -> float:
    """How warm the fat goes in unless it is typed: as the fridge, as the freezer, melted; oil as the room. [°C]"""
    if manner.purpose == "melted":
        return MELTED_C
    if blend is None or blend.is_oil:
        return setting.room_c
    freezer = setting.freezer()
    place = freezer if manner.fat.key == "frozen" and freezer is not None else setting.cold_place()
    return place.temperature_c(setting.room_c)


@dataclass(frozen=True)
class _Judged:
    """The crumb before any liquid, its verdict, and what flour or fat alone would have to be for a good one. [°C]"""

    crumb_c: float
    verdict: str
    would_flour_c: float | None = None
    would_fat_c: float | None = None


def _judged(bowlful: _Bowlful, limits: _Limits) -> _Judged:
    room_c, good_c = bowlful.room_c, limits.good_c
    crumb_c = bowlful.mixed(room_c).crumb_c
    verdict = _verdict(crumb_c, limits)
    if good_c is None or verdict not in (SPOILED, SMALL):
        return _Judged(crumb_c, verdict)
    coldest = min(bowlful.cold_c, bowlful.fat_c)
    would_flour = needed(lambda t: bowlful.mixed(room_c, flour_c=t).crumb_c, good_c, COLDEST_FLOUR_C, bowlful.flour_c)
    would_fat = needed(lambda t: bowlful.mixed(room_c, fat_c=t).crumb_c, good_c, coldest, bowlful.fat_c)
    return _Judged(crumb_c, verdict, would_flour, would_fat)


@dataclass(frozen=True)
class _Wanted:
    """What the free liquid is to be, and for which dough. [°C, g] `would_do_c` is what one that is typed should be."""

    target_c: float | None
    liquid_c: float | None
    ice_g: float
    has_ceiling: bool
    refusal: str = ""
    would_do_c: float | None = None


def _wanted_liquid(
    bowlful: _Bowlful, crumb: _Judged, limits: _Limits, blend: FatBlend | None, setting: Setting, edits: EditReader
) -> _Wanted:
    free_g, way = bowlful.free_g, bowlful.way
    asked_c, liquid_c = edits.number(step_keys.MIX, "dough_c"), edits.number(step_keys.MIX, "liquid_c")
    if liquid_c is None and way == SCALDED:
        liquid_c = BOILING_C
    has_yeast = any("yeast" in line.ingredient.name for line in bowlful.lines)
    target_c = _target_c(limits, way, has_yeast=has_yeast) if asked_c is None else asked_c
    ice_g = min(edits.number(step_keys.MIX, "ice_g") or 0.0, free_g)
    ceiling = way == CRUMB and bowlful.manner.is_flaky and limits.good_c is not None
    found = _Wanted(target_c, liquid_c, ice_g, ceiling)
    if crumb.verdict == SPOILED and limits.top_c is not None:
        refusal = str(IceCannotRescue(crumb.crumb_c, limits.top_c, crumb.would_flour_c, crumb.would_fat_c))
        usual_c = bowlful.cold_c if free_g else None
        return replace(found, refusal=refusal, liquid_c=usual_c if liquid_c is None else liquid_c)
    if free_g and liquid_c is None:
        if ceiling:
            asked = asked_c is not None
            liquid_c, ice_g = _cold_liquid(bowlful, target_c, ice_g, blend, setting, asked=asked)
        else:
            liquid_c, ice_g = _liquid(bowlful, target_c, ice_g, WARMEST_YEAST_C if has_yeast else WARMEST_C)
        return replace(found, liquid_c=liquid_c, ice_g=ice_g)
    if free_g and target_c is not None:
        would = needed(lambda t: bowlful.mixed(t, ice_g).dough_c, target_c, 0.0, HOTTEST_C)
        return replace(found, would_do_c=would)
    return found


def _target_c(limits: _Limits, way: str, *, has_yeast: bool) -> float | None:
    """What the dough is wanted at where nobody has said: by its fat, by its yeast, to be folded. [°C]"""
    if limits.good_c is not None:
        return limits.good_c if limits.floor_c is None else (limits.floor_c + limits.good_c) / 2
    if way == TOGETHER:
        return YEAST_DOUGH_C if has_yeast else BLOCK_C
    return None


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
    verdict: str, mixed: MixTemperature, limits: _Limits, target_c: float | None, way: str, purpose: str
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
        return f"Crumb {crumb}: above {degrees(limits.top_c or 0)} the fat smears into the flour."
    if verdict == SMALL:
        over = f"Crumb {crumb}: above {degrees(limits.good_c or 0)} the flakes come out smaller."
        return f"{over} Colder fat or flour keeps them."
    if verdict == COLD:
        under = f"Crumb {crumb}: below {degrees(limits.floor_c or 0)} this fat will not rub in or cream smooth."
        return f"{under} Let it warm."
    if target_c is not None and mixed.dough_c > target_c + 0.75:
        return f"The crumb is good; the dough comes to {degrees(mixed.dough_c)}, over the {degrees(target_c)} wanted."
    return f"Crumb {crumb}: good up to {degrees(limits.good_c or 0)}."


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
    fixed += [Edit(step_keys.MIX, "ice_g", f"{planned.ice_g:g}")]
    if planned.liquid_c is not None:
        fixed.append(Edit(step_keys.MIX, "liquid_c", f"{planned.liquid_c:.6f}"))

    def dough_c(friction_k: float) -> float:
        reader = EditReader([*fixed, Edit(step_keys.MIX, "friction_k", f"{friction_k:.6f}")])
        return plan_mixing(lines, factor, blend, setting, reader, way=planned.way).dough_c

    return needed(dough_c, measured_c, 0.0, MOST_FRICTION_K)


FIXED = ((step_keys.MIX, "ice_g"), (step_keys.MIX, "liquid_c"), (step_keys.MIX, "friction_k"))

"""
What the mixtures of a make ask for beside its dough: peeled, drawn, boiled down, made, drained, cooled in the tray.

Each is ready when the step begins that it goes into: cold into a raw case, as warm as it is poured between two bakes,
cooled into a baked case. Hot into raw is refused.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from northfold.core.bake.fillings import oven_fillings
from northfold.core.fill.layers import Laid
from northfold.core.fill.making import (
    COLD_MIN,
    HALF_WAY_MIN,
    HOT_FOR_RAW_C,
    HOT_FROM_C,
    NEAR_K,
    NEXT_PAN_MIN,
    PEELED_BELOW,
    STARCH_C,
    TRAY_DEPTH_MM,
    Making,
    cook_c,
    cooling_times,
    goes_in_c,
    heating_min,
    hold_min,
    pans_for,
    peeling_min,
    sign_of,
)
from northfold.core.fill.mixture import BETWEEN, COOLED, RAW, TOP
from northfold.core.fill.pan import CARAMEL, SET, SOFT, Pan, cooked_as, cooked_first, of, pan_of, soft_min
from northfold.core.fill.produce import produce_of
from northfold.core.fill.settling import DRAWN, THAWED
from northfold.core.fill.syrup import syrup_g_ml
from northfold.core.heat.conduction import Body, Trace, first_crossing, long_stay
from northfold.core.heat.dough_heat import DoughHeat
from northfold.core.heat.places import Place
from northfold.core.matter.keeping import goes_off_soon
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Edited
from northfold.core.method.choices.step_kinds import step_kinds
from northfold.core.method.reckon.filling import said
from northfold.core.method.reckon.mixtures import (
    MixtureLine,
    MixtureMade,
    SyrupMade,
    Use,
    goes_in_at,
    line_said,
    syrup_made,
)
from northfold.core.method.route.step import (
    ANYWHERE,
    AS_WRITTEN,
    EDIT,
    HABIT,
    HANDS_ONLY,
    TEMPERATURE,
    Ask,
    At,
    Beside,
    OfMixture,
    Step,
    Told,
    Wait,
)
from northfold.core.method.route.work import LONGEST_MIN, MOMENT_MIN, Work
from northfold.core.method.rules.hot_filling import STILL_W_M_K, hot_into_raw
from northfold.core.method.words import degrees, duration, named, weighed, whole_minutes

# How deep boiled-down juice lies in its pan or tray; how long fruit thaws in the fridge; how long a sieve drips. [mm,
# min] Assumptions.
SYRUP_MM, THAW_MIN, DRIP_MIN = 10.0, 720.0, 10.0
SYRUP_C = 105.0
# A tray is used up to its edge, less so much. [share] Assumption.
OF_TRAY = 0.9


def make_all(work: Work) -> None:
    """The steps of every mixture of which anything is made, timed for the step that it goes into first."""
    for number, made in enumerate(work.job.mixtures, 1):
        until = _first_filled(work, made)
        if until and made.grams >= 1:
            _Kitchen(work, made, number, until).write()


def _first_filled(work: Work, made: MixtureMade) -> str:
    """The step that a mixture is first wanted at; empty where none of those worked takes it."""
    for step in work.log.steps:
        plain = step_keys.plain(step.key)
        if any(step.item in (0, use.item) and goes_in_at(use.when, plain) for use in made.uses):
            return step.key
    return ""


@dataclass(frozen=True)
class _Kitchen:
    """One mixture of a make, and the steps that it goes through. [g, °C, min]"""

    work: Work
    made: MixtureMade
    number: int
    until: str

    # -- what is settled

    @property
    def first(self) -> Use:
        return self.made.first

    @property
    def laid(self) -> Laid:
        return self.first.laid

    @property
    def name(self) -> str:
        return self.made.mixture.name

    def key(self, what: str) -> str:
        return step_keys.of_mixture(self.number, what)

    @cached_property
    def making(self) -> Making:
        """As chosen, else as is usual."""
        return self.made.making(self.work.job.edits, self.number)

    @cached_property
    def to_c(self) -> float:
        """How warm it goes in."""
        inside = oven_fillings().get(self.made.mixture.inside)
        poured_c = inside.poured_c if inside else 0.0
        if self.first.when == BETWEEN:
            typed = self.work.job.edits.number(step_keys.FILL_CASE, "inside_c")
            poured_c = poured_c if typed is None else typed
        return goes_in_c(self.made.mixture, self.first.when, self.making, self.work.job.filling_c, poured_c)

    @cached_property
    def cooked_c(self) -> float:
        """To what heat it is brought; 0 where it is not heated."""
        if not self.making.heats:
            return 0.0
        typed = self.work.job.edits.number(self.key(step_keys.MIX_MAKE), "cook_c")
        usual = cook_c(self.made.mixture) if self.making.cools else max(self.to_c, WARM_C)
        return usual if typed is None else typed

    @cached_property
    def heat(self) -> DoughHeat:
        """How it takes up and gives off heat, lying still."""
        inside = oven_fillings()[self.made.mixture.inside]
        return DoughHeat.constant(inside.density, inside.heat / 1000, min(STILL_W_M_K, inside.conducts))

    @cached_property
    def syrup(self) -> SyrupMade | None:
        """What is drawn off for all pieces, and boiled down."""
        found = [each for use in self.made.uses if (each := syrup_made(use.laid, use.count)) is not None]
        if not found:
            return None
        first = found[0]
        sums = {name: sum(getattr(each, name) for each in found) for name in ("drawn_g", "grams", "ml")}
        return replace(first, **sums, low_min=sum(e.low_min for e in found), high_min=sum(e.high_min for e in found))

    # -- its steps

    def write(self) -> None:
        """All of them, each waited for by the next."""
        treated = self.laid.layer.treated
        steps, at_once = [*self._prepared(), *self._boiled()], set[str]()
        if treated.way in (DRAWN, THAWED) and self.made.mixture.fruit:
            steps.append(self._drawn(treated.way == THAWED, treated.minutes))
        if self.syrup is not None and self.syrup.drawn_g - self.syrup.grams >= 1:
            steps.append(self._reduced(self.syrup))
            if self.syrup.goes == "into":
                steps.append(self._syrup_cooled(self.syrup))
                at_once.add(steps[-1].key)
        steps.append(self._made())
        if self.making.drains:
            steps.append(self._step(step_keys.MIX_DRAIN, {}, wait=Wait(DRIP_MIN, HABIT)))
            at_once.add(steps[-1].key)
        if self.making.cools and self.to_c < self.cooked_c - NEAR_K:
            ml = self.made.grams / self.made.mixture.bulk_g_ml
            steps.append(self._cooled(self.heat, self.cooked_c, TRAY_DEPTH_MM, ml, self.to_c))
            at_once.add(steps[-1].key)
            if self.making.drains and self._folded:
                steps.append(self._folded_in())
        elif self.first.when == RAW and self.cooked_c > HOT_FOR_RAW_C:
            self._refuse(step_keys.MIX_MAKE, self.cooked_c)
        ahead_h = self.work.job.edits.number(self.key(step_keys.MIX_MAKE), "ahead_h") or 0.0
        keys = [*(step.key for step in steps[1:]), self.until]
        for step, until in zip(steps, keys, strict=True):
            ahead = 60 * ahead_h if until == self.until else 0.0
            self.work.log.apart.append(Beside(step, until, ahead, at_once=step.key in at_once))
        if ahead_h > self.made.mixture.keeps_h:
            self.work.remark(
                self.key(step_keys.MIX_MAKE),
                f"{self.name} keeps {self.made.mixture.keeps_h:.0f} h in the fridge: {ahead_h:g} h ahead is too early.",
                8,
            )

    def _step(
        self,
        what: str,
        figures: dict[str, str],
        *,
        hands_min: float | None = None,
        wait: Wait = HANDS_ONLY,
        at: At = ANYWHERE,
        told: Told = AS_WRITTEN,
        dough_c: float | None = None,
        also: frozenset[str] = frozenset(),
        cook_c: float | None = None,
        depth_mm: float | None = None,
    ) -> Step:
        """One of its steps, with its name in it; see `StepMaker.make`. [min, °C]"""
        told = replace(told, name=f"{told.name or step_kinds()[what].name}: {said(self.name)}")
        step = self.work.maker.make(
            self.key(what),
            figures,
            like=what,
            hands_min=hands_min,
            wait=wait,
            at=at,
            told=told,
            dough_c=dough_c,
            also=also,
        )
        of = OfMixture(self.name, self.number, self.making.key, cook_c, depth_mm)
        return replace(step, mixture=of, paced="", start_hands_min=0.0)

    def _prepared(self) -> list[Step]:
        """Peeling and cutting, where there is anything to peel."""
        rows = [(each, produce_of(each.line.ingredient)) for each in self.made.lines if each.grams]
        peeled = [(each, row) for each, row in rows if row is not None and row.ready < 1]
        if not peeled:
            return []
        hands = max(1.0, sum(peeling_min(each.buy_g, row.ready) for each, row in peeled))
        produce = named(
            [f"{weighed(each.buy_g)} {each.line.ingredient.name} for {weighed(each.grams)} ready" for each, _ in peeled]
        )
        only_looked_over = all(row.ready >= PEELED_BELOW for _, row in peeled)
        look = (
            f"{produce[:1].upper()}{produce[1:]}. Stalks and leaves off; drop what is soft." if only_looked_over else ""
        )
        soft = "A bad one among them: out, and those that touched it. Wet: dry them on a cloth."
        told = Told(name="Pick over", look=look, wrong=soft) if only_looked_over else AS_WRITTEN
        figures = {"produce": produce, "by_hand": _usually(hands, "by hand")}
        return [self._step(step_keys.MIX_PREPARE, figures, hands_min=hands, told=told)]

    def _boiled(self) -> list[Step]:
        """What a recipe takes as cooked before, where its mixture is not cooked itself."""
        rows = [each for each in self.made.lines if each.grams and cooked_first(each.line)]
        if self.making.heats or not rows:
            return []
        said_of = named(
            [f"{weighed(each.buy_g)} {each.line.ingredient.name} ({weighed(each.grams)} once cooked)" for each in rows]
        )
        minutes = soft_min([each.line for each in rows])
        figures = {"boiled": said_of, "soft_min": f"{minutes:.0f}"}
        return [self._step(step_keys.MIX_BOIL, figures, wait=Wait(max(minutes, MOMENT_MIN), HABIT))]

    @cached_property
    def _pan(self) -> Pan:
        return pan_of(self.made.mixture)

    def _said_of(self, numbers: Sequence[int], *, as_prepared: bool = True) -> str:
        """Lines of a pan as they are weighed; empty where there are none."""
        rows = [each for each in of(self.made.lines, numbers) if each.grams]
        return named([line_said(each, as_prepared=as_prepared) for each in rows]) if rows else ""

    @property
    def _folded(self) -> str:
        return self._said_of(sorted((*self._pan.bound, *self._pan.folded)))

    def _folded_in(self) -> Step:
        """What goes into drained pieces once they are cold."""
        return self._step(step_keys.MIX_FOLD, {"folded": self._folded}, hands_min=1 + self.made.grams / 2000)

    def _drawn(self, thawed: bool, minutes: float) -> Step:
        """Juice drawn by the sugar, or run off as it thaws."""
        sugar = self.made.mixture.sugar_g * self.made.factor
        fruit = named([f"{weighed(each.grams)} {each.line.ingredient.name}" for each in self._fruit])
        if thawed:
            look = f"Lay {fruit} into a sieve over a bowl, in the fridge, until no ice is left. Keep the juice."
            told = Told(name="Thaw", wrong="Ice in the middle: stir once, 1 h more. Do not hurry it in warm water.")
        else:
            drawn = f"{weighed(self.syrup.drawn_g)} of juice stand in the bowl" if self.syrup else "juice stands in it"
            look = f"Toss {fruit} with {weighed(sugar)} of sugar. Leave it covered in the fridge until {drawn}."
            told = Told()
        wait = Wait(THAW_MIN if thawed else minutes, HABIT)
        return self._step(step_keys.MIX_DRAW, {"draw_look": look}, wait=wait, told=told)

    def _reduced(self, syrup: SyrupMade) -> Step:
        goes = {"into": "Cool it, then stir it back in", "glaze": "Keep it for the glaze"}
        figures = {
            "drawn_g": weighed(syrup.drawn_g),
            "syrup_g": weighed(syrup.grams),
            "syrup_ml": f"{syrup.ml:,.0f}",
            "reduce_min": f"{syrup.low_min:.0f} to {syrup.high_min:.0f} min",
            "goes": goes.get(syrup.goes, "It is left out of this pie: serve it beside"),
        }
        hands = (syrup.low_min + syrup.high_min) / 2
        told = Told(figure=f"{syrup.ml:,.0f} ml", says="boiled down to")
        return self._step(step_keys.MIX_REDUCE, figures, hands_min=hands, told=told, also=frozenset({"hot pan"}))

    @property
    def _fruit(self) -> list[MixtureLine]:
        return [each for each in self.made.lines if each.grams and produce_of(each.line.ingredient) is not None]

    def _amounts(self) -> str:
        """What is weighed for it; where its fruit was drawn before, that, its syrup and what else goes in."""
        if self.syrup is None:
            return self.made.amounts
        drawn_from = {id(each) for each in self._fruit}
        rest = [
            line_said(each)
            for each in self.made.lines
            if each.grams and id(each) not in drawn_from and each.line.ingredient.role != "sugar"
        ]
        goes_in = [f"{weighed(self.syrup.grams)} of its cooled syrup"] if self.syrup.goes == "into" else []
        return named(["the drained fruit", *goes_in, *rest])

    @cached_property
    def _syrup_heat(self) -> DoughHeat:
        solids = self.syrup.solids if self.syrup else 0.5
        inside = oven_fillings()["syrup"]
        return DoughHeat.constant(1000 * syrup_g_ml(solids), inside.heat / 1000, inside.conducts)

    def _made(self) -> Step:
        """Weighed and stirred, rubbed, beaten, cooked, warmed or whipped: all hands."""
        how, mixture, grams = self.making, self.made.mixture, self.made.grams
        lines = sum(1 for each in self.made.lines if each.grams)
        hands = step_kinds()[step_keys.WEIGH].hands_min * lines + how.hands_min + how.per_kg_min * grams / 1000
        holds, told = set(), Told(name=how.verb)
        pans, hold, simmers = "", "", 0.0
        soft = how.cools and cooked_as(mixture) == SOFT
        if how.heats:
            pan_min, goes, pans = self._on_the_stove(grams / mixture.bulk_g_ml)
            held = hold_min(mixture) if how.cools else 0.0
            softens = soft_min([each.line for each in of(self.made.lines, self._pan.first)])
            hold = f"about {softens:g} min" if soft else f", and hold it {held:g} min" if held else ""
            # Under its lid it is looked at now and then; what is stirred keeps the hands.
            simmers = goes * held if soft else 0.0
            hands += pan_min + (0.0 if soft else goes * held)
            told = replace(told, figure=degrees(self.cooked_c), says="heat to")
            holds |= {"hot pan"} if self.cooked_c >= HOT_FROM_C else set()
        roles = {each.line.ingredient.role for each in self.made.lines if each.grams}
        if "egg" in roles or (mixture.kind in ("batter", "crumble") and "flour" in roles):
            holds.add("raw egg in it")
        if not how.heats and goes_off_soon(each.line.ingredient for each in self.made.lines if each.grams):
            holds.add("keeps cold")
        wet = any(each.line.ingredient.role in ("liquid", "dairy") for each in of(self.made.lines, self._pan.first))
        bound = self._said_of(self._pan.bound)
        folded = self._said_of(self._pan.folded)
        figures = {
            "amounts": self._amounts(),
            "first": self._said_of(self._pan.first, as_prepared=False) if soft else "",
            "splash": "" if wet else " with a splash of water",
            "bound": f" Stir in {bound}, slaked with cold water; 1 min more." if bound else "",
            "folded": f" Off the heat, fold in {folded}." if folded else "",
            "pans": pans,
            "cook_c": degrees(self.cooked_c),
            "hold": hold,
            "sign": sign_of(mixture, how.key),
            "cook_why": self._cook_why(),
        }
        as_what = "egg" if cooked_as(mixture) == SET and self.cooked_c < STARCH_C else cooked_as(mixture)
        look, why, wrong = (how.text(name, as_what).format(**figures) for name in ("look", "why", "wrong"))
        told = replace(told, look=look, why=why, wrong=wrong, edits=self._marks())
        return self._step(
            step_keys.MIX_MAKE,
            figures,
            hands_min=hands,
            wait=Wait(simmers, HABIT) if simmers else HANDS_ONLY,
            told=told,
            also=frozenset(holds),
            cook_c=self.cooked_c or None,
        )

    def _marks(self) -> tuple[Edited, ...]:
        """What of its making is a maker's own."""
        edits, key, found = self.work.job.edits, self.key(step_keys.MIX_MAKE), []
        for name in ("made", "cook_c", "ahead_h"):
            edit = edits.find(key, name)
            if edit is not None:
                found.append(edits.mark(key, name, edit.value, edit.replaced))
        return tuple(found)

    def _on_the_stove(self, ml: float) -> tuple[float, int, str]:
        """How long it takes to its heat in the pans there are, in how many goes, and what is said of them. [min]"""
        setting, mixture = self.work.job.setting, self.made.mixture
        pans = pans_for(ml, setting.pan_ml)
        goes = math.ceil(pans / setting.pans)
        rings = min(pans, setting.pans)
        fridge_c = setting.cold_place().temperature_c(self.work.job.room_c)
        heat = oven_fillings()[mixture.inside].heat
        minutes = heating_min(self.made.grams, heat, fridge_c, self.cooked_c, rings)
        minutes += (pans - 1) * NEXT_PAN_MIN
        if pans == 1:
            return minutes, goes, ""
        each = weighed(self.made.grams / pans)
        if goes == 1:
            return minutes, goes, f" In {pans} pans side by side, {each} in each."
        second = heating_min(self.made.grams, heat, fridge_c, self.cooked_c, rings + 1)
        fewer = goes - math.ceil(pans / (setting.pans + 1))
        held = fewer * hold_min(mixture) if self.making.cools else 0.0
        saved = duration(round(max(1.0, minutes - second + held)))
        return minutes, goes, f" In {goes} goes, {each} a pan; one pan more would save {saved}."

    def _cook_why(self) -> str:
        """Why fruit, vegetables, meat or fish are cooked first."""
        if self.first.when in (COOLED, TOP):
            return "Raw it would let its juice go in the case, and soak the base."
        if not self.work.job.pieces[self.first.item - 1].item.has_lid:
            return "Cooked first it has shrunk and is soft; the oven only heats it through."
        return "Cooked first it has shrunk before it is under the lid, and gives the base less water."

    def _syrup_cooled(self, syrup: SyrupMade) -> Step:
        """Boiled-down juice, cooled until it leaves the fruit that it is stirred into as cold as it goes in."""
        fruit_g = self.made.grams - syrup.drawn_g
        inside, sticky = oven_fillings()[self.made.mixture.inside], oven_fillings()["syrup"]
        more = NEAR_K * fruit_g * inside.heat / (syrup.grams * sticky.heat)
        return self._cooled(
            self._syrup_heat, SYRUP_C, SYRUP_MM, syrup.ml, min(SYRUP_C, self.to_c + more), of_syrup=True
        )

    def _cooled(
        self, heat: DoughHeat, from_c: float, usual_mm: float, ml: float, to_c: float, *, of_syrup: bool = False
    ) -> Step:
        """Spread in a tray and left until its middle is as its case needs it, by conduction. [ml, mm, °C]"""
        row = step_keys.MIX_SYRUP if of_syrup else step_keys.MIX_COOL
        job, key = self.work.job, self.key(row)
        typed_mm = job.edits.number(key, "depth_mm")
        depth = usual_mm if typed_mm is None else typed_mm
        cold = to_c < job.room_c
        place, place_marks = self.work.place_of(key, job.setting.cold_place() if cold else job.setting.bench())
        trace = self._trace(heat, from_c, depth, place)
        place_c = place.temperature_c(job.room_c)
        wanted_c = max(to_c, place_c + NEAR_K)
        needed = first_crossing(trace.minutes, trace.centre_c, wanted_c)
        if needed is None:
            self.work.remark(
                key,
                f"In {place.name} it never gets to {degrees(wanted_c)}: choose a colder place, or spread it thinner.",
                8,
            )
        asked = whole_minutes(LONGEST_MIN if needed is None else needed)
        typed = job.edits.number(key, "minutes")
        minutes = asked if typed is None else typed
        marks = (
            place_marks if typed is None else (*place_marks, job.edits.mark(key, "minutes", f"{typed:g}", f"{asked:g}"))
        )
        if typed_mm is not None:
            marks = (*marks, job.edits.mark(key, "depth_mm", f"{typed_mm:g}", f"{usual_mm:g}"))
        end_c = _read(trace, minutes)
        if self.first.when == RAW and not of_syrup:
            self._refuse(step_keys.MIX_COOL, end_c)
        if typed is not None and typed < asked:
            self.work.remark(key, f"After {duration(typed)} its middle is at {degrees(end_c)}: {duration(asked)} to "
                             f"{degrees(wanted_c)}.", 5)  # fmt: skip
        hot = not of_syrup and from_c >= HOT_FROM_C and self.made.mixture.goes_off
        if hot and cold:
            self._mind_guidance(key, heat, from_c, depth, place, trace)
        tray_m2 = OF_TRAY * job.setting.tray_mm[0] * job.setting.tray_mm[1] / 1e6
        trays = max(1, math.ceil(ml / depth / 1000 / tray_m2 - 1e-9))
        vessel = "in a small dish" if ml / depth / 1000 < SMALL_DISH_M2 else "in a tray"
        why = _CAN_WAIT if self.first.when == BETWEEN and to_c < HOT_FOR_RAW_C else _WHY[self.first.when]
        figures = {
            "depth": f"{depth:g} mm",
            "trays": f" in {trays} trays" if trays > 1 else f" {vessel}",
            "to_c": degrees(wanted_c),
            "covered": _COVERED.get(cooked_as(self.made.mixture), "uncovered until it stops steaming, then covered"),
            "cool_why": f"{why} {_usually(asked, 'go by the probe')}",
        }
        ask = Ask(TEMPERATURE, needed, f"{degrees(wanted_c)} in its middle, {depth:g} mm deep")
        return self._step(
            row,
            figures,
            wait=Wait(max(minutes, MOMENT_MIN), TEMPERATURE if typed is None else EDIT, (ask,), marks),
            at=self.work.at(place),
            dough_c=end_c,
            also=frozenset({"cools from hot"}) if hot else frozenset(),
            depth_mm=depth,
        )

    def _trace(self, heat: DoughHeat, from_c: float, depth_mm: float, place: Place) -> Trace:
        return long_stay(heat, Body(depth_mm), from_c, place.stay(LONGEST_MIN, self.work.job.room_c))

    def _mind_guidance(
        self, key: str, heat: DoughHeat, from_c: float, depth_mm: float, place: Place, trace: Trace
    ) -> None:
        """Say where it cools more slowly than is usual guidance, with what would not."""
        half, cold = cooling_times(trace.minutes, trace.centre_c)
        if half is not None and half <= HALF_WAY_MIN and (cold is None or cold <= COLD_MIN):
            return
        fridge = self.work.job.setting.cold_place()
        thin = self._trace(heat, from_c, TRAY_DEPTH_MM, fridge)
        better, _ = cooling_times(thin.minutes, thin.centre_c)
        slow = "never falls to 21 °C there" if half is None else f"takes {duration(half)} from 60 to 21 °C"
        cure = f" {TRAY_DEPTH_MM:g} mm deep in {fridge.name} takes {duration(better)}." if better is not None else ""
        self.work.remark(key, f"{depth_mm:g} mm deep in {place.name} it {slow}; usual guidance is 2 h.{cure}", 9)

    def _refuse(self, what: str, filling_c: float) -> None:
        text = hot_into_raw(self.work, self.name, filling_c)
        if text:
            self.work.refuse(self.key(what), text)


# What is warmed without being cooked is warmed at least to here. [°C] Assumption.
WARM_C = 45.0
# What stands on a smaller face than this is cooled in a dish. [m²] Assumption.
SMALL_DISH_M2 = 0.03
# How it is covered while it cools: what would get a skin at once; caramel is too hot for film.
_COVERED = {SET: "film right on its face", CARAMEL: "uncovered"}
# What work by hand and cooling in a tray take lies within these shares of what is said. Assumptions.
LEAST, MOST = 0.8, 1.25
_CAN_WAIT = "Cold it keeps until its case is ready; the oven heats it through."
_WHY = {
    RAW: "Cold into raw: warm filling melts the fat before the oven sets the dough.",
    BETWEEN: "Poured so warm it sets sooner, and the base has less time to soak.",
    COOLED: "Warm into a cold baked case is right; hot would steam the base soft.",
    TOP: "Hotter, it would melt or soak what lies under it.",
}


def _usually(minutes: float, by: str) -> str:
    """The range of an estimate and what to go by, where it is long enough to matter. [min]"""
    if minutes < 10:
        return ""
    step = 5 if minutes >= 60 else 1
    least, most = (step * round(share * minutes / step) for share in (LEAST, MOST))
    return f"Usually {least} to {most} min: {by}."


def _read(trace: Trace, minute: float) -> float:
    """The warmest of it at a minute. [min, °C]"""
    later: Sequence[tuple[float, float]] = list(zip(trace.minutes, trace.centre_c, strict=True))
    before = max((each for each in later if each[0] <= minute), default=later[0])
    after = min((each for each in later if each[0] > minute), default=later[-1])
    share = 0.0 if after[0] <= before[0] else (minute - before[0]) / (after[0] - before[0])
    return before[1] + max(0.0, share) * (after[1] - before[1])

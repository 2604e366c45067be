"""A dough at the bench as it is now: how warm, how thick it lies, its pull, what it has absorbed."""

import math
from dataclasses import dataclass
from functools import cached_property

from northfold.core.gluten.pull import Pull, rest_along
from northfold.core.heat.conduction import Body, Trace, conduct
from northfold.core.heat.dough_heat import DoughHeat, dough_heat
from northfold.core.matter.fats import WORKABLE
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.kitchen import Setting
from northfold.core.method.choices.step_kinds import told_like
from northfold.core.method.plan import Plan
from northfold.core.method.reckon.division import dusting_g, heaviest, lots_of
from northfold.core.method.route.step import Route, Step, TracedStep
from northfold.core.method.route.work import HAND_WARM_C, STIFF_C
from northfold.core.method.words import degrees

# A dough that does not hold together or is tacky is laid so flat into the cold. [mm] Assumption.
FLAT_MM = 12.0
# Dough without a probe is taken to have been so long on the bench at most; after that somebody was away. [min]
OUT_MOST_MIN = 45.0


@dataclass(frozen=True)
class AtHand:
    """
    A dough at the bench: the `plan` of its product, the `step` under way as that plan has it, for how long, the last
    probe of it. [min, °C]
    """

    plan: Plan
    step: Step
    minutes: float
    read_c: float | None = None

    @property
    def route(self) -> Route:
        assert self.plan.route is not None
        return self.plan.route

    @property
    def setting(self) -> Setting:
        return self.plan.inputs.worked_in

    @cached_property
    def heat(self) -> DoughHeat:
        return dough_heat(tuple((line.ingredient, line.grams) for line in self.plan.lines))

    def band(self, state: str) -> tuple[float, float] | None:
        """Between what temperatures its fat is in a state; None for oil, or where it never is. [°C]"""
        return next(((each.low_c, each.high_c) for each in self.plan.fat_bands if each.state == state), None)

    @property
    def works_c(self) -> tuple[float, float] | None:
        """Where it can be worked: its fat under the pin, a scalded dough by hand; None for oil. [°C]"""
        if any(each.key == step_keys.SHAPE_WARM for each in self.route.steps):
            return STIFF_C, HAND_WARM_C
        return self.band(WORKABLE)

    @cached_property
    def _last_traced(self) -> tuple[TracedStep | None, bool]:
        """The stretch of the trace that this step is, or the last before it; whether it is its own."""
        traced = {each.key: each for each in self.route.traced}
        if self.step.key in traced:
            return traced[self.step.key], True
        before = [each.key for each in self.route.along if each.start_min <= self.step.start_min]
        return next((traced[key] for key in reversed(before) if key in traced), None), False

    @cached_property
    def trace(self) -> Trace | None:
        """The dough since its step began, on the bench beyond what the plan has traced. None before the mixing."""
        last, own = self._last_traced
        if last is None:
            return None
        goes_on = min(self.minutes, OUT_MOST_MIN)
        if own and self.step.is_wait:
            return last.trace
        beyond = goes_on - (last.trace.minutes[-1] if own else 0.0)
        if beyond <= 0:
            return last.trace
        bench = self.setting.bench().stay(beyond, self.setting.room_c)
        return conduct(self.heat, self.body, last.trace.mean_c[-1], bench)

    @cached_property
    def c(self) -> float | None:
        """How warm it is now: by its probe, else by the trace; as mixed where nothing is traced. [°C]"""
        if self.read_c is not None:
            return self.read_c
        if told_like(self.step.key) in (step_keys.MIX, step_keys.SHAPE):
            mixing = self.plan.mixing
            return mixing.dough_c if mixing else None
        last, own = self._last_traced
        if last is None or self.trace is None:
            return None
        if own and (self.step.is_wait or self.minutes <= last.trace.minutes[-1]):
            return last.trace.at(min(self.minutes, last.trace.minutes[-1]))
        return self.trace.mean_c[-1]

    @property
    def track(self) -> tuple[tuple[float, float], ...]:
        """How warm it is as the step goes on, in pairs of minutes and °C; one pair where that is not traced."""
        last, own = self._last_traced
        if self.read_c is not None or last is None or not own or self.c is None:
            return () if self.c is None else ((self.minutes, self.c),)
        trace = last.trace
        return tuple((round(minute, 2), round(c, 2)) for minute, c in zip(trace.minutes, trace.mean_c, strict=True))

    @cached_property
    def pull(self) -> Pull:
        """The pull in it now, as the plan has it at the end of its stretch. [pull units]"""
        last, _ = self._last_traced
        return rest_along(last.pull_from, last.trace)[1] if last is not None else Pull()

    @property
    def drunk(self) -> float:
        """The share of the water that is absorbed."""
        last, _ = self._last_traced
        if last is not None:
            return last.drunk[-1] if last.drunk else 0.0
        drinks = self.route.drink_min
        return 1 - math.exp(-min(self.minutes, OUT_MOST_MIN) / drinks) if drinks else 0.0

    @cached_property
    def thickness_mm(self) -> float:
        """What it is rolled to. [mm]"""
        return max(piece.item.thickness_mm for piece in self.plan.pieces)

    @cached_property
    def is_rolled(self) -> bool:
        """Whether it lies as a sheet by now."""
        rolled = (step_keys.ROLL, step_keys.ROLL_PART, step_keys.ROLL_WARM, step_keys.PULL)
        begun = [each for each in self.route.along if each.start_min <= self.step.start_min]
        return any(step_keys.plain(each.key) in rolled for each in begun)

    @property
    def body(self) -> Body:
        """As it lies. [mm]"""
        if self.is_rolled:
            return Body(self.thickness_mm)
        if self.plan.fold is not None and not told_like(self.step.key).startswith(("mix", "shape", "rest")):
            return Body(self.plan.fold.inputs.turn_mm)
        return self.route.shaped.body if self.route.shaped else Body(FLAT_MM)

    @property
    def dust_g(self) -> float:
        """Flour to dust what is rolled in one go. [g]"""
        return dusting_g(heaviest(lots_of(self.plan.pieces[0])))

    @property
    def is_past_oven(self) -> bool:
        """Whether it is in the oven, or has been: how warm its dough is no longer matters."""
        return any(each.takes_oven and each.start_min <= self.step.start_min for each in self.route.along)

    @property
    def ends_wait(self) -> bool:
        """Whether what is done now ends a wait of the dough's own that is under way."""
        return self.step.is_wait and not self.step.takes_oven and not self.is_in_turns

    @property
    def is_in_turns(self) -> bool:
        """Whether it is between the turns of a laminated dough, where no step of its own can stand."""
        between = self.step.key.startswith(step_keys.TEMPER_TURN_)
        return between or told_like(self.step.key) in (step_keys.LOCK, step_keys.TURN_N, step_keys.COLD_N)

    @property
    def about(self) -> str:
        """How warm it is, told as a reading or as reckoned; empty before there is a dough. [°C]"""
        if self.c is None:
            return ""
        return degrees(self.c) if self.read_c is not None else f"about {degrees(self.c)}"

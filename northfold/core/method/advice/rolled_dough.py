"""A planned dough that is rolled and chilled, as questions are put to it: its plan and the kitchen it is worked in."""

from dataclasses import dataclass
from functools import cached_property

from northfold.core.gluten.pull import Pull, rest_along, rolling_pull
from northfold.core.heat.conduction import Body, Trace, conduct
from northfold.core.heat.dough_heat import DoughHeat, dough_heat
from northfold.core.heat.places import Place
from northfold.core.matter.fats import FatBlend, fat_blend
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Edit, EditReader, Take
from northfold.core.method.choices.kitchen import Setting
from northfold.core.method.plan import Plan
from northfold.core.method.reckon.cold_form import Shaped
from northfold.core.method.reckon.division import lead_piece, lots_of
from northfold.core.method.reckon.mixing import Mixing, plan_mixing
from northfold.core.method.route.routes import route_kinds
from northfold.core.method.route.step import Route, Step, TracedStep
from northfold.core.shape.blanks import Piece


@dataclass(frozen=True)
class RolledDough:
    """A plan whose dough is mixed, shaped, chilled, rolled and lined; made by `rolled_dough_of`."""

    plan: Plan
    route: Route
    mixing: Mixing
    shaped: Shaped
    sheet: Body

    @cached_property
    def heat(self) -> DoughHeat:
        return dough_heat(tuple((line.ingredient, line.grams) for line in self.plan.inputs.lines))

    @cached_property
    def blend(self) -> FatBlend | None:
        return fat_blend(tuple((line.ingredient, line.grams) for line in self.plan.inputs.lines))

    @property
    def rolls_first(self) -> bool:
        """Whether it is rolled at once and chilled flat, so that nothing waits to be rollable."""
        return self.route.traced[0].key == step_keys.ROLL and self.step(step_keys.REST) is not None

    @property
    def is_blind(self) -> bool:
        """Whether it is baked blind, so that docking and weights are choices."""
        return route_kinds()[self.route.kind].blind

    @property
    def roll_c(self) -> tuple[float, float] | None:
        """Where its fat rolls; None for oil. [°C]"""
        return self.blend.roll_c if self.blend else None

    @property
    def middle_c(self) -> float | None:
        """The middle of where its fat rolls. [°C]"""
        return sum(self.roll_c) / 2 if self.roll_c else None

    @property
    def setting(self) -> Setting:
        return self.plan.inputs.worked_in

    @property
    def room_c(self) -> float:
        return self.setting.room_c

    @property
    def lead(self) -> Piece:
        return lead_piece(self.plan.pieces)

    @property
    def lot_g(self) -> float:
        """What is rolled in one go. [g]"""
        return self.shaped.parts * self.shaped.grams

    @property
    def lots(self) -> int:
        """How many are rolled of the heaviest piece."""
        return sum(lot.count for lot in lots_of(self.lead))

    @property
    def mixed_pull(self) -> Pull:
        """The pull that mixing left. [pull units]"""
        return self.route.traced[0].pull_from

    def mixed_with(self, takes: Take) -> Mixing:
        """The mixing as it would be with some edits."""
        given = {(step, field): value for step, field, value in takes}
        own = [edit for edit in self.plan.edits if (edit.step_key, edit.field) not in given]
        reader = EditReader([*own, *(Edit(step, field, value) for (step, field), value in given.items())])
        factor, friction = self.plan.factor or 1.0, self.plan.learned.friction
        return plan_mixing(self.plan.lines, factor, self.blend, self.setting, reader, friction)

    @property
    def true_water(self) -> float:
        """[% of flour]"""
        return self.plan.ratio.true_water if self.plan.ratio else 0.0

    @property
    def rolling_adds(self) -> float:
        """Pull that the first rolling of the lead piece adds. [pull units]"""
        to_mm = self.first_rolled.worked_to_mm or self.lead.item.thickness_mm
        return self.route.gluten * rolling_pull(self.shaped.across_mm, to_mm)

    @property
    def first_rolled(self) -> TracedStep:
        """The first time that it comes under the pin."""
        return next(each for each in self.route.traced if each.key in (step_keys.ROLL_FIRST, step_keys.ROLL))

    def step(self, key: str) -> Step | None:
        return next((step for step in self.route.steps if step.key == key), None)

    def traced(self, key: str) -> TracedStep:
        return next(each for each in self.route.traced if each.key == key)

    def place_of(self, key: str) -> Place:
        """Where a step is worked; the fridge where that place is gone."""
        step = self.step(key)
        return (self.setting.place(step.place_key) if step else None) or self.setting.cold_place()

    def pull_after(self, key: str) -> Pull:
        """The pull at the end of a traced step, in its two parts."""
        each = self.traced(key)
        return rest_along(each.pull_from, each.trace)[1]

    def pull_after_longer(self, key: str, minutes: float) -> Pull:
        """The pull if the sheet stays so much longer where it is. [min]"""
        stay = self.place_of(key).stay(minutes, self.room_c)
        return rest_along(self.pull_after(key), conduct(self.heat, self.sheet, self.traced(key).trace.profile_c, stay))[
            -1
        ]

    def sheet_in(self, place: Place, minutes: float) -> Trace:
        """The lined sheet, or the filled piece, in a place, as it comes from the bench. [min, °C]"""
        return conduct(
            self.heat, self.sheet, self.traced(step_keys.ROLL).trace.profile_c, place.stay(minutes, self.room_c)
        )


def rolled_dough_of(plan: Plan) -> RolledDough | None:
    """The dough of a plan, of several products the heaviest piece’s; None where it is not rolled and chilled."""
    plan = plan.leading
    route = plan.route
    if plan.is_laminated or route is None or plan.mixing is None or route.shaped is None or route.sheet is None:
        return None
    if not {step_keys.ROLL, step_keys.CHILL} <= {each.key for each in route.traced}:
        return None
    return RolledDough(plan, route, plan.mixing, route.shaped, route.sheet)

"""Walks a dough through its steps: minutes with the reason that set them, its temperature and its pull."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from northfold.core.formula.ratio import DoughLine, Ratio
from northfold.core.gluten.pull import (
    Pull,
    drink_time_min,
    gluten_factor,
    hold_share,
    oven_shrink,
    rest_along,
    rolling_pull,
)
from northfold.core.heat.conduction import Body, Stay, Trace, conduct, long_stay, minutes_to
from northfold.core.heat.dough_heat import DoughHeat
from northfold.core.heat.places import Place
from northfold.core.matter.fats import FatBlend
from northfold.core.method import asks
from northfold.core.method.baking import Bake
from northfold.core.method.beforehand import Beforehand
from northfold.core.method.course import (
    EDIT,
    HABIT,
    TEMPERATURE,
    Ask,
    BenchWindow,
    Course,
    Remark,
    Shrink,
    Step,
    TracedStep,
)
from northfold.core.method.edits import Edited, EditReader
from northfold.core.method.mixing import Mixing
from northfold.core.method.out_of_cold import cold_caution, out_of_cold
from northfold.core.method.oven_steps import oven_steps, with_oven_on
from northfold.core.method.schools import questions
from northfold.core.method.setting import Setting
from northfold.core.method.shaping import USUAL_MM, shape_for_cold
from northfold.core.method.step_texts import StepMaker, clocked, is_small, step_texts
from northfold.core.method.words import degrees, duration, span, whole_minutes
from northfold.core.shape.blanks import (
    AFTER,
    FLUSH,
    TUCKED,
    Piece,
    pulses_g,
    rim_allowance_mm,
    whole_mm,
)

# The kitchen's habit after lining. [min] North Fold reference table.
CHILL_HABIT_MIN = 30.0
# The longest wait that is looked at. [min]
LONGEST_MIN = 720.0
# Rolling one piece; for half of it the sheet is thin. [min] North Fold reference table; assumption.
ROLLING_MIN = 2.5


@dataclass
class _Dough:
    """Where the dough stands while it is walked through its steps."""

    heat: DoughHeat
    profile_c: tuple[float, ...] | float
    pull: Pull
    drink_min: float
    stays: list[tuple[float, float]] = field(default_factory=list)

    @property
    def mean_c(self) -> float:
        return float(np.mean(self.profile_c))

    def waits(self, key: str, body: Body, stay: Stay) -> TracedStep:
        """Let it wait: temperature, pull and drinking along the way; the dough is then as it comes out."""
        trace = conduct(self.heat, body, self.profile_c, stay)
        pulls, drunk = rest_along(self.pull, trace), asks.drunk_along(self.drink_min, self.stays, trace)
        found = TracedStep(key, step_texts()[key]["name"], trace, tuple(p.total for p in pulls), drunk, self.pull)
        self.profile_c, self.pull = trace.profile_c, pulls[-1]
        self.stays.extend(trace.stays())
        return found


class Walk:
    """Walks one dough through the steps of a blind-baked case; made and worked once for each plan."""

    def __init__(
        self,
        lines: Sequence[DoughLine],
        ratio: Ratio,
        blend: FatBlend | None,
        heat: DoughHeat,
        pieces: Sequence[Piece],
        mixing: Mixing,
        bake: Callable[[bool], Bake],
        setting: Setting,
        edits: EditReader,
        allergens: Sequence[str],
        scales: Sequence[float],
        beforehand: Sequence[Beforehand],
    ) -> None:
        self.lines, self.ratio, self.blend, self.heat = lines, ratio, blend, heat
        self.pieces, self.mixing, self.setting, self.edits = pieces, mixing, setting, edits
        self.allergens, self.scales, self.beforehand = allergens, scales, beforehand
        self.room_c = setting.room_c
        self.manner = edits.manner(setting.schools)
        answers = {question: edits.school(question, setting.schools) for question in questions()}
        self.chosen = {question: answer.key for question, answer in answers.items()}
        self.first_rest, self.docking, self.weights = (answers[key] for key in ("first_rest", "docking", "weights"))
        self.weighted = self.weights.key == "weighted"
        self.docked = self.docking.key != "none"
        self.bake = bake(self.weighted)
        self.gluten = gluten_factor(lines, ratio, self.manner.coating)
        self.lead = lead_piece(pieces)
        self.shaped = shape_for_cold(edits, self.lead, heat.density_kg_m3)
        self.sheet = Body(self.lead.item.thickness_mm)
        self.dough = _Dough(
            heat, mixing.dough_c, Pull().plus(self.manner.added_pull * self.gluten), drink_time_min(lines)
        )
        self.maker = StepMaker(lines, pieces, self.manner.hands_min)
        self.steps: list[Step] = []
        self.traced: list[TracedStep] = []
        self.remarks: list[Remark] = []
        self.window: BenchWindow | None = None

    # -- one step at a time

    def _add(self, key: str, figures: dict[str, str] | None = None, **values: Any) -> None:
        self.steps.append(self.maker.make(key, figures, **values))

    def _remark(self, key: str, text: str, weight: int) -> None:
        self.remarks.append(Remark(key, text, weight))

    def _place(self, key: str, usual: Place) -> tuple[Place, tuple[Edited, ...]]:
        """The place of a step, with the mark of an edit."""
        chosen = self.edits.word(key, "place", {place.key: place for place in self.setting.places})
        place = self.setting.place(chosen) if chosen else None
        if place is None:
            return usual, ()
        return place, (self.edits.mark(key, "place", place.name, usual.name),)

    def _at(self, place: Place) -> dict[str, Any]:
        """The fields by which a step tells where it is."""
        return {"place": place.name, "place_key": place.key, "place_c": place.temperature_c(self.room_c)}

    def _set_minutes(self, key: str, asks: Sequence[Ask]) -> tuple[float, str, tuple[Edited, ...]]:
        """The minutes of a wait: an edit, else the longest that any reason asks."""
        longest = max((ask for ask in asks if ask.minutes is not None), key=lambda ask: ask.minutes or 0.0)
        minutes = whole_minutes(longest.minutes or 0.0)
        typed = self.edits.number(key, "minutes")
        if typed is None:
            return minutes, longest.reason, ()
        mark = self.edits.mark(key, "minutes", f"{typed:g}", f"{minutes:g}")
        if typed < minutes and longest.reason != HABIT:
            self._remark(key, f"{duration(typed)} are shorter than {longest.name} asks: {duration(minutes)}.", 1)
        return typed, EDIT, (mark,)

    # -- the steps

    def work(self) -> Course:
        """All steps of a blind-baked case."""
        allergens = f"Holds {', '.join(self.allergens)}." if self.allergens else ""
        self._before()
        self._add("weigh", {"allergens": allergens})
        self._mix()
        self._shape()
        if self.first_rest.key != "none":
            self._rest()
            self._temper()
        self._roll_and_line()
        if self.docking.key == "before":
            self._add("dock")
        self._chill()
        if self.docking.key == "after":
            self._add("dock")
        if self.weighted:
            grams = f"{round(pulses_g(self.lead) / 10) * 10:,.0f}"
            self._add("weights", {"pulses_g": grams}, figure=f"{grams} g", figure_says="pulses a tin")
        shrink = self._shrink()
        self._line(shrink)
        warm = out_of_cold(self.lines, self.steps, self.setting)
        if warm is not None and warm.remark is not None:
            self.remarks.append(warm.remark)
        self.steps += oven_steps(self.maker, self.bake, self.weighted, self.pieces, self.room_c, self.edits)
        return Course(
            steps=clocked(with_oven_on(self.steps, self.bake)),
            traced=tuple(self.traced),
            gluten=self.gluten,
            shrink=shrink,
            window=self.window,
            chosen=self.chosen,
            remarks=tuple(sorted(self.remarks, key=lambda remark: -remark.weight)),
            is_marked=self._went_greasy(),
            shaped=self.shaped,
            sheet=self.sheet,
            drink_min=self.dough.drink_min,
            warm_min=warm.minutes if warm else None,
        )

    def _before(self) -> None:
        """What is brought to its temperature before anything is weighed."""
        if not self.beforehand:
            return
        usual = max(each.minutes for each in self.beforehand)
        typed = self.edits.number("before", "minutes")
        self._add(
            "before",
            {"what": " ".join(each.says for each in self.beforehand)},
            wait_min=usual if typed is None else typed,
            reason=TEMPERATURE if typed is None else EDIT,
            edits=() if typed is None else (self.edits.mark("before", "minutes", f"{typed:g}", f"{usual:g}"),),
        )

    def _shape(self) -> None:
        shaped = self.shaped
        usual = USUAL_MM.get(shaped.form, shaped.across_mm)
        marks: tuple[Edited, ...] = ()
        if self.edits.find("shape", "thickness_mm"):
            marks = (self.edits.mark("shape", "thickness_mm", f"{shaped.across_mm:g}", f"{usual:g}"),)
        grams = f"{shaped.grams:,.0f}"
        shown = {
            "discs": f"{shaped.noun}s" if shaped.parts == 1 else f"{shaped.noun}s, {shaped.parts} for each piece,",
            "across": f"{shaped.across_mm:.0f} mm {shaped.across_name}",
            "disc_g": grams,
        }
        self._add("shape", shown, edits=marks, figure=f"{grams} g", figure_says="each")

    def _mix(self) -> None:
        mixing, manner = self.mixing, self.manner
        liquid = ""
        if mixing.liquid_c is not None:
            ice = f" and {mixing.ice_g:.0f} g of its weight as ice" if mixing.ice_g else ""
            liquid = f" Liquid at {degrees(mixing.liquid_c)}{ice}."
        why = f"{manner.name.capitalize()}: crumb {degrees(mixing.crumb_c)}, dough {degrees(mixing.dough_c)}.{liquid}"
        self._add(
            "mix",
            {"mix_why": why},
            look=manner.look,
            caution=manner.caution,
            dough_c=mixing.dough_c,
            figure=degrees(mixing.dough_c if mixing.liquid_c is None else mixing.liquid_c),
            figure_says="dough" if mixing.liquid_c is None else "liquid",
        )
        if mixing.refusal:
            self._remark("mix", mixing.refusal, 9)
        elif mixing.verdict not in ("good", "no crumb"):
            self._remark("mix", mixing.remark, 4)

    def _rest(self) -> None:
        dough, place = self.dough, self.setting.cold_place()
        place, place_mark = self._place("rest.1", place)
        stay = place.stay(LONGEST_MIN, self.room_c)
        start_c = dough.mean_c
        long = long_stay(self.heat, self.shaped.body, dough.profile_c, stay)
        adds = self.gluten * max(rolling_pull(self.shaped.across_mm, piece.item.thickness_mm) for piece in self.pieces)
        wanted = [
            asks.pull_before_rolling(dough.pull, adds, long) if self.gluten else asks.NO_GLUTEN,
            asks.drinking(dough.drink_min, dough.stays, long),
            asks.cool_to_roll(self.blend, long),
            Ask(HABIT, self.first_rest.minutes, f"the kitchen rests {self.first_rest.name}"),
        ]
        if wanted[2].minutes is None:
            self._remark("rest.1", f"In {place.name} it does not come down to where it rolls: {wanted[2].words}.", 5)
        minutes, reason, mark = self._set_minutes("rest.1", wanted)
        trace, pull = self._wait("rest.1", minutes, place, self.shaped.body)
        end_c = dough.mean_c
        self._warn_freezer("rest.1", trace, place)
        self._add(
            "rest.1",
            {
                "end_c": degrees(end_c),
                "rest_why": f"{self._rested_or_chilled(start_c, end_c)} Pull {pull[0]:.0f} to {pull[-1]:.0f}."
                if self.gluten
                else self._rested_or_chilled(start_c, end_c),
                "cold_caution": cold_caution(self.lines, minutes, self.setting.keeping),
            },
            wait_min=minutes,
            reason=reason,
            asks=tuple(wanted),
            edits=place_mark + mark,
            **self._at(place),
            dough_c=end_c,
        )

    def _wait(self, key: str, minutes: float, place: Place, body: Body) -> tuple[Trace, tuple[float, ...]]:
        waited = self.dough.waits(key, body, place.stay(max(minutes, 0.01), self.room_c))
        self.traced.append(waited)
        return waited.trace, waited.pull

    def _rested_or_chilled(self, start_c: float, end_c: float) -> str:
        if self.blend is None or self.blend.roll_c is None:
            return "It rests."
        low, high = self.blend.roll_c
        change = f"{degrees(start_c)} to {degrees(end_c)}"
        if end_c > high:
            return f"It rests, it does not chill: {change}, and {self.fat_name} rolls at {span(low, high)}."
        if end_c > (low + high) / 2 + 0.25:
            return f"It rests and chills to the warm edge: {change}, {self.fat_name} rolls at {span(low, high)}."
        return f"It rests and chills: {change}."

    @property
    def fat_name(self) -> str:
        """The fat there is most of."""
        fats = [line for line in self.lines if line.ingredient.fat is not None]
        return max(fats, key=lambda line: line.grams).ingredient.name if fats else "fat"

    def _warn_freezer(self, key: str, trace: Trace, place: Place) -> None:
        if trace.is_frozen:
            self._remark(
                key, "Frozen through: nothing rests in it. Thaw it in the fridge; how long is not reckoned.", 5
            )
            return
        brittle = self.blend.brittle_below_c if self.blend else None
        if place.is_freezer and brittle is not None:
            passed = next((m for m, t in zip(trace.minutes, trace.surface_c, strict=True) if t < brittle), None)
            if passed is not None:
                said = f"After {duration(max(1, passed))} its face passes {degrees(brittle)}: brittle, it would crack."
                self._remark(key, said, 2)

    def _temper(self) -> None:
        dough = self.dough
        if self.blend is None or self.blend.roll_c is None or dough.mean_c >= self.blend.roll_c[0]:
            return
        low = self.blend.roll_c[0]
        place, place_mark = self._place("temper.1", self.setting.bench())
        stay = place.stay(LONGEST_MIN, self.room_c)
        frozen = self.traced[-1].trace.is_frozen
        reached = minutes_to(self.heat, self.shaped.body, dough.profile_c, stay, low)
        if reached is None:
            self._remark("temper.1", f"On {place.name} it does not come up to {degrees(low)}, where it rolls.", 5)
        ask = Ask(TEMPERATURE, 0.0 if reached is None or frozen else reached, f"up to {degrees(low)}, where it rolls")
        minutes, reason, mark = self._set_minutes("temper.1", [ask])
        self._wait("temper.1", minutes, place, self.shaped.body)
        self._add(
            "temper.1",
            {"end_c": degrees(dough.mean_c), "roll_low": f"{round(low * 2) / 2:g}"},
            wait_min=minutes,
            reason=reason,
            asks=(ask,),
            edits=place_mark + mark,
            **self._at(place),
            dough_c=dough.mean_c,
        )

    def _roll_and_line(self) -> None:
        dough, lead = self.dough, self.lead
        thickness = lead.item.thickness_mm
        place, marks = self._place("roll.main", self.setting.bench())
        start_c = dough.mean_c
        per_piece = ROLLING_MIN / 2 + (0.7 if is_small(lead) else 2.0)
        typed = self.edits.find("roll.main", "thickness_mm")
        if typed is not None:
            marks += (self.edits.mark("roll.main", "thickness_mm", f"{thickness:g}", typed.replaced),)
        self._set_window(start_c, place, per_piece)
        dough.pull = dough.pull.plus(self.gluten * rolling_pull(self.shaped.across_mm, thickness))
        dough.profile_c = start_c
        self._wait("roll.main", per_piece, place, self.sheet)
        sizes = " × ".join(f"{length:.0f}" for length in lead.rolled_mm)
        round_sign = "Ø " if len(lead.rolled_mm) == 1 else ""
        ask = f"{thickness:g} mm thick when {lead.rolled_g:,.0f} g reach {round_sign}{sizes} mm."
        window = self.window
        if window is None:
            said = "press or roll it between two sheets."
        elif window.minutes is None:
            said = f"it stays below {degrees(window.top_c)}."
        else:
            said = f"from {degrees(start_c)} it has {duration(window.minutes)} to {degrees(window.top_c)}."
        self._add(
            "roll.main",
            {"roll_look": ask, "window": said},
            **self._at(place),
            edits=marks,
            dough_c=dough.mean_c,
            figure=f"{round_sign}{sizes} mm",
            figure_says=f"{thickness:g} mm thick",
        )
        self.line_at = len(self.steps)

    def _line(self, shrink: Sequence[Shrink]) -> None:
        """The lining step, told once the shrink is known, so that it can say how much to leave proud."""
        item = self.lead.item
        rim = max(
            whole_mm(rim_allowance_mm(max(piece.developed_mm), each.percent))
            for piece, each in zip(self.pieces, shrink, strict=True)
        )
        trims = {
            FLUSH: f"Trim flush, but leave {rim:g} mm proud for the shrink.",
            AFTER: f"Leave {max(item.overhang_mm, rim):g} mm hanging over; it goes after the bake.",
            TUCKED: "Tuck the overhang under and crimp.",
        }
        figures = {
            FLUSH: (f"{rim:g} mm", "proud of the tin"),
            AFTER: (f"{max(item.overhang_mm, rim):g} mm", "hanging over"),
            TUCKED: ("", ""),
        }
        figure, says = figures[item.trimming]
        self._add("line", {"trim_look": trims[item.trimming]}, figure=figure, figure_says=says)
        self.steps.insert(self.line_at, self.steps.pop())

    def _set_window(self, start_c: float, place: Place, work_min: float) -> None:
        if self.blend is None or self.blend.roll_c is None:
            return
        low, high = self.blend.roll_c
        stay = place.stay(120.0, self.room_c)
        if start_c > high:
            self.window = BenchWindow(start_c, high, 0.0, work_min)
            remedy = self._flat_in_the_freezer(start_c)
            self._remark(
                "roll.main",
                f"Too soft to roll: {degrees(start_c)}, {self.fat_name} rolls at {span(low, high)}.{remedy}",
                8,
            )
            return
        minutes = minutes_to(self.heat, self.sheet, start_c, stay, high)
        self.window = BenchWindow(start_c, high, minutes, work_min)
        if minutes is not None and round(minutes, 1) < round(work_min, 1):
            said = (
                f"A {self.sheet.across_mm:g} mm sheet from {degrees(start_c)} softens past {degrees(high)} in "
                f"{duration(minutes)}; rolling and lining one takes {duration(work_min)}. Take them from the cold one "
                "by one, and chill the sheet once between."
            )
            self._remark("roll.main", said, 3)

    def _flat_in_the_freezer(self, start_c: float) -> str:
        """What brings a dough that is too soft back: minutes in the freezer, pressed flat to 10 mm."""
        freezer = self.setting.freezer()
        if freezer is None or self.blend is None or self.blend.roll_c is None:
            return " Back to the cold."
        stay = freezer.stay(LONGEST_MIN, self.room_c)
        minutes = minutes_to(self.heat, Body(10.0), start_c, stay, sum(self.blend.roll_c) / 2)
        return f" {freezer.name}, {duration(whole_minutes(minutes or 0))} pressed flat to 10 mm."

    def _chill(self) -> None:
        dough = self.dough
        frozen_firm = self.weights.key == "frozen"
        freezer = self.setting.freezer()
        usual = freezer if frozen_firm and freezer else self.setting.cold_place()
        place, place_mark = self._place("chill.1", usual)
        stay = place.stay(LONGEST_MIN, self.room_c)
        start_c, start_pull = dough.mean_c, dough.pull
        long = long_stay(self.heat, self.sheet, dough.profile_c, stay)
        wanted = [
            asks.pull_before_oven(dough.pull, long, self.ratio.true_water, self.hold)
            if self.gluten
            else asks.NO_GLUTEN,
            asks.drinking(dough.drink_min, dough.stays, long),
            asks.frozen_for_oven(long) if frozen_firm else asks.firm_for_oven(self.blend, long),
            Ask(HABIT, CHILL_HABIT_MIN, f"the kitchen chills a lined tin {CHILL_HABIT_MIN:.0f} min"),
        ]
        if frozen_firm and wanted[2].minutes is None:
            self._remark("chill.1", "Without weights the case is to be frozen firm: choose a freezer for it.", 6)
        minutes, reason, mark = self._set_minutes("chill.1", wanted)
        trace, pull = self._wait("chill.1", minutes, place, self.sheet)
        end_c = dough.mean_c
        firm = "Frozen hard, it rings when tapped." if trace.is_frozen else "Firm to the touch, the rim holds its edge"
        self._add(
            "chill.1",
            {
                "chill_look": firm if trace.is_frozen else f"{firm}: {degrees(end_c)}.",
                "chill_why": f"{degrees(start_c)} to {degrees(end_c)}, so that the wall stands until it sets."
                + (f" Pull {start_pull.total:.0f} to {pull[-1]:.0f}." if self.gluten else ""),
                "cold_caution": cold_caution(self.lines, minutes, self.setting.keeping),
            },
            wait_min=minutes,
            reason=reason,
            asks=tuple(wanted),
            edits=place_mark + mark,
            **self._at(place),
            dough_c=end_c,
        )

    @property
    def hold(self) -> float:
        return hold_share(in_tin=True, docked=self.docked, weighted=self.weighted)

    def _shrink(self) -> tuple[Shrink, ...]:
        """What the oven takes of each item: its own rolling, the rest they share."""
        found = []
        chilled = next(each for each in self.traced if each.key == "chill.1")
        rolled = next(each for each in self.traced if each.key == "roll.main")
        before = self._pull_before_rolling()
        for piece, scale in zip(self.pieces, self.scales, strict=True):
            pull = before.plus(self.gluten * rolling_pull(self.shaped.across_mm, piece.item.thickness_mm))
            pull = rest_along(rest_along(pull, rolled.trace)[-1], chilled.trace)[-1]
            hold = self.hold
            percent = oven_shrink(self.ratio.true_water, pull.total, hold, frozen=chilled.trace.is_frozen)
            length = sum(piece.developed_mm) / len(piece.developed_mm)
            found.append(Shrink(pull.total, hold, percent, scale, scale * percent, percent / 100 * length))
        return tuple(found)

    def _pull_before_rolling(self) -> Pull:
        pull = Pull().plus(self.manner.added_pull * self.gluten)
        for each in self.traced:
            if each.key == "roll.main":
                break
            pull = rest_along(pull, each.trace)[-1]
        return pull

    def _went_greasy(self) -> bool:
        """Whether pieces of fat melted on the way: chilling does not bring them back."""
        if self.mixing.purpose != "flake" or self.blend is None or self.blend.is_oil:
            return False
        greasy = self.blend.greasy_from_c
        warmest = max((max(each.trace.mean_c) for each in self.traced), default=-20.0)
        return self.mixing.is_spoiled or (greasy is not None and warmest >= greasy)


def lead_piece(pieces: Sequence[Piece]) -> Piece:
    """The piece that the steps go by: the heaviest, which takes longest to chill and to bake."""
    return max(pieces, key=lambda piece: piece.rolled_g)

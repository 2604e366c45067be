"""The dough on its way through a course: where it stands, and what every step needs to be told."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from northfold.core.formula.ratio import DoughLine, Ratio
from northfold.core.formula.yeast import is_bakers_yeast
from northfold.core.gluten.pull import (
    Pull,
    drink_time_min,
    drunk_along,
    gluten_factor,
    hold_share,
    rest_along,
    rolling_pull,
)
from northfold.core.heat.conduction import Body, Stay, Trace, conduct
from northfold.core.heat.dough_heat import DoughHeat
from northfold.core.heat.places import Place, between_sheets
from northfold.core.matter.fats import FatBlend
from northfold.core.matter.fillings import COLD_WITHIN_H, KEPT_DAYS, Risk
from northfold.core.method.choices.edits import Edited, EditReader
from northfold.core.method.choices.finishes import Finishes, finish_words
from northfold.core.method.choices.kitchen import Setting
from northfold.core.method.choices.schools import questions
from northfold.core.method.reckon.baking import Bake
from northfold.core.method.reckon.cold_form import shape_for_cold
from northfold.core.method.reckon.division import dusting_g, heaviest, lead_piece, lots_of
from northfold.core.method.reckon.lamination import Folding
from northfold.core.method.reckon.mixing import Mixing, mixing_hands_min
from northfold.core.method.reckon.tempering import Beforehand
from northfold.core.method.route.cautions import circumstances
from northfold.core.method.route.routes import CourseKind
from northfold.core.method.route.step import EDIT, HABIT, Ask, BenchWindow, Remark, Step, TracedStep
from northfold.core.method.route.texts import StepMaker, step_texts
from northfold.core.method.rules.out_of_cold import keeps_short_for
from northfold.core.method.words import degrees, duration, whole_minutes
from northfold.core.shape.blanks import Piece, filling_of, weights_g

# A dough so dry is fragile, and rolled between sheets. [% of flour] North Fold reference table.
FRAGILE_BELOW_PCT = 20.0
# A scalded dough slumps above the one, stiffens and cracks below the other, where its fat sets. [°C] Assumptions.
HAND_WARM_C, STIFF_C = 45.0, 32.0
# The longest wait that is looked at. [min]
LONGEST_MIN = 720.0


NOT_WORKED = (0.0, 0.0, 0.0)


@dataclass
class Dough:
    """Where the dough stands while it is walked through its steps."""

    heat: DoughHeat
    mean_c: float
    pull: Pull
    drink_min: float
    drunk: float = 0.0
    profile_c: tuple[float, ...] = ()
    body: Body | None = None

    def starts_from(self, body: Body) -> tuple[float, ...] | float:
        """What a wait in this shape begins from: its profile, or its mean where it is shaped anew. [°C]"""
        return self.profile_c if body == self.body else self.mean_c

    def waits(self, key: str, name: str, body: Body, stay: Stay, worked: tuple[float, float, float]) -> TracedStep:
        """
        Let it wait: temperature, pull and drinking along the way; the dough is then as it comes out.

        In another shape than before it starts from its mean. `worked` is from and to what it was just rolled, and
        what a fold added.
        """
        trace = conduct(self.heat, body, self.starts_from(body), stay)
        pulls, drunk = rest_along(self.pull, trace), drunk_along(self.drink_min, self.drunk, trace)
        found = TracedStep(key, name, trace, tuple(p.total for p in pulls), drunk, self.pull, *worked)
        self.body, self.profile_c, self.mean_c, self.pull = body, trace.profile_c, trace.mean_c[-1], pulls[-1]
        self.drunk = drunk[-1]
        return found


def raises_at_once(lines: Sequence[DoughLine]) -> bool:
    """Whether suet is raised by a powder or a self-raising flour."""
    used = [line.ingredient for line in lines if line.grams]
    powder = any((each.role == "raising" and not is_bakers_yeast(each)) or "self-raising" in each.name for each in used)
    return powder and any("suet" in each.name for each in used)


class Walk:
    """One dough on its way through the steps of a course; made and worked once for each plan."""

    def __init__(
        self,
        kind: CourseKind,
        lines: Sequence[DoughLine],
        ratio: Ratio,
        blend: FatBlend | None,
        heat: DoughHeat,
        pieces: Sequence[Piece],
        mixing: Mixing,
        bake: Callable[[str], Bake],
        setting: Setting,
        edits: EditReader,
        allergens: Sequence[str],
        scales: Sequence[float],
        beforehand: Sequence[Beforehand],
        finishes: Finishes,
        risk: Risk | None,
        folding: Folding | None = None,
    ) -> None:
        self.kind, self.folding = kind, folding
        self.finishes, self.risk = finishes, risk
        # Whether the pieces go into the oven frozen hard; the chill before it says so.
        self.frozen_firm = False
        if folding is not None:
            # Until it is locked in, the block alone; the roll-in fat decides what can be rolled.
            heat, blend = folding.block_heat, folding.roll_in
        self.lines, self.ratio, self.blend, self.heat = lines, ratio, blend, heat
        self.pieces, self.mixing, self.setting, self.edits = pieces, mixing, setting, edits
        self.allergens, self.scales, self.beforehand = allergens, scales, beforehand
        self.room_c = setting.room_c
        self.manner = edits.manner(setting.schools)
        answers = {question: edits.school(question, setting.schools) for question in questions()}
        self.chosen = {question: answer.key for question, answer in answers.items()}
        self.first_rest, self.docking, self.weights = (answers[key] for key in ("first_rest", "docking", "weights"))
        # Suet with something that raises it: what was wetted works at once, and waits for nobody.
        self.at_once = raises_at_once(lines) and not edits.find("rest.1", "school")
        if self.at_once:
            self.first_rest = questions()["first_rest"].options["none"]
            self.chosen["first_rest"] = "none"
        # Rolled at once and chilled flat: there has to be a rest to chill in, and no fat to be locked in first.
        flat = self.chosen["rolling"] == "sheet" and self.first_rest.key != "none"
        self.rolls_first = kind.rolls and flat and folding is None
        self.rolled_on, self.rim = answers["rolled_on"], answers["rim"]
        self.weighted = kind.blind and self.weights.key == "weighted"
        self.docked = self.docking.key != "none" if kind.blind else kind.docked
        self.bake = bake(self.chosen["weights_off"] if self.weighted else "")
        self.gluten = gluten_factor(lines, ratio, self.manner.coating) if folding is None else folding.gluten
        # What the oven goes by: the block's own water where a fat is rolled in.
        self.shrink_water = ratio.true_water if folding is None else folding.block_ratio.true_water
        # How thick a laminated packet is, once it is locked in. [mm]
        self.packet_mm = 0.0
        self.lead = lead_piece(pieces)
        self.lots = tuple(lot for piece in pieces for lot in lots_of(piece))
        self.lot = heaviest(lots_of(self.lead))
        self.shaped = shape_for_cold(
            edits, self.lot.grams, heat.density_kg_m3, usual=kind.form, is_brick=self.lot.is_brick
        )
        self.sheet = Body(self.lead.item.thickness_mm)
        # Worked in two goes, one half resting while the other is worked: there have to be two of them.
        several = sum(lot.count for lot in self.lots) * self.shaped.parts > 1
        self.in_turn = (
            several
            and folding is None
            and (kind.key == "pulled" or (kind.rolls and self.chosen["rolling"] == "halves"))
        )
        self.dough = Dough(
            heat, mixing.dough_c, Pull().plus(self.manner.added_pull * self.gluten), drink_time_min(lines)
        )
        holds = circumstances(lines, pieces, self.manner, self.weighted, allergens, finishes, risk)
        if any(key.startswith("fill") for key in kind.steps):
            holds |= {"filled"}
            if any(not (piece.item.filling or piece.item.filling_allergens) for piece in pieces):
                holds |= {"unnamed filling"}
        whole_g = sum(piece.need_g for piece in pieces)
        self.maker = StepMaker(lines, pieces, mixing_hands_min(self.manner, whole_g, setting.mixers), self.lots, holds)
        self.dust_g = dusting_g(self.lot)
        flour_g = sum(line.grams for line in lines if line.ingredient.role == "flour")
        factor = sum(piece.need_g for piece in pieces) / ratio.total_g
        self.maker.figures = {
            # A spoonful at a time: a hundredth of the flour.
            "spoon_g": f"{max(1.0, flour_g * factor / 100):.0f}",
            "dust_g": f"{max(1.0, self.dust_g):.0f}",
            "rich_what": " and ".join(keeps_short_for(lines)),
            "filled_h": f"{risk.keeps_h:g}" if risk else "",
            "cold_h": f"{COLD_WITHIN_H:g}",
            "kept_days": f"{KEPT_DAYS:g}",
            **finish_words(finishes),
        }
        self.steps: list[Step] = []
        # What goes on beside the dough, each with the key of the step that waits for it.
        self.apart: list[tuple[Step, str]] = []
        self.traced: list[TracedStep] = []
        self.remarks: list[Remark] = []
        self.window: BenchWindow | None = None
        # From and to what it was just rolled [mm], and what a fold added, until the trace has taken it up.
        self.worked = NOT_WORKED

    @property
    def half_mm(self) -> float:
        """Half way, in pull, from the shape it rests in to its thickness. [mm]"""
        return math.sqrt(self.shaped.across_mm * self.lead.item.thickness_mm)

    @property
    def from_mm(self) -> float:
        """From what it is rolled out: its disc, or the packet after its last turn. [mm]"""
        return self.packet_mm or self.shaped.across_mm

    @property
    def first_to_mm(self) -> float:
        """To what it is rolled at first: half way where that is done in turn. [mm]"""
        return self.half_mm if self.in_turn else self.lead.item.thickness_mm

    @property
    def resting_body(self) -> Body:
        """What rests in the cold first: the lot as it was shaped, or the sheet where that was rolled at once."""
        if self.folding is not None:
            return Body(self.packet_mm or self.folding.lamination.stages[0].thickness_mm)
        return self.sheet if self.rolls_first else self.shaped.body

    @property
    def hold(self) -> float:
        """The share of the shrink that its pieces are free to follow in the oven."""
        return hold_share(in_tin=self.kind.hold == "tin", docked=self.docked, weighted=self.weighted)

    @property
    def fat_name(self) -> str:
        """The fat there is most of."""
        fats = [line for line in self.lines if line.ingredient.fat is not None]
        return max(fats, key=lambda line: line.grams).ingredient.name if fats else "fat"

    @property
    def chilled_body(self) -> Body:
        """What goes into the cold before the oven: the sheet, or two of them with the filling between."""
        if not self.kind.filled_mm or not any(step.key.startswith("fill") for step in self.steps):
            return self.sheet
        heap = self.lead.item.heap_mm or self.kind.filled_mm
        return Body(min(120.0, 2 * self.sheet.across_mm + heap))

    def add(self, key: str, figures: dict[str, str] | None = None, **values: Any) -> None:
        self.steps.append(self.maker.make(key, figures, **values))

    def remark(self, key: str, text: str, weight: int) -> None:
        self.remarks.append(Remark(key, text, weight))

    def place_of(self, key: str, usual: Place) -> tuple[Place, tuple[Edited, ...]]:
        """The place of a step, with the mark of an edit."""
        chosen = self.edits.word(key, "place", {place.key: place for place in self.setting.places})
        place = self.setting.place(chosen) if chosen else None
        if place is None:
            return usual, ()
        return place, (self.edits.mark(key, "place", place.name, usual.name),)

    def at(self, place: Place) -> dict[str, Any]:
        """The fields by which a step tells where it is."""
        return {"place": place.name, "place_key": place.key, "place_c": place.temperature_c(self.room_c)}

    def set_minutes(self, key: str, asks: Sequence[Ask]) -> tuple[float, str, tuple[Edited, ...]]:
        """The minutes of a wait: an edit, else the longest that any reason asks."""
        longest = max((ask for ask in asks if ask.minutes is not None), key=lambda ask: ask.minutes or 0.0)
        minutes = whole_minutes(longest.minutes or 0.0)
        typed = self.edits.number(key, "minutes")
        if typed is None:
            return minutes, longest.reason, ()
        mark = self.edits.mark(key, "minutes", f"{typed:g}", f"{minutes:g}")
        if typed < minutes and longest.reason != HABIT:
            self.remark(key, f"{duration(typed)} are shorter than {longest.name} asks: {duration(minutes)}.", 1)
        return typed, EDIT, (mark,)

    def wait(
        self, key: str, minutes: float, place: Place, body: Body, *, name: str = "", between: bool = False
    ) -> tuple[Trace, tuple[float, ...]]:
        """So many minutes in a place [min], `between` two sheets; the trace and the pull along it."""
        stay = place.stay(max(minutes, 0.01), self.room_c)
        waited = self.dough.waits(
            key,
            name or step_texts()[key]["name"],
            body,
            between_sheets(stay) if between else stay,
            self.worked,
        )
        self.worked = NOT_WORKED
        self.traced.append(waited)
        return waited.trace, waited.pull

    def work(self, from_mm: float, to_mm: float, fold: float = 0.0) -> None:
        """
        Roll or pull it thinner [mm], which adds to its pull; `fold` is what folding it adds before G.

        The next stretch of the trace starts there.
        """
        self.dough.pull = self.dough.pull.plus(self.gluten * (rolling_pull(from_mm, to_mm) + fold))
        own = to_mm == self.lead.item.thickness_mm and not fold
        self.worked = (from_mm, 0.0 if own else to_mm, fold)

    @property
    def is_fragile(self) -> bool:
        return self.ratio.true_water < FRAGILE_BELOW_PCT

    @property
    def is_between_sheets(self) -> bool:
        """Whether it is rolled between two sheets: as chosen, else where it is chilled in them, or fragile."""
        by_itself = self.rolls_first or self.is_fragile
        return self.rolled_on.key == "sheets" or (self.rolled_on.key == "usual" and by_itself)

    @property
    def is_baked(self) -> bool:
        return any(step.key.startswith("bake.") for step in self.steps)

    @property
    def filling_c(self) -> float:
        """How cold a filling goes in: as the fridge. [°C]"""
        return self.setting.cold_place().temperature_c(self.room_c)

    @property
    def _flat_heap(self) -> str:
        return "level with the rim" if self.lead.item.tin.is_vessel else "in the middle"

    @property
    def has_oil(self) -> bool:
        """Whether nothing in it firms in the cold."""
        return self.blend is None or self.blend.is_oil

    @property
    def figures(self) -> dict[str, str]:
        """Numbers that the texts of plain steps may name."""
        item = self.lead.item
        filling_g = filling_of(item)
        return {
            "thickness_mm": f"{item.thickness_mm:g}",
            "hang_mm": f"{self.lead.hang_mm:g}",
            "border_mm": f"{item.tin.border_mm:g}",
            "heap": f"in a heap of {item.heap_mm:g} mm" if item.heap_mm else self._flat_heap,
            "filling_c": degrees(self.filling_c),
            "filling_g": f"{filling_g:,.0f} g in each" if filling_g else "as much as it holds in each",
            "slices": f"{item.slices}" if item.slices else "as many as you sell",
            "count": f"{item.count}",
            "offcuts_say": " Offcuts laid flat on each other, never gathered: their layers stay."
            if self.folding
            else "",
            "pulses_g": f"{weights_g(self.lead):,.0f}",
        }

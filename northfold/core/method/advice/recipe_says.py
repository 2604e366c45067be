"""What a recipe says of oven, minutes, rests, turns, thickness, tin and yield, offered beside the plan's own."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from northfold.core.formula.method_text import (
    BAKE,
    BLIND,
    CHILL,
    DEPTH,
    FREEZE,
    HEAT,
    MINUTES,
    PIECES,
    PROVE,
    REST,
    THICKNESS,
    TIN,
    TURNS,
    YIELD,
    Fact,
)
from northfold.core.method.choices import step_keys
from northfold.core.method.choices.edits import Take
from northfold.core.method.choices.fields import field_named
from northfold.core.method.choices.kitchen import FAN_OFFSET_K
from northfold.core.method.plan import Plan
from northfold.core.method.words import degrees, duration
from northfold.core.shape.blanks import THICKNESS_MM
from northfold.core.shape.tins import Tin

# A tin of the rack whose sides are within this of the one named is that tin. [mm]
SAME_TIN_MM = 6.0
# "190°C", "375 F", "190 ° c".
_DEGREES = re.compile(r"(?<=\d)\s*°?\s*([CF])\b", re.IGNORECASE)
# The rest that a recipe speaks of first.
FIRST_RESTS = (step_keys.REST, step_keys.REST_WARM)
# The stages of a make under which something is offered.
SIZE, FOLD, STEPS, BAKING = "size", "fold", "steps", "bake"


@dataclass(frozen=True)
class Offer:
    """
    One thing that the recipe says: where it is offered, its words, what the plan has, the edits that take it.

    `sides_mm`, `deep_mm`, `count` and `slices` are of a tin and a number of pieces, which are no edits of a step. [mm]
    `taken` where the plan has it so already; without edits, sides or count it is told, and no step takes it.
    """

    key: str
    stage: str
    says: str
    plan_has: str
    takes: Take = ()
    taken: bool = False
    sides_mm: tuple[float, ...] = ()
    deep_mm: float = 0.0
    count: int = 0
    slices: int = 0

    @property
    def can_be_taken(self) -> bool:
        return bool(self.takes or self.sides_mm or self.count or self.slices) and not self.taken


def offers(plan: Plan, facts: Sequence[Fact]) -> tuple[Offer, ...]:
    """
    Everything that a recipe says of its method, held against the plan.

    Parameters
    ----------
    plan : Plan
        Of the make.
    facts : sequence of Fact
        In the order of the recipe. [°C of a still oven, min, mm]

    Returns
    -------
    tuple of Offer
        One for each thing said, in order: nothing is dropped. What no step of this make takes is told without edits.
    """
    found = [
        *_heats(plan, [fact for fact in facts if fact.kind == HEAT]),
        *_bakes(plan, [fact for fact in facts if fact.kind == MINUTES and fact.use in (BAKE, BLIND)]),
        *_waits(plan, [fact for fact in facts if fact.kind == MINUTES and fact.use not in (BAKE, BLIND)]),
        *(_turned(plan, fact) for fact in facts if fact.kind == TURNS),
        *(_thick(plan, fact) for fact in facts if fact.kind == THICKNESS),
        *_tin(plan, facts),
        *(_made(plan, fact) for fact in facts if fact.kind == YIELD),
    ]
    seen: dict[tuple[str, str], Offer] = {}
    for offer in found:
        seen.setdefault((offer.stage, offer.says), offer)
    return tuple(seen.values())


def _in_range(field: str, value: float) -> bool:
    kind = field_named(field)
    return kind is not None and kind.holds(value)


def _spaced(match: re.Match[str]) -> str:
    return f" °{match[1].upper()}"


def _heats(plan: Plan, facts: Sequence[Fact]) -> list[Offer]:
    """The first heat is the oven's; a second, lower one that of the stage after it."""
    bake, found = plan.bake, []
    for number, fact in enumerate(facts):
        says = f"oven {_DEGREES.sub(_spaced, fact.text)}"
        if bake is None or number > 1 or (number == 1 and len(bake.stages) < 2):
            found.append(Offer(f"heat{number}", BAKING, says, ""))
            continue
        still_c = fact.values[0] + (FAN_OFFSET_K if fact.is_fan else 0.0)
        set_c = round((still_c - bake.oven.lowered_k) / 5) * 5.0
        low = next((stage for stage in bake.stages if stage.key == step_keys.BAKE_LOW), None)
        step = step_keys.BAKE_OFF if number == 0 else step_keys.BAKE_LOW
        has_c = bake.oven_c if number == 0 else low.oven_c if low else None
        if has_c is None or not _in_range("oven_c", set_c):
            found.append(Offer(f"heat{number}", BAKING, says, ""))
            continue
        here = f", {degrees(set_c)} in {bake.oven.name}" if abs(set_c - fact.values[0]) > 2 else ""
        takes: Take = ((step, "oven_c", f"{set_c:g}"),)
        found.append(Offer(f"heat{number}", BAKING, says + here, degrees(has_c), takes, taken=abs(has_c - set_c) < 1))
    return found


def _usual(fact: Fact) -> float:
    """The minutes of a fact: the middle of a range. [min]"""
    return round(sum(fact.values) / len(fact.values))


def _bakes(plan: Plan, facts: Sequence[Fact]) -> list[Offer]:
    """Minutes in the oven, stage by stage; one figure for a bake in two stages is shared out as the plan's are."""
    bake = plan.bake
    if bake is None:
        return [Offer(f"bake{n}", BAKING, f"bake {fact.text}", "") for n, fact in enumerate(facts)]
    stages = list(bake.stages)
    whole = sum(stage.minutes for stage in stages)
    if len(facts) == 1 and len(stages) > 1 and facts[0].use != BLIND:
        minutes = _usual(facts[0])
        first = round(minutes * stages[0].minutes / whole) if whole else minutes
        parts = (first, *(minutes - first for _ in stages[1:2]))
        takes = tuple((stage.key, "minutes", f"{part:g}") for stage, part in zip(stages, parts, strict=False))
        taken = abs(whole - minutes) < 0.5
        return [Offer("bake0", BAKING, f"bake {facts[0].text}", duration(whole), takes, taken)]
    found = []
    for number, fact in enumerate(facts):
        stage = stages[number] if number < len(stages) else None
        says = f"{'bake blind' if fact.use == BLIND else 'bake'} {fact.text}"
        if stage is None:
            found.append(Offer(f"bake{number}", BAKING, says, ""))
            continue
        minutes = _usual(fact)
        one: Take = ((stage.key, "minutes", f"{minutes:g}"),)
        has = f"{stage.name}: {duration(stage.minutes)}"
        found.append(Offer(f"bake{number}", BAKING, says, has, one, taken=abs(stage.minutes - minutes) < 0.5))
    return found


def _waits(plan: Plan, facts: Sequence[Fact]) -> list[Offer]:
    """Rests, chills, proofs: the first rest before rolling, what comes after it before the oven."""
    steps = {step.key: step for step in plan.route.steps} if plan.route else {}
    freezer = plan.inputs.setting.freezer()
    found, rested = [], False
    for number, fact in enumerate(facts):
        key = {PROVE: step_keys.PROVE, CHILL: step_keys.CHILL, FREEZE: step_keys.CHILL}.get(fact.use, "")
        if fact.use == REST:
            first = next((name for name in FIRST_RESTS if name in steps), step_keys.REST)
            key = step_keys.CHILL if rested else first
            rested = True
        says = f"{fact.use or 'wait'} {fact.text}"
        step = steps.get(key)
        minutes = _usual(fact)
        if step is None or not _in_range("minutes", minutes):
            found.append(Offer(f"wait{number}", STEPS, says, ""))
            continue
        takes: Take = ((key, "minutes", f"{minutes:g}"),)
        if fact.use == FREEZE and freezer is not None:
            takes = ((key, "place", freezer.key), *takes)
        has = f"{step.name.lower()} {duration(step.wait_min)}"
        found.append(Offer(f"wait{number}", STEPS, says, has, takes, taken=abs(step.wait_min - minutes) < 0.5))
    return found


def _turned(plan: Plan, fact: Fact) -> Offer:
    folds = tuple(int(into) for into in fact.values)
    takes: Take = ((step_keys.TURNS, "own", " ".join(map(str, folds))),)
    if plan.fold is None:
        firm = any(line.ingredient.fat is not None and not line.ingredient.is_oil for line in plan.inputs.lines)
        return Offer("turns", STEPS, fact.text, "no turns", takes if firm else ())
    has = ", ".join("double" if into == 4 else "single" if into == 3 else "half" for into in plan.fold.inputs.folds)
    return Offer("turns", FOLD, fact.text, has, takes, taken=plan.fold.inputs.folds == folds)


def _thick(plan: Plan, fact: Fact) -> Offer:
    value = fact.values[0]
    if not plan.pieces or not THICKNESS_MM[0] <= value <= THICKNESS_MM[1]:
        return Offer(f"thick{value:g}", SIZE, f"{fact.text} thick", "")
    has = plan.pieces[0].item.thickness_mm
    takes: Take = ((step_keys.ROLL, "thickness_mm", f"{value:.2g}"),)
    return Offer(f"thick{value:g}", SIZE, f"{fact.text} thick", f"{has:g} mm", takes, taken=abs(has - value) < 0.15)


def matches(tin: Tin, sides_mm: Sequence[float], deep_mm: float = 0.0) -> bool:
    """Whether a tin or shape of the rack is the one that a recipe names. [mm]"""
    tops = sorted((top for top, _ in tin.axes()), reverse=True)
    wanted = sorted(sides_mm, reverse=True)
    if len(wanted) == 1 and len(tops) == 2 and tops[0] == tops[1]:
        tops = tops[:1]
    if len(tops) != len(wanted) or (deep_mm and tin.is_vessel and abs(tin.height_mm - deep_mm) > SAME_TIN_MM):
        return False
    return all(abs(top - side) <= SAME_TIN_MM for top, side in zip(tops, wanted, strict=True))


def _tin(plan: Plan, facts: Sequence[Fact]) -> list[Offer]:
    named = [fact for fact in facts if fact.kind == TIN]
    deep = next((fact.values[0] for fact in facts if fact.kind == DEPTH), 0.0)
    found = []
    for number, fact in enumerate(named):
        deep_mm = deep if number == 0 else 0.0
        tins = [item.tin for item in plan.inputs.items]
        has = ", ".join(f"{tin.name} {tin.size}" for tin in tins)
        taken = any(matches(tin, fact.values, deep_mm) for tin in tins)
        says = f"{fact.text} tin" + (f", {deep_mm:.0f} mm deep" if deep_mm else "")
        found.append(Offer(f"tin{number}", SIZE, says, has, taken=taken, sides_mm=fact.values, deep_mm=deep_mm))
    if deep and not named:
        found.append(Offer("deep", SIZE, f"{deep:.0f} mm deep", ""))
    return found


def _made(plan: Plan, fact: Fact) -> Offer:
    count = int(fact.values[0])
    items = plan.inputs.items
    if fact.use != PIECES:
        has = f"{items[0].slices or 'no'} slices each" if items else ""
        each = count if len(items) == 1 and items[0].count == 1 else 0
        return Offer("slices", SIZE, fact.text, has, taken=bool(each) and items[0].slices == each, slices=each)
    planned = sum(item.count for item in items)
    can = len(items) == 1
    return Offer("yield", SIZE, fact.text, f"{planned} pieces", taken=planned == count, count=count if can else 0)

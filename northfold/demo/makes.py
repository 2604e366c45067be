"""
The makes of Gannet Row: past ones worked and measured, some under way, some to come.

Every one goes through the services that people use: plans are frozen, steps tapped off, rims measured. What came out
is the plan's own figure with scatter, so that what is learned has something to say.
"""

import random
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID

from django.utils import timezone

from northfold.bench import services as bench
from northfold.bench.queries import run_of
from northfold.core.bake.worked import trace_of
from northfold.core.formula.liquid import main_flour
from northfold.core.heat.bake import COLOURS, colour_name
from northfold.core.heat.conduction import conduct
from northfold.core.learning.shrink import POINTS
from northfold.core.method.advice.place_readings import REST
from northfold.core.method.advice.rolled_dough import rolled_dough_of
from northfold.core.method.choices import step_keys
from northfold.core.method.route import progress
from northfold.core.method.route.step import Step
from northfold.core.shape.blanks import starts_from
from northfold.day.services import weigh_make
from northfold.dough.models import Formula, FormulaVersion
from northfold.kitchen.models import Place, Tin
from northfold.makes import services as makes
from northfold.makes.leftovers import leftovers, put_into_store
from northfold.makes.methods import save_method
from northfold.makes.models import SIZE_FIELDS, Make
from northfold.makes.queries import plan_of
from northfold.records.services import Findings, record_result
from northfold.stock.services import put_in
from northfold.web.models import User

FLUSH = {"trimming": "flush", "overhang_mm": 0.0, "margin_mm": 6.0}
TART, TARTLET = "Harbour tart shell", "Gooseberry tartlet dough"
PIE, QUINCE = "Deep lidded pie crust", "Buckwheat quince tart base"
# How much of the written liquid each flour takes in this bakehouse, and how much more than reckoned each dough shrinks:
# its records are to find it out.
TRUE_THIRST = {"plain flour": 1.05, "soft flour": 0.97}
# The walk-in fridge is fuller, and warmer than its dial says: times its kind's film, and its air. [ratio, °C]
TRUE_FILM, TRUE_FRIDGE_C = 0.72, 5.0
# Hands are slower at the pin and quicker at the tins than by the start values.
TRUE_PACE = {step_keys.ROLL: 1.15, step_keys.LINE: 0.9}
# The ovens pass on a little more heat than by the table. [ratio]
TRUE_HEAT = 1.12
TRUE_SCALE = {TART: 1.35, TARTLET: 1.1, PIE: 1.6, QUINCE: 1.0}


@dataclass(frozen=True)
class Past:
    """A make of some days ago: what was made, how, and what was seen."""

    days: int
    formula: str
    tin: str
    count: int
    item: dict[str, Any] = field(default_factory=dict)
    edits: tuple[tuple[str, str, str], ...] = ()
    faults: tuple[str, ...] = ()
    taste: str = "wanted"
    note: str = ""
    doubtful: bool = False
    slumped: bool = False


LIDDED = {"cover": "lid", "heap_mm": 25.0, "overhang_mm": 25.0, "thickness_mm": 4.0, "trimming": "tucked",
          "filling": "beetroot and barley", "slices": 8}  # fmt: skip
PAST = [
    Past(66, TART, "Straight flan tin", 6, FLUSH, ((step_keys.REST, "school", "half"),), ("shrank",), "nearly"),
    Past(59, TARTLET, "Tartlet tin", 24, FLUSH),
    Past(52, PIE, "Deep pie dish", 4, {"thickness_mm": 4.0}, (), ("cracked_edge",), "nearly", "Cheese grated coarse."),
    Past(45, TART, "Straight flan tin", 8, FLUSH, (), ("shrank",), "wanted", "Rested the full hour this time."),
    Past(38, QUINCE, "Long tart tin", 2, {"thickness_mm": 4.0}, (), ("crumbled",), "not_yet", "Corners crumbled."),
    Past(31, TART, "Straight flan tin", 6, FLUSH, ((step_keys.WEIGHTS, "use", "none"),), ("slumped",), "nearly",
         "Warm afternoon, 27 in the room; walls slid down.", slumped=True),
    Past(26, TARTLET, "Tartlet tin", 30, FLUSH, (), (), "wanted", "Even, crisp."),
    Past(21, PIE, "Deep pie dish", 4, {"thickness_mm": 4.0}, ((step_keys.CHILL, "minutes", "45"),), (), "wanted"),
    Past(17, TART, "Straight flan tin", 6, FLUSH, ((step_keys.CHILL, "minutes", "60"),), (), "wanted"),
    Past(12, QUINCE, "Long tart tin", 2, {"thickness_mm": 4.0}, (), (), "wanted", "Two grams more husk held it."),
    Past(8, TARTLET, "Tartlet tin", 24, FLUSH, (), ("domed",), "wanted", "One tray not docked.", doubtful=True),
    Past(4, PIE, "Deep pie dish", 5, {"thickness_mm": 4.0}, (), (), "wanted", "Rim held after the longer chill."),
]  # fmt: skip

# formula, tin, pieces, item, minutes since the start: makes under way.
RUNNING = [
    (TART, "Straight flan tin", 6, FLUSH, 58),
    (TARTLET, "Tartlet tin", 18, FLUSH, 205),
    (PIE, "Deep pie dish", 2, {}, 6),
]

# formula, tin or shape, pieces, item, hours from now when it must be ready.
PLANNED = [
    (TART, "Straight flan tin", 6, {}, 26),
    (TARTLET, "Tartlet tin", 24, FLUSH, 28),
    (PIE, "Deep pie dish", 4, {**LIDDED, "heap_mm": 20.0}, 11),
    (QUINCE, "Long tart tin", 2, {"thickness_mm": 4.0, "offcuts": "rerolled"}, 10),
    (
        "Potato-and-dill hand pie dough",
        "Hand pie",
        24,
        {"heap_mm": 14.0, "filling": "potato and dill", "filling_g": 90.0, "offcuts": "rerolled"},
        30,
    ),
    ("Cardamom morning coils", "Morning coil", 40, {"thickness_mm": 4.0}, 44),
]
# And some more, made without a tin or with a lid.
SHAPED = [
    ("Seeded cheese crackers", "Cracker", 120, {"thickness_mm": 2.5, "offcuts": "twice"}, 20),
    (PIE, "Deep pie dish", 6, LIDDED, 31),
    ("Sea-salt caramel sandies", "Sandy", 90, {"thickness_mm": 6.0}, 50),
]  # fmt: skip

# Several products of one dough: formula, hours from now, and of each its tin, pieces, item.
TOGETHER = (
    TART,
    34,
    [("Straight flan tin", 2, {}), ("Tartlet tin", 24, FLUSH), ("Deep pie dish", 1, {**LIDDED, "heap_mm": 20.0})],
)

# A lattice over fruit: formula, tin, pieces, item, hours from now.
WOVEN = (
    TART,
    "Straight flan tin",
    2,
    {**LIDDED, "cover": "lattice", "heap_mm": 15.0, "filling": "gooseberries"},
    54,
)

# The same work in two schools: formula, tin or shape, pieces, item, and the step edits of each school.
HAND_PIE = {"heap_mm": 14.0, "filling": "potato and dill", "filling_g": 90.0, "offcuts": "rerolled"}
NIGHT = (step_keys.REST, "school", "night")
SCHOOLED = [
    ("Chestnut custard tart crust", "Fluted tart tin", 4, {"slices": 10}, [(step_keys.BAKE_OFF, "until", "part")]),
    ("Chestnut custard tart crust", "Fluted tart tin", 4, {},
     [(step_keys.BAKE_OFF, "until", "part"), (step_keys.WEIGHTS, "use", "frozen"), NIGHT]),
    (TARTLET, "Tartlet tin", 24, FLUSH, [(step_keys.DOCK, "when", "after"), (step_keys.ROLL, "school", "sheet")]),
    ("Potato-and-dill hand pie dough", "Hand pie", 24, HAND_PIE,
     [(step_keys.MIX, "fat", "frozen"), (step_keys.MIX, "method", "grater")]),
    ("Seeded cheese crackers", "Cracker", 120, {"thickness_mm": 2.5, "offcuts": "twice"},
     [(step_keys.MIX, "method", "processor"), (step_keys.REST, "school", "half")]),
    (PIE, "Deep pie dish", 6, {**LIDDED, "slices": 8, "leaves": 5}, [(step_keys.MIX, "method", "processor"), NIGHT]),
    ("Cabbage-and-caraway pulled dough", "Pulled sheet", 3, {"filling": "cabbage and caraway", "filling_g": 700.0}, []),
    ("Cabbage-and-caraway pulled dough", "Pulled sheet", 3, {"filling": "cabbage and caraway", "filling_g": 700.0},
     [(step_keys.REST_WARM, "minutes", "120")]),
    ("Barley-and-blackcurrant slab", "Slab", 2, {"thickness_mm": 5.0, "slices": 24, "filling_g": 1200.0}, []),
    ("Barley-and-blackcurrant slab", "Slab", 2, {"thickness_mm": 5.0, "slices": 24, "filling_g": 1200.0},
     [(step_keys.MIX, "method", "paddle"), (step_keys.REST, "school", "two"), (step_keys.BAKE_BASE, "first", "first")]),
    (QUINCE, "Long tart tin", 2, {"cover": "pressed", "thickness_mm": 4.0, "overhang_mm": 0.0},
     [(step_keys.MIX, "fat", "soft")]),
    (QUINCE, "Long tart tin", 2, {"cover": "pressed", "thickness_mm": 4.0, "overhang_mm": 0.0},
     [(step_keys.MIX, "method", "processor"), (step_keys.WEIGHTS, "use", "frozen")]),
    ("Smoked-fish raised crust", "Raised pie mould", 6,
     {"cover": "lid", "heap_mm": 10.0, "overhang_mm": 25.0, "thickness_mm": 5.0, "trimming": "tucked",
      "filling": "smoked fish and leek"}, [(step_keys.RIM, "style", "rope")]),
    ("Plain puff shells", "Puff shell", 60, {"thickness_mm": 5.0}, []),
    ("Plain puff shells", "Puff shell", 60, {"thickness_mm": 5.0},
     [(step_keys.LOCK, "start", "inverse"), (step_keys.TURNS, "own", "4 3 4 3")]),
    ("Cardamom morning coils", "Morning coil", 60, {"thickness_mm": 4.0},
     [(step_keys.TURNS, "folds", "double_single"), ("cold.1", "minutes", "720")]),
]  # fmt: skip

# What lies in them: the number of a make above, and its layers: mixture, when, position, rule, number, more.
LAYERS = (
    (0, (("Chestnut custard", "between", "in", "mark", 3.0, {}),)),
    (2, (
        ("Oat crumble", "between", "under", "grams", 6.0, {}),
        ("Gooseberry filling", "between", "in", "grams", 36.0, {}),
        ("Oat crumble", "between", "over", "rim", 0.0, {}),
    )),
    (3, (("Potato and dill filling", "raw", "in", "grams", 80.0, {}),)),
    (5, (("Beetroot and feta filling", "raw", "in", "heap", 20.0, {"way": "cooked"}),)),
    (9, (
        ("Hazelnut crumbs", "raw", "under", "grams", 90.0, {}),
        ("Blackcurrant and barley filling", "raw", "in", "grams", 1300.0, {}),
        ("Oat crumble", "raw", "over", "grams", 350.0, {}),
    )),
    (10, (("Quince filling", "between", "in", "mark", 4.0, {"way": "cooked"}),)),
)  # fmt: skip

# Finished things beside those: formula, tin or shape, pieces, item, hours from now, step edits, layers.
FINISHED = (
    ("Plain puff shells", "Fish turnover", 24, {"thickness_mm": 3.0}, 58,
     [(step_keys.GLAZE, "with", "egg"), (step_keys.GLAZE, "strew", "poppy")],
     (("Smoked fish and leek filling", "raw", "in", "grams", 60.0, {}),)),
    ("Sea-salt caramel sandies", "Sandy", 48, {"thickness_mm": 5.0}, 60, [],
     (("Salt caramel", "top", "in", "grams", 4.0, {}),)),
)  # fmt: skip

# The stall on Saturday: formula, tin or shape, pieces, item, at what hour it must be ready, how long before. [min]
SATURDAY = (
    ("Cardamom morning coils", "Morning coil", 40, {"thickness_mm": 4.0}, (9, 30), 45),
    ("Potato-and-dill hand pie dough", "Hand pie", 24, HAND_PIE, (9, 0), 60),
    ("Barley-and-blackcurrant slab", "Slab", 2, {"thickness_mm": 5.0, "slices": 24, "filling_g": 1200.0}, (8, 0), 120),
    (PIE, "Deep pie dish", 4, {**LIDDED, "heap_mm": 20.0}, (9, 30), 90),
    (TARTLET, "Tartlet tin", 24, FLUSH, (8, 0), 60),
    (TART, "Straight flan tin", 8, FLUSH, (8, 0), None),
    (QUINCE, "Long tart tin", 4, {"thickness_mm": 4.0, "offcuts": "rerolled"}, (9, 0), None),
    ("Seeded cheese crackers", "Cracker", 120, {"thickness_mm": 2.5, "offcuts": "twice"}, (9, 0), None),
    ("Sea-salt caramel sandies", "Sandy", 60, {"thickness_mm": 6.0}, (9, 0), None),
)  # fmt: skip

# Which of them became methods of the kitchen, under what name.
KEPT = {1: "Night rest, frozen bare", 5: "Lidded, by the processor"}


def work(accounts: Mapping[str, User], now: datetime) -> None:
    """Run all makes, oldest first; always the same ones."""
    scatter = random.Random(1897)
    for formula, tin, count, item, hours in PLANNED:
        _plan(accounts["runa"], formula, tin, count, item, _quarter(now + timedelta(hours=hours)))
    for past in PAST:
        start = (now - timedelta(days=past.days)).replace(hour=5, minute=scatter.randrange(0, 55), second=0)
        _run_past(accounts, past, start, scatter)
    _fill_store(accounts, now)
    for formula, tin, count, item, minutes in RUNNING:
        start = now - timedelta(minutes=minutes)
        make = _plan(accounts["teo"], formula, tin, count, item, _quarter(now + timedelta(hours=4)))
        _tap_through(accounts["teo"], make, start, scatter, until=now)
    for formula, tin, count, item, hours in SHAPED:
        _plan(accounts["runa"], formula, tin, count, item, _quarter(now + timedelta(hours=hours)))
    for number, (formula, tin, count, item, edits) in enumerate(SCHOOLED):
        due = (now + timedelta(days=3 + number // 3)).replace(hour=(7, 11, 16)[number % 3], minute=0, second=0)
        make = _plan(accounts["runa"], formula, tin, count, item, due)
        makes.take_edits(accounts["runa"], make, tuple(edits))
        _lay(make, dict(LAYERS).get(number, ()))
        if number in KEPT:
            save_method(accounts["runa"], make, KEPT[number], is_usual=False)
    formula, hours, products = TOGETHER
    _plan_together(accounts["runa"], formula, products, _quarter(now + timedelta(hours=hours)))
    formula, tin, count, item, hours = WOVEN
    _plan(accounts["runa"], formula, tin, count, item, _quarter(now + timedelta(hours=hours)))
    for formula, tin, count, item, hours, edits, layers in FINISHED:
        make = _plan(accounts["runa"], formula, tin, count, item, _quarter(now + timedelta(hours=hours)))
        makes.take_edits(accounts["runa"], make, tuple(edits))
        _lay(make, layers)

    for formula, tin, count, item, (hour, minute), fresh in SATURDAY:
        make = _plan(accounts["runa"], formula, tin, count, item, _saturday(now, hour, minute))
        weigh_make(make, weight=1, fresh_min=fresh)


def _saturday(now: datetime, hour: int, minute: int) -> datetime:
    """An hour of the first Saturday that leaves two days to get ready."""
    local = timezone.localtime(now) + timedelta(days=2)
    day = local + timedelta(days=(5 - local.weekday()) % 7)
    return day.replace(hour=hour, minute=minute, second=0, microsecond=0)


def _fill_store(accounts: Mapping[str, User], now: datetime) -> None:
    """What the last makes left: offcuts frozen, spare whites, a box that was forgotten."""
    user = accounts["teo"]
    fridge, freezer = Place.objects.get(name="Walk-in fridge"), Place.objects.get(name="Chest freezer")
    for make in Make.objects.filter(state=Make.State.FINISHED).order_by("-pk")[:4]:
        for left in leftovers(make, plan_of(make)):
            if left.kind == "offcuts":
                # On the day itself, when the pieces were cut.
                put_into_store(user, make, left.kind, freezer, make.frozen_plans.last().at + timedelta(hours=4))
    sandies = FormulaVersion.objects.get(formula__name="Sea-salt caramel sandies")
    boxes = [
        ("Egg white", "whites", 96, "g", 30, None, True, ["egg"]),
        ("Sea-salt caramel sandies", "pieces", 36, "pieces", 20, sandies.formula, True, ["egg", "gluten", "milk"]),
        ("Harbour tart shell", "offcuts", 310, "g", 60, Formula.objects.get(name=TART), False, ["gluten", "milk"]),
        ("Potato-and-dill hand pie dough", "dough", 420, "g", 52, None, True, ["gluten", "milk"]),
    ]
    for what, kind, amount, unit, hours, formula, rich, allergens in boxes:
        put_in(
            user, what=what, kind=kind, amount=amount, unit=unit, place=fridge, rich=rich, allergens=allergens,
            formula=formula, made_at=now - timedelta(hours=hours), now=now - timedelta(hours=hours),
        )  # fmt: skip


def _quarter(at: datetime) -> datetime:
    return at.replace(minute=at.minute // 15 * 15, second=0, microsecond=0)


def _plan(user: User, formula: str, tin: str, count: int, item: dict[str, Any], due: datetime | None) -> Make:
    version = FormulaVersion.objects.filter(formula__name=formula).order_by("-n").first()
    make = makes.create_make(user, version, tin=Tin.objects.get(name=tin), count=count, due_at=due)
    first = make.items.get()
    values = {name: getattr(first, name) for name in SIZE_FIELDS} | item | {"id": first}
    return makes.size_make(make, make.edit_no, items=[values], loss=make.loss, due_at=due)


def _lay(make: Make, layers: Sequence[tuple[str, str, str, str, float, dict[str, Any]]]) -> None:
    for mixture, when, position, rule, amount, more in layers:
        version = FormulaVersion.objects.get(formula__name=mixture)
        values = {"version_id": version.pk, "when": when, "position": position, "rule": rule, "amount": amount, **more}
        makes.lay(make, make.items.get(), values)


def _plan_together(
    user: User, formula: str, products: Sequence[tuple[str, int, dict[str, Any]]], due: datetime
) -> Make:
    """Several products of one dough."""
    tin, count, item = products[0]
    make = _plan(user, formula, tin, count, item, due)
    first = make.items.get()
    items = [{name: getattr(first, name) for name in SIZE_FIELDS} | {"id": first}]
    for tin, count, item in products[1:]:
        found = Tin.objects.get(name=tin)
        items.append({**starts_from(found.shape), **item, "id": None, "tin": found, "count": count})
    return makes.size_make(make, make.edit_no, items=items, loss=make.loss, due_at=due)


def _tap_through(user: User, make: Make, start: datetime, scatter: random.Random, until: datetime) -> datetime:
    """Start a make and tap its steps off, each a little sooner or later than planned, up to a time. When it ended."""
    makes.start_make(make, start)
    make.refresh_from_db()
    run = run_of(make)
    at = start
    apart = [state.step for state in run.progress.steps if state.step.apart]
    free_at: dict[str, datetime] = {}

    def beside(step: Step, when: datetime) -> None:
        """What goes on apart, tapped when hands have done with it."""
        done = when + timedelta(minutes=step.hands_min)
        free_at[step.key] = done + timedelta(minutes=step.wait_min)
        if done <= until:
            _tap(user, make, progress.DONE, step.key, done, scatter)

    first = run.plan.route.along[0].start_min if run.plan.route else 0.0
    for step in apart:
        if step.start_min < first:
            beside(step, at)
            at += timedelta(minutes=step.hands_min)
    for state in run.progress.steps:
        step = state.step
        if step.apart:
            continue
        at = max([at, *(free_at[key] for key in step.follows if key in free_at)])
        if step.key == step_keys.WEIGH:
            for index, (line, scaled) in enumerate(zip(run.plan.inputs.lines, run.plan.scaled, strict=True)):
                share = scatter.gauss(1.0, 0.012) if line.ingredient.role == "liquid" else 1.0
                grams = round(scaled.weigh_g * share)
                if at + timedelta(seconds=30 * (index + 1)) < until:
                    when = at + timedelta(seconds=30 * (index + 1))
                    _tap(user, make, progress.WEIGHED, step.key, when, scatter, {"line": index, "grams": grams})
        hands_min = step.start_hands_min * TRUE_PACE.get(step.paced, 1.0) or step.hands_min
        length = timedelta(minutes=hands_min * scatter.lognormvariate(0, 0.15) + step.wait_min)
        end = step.start_min + step.minutes
        for other in apart:
            if step.start_min <= other.start_min < end and other.start_min >= first:
                when = at + timedelta(minutes=other.start_min - step.start_min)
                beside(other, min(when, at + length - timedelta(minutes=other.hands_min)))
        if at + length > until:
            return at
        at += length
        if step.key == step_keys.MIX and run.plan.doses:
            dose = run.plan.doses[0]
            flour = main_flour(run.plan.inputs.lines)
            took = TRUE_THIRST.get(flour, 1.0) * scatter.gauss(1.0, 0.02)
            used = {"line": dose.index, "grams": round(dose.written_g + (took - 1) * dose.free_g)}
            _tap(user, make, progress.WEIGHED, step.key, at - timedelta(seconds=40), scatter, used)
        if step.key == step_keys.MIX and step.dough_c is not None:
            reading = round(step.dough_c + scatter.gauss(0, 0.8), 1)
            _tap(user, make, progress.PROBED, step.key, at - timedelta(seconds=20), scatter, {"c": reading})
        if step.key == REST and step.wait_min >= 30:
            _probe_rest(user, make, step, at, scatter)
        _tap(user, make, progress.DONE, step.key, at, scatter)
    return at


def _probe_rest(user: User, make: Make, step: Step, at: datetime, scatter: random.Random) -> None:
    """Two readings of the resting dough, as its place truly takes heat."""
    plan = run_of(make).plan
    rolled = rolled_dough_of(plan)
    minutes = step.wait_min - 6
    place = replace(rolled.place_of(REST), film=TRUE_FILM, air_c=TRUE_FRIDGE_C)
    first = round(rolled.mixing.dough_c + scatter.gauss(0, 0.4), 1)
    trace = conduct(rolled.heat, rolled.shaped.body, first, place.stay(minutes, rolled.room_c))
    second = round(trace.centre_c[-1] + scatter.gauss(0, 0.4), 1)
    for reading, when in ((first, at - timedelta(minutes=minutes)), (second, at - timedelta(seconds=10))):
        _tap(user, make, progress.PROBED, REST, when, scatter, {"c": reading})


def _tick_colour(user: User, make: Make, at: datetime) -> None:
    """The colour that the top came out in, as the ovens truly bake, ticked once it was out."""
    plan = run_of(make).plan
    cooled = next((step.key for step in plan.route.steps if step.key in step_keys.COOLS), "")
    asked = plan.bake.asked
    if not cooled or not asked.colours_on_top:
        return
    # By itself, so that it moves nothing else of what is made up.
    scatter = random.Random(make.pk)
    heat = TRUE_HEAT * scatter.gauss(1, 0.04) / asked.oven.scale
    colour = colour_name(trace_of(asked, tuple(stage.minutes for stage in plan.bake.stages), heat).top[-1])
    if colour != COLOURS[0][1]:
        _tap(user, make, progress.LOOKED, cooled, at, scatter, {"colour": colour})


def _tap(
    user: User, make: Make, kind: str, step_key: str, at: datetime, scatter: random.Random, value: Any = None
) -> None:
    client_id = UUID(int=scatter.getrandbits(128)).hex
    bench.record(
        user, make, kind=kind, step_key=step_key, client_id=client_id, value=value, device="demo", at=at, now=at
    )


def _run_past(accounts: Mapping[str, User], past: Past, start: datetime, scatter: random.Random) -> None:
    user = accounts["teo" if past.days % 2 else "runa"]
    make = _plan(user, past.formula, past.tin, past.count, past.item, _quarter(start + timedelta(hours=6)))
    for step_key, field_name, value in past.edits:
        makes.edit_step(user, make, step_key, field_name, value)
    ended = _tap_through(user, make, start, scatter, until=start + timedelta(days=1))
    make.refresh_from_db()
    _tick_colour(user, make, ended)
    bench.finish(make, ended)
    plan = plan_of(make)
    piece, shrink = plan.pieces[0], plan.route.shrink[0]
    length = sum(piece.developed_mm) / len(piece.developed_mm)
    share = TRUE_SCALE[past.formula] * scatter.lognormvariate(0, 0.18)
    lost = shrink.model_pct * share / 100 * length / 2 + (4.0 if past.slumped else 0.0)
    before = [_half(piece.hang_mm + scatter.gauss(0, 0.4)) for _ in POINTS]
    after = [min(high, _half(high - lost + scatter.gauss(0, 0.5))) for high in before]
    findings = Findings(
        before_mm=before,
        after_mm=after,
        gap_mm=0.0 if past.slumped else max(0.5, _half(lost / 2)),
        faults=past.faults,
        taste=past.taste,
        note=past.note,
        doubtful=past.doubtful,
    )
    record_result(user, make, findings, at=ended + timedelta(minutes=15))


def _half(value: float) -> float:
    """To the half millimetre that a ruler shows. [mm]"""
    return round(value * 2) / 2

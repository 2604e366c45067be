"""The turns of a laminated dough: block, fat slab, lock-in, each turn with the rest before it, the proof."""

import math
from collections.abc import Sequence

from northfold.core.fold.lamination import Stage
from northfold.core.fold.layers import in_mm
from northfold.core.formula.yeast import LEAST_PCT, yeast_pct
from northfold.core.gluten.pull import FOLD_PULL, SPRING_BACK, rolling_pull
from northfold.core.heat.conduction import Body, Trace, conduct, long_stay, minutes_to
from northfold.core.heat.dough_heat import dough_heat
from northfold.core.heat.mixing import Portion, mix_c
from northfold.core.heat.places import Place
from northfold.core.method.choices import step_keys
from northfold.core.method.reckon.lamination import (
    PROOF_C,
    PROOF_DAMP_PCT,
    PROOF_SFC_PCT,
    PROOF_SPREAD,
    PROOF_TOP_C,
    Folding,
    proof_edge_c,
    proof_min,
)
from northfold.core.method.route.step import HABIT, TEMPERATURE, Ask, At, Step, Told, Wait, waiting
from northfold.core.method.route.work import LONGEST_MIN, Work
from northfold.core.method.rules import wait_reasons
from northfold.core.method.rules.rest_and_chill import bend, keeping_figures
from northfold.core.method.words import degrees, duration, span, whole_minutes

# A turn of a block of so much takes so long. [min, g] North Fold reference table.
TURN_HANDS_MIN, TURN_BLOCK_G = 5.0, 2000.0
# The dough is to be so much colder than the fat it is locked around. [K] North Fold reference table.
COLDER_K = (0.0, 3.0)
FOLD_NAMES = {2: "in half", 3: "a letter", 4: "a double fold"}
# After every turn it rests so long at least, and so much longer for each degree that the room is warmer than this.
# [min, min/K, °C] Bench practice, an assumption.
TURN_REST_MIN, WARMER_MIN, COOL_ROOM_C = 30.0, 2.0, 21.0
# So little under its range the fat still bends. [K] Assumption.
NEAR_K = 0.25
# A turn is let go as far as it warms up to this much over the range of its fat. [K] Assumption.
OVER_K = 0.5
# A fat that flour was kneaded into comes from the hands as warm as it can be spread, or the room. [K] Assumption.
KNEADED_K = 2.0
# Shaping one block, beating one slab, locking in one block. [min] Assumptions.
BLOCK_MIN, SLAB_MIN, LOCK_MIN = 2.0, 4.0, 3.0
# A shaped piece proves as a body so many times as thick as its sheet. Assumption.
PROVED_TIMES = 3.0


# How heavily the refusal weighs among the remarks of a route.
TOO_HOT = 10


def _folding(work: Work) -> Folding:
    if work.job.folding is None:
        raise RuntimeError(f"{work.job.kind.key} is laminated, and has no lamination")
    return work.job.folding


def _size(stage: Stage) -> str:
    return f"{stage.length_mm:.0f} × {stage.width_mm:.0f} mm"


def block(work: Work) -> None:
    """The dough divided into its blocks and flattened to the size that is locked in."""
    lamination = _folding(work).lamination
    stage = lamination.stages[0]
    rough = work.job.folding is not None and not work.job.folding.fat_lines
    size = _size(lamination.stages[2] if rough else stage)
    thick = lamination.stages[2].thickness_mm if rough else stage.thickness_mm
    grams = lamination.block_g if rough else lamination.inputs.dough_g / lamination.blocks
    many = "1 block" if lamination.blocks == 1 else f"{lamination.blocks} blocks"
    figures = {"blocks": f"{many} of {grams:,.0f} g", "block_size": f"{size}, {thick:.0f} mm thick"}
    work.add(
        step_keys.BLOCK,
        figures,
        hands_min=BLOCK_MIN * lamination.blocks,
        told=Told(figure=size, says=f"{thick:.0f} mm thick"),
    )


# A block of fat as it is bought: its sides as 1 : 1.2 : 2. Assumption.
BLOCK_SIDES = (1.0, 1.2, 2.0)


def block_of(grams: float, density_kg_m3: float) -> Body:
    """A block of fat [g, kg/m³] as it tempers: by its thickness, its other sides taking part."""
    short, wide, long = BLOCK_SIDES
    thick_mm = (grams / density_kg_m3 * 1e6 / (short * wide * long)) ** (1 / 3)
    return Body.puck(thick_mm, 2 * thick_mm * math.sqrt(wide * long / math.pi))


def fat_slab(work: Work) -> None:
    """The fat beaten or cut to the slab that covers, as warm as it bends without breaking."""
    folding = _folding(work)
    if folding.fat_heat is None:
        return
    lamination, cold_c = folding.lamination, work.job.setting.cold_place().temperature_c(work.job.room_c)
    stage = lamination.stages[1]
    bench = work.job.setting.bench().stay(LONGEST_MIN, work.job.room_c)
    reached = 0.0
    outside = lamination.start.layers.fat_outside
    if outside:
        # Flour is kneaded in: the slab is soft, and goes into the cold before it is locked around the dough.
        kneaded_c = min(work.job.room_c, folding.range_c[1] + KNEADED_K)
        chilled = work.job.setting.cold_place().stay(LONGEST_MIN, work.job.room_c)
        reached = minutes_to(folding.fat_heat, Body(stage.thickness_mm), kneaded_c, chilled, folding.middle_c) or 0.0
        reached = max(reached, TURN_REST_MIN)
    elif cold_c < folding.middle_c:
        # It tempers as it is bought, in a block, to where it can be beaten; the beating brings it to the middle.
        as_bought = block_of(lamination.inputs.fat_g, lamination.inputs.fat_kg_m3)
        reached = minutes_to(folding.fat_heat, as_bought, cold_c, bench, folding.range_c[0]) or 0.0
    kneaded = lamination.inputs.flour_in_fat_g / lamination.blocks
    flour = f"Knead {kneaded:,.0f} g of the flour into each. " if kneaded else ""
    cold = f" Wrap it and chill it flat in {work.job.setting.cold_place().name} before you lock in." if outside else ""
    size = _size(stage)
    figures = {
        "slab": f"{size}, {stage.thickness_mm:.1f} mm thick, {lamination.inputs.fat_g / lamination.blocks:,.0f} g each",
        "slab_c": degrees(folding.middle_c),
        "roll_in": span(*folding.range_c),
        "flour": flour,
        "cold": cold,
        "temper": f"Take the block out of the cold {duration(whole_minutes(reached))} before. "
        if reached and not outside
        else "",
    }
    work.add_beside(
        work.maker.make(
            step_keys.FAT_SLAB,
            figures,
            hands_min=SLAB_MIN * lamination.blocks,
            wait=waiting(work.job.edits, step_keys.FAT_SLAB, whole_minutes(reached), TEMPERATURE),
            told=Told(figure=size, says=f"{stage.thickness_mm:.1f} mm thick"),
        )
    )


def lock(work: Work) -> None:
    """Fat and dough locked together; from here on it is one dough to heat."""
    folding = _folding(work)
    if folding.fat_heat is None:
        return
    lamination, dough, fat_c = folding.lamination, work.dough, folding.middle_c
    colder = fat_c - dough.mean_c
    if not COLDER_K[0] - 0.5 <= colder <= COLDER_K[1] + 0.5:
        low, high = fat_c - COLDER_K[1], fat_c - COLDER_K[0]
        after = "the fat soaks into it" if colder < 0 else "it stiffens the fat, which shatters"
        said = (
            f"The block is {degrees(dough.mean_c)} and the fat {degrees(fat_c)}: {after}. Block at {span(low, high)}."
        )
        work.remark(step_keys.LOCK, said, 4)
    mixed = mix_c(
        [Portion(line.ingredient, line.grams, dough.mean_c) for line in folding.block_lines]
        + [Portion(line.ingredient, line.grams, fat_c) for line in folding.fat_lines]
    )
    work.dough.heat = dough.heat = dough_heat(tuple((line.ingredient, line.grams) for line in work.job.lines))
    dough.mean_c, dough.body, dough.profile_c = mixed, None, ()
    stage = lamination.stages[2]
    work.dough.packet_mm = stage.thickness_mm
    figures = {"lock_says": lamination.start.says, "package": f"{_size(stage)}, {stage.thickness_mm:.0f} mm thick"}
    size = _size(stage)
    work.add(
        step_keys.LOCK,
        figures,
        hands_min=LOCK_MIN * lamination.blocks,
        dough_c=mixed,
        told=Told(figure=size, says="locked in"),
    )


def turns(work: Work) -> None:
    """Every turn, with what it asks of the cold before it, and the rest before the last rolling."""
    folding = _folding(work)
    if folding.fat_heat is None:
        work.dough.packet_mm = folding.lamination.stages[2].thickness_mm
    rolled = [stage for stage in folding.lamination.stages if stage.kind == "roll"]
    folded = [stage for stage in folding.lamination.stages if stage.kind == "fold"]
    rest_min = TURN_REST_MIN + WARMER_MIN * max(0.0, work.job.room_c - COOL_ROOM_C)
    warmer = f" in a room of {degrees(work.job.room_c)}" if rest_min > TURN_REST_MIN else ""
    for number, (sheet, packet) in enumerate(zip(rolled, folded, strict=True), 1):
        adds = work.job.gluten * (rolling_pull(work.dough.packet_mm, sheet.thickness_mm) + FOLD_PULL)
        if number == 1:
            _say_if_too_hot(work, sheet)
        else:
            habit = Ask(HABIT, rest_min, f"after every turn it rests {rest_min:.0f} min{warmer}")
            _back_in_the_cold(work, number - 1, adds, sheet.thickness_mm, habit)
        _turn(work, number, sheet, packet, adds)
    adds = work.job.gluten * rolling_pull(work.dough.packet_mm, work.job.lead.item.thickness_mm)
    last = Ask(HABIT, rest_min, f"before the last rolling it rests {rest_min:.0f} min{warmer}")
    _back_in_the_cold(work, len(rolled), adds, work.job.lead.item.thickness_mm, last)


def _warmed_by_turn(work: Work, sheet_mm: float, start_c: float, room_c: float) -> float:
    """How warm a turn leaves a sheet that it began at, in a room. [mm, °C]"""
    bench = work.job.setting.bench()
    return conduct(work.dough.heat, Body(sheet_mm), start_c, bench.stay(_turn_min(work) / 2, room_c)).mean_c[-1]


def _window_min(work: Work, sheet_mm: float, room_c: float) -> float | None:
    """How long a sheet stays in the range of its fat from its coldest on, in a room; None where for good. [min]"""
    low, high = _folding(work).range_c
    return minutes_to(work.dough.heat, Body(sheet_mm), low, work.job.setting.bench().stay(LONGEST_MIN, room_c), high)


def _say_if_too_hot(work: Work, sheet: Stage) -> None:
    """A room in which the fat is past its range before a turn is done, even from its coldest: refused by name."""
    low, high = _folding(work).range_c
    turn_min = _turn_min(work)

    def goes_at(room_c: float) -> bool:
        window = _window_min(work, sheet.thickness_mm, room_c)
        return window is None or window >= turn_min

    if goes_at(work.job.room_c):
        return
    room = next((float(room_c) for room_c in range(int(work.job.room_c), 9, -1) if goes_at(float(room_c))), None)
    cooler = f"at night or early, with the room at {degrees(room)} or less" if room else "in a cold room"
    fat = max(_folding(work).fat_lines or work.job.lines, key=lambda line: line.grams if line.ingredient.fat else 0.0)
    window = _window_min(work, sheet.thickness_mm, work.job.room_c) or 0.0
    work.remark(
        "turn.1",
        f"Not in a room of {degrees(work.job.room_c)}: {fat.ingredient.name} goes from {degrees(low)} to "
        f"{degrees(high)}, where it rolls in, in {duration(window)}, and a turn takes {duration(turn_min)}. Fold it "
        f"{cooler}, on chilled marble, in smaller blocks, or with a fat that rolls in warmer.",
        TOO_HOT,
    )


def _turn_min(work: Work) -> float:
    """Hands on for one block's turn. [min]"""
    return TURN_HANDS_MIN * max(0.4, _folding(work).lamination.block_g / TURN_BLOCK_G)


def _turn(work: Work, number: int, sheet: Stage, packet: Stage, adds: float) -> None:
    folding, dough = _folding(work), work.dough
    bench, key = work.job.setting.bench(), f"turn.{number}"
    low, high = folding.range_c
    start_c, each = dough.mean_c, _turn_min(work)
    window = minutes_to(work.dough.heat, Body(sheet.thickness_mm), start_c, bench.stay(120.0, work.job.room_c), high)
    held = dough.pull.total
    if held + adds > SPRING_BACK + 0.5:
        said = (
            f"Pull {held:.0f} and {adds:.0f} from this turn pass {SPRING_BACK:.0f}: it springs back, corners round off."
        )
        work.remark(key, f"{said} Rest it longer before.", 6)
    if start_c < low - 0.5:
        work.remark(key, f"At {degrees(start_c)} the fat shatters: it rolls in at {span(low, high)}. Let it temper.", 7)
    elif start_c > high:
        work.remark(
            key, f"At {degrees(start_c)} the fat soaks in: it rolls in at {span(low, high)}. Back to the cold.", 8
        )
    elif window is not None and window < each / 2:
        work.remark(key, f"It has {duration(window)} until the fat is too soft, and a turn takes {duration(each)}.", 3)
    work.thin(work.dough.packet_mm, sheet.thickness_mm, FOLD_PULL)
    # Thin for half of the turn; folded it is a packet again.
    work.wait(key, each / 2, bench, Body(sheet.thickness_mm), name=f"Turn {number}")
    work.dough.packet_mm = packet.thickness_mm
    gaps = ", ".join(f"{gap:g}" for gap in sheet.gaps)
    has = "never too soft here" if window is None else f"{duration(window)} before the fat is too soft"
    count = packet.layers.fat if packet.layers else 0
    figures = {
        "turn_roll": f"{_size(sheet)}, {sheet.thickness_mm:g} mm: {sheet.passes} passes, gaps {gaps}",
        "turn_fold": f"in {sheet.into}",
        "turn_why": f"{count} films of fat, {in_mm(packet.fat_um)} each in the packet. "
        f"It has {has}. Pull {dough.pull.total:.0f} of {SPRING_BACK:.0f}.",
    }
    work.add(
        key,
        figures,
        like=step_keys.TURN_N,
        hands_min=each * folding.lamination.blocks,
        at=work.at(bench),
        dough_c=dough.mean_c,
        told=Told(
            figure=_size(sheet),
            says=f"{sheet.thickness_mm:g} mm, fold in {sheet.into}",
            name=f"Turn {number}: {FOLD_NAMES.get(sheet.into, f'in {sheet.into}')}",
        ),
    )


def _back_in_the_cold(work: Work, number: int, adds: float, next_mm: float, habit: Ask) -> None:
    """The rest after a turn: till pull leaves room for what comes, and the fat is cold enough to go on. [min]"""
    folding, dough, key = _folding(work), work.dough, f"cold.{number}"
    place, place_mark = work.place_of(key, work.job.setting.cold_place())
    body = Body(work.dough.packet_mm)
    long = long_stay(work.dough.heat, body, dough.starts_from(body), place.stay(LONGEST_MIN, work.job.room_c))
    wanted = [wait_reasons.pull_before_rolling(dough.pull, adds, long) if work.job.gluten else wait_reasons.NO_GLUTEN]
    wanted += [_cool_ask(work, folding, next_mm, long), habit]
    minutes, reason, mark = work.set_minutes(key, wanted)
    start_c, start_pull = dough.mean_c, dough.pull.total
    work.wait(key, minutes, place, body, name="Cold")
    went = f"{degrees(start_c)} to {degrees(dough.mean_c)}, pull {start_pull:.0f} to {dough.pull.total:.0f}"
    work.add(
        key,
        {
            **keeping_figures(work),
            "end_c": degrees(dough.mean_c),
            "cold_why": f"{went}; what comes adds {adds:.0f}, and it springs back above {SPRING_BACK:.0f}.",
        },
        like=step_keys.COLD_N,
        hands_min=0.0 if minutes else 0.5,
        wait=Wait(minutes, reason, tuple(wanted), place_mark + mark),
        at=work.at(place),
        dough_c=dough.mean_c,
    )
    if dough.mean_c < folding.range_c[0] - NEAR_K:
        bend(work, f"temper.t{number}", body, folding.range_c[0], "where the fat bends")


def _cool_ask(work: Work, folding: Folding, next_mm: float, long: Trace) -> Ask:
    """How long it has to cool before it is rolled: so far that the rolling leaves it below the top of its range."""
    low, high = folding.range_c
    if _warmed_by_turn(work, next_mm, work.dough.mean_c, work.job.room_c) <= high:
        return Ask(TEMPERATURE, 0.0, f"rolled it stays below {degrees(high)}")
    middle = folding.middle_c
    over = max(0.0, _warmed_by_turn(work, next_mm, middle, work.job.room_c) - high)
    to_c = max(low, middle - over)
    words = f"down to {degrees(to_c)}, so that the turn leaves it firm"
    if to_c >= middle:
        words = f"down to {degrees(middle)}, the middle of where it rolls in"
    return Ask(TEMPERATURE, long.first_minute(to_c), words)


def prove(work: Work) -> None:
    """The proof: an estimate by warmth and yeast, never warmer than the fat in it bears."""
    flour_g = sum(line.grams for line in work.job.lines if line.ingredient.role == "flour")
    yeast = work.job.folding.yeast_pct if work.job.folding else yeast_pct(work.job.lines, flour_g)
    if not yeast:
        return
    blend = work.job.blend
    edge = PROOF_TOP_C if blend is None or blend.is_oil else proof_edge_c(blend)
    typed_c = work.job.edits.number(step_keys.PROVE, "proof_c")
    proof_c = min(PROOF_C, edge) if typed_c is None else typed_c
    minutes = proof_min(proof_c, yeast)
    low, high = (duration(whole_minutes(times * minutes)) for times in (1 - PROOF_SPREAD, 1 + PROOF_SPREAD))
    waits = waiting(work.job.edits, step_keys.PROVE, whole_minutes(minutes), TEMPERATURE)
    if proof_c > edge + 0.05:
        solid = f"where {PROOF_SFC_PCT:g} % of it is still solid"
        said = f"Proved at {degrees(proof_c)} the fat runs out: it bears {degrees(edge)}, {solid}."
        work.remark(step_keys.PROVE, f"{said} Cooler, and longer.", 8)
    if yeast < LEAST_PCT:
        said = f"Yeast is {yeast:.2f} % of the flour, as instant: under {LEAST_PCT:g} % it hardly rises."
        work.remark(step_keys.PROVE, f"{said} 2 % is usual.", 8)
    place = Place("prover", "Prover", "bench_wood", proof_c)
    work.wait(step_keys.PROVE, waits.minutes, place, Body(PROVED_TIMES * work.job.sheet.across_mm))
    work.add(
        step_keys.PROVE,
        {
            "edge_c": degrees(edge),
            "yeast": f"{yeast:.1f}",
            "spread": f"{low} to {high}",
            "damp": "{:g} to {:g} %".format(*PROOF_DAMP_PCT),
        },
        wait=waits,
        at=At("Prover", "", proof_c),
        dough_c=work.dough.mean_c,
    )


def turns_in_words(steps: Sequence[Step]) -> str:
    """Which turns follow one another at once, and how long it is in the cold between them; empty where none are."""
    said, run = [], []
    for step in steps:
        if step.key.startswith(step_keys.TURN_):
            run.append(step.key.removeprefix(step_keys.TURN_))
        elif step.key.startswith(step_keys.COLD_) and run:
            joined = "and" if len(run) == 2 else "to"
            many = f"turns {run[0]} {joined} {run[-1]}" if len(run) > 1 else f"turn {run[0]}"
            said.append(f"{many}{' in one go' if len(run) > 1 else ''}, then {duration(step.wait_min)} in the cold")
            run = []
    text = "; ".join(said)
    return f"{text[0].upper()}{text[1:]}." if text else ""

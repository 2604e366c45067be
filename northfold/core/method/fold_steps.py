"""The turns of a laminated dough: block, fat slab, lock-in, each turn with the rest before it, the proof."""

from collections.abc import Sequence

from northfold.core.fold.lamination import Stage
from northfold.core.fold.layers import in_mm
from northfold.core.formula.yeast import LEAST_PCT
from northfold.core.gluten.pull import FOLD_PULL, SPRING_BACK, rolling_pull
from northfold.core.heat.conduction import Body, conduct, long_stay, minutes_to
from northfold.core.heat.dough_heat import dough_heat
from northfold.core.heat.mixing import Portion, mix_c
from northfold.core.heat.places import Place
from northfold.core.method import asks
from northfold.core.method.cold_steps import bend, keeping_figures
from northfold.core.method.course import HABIT, TEMPERATURE, Ask, Step, waiting
from northfold.core.method.folding import (
    PROOF_C,
    PROOF_DAMP_PCT,
    PROOF_SFC_PCT,
    PROOF_SPREAD,
    Folding,
    proof_edge_c,
    proof_min,
)
from northfold.core.method.walk import LONGEST_MIN, Walk
from northfold.core.method.words import degrees, duration, span, whole_minutes

# A turn of a block of so much takes so long. [min, g] North Fold reference table.
TURN_HANDS_MIN, TURN_BLOCK_G = 5.0, 2000.0
# The dough is to be so much colder than the fat it is locked around. [K] North Fold reference table.
COLDER_K = (0.0, 3.0)
FOLD_NAMES = {2: "in half", 3: "a letter", 4: "a double fold"}
# Before the last rolling a laminated dough rests. [min] Assumption.
LAST_HABIT_MIN = 30.0
# So many turns follow one another, then it rests so long. [count, min] The example of the North Fold reference table.
PAIR, PAIR_HABIT_MIN = 2, 60.0
# So little under its range the fat still bends. [K] Assumption.
NEAR_K = 0.25
# Between two turns it stays in the cold so long at least, where it has to go there at all. [min] Assumption.
LEAST_MIN = 15.0
# Shaping one block, beating one slab, locking in one block. [min] Assumptions.
BLOCK_MIN, SLAB_MIN, LOCK_MIN = 2.0, 4.0, 3.0
# A shaped piece proves as a body so many times as thick as its sheet. Assumption.
PROVED_TIMES = 3.0


def _folding(walk: Walk) -> Folding:
    if walk.folding is None:
        raise RuntimeError(f"{walk.kind.key} is laminated, and has no lamination")
    return walk.folding


def _size(stage: Stage) -> str:
    return f"{stage.length_mm:.0f} × {stage.width_mm:.0f} mm"


def block(walk: Walk) -> None:
    """The dough divided into its blocks and flattened to the size that is locked in."""
    lamination = _folding(walk).lamination
    stage = lamination.stages[0]
    rough = walk.folding is not None and not walk.folding.fat_lines
    size = _size(lamination.stages[2] if rough else stage)
    thick = lamination.stages[2].thickness_mm if rough else stage.thickness_mm
    grams = lamination.block_g if rough else lamination.inputs.dough_g / lamination.blocks
    many = "1 block" if lamination.blocks == 1 else f"{lamination.blocks} blocks"
    figures = {"blocks": f"{many}, {grams:,.0f} g each", "block_size": f"{size}, {thick:.0f} mm thick"}
    walk.add(
        "block", figures, hands_min=BLOCK_MIN * lamination.blocks, figure=size, figure_says=f"{thick:.0f} mm thick"
    )


def fat_slab(walk: Walk) -> None:
    """The fat beaten or cut to the slab that covers, as warm as it bends without breaking."""
    folding = _folding(walk)
    if folding.fat_heat is None:
        return
    lamination, cold_c = folding.lamination, walk.setting.cold_place().temperature_c(walk.room_c)
    stage = lamination.stages[1]
    bench = walk.setting.bench().stay(LONGEST_MIN, walk.room_c)
    reached = 0.0
    if cold_c < folding.middle_c:
        reached = minutes_to(folding.fat_heat, Body(stage.thickness_mm), cold_c, bench, folding.middle_c) or 0.0
    kneaded = lamination.inputs.flour_in_fat_g / lamination.blocks
    flour = f" {kneaded:,.0f} g of the flour kneaded into each first." if kneaded else ""
    size = _size(stage)
    figures = {
        "slab": f"{size}, {stage.thickness_mm:.1f} mm thick, {lamination.inputs.fat_g / lamination.blocks:,.0f} g each",
        "slab_c": degrees(folding.middle_c),
        "roll_in": span(*folding.range_c),
        "flour": flour,
    }
    step = walk.maker.make(
        "fat.slab",
        figures,
        hands_min=SLAB_MIN * lamination.blocks,
        **waiting(walk.edits, "fat.slab", whole_minutes(reached), TEMPERATURE),
        figure=size,
        figure_says=f"{stage.thickness_mm:.1f} mm thick",
    )
    walk.apart.append((step, "lock"))


def lock(walk: Walk) -> None:
    """Fat and dough locked together; from here on it is one dough to heat."""
    folding = _folding(walk)
    if folding.fat_heat is None:
        return
    lamination, dough, fat_c = folding.lamination, walk.dough, folding.middle_c
    colder = fat_c - dough.mean_c
    if not COLDER_K[0] - 0.5 <= colder <= COLDER_K[1] + 0.5:
        low, high = fat_c - COLDER_K[1], fat_c - COLDER_K[0]
        after = "the fat soaks into it" if colder < 0 else "it stiffens the fat, which shatters"
        said = (
            f"The block is {degrees(dough.mean_c)} and the fat {degrees(fat_c)}: {after}. Block at {span(low, high)}."
        )
        walk.remark("lock", said, 4)
    mixed = mix_c(
        [Portion(line.ingredient, line.grams, dough.mean_c) for line in folding.block_lines]
        + [Portion(line.ingredient, line.grams, fat_c) for line in folding.fat_lines]
    )
    walk.heat = dough.heat = dough_heat(tuple((line.ingredient, line.grams) for line in walk.lines))
    dough.mean_c, dough.body, dough.profile_c = mixed, None, ()
    stage = lamination.stages[2]
    walk.packet_mm = stage.thickness_mm
    figures = {"lock_says": lamination.start.says, "package": f"{_size(stage)}, {stage.thickness_mm:.0f} mm thick"}
    size = _size(stage)
    walk.add(
        "lock", figures, hands_min=LOCK_MIN * lamination.blocks, dough_c=mixed, figure=size, figure_says="locked in"
    )


def turns(walk: Walk) -> None:
    """Every turn, with what it asks of the cold before it, and the rest before the last rolling."""
    folding = _folding(walk)
    if folding.fat_heat is None:
        walk.packet_mm = folding.lamination.stages[2].thickness_mm
    rolled = [stage for stage in folding.lamination.stages if stage.kind == "roll"]
    folded = [stage for stage in folding.lamination.stages if stage.kind == "fold"]
    in_a_row = 0
    for number, (sheet, packet) in enumerate(zip(rolled, folded, strict=True), 1):
        adds = walk.gluten * (rolling_pull(walk.packet_mm, sheet.thickness_mm) + FOLD_PULL)
        if number > 1:
            paired = in_a_row >= PAIR and bool(walk.gluten)
            habit = Ask(HABIT, PAIR_HABIT_MIN, f"after a pair of turns it rests {PAIR_HABIT_MIN:.0f} min")
            if _back_in_the_cold(walk, number - 1, adds, sheet.thickness_mm, habit if paired else None) >= LEAST_MIN:
                in_a_row = 0
            elif paired:
                held = f"pull {walk.dough.pull.total:.0f}, {adds:.0f} more to come, of {SPRING_BACK:.0f}"
                said = f"A third turn without rest, {held}: corners round off, films tear."
                walk.remark(f"turn.{number}", f"{said} {PAIR_HABIT_MIN:.0f} min in the cold first.", 5)
        _turn(walk, number, sheet, packet, adds)
        in_a_row += 1
    adds = walk.gluten * rolling_pull(walk.packet_mm, walk.lead.item.thickness_mm)
    last = Ask(HABIT, LAST_HABIT_MIN, f"before the last rolling it rests {LAST_HABIT_MIN:.0f} min")
    _back_in_the_cold(walk, len(rolled), adds, walk.lead.item.thickness_mm, last)


def _turn_min(walk: Walk) -> float:
    """Hands on for one block's turn. [min]"""
    return TURN_HANDS_MIN * max(0.4, _folding(walk).lamination.block_g / TURN_BLOCK_G)


def _turn(walk: Walk, number: int, sheet: Stage, packet: Stage, adds: float) -> None:
    folding, dough = _folding(walk), walk.dough
    bench, key = walk.setting.bench(), f"turn.{number}"
    low, high = folding.range_c
    start_c, each = dough.mean_c, _turn_min(walk)
    window = minutes_to(walk.heat, Body(sheet.thickness_mm), start_c, bench.stay(120.0, walk.room_c), high)
    held = dough.pull.total
    if held + adds > SPRING_BACK + 0.5:
        said = (
            f"Pull {held:.0f} and {adds:.0f} from this turn pass {SPRING_BACK:.0f}: it springs back, corners round off."
        )
        walk.remark(key, f"{said} Rest it longer before.", 6)
    if start_c < low - 0.5:
        walk.remark(key, f"At {degrees(start_c)} the fat shatters: it rolls in at {span(low, high)}. Let it temper.", 7)
    elif start_c > high:
        walk.remark(
            key, f"At {degrees(start_c)} the fat soaks in: it rolls in at {span(low, high)}. Back to the cold.", 8
        )
    elif window is not None and window < each / 2:
        walk.remark(key, f"It has {duration(window)} until the fat is too soft, and a turn takes {duration(each)}.", 3)
    walk.work(walk.packet_mm, sheet.thickness_mm, FOLD_PULL)
    # Thin for half of the turn; folded it is a packet again.
    walk.wait(key, each / 2, bench, Body(sheet.thickness_mm), name=f"Turn {number}")
    walk.packet_mm = packet.thickness_mm
    gaps = ", ".join(f"{gap:g}" for gap in sheet.gaps)
    has = "never too soft here" if window is None else f"{duration(window)} before the fat is too soft"
    count = packet.layers.fat if packet.layers else 0
    figures = {
        "turn_roll": f"{_size(sheet)}, {sheet.thickness_mm:g} mm: {sheet.passes} passes, gaps {gaps}",
        "turn_fold": f"in {sheet.into}",
        "turn_why": f"{count} films of fat, {in_mm(packet.fat_um)} each in the packet. "
        f"It has {has}. Pull {dough.pull.total:.0f} of {SPRING_BACK:.0f}.",
    }
    walk.add(
        key,
        figures,
        like="turn.n",
        name=f"Turn {number}: {FOLD_NAMES.get(sheet.into, f'in {sheet.into}')}",
        hands_min=each * folding.lamination.blocks,
        **walk.at(bench),
        dough_c=dough.mean_c,
        figure=_size(sheet),
        figure_says=f"{sheet.thickness_mm:g} mm, fold in {sheet.into}",
    )


def _back_in_the_cold(walk: Walk, number: int, adds: float, next_mm: float, habit: Ask | None) -> float:
    """The rest after a turn: till pull leaves room for what comes, and the fat is cold enough to go on. [min]"""
    folding, dough, key = _folding(walk), walk.dough, f"cold.{number}"
    place, place_mark = walk.place_of(key, walk.setting.cold_place())
    body = Body(walk.packet_mm)
    long = long_stay(walk.heat, body, dough.starts_from(body), place.stay(LONGEST_MIN, walk.room_c))
    wanted = [asks.pull_before_rolling(dough.pull, adds, long) if walk.gluten else asks.NO_GLUTEN]
    wanted.append(_cool_ask(walk, folding, next_mm, long.first_minute(folding.middle_c)))
    if habit is not None:
        wanted.append(habit)
    typed = walk.edits.find(key, "minutes")
    if typed is None and not any(ask.minutes is None or ask.minutes > 0.5 for ask in wanted):
        return 0.0
    if habit is None:
        wanted.append(Ask(HABIT, LEAST_MIN, f"less than {LEAST_MIN:.0f} min in the cold is not worth the wrapping"))
    minutes, reason, mark = walk.set_minutes(key, wanted)
    start_c, start_pull = dough.mean_c, dough.pull.total
    walk.wait(key, minutes, place, body, name="Cold")
    went = f"{degrees(start_c)} to {degrees(dough.mean_c)}, pull {start_pull:.0f} to {dough.pull.total:.0f}"
    walk.add(
        key,
        {
            **keeping_figures(walk),
            "end_c": degrees(dough.mean_c),
            "cold_why": f"{went}; what comes adds {adds:.0f}, and it springs back above {SPRING_BACK:.0f}.",
        },
        like="cold.n",
        wait_min=minutes,
        hands_min=0.0 if minutes else 0.5,
        reason=reason,
        asks=tuple(wanted),
        edits=place_mark + mark,
        **walk.at(place),
        dough_c=dough.mean_c,
    )
    if dough.mean_c < folding.range_c[0] - NEAR_K:
        bend(walk, f"temper.t{number}", body, folding.range_c[0], "where the fat bends")
    return minutes


def _cool_ask(walk: Walk, folding: Folding, next_mm: float, to_middle: float | None) -> Ask:
    """Whether it has to cool before it is rolled: not where the rolling leaves it below the top as it is."""
    bench = walk.setting.bench()
    warmed = conduct(walk.heat, Body(next_mm), walk.dough.mean_c, bench.stay(_turn_min(walk) / 2, walk.room_c))
    if warmed.mean_c[-1] <= folding.range_c[1]:
        return Ask(TEMPERATURE, 0.0, f"rolled it stays below {degrees(folding.range_c[1])}")
    return Ask(TEMPERATURE, to_middle, f"down to {degrees(folding.middle_c)}, the middle of where it rolls in")


def prove(walk: Walk) -> None:
    """The proof: an estimate by warmth and yeast, never warmer than the roll-in fat bears."""
    folding = _folding(walk)
    if not folding.yeast_pct:
        return
    edge = proof_edge_c(folding.roll_in)
    usual = min(PROOF_C, edge)
    typed_c = walk.edits.number("prove", "proof_c")
    proof_c = usual if typed_c is None else typed_c
    minutes = proof_min(proof_c, folding.yeast_pct)
    low, high = (duration(whole_minutes(times * minutes)) for times in (1 - PROOF_SPREAD, 1 + PROOF_SPREAD))
    waits = waiting(walk.edits, "prove", whole_minutes(minutes), TEMPERATURE)
    if proof_c > edge + 0.05:
        solid = f"where {PROOF_SFC_PCT:g} % of it is still solid"
        said = f"Proved at {degrees(proof_c)} the fat runs out: it bears {degrees(edge)}, {solid}."
        walk.remark("prove", f"{said} Cooler, and longer.", 8)
    if folding.yeast_pct < LEAST_PCT:
        said = f"Yeast is {folding.yeast_pct:.2f} % of the flour, as instant: under {LEAST_PCT:g} % it hardly rises."
        walk.remark("prove", f"{said} 2 % is usual.", 8)
    place = Place("prover", "Prover", "bench_wood", proof_c)
    walk.wait("prove", waits["wait_min"], place, Body(PROVED_TIMES * walk.sheet.across_mm))
    walk.add(
        "prove",
        {
            "edge_c": degrees(edge),
            "yeast": f"{folding.yeast_pct:.1f}",
            "spread": f"{low} to {high}",
            "damp": "{:g} to {:g} %".format(*PROOF_DAMP_PCT),
        },
        **waits,
        place="Prover",
        place_c=proof_c,
        dough_c=walk.dough.mean_c,
    )


def turns_in_words(steps: Sequence[Step]) -> str:
    """Which turns follow one another at once, and how long it is in the cold between them; empty where none are."""
    said, run = [], []
    for step in steps:
        if step.key.startswith("turn."):
            run.append(step.key.removeprefix("turn."))
        elif step.key.startswith("cold.") and run:
            joined = "and" if len(run) == PAIR else "to"
            many = f"turns {run[0]} {joined} {run[-1]}" if len(run) > 1 else f"turn {run[0]}"
            said.append(f"{many}{' in one go' if len(run) > 1 else ''}, then {duration(step.wait_min)} in the cold")
            run = []
    text = "; ".join(said)
    return f"{text[0].upper()}{text[1:]}." if text else ""

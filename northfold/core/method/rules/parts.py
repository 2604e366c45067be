"""Lids, lattices and strips, as parts of their own: rolled, kept flat in the cold, softened until they bend."""

from dataclasses import replace

from northfold.core.gluten.pull import rolling_pull
from northfold.core.heat.conduction import minutes_to
from northfold.core.method.choices import step_keys
from northfold.core.method.route.order import rolled_apart
from northfold.core.method.route.step import AS_WRITTEN, TEMPERATURE, Ask, Told, Trips, waiting
from northfold.core.method.route.work import LONGEST_MIN, Work
from northfold.core.method.rules.roll_and_line import in_trips, rolling_hands_min, to_size
from northfold.core.method.rules.trips import BENCH_MIN, window_min
from northfold.core.method.words import degrees, duration, whole_minutes
from northfold.core.shape.blanks import LATTICE, Item, lattice_of, strip_lengths_mm
from northfold.core.shape.decorations import LEAF_MM, STAR_MM

# A strip of a lattice cut and woven; a leaf or a star cut and laid on. [min] Assumptions.
STRIP_MIN, LEAF_MIN = 0.25, 0.3
# Onto a base that is baked already.
ON_BAKED = Told(
    look="Wet the baked rim. Lay the lid on, press its edge onto the rim, outward from the filling, and trim it.",
    why="Raw dough holds on a baked rim only where it is wet; trapped air bursts the lid.",
    wrong="Lifts off: wet the rim again and press with a fork. Lid tears: cover the tear with a leaf of dough.",
)


def roll_part(work: Work) -> None:
    """The lids, lattices or strips rolled, each thin for half of its rolling and then flat in the cold."""
    job, part, apart = work.job, work.part, rolled_apart(work.job)
    if part is None or apart is None:
        return
    lots = [lot for lot in job.lots if lot.part.name == apart.name]
    place = work.place_of(step_keys.ROLL_PART, job.setting.bench())[0]
    rolling, count = work.maker.one_min(step_keys.ROLL) * lots[0].rolling_share, sum(lot.count for lot in lots)
    thick = job.lead.item.thickness_mm
    part.pull = part.pull.plus(job.gluten * rolling_pull(work.from_mm, thick))
    window = window_min(work, part.mean_c, place.stay(BENCH_MIN, job.room_c))
    work.log.part_traced.append(
        part.waits(step_keys.ROLL_PART, f"Roll the {apart.name}", job.sheet, place.stay(rolling / 2, job.room_c))
    )
    many = f"{apart.name}s" if count > 1 else apart.name
    flat = f"{_cut_to_strips(job.lead.item)}Lay each flat between sheets, in {job.setting.cold_place().name}."
    has = "never goes soft" if window is None else f"has {duration(window)} and is thin for {duration(rolling / 2)}"
    work.add(
        step_keys.ROLL_PART,
        {"part_look": f"{to_size(work, lots)} {flat}", "part_why": f"Flat in the cold it keeps its shape. It {has}."},
        hands_min=rolling_hands_min(work, lots),
        paced=True,
        at=work.at(place),
        dough_c=part.mean_c,
        told=Told(name=f"Roll the {many}", figure=lots[0].size, says=f"{thick:g} mm thick"),
    )
    minutes = rolling / min(job.setting.hands, count)
    trips = Trips(
        noun=apart.name,
        pieces=count,
        per_trip=1,
        count=count,
        minutes=minutes,
        exposed_min=rolling / 2,
        window_min=window,
        fits=window is None or window >= rolling / 2,
        keys=(step_keys.ROLL_PART,),
        waits_in=job.setting.cold_place().name,
        half_min=rolling / 2,
    )
    in_trips(work, step_keys.ROLL_PART, trips)


def soften(work: Work) -> None:
    """The lids out of the cold before they are laid on, until they bend without cracking."""
    job, part, keys = work.job, work.part, [step.key for step in work.log.steps]
    if part is None or not work.log.part_traced or step_keys.LID not in keys or step_keys.ROLL_PART not in keys:
        return
    if job.blend is None or job.blend.roll_c is None:
        return
    between = work.log.steps[keys.index(step_keys.ROLL_PART) + 1 : keys.index(step_keys.LID)]
    cold, bench = job.setting.cold_place(), job.setting.bench()
    lies_min = max(1.0, sum(step.minutes for step in between))
    work.log.part_traced.append(
        part.waits(step_keys.CHILL, "Flat in the cold", job.sheet, cold.stay(lies_min, job.room_c))
    )
    low_c = job.blend.roll_c[0]
    reached = minutes_to(part.heat, job.sheet, part.profile_c, bench.stay(LONGEST_MIN, job.room_c), low_c)
    waits = waiting(job.edits, step_keys.SOFTEN, whole_minutes(reached or 0.0), TEMPERATURE)
    if waits.minutes < 1:
        return
    stay = bench.stay(waits.minutes, job.room_c)
    work.log.part_traced.append(part.waits(step_keys.SOFTEN, "Soften", job.sheet, stay))
    ask = Ask(TEMPERATURE, reached, f"up to {degrees(low_c)}, where it bends")
    what = "strips" if job.lead.item.cover == LATTICE else "lids" if job.lead.item.count > 1 else "lid"
    made = work.maker.make(
        step_keys.SOFTEN,
        {"end_c": degrees(part.mean_c)},
        wait=replace(waits, asks=(ask,)),
        at=work.at(bench),
        told=Told(name=f"Soften the {what}"),
    )
    work.add_beside(made)


def _cut_to_strips(item: Item) -> str:
    """How a sheet becomes the strips of a lattice; empty where it stays whole."""
    if item.cover != LATTICE:
        return ""
    lengths = strip_lengths_mm(item)
    return f"Cut each into {len(lengths)} strips, {item.strip_mm:g} mm wide and {max(lengths):.0f} mm long. "


def lay_over(work: Work) -> None:
    """A lid sealed on, or a lattice woven."""
    item = work.job.lead.item
    if item.cover != LATTICE:
        work.add(step_keys.LID, told=ON_BAKED if work.job.bakes_base else AS_WRITTEN)
        return
    woven = lattice_of(item)
    along, across = len(woven.along), len(woven.across)
    look = (
        f"Wet the edge lightly. Lay {along} strips {item.gap_mm:g} mm apart, weave {across} across them. Press the "
        "ends to the base, trim them."
    )
    hands = work.maker.hands_min(step_keys.LID)
    hands += STRIP_MIN * len(woven.strips) * item.count / min(work.job.setting.hands, item.count)
    open_pct = round(100 * (1 - woven.covers))
    why = f"{open_pct} % stays open: steam leaves there, so it needs no slits."
    wrong = "A strip tears: press the ends together under another. Too soft to lift: 5 min in the cold."
    work.add(step_keys.LID, hands_min=hands, told=Told(name="Weave the lattice", look=look, why=why, wrong=wrong))


def leaves(work: Work) -> None:
    """Leaves and stars cut from the cold offcuts and laid on the lids; none where nobody wants them."""
    lead, many = work.job.lead, work.job.lead.item.count
    item = lead.item
    if not lead.decorated.each_g:
        return
    each = [
        f"{number} {noun if number > 1 else noun.replace('leaves', 'leaf').removesuffix('s')} of {size} mm"
        for number, noun, size in (
            (item.leaves, "leaves", f"{LEAF_MM[0]:g} × {LEAF_MM[1]:g}"),
            (item.stars, "stars", f"{STAR_MM:g}"),
        )
        if number
    ]
    of_what = "the offcuts and the dough set aside" if lead.decorated.extra_g else "the cold offcuts"
    number = (item.leaves + item.stars) * many
    look = (
        f"Lay {of_what} flat on each other, roll them {item.thickness_mm:g} mm thick. Cut {' and '.join(each)}"
        f"{f' for each, {number} in all' if many > 1 else ''}. Wet their backs, lay them on clear of the slits."
    )
    hands = 1 + LEAF_MIN * number / min(work.job.setting.hands, many)
    name = "Leaves and stars" if item.leaves and item.stars else "Leaves" if item.leaves else "Stars"
    told = Told(name=name, figure=f"{number}", says="to cut")
    work.add(step_keys.LEAVES, {"leaves_look": look}, hands_min=hands, told=told)

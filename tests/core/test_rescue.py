"""What is said when something goes wrong: numbers of this dough, held against the same laws by other means."""

from itertools import pairwise

import numpy as np
import pytest

from northfold.core.gluten.pull import SPRING_BACK
from northfold.core.heat.conduction import Body, conduct
from northfold.core.heat.dough_heat import dough_heat
from northfold.core.method import PlanInputs, plan
from northfold.core.method.advice.at_hand import AtHand
from northfold.core.method.advice.remedy import with_edits
from northfold.core.method.advice.rescue import TROUBLES, all_troubles, remedies, troubles
from northfold.core.method.choices.kitchen import Setting
from northfold.core.method.choices.step_kinds import step_kinds
from northfold.core.method.pictures.bench_bands import HIGH_C, LOW_C, WIDTH, bench_bands
from northfold.core.shape.blanks import Item
from northfold.core.shape.tins import ROUND, Tin
from tests.core.examples import HARBOUR, lines, with_block

LINES = lines(*HARBOUR)


def shell(room_c=21.0, edits=()):
    case = Item(Tin("Flan", ROUND, 230, 230, 25), 1)
    return plan(PlanInputs(LINES, (case,), setting=Setting(room_c=room_c)), edits)


def at(planned, key, minutes=9.0, c=None):
    return AtHand(planned, next(each for each in planned.route.steps if each.key == key), minutes, c)


def test_every_row_names_steps_that_are_and_no_step_offers_more_than_six():
    rows = {key for row in all_troubles().values() for key in row.steps}
    assert rows <= set(step_kinds())
    told = [troubles(key) for key in step_kinds()]
    assert max(len(each) for each in told) == TROUBLES
    assert troubles("weigh") == () and troubles("roll.main~2") == troubles("roll.main")
    asked = {"dry", "wet", "cracks", "sticks", "tears", "springs_back", "soft", "greasy", "shatters", "leaks",
             "colours_early", "raw_under"}  # fmt: skip
    assert set(all_troubles()) == asked


def test_a_sheet_that_goes_soft_is_cooled_as_an_independent_march_cools_it():
    """Explicit steps of 0.05 s through one lump: a sheet of 3 mm is nearly one."""
    planned = shell(24.0)
    dough = at(planned, "roll.main", c=20.0)
    freezer = dough.setting.freezer()
    first = remedies(dough, "soft")[0]
    low, high = dough.works_c
    heat = dough_heat(tuple((line.ingredient, line.grams) for line in LINES))
    stay = freezer.stay(60, 24.0)
    films = stay.below.film_w_m2_k + stay.above.film_w_m2_k
    c, seconds, mass = 20.0, 0.0, heat.density_kg_m3 * 3 / 1000
    warmed = conduct(heat, Body(3.0), 20.0, freezer.stay(3, 24.0))
    # What its heat capacity is on the way, melting counted: by the heat that the trace says it gave.
    given = abs(warmed.taken_kj_kg[-1]) * 1000 / abs(20.0 - warmed.mean_c[-1])
    while c > (low + high) / 2:
        c -= films * (c - freezer.air_c) * 0.05 / (mass * given)
        seconds += 0.05
    assert first.key == "cold.freezer"
    assert first.minutes == pytest.approx(np.ceil(seconds / 60), abs=1)
    assert f"for about {first.minutes:.0f} min (" in first.does and "20\N{NO-BREAK SPACE}°C" in first.why


def test_rooms_of_18_22_and_27_degrees_give_other_remedies():
    told = {}
    for room in (18.0, 22.0, 27.0):
        dough = at(shell(room), "roll.main")
        told[room] = dough.c, remedies(dough, "soft")[-1].minutes
    assert told[18.0][0] < told[22.0][0] < told[27.0][0]
    assert told[18.0][1] < told[22.0][1] < told[27.0][1]
    # A cold dough that is soft is not sent into the cold.
    assert [each.key for each in remedies(at(shell(21.0), "roll.main", c=9.0), "soft")] == ["dust"]


def test_the_probe_stands_over_the_plan():
    planned = shell(21.0)
    warm, cool = (remedies(at(planned, "line", c=c), "soft")[-1] for c in (22.0, 14.0))
    assert warm.minutes > cool.minutes
    assert "22\N{NO-BREAK SPACE}°C" in warm.why and "about" not in warm.why


def test_what_it_costs_is_the_difference_between_two_plans():
    planned = shell(26.0)
    for remedy in remedies(at(planned, "roll.main", c=21.0), "soft"):
        taken = with_edits(planned, remedy.takes)
        ends = [max(step.start_min + step.minutes for step in each.route.steps) for each in (taken, planned)]
        assert remedy.cost_min == pytest.approx(max(0.0, ends[0] - ends[1]))
        own = next(step for step in taken.route.steps if step.key.startswith("own."))
        keys = [step.key for step in taken.route.along]
        assert keys.index(own.key) + 1 == keys.index("roll.main")
        assert own.wait_min == remedy.minutes and own.look == remedy.does and own.note == remedy.why
        # The plan goes on from the dough as it was found: it comes out of the cold at what was said.
        traced = next(each for each in taken.route.traced if each.key == own.key)
        assert traced.trace.mean_c[0] == pytest.approx(21.0)
        assert traced.trace.mean_c[-1] <= sum(at(planned, "roll.main").works_c) / 2 + 0.1


def test_a_wait_under_way_ends_where_it_is_broken_off():
    planned = shell(27.0)
    dough = at(planned, "rest.1", minutes=10.0, c=17.0)
    first = remedies(dough, "soft")[0]
    assert ("rest.1", "minutes", "10") in first.takes
    taken = with_edits(planned, first.takes)
    keys = [step.key for step in taken.route.along]
    assert keys[keys.index("rest.1") + 1].startswith("own.")
    assert next(step for step in taken.route.steps if step.key == "rest.1").wait_min == 10


def test_cracks_warm_up_absorb_or_are_pressed():
    planned = shell(21.0)
    cold = remedies(at(planned, "roll.main", c=5.0), "cracks")[0]
    assert cold.key == "temper" and "breaks instead of bending" in cold.why
    thirsty = at(planned, "shape", minutes=2.0)
    first = remedies(thirsty, "cracks")[0]
    assert first.key == "absorb"
    # 80 % of the water at 12 min e-fold and 20 °C, 1.5 times slower for each 10 °C colder; 1 − e^(−2/12) is there.
    lasts = 12 * (np.log(1 / (1 - 0.8)) - 2 / 12)
    assert lasts - 1 <= first.minutes <= 1.5 * lasts + 5
    assert [each.key for each in remedies(at(planned, "roll.main", c=13.0), "cracks")] == ["press"]


def test_what_springs_back_rests_until_a_third_of_its_pull_is_gone():
    """At one temperature by the law itself: 55 % of the pull goes with 5 min, the rest with 50, at 20 °C."""
    planned = shell(21.0)
    dough = at(planned, "roll.main", c=12.0)
    found = remedies(dough, "springs_back")[0]
    slow = 1.5 ** ((20 - 8) / 10)
    minutes = np.arange(0, 120, 0.01)
    held = SPRING_BACK * (0.55 * np.exp(-minutes / slow / 5) + 0.45 * np.exp(-minutes / slow / 50))
    by_law = minutes[np.argmax(held <= SPRING_BACK * 2 / 3)]
    assert found.minutes == pytest.approx(by_law, abs=2.5)


def test_dry_dough_takes_a_hundredth_of_its_flour_and_wet_the_flour_of_its_ratio():
    planned = shell(21.0)
    flour = planned.scaled[0].exact_g
    water = remedies(at(planned, "mix", minutes=4.0), "dry")[0]
    assert water.adds_g == pytest.approx(max(1.0, round(flour / 100)))
    folded = next(each for each in remedies(at(planned, "mix", minutes=4.0), "wet") if each.key == "flour")
    # 420 g of flour to 140 g of water: three grams a gram.
    assert "fold in 3 g of flour" in folded.does or "fold in 4 g of flour" in folded.does


def test_less_heat_takes_longer_by_the_bake_worked_out():
    planned = shell(21.0)
    dough = at(planned, "bake.off", minutes=4.0)
    foil, lower = sorted(remedies(dough, "colours_early"), key=lambda each: each.minutes)
    stage = next(each for each in planned.bake.stages if each.key == "bake.off")
    cooler = with_edits(planned, (("bake.off", "oven_c", f"{stage.oven_c - 20:g}"),)).bake.stages
    share = next(each for each in cooler if each.key == "bake.off").usual_min / stage.usual_min
    left = dough.step.wait_min - 4
    assert lower.minutes == pytest.approx(left * share, abs=0.6) and foil.minutes == pytest.approx(left, abs=0.6)
    taken = with_edits(planned, lower.takes)
    assert next(each for each in taken.route.steps if each.key == "bake.off").wait_min == pytest.approx(
        4 + lower.minutes
    )
    assert taken.bake.oven_c == stage.oven_c - 20


def test_raw_underneath_out_of_the_oven_goes_back_in():
    found = remedies(at(shell(), "cool", minutes=3.0), "raw_under")[0]
    taken = with_edits(shell(), found.takes)
    back = next(each for each in taken.route.steps if each.key.startswith("own."))
    assert back.in_oven and back.wait_min == found.minutes and back.name == "Back in the oven"


def test_what_is_lost_for_good_is_told():
    planned = shell(27.0)
    smeared = remedies(at(planned, "roll.main", c=24.0), "soft")[0]
    assert "those flakes are gone" in smeared.lost
    assert remedies(at(planned, "roll.main", c=18.0), "soft")[0].lost == "Nothing is lost but the time."
    assert remedies(at(planned, "mix", minutes=5.0), "greasy")[0].lost.startswith("What has smeared stays smeared")


def test_an_oil_dough_is_never_sent_into_the_cold():
    oiled = lines((400, "plain flour"), (120, "olive oil"), (110, "water"), (6, "fine salt"))
    planned = plan(PlanInputs(oiled, (Item(Tin("Flan", ROUND, 230, 230, 25), 1),)))
    step = next(each for each in planned.route.steps if each.key in ("roll.main", "line"))
    found = remedies(AtHand(planned, step, 5.0), "soft")
    assert found and not any(each.key.startswith("cold.") for each in found)


PUFF = with_block((500, "strong flour"), (60, "unsalted butter"), (250, "water"), (10, "fine salt"),
                  (350, "dry laminating butter"))  # fmt: skip


def test_between_turns_the_cold_before_has_its_minutes_again():
    planned = plan(PlanInputs(PUFF, (Item(Tin("shell", "shell", 85, 0, 0), 20, 5.0),)))
    turns = [each for each in planned.route.steps if each.key.startswith("turn.")]
    dough = AtHand(planned, turns[-1], 5.0, 24.0)
    first = remedies(dough, "soft")[0]
    assert len(first.takes) == 1 and first.takes[0][0].startswith("cold.")
    cold = next(each for each in planned.route.steps if each.key == first.takes[0][0])
    assert float(first.takes[0][2]) == cold.wait_min + first.minutes
    assert first.cost_min == pytest.approx(first.minutes, abs=2.5)
    # A fat too cold to bend is warmed on the bench: the plan has no step for that between turns.
    brittle = remedies(AtHand(planned, turns[-1], 1.0, 4.0), "shatters")[0]
    assert brittle.takes == () and brittle.cost_min == brittle.minutes > 1 and "before you roll" in brittle.does


# -- the dough on its bands


def test_bands_stand_side_by_side_and_the_dough_where_its_temperature_is():
    planned = shell(21.0)
    dough = at(planned, "rest.1", minutes=0.0)
    drawn = bench_bands(planned.fat_bands, dough.c, dough.track, 8.0)
    edges = [(band.left, band.left + band.width) for band in drawn.bands]
    assert edges[0][0] == 0 or planned.fat_bands[0].low_c > LOW_C
    assert all(before[1] == pytest.approx(after[0]) for before, after in pairwise(edges))
    works = next(band for band in drawn.bands if band.state == "workable")
    low, high = dough.works_c
    per = WIDTH / (HIGH_C - LOW_C)
    assert works.left == pytest.approx((low - LOW_C) * per) and works.width == pytest.approx((high - low) * per)
    assert drawn.now == pytest.approx((dough.c - LOW_C) * per) and drawn.end == pytest.approx((8 - LOW_C) * per)
    # It goes as the plan's trace goes: colder with every point, from as it went in to as it comes out.
    assert [c for _, c in drawn.track] == sorted((c for _, c in drawn.track), reverse=True)
    assert drawn.track[-1][1] == pytest.approx(dough.step.dough_c, abs=0.01)


def test_there_is_nothing_to_see_of_oil_of_what_is_hot_and_before_there_is_dough():
    bands = shell(21.0).fat_bands
    assert bench_bands((), 12.0, (), None) is None
    assert bench_bands(bands, None, (), None) is None and bench_bands(bands, 60.0, (), None) is None
    probed = at(shell(21.0), "rest.1", minutes=5.0, c=13.0)
    assert probed.track == ((5.0, 13.0),)

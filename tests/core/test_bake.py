"""The bake worked out: the reference table's examples, analytic results, balances, and what must follow from what."""

import math
from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from northfold.core.errors import OutsideRange
from northfold.core.heat import bake
from northfold.core.heat.bake import (
    CENTRE,
    COLDEST,
    LEFT,
    TOP_COLOUR,
    UNDER_COLOUR,
    UPPER,
    Films,
    Layer,
    OvenTin,
    Sign,
    Stage,
    bake_trace,
    browning,
    colour_name,
    crust,
    filling,
    films,
    fullness,
    oven_places,
    oven_tins,
    weights,
)

SET = (Sign(UPPER, 90.0), Sign(LEFT, 0.85))
ON = (Sign(LEFT, 0.25), Sign(LEFT, 0.03), Sign(TOP_COLOUR, 6.0))
PLAIN = 0.215  # share of water in the first example's dough


def stage(tin, place, oven_c, *, fan=False, walled=False, **more):
    return Stage(oven_c, films(oven_tins()[tin], oven_places()[place], fan=fan, walled=walled), **more)


def within(expected):
    """±4 % or 0.4 min, as the reference table allows."""
    return pytest.approx(expected, rel=0.04, abs=0.4)


def blind(tin="bright", place="rack", oven_c=190.0, thick=3.0, *, fan=False, water=PLAIN, deep=22.0, f=1.0):
    layers = [crust("base", thick, water=water, browning=f), weights(deep)]
    two = [
        stage(tin, place, oven_c, fan=fan, walled=True, signs=SET, taken_off=True),
        stage(tin, place, oven_c, fan=fan, walled=True, signs=ON),
    ]
    return bake_trace(layers, oven_tins()[tin], two)


# -- North Fold reference table, the bake worked out: minutes until the weights come off; then pale, dry, gold


@pytest.mark.parametrize(
    ("tin", "place", "off", "bare"),
    [
        ("bright", "rack", 16.0, (4.9, 6.7, 12.9)),
        ("dark", "rack", 11.9, (4.4, 6.2, 11.8)),
        ("glass", "rack", 17.0, (4.7, 6.6, 13.8)),
        ("ceramic", "rack", 17.7, (4.8, 6.7, 14.1)),
        ("cast_iron", "rack", 16.6, (4.8, 6.6, 14.6)),
        ("silicone", "rack", 16.8, (5.0, 6.9, 12.8)),
        ("bright", "hot_stone", 6.3, (3.3, 4.6, 9.3)),
    ],
)
def test_a_case_under_pulses_by_its_tin(tin, place, off, bare):
    first, second = blind(tin, place).ends
    assert first.minutes == within(off)
    assert second.met == tuple(within(each) for each in bare)


@pytest.mark.parametrize(
    ("how", "off", "bare"),
    [
        ({"thick": 5.0}, 21.3, (8.6, 12.2, 19.5)),
        ({"oven_c": 180.0}, 17.7, (5.4, 7.6, 14.9)),
        ({"oven_c": 170.0, "fan": True}, 15.0, (4.9, 6.9, 14.8)),
        ({"oven_c": 185.0, "water": 0.13, "deep": 16.0, "f": 1.6}, 13.1, (3.0, 4.2, 9.6)),
    ],
)
def test_a_case_by_its_thickness_and_its_oven(how, off, bare):
    first, second = blind(**how).ends
    assert first.minutes == within(off)
    assert second.met == tuple(within(each) for each in bare)


LIDDED = (Sign(LEFT, 0.35), Sign(UNDER_COLOUR, 1.0), Sign(TOP_COLOUR, 1.0, "lid"))


def lidded(
    tin, place, deep, k, water, start_c, centre_c, *, thick=4.0, ovens=((220.0, 15.0), (180.0, None)), of=CENTRE
):
    """When the middle and the base are done, from when it went in. [min]"""
    layers = [
        crust("base", thick, water=PLAIN),
        filling("filling", deep, k, water=water, start_c=start_c),
        crust("lid", thick, water=PLAIN),
    ]
    signs = (Sign(of, centre_c, "filling"), *LIDDED)
    stages = [stage(tin, place, oven_c, minutes=minutes, signs=signs) for oven_c, minutes in ovens]
    last = bake_trace(layers, oven_tins()[tin], stages).ends[-1]
    return [each + sum(minutes or 0.0 for _, minutes in ovens) for each in last.met]


@pytest.mark.parametrize(
    ("tin", "place", "middle", "base"),
    [("bright", "rack", 63.9, 88.1), ("bright", "hot_stone", 51.9, 47.6), ("glass", "hot_stone", 54.7, 55.9)],
)
def test_a_lidded_fruit_pie(tin, place, middle, base):
    found = lidded(tin, place, 43.1, 1.0, 0.80, 12.0, 85.0)
    assert (found[0], found[1]) == (within(middle), within(base))


@pytest.mark.parametrize(("deep", "middle"), [(56.0, 81.1), (52.7, 74.0)])
def test_meat_under_a_lid_and_its_coldest_a_little_later(deep, middle):
    found = lidded("bright", "hot_stone", deep, 0.55, 0.70, 5.0, 75.0)
    assert found[0] == within(middle)
    coldest = lidded("bright", "hot_stone", deep, 0.55, 0.70, 5.0, 75.0, of=COLDEST)
    assert coldest[0] - found[0] == pytest.approx(0.2, abs=0.2)


def test_a_small_lidded_pie_and_a_hand_pie():
    found = lidded("bright", "thin_tray", 18.7, 0.55, 0.60, 12.0, 85.0, thick=3.0, ovens=((200.0, None),))
    assert (found[0], found[1]) == (within(22.3), within(27.4))
    found = lidded("tray", "thin_tray", 15.0, 0.60, 0.75, 8.0, 75.0, thick=3.0, ovens=((200.0, None),))
    assert (found[0], found[1]) == (within(14.5), within(24.6))


@pytest.mark.parametrize(
    ("now", "case_c", "water", "start_c", "oven_c", "middle_c", "minutes"),
    [(0.03, 30.0, 0.75, 45.0, 150.0, 80.0, 35.7), (0.05, 25.0, 0.72, 20.0, 170.0, 78.0, 36.0)],
)
def test_custard_in_a_part_baked_case(now, case_c, water, start_c, oven_c, middle_c, minutes):
    left = (now - bake.DOUGH_BOUND) / (PLAIN - bake.DOUGH_BOUND)
    layers = [
        crust("base", 3.0, water=PLAIN, left=left, start_c=case_c),
        filling("filling", 25.0, 0.5, water=water, start_c=start_c, wet=0.3),
    ]
    done = (Sign(CENTRE, middle_c, "filling"),)
    found = bake_trace(layers, oven_tins()["bright"], [stage("bright", "rack", oven_c, signs=done)])
    assert found.ends[0].minutes == within(minutes)


def flat(thick, water, oven_c, signs, *, bound=bake.DOUGH_BOUND, f=1.0):
    layer = crust("base", thick, water=water, bound=bound, start_c=10.0, browning=f)
    return bake_trace([layer], oven_tins()["tray"], [stage("tray", "thin_tray", oven_c, signs=signs)]).ends[0]


def test_a_cracker():
    found = flat(2.5, 0.20, 175.0, (Sign(LEFT, 0.03), Sign(TOP_COLOUR, 6.0)))
    assert found.met == (within(7.3), within(13.5))
    assert found.last is not None and found.last.of == TOP_COLOUR


@pytest.mark.parametrize(("thick", "left", "coloured"), [(3.0, 5.2, 9.9), (6.0, 10.7, 17.2), (10.0, 19.5, 22.3)])
def test_sandy_biscuits(thick, left, coloured):
    found = flat(thick, 0.10, 165.0, (Sign(LEFT, 0.30), Sign(TOP_COLOUR, 2.0)), bound=0.015, f=1.6)
    assert found.met == (within(left), within(coloured))


# -- analytic


def dry(thick, k, **more):
    """A layer without water, 1 MJ/(m³ K)."""
    return Layer("base", thick, 1000.0, 1000.0, k, 1000.0, k, **more)


BARE = OvenTin("none", "none", 10.0, 0.0)


def test_the_middle_of_a_slab_at_biot_a_half_and_fourier_two():
    """20 mm, k 0.5, film 25 on both faces: Bi 0.5; Fo 2 after 2 × 0.01² × 10⁶ ÷ 0.5 = 400 s. θ = 0.4558."""
    layer = dry(20.0, 0.5, start_c=20.0)
    found = bake_trace([layer], replace(BARE, start_c=20.0), [Stage(120.0, Films(25.0, 25.0), minutes=400 / 60)])
    assert (120 - found.of("base")[-1]) / 100 == pytest.approx(0.4558, abs=0.003)


def test_a_drying_front_goes_with_the_root_of_time():
    """
    Stefan: at 100 °C throughout, its face held at 180, hardly any specific heat. s² = 2 k ΔT t ÷ (ρ w L).

    Half of 10 mm, k 0.2, 100 kg/m³ of water: 0.005² × 100 × 2.257e6 ÷ (2 × 0.2 × 80) = 176 s.
    """
    layer = Layer("base", 10.0, 1000.0, 20.0, 0.2, 20.0, 0.2, water=0.1, start_c=100.0, cells=100)
    held = Stage(180.0, Films(1e5, 1e-6), signs=(Sign(LEFT, 0.5),))
    found = bake_trace([layer], replace(BARE, heat=100.0, start_c=180.0), [held])
    assert found.ends[0].minutes * 60 == pytest.approx(176, rel=0.04)


# -- balances: what comes in is what is held and what has boiled


@pytest.mark.parametrize("thick", [3.0, 8.0])
def test_heat_and_water_balance(thick):
    layer = crust("base", thick, water=PLAIN)
    tin = oven_tins()["glass"]
    found = bake_trace([layer], tin, [stage("glass", "rack", 200.0, minutes=25.0)], sample_s=1.0)
    end, dx = found.ends[0], thick / 1000 / layer.count
    rho = layer.density_kg_m3
    left = found.cells_left[-1]
    lost = rho * dx * layer.free_water * float((1 - left).sum())
    assert end.water_kg_m2 == pytest.approx(lost, rel=0.005)
    # What dries keeps less: the difference leaves at 100 °C, with the steam.
    wet, dried = layer.heat_j_kg_k, layer.dry_heat_j_kg_k
    held = rho * dx * float(((dried + left * (wet - dried)) * found.cells_c[-1] - wet * layer.start_c).sum())
    with_steam = rho * dx * float(((1 - left) * (wet - dried)).sum()) * 100
    in_tin = tin.heat * (found.end_tin_c - tin.start_c)
    assert end.heat_j_m2 == pytest.approx(held + with_steam + in_tin + 2.257e6 * lost, rel=0.005)


@pytest.mark.parametrize("halved", [lambda layer: replace(layer, cells=max(2, layer.count // 2))])
def test_half_the_cells_move_no_time_by_four_percent(halved):
    signs = (Sign(CENTRE, 85.0, "filling"), *LIDDED)
    layers = [
        crust("base", 4.0, water=PLAIN),
        filling("filling", 43.0, 1.0, water=0.8, start_c=12.0),
        crust("lid", 4.0, water=PLAIN),
    ]
    one, other = (
        bake_trace(each, oven_tins()["bright"], [stage("bright", "hot_stone", 190.0, signs=signs)]).ends[0].met
        for each in (layers, [halved(layer) for layer in layers])
    )
    assert other[0] == pytest.approx(one[0], rel=0.04)
    assert other[1] == pytest.approx(one[1], rel=0.04)


# -- what must follow


def test_thicker_is_later_hotter_is_earlier_and_glass_is_later_than_steel():
    times = [sum(end.minutes for end in blind(thick=thick).ends) for thick in (2.0, 3.0, 4.0, 6.0)]
    assert all(one < other for one, other in pairwise(times))
    times = [sum(end.minutes for end in blind(oven_c=oven_c).ends) for oven_c in (170.0, 180.0, 190.0, 200.0)]
    assert all(one > other for one, other in pairwise(times))
    assert blind("glass").ends[0].minutes > blind("bright").ends[0].minutes


def test_a_full_oven_and_a_hotter_one_move_all_films():
    assert [fullness(trays, 4) for trays in (1, 2, 3, 4, 6)] == pytest.approx([1.0, 1.1, 1.15, 1.2, 1.2])
    assert fullness(3, 0) == 1.0
    tin, place = oven_tins()["bright"], oven_places()["rack"]
    assert films(tin, place, fan=False, walled=False, scale=1.2, full=1.2) == Films(18.0, 25.0)


def test_a_wash_colours_the_top_faster_and_an_oven_turned_off_falls():
    layer = crust("base", 3.0, water=PLAIN)
    plain, washed = (
        bake_trace([layer], oven_tins()["tray"], [stage("tray", "thin_tray", 190.0, minutes=20.0, washed=times)])
        for times in (1.0, 3.0)
    )
    assert washed.top[-1] == pytest.approx(3 * plain.top[-1]) and washed.under[-1] == plain.under[-1]
    off = [
        stage("tray", "thin_tray", 190.0, minutes=10.0),
        stage("tray", "thin_tray", 190.0, minutes=60.0, is_off=True),
    ]
    found = bake_trace([layer], oven_tins()["tray"], off)
    assert found.oven_c[-1] == pytest.approx(20 + 170 / math.e, abs=0.5)


def test_a_wet_filling_wets_a_raw_base_and_gives_that_water():
    layers = [crust("base", 4.0, water=PLAIN), filling("filling", 30.0, 1.0, water=0.8)]
    still = stage("bright", "rack", 20.0, minutes=10.0)
    dry_one = bake_trace(layers, oven_tins()["bright"], [still])
    soaked = bake_trace(layers, oven_tins()["bright"], [replace(still, wets_g_m2_min=60.0, wets_most_g_m2=400.0)])
    base, free = layers[0], layers[0].mass_kg_m2 * layers[0].free_water
    assert dry_one.of("base", LEFT)[-1] == 1.0
    # At most 400 of 600 g/m².
    assert soaked.of("base", LEFT)[-1] == pytest.approx(1 + 0.4 / free, rel=0.02)
    given_up = (1 - soaked.of("filling", LEFT)[-1]) * layers[1].mass_kg_m2 * layers[1].free_water
    assert given_up == pytest.approx(0.4, rel=0.02)
    assert base.name == "base"


def test_frozen_goes_through_its_melting_and_takes_longer():
    """A 15 mm filling from −18 °C: its ice asks for 333.6 kJ/kg beside what cold water would."""
    times = []
    for start_c in (-18.0, 5.0):
        layer = filling("filling", 15.0, 0.6, water=0.75, start_c=start_c, freezes_c=-1.0)
        middle = (Sign(CENTRE, 20.0, "filling"),)
        found = bake_trace([layer], oven_tins()["tray"], [stage("tray", "thin_tray", 200.0, signs=middle)])
        times.append(found.ends[0].minutes)
    cold, frozen = times[1], times[0]
    assert frozen > 2 * cold
    tight = 1050 * 0.015 * (333_600 * 0.75 * (1 - 1 / 18) + 3600 * 38 - 2100 * 0.7 * 14)
    taken = bake_trace(
        [filling("filling", 15.0, 0.6, water=0.75, start_c=-18.0, freezes_c=-1.0)],
        replace(oven_tins()["tray"], heat=100.0, start_c=-18.0),
        [Stage(20.0, Films(60.0, 60.0), minutes=200.0)],
    ).ends[0]
    assert taken.heat_j_m2 == pytest.approx(tight, rel=0.03)


def test_colours_have_names_and_sugar_and_egg_hasten_them():
    assert [colour_name(each) for each in (0.2, 0.5, 3, 6, 20, 40)] == ["raw", "pale", "straw", "gold", "brown", "dark"]
    assert browning(0, is_rich=False) == 1.0
    assert browning(20, is_rich=True) == pytest.approx(1.6)
    assert browning(50, is_rich=False) == pytest.approx(1.6)


def test_what_is_beyond_the_model_is_refused_with_its_number():
    with pytest.raises(OutsideRange, match="450"):
        bake_trace([crust("base", 3.0)], oven_tins()["tray"], [stage("tray", "thin_tray", 450.0, minutes=5.0)])
    with pytest.raises(OutsideRange, match="base"):
        bake_trace([crust("base", 0.05)], oven_tins()["tray"], [stage("tray", "thin_tray", 200.0, minutes=5.0)])


@settings(max_examples=60)
@given(
    thick=st.floats(0.5, 12.0),
    water=st.floats(0.05, 0.35),
    deep=st.floats(3.0, 80.0),
    oven_c=st.floats(120.0, 280.0),
    start_c=st.floats(-20.0, 40.0),
    tin=st.sampled_from(sorted(oven_tins())),
    place=st.sampled_from(sorted(oven_places())),
    fan=st.booleans(),
    kind=st.sampled_from(["bare", "weights", "open", "lid"]),
)
def test_whatever_goes_in_ends_finite_and_in_order(thick, water, deep, oven_c, start_c, tin, place, fan, kind):
    base = crust("base", thick, water=water, start_c=start_c, freezes_c=-2.0)
    above = {
        "bare": [],
        "weights": [weights(deep)],
        "open": [filling("filling", deep, 0.5, water=0.7, start_c=start_c, freezes_c=-1.0, wet=0.3)],
        "lid": [filling("filling", deep, 0.5, water=0.7, start_c=start_c, freezes_c=-1.0), replace(base, name="lid")],
    }[kind]
    found = bake_trace([base, *above], oven_tins()[tin], [stage(tin, place, oven_c, fan=fan, minutes=40.0)])
    assert found.whole_min == pytest.approx(40.0, abs=0.01)
    assert np.all(np.diff(found.minutes) > 0)
    assert np.isfinite(found.cells_c).all() and np.isfinite(found.cells_left).all()
    assert found.cells_c.max() <= max(oven_c, 40.0) + 1e-6 and found.cells_c.min() >= min(start_c, 20.0) - 1e-6
    assert (found.cells_left >= 0).all() and (np.diff(found.of("base", LEFT)) <= 1e-9).all()
    assert all(one <= other for one, other in pairwise(found.under))

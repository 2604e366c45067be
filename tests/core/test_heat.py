"""Heat: thermal properties, states of fat, mixing temperature, conduction. Figures of the worked examples and the
analytic series of slab, cylinder and ball."""

from dataclasses import replace
from itertools import pairwise
from math import cos, exp, log, pi, sin, sqrt

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import brentq
from scipy.special import j0, j1, jn_zeros

from northfold.core.errors import OutsideRange
from northfold.core.heat.conduction import (
    BALL,
    CYLINDER,
    SLAB,
    Body,
    Face,
    Stay,
    Variant,
    conduct,
    edge_factor,
    first_crossing,
    minutes_to,
    through,
    through_each,
)
from northfold.core.heat.dough_heat import DoughHeat, dough_heat
from northfold.core.heat.mixing import Bowl, IceCannotRescue, Portion, mix_c, mixing_temperature
from northfold.core.heat.places import Place, place_kinds
from northfold.core.matter import dough_composition, reference_ingredients
from northfold.core.matter.fats import BRITTLE, FIRM, GREASY, SOFT, WORKABLE, fat_blend, solid_fat
from northfold.core.matter.thermal import conductivity, enthalpy, specific_heat
from tests.core.examples import HARBOUR, lines

TABLE = reference_ingredients()
PARTS = tuple((line.ingredient, line.grams) for line in lines(*HARBOUR))


def test_specific_heat_and_conductivity_of_the_first_example():
    composition = dough_composition(PARTS)
    assert specific_heat(composition, 10) == pytest.approx(2.43, rel=0.01)
    assert conductivity(composition, 10) == pytest.approx(0.322, rel=0.01)


def test_enthalpy_is_the_integral_of_the_specific_heat():
    composition = dough_composition(PARTS)
    step = enthalpy(composition, 20.5) - enthalpy(composition, 19.5)
    assert step == pytest.approx(specific_heat(composition, 20), rel=1e-4)
    assert enthalpy(composition, 0) == 0


# -- fat


@pytest.mark.parametrize(
    "fat, brittle, roll, greasy",
    [
        ("unsalted butter", 6.6, (9, 16), 21.9),
        ("dry laminating butter", 11.4, (11.4, 18), 26.1),  # its range starts below brittle
        ("pastry margarine", 11.6, (12, 24), 34.3),
    ],
)
def test_states_of_fats_as_in_the_table(fat, brittle, roll, greasy):
    blend = fat_blend([(TABLE[fat], 100)])
    assert blend.brittle_below_c == pytest.approx(brittle, abs=0.3)
    assert blend.roll_c == pytest.approx(roll, abs=0.1)
    assert blend.greasy_from_c == pytest.approx(greasy, abs=0.3)


def test_butter_goes_through_all_states_in_order():
    blend = fat_blend([(TABLE["unsalted butter"], 250)])
    assert [blend.state(t) for t in (2, 8, 9, 16, 18, 25)] == [BRITTLE, FIRM, WORKABLE, WORKABLE, SOFT, GREASY]
    bands = blend.bands(0, 30)
    assert [band.state for band in bands] == [BRITTLE, FIRM, WORKABLE, SOFT, GREASY]
    assert all(before.high_c == after.low_c for before, after in pairwise(bands))


def test_a_blend_takes_fat_mass_means():
    # 100 g butter holds 82 g fat, 82.16 g lard holds 82 g: half and half.
    blend = fat_blend([(TABLE["unsalted butter"], 100), (TABLE["lard"], 82 / 0.998)])
    assert blend.flake_max_c == pytest.approx((14 + 13) / 2)
    assert blend.roll_c == pytest.approx((6.5, 16))
    assert blend.sfc(10) == pytest.approx((45 + 28) / 2)


def test_oil_has_no_state_and_no_fat_no_blend():
    assert fat_blend([(TABLE["sunflower oil"], 40)]).state(20) == ""
    assert fat_blend([(TABLE["plain flour"], 40)]) is None


# -- mixing


def example(*, flour, butter, water, friction, ice=0.0, salt=None, bowl=None):
    first = [
        Portion(TABLE["plain flour"], 1000, flour),
        Portion(TABLE["unsalted butter"], 650, butter),
        Portion(TABLE["fine salt"], 16, flour if salt is None else salt),
    ]
    last = [Portion(TABLE["water"], 300 - ice, water)]
    return mixing_temperature(first, last, friction_k=friction, ice_g=ice, bowl=bowl)


@pytest.mark.parametrize("water, dough", [(2, 11.9), (8, 13.2), (15, 14.6), (12.0, 14)])
def test_crumb_and_dough_of_the_cool_kitchen(water, dough):
    mixed = example(flour=21, butter=5, water=water, friction=2)
    assert mixed.crumb_c == pytest.approx(14.0, abs=0.4)
    assert mixed.dough_c == pytest.approx(dough, abs=0.4)


def test_ice_brings_the_dough_down_but_not_the_crumb():
    mixed = example(flour=29, butter=8, water=16, friction=3, ice=80)
    assert mixed.crumb_c == pytest.approx(19.5, abs=0.5)
    assert mixed.dough_c == pytest.approx(14, abs=0.5)
    colder = example(flour=15.9, butter=8, water=11.1, friction=3)
    assert (colder.crumb_c, colder.dough_c) == pytest.approx((14, 14), abs=0.5)


def test_refusal_names_crumb_limit_and_the_flour_that_works():
    error = IceCannotRescue(19.5, 16, 15.9, None)
    assert "19.5 °C" in str(error)
    assert "above 16 °C" in str(error)
    assert "flour at 15.5 °C" in str(error)  # rounded to the safe side


def test_unmelted_ice_leaves_zero_degrees():
    mixed = example(flour=1, butter=0, water=0.5, friction=0, ice=250)
    assert mixed.dough_c == 0
    assert 0 < mixed.unmelted_ice_g < 250


def test_a_cold_bowl_takes_heat_and_mass_alone_moves_nothing():
    plain = example(flour=21, butter=5, water=8, friction=2)
    assert example(flour=21, butter=5, water=8, friction=2, bowl=Bowl(1500, 2)).crumb_c < plain.crumb_c - 1
    double = [Portion(TABLE["plain flour"], 2000, 21), Portion(TABLE["unsalted butter"], 1300, 5)]
    single = [Portion(TABLE["plain flour"], 1000, 21), Portion(TABLE["unsalted butter"], 650, 5)]
    assert mix_c(double) == pytest.approx(mix_c(single), abs=1e-3)


@given(st.floats(-5, 40), st.floats(-5, 40))
def test_a_mix_lies_between_its_parts(flour, butter):
    mixed = mix_c([Portion(TABLE["plain flour"], 500, flour), Portion(TABLE["unsalted butter"], 300, butter)])
    assert min(flour, butter) - 0.01 <= mixed <= max(flour, butter) + 0.01


def test_temperatures_beyond_reason_are_refused():
    with pytest.raises(OutsideRange, match="plain flour of 900"):
        mix_c([Portion(TABLE["plain flour"], 100, 900)])
    with pytest.raises(OutsideRange, match="Ice"):
        example(flour=20, butter=5, water=5, friction=0, ice=-1)


# -- conduction

DOUGH = dough_heat(PARTS)
FRIDGE = Stay.between(600, 4, 7)


def roots(shape, biot):
    """Of the characteristic equation of each body; Carslaw and Jaeger's series, one root in each branch."""
    if shape == SLAB:
        return [brentq(lambda z: z * sin(z) - biot * cos(z), n * pi, (n + 0.5) * pi) for n in range(40)]
    if shape == BALL:
        return [brentq(lambda z: sin(z) * (1 - biot) - z * cos(z), (n or 1e-4) * pi, (n + 1) * pi) for n in range(40)]
    edges = [0.0, *jn_zeros(1, 40)]
    return [brentq(lambda z: z * j1(z) - biot * j0(z), edges[n], edges[n + 1]) for n in range(40)]


def series(shape, biot, fourier):
    """Share of the first difference that is left in the centre of a slab, cylinder or ball."""
    weight = {
        SLAB: lambda z: 4 * sin(z) / (2 * z + sin(2 * z)),
        CYLINDER: lambda z: 2 * j1(z) / (z * (j0(z) ** 2 + j1(z) ** 2)),
        BALL: lambda z: 4 * (sin(z) - z * cos(z)) / (2 * z - sin(2 * z)),
    }[shape]
    return sum(weight(z) * exp(-z * z * fourier) for z in roots(shape, biot))


def test_the_series_gives_the_published_slab():
    assert series(SLAB, 0.5, 2) == pytest.approx(0.4558, abs=1e-4)


@pytest.mark.parametrize("shape", [SLAB, CYLINDER, BALL])
@pytest.mark.parametrize("biot", [0.05, 0.2, 0.5, 1, 5, 50])
def test_centres_follow_the_analytic_series(shape, biot):
    half_m, k, density, cp = 0.01, 0.3, 1100.0, 2.5
    for fourier in (0.1, 0.2, 0.5, 1, 2):
        minutes = fourier * half_m**2 * density * cp * 1000 / k / 60
        stay = Stay.between(minutes, 0, biot * k / half_m)
        trace = conduct(DoughHeat.constant(density, cp, k), Body(2000 * half_m, shape), 20.0, stay)
        assert trace.centre_c[-1] / 20 == pytest.approx(series(shape, biot, fourier), abs=0.003)


LONG_WAY = [
    Stay(minutes, Face(air, film), Face(air, under))
    for minutes, air, film, under in (
        (2, 22, 9, 25), (60, 4, 7, 12), (6, 22, 9, 25), (3, 22, 9, 80), (1, -18, 8, 14), (32, 4, 7, 12),
        (10, 22, 9, 25), (45, 4, 7, 12), (8, 22, 9, 25), (20, 4, 15, 15), (600, 4, 7, 12), (53, 24, 9, 25),
    )
]  # fmt: skip


@pytest.mark.parametrize("body", [Body(3), Body.puck(25, 110), Body(60, CYLINDER), Body(60, BALL)])
def test_fourteen_hours_through_twelve_places_keep_the_heat(body):
    """What came in through the faces is what the dough holds more, by the polynomials and the fat's crystals."""
    assert sum(stay.minutes for stay in LONG_WAY) == 14 * 60
    composition = dough_composition(PARTS)
    grams = sum(weight for _, weight in PARTS)

    def content(t):
        crystals = sum(
            weight / grams * part.composition.fat * part.fat.crystal_kj_per_kg * solid_fat(part.fat, t) / 100
            for part, weight in PARTS
            if part.fat
        )
        return enthalpy(composition, t) - crystals

    traces = through(DOUGH, body, 18.0, LONG_WAY)
    before, moved, gained = content(18.0), 0.0, 0.0
    for trace in traces:
        after = body.mean_c([content(t) for t in trace.profile_c])
        gained += after - before - trace.taken_kj_kg[-1]
        moved += sum(abs(b - a) for a, b in pairwise(trace.taken_kj_kg))
        before = after
        assert abs(gained) <= 0.001 * moved


def test_adaptive_steps_lie_by_steps_of_one_second():
    exact = through(DOUGH, Body(25), 18.0, LONG_WAY, tolerance_k=1e9, longest_s=1)
    for trace, reference in zip(through(DOUGH, Body(25), 18.0, LONG_WAY), exact, strict=True):
        assert trace.mean_c == pytest.approx(reference.mean_c, abs=0.02)
        assert trace.surface_c == pytest.approx(reference.surface_c, abs=0.05)


def test_finer_cells_and_steps_move_the_time_by_under_a_hundredth():
    plain, finer, shorter = (
        through(DOUGH, Body(25), 20.0, [FRIDGE], samples=160, **how)[0].first_minute(8)
        for how in ({}, {"cells": 96}, {"tolerance_k": 1e-4})
    )
    assert finer == pytest.approx(plain, rel=0.01)
    assert shorter == pytest.approx(plain, rel=0.01)


def test_several_ways_are_the_ways_one_by_one():
    ways = [Variant(Body(mm), 18.0, tuple(LONG_WAY)) for mm in (3.0, 12.0, 25.0)]
    for way, traces in zip(ways, through_each(DOUGH, ways), strict=True):
        alone = through(DOUGH, way.body, way.start_c, way.stays, samples=8)
        assert traces[-1].mean_c == alone[-1].mean_c


@pytest.mark.parametrize(
    "thickness, means, to_8",
    [(10, (12.0, 7.8, 4.8), 58), (15, (14.1, 10.4, 6.3), 88), (25, (16.3, 13.4, 9.4), 152)],
)
def test_discs_in_a_fridge_as_in_the_table(thickness, means, to_8):
    heat = dough_heat(PARTS, porosity=0)
    trace = conduct(heat, Body(thickness), 20.0, Stay.between(240, 4, 7), samples=120)
    assert [trace.at(minute) for minute in (30, 60, 120)] == pytest.approx(means, abs=0.4)
    assert minutes_to(heat, Body(thickness), 20.0, Stay.between(240, 4, 7), 8) == pytest.approx(to_8, rel=0.06)


@pytest.mark.parametrize("thickness, minutes", [(2, 2.4), (3, 3.6), (5, 6.2)])
def test_bench_window_on_wood(thickness, minutes):
    wood = Stay(30, above=Face(24, 9), below=Face(24, 25))
    assert minutes_to(DOUGH, Body(thickness), 8.0, wood, 16) == pytest.approx(minutes, rel=0.04)


def test_a_frozen_dough_says_so():
    assert conduct(DOUGH, Body(3), 12.0, Stay.between(60, -18, 14)).is_frozen
    assert not conduct(DOUGH, Body(25), 12.0, Stay.between(30, -18, 14)).is_frozen


# Section 16: 28.8 % of water, 2 % of it bound, freezing from −2.3 °C.
LEAN = DoughHeat.constant(1124, 2.43, 0.32, freezes_c=-2.3, unbound=0.268)
FREEZER = Stay(900, above=Face(-18, 8), below=Face(-18, 14))
THAWS = Stay(1200, above=Face(4, 7), below=Face(4, 12))
BENCH = Stay(900, above=Face(21, 9), below=Face(21, 25))


@pytest.mark.parametrize(
    ("thick", "firm", "coldest", "fridge", "bench"),
    [(3, 22, 37, 41, 10), (25, 206, 346, 376, 103), (40, 354, 594, 643, 186)],
)
def test_frozen_and_thawed_as_in_the_table(thick, firm, coldest, fridge, bench):
    """To −10 °C in its middle; then in a fridge until its coldest is −1 and its mean 1, on a bench until 9 °C."""
    body = Body(thick)
    assert through(LEAN, body, 14.0, (FREEZER,), samples=200)[0].firm_min == pytest.approx(firm, rel=0.05)
    thawed = through(LEAN, body, -18.0, (THAWS,), samples=200)[0]
    cold = [min(pair) for pair in zip(thawed.centre_c, thawed.surface_c, strict=True)]
    assert first_crossing(thawed.minutes, cold, -1.0) == pytest.approx(coldest, rel=0.05)
    assert thawed.first_minute(1.0) == pytest.approx(fridge, rel=0.05)
    assert minutes_to(LEAN, body, -18.0, BENCH, 9.0) == pytest.approx(bench, rel=0.05)


def test_a_sweet_dough_freezes_later_and_less():
    sweet = DoughHeat.constant(1124, 2.43, 0.32, freezes_c=-8, unbound=0.14)
    assert through(sweet, Body(25), 14.0, (FREEZER,), samples=200)[0].firm_min == pytest.approx(119, rel=0.05)
    assert (sweet.ice(-18), LEAN.ice(-18)) == pytest.approx((0.56, 0.87), abs=0.005)


def test_ice_takes_and_gives_back_the_same_heat():
    down, up = through(LEAN, Body(25), 14.0, (replace(FREEZER, minutes=2000), Stay.between(3000, 14, 12)), samples=60)
    assert down.mean_c[-1] == pytest.approx(-18, abs=0.05) and up.mean_c[-1] == pytest.approx(14, abs=0.05)
    assert down.taken_kj_kg[-1] == pytest.approx(-up.taken_kj_kg[-1], rel=0.005)
    # By hand: 2.43 a degree, less 2.1 for the ice, and 333.6 for each kilogram of it.
    ice = 0.268 * (1 - 2.3 / 18)
    less = 2.1 * 0.268 * (15.7 - 2.3 * log(18 / 2.3))
    assert -down.taken_kj_kg[-1] == pytest.approx(2.43 * 32 - less + 333.6 * ice, rel=0.01)


def test_stefan_by_a_freezing_front():
    """A half-space of water that freezes at one temperature: the front goes by √(2 k ΔT t ÷ (ρ L)) of a thin ice."""
    water = DoughHeat.constant(1000, 4.2, 0.6, freezes_c=-0.05, unbound=1.0)
    cold = Stay(60, above=Face(-10, 1e-6), below=Face(-10, 5000))
    trace = through(water, Body(60), 0.0, (cold,), samples=40, cells=120)[0]
    ice_k, heat = 0.6 * 4, 333.6e3 + 0.5 * (4.2 - 2.1) * 1e3 * 10
    front_mm = 1000 * sqrt(2 * ice_k * 10 * 3600 / (1000 * heat))
    frozen = sum(t < -0.1 for t in trace.profile_c) * 60 / 120
    assert frozen == pytest.approx(front_mm, rel=0.06)


@given(st.floats(0.5, 60), st.floats(-4, 30), st.floats(-30, 40), st.sampled_from([SLAB, CYLINDER, BALL]))
def test_a_piece_never_passes_what_surrounds_it(across, start, air, shape):
    trace = conduct(DOUGH, Body(across, shape), start, Stay.between(90, air, 15))
    low, high = min(start, air), max(start, air)
    for each in (trace.mean_c, trace.centre_c, trace.surface_c):
        assert low - 0.1 <= min(each) and max(each) <= high + 0.1


def test_round_pieces_cool_sooner_than_a_slab_and_a_flat_one_soonest():
    slab, log, ball, flat = (
        minutes_to(DOUGH, body, 20.0, FRIDGE, 8) for body in (Body(50), Body(50, CYLINDER), Body(50, BALL), Body(12))
    )
    assert slab > 1.7 * log > 1.7 * ball > flat  # volume by face: 1 : 1/2 : 1/3 of the slab's


def test_edges_of_a_puck_chill_it_sooner():
    assert edge_factor(25, 100) == 1.5
    assert minutes_to(DOUGH, Body.puck(25, 100), 20.0, FRIDGE, 8) < minutes_to(DOUGH, Body(25), 20.0, FRIDGE, 8) / 1.3


def test_what_is_never_reached_is_none_and_what_is_there_takes_nothing():
    assert minutes_to(DOUGH, Body(25), 20.0, Stay.between(600, 12, 7), 8) is None
    assert minutes_to(DOUGH, Body(25), 6.0, FRIDGE, 8) == 0
    with pytest.raises(OutsideRange, match="thickness"):
        conduct(DOUGH, Body(0), 20.0, FRIDGE)


def test_places_bring_the_published_films():
    stay = Place("cold", "Cold", "fridge", 4).stay(30, room_c=22)
    assert (stay.above.film_w_m2_k, stay.below.film_w_m2_k, stay.above.temperature_c) == (7, 12, 4)
    wood = Place("bench", "Bench", "bench_wood").stay(5, room_c=22)
    assert (wood.above.film_w_m2_k, wood.below.film_w_m2_k, wood.below.temperature_c) == (9, 25, 22)
    assert {"fridge", "freezer", "blast", "bench_marble"} <= set(place_kinds())

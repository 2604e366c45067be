"""Lamination: layers against folding them one by one, films, every stage's volume, what is refused."""

import itertools
import math

import pytest

from northfold.core.errors import CoreError, OutsideRange
from northfold.core.fold.lamination import CannotFold, FoldInputs, laminate
from northfold.core.fold.layers import Layers, after, bands, film_um, judged, starts
from northfold.core.shape.rolling import gaps, passes

# What a start lays down, from below: F fat, D dough.
LAID = {"wrap": "DFD", "two_thirds": "DFDFD", "half": "DFD", "inverse": "FDF"}


def folded(stack, into):
    """Laid into so many by turns, touching equal layers as one."""
    laid = [layer for turn in range(into) for layer in (stack if turn % 2 == 0 else reversed(stack))]
    return [layer for layer, _ in itertools.groupby(laid)]


@pytest.mark.parametrize("key", sorted(LAID))
def test_layers_are_those_of_a_stack_that_is_really_folded(key):
    for count in range(6):
        for folds in itertools.product((2, 3, 4), repeat=count):
            stack = list(LAID[key])
            for into in folds:
                stack = folded(stack, into)
            found = after(starts()[key], folds)[-1]
            assert (found.fat, found.dough) == (stack.count("F"), stack.count("D")), folds


def test_counts_and_films_of_the_table():
    wrap = starts()["wrap"]
    assert after(wrap, (3, 3, 3))[-1] == Layers(27, 28)
    assert after(wrap, (4, 3))[-1] == Layers(12, 13)
    assert after(wrap, (3,) * 6)[-1] == Layers(729, 730)
    assert film_um(3.5, 0.26, 27) == pytest.approx(33.7, abs=0.05)
    assert film_um(3.5, 0.74, 28) == pytest.approx(92.5, abs=0.05)
    words = [judged(film, bands()["puff"]) for film in (30, 10, 1.2, 0.8)]
    assert words == ["coarse", "good", "fine", "merged"]
    assert judged(12, bands()["yeast"]) == "fine" and judged(12, bands()["rough_puff"]) == "good"
    with pytest.raises(OutsideRange):
        wrap.layers.folded(1)


def test_passes_take_off_at_most_three_tenths():
    assert [passes(25, 8), passes(25, 3), passes(3, 3)] == [4, 6, 0]
    found = (25.0, *gaps(25, 8))
    assert len(found) == 5 and found[-1] == 8
    assert all(0.6 < thin / thick < 1 for thick, thin in itertools.pairwise(found))


def inputs(**values):
    given = {
        "dough_g": 1680.0, "fat_g": 500.0, "dough_kg_m3": 1120.0, "fat_kg_m3": 950.0, "start": "wrap",
        "folds": (3, 3, 3), "final_mm": 4.0, "bench_mm": (600.0, 1200.0), "band": "yeast", "flour_g": 1000.0,
    }  # fmt: skip
    return FoldInputs(**{**given, **values})


@pytest.mark.parametrize("start", sorted(starts()))
@pytest.mark.parametrize("folds", [(), (3,), (4, 3), (3, 4, 2), (3,) * 6])
@pytest.mark.parametrize("grams", [600, 2180, 9000])
def test_volume_is_the_same_at_every_stage_and_nothing_leaves_the_bench(start, folds, grams):
    scale, flour = grams / 2180, 500 * 0.35 if start == "inverse" else 0.0
    given = inputs(
        start=start, folds=folds, dough_g=scale * (1680 - flour), fat_g=scale * (500 + flour), final_mm=5.0,
        flour_in_fat_g=scale * flour,
    )  # fmt: skip
    found = laminate(given)
    whole = given.dough_g / 1.120 + given.fat_g / 0.950
    dough, fat, *rest = found.stages
    assert found.blocks * (dough.volume_ml + fat.volume_ml) == pytest.approx(whole, rel=1e-3)
    for stage in rest:
        assert found.blocks * stage.volume_ml == pytest.approx(whole, rel=1e-3), stage.key
        assert max(stage.length_mm, stage.width_mm) <= 1200.1, stage.key
        layers = stage.layers.fat * stage.fat_um + stage.layers.dough * stage.dough_um
        assert layers == pytest.approx(1000 * stage.thickness_mm)
    # The fat covers: as long as its start says, of the package.
    package = rest[0]
    assert (fat.length_mm, dough.length_mm) == pytest.approx(
        (starts()[start].fat_lengths * package.length_mm, starts()[start].dough_lengths * package.length_mm)
    )
    assert fat.width_mm == dough.width_mm == package.width_mm


def test_a_packet_is_turned_so_that_it_stays_square():
    found = laminate(inputs())
    rolled = [stage for stage in found.stages if stage.kind == "roll"]
    packets = [stage for stage in found.stages if stage.kind == "fold"]
    for sheet, packet in zip(rolled, packets, strict=True):
        assert packet.length_mm == pytest.approx(sheet.length_mm / 3) and packet.thickness_mm == 24
        assert sheet.fold_lines == pytest.approx((sheet.length_mm / 3, 2 * sheet.length_mm / 3))
        assert packet.length_mm == pytest.approx(packet.width_mm)
    assert rolled[0].passes == 4 and rolled[0].from_mm == 25


def test_shares_name_their_denominators():
    found = laminate(inputs())
    assert (found.share, found.of_block, found.of_flour) == pytest.approx((500 / 2180, 500 / 1680, 0.5))
    assert found.by_volume == pytest.approx(500 / 950 / (500 / 950 + 1680 / 1120))
    assert found.fat_um == pytest.approx(4000 * found.by_volume / 27)
    assert found.verdict == "good"
    assert found.fewer.fat_um == pytest.approx(3 * found.fat_um) and found.more.fat_um == pytest.approx(
        found.fat_um / 3
    )
    assert found.more.verdict == "fine"  # 13 µm, under 15


@pytest.mark.parametrize(
    "values, words",
    [
        ({"fat_g": 1800.0}, "52 % of the total dough: over 50 %"),
        ({"blocks": 1, "dough_g": 8000.0, "fat_g": 2400.0}, "the bench holds 1,200: 2 blocks"),
        ({"start": "inverse"}, "0 g of flour per 100 g"),
        ({"fat_g": 150.0}, "a slab under 3 mm"),
        ({"start": "diamond"}, "no lock-in"),
        ({"turn_mm": 1.0}, "Before a fold, a sheet of"),
        ({"folds": (7,)}, "A fold into"),
    ],
)
def test_what_does_not_work_is_refused_with_its_number_and_remedy(values, words):
    with pytest.raises(CoreError, match=words):
        laminate(inputs(**values))


def test_what_is_risky_is_warned_of():
    assert "over 40 %" in laminate(inputs(fat_g=1250.0)).warnings[0]
    assert "finer than" in laminate(inputs(folds=(3,) * 5)).warnings[0]
    assert "it leaks" in laminate(inputs(folds=(3,), final_mm=6)).warnings[0]
    inverse = laminate(inputs(start="inverse", dough_g=1600.0, fat_g=600.0, flour_in_fat_g=100.0, band="puff"))
    assert "20 g of flour in 100 g" in inverse.warnings[0]
    assert laminate(inputs()).warnings == ()


def test_more_dough_than_the_bench_holds_is_divided():
    found = laminate(inputs(dough_g=8000.0, fat_g=2400.0))
    assert found.blocks == math.ceil((8000 / 1.12 + 2400 / 0.95) / (3 * 0.8 * 40 * 40))
    with pytest.raises(CannotFold):
        laminate(inputs(dough_g=800_000.0, fat_g=240_000.0))

"""What goes into the pan when: cooked before, from the start, bound at the end, folded in off the heat."""

from dataclasses import replace

import pytest

from northfold.core.fill.layers import HEAP, MARK, Layer
from northfold.core.fill.ledger import Treatment
from northfold.core.fill.making import hold_min, usual_making
from northfold.core.fill.mixture import BETWEEN, COOLED, RAW, TOP
from northfold.core.fill.pan import cooked_as, cooked_first, of, pan_of, soft_min
from northfold.core.fill.settling import COOKED
from tests.core.test_fill import mixture
from tests.core.test_fill_planned import CASE, CRUMBLE, CUSTARD, PIE, planned, step

PIE_FILLING = mixture("filling", "Beetroot filling", beetroot=900, onion=120, feta=110, soured_cream=60, fine_salt=6)
FISH = mixture("filling", "Fish filling", smoked_fish=600, leek=250, double_cream=160, **{"cornflour (starch)": 20})
QUINCE = mixture("filling", "Quince filling", quince=600, caster_sugar=100, **{"cornflour (starch)": 14})
CARAMEL = mixture("syrup", "Caramel", golden_syrup=200, unsalted_butter=120, light_brown_sugar=80)
BARLEY = mixture("filling", "Currants and barley", blackcurrants=800, caster_sugar=170, pearl_barley=90)


def as_said(made, **words):
    """A mixture with words of its recipe behind some of its lines."""
    lines = [replace(line, preparation=words.get(line.ingredient.name.replace(" ", "_"), "")) for line in made.lines]
    return replace(made, lines=tuple(lines))


def names(made, numbers):
    return [line.ingredient.name for line in of(made.lines, numbers)]


@pytest.mark.parametrize(
    ("made", "first", "bound", "folded"),
    [
        (PIE_FILLING, ["beetroot", "onion", "fine salt"], [], ["feta", "soured cream"]),
        # Cream is the sauce where starch binds it; fish would fall apart in the pan.
        (FISH, ["leek", "double cream"], ["cornflour (starch)"], ["smoked fish"]),
        (QUINCE, ["quince", "caster sugar"], ["cornflour (starch)"], []),
        (CARAMEL, ["golden syrup", "unsalted butter", "light brown sugar"], [], []),
    ],
)
def test_each_line_goes_into_the_pan_once_and_at_its_time(made, first, bound, folded):
    pan = pan_of(made)
    assert [names(made, part) for part in (pan.first, pan.bound, pan.folded)] == [first, bound, folded]
    assert sorted((*pan.first, *pan.bound, *pan.folded)) == list(range(len(made.lines)))


def test_the_firmest_piece_says_how_long_it_simmers():
    assert soft_min(QUINCE.lines) >= 30 > soft_min(FISH.lines) > soft_min(CRUMBLE.lines)
    assert hold_min(QUINCE) == soft_min(QUINCE.lines) + 1  # and the starch is cooked out
    assert hold_min(PIE_FILLING) == soft_min(PIE_FILLING.lines) == 25


def test_a_sauce_with_starch_is_cooked_and_what_is_cooked_already_is_not_cooked_again():
    assert usual_making(FISH, RAW) == "cooked"
    assert usual_making(PIE_FILLING, RAW) == "cooked"
    ready = as_said(PIE_FILLING, beetroot="boiled and diced", onion="softened")
    assert usual_making(ready, RAW) == "stirred"
    assert [cooked_as(each) for each in (CARAMEL, FISH, CUSTARD, CRUMBLE)] == ["caramel", "soft", "set", "plain"]
    assert not cooked_first(as_said(FISH, smoked_fish="cooked").lines[0])  # it is bought so


def test_the_step_says_what_goes_in_when_and_simmers_without_hands():
    made = step(planned(PIE, Layer(PIE_FILLING, RAW, rule=HEAP, amount=20)), "mixture.1.make")
    assert "Off the heat, fold in" in made.look and "feta" in made.look.partition("fold in")[2]
    assert "feta" not in made.look.partition("Heat to")[0] and "a splash of water" in made.look
    assert "corners" not in made.look and "egg" not in made.wrong
    assert "In 2 goes" in made.look and made.wait_min == 2 * 25 and made.hands_min < 30
    before = Treatment(COOKED)
    bound = step(planned(CASE, Layer(QUINCE, BETWEEN, rule=MARK, amount=4, treated=before)), "mixture.1.make")
    assert "cornflour (starch), slaked with cold water; 1 min more" in bound.look
    assert "under the lid" not in bound.why  # an open tart has none
    sticky = step(planned(CASE, Layer(CARAMEL, TOP, rule=MARK, amount=3)), "mixture.1.make")
    assert "by the thermometer" in sticky.look and sticky.wait_min == 0 and "shrunk" not in sticky.why


def test_caramel_gets_no_film_and_little_of_it_cools_in_a_dish():
    cools = step(planned(replace(CASE, count=1), Layer(CARAMEL, COOLED, rule=MARK, amount=19)), "mixture.1.cool")
    assert "in a small dish, uncovered" in cools.look
    curd = mixture("curd", "Curd", lemon_juice=200, caster_sugar=220, whole_egg=250, unsalted_butter=150)
    assert (
        "film right on its face" in step(planned(CASE, Layer(curd, COOLED, rule=MARK, amount=3)), "mixture.1.cool").look
    )


def test_boiled_barley_is_boiled_first_from_dry():
    said = as_said(BARLEY, pearl_barley="boiled")
    case = planned(CASE, Layer(said, BETWEEN, rule=MARK, amount=4))
    boils, stirs = step(case, "mixture.1.boil"), step(case, "mixture.1.make")
    (made,) = case.mixtures
    barley = next(each for each in made.lines if each.line.ingredient.name == "pearl barley")
    assert barley.buy_g == pytest.approx(barley.grams / 3.3)  # it boils up 2.3 times its weight
    assert f"{barley.buy_g:.0f} g pearl barley ({barley.grams:.0f} g once cooked)" in boils.look
    assert boils.wait_min == 30 and "pearl barley (boiled)" in stirs.look
    assert boils.start_min + boils.minutes <= stirs.start_min + 1e-6
    # Without the word it goes in as it is bought, and nothing is boiled.
    plain = planned(CASE, Layer(BARLEY, BETWEEN, rule=MARK, amount=4))
    assert not [each for each in plain.route.steps if each.key.endswith(".boil")]


def test_drained_pieces_get_what_is_folded_in_once_they_are_cold():
    edits = [("mixture.1.make", "made", "drained")]
    pie = planned(PIE, Layer(PIE_FILLING, RAW, rule=HEAP, amount=20), edits=edits)
    keys = [each.key for each in sorted(pie.route.steps, key=lambda each: each.start_min) if each.mixture]
    assert keys.index("mixture.1.cool") < keys.index("mixture.1.fold")
    assert "feta" in step(pie, "mixture.1.fold").look and "feta" not in step(pie, "mixture.1.make").look
    assert "boiling water" in step(pie, "mixture.1.make").look

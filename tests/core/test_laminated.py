"""Nothing is folded unasked: a dough is laminated where its lines, its method or its maker say so."""

from dataclasses import replace

import pytest

from northfold.core.formula.laminated import told_apart
from northfold.core.formula.reading import read_recipe
from northfold.core.formula.yeast import is_bakers_yeast, yeast_pct
from northfold.core.matter import reference_ingredients
from northfold.core.method import Edit, PlanInputs, Schools, Setting, plan
from northfold.core.method.choices.schools_of_recipe import said_schools
from northfold.core.shape.blanks import Item
from northfold.core.shape.tins import Tin
from tests.core.examples import lines, with_block

PUFF = (
    (500, "strong flour"), (60, "unsalted butter"), (250, "water"), (10, "fine salt"), (350, "dry laminating butter"),
)  # fmt: skip
# Inside the region of rough puff by its ratio: 80 fat, 46 liquid.
WET_PIE = ((500, "plain flour"), (400, "unsalted butter"), (230, "water"), (8, "fine salt"))
SHELL = Item(Tin("shell", "shell", 85, 0, 0), 20, 5.0)
FLAN = Item(Tin("flan tin", "round", 230, 230, 25), 2)


def folded(dough, *edits, item=SHELL, schools=(), habits=None):
    made = plan(
        PlanInputs(dough, (item,), setting=Setting(schools=habits or Schools()), schools=schools),
        [Edit(*each) for each in edits],
    )
    keys = {step.key for step in made.route.steps} if made.route else set()
    return made.is_laminated, "lock" in keys


def test_neither_a_ratio_nor_a_name_folds_a_dough():
    assert folded(lines(*WET_PIE)) == (False, False)
    assert folded(lines(*PUFF)) == (False, False)
    # A habit of the kitchen says how often where something is folded, not whether it is.
    assert folded(lines(*WET_PIE), habits=Schools.of({"folds": "four", "lock_in": "half"})) == (False, False)


@pytest.mark.parametrize("words", ["for the block", "for rolling in", "to laminate", "butter block", "for lock-in"])
def test_a_line_that_names_its_block_is_locked_in(words):
    dough = tuple(replace(line, preparation=words) if line.grams == 350 else line for line in lines(*PUFF))
    assert folded(dough) == (True, True)
    assert folded(dough, ("turns", "folds", "none")) == (False, False)
    assert folded(dough, schools=(("folds", "none"),)) == (False, False)


def test_its_maker_says_so_by_turns_or_by_a_lock_in():
    assert folded(lines(*WET_PIE), ("turns", "folds", "four")) == (True, False)  # in pieces
    assert folded(lines(*WET_PIE), ("turns", "own", "3 4")) == (True, False)
    assert folded(lines(*WET_PIE), schools=(("folds", "three"),)) == (True, False)
    assert folded(lines(*WET_PIE), ("lock", "start", "wrap")) == (True, True)  # its butter is the block
    assert folded(lines(*PUFF), ("turns", "folds", "usual")) == (True, True)  # the fat made for it


@pytest.mark.parametrize(
    ("method", "answer"),
    [
        ("Give it three single turns with a rest between.", "three"),
        ("One double turn and one single turn.", "double_single"),
        ("Lock in the butter and fold.", "usual"),
        ("Roll the butter block into the dough.", "usual"),
        ("Fold the dough in half over the filling.", ""),
        ("Roll it out, one letter fold, and chill.", ""),
        ("Bake at 200 °C for 20 min.", ""),
    ],
)
def test_a_method_that_names_turns_or_a_block_says_so(method, answer):
    read = read_recipe(f"500 g plain flour\n400 g butter\n230 g water\n\nMethod\n{method}").lines
    assert next((each.option for each in said_schools(read) if each.question == "folds"), "") == answer


def test_a_case_of_puff_ratio_is_baked_blind_and_nothing_else():
    made = plan(PlanInputs(lines(*WET_PIE), (FLAN,)))
    assert made.route.kind == "case" and made.mixing.way == "crumb"
    assert not any(step.key.startswith("turn.") for step in made.route.steps)


def test_a_course_chosen_by_hand_is_an_answer():
    round_ = Item(Tin("round", "cut_round", 60, 0, 0), 40, 3.0)
    sweet = lines((300, "plain flour"), (180, "unsalted butter"), (90, "icing sugar"), (36, "egg yolk"))
    kinds = [
        plan(PlanInputs(sweet, (round_,)), edits).route.kind for edits in ([], [Edit("weigh", "route", "crackers")])
    ]
    assert kinds == ["sandies", "crackers"]
    wrong = plan(PlanInputs(sweet, (FLAN,)), [Edit("weigh", "route", "hand")])
    assert wrong.route is None and "choose “as their shape says”" in wrong.no_route


def test_rolled_at_once_leaves_the_lock_in_where_it_is():
    made = plan(PlanInputs(with_block(*PUFF), (SHELL,), setting=Setting(schools=Schools.of({"rolling": "sheet"}))))
    keys = [step.key for step in made.route.along]
    assert keys.index("lock") < keys.index("turn.1") < keys.index("roll.main")
    assert keys.count("roll.main") == 1 and "chill flat" not in [step.name.lower() for step in made.route.steps]


def test_only_bakers_yeast_raises_and_active_dry_reads_as_such():
    table = reference_ingredients()
    assert {name for name in table if is_bakers_yeast(table[name])} == {
        "fresh yeast", "instant dry yeast", "active dry yeast",
    }  # fmt: skip
    assert not is_bakers_yeast(replace(table["hard mature cheese"], name="nutritional yeast"))
    assert not is_bakers_yeast(replace(table["malt extract"], name="yeast extract"))
    (line,) = read_recipe("10 g active dry yeast").lines
    assert line.ingredient.name == "active dry yeast"
    assert yeast_pct(lines((10, "active dry yeast")), 500) == pytest.approx(1.6)  # worth 0.8 of instant


def test_two_lines_of_one_fat_are_told_apart():
    dough = lines((60, "unsalted butter"), (500, "plain flour"), (350, "unsalted butter"))
    marked = (replace(dough[0], preparation="melted"), dough[1], replace(dough[2], preparation="for rolling in"))
    assert told_apart(marked) == ("unsalted butter, melted", "plain flour", "unsalted butter, for the block")
    assert told_apart(dough) == ("unsalted butter, first part", "plain flour", "unsalted butter, second part")


def test_puff_and_pulled_doughs_are_judged_as_what_they_are():
    def said(dough):
        return {each.label: each for each in plan(PlanInputs(dough)).statements}

    puff, plain = said(with_block(*PUFF)), said(lines(*PUFF))
    assert "laminated or stretched dough" in puff["gluten"].text and not puff["true water"].warn
    assert "comes out tough" in plain["gluten"].text and plain["true water"].warn
    assert "block water" in puff and "block water" not in plain
    pulled = said(
        lines((400, "strong flour"), (40, "sunflower oil"), (210, "water"), (8, "white wine vinegar"), (6, "fine salt"))
    )
    assert "stretched" in pulled["gluten"].text and not pulled["true water"].warn


def test_frozen_firm_takes_its_share_off_the_puffs_own_shrink_too():
    """(base + 2.0) × 0.85, not base × 0.85 + 2.0."""
    from northfold.core.gluten.pull import oven_shrink

    plain = oven_shrink(50, 40, 1.0)
    assert oven_shrink(50, 40, 1.0, puffs=True) == pytest.approx(plain + 2.0)
    assert oven_shrink(50, 40, 1.0, puffs=True, frozen=True) == pytest.approx((plain + 2.0) * 0.85)

"""Amounts as people write them out: every weight worked by hand from the measures' definitions."""

import pytest

from northfold.core.formula.reading import read_recipe
from northfold.core.formula.wording import in_figures

# Plain flour by the US cup: 236.6 ml × 0.53 = 125.4 g. Metric: 250 ml, 15 ml, 5 ml.
CUP = 236.6 * 0.53

SURE = {
    "mixed numbers joined with and": [
        ("us", "1 and 1/2 cups flour", 1.5 * CUP),
        ("us", "2 & 1/4 cups flour", 2.25 * CUP),
        ("us", "one and a half cups of flour", 1.5 * CUP),
        ("us", "2 and a quarter cups flour", 2.25 * CUP),
        ("us", "1 and ¾ cups flour", 1.75 * CUP),
        ("us", "three-and-a-half cups flour", 3.5 * CUP),
        ("us", "a cup and a half of flour", 1.5 * CUP),
    ],
    "fractions and numbers in words": [
        ("us", "three quarters of a cup of flour", 0.75 * CUP),
        ("us", "two thirds cup flour", 2 / 3 * CUP),
        ("us", "a third of a cup of flour", CUP / 3),
        ("us", "quarter cup flour", 0.25 * CUP),
        ("us", "half of a cup flour", 0.5 * CUP),
        ("metric", "two hundred and fifty grams of flour", 250),
        ("metric", "twenty-five grams flour", 25),
        ("metric", "a hundred grams of flour", 100),
        ("metric", "half a dozen medium eggs", 6 * 53),
        ("metric", "a couple of large eggs", 2 * 60),
    ],
    "hyphened fractions": [
        ("us", "one-half cup flour", 0.5 * CUP),
        ("us", "1/2-cup flour", 0.5 * CUP),
        ("us", "half-cup flour", 0.5 * CUP),
        ("us", "1-½ cups flour", 1.5 * CUP),
        ("us", "2-1/4-cups flour", 2.25 * CUP),
        ("us", "three-quarters cup flour", 0.75 * CUP),
    ],
    "raised figures": [
        ("us", "1¹⁄₂ cups flour", 1.5 * CUP),
        ("us", "2¹/₄ cups flour", 2.25 * CUP),
        ("us", "³⁄₄ cup flour", 0.75 * CUP),
    ],
    "a count before packs": [
        ("metric", "2 250g packs butter", 500),
        ("metric", "2 packs (250 g each) butter", 500),
        ("metric", "3 8-oz packages cream cheese", 3 * 8 * 28.35),
        ("metric", "2 sachets instant yeast (7 g each)", 14),
        ("metric", "two 113 g sticks butter", 226),
        ("metric", "4 blocks of 200 g butter", 800),
        ("metric", "3 eggs (about 50 g each)", 150),
    ],
    "thousands parted by a thin space": [
        ("metric", "1\u2009000 g flour", 1000),
        ("metric", "1\u202f250 g flour", 1250),
        ("metric", "12\u00a0500 g flour", 12500),
        ("metric", "1'250 g flour", 1250),
        ("metric", "1 000 g flour", 1000),
        ("metric", "2\u2009500\u2009g flour", 2500),
    ],
    "pounds with ounces": [
        ("metric", "1 lb 2 oz lard", 18 * 28.3495),
        ("metric", "2lb 4oz lard", 36 * 28.3495),
        ("metric", "1 pound and 8 ounces of lard", 24 * 28.3495),
        ("metric", "1 lb. 2 oz. (510 g) lard", 510),
        ("metric", "1 kg 200 g lard", 1200),
        ("us", "1 cup 2 tbsp flour", (236.6 + 29.6) * 0.53),
    ],
    "size letters": [
        ("metric", "2 L eggs", 120),
        ("metric", "2 eggs (L)", 120),
        ("metric", "3 eggs, M", 159),
        ("metric", "1 S egg", 48),
        ("metric", "3 M egg yolks", 3 * 53 * 0.35),
        ("metric", "2 eggs size L", 120),
        ("metric", "4 egg whites (L)", 4 * 60 * 0.65),
    ],
    "pinches of any size": [
        ("metric", "big pinch of salt", 0.3),
        ("metric", "a good pinch of salt", 0.3),
        ("metric", "two big pinches of salt", 0.6),
        ("metric", "large pinch salt", 0.3),
        ("metric", "a tiny pinch of salt", 0.3),
        ("metric", "1 fat pinch of salt", 0.3),
    ],
    "counts that tell of minutes or degrees": [
        ("metric", "2 medium egg yolks, boiled hard for 10 minutes and sieved fine through a sieve", 2 * 53 * 0.35),
        ("metric", "4 large eggs, brought to 20 °C over 2 hours on the bench.", 240),
        ("metric", "3 medium eggs at 20 °C", 159),
        ("metric", "1 egg white, whisked for 3 minutes", 32),
        ("metric", "250 g butter at 18C for an hour", 250),
        ("metric", "2 yolks, cooked 12 min, then pressed through a fine sieve while warm.", 34),
    ],
    "words of how it is kept": [
        ("metric", "100 g butter, refrigerated", 100),
        ("metric", "refrigerated unsalted butter, 100 g", 100),
        ("metric", "100 g unsalted cold butter", 100),
        ("metric", "unsalted, very cold butter 100 g", 100),
        ("metric", "100 g well-chilled butter from the fridge", 100),
        ("metric", "100 g salted soft butter", 100),
    ],
    "spirits and enzyme by name": [
        ("metric", "20 ml cider brandy", 19),
        ("metric", "20 ml kirsch", 19),
        ("metric", "20 ml dark rum", 19),
        ("metric", "20 ml rye whiskey", 19),
        ("metric", "20 ml apple brandy", 19),
        ("metric", "20 ml pear spirit", 19),
        ("metric", "3 g binding enzyme", 3),
        ("metric", "3 g transglutaminase", 3),
    ],
    "fruit by its juice and zest": [
        ("metric", "juice of 1 lemon", 45),
        ("metric", "juice of half a lemon", 22.5),
        ("metric", "grated zest of 2 lemons", 12),
        ("metric", "1 lemon, zest only", 6),
        ("metric", "1 lemon, juiced", 45),
    ],
}


@pytest.mark.parametrize(("system", "text", "grams"), [row for rows in SURE.values() for row in rows])
def test_amounts_in_words(system, text, grams):
    (line,) = read_recipe(text, system).lines
    assert line.is_read, line
    assert line.grams.usual == pytest.approx(grams, rel=0.003)
    assert line.doubts == ()


@pytest.mark.parametrize(
    ("text", "low", "high"),
    [
        ("100 g to 120 g water", 100, 120),
        ("between 100 and 120 g water", 100, 120),
        ("between 100 g and 120 g water", 100, 120),
        ("100g-120g water", 100, 120),
        ("3 or 4 tbsp water", 45, 60),
        ("two or three tablespoons water", 30, 45),
        ("from 60 to 80 g water", 60, 80),
        ("a tablespoon or two of water", 15, 30),
        ("1 tsp to 1 tbsp water", 5, 15),
    ],
)
def test_ranges_with_units_on_both_ends(text, low, high):
    (line,) = read_recipe(text).lines
    assert (line.grams.low, line.grams.high) == pytest.approx((low, high), rel=0.005)
    assert [doubt.code for doubt in line.doubts] == ["range"]


@pytest.mark.parametrize(
    ("text", "other"),
    [
        ("2 L water", 2000),  # litres, where no egg is near
        ("200 g flour, plus extra for dusting", 200),
        ("½–¾ cup water", 250 * 0.625),
        ("12/2 eggs", 300),
    ],
)
def test_what_looks_alike_is_left_alone(text, other):
    (line,) = read_recipe(text).lines
    assert line.grams.usual == pytest.approx(other, rel=0.005)


@pytest.mark.parametrize(
    ("text", "code", "grams"),
    [
        ("11/2 cups flour", "lost_figures", 1.5 * 250 * 0.53),
        ("21/4 tsp fine salt", "lost_figures", 2.25 * 5 * 1.25),
        ("13/4 cups water", "lost_figures", 437.5),
        ("22/3 tbsp water", "lost_figures", 40),
        ("31/2 oz lard", "lost_figures", 3.5 * 28.35),
        ("1 250 g flour", "lost_figures", 1250),
        ("2 packs butter (250 g)", "each_or_all", 250),
        ("1 cup + 1 spoon water", "which_spoon", 265),
        ("60 ml water, plus a spoon if needed", "if_needed", 60),
        ("60 ml water plus 1 tbsp more if needed", "if_needed", 60),
        ("60 ml water (plus 2 tbsp if the dough is dry)", "if_needed", 60),
        ("60 ml water and another tablespoon if necessary", "if_needed", 60),
        ("100 g butter (or lard)", "alternative", 100),
        ("100 g butter, or lard", "alternative", 100),
        ("100 g plain flour [or spelt]", "alternative", 100),
        ("2 tbsp water (or milk)", "alternative", 30),
        ("60 g lard (alternatively shortening)", "alternative", 60),
    ],
)
def test_what_is_put_right_on_a_guess_says_so(text, code, grams):
    (line,) = read_recipe(text).lines
    assert code in [doubt.code for doubt in line.doubts]
    assert line.grams.usual == pytest.approx(grams, rel=0.005)


def test_water_in_reserve_widens_the_range_alone():
    (line,) = read_recipe("60 ml water, plus a spoon if needed").lines
    assert (line.grams.usual, line.grams.high) == pytest.approx((60, 75), rel=0.005)


@pytest.mark.parametrize(
    "text", ["a little salt", "a splash of milk", "some salt", "a touch of salt", "a drop of milk"]
)
def test_an_amount_that_nobody_can_weigh_asks_for_grams(text):
    (line,) = read_recipe(text).lines
    assert line.ingredient is not None
    assert line.grams is None
    assert [doubt.code for doubt in line.doubts] == ["no_amount"]


@pytest.mark.parametrize(
    ("text", "first", "second"),
    [
        ("200 g flour, half of it wholemeal", "100 g plain flour", "100 g wholemeal flour"),
        ("200 g flour (half rye)", "100 g plain flour", "100 g rye flour"),
        ("300 g flour of which 100 g rye", "200 g plain flour", "100 g rye flour"),
        ("200 g butter, 50 g of it lard", "150 g unsalted butter", "50 g lard"),
        ("100 g half butter, half lard", "50 g unsalted butter", "50 g lard"),
        ("240 g fat (a third lard, the rest butter)", "80 g lard", "160 g unsalted butter"),
        ("400 g plain flour, a quarter of it spelt", "300 g plain flour", "100 g spelt flour"),
    ],
)
def test_one_weight_for_two_things_is_split(text, first, second):
    (line,) = read_recipe(text).lines
    assert line.grams is None, "nothing is counted until it is settled"
    (doubt,) = line.doubts
    assert doubt.code == "shared_line"
    remedy = doubt.remedies[0]
    assert (remedy.field, remedy.value) == ("text", f"{first}\n{second}")


@pytest.mark.parametrize(
    ("text", "least", "most"),
    [
        ("1 heaped tbsp caster sugar", 1.2, 2.1),
        ("a heaping tablespoon of caster sugar", 1.2, 2.1),
        ("2 rounded tsp caster sugar", 1.05, 1.6),
        ("1 scant cup caster sugar", 0.85, 0.99),
        ("a scant cup of caster sugar", 0.85, 0.99),
        ("scant 1 cup caster sugar", 0.85, 0.99),
    ],
)
def test_a_measure_that_is_not_level(text, least, most):
    """Against the level measure of the same words."""
    (line,) = read_recipe(text).lines
    level = text
    for word in ("heaped", "heaping", "rounded", "scant"):
        level = level.replace(word, "").strip()
    (flat,) = read_recipe(level).lines
    share = line.grams.usual / flat.grams.usual
    assert least < share < most
    assert "fullness" in [doubt.code for doubt in line.doubts]
    assert line.preparation == ""


@pytest.mark.parametrize(
    ("text", "name", "grams"),
    [
        ("2 apples", "apple", 230), ("3 apples, peeled", "apple", 345), ("1 quince", "quince", 155),
        ("4 pears, cored", "pear", 500), ("6 plums", "plum", 360), ("1 lemon", "lemon", 100),
    ],
)  # fmt: skip
def test_fruit_by_count_weighs_what_is_ready_of_it(text, name, grams):
    """North Fold reference table: an apple of 150 g is 115 g ready, and so on."""
    (line,) = read_recipe(text).lines
    assert line.ingredient.name == name and line.grams.usual == pytest.approx(grams)


@pytest.mark.parametrize(
    ("text", "zest_g", "juice_g"),
    [
        ("zest and juice of 1 lemon", 6, 45), ("2 lemons, juice and zest", 12, 90),
        ("The grated zest and juice of 2 lemons", 12, 90), ("1 lemon, zested and juiced", 6, 45),
        ("juice and finely grated zest of 3 lemons, for the filling", 18, 135),
    ],
)  # fmt: skip
def test_zest_and_juice_of_a_lemon_are_two_lines_of_their_own_weights(text, zest_g, juice_g):
    """North Fold reference table: a lemon gives 6 g of zest and 45 g of juice."""
    zest, juice = read_recipe(text).lines
    assert (zest.ingredient.name, juice.ingredient.name) == ("citrus zest", "lemon juice")
    assert (zest.grams.usual, juice.grams.usual) == (pytest.approx(zest_g), pytest.approx(juice_g))
    assert len(read_recipe("juice of 1 lemon").lines) == 1 and len(read_recipe("1 lemon").lines) == 1


def test_fruit_beside_flour_is_a_filling_s_and_alone_a_mixture_of_its_own():
    recipe = read_recipe("250 g plain flour\n125 g butter\n600 g apples, sliced\n90 g water")
    assert [line.part for line in recipe.lines] == ["", "", "filling", ""]
    assert [line.part for line in read_recipe("600 g apples\n90 g sugar").lines] == ["", ""]


# -- what each line is for

LAYERED = """Kelp Lane plum tart
200 g plain flour
100 g butter, plus extra for the tin
For the filling
300 g plums
50 g sugar
1 tbsp cornflour
For the pastry:
7 g fine salt
Glaze:
1 egg yolk
To finish
1 tbsp demerara sugar"""


def test_lines_under_a_heading_stand_apart_from_the_dough():
    recipe = read_recipe(LAYERED)
    assert recipe.title == "Kelp Lane plum tart"
    assert [(line.text.split()[-1], line.part) for line in recipe.lines if not line.heading] == [
        ("flour", ""),
        ("tin", ""),
        ("plums", "filling"),
        ("sugar", "filling"),
        ("cornflour", "filling"),
        ("salt", ""),
        ("yolk", "glaze"),
        ("sugar", "finish"),
    ]


@pytest.mark.parametrize("title", ["Butter crust", "Almond pastry", "Rye tart", "Quay biscuits", "Lard and water dough",
                                   "Lemon shortcrust for two tins", "Skerry"])  # fmt: skip
def test_a_title_is_no_ingredient(title):
    recipe = read_recipe(f"{title}\n200 g flour\n100 g butter")
    assert recipe.title == title
    assert recipe.lines[0].heading
    assert recipe.lines[0].doubts == ()


@pytest.mark.parametrize("first", ["salt", "cold butter", "smoked butter", "a little salt", "water to bind"])
def test_an_ingredient_without_amount_is_no_title(first):
    recipe = read_recipe(f"{first}\n200 g flour\n100 g butter")
    assert recipe.title == ""
    assert recipe.lines[0].ingredient is not None


@pytest.mark.parametrize(
    ("text", "part"),
    [
        ("1 egg, for brushing", "brushing"),
        ("milk to glaze", "glaze"),
        ("beaten egg to brush", "brushing"),
        ("1 tbsp demerara sugar for sprinkling", "sprinkling"),
        ("flour for dusting", "dusting"),
        ("plain flour, for the bench", "dusting"),
        ("10 g butter for the tin", "greasing"),
        ("icing sugar, to serve", "finish"),
        ("1 egg yolk to seal", "brushing"),
        ("poppy seeds to scatter", "sprinkling"),
        ("200 g flour, plus extra for dusting", ""),
        ("1 egg, beaten, some for glazing", ""),
        ("1 egg, beaten, 10 g kept for glaze", ""),
        ("60 g butter and a little more for the tin", ""),
    ],
)
def test_lines_for_brushing_dusting_sprinkling(text, part):
    (line,) = read_recipe(text).lines
    assert line.part == part


@pytest.mark.parametrize(
    "text",
    [
        "Dough\n500 g flour\nButter block\n300 g butter",
        "Dough:\n500 g flour\nFor laminating:\n300 g butter",
        "For the dough\n500 g flour\nFor the butter block:\n300 g butter",
        "500 g flour\n300 g butter, for laminating",
        "500 g flour\n300 g butter for the block",
        "500 g flour\n300 g unsalted butter to roll in",
        "500 g flour\nLamination\n300 g butter, in a slab",
    ],
)
def test_a_butter_block_is_rolled_in(text):
    from northfold.core.formula.ratio import DoughLine, is_rolled_in

    fat = read_recipe(text).lines[-1]
    assert fat.ingredient.name == "unsalted butter"
    assert is_rolled_in(DoughLine(fat.ingredient, 300, 300, 300, preparation=fat.preparation))


def test_one_spelling_is_left_as_it_is():
    """Putting a line into figures twice changes nothing more."""
    for rows in SURE.values():
        for _, text, _ in rows:
            once = in_figures(text).text
            assert in_figures(once).text == once


@pytest.mark.parametrize(
    "name",
    ["teff flour", "lupin flour", "barley flour", "pistachio flour", "quinoa flour", "corn flour", "walnut oil"],
)
def test_a_grain_nut_or_pulse_that_is_not_on_the_shelf_is_not_taken_for_wheat_or_sunflower(name):
    """An allergen would be told wrongly with it."""
    (line,) = read_recipe(f"100 g {name}").lines
    assert line.ingredient is None and "unknown_ingredient" in [doubt.code for doubt in line.doubts]


@pytest.mark.parametrize(
    ("text", "system", "grams"),
    [
        ("2 lg eggs", "metric", 120),
        ("2 lge eggs, beaten", "us", 100),
        ("3 med eggs", "metric", 159),
        ("1 XL egg", "metric", 68),
        ("1 small egg", "us", 38),
    ],
)
def test_short_names_of_egg_sizes(text, system, grams):
    """US: weight class less 12 % of shell, 1.5 oz → 38 g, 2 oz → 50 g; European XL from 73 g, so 78 g → 68 g."""
    (line,) = read_recipe(text, system=system).lines
    assert line.grams.usual == pytest.approx(grams)
    assert "partly_read" not in [doubt.code for doubt in line.doubts]


HEADED = """Sailor's tart

Sweet pastry
250 g plain flour
125 g butter

{heading}
500 ml milk
4 egg yolks

Method
1. Beat 100 g of the sugar with the yolks.
2. Chill 45 minutes.
"""


@pytest.mark.parametrize(
    "heading",
    ["Pastry cream", "VANILLA CUSTARD", "Lemon layer", "Crème pâtissière", "Almond frangipane", "Plum compote"],
)
def test_a_heading_set_off_by_a_blank_line_parts_the_filling_from_the_dough(heading):
    lines = read_recipe(HEADED.format(heading=heading)).lines
    assert [line.part for line in lines if line.grams] == ["", "", "filling", "filling"]
    assert not [line for line in lines if line.doubts and not line.part]
    again = read_recipe("\n".join(line.text for line in lines)).lines
    assert [line.part for line in again] == [line.part for line in lines]  # read line by line later on


@pytest.mark.parametrize("name", ["clotted cream", "Fine salt", "abc"])
def test_a_line_without_amount_is_no_heading_where_it_may_be_an_ingredient(name):
    lines = read_recipe(f"250 g plain flour\n125 g butter\n{name}\n60 g water").lines
    assert not lines[2].heading and lines[3].part == ""


@pytest.mark.parametrize(
    ("text", "part"),
    [
        ("Topping: 30 g sugar", "topping"),
        ("For the filling: 200 ml milk", "filling"),
        ("Glaze: 1 egg", "glaze"),
        ("Egg wash: 1 egg yolk", "glaze"),
        ("Brush with milk.", "brushing"),
        ("Sprinkle with sugar", "sprinkling"),
    ],
)
def test_what_a_line_says_it_is_for_at_its_beginning(text, part):
    lines = read_recipe(f"250 g plain flour\n125 g butter\n{text}").lines
    assert lines[-1].part == part and lines[-1].ingredient is not None


@pytest.mark.parametrize(
    ("text", "lines"),
    [
        ("1 egg + 1 yolk", ["1 egg", "1 yolk"]),
        ("two eggs and one egg yolk", ["2 eggs", "1 egg yolk"]),
        ("3 large eggs, 2 yolks", ["3 large eggs", "2 yolks"]),
        ("50 g of butter and 50 g of lard", ["50 g of butter", "50 g of lard"]),
        ("100 g each butter and lard", ["100 g unsalted butter", "100 g lard"]),
        ("butter and lard, 50 g each", ["50 g unsalted butter", "50 g lard"]),
    ],
)
def test_two_things_on_one_line_are_parted_with_one_tap(text, lines):
    (line,) = read_recipe(text).lines
    assert line.grams is None
    assert line.doubts[0].remedies[0].value.split("\n") == lines
    assert all(again.grams is not None and again.ingredient for again in read_recipe("\n".join(lines)).lines)


def test_a_dessertspoon_is_ten_millilitres():
    (line,) = read_recipe("2 dessertspoons water").lines
    assert line.grams.usual == pytest.approx(20, rel=0.01)


@pytest.mark.parametrize("heading", ["Method", "Step 1:", "Preparation"])
def test_an_ingredient_under_the_method_is_not_lost_and_a_step_is_not_weighed(heading):
    weighed = [
        "half a teaspoon salt",
        "a pinch of salt",
        "two eggs",
        "butter 125 g",
        "½ cup sugar",
        "- 60 g icing sugar",
    ]
    told = ["1. Beat 100 g of the sugar with the yolks.", "2) Add 2 eggs.", "Using a fork, mix 50 g butter in."]
    lines = read_recipe("\n".join(["250 g plain flour", heading, *weighed, "a little milk", *told])).lines[2:]
    assert all(line.grams is not None for line in lines[: len(weighed)])
    assert "no_amount" in [doubt.code for doubt in lines[len(weighed)].doubts]
    assert all(line.heading and line.grams is None for line in lines[len(weighed) + 1 :])

"""Reading recipe lines: every expected weight was worked by hand from the measures' definitions."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from northfold.core.errors import CoreError, NegativeWeight, NotANumber, OutsideRange, PasteTooLong
from northfold.core.formula.notes import recipe_notes
from northfold.core.formula.ratio import DoughLine, ratio_of
from northfold.core.formula.reading import read_recipe
from northfold.core.formula.typed import read_grams, read_length_mm

SURE = [
    ("metric", "420 g plain flour", "plain flour", 420),
    ("metric", "280 g cold unsalted butter, diced", "unsalted butter", 280),
    ("metric", "0.5 kg strong flour", "strong flour", 500),
    ("metric", "0,5 kg strong flour", "strong flour", 500),
    ("metric", "1,000 g rye flour", "rye flour", 1000),
    ("metric", "plain flour: 500g", "plain flour", 500),
    ("metric", "• 90g icing sugar (sifted)", "icing sugar", 90),
    ("metric", "8 oz lard", "lard", 226.8),  # 28.35 g
    ("metric", "1 lb butter", "unsalted butter", 453.6),
    ("metric", "1 cup plain flour", "plain flour", 132.5),  # 250 ml × 0.53
    ("us", "1 cup all-purpose flour", "plain flour", 125.4),  # 236.6 ml × 0.53
    ("uk", "1 cup plain flour", "plain flour", 150.5),  # 284 ml × 0.53
    ("australian", "1 tbsp water", "water", 20),
    ("metric", "1 tbsp water", "water", 15),
    ("us", "1 1/2 cups powdered sugar", "icing sugar", 177.5),  # 354.9 ml × 0.50
    ("us", "1½ cups powdered sugar", "icing sugar", 177.5),
    ("us", "1-1/2 cups powdered sugar", "icing sugar", 177.5),
    ("us", "2 sticks butter, softened", "unsalted butter", 226.8),
    ("us", "2 sticks (8 oz) cold butter, cubed", "unsalted butter", 226.8),
    ("metric", "2 x 113 g butter", "unsalted butter", 226),
    ("us", "¾ cup plus 1 tbsp milk", "whole milk", 198.0),  # (177.45 + 14.8) ml × 1.03
    ("us", "2 large egg yolks", "egg yolk", 35),  # 50 g × 0.35
    ("metric", "2 medium eggs", "whole egg", 106),
    ("metric", "3 egg whites", "egg white", 96),
    ("metric", "2 eggs (100 g)", "whole egg", 100),
    ("metric", "a pinch of salt", "fine salt", 0.3),
    ("metric", "1 knob of butter", "unsalted butter", 15),
    ("metric", "half a cup of water", "water", 125),
    ("metric", "20 ml spirit 40 %", "spirit 40 %", 19),
    ("metric", "1 tsp cider vinegar", "cider vinegar", 5.05),
    ("metric", "pinch of fine salt", "fine salt", 0.3),
    ("metric", "200 g butter (salted)", "salted butter", 200),
    ("metric", "200 g flour, wholemeal", "wholemeal flour", 200),
    ("us", "1 cup packed light brown sugar", "light brown sugar", 220.0),  # 236.6 ml × 0.93
    ("us", "1 cup sifted cake flour", "soft flour", 99.4),  # 236.6 ml × 0.42
    ("metric", "100g/3½oz plain flour", "plain flour", 100),
    ("us", "8 tablespoons (1 stick) unsalted butter", "unsalted butter", 113.4),
    ("metric", "plain flour\t420\tg", "plain flour", 420),
    ("metric", "420\tg\tplain flour", "plain flour", 420),
    ("us", "1 cup + 2 tbsp flour", "plain flour", 141.1),  # (236.6 + 29.6) ml × 0.53
    ("metric", "about 100 g flour", "plain flour", 100),
    ("us", "flour - 2 cups", "plain flour", 250.8),
    ("us", "½ lb. butter", "unsalted butter", 226.8),
    ("metric", "1 l water", "water", 1000),
    ("metric", "1 dl milk", "whole milk", 103),  # 100 ml × 1.03
    ("metric", "25 cl water", "water", 250),
    ("metric", "1200 mg fine salt", "fine salt", 1.2),
    ("metric", "4oz/115g butter", "unsalted butter", 115),
    ("metric", "250g/9oz plain flour, plus extra for dusting", "plain flour", 250),
    ("metric", "75g/2¾oz cold butter, cubed", "unsalted butter", 75),
    ("metric", "250 grams of plain flour (8.8 oz)", "plain flour", 250),
    ("metric", "150 gr flour", "plain flour", 150),
    ("us", "1/2 teaspoon (3 grams) salt", "fine salt", 3),
    ("us", "2 Tbsp. sugar", "granulated sugar", 25.2),  # 29.6 ml × 0.85
    ("us", "2 T sugar", "granulated sugar", 25.2),
    ("us", "1 c flour", "plain flour", 125.4),
    ("metric", "a generous pinch of salt", "fine salt", 0.3),
    ("us", "1 large free-range egg, beaten", "whole egg", 50),
    ("us", "Eggs: 3 large", "whole egg", 150),
    ("us", "2 eggs (size L)", "whole egg", 100),
    ("metric", "2 large eggs", "whole egg", 120),
    ("us", "2 tablespoons cold vodka", "spirit 40 %", 28.1),  # 29.6 ml × 0.95
    ("uk", "1 tbsp water", "water", 15),
    ("australian", "1 cup caster sugar", "caster sugar", 212.5),  # 250 ml × 0.85
]

# Whole recipes, made up for this: system, text, what each line weighs in order, worked by hand from the tables.
RECIPES = [
    ("metric", "Quay crust\n\n- 300 g plain flour\n- 150 g unsalted butter, cold\n- 75 g water\n- 5 g fine salt",
     [300, 150, 75, 5]),
    ("us", "2 1/2 cups all-purpose flour\n1 tsp salt\n1 cup (2 sticks) butter, cold\n6 tbsp ice water",
     [313.5, 6.125, 226.8, 88.8]),
    ("metric", "For the dough:\n250 g soft flour\n125 g butter\n90 g icing sugar, sifted\n1 medium egg, beaten\n"
     "1 pinch fine salt\nBake at 180 °C for 15 minutes.", [250, 125, 90, 53, 0.3]),
    ("uk", "8 oz plain flour\n2 oz lard\n2 oz butter\n2 tbsp cold water\na pinch of salt",
     [226.8, 56.7, 56.7, 30, 0.3]),
    ("metric", "ingredient\tg\nplain flour\t500\tg\nunsalted butter\t375\tg\nwater\t225\tg\nfine salt\t9\tg",
     [500, 375, 225, 9]),
    ("metric", "3:2:1\n420 g plain flour\n280 g butter\n140 g water\n7 g fine salt", [420, 280, 140, 7]),
    ("us", "1 1/4 cups plain flour\n1/4 cup packed light brown sugar\n1 stick cold butter, diced\n1 large egg yolk",
     [156.7, 55, 113.4, 17.5]),
    ("metric", "1 kg strong flour\n480 g whole milk\n100 g caster sugar\n20 g instant dry yeast\n18 g fine salt\n"
     "500 g dry laminating butter", [1000, 480, 100, 20, 18, 500]),
    ("australian", "2 cups plain flour\n125 g butter, chopped\n1 tbsp water\n1/4 tsp salt", [265, 125, 20, 1.5625]),
    ("metric", "180 g buckwheat flour\n120 g ground almonds\n150 g unsalted butter\n60 g caster sugar\n1 medium egg",
     [180, 120, 150, 60, 53]),
    ("metric", "400 g strong flour\n40 g sunflower oil\n210 g lukewarm water\n8 g white wine vinegar\n6 g fine salt\n"
     "Pull until you see through it.", [400, 40, 210, 8, 6]),
    ("metric", "* 280 g plain flour\n* 40 g rye flour\n* 120 g unsalted butter\n* 60 g lard\n"
     "* 80 g hard mature cheese\n* 60 g iced water\n* 1 tsp cider vinegar\n* 4 g fine salt",
     [280, 40, 120, 60, 80, 60, 5.05, 4]),
]  # fmt: skip


@pytest.mark.parametrize(("system", "text", "weights"), RECIPES)
def test_whole_recipes(system, text, weights):
    lines = [line for line in read_recipe(text, system).lines if line.is_read]
    assert [line.grams.usual for line in lines] == pytest.approx(weights, rel=0.006)


@pytest.mark.parametrize(("system", "text", "name", "grams"), SURE)
def test_lines_that_are_surely_right(system, text, name, grams):
    (line,) = read_recipe(text, system).lines
    assert line.ingredient.name == name
    assert line.grams.usual == pytest.approx(grams, rel=0.003)
    assert line.doubts == ()


def test_a_volume_of_flour_is_a_range():
    (line,) = read_recipe("1 cup plain flour", "metric").lines
    assert (line.grams.low, line.grams.high) == pytest.approx((125, 152.5))  # 0.50 and 0.61 g/ml


@pytest.mark.parametrize(
    ("text", "code"),
    [
        ("½ cup butter / 225 g", "two_measures"),
        ("6 oz / 250 g lard", "two_measures"),
        ("3-4 tbsp iced water", "range"),
        ("salt to taste", "no_amount"),
        ("water to bind", "no_amount"),
        ("abc", "unknown_ingredient"),
        ("100 g peanut butter", "unknown_ingredient"),
        ("100 g smoked butter", "partly_read"),
        ("100 g mascobado flour", "partly_read"),
        ("60 g butter or lard", "alternative"),
        ("30 ml cream", "loose_name"),
        ("2 eggs", "egg_size"),
        ("420 plain flour", "no_unit"),
        ("-5 g plain flour", "negative"),
        ("1/0 cup flour", "number"),
        ("100 g flour 50 g butter", "two_lines"),
        ("2 tbsp fresh yeast", "no_density"),
        ("1 egg, beaten, 10 g kept for glaze", "second_amount"),
        ("Rub the butter into the flour until it looks like crumbs.", "sentence"),
        ("10 g vanila extract", "spelling"),
        ("1.000 g flour", "point_or_thousand"),
        ("1,250 kg flour", "point_or_thousand"),
        ("2 egg yolks + 1 whole egg", "partly_read"),
    ],
)
def test_what_is_not_surely_right_is_marked(text, code):
    (line,) = read_recipe(text).lines
    assert code in [doubt.code for doubt in line.doubts]


def test_two_measures_apart_say_both_and_the_factor():
    (line,) = read_recipe("½ cup butter / 225 g", "us").lines
    message = line.doubts[0].message
    assert "225 g" in message
    assert "114 g" in message  # 118.3 ml × 0.96
    assert "factor of 2" in message


def test_nothing_is_dropped():
    text = "For the dough:\n- 420 g plain flour\n- 280 g butter\n\nabc\n- 7 g salt"
    read = read_recipe(text).lines
    assert [line.heading for line in read] == [True, False, False, False, False]
    assert [line.grams.usual if line.grams else None for line in read] == [None, 420, 280, None, 7]
    assert read[3].text == "abc"


def test_too_long_a_paste_is_refused_with_both_numbers():
    with pytest.raises(PasteTooLong, match="20,001 characters; one recipe can have 20,000"):
        read_recipe("x" * 20_001)
    with pytest.raises(PasteTooLong, match="401 lines"):
        read_recipe("1 g salt\n" * 401)
    assert len(read_recipe("1 g salt\n" * 400).lines) == 400


@given(
    grams=st.integers(1, 5000),
    unit=st.sampled_from([("g", 1), ("kg", 1000), ("oz", 28.3495), ("lb", 453.592)]),
    name=st.sampled_from(["plain flour", "unsalted butter", "water", "caster sugar", "fine salt", "lard"]),
    form=st.sampled_from(
        ["{n} {u} {i}", "{n}{u} {i}", "{i} {n} {u}", "{i}: {n}{u}", "- {n} {u} {i}, cold", "{n} {u} of {i}"]
    ),
)
def test_weights_read_back(grams, unit, name, form):
    text = form.format(n=grams, u=unit[0], i=name)
    (line,) = read_recipe(f"* {text}" if text.startswith("-") else text).lines
    line = line if line.ingredient else read_recipe(f"{text}\n- 1 g water").lines[0]
    assert line.ingredient.name == name
    assert line.grams.usual == pytest.approx(grams * unit[1], rel=1e-4)


@given(st.text(max_size=200))
def test_no_text_breaks_the_reading(text):
    lines = read_recipe(text).lines
    assert len(lines) == len([line for line in text.splitlines() if line.strip()])
    for line in lines:
        assert line.is_read or line.heading or line.doubts


@pytest.mark.parametrize(
    ("text", "grams"), [("420", 420), ("13,5", 13.5), ("1.2 kg", 1200), ("1,000", 1000), (" 0 ", 0), ("½", 0.5)]
)
def test_grams_field(text, grams):
    assert read_grams(text) == grams


@pytest.mark.parametrize(
    ("text", "error"),
    [
        ("abc", NotANumber),
        ("", NotANumber),
        ("-20", NegativeWeight),
        ("1e9", NotANumber),
        ("9999999", OutsideRange),
        ("1/0", CoreError),
    ],
)
def test_grams_field_refuses_with_a_reason(text, error):
    with pytest.raises(error):
        read_grams(text)


def test_lengths_are_read_in_three_units():
    assert read_length_mm("230") == read_length_mm("23 cm") == 230
    assert read_length_mm("9 in") == pytest.approx(228.6)
    with pytest.raises(OutsideRange, match=r"400 mm is outside 0\.3 to 50 mm"):
        read_length_mm("400", what="A thickness of", low=0.3, high=50)
    with pytest.raises(NotANumber, match="23 cm or 9 in"):
        read_length_mm("wide")


# -- the method beside the ingredients, and the recipe as a whole


@pytest.mark.parametrize(
    ("text", "facts"),
    [
        ("Bake at 190 °C for 18 minutes.", [("heat", (190,)), ("minutes", (18,))]),
        ("Oven 200C/180C fan/gas 6", [("heat", (200,))]),
        ("Preheat the oven to 375 °F (190 °C)", [("heat", (190.6,))]),
        ("Hot start: 220 °C for 15 min, then 180 °C for 35 to 40 min", [
            ("heat", (220,)), ("heat", (180,)), ("minutes", (15,)), ("minutes", (35, 40))]),
        ("Roll out to 3 mm (1/8 in) thick", [("thickness", (3,))]),
        ("Line a 23 cm (9 inch) tart tin", [("tin", (230,))]),
        ("Rest for 1 hour in the fridge", [("minutes", (60,))]),
        ("3:2:1", [("ratio", (3, 2, 1))]),
        ("3-2-1 crust", [("ratio", (3, 2, 1))]),
        ("1 part flour, 2 fat", [("ratio", (1, 2))]),
        ("two parts flour, one part butter", [("ratio", (2, 1))]),
    ],
)  # fmt: skip
def test_lines_of_method_tell_their_facts(text, facts):
    (line,) = read_recipe(text).lines
    assert line.heading
    assert line.doubts == ()
    assert [(fact.kind, pytest.approx(fact.values, abs=0.1)) for fact in line.facts] == facts


@pytest.mark.parametrize(
    ("text", "code", "words"),
    [
        ("350 °F / 190 °C", "heat_pair", "177 and 190 °C"),
        ("Roll to 5 mm (½ in) thick", "thickness_pair", "5 and 12.7 mm"),
        ("Bake at gas 4 (200 °C)", "heat_pair", "180 and 200 °C"),
        ("Use a 20 cm (9 in) tin", "tin_pair", "200 and 229 mm"),
    ],
)
def test_pairs_that_disagree_are_doubted_with_both_in_one_unit(text, code, words):
    (line,) = read_recipe(text).lines
    (doubt,) = line.doubts
    assert (doubt.code, words in doubt.message) == (code, True), doubt.message
    kept = read_recipe(doubt.remedies[0].value).lines[0]
    assert kept.doubts == ()
    assert kept.facts


def test_what_an_ingredient_is_cut_to_is_no_method():
    for text in ("butter, 5 mm cubes", "100 g butter, cut into 1 cm cubes", "cold butter in 1 cm dice"):
        (line,) = read_recipe(text).lines
        assert line.ingredient.name == "unsalted butter", text
        assert not line.heading


def notes_of(text, system="metric"):
    lines = read_recipe(text, system).lines
    weights = [line.grams.usual if line.is_read else None for line in lines]
    counted = tuple(
        DoughLine.of(line.ingredient, weight) for line, weight in zip(lines, weights, strict=True) if weight
    )
    return recipe_notes(lines, weights, ratio_of(counted))


def test_a_stated_ratio_that_the_weights_contradict():
    notes = notes_of("1 part flour, 2 fat\n500 g plain flour\n250 g butter\n8 g salt")
    ((number, (doubt,)),) = notes.doubts.items()
    assert (number, doubt.code) == (0, "stated_ratio")
    assert "flour : fat as 1 : 2, but the weights say 100 : 50" in doubt.message
    assert notes_of("3:2:1\n420 g plain flour\n280 g butter\n140 g water\n7 g salt").doubts == {}


@pytest.mark.parametrize(("salt", "proposed"), [("50 g salt", "8.5"), ("1 g salt", "8.5")])
def test_salt_out_of_reason(salt, proposed):
    """1.7 % of 500 g is 8.5 g; 50 g are 10 %, 1 g is 0.2 %."""
    notes = notes_of(f"500 g plain flour\n250 g butter\n125 g water\n{salt}")
    (doubt,) = notes.doubts[3]
    assert doubt.code == "salt"
    assert float(doubt.remedies[0].value) == pytest.approx(float(proposed), abs=0.15)


def test_a_sweet_dough_may_do_without_salt():
    assert notes_of("500 g plain flour\n250 g butter\n180 g icing sugar\n0.5 g salt").doubts == {}


def test_flour_and_fat_likely_swapped():
    notes = notes_of("250 g plain flour\n420 g butter\n140 g water\n7 g salt")
    codes = {doubt.code for doubts in notes.doubts.values() for doubt in doubts}
    assert "swapped" in codes


def test_what_the_recipe_fails_to_say():
    bare = notes_of("420 g plain flour\n280 g butter\n140 g water")
    assert bare.missing == ("the oven’s heat", "how long", "how thick", "which tin", "salt")
    told = "420 g plain flour\n280 g butter\n140 g water\n7 g salt\nRoll to 3 mm thick.\nBake at 190 °C for 18 min."
    assert notes_of(told).missing == ("which tin",)


@given(
    grams=st.integers(1, 4000),
    unit=st.sampled_from(["g", "g.", "gr", "grams", "G"]),
    name=st.sampled_from(["plain flour", "unsalted butter", "water", "lard", "fine salt"]),
    foreign=st.sampled_from(["", "gut", "très", "frisch", "blorp", "(bio)", "fredda", "**", "lovely old"]),
    before=st.sampled_from(["", "- ", "• ", "* ", "~ ", "( ", "1. ", "> "]),
    after=st.sampled_from(["", ",", ".", ";", " !", " )", " -", " ...", " **", ", please"]),
)
def test_punctuation_and_foreign_words_never_lose_a_number_silently(grams, unit, name, foreign, before, after):
    """Either the weight is right, or the line is marked and shows what was written."""
    text = f"{before}{grams} {unit} {foreign} {name}{after}".replace("  ", " ")
    (line,) = read_recipe(text).lines
    assert str(grams) in line.text
    right = line.is_read and line.ingredient.name == name and line.grams.usual == pytest.approx(grams, rel=1e-3)
    assert right or line.doubts, (text, line)
    assert not line.heading or line.doubts
    if foreign in ("blorp", "lovely old"):
        assert line.doubts, text  # what was not understood is said

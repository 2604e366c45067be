"""A figure is true only when every page shows the same one: six whole makes, read page by page."""

import html
import re
from datetime import timedelta

import pytest
from django.utils import timezone

from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Kitchen, Place, Tin
from northfold.kitchen.services import record_evidence
from northfold.makes import services as makes
from northfold.makes.queries import plan_of
from northfold.stock import services as stock
from tests.conftest import write_formula

TART = "420 g plain flour\n280 g cold unsalted butter, diced\n140 g cold water\n7 g fine salt"
TARTLET = "500 g soft flour\n250 g unsalted butter, cold\n120 g icing sugar\n100 g whole egg\n3 g fine salt"
PIE = (
    "280 g plain flour\n40 g rye flour\n120 g unsalted butter\n60 g lard\n80 g hard mature cheese\n60 g water\n"
    "4 g fine salt"
)
PULLED = "400 g strong flour\n40 g sunflower oil\n210 g water\n8 g white wine vinegar\n6 g fine salt"
PUFF = (
    "500 g strong flour\n60 g unsalted butter, melted\n250 g cold water\n10 g fine salt\n"
    "350 g unsalted butter, for the block"
)
HAND = "500 g plain flour\n350 g unsalted butter, cold\n150 g cold water\n8 g fine salt"
# recipe, tin, pieces, and what is set otherwise than the shape starts from
MAKES = {
    "flat case": (TART, ("round", 230, 230, 25, 0), 6, {"trimming": "flush", "overhang_mm": 0.0}),
    "tartlets": (TARTLET, ("mould", 95, 75, 20, 0), 24, {"offcuts": "rerolled"}),
    "lidded pie": (PIE, ("round", 230, 200, 40, 0), 4, {"cover": "lid", "heap_mm": 20.0, "offcuts": "rerolled"}),
    "pulled roll": (PULLED, ("pulled", 620, 0, 0, 420), 3, {"filling": "cabbage", "filling_g": 900.0}),
    "puff shells": (PUFF, ("shell", 85, 0, 0, 0), 36, {}),
    "hand pies": (HAND, ("hand_pie", 140, 0, 0, 95), 20, {"filling": "potato", "filling_g": 110.0}),
}
STAGES = ("size", "fold", "steps", "steps/card", "cold", "cold/answers", "bake", "weigh", "result")


def text_of(page: str) -> str:
    """What a page says, without scripts, menus and fields, one line a block."""
    found = re.search(r"<main.*</main>", page, re.DOTALL)
    said = re.sub(r"<(script|style|select|textarea)\b.*?</\1>", " ", found[0] if found else page, flags=re.DOTALL)
    said = re.sub(r"</(?:p|li|h\d|tr|td|th|dt|dd|div|button|text|caption|label)>", "\n", said)
    return re.sub(r"[ \t\u00a0\u202f\u2009]+", " ", html.unescape(re.sub(r"<[^>]*>", " ", said)))


@pytest.fixture(params=sorted(MAKES))
def read(request, head, sign_in):
    """A make by its pages: (make, plan, text by stage), the bench's and the weigh sheet's among them."""
    recipe, (kind, top, base, height, width), count, values = MAKES[request.param]
    kitchen.save_row(Place(), {"name": "Harbour fridge", "kind": "fan_fridge", "air_c": 4.0})
    tin = kitchen.save_row(
        Tin(),
        {"name": "The tin", "kind": kind, "top_mm": top, "base_mm": base, "height_mm": height, "top_width_mm": width,
         "owned": count},
    )  # fmt: skip
    client, due = sign_in("head"), timezone.now() + timedelta(hours=40)
    make = makes.create_make(head, write_formula(head, request.param, recipe), tin=tin, count=count, due_at=due)
    if values:
        makes.change_first_item(make, **values)
    pages = {stage: text_of(client.get(f"/makes/{make.pk}/{stage}/").content.decode()) for stage in STAGES}
    make.refresh_from_db()
    planned = plan_of(make)
    makes.start_make(make, timezone.now())
    pages["bench"] = text_of(client.get(f"/bench/{make.pk}/").content.decode())
    return request.param, make, planned, pages


def figures(text: str, unit: str) -> set[float]:
    """Every figure of a text before a unit, or in a list or span that ends in it: 3, 5 and 8 of “3, 5–8 mm”."""
    number = r"\d[\d,]*(?:\.\d+)?"
    spans = re.findall(rf"((?:{number}(?:\s*(?:[–×/]|to|and|, )\s*)?)+)\s*{unit}\b", text)
    return {float(each.replace(",", "")) for span in spans for each in re.findall(number, span)}


# Figures that a step's words have of their own, and no other page: rules of thumb, not sizes of this make.
THUMB_MM = {1, 2, 3, 4, 5, 6, 7, 8, 10, 12, 15, 20, 25, 40}


def test_every_gram_of_the_steps_stands_on_size_or_on_the_weigh_sheet(read):
    name, _, _, pages = read
    told = pages["size"] + pages["weigh"] + pages["fold"]
    table = {float(each.replace(",", "")) for each in re.findall(r"\d[\d,]*(?:\.\d+)?", told)}
    # Flour to dust with, liquid by the spoon and what juice does are of the step alone.
    apart = r"dust with [\d,.]+ g|[\d,]+ g (?:of flour on top|of liquid|more|a brushing)|g a square metre"
    for page in ("steps", "steps/card", "bench"):
        for grams in figures(re.sub(apart, " ", pages[page]), "g"):
            assert grams in table, (name, page, grams)


def test_every_size_of_the_steps_stands_on_size_or_on_fold(read):
    name, _, _, pages = read
    drawn = {float(each.replace(",", "")) for each in re.findall(r"\d[\d,]*(?:\.\d+)?", pages["size"] + pages["fold"])}
    for page in ("steps", "steps/card", "bench", "weigh"):
        # The ruler of the weigh sheet, and what offcuts are good for.
        apart = r"\b100 mm|[\d,]+ (?:leaves|stars|twists) of [\d ×]+ mm"
        for size in figures(re.sub(apart, " ", pages[page]), "mm"):
            assert size in drawn or size in THUMB_MM or (name == "pulled roll" and size < 120), (name, page, size)


def test_the_same_words_stand_on_steps_card_and_bench(read):
    name, _, planned, pages = read
    for step in planned.route.steps:
        look = " ".join(step.look.replace("\u00a0", " ").split())
        for page in ("steps", "steps/card", "bench"):
            assert look in " ".join(pages[page].split()), (name, page, step.key)


def test_steps_are_counted_alike_on_strip_steps_card_and_bench(read):
    _, _, planned, pages = read
    count = len(planned.route.steps)
    assert f"{count} steps" in pages["size"]
    for number, step in enumerate(planned.route.steps, 1):
        assert re.search(rf"\b{number}\s+{re.escape(step.name)}", pages["steps"])
        assert f"{number}. {step.name}" in pages["steps/card"]
        assert re.search(rf"{number} of {count}[^\n]*\n\s*{re.escape(step.name)}", pages["bench"]), step.key
    assert f"0 of {count} done" in pages["bench"]


def test_what_is_rolled_weighs_what_is_divided_and_what_is_mixed(read):
    """Grams follow: Σ of what is divided is the dough that is needed, and with the loss what is mixed."""
    name, _, planned, pages = read
    shape = next(each for each in planned.route.steps if each.key in ("shape", "shape.pulled", "block"))
    lumps = re.findall(r"(\d+) (?:discs?|bricks?|balls?) of ([\d,]+) g", shape.look)
    needed = sum(one.need_g for one in planned.pieces)
    if lumps:
        divided = sum(int(count) * float(grams.replace(",", "")) for count, grams in lumps)
        assert divided == pytest.approx(needed, abs=0.5 * sum(int(count) for count, _ in lumps))
    assert planned.dough_g * 0.98 == pytest.approx(needed)
    assert f"{planned.weighed_g:,.0f}" in pages["weigh"] and f"{planned.weighed_g:,.0f}" in pages["size"]
    # As thick as it is said when so many grams reach so large a size.
    looks = " ".join(step.look for step in planned.route.steps)
    for grams, size in re.findall(r"([\d,]+) g (?:to|reach) (Ø \d+|\d+ × \d+) mm", looks):
        sides = [float(each) for each in re.findall(r"\d+", size)]
        area = 3.14159 / 4 * sides[0] ** 2 if size.startswith("Ø") else sides[0] * sides[1]
        thick = float(grams.replace(",", "")) / (area * planned.density_kg_m3 * 1e-6)
        assert thick == pytest.approx(planned.pieces[0].item.thickness_mm, rel=0.02), (name, grams, size)


def test_what_hangs_over_fills_and_weights_is_one_figure(read):
    name, _, planned, pages = read
    piece = planned.pieces[0]
    if piece.item.tin.is_vessel and piece.item.cover == "open":
        hang = f"{piece.hang_mm:g} mm"
        assert all(hang in pages[page] for page in ("steps", "steps/card", "bench")), (name, hang)
        grams = re.search(r"pulses, ([\d,]+) g a tin", pages["steps"])
        assert grams and re.search(rf"\b{grams[1]}\b", pages["weigh"])
    if piece.item.has_lid and piece.item.tin.is_vessel:
        assert piece.hang_mm == 25 and all("Leave 25 mm hanging" in pages[page] for page in ("steps", "bench"))
    filled = re.search(r"([\d,]+) g in each", pages["steps"])
    if filled:
        assert re.search(rf"\n\s*{filled[1]}\b", pages["size"]) and filled[0] in pages["bench"]


def test_oven_minutes_and_heat_are_one_figure(read):
    _, _, planned, pages = read
    bake = planned.bake
    for page in ("size", "steps", "bake", "bench"):
        assert f"{bake.oven_c:.0f} °C" in pages[page], page
    for stage in bake.stages:
        assert f"{stage.minutes:g} min" in pages["bake"] and f"{stage.minutes:g} min" in pages["steps"]
    assert f"{planned.route.shrink[0].percent:.1f}" in pages["cold"] or name_without_cold(planned)


def name_without_cold(planned):
    """Cold tells the shrink of what is chilled; a pulled dough is not."""
    return planned.route.kind == "pulled"


def test_the_last_sheet_of_a_fold_is_the_sheet_that_is_cut(read):
    name, _, planned, pages = read
    if name != "puff shells":
        return
    sheet = planned.fold.stages[-1]
    size = f"{sheet.length_mm:.0f} × {sheet.width_mm:.0f}"
    for page in ("size", "fold", "steps", "bench", "weigh"):
        assert size in pages[page], page
    # Two lines of one butter are told apart wherever they are weighed.
    for page in ("weigh", "steps/card", "bench", "size"):
        assert "unsalted butter, for the block" in pages[page] and "unsalted butter, melted" in pages[page], page


def test_a_place_has_one_temperature_on_every_page(head, sign_in, pantry, version, flan_tin):
    fridge = kitchen.save_row(Place(), {"name": "Harbour fridge", "kind": "fan_fridge", "air_c": 4.0})
    for first, second in ((14.0, 10.5), (13.0, 10.0), (15.0, 11.0), (14.0, 10.4)):
        record_evidence(
            kind="place", subject=fridge.core.key, predicted=9.0, measured=second, instrument=0.5, source="probe",
            at=timezone.now(),
            detail={"per_film": -3.0, "per_air": 0.6, "air_c": 4.0, "first_c": first, "minutes": 45.0},
        )  # fmt: skip
    lot = {"what": "Offcuts", "kind": "offcuts", "amount": 200, "unit": "g", "rich": False}
    stock.put_in(head, place=fridge, made_at=timezone.now(), **lot)
    client = sign_in("head")
    make = makes.create_make(head, version, tin=flan_tin, count=2, due_at=None)
    shown = []
    for address in (f"/makes/{make.pk}/steps/", "/cold-store/"):
        page = text_of(client.get(address).content.decode())
        shown.append(re.search(r"Harbour fridge,? ([\d.]+) °C", page)[1])
    places = text_of(client.get("/kitchen/places/").content.decode())
    shown.append(re.search(r"Harbour fridge.*?fan fridge\s+([\d.]+)", places, re.DOTALL | re.IGNORECASE)[1])
    assert len(set(shown)) == 1 and float(shown[0]) > 4, shown
    assert "set to 4" in places


def test_an_edited_minute_is_the_one_that_the_words_say(head, sign_in, version, flan_tin):
    make = makes.create_make(head, version, tin=flan_tin, count=2, due_at=None)
    for key, minutes in (("oven.on", "55"), ("seal", "7"), ("bake.off", "9")):
        makes.edit_step(head, make, key, "minutes", minutes)
    makes.edit_step(head, make, "bake.off", "until", "part")
    steps = {each.key: each for each in plan_of(make).route.steps}
    assert "55 min to heat" in steps["oven.on"].look.replace("\u00a0", " ")
    assert "back in for 7 min" in steps["seal"].look.replace("\u00a0", " ")
    bake = text_of(sign_in("head").get(f"/makes/{make.pk}/bake/").content.decode())
    assert "55 min" in bake and "9 min" in bake and plan_of(make).bake.heating_min == 55


def test_results_allowance_is_the_one_of_size(head, version, flan_tin, client):
    from northfold.records.queries import Allowance

    make = makes.create_make(head, version, tin=flan_tin, count=2, due_at=None)
    makes.change_first_item(make, trimming="flush", overhang_mm=0.0)
    planned = plan_of(make)
    allowance = Allowance.of(planned.route.shrink[0].percent, max(planned.pieces[0].developed_mm))
    assert allowance.whole_mm == max(planned.pieces[0].rim_mm)
    assert Kitchen.objects.count() == 1

"""A kitchen that thinks in ounces, inches and °F: every figure told so, beside the metric one or instead of it."""

import re

import pytest

from northfold.core.formula.imperial import in_fahrenheit, in_inches, in_ounces
from northfold.core.formula.units import BESIDE, IMPERIAL
from northfold.kitchen.models import Kitchen
from northfold.makes import services as makes
from northfold.web.imperial import in_text, page_in


@pytest.mark.parametrize(
    ("grams", "said"),
    [(0.3, "0.01 oz"), (7, "0.25 oz"), (28.3495, "1 oz"), (302, "10.7 oz"), (453.592, "1 lb"), (1660, "3 lb 10.6 oz")],
)
def test_weights(grams, said):
    """1 oz is 28.3495 g, 16 oz are a pound."""
    assert in_ounces(grams) == said


@pytest.mark.parametrize(
    ("length", "said"),
    [
        (3, "1/8 in"),
        (12.7, "1/2 in"),
        (25.4, "1 in"),
        (230, "9 1/16 in"),
        (600, "23 5/8 in"),
        (0.2, "0.0079 in"),
        (0, "0 in"),
    ],
)
def test_lengths(length, said):
    assert in_inches(length) == said


@pytest.mark.parametrize(
    ("celsius", "said"), [(190, "375 °F"), (4, "39 °F"), (-18, "0 °F"), (14, "57 °F"), (75, "167 °F")]
)
def test_temperatures(celsius, said):
    assert in_fahrenheit(celsius) == said


@pytest.mark.parametrize(
    ("text", "beside"),
    [
        ("Roll 302 g to Ø 325 mm.", "Roll 302 g (10.7 oz) to Ø 325 mm (12 3/4 in)."),
        ("butter works at 9–16 °C", "butter works at 9–16 °C (48–61 °F)"),
        ("set 15 °C lower", "set 15 °C lower"),
        ("± 0.5 °C", "± 0.5 °C (1 °F)"),
        ("230 × 25 mm", "230 × 25 mm (9 1/16 × 1 in)"),
        ("6 × Ø 230", "6 × Ø 230 (9 1/16 in)"),
        ("1,124 kg/m³ and 0.5 g/ml", "1,124 kg/m³ and 0.5 g/ml"),
        ("18 minutes, 3 : 2 : 1, version 2", "18 minutes, 3 : 2 : 1, version 2"),
    ],
)
def test_running_text_beside(text, beside):
    if text.startswith("set"):
        beside = "set 15 °C (27 °F) lower"
    assert re.sub(r"<.*?>", "", in_text(text, BESIDE)) == beside


def test_running_text_instead():
    assert in_text("Roll 302 g to Ø 325 mm at 14 °C.", IMPERIAL) == "Roll 10.7 oz to Ø 12 3/4 in at 57 °F."


def test_a_column_takes_its_unit_from_its_head():
    table = "<table><tr><th>line</th><th>weigh g</th></tr><tr><td>flour</td><td class='num'>823</td></tr></table>"
    assert '823 <span class="beside">(1 lb 13 oz)</span>' in page_in(table, BESIDE)
    instead = page_in(table, IMPERIAL)
    assert "weigh oz" in instead and ">1 lb 13 oz<" in instead


def test_a_unit_in_a_tag_of_its_own_and_what_is_typed_stays():
    html = (
        '<span class="grams">823<span class="unit"> g</span></span><input value="3 mm"><textarea>250 g flour</textarea>'
    )
    assert ' g <span class="beside">(1 lb 13 oz)</span>' in page_in(html, BESIDE)
    assert "1 lb 13 oz" in page_in(html, IMPERIAL)
    for mode in (BESIDE, IMPERIAL):
        assert '<input value="3 mm"><textarea>250 g flour</textarea>' in page_in(html, mode)


def test_nothing_but_figures_changes():
    html = "<!doctype html><html lang='en'><body><!-- a --><p class=x>A &amp; B &#8201; <br>é</p>"
    html += "<script>1 g</script></body></html>"
    assert page_in(html, IMPERIAL) == html


@pytest.mark.parametrize("shown", [BESIDE, IMPERIAL])
def test_a_kitchen_is_shown_its_own_units(sign_in, head, version, flan_tin, shown):
    make = makes.create_make(head, version, tin=flan_tin, count=6, due_at=None)
    client = sign_in("head")
    assert "°F" not in client.get(f"/makes/{make.pk}/bake/").content.decode()
    kitchen = Kitchen.objects.get()
    kitchen.shown_units = shown
    kitchen.save()
    for page, heat in (("bake", "375 °F"), ("weigh", " °F"), ("steps", "375 °F"), ("size", "375 °F")):
        answer = client.get(f"/makes/{make.pk}/{page}/").content.decode()
        assert " oz" in answer
        assert heat in answer or (page == "size" and shown == BESIDE)
    bake = client.get(f"/makes/{make.pk}/bake/").content.decode()
    assert ("190\u2009°C" in bake or "190 °C" in bake) == (shown == BESIDE)


def test_the_choice_is_made_under_kitchen(sign_in, pantry):
    client = sign_in("head")
    page = client.get("/kitchen/").content.decode()
    assert "Figures are shown in" in page and "iced" in page
    sent = {
        "name": "Quay",
        "measuring_system": "metric",
        "room_c": "70 °F",
        "shown_units": "beside",
        "iced_water": "on",
    }
    assert client.post("/kitchen/", sent).status_code == 302
    kitchen = Kitchen.objects.get()
    assert (kitchen.shown_units, kitchen.iced_water) == ("beside", True)
    assert kitchen.room_c == pytest.approx(21.1, abs=0.05)


def test_a_key_with_its_units_above_is_told_like_a_table():
    key = "<dl><div><dt></dt><dd>mm</dd><dd>g each</dd></div><div><dt>rolled</dt><dd>Ø 320</dd><dd>271</dd></div></dl>"
    instead = page_in(key, IMPERIAL)
    assert "<dd>in</dd><dd>oz each</dd>" in instead
    assert "<dd>Ø 12 5/8 in</dd><dd>9.6 oz</dd>" in instead


def test_panels_that_never_widen_show_one_figure():
    strip = '<nav class="pleat"><span>190 °C</span></nav><p>190 °C</p>'
    assert page_in(strip, BESIDE).count("375 °F") == 1
    assert page_in(strip, IMPERIAL).count("375 °F") == 2


def test_what_is_typed_keeps_its_unit_above_it():
    head = "<tr><th data-as-typed>g</th><th>fat g</th></tr>"
    instead = page_in(f"<table>{head}<tr><td><input value='420'></td><td>280</td></tr></table>", IMPERIAL)
    assert "<th data-as-typed>g</th>" in instead and "<td>9.9 oz</td>" in instead

"""Fill in the browser: a layer is laid in and changed in place, and the rest of the pleat follows."""

import re

from playwright.sync_api import expect


def test_a_layer_is_laid_in_changed_and_taken_out_in_place(as_role, demo):
    page = as_role()
    page.goto(f"{demo}/makes/26/fill/")
    expect(page.locator("#pleat li.open .figure")).to_have_text("bare")
    page.get_by_label("Mixture").select_option(label="Chestnut custard, v 1")
    page.get_by_label("How much").select_option("mark")
    page.get_by_label("Number").fill("3")
    page.get_by_role("button", name="Lay it in").click()
    expect(page.locator(".fill-layer .fill-grams")).to_have_text("901 g")
    expect(page.locator("#pleat li.open .figure")).to_have_text(re.compile("901"))
    expect(page.locator("#pleat")).to_contain_text("31 min")
    # Changed where it stands, it moves at once; the picture and the words go along.
    page.locator(".fill-layer").get_by_label("How much").select_option("share")
    # The number counts something else now, and starts from what is usual: all of the room.
    expect(page.locator(".fill-layer .fill-grams")).to_have_text("1,035 g")
    page.locator(".fill-layer").get_by_label("Number").fill("50")
    page.keyboard.press("Tab")
    expect(page.locator(".fill-layer .fill-grams")).to_have_text("518 g")
    expect(page.locator(".fill-section")).to_contain_text("518 g")
    # What makes no sense stays in its field with its message.
    page.locator(".fill-layer").get_by_label("Number").fill("900")
    page.keyboard.press("Tab")
    expect(page.locator(".fill-layer .error-text")).to_contain_text("outside 1 to 100")
    expect(page.locator(".fill-layer").get_by_label("Number")).to_have_value("900")
    page.get_by_role("button", name="Take it out").click()
    expect(page.locator("#pleat li.open .figure")).to_have_text("bare")
    page.get_by_role("button", name=re.compile("undo|back", re.IGNORECASE)).first.click()
    expect(page.locator(".fill-layer .fill-grams")).to_have_text("518 g")


def test_the_words_of_the_section_never_lie_on_one_another(as_role, demo):
    page = as_role()
    for make in (25, 27, 30, 34):
        page.goto(f"{demo}/makes/{make}/fill/")
        boxes = page.locator(".fill-section text").evaluate_all(
            "all => all.map(e => { const b = e.getBoundingClientRect(); return [b.x, b.y, b.right, b.bottom]; })"
        )
        assert boxes
        width = page.locator(".fill-section svg").bounding_box()
        for n, (left, top, right, bottom) in enumerate(boxes):
            assert right <= width["x"] + width["width"] + 1, make
            for other in boxes[n + 1 :]:
                apart = right <= other[0] or other[2] <= left or bottom - 3 <= other[1] or other[3] - 3 <= top
                assert apart, make

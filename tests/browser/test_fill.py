"""Fill in the browser: a layer is laid in and changed in place, and the rest of the pleat follows."""

import re
from xml.etree import ElementTree

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


TART = """For the crust:
320 g plain flour
180 g unsalted butter, cold
90 g icing sugar
2 egg yolks
25 g cold water

For the custard:
420 g whole milk
200 g double cream
6 egg yolks
95 g caster sugar"""


def test_from_a_paste_with_headings_to_a_labelled_slice(as_role, demo):
    """A custard tart whole: pasted, parted, sized, filled, its steps read, its slices labelled."""
    page = as_role()
    page.goto(f"{demo}/book/new/")
    page.fill("#name", "Harbour custard tart crust")
    page.fill("#paste", TART)
    page.click("#add")
    expect(page.locator("#headline")).to_contain_text(":")
    # What stands under the other heading becomes a mixture of its own, at one press.
    page.click("#part-out")
    expect(page.locator("#part-out")).to_have_count(0)
    page.click("#save")
    page.locator("a[href^='/makes/new/']").first.click()
    flan = page.locator("#id_tin option").filter(has_text="Straight flan").first.get_attribute("value")
    page.select_option("#id_tin", flan)
    page.fill("#id_count", "2")
    page.locator("form.narrow button.main-act").click()
    page.wait_for_url(re.compile(r"/makes/\d+/size/$"))
    number = re.search(r"/makes/(\d+)/", page.url)[1]
    page.goto(f"{demo}/makes/{number}/fill/")
    names = page.get_by_label("Mixture").locator("option").all_inner_texts()
    mine = next(each for each in names if each.lower().startswith("harbour") and "custard" in each.lower())
    page.get_by_label("Mixture").select_option(label=mine)
    page.get_by_label("How much").select_option("mark")
    page.get_by_label("Number").fill("3")
    page.get_by_role("button", name="Lay it in").click()
    grams = page.locator(".fill-layer .fill-grams").inner_text()
    page.goto(f"{demo}/makes/{number}/steps/")
    expect(page.locator("#steps")).to_contain_text("Warm: ")
    expect(page.locator("#steps")).to_contain_text(grams)
    page.goto(f"{demo}/makes/{number}/size/")
    page.locator("details:has([name$='slices']) > summary").first.click()
    with page.expect_response(lambda answer: answer.request.method == "POST"):
        page.locator("[name$='slices']").first.fill("10")
        page.keyboard.press("Tab")
    page.goto(f"{demo}/makes/{number}/labels/")
    expect(page.locator(".sticker")).to_have_count(20)
    page.get_by_label("Called").fill("Custard tart, a slice")
    page.get_by_label("Size").select_option("100x50")
    page.get_by_label("Labels", exact=True).fill("1")
    page.get_by_role("button", name="Show them so").click()
    expect(page.locator(".sticker")).to_have_count(1)
    label = page.locator(".sticker")
    for said in ("Custard tart, a slice", "Use by", "egg", "milk", "wheat", "about"):
        expect(label).to_contain_text(said)


def test_no_label_is_larger_than_its_paper(as_role, demo):
    page = as_role()
    for make in (25, 27, 28, 30, 34, 35, 43, 44):
        page.goto(f"{demo}/makes/{make}/labels/")
        for size in ("52x30", "100x50"):
            page.get_by_label("Size").select_option(size)
            page.get_by_role("button", name="Show them so").click()
            page.wait_for_url(f"**/makes/{make}/labels/?size={size}&**")
            larger = "e.scrollHeight > e.clientHeight + 1 || e.scrollWidth > e.clientWidth + 1"
            over = page.locator(".sticker").evaluate_all(f"all => all.filter(e => {larger}).length")
            assert page.locator(".sticker").count() and not over, (make, size)


def test_a_bench_card_of_up_to_fourteen_steps_is_one_side_of_a4(as_role, demo):
    page = as_role()
    seen = 0
    for make in (12, 22, 24, 29, 31, 32, 35, 36):
        page.goto(f"{demo}/makes/{make}/steps/card/")
        if page.locator(".card-steps li").count() <= 14:
            printed = page.pdf(format="A4")
            assert len(re.findall(rb"/Type\s*/Page\b", printed)) == 1, make
            seen += 1
    assert seen >= 4


def test_pictures_are_saved_as_they_are_drawn(as_role, demo):
    page = as_role()
    for address, opens, words in (
        ("/makes/30/fill/", "Keep", "layer"),
        ("/makes/1/cold/", "Keep", "trace"),
        ("/book/1/", "Copy", "triangle"),
    ):
        page.goto(demo + address)
        drawn = page.locator("svg[aria-label]:visible").count()
        saved = []

        def kept(download, saved=saved):
            saved.append(download)

        page.on("download", kept)
        page.locator("summary", has_text=opens).first.click()
        page.locator("[data-pictures]:visible").first.click()
        page.wait_for_timeout(1500)
        assert len(saved) == drawn > 0, (address, words)
        for each in saved:
            assert each.suggested_filename.endswith(".svg")
            found = ElementTree.parse(each.path()).getroot()
            assert found.tag.endswith("}svg") and float(found.get("width")) > 50
            assert found[0].tag.endswith("}title") and found[0].text
            shapes = [shape for shape in found.iter() if shape.tag.rpartition("}")[2] in ("path", "rect", "polygon")]
            assert shapes and all(shape.get("fill") and shape.get("class") is None for shape in shapes)
            named = set(re.findall(r"url\(#([\w-]+)\)", ElementTree.tostring(found, encoding="unicode")))
            assert named <= {shape.get("id") for shape in found.iter()}
        page.remove_listener("download", kept)

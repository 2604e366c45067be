"""The bake trace in the hand: read along by keys and by touch, with the section; changes taken in place."""

from playwright.sync_api import expect


def words(page):
    return page.locator("[data-words]").first.inner_text()


def rows(page, what):
    return [each.get_attribute("class") for each in page.locator(f"[data-{what}]").all()]


def test_the_bake_is_read_along_and_the_section_goes_with_it(as_role, demo):
    page = as_role()
    page.goto(f"{demo}/makes/23/bake/")
    slider = page.locator("#read-along-bake")
    slider.focus()
    done, hot, wet = words(page), rows(page, "hot"), rows(page, "wet")
    page.keyboard.press("Home")
    assert words(page).startswith("0 min") and words(page) != done
    # Cold all through, and all of its water in it.
    assert rows(page, "hot") != hot and rows(page, "wet") != wet
    assert all("w4" in each for each in rows(page, "wet"))
    layers = page.locator("[data-layer]").all_text_contents()
    assert len(layers) == 3 and all("100 %" in each for each in layers)
    assert slider.get_attribute("aria-valuetext") == words(page)
    box = page.locator("#bake-trace-bake svg").bounding_box()
    page.mouse.move(box["x"] + box["width"] * 0.4, box["y"] + box["height"] * 0.4)
    assert not words(page).startswith("0 min")
    page.keyboard.press("End")
    assert words(page) == done


def test_a_change_is_taken_in_place_and_the_rest_follows(as_role, demo):
    page = as_role()
    page.goto(f"{demo}/makes/1/bake/")
    before = page.locator(".bake-figure").inner_text()
    with page.expect_response("**/bake/changes/**"):
        page.locator("#bake-changes-bake").get_by_role("button", name="hot stone").click()
    expect(page.locator("#f-bake-off-stands")).to_have_value("hot_stone")
    expect(page.locator(".bake-figure")).not_to_have_text(before)
    expect(page.locator("#bake-changes-bake li").first).to_be_visible()
    assert page.locator("[data-reader]").is_visible()
    # Stages that cannot be read stay, with the reason.
    page.fill("#f-bake-off-course", "190 20 singing, 170")
    page.keyboard.press("Tab")
    expect(page.locator("#e-bake-off-course")).to_contain_text("singing")
    expect(page.locator("#f-bake-off-course")).to_have_value("190 20 singing, 170")


def test_on_a_phone_the_picture_scrolls_and_the_page_does_not(as_role, demo):
    page = as_role()
    page.goto(f"{demo}/makes/1/bake/")
    page.set_viewport_size({"width": 390, "height": 800})
    wide = page.evaluate("document.documentElement.scrollWidth")
    assert wide <= 390

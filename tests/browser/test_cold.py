"""The dough trace in the hand: read along by keys and by touch, redrawn at once, ways taken in place."""

from playwright.sync_api import expect


def words(page):
    return page.locator("[data-words]").inner_text()


def test_the_trace_is_read_along_by_keys_and_by_touch(as_role, demo):
    page = as_role()
    page.goto(f"{demo}/makes/1/cold/")
    slider = page.locator("#read-along")
    slider.focus()
    first = words(page)
    assert first.startswith("Rest and chill, 0 min")
    page.keyboard.press("End")
    assert words(page).startswith("Chill in the tin, 30 min")
    assert slider.get_attribute("aria-valuetext") == words(page)
    page.keyboard.press("ArrowLeft")
    assert words(page) not in (first, "")
    cursor = page.locator("[data-cursor] path")
    assert cursor.get_attribute("transform") is not None
    box = page.locator("[data-trace] svg").bounding_box()
    page.mouse.move(box["x"] + 60, box["y"] + 100)
    assert words(page).startswith("Rest and chill")


def test_a_changed_minute_redraws_the_trace_and_a_way_is_taken_in_place(as_role, demo):
    page = as_role()
    page.goto(f"{demo}/makes/1/cold/")
    before = page.locator("polyline.mean").first.get_attribute("points")
    with page.expect_response("**/cold/edit/"):
        page.fill("#f-rest-1-minutes", "20")
        page.keyboard.press("Tab")
    page.wait_for_function(
        "before => document.querySelector('polyline.mean').getAttribute('points') !== before", arg=before
    )
    assert page.locator("[data-reader]").is_visible()
    with page.expect_response("**/cold/answers/"):
        page.fill("#f-shape-thickness_mm", "18")
        page.keyboard.press("Tab")
    page.wait_for_selector("text=As planned: disc, 18 mm")
    page.goto(f"{demo}/makes/24/cold/")
    with page.expect_response("**/cold/?rollable=2**"):
        page.fill("#rollable", "2")
        page.keyboard.press("Tab")
    page.wait_for_url("**/cold/?rollable=2")
    take = page.get_by_role("button", name="Take this way").first
    with page.expect_response("**/cold/take/"):
        take.click()
    page.wait_for_selector("text=Yours.")
    assert page.input_value("#rollable") == "2"


def test_on_a_phone_steps_are_folded_to_the_next_and_stay_unfolded_where_touched(as_role, demo):
    page = as_role()
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{demo}/makes/1/steps/")
    looks = page.locator("#steps .look")
    expect(looks.first).to_be_visible()
    expect(looks.nth(3)).to_be_hidden()
    assert page.evaluate("document.body.scrollHeight") < 3000
    toggle = page.locator("[data-unfold='step-4']")
    toggle.click()
    expect(looks.nth(3)).to_be_visible()
    expect(toggle).to_have_attribute("aria-expanded", "true")
    minutes = page.locator("#step-4 input[name=value]").first
    with page.expect_response("**/edit/"):
        minutes.fill("50")
        page.keyboard.press("Tab")
    expect(looks.nth(3)).to_be_visible()

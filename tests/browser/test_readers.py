"""Readers with their own letters, colours, fingers, keys and clock."""

import re

import pytest
from playwright.sync_api import expect

PAGES = ["/", "/today/", "/book/1/", "/makes/1/size/", "/makes/1/steps/", "/makes/1/cold/", "/makes/19/result/"]
# Width and height of what is hit, with the area that a plain button has around its word; not of words in a text.
SMALL = """() => [...document.querySelectorAll('a[href], button, input:not([type=hidden]), select, textarea, summary')]
  .filter((e) => e.getClientRects().length && !e.closest('.skip') && getComputedStyle(e).display !== 'inline')
  .filter((e) => {
    const label = /checkbox|radio/.test(e.type) && e.labels.length ? e.labels[0].getBoundingClientRect().height : 0;
    const around = getComputedStyle(e, '::after');
    const area = around.position === 'absolute' ? parseFloat(around.height) : 0;
    return Math.max(e.getBoundingClientRect().height, label, area) < 43.5;
  }).map((e) => e.outerHTML.slice(0, 120))"""


def test_targets_are_as_large_as_a_finger(as_role, demo):
    page = as_role()
    page.set_viewport_size({"width": 390, "height": 844})
    for address in (*PAGES, "/kitchen/", "/kitchen/people/1/", "/cold-store/", "/makes/6/fold/", "/password/"):
        page.goto(demo + address)
        assert page.evaluate(SMALL) == [], address


def test_the_readers_own_letter_size_is_taken(as_role, demo):
    """Half as large again: everything that is not a drawing grows with it, and nothing leaves the page."""
    page = as_role()
    sizes = "() => ['body', 'h1', '.small', 'button', '.pleat .figure'].map((name) => document.querySelector(name))" \
            ".map((e) => e && parseFloat(getComputedStyle(e).fontSize))"  # fmt: skip
    for address in PAGES[2:]:
        page.goto(demo + address)
        before = page.evaluate(sizes)
        page.evaluate("document.documentElement.style.fontSize = '24px'")
        after = page.evaluate(sizes)
        assert after == [size and pytest.approx(1.5 * size) for size in before], address
    page.goto(f"{demo}/today/")
    page.evaluate("document.documentElement.style.fontSize = '24px'")
    assert page.evaluate("document.documentElement.scrollWidth") <= 1280


def luminance(colour):
    """Relative luminance of a computed colour, by WCAG 2.2."""
    parts = [int(part) / 255 for part in re.findall(r"\d+", colour)[:3]]
    linear = [part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in parts]
    return sum(share * part for share, part in zip((0.2126, 0.7152, 0.0722), linear, strict=True))


def test_pictures_are_read_on_a_dark_ground_with_forced_colours(browser, demo):
    context = browser.new_context(forced_colors="active", color_scheme="dark", locale="en-GB")
    page = context.new_page()
    page.goto(f"{demo}/sign-in/")
    page.get_by_role("button", name="Runa Haldane").click()
    colours = """(name) => [...document.querySelectorAll(name + ' text')].filter((e) => e.getClientRects().length)
      .map((e) => [getComputedStyle(e).fill, getComputedStyle(e.closest('svg')).backgroundColor])"""
    for address, picture in (("/book/1/", ".triangle"), ("/makes/1/size/", ".drawing"), ("/makes/1/cold/", ".trace")):
        page.goto(demo + address)
        assert page.evaluate("getComputedStyle(document.body).backgroundColor") == "rgb(0, 0, 0)"
        found = page.evaluate(colours, picture)
        assert found, address
        for ink, ground in found:
            dark, light = sorted((luminance(ink), luminance(ground)))
            assert (light + 0.05) / (dark + 0.05) >= 4.5, (address, ink, ground)
    context.close()


def test_focus_stays_where_the_work_is(as_role, demo):
    """Left out, put back, said to be right: by keys alone one is never thrown to the top of the page."""
    page = as_role()
    page.goto(f"{demo}/book/new/")
    page.fill("#paste", "250 g flour\n125 g butter\n60 g water\n3 eggs, beaten")
    page.keyboard.press("Tab")
    expect(page.locator("table.lines")).to_contain_text("125 g butter")
    focused = "document.activeElement.id"

    def press(button, lands):
        button.focus()
        with page.expect_response("**/edit/"):
            page.keyboard.press("Enter")
        expect(page.locator(lands)).to_be_focused()
        return page.evaluate(focused)

    out = page.locator("button.out").nth(1)
    row = out.get_attribute("id").removeprefix("out-")
    press(out, f"#keep-{row}")
    press(page.locator(f"#keep-{row}"), f"#out-{row}")
    right = page.get_by_role("button", name="That is right").first
    row = right.get_attribute("value").split(":")[1]
    press(right, f"#text-{row}")


def test_done_by_keys_stays_on_done(as_role, demo):
    page = as_role("Teo Marsh")
    page.goto(f"{demo}/bench/21/")
    shown = page.locator(".bench-step:not([hidden])")
    first = shown.get_attribute("data-step")
    shown.locator(".done").focus()
    with page.expect_response("**/state/**"):
        page.keyboard.press("Enter")
    expect(shown).not_to_have_attribute("data-step", first)
    expect(shown.locator(".done")).to_be_focused()


def test_a_device_in_another_zone_shows_the_kitchens_time(browser, demo):
    context = browser.new_context(timezone_id="Asia/Tokyo", locale="en-GB")
    page = context.new_page()
    page.goto(f"{demo}/sign-in/")
    page.get_by_role("button", name="Teo Marsh").click()
    page.goto(f"{demo}/bench/19/")
    noon_in_june = "Bench.hourOf(Date.UTC(2027, 5, 1, 11, 0))"  # London is an hour ahead of UTC then, Tokyo nine
    assert page.evaluate(noon_in_june) == "12:00"
    assert page.evaluate("new Date(Date.UTC(2027, 5, 1, 11, 0)).getHours()") == 20
    context.close()


def test_names_cannot_turn_the_direction_of_what_follows(as_role, demo):
    page = as_role()
    page.goto(f"{demo}/kitchen/people/new/")
    page.get_by_label("Name", exact=True).fill("Ann \u202etfel-ot-thgir\u202c Wick")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("link", name="Ann tfel-ot-thgir Wick")).to_be_visible()
    assert not re.search("[\u202a-\u202e\u2066-\u2069]", page.content())


def test_a_password_is_seen_and_weighed_as_it_is_typed(as_role, demo):
    page = as_role()
    page.goto(f"{demo}/password/")
    field, meter = page.get_by_label("New password"), page.locator(".strength").first
    for typed, said in (("lamp", "4 of at least 8"), ("aaaaaaaaaaaa", "easy to guess"), ("lamp-room-77", "Fair"),
                        ("three lamps by the quay", "Strong")):  # fmt: skip
        field.fill(typed)
        expect(meter).to_contain_text(said)
    show = page.locator(".show-password").nth(1)
    show.click()
    expect(field).to_have_attribute("type", "text")
    show.click()
    expect(field).to_have_attribute("type", "password")

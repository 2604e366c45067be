"""In the browser: an edit brings what changed, and the rest of the page stays the very thing it was."""

from playwright.sync_api import expect


def test_an_edit_leaves_alone_what_did_not_change(as_role, demo):
    page = as_role()
    page.goto(f"{demo}/makes/1/steps/")
    page.evaluate("document.querySelectorAll('[data-sum]').forEach((part) => { part.stood = part.dataset.sum; })")
    with page.expect_response(lambda answer: answer.request.method == "POST") as told:
        page.locator("#f-rest-1-minutes").fill("95")
        page.locator("#f-rest-1-minutes").press("Tab")
    answer = told.value.text()
    assert answer.count(" data-later></") > 10
    page.wait_for_function(
        "document.querySelectorAll('#steps .at').length > 0 && !document.querySelector('.htmx-request')"
    )
    assert page.locator("[data-later]").count() == 0
    # Parts that went as stubs are the nodes that stood there; the others have what came.
    kept = page.evaluate("[...document.querySelectorAll('[data-sum]')].filter((p) => p.stood === p.dataset.sum).length")
    assert kept > 10
    shown = page.locator("#method").inner_text()
    page.reload()
    assert page.locator("#method").inner_text() == shown
    assert page.locator("#f-rest-1-minutes").input_value() == "95"


def test_a_part_in_which_something_is_typed_comes_whole(as_role, demo):
    page = as_role()
    page.goto(f"{demo}/makes/1/steps/")
    page.locator("#add-step summary").click()
    name = page.locator("#add-step input[type=text], #add-step input:not([type])").first
    name.fill("Brush the tins")
    with page.expect_request(lambda request: request.method == "POST") as sent:
        page.locator("#f-rest-1-minutes").fill("80")
        page.locator("#f-rest-1-minutes").press("Tab")
    has = sent.value.headers["x-has"]
    assert "what-1=" in has
    assert "add-step=" not in has
    expect(page.locator("#f-rest-1-minutes")).to_have_js_property("defaultValue", "80")
    assert name.input_value() == "Brush the tins"

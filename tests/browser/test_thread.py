"""The thread as its users walk it: paste to weigh sheet by keyboard alone; two tabs; a lost connection."""

import re

from playwright.sync_api import expect

HARBOUR = "420 g plain flour\n280 g cold unsalted butter, diced\n140 g cold water\n7 g fine salt"


def tab_to(page, selector, most=60):
    """Press Tab until the focus is on what the selector names."""
    for _ in range(most):
        if page.evaluate("selector => document.activeElement.matches(selector)", selector):
            return
        page.keyboard.press("Tab")
    raise AssertionError(f"Tab never reached {selector}")


def test_paste_to_weigh_sheet_with_the_keyboard_alone(as_role, demo):
    page = as_role()
    tab_to(page, "a[href='/book/']")
    page.keyboard.press("Enter")
    page.wait_for_url("**/book/")
    tab_to(page, "a[href='/book/new/']")
    page.keyboard.press("Enter")
    page.wait_for_url("**/book/new/")
    tab_to(page, "#name")
    page.keyboard.type("Keyboard crust")
    tab_to(page, "#paste")
    page.keyboard.insert_text(HARBOUR)
    page.keyboard.press("Enter")
    expect(page.locator("#headline")).to_have_text("3 : 2 : 1")
    expect(page.locator(".true-line strong")).to_have_text("100 : 54.7 : 44.0")
    expect(page.locator("#paste")).to_have_value("")
    tab_to(page, "#save")
    page.keyboard.press("Enter")
    page.wait_for_url(re.compile(r"/book/\d+/$"))
    expect(page.locator("#saved")).to_contain_text("Version 1")
    tab_to(page, "a[href^='/makes/new/']")
    page.keyboard.press("Enter")
    page.wait_for_url("**/makes/new/*/")
    tab_to(page, "#id_tin")
    page.keyboard.type("Straight")
    tab_to(page, "#id_count")
    page.keyboard.type("6")
    tab_to(page, "form.narrow button.main-act")
    page.keyboard.press("Enter")
    page.wait_for_url(re.compile(r"/makes/\d+/size/$"))
    expect(page.locator("#pleat li.open .figure")).to_have_text("1.66\u2009kg")
    tab_to(page, "a[href$='/weigh/']")
    page.keyboard.press("Enter")
    page.wait_for_url("**/weigh/")
    for figure in ("824", "549", "275", "14", "Ø\u2009320"):
        expect(page.locator(".sheet").first).to_contain_text(figure)


def test_editing_in_a_make_moves_later_panels_and_keeps_the_caret(as_role, demo):
    page = as_role()
    page.goto(f"{demo}/makes/1/dough/")
    grams = page.locator("input.grams")
    # Two fields in quick succession: the answer to the first must not undo the second.
    grams.nth(2).fill("180")
    grams.nth(3).focus()
    grams.nth(3).fill("9")
    grams.nth(0).focus()
    expect(page.locator("#headline")).to_have_text("100 : 67 : 43")
    expect(page.locator("#pleat li.open .figure")).to_have_text("67 : 43 %")
    expect(grams.nth(2)).to_have_value("180")
    expect(grams.nth(3)).to_have_value("9")
    assert page.evaluate("document.activeElement.id") == grams.nth(0).get_attribute("id")
    expect(page.locator("#pleat")).to_contain_text("pie dough, v 2 +")
    page.get_by_role("button", name="Save as version 3").click()
    expect(page.locator("#saved")).to_contain_text("Version 3")
    expect(page.locator("#pleat")).to_contain_text("pie dough, v 3")
    expect(grams.nth(3)).to_have_value("9")
    page.goto(f"{demo}/makes/7/dough/")  # a finished make of the same formula stays on its version
    expect(page.locator(".desk-bar")).to_contain_text("Version 2")


def test_size_strikes_the_old_figure(as_role, demo):
    page = as_role("Teo Marsh")
    page.goto(f"{demo}/makes/1/size/")
    page.locator("#id_item-0-count").fill("12")
    page.keyboard.press("Tab")
    expect(page.locator("#pleat li.open .figure")).to_have_text("3.32\u2009kg")
    expect(page.locator("#pleat li.open s")).to_have_text("1.66\u2009kg")
    expect(page.locator("#pleat [aria-live]")).to_contain_text("Size is now 3.32\u2009kg, before 1.66\u2009kg")
    page.locator("#id_item-0-thickness_mm").fill("400")
    page.keyboard.press("Tab")
    expect(page.locator("#id_item-0-thickness_mm_error")).to_contain_text(
        "A thickness of 400 mm is outside 0.3 to 50 mm"
    )
    expect(page.locator("#id_item-0-thickness_mm")).to_have_value("400")
    page.locator("#id_item-0-thickness_mm").fill("3")
    page.keyboard.press("Tab")
    page.get_by_role("button", name="Add another").click()
    expect(page.locator("#size-form fieldset.item")).to_have_count(2)
    page.get_by_role("button", name="Remove these").last.click()
    expect(page.locator("#size-form fieldset.item")).to_have_count(1)


def test_two_tabs_show_both_texts(as_role, demo, context):
    page = as_role()
    page.goto(f"{demo}/book/1/")
    other = context.new_page()
    other.goto(f"{demo}/book/1/")
    page.locator("input.grams").nth(0).fill("430")
    page.keyboard.press("Tab")
    expect(page.locator("#save")).to_be_visible()
    other.locator("input.grams").nth(0).fill("450")
    other.keyboard.press("Tab")
    expect(other.locator("#desk")).to_contain_text("Changed meanwhile")
    expect(other.locator("pre").nth(0)).to_contain_text("450 g")
    expect(other.locator("pre").nth(1)).to_contain_text("430 g")
    other.get_by_role("button", name="Keep yours").click()
    expect(other.locator("input.grams").nth(0)).to_have_value("450")


def test_a_lost_connection_is_said_and_the_change_stays(page, demo):
    page.goto(f"{demo}/sign-in/")
    page.get_by_role("button", name="Runa Haldane").click()
    page.goto(f"{demo}/book/1/")
    page.context.set_offline(True)
    page.locator("input.grams").nth(0).fill("431")
    page.keyboard.press("Tab")
    expect(page.locator("#offline")).to_be_visible()
    expect(page.locator("input.grams").nth(0)).to_have_value("431")
    page.context.set_offline(False)
    page.locator("input.grams").nth(1).fill("281")
    page.keyboard.press("Tab")
    expect(page.locator("#offline")).to_be_hidden()
    page.reload()
    expect(page.locator("input.grams").nth(0)).to_have_value("431")


def test_works_without_script(browser, demo):
    context = browser.new_context(java_script_enabled=False)
    page = context.new_page()
    page.goto(f"{demo}/sign-in/")
    page.get_by_role("button", name="Runa Haldane").click()
    page.goto(f"{demo}/book/new/")
    page.fill("#name", "Plain crust")
    page.fill("#paste", HARBOUR)
    page.click("#add")
    expect(page.locator("#headline")).to_have_text("3 : 2 : 1")
    page.click("#save")
    expect(page.locator("#saved")).to_contain_text("Version 1")
    context.close()


def test_the_mark_is_dragged_and_moved_with_arrow_keys(as_role, demo):
    page = as_role()
    page.goto(f"{demo}/book/1/")
    box = page.locator("#mark").bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 40, y + 10, steps=4)
    expect(page.locator("#drag-words")).to_contain_text("percent of flour")
    page.mouse.up()
    expect(page.locator("#undo-swap")).to_be_visible()
    assert page.locator("input.grams").nth(0).input_value() == "420"  # the flour is held
    assert float(page.locator("input.grams").nth(1).input_value()) > 300
    page.get_by_role("button", name="Undo it").click()
    expect(page.locator("input.grams").nth(1)).to_have_value("280")
    page.locator("#mark").focus()
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("ArrowLeft")
    # two percent more fat and less liquid of 420 g flour: 8.4 g each
    expect(page.locator("input.grams").nth(1)).to_have_value("288.4")
    expect(page.locator("input.grams").nth(2)).to_have_value("131.6")
    assert page.evaluate("document.activeElement.id") == "mark"


def test_a_swap_is_shown_and_done_and_keeps_the_caret(as_role, demo):
    page = as_role()
    page.goto(f"{demo}/book/1/")
    page.locator("#swap summary").click()
    for choose in (
        lambda: page.locator("#swap-line").select_option(index=2),
        lambda: page.locator("#swap-to").select_option("lard"),
    ):
        with page.expect_response("**/edit/"):
            choose()
    page.locator("#swap-share").fill("50")
    with page.expect_response("**/edit/"):
        page.keyboard.press("Tab")
    expect(page.locator("#swap-share")).to_have_value("50")
    page.get_by_role("button", name="Show what changes").click()
    expect(page.locator(".swap-preview")).to_contain_text("115.0")  # 140 g × 0.82 ÷ 0.998
    expect(page.locator("input.grams").nth(1)).to_have_value("280")
    page.get_by_role("button", name="Do it").click()
    expect(page.locator("input.grams").nth(1)).to_have_value("140")
    expect(page.locator("table.lines")).to_contain_text("lard")
    page.locator("input.grams").nth(0).fill("430")
    page.locator("input.grams").nth(3).focus()
    expect(page.locator("#headline")).to_contain_text("100")
    assert page.evaluate("document.activeElement.id") == page.locator("input.grams").nth(3).get_attribute("id")


def test_on_a_slow_line_weights_typed_one_after_the_other_are_all_kept(as_role, demo):
    """Each answer takes longer than the next weight; the last one, out of reason, has a remedy to tab onto."""
    page = as_role()
    page.goto(f"{demo}/book/new/")
    page.fill("#paste", "420 g plain flour\n280 g unsalted butter\n140 g water\n58 g fine salt")
    page.click("#add")
    weights = page.locator("input.grams")
    weights.nth(3).wait_for()
    page.wait_for_load_state("networkidle")
    answers = []
    page.on("response", lambda answer: answers.append(answer.status) if answer.request.method == "POST" else None)
    line = page.context.new_cdp_session(page)
    line.send("Network.enable")
    slow = {"offline": False, "latency": 300, "downloadThroughput": -1, "uploadThroughput": -1}
    line.send("Network.emulateNetworkConditions", slow)
    typed = ["571", "431", "291", "158"]
    for number, weight in enumerate(typed):
        weights.nth(number).fill(weight)
        page.keyboard.press("Tab")
        page.wait_for_timeout(150)
    expect(page.locator(".lines tfoot .in-field")).to_have_text("1,451")
    assert [weights.nth(number).input_value() for number in range(4)] == typed
    assert set(answers) == {200}

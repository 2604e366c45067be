"""Coils and puff shells from the formula to cut pieces, turns and steps, in the hand."""


def test_morning_coils_from_the_dough_to_their_turns(as_role, demo):
    page = as_role()
    page.goto(f"{demo}/makes/6/dough/")
    page.locator("#pleat li a", has_text="Size").first.click()
    page.wait_for_url("**/size/")
    assert page.locator("text=Morning coil").count()
    page.locator("#pleat li a", has_text="Fold").first.click()
    page.wait_for_url("**/fold/")
    assert page.locator(".crumb-figure .big").first.inner_text() == "27"
    assert page.locator(".above li").count() == 3 + 2 * 3 + 1
    with page.expect_response("**/fold/edit/"):
        page.select_option("#f-turns-folds", "double_single")
    page.wait_for_selector(".crumb-figure .big:text-is('12')")
    assert "12" in page.locator("#pleat [aria-current]").first.inner_text()
    with page.expect_response("**/fold/edit/"):
        page.fill("#f-turns-own", "3 9")
        page.keyboard.press("Tab")
    page.wait_for_selector(".error-text")
    assert page.input_value("#f-turns-own") == "3 9"
    page.locator("#pleat li a", has_text="Steps").first.click()
    page.wait_for_url("**/steps/")
    told = page.locator("#steps").inner_text()
    assert told.index("Lock in") < told.index("Turn 1: a double fold") < told.index("Turn 2: a letter")
    assert told.index("Turn 2: a letter") < told.index("Cut out") < told.index("Prove") < told.index("Bake")


def test_puff_shells_are_cut_from_the_laminated_sheet_and_chilled(as_role, demo):
    page = as_role()
    page.goto(f"{demo}/makes/38/fold/")
    assert page.locator(".crumb-figure .big").first.inner_text() == "243"
    with page.expect_response("**/fold/edit/"):
        page.select_option("#f-lock-start", "inverse")
    page.wait_for_selector("#f-lock-flour_in_fat_g")
    with page.expect_response("**/fold/edit/"):
        page.fill("#f-lock-flour_in_fat_g", "0")
        page.keyboard.press("Tab")
    page.wait_for_selector("text=knead 30 to 40 g")
    with page.expect_response("**/fold/edit/"):
        page.fill("#f-lock-flour_in_fat_g", "35")
        page.keyboard.press("Tab")
    page.wait_for_selector(".turn-list")
    assert "of the flour into each" in page.locator(".turn-list").inner_text()
    page.goto(f"{demo}/makes/38/steps/")
    told = page.locator("#steps").inner_text()
    assert told.index("Turn 5") < told.index("Cut out") < told.index("Chill on the tray") < told.index("Bake")
    assert "Offcuts laid flat on each other" in told

"""The week in a browser: an order written from a make, proposed, changed for a date, planned, undone, on paper."""

from datetime import timedelta

from django.utils import timezone
from playwright.sync_api import expect

from northfold.day.models import MadeFor, StandingOrder
from northfold.makes.models import Make


def test_an_order_becomes_makes_and_goes_back(as_role, demo):
    page = as_role()
    make = Make.objects.kept().filter(formula_version__formula__name="Seeded cheese crackers").order_by("pk").last()
    page.goto(f"{demo}/makes/{make.pk}/size/")
    page.get_by_role("link", name="Standing order").click()
    page.get_by_role("textbox", name="Pieces").fill("60")
    page.get_by_label("For whom").fill("Harbour wedding")
    for day in ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"):
        box = page.get_by_label(day, exact=True)
        if not box.is_checked():
            box.check()
    page.get_by_label("Ready at").fill("16:00")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_text("makes proposed")).to_be_visible()
    order = StandingOrder.objects.get(for_whom="Harbour wedding")

    # Another number two days from now, written where it is proposed.
    on = timezone.localdate() + timedelta(days=2)
    row = page.locator(".week tbody tr").filter(has_text="Seeded cheese crackers").filter(has=page.locator(".proposed"))
    cell = row.locator("td").nth(2)
    cell.locator(".proposed summary").click()
    cell.get_by_label("Harbour wedding").fill("90")
    cell.get_by_role("button", name="On this day").click()
    expect(cell.locator(".proposed strong")).to_have_text("90")
    assert [(each.on, each.pieces) for each in order.changes.all()] == [(on, 90)]

    # One of them, then all; the bin gives the week back.
    cell.locator(".proposed summary").click()
    cell.get_by_role("button", name="Plan this make").click()
    expect(page.get_by_text("Seeded cheese crackers is planned.")).to_be_visible()
    made = MadeFor.objects.get(order=order, on=on).make
    assert made.items.get().count == 90 and timezone.localtime(made.due_at).hour == 16
    before = Make.objects.kept().count()
    page.get_by_role("button", name="Plan all of them").click()
    expect(page.get_by_text("makes are planned.")).to_be_visible()
    expect(page.get_by_text("makes proposed")).to_have_count(0)
    assert Make.objects.kept().count() > before + 5
    page.get_by_role("button", name="Put it back").first.click()
    expect(page.get_by_text("proposed again")).to_be_visible()
    assert Make.objects.kept().count() == before

    # What is mixed tonight opens to its lines; on paper nothing is left to press.
    page.locator(".tonight details summary").first.click()
    expect(page.locator(".tonight details table").first).to_be_visible()
    page.emulate_media(media="print")
    expect(page.get_by_role("button", name="Plan all of them")).to_be_hidden()

"""The day in a browser: late, saved by its remedy, held by keys and by drag, taken, planned anew, on paper."""

import re
from datetime import timedelta

from django.utils import timezone
from playwright.sync_api import expect

from northfold.day import searching
from northfold.day.models import DayAsked, DayPlan, DaySearch
from northfold.makes.models import Make

# A search ends before the page answers, and what would save the day is tried one after the other.
LONG_MS = 120_000


def saturday():
    """The date of the stall, which is late unless it is saved."""
    make = Make.objects.kept().filter(state=Make.State.PLANNED, fresh_min__isnull=False).order_by("pk").first()
    return timezone.localdate(make.due_at)


def test_a_late_saturday_is_saved_held_taken_and_printed(as_role, demo, monkeypatch):
    monkeypatch.setattr(searching, "MOST_OTHERWISE", 0)  # as its makes are: other ways to them would save it at once
    page = as_role()
    page.set_default_timeout(LONG_MS)
    day = saturday()
    page.goto(f"{demo}/day/{day}/")
    page.get_by_role("button", name="Plan the day").click()
    expect(page.locator(".verdict")).to_contain_text("late", timeout=LONG_MS)
    late = DaySearch.objects.get(date=day).planned.score.late_min
    assert late > 0
    # Its remedy: the first of those that were tried, with one tap.
    expect(page.get_by_role("heading", name="What would save it")).to_be_visible(timeout=LONG_MS)
    page.get_by_role("button", name="Plan with it").first.click()
    expect(page.get_by_role("heading", name="Planned with")).to_be_visible(timeout=LONG_MS)
    # Held an hour earlier by the keys.
    strip = page.locator("[data-task]").last
    key, begin = strip.get_attribute("data-task"), int(strip.get_attribute("data-begin"))
    strip.focus()
    for _ in range(3):
        page.keyboard.press("ArrowRight")
    expect(strip).to_have_class(re.compile("moving"))
    page.keyboard.press("Enter")
    expect(page.get_by_text("held at")).to_be_visible(timeout=LONG_MS)
    assert DayAsked.objects.get(date=day).held == {key: begin + 15}
    assert DaySearch.objects.get(date=day).planned.laid.times[key][0] == begin + 15
    page.get_by_role("button", name="Let it go").click()
    expect(page.get_by_text("held at")).to_have_count(0, timeout=LONG_MS)
    page.get_by_role("button", name="Take this plan").click()
    expect(page.get_by_text("every make of it has its hours from here")).to_be_visible(timeout=LONG_MS)
    assert DayPlan.objects.filter(date=day, undone=None).count() == 1
    page.get_by_role("link", name="For the wall").click()
    page.emulate_media(media="print")
    expect(page.locator(".person-strip")).not_to_have_count(0)
    expect(page.get_by_role("button", name="Print on A4")).to_be_hidden()


def test_other_ways_save_the_saturday_and_can_be_done_without(as_role, demo, monkeypatch, settings):
    monkeypatch.setattr(searching, "AGAIN_SECONDS", 1.0)
    # On a busy machine it takes longer to find them.
    settings.DAY_SECONDS, settings.WAYS_SECONDS = 10.0, 20.0
    page = as_role()
    page.set_default_timeout(LONG_MS)
    day = saturday()
    page.goto(f"{demo}/day/{day}/")
    page.get_by_role("button", name="Plan the day").click()
    expect(page.get_by_role("heading", name="Planned with")).to_be_visible(timeout=LONG_MS)
    expect(page.get_by_role("button", name="Take this plan")).to_be_visible(timeout=LONG_MS)
    row = DaySearch.objects.get(date=day)
    assert row.chosen and row.planned.score.late_min < row.planned.first.late_min
    (key, (kind, _, words)), *_ = row.chosen.items()
    expect(page.get_by_text(words)).to_be_visible()
    told = page.get_by_role("listitem").filter(has_text=words)
    told.get_by_role("button", name="Without it").click()
    expect(told).to_have_count(0, timeout=LONG_MS)
    assert DayAsked.objects.get(date=day).refused == [[key, kind]]
    assert kind != DaySearch.objects.get(date=day).chosen.get(key, ("",))[0]


def test_work_is_dragged_along_its_lane_and_somebody_away_is_planned_around(as_role, demo):
    page = as_role()
    page.set_default_timeout(LONG_MS)
    day = timezone.localdate() + timedelta(days=1)
    page.goto(f"{demo}/day/{day}/")
    page.get_by_role("button", name="Plan the day").click()
    strip = page.locator("[data-task]").last
    strip.scroll_into_view_if_needed()
    key, begin = strip.get_attribute("data-task"), int(strip.get_attribute("data-begin"))
    box = strip.locator("polygon").bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2 + 28, box["y"] + box["height"] / 2, steps=5)
    page.mouse.up()
    expect(page.get_by_text("held at")).to_be_visible(timeout=LONG_MS)
    held = DayAsked.objects.get(date=day).held
    # 84 px are an hour: 28 are twenty minutes, in steps of five.
    assert list(held) == [key] and 10 <= held[key] - begin <= 30
    page.get_by_role("button", name="Take this plan").click()
    page.get_by_role("button", name="Isk Fenwick is away").click()
    expect(page.get_by_role("button", name="Isk Fenwick is away")).to_have_attribute(
        "aria-pressed", "true", timeout=LONG_MS
    )
    names = {each.key: each.name for each in DaySearch.objects.get(date=day).planned.day.house.workers}
    assert "Isk Fenwick" not in names.values()
    expect(page.get_by_role("heading", name="What changes")).to_be_visible(timeout=LONG_MS)
    page.get_by_role("button", name="Leave it").click()
    expect(page.get_by_role("button", name="Plan anew from now")).to_be_visible(timeout=LONG_MS)

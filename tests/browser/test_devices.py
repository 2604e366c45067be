"""A scale and a probe that stand in for real ones: a mix weighed untouched, too much taken up, a dough sent back."""

import re
from uuid import uuid4

import pytest
from django.contrib.auth import get_user_model
from playwright.sync_api import expect

from northfold.bench.models import BenchEvent
from northfold.bench.queries import run_of, weigh_lines
from northfold.bench.services import record
from northfold.bench.stand_ins import stand_ins
from northfold.devices.stand_ins.pages import StandIns
from northfold.makes.models import Make
from northfold.makes.services import start_make


@pytest.fixture
def scale(demo):
    """A scale that sends to the demo; answers what lies on its pan."""
    every = stand_ins(demo, 0)
    every.server.server_close()
    alone = StandIns({"scale": every.found["scale"]}, 0)
    alone.start()
    yield every.found["scale"].instrument
    alone.stop()


@pytest.fixture
def weighing(as_role, demo, scale):
    """A make that was just started, open at its bench."""
    make = Make.objects.filter(state="planned", formula_version__formula__name="Harbour tart shell").first()
    page = as_role("Teo Marsh")
    page.goto(f"{demo}/makes/{make.pk}/steps/")
    page.get_by_role("button", name="Start at the bench").click()
    page.wait_for_url(f"{demo}/bench/{make.pk}/")
    expect(page.locator("#at-scale.is-own")).to_be_visible()
    return page, make


def test_a_mix_is_weighed_without_touching_the_screen(weighing, scale):
    page, make = weighing
    go = page.locator("[data-go]")
    for line in weigh_lines(run_of(make)):
        expect(page.locator("[data-what]")).to_have_text(line.name)
        scale.put(round(line.scaled.weigh_g * 0.6))
        expect(go).to_have_text(re.compile(r"^\d+(\.\d)? g to go$"))
        # Six tenths of it: a little more than half open.
        half_open = re.compile(r"^rotate\(-(?:[89]\d|1[0-3]\d)(?:\.\d+)? ")
        expect(page.locator(".leaf-turn")).to_have_attribute("transform", half_open)
        scale.put(line.scaled.weigh_g - round(line.scaled.weigh_g * 0.6))
        expect(page.locator(f'.line[data-line="{line.index}"]')).to_have_class(re.compile("ticked"))
    expect(page.locator("[data-what]")).to_have_text("Every line is weighed")
    expect(page.locator("[data-unticked]")).to_have_text("Every line is ticked.")
    told = BenchEvent.objects.filter(make=make, kind="weighed")
    assert {event.device for event in told} == {"Bench scale"} and told.count() == 4


def test_too_much_is_taken_up_by_the_other_lines_with_one_tap(weighing, scale):
    page, make = weighing
    flour, butter, water, _ = weigh_lines(run_of(make))
    scale.put(round(flour.scaled.weigh_g * 1.05))
    expect(page.locator("[data-go]")).to_have_text(re.compile(r"^take \d+ g out$"))
    expect(page.locator("[data-follow]")).to_contain_text("× 1.05: the ratio stays")
    assert not BenchEvent.objects.filter(make=make, kind="weighed").exists()
    page.get_by_role("button", name="Let the others follow").click()
    expect(page.locator("[data-what]")).to_have_text("unsalted butter")
    larger = run_of(make).progress.batch
    shown = page.locator(f'.line[data-line="{butter.index}"] .grams')
    expect(shown).to_contain_text(f"{round(butter.scaled.exact_g * larger)}".rjust(3))
    assert larger == pytest.approx(1.05, abs=0.01)
    # It is weighed on from there, and the water is larger as well.
    scale.put(round(butter.scaled.exact_g * larger))
    expect(page.locator("[data-what]")).to_have_text("water")
    expect(page.locator("[data-target]")).to_contain_text(str(round(water.scaled.exact_g * larger)))


@pytest.fixture
def probe(demo):
    """A probe that sends to the demo; answers where its tip is."""
    every = stand_ins(demo, 0)
    every.server.server_close()
    alone = StandIns({"probe": every.found["probe"]}, 0)
    alone.start()
    yield every.found["probe"]
    alone.stop()


def test_a_warm_probe_sends_the_dough_back_and_moves_the_clock(as_role, demo, probe):
    make = Make.objects.filter(state="planned", formula_version__formula__name="Harbour tart shell").first()
    head = get_user_model().objects.get(username="teo")
    start_make(make)
    while (current := run_of(make).progress.current).step.key != "roll.main":
        record(head, make, kind="done", step_key=current.step.key, client_id=uuid4().hex)
    page = as_role("Teo Marsh")
    probe.act("set", 12.0)
    page.goto(f"{demo}/bench/{make.pk}/")
    expect(page.locator("[data-says]")).to_contain_text("planned")
    probe.act("set", 23.0)
    expect(page.locator("[data-says]")).to_contain_text("too warm: 16 °C at most")
    expect(page.locator("[data-c]")).to_have_text(re.compile(r"^22\.[6-9] °C|^23\.\d °C"))
    back = page.get_by_role("button", name="Back into the cold")
    minutes = int(re.search(r"(\d+) min", back.inner_text()).group(1))
    back.click()
    shown = page.locator(".bench-step:not([hidden])")
    expect(shown.locator("h1")).to_have_text("Rest and chill")
    clock = shown.locator(".time.clock").inner_text().split(":")
    left = int(clock[-2]) + (60 * int(clock[0]) if len(clock) == 3 else 0)
    assert minutes - 3 <= left <= minutes


def test_a_rescue_is_taken_at_the_bench_and_moves_the_hours(as_role, demo):
    """A sheet that was probed at 21 °C: what is wrong, what to do, and the plan from here with it."""
    make = Make.objects.filter(state="planned", formula_version__formula__name="Harbour tart shell").first()
    start_make(make)
    teo = get_user_model().objects.get(username="teo")
    while (current := run_of(make).progress.current).step.key != "roll.main":
        record(teo, make, kind="done", step_key=current.step.key, client_id=uuid4().hex)
    record(teo, make, kind="probed", step_key="roll.main", client_id=uuid4().hex, value={"c": "21"})
    page = as_role("Teo Marsh")
    page.goto(f"{demo}/bench/{make.pk}/")
    before = page.locator(".bench-step:not([hidden]) h1").inner_text()
    page.get_by_role("link", name="Something is wrong").first.click()
    box = page.locator("#wrong-box")
    expect(box.get_by_role("heading", name="What is wrong?")).to_be_visible()
    assert box.locator(".troubles a").count() <= 6
    box.get_by_role("link", name="Too soft").click()
    expect(box).to_contain_text("21 °C by the probe")
    expect(box.locator(".remedy").first).to_contain_text("later")
    box.get_by_role("button", name="Do this").first.click()
    expect(page.locator(".bench-step:not([hidden]) h1")).to_have_text("Back in the cold")
    expect(page.locator(".bench-step:not([hidden]) [data-clock]")).to_have_text(re.compile(r"^\d:\d\d$"))
    moved = page.locator(".moved")
    expect(moved).to_contain_text("Roll again")
    assert moved.locator("s").count() >= 1
    page.get_by_role("button", name="Take it back").click()
    expect(page.locator(".bench-step:not([hidden]) h1")).to_have_text(before)

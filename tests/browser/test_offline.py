"""An hour without a network at the bench: the open make goes on, opens anew, its taps arrive once and in order."""

import re
import time

import pytest
from playwright.sync_api import expect

from tests.browser.servers import Server
from tests.browser.test_bench import done, open_kitchen, plan_a_make

KEPT = """async () => {
  const found = [];
  for (const name of await caches.keys())
    for (const each of await (await caches.open(name)).keys()) found.push(each.url);
  return found;
}"""
# The clock of the device, so many minutes on: an hour passes while the network is down.
LATER = """
const real = Date.now;
Date.now = () => real() + Number(sessionStorage.getItem("later") || 0) * 60000;
"""


@pytest.fixture
def server(tmp_path):
    found = Server(tmp_path).start()
    yield found
    found.kill()


@pytest.fixture
def bench(server, browser):
    """A make that was just started, at its bench."""
    page = browser.new_context(viewport={"width": 1024, "height": 768}).new_page()
    page.add_init_script(LATER)
    page.set_default_timeout(20_000)
    open_kitchen(page, server)
    number = plan_a_make(page, server)
    page.goto(f"{server.url}/bench/{number}/")
    page.get_by_role("button", name="Start at the bench").click()
    expect(page.locator(".bench-step:not([hidden]) h1")).to_have_text("Weigh")
    return page


def until_kept(page, words):
    """Until what is kept of the page holds some words."""
    holds = f"""async () => {{
      const kept = await (await caches.open('north-fold-bench')).match(location.pathname);
      return Boolean(kept) && (await kept.text()).includes({words!r});
    }}"""
    for _ in range(600):
        if page.evaluate(holds):
            return
        page.wait_for_timeout(100)
    raise AssertionError("the page was not kept")


def shown(page):
    return page.locator(".bench-step:not([hidden]) h1")


def test_the_open_make_goes_on_for_an_hour_and_its_taps_arrive(bench, server):
    done(bench)
    expect(shown(bench)).to_have_text("Mix")
    until_kept(bench, "All steps, 1 of")
    server.kill()
    done(bench)
    expect(shown(bench)).to_have_text("Shape")
    bench.evaluate("sessionStorage.setItem('later', '2')")
    # Opened anew while nobody answers: the page as it was, with the tap that nobody has yet.
    bench.reload()
    expect(shown(bench)).to_have_text("Shape")
    expect(bench.locator("#bench-say")).to_contain_text("No connection")
    done(bench)
    expect(shown(bench)).to_have_text("Rest and chill")
    clock = bench.locator(".bench-step:not([hidden]) .time.clock")
    expect(clock).to_have_text(re.compile(r"^(1:00:00|5\d:\d\d)$"))
    # An hour later it is over, by the same clock, though the page was closed meanwhile.
    bench.evaluate("sessionStorage.setItem('later', '63')")
    bench.reload()
    expect(shown(bench)).to_have_text("Rest and chill")
    expect(clock).to_have_text(re.compile(r"^\+\d+:\d\d$"))
    done(bench)
    assert bench.evaluate("Bench.taps.all().length") == 3
    server.start()
    bench.evaluate("sessionStorage.setItem('later', '0')")
    expect(bench.locator("#bench-say")).to_be_hidden(timeout=30_000)
    rows = server.rows("select kind, step_key from bench_benchevent order by seq")
    assert rows == [("done", key) for key in ("weigh", "mix", "shape", "rest.1")]


def test_nothing_private_is_left_after_signing_out(bench, server):
    done(bench)
    until_kept(bench, "All steps, 1 of")
    address = bench.url
    bench.goto(f"{server.url}/")
    bench.get_by_role("button", name="Sign out").first.click()
    expect(bench.get_by_role("button", name="Sign in")).to_be_visible()
    for _ in range(50):
        if not bench.evaluate("caches.has('north-fold-bench')"):
            break
        time.sleep(0.1)
    assert bench.evaluate("caches.has('north-fold-bench')") is False
    server.kill()
    with pytest.raises(Exception, match="ERR_"):
        bench.goto(address)


def test_only_the_bench_is_kept(bench, server):
    done(bench)
    until_kept(bench, "All steps, 1 of")
    bench.goto(f"{server.url}/book/")
    bench.goto(f"{server.url}/makes/1/steps/")
    kept = {re.sub(r"^https?://[^/]+", "", each).split("?")[0] for each in bench.evaluate(KEPT)}
    assert all(each.startswith("/static/") or re.fullmatch(r"/bench/\d+/", each) for each in kept)
    assert {"/static/bench/bench.js", "/static/bench/bench.css"} <= {re.sub(r"\.[0-9a-f]{12}\.", ".", k) for k in kept}

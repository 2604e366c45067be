"""From a pasted recipe to a measured result, as head and bench, on two devices, with the server restarted between."""

import re
import time

import pytest
from playwright.sync_api import expect

from tests.browser.servers import Server

HARBOUR = "420 g plain flour\n280 g cold unsalted butter, diced\n140 g cold water\n7 g fine salt"
# Between two looks at a clock on a busy machine; the other device is ten minutes off. [s]
OFF_BY_S = 5
TEN_MINUTES_FAST = "const real = Date.now; Date.now = () => real() + 600000;"


@pytest.fixture
def server(tmp_path):
    found = Server(tmp_path).start()
    yield found
    found.kill()


def seconds_of(page):
    """Seconds left as the page shows them."""
    text = page.locator(".bench-step:not([hidden]) .time.clock").inner_text()
    numbers = [int(part) for part in text.split(":")]
    return sum(number * 60**power for power, number in enumerate(reversed(numbers)))


def sign_in(page, server, name, password):
    page.goto(f"{server.url}/sign-in/")
    page.fill("#id_username", name)
    page.fill("#id_password", password)
    page.get_by_role("button", name="Sign in").click()
    # The head chose that password, so one's own comes first.
    page.wait_for_url(f"{server.url}/password/")
    page.get_by_label("Present password").fill(password)
    page.get_by_label("New password").fill(f"own-{password}")
    page.get_by_label("Once more").fill(f"own-{password}")
    page.get_by_role("button", name="Change it").click()
    page.wait_for_url(f"{server.url}/")


def open_kitchen(page, server):
    """The first visitor opens a kitchen with a tin and a bench hand."""
    page.goto(server.url)
    for field, value in (
        ("kitchen", "Quay"),
        ("full_name", "Ann Wick"),
        ("username", "ann"),
        ("password", "lamp-77-x"),
    ):
        page.fill(f"#id_{field}", value)
    page.get_by_role("button", name="Open it").click()
    page.goto(f"{server.url}/kitchen/tins/new/?kind=round")
    for field, value in (("name", "Flan tin"), ("top_mm", "230"), ("height_mm", "25"), ("owned", "6")):
        page.fill(f"#id_{field}", value)
    page.get_by_role("button", name="Save").click()
    page.goto(f"{server.url}/kitchen/people/new/")
    for field, value in (("name", "Teo"), ("username", "teo"), ("password", "lamp-78-y")):
        page.fill(f"#id_{field}", value)
    page.get_by_role("button", name=re.compile("Save|Add")).click()


def plan_a_make(page, server):
    """Paste, save, make it: six flush cases, an hour less nine minutes in the tin. Answers the make's number."""
    page.goto(f"{server.url}/book/new/")
    page.fill("#name", "Harbour case")
    page.fill("#paste", HARBOUR)
    page.click("#add")
    expect(page.locator("#headline")).to_have_text("3 : 2 : 1")
    page.click("#save")
    page.locator("a[href^='/makes/new/']").click()
    page.select_option("#id_tin", index=1)
    page.fill("#id_count", "6")
    page.locator("form.narrow button.main-act").click()
    page.wait_for_url(re.compile(r"/makes/\d+/size/$"))
    number = re.search(r"/makes/(\d+)/", page.url)[1]
    page.goto(f"{server.url}/makes/{number}/steps/")
    page.select_option("#f-line-trimming", "flush")
    expect(page.locator("#method")).to_contain_text("leave 2 mm proud")
    page.fill("#f-chill-1-minutes", "51")
    page.keyboard.press("Tab")
    expect(page.locator("#pleat")).to_contain_text("1.1 %")
    return number


def done(page):
    page.locator(".bench-step:not([hidden]) .done").click()


def test_from_paste_to_a_result_that_teaches(server, browser):
    head = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    head.set_default_timeout(20_000)
    open_kitchen(head, server)
    number = plan_a_make(head, server)

    teo = browser.new_context(viewport={"width": 390, "height": 844})
    teo.add_init_script(TEN_MINUTES_FAST)
    bench = teo.new_page()
    bench.set_default_timeout(20_000)
    sign_in(bench, server, "teo", "lamp-78-y")
    bench.goto(f"{server.url}/bench/{number}/")
    bench.get_by_role("button", name="Start at the bench").click()
    head.goto(f"{server.url}/bench/{number}/")

    # Weigh: ticked at the planned weight, and the water as it really was.
    lines = bench.locator(".bench-step:not([hidden]) .line")
    for index in (0, 1, 3):
        lines.nth(index).locator(".tick").click()
    lines.nth(2).locator(".other").click()
    for key in "281":
        bench.locator(f"#pad [data-key='{key}']").click()
    bench.locator("#pad-keep").click()
    expect(lines.nth(2)).to_contain_text("planned 248")
    for ticked in lines.all():
        expect(ticked).to_have_class(re.compile("ticked"))
    done(bench)
    expect(bench.locator(".bench-step:not([hidden]) h1")).to_have_text("Mix")
    expect(head.locator(".bench-step:not([hidden]) h1")).to_have_text("Mix")  # by itself, on the other device

    # A probe of 900 degrees is refused at once; a real one is kept.
    bench.get_by_role("button", name="Probe").click()
    for key in "900":
        bench.locator(f"#pad [data-key='{key}']").click()
    bench.locator("#pad-keep").click()
    expect(bench.locator("#pad-error")).to_contain_text("900 °C is outside −40 to 130 °C")
    expect(bench.locator("#pad-shown")).to_have_text("900")
    for key in ("back", "back", "back", "1", "3"):
        bench.locator(f"#pad [data-key='{key}']").click()
    bench.locator("#pad-keep").click()
    expect(bench.locator(".bench-step:not([hidden])")).to_contain_text("13 °C")
    bench.keyboard.press("PageDown")  # a foot pedal
    expect(bench.locator(".bench-step:not([hidden]) h1")).to_have_text("Shape")
    done(bench)
    expect(bench.locator(".back:not([hidden])")).to_be_visible()

    # The wait is the same on both, though one device's clock is ten minutes fast, and outlives the server.
    expect(head.locator(".bench-step:not([hidden]) h1")).to_have_text("Rest and chill")
    began, planned = ends_by_events(server)
    for page in (head, bench):
        assert off_by(page, began + planned) <= OFF_BY_S
    server.kill()
    expect(bench.locator("#bench-say")).to_contain_text("No connection", timeout=20_000)
    server.start()
    expect(bench.locator("#bench-say")).to_be_hidden(timeout=20_000)
    head.reload()
    for page in (head, bench):
        assert off_by(page, began + planned) <= OFF_BY_S

    # "Done" on both gives one event.
    done(head)
    done(bench)
    expect(bench.locator(".bench-step:not([hidden]) h1")).not_to_have_text("Rest and chill")
    expect(head.locator(".bench-step:not([hidden]) h1")).not_to_have_text("Rest and chill")
    count = "select count(*) from bench_benchevent where kind = 'done' and step_key = 'rest.1'"
    for _ in range(50):
        if server.rows(count) != [(0,)]:
            break
        head.wait_for_timeout(100)
    head.wait_for_timeout(500)
    assert server.rows(count) == [(1,)]

    # Taps during a lost connection are kept on the device and sent once.
    before = server.rows("select count(*) from bench_benchevent")[0][0]
    teo.set_offline(True)
    first = bench.locator(".bench-step:not([hidden]) h1").inner_text()
    done(bench)
    done(bench)
    expect(bench.locator("#bench-say")).to_contain_text("taps are kept here")
    assert bench.locator(".bench-step:not([hidden]) h1").inner_text() != first
    teo.set_offline(False)
    expect(bench.locator("#bench-say")).to_be_hidden(timeout=20_000)
    assert server.rows("select count(*) from bench_benchevent") == [(before + 2,)]

    while bench.locator(".bench-step.over").is_hidden():
        step = bench.locator(".bench-step:not([hidden])").get_attribute("data-step")
        done(bench)
        expect(bench.locator(f".bench-step:not([hidden])[data-step='{step}']")).to_have_count(0)
    bench.route("**/finish/", answer_late)
    bench.get_by_role("button", name="Finish").click()
    bench.wait_for_url("**/result/")

    # The head measures three percent where about 1.1 was reckoned, and sees what that teaches.
    head.goto(f"{server.url}/makes/{number}/result/")
    for when, value in (("before", "2"), ("after", "−2.2")):
        for point in ("far", "right", "near", "left"):
            head.fill(f"#id_{when}_{point}", value)
    head.fill("#id_gap", "1")
    head.locator(".case-part[data-part='base']").click()
    head.get_by_label("domed").check()
    head.get_by_role("button", name="Save").click()
    page = head.locator("main")
    for words in ("3.0 %", "1.32", "1.04–1.61", "domed", "Its weight is 0.31"):
        expect(page).to_contain_text(words)
    rows = head.locator("table").last.locator("tbody tr")
    assert [float(text) for text in rows.nth(0).locator("td.num").all_inner_texts()] == pytest.approx(
        [1.107, 1.55, 2], abs=0.06
    )
    assert [float(text) for text in rows.nth(1).locator("td.num").all_inner_texts()] == pytest.approx(
        [1.47, 2.06, 3], abs=0.06
    )
    head.get_by_role("button", name="Make it again").click()
    head.wait_for_url(re.compile(r"/makes/\d+/size/$"))
    expect(head.locator(".drawing")).to_contain_text("leave 3 mm proud")


def answer_late(route):
    """The server does as it is asked, and its answer comes only after the bench has looked how things stand."""
    answer = route.fetch(max_redirects=0)
    time.sleep(3)
    route.fulfill(response=answer)


def server_now(page):
    """The server's own time in seconds, from its answer's header."""
    return float(page.evaluate("fetch(location.href).then((answer) => answer.headers.get('X-Now'))")) / 1000


def off_by(page, ends_s):
    """By how many seconds a page's countdown is off the server's time; the nearest of ten looks, for answers lag."""
    return min(abs(seconds_of(page) - (ends_s - server_now(page))) for _ in range(10))


def ends_by_events(server):
    """When the rest began by the events, and its length. [s]"""
    seconds = "(julianday(max(at)) - 2440587.5) * 86400"
    ((began,),) = server.rows(f"select {seconds} from bench_benchevent where step_key = 'shape'")
    return began, 60 * 60


def test_a_step_is_taken_back_and_moods_change(as_role, demo):
    page = as_role("Teo Marsh")
    page.goto(f"{demo}/bench/21/")
    step = page.locator(".bench-step:not([hidden])").get_attribute("data-step")
    page.locator(".bench-step:not([hidden]) .done").click()
    page.get_by_role("button", name=re.compile("Back a step")).click()
    expect(page.locator(f".bench-step:not([hidden])[data-step='{step}']")).to_be_visible()
    page.get_by_role("button", name="Light").click()
    expect(page.locator("body")).to_have_class(re.compile("bench-light"))


def test_a_tap_leaves_the_device_only_by_an_answer_that_names_it(as_role, demo):
    """Whatever stands between: too many, too large, gone, a page of a proxy's that says all is well."""
    page = as_role("Teo Marsh")
    page.goto(f"{demo}/bench/21/")
    kept = f"JSON.parse(localStorage.getItem('north-fold-taps-{21}') || '[]').length"
    answers = [
        (404, "gone"),
        (409, "{}"),
        (413, "<h1>Too large</h1>"),
        (429, '{"id": "another"}'),
        (200, "<h1>Hello</h1>"),
    ]
    page.route("**/bench/21/events/", lambda route: route.fulfill(status=answers[0][0], body=answers[0][1]))
    page.locator(".bench-step:not([hidden]) .done").click()
    for status, _ in list(answers):
        with page.expect_response("**/bench/21/events/") as answered:
            page.evaluate("Bench.taps.flush()")
        assert answered.value.status == status
        assert page.evaluate(kept) == 1
        expect(page.locator("#bench-say")).to_contain_text("One tap is kept here and sent again.")
        answers.append(answers.pop(0))
    page.unroute("**/bench/21/events/")
    with page.expect_response("**/bench/21/events/") as answered:
        page.evaluate("Bench.taps.flush()")
    assert answered.value.status == 200
    page.wait_for_function(f"{kept} === 0")


def test_an_answer_that_was_asked_for_before_a_tap_brings_no_step_back(as_role, demo):
    """A slow answer comes in after a tap was taken: "done" must then mean the step that is shown."""
    page = as_role("Teo Marsh")
    page.goto(f"{demo}/bench/21/")
    shown = page.locator(".bench-step:not([hidden])")
    before = shown.get_attribute("data-step")
    late = []
    page.route("**/bench/21/state/**", lambda route: late.append((route, route.fetch())))
    page.evaluate("void Bench.refresh(true)")
    while not late:
        page.wait_for_timeout(50)
    with page.expect_response("**/bench/21/events/"):
        shown.locator(".done").click()
    expect(shown).not_to_have_attribute("data-step", before)
    late[0][0].fulfill(response=late[0][1])
    page.wait_for_timeout(300)
    assert shown.get_attribute("data-step") != before
    page.unroute_all(behavior="ignoreErrors")


def test_a_double_tap_is_one(as_role, demo):
    page = as_role("Teo Marsh")
    page.goto(f"{demo}/bench/21/")
    with page.expect_response("**/bench/21/events/") as answered:
        page.locator(".bench-step:not([hidden]) .done").dblclick()
    assert answered.value.status == 200
    page.wait_for_timeout(500)
    assert page.evaluate("Bench.taps.answered") == 1


def test_small_type_and_targets_of_the_bench(as_role, demo):
    """Nothing under 28 px from 768 px wide, under 24 on a phone; targets at least 56 high, the main ones 96."""
    page = as_role("Teo Marsh")
    for width, least in ((1280, 28), (1024, 28), (390, 24)):
        page.set_viewport_size({"width": width, "height": 844})
        for number in (19, 21):
            page.goto(f"{demo}/bench/{number}/")
            sizes = page.evaluate(
                "() => [...document.querySelectorAll('#bench-frame *')].filter(e => e.offsetParent && "
                "[...e.childNodes].some(n => n.nodeType === 3 && n.textContent.trim()))"
                ".map(e => [parseFloat(getComputedStyle(e).fontSize), e.textContent.trim().slice(0, 30)])"
            )
            assert [words for size, words in sizes if size < least] == [], (width, number)
            height = page.locator(".bench-step:not([hidden]) .done").bounding_box()["height"]
            assert height >= 96, (width, number)
            assert page.evaluate("document.documentElement.scrollWidth") <= width, (width, number)

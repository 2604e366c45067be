"""What every page owes its readers: accessible, its words apart, its letters in the house's own type."""

import html
import itertools
import re

from axe_playwright_python.sync_playwright import Axe
from django.contrib.auth import get_user_model
from fontTools.ttLib import TTFont

from tests.web.test_house import VENDOR

MAIN = [
    "/", "/today/", "/book/", "/book/1/", "/makes/1/dough/", "/makes/1/size/", "/makes/1/weigh/", "/makes/1/steps/",
    "/makes/1/cold/", "/makes/1/bake/", "/makes/6/fold/", "/makes/1/steps/card/", "/methods/",
    "/bench/19/", "/bench/21/", "/bench/19/wrong/?trouble=soft", "/wall/", "/makes/7/result/", "/makes/19/result/",
    "/makes/new/1/", "/kitchen/", "/kitchen/places/", "/kitchen/ingredients/?q=butter", "/kitchen/people/new/",
    "/kitchen/record/", "/password/",
    "/kitchen/ingredients/1/", "/book/1/v/1/", "/cold-store/", "/book/5/", "/makes/5/size/", "/makes/22/size/?have=640",
    "/makes/23/weigh/", "/kitchen/machines/new/", "/kitchen/how-we-reckon/",
    "/kitchen/tins/new/?kind=free_round", "/nowhere/", "/makes/27/fill/", "/makes/30/fill/", "/book/14/",
    "/makes/shopping/", "/book/new/?kind=crumble", "/makes/28/labels/", "/makes/25/allergens/", "/makes/43/steps/",
    "/book/print/", "/book/read/", "/kitchen/backups/", "/makes/calendar/", "/kitchen/tins/new/?kind=plate",
    "/kitchen/files/", "/makes/19/notes/", "/makes/1/notes/", "/kitchen/devices/", "/day/", "/today/?hours=48",
    "/week/", "/week/orders/new/?like=49", "/week/levels/1/",
]  # fmt: skip
MORE = [
    "/book/new/", "/makes/4/size/", "/makes/19/dough/", "/makes/19/size/", "/kitchen/ingredients/", "/kitchen/people/",
    "/kitchen/places/1/", "/book/using/1/", "/kitchen/ovens/new/", "/kitchen/tins/1/", "/bench/1/", "/bench/7/",
    "/makes/1/result/", "/makes/6/size/", "/makes/22/cold/", "/makes/23/size/", "/makes/5/weigh/", "/kitchen/tins/10/",
    "/makes/6/steps/", "/makes/19/steps/", "/makes/34/fill/",
    "/makes/41/fill/", "/makes/1/fill/", "/makes/39/fold/", "/makes/40/cold/", "/makes/37/steps/",
]  # fmt: skip
ON_A_PHONE = [
    "/",
    "/today/",
    "/cold-store/",
    "/makes/27/fill/",
    "/book/read/",
    "/kitchen/backups/",
    "/kitchen/files/",
    "/kitchen/devices/",
    "/makes/19/notes/",
    "/makes/1/dough/",
    "/makes/1/steps/",
    "/bench/21/",
    "/makes/19/result/",
    "/day/",
    "/week/",
]
OPTIONS = {"runOnly": ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]}
MESSY = (
    "For the base:\n½ cup butter / 225 g\n100 g blorp\nsalt to taste\n-5 g sugar\n30 ml cream\nRub it in until fine."
)


def faults(page):
    found = Axe().run(page, options=OPTIONS).response["violations"]
    return [(fault["id"], [node["html"][:120] for node in fault["nodes"]][:3]) for fault in found]


def test_axe_finds_nothing(as_role, demo):
    page = as_role()
    for address in MAIN:
        answer = page.goto(demo + address)
        assert answer.status == (404 if address == "/nowhere/" else 200), address
        assert page.locator("h1:visible").count() == 1, address
        assert faults(page) == [], address


def test_axe_finds_nothing_on_the_sign_in_and_on_a_phone(watched, demo):
    watched.goto(f"{demo}/sign-in/")
    assert faults(watched) == []
    watched.get_by_role("button", name="Runa Haldane").click()
    watched.set_viewport_size({"width": 390, "height": 844})
    for address in ON_A_PHONE:
        assert watched.goto(demo + address).status == 200, address
        assert faults(watched) == [], address
    for address in (*MAIN, *MORE):
        watched.goto(demo + address)
        for width in (320, 390):  # 320: a page of 1280 magnified four times
            watched.set_viewport_size({"width": width, "height": 844})
            assert watched.evaluate("document.documentElement.scrollWidth") <= width, (address, width)


def test_a_time_that_is_over_flashes_and_can_be_read_all_the_while(as_role, demo):
    page = as_role()
    page.goto(f"{demo}/bench/21/")
    page.locator("[data-ends]").first.evaluate("e => e.setAttribute('data-ends', Date.now() - 60000)")
    page.locator(".clock.is-over").first.wait_for()
    for moment in (100, 600):  # [ms]: one in each half of a flash
        flashing = page.evaluate(
            "at => document.getAnimations().filter(a => a.animationName === 'flash')"
            ".map(a => { a.pause(); a.currentTime = at; return a; }).length",
            moment,
        )
        assert flashing >= 1
        assert faults(page) == []


def test_axe_finds_nothing_where_much_is_doubtful(as_role, demo):
    page = as_role()
    page.goto(f"{demo}/book/new/")
    page.fill("#paste", MESSY)
    page.click("#add")
    page.locator(".doubt-box").first.wait_for()
    page.locator("input.grams").first.fill("abc")
    page.keyboard.press("Tab")
    page.locator("[aria-invalid=true]").wait_for()
    assert faults(page) == []


def test_words_of_the_triangle_never_overlap_as_drawn(as_role, demo):
    page = as_role()
    for number in range(1, 11):
        page.goto(f"{demo}/book/{number}/")
        boxes = page.evaluate(
            "() => [...document.querySelectorAll('.triangle text')].map(t => {const b = t.getBBox();"
            "return [t.textContent, b.x, b.y, b.x + b.width, b.y + b.height]})"
        )
        assert len(boxes) > 15
        for (one, x1, y1, x2, y2), (other, u1, v1, u2, v2) in itertools.combinations(boxes, 2):
            assert not (x1 < u2 and u1 < x2 and y1 + 3 < v2 - 3 and v1 + 3 < y2 - 3), (number, one, other)
        for words, left, _, right, _ in boxes:
            assert left >= -1, (number, words)
            assert right <= 657, (number, words)


def test_no_letter_falls_back_to_another_type(client, demo):
    """Every character that the demo's pages show is in the type they are set in."""
    client.force_login(get_user_model().objects.get(username="runa"), "django.contrib.auth.backends.ModelBackend")
    shown = set()
    for address in (*MAIN, *MORE):
        page = re.sub(
            r"<(script|style|head)\b.*?</\1>|<[^>]*>", " ", client.get(address).content.decode(), flags=re.DOTALL
        )
        shown |= set(html.unescape(page))
    known = set(map(chr, TTFont(VENDOR / "atkinson-400.woff2").getBestCmap()))
    assert len(shown) > 80
    assert shown - known - {"\n", "\t", "\u2009"} == set()

"""Killed in the middle of bench taps, the server has every event that it acknowledged."""

import http.cookiejar
import json
import threading
import time
import urllib.error
import urllib.parse
import urllib.request
from itertools import count

import pytest

from tests.browser.servers import Server

RECIPE = "420 g plain flour\n280 g unsalted butter\n140 g water\n7 g fine salt"


class Visitor:
    """A signed-in device without a browser."""

    def __init__(self, server):
        self.server = server
        self.cookies = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(
            urllib.request.ProxyHandler({}), urllib.request.HTTPCookieProcessor(self.cookies)
        )

    def get(self, path):
        return self.opener.open(self.server.url + path, timeout=20).read().decode()

    @property
    def token(self):
        return next(cookie.value for cookie in self.cookies if cookie.name == "csrftoken")

    def post(self, path, data, **headers):
        headers = {"X-CSRFToken": self.token, "Referer": self.server.url + path, **headers}
        body = data if isinstance(data, bytes) else urllib.parse.urlencode(data).encode()
        request = urllib.request.Request(self.server.url + path, body, headers)
        return self.opener.open(request, timeout=20)

    def tap(self, make, **sent):
        return self.post(f"/bench/{make}/events/", json.dumps(sent).encode(), **{"Content-Type": "application/json"})


@pytest.fixture
def server(tmp_path):
    found = Server(tmp_path)
    found.manage("shell", "-c", PREPARED)
    found.start()
    yield found
    found.kill()


PREPARED = f"""
from tests.conftest import write_formula
from northfold.kitchen import services as kitchen
from northfold.kitchen.models import Tin
from northfold.makes import services as makes
head = kitchen.start_kitchen(name="Q", full_name="Ann", username="ann", password="lamp-room-77")
tin = kitchen.save_row(Tin(), dict(name="Flan", kind="round", top_mm=230, base_mm=230, height_mm=25))
makes.start_make(makes.create_make(head, write_formula(head, text={RECIPE!r}), tin=tin, count=6, due_at=None))
"""


def test_kill_loses_no_acknowledged_event(server):
    visitor, make = Visitor(server), 1
    visitor.get("/sign-in/")
    visitor.post("/sign-in/", {"username": "ann", "password": "lamp-room-77"})
    acknowledged, refused = [], []
    stop = threading.Event()

    def tap_on():
        for number in count():
            if stop.is_set():
                return
            sent = {"kind": "weighed", "step_key": "weigh", "client_id": f"tap-{number}"}
            try:
                answer = visitor.tap(make, **sent, value={"line": number % 4, "grams": 100 + number})
                acknowledged.append(json.load(answer)["id"])
            except (OSError, http.client.HTTPException, ValueError):
                refused.append(number)
                return

    tapping = threading.Thread(target=tap_on)
    tapping.start()
    deadline = time.monotonic() + 30
    while len(acknowledged) < 25 and time.monotonic() < deadline:
        time.sleep(0.01)
    server.kill()
    stop.set()
    tapping.join(30)
    assert len(acknowledged) >= 25
    assert refused, "it was killed while taps were under way"
    server.start()
    kept = {client_id for (client_id,) in server.rows("select client_id from bench_benchevent")}
    assert set(acknowledged) <= kept
    assert len(kept) - len(acknowledged) <= 1  # at most the one whose answer was cut off
    # The device sends its last tap again: it counts once.
    visitor.tap(make, kind="weighed", step_key="weigh", client_id=acknowledged[-1], value={"line": 0, "grams": 1})
    assert len(server.rows("select client_id from bench_benchevent")) == len(kept)

"""Signing in: what guessing meets, and whose word is taken for where a visitor comes from."""

import http.client
import itertools
import time
from concurrent.futures import ThreadPoolExecutor
from types import SimpleNamespace

import pytest
import time_machine
from django.contrib.auth import hashers
from django.test import Client

from northfold.config.serving import PACE_S, TwoQueues
from northfold.web.accounts import brake
from northfold.web.accounts.hashing import SingleFilePBKDF2
from northfold.web.models import AuditEntry
from tests.browser.servers import Server
from tests.web.test_survives import Visitor

RIGHT = {"username": "head", "password": "quay-side-head"}


def attempt(client, name="head", password="not it", address="10.0.0.1", **more):
    return client.post("/sign-in/", {"username": name, "password": password}, REMOTE_ADDR=address, **more)


def guess(times, **how):
    """That many wrong passwords, each from a browser that nobody knows."""
    return [attempt(Client(), **how).status_code for _ in range(times)]


# ---------------------------------------------------------------- the brake


def test_a_name_is_shut_where_it_was_guessed_and_open_elsewhere(people):
    assert guess(6) == [200, 200, 200, 200, 429, 429]
    assert attempt(Client(), **{"name": "head", "password": RIGHT["password"]}).status_code == 429
    assert attempt(Client(), password=RIGHT["password"], address="10.0.0.2").status_code == 302
    assert attempt(Client(), name="bench", password="quay-side-bench").status_code == 302


def test_a_known_device_signs_in_though_everybody_shares_one_address(people):
    """Behind a proxy that is not named as trusted, guesser and head come from the same place."""
    tablet = Client()
    assert attempt(tablet, password=RIGHT["password"]).status_code == 302
    tablet.post("/sign-out/")
    guess(30)
    assert attempt(Client(), password=RIGHT["password"]).status_code == 429
    assert attempt(tablet, password=RIGHT["password"]).status_code == 302


def test_a_known_device_has_its_own_count(people):
    tablet = Client()
    attempt(tablet, password=RIGHT["password"])
    tablet.post("/sign-out/")
    assert [attempt(tablet).status_code for _ in range(5)] == [200, 200, 200, 200, 429]
    assert attempt(tablet, password=RIGHT["password"]).status_code == 429
    # What is vouched for is that name alone.
    assert attempt(tablet, name="bench").status_code == 200


def test_a_forged_device_gets_no_count_of_its_own(people, settings):
    guess(5)
    forger = Client()
    forger.cookies[settings.DEVICE_COOKIE_NAME] = "eyJpZCI6ImEiLCJuYW1lcyI6WyJoZWFkIl19:1abcde:forged"
    assert attempt(forger, password=RIGHT["password"]).status_code == 429


def test_one_address_is_shut_whatever_names_it_tries(people):
    tried = [attempt(Client(), name=f"name{number}").status_code for number in range(21)]
    assert tried == [200] * 19 + [429, 429]
    assert attempt(Client(), name="bench", password="quay-side-bench").status_code == 429
    assert attempt(Client(), name="bench", password="quay-side-bench", address="10.0.0.2").status_code == 302


def test_a_name_guessed_from_everywhere_is_open_where_it_signed_in_before(people):
    """And at most a hundred wrong passwords an hour are looked at for one account, by OWASP ASVS 2.2.1."""
    attempt(Client(), password=RIGHT["password"], address="10.0.0.7")
    tried = [attempt(Client(), address=f"10.0.{number}.9").status_code for number in range(1, 61)]
    assert tried.count(200) + 1 == brake.PER_NAME <= 100
    assert attempt(Client(), password=RIGHT["password"], address="10.9.9.9").status_code == 429
    assert attempt(Client(), password=RIGHT["password"], address="10.0.0.7").status_code == 302


def test_it_opens_again_by_itself(people):
    with time_machine.travel("2026-11-27 12:00+0000", tick=False):
        guess(5)
        assert attempt(Client(), password=RIGHT["password"]).status_code == 429
    with time_machine.travel("2026-11-27 12:15:01+0000", tick=False):
        assert attempt(Client(), password=RIGHT["password"]).status_code == 302


def test_what_is_stopped_is_not_hashed(people, monkeypatch):
    guess(5)
    monkeypatch.setattr(hashers, "check_password", lambda *_: pytest.fail("a password was looked at"))
    monkeypatch.setattr(hashers.MD5PasswordHasher, "encode", lambda *_: pytest.fail("something was hashed"))
    assert attempt(Client()).status_code == 429


def test_an_unknown_name_is_shut_like_a_known_one_and_not_written_down(people):
    assert guess(5, name="hunter2-my-password") == [200, 200, 200, 200, 429]
    assert not any("hunter2" in str(row) for row in AuditEntry.objects.values_list())


def test_the_page_of_ones_own_password_is_braked_too(sign_in, people):
    client = sign_in("bench")
    form = {"old_password": "no", "new_password1": "harbour-lamp-7", "new_password2": "harbour-lamp-7"}
    assert [client.post("/password/", form).status_code for _ in range(5)] == [200, 200, 200, 200, 429]


def test_no_two_passwords_are_hashed_at_once(monkeypatch):
    at_once, most = [], []

    def slow(self, *rest):
        at_once.append(1)
        most.append(len(at_once))
        time.sleep(0.02)
        at_once.pop()
        return "hash"

    monkeypatch.setattr(hashers.PBKDF2PasswordHasher, "encode", slow)
    with ThreadPoolExecutor(6) as pool:
        list(pool.map(lambda _: SingleFilePBKDF2().encode("a", "b"), range(6)))
    assert max(most) == 1


def test_the_product_hashes_one_at_a_time():
    from northfold.config import settings

    assert settings.PASSWORD_HASHERS == ["northfold.web.accounts.hashing.SingleFilePBKDF2"]


class Asked:
    """A request as the server holds it before a thread takes it; 50 ms of work."""

    def __init__(self, method, path, log):
        self.requests, self.log = [SimpleNamespace(command=method, path=path)], log

    def service(self):
        began = time.monotonic()
        time.sleep(0.05)
        self.log.append((self.requests[0].command, self.requests[0].path, began, time.monotonic()))

    def cancel(self):
        pass


def test_passwords_queue_before_a_thread_of_their_own():
    """Guesses wait for one another; what the kitchen asks for meanwhile, and the page itself, is answered at once."""
    queues, log, began = TwoQueues(), [], time.monotonic()
    for path in ["/sign-in/"] * 12 + ["/password/"]:
        queues.add_task(Asked("POST", path, log))
    for path in ("/", "/sign-in/", "/today/", "/bench/1/state/"):
        queues.add_task(Asked("GET", path, log))
    while len([1 for method, *_ in log if method == "GET"]) < 4 and time.monotonic() - began < 5:
        time.sleep(0.005)
    assert time.monotonic() - began < 1.0  # behind the guesses they would wait for two seconds
    while len(log) < 4 + 6 and time.monotonic() - began < 5:
        time.sleep(0.005)
    queues.shutdown()
    guesses = sorted((start, end) for method, _, start, end in log if method == "POST")
    assert len(guesses) >= 6
    assert all(later >= end + PACE_S for (_, end), (later, _) in itertools.pairwise(guesses))


# ---------------------------------------------------------------- behind a proxy

FORWARDED = {"X-Forwarded-For": "203.0.113.9", "X-Forwarded-Proto": "https"}


def asked_through_a_proxy(server):
    visitor = Visitor(server)
    visitor.opener.addheaders = list(FORWARDED.items())
    page = visitor.get("/sign-in/")
    visitor.post("/sign-in/", {"username": "ann", "password": "wrong"}, Origin=server.url, **FORWARDED)
    ((address,),) = server.rows("select address from web_auditentry where kind = 'refused'")
    return page, address


@pytest.mark.parametrize(("proxy", "believed"), [("", "127.0.0.1"), ("127.0.0.1", "203.0.113.9")])
def test_a_forwarded_address_is_believed_of_the_trusted_proxy_alone(tmp_path, proxy, believed):
    server = Server(tmp_path)
    server.env |= {"NORTHFOLD_PROXY": proxy, "NORTHFOLD_ORIGINS": server.url}
    server.with_head()
    server.start()
    try:
        assert asked_through_a_proxy(server)[1] == believed
    finally:
        server.kill()


def test_a_forwarded_scheme_is_believed_of_the_trusted_proxy(tmp_path):
    """Plain requests are led to HTTPS; those that the proxy took over HTTPS are answered, in one page and no circle."""
    server = Server(tmp_path)
    server.env |= {"NORTHFOLD_PROXY": "127.0.0.1", "NORTHFOLD_HTTPS": "1"}
    server.with_head()
    server.start()
    try:
        line = http.client.HTTPConnection("127.0.0.1", server.port)
        codes = []
        for headers in ({}, {"X-Forwarded-Proto": "http"}, {"X-Forwarded-Proto": "https"}):
            line.request("GET", "/sign-in/", headers=headers)
            answer = line.getresponse()
            answer.read()
            codes.append(answer.status)
        assert codes == [301, 301, 200]
    finally:
        server.kill()


def test_what_makes_no_sense_is_said_before_the_start(tmp_path):
    server = Server(tmp_path)
    for env, words in (
        ({"NORTHFOLD_HTTPS": "1"}, "NORTHFOLD_PROXY"),
        ({"NORTHFOLD_IDLE_HOURS": "soon"}, "write hours from 0.1 to 720"),
    ):
        before = dict(server.env)
        server.env |= env
        code, said = server.say("serve")
        server.env = before
        assert code != 0
        assert words in said
        assert "Traceback" not in said

"""Accounts: what a password must be, the first one, how long a session lasts, what is written down of it all."""

import re
import subprocess
import sys
import time

import pytest
import time_machine
from django.contrib.auth import get_user_model
from django.test import Client

from northfold.kitchen import services as kitchen
from northfold.web.accounts import first_code, sessions
from northfold.web.audit import Kind
from northfold.web.models import AuditEntry
from tests.browser.servers import ROOT, Server
from tests.web.test_signing_in import RIGHT, attempt

# ---------------------------------------------------------------- passwords


@pytest.mark.parametrize(
    ("password", "is_taken"),
    [("lamp7qu", False), ("lamp7quo", True), ("lamp " * 25 + "lam", True), ("lamp " * 25 + "lamp", False)],
)
def test_how_long_a_password_may_be(sign_in, password, is_taken):
    """8 to 128 characters."""
    form = {"name": "Pell Strand", "username": "pell", "role": "bench", "password": password}
    assert sign_in("head").post("/kitchen/people/new/", form).status_code == (302 if is_taken else 422)


@pytest.mark.parametrize(
    "password", ["fjørd 🥧 blå  himmel", "  blanks around  ", "a" * 100 + "bcdefgh", "lantern room"]
)
def test_every_letter_of_a_password_counts(people, password):
    people["bench"].set_password(password)
    people["bench"].save()
    for wrong in (password[:-1], password.strip() + "x", password.swapcase()):
        assert attempt(Client(), "bench", wrong).status_code == 200
    assert attempt(Client(), "bench", password).status_code == 302


@pytest.mark.parametrize("password", ["pellstrand", "Strand-pell", "pell.strand1"])
def test_a_password_is_not_like_its_person(sign_in, password):
    form = {"name": "Pell Strand", "username": "pellstrand", "role": "bench", "password": password}
    answer = sign_in("head").post("/kitchen/people/new/", form)
    assert answer.status_code == 422
    assert b"too similar" in answer.content


def test_the_first_password_is_not_like_its_person(client, db):
    form = {"kitchen": "Slip Lane", "full_name": "Annabel Wickham", "username": "annabel", "password": "annabel1"}
    answer = client.post("/kitchen/start/", form)
    assert answer.status_code == 422
    assert b"too similar" in answer.content


def test_a_password_given_by_the_head_is_changed_at_the_first_sign_in(sign_in):
    form = {"name": "Pell Strand", "username": "pell", "role": "bench", "password": "harbour-lamp-7"}
    sign_in("head").post("/kitchen/people/new/", form)
    client = Client()
    assert attempt(client, "pell", "harbour-lamp-7").status_code == 302
    for address in ("/", "/book/", "/makes/1/size/"):
        assert client.get(address).url == "/password/"
    assert client.post("/kitchen/tins/1/bin/").url == "/password/"
    assert client.get("/", HTTP_HX_REQUEST="true").status_code == 401
    assert b"Choose one that nobody else knows" in client.get("/password/").content
    same = {"old_password": "harbour-lamp-7", "new_password1": "harbour-lamp-7", "new_password2": "harbour-lamp-7"}
    assert b"That is the present one" in client.post("/password/", same).content
    own = {**same, "new_password1": "own-lantern-9", "new_password2": "own-lantern-9"}
    assert client.post("/password/", own).status_code == 302
    assert client.get("/").status_code == 200


def test_a_new_password_from_the_head_signs_out_and_is_changed_too(sign_in, people):
    bench = Client()
    bench.force_login(people["bench"])
    head = sign_in("head")
    address = f"/kitchen/people/{people['bench'].person.pk}/"
    head.post(address, {"name": "Test bench", "role": "bench", "password": "harbour-lamp-7"})
    assert bench.get("/").url.startswith("/sign-in/")
    attempt(bench, "bench", "harbour-lamp-7")
    assert bench.get("/").url == "/password/"


def test_taking_the_demo_leaves_no_known_password(client, db):
    client.post("/kitchen/start/demo/")
    users = get_user_model().objects.all()
    assert users
    assert not any(user.has_usable_password() for user in users)
    for name in ("runa", "teo", "counter"):
        assert attempt(Client(), name, f"harbour-{name}", address=f"10.1.1.{len(name)}").status_code == 200
    # Nobody shuts the house behind themselves without a key to it.
    assert b"Choose a password first" in client.post("/sign-out/", follow=True).content
    page = client.get("/password/").content
    assert b"Present password" not in page
    own = {"new_password1": "own-lantern-9", "new_password2": "own-lantern-9"}
    assert client.post("/password/", own).status_code == 302
    assert attempt(Client(), "runa", "own-lantern-9").status_code == 302


# ---------------------------------------------------------------- the first account

FIRST = {"kitchen": "Slip Lane", "full_name": "Ann Wick", "username": "ann", "password": "lantern-room-9"}


@pytest.mark.parametrize("reached", ["listens to others", "the visitor is another machine"])
def test_the_first_account_asks_for_the_printed_code(client, db, settings, tmp_path, reached):
    settings.DATA_DIR = tmp_path
    settings.FIRST_CODE_ASKED = reached == "listens to others"
    how = {} if settings.FIRST_CODE_ASKED else {"REMOTE_ADDR": "192.168.1.20"}
    assert b"Code from the terminal" in client.get("/kitchen/start/", **how).content
    code = (tmp_path / "first-code").read_text()
    assert re.fullmatch(r"(\w{4}-){2}\w{4}", code)
    for wrong in ({}, {"code": ""}, {"code": "aaaa-bbbb-cccc"}, {"code": "ä"}):
        assert client.post("/kitchen/start/", {**FIRST, **wrong}, **how).status_code == 422
        assert client.post("/kitchen/start/demo/", {f"demo-{k}": v for k, v in wrong.items()}, **how).status_code == 422
    assert not get_user_model().objects.exists()
    assert client.post("/kitchen/start/", {**FIRST, "code": f" {code.upper()} "}, **how).status_code == 302
    assert not (tmp_path / "first-code").exists()


def test_this_machine_alone_needs_no_code(client, db):
    assert b"Code from the terminal" not in client.get("/kitchen/start/").content
    assert client.post("/kitchen/start/", FIRST).status_code == 302


@pytest.mark.parametrize(
    ("host", "is_here"),
    [("127.0.0.1", True), ("::1", True), ("[::1]", True), ("localhost", True), ("0.0.0.0", False), ("::", False),
     ("192.168.1.20", False), ("kitchen.example", False), ("", False)],
)  # fmt: skip
def test_what_is_this_machine(host, is_here):
    assert first_code.is_this_machine(host) is is_here


def test_the_server_prints_the_code_where_it_listens_to_others(tmp_path):
    server = Server(tmp_path)
    log = tmp_path / "log"
    with log.open("w") as out:
        process = subprocess.Popen(
            [sys.executable, "manage.py", "serve", "--host", "0.0.0.0", "--port", str(server.port)],
            cwd=ROOT, env=server.env, stdout=out, stderr=out,
        )  # fmt: skip
    try:
        for _ in range(200):
            if "asks for this code" in log.read_text():
                break
            time.sleep(0.1)
        assert (tmp_path / "first-code").read_text() in log.read_text()
    finally:
        process.terminate()
        process.wait()


# ---------------------------------------------------------------- open pages


def seal_of(page):
    return re.search(r'name="csrfmiddlewaretoken" value="(\w+)"', page.content.decode())[1]


def test_signing_in_again_in_another_window_keeps_open_pages_working(people, flan_tin):
    """The tin's page is open; its sign-in ends; in another window of the same browser somebody signs in again."""
    browser = Client(enforce_csrf_checks=True)

    def sign_in():
        seal = seal_of(browser.get("/sign-in/"))
        return browser.post("/sign-in/", {**RIGHT, "csrfmiddlewaretoken": seal})

    assert sign_in().status_code == 302
    seal = seal_of(browser.get("/kitchen/"))
    sessions.sign_out_everywhere(people["head"])
    address = f"/kitchen/tins/{flan_tin.pk}/bin/"
    assert browser.post(address, {"csrfmiddlewaretoken": seal}).url.startswith("/sign-in/")
    assert sign_in().status_code == 302
    assert browser.post(address, {"csrfmiddlewaretoken": seal}).url == "/kitchen/"
    # A seal of another browser still opens nothing.
    assert browser.post(address, {"csrfmiddlewaretoken": seal_of(Client().get("/sign-in/"))}).status_code == 403


def test_a_form_sent_signed_out_leads_to_a_page(client, people, flan_tin):
    answer = client.post(f"/kitchen/tins/{flan_tin.pk}/bin/", HTTP_REFERER="http://testserver/kitchen/?a=1")
    assert answer.status_code == 302
    page = client.get(answer.url)
    assert b"so it is not saved" in page.content
    back = client.post(answer.url, {**RIGHT, "next": "/kitchen/?a=1"})
    assert back.url == "/kitchen/?a=1"
    assert client.get(back.url).status_code == 200
    # Nobody else's page is led to.
    elsewhere = Client().post("/kitchen/tins/1/bin/", HTTP_REFERER="https://elsewhere.example/x")
    assert "elsewhere" not in elsewhere.url


def test_an_address_that_only_takes_forms_says_so(sign_in, flan_tin):
    answer = sign_in("head").get(f"/kitchen/tins/{flan_tin.pk}/bin/")
    assert (answer.status_code, answer["Allow"]) == (405, "POST")
    assert b"only works from a button" in answer.content


# ---------------------------------------------------------------- how long


def test_a_session_ends_after_half_a_day_without_a_touch(people):
    client = Client()
    with time_machine.travel("2026-11-27 06:00+0000", tick=False):
        attempt(client, password=RIGHT["password"])
    with time_machine.travel("2026-11-27 17:00+0000", tick=False):
        assert client.get("/").status_code == 200
    with time_machine.travel("2026-11-28 04:59+0000", tick=False):
        assert client.get("/").status_code == 200
    with time_machine.travel("2026-11-28 17:00+0000", tick=False):
        answer = client.get("/", follow=True)
    assert b"nothing was touched for long" in answer.content


def test_a_bench_left_open_is_no_touch(people):
    client = Client()
    with time_machine.travel("2026-11-27 06:00+0000", tick=False):
        attempt(client, password=RIGHT["password"])
    for hour in (12, 17):
        with time_machine.travel(f"2026-11-27 {hour}:59+0000", tick=False):
            client.get("/bench/1/state/", HTTP_X_BENCH="1")
    with time_machine.travel("2026-11-27 18:01+0000", tick=False):
        assert client.get("/").url.startswith("/sign-in/")


def test_a_busy_session_ends_after_a_month(people):
    client = Client()
    with time_machine.travel("2026-11-01 06:00+0000", tick=False):
        attempt(client, password=RIGHT["password"])
    for hours in range(10, 24 * 30 + 20, 10):
        with time_machine.travel(1793512800 + hours * 3600, tick=False):
            code = client.get("/").status_code
            if code == 302:
                break
    assert 24 * 30 < hours <= 24 * 30 + 10


def test_signing_out_everywhere_ends_every_session(people):
    here, there = Client(), Client()
    for client in (here, there):
        attempt(client, password=RIGHT["password"])
        assert client.get("/").status_code == 200
    assert here.post("/sign-out/everywhere/").url == "/sign-in/"
    for client in (here, there):
        assert client.get("/").url.startswith("/sign-in/")


def test_the_head_signs_somebody_out_everywhere(sign_in, people):
    lost = Client()
    lost.force_login(people["bench"])
    assert lost.get("/").status_code == 200
    sign_in("head").post(f"/kitchen/people/{people['bench'].person.pk}/sign-out/")
    assert lost.get("/").url.startswith("/sign-in/")


def test_a_new_password_ends_the_other_sessions(people):
    here, there = Client(), Client()
    for client in (here, there):
        attempt(client, password=RIGHT["password"])
    own = {"old_password": RIGHT["password"], "new_password1": "own-lantern-9", "new_password2": "own-lantern-9"}
    here.post("/password/", own)
    assert here.get("/").status_code == 200
    assert there.get("/").url.startswith("/sign-in/")


def test_the_session_is_another_after_signing_in(people):
    client = Client()
    client.get("/sign-in/")
    client.session.save()
    attempt(client, password=RIGHT["password"])
    first = client.cookies["sessionid"].value
    client.post("/sign-out/")
    attempt(client, password=RIGHT["password"])
    assert client.cookies["sessionid"].value != first


# ---------------------------------------------------------------- the record


def kinds():
    return list(AuditEntry.objects.values_list("kind", "who", "said", "address"))


def test_what_must_be_looked_up_later_is_written_down(people, flan_tin):
    client = Client(headers={"user-agent": "Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0"})
    AuditEntry.objects.all()._raw_delete("default")
    where = {"REMOTE_ADDR": "10.0.0.5"}
    client.post("/sign-in/", {"username": "head", "password": "no"}, **where)
    client.post("/sign-in/", RIGHT, **where)
    bench = people["bench"].person.pk
    client.post(f"/kitchen/people/{bench}/", {"name": "Test bench", "role": "guest"}, **where)
    client.post(
        f"/kitchen/people/{bench}/", {"name": "Test bench", "role": "guest", "password": "harbour-7-lamp"}, **where
    )
    client.post(f"/kitchen/tins/{flan_tin.pk}/bin/", **where)
    client.post(f"/kitchen/tins/{flan_tin.pk}/restore/", **where)
    client.post(f"/kitchen/people/{bench}/bin/", **where)
    client.post("/sign-out/", **where)
    me = "Test head"
    assert kinds() == [
        (Kind.REFUSED, "", "for Test head", "10.0.0.5"),
        (Kind.SIGNED_IN, me, "", "10.0.0.5"),
        (Kind.ROLE, me, "Test bench: bench to guest", "10.0.0.5"),
        (Kind.PASSWORD_GIVEN, me, "to Test bench", "10.0.0.5"),
        (Kind.BINNED, me, "tin: Flan tin, Ø 230 × 25", "10.0.0.5"),
        (Kind.PUT_BACK, me, "tin: Flan tin, Ø 230 × 25", "10.0.0.5"),
        (Kind.BINNED, me, "person: Test bench", "10.0.0.5"),
        (Kind.SIGNED_OUT, me, "", "10.0.0.5"),
    ]
    assert set(AuditEntry.objects.values_list("browser", flat=True)) == {"Firefox on Linux"}


def test_the_head_reads_the_record_by_kind_and_in_pages(sign_in, people, flan_tin):
    client = sign_in("head")
    for _ in range(60):
        flan_tin.put_in_bin()
        flan_tin.put_back()
    page = client.get("/kitchen/record/?kind=binned").content.decode()
    assert page.count("tin: Flan tin") == 50
    assert "page 1 of 2" in page
    assert "at the terminal" in page
    assert client.get("/kitchen/record/?kind=binned&page=2").content.decode().count("tin: Flan tin") == 10
    assert sign_in("bench").get("/kitchen/record/").status_code == 403


def test_nothing_of_the_record_is_changed_or_deleted(people):
    kitchen.add_person(name="New", role="guest", username="new", password="x")
    entry = AuditEntry.objects.last()
    for change in (
        entry.save,
        entry.delete,
        AuditEntry.objects.all().delete,
        lambda: AuditEntry.objects.update(said=""),
    ):
        with pytest.raises(TypeError):
            change()
    assert AuditEntry.objects.filter(pk=entry.pk).exists()

"""What every answer goes out with, plainly and over HTTPS."""

import json
import os
import subprocess
import sys

import pytest
from django.test import Client

from tests.browser.servers import ROOT

OVER_HTTPS = {
    "NORTHFOLD_HTTPS": "1", "NORTHFOLD_PROXY": "127.0.0.1", "NORTHFOLD_HOSTS": "kitchen.example",
    "NORTHFOLD_ORIGINS": "https://kitchen.example",
}  # fmt: skip
# Settings are read once, so another installation is another process.
ASKED = """
import json, django
django.setup()
from django.core.management import call_command
from django.test import Client
call_command("migrate", verbosity=0)
from northfold.kitchen import services as kitchen
kitchen.start_kitchen(name="Q", full_name="Ann Wick", username="ann", password="lamp-room-77")
client = Client(headers={"host": "kitchen.example"})
plain, page = client.get("/sign-in/"), client.get("/sign-in/", secure=True)
signed = client.post("/sign-in/", {"username": "ann", "password": "lamp-room-77"}, secure=True)
print(json.dumps({
    "plain": [plain.status_code, plain.headers.get("Location")],
    "health": client.get("/health/").status_code,
    "headers": dict(page.headers),
    "cookies": {name: dict(morsel) for name, morsel in client.cookies.items()},
}))
"""


@pytest.fixture(scope="module")
def over_https(tmp_path_factory):
    env = {key: value for key, value in os.environ.items() if not key.startswith(("NORTHFOLD", "DJANGO"))}
    env |= {**OVER_HTTPS, "NORTHFOLD_DATA": str(tmp_path_factory.mktemp("https")), "NORTHFOLD_DEBUG": ""}
    env["DJANGO_SETTINGS_MODULE"] = "northfold.config.settings"
    run = subprocess.run(
        [sys.executable, "-c", ASKED], cwd=ROOT, env={**env, "NORTHFOLD_DEBUG": "1"}, capture_output=True, text=True
    )  # fmt: skip
    assert run.returncode == 0, run.stderr
    checked = subprocess.run(
        [sys.executable, "manage.py", "check", "--deploy", "--fail-level", "WARNING"], cwd=ROOT, env=env,
        capture_output=True, text=True,
    )  # fmt: skip
    return json.loads(run.stdout.splitlines()[-1]), checked


def test_over_https_djangos_own_check_finds_nothing(over_https):
    assert over_https[1].returncode == 0, over_https[1].stderr
    assert "no issues" in over_https[1].stdout + over_https[1].stderr


def test_over_https_browsers_are_told_to_stay_there(over_https):
    found = over_https[0]
    assert found["plain"] == [301, "https://kitchen.example/sign-in/"]
    assert found["health"] == 200
    assert found["headers"]["Strict-Transport-Security"] == "max-age=31536000; includeSubDomains"


def test_over_https_cookies_are_bound_to_this_host(over_https):
    cookies = over_https[0]["cookies"]
    assert set(cookies) == {"__Host-sessionid", "__Host-csrftoken", "__Host-device"}
    for name, morsel in cookies.items():
        assert morsel["secure"], name
        assert morsel["path"] == "/", name
        assert not morsel["domain"], name
        assert morsel["samesite"] == "Lax", name
    assert cookies["__Host-sessionid"]["httponly"]
    assert cookies["__Host-device"]["httponly"]


def test_private_pages_are_kept_by_nobody(sign_in, flan_tin):
    client = sign_in("head")
    for address in ("/", "/today/", "/book/", "/kitchen/people/", "/nowhere/", "/kitchen/tins/1/bin/", "/password/"):
        assert "no-store" in client.get(address)["Cache-Control"], address
    assert "no-store" in Client().get("/sign-in/")["Cache-Control"]
    assert "no-store" in client.post(f"/kitchen/tins/{flan_tin.pk}/bin/")["Cache-Control"]
    assert b'"historyCacheSize":0' in client.get("/").content


def test_every_answer_says_what_it_is_and_where_it_may_go(sign_in):
    for answer in (sign_in("head").get("/"), Client().get("/sign-in/"), Client().get("/nowhere/")):
        assert answer["X-Content-Type-Options"] == "nosniff"
        assert answer["X-Frame-Options"] == "DENY"
        assert answer["Referrer-Policy"] == "same-origin"
        assert answer["Cross-Origin-Opener-Policy"] == "same-origin"
        assert answer["Permissions-Policy"] == "camera=(), geolocation=(), microphone=()"
        assert "Server" not in answer.headers


def test_the_session_is_hidden_from_scripts(client, people):
    client.post("/sign-in/", {"username": "head", "password": "quay-side-head"})
    assert client.cookies["sessionid"]["httponly"]
    assert client.cookies["sessionid"]["samesite"] == "Lax"
    assert client.cookies["device"]["httponly"]


def test_every_pin_has_its_hash():
    for name in ("requirements.txt", "requirements-dev.txt"):
        pins = (ROOT / name).read_text().split("\n\n")[0].replace("\\\n", " ").splitlines()
        pinned = [pin for pin in pins if "==" in pin]
        assert len(pinned) > 15
        assert [pin for pin in pinned if "--hash=sha256:" not in pin] == []
    assert "--require-hashes" in (ROOT / "Makefile").read_text()

"""Debian's Chromium, offline, on a page that reports any request to another host and any script error."""

import contextlib
import fcntl
import sqlite3

import pytest
from django.conf import settings as django_settings
from django.db import connection
from playwright.sync_api import expect

from northfold.demo.bakehouse import build

FLAGS = (
    "--no-sandbox --disable-gpu --disable-dev-shm-usage --disable-background-networking --disable-component-update "
    "--disable-sync --no-first-run"
)

expect.set_options(timeout=20_000)  # what other devices are told comes by itself within seconds, on a busy machine too


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    return {**browser_type_launch_args, "executable_path": "/usr/bin/chromium", "args": FLAGS.split()}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    return {**browser_context_args, "viewport": {"width": 1280, "height": 800}, "locale": "en-GB"}


@pytest.fixture(scope="session")
def bakehouse(tmp_path_factory, worker_id):
    """The file that keeps a copy of the demo bakehouse once it is built; one for all that test side by side."""
    folder = tmp_path_factory.getbasetemp()
    return (folder if worker_id == "master" else folder.parent) / "bakehouse.sqlite3"


@pytest.fixture
def demo(django_db_reset_sequences, live_server, monkeypatch, bakehouse):
    """The demo bakehouse, served; answers its address. Built once, then copied back."""
    monkeypatch.setattr(django_settings, "DEMO", True)
    connection.ensure_connection()
    with bakehouse.with_suffix(".lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        is_built = bakehouse.exists()
        with contextlib.closing(sqlite3.connect(bakehouse)) as kept:
            if is_built:
                kept.backup(connection.connection)
            else:
                build()
                connection.connection.backup(kept)
    return live_server.url


def is_complaint(message):
    """Errors of scripts and of the content policy; refused edits and missing pages are part of the tests."""
    return message.type == "error" and not any(
        f"status of {code}" in message.text for code in (404, 409, 413, 422, 429)
    )


@pytest.fixture
def watched(page, live_server):
    """The page; at the end, no other host was asked for anything and no script or policy complained."""
    strangers, complaints = [], []
    page.on("request", lambda r: strangers.append(r.url) if not r.url.startswith((live_server.url, "data:")) else None)
    page.on("pageerror", lambda error: complaints.append(str(error)))
    page.on("console", lambda message: complaints.append(message.text) if is_complaint(message) else None)
    yield page
    assert strangers == []
    assert complaints == []


@pytest.fixture
def as_role(watched, demo):
    def _as_role(name="Runa Haldane"):
        watched.goto(f"{demo}/sign-in/")
        watched.get_by_role("button", name=name).click()
        watched.wait_for_url(f"{demo}/")
        return watched

    return _as_role

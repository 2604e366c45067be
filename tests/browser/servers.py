"""The application as a process of its own, so that it can be stopped, killed and started again on the same data."""

import contextlib
import os
import signal
import socket
import sqlite3
import subprocess
import sys
import time
import urllib.request
import uuid
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]


def free_port():
    with socket.socket() as found:
        found.bind(("127.0.0.1", 0))
        return found.getsockname()[1]


HEAD = """
from northfold.kitchen.services import start_kitchen
start_kitchen(name="Q", full_name="Ann Wick", username="ann", password="lamp-room-77")
"""


class Server:
    """`manage.py serve` on data of its own, which begins without any row."""

    blank = None  # a database as the migrations leave it, and one with a head, each made once
    opened = None

    def __init__(self, data):
        self.data = Path(data)
        self.port = free_port()
        self.url = f"http://127.0.0.1:{self.port}"
        self.env = {key: value for key, value in os.environ.items() if not key.startswith(("NORTHFOLD", "DJANGO"))}
        self.env |= {"NORTHFOLD_DATA": str(data), "NORTHFOLD_DEBUG": "1", "NO_PROXY": "*"}
        self.process = None
        self.data.mkdir(parents=True, exist_ok=True)
        if Server.blank is None:
            self.manage("migrate", "--verbosity", "0")
            Server.blank = (self.data / "northfold.sqlite3").read_bytes()
        else:
            (self.data / "northfold.sqlite3").write_bytes(Server.blank)

    def with_head(self):
        """With a kitchen and its head, who signs in as ann."""
        if Server.opened is None:
            self.manage("shell", "-c", HEAD)
            Server.opened = (self.data / "northfold.sqlite3").read_bytes()
        else:
            (self.data / "northfold.sqlite3").write_bytes(Server.opened)
        return self

    def write(self, *names):
        """Formulas written past the server, as by another process."""
        with contextlib.closing(sqlite3.connect(self.data / "northfold.sqlite3")) as data:
            named = "insert into dough_formula (name, uuid, kind, tags, created_at)"
            sql = f"{named} values (?, ?, 'dough', '[]', '2026-11-27 12:00:00')"
            data.executemany(sql, [(name, uuid.uuid4().hex) for name in names])
            data.commit()

    def manage(self, *words, wait=True):
        process = subprocess.Popen(
            [sys.executable, "manage.py", *words], cwd=ROOT, env=self.env, stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )  # fmt: skip
        if wait:
            assert process.wait() == 0, words
        return process

    def say(self, *words):
        """Run a command; answers its exit code and what it said on both channels."""
        done = subprocess.run(
            [sys.executable, "manage.py", *words], cwd=ROOT, env=self.env, capture_output=True, text=True, timeout=120
        )  # fmt: skip
        return done.returncode, done.stdout + done.stderr

    def start(self):
        self.process = self.manage("serve", "--port", str(self.port), wait=False)
        opener = urllib.request.build_opener(urllib.request.ProxyHandler({}))
        for _ in range(150):
            try:
                opener.open(f"{self.url}/health/", timeout=2)
                return self
            except OSError:
                time.sleep(0.2)
        raise AssertionError("the server did not answer")

    def stop(self):
        """Ask it to end; answers its exit code."""
        self.process.send_signal(signal.SIGTERM)
        return self.process.wait(timeout=30)

    def kill(self):
        """As a power cut would: no goodbye."""
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()

    def rows(self, query):
        """Rows of its database, read from the outside."""
        address = f"file:{self.data / 'northfold.sqlite3'}?mode=ro"
        with contextlib.closing(sqlite3.connect(address, uri=True)) as database:
            return database.execute(query).fetchall()

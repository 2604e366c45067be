"""The application as a process of its own, so that it can be stopped, killed and started again on the same data."""

import os
import signal
import socket
import sqlite3
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]


def free_port():
    with socket.socket() as found:
        found.bind(("127.0.0.1", 0))
        return found.getsockname()[1]


class Server:
    """`manage.py serve` on data of its own."""

    def __init__(self, data):
        self.data = Path(data)
        self.port = free_port()
        self.url = f"http://127.0.0.1:{self.port}"
        self.env = {key: value for key, value in os.environ.items() if not key.startswith(("NORTHFOLD", "DJANGO"))}
        self.env |= {"NORTHFOLD_DATA": str(data), "NORTHFOLD_DEBUG": "1", "NO_PROXY": "*"}
        self.process = None
        self.manage("migrate", "--verbosity", "0")

    def manage(self, *words, wait=True):
        process = subprocess.Popen(
            [sys.executable, "manage.py", *words], cwd=ROOT, env=self.env, stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )  # fmt: skip
        if wait:
            assert process.wait() == 0, words
        return process

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

    def kill(self):
        """As a power cut would: no goodbye."""
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()

    def rows(self, query):
        """Rows of its database, read from the outside."""
        (path,) = self.data.glob("*.sqlite3")
        with sqlite3.connect(f"file:{path}?mode=ro", uri=True) as database:
            return database.execute(query).fetchall()

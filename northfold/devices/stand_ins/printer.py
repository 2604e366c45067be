"""A label printer that stands in for a real one: it asks for labels and writes each as SVG and PDF into a folder."""

import json
import urllib.error
import urllib.request
from base64 import b64decode
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from northfold.devices.stand_ins.sender import WAITS_S, straight

# How often it asks. [s]
ASKS_S = 1.0


@dataclass
class PrinterStandIn:
    """
    A printer of a kitchen: where it asks, its key, the folder that it prints into.

    `has_paper` and `printed` are what its page shows and changes.
    """

    name: str
    address: str
    key: str
    folder: Path
    says: str = ""
    has_paper: bool = True
    printed: list[str] = field(default_factory=list)
    status: int = 0
    _asked_at: float = 0.0

    def beat(self, now: float) -> None:
        """Ask for labels now and then, and print those that wait."""
        if now - self._asked_at < ASKS_S:
            return
        self._asked_at = now
        self.status, found = self._ask()
        for job in found if self.has_paper else []:
            self._print(job)

    def act(self, what: str, number: float) -> None:
        """Paper in, or out."""
        self.has_paper = {"paper out": False, "paper in": True}.get(what, self.has_paper)

    @property
    def reading(self) -> str:
        return f"{len(self.printed)} printed" + ("" if self.has_paper else ", no paper")

    def _ask(self) -> tuple[int, list[dict[str, Any]]]:
        try:
            with straight.open(self._request(self.address), timeout=WAITS_S) as answer:
                return int(answer.status), json.load(answer)["labels"]
        except urllib.error.HTTPError as error:
            return error.code, []
        except (OSError, ValueError, KeyError):
            return 0, []

    def _print(self, job: dict[str, Any]) -> None:
        """Written first and said then: a label that was said to be out is out."""
        self.folder.mkdir(parents=True, exist_ok=True)
        (self.folder / f"{job['id']}.svg").write_text(job["svg"], encoding="utf-8")
        (self.folder / f"{job['id']}.pdf").write_bytes(b64decode(job["pdf"]))
        try:
            straight.open(self._request(f"{self.address}/{job['id']}", b"{}"), timeout=WAITS_S).close()
        except OSError:
            return
        self.printed.append(f"{job['copies']} × {job['title']}")

    def _request(self, address: str, body: bytes | None = None) -> urllib.request.Request:
        head = {"Authorization": f"Bearer {self.key}", "Content-Type": "application/json"}
        return urllib.request.Request(address, body, head)

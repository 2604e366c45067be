"""Small pages to drive the stand-ins by hand, served on this machine alone."""

import threading
import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from html import escape
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any
from urllib.parse import parse_qs

from northfold.devices.stand_ins.instruments import Probe, RoomSensor, Scale, Shown
from northfold.devices.stand_ins.printer import PrinterStandIn
from northfold.devices.stand_ins.sender import send

# How often an instrument is read, and how often it is sent where nothing moves. [s]
EACH_S, AT_LEAST_S = 0.25, 5.0
# What is sent moved by so much, or came to rest. [g, °C]
MOVED = {"mass": 0.5, "temperature": 0.1}
LOADS_G = (5, 20, 50, 100, 250, 500)
MOST_G = 50_000.0

_STYLE = """<style>body{font:20px/28px sans-serif;max-width:40rem;margin:24px auto;padding:0 16px;color:#1d2330}
h1{font-size:28px;line-height:36px}output{display:block;font-size:72px;line-height:88px;font-weight:600}
button{font:inherit;min-height:56px;padding:4px 20px;margin:4px;border:2px solid #1d2330;background:#fff}
input{font:inherit;min-height:52px;width:8rem;padding:4px 8px;border:2px solid #1d2330;border-radius:2px}
small{color:#4a5266}a{color:#0b4f6c}</style>"""


@dataclass
class StandIn:
    """An instrument, the device that it stands for, and what can be done with it: by name, a function of a number."""

    name: str
    instrument: Scale | Probe | RoomSensor
    address: str
    key: str
    quantity: str
    unit: str
    acts: Mapping[str, Callable[[float], None]] = field(default_factory=dict)
    says: str = ""
    shown: Shown = field(default_factory=lambda: Shown(0.0, stable=False))
    status: int = 0
    lock: threading.Lock = field(default_factory=threading.Lock)
    _sent: Shown | None = None
    _sent_at: float = 0.0

    def beat(self, now: float) -> None:
        """Read the instrument, and send what it shows where that is news."""
        with self.lock:
            self.shown = shown = self.instrument.read(now)
        before = self._sent
        is_news = (
            before is None
            or abs(shown.value - before.value) >= MOVED[self.quantity]
            or shown.stable != before.stable
            or now - self._sent_at >= AT_LEAST_S
        )
        if is_news:
            self._sent, self._sent_at = shown, now
            self.status = send(self.address, self.key, shown, self.quantity, self.unit)

    def act(self, what: str, number: float) -> None:
        """Do one thing with it."""
        known = self.acts.get(what)
        if known is not None:
            with self.lock:
                known(number)

    @property
    def reading(self) -> str:
        digits = 0 if self.quantity == "mass" else 1
        return f"{self.shown.value:.{digits}f} {self.unit}"


AnyStandIn = StandIn | PrinterStandIn


class StandIns:
    """Stand-ins that read and send by themselves until they are stopped, with their pages."""

    def __init__(self, found: Mapping[str, AnyStandIn], port: int) -> None:
        self.found = dict(found)
        self.ends = threading.Event()
        self.server = ThreadingHTTPServer(("127.0.0.1", port), _handler(self.found))
        self.threads = [threading.Thread(target=self._beats, args=(each,), daemon=True) for each in found.values()]
        self.threads.append(threading.Thread(target=self.server.serve_forever, daemon=True))

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.server.server_port}/"

    def start(self) -> None:
        for thread in self.threads:
            thread.start()

    def stop(self) -> None:
        self.ends.set()
        self.server.shutdown()
        self.server.server_close()

    def _beats(self, each: AnyStandIn) -> None:
        while not self.ends.wait(EACH_S):
            each.beat(time.monotonic())


def _handler(found: Mapping[str, AnyStandIn]) -> type[BaseHTTPRequestHandler]:
    class Handler(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            key = self.path.strip("/")
            if not key:
                links = "".join(f'<p><a href="/{name}">{escape(each.name)}</a></p>' for name, each in found.items())
                self._page("Stand-ins", f"<h1>Stand-ins</h1>{links}")
            elif key.endswith("/reading") and key.removesuffix("/reading") in found:
                self._answer(200, found[key.removesuffix("/reading")].reading, "text/plain; charset=utf-8")
            elif key in found:
                self._page(found[key].name, _page(key, found[key]))
            else:
                self._answer(404, "Nothing stands here.", "text/plain; charset=utf-8")

        def do_POST(self) -> None:
            key = self.path.strip("/")
            length = min(int(self.headers.get("Content-Length") or 0), 1000)
            sent = parse_qs(self.rfile.read(length).decode("utf-8", "replace"))
            origin = self.headers.get("Origin")
            if key not in found or (origin and origin != f"http://{self.headers.get('Host')}"):
                self._answer(404, "Nothing stands here.", "text/plain; charset=utf-8")
                return
            found[key].act(*_act(sent))
            self.send_response(303)
            self.send_header("Location", f"/{key}")
            self.end_headers()

        def _page(self, title: str, body: str) -> None:
            head = f'<!doctype html><html lang="en"><meta charset="utf-8"><title>{escape(title)}</title>{_STYLE}'
            self._answer(200, head + body, "text/html; charset=utf-8")

        def _answer(self, status: int, text: str, kind: str) -> None:
            data = text.encode()
            self.send_response(status)
            self.send_header("Content-Type", kind)
            self.send_header("Content-Length", str(len(data)))
            self.end_headers()
            self.wfile.write(data)

        def log_message(self, format: str, *args: Any) -> None:
            """Nobody reads it."""

    return Handler


def _act(sent: Mapping[str, list[str]]) -> tuple[str, float]:
    """What is asked for, and with what number; a word that is none counts as 0."""
    act = (sent.get("act") or [""])[0]
    try:
        number = float((sent.get("number") or ["0"])[0].replace(",", "."))
    except ValueError:
        number = 0.0
    return act, number if -MOST_G <= number <= MOST_G else 0.0


def _page(key: str, each: AnyStandIn) -> str:
    def button(act: str, words: str, number: float = 0.0) -> str:
        return f'<button name="act" value="{act}" onclick="this.form.number.value={number!r}">{escape(words)}</button>'

    typed = ""
    if isinstance(each, PrinterStandIn):
        acts = button("paper out", "Paper out") + button("paper in", "Paper in")
    elif each.quantity == "mass":
        acts = "".join(button("put", f"+ {load} g", load) for load in LOADS_G)
        acts += "<br>" + button("tare", "Tare") + button("clear", "All off")
        typed = '<button name="act" value="put">Put on</button>'
    else:
        acts = "".join(button(act, act.capitalize()) for act in each.acts if act != "set")
        typed = '<button name="act" value="set">As warm as that, °C</button>' if "set" in each.acts else ""
    own = f'<input name="number" inputmode="decimal" value="0" aria-label="number">{typed}' if typed else (
        '<input type="hidden" name="number" value="0">'
    )  # fmt: skip
    return (
        f'<h1>{escape(each.name)}</h1><output id="shown">{escape(each.reading)}</output>'
        f'<form method="post" action="/{key}">{acts}<p>{own}</p></form><p><small>{escape(each.says)}</small></p>'
        '<p><a href="/">All stand-ins</a></p><script>setInterval(async () => { document.getElementById("shown")'
        f'.textContent = await (await fetch("/{key}/reading")).text(); }}, 400);</script>'
    )

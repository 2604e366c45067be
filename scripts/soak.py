"""
What only time and violence show: kills in the middle of writes, many clients, guessing at the door, a long fuzz.

Prints what was done and what was lost; ends with 1 where anything was. See `--help` for how much of each.
"""

import argparse
import contextlib
import http.client
import json
import os
import random
import re
import signal
import socket
import sqlite3
import statistics
import subprocess
import sys
import tempfile
import threading
import time
import urllib.parse
from collections import Counter
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))
SEAL = "a" * 32  # of forms, the same in cookie and header
KILLED_AFTER_S = (0.005, 0.15)
TAPPING = 3
A_MAKE_LASTS = 25  # kills; the bench reads all taps of a make at each


def free_port() -> int:
    with socket.socket() as found:
        found.bind(("127.0.0.1", 0))
        return int(found.getsockname()[1])


def set_up(data: Path, makes: int = 0) -> None:
    """Django in this process, on data of its own: with the demo, or with so many makes of years."""
    os.environ.update(NORTHFOLD_DATA=str(data), NORTHFOLD_DEBUG="1", DJANGO_SETTINGS_MODULE="northfold.config.settings")
    import django

    django.setup()
    from django.core.management import call_command

    call_command("migrate", verbosity=0)
    from northfold.demo.bakehouse import build
    from northfold.demo.years import Size, build_years

    if makes:
        build_years(Size.of(makes))
    else:
        build()


def session_of(username: str) -> str:
    """A session of somebody's, as signing in leaves it."""
    from django.contrib.auth import get_user_model
    from django.test import Client

    client = Client()
    client.force_login(get_user_model().objects.get(username=username))
    return str(client.cookies["sessionid"].value)


class Device:
    """A signed-in client over one connection that is opened anew when it breaks."""

    def __init__(self, port: int, session: str, forwarded: Callable[[], str] | None = None) -> None:
        self.port, self.forwarded = port, forwarded
        self.cookie = f"csrftoken={SEAL}; sessionid={session}" if session else f"csrftoken={SEAL}"
        self.line: http.client.HTTPConnection | None = None

    def ask(self, method: str, path: str, body: str = "", kind: str = "") -> tuple[int, bytes]:
        if self.line is None:
            self.line = http.client.HTTPConnection("127.0.0.1", self.port, timeout=60)
        headers = {"Cookie": self.cookie, "X-CSRFToken": SEAL}
        if kind:
            headers["Content-Type"] = kind
        if self.forwarded:
            headers["X-Forwarded-For"] = self.forwarded()
        try:
            self.line.request(method, path, body or None, headers)
            answer = self.line.getresponse()
            return answer.status, answer.read()
        except (OSError, http.client.HTTPException):
            self.line.close()
            self.line = None
            raise

    def tap(self, make: int, mark: str, line: int, grams: int) -> tuple[int, dict[str, Any]]:
        sent = {"kind": "weighed", "step_key": "weigh", "client_id": mark, "value": {"line": line, "grams": grams}}
        status, body = self.ask("POST", f"/bench/{make}/events/", json.dumps(sent), "application/json")
        return status, json.loads(body) if status in (200, 422) else {}

    def form(self, path: str, **fields: Any) -> int:
        return self.ask("POST", path, urllib.parse.urlencode(fields), "application/x-www-form-urlencoded")[0]


# ---------------------------------------------------------------- kills


def new_make() -> int:
    from django.contrib.auth import get_user_model
    from django.db import connection

    from northfold.dough.models import FormulaVersion
    from northfold.kitchen.models import Tin
    from northfold.makes import services as makes

    head, version = get_user_model().objects.get(username="runa"), FormulaVersion.objects.first()
    made = makes.create_make(head, version, tin=Tin.objects.first(), count=6, due_at=None)
    makes.start_make(made)
    connection.close()
    return int(made.pk)


def child(port: int) -> int:
    """A server as a process of its own that is there at once: forked from this one, which has loaded everything."""
    pid = os.fork()
    if pid:
        return pid
    os.setsid()
    quiet = os.open(os.devnull, os.O_RDWR)
    for channel in (1, 2):
        os.dup2(quiet, channel)
    from northfold.config.serving import serve_until_asked
    from northfold.config.wsgi import application

    serve_until_asked(application, host="127.0.0.1", port=port, ident="")
    os._exit(0)


def tap_on(device: Device, make: int, name: str, acknowledged: list[str], stop: threading.Event) -> None:
    for number in range(100_000):
        if stop.is_set():
            return
        mark = f"{name}-{number}"
        try:
            status, said = device.tap(make, mark, number % 4, 100 + number % 300)
        except (OSError, http.client.HTTPException, ValueError):
            return
        if status == 200 and said.get("id") == mark:
            acknowledged.append(mark)


def kills(times: int) -> bool:
    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder)
        set_up(data)
        from django.db import connection

        import northfold.config.urls  # noqa: F401  # loads every view once, before the forks
        from northfold.config.wsgi import application  # noqa: F401

        session, port, dice = session_of("teo"), free_port(), random.Random(15)
        make, began = new_make(), time.monotonic()
        taken = lost = cut = unsound = backwards = 0
        for number in range(times):
            if number and number % A_MAKE_LASTS == 0:
                make = new_make()
            connection.close()
            pid, acknowledged, stop = child(port), [], threading.Event()
            wait_for(port)
            hands = [
                threading.Thread(
                    target=tap_on, args=(Device(port, session), make, f"{number}-{hand}", acknowledged, stop)
                )
                for hand in range(TAPPING)
            ]
            for hand in hands:
                hand.start()
            deadline = time.monotonic() + 30
            while not acknowledged and time.monotonic() < deadline:
                time.sleep(0.001)
            time.sleep(dice.uniform(*KILLED_AFTER_S))
            os.kill(pid, signal.SIGKILL)
            os.waitpid(pid, 0)
            stop.set()
            for hand in hands:
                hand.join()
            with contextlib.closing(sqlite3.connect(data / "northfold.sqlite3")) as found:
                rows = found.execute(
                    "select client_id, seq, at from bench_benchevent where make_id = ? order by seq", [make]
                ).fetchall()
                if number % 100 == 99:
                    unsound += found.execute("pragma integrity_check").fetchone() != ("ok",)
            kept = {mark for mark, _, _ in rows}
            taken += len(acknowledged)
            lost += len(set(acknowledged) - kept)
            cut += len({mark for mark in kept if mark.startswith(f"{number}-")} - set(acknowledged))
            backwards += [at for _, _, at in rows] != sorted(at for _, _, at in rows)
            backwards += [seq for _, seq, _ in rows] != list(range(1, len(rows) + 1))
        print(
            f"- kills: {times} in {time.monotonic() - began:.0f} s; {taken:,} taps acknowledged, {lost} lost, {cut} "
            f"kept whose answer was cut off, {backwards} out of order, {unsound} databases not sound"
        )
        return not (lost or unsound or backwards)


def wait_for(port: int) -> None:
    deadline = time.monotonic() + 60
    while time.monotonic() < deadline:
        try:
            socket.create_connection(("127.0.0.1", port), timeout=1).close()
            return
        except OSError:
            time.sleep(0.002)
    raise TimeoutError("the server did not answer")


# ---------------------------------------------------------------- many clients


@contextlib.contextmanager
def served(makes: int = 0, **env: str) -> Iterator[tuple[int, Path, list[str]]]:
    """The product as it is run, with the demo's data or years of it: its port, its data, sessions of its people."""
    with tempfile.TemporaryDirectory() as folder:
        data, port = Path(folder), free_port()
        code = (
            "import sys; sys.path.insert(0, 'scripts'); import soak, pathlib; "
            f"soak.set_up(pathlib.Path({folder!r}), {makes}); print(*(soak.session_of(n) for n in ('runa', 'teo')))"
        )
        said = subprocess.run([sys.executable, "-c", code], cwd=ROOT, capture_output=True, text=True, check=True)
        process = subprocess.Popen(
            [sys.executable, "manage.py", "serve", "--port", str(port)],
            cwd=ROOT, env={**os.environ, "NORTHFOLD_DATA": folder, "NORTHFOLD_DEBUG": "", **env},
            stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
        )  # fmt: skip
        try:
            wait_for(port)
            sessions = said.stdout.split()[-2:]
            for path in (
                *PAGES,
                *(f"/bench/{make}/" for make in RUNNING),
            ) * 2:  # what is compiled and cached at first is not what is measured here
                Device(port, sessions[0]).ask("GET", path)
            yield port, data, sessions
        finally:
            process.terminate()
            process.wait(30)


PAGES = ("/", "/today/", "/book/", "/makes/1/dough/", "/makes/1/size/", "/makes/1/steps/", "/makes/1/cold/",
         "/makes/6/fold/", "/cold-store/", "/kitchen/", "/kitchen/ingredients/")  # fmt: skip
RUNNING = (19, 21)


class Log:
    """What clients met: times by what they asked for, answers by their code. [ms]"""

    def __init__(self) -> None:
        self.times: dict[str, list[float]] = {}
        self.codes: Counter[tuple[str, int]] = Counter()
        self.lock = threading.Lock()

    def timed(self, what: str, act: Callable[[], int]) -> int:
        began = time.perf_counter()
        code = act()
        with self.lock:
            self.times.setdefault(what, []).append(1000 * (time.perf_counter() - began))
            self.codes[what, code] += 1
        return code

    def line(self, what: str) -> str:
        found = self.times.get(what, [0.0])
        return f"{what} {len(found):,}: median {statistics.median(found):.0f} ms, p95 {self.p95(what):.0f} ms"

    def p95(self, *kinds: str) -> float:
        found = sorted(time for what in kinds for time in self.times.get(what, [])) or [0.0]
        return found[min(len(found) - 1, int(0.95 * len(found)))]

    @property
    def broken(self) -> int:
        return sum(count for (_, code), count in self.codes.items() if code >= 500)


def person(device: Device, log: Log, stop: threading.Event, dice: random.Random) -> None:
    """Looks at one page after the other, a breath between them."""
    while not stop.is_set():
        path = dice.choice(PAGES)
        with contextlib.suppress(OSError, http.client.HTTPException):
            log.timed("pages", lambda path=path: device.ask("GET", path)[0])
        stop.wait(dice.uniform(0.5, 1.5))


def bench(device: Device, log: Log, stop: threading.Event, dice: random.Random, name: str, taken: list[str]) -> None:
    """Asks what is new, taps, and sends every tenth tap twice as a lost answer makes it do."""
    seen = dict.fromkeys(RUNNING, "0")

    def poll(make: int) -> int:
        status, body = device.ask("GET", f"/bench/{make}/state/?seq={seen[make]}")
        found = re.search(rb'data-seq="(\d+)"', body)
        seen[make] = found[1].decode() if found else seen[make]
        return status

    for number in range(1_000_000):
        if stop.is_set():
            return
        make, mark = RUNNING[number % 2], f"{name}-{number}"
        with contextlib.suppress(OSError, http.client.HTTPException):
            log.timed("bench", lambda make=make: poll(make))
            for _ in range(2 if number % 10 == 0 else 1):
                said: dict[str, Any] = {}

                def act(make: int = make, mark: str = mark, said: dict[str, Any] = said) -> int:
                    status, answer = device.tap(make, mark, 0, 250)
                    said.update(answer)
                    return status

                if log.timed("taps", act) == 200 and said.get("id") == mark:
                    taken.append(mark)
        stop.wait(dice.uniform(1.0, 3.0))


def clients(minutes: float, people: int = 8, devices: int = 12, makes: int = 6_000) -> bool:
    with served(makes) as (port, data, (head, teo)):
        log, stop, taken = Log(), threading.Event(), []
        hands = [
            threading.Thread(target=person, args=(Device(port, head), log, stop, random.Random(n)))
            for n in range(people)
        ]
        hands += [
            threading.Thread(target=bench, args=(Device(port, teo), log, stop, random.Random(n), f"d{n}", taken))
            for n in range(devices)
        ]
        for hand in hands:
            hand.start()
        time.sleep(60 * minutes)
        stop.set()
        for hand in hands:
            hand.join()
        with contextlib.closing(sqlite3.connect(data / "northfold.sqlite3")) as found:
            kept = Counter(mark for (mark,) in found.execute("select client_id from bench_benchevent"))
            sound = found.execute("pragma integrity_check").fetchone() == ("ok",)
    lost = len(set(taken) - set(kept))
    twice = sum(1 for mark, count in kept.items() if count > 1)
    print(
        f"- clients: {people} people and {devices} devices for {minutes:g} min on {makes:,} makes; "
        f"{log.line('pages')}; "
        f"{log.line('bench')}; {log.line('taps')}; {log.broken} answers of 500 or more, "
        f"{lost} taps lost, {twice} counted twice, the data {'is sound' if sound else 'is NOT sound'}"
    )
    return sound and not (lost or twice or log.broken)


# ---------------------------------------------------------------- guessing

LIMIT_MS = 250


def guess(device: Device, log: Log, stop: threading.Event, dice: random.Random, names: tuple[str, ...]) -> None:
    while not stop.is_set():
        fields = {"username": dice.choice(names), "password": f"guess-{dice.random()}"}
        with contextlib.suppress(OSError, http.client.HTTPException):
            log.timed("guesses", lambda fields=fields: device.form("/sign-in/", **fields))


def anywhere(dice: random.Random) -> Callable[[], str]:
    return lambda: ".".join(str(dice.randrange(1, 255)) for _ in range(4))


def guessing(seconds: float, guessers: int = 8) -> bool:
    """The kitchen at work while others guess: from one address, and worse, each time from another."""
    fine = True
    for where, spread in (("nobody guesses", None), ("from one address", False), ("from ever other addresses", True)):
        with served(NORTHFOLD_PROXY="127.0.0.1") as (port, data, (head, teo)):
            log, stop, taken = Log(), threading.Event(), []
            hands = [
                threading.Thread(target=person, args=(Device(port, head), log, stop, random.Random(n)))
                for n in range(4)
            ]
            hands += [
                threading.Thread(target=bench, args=(Device(port, teo), log, stop, random.Random(n), f"d{n}", taken))
                for n in range(4)
            ]
            for n in range(guessers if spread is not None else 0):
                dice = random.Random(100 + n)
                forwarded = anywhere(dice) if spread else None
                names = ("runa", "teo", *(f"name{each}" for each in range(400)))
                hands.append(threading.Thread(target=guess, args=(Device(port, "", forwarded), log, stop, dice, names)))
            for hand in hands:
                hand.start()
            time.sleep(seconds)
            stop.set()
            for hand in hands:
                hand.join()
            with contextlib.closing(sqlite3.connect(data / "northfold.sqlite3")) as found:
                (looked_at,) = found.execute("select count(*) from web_auditentry where kind = 'refused'").fetchone()
        kitchen = log.p95("pages", "bench", "taps")
        asked = sum(count for (what, _), count in log.codes.items() if what == "guesses")
        print(
            f"- guessing, {where}: {asked:,} guesses of {guessers if spread is not None else 0} clients in "
            f"{seconds:g} s, {looked_at} looked at; the kitchen as a whole p95 {kitchen:.0f} ms; "
            f"{log.line('pages')}; {log.line('bench')}; {log.line('taps')}"
        )
        fine = fine and kitchen < LIMIT_MS and not log.broken
    return fine


# ---------------------------------------------------------------- fuzz


def fuzz(rounds: int) -> bool:
    fine, began = True, time.monotonic()
    for seed in range(3):
        env = {**os.environ, "NORTHFOLD_FUZZ_ROUNDS": str(rounds), "NORTHFOLD_FUZZ_SEED": str(seed)}
        run = subprocess.run(
            [sys.executable, "-m", "pytest", "-q", "--show-capture=no", "tests/web/test_fuzz.py"],
            cwd=ROOT, env=env, capture_output=True, text=True,
        )  # fmt: skip
        if run.returncode:
            fine = False
            print(f"fuzz, seed {seed}:", *re.findall(r"^E .*", run.stdout, re.M), sep="\n", file=sys.stderr)
    print(
        f"- fuzz: three seeds of {rounds} rounds over every address and role in {time.monotonic() - began:.0f} s: "
        f"{'nothing broke' if fine else 'something BROKE'}"
    )
    return fine


def days(many: int) -> bool:
    """Days by chance, planned and held against a checker that reads their files alone."""
    from datetime import UTC, datetime

    from northfold.core.day.planning import plan_day
    from northfold.core.day.solver import Limits
    from northfold.formats.day_plan import day_plan_file
    from tests.day_checker import wrongs
    from tests.days import chance

    zero, wrong, proved, late = datetime(2026, 11, 30, tzinfo=UTC), {}, 0, 0
    for seed in range(1000, 1000 + many):
        planned = plan_day(chance(seed), Limits(3.0))
        file = json.loads(day_plan_file(planned, zero, zero).model_dump_json(by_alias=True))
        if found := wrongs(file):
            wrong[seed] = found[:3]
        proved += planned.is_proved
        late += bool(planned.late)
    print(f"## Days\n\n{many} days by chance: {proved} proved, {late} late, {len(wrong)} that do not hold.\n")
    for seed, found in wrong.items():
        print(f"- {seed}: {'; '.join(found)}")
    return not wrong


def main() -> int:
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--kills", type=int, default=1000)
    asked.add_argument("--minutes", type=float, default=5.0, help="of twenty clients")
    asked.add_argument("--guessing", type=float, default=60.0, help="seconds of each kind")
    asked.add_argument("--rounds", type=int, default=12, help="of the fuzz")
    asked.add_argument("--days", type=int, default=200, help="that are planned")
    how = asked.parse_args()
    print("# What the last soak found\n", flush=True)
    # Each in a process of its own, so that none inherits what another has loaded or left.
    fine = True
    for name, much in (
        ("clients", how.minutes),
        ("guessing", how.guessing),
        ("kills", how.kills),
        ("fuzz", how.rounds),
        ("days", how.days),
    ):
        if much:
            code = f"import sys; sys.path.insert(0, 'scripts'); import soak; sys.exit(not soak.{name}({much!r}))"
            fine = subprocess.run([sys.executable, "-c", code], cwd=ROOT).returncode == 0 and fine
    return 0 if fine else 1


if __name__ == "__main__":
    sys.exit(main())

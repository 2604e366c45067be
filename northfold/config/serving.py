"""
The server: a thread of its own for passwords, and an end in order.

Looking at a password takes a third of a second on purpose, and whoever guesses sends one after the other. They queue
among themselves, before one thread with a pace; the kitchen's threads never wait for them.
"""

import gc
import signal
import time
from collections.abc import Callable
from typing import Any

from waitress import wasyncore
from waitress.server import BaseWSGIServer, create_server
from waitress.task import ThreadedTaskDispatcher

THREADS = 4
# How often what nobody refers to any more is looked for, and after how long it is done in spite of work under way. [s]
SWEEP_S, OVERDUE_S = 20.0, 300.0
# How long answers under way are waited for. [s]
GOODBYE_S = 10.0
# Where passwords are sent to, and the pause after each. [s]
DOORS = ("/sign-in/", "/password/")
PACE_S = 0.1


class Paced:
    """A request at the door: after it is answered, its thread takes a breath."""

    def __init__(self, request: Any) -> None:
        self.request = request

    def service(self) -> None:
        self.request.service()
        time.sleep(PACE_S)

    def cancel(self) -> None:
        self.request.cancel()


class TwoQueues:
    """waitress's own dispatcher, twice: one thread for what brings a password, the others for everything else."""

    def __init__(self) -> None:
        self.kitchen, self.door = ThreadedTaskDispatcher(), ThreadedTaskDispatcher()
        self.kitchen.set_thread_count(THREADS)
        self.door.set_thread_count(1)

    def add_task(self, channel: Any) -> None:
        request = channel.requests[0]
        if request.command == "POST" and request.path in DOORS:
            self.door.add_task(Paced(channel))
        else:
            self.kitchen.add_task(channel)

    def shutdown(self) -> None:
        for queue in (self.kitchen, self.door):
            queue.shutdown()


class Sweeper:
    """
    The full run of the garbage collector, between requests instead of within them.

    Left to itself Python looks through everything there is in the middle of whichever answer has just gone over a
    count. Here only the youngest things are looked through by themselves. The rest is when nothing is under way; what
    is left then stays for good, is put aside, and is not looked through again.
    """

    def __init__(self) -> None:
        young, middle, _ = gc.get_threshold()
        gc.set_threshold(young, middle, 2**31 - 1)
        self.last = 0.0
        self.sweep()

    def sweep(self) -> None:
        """Free what nobody refers to, and put the rest aside."""
        gc.collect()
        gc.freeze()
        self.last = time.monotonic()

    def when_free(self, under_way: Callable[[], bool]) -> None:
        """Sweep where it is time and nothing is under way."""
        since = time.monotonic() - self.last
        if since > SWEEP_S and (since > OVERDUE_S or not under_way()):
            self.sweep()


class Ending:
    """How a server of this process is asked to end; None where none serves."""

    asked: Callable[[], None] | None = None
    begins_again = False


def may_end_soon() -> bool:
    """Whether this process serves by itself, so that it can end and begin again."""
    return Ending.asked is not None


def end_soon() -> None:
    """Once what is under way is answered, end and begin again."""
    if Ending.asked is not None:
        Ending.begins_again = True
        Ending.asked()


def serve_until_asked(application: Callable[..., Any], **settings: Any) -> bool:
    """
    Serve until the process is asked to end (SIGTERM, or Ctrl-C), then take no new connection and answer what is there.

    Settings are waitress's own. Says whether it should begin again. Raises OSError where it cannot listen.
    """
    sockets: dict[int, Any] = {}
    queues = TwoQueues()
    create_server(application, map=sockets, _dispatcher=queues, **settings)
    listeners = [each for each in sockets.values() if isinstance(each, BaseWSGIServer)]
    stopping = False
    sweeper = Sweeper()

    def asked(*_: Any) -> None:
        nonlocal stopping
        stopping = True
        listeners[0].pull_trigger()

    for name in (signal.SIGTERM, signal.SIGINT):
        signal.signal(name, asked)
    Ending.asked = asked

    def under_way() -> bool:
        channels = [channel for each in listeners for channel in list(each.active_channels.values())]
        return any(channel.requests or channel.total_outbufs_len for channel in channels)

    while not stopping:
        wasyncore.loop(timeout=1.0, map=sockets, count=1)
        sweeper.when_free(under_way)
    for each in listeners:
        each.accepting = False
        each.del_channel()
        each.socket.close()
    deadline = time.monotonic() + GOODBYE_S
    while under_way() and time.monotonic() < deadline:
        wasyncore.loop(timeout=0.1, map=sockets, count=1)
    queues.shutdown()
    return Ending.begins_again

"""A server that ends in order: asked to stop, it answers what is under way, then goes."""

import signal
import time
from collections.abc import Callable
from typing import Any

# How long answers under way are waited for. [s]
GOODBYE_S = 10.0


def serve_until_asked(application: Callable[..., Any], **settings: Any) -> None:
    """
    Serve until the process is asked to end (SIGTERM, or Ctrl-C), then take no new connection and answer what is there.

    Settings are waitress's own. Raises OSError where it cannot listen.
    """
    from waitress import wasyncore
    from waitress.server import BaseWSGIServer, create_server

    sockets: dict[int, Any] = {}
    create_server(application, map=sockets, **settings)
    listeners = [each for each in sockets.values() if isinstance(each, BaseWSGIServer)]
    stopping = False

    def asked(*_: Any) -> None:
        nonlocal stopping
        stopping = True
        listeners[0].pull_trigger()

    for name in (signal.SIGTERM, signal.SIGINT):
        signal.signal(name, asked)

    def under_way() -> bool:
        channels = [channel for each in listeners for channel in list(each.active_channels.values())]
        return any(channel.requests or channel.total_outbufs_len for channel in channels)

    while not stopping:
        wasyncore.loop(timeout=1.0, map=sockets, count=1)
    for each in listeners:
        each.accepting = False
        each.del_channel()
        each.socket.close()
    deadline = time.monotonic() + GOODBYE_S
    while under_way() and time.monotonic() < deadline:
        wasyncore.loop(timeout=0.1, map=sockets, count=1)
    listeners[0].task_dispatcher.shutdown()

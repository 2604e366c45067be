"""
The search of a day in a process of its own: `python -m northfold.core.day.child`.

It reads one `Asked` and writes `Told`s until it is done. The server that began it is the only one to talk to it; where
that closes the pipe, it ends.
"""

import sys

from northfold.core.day.pipe import Asked, Told, receive, send
from northfold.core.day.planning import plan_day
from northfold.core.day.saving import Shorter, tried
from northfold.core.day.solver import Limits


def main() -> None:
    """Plan what is asked for, and tell it."""
    asked, out = receive(sys.stdin.buffer), sys.stdout.buffer
    assert isinstance(asked, Asked)
    if asked.planned is not None:
        shorter = {key: each for key, each in asked.shorter.items() if isinstance(each, Shorter)}
        for saving in tried(asked.planned, shorter):
            send(out, Told(saving=saving))
        send(out, Told(is_over=True))
        return
    found = plan_day(
        asked.day,
        Limits(asked.seconds),
        lambda each: send(out, Told(each)),
        None,
        asked.hint,
        asked.told,
        asked.worth,
        asked.is_near,
    )
    send(out, Told(found, is_over=True))


if __name__ == "__main__":
    main()

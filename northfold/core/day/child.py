"""
The search of a day in a process of its own.

It is given one `Asked` and tells `Told`s until it is done. Where whoever asked is gone, it ends.
"""

from multiprocessing.connection import Connection

from northfold.core.day.pipe import Asked, Told
from northfold.core.day.planning import plan_day
from northfold.core.day.saving import Shorter, tried
from northfold.core.day.solver import Limits


def answer(asked: Asked, back: Connection) -> None:
    """Plan what is asked for, and tell it."""
    try:
        if asked.planned is not None:
            shorter = {key: each for key, each in asked.shorter.items() if isinstance(each, Shorter)}
            for saving in tried(asked.planned, shorter, seconds=asked.seconds):
                back.send(Told(saving=saving))
            back.send(Told(is_over=True))
            return
        found = plan_day(
            asked.day,
            Limits(asked.seconds),
            lambda each: back.send(Told(each)),
            None,
            asked.hint,
            asked.told,
            asked.worth,
            asked.is_near,
            asked.enough,
        )
        back.send(Told(found, is_over=True))
    except BrokenPipeError:
        return

"""Drawn pieces of pages that are kept in the process as long as what they show is the same."""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock

from django.utils.safestring import SafeString


class Kept:
    """At most so many drawn pieces, those asked for longest ago given up first. Its key must say all that one shows."""

    def __init__(self, most: int) -> None:
        self.most, self._lock = most, Lock()
        self._drawn: OrderedDict[Hashable, SafeString] = OrderedDict()

    def get(self, key: Hashable, draw: Callable[[], SafeString]) -> SafeString:
        """What was drawn for a key; drawn now where nothing was."""
        with self._lock:
            found = self._drawn.get(key)
            if found is not None:
                self._drawn.move_to_end(key)
                return found
        found = draw()
        with self._lock:
            self._drawn[key] = found
            while len(self._drawn) > self.most:
                self._drawn.popitem(last=False)
        return found

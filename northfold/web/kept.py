"""What is kept in the process, so that it need not be made again: drawn pieces of pages, what was shown last."""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Generic, TypeVar

Value = TypeVar("Value")


class Kept(Generic[Value]):
    """At most so many things, those asked for longest ago given up first. A key says all that a thing depends on."""

    def __init__(self, most: int) -> None:
        self.most, self._lock = most, Lock()
        self._kept: OrderedDict[Hashable, Value] = OrderedDict()

    def get(self, key: Hashable, make: Callable[[], Value]) -> Value:
        """What is kept under a key; made now where nothing is."""
        with self._lock:
            found = self._kept.get(key)
            if found is not None:
                self._kept.move_to_end(key)
                return found
        found = make()
        self.keep(key, found)
        return found

    def keep(self, key: Hashable, value: Value) -> None:
        """Keep this in the place of what was kept."""
        with self._lock:
            self._kept[key] = value
            self._kept.move_to_end(key)
            while len(self._kept) > self.most:
                self._kept.popitem(last=False)

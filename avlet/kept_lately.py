"""What takes long to make, kept for as long as it is asked for now and then."""

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

from avlet.giving_back import kept_to_be_quick

V = TypeVar("V")


class KeptLately(Generic[V]):
    """Values by what they hang on, within a limit: those asked for longest ago go first, but for the last one that was put.

    ``weigh`` tells how much of ``most`` a value takes. Several threads may ask. Where the process holds much, all of it goes.
    """

    def __init__(self, most: float, weigh: Callable[[V], float]) -> None:
        self.most, self._weigh = most, weigh
        self._kept: OrderedDict[Hashable, V] = OrderedDict()
        self._weight = 0.0
        self._lock = threading.Lock()
        kept_to_be_quick(self.clear)

    @property
    def weight(self) -> float:
        """How much all that is kept takes."""
        return self._weight

    def __len__(self) -> int:
        return len(self._kept)

    def get(self, key: Hashable) -> V | None:
        """What is kept under a key."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
            return self._kept.get(key)

    def put(self, key: Hashable, value: V) -> V:
        """Keep a value, which is given back; what is more than the limit goes."""
        with self._lock:
            if key in self._kept:
                self._weight -= self._weigh(self._kept.pop(key))
            self._kept[key] = value
            self._weight += self._weigh(value)
            while self._weight > self.most and len(self._kept) > 1:
                self._weight -= self._weigh(self._kept.popitem(last=False)[1])
        return value

    def clear(self) -> None:
        """Let go of all."""
        with self._lock:
            self._kept.clear()
            self._weight = 0.0

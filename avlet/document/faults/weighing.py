"""Adding up over what leads to what, however deep and however often."""

from collections.abc import Callable, Hashable, Iterable, Mapping
from typing import TypeVar

K = TypeVar("K", bound=Hashable)


def weighed(leads: Mapping[K, Iterable[K]], weigh: Callable[[K, list[int]], int]) -> dict[K, int]:
    """A number for each thing from the numbers of those that it leads to, without calling itself.

    What runs in a circle counts as nothing where the circle closes.
    """
    found: dict[K, int] = {}
    for first in leads:
        open_things, on_way = [first], set()
        while open_things:
            thing = open_things[-1]
            if thing in found:
                open_things.pop()
                continue
            if thing not in on_way:
                on_way.add(thing)
                ahead = [other for other in leads[thing] if other not in found and other not in on_way]
                if ahead:
                    open_things.extend(ahead)
                    continue
            on_way.discard(thing)
            found[thing] = weigh(thing, [found.get(other, 0) for other in leads[thing]])
            open_things.pop()
    return found

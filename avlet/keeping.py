"""Results that are kept for as long as what they were made of lives, and no longer."""

import functools
from collections.abc import Callable
from typing import Any, Concatenate, ParamSpec, TypeVar, cast
from weakref import WeakKeyDictionary

Of = TypeVar("Of")
More = ParamSpec("More")
Result = TypeVar("Result")


def kept_while_alive(function: Callable[Concatenate[Of, More], Result]) -> Callable[Concatenate[Of, More], Result]:
    """Remember what a function gives for its first argument, by identity, and for others by value, until the first one is gone.

    A cache of fixed size would keep alive everything that its keys hold, long after the template they came from was closed. The result
    must not hold the first argument itself.
    """
    known: WeakKeyDictionary[Any, dict[tuple[Any, ...], Any]] = WeakKeyDictionary()

    @functools.wraps(function)
    def kept(of: Of, *more: More.args, **named: More.kwargs) -> Result:
        results = known.get(of)
        if results is None:
            results = known[of] = {}
        key = (*more, *named.items()) if named else more
        found = results.get(key)
        if found is None:
            found = results[key] = function(of, *more, **named)
        return cast(Result, found)

    return cast("Callable[Concatenate[Of, More], Result]", kept)

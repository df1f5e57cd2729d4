"""Results that are kept for as long as what they were made of lives, or for the last few things that they were made of."""

import functools
from collections import OrderedDict
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


def kept_of_the_last(most: int) -> Callable[[Callable[Concatenate[Of, More], Result]], Callable[Concatenate[Of, More], Result]]:
    """Remember what a function gives for the last ``most`` first arguments, by identity, and for others by value.

    For values that can neither be hashed nor referred to weakly, such as templates.
    """

    def keeping(function: Callable[Concatenate[Of, More], Result]) -> Callable[Concatenate[Of, More], Result]:
        known: OrderedDict[tuple[Any, ...], tuple[Of, Result]] = OrderedDict()

        @functools.wraps(function)
        def kept(of: Of, *more: More.args, **named: More.kwargs) -> Result:
            key = (id(of), *more, *named.items())
            found = known.get(key)
            if found is None:
                found = known[key] = of, function(of, *more, **named)
                while len(known) > most:
                    known.popitem(last=False)
            else:
                known.move_to_end(key)
            return found[1]

        return cast("Callable[Concatenate[Of, More], Result]", kept)

    return keeping

"""Each from elsewhere, in words: where the units of a move come from by chance, and by how much each differs."""

from collections.abc import Callable
from typing import Any, get_args

from avlet.desktop.recipe.sentences import Choice, Sentence
from avlet.document.time.moves import Elsewhere, Gathering, Move

_TOGETHER = "from one place"


def elsewhere_words(
    say: Sentence, at: str, move: Move, put: Callable[[Elsewhere | None], object], write: Callable[[Gathering], object],
    shuffle: Callable[[], object],
) -> None:  # fmt: skip
    """Say where each unit of the move at a path comes from. ``put`` takes another chance or none, ``write`` another shape of it."""
    own = move.elsewhere
    choices: list[Choice] = [(_TOGETHER, None), *((shape, shape) for shape in get_args(Gathering))]

    def choose(shape: Any) -> None:
        if shape is None or own is None:
            put(None if shape is None else Elsewhere(shape))
        else:
            write(shape)

    say.words(", each").choice(_TOGETHER if own is None else f"from {own.shape}", choices, choose, "elsewhere")
    if own is None:
        return
    path = f"{at}.elsewhere"
    if own.shape in ("a point", "away from a point"):
        say.words("at").number(f"{path}.point_x").words("% across,").number(f"{path}.point_y").words("% down,")
    first = {"on a ring": "px off, give or take", "away from a point": "px off, give or take"}.get(own.shape, "px across and")
    say.words("by").number(f"{path}.x").words(first).number(f"{path}.y").words("px" if "off" in first else "px down")
    say.words(", turned by up to").number(f"{path}.turn").words("°, tilted").number(f"{path}.tilt").words("°, sized by up to")
    say.number(f"{path}.size").words("%, faded").number(f"{path}.opacity").words("%, up to").number(f"{path}.delay").words("frames later")
    say.button("shuffle again", shuffle, "elsewhere shuffle", "Another chance for all of it (U)")

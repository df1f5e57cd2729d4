"""No part jumps: from frame to frame its way and its opacity change as those next to them do."""

from collections.abc import Iterator

import numpy as np

from avlet.arrays import Floats, Marks
from avlet.document.parts import AnyPart, CreditsPart
from avlet.document.time.eases import Linear, Steps
from avlet.document.time.moves import Move, OwnWayOut
from avlet.review.checks.base import COMMON, Check, Finding, px
from avlet.review.looked import Looked

_ID = "jumps"
TIMES = 4.0
"""A step that is so many times its neighbours is a jump."""
LEAST_PX, LEAST_OPACITY = 12.0, 0.5
"""Steps below this, at 1080 lines, are seen as no jump."""


def _stepped(part: AnyPart) -> bool:
    """Whether some move of a part is meant to go in steps, or in one."""
    own = part.way_out.moves if isinstance(part.way_out, OwnWayOut) else ()
    return any(_steps(move) or 0 < move.frames <= 2 for move in (*part.way_in, *own)) or any(
        any(isinstance(getattr(key, "ease", None), Steps) for key in keyed.keys) for keyed in part.keys
    )


def _steps(move: Move) -> bool:
    ease = move.ease
    upright = isinstance(ease, Linear) and any(a.x == b.x for a, b in zip(ease.points, ease.points[1:], strict=False))
    return isinstance(ease, Steps) or upright


def jumps_in(steps: Floats, least: float) -> Marks:
    """Where a step (frames − 1, units) is more than ``TIMES`` its neighbours', and large enough to be seen."""
    known = np.nan_to_num(steps)
    before, after = np.vstack([known[:1] * 0, known[:-1]]), np.vstack([known[1:], known[-1:] * 0])
    seen_before = np.vstack([np.zeros_like(known[:1], bool), ~np.isnan(steps[:-1])])
    seen_after = np.vstack([~np.isnan(steps[1:]), np.zeros_like(known[:1], bool)])
    found: Marks = (known > TIMES * np.maximum(before, after)) & (known > least) & seen_before & seen_after
    return found


def run(looked: Looked) -> Iterator[Finding]:
    """The way of each unit, and its opacity, between frames against the steps before and after."""
    if len(looked.frames) < 4:
        return
    lines = looked.scene.template.frame.height / 1080
    for part_id, rest in looked.present:
        if rest.part.holds or rest.part.copied is not None or isinstance(rest.part, CreditsPart) or _stepped(rest.part):
            continue
        places, opacity = looked.motion(part_id)
        ways = np.hypot(*np.moveaxis(looked.steps(places), -1, 0))
        for steps, least, what in ((ways, LEAST_PX * lines, "place"), (np.abs(looked.steps(opacity)), LEAST_OPACITY, "opacity")):
            marks = jumps_in(steps, least)
            if marks.any():
                at, unit = np.unravel_index(np.argmax(np.where(marks, np.nan_to_num(steps), -1)), marks.shape)
                amount, frame = float(steps[at, unit]), looked.frames[int(at) + 1]
                said = px(amount) if what == "place" else f"{amount * 100:.0f} % of its opacity"
                words = f"{rest.part.name} jumps by {said} at frame {frame}."
                box = looked.visible[part_id].get(frame)
                yield Finding(_ID, "breaks", part_id, words, "jumps", amount, least, "px" if what == "place" else "", frame, frame, box)


CHECK = Check(_ID, "Jumps", "No part jumps", f"a step at most {TIMES:g} times its neighbours, unless its ease is stepped", COMMON, run)

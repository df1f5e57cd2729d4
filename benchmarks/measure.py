"""Taking time: both sides of a ratio in turns, in one run."""

import gc
import time
from collections.abc import Callable
from pathlib import Path

import uharfbuzz as hb

from avlet.text.fonts import Face

DEMO = Path(__file__).resolve().parent.parent / "demo"


def best(*sides: Callable[[], object], rounds: int = 5) -> list[float]:
    """Seconds of each side's best round, the sides taking turns."""
    found = [float("inf")] * len(sides)
    for _ in range(rounds):
        for index, side in enumerate(sides):
            gc.collect()
            start = time.perf_counter()
            side()
            found[index] = min(found[index], time.perf_counter() - start)
    return found


def shape_bare(face: Face, line: str) -> None:
    """Shape a line with nothing but HarfBuzz."""
    buffer = hb.Buffer()
    buffer.add_str(line)
    buffer.guess_segment_properties()
    hb.shape(face.shaper, buffer)

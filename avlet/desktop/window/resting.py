"""What is let go while nobody needs it: the memory in which spaces are drawn, and what the allocator holds unused."""

import contextlib
import gc
import sys

from PyQt6.QtCore import QObject, QTimer

from avlet.giving_back import ease, give_back, holds_much

EVERY_MS, AFTER_S = 10_000, 20
"""How often it is looked, and after how many seconds without a space the context in which they are drawn goes."""
_MOST_WAIT_S = 1.0


class Resting(QTimer):
    """Looks every now and then. What never drew a space is not even loaded for it."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.timeout.connect(self.look)
        self.start(EVERY_MS)

    def look(self) -> None:
        """Let the context go where no space was drawn lately, and give back what lies unused.

        Where much is held the context goes at once, as its driver keeps a part of what it compiled for each picture until then, and so does
        whatever is kept only to be quick.
        """
        drawing, much = sys.modules.get("avlet.solid.drawing"), holds_much()
        going = drawing.rest(0 if much else AFTER_S) if drawing is not None else None
        if much:
            if going is not None:
                with contextlib.suppress(TimeoutError):
                    going.result(_MOST_WAIT_S)
            gc.collect()
            ease()
        else:
            give_back()

"""What is let go while nobody needs it: the memory in which spaces are drawn, and what the allocator holds unused."""

import sys

from PyQt6.QtCore import QObject, QTimer

from avlet.giving_back import give_back

EVERY_MS, AFTER_S = 10_000, 20
"""How often it is looked, and after how many seconds without a space the context in which they are drawn goes."""


class Resting(QTimer):
    """Looks every now and then. What never drew a space is not even loaded for it."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.timeout.connect(self.look)
        self.start(EVERY_MS)

    def look(self) -> None:
        """Let the context go where no space was drawn lately, and give back what lies unused."""
        drawing = sys.modules.get("avlet.solid.drawing")
        if drawing is not None:
            drawing.rest(AFTER_S)
        give_back()

"""Saving over what somebody else wrote, and into folders that are gone: nothing of theirs or of one's own is lost unasked."""

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any, TypeVar

import numpy as np
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QMessageBox

from avlet.desktop.dialogs.theirs_dialog import Choice, TheirsDialog
from avlet.desktop.sessions.history_session import HistorySession
from avlet.desktop.widgets.asking import lasting
from avlet.desktop.window.shell import Shell
from avlet.document.cut import Cut
from avlet.document.editing.differences import of_cuts, of_templates
from avlet.errors import AvletError
from avlet.geometry import Box
from avlet.media.timeline import read_cut
from avlet.paint.painter import new_pixels
from avlet.paint.scene import Scene
from avlet.paint.views import view_round
from avlet.review.views import rest_box
from avlet.storage.contents import GONE, content_of
from avlet.storage.package import Opened, open_template
from avlet.storage.thumbnail import GROUND, landed_frame

_WIDTH, _RATIO = 720, 16 / 9
"""px of a picture, and its shape."""
_MOST_SIDE = 6_000
_TAKEN = "Take {} as it is now"
T = TypeVar("T")


class Theirs:
    """Asks before a template or a cut of one window is written over what is not its own any more."""

    def __init__(self, window: Shell) -> None:
        self.window = window

    def may_write_template(self, path: Path, elsewhere: Callable[[], bool]) -> bool | None:
        """None where the template may be written; else what saving has come to instead. ``elsewhere`` saves under another name."""
        return self._settled(self.window.session, path, self._ask_of_template, self.take_template, elsewhere)

    def may_write_cut(self, path: Path, elsewhere: Callable[[], bool]) -> bool | None:
        """The same for the cut."""
        return self._settled(self.window.cut_session, path, self._ask_of_cut, self.take_cut, elsewhere)

    def _settled(
        self, session: HistorySession[Any], path: Path, ask: Callable[[Path], Choice | None], take: Callable[[Path], bool],
        elsewhere: Callable[[], bool],
    ) -> bool | None:  # fmt: skip
        if path != session.path:
            return None
        if not path.parent.exists():
            return self.may_make(path.parent, elsewhere)
        now = content_of(path)
        if now in (session.content, GONE):
            return None
        choice = ask(path)
        if choice is Choice.THEIRS:
            return take(path)
        if choice is Choice.OTHER:
            return elsewhere()
        return None if choice is Choice.OVER else False

    def may_make(self, folder: Path, elsewhere: Callable[[], bool]) -> bool | None:
        """Ask about a folder that is not there any more: None where it is to be made again."""
        buttons = QMessageBox.StandardButton
        words = f"The folder “{folder}” is not there any more; perhaps its drive is not connected. Make it again and save there?"
        question = f"{words}\n\nNo: save somewhere else."
        wanted = buttons.Yes | buttons.No | buttons.Cancel
        answer = QMessageBox.question(lasting(self.window), "The folder is gone", question, wanted, buttons.No)
        return None if answer == buttons.Yes else elsewhere() if answer == buttons.No else False

    # Asking

    def _ask_of_template(self, path: Path) -> Choice | None:
        session = self.window.session
        mine = Scene(session.template, session.book)
        try:
            opened = open_template(path)
            theirs = Scene(opened.template, opened.book)
        except AvletError as error:
            return self._ask(path, [("Yours", _pictures(mine)[0]), ("Theirs cannot be opened", None)], [str(error)])
        sides = list(zip(("Yours", "Theirs"), _pictures(mine, theirs), strict=True))
        return self._ask(path, sides, of_templates(session.template, opened.template))

    def _ask_of_cut(self, path: Path) -> Choice | None:
        try:
            theirs = read_cut(path)
        except AvletError as error:
            return self._ask(path, [("Yours", None), ("Theirs cannot be opened", None)], [str(error)])
        mine = self.window.cut_session.cut
        sides = [(f"{side}: {len(cut.titles)} titles, {cut.length} frames", None) for side, cut in (("Yours", mine), ("Theirs", theirs))]
        return self._ask(path, sides, of_cuts(mine, theirs))

    def _ask(self, path: Path, pictures: Sequence[tuple[str, QImage | None]], differs: Sequence[str]) -> Choice:
        return TheirsDialog.ask(path.name, pictures, differs, self.window)

    # Taking

    def take_template(self, path: Path) -> bool:
        """Take what the file holds now, as one undo; says why where that cannot be done."""
        session = self.window.session

        def take(opened: Opened) -> bool:
            session.book = opened.book
            return opened.template == session.template or session.edit(_TAKEN.format(path.name), lambda _: opened.template)

        return self._taken(session, path, open_template, take)

    def take_cut(self, path: Path) -> bool:
        """The same for the cut."""
        session = self.window.cut_session

        def take(cut: Cut) -> bool:
            if cut != session.cut:
                session.edit(_TAKEN.format(path.name), lambda _: cut)
            return True

        return self._taken(session, path, read_cut, take)

    def _taken(self, session: HistorySession[Any], path: Path, read: Callable[[Path], T], take: Callable[[T], bool]) -> bool:
        content = content_of(path)
        try:
            found = read(path)
        except AvletError as error:
            self.window.say(f"“{path.name}” was changed by somebody else, and cannot be read now: {error} What is here stays.")
            return False
        if not take(found):
            return False
        session.mark_saved(path)
        session.content = content
        return True


def _pictures(*scenes: Scene) -> list[QImage]:
    """What titles look like in their hold, all in the same piece of the frame: the one in which they differ."""
    joint = Box.union(box for box in map(rest_box, scenes) if box is not None)
    return [_picture(scene, view_round(joint, scene.template.frame, _RATIO)) for scene in scenes]


def _picture(scene: Scene, view: Box) -> QImage:
    frame = scene.template.frame
    scale = min(_WIDTH / view.w, _MOST_SIDE / max(frame.width, frame.height))
    pixels = new_pixels(max(1, round(frame.width * scale)), max(1, round(frame.height * scale)))
    pixels[...] = (*GROUND, 255)
    scene.paint(landed_frame(scene), pixels, clear=False)
    x, y = (max(0, round(at * scale)) for at in (view.x, view.y))
    piece = np.ascontiguousarray(pixels[y : y + max(1, round(view.h * scale)), x : x + max(1, round(view.w * scale))])
    return QImage(piece.tobytes(), piece.shape[1], piece.shape[0], piece.shape[1] * 4, QImage.Format.Format_RGBA8888_Premultiplied).copy()

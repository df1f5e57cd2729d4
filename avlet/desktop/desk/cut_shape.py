"""The size and rate of a cut: told, and changed with all times kept."""

from fractions import Fraction
from functools import partial
from pathlib import Path

import msgspec
from PyQt6.QtWidgets import QInputDialog, QMenu, QPushButton, QWidget

from avlet.desktop.sessions.cut_session import CutSession
from avlet.desktop.widgets.asking import lasting
from avlet.document.cut import Cut, in_frame, in_shape
from avlet.document.template import Frame
from avlet.errors import AvletError
from avlet.media.footage import STILLS
from avlet.media.foreign import theirs_words
from avlet.media.theirs import probed_size, theirs_of
from avlet.media.timeline import with_their_pictures
from avlet.numbers.timecode import rate_words, read_rate
from avlet.roster.roster import read_size

SIZES = ((1920, 1080), (3840, 2160), (1080, 1920), (2160, 3840), (1080, 1080), (2160, 2160))
RATES = ("24000/1001", "24/1", "25/1", "30000/1001", "30/1", "50/1", "60000/1001", "60/1", "120/1")


def frame_words(frame: Frame) -> str:
    """A size and rate as people say it: *1920×1080 · 23.976 f/s*."""
    return f"{frame.width}×{frame.height} · {rate_words(frame.fps)} f/s"


def cut_words(cut: Cut) -> str:
    """What a cut is, for the header: its frame, what is theirs, how many titles are ours."""
    count = f"{len(cut.titles)} title{'' if len(cut.titles) == 1 else 's'}"
    theirs = theirs_words(cut.foreign)
    return " · ".join([frame_words(cut.frame), *([f"theirs: {theirs}", f"ours: {count}"] if theirs else [count])])


def films_of(cut: Cut) -> tuple[Path, ...]:
    """The films of a cut that are on this machine, as often as they are used."""
    theirs = (clip.file for track in theirs_of(cut).tracks if not track.is_sound for clip in track.clips)
    own = (Path(clip.file) for clip in cut.pictures if clip.file)
    return tuple(p for p in (theirs if cut.foreign else own) if p is not None and p.suffix.lower() not in STILLS and p.is_file())


class ShapeButton(QPushButton):
    """*1920×1080 · 25 f/s*: a press offers other sizes and rates."""

    def __init__(self, session: CutSession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setFlat(True)
        self.setAccessibleName("Size and rate of the cut")
        self.setToolTip("Size and rate of the cut. All times keep their seconds; titles of another shape are shown whole")
        self._menu = QMenu(self)
        self._menu.aboutToShow.connect(self._fill)
        self.setMenu(self._menu)
        session.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Follow the cut."""
        self.setText(frame_words(self.session.cut.frame))

    def _fill(self) -> None:
        self._menu.clear()
        frame = self.session.cut.frame
        probed = probed_size(films_of(self.session.cut))
        sizes = dict.fromkeys((*((probed,) if probed else ()), *SIZES))
        for width, height in sizes:
            words = f"{width}×{height}" + (", as its films are" if (width, height) == probed else "")
            self._offer(words, (width, height) == (frame.width, frame.height), partial(self.take_size, width, height))
        self._menu.addSeparator()
        for rate in RATES:
            self._offer(f"{rate_words(Fraction(rate))} frames a second", Fraction(rate) == frame.fps, partial(self.take_rate, rate))
        self._menu.addSeparator()
        self._offer("Another…", None, self._ask)

    def _offer(self, words: str, chosen: bool | None, take: "partial[None] | object") -> None:
        action = self._menu.addAction(words)
        assert action is not None and callable(take)
        action.setCheckable(chosen is not None)
        action.setChecked(bool(chosen))
        action.triggered.connect(lambda _=False: take())

    def take_size(self, width: int, height: int) -> None:
        """Give the cut another size; titles are as large on it as they were, and whole in another shape."""
        cut = self.session.cut
        shown = in_shape(cut, width, height)
        kept = tuple(msgspec.structs.replace(new, reframed=old.reframed) for old, new in zip(cut.titles, shown.titles, strict=True))
        self._take(msgspec.structs.replace(shown, titles=kept))

    def take_rate(self, rate: str) -> None:
        """Give the cut another rate; all times keep their seconds."""
        self._take(in_frame(self.session.cut, msgspec.structs.replace(self.session.cut.frame, rate=rate)))

    def _take(self, cut: Cut) -> None:
        before = self.session.cut
        if cut.frame == before.frame:
            return
        try:
            cut = with_their_pictures(cut) if cut.foreign else cut
        except AvletError as error:
            self.session.refused.emit(str(error))
            return
        at = self.session.frame * cut.frame.fps / before.frame.fps
        self.session.reshape(cut)
        self.session.go_to(round(at))
        self.session.refused.emit(f"The cut is {frame_words(cut.frame)} now; all times keep their seconds. Ctrl+Z brings it back.")

    def _ask(self) -> None:
        frame = self.session.cut.frame
        words, sure = QInputDialog.getText(
            lasting(self), "Size and rate of the cut", "Width × height, and frames a second:",
            text=f"{frame.width}x{frame.height} {rate_words(frame.fps)}",
        )  # fmt: skip
        if sure:
            self.take_words(words)

    def take_words(self, words: str) -> None:
        """Take a size, a rate or both, as they are typed: *1280x720 50*."""
        try:
            for word in words.replace("×", "x").split():
                if "x" in word:
                    width, height = read_size(word)
                    msgspec.convert({"width": width, "height": height}, Frame)
                    self.take_size(width, height)
                else:
                    self.take_rate(read_rate(word))
        except (AvletError, ValueError) as error:
            self.session.refused.emit(str(error))

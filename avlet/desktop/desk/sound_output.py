"""The sound of a cut while it plays: mixed as it is asked for, on the machine's own device. Its clock decides which frame is due."""

from collections.abc import Callable, Sequence
from typing import Any, Protocol

from PyQt6.QtCore import QByteArray, QIODevice, QObject

from avlet.media.samples import HERTZ
from avlet.media.sound import SoundClip, mixed

NO_DEVICE = "There is no sound device here: the film plays without its sound, which is in the film that is rendered."
_BYTES = 8
"""Of one sample: two sides, 32 bits each."""
_MOST_AT_ONCE = HERTZ // 5


class Sink(Protocol):
    """What plays samples; Qt's own, or a stand-in for tests."""

    def start(self, device: QIODevice) -> None: ...
    def stop(self) -> None: ...
    def processedUSecs(self) -> int: ...


def machine_sink(parent: QObject) -> Sink | None:
    """The device of this machine; None where there is none, or where what Qt needs for it is not installed."""
    try:
        from PyQt6.QtMultimedia import QAudioFormat, QAudioSink, QMediaDevices
    except ImportError:
        return None
    device = QMediaDevices.defaultAudioOutput()
    if device.isNull():
        return None
    wanted = QAudioFormat()
    wanted.setSampleRate(HERTZ)
    wanted.setChannelCount(2)
    wanted.setSampleFormat(QAudioFormat.SampleFormat.Float)
    return QAudioSink(device, wanted, parent) if device.isFormatSupported(wanted) else None


class Mixing(QIODevice):
    """Gives the samples of a cut one after another, from the first of them again behind the last of ``total``."""

    def __init__(self, clips: Sequence[SoundClip], at: int, total: int, parent: QObject) -> None:
        super().__init__(parent)
        self._clips, self._at, self._total = clips, at, max(1, total)
        self.said: dict[str, None] = {}
        self.open(QIODevice.OpenModeFlag.ReadOnly)

    def isSequential(self) -> bool:
        return True

    def bytesAvailable(self) -> int:
        return _MOST_AT_ONCE * _BYTES + super().bytesAvailable()

    def readData(self, most: int) -> bytes:
        wanted, found = min(most // _BYTES, _MOST_AT_ONCE), QByteArray()
        while wanted > 0:
            self._at %= self._total
            count = min(wanted, self._total - self._at)
            found.append(mixed(self._clips, self._at, count, self.said).tobytes())
            self._at += count
            wanted -= count
        return bytes(found.data())

    def writeData(self, data: Any) -> int:
        return -1


class SoundOutput(QObject):
    """Plays what sounds on a cut. ``make_sink`` gives the device, None where there is none."""

    def __init__(self, parent: QObject, make_sink: Callable[[QObject], Sink | None] = machine_sink) -> None:
        super().__init__(parent)
        self.on = True
        self._make_sink = make_sink
        self._sink: Sink | None = None
        self._mixing: Mixing | None = None

    def start(self, clips: Sequence[SoundClip], at: int, total: int) -> str:
        """Play from a sample on; says why nothing is heard, empty where nothing should be or all is."""
        self.stop()
        if not self.on or not clips:
            return ""
        self._sink = self._make_sink(self)
        if self._sink is None:
            return NO_DEVICE
        self._mixing = Mixing(clips, at, total, self)
        self._sink.start(self._mixing)
        return ""

    def stop(self) -> list[str]:
        """Be silent; what could not be heard."""
        said = list(self._mixing.said) if self._mixing is not None else []
        if self._sink is not None:
            self._sink.stop()
        if self._mixing is not None:
            self._mixing.close()
            self._mixing.deleteLater()
        self._sink = self._mixing = None
        return said

    def elapsed(self) -> int | None:
        """Nanoseconds that were played; None while nothing is."""
        return None if self._sink is None else self._sink.processedUSecs() * 1000

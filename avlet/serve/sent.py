"""Files that somebody sent for a table, such as its guests' portraits: each kept once, by what is in it, within bounds, and swept."""

import base64
import binascii
import hashlib
import threading
import time
from collections import OrderedDict
from collections.abc import Mapping
from typing import Any

import msgspec

from avlet.document.metadata import brief
from avlet.errors import AnswerError, AvletError
from avlet.limits import MOST_SENT_FILES

_SENT = "sent"


class NotSentError(AvletError):
    """A file that is not kept, or not any more."""


class SentFile(msgspec.Struct, forbid_unknown_fields=True):
    """A file that cells of a table name: its name, and its bytes in base64."""

    name: str
    data: str

    def read(self) -> bytes:
        """Its bytes; raises ``AnswerError`` where they are none."""
        return bytes_sent(self.data)


def bytes_sent(data: str) -> bytes:
    """What was sent in base64; raises ``AnswerError`` where it did not come whole."""
    try:
        return base64.b64decode(data, validate=True)
    except (binascii.Error, ValueError):
        raise AnswerError("The bytes of the file did not come whole. Send it again.") from None


class SentFiles:
    """What was sent, by names that are made of what is in it. The one that nobody asked for longest goes first."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._kept: OrderedDict[str, tuple[bytes, float]] = OrderedDict()

    def __len__(self) -> int:
        return len(self._kept)

    def keep(self, data: bytes) -> str:
        """Keep a file; the name that it is kept by."""
        name = _name_of(data)
        with self._lock:
            self._kept[name] = data, time.monotonic()
            self._kept.move_to_end(name)
            held = sum(len(one) for one, _ in self._kept.values())
            while held > MOST_SENT_FILES and len(self._kept) > 1:
                held -= len(self._kept.popitem(last=False)[1][0])
        return name

    def of(self, name: str, called: str) -> bytes:
        """A file by the name it is kept by; raises ``NotSentError``, in which it is ``called`` something."""
        with self._lock:
            if name not in self._kept:
                raise NotSentError(f"The file “{brief(called)}” is not kept any more. Add it once more.")
            data = self._kept[name][0]
            self._kept[name] = data, time.monotonic()
            self._kept.move_to_end(name)
        return data

    def sweep(self, before: float) -> None:
        """Let go of what nobody asked for since then."""
        with self._lock:
            for name in [name for name, (_, wanted_at) in self._kept.items() if wanted_at < before]:
                del self._kept[name]

    def in_full(self, answers: Mapping[str, Any]) -> dict[str, Any]:
        """Answers with the bytes of pictures that are named by what they are kept by; see :func:`in_short`."""
        return {key: self._full(answer) for key, answer in answers.items()}

    def _full(self, answer: Any) -> Any:
        if not isinstance(answer, dict) or set(answer) != {"name", _SENT} or not all(isinstance(one, str) for one in answer.values()):
            return answer
        return {"name": answer["name"], "data": base64.b64encode(self.of(answer[_SENT], answer["name"])).decode()}


def in_short(answers: Mapping[str, Any], known: set[str]) -> dict[str, Any]:
    """Answers with pictures named by what they are kept by, those that are ``known``, instead of all their bytes."""

    def short(answer: Any) -> Any:
        if not known or not isinstance(answer, dict) or set(answer) != {"name", "data"}:
            return answer
        name = _name_of(bytes_sent(answer["data"]))
        return {"name": answer["name"], _SENT: name} if name in known else answer

    return {key: short(answer) for key, answer in answers.items()}


def _name_of(data: bytes) -> str:
    return hashlib.blake2b(data, digest_size=16).hexdigest()

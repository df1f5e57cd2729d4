"""The rows of a cut's view, from above: markers, words, the pictures and the sounds that lie under them."""

from typing import Literal, NamedTuple

from avlet.document.cut import TRACKS, Cut
from avlet.media.sound import sound_clips
from avlet.media.theirs import theirs_of

Kind = Literal["marks", "words", "pictures", "their pictures", "sound", "their sound"]
RULER, WORDS, GAP = 30, 34, 6
MOST_HEIGHT = 264
"""px that the view is high at most: what a stranger's many tracks need beyond that is drawn flatter."""
_MARKS, _LOW, _LEAST, _FOOT = 22, 26, 8, 10
_MOST_THEIRS = 16


class Row(NamedTuple):
    """A row: what it shows, its name, where it begins and how high it is, in px, and which track of its kind it is."""

    kind: Kind
    name: str
    top: float
    height: float
    track: int = 0


class Rows(NamedTuple):
    """All rows of a cut, how high they are together, and how many tracks there was no room for."""

    rows: tuple[Row, ...]
    height: int
    left_out: int = 0

    def of(self, kind: Kind, track: int = 0) -> Row | None:
        """The row of a kind and track."""
        return next((row for row in self.rows if row.kind == kind and row.track == track), None)


def rows_of(cut: Cut) -> Rows:
    """The rows of a cut. Those of words are always of one height."""
    theirs = theirs_of(cut)
    asked: list[tuple[Kind, str, int]] = [("words", f"Words {n + 1}", n) for n in reversed(range(TRACKS))]
    left_out = 0
    if cut.foreign:
        pictures = [n for n, track in enumerate(theirs.tracks) if not track.is_sound]
        sounds = [n for n, track in enumerate(theirs.tracks) if track.is_sound]
        shown: list[tuple[Kind, str, int]] = [("their pictures", theirs.tracks[n].name, n) for n in reversed(pictures)]
        shown += [("their sound", theirs.tracks[n].name, n) for n in sounds]
        left_out = max(0, len(shown) - _MOST_THEIRS)
        asked += shown[:_MOST_THEIRS] or [("pictures", "Pictures", 0)]
    else:
        asked.append(("pictures", "Pictures", 0))
        if sound_clips(cut):
            asked.append(("sound", "Sound", 0))
    top, rows = float(RULER + 4), []
    if theirs.marks:
        rows.append(Row("marks", "Markers", top, _MARKS))
        top += _MARKS + GAP
    low = [ask for ask in asked if ask[0] != "words"]
    room = MOST_HEIGHT - top - TRACKS * (WORDS + GAP) - _FOOT
    usual = WORDS if not cut.foreign and len(low) == 1 else _LOW
    height = max(_LEAST, min(usual, room / len(low) - GAP))
    gap = GAP if height >= usual else max(2.0, room / len(low) - height)
    for kind, name, track in asked:
        of_words = kind == "words"
        rows.append(Row(kind, name, top, WORDS if of_words else height, track))
        top += WORDS + GAP if of_words else height + gap
    if left_out:
        rows[-1] = rows[-1]._replace(name=f"{rows[-1].name} and {left_out} more")
    return Rows(tuple(rows), round(top + _FOOT), left_out)

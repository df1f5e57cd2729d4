"""Runs: stretches of one line that have one direction, one script and one face."""

import functools
import itertools
from dataclasses import dataclass

import icu

from avlet.text.fonts import Face, FontBook
from avlet.text.marking import StyledLine
from avlet.text.units import code_points_at, utf16_length

_COMMON = ("Zyyy", "Zinh", "Zzzz")
CURSIVE = frozenset(("Arab", "Syrc", "Mong", "Nkoo", "Mand", "Mani", "Phag", "Phlp", "Adlm", "Rohg", "Sogd"))
"""Scripts whose letters join; room between them would tear the words apart (CSS Text 3, section 8.2.1)."""


@dataclass(frozen=True)
class Run:
    """Code points ``start`` up to ``end`` of a line, in visual order from left to right."""

    start: int
    end: int
    rtl: bool
    script: str
    face: Face
    scale: float = 1.0


@dataclass(frozen=True)
class RunsOfLine:
    """The runs of a line from left to right; ``lacking`` are clusters that no face has."""

    runs: tuple[Run, ...]
    lacking: tuple[str, ...]


@functools.lru_cache(maxsize=65_536)
def script_of(char: str) -> str:
    """The ISO 15924 code of a character's script."""
    return str(icu.Script.getScript(char).getShortName())


def reads_right_to_left(text: str) -> bool:
    """The base direction of a text: that of its first strong character (UAX #9, rules P2 and P3)."""
    return not text.isascii() and icu.Bidi.getBaseDirection(text) == icu.UBiDiDirection.RTL


def split_runs(marked: StyledLine, clusters: list[int], book: FontBook, rtl: bool) -> RunsOfLine:
    """The runs of a line. ``clusters`` are the code point indices where grapheme clusters begin, then the end."""
    line = marked.text
    if not line:
        return RunsOfLine((), ())
    scripts = _scripts(line)
    faces, lacking = _faces(marked, clusters, book)
    scales = [marked.table[number].scale for number in marked.styles]
    runs: list[Run] = []
    for start, end, backwards in _directions(line, rtl, marked.within):
        pieces: list[Run] = []
        begin = start
        for i in range(start + 1, end + 1):
            if i == end or (scripts[i], scales[i]) != (scripts[begin], scales[begin]) or faces[i] is not faces[begin]:
                pieces.append(Run(begin, i, backwards, scripts[begin], faces[begin], scales[begin]))
                begin = i
        runs.extend(reversed(pieces) if backwards else pieces)
    return RunsOfLine(tuple(runs), lacking)


def _directions(line: str, rtl: bool, within: tuple[str, int] | None = None) -> list[tuple[int, int, bool]]:
    """Visual runs by UAX #9: of a line as it stands in its paragraph, where it was broken out of one (rules P1 and L1)."""
    whole, at = within or (line, 0)
    if whole.isascii() and not rtl:
        return [(0, len(line), False)]
    bidi = icu.Bidi()
    paragraph = icu.UnicodeString(whole)  # ICU keeps a pointer to it, so it must outlive the calls below
    bidi.setPara(paragraph, 1 if rtl else 0)
    ordered = bidi
    if within is not None and line:
        start = utf16_length(whole[:at])
        ordered = bidi.setLine(start, start + utf16_length(line))
    to_code_point = code_points_at(line)
    found = []
    for index in range(ordered.countRuns()):
        start, length, direction = ordered.getVisualRun(index)
        found.append((to_code_point[start], to_code_point[start + length], direction == icu.UBiDiDirection.RTL))
    return found


def _scripts(line: str) -> list[str]:
    """A script for each character; common ones take that of their neighbour."""
    if line.isascii():
        return ["Latn"] * len(line)
    found = [script_of(c) for c in line]
    strong = [s for s in found if s not in _COMMON]
    last = strong[0] if strong else "Latn"
    for i, script in enumerate(found):
        if script in _COMMON:
            found[i] = last
        last = found[i]
    return found


def _faces(marked: StyledLine, clusters: list[int], book: FontBook) -> tuple[list[Face], tuple[str, ...]]:
    """A face for each character, decided cluster by cluster; blanks stay with the face before them."""
    line = marked.text
    faces: list[Face] = []
    own: Face | None = None
    lacking: dict[str, None] = {}
    for start, end in itertools.pairwise(clusters):
        cluster, face = line[start:end], marked.table[marked.styles[start]].face
        same, own = face is own, face
        if cluster.isspace() and same and faces and all(ord(c) in faces[-1].covered for c in cluster):
            faces.extend([faces[-1]] * (end - start))
            continue
        found = book.covering(cluster, face)
        if found is None:
            lacking[cluster] = None
        faces.extend([found or face] * (end - start))
    return faces, tuple(lacking)

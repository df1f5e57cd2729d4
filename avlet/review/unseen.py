"""What is wrong in a line of a list and hard to see: blanks of other kinds, letters of another script, brackets, points, capitals."""

import functools
import re
from collections import Counter, defaultdict
from collections.abc import Iterator
from typing import NamedTuple

import icu

from avlet.document.lists.blocks import Blocks, Names, Role, words_in

_A_SEPARATOR = "a line separator"
_UNSEEN = {
    "\u00a0": "a no-break blank", "\u202f": "a narrow no-break blank", "\u2007": "a blank as wide as a figure",
    "\u200b": "a blank without width", "\u2060": "a sign without width", "\ufeff": "a sign without width",
    "\u00ad": "a hyphen that only shows at a line's end", "\t": "a tab", **dict.fromkeys("\u2028\u2029\x0b\x0c\x85", _A_SEPARATOR),
}  # fmt: skip
"""Signs that nobody sees, or takes for a blank."""
_WITHOUT_WIDTH = "\u200b\u2060\ufeff\u00ad"
_UNSEEN_SIGN = re.compile(f"[{''.join(_UNSEEN)}]")
_FRENCH = re.compile("(?<=«)[\u00a0\u202f]|[\u00a0\u202f](?=[»:;!?%€])|(?<=\\d)[\u00a0\u202f](?=\\d|\\w)")
"""Where a no-break blank belongs: inside French quotation marks, before double signs, in and behind numbers (Imprimerie nationale)."""
_BRACKETS = {"(": ")", "[": "]", "{": "}", "«": "»", "„": "“”"}
_BLANK_BEFORE = re.compile(r"[ \t]+(?=[,.)\]](?:\s|$))")
_SHORT = re.compile(r"(?:^|[\s(-])(?:\w{1,3}|\w+(?:\.\w+)+|Ltd|Corp|Bros|Prof|Assoc|Univ)\.$")
"""What ends in a full stop of its own: initials, *Jr.*, *Ltd.*, *e.V.*"""
_MOST_ALIKE = 0.8
"""From which share of all names on the rest differs in its capitals."""
_FEW = 4
_WORD = re.compile(r"[^\W\d_](?:[\w\u200c\u200d'’]*[^\W\d_])?")


class Seen(NamedTuple):
    """Something in one line: of which sort, in words, and what the line should be where there is one right answer."""

    sort: str
    words: str
    mend: str | None = None


def in_line(words: str, is_name: bool) -> Iterator[Seen]:
    """What one line of a list has; ``is_name`` for a role or a name, which is no sentence."""
    yield from _signs(words)
    yield from _scripts(words)
    yield from _brackets(words)
    if _BLANK_BEFORE.search(words.strip()):
        yield Seen("blank before", f"“{_cut(words)}” has a blank before a comma, a point or a bracket.", _BLANK_BEFORE.sub("", words))
    if is_name:
        plain = words.rstrip()
        if plain.endswith((",", ";")):
            yield Seen("ends", f"“{_cut(words)}” ends in a {'comma' if plain[-1] == ',' else 'semicolon'}.", plain.rstrip(",; "))
        elif plain.endswith(".") and not plain.endswith("..") and not _SHORT.search(plain):
            yield Seen("ends", f"“{_cut(words)}” ends in a full stop.", plain[:-1])


def _cut(words: str) -> str:
    return words.strip()[:60]


def _signs(words: str) -> Iterator[Seen]:
    found = _UNSEEN_SIGN.findall(_FRENCH.sub("", words))
    if found:
        plain = _FRENCH.sub("\ue000", words)
        kept = iter(_FRENCH.findall(words))
        mend = re.sub(" +", " ", _UNSEEN_SIGN.sub(lambda m: "" if m[0] in _WITHOUT_WIDTH else " ", plain))
        mend = re.sub("\ue000", lambda _: next(kept), mend).strip(" ")
        yield Seen(f"unseen: {found[0]!a}", f"“{_cut(mend)}” holds {_UNSEEN[found[0]]}, which nobody sees.", mend)


@functools.cache
def _spoofs() -> icu.SpoofChecker:
    """Checks words for scripts that do not go together (Unicode UTS #39, section 5.2, *highly restrictive*)."""
    checker = icu.SpoofChecker()
    checker.setChecks(icu.USpoofChecks.RESTRICTION_LEVEL)
    checker.setRestrictionLevel(icu.URestrictionLevel.HIGHLY_RESTRICTIVE)
    return checker


def _scripts(words: str) -> Iterator[Seen]:
    """Letters of another script inside a word: a Cyrillic а among Latin letters looks the same and is set in another font."""
    if words.isascii():
        return
    for found in _WORD.finditer(words):
        word = found[0]
        if word.isascii() or not _spoofs().check(word):
            continue
        scripts = {c: icu.Script.getScript(c).getShortName() for c in word}
        count = Counter(scripts[c] for c in word if scripts[c] not in ("Zyyy", "Zinh"))
        if len(count) < 2:
            continue
        most = count.most_common(1)[0][0]
        strange = [c for c in word if scripts[c] not in (most, "Zyyy", "Zinh")]
        names = sorted({icu.Script.getScript(c).getName() for c in strange})
        mended = "".join(_like(c, most) if c in strange else c for c in word)
        mend = words[: found.start()] + mended + words[found.end() :] if mended != word and not _spoofs().check(mended) else None
        yield Seen(
            f"scripts: {word[:60]}", f"“{word[:60]}” mixes scripts: {' '.join(dict.fromkeys(strange))} is {' and '.join(names)}.", mend
        )
        return


@functools.cache
def _look_alikes(script: str) -> dict[str, str]:
    """The letters of an alphabet by what they look like (Unicode's confusables)."""
    letters = (chr(code) for code in range(0x41, 0x590))
    return {_spoofs().getSkeleton(0, c): c for c in letters if c.isalpha() and icu.Script.getScript(c).getShortName() == script}


def _like(letter: str, script: str) -> str:
    """The letter of an alphabet that looks like another one; the letter itself where there is none."""
    return _look_alikes(script).get(_spoofs().getSkeleton(0, letter), letter)


def _brackets(words: str) -> Iterator[Seen]:
    for opens, closes in _BRACKETS.items():
        if opens not in words and not (closes in words and len(closes) == 1):
            continue
        depth = 0
        for sign in words:
            depth += (sign == opens) - (sign in closes)
            if depth < 0:
                break
        if depth and not (depth < 0 and (opens == "„" or re.match(r"^\s*(\d+|\w)\)", words))):
            what = f"opens {opens} and does not close it" if depth > 0 else f"closes {closes} that was not opened"
            yield Seen("brackets", f"“{_cut(words)}” {what}.")


# Beside the other names


def under_two_roles(blocks: Blocks) -> Iterator[tuple[int, int, Seen]]:
    """Names that stand under another role as well: block, place, and what there is to see; said at the later one."""
    first: dict[str, str] = {}
    for number, block in enumerate(blocks):
        if not isinstance(block, Role) or not block.role.strip():
            continue
        for place, name in enumerate(block.names, 1):
            key = " ".join(name.casefold().split())
            if not key:
                continue
            before = first.setdefault(key, block.role.strip())
            if before.casefold() != block.role.strip().casefold():
                yield number, place, Seen(f"two roles: {key[:200]}", f"“{_cut(name)}” is under “{before[:40]}” as well.")


def other_capitals(blocks: Blocks) -> Iterator[tuple[int, int, Seen]]:
    """Names in capitals, or without any, beside others that are written otherwise."""
    kinds: dict[str, list[tuple[int, int, str]]] = defaultdict(list)
    for number, block in enumerate(blocks):
        if isinstance(block, Role | Names):
            for place, name in enumerate(block.names, int(isinstance(block, Role))):
                if (kind := _capitals(name)) is not None:
                    kinds[kind].append((number, place, name))
    total = sum(map(len, kinds.values()))
    usual = max(kinds, key=lambda kind: len(kinds[kind]), default="")
    if total < _FEW or len(kinds[usual]) < _MOST_ALIKE * total:
        return
    said = {"all": "is all in capitals", "none": "has no capital", "some": "is not all in capitals"}
    for kind, names in kinds.items():
        for number, place, name in names if kind != usual else ():
            words = said[kind] if not (kind == "some" and usual == "none") else "has capitals"
            yield number, place, Seen("capitals", f"“{_cut(name)}” {words}; the other names are written otherwise.")


def _capitals(name: str) -> str | None:
    """Whether a name is all in capitals, has none, or some; None where its script has none, or it is a single word of a few letters."""
    cased = [c for c in name if c.isupper() or c.islower()]
    if len(cased) < _FEW or len(name.split()) < 2:
        return None
    return "all" if all(c.isupper() for c in cased) else "none" if all(c.islower() for c in cased) else "some"


def unseen(blocks: Blocks) -> Iterator[tuple[int, int, Seen]]:
    """All of it over a list: block, place, and what there is to see."""
    for number, block in enumerate(blocks):
        for place, words in enumerate(words_in(block)):
            for seen in in_line(words, isinstance(block, Role | Names)) if words.strip() else ():
                yield number, place, seen
    yield from under_two_roles(blocks)
    yield from other_capitals(blocks)

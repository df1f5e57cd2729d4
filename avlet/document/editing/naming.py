"""Ids from names: lower-case, ASCII, unique."""

import functools
import re
from collections.abc import Container

import icu

RESERVED = frozenset(("frame", "title-safe", "action-safe", "template", "palette", "value", "own"))
"""Ids that stand for something else: areas of the frame, the template, its palette, and what a formula is given."""


@functools.cache
def _in_latin() -> icu.Transliterator:
    """Any script in plain letters, by the rules of CLDR."""
    return icu.Transliterator.createInstance("Any-Latin; Latin-ASCII")


def slug(name: str) -> str:
    """An id that reads like ``name``: ``Role plate`` becomes ``role-plate``, in any script."""
    return plain_letters(name)[:48] or "part"


def plain_letters(words: str) -> str:
    """Words of any script in small plain letters and figures, with hyphens between; empty where there are none."""
    plain = words if words.isascii() else _in_latin().transliterate(words)
    return re.sub(r"[^a-z0-9]+", "-", plain.lower()).strip("-")


def keywords_in(words: str) -> tuple[str, ...]:
    """Keywords as they are typed, with commas between them; each once, in order."""
    return tuple(dict.fromkeys(word.strip() for word in words.split(",") if word.strip()))


def free_id(name: str, taken: Container[str]) -> str:
    """An id from ``name`` that is neither reserved nor among ``taken``; a number is added where needed."""
    base = re.sub(r"-\d+$", "", slug(name)) or "part"
    candidate, number = slug(name), 2
    while candidate in taken or candidate in RESERVED:
        candidate, number = f"{base}-{number}", number + 1
    return candidate

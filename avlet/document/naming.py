"""Ids from names: lower-case, ASCII, unique."""

import re
import unicodedata
from collections.abc import Container

RESERVED = frozenset(("frame", "title-safe", "action-safe", "template", "palette", "value", "own"))
"""Ids that stand for something else: areas of the frame, the template, its palette, and what a formula is given."""


def slug(name: str) -> str:
    """An id that reads like ``name``: ``Role plate`` becomes ``role-plate``."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode()
    return re.sub(r"[^a-z0-9]+", "-", plain.lower()).strip("-")[:48] or "part"


def free_id(name: str, taken: Container[str]) -> str:
    """An id from ``name`` that is neither reserved nor among ``taken``; a number is added where needed."""
    base = re.sub(r"-\d+$", "", slug(name)) or "part"
    candidate, number = slug(name), 2
    while candidate in taken or candidate in RESERVED:
        candidate, number = f"{base}-{number}", number + 1
    return candidate

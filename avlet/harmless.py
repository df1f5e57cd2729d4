"""Words of a stranger, made harmless where they are printed: a terminal obeys what a document only holds."""

import re

_OBEYED = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\u2028\u2029\u202a-\u202e\u2066-\u2069\ud800-\udfff\ufff9-\ufffb]")
"""Control codes of ECMA-48 but tab and line feed, the controls of UAX #9 that reorder what stands beside them, and halves of pairs."""


def harmless(words: str) -> str:
    """The words with each sign that a terminal would obey told by its number, such as ``⟨1B⟩`` for escape."""
    return _OBEYED.sub(lambda found: f"⟨{ord(found[0]):02X}⟩", words)

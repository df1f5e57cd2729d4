"""Starts: templates to begin from, for any frame, to be changed rather than filled in. A family is one look for one programme."""

from avlet.document.starts.answers import PEOPLE, ROLES
from avlet.document.starts.builder import Making, blank
from avlet.document.starts.single import MARK
from avlet.document.starts.table import FAMILIES, FAMILY_WORDS, STARTS

__all__ = ["FAMILIES", "FAMILY_WORDS", "MARK", "PEOPLE", "ROLES", "STARTS", "Making", "blank"]

"""Starts: templates to begin from, for any frame, to be changed rather than filled in. A family is one look for one programme."""

from avlet.document.starts.answers import PEOPLE, ROLES
from avlet.document.starts.builder import blank
from avlet.document.starts.single import MARK
from avlet.document.starts.table import FAMILIES, STARTS

__all__ = ["FAMILIES", "MARK", "PEOPLE", "ROLES", "STARTS", "blank"]

"""All starts by their plain names, and the families that some of them make."""

from avlet.document.starts.builder import Making, blank
from avlet.document.starts.saltmarsh import SALTMARSH
from avlet.document.starts.signal import SIGNAL
from avlet.document.starts.single import SINGLE

FAMILIES: dict[str, dict[str, Making]] = {"Saltmarsh": SALTMARSH, "Signal": SIGNAL}
"""A name, a title, a place, a count, credits and a sign-off each, of one look."""
STARTS: dict[str, Making] = {
    "Empty frame": blank, **SINGLE, **{f"{family} {kind}": make for family, kinds in FAMILIES.items() for kind, make in kinds.items()},
}  # fmt: skip

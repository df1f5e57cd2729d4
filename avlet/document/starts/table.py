"""All starts by their plain names, and the families that some of them make."""

from avlet.document.starts.builder import Making, blank
from avlet.document.starts.chalk import CHALK
from avlet.document.starts.ledger import LEDGER
from avlet.document.starts.of_a_kind import OF_A_KIND
from avlet.document.starts.saltmarsh import SALTMARSH
from avlet.document.starts.signal import SIGNAL
from avlet.document.starts.single import SINGLE

FAMILIES: dict[str, dict[str, Making]] = {"Saltmarsh": SALTMARSH, "Ledger": LEDGER, "Signal": SIGNAL, "Chalk": CHALK}
"""A name, a title, a place, a count, credits and a sign-off each, of one look."""
FAMILY_WORDS = {
    "Saltmarsh": "deep water and paper, soft corners", "Ledger": "open serifs, hairlines, letters that focus",
    "Signal": "slanted bars, capitals, quick", "Chalk": "outlines and cut-outs, thin and heavy",
}  # fmt: skip
"""What each family is like."""
STARTS: dict[str, Making] = {
    "Empty frame": blank,
    **SINGLE,
    **OF_A_KIND,
    **{f"{family} {kind}": make for family, kinds in FAMILIES.items() for kind, make in kinds.items()},
}

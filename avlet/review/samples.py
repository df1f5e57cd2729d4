"""Does a sample hold? What of a proof can be told of a title at rest, at once: the same checks, in the same words."""

from avlet.paint.scene import Scene
from avlet.review.checks import Finding, fonts, inside, overlong
from avlet.review.looked import AtRest

HOLDS = "holds"
_ORDER = ("past the frame", "out of its plate", "too long", "lacks glyphs", "past title-safe", "font missing")
"""Verdicts, worst first."""
_AT_REST = (inside.at_rest, overlong.run, fonts.run)


def findings(scene: Scene) -> list[Finding]:
    """Everything that keeps a title from holding, worst first; what is told only, or shows while it moves, is the proof's."""
    looked = AtRest(scene, "")
    found = [finding for run in _AT_REST for finding in run(looked) if finding.verdict in _ORDER]
    return sorted(found, key=lambda f: _ORDER.index(f.verdict))


def said_of(scene: Scene) -> list[str]:
    """All that is to be said about a title, once: its notes, and what keeps it from holding. It is the same wherever it is said."""
    notes = scene.notes()
    return [*notes, *dict.fromkeys(f.words for f in findings(scene) if f.words not in notes)]


def verdict(scene: Scene) -> str:
    """The one word for the samples strip."""
    found = findings(scene)
    return found[0].verdict if found else HOLDS

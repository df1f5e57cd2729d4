"""Does a sample hold? What of a proof can be told of a title at rest, at once: the same checks, in the same words."""

from dataclasses import dataclass
from typing import Any

from avlet.document.template import Template
from avlet.paint.scene import Scene
from avlet.review.checks import Finding, fonts, inside, overlong
from avlet.review.looked import AtRest
from avlet.text.fonts import FontBook

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


@dataclass(frozen=True)
class Unheld:
    """What keeps a template from holding with a sample's answers; ``sample`` is empty for the starting ones."""

    sample: str
    name: str
    answers: dict[str, Any]
    finding: Finding


def not_held(template: Template, book: FontBook) -> list[Unheld]:
    """Everything that keeps a template from holding, with what it starts with and with each of its samples, in order."""
    rows = [("", "what it starts with", dict[str, Any]()), *((s.id, s.name, dict(s.answers)) for s in template.samples)]
    return [Unheld(i, name, answers, finding) for i, name, answers in rows for finding in findings(Scene(template, book, answers))]


def unheld_words(found: list[Unheld], most: int = 3) -> str:
    """The same in a few sentences, each thing once with where it is so; empty where all holds."""
    by_words: dict[tuple[str, str], list[Unheld]] = {}
    for one in found:
        by_words.setdefault((one.finding.part_id, one.finding.verdict), []).append(one)
    said = []
    for several in list(by_words.values())[:most]:
        first = several[0]
        more = f", and {len(several) - 1} more" if len(several) > 1 else ""
        said.append(f"{first.finding.words.rstrip('.')} ({first.name}{more}).")
    return " ".join([*said, *([f"{len(by_words) - most} more."] if len(by_words) > most else [])])

"""What is said of a row before it is rendered: it holds, is to be looked at, breaks, or cannot be rendered."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from avlet.errors import AvletError
from avlet.paint.scene import Scene
from avlet.review.checks import overlong
from avlet.review.looked import AtRest
from avlet.review.samples import findings, said_of
from avlet.roster.roster import Plan
from avlet.text.fonts import FontBook

Verdict = Literal["holds", "to look at", "breaks", "cannot be rendered"]
VERDICTS: tuple[Verdict, ...] = ("cannot be rendered", "breaks", "to look at", "holds")
"""Worst first."""


@dataclass(frozen=True)
class Said:
    """What is said of a row: the verdict, the shortest words for it, and sentences."""

    verdict: Verdict
    short: str
    words: tuple[str, ...] = ()


def scene_of(plan: Plan, book: FontBook, line: int, language: str, frame: int = 0) -> Scene:
    """A row's scene in a language and frame; raises ``AvletError``."""
    answered = plan.answered(line, language, frame)
    return Scene(plan.templates[frame], book, answered.answers, answered.length)


def look_at(plan: Plan, book: FontBook, line: int) -> Said:
    """What is said of a row: the worst of all its frames and languages, each sentence once."""
    if line in plan.faulty:
        return Said("cannot be rendered", "cannot be rendered", (plan.faulty[line],))
    worst: Said | None = None
    told: dict[str, list[tuple[int, str]]] = {}
    for language in plan.roster.languages:
        for frame in range(len(plan.templates)):
            try:
                said = said_of_scene(scene_of(plan, book, line, language, frame))
            except AvletError as error:
                said = Said("cannot be rendered", "cannot be rendered", (str(error),))
            for words in said.words:
                told.setdefault(words, []).append((frame, language))
            if worst is None or VERDICTS.index(said.verdict) < VERDICTS.index(worst.verdict):
                worst = said
    assert worst is not None
    return Said(worst.verdict, worst.short, tuple(_where(plan, where) + words for words, where in told.items()))


def _where(plan: Plan, where: list[tuple[int, str]]) -> str:
    """In which frames and languages something is so, as the beginning of a sentence; empty where it is so in all."""
    frames, languages = dict.fromkeys(frame for frame, _ in where), dict.fromkeys(language for _, language in where)
    sizes = [plan.templates[n].frame for n in frames] if len(frames) < len(plan.templates) else []
    spoken = [*languages] if len(languages) < len(plan.roster.languages) else []
    parts = [", ".join(f"{size.width}×{size.height}" for size in sizes), ", ".join(spoken)]
    return ": ".join([" ".join(filter(None, parts)), ""]) if any(parts) else ""


def said_of_scene(scene: Scene) -> Said:
    """What the checks find in a title at rest: the same as the samples strip says."""
    found = findings(scene)
    broken = [f for f in found if f.level == "breaks"]
    if broken:
        return Said("breaks", broken[0].verdict, tuple(said_of(scene)))
    made_to_fit = list(_made_to_fit(scene))
    words = tuple(said_of(scene))
    if found:
        return Said("to look at", found[0].verdict, words)
    if made_to_fit:
        return Said("to look at", made_to_fit[0], tuple(dict.fromkeys((*words, *made_to_fit))))
    return Said("to look at" if words else "holds", words[0] if words else "holds", words)


def _made_to_fit(scene: Scene) -> Iterator[str]:
    """Sentences for each text that shrank, wrapped, was squeezed or cut."""
    yield from (f.words for f in overlong.run(AtRest(scene, "")) if f.level == "told")


def counted(verdicts: dict[Verdict, int]) -> str:
    """How many rows hold and how many do not, in words: *24 rows · 21 hold · 2 to look at · 1 cannot be rendered*."""
    words = {"holds": "hold", "breaks": "break", "to look at": "to look at", "cannot be rendered": "cannot be rendered"}
    total = sum(verdicts.values())
    parts = [f"{verdicts[v]} {words[v]}" for v in reversed(VERDICTS) if verdicts.get(v)]
    return " · ".join([f"{total} {'row' if total == 1 else 'rows'}", *parts])

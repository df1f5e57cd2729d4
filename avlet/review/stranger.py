"""A package as a stranger's machine would open it, without this machine's fonts: what is missing, and what looks different."""

from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from avlet.errors import AvletError
from avlet.paint.scene import Scene
from avlet.review.samples import findings
from avlet.storage.archive import read_files
from avlet.storage.bounded import Clock
from avlet.storage.package import Opened, opened_from

WIDTH = 640
VISIBLE = 24
"""A channel that differs by more than this, of 255, is seen."""


@dataclass(frozen=True)
class Difference:
    """What differs for one sample: the share of px that look different, and the texts that changed their size."""

    sample: str
    share: float
    words: tuple[str, ...] = ()


@dataclass(frozen=True)
class Report:
    """How a package fares at a stranger's. ``holds`` when nothing differs and nothing is missing."""

    name: str
    version: int
    notes: tuple[str, ...]
    differences: tuple[Difference, ...]
    findings: tuple[str, ...]

    @property
    def holds(self) -> bool:
        """Whether a stranger sees the very same."""
        return not self.notes and not self.differences

    def plain(self) -> dict[str, Any]:
        """The report as plain values."""
        return {
            "name": self.name,
            "version": self.version,
            "holds": self.holds,
            "notes": list(self.notes),
            "differences": [{"sample": d.sample, "share": d.share, "words": list(d.words)} for d in self.differences],
            "findings": list(self.findings),
        }


def check_package(path: Path) -> Report:
    """Open a package twice, with this machine's fonts and without, and compare. Raises ``AvletError`` if it cannot be opened."""
    files, clock = read_files(path), Clock()
    here, there = opened_from(files, path.name), opened_from(files, path.name, machine=False)
    samples: list[tuple[str, dict[str, Any]]] = [("As designed", {}), *((s.name, s.answers) for s in here.template.samples)]
    notes: list[str] = list(there.notes)
    differences: list[Difference] = []
    found: list[str] = []
    for number, (name, answers) in enumerate(samples):
        if clock.is_over:
            notes.append(f"Only {number} of {len(samples)} samples were looked at; the others would take too long.")
            break
        try:
            scenes = Scene(here.template, here.book, answers), Scene(there.template, there.book, answers)
        except AvletError as error:
            notes.append(f"{name}: {error}")
            continue
        notes += [f"{name}: {note}" for note in scenes[1].notes() if note not in scenes[0].notes() or "is not" in note]
        found += [f"{name}: {f.words}" for f in findings(scenes[0])]
        share = different_share(here, *scenes)
        words = _sizes(*scenes)
        if share or words:
            differences.append(Difference(name, share, words))
    version = here.manifest.version if here.manifest is not None else 0
    return Report(here.template.name, version, tuple(dict.fromkeys(notes)), tuple(differences), tuple(found))


def different_share(opened: Opened, one: Scene, other: Scene) -> float:
    """The share of px that look different at rest."""
    frame = opened.template.frame
    size = WIDTH, max(1, round(WIDTH * frame.height / frame.width))
    at = opened.template.middle
    first, second = (scene.picture(min(at, scene.length - 1), *size).astype(np.int16) for scene in (one, other))
    return float(np.mean(np.abs(first - second).max(axis=2) > VISIBLE))


def _sizes(one: Scene, other: Scene) -> tuple[str, ...]:
    said = []
    for part_id, rest in one.rest.parts.items():
        box, there = rest.box, other.rest.parts[part_id].box
        if abs(box.w - there.w) > 0.5 or abs(box.h - there.h) > 0.5:
            said.append(f"{rest.part.name} is {there.w:.0f} × {there.h:.0f} px there, {box.w:.0f} × {box.h:.0f} px here.")
    return tuple(said)

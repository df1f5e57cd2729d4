"""Rendering a roster: what is finished already stays, what is alike is made once, each row goes on when another fails."""

import contextlib
import errno
import secrets
import shutil
from collections.abc import Callable, Collection, Iterator, Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import msgspec
from filelock import FileLock, Timeout

from avlet.document.editing.naming import slug
from avlet.document.template import Template
from avlet.errors import AvletError, StorageError
from avlet.media.render import StoppedError
from avlet.roster.crew import Crew, Failed, Going, LocalCrew
from avlet.roster.delivery import Delivered, Delivery, Ledger, LeftOut, read_delivery, source_of, still_there
from avlet.roster.making import Job, Made, Source, put_in_place, sees, token_file
from avlet.roster.moving import moved_to_their_names, removed
from avlet.roster.roster import Item, Plan
from avlet.roster.timeline import write_timelines
from avlet.storage.atomic import replacing
from avlet.storage.package import refuse_as_output
from avlet.storage.reading import is_there
from avlet.text.fonts import FontBook


@dataclass(frozen=True)
class State:
    """How far a file is: ``share`` of its frames, and whether it is whole; ``words`` say why it is left out."""

    item: int
    share: float
    done: bool = False
    words: str = ""
    kept: bool = False


Told = Callable[[State], bool]
"""Called with what happens to each file; says whether to go on."""


@dataclass(frozen=True)
class Outcome:
    """What came of it: the list, how many files were there already, and what is to be said.

    ``renamed`` were there under another name; ``superseded`` are files of this roster that no row wants any more, and ``removed`` those
    of them that were taken away.
    """

    delivery: Delivery
    made: int
    kept: int
    alike: int
    timelines: tuple[Path, ...]
    stopped: bool = False
    renamed: int = 0
    superseded: tuple[str, ...] = ()
    removed: tuple[str, ...] = ()

    @property
    def superseded_words(self) -> str:
        """What is to be said of files that no row wants any more; empty where there are none, or where they were taken away."""
        left = [name for name in self.superseded if name not in self.removed]
        more = f" and {len(left) - 1} more files" if len(left) > 1 else ""
        return f"No row wants “{left[0]}”{more} any more." if left else ""


@dataclass
class _Going:
    """What a run keeps while it goes."""

    jobs: dict[int, Job] = field(default_factory=dict)
    by_mark: dict[str, int] = field(default_factory=dict)
    copies: dict[int, list[int]] = field(default_factory=dict)
    made: int = 0
    kept: int = 0
    alike: int = 0


def render_roster(
    plan: Plan,
    book: FontBook,
    folder: Path,
    crew: Crew | None = None,
    told: Told = lambda state: True,
    timeline: bool = True,
    replace: bool = False,
    prune: bool = False,
    only: Collection[int] = (),
) -> Outcome:
    """Make all files of a plan, or those of some rows by their places; all else that was delivered stays on the list as it is.
    Raises ``AvletError`` for what hinders all of them; what was finished stays, and the list says so.

       Files of the same names that are none of this roster's are only written over with ``replace``. What this roster made before, and no
       row wants any more, is told, and with ``prune`` taken away; not while some rows cannot be read, as those may want it.
    """
    return _Rendering(plan, book, folder, crew or LocalCrew(), told, timeline, replace, prune, frozenset(only)).run()


def in_the_way(plan: Plan, folder: Path, only: Collection[int] = ()) -> list[str]:
    """Names of files that a plan would write over, and that were made of another template or table, or by nobody that is known."""
    owners, source = read_delivery(folder).owners, source_of_plan(plan)
    names = dict.fromkeys(item.name for item in plan.items if not only or item.line in only)
    return [name for name in names if owners.get(name) != source and is_there(folder / name)]


def source_of_plan(plan: Plan) -> str:
    """What tells this plan's roster from others."""
    return source_of(plan.templates[0].name, plan.roster.sheet.name, plan.roster.sheet.folder or Path())


def in_the_way_words(names: list[str], folder: Path) -> str:
    """What is to be said of files in the way."""
    what = f"“{names[0]}” is" if len(names) == 1 else f"{len(names)} files, the first of them “{names[0]}”, are"
    return f"{what} in “{folder}” already, made of another template or table."


class _Rendering:
    def __init__(
        self, plan: Plan, book: FontBook, folder: Path, crew: Crew, told: Told, timeline: bool, replace: bool, prune: bool,
        only: frozenset[int],
    ) -> None:  # fmt: skip
        self.only = only
        self.plan, self.folder, self.crew, self.told, self.timeline, self.prune = plan, folder, crew, told, timeline, prune
        self.template: Template = plan.templates[0]
        self.sources = [Source.of(template, book) for template in plan.templates]
        self.source, self.replace = source_of_plan(plan), replace
        self.ledger = Ledger(folder, self.template.name, plan.roster.sheet.name, self.source)
        self.going = _Going()
        self.before: dict[str, Delivered] = {}
        self.renamed = 0
        self.ours: set[str] = set()

    def run(self) -> Outcome:
        refuse_as_output(self.folder)
        self.crew.begin()
        with _token_in(self.folder) as token:
            before = read_delivery(self.folder)
            known = {one.file: one for one in (*before.others, *before.superseded, *before.files)}
            owners = before.owners
            self.before = {name: one for name, one in known.items() if owners[name] == self.source}
            self.ours = {name for name, source in owners.items() if source == self.source}
            own = before.source
            self.ledger.others = tuple(
                msgspec.structs.replace(one, source=one.source or own) for name, one in known.items() if name not in self.before
            )
            self.ledger.planned = tuple(item.name for item in self.plan.items)
            if self.before:
                self.renamed = moved_to_their_names(
                    self.folder, self.before, {i.name: self._job(n, "").mark for n, i in enumerate(self.plan.items)}
                )
                self.ours |= set(self.before)
            self.ledger.superseded = self._superseded()
            self.ledger.write(complete=False)
            stopped = False
            events = self.crew.run(self._jobs(token), {source.mark: source for source in self.sources})
            try:
                for event in events:
                    if not self._take(event):
                        raise StoppedError
            except StoppedError:
                stopped = True
            except BaseException:  # also an interruption: the crew is let go and the ledger written before it goes on
                _close(events)
                with contextlib.suppress(AvletError):
                    self._write(False)
                raise
            finally:
                _close(events)
                self._sweep()
        return self._outcome(stopped)

    def _jobs(self, token: str) -> Iterator[Job]:
        """The jobs that are left, one after another as they are asked for."""
        for number, item in enumerate(self.plan.items):
            if self.only and item.line not in self.only:
                continue
            job = self._job(number, token)
            mark = job.mark
            there = self.before.get(item.name)
            if there is not None and there.made_of == mark and still_there(self.folder, there):
                self.going.kept += 1
                self.going.by_mark.setdefault(mark, number)
                self.ledger.put(number, msgspec.structs.replace(there, row=self._row(item)))
                if not self.told(State(number, 1.0, done=True, kept=True)):
                    raise StoppedError
            elif item.name not in self.ours and not self.replace and (self.folder / item.name).exists():
                self._fail(number, f"“{item.name}” is there already and is none of this roster's. Move it, or choose another folder.")
            elif (first := self.going.by_mark.get(mark)) is not None:
                self._copy(first, number, job)
            else:
                self.going.by_mark[mark] = number
                self.going.jobs[number] = job
                yield job

    def _keep_the_rest(self) -> bool:
        """What was delivered before and is not come to, or not asked for, stays on the list. Whether all of it is there as it is."""
        whole = True
        for number, item in enumerate(self.plan.items):
            if number in self.ledger.files or number in self.ledger.left_out:
                continue
            there = self.before.get(item.name)
            if there is not None and still_there(self.folder, there):
                self.ledger.put(number, msgspec.structs.replace(there, row=self._row(item)))
                whole = whole and there.made_of == self._job(number, "").mark
            else:
                whole = False
        return whole

    def _job(self, number: int, token: str) -> Job:
        """What is to be made for one item."""
        item, wanted = self.plan.items[number], self.plan.roster.wanted
        answered, kind = self.plan.answered(item.line, item.language, item.frame), item.kind
        return Job(
            number, self.sources[item.frame].mark, answered.answers, answered.length, kind.suffix, kind.codec,
            wanted.plate if kind.over else None, wanted.at if kind.id == "still" else None, item.name, str(self.folder), token,
        )  # fmt: skip

    def _superseded(self) -> tuple[Delivered, ...]:
        """What this roster made before, is as it was delivered, and no row wants any more."""
        wanted = {item.name for item in self.plan.items}
        return tuple(one for one in self.before.values() if one.file not in wanted and still_there(self.folder, one))

    def _copy(self, first: int, number: int, job: Job) -> None:
        """The same file under another name: a copy, now or as soon as the first is there."""
        self.going.jobs[number] = job
        if first in self.ledger.files:
            self._copied(first, number)
        elif first in self.ledger.left_out:
            self._fail(number, self.ledger.left_out[first].why)
        else:
            self.going.copies.setdefault(first, []).append(number)

    def _copied(self, first: int, number: int) -> None:
        one, name = self.ledger.files[first], self.plan.items[number].name
        with replacing(self.folder / name) as temporary:
            shutil.copyfile(self.folder / one.file, temporary)
        self.going.alike += 1
        self._deliver(number, one.width, one.height, one.frames, one.rate, one.size, one.sha256, one.said)

    def _take(self, event: Going | Made | Failed) -> bool:
        match event:
            case Going(number, done, total):
                return self.told(State(number, done / max(1, total)))
            case Failed(number, words):
                on = self._fail(number, words)
                for other in self.going.copies.pop(number, ()):
                    on = self._fail(other, words) and on
                if _no_room(self.folder):
                    raise StorageError(f"There is no room left in “{self.folder}”. What was finished stays; make room and render again.")
                return on
            case Made():
                m, job = event, self.going.jobs[event.number]
                if not sees(str(self.folder), job.token):
                    raise StorageError(f"The folder “{self.folder}” is gone. Choose another, or make it again, and render once more.")
                put_in_place(job, m)
                self.going.made += 1
                on = self._deliver(m.number, m.width, m.height, m.frames, m.rate, m.size, m.sha256, m.said)
                for other in self.going.copies.pop(m.number, ()):
                    self._copied(m.number, other)
                return on
        return True

    def _deliver(self, number: int, width: int, height: int, frames: int, rate: str, size: int, sha: str, said: tuple[str, ...]) -> bool:
        item, job = self.plan.items[number], self.going.jobs.pop(number)
        one = Delivered(
            file=item.name, row=self._row(item), kind=item.kind.id, codec=item.kind.coded, language=item.language,
            width=width, height=height, frames=frames, rate=rate, size=size, sha256=sha, made_of=job.mark, said=said,
            answers=_told_answers(job.answers), source=self.source,
        )  # fmt: skip
        self.ledger.put(number, one)
        return self.told(State(number, 1.0, done=True))

    def _fail(self, number: int, words: str) -> bool:
        item = self.plan.items[number]
        self.going.jobs.pop(number, None)
        self.ledger.leave_out(number, LeftOut(row=self._row(item), file=item.name, why=words))
        return self.told(State(number, 0.0, words=words))

    def _sweep(self) -> None:
        """Take away what workers left half done that are gone, whatever machine they were on."""
        mine = {item.name for item in self.plan.items}
        with contextlib.suppress(OSError):
            for path in self.folder.iterdir():
                name = path.name.removeprefix(".").rpartition(".")[0]
                if path.name.startswith(".") and path.suffix == ".part" and name.rpartition(".")[0] in mine:
                    path.unlink(missing_ok=True)

    def _row(self, item: Item) -> int:
        return self.plan.rows[item.line].number

    def _write(self, complete: bool) -> Delivery:
        asked = [(line, why) for line, why in self.plan.faulty.items() if not self.only or line in self.only]
        faulty = [LeftOut(row=self.plan.rows[line].number, why=why) for line, why in asked]
        return self.ledger.write(complete, faulty)

    def _outcome(self, stopped: bool) -> Outcome:
        going = self.going
        superseded = self.ledger.superseded
        gone = removed(self.folder, superseded) if self.prune and not stopped and not self.plan.faulty else ()
        whole = self._keep_the_rest()
        delivery = self._write(whole and not stopped and not self.ledger.left_out and not self.plan.faulty)
        timelines: list[Path] = []
        if self.timeline and not stopped and delivery.files:
            name = slug(Path(self.plan.roster.sheet.name).stem)
            timelines = write_timelines(name, delivery.files, self.folder)
        names = tuple(one.file for one in superseded)
        return Outcome(delivery, going.made, going.kept, going.alike, tuple(timelines), stopped, self.renamed, names, gone)


def _close(events: Any) -> None:
    """End an iterator that may not be at its end."""
    close = getattr(events, "close", None)
    if close is not None:
        close()


def _told_answers(answers: Mapping[str, Any]) -> dict[str, Any]:
    """Answers as the list has them: files by their names."""
    return {k: v["name"] if isinstance(v, dict) and "data" in v and "name" in v else v for k, v in answers.items()}


def _no_room(folder: Path) -> bool:
    """Whether a disk is as good as full."""
    with contextlib.suppress(OSError):
        return shutil.disk_usage(folder).free < 2 * 1024**2
    return False


@contextlib.contextmanager
def _token_in(folder: Path) -> Iterator[str]:
    """A folder that this process alone renders into, with a file in it that shows who sees it; raises ``StorageError``."""
    token = secrets.token_hex(8)
    path, lock_file = token_file(folder, token), folder / ".avlet-roster.lock"
    lock = FileLock(lock_file)
    try:
        folder.mkdir(parents=True, exist_ok=True)
        lock.acquire(timeout=0)
        for left in folder.glob(token_file(folder, "*").name):
            left.unlink(missing_ok=True)
        path.write_text(token)
    except Timeout:
        raise StorageError(f"“{folder}” is being rendered into already. Wait until that is done, or choose another folder.") from None
    except (OSError, ValueError) as error:
        lock.release()
        why = "it is a file" if getattr(error, "errno", 0) == errno.EEXIST else getattr(error, "strerror", None) or str(error)
        raise StorageError(f"Nothing can be written into “{folder}”: {why}. Choose another folder.") from None
    try:
        yield token
    finally:
        with contextlib.suppress(OSError):
            path.unlink()
        with contextlib.suppress(OSError):
            lock_file.unlink()
        lock.release()

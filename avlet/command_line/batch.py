"""``avlet batch``: many jobs in one start, a line of JSON each, and a line of JSON as the answer to each."""

import contextlib
import io
import json
import os
import signal
import sys
from collections import deque
from collections.abc import Iterator
from concurrent.futures import Future, ProcessPoolExecutor
from pathlib import Path
from typing import Annotated, Any, BinaryIO

import typer

from avlet.command_line.app import app, verb
from avlet.command_line.options import Workers
from avlet.command_line.scenes import workers_of
from avlet.command_line.telling import Teller, detail, telling, wants_json
from avlet.errors import AnswerError, AvletError
from avlet.limits import MOST_DOCUMENT

_AHEAD = 4
"""Jobs that wait for each process: what comes after them is read when there is room."""
_NOT_HERE = ("batch", "help", "install", "demo")
_MOST_LINE = MOST_DOCUMENT


@verb(
    app, "batch",
    "avlet batch night.jsonl > answers.jsonl",
    "echo '{\"do\": \"still\", \"template\": \"a.avlet\", \"set\": {\"name\": \"Bo Li\"}, \"output\": \"a.png\"}' | avlet batch -",
)  # fmt: skip
def batch(
    file: Annotated[str, typer.Argument(metavar="FILE.jsonl", help="One job a line; - for standard input.")], workers: Workers = None
) -> None:
    """Do many jobs in one start: templates stay open, processes are shared. Exit status 1 where a job was not done, or does not hold.

    A job is an object: “do” is a verb, the other names are its subjects and long options, such as {"do": "render", "template": "a.avlet",
    "set": {"name": "Bo Li"}, "length": "4s", "output": "a.mov"}. The answer to each is a line on standard output, in the order of the
    jobs: its line, “status” as of a single call, “error” where it has one, and all that --json tells of it.
    """
    if wants_json():
        raise AnswerError("A batch tells JSON anyway, a line for each job: leave out --json.")
    count = workers_of(workers)
    statuses = set()
    with _lines(file) as stream:
        for answer in _in_processes(stream, count) if count is not None and count > 1 else map(_do, _numbered(stream)):
            statuses.add(answer["status"])
            sys.stdout.write(json.dumps(answer, ensure_ascii=False) + "\n")
            sys.stdout.flush()
    if statuses - {0}:
        raise typer.Exit(1)


@contextlib.contextmanager
def _lines(file: str) -> Iterator[BinaryIO]:
    if file == "-":
        yield sys.stdin.buffer
        return
    with contextlib.ExitStack() as open_files:
        try:
            stream = open_files.enter_context(Path(file).open("rb"))
        except OSError as error:
            raise AnswerError(f"The jobs “{file}” cannot be read: {error.strerror}.") from None
        yield stream


def _numbered(stream: BinaryIO) -> Iterator[tuple[int, bytes]]:
    """The lines that hold something, with their numbers from 1."""
    number = 0
    while line := stream.readline(_MOST_LINE + 1):
        number += 1
        if len(line) > _MOST_LINE:
            raise AnswerError(f"Line {number} is over {_MOST_LINE // 2**20} MB; jobs are smaller.")
        if line.strip():
            yield number, line


def _in_processes(stream: BinaryIO, count: int) -> Iterator[dict[str, Any]]:
    """The answers in the order of the jobs, which several processes work at."""
    from multiprocessing import get_context

    waiting: deque[Future[dict[str, Any]]] = deque()
    with ProcessPoolExecutor(count, get_context("spawn"), initializer=_ready) as pool:
        try:
            for line in _numbered(stream):
                waiting.append(pool.submit(_do, line))
                while len(waiting) >= _AHEAD * count or (waiting and waiting[0].done()):
                    yield waiting.popleft().result()
            while waiting:
                yield waiting.popleft().result()
        except BaseException:  # who reads has gone, or it is interrupted: what is being made is left, and cleaned up where it was made
            for process in list(getattr(pool, "_processes", {}).values()):
                process.terminate()
            raise
        finally:
            pool.shutdown(wait=True, cancel_futures=True)


def _ready() -> None:
    """What a process needs before its first job."""
    from avlet.storage.processes import end_with_parent

    end_with_parent()
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    signal.signal(signal.SIGTERM, _told_to_end)


_ends = _works = False
"""Whether this process is to end, and whether it is at a job."""


def _told_to_end(*_: object) -> None:
    """What is being made is given up, which cleans up; with nothing to do the process ends at once."""
    global _ends
    if not _works:
        os._exit(0)
    if not _ends:
        _ends = True
        raise KeyboardInterrupt


def _do(job: tuple[int, bytes]) -> dict[str, Any]:
    """The answer to one job; raises ``KeyboardInterrupt`` where this process is to end."""
    global _works
    if _ends:
        raise KeyboardInterrupt
    _works = True
    try:
        return _answer(job)
    finally:
        _works = False


def _answer(job: tuple[int, bytes]) -> dict[str, Any]:
    from avlet.command_line.main import in_words, run_verb

    number, line = job
    told: dict[str, Any] = {}
    head: dict[str, Any] = {"line": number}
    with telling(Teller(quiet=True, received=told)):
        try:
            asked = _read(line)
            head["do"] = asked.get("do")
            words = words_of(asked)
            with contextlib.redirect_stdout(io.StringIO()):  # what a verb says to people is not for this stream
                head["status"] = run_verb(words)
        except Exception as error:
            head |= {"status": 2, "error": in_words(error)}
    detail(f"line {number}: {head['status']}")
    told.pop("verb", None)
    return {**head, **told}


def _read(line: bytes) -> dict[str, Any]:
    """A job from its line; raises ``AnswerError`` with what is wrong with it."""
    try:
        found = json.loads(line, object_pairs_hook=_once)
    except AvletError:
        raise
    except json.JSONDecodeError as error:
        raise AnswerError(f"That is not JSON: column {error.colno}: {error.msg}.") from None
    except (ValueError, RecursionError) as error:
        raise AnswerError(f"That is not JSON ({str(error)[:80]}).") from None
    if not isinstance(found, dict):
        raise AnswerError("A job is an object, such as {“do”: “info”, “template”: “a.avlet”}.")
    return found


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for name, value in pairs:
        if name in found:
            raise AnswerError(f"“{name}” is named twice. Take one of them out.")
        found[name] = value
    return found


def words_of(job: dict[str, Any]) -> list[str]:
    """A job as what would be typed for it. Raises ``AnswerError`` for names that its verb does not have."""
    from avlet.command_line.helping import commands, nearest

    name = job.get("do")
    known = commands()
    if not isinstance(name, str) or name not in known or name in _NOT_HERE:
        offered = [one for one in known if one not in _NOT_HERE]
        hint = nearest(name, offered) if isinstance(name, str) else ""
        raise AnswerError(f"“do” names a verb: {', '.join(offered)}.{hint}")
    params = {_called(param): param for param in known[name].params if not param.hidden}
    options: list[str] = []
    subjects: dict[str, list[str]] = {}
    for key, value in job.items():
        if key == "do":
            continue
        param = params.get(key)
        if param is None or key in ("json", "quiet", "verbose", "help"):
            raise AnswerError(f"“{name}” has no “{key}”.{nearest(key, list(params))} It has: {', '.join(params)}.")
        if param.param_type_name == "argument":
            subjects[key] = _plain_list(key, value)
        else:
            options += _option(param, key, value)
    ordered = [word for key in params for word in subjects.get(key, ())]
    return [*name.split(), *options, *(["--", *ordered] if ordered else [])]


def _called(param: Any) -> str:
    """What a job calls a subject or an option: *template*, *output*, *dry-run*."""
    if param.param_type_name == "argument":
        plain: str = (param.metavar or param.name).split(".")[0].strip("[]{}…")
        return plain.lower()
    return str(max(param.opts, key=len)).lstrip("-")


def _option(param: Any, key: str, value: Any) -> list[str]:
    """An option with its value as words; a switch stands alone, a list is the option several times, an object is NAME=VALUE pairs."""
    flag = max(param.opts, key=len)
    if param.is_flag:
        if not isinstance(value, bool):
            raise AnswerError(f"“{key}” is true or false.")
        off = max(param.secondary_opts, key=len, default="")
        return [flag] if value else [off] * bool(off)
    if isinstance(value, dict):
        if key not in ("set", "map"):
            raise AnswerError(f"“{key}” takes no object.")
        value = [f"{name}={_set_word(one)}" for name, one in value.items()]
    return [word for one in _plain_list(key, value) for word in (flag, one)]


def _set_word(value: Any) -> str:
    """An answer as ``--set`` reads it."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, str):
        return value.replace("\n", "\\n")
    if isinstance(value, int | float):
        return str(value)
    raise AnswerError("“set” takes words, numbers, true and false. Other answers go into a file: “answers”.")


def _plain_list(key: str, value: Any) -> list[str]:
    found = value if isinstance(value, list) else [value]
    if any(isinstance(one, bool) or not isinstance(one, str | int | float) for one in found):
        raise AnswerError(f"“{key}” takes words or numbers, or a list of them.")
    return [str(one) for one in found]

"""Where things are written: files, standard output, several beside each other; nothing over what is to stay, nothing in a dry run."""

import sys
from collections.abc import Sequence
from pathlib import Path

from avlet.command_line.telling import refuse_json_with_data
from avlet.errors import AnswerError

STANDARD_OUTPUT = "-"


def is_standard_output(words: str) -> bool:
    """Whether a file is to go to standard output; raises ``AnswerError`` where that is a terminal, or tells JSON already."""
    if words != STANDARD_OUTPUT:
        return False
    refuse_json_with_data()
    if sys.stdout.isatty():
        raise AnswerError("“-o -” sends a file to standard output, and that is a terminal here. Send it on: | or >.")
    return True


def path_of(words: str, suffix: str, kind: str) -> Path:
    """A path from words; raises ``AnswerError`` for one that looks like an option, or that ends otherwise than its kind does."""
    if not words.strip():
        raise AnswerError("-o names nothing: give it a file, a folder, or - for standard output.")
    if words.startswith("-"):
        raise AnswerError(f"“{words}” looks like an option. Write “./{words}” for a file of that name, or - for standard output.")
    if "\0" in words:
        raise AnswerError(f"“{words.replace(chr(0), '�')}” is no name of a file: it has a NUL in it.")
    path = Path(words)
    if suffix and path.suffix.lower() != suffix:
        raise AnswerError(f"{kind}; “{path.name}” should end in {suffix}.")
    return path


def folder_of(path: Path) -> Path:
    """A folder to write into; raises ``AvletError`` for one that is a template itself."""
    from avlet.storage.package import refuse_as_output

    refuse_as_output(path)
    return path


def paths_of(words: str, suffix: str, kind: str, stem: str, each: Sequence[tuple[str, str]]) -> list[Path]:
    """A path for each of several files: ``each`` are the name of its answers and its frame.

    ``{answers}`` and ``{at}`` in the words stand for those. Without them the words are a folder, in which files are called after
    the template, their answers and their frame.
    """
    if len(each) == 1 and "{" not in words and not Path(words).is_dir() and Path(words).suffix:
        return [path_of(words, suffix, kind)]
    if "{" not in words:
        if Path(words).suffix.lower() == suffix and not Path(words).is_dir():
            raise AnswerError(
                f"{len(each)} pictures do not go into one file. Name a folder, or a pattern: {Path(words).stem}-{{answers}}-{{at}}{suffix}."
            )
        used = ["{answers}"] * (len({answers for answers, _ in each}) > 1) + ["{at}"] * (len({at for _, at in each}) > 1)
        words = str(folder_of(path_of(words, "", "")) / ("-".join([stem, *used]) + suffix))
    found = [path_of(words.replace("{answers}", answers).replace("{at}", at), suffix, kind) for answers, at in each]
    if len(set(found)) < len(found):
        twice = next(path for path in found if found.count(path) > 1)
        raise AnswerError(f"Several pictures would be called “{twice}”. Put {{answers}} and {{at}} into the pattern.")
    return found


def refuse_written(paths: Sequence[Path], no_overwrite: bool) -> None:
    """Raise ``AnswerError`` where a file is there that is to stay."""
    there = [path for path in paths if no_overwrite and (path.exists() or path.is_symlink())]
    if there:
        more = f" and {len(there) - 1} more" if len(there) > 1 else ""
        raise AnswerError(f"“{there[0]}”{more} is there already, and --no-overwrite was asked for.")


def send(data: bytes) -> None:
    """Bytes to standard output."""
    sys.stdout.flush()
    sys.stdout.buffer.write(data)
    sys.stdout.buffer.flush()

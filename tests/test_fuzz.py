"""Packages, answers and tables with anything in them, and processes that are killed at any moment: a sentence or a result, nothing lost.

Each runs a few seeds here and many as a soak test; what is fuzzed works in a process of its own with bounds on time and memory.
"""

import contextlib
import copy
import json
import os
import random
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest
from conftest import DEMO, TEMPLATES

from avlet.document.cards.answers import read_answers
from avlet.document.lists.listing import blocks_from, recognised
from avlet.document.tables import read_table
from avlet.errors import AvletError
from avlet.paint.scene import Scene
from avlet.review.samples import said_of
from avlet.storage.archive import read_files
from avlet.storage.bounded import bounded
from avlet.storage.package import TEMPLATE, open_template, opened_from
from avlet.storage.recovery import lost_work

SHORT, LONG = range(3), range(100, 160)
SEEDS = [*SHORT, *(pytest.param(seed, marks=pytest.mark.soak) for seed in LONG)]
STRANGE = [
    None, 0, -1, 1e308, -1e308, 1e-308, 2**63, 10**30, "", "x" * 300, "../a", "a\0b", [], {}, [[]], True, False, "frame", "template", "palette",
    "#20435C", "#zz", "ü渡ي", "\ud83d\ude00", "{1:a}", "{", 0.1, 25, 100, [1, 2], {"kind": "text"}, {"kind": "group", "id": "a", "name": "A"},
]  # fmt: skip


def places(value, path=()):
    """Every place inside a JSON value."""
    yield path
    for key, inner in value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ():
        yield from places(inner, (*path, key))


def owner(value, path):
    for key in path[:-1]:
        value = value[key]
    return value


def damaged(document, chance):
    """A copy in which some values are others, gone, doubled, or from elsewhere in it."""
    made = copy.deepcopy(document)
    for _ in range(chance.choice([1, 1, 2, 4, 10])):
        there = list(places(made))[1:]
        place, other = chance.choice(there), chance.choice(there)
        with contextlib.suppress(LookupError, TypeError):
            holder, how = owner(made, place), chance.random()
            if how < 0.15:
                del holder[place[-1]]
            elif how < 0.3:
                holder[place[-1]] = copy.deepcopy(owner(made, other)[other[-1]])
            elif how < 0.45 and isinstance(holder, list):
                holder.extend(copy.deepcopy(holder[:20]))
            elif how < 0.6 and isinstance(holder[place[-1]], int | float) and not isinstance(holder[place[-1]], bool):
                holder[place[-1]] *= chance.choice([-1, 0, 0.5, 10, 1000, 1e9])
            else:
                holder[place[-1]] = chance.choice(STRANGE)
    return made


def looked_at(files):
    """Opens a package, and sets, poses and paints it as designed and for each sample. How many could be."""
    opened, done = opened_from(files, "x.avlet"), 0
    for answers in ({}, *(sample.answers for sample in opened.template.samples)):
        with contextlib.suppress(AvletError):
            scene = Scene(opened.template, opened.book, answers)
            for frame in (0, scene.length // 3, scene.length - 1):
                scene.picture(frame, 160, 90)
            said_of(scene)
            done += 1
    return done


@pytest.mark.parametrize("seed", SEEDS)
def test_damaged_templates_are_refused_in_words_or_shown(seed):
    chance, shown, refused = random.Random(seed), 0, 0
    for _ in range(12):
        files = dict(read_files(DEMO / chance.choice(TEMPLATES)))
        files[TEMPLATE] = json.dumps(damaged(json.loads(files[TEMPLATE]), chance)).encode(errors="surrogatepass")
        try:
            shown += bounded(lambda files=files: looked_at(files), "x.avlet", seconds=20.0) > 0
        except AvletError as error:
            assert str(error).strip() and "takes longer" not in str(error) and "needs more" not in str(error), str(error)
            refused += 1
    assert shown + refused > 8


@pytest.mark.parametrize("seed", SEEDS)
def test_answers_of_any_kind_are_refused_in_words_or_shown(seed):
    chance = random.Random(seed)
    for _ in range(6):
        opened = open_template(DEMO / chance.choice(TEMPLATES))
        for _ in range(6):
            typed = []
            for field in opened.template.card.fields:
                words = chance.choice(
                    [*(str(s) for s in STRANGE), "a " * chance.randrange(400), "9" * 400, "1e400", "−1,5", "yes", "0", "\\n" * 9]
                )
                typed += [f"{field.id}={words}"] if chance.random() < 0.5 else []
            try:
                scene = Scene(opened.template, opened.book, read_answers(opened.template, typed), chance.choice([None, 1, 2, 7, 400]))
                scene.picture(scene.length // 2, 160, 90)
                assert all(isinstance(words, str) for words in said_of(scene))
            except AvletError as error:
                assert str(error).strip()


@pytest.mark.parametrize("seed", SEEDS)
def test_tables_with_anything_in_them_become_lists_or_are_refused(seed):
    chance, signs = random.Random(seed), 'a;,\t"\n\r\0ü渡 1.x=@\u202e\ufeff'
    for _ in range(40):
        words = "".join(chance.choice(signs) for _ in range(chance.randrange(300)))
        data = words.encode(chance.choice(["utf-8", "utf-16", "utf-32", "utf-8-sig"])) + bytes(
            chance.randrange(256) for _ in range(chance.choice([0, 0, 9]))
        )
        try:
            table = read_table(data, chance.choice(["a.csv", "a.tsv", "a.txt", "a.xlsx", "a.ods"]))
            blocks_from(table, recognised(table))
        except AvletError as error:
            assert str(error).strip()


# Killed at any moment

SAVES = """
import sys
from pathlib import Path
from avlet.document.editing.edits import replace
from avlet.storage.package import open_template, save_template
from avlet.storage.recovery import Recovery
source, target, kept = map(Path, sys.argv[1:])
opened = open_template(source)
recovery = Recovery.of_templates(kept)
print("begun", flush=True)
for number in range(10_000):
    template = replace(opened.template, name=f"Number {number}")
    recovery.keep(template, target)
    save_template(template, target, opened.book)
"""


@pytest.mark.parametrize("seed", SEEDS)
def test_a_process_that_is_killed_while_it_saves_loses_nothing(tmp_path, seed):
    target, kept = tmp_path / "a.avlet", tmp_path / "kept"
    if seed % 2:
        target.mkdir()  # saved as a folder
    process = subprocess.Popen(
        [sys.executable, "-c", SAVES, str(DEMO / "side-rule.avlet"), str(target), str(kept)], stdout=subprocess.PIPE,
        env={**os.environ, "PYTHONPATH": str(Path(__file__).parent.parent)},
    )  # fmt: skip
    assert process.stdout.readline() == b"begun\n"
    until = time.monotonic() + 30
    while not ((target / TEMPLATE).exists() if seed % 2 else target.exists()) and time.monotonic() < until:
        time.sleep(0.01)
    time.sleep(random.Random(seed).uniform(0.0, 0.6))
    process.send_signal(signal.SIGKILL)
    process.wait()
    opened = open_template(target)
    assert opened.template.name.startswith("Number ") and not opened.notes
    (lost,) = lost_work(kept)
    assert lost.document is not None and lost.path == target
    assert int(lost.document.name.split()[1]) - int(opened.template.name.split()[1]) in (0, 1)


@pytest.mark.parametrize("seed", SEEDS)
def test_a_render_that_is_killed_leaves_no_film_that_is_not_whole(tmp_path, seed):
    import av

    film = tmp_path / "a.mov"
    words = ["render", str(DEMO / "side-rule.avlet"), "--size", "480x270", "-o", str(film)]
    process = subprocess.Popen(
        [sys.executable, "-m", "avlet", *words],
        stderr=subprocess.DEVNULL,
        env={**os.environ, "PYTHONPATH": str(Path(__file__).parent.parent)},
    )
    time.sleep(random.Random(seed).uniform(0.5, 3.5))
    process.send_signal(signal.SIGKILL)
    process.wait()
    if film.exists():
        with av.open(str(film)) as container:
            assert sum(1 for _ in container.decode(video=0)) == open_template(DEMO / "side-rule.avlet").template.length

"""The speed of rosters and proofs: a table of names against one render after another."""

import json
import os
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterable
from multiprocessing import get_context
from pathlib import Path

from avlet.document.template import Template
from avlet.paint.painter import new_pixels
from avlet.paint.scene import Scene
from avlet.review.awkward import rows_of
from avlet.review.proof import prove
from avlet.roster.cluster import ClusterCrew
from avlet.roster.crew import Crew, LocalCrew
from avlet.roster.rendering import render_roster
from avlet.roster.roster import Plan, Roster, plan_of
from avlet.roster.sheet import pasted_sheet
from avlet.storage.package import Opened, open_template
from benchmarks.measure import DEMO

_FIRST = ("Bo", "Odalys", "Teodor", "Nkechi", "Ioana", "Íris", "Maren", "Pia", "Olumide", "Gwen", "Ana", "Tomasz", "Zsófia", "Henrik")
_LAST = ("Li", "Brandt", "Våge", "Arundel", "Whitlock", "Þórdal", "Holt", "Lundqvist", "Strand", "Tregaron", "Prado", "Wrzesień", "Őszi")
_ROLES = ("Ringer", "Marsh ecologist", "Sluice keeper", "Boat builder", "Hydrologist", "Reed cutter", "Surveyor", "Ferryman")


def people(count: int) -> list[tuple[str, str]]:
    """Names and roles; no two people are called the same up to 182."""
    return [(f"{_FIRST[n % 14]} {_LAST[n % 13]}{f' {n // 182 + 1}' if n >= 182 else ''}", _ROLES[n % 8]) for n in range(count)]


def strap() -> Opened:
    return open_template(DEMO / "name-strap.avlet")


def plan(opened: Opened, count: int) -> Plan:
    """The name strap for so many people."""
    words = "Name\tRole\n" + "".join(f"{name}\t{role}\n" for name, role in people(count))
    return plan_of(Roster.of(pasted_sheet(words, Path()), opened.template), opened.template)


def rostered(count: int, crew: Crew | None = None) -> float:
    """Seconds that a roster of so many takes, from the opened template to the delivery list."""
    opened = strap()
    roster = plan(opened, count)
    with tempfile.TemporaryDirectory() as folder:
        begin = time.perf_counter()
        outcome = render_roster(roster, opened.book, Path(folder), crew or LocalCrew())
        assert len(outcome.delivery.files) == count
        return time.perf_counter() - begin


def one(job: tuple[int, str, str, str]) -> None:
    """One run of ``avlet render``."""
    number, name, role, folder = job
    words = [sys.executable, "-m", "avlet", "render", str(DEMO / "name-strap.avlet"), "--set", f"name={name}", "--set", f"role={role}"]
    subprocess.run([*words, "-o", f"{folder}/{number}.mov"], check=True, capture_output=True)


def singly(count: int, at_once: int) -> float:
    """Seconds of so many runs of ``avlet render``, one after another or several at once."""
    with tempfile.TemporaryDirectory() as folder:
        jobs = [(n, name, role, folder) for n, (name, role) in enumerate(people(count))]
        begin = time.perf_counter()
        if at_once == 1:
            for job in jobs:
                one(job)
        else:
            with get_context("spawn").Pool(at_once) as pool:
                pool.map(one, jobs, chunksize=1)
        return time.perf_counter() - begin


def against(at_once: int, count: int, sample: int) -> float:
    """The share of the time of single renders that a roster takes; some of the single ones are timed, before and after it."""
    before, ours, after = singly(sample, at_once), rostered(count), singly(sample, at_once)
    theirs = (before + after) / 2 * count / sample
    how = "one after another" if at_once == 1 else f"{at_once} at once by multiprocessing"
    print(f"{count} rows: {ours:.0f} s as a roster, {theirs:.0f} s as single renders {how} ({2 * sample} of them timed)")
    return ours / theirs


def against_a_loop(count: int = 200) -> float:
    """A roster against as many runs of the single render in a loop."""
    return against(1, count, 12)


def against_processes(count: int = 200) -> float:
    """A roster against ``multiprocessing`` over the single render, as many at once as there are cores."""
    return against(os.cpu_count() or 2, count, 16)


def cluster_against_local(count: int = 100) -> float:
    """The same two processes as workers of a scheduler against those of this machine."""
    folder = Path(tempfile.mkdtemp(prefix="avlet-cluster-"))
    file = folder / "scheduler.json"
    quiet = {**os.environ, "DASK_DISTRIBUTED__LOGGING__DISTRIBUTED": "critical"}

    def start(what: str, *words: str) -> "subprocess.Popen[bytes]":
        code = f"from distributed.cli.dask_{what} import main; main()"
        return subprocess.Popen([sys.executable, "-c", code, *words], env=quiet, stderr=subprocess.DEVNULL, cwd=folder)

    running = [start("scheduler", "--port", "0", "--host", "127.0.0.1", "--scheduler-file", str(file), "--no-dashboard")]
    try:
        for _ in range(2):
            running.append(
                start("worker", "--scheduler-file", str(file), "--nthreads", "1", "--no-nanny", "--dashboard-address", "127.0.0.1:0")
            )
        while not file.exists() or not file.read_text():
            time.sleep(0.1)
        address = str(json.loads(file.read_text())["address"])
        rostered(4, ClusterCrew(address))  # its workers are awake
        there, here = rostered(count, ClusterCrew(address)), rostered(count, LocalCrew(2))
    finally:
        for process in running:
            process.kill()
            process.wait()
        shutil.rmtree(folder, ignore_errors=True)
    print(f"{count} rows: {there:.0f} s on a cluster of two workers, {here:.0f} s by two processes here")
    return there / here


def painted_once(template: Template, opened: Opened, rows: Iterable[object]) -> float:
    """Seconds in which every frame of some rows is painted once, in this process."""
    pixels = new_pixels(template.frame.width, template.frame.height)
    begin = time.perf_counter()
    for row in rows:
        scene = Scene(template, opened.book, row.answers, row.length)  # type: ignore[attr-defined]
        for frame in range(scene.length):
            scene.paint(frame, pixels)
    return time.perf_counter() - begin


def proving() -> float:
    """The whole proof of the name strap against painting its frames once."""
    opened = strap()
    begin = time.perf_counter()
    proof = prove(opened.template, opened.book)
    ours = time.perf_counter() - begin
    once = painted_once(opened.template, opened, rows_of(opened.template))
    print(f"proof: {ours:.1f} s for {len(proof.rows)} rows, every frame; {once:.1f} s to paint those once in one process")
    return ours / once


def ten_thousand(told: Callable[[str], None] = print) -> float:
    """Seconds until the Roster bench shows a table of 10,000 rows."""
    from avlet.desktop.window.application import make_application
    from avlet.desktop.window.shell import BENCHES, ROSTER
    from avlet.desktop.window.window import Window

    application = make_application([])
    with tempfile.TemporaryDirectory() as folder:
        table = Path(folder) / "many.csv"
        table.write_text("Name,Role\n" + "".join(f"{name},{role}\n" for name, role in people(10_000)))
        window = Window(DEMO, Path(folder) / "state")
        window.files.open_path(DEMO / "name-strap.avlet")
        window.resize(1280, 800)
        window.show()
        window.show_bench(BENCHES.index(ROSTER))
        application.processEvents()
        begin = time.perf_counter()
        window.roster.open_path(table)
        while not window.roster.view._kept:
            application.processEvents()
        taken = time.perf_counter() - begin
        bar, longest = window.roster.view.verticalScrollBar(), 0.0
        assert bar is not None
        for turn in range(200):
            step = time.perf_counter()
            bar.setValue(bar.value() + 400 + 17 * turn)
            application.processEvents()
            longest = max(longest, time.perf_counter() - step)
        told(f"10,000 rows: shown after {taken:.2f} s; the longest of 200 turns of scrolling takes {longest * 1000:.0f} ms")
        window.session.mark_saved(Path(folder) / "x")
        window.roster_session.sleep()
        window.close()
    return taken
